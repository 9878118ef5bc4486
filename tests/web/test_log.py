"""The log over the API: noted, corrected, settled, learnt from, taken over and undone; the weather; the report."""

from __future__ import annotations

import base64
import csv
import io
import time
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from lift_crate.devices.simulated_weather import SimulatedWeather
from lift_crate.devices.weather import parse_weather
from tests.pdf import text_of
from tests.web.test_bench import problem

JOB = "/api/jobs/dry-dock-opera"
LOG = f"{JOB}/log"
DRESS = {"part": "dress"}


def read(client: FlaskClient, part: str = "dress") -> Any:
    """The log when everything that its figures change was tried."""
    for _ in range(900):
        found: Any = client.get(LOG, query_string={"part": part}).json
        if not found["searching"]:
            return found
        time.sleep(0.1)
    raise AssertionError("it is still being tried")


def note(client: FlaskClient, kind: str, name: str, **more: Any) -> Any:
    body = {"id": name, "kind": kind, "at": "2027-03-19T20:00:00Z", **more}
    return client.post(f"{LOG}/entries", query_string=DRESS, json=body)


def line(view: Any, name: str) -> Any:
    return next(x for x in view["lines"] if x["id"] == name)


def proposal(view: Any, thing: str) -> Any:
    return next(p for p in view["proposals"] if p["thing"] == thing)


def unit(client: FlaskClient, name: str) -> Any:
    return client.get(f"/api/shelf/units/{name}").json["unit"]  # type: ignore[index]  # a unit


def test_a_fault_is_on_the_shelf_until_it_is_mended(client: FlaskClient) -> None:
    noted = note(client, "fault", "f-1", unit="MON7-1", rig="quay", text="Screen flickers", verdict="out of use").json
    assert line(noted, "f-1")["open"]
    assert ("MON7-1", "Screen flickers") in {(f["unit"], f["text"]) for f in noted["faults"]}
    assert unit(client, "MON7-1")["condition"] == "out of use"
    assert "Screen flickers" in unit(client, "MON7-1")["note"]
    again = note(client, "fault", "f-1", unit="MON7-1", rig="quay", text="Screen flickers", verdict="out of use")
    assert again.status_code == 200
    assert len([x for x in again.json["lines"] if x["id"] == "f-1"]) == 1
    other = note(client, "fault", "f-1", unit="MON7-1", text="Something else")
    assert "says something else" in problem(other, 422)["detail"]
    mended = note(client, "settled", "s-1", settles="f-1", text="New cable").json
    assert line(mended, "f-1")["settled"] == "New cable"
    assert unit(client, "MON7-1") == unit(client, "MON7-1") | {"condition": "good", "note": ""}
    client.delete(f"{LOG}/entries/s-1", query_string=DRESS)
    assert unit(client, "MON7-1")["condition"] == "out of use"
    note(client, "settled", "s-2", settles="f-1")
    # What somebody else has said of it since is not rubbed out.
    note(client, "fault", "f-2", unit="MON7-2", text="Loose foot", verdict="doubtful")
    seen = client.get("/api/shelf/units/MON7-2").json
    body = seen["unit"] | {"note": "foot glued"}  # type: ignore[index]  # a unit
    client.put("/api/shelf/units", json=body, query_string={"seen": seen["seen"]})  # type: ignore[index]
    client.delete(f"{LOG}/entries/f-2", query_string=DRESS)
    assert unit(client, "MON7-2")["note"] == "foot glued"


def test_a_correction_keeps_what_was_said_and_so_does_taking_back(client: FlaskClient) -> None:
    note(client, "reading", "watts-one", unit="MON7-1", rig="quay", what="watts", value=41.0)
    seen = note(
        client, "reading", "watts-two", unit="MON7-1", rig="quay", what="watts", value=20.5, corrects="watts-one"
    ).json
    (before,) = line(seen, "watts-two")["said"]
    assert before["text"].endswith(" 41 W")
    assert all(x["id"] != "watts-one" for x in seen["lines"])
    late = note(
        client, "reading", "watts-three", unit="MON7-1", rig="quay", what="watts", value=22.0, corrects="watts-one"
    )
    assert "corrected or taken back" in problem(late, 422)["detail"]
    back = client.delete(f"{LOG}/entries/watts-two", query_string=DRESS).json
    assert line(back, "watts-two")["taken_back_by"]
    rows = list(csv.DictReader(io.StringIO(client.get(f"{LOG}/log.csv").text)))
    assert {r["id"]: r["taken back by"] != "" for r in rows if r["id"].startswith("watts-")} == {
        "watts-one": False,
        "watts-two": True,
    }
    assert client.delete(f"{LOG}/entries/watts-two", query_string=DRESS).status_code == 404


def test_a_photo_is_kept_small_and_a_file_that_is_none_is_refused(client: FlaskClient) -> None:
    out = io.BytesIO()
    Image.new("RGB", (900, 600), (90, 20, 20)).save(out, "JPEG")
    noted = note(client, "note", "n-1", picture=base64.b64encode(out.getvalue()).decode())
    photo = line(noted.json, "n-1")["photo"]
    assert client.get(f"/api/pictures/{photo}").mimetype == "image/jpeg"
    for told in ("###", base64.b64encode(b"no picture").decode()):
        assert note(client, "note", "n-2", picture=told).status_code in (409, 422)
    seen: Any = client.get(LOG, query_string=DRESS).json
    assert all(x["id"] != "n-2" for x in seen["lines"])


def test_the_health_of_a_pack_is_learnt_tried_taken_and_typed_over(client: FlaskClient) -> None:
    seen = read(client)
    found = proposal(seen, "PACK-01")
    assert found["tried"]
    assert (found["now"], len(found["runs"])) == (0.93, 2)
    assert found["value"] == pytest.approx(0.834, abs=0.002)
    assert any("instead of" in t or "Acts" in t for t in (*found["differs"], *found["comes"]))
    frame: Any = client.get(f"{JOB}/frame").json
    body = {"of": "health", "thing": "PACK-01", "value": found["value"], "version": frame["version"]}
    wrong = client.post(f"{LOG}/figures/unit", query_string=DRESS, json=body | {"value": 0.7})
    assert "another figure by now" in problem(wrong, 422)["detail"]
    after: Any = client.post(f"{LOG}/figures/unit", query_string=DRESS, json=body).json
    assert unit(client, "PACK-01")["health"] == found["value"]
    # The same readings from the same first figure: nothing is learnt twice.
    assert proposal(after, "PACK-01")["taken"]
    assert proposal(after, "PACK-01")["first"] == 0.93
    assert [t["thing"] for t in after["taken"]] == ["PACK-01"]
    more = note(
        client, "reading", "h-1", rig="quay", unit="PACK-01", what="hours", value=1.2, at="2027-03-19T21:00:00Z"
    )
    assert len(proposal(more.json, "PACK-01")["runs"]) == 3


def test_minutes_are_taken_over_as_a_setting_and_undone(client: FlaskClient) -> None:
    screw = proposal(client.get(LOG, query_string=DRESS).json, "screw")
    frame: Any = client.get(f"{JOB}/frame").json
    body = {"of": "minutes", "thing": "screw", "value": screw["value"], "version": frame["version"]}
    assert client.post(f"{LOG}/figures/unit", query_string=DRESS, json=body).status_code == 422
    assert client.post(f"{LOG}/figures/setting", query_string=DRESS, json=body).status_code == 200
    stale = client.post(f"{LOG}/figures/setting", query_string=DRESS, json=body)
    assert stale.status_code == 409
    now: Any = client.get(f"{JOB}/frame").json
    assert now["job"]["settings"]["joint_min"]["screw"] == screw["value"]
    client.post(f"{JOB}/undo", json={"version": now["version"]})
    back = proposal(client.get(LOG, query_string=DRESS).json, "screw")
    assert back["now"] == 1.5


def test_a_build_is_kept_with_its_reason_and_comes_back(client: FlaskClient) -> None:
    rig = f"{JOB}/parts/dress/rigs/quay"
    note(client, "version", "v-1", rig="quay", text="as it was lined up")
    bench: Any = client.get(rig).json
    gone = bench["rows"][-1]["unit"]
    edit = {"version": bench["version"], "operations": [{"op": "detach", "unit": gone}]}
    changed: Any = client.post(f"{rig}/edits", json=edit).json
    (kept,) = client.get(f"{rig}/history").json["kept"]  # type: ignore[index]
    assert (kept["reason"], kept["version"]) == ("as it was lined up", bench["version"])
    before: Any = client.get(f"{rig}/history/{kept['version']}").json
    assert gone in {r["unit"] for r in before["rows"]}
    again = client.post(f"{rig}/history/{kept['version']}", json={"version": changed["version"]})
    assert again.status_code == 200
    assert {r["unit"] for r in again.json["rows"]} == {r["unit"] for r in bench["rows"]}  # type: ignore[index]


def test_the_weather_is_read_from_the_station_or_typed(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    gone: Any = client.get(f"{LOG}/weather", query_string=DRESS)
    assert "weather station" in problem(gone, 503)["detail"]
    station = SimulatedWeather()
    station.start()
    monkeypatch.setenv("LIFT_CRATE_WEATHER", station.address)
    seen: Any = client.get(f"{LOG}/weather", query_string={"part": "act-3"}).json
    assert seen["air_c"] < seen["planned_c"] - 2
    assert {f["code"] for f in seen["findings"]} >= {"log.colder", "log.windier"}
    station.shutdown()
    station.server_close()
    typed: Any = client.get(f"{LOG}/weather", query_string={"part": "act-3", "station": False, "air": -20}).json
    assert [f["code"] for f in typed["findings"]] == ["log.colder"]
    assert any(x["findings"] for x in typed["falls"])


@pytest.mark.parametrize(
    "answer", ["", "W", "W 4 6", "W 4 6 9 x", "W 99 6 9 1", "W 4 9 6 1", "E no", "W 4 6 9 1 2", "W - - - "]
)
def test_an_answer_that_is_no_weather_is_none(answer: str) -> None:
    assert parse_weather(answer) is None


def test_the_report_says_what_ran_what_failed_and_what_to_change(client: FlaskClient) -> None:
    note(client, "near miss", "m-1", rig="caisson", text="Nearly off the quay")
    paper = client.get(f"{LOG}/report.pdf", query_string=DRESS)
    text = text_of(paper.data)
    for word in ("What ran", "Dress rehearsal", "Nearly off the quay", "SDI-1", "Health of PACK-01", "Local codes"):
        assert word in text


def test_the_log_goes_along_in_the_job_file(client: FlaskClient) -> None:
    document: Any = client.get(f"{JOB}/file").json or {}
    ids = [e["id"] for e in document.get("done", {}).get("log", [])]
    assert "l-03" in ids
