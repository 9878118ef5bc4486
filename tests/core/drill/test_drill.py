"""Drills on the core: the same for everybody, solvable, and a solver that plays them has every point."""

from __future__ import annotations

import math
from itertools import pairwise, permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.balance.report import FRICTION_NM
from lift_crate.core.callouts import Level
from lift_crate.core.day.laid_out import lay_out, run_sheets
from lift_crate.core.drill.balance import (
    SLIDERS,
    Hung,
    SlideMove,
    Slider,
    at,
    balance_result,
    fewest,
    hint,
    hung,
    look,
    play_balance,
    told_slide,
)
from lift_crate.core.drill.faults import fault_hint, fault_result, play_faults, seeded
from lift_crate.core.drill.late import LateDay, LateTask, late_day, late_hint, late_result, lost_min, play_late
from lift_crate.core.drill.orient import orient_result, to_find
from lift_crate.core.drill.score import points
from lift_crate.core.errors import NotAllowed
from lift_crate.core.stand import Stand, stand_of
from lift_crate.core.verdict.judge import quick
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
seeds = st.integers(1, 9999)


def stand(part: str, rig: str) -> Stand:
    build = JOB.planned(part, rig)
    return stand_of(build, SHELF, JOB.part(part).conditions, JOB.settings, target=JOB.target_of(JOB.rig(rig), part))


GIMBAL = stand("dress", "dock-floor")


@settings(max_examples=examples(25))
@given(seeds)
def test_every_balance_drill_is_settled_by_the_fewest_moves_and_no_fewer(seed: int) -> None:
    drill = hung(GIMBAL, seed)
    assert (drill.start, drill.eye_deg) == (hung(GIMBAL, seed).start, hung(GIMBAL, seed).eye_deg)
    moves = play_balance(drill)
    assert all(seen.holds for seen in look(drill, moves))
    result = balance_result(drill, moves, 0)
    assert (result.points, result.won) == (100, True)
    assert hint(drill, moves) == ""
    for left_out in moves:
        assert not all(seen.holds for seen in look(drill, [m for m in moves if m is not left_out]))


@settings(max_examples=examples(15))
@given(seeds)
def test_who_only_follows_what_is_seen_settles_it(seed: int) -> None:
    """By hand, with nothing but which way it falls: each slide halved towards where it turns round, height first."""
    drill = hung(GIMBAL, seed)
    moves: list[SlideMove] = []
    order: tuple[Slider, ...] = ("vertical", "fore_aft", "lateral", "pan")
    for name in order:
        i = SLIDERS.index(name)
        there = told_slide(drill, name, at(drill, ())[name])
        low, high = there.low, there.high

        def falls(reading: float, slide: int = i) -> float:
            moved = SlideMove(slide=SLIDERS[slide], reading=reading)
            return look(drill, [*moves, moved])[slide].turns_deg

        rising = falls(high) > falls(low)
        for _ in range(14):
            middle = (low + high) / 2
            seen = falls(middle)
            if seen == 0:
                break
            if (seen > 0) == rising:
                high = middle
            else:
                low = middle
        moves.append(SlideMove(slide=name, reading=middle))
    assert all(seen.holds for seen in look(drill, moves))
    assert balance_result(drill, moves, 0).points >= 100 * len(fewest(drill)) // 4 - 1


def test_friction_hides_what_is_less_and_a_height_that_is_off_shows_in_fore_aft() -> None:
    drill = hung(GIMBAL, 4)
    band = FRICTION_NM / (drill.mass_kg * 9.80665) * 1000
    assert band == pytest.approx(0.02 / (drill.payload.mass_g / 1000 * 9.80665) * 1000)
    exact = [SlideMove(slide=s, reading=drill.ideal[s]) for s in SLIDERS]
    sign = (
        1.0
        if told_slide(drill, "fore_aft", drill.ideal["fore_aft"] + 1).at
        > told_slide(drill, "fore_aft", drill.ideal["fore_aft"]).at
        else -1.0
    )
    for off, holds in ((0.5 * band, True), (1.8 * band, False)):
        moved = [*exact, SlideMove(slide="fore_aft", reading=drill.ideal["fore_aft"] + sign * off)]
        assert look(drill, moved)[0].holds is holds
    # 20 mm of height at 1.5 degrees are 0.52 mm of fore-aft: level by eye is not level.
    assert 20 * math.tan(math.radians(1.5)) == pytest.approx(0.52, abs=0.01)
    uneven = Hung(drill.stand, drill.payload, drill.start, drill.ideal, 1.5, 4)
    other = Hung(drill.stand, drill.payload, drill.start, drill.ideal, -1.5, 4)
    high = [*exact, SlideMove(slide="vertical", reading=told_slide(drill, "vertical", 0).low)]
    assert look(uneven, high)[0].turns_deg != look(other, high)[0].turns_deg


def test_a_move_off_the_scale_and_one_too_many_are_refused() -> None:
    drill = hung(GIMBAL, 1)
    with pytest.raises(NotAllowed, match="scale goes from"):
        look(drill, [SlideMove(slide="pan", reading=999.0)])
    with pytest.raises(NotAllowed, match="40 moves"):
        look(drill, [SlideMove(slide="pan", reading=drill.ideal["pan"])] * 41)
    with pytest.raises(NotAllowed, match="no gimbal"):
        hung(stand("dress", "quay"), 1)


@pytest.mark.parametrize(("family", "rig"), [("links", "quay"), ("anything", "quay"), ("anything", "caisson")])
def test_seeded_faults_are_what_the_core_says_and_the_best_finds_them_all(family: str, rig: str) -> None:
    base = stand("dress", rig)
    for seed in (1, 2, 3):
        drill = seeded(base, seed, "links" if family == "links" else "anything", 3)
        again = seeded(base, seed, "links" if family == "links" else "anything", 3)
        assert [f.done for f in drill.faults] == [f.done for f in again.faults]
        after = quick(stand_of(drill.build, SHELF, base.conditions, base.settings, target=base.target)).findings
        said = {(f.key, f.level) for f in after}
        before = {(f.key, f.level) for f in quick(base).findings}
        for fault in drill.faults:
            assert all(f.level > Level.NOTE and (f.key, f.level) not in before for f in fault.findings)
            assert all((f.key, f.level) in said for f in fault.findings)
        for one, other in pairwise(drill.faults):
            assert not one.units & other.units
        best = fault_result(drill, play_faults(drill), 0)
        assert (best.points, best.won) == (100, True)
        assert fault_hint(drill, play_faults(drill)) == ""
        nothing = fault_result(drill, (), 0)
        assert (nothing.points, nothing.won) == (0, False)
        everything = [*drill.build.units, *(k.cable for k in drill.build.links)]
        assert not fault_result(drill, everything, 0).won, "who marks everything has found nothing"
        assert all(lesson.why and lesson.cure for lesson in best.lessons)


def test_points_are_of_the_best_less_hints_and_false_alarms() -> None:
    assert points(3 / 4, hints=1) == 65
    assert points(1.0, hints=1, false_alarms=2) == 60
    assert points(0.2, hints=9) == 0


@settings(max_examples=examples(30))
@given(st.lists(st.tuples(st.integers(1, 20), st.integers(1, 60), st.booleans()), min_size=3, max_size=5))
def test_no_order_of_a_late_day_loses_less_than_the_best(tasks: list[tuple[int, int, bool]]) -> None:
    made = tuple(
        LateTask(
            id=f"t{i}",
            text=str(i),
            minutes=m,
            by_min=by,
            after=("t0",) if i == 2 else (),
            weight=3.0 if w else 1.0,
            why="",
        )
        for i, (m, by, w) in enumerate(tasks)
    )
    day = LateDay(part="x", label="X", left_min=30, tasks=made, seed=1)
    best = play_late(day)
    least = lost_min(day, best)
    for order in permutations(t.id for t in made):
        if order.index("t2") < order.index("t0"):
            with pytest.raises(NotAllowed, match="comes first"):
                lost_min(day, order)
        else:
            assert lost_min(day, order) >= least - 1e-9
    assert late_result(day, best, 0).won
    assert late_hint(day, best) == ""


def test_a_late_day_comes_from_the_run_sheet_of_the_job() -> None:
    laid = lay_out(JOB, SHELF)
    sheet = next(s for s in run_sheets(JOB, SHELF, laid) if any(t.part == "dress" for t in s.tasks))
    day = late_day(JOB, sheet, "dress", {"dock-floor"}, 2)
    known = {round(t.minutes, 1) for t in sheet.tasks if t.part == "dress"}
    assert {t.minutes for t in day.tasks} <= known
    assert day.left_min < sum(t.minutes for t in day.tasks)
    assert late_result(day, play_late(day), 0).points == 100
    with pytest.raises(NotAllowed, match="too few tasks"):
        late_day(JOB, sheet, "act-3", (), 2)


def test_a_borrowed_body_says_what_was_entered_and_asks_for_the_rest() -> None:
    things = {x.id: x for x in to_find(SHELF, "C6-1")}
    assert "off · on · lock" in things["switch"].plain
    assert any("takes sound at" in x.technical for x in things.values())
    small = {x.id: x for x in to_find(SHELF, "R2-1")}
    assert not small["magnify"].known
    done = orient_result(tuple(things.values()), list(things), 0)
    assert (done.points, done.won) == (100, True)
    assert orient_result(tuple(things.values()), [], 0).points == 0
    with pytest.raises(NotAllowed, match="no camera body"):
        to_find(SHELF, "PACK-01")
