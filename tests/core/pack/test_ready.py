"""From closed cases to rolling, and who carries what; the edits of the packing, and what they refuse."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from lift_crate.core.callouts import Level
from lift_crate.core.day.run_tasks import from_bare
from lift_crate.core.errors import LiftCrateError
from lift_crate.core.job.job import Job
from lift_crate.core.job.packing import Carrier, CaseAlong, Extra
from lift_crate.core.job.packing_edits import (
    PackOperation,
    PutCase,
    PutExtra,
    PutThingIn,
    RemoveCase,
    RemoveExtra,
    SetCarrier,
    TakeThingOut,
    describe_in_pack,
    edit_pack,
    without_camera,
)
from lift_crate.core.pack.packed import PackedCase
from lift_crate.core.pack.ready import loads_of, ready_of
from tests.core.pack.test_packing import DAY, FILE, SHELF, box

JOB = FILE.job


def packed(name: str, kg: float, who: str) -> PackedCase:
    along = replace(box(name, 500, 300, 200), along=CaseAlong(unit=name, carried_by=who))
    return PackedCase(
        box=along, laid=(), loose=(), mass_g=1000 * kg, without_mass=(), cg_mm=None, filled=0.5, packs_g=0.0, wh=0.0,
        first=None, opens=(),
    )  # fmt: skip


def test_opening_building_and_framing_add_up_to_rolling() -> None:
    """One minute a case (setting), the build from bare parts, framing as the settings have it."""
    cell = min((c for c in DAY.table.cells if c.rig.id == "quay"), key=lambda c: c.part.starts)
    units = list(cell.build.units)
    case_of = {units[0]: "CASE-1", units[1]: "CASE-2", units[2]: "CASE-1", "GHOST": "CASE-9"}
    ready = next(r for r in ready_of(JOB, DAY, case_of) if r.rig == "quay")
    built = from_bare(cell.build, cell.stand)
    assert (ready.part, ready.cases) == (cell.part.id, ("CASE-1", "CASE-2"))
    assert ready.open_min == 2 * JOB.settings.case_open_min
    assert math.isclose(ready.alone, ready.open_min + built.alone_min + JOB.settings.line_up_min)
    assert math.isclose(ready.alone - ready.by_two, built.alone_min - built.two_min)
    assert {r.rig for r in ready_of(JOB, DAY, {})} == {c.rig.id for c in DAY.table.cells}


def test_who_carries_too_much_or_with_full_hands_is_told() -> None:
    operator = next(c.operator for c in JOB.plan if c.operator and c.rig == "quay")
    three = [packed("CASE-1", 8, operator), packed("CASE-2", 8, operator), packed("BAG-1", 8, operator)]
    loads, told = loads_of(JOB, DAY, [*three, packed("TUBE-1", 30, "")])
    mine = next(load for load in loads if load.who == operator)
    assert (mine.cases, mine.cases_g) == (("CASE-1", "CASE-2", "BAG-1"), 24_000)
    assert all(load.who for load in loads), "what nobody carries is nobody's load"
    of_mine = [f for f in told if operator in f.text]
    assert [f.code for f in of_mine][:2] == ["pack.load", "pack.hands"]
    assert of_mine[0].level is Level.WATCH
    assert of_mine[0].value == pytest.approx((24_000 + mine.belt_g) / 1000)
    assert loads_of(JOB, DAY, [packed("CASE-1", 5, "a runner")])[1] == ()


def made(*operations: PackOperation, job: Job = JOB) -> Job:
    for operation in operations:
        job = edit_pack(job, operation, SHELF)
    return job


def test_every_edit_is_told_in_words_and_taken_back_by_its_own() -> None:
    snacks = Extra(id="snacks", label="Snacks", count=2)
    there = made(PutExtra(extra=snacks), PutThingIn(thing="+snacks", case="CASE-1"), PutThingIn(thing="MIC-1", case=""))
    told: dict[PackOperation, str] = {
        PutCase(case=CaseAlong(unit="TUBE-2")): "Take along case TUBE-2",
        PutCase(case=CaseAlong(unit="CASE-1", travels="hold")): "Change case CASE-1",
        RemoveCase(case="CASE-1"): "Leave case CASE-1 at home",
        PutThingIn(thing="+snacks", case="CASE-2"): "Put Snacks into CASE-2",
        PutThingIn(thing="MIC-1", case=""): "Leave MIC-1 behind",
        TakeThingOut(thing="+snacks"): "Deal Snacks again",
        PutExtra(extra=replace(snacks, count=3)): "Change Snacks in the packing",
        PutExtra(extra=replace(snacks, id="twine", label="Twine")): "Add Twine in the packing",
        RemoveExtra(extra="snacks"): "Take Snacks out of the packing",
        SetCarrier(carrier=Carrier(people=3)): "Change what the carrier allows",
    }
    for operation, words in told.items():
        assert describe_in_pack(operation, there) == words
        assert edit_pack(there, operation, SHELF).pack != there.pack or "MIC-1" in words
    gone = made(RemoveExtra(extra="snacks"), TakeThingOut(thing="MIC-1"), job=there)
    assert (gone.pack.extras, gone.pack.put) == (JOB.pack.extras, JOB.pack.put)
    emptied = made(RemoveCase(case="CASE-1"), job=there)
    assert "+snacks" not in {p.thing for p in emptied.pack.put}, "what was put into it is dealt again"
    stays = made(PutCase(case=CaseAlong(unit="CASE-1", stays_with="quay")))
    assert {c.stays_with for c in without_camera(stays.pack, "quay").cases if c.unit == "CASE-1"} == {""}


@pytest.mark.parametrize(
    ("operation", "says"),
    [
        (PutCase(case=CaseAlong(unit="MIC-1")), "is no case"),
        (PutCase(case=CaseAlong(unit="CASE-99")), "CASE-99"),
        (PutCase(case=CaseAlong(unit="CASE-1", stays_with="nobody")), "nobody"),
        (RemoveCase(case="TUBE-2"), "TUBE-2"),
        (PutThingIn(thing="CASE-2", case="CASE-1"), "not put into each other"),
        (PutThingIn(thing="CASE-1", case="CASE-1"), "does not go into itself"),
        (PutThingIn(thing="MIC-1", case="TUBE-2"), "TUBE-2"),
        (TakeThingOut(thing="MIC-1"), "MIC-1"),
        (PutExtra(extra=Extra(id="x", label="  ")), "needs a name"),
        (RemoveExtra(extra="x"), "x"),
        (SetCarrier(carrier=Carrier(free_wh=100, consent_wh=90)), "the second figure is the smaller one"),
    ],
)
def test_what_makes_no_sense_is_refused_with_what_would(operation: PackOperation, says: str) -> None:
    with pytest.raises(LiftCrateError, match=says):
        edit_pack(JOB, operation, SHELF)
