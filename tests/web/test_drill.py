"""Drills over the API: played from their number alone, ended and kept, put up for the crew."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.core.drill.balance import hung, play_balance
from lift_crate.core.drill.faults import play_faults, seeded
from lift_crate.store.jobs import JobStore
from tests.core.drill.test_drill import stand
from tests.web.test_bench import problem

DRILL = "/api/jobs/dry-dock-opera/drill"
FLOOR = {"part": "dress", "rig": "dock-floor"}


def look(client: FlaskClient, kind: str, seed: int = 1, **more: Any) -> Any:
    answer = client.post(f"{DRILL}/look", json={"kind": kind, "seed": seed, **FLOOR, **more})
    assert answer.status_code == 200, answer.text
    return answer.json


def end(client: FlaskClient, kind: str, seed: int = 1, **more: Any) -> Any:
    return client.post(f"{DRILL}/end", json={"kind": kind, "seed": seed, **FLOOR, **more}).json


def test_a_balance_is_won_by_who_knows_and_lost_by_who_gives_up(client: FlaskClient) -> None:
    drill = hung(stand("dress", "dock-floor"), 7)
    moves = [{"slide": m.slide, "reading": m.reading} for m in play_balance(drill)]
    first = look(client, "balance", 7)
    assert [s["reading"] for s in first["slides"]] == list(drill.start.values())
    assert first["hint"] == ""
    assert "number" in look(client, "balance", 7, ask=True)["hint"]
    assert {x["pace"] for x in look(client, "balance", 7, moves=moves)["looks"]} == {"stays"}
    lost, won = end(client, "balance", 7), end(client, "balance", 7, moves=moves, hints=1)
    assert (lost["points"], lost["won"]) == (0, False)
    assert (won["points"], won["won"]) == (90, True)
    played: Any = client.get(DRILL).json
    assert [(p["points"], p["won"]) for p in played["played"]] == [(90, True), (0, False)]
    assert won["others"] == [{"person": "bench", "points": 90}]
    off = client.post(
        f"{DRILL}/look", json={"kind": "balance", "seed": 7, **FLOOR, "moves": [{"slide": "pan", "reading": 900}]}
    )
    assert "scale goes from" in problem(off, 422)["detail"]


@pytest.mark.parametrize("kind", ["faults", "wrong link"])
def test_nothing_hidden_is_sent_before_it_is_ended(client: FlaskClient, jobs: JobStore, kind: str) -> None:
    family = "links" if kind == "wrong link" else "anything"
    shown = look(client, kind, 3)
    drill = seeded(
        stand("dress", "dock-floor"), 3, "links" if family == "links" else "anything", 2 if family == "links" else 3
    )
    said = str(shown)
    for fault in drill.faults:
        assert all(f.text not in said for f in fault.findings)
    result = end(client, kind, 3, marks=list(play_faults(drill)))
    assert (result["points"], result["won"]) == (100, True)
    assert len(result["lessons"]) == shown["to_find"]


def test_every_kind_is_told_whole_and_what_cannot_be_played_says_why(client: FlaskClient) -> None:
    late = look(client, "late day", 2)
    order = [t["id"] for t in late["late"]]
    assert end(client, "late day", 2, marks=order)["points"] > 0
    wrong = client.post(f"{DRILL}/end", json={"kind": "late day", "seed": 2, **FLOOR, "marks": ["t9"]})
    assert "no task" in problem(wrong, 422)["detail"]
    things = look(client, "orientation")["things"]
    assert end(client, "orientation", marks=[t["id"] for t in things])["won"]
    none = client.post(f"{DRILL}/look", json={"kind": "balance", "seed": 1, "part": "dress", "rig": "quay"})
    assert "no gimbal" in problem(none, 422)["detail"]
    ghost = client.post(f"{DRILL}/look", json={"kind": "faults", "seed": 1, "part": "dress", "rig": "ghost"})
    assert ghost.status_code == 404


def test_a_drill_is_put_up_for_the_crew_and_taken_down(client: FlaskClient) -> None:
    body = {"kind": "balance", "seed": 9, **FLOOR, "title": "Before the dress"}
    assert problem(client.post(f"{DRILL}/kept", json={**body, "rig": "quay"}), 422)
    assert problem(client.post(f"{DRILL}/kept", json={**body, "title": " "}), 422)
    up: Any = client.post(f"{DRILL}/kept", json=body).json
    (kept,) = up["kept"]
    assert (kept["title"], kept["seed"], kept["actor"]) == ("Before the dress", 9, "bench")
    down: Any = client.delete(f"{DRILL}/kept/{kept['id']}").json
    assert down["kept"] == []
    assert client.delete(f"{DRILL}/kept/{kept['id']}").status_code == 404
