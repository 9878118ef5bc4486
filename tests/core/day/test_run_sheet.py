"""The run sheet: nobody in two places, nothing out of order, nothing late; and what is missing is really missing."""

from __future__ import annotations

from collections import defaultdict
from dataclasses import replace
from datetime import timedelta
from functools import cache
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding
from lift_crate.core.day.media import MediaPlan, media_plan
from lift_crate.core.day.mic_up import mic_ups
from lift_crate.core.day.run_sheet import Placing, RunSheet, by_rule, run_sheet
from lift_crate.core.day.run_solver import Search, by_search
from lift_crate.core.day.run_tasks import SwapDue
from lift_crate.core.day.table import DayTable, day_table, walks_between
from lift_crate.core.job.edits import ChangePart, PlanBuild, SetCell, apply_to_job
from lift_crate.core.job.job import Job
from lift_crate.core.job.sound import SoundPlan
from lift_crate.core.swaps.day import days_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job
_MOMENT = timedelta(milliseconds=1)
_RANK = {"build": 0, "change": 0, "cards": 1, "line up": 2, "close": 3}


@cache
def laid_out(job: Job = JOB) -> tuple[DayTable, MediaPlan]:
    return day_table(job, SHELF), media_plan(job, SHELF)


def sheet(job: Job, day: int, late: dict[str, float] | None = None) -> RunSheet:
    table, media = laid_out() if job is JOB else (day_table(job, SHELF), media_plan(job, SHELF))
    return run_sheet(job, table, media, days_of(job)[day], mics=mic_ups(job, SHELF, days_of(job)[day]), late=late)


def of_cameras(made: RunSheet) -> list[Finding]:
    """What stands against it but for microphones, which have a window of their own."""
    return [f for f in made.findings if not any(u.startswith("mic up") for u in f.about.units)]


def keeps_its_promises(job: Job, day: int, made: RunSheet) -> None:
    """By a way of its own: every task in its time, every camera's tasks in order, every person's day walked through."""
    parts = {p.id: p for p in days_of(job)[day]}
    placed = [t for t in made.tasks if t.starts is not None]
    assert all(t.who == () for t in made.tasks if t.starts is None)
    for task in placed:
        assert task.who
        assert task.starts
        assert task.ends
        assert max(task.after, made.call) <= task.starts
        assert task.ends <= task.by + _MOMENT
        assert task.kind in ("close", "mic off") or task.ends <= parts[task.part].starts + _MOMENT
    chains = defaultdict(list)
    for task in (t for t in placed if t.rig):
        chains[task.rig, task.part].append((_RANK[task.kind], task.starts, task.ends))
    for chain in chains.values():
        for before, after in pairwise(sorted(chain)):
            assert before[2] <= after[1] + _MOMENT, "one after the other at one camera"  # type: ignore[operator]
    walked(job, made)


def walked(job: Job, made: RunSheet) -> None:
    walks = walks_between(job)
    days = defaultdict(list)
    for b in made.busy:
        days[b.who].append((b.starts, b.ends, b.rig))
    for task in made.tasks:
        for name in task.who:
            assert task.starts
            assert task.ends
            days[name].append((task.starts, task.ends, task.rig))
    # Who is planned in two places by hand is called out by itself.
    twice = {b.who for b in made.busy for c in made.busy if (b.who, b.part) == (c.who, c.part) and b.rig != c.rig}
    for name, stretches in days.items():
        for one, other in pairwise(sorted(stretches)):
            walk = timedelta(minutes=walks.get((one[2], other[2]), 0.0))
            assert name in twice or one[1] + walk <= other[0] + _MOMENT, f"{name} is in two places"


@pytest.mark.parametrize("day", [0, 1])
@pytest.mark.parametrize("late", [{}, {"arrival": 10}, {"acts-1-2": 20}])
def test_the_days_of_the_demo_keep_every_promise(day: int, late: dict[str, float]) -> None:
    made = sheet(JOB, day, late)
    keeps_its_promises(JOB, day, made)
    assert made == sheet(JOB, day, late), "the same answer every time"


def test_what_does_not_fit_fits_when_the_part_begins_so_much_later_and_not_half_a_minute_sooner() -> None:
    made = sheet(JOB, 1)
    (told,) = of_cameras(made)
    assert told.text.startswith("Not ready when Acts I and II begins at 19:30; 12 min later it would be.")
    part = JOB.part("acts-1-2")
    for minutes, fits in ((told.value, True), (told.value - 0.5, False)):  # type: ignore[operator]
        later = apply_to_job(
            JOB,
            ChangePart(part=part.id, starts=part.starts + timedelta(minutes=minutes or 0), ends=part.ends, moments=()),
            SHELF,
        )
        assert (not of_cameras(sheet(later, 1))) == fits


def test_running_late_takes_from_the_gap_and_a_start_stands_fast() -> None:
    """Act III has 25 min before it and its gimbal needs 10.8, its cards 2, lining up 3: 9.2 to spare."""
    assert len(of_cameras(sheet(JOB, 1, {"acts-1-2": 5}))) == 1
    over = sheet(JOB, 1, {"acts-1-2": 30}).findings
    assert any(f.text == "Act III begins at 21:35, 5 min before Acts I and II has ended." for f in over)
    assert [f.about.units for f in of_cameras(sheet(JOB, 1, {"acts-1-2": 25}))] == [("run acts-1-2",), ("run act-3",)]
    starts = {b.part: b.starts for b in sheet(JOB, 1, {"acts-1-2": 25}).busy}
    assert starts["act-3"] == JOB.part("act-3").starts


def test_without_a_change_nothing_is_lined_up_again() -> None:
    stay = apply_to_job(JOB, PlanBuild(rig="stage-rail", part="acts-1-2", build="rail-locked"), SHELF)
    told = [(t.kind, t.rig) for t in sheet(stay, 1).tasks if t.part == "acts-1-2"]
    assert ("line up", "quay") not in told
    assert ("change", "stage-rail") not in told
    assert ("cards", "quay") in told, "a fresh card for every part"


def test_one_more_person_is_told_where_that_is_what_is_missing() -> None:
    """Nobody but one operator, and two cameras to build in a call time that does for one of them and a bit."""
    charging = replace(JOB.charging, people=(), hands=1)
    alone = replace(JOB, charging=charging, sound=SoundPlan(), settings=replace(JOB.settings, call_min=45))
    for part in JOB.parts:
        for rig in JOB.rigs:
            keep = part.id == "mark-through" and rig.id in ("quay", "dock-floor")
            if not keep:
                alone = apply_to_job(alone, PlanBuild(rig=rig.id, part=part.id, build=None), SHELF)
            elif rig.id == "quay":
                alone = apply_to_job(alone, SetCell(rig=rig.id, part=part.id, operator="Op 1"), SHELF)
            else:
                alone = apply_to_job(alone, SetCell(rig=rig.id, part=part.id, unattended=True), SHELF)
    made = sheet(alone, 0)
    keeps_its_promises(alone, 0, made)
    assert made.people == ("Op 1", "person 1")
    few = replace(alone, charging=replace(alone.charging, hands=1), settings=replace(alone.settings, call_min=24))
    short = sheet(few, 0)
    assert short.findings
    more = replace(few, charging=replace(few.charging, hands=2))
    assert short.one_more == all(t.starts for t in sheet(more, 0).tasks)


@given(
    call=st.integers(10, 120),
    hands=st.integers(1, 4),
    who=st.lists(st.sampled_from(["Op 1", "Op 2", "Op 3", "Op 4", ""]), min_size=4, max_size=4),
    late=st.integers(0, 30),
)
@settings(max_examples=examples(12), deadline=None)
def test_every_day_keeps_its_promises(call: int, hands: int, who: list[str], late: int) -> None:
    job = crewed(call, hands, who)
    for day in (0, 1):
        keeps_its_promises(job, day, sheet(job, day, {"acts-1-2": late}))


def crewed(call: int, hands: int, who: list[str]) -> Job:
    """The demo's job with another call, other hands, other operators."""
    job = replace(
        JOB,
        settings=replace(JOB.settings, call_min=call),
        charging=replace(JOB.charging, hands=hands, people=()),
    )
    names = who if len({w for w in who if w}) == len([w for w in who if w]) else ["Op 1", "Op 2", "Op 3", "Op 4"]
    plan = tuple(replace(a, operator=names[[r.id for r in JOB.rigs].index(a.rig)], unattended=False) for a in job.plan)
    return replace(job, plan=plan)


@pytest.mark.parametrize("placing", [by_rule, by_search(Search())])
def test_who_swaps_a_pack_does_nothing_else_then(placing: Placing) -> None:
    """The swap card stands: whatever its person did at that time is done by somebody else, or earlier."""
    table, media = laid_out()
    parts = days_of(JOB)[0]
    mics = mic_ups(JOB, SHELF, parts)
    before = run_sheet(JOB, table, media, parts, mics=mics, placing=placing)
    task = next(t for t in before.tasks if t.kind == "line up" and t.starts)
    assert task.starts
    swap = SwapDue(at=task.starts, rig=task.rig, place="monitor", what="PACK-9 for PACK-8", who=task.who[0])
    made = run_sheet(JOB, table, media, parts, mics=mics, swaps=[swap], placing=placing)
    (told,) = (t for t in made.tasks if t.kind == "swap")
    assert (told.starts, told.who, told.minutes, told.part) == (
        task.starts,
        task.who,
        JOB.charging.swap_min,
        task.part,
    )
    assert made != before
    walked(JOB, made)
