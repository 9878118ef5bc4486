"""Packed, given out, brought back: by scan and by tap, by two people, with one thing missing; on paper and as files."""

from __future__ import annotations

import csv
import io
import time
from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.core.pack import packed
from tests.pdf import text_of
from tests.web.test_bench import problem

JOB = "/api/jobs/dry-dock-opera"
PACK = f"{JOB}/pack"


@pytest.fixture(autouse=True)
def first_answer_is_enough(monkeypatch: pytest.MonkeyPatch) -> None:
    """What a longer search finds is another deal of the same kind."""
    monkeypatch.setattr(packed, "_ROUNDS", 0)


def read(client: FlaskClient) -> Any:
    """The packing when it is dealt to the end."""
    for _ in range(600):
        found: Any = client.get(PACK).json
        if not found["searching"]:
            return found
        time.sleep(0.1)
    raise AssertionError("it is still being dealt")


def edit(client: FlaskClient, *operations: Any) -> Any:
    version = client.get(f"{JOB}/frame").get_json()["version"]
    return client.post(f"{PACK}/edits", json={"version": version, "operations": operations})


def note(client: FlaskClient, act: str, thing: str, case: str = "", **more: Any) -> Any:
    return client.post(f"{PACK}/steps", json={"steps": [{"act": act, "thing": thing, "case": case}], **more})


def now(view: Any, thing: str) -> Any:
    return next(t for t in view["things"] if t["id"] == thing)


def test_what_is_dealt_is_cured_put_by_hand_left_and_undone(client: FlaskClient) -> None:
    first = read(client)
    assert len(first["left"]) == 1
    assert [f["level"] for f in first["findings"] if f["code"] == "pack.left"] == ["stop"]
    cure = first["cures"][0]
    assert edit(client, {"op": "put case", "case": cure["case"]}).status_code == 200
    cured = read(client)
    assert cured["left"] == []
    assert {c["along"]["unit"] for c in cured["cases"]} >= {"TUBE-1", "TUBE-2"}
    edit(
        client,
        {"op": "put in case", "thing": "R2-2", "case": "BAG-1"},
        {"op": "put in case", "thing": "CW-1", "case": ""},
        {"op": "put extra", "extra": {"id": "snacks", "label": "Snacks", "count": 6, "each_g": 80}},
    )
    by_hand = read(client)
    assert (now(by_hand, "R2-2")["planned"], now(by_hand, "R2-2")["by_hand"]) == ("BAG-1", True)
    assert now(by_hand, "+snacks")["mass_g"] == 480
    assert "snacks" in next(f for f in by_hand["findings"] if f["code"] == "pack.no_size")["text"]
    version = client.get(f"{JOB}/frame").get_json()["version"]
    assert client.post(f"{JOB}/undo", json={"version": version}).status_code == 200
    assert not now(read(client), "R2-2")["by_hand"]
    stale = client.post(f"{PACK}/edits", json={"version": 1, "operations": [{"op": "remove case", "case": "CASE-1"}]})
    assert stale.status_code == 409


def test_a_case_that_goes_along_is_not_there_for_another_job_and_stays_on_the_shelf(client: FlaskClient) -> None:
    made = client.post(f"{JOB}/copy", json={"title": "Second night", "day": "2027-03-20"})
    assert made.status_code == 409, "cases that are out then are in no other job"
    assert "CASE-1" in made.get_data(as_text=True) or made.get_json()["detail"]
    seen = client.get("/api/shelf/units/CASE-1").get_json()["seen"]
    removed = client.delete(f"/api/shelf/units/CASE-1?seen={seen}")
    assert removed.status_code == 409
    assert "packing" in removed.get_json()["detail"]


def test_whoever_packs_takes_back_what_was_packed_and_nothing_else(client: FlaskClient) -> None:
    def undo() -> Any:
        version = client.get(f"{JOB}/frame").get_json()["version"]
        return client.post(f"{PACK}/undo", json={"version": version})

    def frame() -> Any:
        return client.get(f"{JOB}/frame").get_json()

    before = frame()["job"]["pack"]
    assert edit(client, {"op": "put in case", "thing": "MIC-1", "case": "CASE-2"}).status_code == 200
    assert frame()["job"]["pack"] != before
    assert undo().status_code == 200
    assert frame()["job"]["pack"] == before
    change = {"version": frame()["version"], "operations": [{"op": "change job", "title": "Other"}]}
    assert client.post(f"{JOB}/edits", json=change).status_code == 200
    assert "a lead takes it back" in problem(undo(), 422)["detail"]
    assert frame()["job"]["title"] == "Other"


def test_out_and_back_with_one_thing_missing(client: FlaskClient) -> None:
    plan = read(client)
    planned = {t["id"]: t["planned"] for t in plan["things"]}
    case = planned["C6-1"]
    assert note(client, "packed", "C6-1", case).status_code == 200
    again = note(client, "packed", "C6-1", case)
    assert problem(again, 422 if again.status_code == 422 else again.status_code)["detail"].endswith("already.")
    other = next(c["along"]["unit"] for c in plan["cases"] if c["along"]["unit"] != case)
    moved = note(client, "packed", "C6-1", other)
    assert (moved.status_code, moved.get_json()["type"]) == (409, "urn:lift-crate:pack.asked")
    assert f"is in {case}" in moved.get_json()["detail"]
    assert now(client.get(PACK).json, "C6-1")["case"] == case, "nothing was noted"
    assert note(client, "packed", "C6-1", other, anyway=True).status_code == 200
    foreign = note(client, "packed", "OTHER-HOUSE-7", case)
    assert "label of another house" in foreign.get_json()["detail"]
    closed = note(client, "closed", case)
    assert "are not in it" in closed.get_json()["detail"]
    mine = [t for t, c in planned.items() if c == other and t != "C6-1"]
    steps = [{"act": "packed", "thing": t, "case": other} for t in mine]
    assert client.post(f"{PACK}/steps", json={"steps": steps}).status_code == 200
    assert note(client, "closed", other).status_code == 200
    shut: Any = client.get(PACK).json
    assert next(c for c in shut["cases"] if c["along"]["unit"] == other)["closed"]
    for thing in mine:
        assert note(client, "back", thing).status_code == 200
    open_list: Any = client.get(PACK).json
    assert [t["id"] for t in open_list["things"] if t["state"] == "packed"] == ["C6-1"]
    assert note(client, "missing", "C6-1").status_code == 200
    lost = now(client.get(PACK).json, "C6-1")
    assert (lost["state"], lost["case"], lost["last"]) == ("missing", other, other)
    step = client.get(PACK).get_json()["steps"][0]
    assert client.delete(f"{PACK}/steps/{step['id']}").status_code == 200
    assert now(client.get(PACK).json, "C6-1")["state"] == "packed"
    assert client.delete(f"{PACK}/steps/{step['id']}").status_code == 404
    assert note(client, "back", "C6-1").status_code == 200
    record = client.get(f"{JOB}/record?kind=pack").get_json()["lines"]
    assert {line["thing"] for line in record} >= {"C6-1", other}
    taken_back = [line for line in record if line["title"].startswith("taken back: missing")]
    assert [line["thing"] for line in taken_back] == ["C6-1"]


def test_all_steps_of_a_scan_are_noted_or_none(client: FlaskClient) -> None:
    read(client)
    steps = [{"act": "packed", "thing": t, "case": "CASE-3"} for t in ("C6-2", "C6-3", "C6-2")]
    assert client.post(f"{PACK}/steps", json={"steps": steps, "anyway": True}).status_code in (403, 409, 422)
    assert client.get(PACK).get_json()["steps"] == []
    only_hired = note(client, "returned", "C6-1")
    assert "is owned" in only_hired.get_json()["detail"]
    once = {"X-Once": "4f7f2f0e-one-scan-of-many"}
    body = {"steps": steps[:1], "anyway": True}
    assert client.post(f"{PACK}/steps", json=body, headers=once).status_code == 200
    assert client.post(f"{PACK}/steps", json=body, headers=once).status_code == 208
    assert len(client.get(PACK).get_json()["steps"]) == 1


@pytest.mark.parametrize(("name", "kind"), [("packing.pdf", "application/pdf"), ("labels.pdf", "application/pdf")])
def test_it_is_had_on_paper(client: FlaskClient, name: str, kind: str) -> None:
    read(client)
    answer = client.get(f"{PACK}/{name}")
    assert (answer.status_code, answer.mimetype) == (200, kind)
    told = text_of(answer.data)
    assert "CASE-1" in told
    assert "C6-1" in told
    if name == "packing.pdf":
        assert "licensed people decide" in told


def test_the_list_as_csv_has_every_thing_with_its_case(client: FlaskClient) -> None:
    plan = read(client)
    rows = list(csv.DictReader(io.StringIO(client.get(f"{PACK}/packing.csv").get_data(as_text=True))))
    assert len(rows) == len(plan["things"])
    row = next(r for r in rows if r["label"] == "ZOOM-2")
    assert row["hired until"] == "2027-03-21"
    assert row["case"] == now(plan, "ZOOM-2")["planned"]


def test_what_was_dealt_goes_along_and_is_counted_at_the_strap(client: FlaskClient) -> None:
    assert "Cases</h2>" not in client.get(f"{JOB}/along.html").get_data(as_text=True)
    plan = read(client)
    page = client.get(f"{JOB}/along.html").get_data(as_text=True)
    for case in plan["cases"]:
        assert f'{case["along"]["unit"]}, <span class="figure">{case["mass_g"] / 1000:.1f} kg</span>' in page
    counts: Any = client.get(f"{JOB}/standing").json
    for level in ("stop", "watch", "note"):
        at = {"stop": "stops", "watch": "watches", "note": "notes"}[level]
        assert counts["pack"][at] == sum(f["level"] == level for f in plan["findings"])
