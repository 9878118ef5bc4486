"""The run sheet by search (CP-SAT): fewest tasks without a time, protected parts first; then as late as is safe.

Whole tenths of a minute. A task may be done by anyone who may, or by two where it can be shared; nobody is in two
places, walks between cameras are counted for every pair of tasks, and tasks at one camera follow each other.
The search is bounded by work, not by time: the same day has the same answer on every machine.
Formulas: docs/formulas.md §11, 'Run sheet'.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import TYPE_CHECKING, Any

from .run_sheet import Placing, by_rule, in_order
from .run_tasks import AFTER, RANK, OpenDay, RunTask

if TYPE_CHECKING:
    from ortools.sat.python.cp_model import IntVar

__all__ = ["Search", "by_search"]

_UNIT = timedelta(seconds=6)
_GUARDED = 1000
"""A task of a protected part counts as so many others."""
_TWO, _STRANGER = 50, 10
"""What it is worth not to take a second person, and to leave a camera to its own operator, in tenths of a minute."""


@dataclass
class Search:
    """How much is searched, and whether all answers were proven best.

    ``effort``: CP-SAT's deterministic seconds for each of the two wishes; ``unwanted`` is asked between them whether
    nobody waits any more.
    """

    effort: float = 1.0
    unwanted: Callable[[], bool] = lambda: False
    proven: bool = True


def by_search(search: Search) -> Placing:
    """Places the tasks of a day as well as the search finds, never worse than by rule."""

    def place(day: OpenDay) -> tuple[RunTask, ...]:
        rule = {t.key: t for t in by_rule(day)}
        found = list(day.kept)
        for tasks in _apart(day):
            effort = search.effort * len(tasks) / len(day.tasks)
            found += _Model(replace(day, tasks=tasks), rule).best(search, effort)
        return in_order(found)

    return place


def _apart(day: OpenDay) -> Iterator[tuple[RunTask, ...]]:
    """Tasks in groups that have nothing to do with each other: nobody can be late for one because of another."""
    far = timedelta(minutes=max(day.walks.values(), default=0.0))
    group: list[RunTask] = []
    until: datetime | None = None
    for task in sorted(day.tasks, key=lambda t: (t.after, t.by, t.key)):
        if until is not None and task.after >= until + far:
            yield tuple(group)
            group = []
        group.append(task)
        until = max(until, task.by) if until and len(group) > 1 else task.by
    if group:
        yield tuple(group)


@dataclass(eq=False)
class _Task:
    """A task's variables: when, how long, whether at all, whether by two, and by whom."""

    task: RunTask
    first: int
    last: int
    start: IntVar
    lasts: Any
    end: IntVar
    placed: IntVar
    two: IntVar | None
    by: dict[str, IntVar] = field(default_factory=dict)


class _Model:
    """A day as a question for the solver."""

    def __init__(self, day: OpenDay, rule: Mapping[tuple[str, str, str, str], RunTask]) -> None:
        # It takes most of a second to load: only what searches pays for it.
        from ortools.sat.python import cp_model  # noqa: PLC0415

        self.cp, self.m, self.day = cp_model, cp_model.CpModel(), day
        self.origin = min(t.after for t in day.tasks)
        self.rule = rule
        fit = [self._down(t.by) - self._up(t.after) >= self._least(t) for t in day.tasks]
        self.tasks = [self._task(t) for t, can in zip(day.tasks, fit, strict=True) if can]
        self.hopeless = [self.rule[t.key] for t, can in zip(day.tasks, fit, strict=True) if not can]
        for name in day.taken:
            self._one_place(name)
        self._chains()
        self._walks()

    def _up(self, at: datetime) -> int:
        """The first whole unit that is not before."""
        return -((self.origin - at) // _UNIT)

    def _down(self, at: datetime) -> int:
        """The last whole unit that is not after."""
        return (at - self.origin) // _UNIT

    @staticmethod
    def _long(minutes: float) -> int:
        return -(-round(minutes * 1000) // 100)

    def _least(self, task: RunTask) -> int:
        return self._long(min(task.minutes, task.shared_min or task.minutes))

    def _task(self, task: RunTask) -> _Task:
        m, first, last = self.m, self._up(task.after), self._down(task.by)
        alone, shared = self._long(task.minutes), self._long(task.shared_min)
        two = m.new_bool_var("") if shared else None
        # The solver's own sums, of whatever type.
        lasts: Any = alone if two is None else alone - (alone - shared) * two
        made = _Task(
            task, first, last, m.new_int_var(first, last, ""), lasts, m.new_int_var(first, last, ""),
            m.new_bool_var(""), two,
        )  # fmt: skip
        m.add(made.end == made.start + lasts).only_enforce_if(made.placed)
        for name in self.day.may(task):
            stretches = [s for s in self._free(made, name) if s[1] - s[0] >= self._least(task)]
            if not stretches:
                continue
            does = made.by[name] = m.new_bool_var("")
            inside = self.cp.Domain.from_intervals([list(s) for s in stretches])
            m.add_linear_expression_in_domain(made.start, inside).only_enforce_if(does)
            m.add_linear_expression_in_domain(made.end, inside).only_enforce_if(does)
        more: Any = two if two is not None else 0
        m.add(sum(made.by.values()) == task.hands * made.placed + more)
        if two is not None:
            m.add_implication(two, made.placed)
        return made

    def _free(self, made: _Task, name: str) -> Iterator[tuple[int, int]]:
        """Stretches in which somebody can be at a task's camera, walks to and from it taken off."""
        rig, walks, begins = made.task.rig, self.day.walks, made.first
        for starts, ends, where in self.day.taken[name]:
            there = self._down(starts - timedelta(minutes=walks.get((rig, where), 0.0)))
            yield begins, min(made.last, there)
            begins = max(begins, self._up(ends + timedelta(minutes=walks.get((where, rig), 0.0))))
        yield begins, made.last

    def _one_place(self, name: str) -> None:
        m, reach = self.m, max((t.last for t in self.tasks), default=0)
        mine = [
            m.new_optional_interval_var(t.start, t.lasts, t.end, t.by[name], "") for t in self.tasks if name in t.by
        ]
        for begins, ends in _merged((self._down(a), self._up(b)) for a, b, _ in self.day.taken[name]):
            if ends > 0 and begins < reach:
                mine.append(m.new_fixed_size_interval_var(begins, ends - begins, ""))
        m.add_no_overlap(mine)

    def _chains(self) -> None:
        """At one camera, for one part: built, then cards, then lined up."""
        chains: dict[tuple[str, str], list[_Task]] = {}
        for t in self.tasks:
            if t.task.kind in RANK:
                chains.setdefault((t.task.rig, t.task.part), []).append(t)
        for chain in chains.values():
            for one, other in itertools.permutations(chain, 2):
                if RANK[one.task.kind] < RANK[other.task.kind]:
                    self.m.add(one.end <= other.start).only_enforce_if(one.placed, other.placed)

    def _walks(self) -> None:
        m, walks = self.m, self.day.walks
        for one, other in itertools.combinations(self.tasks, 2):
            there = self._long(walks.get((one.task.rig, other.task.rig), 0.0))
            back = self._long(walks.get((other.task.rig, one.task.rig), 0.0))
            if one.task.rig == other.task.rig or not (there or back):
                continue
            both = one.by.keys() & other.by.keys()
            if not both or one.last + there <= other.first or other.last + back <= one.first:
                continue
            same, before = m.new_bool_var(""), m.new_bool_var("")
            for name in sorted(both):
                m.add_bool_or(one.by[name].negated(), other.by[name].negated(), same)
            m.add(one.end + there <= other.start).only_enforce_if(same, before)
            m.add(other.end + back <= one.start).only_enforce_if(same, before.negated())

    def best(self, search: Search, effort: float) -> list[RunTask]:
        """Fewest without a time, then as late as is safe; from the rule's answer on, so that it is never worse."""
        found = [self.rule[t.key] for t in self.day.tasks]
        hints = self._from_rule()
        missed = sum((_GUARDED if t.task.protected else 1) * (1 - t.placed) for t in self.tasks)
        slack: Any = sum(t.start - t.first if t.task.kind in AFTER else t.last - t.end for t in self.tasks)
        slack += _TWO * sum(t.two for t in self.tasks if t.two is not None)
        slack += _STRANGER * sum(x for t in self.tasks for name, x in t.by.items() if name != self._own(t.task))
        for wish in (missed, slack):
            if search.unwanted():
                search.proven = False
                break
            self.m.minimize(wish)
            status, values = self._run(effort, hints)
            if values is None:
                search.proven = False
                break
            search.proven = search.proven and status == self.cp.OPTIMAL
            hints = dict(enumerate(values))
            found = self._said(values)
            if wish is missed:
                left = sum((_GUARDED if t.task.protected else 1) * (1 - values[t.placed.index]) for t in self.tasks)
                self.m.add(missed <= left)
        return found

    def _own(self, task: RunTask) -> str:
        return next(iter(self.day.may(task)), "")

    def _from_rule(self) -> dict[int, int]:
        hints: dict[int, int] = {}
        for t in self.tasks:
            told = self.rule[t.task.key]
            hints[t.placed.index] = int(told.starts is not None)
            if told.starts is not None and told.ends is not None:
                hints[t.start.index], hints[t.end.index] = self._down(told.starts), self._down(told.ends)
            for name, does in t.by.items():
                hints[does.index] = int(name in told.who)
            if t.two is not None:
                hints[t.two.index] = 0
        return hints

    def _run(self, effort: float, hints: Mapping[int, int]) -> tuple[int, list[int] | None]:
        m = self.m
        m.clear_hints()  # type: ignore[no-untyped-call]
        for index, value in hints.items():
            m.add_hint(m.get_int_var_from_proto_index(index), value)
        solver = self.cp.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 7
        solver.parameters.max_deterministic_time = effort
        status = solver.solve(m)
        found = status in (self.cp.OPTIMAL, self.cp.FEASIBLE)
        return int(status), list(solver.response_proto.solution) if found else None

    def _said(self, values: Sequence[int]) -> list[RunTask]:
        said = list(self.hopeless)
        for t in self.tasks:
            if not values[t.placed.index]:
                told = self.rule[t.task.key]
                said.append(replace(told, starts=None, who=()) if told.starts else told)
                continue
            two = t.two is not None and values[t.two.index] > 0
            who = tuple(name for name, does in t.by.items() if values[does.index])
            said.append(
                replace(
                    t.task,
                    who=who,
                    starts=self.origin + values[t.start.index] * _UNIT,
                    hands=2 if two else t.task.hands,
                    minutes=t.task.shared_min if two else t.task.minutes,
                )
            )
        return said


def _merged(stretches: Iterator[tuple[int, int]]) -> Iterator[tuple[int, int]]:
    """Stretches that touch or overlap made one: somebody who is planned in two places is called out elsewhere."""
    now: tuple[int, int] | None = None
    for begins, ends in sorted(stretches):
        if now and begins <= now[1]:
            now = now[0], max(now[1], ends)
            continue
        if now:
            yield now
        now = begins, ends
    if now:
        yield now
