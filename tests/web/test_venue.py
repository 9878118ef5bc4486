"""The plan tells what the Bench judges: exposure with the filters on the lens, lamps, leads, and who sees what."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from tests.web.test_bench import JOB, QUAY, edit

VENUE = f"{JOB}/venue?part=dress"


def camera(client: FlaskClient, rig: str = "quay") -> dict[str, Any]:
    """A camera on the plan."""
    found: dict[str, Any] = next(c for c in client.get(VENUE).get_json()["cameras"] if c["rig"] == rig)
    return found


def change(client: FlaskClient, *operations: dict[str, Any]) -> None:
    """An edit of the job."""
    version = client.get(f"{JOB}/frame").get_json()["version"]
    done = client.post(f"{JOB}/edits", json={"version": version, "operations": list(operations)})
    assert done.status_code == 200, done.text


def put(**thing: Any) -> dict[str, Any]:
    """Something onto the plan."""
    return {"op": "put thing", "thing": {"label": thing["id"], **thing}}


def test_the_plan_and_the_bench_agree_on_the_light(client: FlaskClient) -> None:
    """A stop of the lens, typed light and the lamps count alike in both; a filter takes what it takes."""
    for rig in ("quay", "caisson", "dock-floor", "stage-rail"):
        told = camera(client, rig)["exposure"]
        findings = client.get(f"{JOB}/parts/dress/rigs/{rig}").get_json()["findings"]
        light = next((f for f in findings if f["code"] == "lens.light"), None)
        if told and light and light["level"] == "clear":
            assert abs(told["over_stops"]) <= told["room_stops"], rig
    before = camera(client)["exposure"]["over_stops"]
    bench = client.get(QUAY).get_json()
    lens = next(row["unit"] for row in bench["rows"] if row["stops"])
    at = next(row["stops"] for row in bench["rows"] if row["unit"] == lens)
    edit(client, bench["version"], {"op": "adjust", "unit": lens, "stop": at[1] * 2})
    assert camera(client)["exposure"]["over_stops"] == pytest.approx(before - 2)
    change(client, {"op": "set target", "rig": "quay", "target": {"distance_mm": 42000, "light_ev": 2}})
    typed = camera(client)["exposure"]
    assert typed["t_stop"] == pytest.approx((2**2 * 0.5 / 25 * 8) ** 0.5), "typed light wins on the plan too"


def test_a_lamp_that_is_a_unit_runs_on_its_pack_and_a_lead_tells_the_lane(client: FlaskClient) -> None:
    change(client, put(id="work", kind="lamp", x_m=1, y_m=1, lux_1m=2900, unit="WORK-1"))
    (lamp,) = client.get(VENUE).get_json()["lamps"]
    assert lamp["watts"] == pytest.approx(26, rel=0.02)
    assert 1 < lamp["hours"] < 6
    change(client, put(id="across", kind="lane", x_m=-3, y_m=-4, width_m=6, depth_m=0.4))
    (lead,) = client.get(VENUE).get_json()["leads"]
    assert (lead["thing"], lead["lead"]["outlet"]) == ("quay-hut", "quay-mains")
    assert lead["lead"]["crosses"] == ["across"]
    assert lead["lead"]["length_m"] == pytest.approx(8**0.5)


def test_what_no_camera_sees_is_told(client: FlaskClient) -> None:
    change(client, put(id="bell", kind="to see", x_m=30, y_m=30))

    def seen_by() -> list[str]:
        watched = client.get(VENUE).get_json()["watched"]
        found: list[str] = next(w["seen_by"] for w in watched if w["thing"] == "bell")
        return found

    assert seen_by() == []
    place = camera(client)["place"]
    change(client, {"op": "set place", "rig": "quay", "place": {**place, "sees": [*place["sees"], "bell"]}})
    assert seen_by() == ["quay"]
    change(client, put(id="wall", kind="obstacle", x_m=15, y_m=15, width_m=8, depth_m=8, height_m=30))
    assert seen_by() == []


def test_light_in_words_goes_from_bright_to_dark(client: FlaskClient) -> None:
    light = client.get("/api/choices").get_json()["light"]
    assert len(light) > 5
    assert [one["ev"] for one in light] == sorted((one["ev"] for one in light), reverse=True)
