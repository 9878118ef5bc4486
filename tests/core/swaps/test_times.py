"""Times of swaps, by generated days: nothing promised is lost where a time falls between two steps."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.job.charging import ChargingPlan
from lift_crate.core.job.job import Assignment, Job, Moment, PartOfDay, Rig
from lift_crate.core.power.discharge import discharge
from lift_crate.core.rig.build import Catalogue, Conditions, Unit
from lift_crate.core.swaps.card import swaps_of
from lift_crate.core.swaps.day import FULL, DayProblem, PackClass, day_problem
from lift_crate.core.swaps.rules import rules
from lift_crate.core.swaps.solver import DayPlan, solve_day
from tests.core.swaps.test_day import day, slot
from tests.kit import build, catalogue, examples, model, port

START = datetime(2027, 3, 20, 18, tzinfo=UTC)


@lru_cache
def shelf(packs: int, watts: float) -> Catalogue:
    return catalogue(
        model(
            "body",
            1000,
            (0, 0, 0),
            port("rear", "wedge", "female", electrical={"role": "in", "min_v": 6, "max_v": 17}),
            draw={"standby_w": watts, "record_w": watts, "peak_w": watts},
        ),
        model(
            "pack",
            700,
            (0, 0, 0),
            port("wedge", "wedge", "male", electrical={"role": "out"}),
            kind="pack",
            pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 0.0},
        ),
        units=[Unit(id=f"P{i}", model="pack") for i in range(packs)],
    )


def job(*parts: PartOfDay, before: float = 10, after: float = 5) -> Job:
    built = build("body", "pack.wedge > body.rear")
    return Job(
        id="j",
        title="J",
        parts=parts,
        rigs=(Rig(id="cam", number=1, label="Cam", builds=(built,)),),
        plan=tuple(Assignment(part=p.id, rig="cam", build="build") for p in parts),
        charging=ChargingPlan(quiet_before_min=before, quiet_after_min=after),
    )


def part(name: str, starts: float, ends: float, *moments: float) -> PartOfDay:
    def at(minute: float) -> datetime:
        return START + timedelta(minutes=minute)

    return PartOfDay(
        id=name,
        label=name,
        starts=at(starts),
        ends=at(ends),
        conditions=Conditions(),
        moments=tuple(Moment(at=at(m), label=f"at {m:g}") for m in moments),
    )


def untouched(asked: Job, problem: DayProblem, plan: DayPlan) -> None:
    """No swap has a minute of it in a quiet time, by the clock and not by steps."""
    lasts = timedelta(minutes=asked.charging.swap_min)
    quiet = [
        (
            m.at - timedelta(minutes=asked.charging.quiet_before_min),
            m.at + timedelta(minutes=asked.charging.quiet_after_min),
        )
        for p in asked.parts
        for m in p.moments
    ]
    for card in swaps_of(problem, plan):
        assert not [pair for pair in quiet if card.at < pair[1] and card.at + lasts > pair[0]], card
        assert not [pair for pair in quiet if card.at - lasts < pair[1] and card.at > pair[0]], card


def test_a_part_that_begins_in_a_quiet_time_is_no_swap() -> None:
    """18 to 19 and 19 to 20:30, a moment at 19:05: nobody swaps at 19:00, which lies inside 18:55 to 19:10."""
    asked = job(part("one", 0, 60), part("two", 60, 150, 65))
    problem = day_problem(asked, shelf(6, 60), asked.parts)
    plan = solve_day(problem)
    assert 12 not in problem.slots[0].swaps
    assert not plan.late
    untouched(asked, problem, plan)


def test_a_quiet_time_that_ends_between_two_steps_reaches_to_the_next() -> None:
    """Quiet until 18:51: 18:50 is none, 18:55 is the first."""
    asked = job(part("one", 0, 150, 46))
    allowed = day_problem(asked, shelf(6, 60), asked.parts).slots[0].swaps
    assert 10 not in allowed
    assert 11 in allowed


@given(
    st.integers(20, 90),
    st.integers(0, 12),
    st.integers(20, 120),
    st.lists(st.integers(1, 200), max_size=3),
    st.integers(0, 15),
    st.integers(0, 15),
    st.sampled_from([40.0, 60.0, 75.0]),
    st.booleans(),
)
@settings(max_examples=examples(40))
def test_every_generated_day_leaves_its_moments_alone_and_draws_no_pack_below_its_reserve(
    first: int, gap: int, second: int, moments: list[int], before: int, after: int, watts: float, odd: bool
) -> None:
    seconds = 0.5 if odd else 0.0
    asked = job(
        part("one", 0, first, *(m for m in moments if m < first)),
        part("two", first + gap + seconds, first + gap + second, *(m for m in moments if m >= first)),
        before=before,
        after=after,
    )
    problem = day_problem(asked, shelf(7, watts), asked.parts)
    plan = solve_day(problem, effort=0.3)
    untouched(asked, problem, plan)
    pack = shelf(7, watts).models["pack"].pack
    assert pack
    whole = discharge(pack, lambda v: (watts + 0 * v, {}), reserve=asked.settings.reserve).hours
    late = {x.slot for x in plan.late}
    for use in plan.uses:
        runs = (
            sum(
                max(
                    0.0, (min(p.ends, problem.when(use.ends)) - max(p.starts, problem.when(use.starts))).total_seconds()
                )
                for p in asked.parts
            )
            / 3600
        )
        assert runs <= whole * 1.0005 or use.slot in late
    assert sum((p.ends - p.starts).total_seconds() for p in asked.parts) == pytest.approx(
        sum(
            sum(
                max(0.0, (min(p.ends, problem.when(u.ends)) - max(p.starts, problem.when(u.starts))).total_seconds())
                for p in asked.parts
            )
            for u in plan.uses
        ),
        abs=1e-6,
    ), "the whole of every part is run"


def test_two_packs_to_bring_of_unlike_health_are_two_packs() -> None:
    """The same model at 1.0 and at 0.8: each class is short of one,
    and both stand on the card by names of their own.
    """
    kinds = (PackClass("m@1.0", "m", 1.0, (), "Brick"), PackClass("m@0.8", "m", 0.8, (), "Brick"))
    slots = tuple(
        replace(slot(name, 8, (4,), 250), used={kind.id: tuple(250 * t for t in range(9))})
        for name, kind in zip("ab", kinds, strict=True)
    )
    problem = replace(day(slots, 0, None, 8), classes=kinds)
    plan = solve_day(problem)
    brought = {u.pack for u in plan.uses if u.brings}
    assert len(brought) == 4 == sum(plan.bring.values())
    assert {c.pack_in for c in swaps_of(problem, plan)} == brought
    assert len(swaps_of(problem, plan)) == len(plan.uses)


def test_what_runs_all_day_has_three_packs() -> None:
    def two_each(asked: Job) -> list[tuple[float | None, float | None]]:
        problem = day_problem(asked, shelf(1, 20), asked.parts)
        return [
            (f.value, f.limit) for f in rules(problem, solve_day(problem), shelf(1, 20)) if f.code == "swap.two_each"
        ]

    assert two_each(job(part("one", 0, 240), part("two", 240, 480))) == [(2, 3)]
    assert two_each(job(part("one", 0, 120))) == []


def test_used_charge_counts_minutes_and_not_steps() -> None:
    """A part of 61 minutes on steps of one takes 61 minutes' worth."""
    asked = job(part("one", 0, 61))
    problem = day_problem(asked, shelf(6, 60), asked.parts)
    assert problem.step_min == 1
    whole = discharge(shelf(6, 60).models["pack"].pack, lambda v: (60 + 0 * v, {}), reserve=0.1).hours  # type: ignore[arg-type]
    assert problem.slots[0].used["pack@1.0"][-1] == pytest.approx(FULL * 61 / 60 / whole, abs=1)
