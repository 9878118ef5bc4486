"""What is offered as tried comes true when it is taken: accessories left off, supports, presets, through the API."""

from __future__ import annotations

import pytest
from flask.testing import FlaskClient

JOB = "/api/jobs/dry-dock-opera"


@pytest.mark.parametrize("rig", ["quay", "stage-rail"])
def test_a_thing_left_off_leaves_what_was_told(client: FlaskClient, rig: str) -> None:
    at = f"{JOB}/parts/dress/rigs/{rig}"
    before = client.get(at).get_json()
    for each in client.get(f"{at}/accessories").get_json()["accessories"][:3]:
        after = client.post(f"{at}/preview", json={"operations": each["operations"]}).get_json()
        assert before["figures"]["total_g"] - after["figures"]["total_g"] == pytest.approx(each["mass_g"])
        assert before["figures"]["draw_w"] - after["figures"]["draw_w"] == pytest.approx(each["draw_w"], abs=1e-6)
        gone = {r["unit"] for r in before["rows"]} - {r["unit"] for r in after["rows"]}
        assert gone <= {each["unit"], *each["takes_along"]}
    assert client.get(at).get_json()["version"] == before["version"], "nothing was saved by looking"


def test_a_support_taken_is_the_one_that_is_on(client: FlaskClient) -> None:
    at = f"{JOB}/parts/dress/rigs/stage-rail"
    told = client.get(f"{at}/balance/supports").get_json()["supports"]
    other = next(t for t in told if t["unit"] and not t["now"] and t["kind"] == "gimbal")
    body = {"version": client.get(at).get_json()["version"], "operations": other["operations"]}
    after = client.post(f"{at}/edits", json=body)
    assert after.status_code == 200, after.get_data(as_text=True)
    assert after.get_json()["figures"]["support"] == other["unit"]
    assert client.get(f"{at}/balance/supports").get_json()["supports"][0]["unit"] == other["unit"]


def test_a_stale_preset_and_one_that_is_not_there_are_refused(client: FlaskClient) -> None:
    at = f"{JOB}/parts/dress/rigs/quay"
    version = client.get(at).get_json()["version"]
    keep = {"version": version, "operations": [{"op": "keep preset", "label": "usual"}]}
    kept = client.post(f"{at}/edits", json=keep).get_json()
    assert [(p["label"], p["now"]) for p in kept["presets"]] == [("usual", True)]
    assert client.post(f"{at}/edits", json=keep).status_code == 409
    use = {"version": kept["version"], "operations": [{"op": "use preset", "label": "slow"}]}
    refused = client.post(f"{at}/edits", json=use)
    assert refused.status_code == 422
    assert "it has: usual" in refused.get_json()["detail"]
    assert client.get(at).get_json()["version"] == kept["version"]


def test_what_the_package_shares_is_told_for_the_whole_day(client: FlaskClient) -> None:
    found = client.get(f"{JOB}/parts/act-3/rigs/stage-rail/package").get_json()
    lenses = {p["title"] for p in client.get(f"{JOB}/parts/act-3/rigs/stage-rail/lenses?body=*").get_json()["pairs"]}
    assert {f["lens"] for f in found["fronts"]} == lenses
    assert [p["rig"] for p in found["plates"]] == ["Quay", "Caisson", "Dock floor", "Stage rail"]
    assert all(
        a["short"] == max(0, a["at_once"] + len(a["wanted"]) - a["owned"] - a["hired"]) for a in found["adapters"]
    )
    assert found["refits"][0]["minutes"] > 0


def test_the_sheet_tells_how_it_is_held_left_and_set(client: FlaskClient) -> None:
    at = f"{JOB}/parts/act-3/rigs/dock-floor"
    version = client.get(at).get_json()["version"]
    edits = [
        {"op": "grip", "grip": "one handle, held out"},
        {"op": "off between", "off": True},
        {"op": "keep preset", "label": "night"},
    ]
    assert client.post(f"{at}/edits", json={"version": version, "operations": edits}).status_code == 200
    told = {line["name"]: line["value"] for line in client.get(f"{at}/sheet").get_json()["settings"]}
    assert (told["Held"], told["Between takes"], told["GIMBAL-1"]) == ("one handle, held out", "switched off", "walk")
    assert told["Preset 'night'"].startswith("CINE-2 f/3.8, GIMBAL-1 walk")
