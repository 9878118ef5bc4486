"""Power through the API: the chain, the day's swaps, what was made of them, and both exports."""

from __future__ import annotations

import csv
import io
import time
from typing import Any

import pytest
from flask.testing import FlaskClient
from icalendar import Calendar

from lift_crate.devices.simulated_power import SimulatedCharger, SimulatedMeter
from tests.web.test_bench import JOB, problem

SWAPS = f"{JOB}/swaps"


def day(client: FlaskClient, part: str = "arrival", **what: Any) -> dict[str, Any]:
    """The plan of a day when it is done."""
    for _ in range(400):
        seen: dict[str, Any] = client.get(SWAPS, query_string={"part": part, **what}).get_json()
        if not seen["working"]:
            return seen
        time.sleep(0.05)
    pytest.fail("the day was never planned")


def test_the_chain_adds_up_from_inputs_to_packs(client: FlaskClient) -> None:
    seen = client.get(f"{JOB}/parts/dress/rigs/quay/power").get_json()
    volts = {n["unit"]: n["volts"] for n in seen["nodes"]}
    for edge in seen["edges"]:
        assert edge["watts"] == pytest.approx(edge["amps"] * (edge["volts"] + edge["drop_v"]))
        assert volts[edge["sink"]] == pytest.approx(edge["volts"])
    out_of_pack = [e["watts"] for e in seen["edges"] if e["source"] == "PACK-01"]
    assert sum(out_of_pack) == pytest.approx(seen["watts"])
    assert {n["unit"]: set(n["dark"]) for n in seen["nodes"]} == {
        "PACK-01": {"SWAP-1", "C6-1", "MON7-1"},
        "SWAP-1": {"C6-1", "MON7-1"},
        "C6-1": set(),
        "MON7-1": set(),
    }
    cable = next(e for e in seen["edges"] if e["cable"] == "TR-1")
    assert cable["drop_v"] > 0
    draws = sum(n["draw_w"] for n in seen["nodes"])
    assert seen["watts"] == pytest.approx(draws + cable["drop_v"] * cable["amps"])
    watts = {
        mode: client.get(f"{JOB}/parts/dress/rigs/quay/power", query_string={"mode": mode}).get_json()["watts"]
        for mode in ("standby", "record", "peak")
    }
    assert watts["standby"] < watts["record"] < watts["peak"]
    empty = client.get(f"{JOB}/parts/dress/rigs/quay/power", query_string={"empty": True}).get_json()
    assert all(e["volts"] < f["volts"] for e, f in zip(empty["nodes"], seen["nodes"], strict=True))
    assert empty["edges"][0]["amps"] > seen["edges"][0]["amps"]


def test_a_curve_ends_where_the_first_device_stops_and_goes_on_without_it(client: FlaskClient) -> None:
    runs = {
        r["pack"]: r
        for rig in ("quay", "stage-rail", "caisson")
        for r in client.get(f"{JOB}/parts/dress/rigs/{rig}/power").get_json()["runs"]
    }
    for run in runs.values():
        hours, volts = [p[0] for p in run["curve"]], [p[1] for p in run["curve"]]
        assert hours == sorted(hours)
        assert volts[0] == max(volts)
        assert run["hours"] == pytest.approx(run["cut_outs"][0]["hours"] if run["cut_outs"] else hours[-1], rel=0.02)
        assert 0.8 < run["hours"] / run["by_energy_h"] < 1.2, "near what plain watt-hours say"


def test_the_day_is_short_says_what_cures_it_and_goes_out_as_calendar_and_csv(client: FlaskClient) -> None:
    seen = day(client)
    assert not seen["works"]
    assert {f["code"] for f in seen["findings"]} >= {"swap.short", "swap.two_each"}
    assert any(c["works"] for c in seen["cures"])
    rows = list(csv.DictReader(io.StringIO(client.get(f"{SWAPS}.csv", query_string={"part": "arrival"}).text)))
    assert [r["pack in"] for r in rows] == [c["pack_in"] for c in seen["cards"]]
    events = list(Calendar.from_ical(client.get(f"{SWAPS}.ics", query_string={"part": "arrival"}).text).walk("VEVENT"))
    assert len(events) == len(seen["cards"])
    assert len({str(e["uid"]) for e in events}) == len(events)
    assert min(e.decoded("dtstart").isoformat() for e in events) == "2027-03-20T18:00:00+00:00"
    run: Any = client.get(f"{JOB}/day/run").json
    assert not run["carded"], "the other day is not planned"
    in_run = [(t["starts"], t["label"], t["who"]) for d in run["days"] for t in d["tasks"] if t["kind"] == "swap"]
    card = [(c["at"], c["label"], [c["person"]]) for c in seen["cards"] if c["pack_out"]]
    assert sorted(in_run) == sorted(card), "whoever swaps packs is not free for anything else then"
    assert day(client, mains=False)["chargers"] == []


def test_a_swap_that_was_made_moves_the_plan_and_can_be_taken_back(client: FlaskClient) -> None:
    unplanned = client.get(f"{JOB}/parts/arrival").get_json()["places"]["power"]
    before = day(client)
    counted = client.get(f"{JOB}/parts/arrival").get_json()["places"]["power"]
    for count, level in (("stops", "stop"), ("watches", "watch"), ("notes", "note")):
        assert counted[count] - unplanned[count] == sum(f["level"] == level for f in before["findings"])
    card = next(c for c in before["cards"] if c["pack_out"])
    body = {
        "slot": card["slot"],
        "at": card["at"],
        "pack_in": "PACK-03",
        "pack_out": card["pack_out"],
        "charge_left": 0.12,
        "charge_in": 0.9,
    }
    noted = client.post(f"{SWAPS}/made", query_string={"part": "arrival"}, json=body)
    assert noted.status_code == 200, noted.text
    after = day(client)
    assert after["made"][0]["pack_in"] == "PACK-03"
    assert (after["made"][0]["charge_left"], after["made"][0]["charge_in"]) == (pytest.approx(0.12), pytest.approx(0.9))
    assert next(
        u["left"] for u in after["uses"] if u["slot"] == card["slot"] and u["ends"] == card["minute"]
    ) == pytest.approx(0.12, abs=1e-3)
    assert any(u["slot"] == card["slot"] and u["starts"] == card["minute"] for u in after["uses"])
    twice = client.post(f"{SWAPS}/made", query_string={"part": "arrival"}, json=body)
    assert problem(twice, 409)["detail"].startswith("A swap of")
    client.delete(f"{SWAPS}/made/{after['made'][0]['id']}", query_string={"part": "arrival"})
    assert day(client)["made"] == []
    assert day(client)["uses"] == before["uses"]


@pytest.mark.parametrize(
    ("change", "status", "says"),
    [
        ({"pack_in": "GHOST"}, 422, "GHOST"),
        ({"pack_in": "C6-1"}, 422, "no cells"),
        ({"slot": "nowhere"}, 404, "nowhere"),
        ({"pack_out": "PACK-04", "pack_in": "PACK-04"}, 422, "name the pack that went in"),
        ({"at": "2027-03-20T19:30:00"}, 422, "time zone"),
        ({"at": "2027-03-25T19:30:00+00:00"}, 422, "not on this day"),
        ({"charge_left": 1.4}, 422, "charge_left"),
    ],
)
def test_a_swap_that_cannot_be_is_refused(client: FlaskClient, change: dict[str, Any], status: int, says: str) -> None:
    body = {"slot": "quay · SWAP-1 · pack", "at": "2027-03-20T19:30:00+00:00", "pack_in": "PACK-04", **change}
    assert says in str(problem(client.post(f"{SWAPS}/made", query_string={"part": "arrival"}, json=body), status))


def test_questions_that_make_no_sense_are_refused(client: FlaskClient) -> None:
    for query in (
        {"part": "ghost"},
        {"part": "arrival", "dead": "GHOST"},
        {"part": "arrival", "monitors": 0},
        {"part": "arrival", "late_part": "ghost", "late": 5},
    ):
        assert client.get(SWAPS, query_string=query).status_code in (404, 422)


def test_a_measured_draw_takes_the_place_of_the_catalogues(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    with SimulatedMeter() as meter, SimulatedCharger() as charger:
        for device, name in ((meter, "METER"), (charger, "CHARGER")):
            device.start()
            monkeypatch.setenv(f"LIFT_CRATE_{name}", device.address)
        power = f"{JOB}/parts/dress/rigs/quay/power"
        before = client.get(power).get_json()
        read = client.post(f"{power}/meter", json={"unit": "MON7-1"}).get_json()
        assert (read["known_w"], read["source"]) == (19, "catalogue")
        assert read["watts"] != 19
        unit = client.get("/api/shelf/units/MON7-1").get_json()
        kept = client.put(
            "/api/shelf/units", query_string={"seen": unit["seen"]}, json={**unit["unit"], "measured_w": 22.5}
        )
        assert kept.status_code == 200, kept.text
        after = client.get(power).get_json()
        assert next(n for n in after["nodes"] if n["unit"] == "MON7-1")["draw_source"] == "measured"
        assert after["watts"] - before["watts"] == pytest.approx(3.5, abs=0.1)
        assert after["runs"][0]["hours"] < before["runs"][0]["hours"]
        assert "draws nothing" in problem(client.post(f"{power}/meter", json={"unit": "CAGE-1"}), 422)["detail"]
        charger.answer("P 2 98 0.5")
        bays = client.get(f"{JOB}/charger").get_json()["bays"]
        assert [b["state"] for b in bays] == ["empty", "charging", "empty", "empty"]
        monkeypatch.delenv("LIFT_CRATE_CHARGER")
        assert "look at its lamps" in problem(client.get(f"{JOB}/charger"), 503)["detail"]
        meter.shutdown()
        charger.shutdown()
