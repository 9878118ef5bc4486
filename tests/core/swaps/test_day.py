"""The day's swaps: charging figures, plans against exhaustive search,
what every plan must keep, what if, cures and cards.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Iterator
from dataclasses import replace
from datetime import UTC, datetime, timedelta
from functools import lru_cache
from itertools import combinations, islice, pairwise, product

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Level
from lift_crate.core.gear.electrical import Charger
from lift_crate.core.job.charging import charge_hours, watts_per_bay
from lift_crate.core.job.job import Job
from lift_crate.core.swaps.card import carried_out, swaps_of
from lift_crate.core.swaps.day import (
    FULL,
    ChargerGroup,
    DayProblem,
    PackClass,
    Slot,
    day_problem,
    days_of,
    edges,
    least_limit,
)
from lift_crate.core.swaps.first_plan import first_plans
from lift_crate.core.swaps.rules import families, rules
from lift_crate.core.swaps.solver import DayPlan, solve_day
from lift_crate.core.swaps.what_if import (
    DayVerdict,
    Made,
    PlannedDay,
    WhatIf,
    cures,
    planned_day,
    verdict_of,
    with_made,
)
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.kit import catalogue, examples, long_form, model
from tests.perf.bench import long_day

ORIGIN = datetime(2027, 3, 20, 18, tzinfo=UTC)


def test_charging_takes_full_rate_to_80_percent_and_half_after() -> None:
    """98 Wh × health 1 from 10 % at 40 W: 2.695 h."""
    assert charge_hours(98, 1.0, 0.1, 1.0, 40) == pytest.approx(2.695)
    assert charge_hours(98, 1.0, 0.9, 1.0, 40) == pytest.approx(98 * 0.1 * 2 / 40)
    assert charge_hours(98, 1.0, 0.1, 1.0, 40, temperature_c=5) == pytest.approx(2 * 2.695)
    assert charge_hours(98, 1.0, 0.1, 1.0, 40, temperature_c=-1) == float("inf")
    assert watts_per_bay(Charger(bay_port="b", bays=4, bay_w=60, total_w=180)) == 45
    assert watts_per_bay(Charger(bay_port="b", bays=2, bay_w=20, total_w=30, way="in turn")) == 20


def slot(name: str, last: int, swaps: tuple[int, ...], per_step: int, walk: int = 0) -> Slot:
    used = tuple(per_step * t for t in range(last + 1))
    return Slot(name, name, name, name, 0, last, swaps, {}, {"k": used}, walk, None, ((0, last),))


def day(slots: tuple[Slot, ...], packs: int, charger: ChargerGroup | None, horizon: int) -> DayProblem:
    units = tuple(f"P{i}" for i in range(packs))
    return DayProblem(
        ORIGIN,
        horizon,
        slots,
        (PackClass("k", "m", 1.0, units),),
        (charger,) if charger else (),
        9,
        (("a", "A", 0, horizon),),
        (),
    )


def ways(each: Slot) -> Iterator[tuple[tuple[int, int], ...]]:
    """Every way to cut a slot's day into runs of one pack."""
    possible = {(s, e) for s, e, _, _ in edges(each)}
    for count in range(len(each.swaps) + 1):
        for cuts in combinations(each.swaps, count):
            points = (each.first, *cuts, each.last)
            runs = tuple(pairwise(points))
            if all(run in possible for run in runs):
                yield runs


def most_at_once(spans: list[tuple[int, int]]) -> int:
    return max((sum(a <= t < b for a, b in spans) for t, _ in spans), default=0)


def fewest(problem: DayProblem) -> int | None:
    """The fewest packs by trying every cut and every start of every charge."""
    best: int | None = None
    slots, group = problem.slots, problem.chargers[0] if problem.chargers else None

    def assign(runs: list[tuple[Slot, int, int]], busy: list[tuple[int, int]], charging: list[tuple[int, int]]) -> None:
        nonlocal best
        if best is not None and most_at_once(busy) >= best:
            return
        if not runs:
            best = most_at_once(busy)
            return
        (each, start, end), rest = runs[0], runs[1:]
        assign(rest, [*busy, (start, problem.horizon + 1)], charging)
        if group:
            lasts = group.steps("k", each.used["k"][end] - each.used["k"][start])
            for begins in range(end + each.walk, problem.horizon + 1):
                over = [*charging, (begins, begins + lasts)]
                inside = any(a <= begins and begins + lasts <= b for a, b in group.windows)
                if inside and most_at_once(over) <= group.at_once:
                    assign(rest, [*busy, (start, begins + lasts + each.walk)], over)

    def cut(left: tuple[Slot, ...], runs: list[tuple[Slot, int, int]]) -> None:
        if not left:
            assign(runs, [], [])
            return
        for way in ways(left[0]):
            cut(left[1:], [*runs, *((left[0], a, b) for a, b in way)])

    cut(slots, [])
    return best


@given(
    rates=st.tuples(st.integers(150, 420), st.integers(150, 420)),
    swaps=st.tuples(*[st.sets(st.integers(1, 6), max_size=2)] * 2),
    charger=st.one_of(st.none(), st.tuples(st.integers(1, 2), st.integers(1, 4), st.integers(0, 3))),
    walk=st.integers(0, 1),
)
@settings(max_examples=examples(25), deadline=None)
def test_small_days_have_the_fewest_packs_that_exhaustive_search_finds(
    rates: tuple[int, int], swaps: tuple[set[int], set[int]], charger: tuple[int, int, int] | None, walk: int
) -> None:
    slots = tuple(
        slot(f"s{i}", 7, tuple(sorted(s)), rate, walk) for i, (rate, s) in enumerate(zip(rates, swaps, strict=True))
    )
    group = ChargerGroup("c", ("C",), charger[0], ((charger[2], 7),), {"k": float(charger[1])}) if charger else None
    problem = day(slots, 9, group, 7)
    plan = solve_day(problem)
    if any(least_limit(s) > FULL for s in slots):
        assert plan.late
        return
    assert plan.proven
    assert plan.packs == fewest(problem)
    keeps_its_promises(problem, plan)


def keeps_its_promises(problem: DayProblem, plan: DayPlan) -> None:
    """Every slot is covered, no pack is in two places or overdrawn, nothing
    is touched in quiet times, bays and mains are kept.
    """
    late = {x.slot for x in plan.late}
    busy: dict[str, list[tuple[int, int]]] = {}
    for each in problem.slots:
        uses = [u for u in plan.uses if u.slot == each.id]
        assert [uses[0].starts, *(u.ends for u in uses)] == [each.first, *(u.starts for u in uses[1:]), each.last]
        for use in uses:
            assert use.used <= FULL or each.id in late
            assert use.starts == each.first or use.starts in each.swaps
            assert use.at in each.made_by(use.starts)
            busy.setdefault(use.pack, []).append((use.at, use.ends))
    for charge in plan.charges:
        group = next(g for g in problem.chargers if charge.charger in g.units)
        assert any(a <= charge.starts and charge.ends <= b for a, b in group.windows)
        assert 1 <= charge.bay <= group.at_once // len(group.units)
        busy[charge.pack].append((charge.starts, charge.ends))
    for spans in busy.values():
        ordered = sorted(spans)
        assert all(before[1] <= after[0] for before, after in pairwise(ordered))
    for charger, bay in {(c.charger, c.bay) for c in plan.charges}:
        spans = sorted((c.starts, c.ends) for c in plan.charges if (c.charger, c.bay) == (charger, bay))
        assert all(before[1] <= after[0] for before, after in pairwise(spans))
    made = [
        (s, u.at)
        for u in plan.uses
        for s in problem.slots
        if s.id == u.slot and u.starts > s.first and u.starts not in {p.step for p in s.done}
    ]
    assert not [t for _, t in made for a, b, _ in problem.quiet if a < t < b]
    on_the_way = Counter(t for s, at in made for t in range(at - max(1, s.walk), at + s.back))
    assert max(on_the_way.values(), default=0) <= problem.hands, "nobody walks to two cameras at once"


def told_of(plans: list[DayPlan]) -> Callable[[DayPlan], bool]:
    def told(plan: DayPlan) -> bool:
        plans.append(plan)
        return False

    return told


def test_a_large_day_is_planned_in_groups_and_keeps_every_promise() -> None:
    slots = tuple(slot(f"s{i:02}", 40, tuple(range(2, 40, 2)), 60 + 3 * (i % 5), 1) for i in range(18))
    problem = day(slots, 60, ChargerGroup("c", ("C", "D"), 12, ((0, 40),), {"k": 8.0}), 40)
    told: list[DayPlan] = []
    plan = solve_day(problem, effort=0.4, told=told_of(told))
    keeps_its_promises(problem, plan)
    assert not plan.proven
    assert told[0].packs >= plan.packs
    assert [p.packs for p in told] == sorted((p.packs for p in told), reverse=True)
    assert plan == solve_day(problem, effort=0.4)


def test_the_best_of_many_first_plans_is_better_than_the_rule_and_every_one_keeps_its_promises() -> None:
    for cameras, packs in ((4, 30), (6, 40)):
        problem, told = long_day(cameras, packs), list[DayPlan]()
        plan = solve_day(problem, effort=0.2, told=told_of(told))
        keeps_its_promises(problem, plan)
        assert plan.packs < told[0].packs, "the rule alone is told first"
        assert not plan.bring
        assert cameras <= plan.least <= plan.packs, "a pack in every camera at all times"
    assert plan == solve_day(problem, effort=0.2)
    limits = {s.id: FULL for s in problem.slots}
    for runs in islice(first_plans(problem, limits, 10), 11):
        for each in problem.slots:
            spans = [(run.starts, run.ends) for run in runs[each.id]]
            assert [spans[0][0], *(end for _, end in spans)] == [each.first, *(a for a, _ in spans[1:]), each.last]
            assert all(run.used <= FULL and run.free >= run.ends for run in runs[each.id])


def test_what_is_said_of_a_day_in_a_few_words(demo: JobFile) -> None:
    problem, plan = planned("arrival")
    job, shelf = demo.job, catalogue_of(demo)
    short = PlannedDay(problem=problem, plan=plan, findings=rules(problem, plan, shelf))
    assert verdict_of(None).text == verdict_of(PlannedDay(problem=problem)).text == "Planning the day…"
    assert (verdict_of(short).level, verdict_of(short).text) == (Level.STOP, "1 short")
    dark = next(f for f in rules(*planned("mark-through"), shelf) if f.code == "swap.dies")
    assert verdict_of(replace(short, findings=(dark,))).text == "1 short, 1 loses power"
    holds = replace(plan, uses=tuple(replace(use, brings=False) for use in plan.uses))
    assert verdict_of(PlannedDay(problem=problem, plan=holds)) == DayVerdict(Level.CLEAR, "The day holds")
    card = swaps_of(problem, plan)[-1]
    cards = swaps_of(problem, plan)
    assert carried_out(cards, card.slot, card.minute + 4) == len(cards) - 1
    assert carried_out(cards, card.slot, card.minute + 5) is None
    assert job.part("arrival").starts <= card.at


@lru_cache
def planned(part: str) -> tuple[DayProblem, DayPlan]:
    """A day of the demo, searched as long as its figures take to settle."""
    file = demo_job_file()
    problem = planned_day(file.job, catalogue_of(file), part)
    return problem, solve_day(problem, effort=0.3)


def two_cameras(demo: JobFile) -> Job:
    """The demo with a camera on a head and the one that is in two builds; it is planned to the end in no time."""
    kept = {"quay", "dock-floor"}
    job = demo.job
    return replace(
        job,
        rigs=tuple(rig for rig in job.rigs if rig.id in kept),
        plan=tuple(cell for cell in job.plan if cell.rig in kept),
    )


def the_same_answer_twice(job: Job, demo: JobFile, part: str) -> None:
    problem = planned_day(job, catalogue_of(demo), part)
    plan = solve_day(problem)
    keeps_its_promises(problem, plan)
    assert plan.proven
    assert solve_day(problem) == plan


@pytest.mark.parametrize("part", ["mark-through", "arrival"])
def test_a_day_of_two_cameras_keeps_every_promise_and_has_the_same_answer_twice(demo: JobFile, part: str) -> None:
    the_same_answer_twice(two_cameras(demo), demo, part)


@long_form
@pytest.mark.parametrize("part", ["mark-through", "arrival"])
def test_the_days_of_the_demo_keep_every_promise_and_have_the_same_answer_twice(demo: JobFile, part: str) -> None:
    the_same_answer_twice(demo.job, demo, part)
    _, quick = planned(part)
    assert solve_day(planned_day(demo.job, catalogue_of(demo), part)).packs == quick.packs


def test_the_cold_dockside_day_is_short_and_its_cures_really_cure(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    problem, plan = planned("arrival")
    assert sum(plan.bring.values()) == 1
    found = rules(problem, plan, catalogue)
    short = next(f for f in found if f.code == "swap.short")
    assert short.level is Level.STOP
    tried = list(cures(demo.job, catalogue, "arrival", WhatIf(), plan))
    by_title = {c.title: c for c in tried}
    assert by_title["Keep the mains at the chargers for the whole day"].works
    assert by_title["Leave Gangway light off"].works
    assert not by_title["Dim every monitor to 60 % of its draw"].works
    off = replace(demo.job, charging=replace(demo.job.charging, boxes=()))
    assert solve_day(planned_day(off, catalogue, "arrival")).works
    assert list(cures(off, catalogue, "arrival", WhatIf(), solve_day(planned_day(off, catalogue, "arrival")))) == []


def holds_whatever_goes_wrong(job: Job, demo: JobFile) -> None:
    shelf = catalogue_of(demo)

    def planned_with(what: WhatIf) -> tuple[DayProblem, DayPlan]:
        problem = planned_day(job, shelf, "arrival", what)
        plan = solve_day(problem, effort=0.5)
        keeps_its_promises(problem, plan)
        return problem, plan

    problem, plan = planned_with(WhatIf())
    for what in (WhatIf(colder_c=10), WhatIf(mains=False), WhatIf(late_min=90, late_part="acts-1-2")):
        late, worse = planned_with(what)
        assert sum(worse.bring.values()) >= sum(plan.bring.values())
        assert worse.packs >= plan.packs or not what.mains
    _, dead = planned_with(WhatIf(dead=("PACK-05",)))
    assert "PACK-05" not in {u.pack for u in dead.uses}
    assert sum(dead.bring.values()) >= sum(plan.bring.values())
    assert late.horizon == problem.horizon + 18
    assert late.quiet[1][0] == problem.quiet[1][0] + 18, "the flood comes later too"


def test_whatever_goes_wrong_needs_no_fewer_packs(demo: JobFile) -> None:
    holds_whatever_goes_wrong(two_cameras(demo), demo)


@long_form
def test_whatever_goes_wrong_with_the_demo_needs_no_fewer_packs(demo: JobFile) -> None:
    holds_whatever_goes_wrong(demo.job, demo)


def test_dimmed_monitors_take_less(demo: JobFile) -> None:
    shelf = catalogue_of(demo)
    dimmed, brighter = (planned_day(demo.job, shelf, "arrival", WhatIf(monitors=m)) for m in (0.5, 1.0))
    quay = [next(s for s in p.slots if s.id.startswith("quay")).used for p in (dimmed, brighter)]
    assert all(quay[0][name][-1] < quay[1][name][-1] for name in quay[1])


def test_the_day_goes_on_from_the_swaps_that_were_made_and_the_charges_that_were_read(demo: JobFile) -> None:
    problem, plan = planned("arrival")
    floor = next(s for s in problem.slots if s.id.startswith("dock-floor"))
    step = 6
    first = next(u for u in plan.uses if u.slot == floor.id)
    computed = floor.used[first.pack_class][step]
    twice = floor.left(first.pack_class, 2 * computed)
    made = Made(
        slot=floor.id, at=problem.when(step), pack_in="PACK-04", pack_out=first.pack, charge_left=twice, charge_in=0.5
    )
    after = with_made(problem, [made, replace(made, slot="nowhere"), replace(made, at=problem.when(-40))])
    now = next(s for s in after.slots if s.id == floor.id)
    assert [(p.step, p.pack, p.taken) for p in now.done] == [(step, "PACK-04", 2 * computed)]
    assert now.swaps[0] == step
    assert min(now.swaps[1:]) > step
    assert now.rate == 2.0, "twice as much was taken as computed, and the rest of the day goes on so"
    again = solve_day(after)
    keeps_its_promises(after, again)
    uses = [u for u in again.uses if u.slot == floor.id]
    assert [(u.pack, u.starts) for u in uses[:2]] == [(first.pack, 0), ("PACK-04", step)]
    assert uses[0].used == 2 * computed
    assert uses[1].used >= floor.given("tidewick-98@1.0", 0.5), "a pack put in half full has half to give"
    assert (
        uses[1].ends
        <= next(
            u
            for u in solve_day(with_made(problem, [replace(made, charge_left=None, charge_in=None)])).uses
            if u.slot == floor.id and u.starts == step
        ).ends
    )
    told = next(f for f in rules(after, again, catalogue_of(demo)) if f.code == "swap.rate")
    assert (told.value, told.level) == (2.0, Level.WATCH)
    wrong = with_made(problem, [replace(made, pack_in="SLIM-1")])
    assert not any(s.done for s in wrong.slots)
    assert "SLIM-1, noted at 18:30, does not run Dock floor" in wrong.warnings[-1]


@given(
    rates=st.tuples(st.integers(60, 180), st.integers(60, 180)),
    made=st.lists(
        st.tuples(
            st.sampled_from(["a", "b"]),
            st.integers(1, 11),
            st.one_of(st.none(), st.floats(0, 1)),
            st.one_of(st.none(), st.floats(0.3, 1)),
        ),
        max_size=4,
        unique_by=lambda m: m[:2],
    ),
)
@settings(max_examples=examples(25), deadline=None)
def test_whatever_was_made_stands_and_the_rest_keeps_its_promises(
    rates: tuple[int, int], made: list[tuple[str, int, float | None, float | None]]
) -> None:
    problem = day(
        tuple(slot(name, 12, (3, 6, 9), rate) for name, rate in zip("ab", rates, strict=True)),
        9,
        ChargerGroup("c", ("C",), 2, ((0, 12),), {"k": 3.0}),
        12,
    )
    swaps = [
        Made(slot=name, at=problem.when(step), pack_in=f"P{8 - i}", charge_left=left, charge_in=charge)
        for i, (name, step, left, charge) in enumerate(made)
    ]
    after = with_made(problem, swaps)
    plan = solve_day(after)
    keeps_its_promises(after, plan)
    for each in after.slots:
        uses = {u.starts: u for u in plan.uses if u.slot == each.id}
        own = sorted((m.at, m) for m in swaps if m.slot == each.id)
        assert [(put.step, put.pack) for put in each.done] == [
            (round((at - ORIGIN).total_seconds() / 300), m.pack_in) for at, m in own
        ]
        assert all(uses[put.step].pack == put.pack for put in each.done)
        assert sorted(step for step in uses if each.done and step < each.done[-1].step) == [
            0,
            *(put.step for put in each.done[:-1]),
        ] * bool(each.done)
        assert 0.5 <= each.rate <= 2.0


def test_a_pack_taken_out_and_put_in_elsewhere_is_one_pack() -> None:
    slots = (slot("a", 10, (4, 8), 100), slot("b", 10, (2, 6, 8), 100))
    problem = day(slots, 3, None, 10)
    made = [
        Made(slot="b", at=problem.when(2), pack_in="P2", pack_out="P1", charge_left=0.8),
        Made(slot="a", at=problem.when(4), pack_in="P1", pack_out="P0", charge_left=0.6, charge_in=0.8),
    ]
    after = with_made(problem, made)
    plan = solve_day(after)
    assert plan.packs == 3
    assert {(u.pack, u.slot, u.starts, u.ends, u.used) for u in plan.uses} == {
        ("P0", "a", 0, 4, 400),
        ("P1", "b", 0, 2, 200),
        ("P2", "b", 2, 10, 800),
        ("P1", "a", 4, 10, 800),
    }
    empty = solve_day(with_made(problem, [replace(made[1], charge_in=0.3), made[0]]))
    assert [(x.slot, round(x.needs, 6), x.dies_at) for x in empty.late] == [("a", 1.1, 7)], (
        "from 4 on it has three steps, and may not be touched before 8"
    )


def test_cards_name_every_swap_once_in_the_order_of_the_day() -> None:
    problem, plan = planned("arrival")
    cards = swaps_of(problem, plan)
    assert [c.at for c in cards] == sorted(c.at for c in cards)
    assert sum(c.pack_out is not None for c in cards) == plan.swaps
    assert not any(c.label.startswith("GIMBAL") for c in cards), "cells that are built in are not swapped"
    assert {c.person for c in cards} == {"Loader", "Runner"}
    for card in cards:
        assert card.at == problem.when(
            next(
                u.at
                for u in plan.uses
                if u.slot == card.slot and u.pack == card.pack_in and problem.when(u.at) == card.at
            )
        )
        assert card.pack_out is None or card.left is not None


def test_nobody_is_on_the_way_to_two_cameras_and_one_person_alone_takes_longer() -> None:
    """Two cameras, each with one pack of 12 steps to be swapped at 5 or 6; the walk takes 2 steps."""
    slots = tuple(slot(name, 12, (5, 6), 140, 2) for name in ("a", "b"))
    both = replace(day(slots, 4, None, 12), hands=2, people=("Loader", "Runner"))
    two, one = solve_day(both), solve_day(replace(both, hands=1, people=("Loader",)))
    assert [c.person for c in swaps_of(both, two) if c.pack_out] == ["Loader", "Runner"]
    assert {u.starts for u in two.uses} == {0, 6}, "both as late as they may be"
    assert (one.hands, one.works, {u.starts for u in one.uses}) == (2, False, {0, 6})
    told = next(
        f
        for f in rules(
            replace(both, hands=1),
            one,
            catalogue(model("m", kind="pack", pack={"cells": 4, "capacity_ah": 6, "resistance_ohm": 0.1})),
        )
        if f.code == "swap.hands"
    )
    assert told.text == "a, b must be swapped around 18:30, each a walk away; that takes 2 people, and there is 1."
    apart = replace(both, hands=1, people=("Loader",), slots=tuple(replace(s, swaps=(4, 5, 6, 7)) for s in slots))
    assert sorted(u.starts for u in solve_day(apart).uses if u.starts) == [5, 7]


def in_a_break(name: str, walk: int, back: int = 0) -> Slot:
    """On until 6 and from 12 to 18; swapped between 7 and 12, 130 a step."""
    used = tuple(130 * (min(t, 6) + max(0, t - 12)) for t in range(19))
    between = {12: (12, 11, 10, 9, 8, 7)}
    return Slot(
        name,
        name,
        name,
        name,
        0,
        18,
        (12,),
        {},
        {"k": used},
        walk,
        None,
        ((0, 6), (12, 18)),
        back=back,
        in_break=between,
    )


@pytest.mark.parametrize(
    ("walks", "back", "people"), [((5, 5), 0, 1), ((6, 6), 0, 2), ((6, 5), 0, 1), ((5, 5), 1, 2), ((4, 4), 1, 1)]
)
def test_swaps_in_a_break_take_the_time_of_those_who_make_them(walks: tuple[int, int], back: int, people: int) -> None:
    """One swap done by 7, the other by 12: 5 steps for the walk to it and what the first kept its person after it."""
    slots = tuple(in_a_break(name, walk, back) for name, walk in zip("ab", walks, strict=True))
    problem = replace(day(slots, 4, None, 18), hands=1, parts=(("a", "A", 0, 6), ("b", "B", 12, 18)))
    plan = solve_day(problem)
    assert plan.hands == (0 if people == 1 else 2)
    if people == 1:
        keeps_its_promises(problem, plan)
        assert {c.in_break for c in swaps_of(problem, plan) if c.pack_out} == {True}


@given(
    swaps=st.tuples(*[st.sets(st.integers(1, 9), min_size=1, max_size=4)] * 3),
    walks=st.tuples(*[st.integers(0, 3)] * 3),
    rate=st.integers(120, 240),
    back=st.integers(0, 1),
)
@settings(max_examples=examples(40), deadline=None)
def test_a_plan_needs_no_more_people_than_there_are_where_one_exists(
    swaps: tuple[set[int], ...], walks: tuple[int, ...], rate: int, back: int
) -> None:
    """Every way through a day with one pair of hands is tried; small days and large ones find one if there is any."""
    slots = tuple(
        replace(slot(f"s{i}", 10, tuple(sorted(s)), rate, walk), back=back)
        for i, (s, walk) in enumerate(zip(swaps, walks, strict=True))
    )
    problem = replace(day(slots, 12, None, 10), hands=1)
    if any(least_limit(s) > FULL for s in slots):
        return

    def alone(chosen: tuple[tuple[tuple[int, int], ...], ...]) -> bool:
        kept = [problem.kept_by(s, at) for s, way in zip(slots, chosen, strict=True) for at, _ in way[1:]]
        return max(Counter(t for span in kept for t in span).values(), default=0) <= 1

    exists = any(alone(chosen) for chosen in product(*(list(ways(s)) for s in slots)))
    with pytest.MonkeyPatch.context() as patch:
        for at_once in (14, 2):
            patch.setattr("lift_crate.core.swaps.solver._AT_ONCE", at_once)
            plan = solve_day(problem, effort=0.3, tries=3)
            assert (plan.hands == 0) == exists
            if exists:
                keeps_its_promises(problem, plan)


def test_three_places_exchange_their_kinds_of_pack() -> None:
    """Each place does the whole day on one kind alone, and takes the kind of the next in turn; by rule the one that
    chooses first takes what lasts longest, which each of the others needs.
    """
    weak = tuple(90 * t for t in range(13))
    lasts = {"s0": "k0", "s1": "k1", "s2": "k2"}
    slots = tuple(
        Slot(
            name,
            name,
            name,
            name,
            0,
            12,
            (6,),
            {},
            {kind: tuple(80 * t for t in range(13)) if kind == lasts[name] else weak for kind in ("k0", "k1", "k2")},
            0,
            f"P{(i + 1) % 3}",
            ((0, 12),),
        )
        for i, name in enumerate(lasts)
    )
    kinds = tuple(PackClass(f"k{i}", f"m{i}", 1.0, (f"P{i}",)) for i in range(3))
    plan = solve_day(replace(day(slots, 0, None, 12), classes=kinds))
    assert (plan.packs, plan.swaps, plan.bring) == (3, 0, {})
    assert {u.slot: u.pack for u in plan.uses} == {"s0": "P0", "s1": "P1", "s2": "P2"}


def test_packs_are_grouped_by_what_they_fit_and_counted_when_most_is_on(demo: JobFile) -> None:
    problem = planned_day(demo.job, catalogue_of(demo), "arrival")
    wedge, slim = families(problem, catalogue_of(demo))
    assert (wedge.packs, slim.packs) == (8, 5)
    assert wedge.energy_wh == pytest.approx(4 * 97.92 + 2 * 149.76 + 2 * 48.96)
    assert wedge.mass_g == 4 * 725 + 2 * 1060 + 2 * 405
    assert (wedge.at_once, f"{wedge.starts:%H:%M}") == (5, "19:30")
    assert wedge.wanted_by == (
        "Caisson · C6-2",
        "Dock floor · SWAP-2",
        "Gangway light",
        "Quay · SWAP-1",
        "Stage rail · RPLATE-1",
    )
    assert slim.wanted_by == ("Stage rail · R2-1",)


def test_rules_count_over_what_is_on_at_once_and_keep_old_packs_out_of_quiet_times(demo: JobFile) -> None:
    problem, plan = planned("arrival")
    found = rules(problem, plan, catalogue_of(demo))
    two = next(f for f in found if f.code == "swap.two_each")
    assert (two.value, two.limit) == (8, 10)
    assert any(f.code == "pack.carriage" and "PACK-05" in f.text for f in found)
    old = [f for f in found if f.code == "swap.ageing"]
    assert all(f.value is not None and f.value < 0.8 for f in old)
    gimbal, first = planned("mark-through")
    assert [x.slot for x in first.late] == ["GIMBAL-1"]
    dies = next(f for f in rules(gimbal, first, catalogue_of(demo)) if f.code == "swap.dies")
    assert "GIMBAL-1 loses power" in dies.text


def test_a_day_is_the_parts_that_start_on_one_date(demo: JobFile) -> None:
    assert [[p.id for p in parts] for parts in days_of(demo.job)] == [
        ["mark-through", "dress"],
        ["arrival", "acts-1-2", "act-3"],
    ]
    with pytest.raises(ValueError, match="at least one part"):
        day_problem(demo.job, catalogue_of(demo), ())


def test_packs_out_of_use_and_swaps_in_quiet_times_are_not_planned(demo: JobFile) -> None:
    units = tuple(replace(u, condition="out of use") if u.id == "PACK-04" else u for u in demo.units)
    problem = planned_day(demo.job, catalogue_of(replace(demo, units=units)), "arrival")
    assert "PACK-04" not in {u for c in problem.classes for u in c.units}
    for each in problem.slots:
        parts = {a for _, _, a, _ in problem.parts}
        assert not [t for t in each.swaps if t not in parts for a, b, _ in problem.quiet if a < t < b]
    moved = replace(demo.job.charging, quiet_before_min=0, quiet_after_min=0)
    assert (
        planned_day(replace(demo.job, charging=moved), catalogue_of(demo), "arrival").quiet[0][0]
        == problem.quiet[0][0] + 2
    )
    assert problem.when(1) - problem.when(0) == timedelta(minutes=5)
