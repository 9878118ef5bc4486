"""The day's swaps, solved: fewest packs to bring, fewest packs at all, fewest swaps, each as late as it may be.

A constraint model for OR-Tools' CP-SAT, one step after the other with what was reached
before held fast; one worker and a fixed seed, so that the same day has the same answer.
Formulas: docs/formulas.md §5, 'Rotation'.
"""

from __future__ import annotations

import math
from collections import Counter
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from itertools import count
from typing import TYPE_CHECKING

from ..job.charging import TAPER
from .day import FULL, ChargerGroup, DayProblem, PackClass, Slot, edges, least_limit, shortest
from .first_plan import FirstRun, first_plans
from .staffing import staffed

if TYPE_CHECKING:
    from ortools.sat.python.cp_model import IntVar

__all__ = ["Charge", "DayPlan", "Late", "Use", "solve_day"]

_SPARE_SEGMENTS = 1
_NO_BOUND = -(10**9)
_AT_ONCE, _GROUP, _ROUNDS = 14, 5, 2
"""Slots that are solved together; beyond that so many at a time, over them all so often."""
_TRIES, _FEWEST_TRIES = 1800, 40
"""Of the first plan, over all slots of a day; at least so many. Some 3 ms each for six cameras over 14 hours."""
_FIRM = 1
"""How many of the wishes must be proven best before a plan is called so: packs to bring, then packs."""


@dataclass(frozen=True, slots=True)
class Use:
    """A pack in a slot from one step to another, and thousandths it gives there."""

    slot: str
    pack: str
    pack_class: str
    starts: int
    ends: int
    used: int
    at: int
    """By when it is in: at ``starts`` or, in a break, before it."""
    brings: bool = False
    """Nobody has it: it must be brought, and ``pack`` is a name that no other has."""


@dataclass(frozen=True, slots=True)
class Charge:
    """A pack on a charger, bay counted from 1."""

    pack: str
    charger: str
    bay: int
    starts: int
    ends: int


@dataclass(frozen=True, slots=True)
class Late:
    """A slot that no pack carries from one allowed swap to the next: how much of a full pack the best way needs."""

    slot: str
    needs: float
    dies_at: int
    """The last step it surely reaches."""


@dataclass(frozen=True, slots=True)
class DayPlan:
    """Who runs on what and when, what charges where; what must be brought; which slots go dark whatever is brought."""

    uses: tuple[Use, ...]
    charges: tuple[Charge, ...]
    packs: int
    bring: Mapping[str, int]
    """By class: how many more are needed."""
    late: tuple[Late, ...]
    proven: bool
    """Whether fewest packs are proven and not only the best found in the time."""
    swaps: int
    least: int = 0
    """No plan takes fewer packs than so many, as far as is known."""
    hands: int = 0
    """How many people it takes where those there are do not do; else 0."""

    @property
    def works(self) -> bool:
        """Nothing to bring, nothing goes dark, and people enough."""
        return not self.bring and not self.late and not self.hands


@dataclass(eq=False)
class _Segment:
    slot: Slot
    at: IntVar
    start: IntVar
    end: IntVar
    used: IntVar
    present: IntVar
    of_class: dict[str, IntVar]
    charged: IntVar
    by_group: dict[str, IntVar]
    begins: IntVar
    lasts: IntVar
    free: IntVar


def solve_day(
    problem: DayProblem, *, effort: float = 3.0, tries: int = _TRIES, told: Callable[[DayPlan], bool] | None = None
) -> DayPlan:
    """Plan a day of swaps.

    ``effort``: work in CP-SAT's deterministic seconds for each of the two wishes about
    packs, and an eighth of it for the others, so that a plan that could not be proven best
    in it is the same every time. ``tries``: variations of the first plan, over all slots.
    ``told`` is given the best plan after every wish and ends the search when it returns True.
    """
    if not problem.slots:
        return DayPlan((), (), 0, {}, (), proven=True, swaps=0)
    late, limits = _late(problem)
    if len(problem.slots) > _AT_ONCE:
        return _by_groups(problem, limits, late, effort, tries, told)
    for hands in range(problem.hands, max(problem.hands, len(problem.slots)) + 1):
        peopled, tell = replace(problem, hands=hands), told if hands == problem.hands else None
        runs, plan, enough = _best_first(peopled, limits, late, tries, effort, tell)
        if enough:
            return plan
        found = _Model(peopled, limits, runs).solve(plan, late, effort, tell)
        if found is not None:
            return found if hands == problem.hands else replace(found, hands=hands)
    raise ValueError("A day whose swaps no number of people can make.")


def _cost(plan: DayPlan) -> tuple[int, int, int, int]:
    """What is wished for of a plan, the most important first: people cannot be fetched from a shelf."""
    return plan.hands, sum(plan.bring.values()), plan.packs, plan.swaps


def _best_first(
    problem: DayProblem,
    limits: Mapping[str, int],
    late: tuple[Late, ...],
    tries: int,
    effort: float,
    told: Callable[[DayPlan], bool] | None,
) -> tuple[dict[str, list[FirstRun]], DayPlan, bool]:
    """The best of the first plans, and whether whoever is told has heard enough."""
    tries = max(_FEWEST_TRIES, tries // len(problem.slots)) if tries else 0
    every = first_plans(problem, limits, tries)
    best = next(every)
    plan = _plan_of(problem, best, late, proven=False)
    if told and told(plan):
        return best, plan, True
    best, plan = _cheapest(problem, every, late, best, plan)
    if plan.hands and (made := staffed(problem, limits, effort)) is not None:
        best, plan = _cheapest(problem, first_plans(problem, limits, tries, made), late)
    return best, plan, False


def _cheapest(
    problem: DayProblem,
    every: Iterator[dict[str, list[FirstRun]]],
    late: tuple[Late, ...],
    best: dict[str, list[FirstRun]] | None = None,
    plan: DayPlan | None = None,
) -> tuple[dict[str, list[FirstRun]], DayPlan]:
    """The best of some plans, and of the one that is there already."""
    for runs in every:
        tried = _plan_of(problem, runs, late, proven=False)
        if best is None or plan is None or _cost(tried) < _cost(plan):
            best, plan = runs, tried
        if not plan.bring and not plan.hands and plan.packs <= plan.least:
            break
    if best is None or plan is None:
        raise ValueError("There is no plan to choose from.")
    return best, plan


def _least(problem: DayProblem) -> int:
    """Every slot has a pack from its first step to its last: no day takes fewer than the most slots at once."""
    return _peak([(slot.first, slot.last) for slot in problem.slots])


def _by_groups(
    problem: DayProblem,
    limits: Mapping[str, int],
    late: tuple[Late, ...],
    effort: float,
    tries: int,
    told: Callable[[DayPlan], bool] | None,
) -> DayPlan:
    """A day too large to solve in one: the first plan, improved for a few
    slots at a time while all others stand; never proven.
    """
    runs, plan, enough = _best_first(problem, limits, late, tries, effort, told)
    if enough or (told and told(plan)):
        return plan
    names = sorted(runs, key=lambda name: (len(runs[name]), name))
    for turn in range(_ROUNDS):
        shifted = names[turn * _GROUP // 2 :] + names[: turn * _GROUP // 2]
        for i in range(0, len(shifted), _GROUP):
            chosen = set(shifted[i : i + _GROUP])
            others = [(slot, run) for slot in problem.slots if slot.id not in chosen for run in runs[slot.id]]
            few = replace(problem, slots=tuple(s for s in problem.slots if s.id in chosen))
            better = _Model(few, limits, {name: runs[name] for name in chosen}, others).improved(effort / 6)
            if better:
                tried = {**runs, **better}
                next_plan = _plan_of(problem, tried, late, proven=False)
                if _cost(next_plan) < _cost(plan):
                    runs, plan = tried, next_plan
                    if told and told(plan):
                        return plan
    return plan


def _late(problem: DayProblem) -> tuple[tuple[Late, ...], dict[str, int]]:
    late, limits = [], {}
    for slot in problem.slots:
        least = least_limit(slot)
        limits[slot.id] = max(FULL, least)
        if least > FULL:
            start = max((s for s in (slot.first, *slot.swaps) if _carries_to(slot, s)), default=slot.first)
            put = next((p for p in slot.done if p.step == start), None)
            best = slot.used[put.pack_class] if put else min(slot.used.values(), key=lambda used: used[-1])
            gone = best[start - slot.first] - (put.missing if put else 0)
            dies = next(
                (slot.first + i - 1 for i, u in enumerate(best) if u - gone > FULL and i > start - slot.first),
                slot.last,
            )
            late.append(Late(slot.id, least / FULL, dies))
    return tuple(late), limits


def _carries_to(slot: Slot, step: int) -> bool:
    """Whether full packs carry a slot up to a swap."""
    reached = {slot.first}
    for start, end, _, _ in sorted(edges(slot)):
        if start in reached:
            reached.add(end)
    return step in reached


class _Model:
    def __init__(
        self,
        problem: DayProblem,
        limits: Mapping[str, int],
        first: Mapping[str, list[FirstRun]],
        others: Sequence[tuple[Slot, FirstRun]] = (),
    ) -> None:
        # Loading it takes a second, which the rest of the program does not wait for.
        from ortools.sat.python import cp_model  # noqa: PLC0415

        self.cp, self.m, self.problem = cp_model, cp_model.CpModel(), problem
        self.first, self.others = first, [run for _, run in others]
        self.bound = 0
        """What the last search could not go below."""
        self.walks = Counter(t for slot, run in others for t in problem.on_the_way(slot, run.starts, run.at))
        most = sum(len(runs) for runs in self.first.values()) + len(self.others) + 3 * len(problem.slots)
        self.extra = {c.id: self.m.new_int_var(0, 0 if c.fixed else most, f"bring {c.id}") for c in problem.classes}
        self.most = {
            c.id: self.m.new_int_var(0, len(c.units) + (0 if c.fixed else most), f"most {c.id}")
            for c in problem.classes
        }
        self.segments = [segment for slot in problem.slots for segment in self._segments(slot, limits[slot.id])]
        self._packs()
        self._bays()
        self._hands()
        self._start_from_first()

    def _start_from_first(self) -> None:
        """The first plan as a hint for every variable that tells a plan."""
        if not self.first:
            return
        m, horizon = self.m, self.problem.horizon
        left = {name: list(runs) for name, runs in self.first.items()}
        busy: dict[str, list[tuple[int, int]]] = {c.id: [] for c in self.problem.classes}
        hints: dict[int, tuple[IntVar, int]] = {}
        for segment in self.segments:
            run = left[segment.slot.id].pop(0) if left[segment.slot.id] else None
            last = segment.slot.last
            told = [
                (segment.start, run.starts if run else last),
                (segment.at, run.at if run else last),
                (segment.end, run.ends if run else last),
                (segment.used, run.used if run else 0),
                (segment.present, int(bool(run))),
            ]
            told += [
                (segment.charged, int(bool(run and run.group))),
                (segment.begins, run.charge_from if run else 0),
                (segment.lasts, run.charge_for if run else 0),
            ]
            told += [(segment.free, run.free if run else horizon + 1)]
            told += [(v, int(bool(run and run.pack_class == name))) for name, v in segment.of_class.items()]
            told += [(v, int(bool(run and run.group == name))) for name, v in segment.by_group.items()]
            if run:
                busy[run.pack_class].append((run.at, run.free))
            hints |= {v.index: (v, value) for v, value in told}
        for run in self.others:
            busy[run.pack_class].append((run.at, run.free))
        for each in self.problem.classes:
            peak = _peak(busy[each.id])
            hints[self.most[each.id].index] = self.most[each.id], peak
            hints[self.extra[each.id].index] = self.extra[each.id], max(0, peak - len(each.units))
        for variable, value in hints.values():
            m.add_hint(variable, value)

    def _segments(self, slot: Slot, limit: int) -> list[_Segment]:
        m, names = self.m, list(slot.used)
        most = max(shortest(slot, limit) + _SPARE_SEGMENTS, len(self.first.get(slot.id, ())))
        rows = [(s, e, names.index(c), u) for s, e, c, u in sorted(set(edges(slot, limit)))]
        times = [(t, at) for t in (slot.first, *slot.swaps, slot.last) for at in slot.made_by(t)]
        gone = (slot.last, slot.last, 0, 0)
        made: list[_Segment] = []
        for j in range(most):
            start = m.new_int_var(slot.first, slot.last, f"{slot.id} start {j}") if j else m.new_constant(slot.first)
            at = start
            if j and slot.in_break:
                at = m.new_int_var(slot.first, slot.last, f"{slot.id} made by {j}")
                m.add_allowed_assignments([start, at], times)
            end = (
                m.new_int_var(slot.first, slot.last, f"{slot.id} end {j}")
                if j < most - 1
                else m.new_constant(slot.last)
            )
            kind = m.new_int_var(0, len(names) - 1, f"{slot.id} class {j}")
            used = m.new_int_var(0, limit, f"{slot.id} used {j}")
            present = m.new_bool_var(f"{slot.id} present {j}")
            m.add_allowed_assignments([start, end, kind, used], [*rows, gone])
            m.add(start < slot.last).only_enforce_if(present)
            m.add(start == slot.last).only_enforce_if(present.negated())
            of_class = {}
            for i, name in enumerate(names):
                chosen = m.new_bool_var(f"{slot.id} {name} {j}")
                m.add(kind == i).only_enforce_if(chosen)
                m.add_implication(chosen, present)
                of_class[name] = chosen
            m.add(sum(of_class.values()) == present)
            if made:
                m.add(start == made[-1].end)
                m.add_implication(present, made[-1].present)
            made.append(self._charging(slot, j, (at, start), end, used, present, of_class))
        # Every stretch ends at the next swap that was made, so that the first of them are those that ran.
        for put, segment in zip(slot.done, made, strict=False):
            if put.again is not None:
                m.add(segment.charged == 0)
        return made

    def _charging(
        self,
        slot: Slot,
        j: int,
        starts: tuple[IntVar, IntVar],
        end: IntVar,
        used: IntVar,
        present: IntVar,
        of_class: dict[str, IntVar],
    ) -> _Segment:
        """Whether and where a pack goes on a charger after it ran, and when it is free again."""
        m, horizon = self.m, self.problem.horizon
        charged = m.new_bool_var(f"{slot.id} charged {j}")
        begins = m.new_int_var(0, horizon, f"{slot.id} charge from {j}")
        lasts = m.new_int_var(0, horizon, f"{slot.id} charge for {j}")
        free = m.new_int_var(0, horizon + 1, f"{slot.id} free {j}")
        by_group: dict[str, IntVar] = {}
        for group in self.problem.chargers:
            on = m.new_bool_var(f"{slot.id} on {group.id} {j}")
            by_group[group.id] = on
            for name, chosen in of_class.items():
                if name not in group.full_steps:
                    m.add_at_most_one([on, chosen])
                    continue
                full = max(1, round(group.full_steps[name] * FULL))
                m.add(lasts * FULL * FULL >= full * (used + round(FULL * TAPER))).only_enforce_if([on, chosen])
            windows = []
            for opens, closes in group.windows:
                within = m.new_bool_var(f"{slot.id} window {j}")
                m.add(begins >= opens).only_enforce_if(within)
                m.add(begins + lasts <= closes).only_enforce_if(within)
                windows.append(within)
            m.add_at_least_one([*windows, on.negated()])
        m.add(sum(by_group.values()) == charged) if by_group else m.add(charged == 0)
        m.add_implication(charged, present)
        m.add(begins >= end + slot.walk).only_enforce_if(charged)
        m.add(free >= begins + lasts + slot.walk).only_enforce_if(charged)
        again = slot.done[j].again if j < len(slot.done) else None
        m.add(free == (horizon + 1 if again is None else again)).only_enforce_if(charged.negated())
        return _Segment(slot, *starts, end, used, present, of_class, charged, by_group, begins, lasts, free)

    def _packs(self) -> None:
        """No class is in use, on the way or on a charger more often than there are packs of it."""
        m, horizon = self.m, self.problem.horizon
        for each in self.problem.classes:
            busy, demands = [], []
            for segment in self.segments:
                chosen = segment.of_class.get(each.id)
                if chosen is None:
                    continue
                size = m.new_int_var(0, horizon + 1, "busy")
                busy.append(m.new_optional_interval_var(segment.at, size, segment.free, chosen, "busy"))
                demands.append(1)
            for run in self.others:
                if run.pack_class == each.id:
                    busy.append(m.new_fixed_size_interval_var(run.at, run.free - run.at, "stands"))
                    demands.append(1)
            if busy:
                m.add_cumulative(busy, demands, self.most[each.id])
            m.add(self.most[each.id] <= len(each.units) + self.extra[each.id])

    def _bays(self) -> None:
        m, horizon = self.m, self.problem.horizon
        for group in self.problem.chargers:
            charging = []
            for segment in self.segments:
                until = m.new_int_var(0, 2 * horizon, "until")
                charging.append(
                    m.new_optional_interval_var(
                        segment.begins, segment.lasts, until, segment.by_group[group.id], "charging"
                    )
                )
            charging += [
                m.new_fixed_size_interval_var(run.charge_from, run.charge_for, "stands")
                for run in self.others
                if run.group == group.id
            ]
            m.add_cumulative(charging, [1] * len(charging), group.at_once)

    def _hands(self) -> None:
        """Every swap takes hands, from the walk there on."""
        m = self.m
        taken = []
        for segment in self.segments:
            slot = segment.slot
            inside = [t for t in slot.swaps if self.problem.takes_hands(slot, t)]
            if not inside:
                continue
            during = m.new_bool_var("during")
            domain = self.cp.Domain.from_values(inside)
            m.add_linear_expression_in_domain(segment.start, domain).only_enforce_if(during)
            m.add_linear_expression_in_domain(segment.start, domain.complement()).only_enforce_if(during.negated())
            kept = self.problem.kept_by(slot, 0)
            taken.append(m.new_optional_fixed_size_interval_var(segment.at + kept.start, len(kept), during, "hands"))
        taken += [
            m.new_fixed_size_interval_var(step, 1, "stands")
            for step, count in self.walks.items()
            for _ in range(min(count, self.problem.hands))
        ]
        if len(taken) > self.problem.hands:
            m.add_cumulative(taken, [1] * len(taken), self.problem.hands)

    def solve(
        self, plan: DayPlan, late: tuple[Late, ...], effort: float, told: Callable[[DayPlan], bool] | None
    ) -> DayPlan | None:
        """The plan after every wish, from the first one on; None where no plan
        keeps what must be kept, which is only ever the people.

        A wish that the plan before it grants to its bound needs no search; one for
        which nothing better was found in the time stays as it is, and the next is asked for.
        """
        m, least = self.m, plan.least
        wishes: tuple[tuple[list[tuple[int, IntVar]], int], ...] = (
            ([(1, v) for v in self.extra.values()], 0),
            ([(1, v) for v in self.most.values()], least),
            ([(1, s.present) for s in self.segments], 0),
            ([(-1, s.at) for s in self.segments] + [(1, s.charged) for s in self.segments], _NO_BOUND),
        )
        # What the first plan leaves open (windows, sizes) is filled in before it is improved upon.
        whole = self._run(effort, fixed=True)[1] if self.first else None
        proven = 0
        for i, (terms, bound) in enumerate(wishes):
            amount = sum(factor * v for factor, v in terms)
            has = sum(factor * whole[v.index] for factor, v in terms) if whole else None
            if has is not None and has <= bound:
                m.add(amount <= has)
                proven += proven == i
                continue
            m.minimize(amount)
            status, found, reached = self._run(effort if i <= _FIRM else effort / 8, start=whole)
            if i == 0 and status == self.cp.INFEASIBLE:
                return None
            if i == _FIRM and status in (self.cp.OPTIMAL, self.cp.FEASIBLE, self.cp.UNKNOWN) and proven == i:
                least = max(least, self.bound)
            if found is not None:
                whole, has = found, reached
                if status == self.cp.OPTIMAL and proven == i:
                    proven += 1
            if has is None or whole is None:
                break
            m.add(amount <= has)
            plan = replace(_plan_of(self.problem, self._runs(whole), late, proven=proven > _FIRM), least=least)
            if told and told(plan):
                break
        return plan

    def _run(
        self, effort: float, *, start: list[int] | None = None, fixed: bool = False
    ) -> tuple[int, list[int] | None, int]:
        """One search: its status, the value of every variable by its index if it found any, and what was wished for."""
        m = self.m
        if start is not None:
            m.clear_hints()  # type: ignore[no-untyped-call]
            for index, value in enumerate(start):
                m.add_hint(m.get_int_var_from_proto_index(index), value)
        solver = self.cp.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 7
        solver.parameters.max_deterministic_time = effort
        solver.parameters.fix_variables_to_their_hinted_value = fixed
        status = solver.solve(m)
        self.bound = math.ceil(solver.best_objective_bound - 1e-6) if math.isfinite(solver.best_objective_bound) else 0
        found = status in (self.cp.OPTIMAL, self.cp.FEASIBLE)
        return (
            (int(status), list(solver.response_proto.solution), round(solver.objective_value))
            if found
            else (int(status), None, 0)
        )

    def improved(self, effort: float) -> dict[str, list[FirstRun]] | None:
        """Better runs for these slots while the others stand: fewer packs to
        bring, then fewer packs; None where none were found.
        """
        whole = self._run(effort, fixed=True)[1]
        if whole is None:
            return None
        for amount in (sum(self.extra.values()), sum(self.most.values())):
            self.m.minimize(amount)
            _, found, reached = self._run(effort, start=whole)
            if found is None:
                break
            whole = found
            self.m.add(amount <= reached)
        return self._runs(whole)

    def _runs(self, at: Sequence[int]) -> dict[str, list[FirstRun]]:
        """What the values of all variables say, by slot."""
        found: dict[str, list[FirstRun]] = {slot.id: [] for slot in self.problem.slots}
        for s in self.segments:
            if at[s.present.index]:
                kind = next(name for name, chosen in s.of_class.items() if at[chosen.index])
                group = next((name for name, chosen in s.by_group.items() if at[chosen.index]), None)
                charge = (at[s.begins.index], at[s.lasts.index]) if group else (0, 0)
                found[s.slot.id].append(
                    FirstRun(
                        at[s.start.index],
                        at[s.end.index],
                        kind,
                        at[s.used.index],
                        group,
                        *charge,
                        at[s.free.index],
                        at[s.at.index],
                    )
                )
        return found


def _peak(busy: Sequence[tuple[int, int]]) -> int:
    return max((sum(a <= t < b for a, b in busy) for t, _ in busy), default=0)


def _plan_of(
    problem: DayProblem, runs: Mapping[str, list[FirstRun]], late: tuple[Late, ...], *, proven: bool
) -> DayPlan:
    slots = {slot.id: slot for slot in problem.slots}
    uses, charged, bring, packs = [], [], {}, 0
    extra = count(1)
    for each in problem.classes:
        mine = sorted(
            ((run, name) for name, own in runs.items() for run in own if run.pack_class == each.id),
            key=lambda pair: (pair[0].at, pair[1]),
        )
        peak = _peak([(run.at, run.free) for run, _ in mine])
        packs += peak
        if peak > len(each.units):
            bring[each.id] = peak - len(each.units)
        own = set(each.units)
        for (run, name), pack in zip(
            mine, _labels(each, [(run, slots[name]) for run, name in mine], extra), strict=True
        ):
            uses.append(Use(name, pack, each.id, run.starts, run.ends, run.used, run.at, pack not in own))
            if run.group:
                group = next(g for g in problem.chargers if g.id == run.group)
                charged.append((run.charge_from, group.steps(each.id, run.used), group, pack))
    uses.sort(key=lambda u: (u.slot, u.starts))
    walks = Counter(t for use in uses for t in problem.on_the_way(slots[use.slot], use.starts, use.at))
    people = max(walks.values(), default=0)
    return DayPlan(
        tuple(uses),
        _in_bays(charged),
        packs,
        bring,
        late,
        proven,
        len(uses) - len(problem.slots),
        _least(problem),
        people if people > problem.hands else 0,
    )


def _labels(each: PackClass, runs: Sequence[tuple[FirstRun, Slot]], extra: Iterator[int]) -> list[str]:
    """A pack for every run, none in two at once: the one that was really put in, the
    one its build names where it is free, else the lowest label.

    Where none is free one must be brought; ``extra`` counts them over all classes, so that no two have one name.
    """
    free_at = dict.fromkeys(each.units, 0)
    put_in = {(slot.id, put.step): put.pack for _, slot in runs for put in slot.done}
    put_in |= {(slot.id, slot.first): slot.done[0].out for _, slot in runs if slot.done and slot.done[0].out}
    wanted = {slot.own for _, slot in runs if slot.own in free_at} | set(put_in.values())
    names = []
    for run, slot in runs:
        free = [unit for unit, step in free_at.items() if step <= run.at]
        if (noted := put_in.get((slot.id, run.starts))) in free_at:
            pack = noted
        elif slot.own in free and slot.own is not None:
            pack = slot.own
        else:
            unclaimed = [unit for unit in free if unit not in wanted] or free
            pack = unclaimed[0] if unclaimed else f"{each.title or each.model}, extra {next(extra)}"
        free_at[pack] = run.free
        names.append(pack)
    return names


def _in_bays(charged: list[tuple[int, int, ChargerGroup, str]]) -> tuple[Charge, ...]:
    found = []
    busy: dict[tuple[str, int], int] = {}
    for starts, lasts, group, pack in sorted(charged, key=lambda c: (c[0], c[3])):
        per_unit = group.at_once // len(group.units)
        bays = [(unit, bay) for unit in group.units for bay in range(1, per_unit + 1)]
        unit, bay = next(b for b in bays if busy.get(b, 0) <= starts)
        busy[unit, bay] = starts + lasts
        found.append(Charge(pack, unit, bay, starts, starts + lasts))
    return tuple(found)
