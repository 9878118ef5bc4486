"""What goes along follows from the job; cases hold what is dealt to them, by a check that knows nothing of how."""

from __future__ import annotations

import itertools
import math
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import permutations
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Level
from lift_crate.core.day.laid_out import lay_out
from lift_crate.core.errors import LiftCrateError
from lift_crate.core.gear.equipment import CaseData
from lift_crate.core.gear.model import GearModel, ImpossibleModel
from lift_crate.core.job.edits import RemoveCamera, apply_to_job
from lift_crate.core.job.job import Job
from lift_crate.core.job.packing import Carrier, CaseAlong, Extra, PackPlan, PutWhere
from lift_crate.core.job.packing_edits import (
    PutCase,
    PutExtra,
    PutThingIn,
    RemoveCase,
    RemoveExtra,
    SetCarrier,
    TakeThingOut,
    edit_pack,
)
from lift_crate.core.pack.along import PEOPLE, Thing, bundle_mm, coil_mm, goes_along, packed_size
from lift_crate.core.pack.deal import Box, Dealt, boxes_of, deal
from lift_crate.core.pack.lay import Laid, buried, check_laid, lay
from lift_crate.core.pack.packed import judge_packing, pack_up
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import BadJobFile, catalogue_of, dump, parse
from tests.kit import examples

NOON = datetime(2027, 3, 19, 12, tzinfo=UTC)
FILE = demo_job_file()
SHELF = catalogue_of(FILE)
DAY = lay_out(FILE.job, SHELF)


def thing(name: str, *size: float, g: float | None = 100.0, **more: Any) -> Thing:
    a, b, c = sorted(size, reverse=True)
    return Thing(
        id=name, title=name, kind="thing", mass_g=g, mass_from="entered", size_mm=(a, b, c), size_from="entered",
        whys=("here",), **more,
    )  # fmt: skip


def box(name: str, *inside: float, most_kg: float = 20.0, travels: Any = "van", empty_g: float = 0.0) -> Box:
    a, b, c = inside
    outside = (a + 40, b + 40, c + 40)
    return Box(name, name, (a, b, c), outside, empty_g, most_kg * 1000, "a test", travels, False, CaseAlong(unit=name))


def job(**pack: Any) -> Job:
    return Job(id="j", title="J", pack=PackPlan(**pack))


def test_a_coil_and_a_bundle_have_the_size_of_their_worked_figures() -> None:
    wide, _, high = coil_mm(1000, 6)
    # 1000 / (π · 0.8 · 126) = 3.158 turns; √(3.158 · 36 / 0.7) = 12.74
    assert (wide, round(high, 2)) == (126.0, 12.74)
    assert coil_mm(25_000, 6)[0] == 270.0
    assert coil_mm(100_000, 6)[0] == 350.0, "no wider than that"
    assert bundle_mm((90, 90, 270), 8) == (270.0, 270.0, 270.0), "three by three with one place empty"
    assert bundle_mm((160, 20, 12), 1) == (160.0, 20.0, 12.0)


sizes = st.tuples(*(st.floats(15, 260) for _ in range(3)))


@given(st.lists(st.tuples(sizes, st.integers(0, 5)), min_size=1, max_size=40), st.integers(0, 3))
@settings(max_examples=examples(30))
def test_whatever_is_laid_in_lies_apart_inside_and_on_something(given_: list[Any], least: int) -> None:
    things = [
        thing(f"t{i}", *size, first=None if when == 0 else NOON + timedelta(hours=when))
        for i, (size, when) in enumerate(given_)
    ]
    inside = (600.0, 390.0, 265.0) if least else (300.0, 200.0, 120.0)
    made = lay(things, inside)
    assert list(check_laid(made.laid, things, inside)) == []
    assert sorted([e.thing for e in made.laid] + list(made.left)) == sorted(t.id for t in things)
    assert lay(list(reversed(things)), inside) == made, "the same whatever order they are named in"


def test_the_check_sees_what_is_wrong() -> None:
    things = [thing("a", 100, 100, 100), thing("b", 100, 100, 100), thing("c", 50, 50, 50)]
    inside = (250.0, 250.0, 250.0)

    def wrong(*laid: Laid) -> list[str]:
        return list(check_laid(laid, things, inside))

    cube = (100.0, 100.0, 100.0)
    a = Laid("a", (0, 0, 0), cube, 1)
    assert wrong(a, Laid("b", (100, 0, 0), cube, 1)) == []
    assert wrong(a, Laid("b", (50, 50, 0), cube, 1)) == ["a and b are in one place."]
    assert wrong(Laid("a", (200, 0, 0), cube, 1)) == ["a sticks out."]
    assert wrong(a, Laid("b", (120, 0, 40), cube, 2)) == ["b hangs in the air."]
    assert wrong(Laid("c", (0, 0, 0), (50, 50, 40), 1)) == ["c does not have the size that it lies with."]
    assert wrong(a, a) == ["a lies there twice.", "a and a are in one place."]


def test_what_is_wanted_first_lies_on_top() -> None:
    soon, late = NOON, NOON + timedelta(hours=5)
    things = [thing(f"s{i}", 190, 190, 60, first=soon) for i in range(4)]
    things += [thing(f"l{i}", 190, 190, 60, first=late) for i in range(4)]
    made = lay(things, (400.0, 400.0, 125.0))
    assert not made.left
    assert buried(made.laid, things) == ()
    assert {e.thing[0] for e in made.laid if e.layer == 2} == {"s"}
    upside_down = [replace(e, at_mm=(*e.at_mm[:2], 65.0 - e.at_mm[2])) for e in made.laid]
    assert len(buried(upside_down, things)) == 4


@given(
    st.lists(st.tuples(sizes, st.floats(20, 4000), st.sampled_from([None, 98.0, 150.0, 300.0])), max_size=24),
    st.sampled_from(["van", "cabin", "hold"]),
    st.integers(0, 3),
)
@settings(max_examples=examples(12))
def test_no_case_holds_more_than_it_may(given_: list[Any], travels: Any, put: int) -> None:
    things = [thing(f"t{i}", *size, g=g, wh=wh, group=f"g{i % 3}") for i, (size, g, wh) in enumerate(given_)]
    boxes = (box("A", 600, 390, 265, empty_g=6000, travels=travels), box("B", 500, 320, 175, most_kg=9))
    plan = job(put=tuple(PutWhere(thing=f"t{i}", case="B") for i in range(min(put, len(things)))))
    dealt = deal(plan, things, boxes, rounds=2, effort=0.2)
    by_id = {t.id: t for t in things}
    everywhere = [e.thing for laid in dealt.laid.values() for e in laid]
    everywhere += [name for names in dealt.loose.values() for name in names]
    assert sorted([*everywhere, *dealt.left]) == sorted(by_id)
    for case in boxes:
        assert list(check_laid(dealt.laid[case.unit], things, case.inside_mm)) == []
        inside = [by_id[e.thing] for e in dealt.laid[case.unit]]
        by_hand = {p.thing for p in plan.pack.put}
        free = [t for t in inside if t.id not in by_hand]
        volume = sum(t.litres for t in inside)
        assert volume <= 0.7 * case.litres + 1e-6 or len(inside) == 1 or len(free) < len(inside)
        if free:
            assert sum(t.mass_g or 0 for t in inside) + case.empty_g <= case.most_g + 1e-6
        packs = [t.wh for t in free if t.wh is not None]
        if case.travels == "hold":
            assert packs == []
        if case.travels == "cabin":
            carrier = Carrier()
            assert all(wh <= carrier.consent_wh for wh in packs)
            assert sum(wh > carrier.free_wh for wh in packs) <= carrier.consent_each
    assert {n for n in everywhere if n in {p.thing for p in plan.pack.put}} == {p.thing for p in plan.pack.put}
    for name in [p.thing for p in plan.pack.put]:
        assert name in [e.thing for e in dealt.laid["B"]] or name in dealt.loose["B"]


@given(st.lists(st.tuples(st.integers(1, 6), st.integers(1, 9)), min_size=1, max_size=6))
@settings(max_examples=examples(12))
def test_on_small_shelves_no_deal_leaves_fewer_behind(given_: list[tuple[int, int]]) -> None:
    """Slices of one width and depth: whether they go in is a matter of sums, so every way is tried."""
    things = [thing(f"t{i}", 100, 100, 10 * high, g=1000.0 * kg) for i, (high, kg) in enumerate(given_)]
    boxes = (box("A", 100, 100, 80, most_kg=10), box("B", 100, 100, 60, most_kg=12))
    plan = replace(job(), settings=replace(job().settings, case_fill=1.0))
    dealt = deal(plan, things, boxes, effort=1.0)

    def goes(way: tuple[int, ...]) -> bool:
        for i, case in enumerate(boxes):
            inside = [t for t, at in zip(things, way, strict=True) if at == i]
            high = sum(min(t.size_mm or ()) for t in inside)
            if high > case.inside_mm[2] or sum(t.mass_g or 0 for t in inside) > case.most_g:
                return False
        return True

    ways = itertools.product((0, 1, None), repeat=len(things))
    fewest = min(way.count(None) for way in ways if goes(way))  # type: ignore[arg-type]
    assert len(dealt.left) == fewest


def test_the_demo_goes_along_whole_but_for_sticks_that_want_their_tube() -> None:
    things = goes_along(FILE.job, SHELF, DAY)
    by_id = {t.id: t for t in things}
    planned = {unit for cell in DAY.table.cells for unit in cell.build.units}
    cards = {p.card for line in DAY.media.lines for p in line.pieces if p.card}
    charging = {place.unit for place in FILE.job.charging.chargers}
    assert planned | cards | charging <= set(by_id)
    assert not set(by_id) & {case.unit for case in FILE.job.pack.cases}
    assert by_id["+tool-4-mm-hex-key"].count >= 2, "for cameras that are built at the same time"
    hours = sum((max(p.ends for p in d) - min(p.starts for p in d)).total_seconds() / 3600 + 3 for d in _days())
    assert by_id["+water"].count == math.ceil(6 * hours * 0.25)
    assert by_id["+warmth"].group == PEOPLE
    assert all(t.whys for t in things)
    found = pack_up(FILE.job, SHELF, things)
    assert len(found.left) == 1
    assert found.left[0].startswith("STICKS")
    assert [f.level for f in found.findings if f.code == "pack.left"] == [Level.STOP]
    best = found.cures[0]
    assert (best.left, best.case.unit) == (0, "TUBE-2")
    cured = edit_pack(FILE.job, PutCase(case=best.case), SHELF)
    again = pack_up(cured, SHELF, goes_along(cured, SHELF, lay_out(cured, SHELF)))
    assert again.left == ()
    for case in again.cases:
        assert list(check_laid(case.laid, things, case.box.inside_mm)) == []
        assert case.filled <= cured.settings.case_fill + 1e-9 or len(case.laid) == 1, case.box.unit
        weighed = case.box.empty_g + sum(by_id[e.thing].mass_g or 0 for e in case.laid)
        assert math.isclose(case.mass_g, weighed)
        assert case.mass_g <= 23_000


def _days() -> list[list[Any]]:
    found: dict[Any, list[Any]] = {}
    for part in FILE.job.parts:
        found.setdefault(part.starts.date(), []).append(part)
    return list(found.values())


def test_cases_with_packs_follow_the_carrier_and_say_when_that_was_checked() -> None:
    packs = [u.id for u in SHELF.shelf if (p := SHELF.model_of(u.id).pack) and p.energy_wh > 100][:3]
    flown = replace(
        FILE.job,
        pack=PackPlan(
            cases=(CaseAlong(unit="CASE-1", travels="cabin"), CaseAlong(unit="CASE-4", travels="hold")),
            put=(*(PutWhere(thing=p, case="CASE-1") for p in packs), PutWhere(thing="PACK-01", case="CASE-4")),
        ),
    )
    found = pack_up(flown, SHELF, [t for t in goes_along(flown, SHELF, DAY) if t.id in {*packs, "PACK-01"}])
    told = {f.level: f.text for f in found.findings if f.code == "pack.lithium"}
    assert "packs never go in the hold" in told[Level.STOP] or f"{len(packs)} packs over 100 Wh" in told[Level.STOP]
    assert all("checked 26 Nov 2026" in text for text in told.values())
    assert {f.code for f in found.findings} >= {"pack.cabin"}


@pytest.mark.parametrize("outside", list(permutations((550.0, 400.0, 230.0))))
def test_a_case_may_stand_on_any_of_its_sides_in_a_cabin(outside: tuple[float, float, float]) -> None:
    def told(mm: tuple[float, ...]) -> bool:
        a, b, c = mm
        case = replace(box("A", 300, 200, 100, travels="cabin"), outside_mm=(a, b, c))
        nothing = Dealt(laid={"A": ()}, loose={"A": ()}, left=(), proven=True)
        flown = job(carrier=Carrier(cabin_mm=(550, 400, 230)))
        return "pack.cabin" in {f.code for f in judge_packing(flown, [], [case], nothing).findings}

    assert not told(outside)
    for axis in range(3):
        assert told(tuple(mm + (i == axis) for i, mm in enumerate(outside)))


@pytest.mark.parametrize("cases", [2, 3])
def test_what_belongs_together_may_be_in_two_cases_and_not_in_three(cases: int) -> None:
    things = [thing(f"t{i}", 50, 50, 50, group="Quay") for i in range(cases)]
    boxes = [box(f"C{i}", 300, 200, 100) for i in range(cases)]
    laid = {f"C{i}": (Laid(f"t{i}", (0, 0, 0), (50, 50, 50), 0),) for i in range(cases)}
    dealt = Dealt(laid=laid, loose={b.unit: () for b in boxes}, left=(), proven=True)
    found = judge_packing(job(), things, boxes, dealt)
    assert [f.value for f in found.findings if f.code == "pack.apart"] == ([3] if cases == 3 else [])


@pytest.mark.parametrize(
    ("operation", "says"),
    [
        (PutCase(case=CaseAlong(unit="C6-1")), "is no case"),
        (PutCase(case=CaseAlong(unit="CASE-9")), "CASE-9"),
        (PutCase(case=CaseAlong(unit="CASE-1", stays_with="nowhere")), "nowhere"),
        (PutThingIn(thing="C6-1", case="CASE-6"), "CASE-6"),
        (PutThingIn(thing="CASE-1", case="CASE-2"), "is a case itself"),
        (PutThingIn(thing="XXX-1", case="CASE-1"), "XXX-1"),
        (RemoveCase(case="CASE-6"), "CASE-6"),
        (TakeThingOut(thing="C6-1"), "C6-1"),
        (PutExtra(extra=Extra(id="x", label="  ")), "needs a name"),
        (RemoveExtra(extra="ghost"), "ghost"),
        (SetCarrier(carrier=Carrier(free_wh=200)), "the second figure is the smaller one"),
    ],
)
def test_what_makes_no_sense_is_refused_by_name(operation: Any, says: str) -> None:
    with pytest.raises(LiftCrateError, match=says):
        edit_pack(FILE.job, operation, SHELF)


def test_a_case_left_at_home_gives_back_what_was_put_into_it() -> None:
    put = edit_pack(FILE.job, PutThingIn(thing="C6-1", case="CASE-1"), SHELF)
    left = edit_pack(put, PutThingIn(thing="R2-2", case=""), SHELF)
    assert [(p.thing, p.case) for p in left.pack.put] == [("C6-1", "CASE-1"), ("R2-2", "")]
    home = edit_pack(left, RemoveCase(case="CASE-1"), SHELF)
    assert [(p.thing, p.case) for p in home.pack.put] == [("R2-2", "")]
    assert len(boxes_of(home, SHELF)) == len(boxes_of(FILE.job, SHELF)) - 1


def test_a_camera_that_goes_takes_no_case_with_it() -> None:
    gone = apply_to_job(FILE.job, RemoveCamera(rig="quay"), SHELF)
    assert [c.stays_with for c in gone.pack.cases] == ["", "caisson", *[""] * 5]
    assert parse(dump(replace(FILE, job=gone))).job.pack == gone.pack
    lost = replace(FILE, units=tuple(u for u in FILE.units if u.id != "TUBE-1"))
    with pytest.raises(BadJobFile) as refused:
        parse(dump(lost))
    assert "no unit 'TUBE-1'" in str([p.message for p in refused.value.problems])


def test_a_thing_has_the_size_it_is_packed_in() -> None:
    sticks = SHELF.models["bollard-s100"]
    assert packed_size(sticks) == ((880.0, 175.0, 175.0), "packed size")
    assert packed_size(replace(sticks, packed_mm=None)) == (None, "")
    with pytest.raises(ImpossibleModel, match="every side is above zero"):
        replace(sticks, packed_mm=(100.0, 0.0, 10.0))
    case = CaseData(inside_mm=(10, 10, 10), outside_mm=(12, 12, 12))
    assert packed_size(GearModel(id="c", kind="case", maker="", name="c", case=case)) == (None, "")


def test_a_case_beside_a_camera_is_dry_seen_and_shut_where_somebody_sits() -> None:
    parts = tuple(
        replace(p, conditions=replace(p.conditions, rain=p.id == "dress", light_ev=4)) for p in FILE.job.parts
    )
    night = replace(FILE.job, parts=parts)
    by_quay = CaseAlong(unit="A", stays_with="quay", seat=True)
    early, late = thing("+early", 90, 90, 90, first=NOON), thing("+late", 90, 90, 90, first=NOON + timedelta(hours=5))

    def told(seen: str, on: Job = night, along: CaseAlong = by_quay, *, dry: bool = False) -> dict[str, Level]:
        a = replace(box("A", 400, 300, 200), along=along, seen=seen, waterproof=dry)
        laid = tuple(lay([early, late], a.inside_mm).laid)
        found = judge_packing(on, [early, late], [a], Dealt({"A": laid}, {"A": ()}, (), proven=True)).findings
        return {f.code: f.level for f in found if f.code in ("pack.wet", "pack.unseen", "pack.seat")}

    watch, note = Level.WATCH, Level.NOTE
    assert told("dark") == {"pack.wet": watch, "pack.unseen": watch, "pack.seat": note}
    assert told("bright", dry=True) == {"pack.unseen": note, "pack.seat": note}
    assert told("reflective", dry=True) == {"pack.seat": note}
    assert told("", dry=True, along=CaseAlong(unit="A", stays_with="quay")) == {}, "nobody said how it is seen"
    day = replace(night, parts=tuple(replace(p, conditions=replace(p.conditions, light_ev=12)) for p in parts))
    assert "pack.unseen" not in told("dark", day)
