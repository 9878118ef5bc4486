"""Custody over the API: what the plan deals is there, what cannot be is refused, and the copy station tells truly."""

from __future__ import annotations

import threading
from collections.abc import Iterator
from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.devices.simulated_station import SimulatedStation
from tests.kit import Clock

JOB = "/api/jobs/dry-dock-opera"
CARDS = f"{JOB}/cards"


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def station(clock: Clock, monkeypatch: pytest.MonkeyPatch) -> Iterator[SimulatedStation]:
    with SimulatedStation(failing=("WIDE-05",), clock=clock) as server:
        server.start()
        monkeypatch.setenv("LIFT_CRATE_STATION", server.address)
        yield server
        server.shutdown()


def note(client: FlaskClient, act: str, card: str, at: str, status: int = 200, **more: Any) -> Any:
    answer = client.post(f"{CARDS}/steps", json={"act": act, "card": card, "at": at, **more})
    assert answer.status_code == status, answer.get_data(as_text=True)
    return answer.json


def card(view: Any, label: str) -> Any:
    return next(c for c in view["cards"] if c["card"] == label)


def test_a_mirrored_pair_from_the_camera_to_the_wiping(client: FlaskClient) -> None:
    day: Any = client.get(f"{JOB}/day").json
    dealt = {p["card"] for line in day["cards"] for p in line["pieces"] if p["card"]}
    view: Any = client.get(CARDS).json
    assert {c["card"] for c in view["cards"]} == dealt
    assert {c["state"] for c in view["cards"]} == {"blank"}
    planned = next(p for p in card(view, "WIDE-03")["planned"] if p["part"] == "acts-1-2")
    assert (planned["unit"], planned["slot"]) == ("C6-1", "slot-1")
    for label, slot in (("WIDE-03", "slot-1"), ("WIDE-04", "slot-2")):
        view = note(client, "in", label, "2027-03-20T19:20", unit="C6-1", slot=slot)
    assert {(s["slot"], s["card"]) for s in view["slots"] if s["unit"] == "C6-1"} == {
        ("slot-1", "WIDE-03"),
        ("slot-2", "WIDE-04"),
    }
    refused = note(client, "in", "WIDE-01", "2027-03-20T19:25", 422, unit="C6-1", slot="slot-1")
    assert "WIDE-03 is in C6-1 slot-1; take it out first." in refused["detail"]
    for label in ("WIDE-03", "WIDE-04"):
        view = note(client, "out", label, "2027-03-20T21:12")
    assert card(view, "WIDE-03")["twins"] == ["WIDE-04"]
    assert "1 of 3 places (WIDE-04)" in card(view, "WIDE-03")["keeps"]
    for place in ("DRIVE-1", "DRIVE-2"):
        view = note(client, "copied", "WIDE-03", "2027-03-20T22:00", place=place, verified=True)
    assert "not" in note(client, "wiped", "WIDE-03", "2027-03-20T23:00", 422)["detail"]
    view = note(client, "wiped", "WIDE-03", "2027-03-21T09:00")
    assert card(view, "WIDE-03")["state"] == "blank"
    assert card(view, "WIDE-04")["twins"] == []
    steps = card(view, "WIDE-03")["steps"]
    assert [s["act"] for s in steps] == ["in", "out", "copied", "copied", "wiped"]
    answer = client.delete(f"{CARDS}/steps/{steps[1]['id']}")
    assert answer.status_code == 422
    view = client.delete(f"{CARDS}/steps/{steps[-1]['id']}").json
    assert card(view, "WIDE-03")["state"] == "copied"
    assert card(view, "WIDE-03")["steps"][-1]["taken_back_by"], "it stays readable"
    assert client.delete(f"{CARDS}/steps/999999").status_code == 404
    lines = client.get(f"{CARDS}/custody.csv").get_data(as_text=True).splitlines()
    assert len(lines) == 1 + 7
    removed = client.delete("/api/shelf/units/WIDE-03?seen=0")
    assert removed.status_code in (409, 422), "a card with a history stays on the shelf"


def test_a_card_with_the_footage_of_another_job_is_not_dealt_until_it_is_wiped(client: FlaskClient) -> None:
    made = client.post("/api/jobs", json={"title": "Harbour regatta", "zone": "UTC", "day": "2027-03-18"})
    assert made.status_code == 201, made.json
    other = next(j["id"] for j in made.json["jobs"] if j["title"] == "Harbour regatta")  # type: ignore[index]

    def dealt() -> set[str]:
        day: Any = client.get(f"{JOB}/day").json
        return {p["card"] for line in day["cards"] for p in line["pieces"] if p["card"]}

    def step(**what: Any) -> Any:
        answer = client.post(f"/api/jobs/{other}/cards/steps", json={"card": "WIDE-03", **what})
        assert answer.status_code == 200, answer.json
        return answer.json

    before = dealt()
    assert "WIDE-03" in before
    step(act="in", at="2027-03-18T10:00", unit="C6-1", slot="slot-1")
    step(act="out", at="2027-03-18T12:00")
    assert "WIDE-03" not in dealt()
    gear: Any = client.get(f"{JOB}/day/gear").json
    held = next(u for m in gear["models"] for u in m["units"] if u["unit"] == "WIDE-03")
    assert set(held["at"].values()) == {"‘Harbour regatta’"}
    for place in ("DRIVE-1", "DRIVE-2", "DRIVE-3"):
        step(act="copied", at="2027-03-18T13:00", place=place, verified=True)
    step(act="wiped", at="2027-03-19T09:00")
    assert dealt() == before


def test_bad_steps_are_told_and_nothing_is_kept(client: FlaskClient) -> None:
    for body in (
        {"act": "in", "card": "WIDE-01"},
        {"act": "in", "card": "WIDE-01", "unit": "C6-1", "slot": "slot-9"},
        {"act": "in", "card": "C6-1", "unit": "C6-1", "slot": "slot-1"},
        {"act": "in", "card": "WIDE-01", "unit": "nobody", "slot": "slot-1"},
        {"act": "out", "card": "WIDE-01"},
        {"act": "eaten", "card": "WIDE-01"},
        {"act": "fault", "card": "WIDE-01", "note": " "},
    ):
        answer = client.post(f"{CARDS}/steps", json=body)
        assert answer.status_code in (404, 422), body
        assert answer.json
        assert answer.json["title"]
    view: Any = client.get(CARDS).json
    assert all(not c["steps"] for c in view["cards"])
    assert client.get("/api/jobs/none/cards").status_code == 404


def test_two_people_put_cards_into_one_slot_at_once(client: FlaskClient) -> None:
    found: list[int] = []

    def put(label: str) -> None:
        body = {"act": "in", "card": label, "at": "2027-03-20T19:20", "unit": "C6-2", "slot": "slot-1"}
        with client.application.test_client() as other:
            headers = {"Origin": "http://localhost"}
            found.append(other.post(f"{CARDS}/steps", json=body, headers=headers).status_code)

    threads = [threading.Thread(target=put, args=(f"WIDE-0{n}",)) for n in (1, 2, 3, 5)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(found) == [200, 422, 422, 422]


def test_copied_at_the_station_and_noted_as_it_tells(
    client: FlaskClient, station: SimulatedStation, clock: Clock
) -> None:
    refused = client.post(f"{CARDS}/station/1/card", json={"card": "WIDE-05"})
    assert "is blank" in refused.get_data(as_text=True)
    for label, slot in (("WIDE-05", "slot-1"), ("WIDE-06", "slot-2")):
        note(client, "in", label, "2027-03-20T19:20", unit="C6-2", slot=slot)
        note(client, "out", label, "2027-03-20T21:12")
    for reader, label in ((1, "WIDE-05"), (2, "WIDE-06")):
        assert client.post(f"{CARDS}/station/{reader}/card", json={"card": label}).status_code == 200
    assert client.post(f"{CARDS}/station/1/copy", json={"drive": "WIDE-01"}).status_code == 422
    for reader in (1, 2):
        begun: Any = client.post(f"{CARDS}/station/{reader}/copy", json={"drive": f"DRIVE-{reader}"}).json
    assert [r["doing"] for r in begun["readers"]] == ["copying", "copying"]
    assert client.post(f"{CARDS}/station/2/note", json={}).status_code == 422
    clock.s = 1e6
    told: Any = client.get(f"{CARDS}/station").json
    assert [(r["doing"], r["noted"]) for r in told["readers"]] == [("failed", False), ("done", False)]
    at = "2027-03-20T22:30:00+00:00"
    view: Any = client.post(f"{CARDS}/station/1/note", json={"at": at}).json
    assert card(view, "WIDE-05")["faults"] == ["20 Mar 22:30 WIDE-05 cannot be read any further"]
    view = client.post(f"{CARDS}/station/2/note", json={"at": at}).json
    (copy,) = card(view, "WIDE-06")["copies"]
    assert (copy["place"], copy["verified"], copy["checksum"]) == ("DRIVE-2", True, told["readers"][1]["checksum"])
    told = client.get(f"{CARDS}/station").json
    assert [r["noted"] for r in told["readers"]] == [True, True]
    emptied: Any = client.delete(f"{CARDS}/station/1/card").json
    assert emptied["readers"][0]["doing"] == "empty"


def test_without_a_station_it_is_said(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    monkeypatch.delenv("LIFT_CRATE_STATION", raising=False)
    answer = client.get(f"{CARDS}/station")
    assert answer.status_code == 503
    assert "copy by hand and note it" in answer.get_data(as_text=True)


@pytest.mark.parametrize(
    "body",
    [
        {"act": "fault", "card": "WIDE-01", "note": "a\u0000b"},
        {"act": "fault", "card": "WIDE-01", "note": "x" * 5000},
        {"act": "fault", "card": "WIDE-01", "note": "hot", "at": "9999-12-31T23:59:00+00:00"},
        {"act": "fault", "card": "WIDE-01", "note": "hot", "at": "0001-01-01T00:00:00"},
        {"act": "copied", "card": "WIDE-01", "place": "\u202e", "verified": "perhaps"},
        {"act": "in", "card": ["WIDE-01"], "unit": "C6-1", "slot": "slot-1"},
    ],
)
def test_hostile_steps_are_refused_and_the_screen_still_opens(client: FlaskClient, body: dict[str, Any]) -> None:
    answer = client.post(f"{CARDS}/steps", json=body)
    assert answer.status_code == 422, answer.get_data(as_text=True)
    assert client.get(CARDS).status_code == 200
    source = {"voice": "soprano", "source": "pocket recorder", "act": "runs"}
    for more in ({"at": "9999-12-31T23:59:00+00:00"}, {"file": "a\u0000"}, {"act": "sings"}):
        assert client.post(f"{JOB}/sound/steps", json={**source, **more}).status_code == 422
    assert client.get(f"{JOB}/sound").status_code == 200
