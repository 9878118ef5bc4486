"""The API of the shelf, of comparisons, sheets and drawings: answers and the one form of error."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.devices.simulated_scale import SimulatedScale
from tests.web.test_bench import JOB, QUAY, problem


def test_the_shelf_answers_with_who_has_what(client: FlaskClient) -> None:
    found = client.get(
        "/api/shelf", query_string={"words": "friction", "job": "dry-dock-opera", "part": "dress"}
    ).get_json()
    assert {u["unit"]: u["taken"] is not None for u in found["units"]} == {
        "ARM-1": True,
        "ARM-2": False,
        "ARM-3": False,
    }
    assert found["kinds"] == {"arm": 3}


def test_models_are_drawn_and_judged_before_they_are_saved(client: FlaskClient) -> None:
    model = client.get("/api/shelf/models/hitch-arm").get_json()["model"]
    drawn = client.post(
        "/api/shelf/preview",
        json={**model, "ports": [{**model["ports"][0], "at": [0, 0, 40], "n": [0, 0, -1]}], "hinges": []},
    ).get_json()
    assert [e["view"] for e in drawn["elevations"]] == ["side", "front", "top"]
    assert drawn["problems"][0]["path"] == "$.ports[0].at"
    unknown = client.post(
        "/api/shelf/preview", json={**model, "ports": [{**model["ports"][0], "interface": "ghost"}], "hinges": []}
    ).get_json()
    assert (unknown["elevations"], unknown["problems"][0]["message"]) == ([], "there is no interface 'ghost' here")


def test_units_are_changed_and_exported(client: FlaskClient) -> None:
    unit = client.get("/api/shelf/units/PACK-04").get_json()["unit"]
    after = client.put("/api/shelf/units?seen=0", json={**unit, "health": 0.77}).get_json()
    assert after["unit"]["health"] == 0.77
    assert after["history"][0]["title"] == "health 1.0 → 0.77"
    assert "PACK-04,tidewick-98,owned,,,,,,0.77,,good," in client.get("/api/shelf/units.csv").text
    plan = client.post(
        "/api/shelf/units.csv", data="label,model,health\nPACK-04,tidewick-98,0.5\n", content_type="text/csv"
    ).get_json()
    assert plan["changes"][0]["fields"] == [["health", "0.77", "0.5"]]
    assert plan["applied"] is False


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "says"),
    [
        ("get", "/api/shelf/models/ghost", None, 404, "There is no model 'ghost' in the catalogue"),
        ("get", "/api/shelf/units/ghost", None, 422, "There is no unit 'ghost'"),
        ("get", "/api/shelf?most=9999", None, 422, "$.most: "),
        ("put", "/api/shelf/units", {"id": "X"}, 422, "$.model: this is missing"),
        ("put", "/api/shelf/units", {"id": "X", "model": "hitch-arm", "health": 3}, 422, "$.health: "),
        (
            "put",
            "/api/shelf/models",
            {"id": "X", "kind": "k", "maker": "m", "name": "n", "mass_g": -4},
            422,
            "$.mass_g: ",
        ),
        (
            "put",
            "/api/shelf/interfaces",
            {"id": "x", "label": "X", "kind": "lens"},
            422,
            "a lens mount lives by its flange distance",
        ),
        ("post", "/api/shelf/measure", {"method": "edge"}, 422, "'edge_at_mm' is missing; the method 'edge' needs it."),
        ("post", "/api/shelf/units.csv?apply=true", "nonsense", 409, "Nothing was written"),
        ("get", f"{QUAY}/places/ARM-1", None, 422, "ARM-1 is in Caisson"),
        (
            "get",
            f"{JOB}/compare?left_part=dress&left_build=quay-full&right_part=dress&right_build=ghost",
            None,
            404,
            "This job has no build 'ghost'.",
        ),
        ("get", f"{QUAY}/drawing.svg?scale=0", None, 422, "$.scale: "),
    ],
)
def test_errors(client: FlaskClient, method: str, path: str, body: Any, status: int, says: str) -> None:
    sent = (
        {"data": body, "content_type": "text/csv"}
        if isinstance(body, str)
        else {"json": body}
        if body is not None
        else {}
    )
    assert says in problem(client.open(path, method=method, **sent), status)["detail"]


@pytest.fixture
def scale(monkeypatch: pytest.MonkeyPatch) -> Iterator[SimulatedScale]:
    with SimulatedScale() as server:
        server.start()
        monkeypatch.setenv("LIFT_CRATE_SCALE", server.address)
        yield server
        server.shutdown()


def test_the_scale_is_read_and_its_absence_is_said(
    client: FlaskClient, scale: SimulatedScale, monkeypatch: pytest.MonkeyPatch
) -> None:
    scale.answer("P 1200")
    readings = [client.get("/api/shelf/scale").get_json() for _ in range(4)]
    assert [r["stable"] for r in readings] == [False, False, True, True]
    assert readings[-1]["mass_g"] == pytest.approx(1200, abs=2)
    monkeypatch.delenv("LIFT_CRATE_SCALE")
    assert "LIFT_CRATE_SCALE names none" in problem(client.get("/api/shelf/scale"), 503)["detail"]


def test_sheet_drawing_places_and_comparison(client: FlaskClient) -> None:
    sheet = client.get(f"{QUAY}/sheet").get_json()
    assert sheet["build"][0]["unit"] == "MP-1"
    assert sheet["settings"] == [{"name": "ZOOM-2", "value": "200 mm", "source": "job"}]
    assert client.get(f"{QUAY}/drawing.svg?view=top&scale=5").mimetype == "image/svg+xml"
    assert client.get(f"{QUAY}/drawing.pdf").data.startswith(b"%PDF")
    places = client.get(f"{QUAY}/places/RX-2").get_json()["places"]
    done = client.post(f"{QUAY}/preview", json={"operations": places[0]["operations"]}).get_json()
    assert done["counts"]["stops"] == places[0]["effect"]["stops_after"]
    ways = client.get(f"{QUAY}/fit", query_string={"unit": "RX-2", "onto": "CAGE-1", "port": "left"}).get_json()["ways"]
    assert ways[0]["effect"]["mass_g"] == 186 + 26
    both = client.get(
        f"{JOB}/compare",
        query_string={
            "left_part": "dress",
            "left_build": "quay-full",
            "right_part": "dress",
            "right_build": "quay-full",
        },
    ).get_json()
    assert all(not f["difference"] for f in both["figures"])
