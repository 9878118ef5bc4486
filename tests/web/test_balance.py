"""The balance of a rig through the API: read, kept as it was set, stale
after a change, refused when it is not what was seen.
"""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.devices.simulated_gimbal import SimulatedGimbal
from tests.web.test_bench import JOB, edit, problem, remedies_of

RAIL = f"{JOB}/parts/act-3/rigs/stage-rail"
SHOULDER = f"{JOB}/parts/dress/rigs/stage-rail"


def readings(view: dict[str, Any], off_mm: float = 0.0) -> dict[str, float]:
    return {s["name"]: s["reading"] + (off_mm if s["name"] == "lateral" else 0.0) for s in view["gimbal"]["slides"]}


def test_kept_readings_are_good_until_the_rig_changes_and_then_say_what_did(client: FlaskClient) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    assert (seen["gimbal"]["state"], seen["see_saw"]) == ("never", None)
    kept = client.post(
        f"{RAIL}/balance", json={"version": seen["version"], "readings": readings(seen, 1.5), "note": "on the ramp"}
    ).get_json()
    assert kept["gimbal"]["state"] == "good"
    record = kept["gimbal"]["records"][0]
    assert record["set_to"]["lateral"] == pytest.approx(record["computed"]["lateral"] + 1.5)
    assert record["note"] == "on the ramp"
    edit(client, seen["version"], {"op": "detach", "unit": "VND-1"}, where=RAIL)
    stale = client.get(f"{RAIL}/balance").get_json()
    assert stale["gimbal"]["state"] == "stale"
    assert [c["text"] for c in stale["gimbal"]["changes"]] == ["VND-1 was taken off"]
    assert stale["gimbal"]["pre_flight"] != seen["gimbal"]["pre_flight"]
    client.post(f"{RAIL}/undo", json={"version": stale["version"]})
    assert client.get(f"{RAIL}/balance").get_json()["gimbal"]["state"] == "good", "as it was balanced again"
    number = record["id"]
    gone = client.post(f"{RAIL}/balance/{number}", json={"removed": True}).get_json()["gimbal"]
    assert (gone["state"], [r["removed"] for r in gone["records"]]) == ("never", [True])
    back = client.post(f"{RAIL}/balance/{number}", json={"removed": False}).get_json()["gimbal"]
    assert (back["state"], back["records"][0]["set_to"]) == ("good", record["set_to"])
    assert client.post(f"{RAIL}/balance/{number + 1}", json={"removed": True}).status_code == 404


def test_balances_that_always_differ_alike_propose_a_cg(client: FlaskClient) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    for time in range(3):
        assert client.get(f"{RAIL}/balance").get_json()["gimbal"]["proposals"] == [] or time == 2, (
            "one balance proves nothing"
        )
        client.post(f"{RAIL}/balance", json={"version": seen["version"], "readings": readings(seen, 6.0)})
    found = client.get(f"{RAIL}/balance").get_json()["gimbal"]["proposals"]
    assert found[0]["balances"] == 3
    assert found[0]["better"] != found[0]["now"]


def test_what_is_hit_is_judged_on_the_bench_and_drawn_where_it_hits(client: FlaskClient) -> None:
    floor = f"{JOB}/parts/dress/rigs/dock-floor"
    on_bench = [f for f in client.get(floor).get_json()["findings"] if f["code"] == "gimbal.clearance.tilt"]
    assert {f["level"] for f in on_bench} == {"stop"}
    tilt = client.get(f"{floor}/balance").get_json()["gimbal"]["reaches"][0]
    level, turned = client.get(f"{floor}/balance").get_json()["side"], tilt["at_low"]
    assert tilt["low_hits"][0] in {o["unit"] for o in turned["outlines"]}
    outline = {
        name: [o["points"] for o in drawn["outlines"] if o["unit"] == "CINE-2"]
        for name, drawn in (("level", level), ("turned", turned))
    }
    assert outline["level"] != outline["turned"]
    strip = next(s for s in client.get(f"{JOB}/parts/dress").get_json()["strips"] if s["rig"] == "dock-floor")
    assert strip["counts"]["stops"] == len(
        [f for f in client.get(floor).get_json()["findings"] if f["level"] == "stop"]
    )
    assert remedies_of(client, floor, on_bench[0]["key"])[0]["clears"]


def test_heads_sticks_and_mounts_are_shown_and_the_hours_of_a_zoom_follow_its_use(client: FlaskClient) -> None:
    sticks = client.get(f"{JOB}/parts/act-3/rigs/caisson/balance").get_json()
    assert sticks["head"]["best"] in sticks["head"]["steps"]
    assert sticks["stand"]["safe_m_s"] < sticks["stand"]["tips_m_s"]
    assert {"head.drift", "stand.tips"} <= {f["code"] for f in sticks["findings"]}
    locked = client.get(f"{JOB}/parts/arrival/rigs/stage-rail/balance").get_json()
    assert (locked["see_saw"], locked["mount"]["line"]) == (None, None)
    wide, long = (
        client.get(f"{RAIL}/balance", query_string=ends).get_json()["gimbal"]["zoom"]["schools"][-1]["hours"]
        for ends in ({"wide": 1, "long": 0}, {"wide": 0, "long": 1})
    )
    assert long < wide
    assert problem(client.get(f"{RAIL}/balance", query_string={"wide": 0.8, "long": 0.8}), 422)["detail"].endswith(
        "at most the whole."
    )


def test_the_order_of_work_is_chosen(client: FlaskClient) -> None:
    for order, first in (("tilt first", "fore_aft"), ("roll first", "lateral")):
        assert (
            client.get(f"{RAIL}/balance", query_string={"order": order}).get_json()["gimbal"]["cards"][0]["slide"]
            == first
        )


def test_the_shoulder_is_a_see_saw_and_its_first_leveller_levels_it(client: FlaskClient) -> None:
    seen = client.get(f"{SHOULDER}/balance").get_json()
    assert seen["gimbal"] is None
    assert sum(a["moment_nm"] for a in seen["see_saw"]["arms"]) == pytest.approx(seen["see_saw"]["moment_nm"])
    found = client.get(f"{SHOULDER}/balance/levellers").get_json()["found"]
    assert edit(client, seen["version"], *found[0]["operations"], where=SHOULDER).status_code == 200
    after = client.get(f"{SHOULDER}/balance").get_json()["see_saw"]
    assert after["moment_nm"] == pytest.approx(found[0]["front_nm"])
    assert abs(after["moment_nm"]) < abs(seen["see_saw"]["moment_nm"])


@pytest.mark.parametrize(
    ("where", "body", "status", "says"),
    [
        (
            RAIL,
            {"version": 0, "readings": {"fore_aft": 1}},
            422,
            "The readings of these slides are missing: vertical, lateral, pan.",
        ),
        (RAIL, {"version": 99, "readings": {}}, 409, "This build changed while you were editing it"),
        (RAIL, {"version": 0, "readings": {"yaw": 1}}, 422, "$.readings.yaw"),
        (RAIL, {"version": 0, "readings": {"fore_aft": 9e9}}, 422, "$.readings.fore_aft: "),
        (SHOULDER, {"version": 0, "readings": {}}, 422, "is on no gimbal that carries a camera"),
    ],
)
def test_what_is_refused_is_not_kept(
    client: FlaskClient, where: str, body: dict[str, Any], status: int, says: str
) -> None:
    version = client.get(f"{where}/balance").get_json()["version"]
    sent = {**body, "version": body["version"] or version}
    told = problem(client.post(f"{where}/balance", json=sent), status)
    assert says in told["detail"] or any(says in f"{p['path']}: {p['message']}" for p in told["problems"]), told
    if where == RAIL:
        assert client.get(f"{where}/balance").get_json()["gimbal"]["state"] == "never"


def holding(client: FlaskClient, where: str = RAIL) -> list[dict[str, Any]]:
    cards = client.get(f"{where}/balance").get_json()["gimbal"]["cards"]
    return [{"card": c["number"], "seen": "holds"} for c in cards[:-1]]


def test_cards_are_walked_and_how_it_was_made_is_kept_with_it(client: FlaskClient) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    fell = [{"card": 1, "seen": "level, lens rises"}]
    lead = next(x for x in seen["gimbal"]["onward"] if {"card": x["card"], "seen": x["seen"]} == fell[0])
    assert (lead["at"], 1 in lead["lets_go"]) == (1, True)
    assert lead["do"].startswith("Mass too far back: slide forward, towards ")
    early = {"version": seen["version"], "readings": readings(seen), "answers": [{"card": 5, "seen": "holds"}]}
    assert "not up yet" in problem(client.post(f"{RAIL}/balance", json=early), 422)["detail"]
    body = {
        "version": seen["version"],
        "readings": readings(seen),
        "answers": [*fell, *holding(client)],
        "flight": seen["gimbal"]["pre_flight"],
        "loads_nm": {"tilt": 0.02, "roll": 0.01, "pan": 0.03},
        "left": "off and locked",
        "screen": "out to the left",
        "gap_mm": 12.5,
    }
    made = client.post(f"{RAIL}/balance", json=body).get_json()["gimbal"]["records"][0]["made"]
    assert (made["left"], made["screen"], made["gap_mm"], made["loads_nm"]["pan"]) == (
        "off and locked",
        "out to the left",
        12.5,
        0.03,
    )
    assert made["flight"] == seen["gimbal"]["pre_flight"]
    assert set(made["checks"]) == {"fore_aft", "vertical", "lateral", "pan", "unlock"}


def test_what_is_in_no_build_makes_a_balance_stale_until_it_is_taken_back(client: FlaskClient) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    kept = client.post(f"{RAIL}/balance", json={"version": seen["version"], "readings": readings(seen)}).get_json()
    where = f"{RAIL}/balance/{kept['gimbal']['records'][0]['id']}/touched"
    for thing in ("lens cap", "lens cap", "microphone cable"):
        stale = client.post(where, json={"thing": thing, "changed": True}).get_json()["gimbal"]
    assert stale["state"] == "stale"
    assert [(c["text"], c["axes"]) for c in stale["changes"]] == [
        ("lens cap changed", ["fore_aft"]),
        ("microphone cable changed", ["lateral"]),
    ]
    cap = client.post(where, json={"thing": "lens cap", "changed": False}).get_json()["gimbal"]
    assert [c["text"] for c in cap["changes"]] == ["microphone cable changed"], "what another noted stays"
    none = {"thing": "microphone cable", "changed": False}
    assert client.post(where, json=none).get_json()["gimbal"]["state"] == "good"
    assert "it is one of: lens cap" in problem(client.post(where, json={**none, "thing": "mood"}), 422)["detail"]
    assert client.post(where.replace("/touched", "9/touched"), json=none).status_code == 404


def test_a_pack_that_was_swapped_since_makes_it_stale_by_what_it_moves(client: FlaskClient) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    client.post(f"{RAIL}/balance", json={"version": seen["version"], "readings": readings(seen)})
    slot = next(
        s for s in client.get(f"{JOB}/swaps", query_string={"part": "act-3"}).get_json()["slots"] if "R2-1" in s["id"]
    )
    swap = {"slot": slot["id"], "pack_out": "SLIM-1", "pack_in": "SLIM-3", "at": "2027-03-20T21:40:00+00:00"}
    assert client.post(f"{JOB}/swaps/made?part=act-3", json=swap).status_code == 200
    after = client.get(f"{RAIL}/balance").get_json()["gimbal"]
    assert (after["state"], [c["text"] for c in after["changes"]]) == ("stale", ["SLIM-3 is in where SLIM-1 was"])
    assert set(after["changes"][0]["moved_mm"]) == {"fore_aft", "vertical", "lateral", "pan"}
    back = {**swap, "pack_out": "SLIM-3", "pack_in": "SLIM-1", "at": "2027-03-20T22:20:00+00:00"}
    assert client.post(f"{JOB}/swaps/made?part=act-3", json=back).status_code == 200
    assert client.get(f"{RAIL}/balance").get_json()["gimbal"]["state"] == "good", "the first pack is back"


def test_the_gimbal_is_read_where_its_slides_really_are(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    seen = client.get(f"{RAIL}/balance").get_json()
    with SimulatedGimbal() as server:
        server.start()
        monkeypatch.setenv("LIFT_CRATE_GIMBAL", server.address)
        told = client.post(f"{RAIL}/balance/gimbal", json={"readings": {}, "answers": holding(client)}).get_json()
        assert [x["computed_nm"] for x in told["loads"]] == pytest.approx(
            [x["torque_nm"] for x in seen["gimbal"]["loads"]]
        )
        assert all(x["read_nm"] == pytest.approx(x["computed_nm"], abs=0.03) for x in told["loads"])
        off = client.post(
            f"{RAIL}/balance/gimbal",
            json={"readings": {"lateral": readings(seen)["lateral"] + 10}, "answers": holding(client)},
        ).get_json()
        assert off["loads"][1]["computed_nm"] - told["loads"][1]["computed_nm"] > 0.05
        assert off["loads"][1]["read_nm"] > told["loads"][1]["read_nm"] + 0.05
        assert (
            "its scale goes from 0 to 90"
            in problem(client.post(f"{RAIL}/balance/gimbal", json={"readings": {"lateral": 300}}), 422)["detail"]
        )
        early = problem(client.post(f"{RAIL}/balance/gimbal", json={"readings": {}}), 422)["detail"]
        assert "every check has to hold first" in early
        server.shutdown()
    monkeypatch.delenv("LIFT_CRATE_GIMBAL")
    asked = {"readings": {}, "answers": holding(client)}
    assert "LIFT_CRATE_GIMBAL names none" in problem(client.post(f"{RAIL}/balance/gimbal", json=asked), 503)["detail"]
    assert "on no gimbal" in problem(client.post(f"{SHOULDER}/balance/gimbal", json={"readings": {}}), 422)["detail"]
