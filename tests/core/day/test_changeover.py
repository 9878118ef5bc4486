"""A change is what turns one build into the next: worked out by hand, done step by step, and shared between two."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta
from itertools import pairwise, permutations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Level
from lift_crate.core.day.changeover import Changeover, Task, changeover, shared_out
from lift_crate.core.day.table import DayTable, day_table, instead_of
from lift_crate.core.job.edits import ChangePart, JobRefused, PlanBuild, PutThing, SetCell, apply_to_job
from lift_crate.core.job.job import Job
from lift_crate.core.job.venue import Thing
from lift_crate.core.rig.build import Build, Catalogue, Conditions
from lift_crate.core.rig.edits import Attach, Detach, SlideTo, Wear, apply_all
from lift_crate.core.settings import Settings
from lift_crate.core.stand import stand_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF: Catalogue = catalogue_of(FILE)
JOB: Job = FILE.job
BUILDS: list[Build] = [build for rig in JOB.rigs for build in rig.builds]


def change(was: Build, now: Build, gap: float = 30.0, others: dict[str, tuple[str, float]] | None = None) -> Changeover:
    return changeover(was, stand_of(now, SHELF, Conditions(), Settings(), {}, None), gap, others=others)


def test_a_monitor_on_its_handle_comes_off_as_one_and_a_slide_is_set() -> None:
    """Two cables 0.5 each, the handle by its rail 0.6, rods slid in their clamp 0.6: 2.2 min; two people pull a
    cable each and then do one of the others: 1.1. The monitor stays on the handle that nobody needs any more.
    """
    was = JOB.build("quay-full")[1]
    now = apply_all(was, (Detach(unit="HANDLE-1"), SlideTo(unit="RODS-1", to_mm=20)), SHELF)
    done = change(was, now)
    assert [(t.act, t.unit, t.minutes, t.after) for t in done.tasks] == [
        ("unplug", "TR-1", 0.5, ()),
        ("unplug", "SDI-1", 0.5, ()),
        ("take off", "HANDLE-1", 0.6, (0, 1)),
        ("set", "RODS-1", 0.6, ()),
    ]
    assert [done.alone_min, done.two_min] == pytest.approx([2.2, 1.1])
    assert [(x.what, x.instead) for x in done.lost] == [("the monitor", ""), ("its handles", "")]
    assert done.slowest == done.tasks[2]
    fits = [change(was, now, gap).fits for gap in (4.0, 2.5, 2.0, 1.0)]
    assert fits == ["easily", "tight", "with two", "no"]
    assert (change(was, was).tasks, change(was, was).fits) == ((), "easily")


def test_what_is_free_before_is_ready_before_and_what_another_has_is_fetched() -> None:
    bare = apply_all(JOB.build("quay-full")[1], (Detach(unit="SWAP-1"),), SHELF)
    full = JOB.build("quay-full")[1]
    free = change(bare, full)
    assert [t.unit for t in free.beforehand] == ["PACK-01"], "the pack goes on its plate before"
    assert [t.unit for t in free.tasks if t.act == "put on"] == ["SWAP-1"]
    held = change(bare, full, others={"PACK-01": ("Caisson", 3.0), "SWAP-1": ("Caisson", 3.0)})
    assert held.tasks[0] == Task("fetch", "SWAP-1, PACK-01", "Caisson", "", 6.0), "three minutes there, three back"
    assert held.beforehand == ()
    on = [i for i, t in enumerate(held.tasks) if t.act == "put on"]
    assert all(0 in held.tasks[i].after for i in on), "nothing goes on before it is there"
    assert held.alone_min > free.alone_min + 6


def test_a_gimbal_is_balanced_and_its_motors_calibrated_after_all_else() -> None:
    full = JOB.build("floor-gimbal")[1]
    lighter = apply_all(full, (Detach(unit="TX-1"),), SHELF)
    back = change(lighter, full)
    assert [t.act for t in back.tasks][-2:] == ["balance", "recalibrate"]
    assert back.tasks[-1].after == (len(back.tasks) - 2,)
    assert set(back.tasks[-2].after) == set(range(len(back.tasks) - 2))
    assert back.again[0].what == "balance"
    assert back.alone_min - back.two_min < sum(t.minutes for t in back.tasks[:-2])
    worn = apply_all(full, (Wear(unit="SWAP-2"),), SHELF)
    assert ("put on", "the operator") in {(t.act, t.where) for t in change(full, worn).tasks}


@given(st.sampled_from(BUILDS), st.sampled_from(BUILDS), st.booleans())
@settings(max_examples=examples(60), deadline=None)
def test_doing_the_tasks_in_any_order_they_allow_leaves_the_next_build(was: Build, now: Build, held: bool) -> None:
    """Step by step on the joints and cables themselves, for one pair of hands and in the order that two do it."""
    others = {unit: ("another", 1.0) for unit in now.units if unit not in was.units} if held else {}
    done = change(was, now, others=others)
    assert all(b < i for i, t in enumerate(done.tasks) for b in t.after), "every task comes after those it needs"
    two = shared_out(done.tasks, 2)
    by_two = [done.tasks[i] for i in sorted(range(len(two)), key=lambda i: (two[i][1], i))]
    wanted = {(j.child, j.parent) for j in now.joints} | {(k.cable, "") for k in now.links}
    for order in (list(done.tasks), by_two):
        there = {(j.child, j.parent) for j in was.joints} | {(k.cable, "") for k in was.links}
        for task in (*done.beforehand, *order):
            if task.act in ("take off", "unplug"):
                there = {(u, at) for u, at in there if u != task.unit}
            elif task.act in ("put on", "plug in"):
                assert task.unit not in {u for u, _ in there}, "what goes on is off"
                there.add((task.unit, "" if task.act == "plug in" else task.where.split(",")[0]))
        assert {(u, at) for u, at in there if u in now.units} == wanted
    assert done.two_min <= done.alone_min + 1e-9
    assert done.two_min >= done.alone_min / 2 - 1e-9
    for who in (0, 1):
        mine = sorted((starts, ends) for person, starts, ends in two if person == who)
        assert all(a[1] <= b[0] + 1e-9 for a, b in pairwise(mine)), "one thing after the other"


tasks = st.lists(
    st.tuples(st.sampled_from((0.3, 0.5, 1.0, 1.5)), st.sets(st.integers(0, 4), max_size=2)), min_size=1, max_size=5
).map(
    lambda rows: tuple(
        Task("put on", str(i), "", "", minutes, tuple(sorted(a for a in after if a < i)))
        for i, (minutes, after) in enumerate(rows)
    )
)


@given(tasks)
@settings(max_examples=examples(60))
def test_two_pairs_of_hands_are_no_further_from_the_best_of_all_orders_than_they_can_be(some: tuple[Task, ...]) -> None:
    """Whoever is free takes the next thing: never more than half over the best, as lists of two machines are bound."""

    def length(order: tuple[int, ...]) -> float:
        free, ends = [0.0, 0.0], dict[int, float]()
        for i in order:
            if any(b not in ends for b in some[i].after):
                return float("inf")
            who = free.index(min(free))
            starts = max(free[who], max((ends[b] for b in some[i].after), default=0.0))
            ends[i] = free[who] = starts + some[i].minutes
        return max(ends.values())

    best = min(length(order) for order in permutations(range(len(some))))
    got = max(end for _, _, end in shared_out(some, 2))
    assert best - 1e-9 <= got <= best * 3 / 2 + 1e-9


def table(job: Job = JOB) -> DayTable:
    return day_table(job, SHELF)


def test_the_demo_day_has_a_change_that_does_not_fit_and_cures_that_do() -> None:
    at = table()
    stops = [f for f in at.findings if f.level is Level.STOP]
    assert [f.code for f in stops] == ["day.change", "day.two_places"]
    assert stops[1].text == "Op 3 works Dock floor and Stage rail in Mark-through, 14:00 to 17:30."
    short = next(b for b in at.between if b.change.tasks and b.change.fits == "no")
    assert (short.rig.id, short.after.id, short.change.gap_min) == ("stage-rail", "acts-1-2", 0)
    assert short.change.alone_min == pytest.approx(sum(t.minutes for t in short.change.tasks))
    stay, *_ = instead_of(JOB, SHELF, short)
    assert (stay.build.id, stay.change and stay.change.alone_min) == ("rail-locked", 0)
    left = apply_to_job(JOB, PlanBuild(rig="stage-rail", part="acts-1-2", build=stay.build.id), SHELF)
    mended = apply_to_job(left, SetCell(rig="stage-rail", part="mark-through", operator="Op 4"), SHELF)
    assert not [f for f in table(mended).findings if f.level is Level.STOP and f.code != "day.unattended"]


def test_nobody_by_a_camera_counts_in_its_checks_and_cannot_be_somebody() -> None:
    alone = apply_to_job(JOB, SetCell(rig="quay", part="dress", unattended=True), SHELF)
    quay = alone.rig("quay")
    seen = alone.target_of(quay, "dress")
    assert seen
    assert seen.worked_by == "nobody"
    assert alone.cell("dress", "quay").operator == "", "whoever was named is not there"
    assert seen != alone.target_of(quay, "act-3")
    told = next(f for f in table(alone).findings if f.code == "day.unattended" and "Quay" in f.text)
    assert told.level is Level.STOP, "its pack does not last the three hours"
    assert "ends after" in told.text
    named = apply_to_job(alone, SetCell(rig="quay", part="dress", operator=" Op 9 "), SHELF)
    assert (named.cell("dress", "quay").operator, named.cell("dress", "quay").unattended) == ("Op 9", False)
    with pytest.raises(ValueError, match="unattended and worked by"):
        apply_to_job(JOB, SetCell(rig="quay", part="dress", operator="Op 1", unattended=True), SHELF)
    gone = apply_to_job(JOB, PlanBuild(rig="quay", part="dress", build=None), SHELF)
    with pytest.raises(JobRefused, match="not there in Dress rehearsal"):
        apply_to_job(gone, SetCell(rig="quay", part="dress", operator="Op 1"), SHELF)
    swapped = apply_to_job(JOB, PlanBuild(rig="quay", part="dress", build="quay-first"), SHELF)
    assert swapped.cell("dress", "quay").operator == "Op 1", "another build is worked by the same person"


def test_attach_is_an_edit_of_the_bench_too() -> None:
    """A part that moves to another port is taken off and put on, once each."""
    full = JOB.build("quay-full")[1]
    mic = full.joint_of("MIC-1")
    assert mic
    moved = apply_all(
        full,
        (
            Detach(unit="MIC-1"),
            Attach(unit="MIC-1", unit_port=mic.child_port, onto="HANDLE-1", onto_port="shoe"),
        ),
        SHELF,
    )
    acts = [(t.act, t.unit) for t in change(full, moved).tasks]
    assert acts.count(("take off", "MIC-1")) == acts.count(("put on", "MIC-1")) == 1
    assert ("unplug", "JACK-1") in acts


def test_a_mains_lead_of_an_unattended_camera_across_a_lane_is_told() -> None:
    lane = Thing(id="cart-lane", label="Cart lane", kind="lane", x_m=20, y_m=-3, width_m=2, depth_m=60)
    job = apply_to_job(JOB, PutThing(thing=lane), SHELF)
    body = SHELF.model_of("R2-1")
    on_mains = replace(SHELF, models={**SHELF.models, body.id: replace(body, mains_lead_m=60.0)})
    told = {f.about.units[0]: f.text for f in day_table(job, on_mains).findings if f.code == "day.unattended"}
    assert "its mains lead crosses Cart lane" in told["stage-rail arrival"]
    told = {f.about.units[0]: f.text for f in day_table(job, SHELF).findings if f.code == "day.unattended"}
    assert "mains" not in told["stage-rail arrival"]


def test_between_two_beats_it_is_told_in_seconds() -> None:
    """Act III half a minute after Acts I and II: the gimbal takes minutes, and what can lie ready is counted."""
    acts = JOB.part("acts-1-2")
    late = acts.ends + timedelta(seconds=30)
    job = apply_to_job(JOB, ChangePart(part="act-3", starts=late, moments=()), SHELF)
    told = next(
        f for f in day_table(job, SHELF).findings if f.code == "day.change" and f.about.units == ("stage-rail act-3",)
    )
    change = next(b.change for b in day_table(job, SHELF).between if (b.rig.id, b.after.id) == ("stage-rail", "act-3"))
    assert f"that is 30 s against {change.alone_min * 60:.0f}, with two {change.two_min * 60:.0f}" in told.text
    assert f"{len(change.beforehand)} things lie ready for it before" in told.text
    assert not any(" s against " in f.text for f in day_table(JOB, SHELF).findings)
