"""The run sheet of a day: what must be done before, between and after its parts, by whom, as late as is safe.

Starts of parts stand fast, and everything is timed back from them: a camera is lined up last, its cards go in before
that, it is built or changed before that. By rule each task is given, latest first, to whoever may do it and can
begin latest: the camera's own operator, then the others who are free; nobody is in two places, walks are counted.
What no longer fits is told with the minutes that are missing. ``run_solver`` searches for better than the rule.
When a part ends late, what has begun by the time it should have ended stays as it was.
Minutes; times on the job's clock. Formulas: docs/formulas.md §11, 'Run sheet'.
"""

from __future__ import annotations

import itertools
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta, tzinfo

from ..callouts import About, Finding, Level
from ..job.job import Job, PartOfDay
from .media import MediaPlan
from .mic_up import MicUp
from .run_tasks import AFTER, Busy, Kind, OpenDay, RunTask, SwapDue, open_day, swap_tasks
from .table import DayTable

__all__ = ["Busy", "Placing", "RunSheet", "RunTask", "by_rule", "run_sheet", "untimed"]

_MOST_NAMED = 3
_MOST_LATER_MIN, _STEP_MIN = 120, 0.5
"""How much later a part is tried to begin, and in which steps."""
_APART: frozenset[Kind] = AFTER | {"mic up"}
_ORDER: tuple[Kind, ...] = ("line up", "cards", "change", "build")
"""Latest first: what comes right before the start, and what comes before that."""

Placing = Callable[[OpenDay], tuple[RunTask, ...]]
"""Gives tasks people and times, and leaves open those for which there are none."""


@dataclass(frozen=True, slots=True)
class RunSheet:
    """A day's tasks in order of time, those that do not fit last; who works what meanwhile; what stands against it."""

    tasks: tuple[RunTask, ...]
    busy: tuple[Busy, ...]
    people: tuple[str, ...]
    call: datetime
    """When the crew is there."""
    findings: tuple[Finding, ...]
    one_more: bool
    """With one more person everything fits, where something does not."""
    stands_until: datetime | None = None
    """What had begun by then stays as it was, for a part that ends late."""

    def in_zone(self, clock: tzinfo) -> RunSheet:
        """The same, told in another time zone."""
        return replace(
            self,
            tasks=tuple(
                replace(
                    t,
                    after=t.after.astimezone(clock),
                    by=t.by.astimezone(clock),
                    starts=t.starts.astimezone(clock) if t.starts else None,
                )
                for t in self.tasks
            ),
            busy=tuple(replace(b, starts=b.starts.astimezone(clock), ends=b.ends.astimezone(clock)) for b in self.busy),
            call=self.call.astimezone(clock),
            stands_until=self.stands_until.astimezone(clock) if self.stands_until else None,
        )


@dataclass
class _Person:
    """Somebody's time: stretches that are taken, each with the camera where it is."""

    name: str
    taken: list[tuple[datetime, datetime, str]] = field(default_factory=list)


def by_rule(day: OpenDay, only: str = "") -> tuple[RunTask, ...]:
    """All tasks of a day, each to whoever can begin latest, those that are kept among them.

    ``only``: a part whose tasks alone are placed; those of the others lie in other gaps.
    """
    people = [_Person(name, list(taken)) for name, taken in day.taken.items()]
    wanted = [t for t in day.tasks if only in ("", t.part)]
    # Microphones have a window of minutes; everything else goes around them.
    done = [*day.kept, *(_placed(t, people, day) for t in wanted if t.kind == "mic up")]
    for part in reversed(day.parts):
        latest: dict[str, datetime] = {t.rig: day.starts[part.id] for t in wanted if t.part == part.id}
        for kind in _ORDER:
            mine = sorted((t for t in wanted if (t.part, t.kind) == (part.id, kind)), key=lambda t: (-t.minutes, t.rig))
            for task in mine:
                due = replace(task, by=min(task.by, latest[task.rig]))
                placed = _placed(due, people, day)
                done.append(placed)
                latest[task.rig] = placed.starts or due.by
    closing = sorted((t for t in wanted if t.kind in AFTER), key=lambda t: t.kind != "mic off")
    done += [_placed(t, people, day, latest=False) for t in closing]
    return in_order(done)


def in_order(tasks: Sequence[RunTask]) -> tuple[RunTask, ...]:
    """Tasks by time, those that found none last."""
    return tuple(sorted(tasks, key=lambda t: (t.starts is None, t.starts or t.by, t.rig, t.kind, t.voice)))


def run_sheet(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    *,
    mics: Sequence[MicUp] = (),
    swaps: Sequence[SwapDue] = (),
    late: Mapping[str, float] | None = None,
    placing: Placing = by_rule,
) -> RunSheet:
    """The run sheet of the parts of one day.

    ``mics``: who is to be given microphones that day; ``swaps``: the day's swap card; ``late``: minutes by which parts
    end late, by part; the starts after them stand fast; ``placing``: how tasks find people and times. Raises ValueError
    without parts.
    """
    if not day:
        raise ValueError("A run sheet needs at least one part of the day.")
    question = _question(job, table, media, day, mics, swaps, late, placing)
    opened = question.opened()
    tasks = placing(opened)
    missing = [t for t in tasks if t.starts is None]
    open_ = [t for t in missing if t.kind != "mic up"]
    one_more = False
    if open_:
        more = by_rule(question.opened(extra=1))
        one_more = all(t.starts is not None for t in more if t.kind != "mic up")
    findings = tuple(_findings(question, missing, one_more=one_more))
    return RunSheet(tasks, opened.busy, tuple(opened.taken), question.call, findings, one_more, question.now)


def untimed(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    *,
    mics: Sequence[MicUp] = (),
    swaps: Sequence[SwapDue] = (),
    late: Mapping[str, float] | None = None,
) -> tuple[RunTask, ...]:
    """The tasks of one day that find no time by rule, without what would cure it."""
    opened = _question(job, table, media, day, mics, swaps, late, by_rule).opened()
    return tuple(task for task in by_rule(opened) if task.starts is None)


@dataclass(frozen=True)
class _Question:
    """A day to be timed back."""

    job: Job
    table: DayTable
    media: MediaPlan
    day: tuple[PartOfDay, ...]
    late: Mapping[str, float]
    mics: tuple[MicUp, ...] = ()
    fixed: tuple[RunTask, ...] = ()
    kept: tuple[RunTask, ...] = ()
    now: datetime | None = None

    @property
    def call(self) -> datetime:
        """When the crew is there."""
        return self.day[0].starts - timedelta(minutes=self.job.settings.call_min)

    def opened(self, *, extra: int = 0, begins_later: Mapping[str, float] | None = None) -> OpenDay:
        """Its tasks; with so many people more, or parts that begin later."""
        return open_day(
            self.job,
            self.table,
            self.media,
            self.day,
            self.mics,
            call=self.call,
            late=self.late,
            begins_later=begins_later,
            extra=extra,
            kept=self.kept,
            fixed=self.fixed,
            now=self.now,
        )

    def ready_later_min(self, part: str) -> float | None:
        """By how much later a part would have to begin so that all is ready for it; None within two hours."""

        def ready(minutes: float) -> bool:
            tasks = by_rule(self.opened(begins_later={part: minutes}), part)
            return all(t.starts is not None for t in tasks if t.part == part and t.kind not in _APART)

        low, high = 0, int(_MOST_LATER_MIN / _STEP_MIN)
        if not ready(high * _STEP_MIN):
            return None
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if ready(middle * _STEP_MIN) else (middle, high)
        return high * _STEP_MIN


def _question(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    mics: Sequence[MicUp],
    swaps: Sequence[SwapDue],
    late: Mapping[str, float] | None,
    placing: Placing,
) -> _Question:
    parts = tuple(sorted(day, key=lambda p: p.starts))
    planned = _Question(job, table, media, parts, {}, tuple(mics), swap_tasks(job, parts, swaps))
    known = [p.ends for p in parts if (late or {}).get(p.id, 0.0) > 0]
    if not known:
        return planned
    # Nobody knew before the part should have ended: what had begun by then goes on as it was planned.
    now = min(known)
    begun = tuple(
        t for t in placing(planned.opened()) if t.starts and t.starts < now and t.kind not in AFTER | {"swap"}
    )
    return replace(planned, late=late or {}, kept=begun, now=now)


def _placed(
    task: RunTask,
    people: Sequence[_Person],
    day: OpenDay,
    *,
    latest: bool = True,
) -> RunTask:
    """The task with those who do it, as late as it may be (or as soon); left open where nobody can."""
    wanted, walks, order = task.hands, day.walks, day.may(task)
    best: tuple[datetime, tuple[_Person, ...]] | None = None
    may = sorted((p for p in people if p.name in order), key=lambda p: order.index(p.name))
    alone = {p.name: _start(task, p, walks, task.by, latest=latest) for p in may}
    can = [p for p in may if alone[p.name] is not None]
    for who in itertools.combinations(can, wanted):
        if best and latest and min(alone[p.name] or best[0] for p in who) <= best[0]:
            continue
        at = alone[who[0].name] if wanted == 1 else _together(task, who, walks, latest=latest)
        if at is not None and (best is None or (at > best[0] if latest else at < best[0])):
            best = at, who
    if best is None:
        longest = max((_longest_min(task, person, walks) for person in may), default=0.0)
        return replace(task, short_min=max(0.0, task.minutes - longest))
    at, who = best
    for person in who:
        person.taken.append((at, at + timedelta(minutes=task.minutes), task.rig))
        person.taken.sort()
    return replace(task, starts=at, who=tuple(p.name for p in who))


def _gaps(
    task: RunTask, person: _Person, walks: Mapping[tuple[str, str], float], until: datetime
) -> Iterator[tuple[datetime, datetime]]:
    """Stretches in which somebody can be at the task's camera, latest first."""
    taken = person.taken
    for i in range(len(taken), -1, -1):
        begins, ends = task.after, until
        if i:
            before = taken[i - 1]
            if before[0] >= until:
                continue
            begins = max(begins, before[1] + timedelta(minutes=walks.get((before[2], task.rig), 0.0)))
        if i < len(taken):
            after = taken[i]
            if after[0] <= task.after:
                return
            ends = min(ends, after[0] - timedelta(minutes=walks.get((task.rig, after[2]), 0.0)))
        if begins <= ends:
            yield begins, ends


def _start(
    task: RunTask, person: _Person, walks: Mapping[tuple[str, str], float], until: datetime, *, latest: bool
) -> datetime | None:
    need = timedelta(minutes=task.minutes)
    found = None
    for begins, ends in _gaps(task, person, walks, until):
        if ends - begins >= need:
            if latest:
                return ends - need
            found = begins
    return found


def _together(
    task: RunTask, who: Sequence[_Person], walks: Mapping[tuple[str, str], float], *, latest: bool
) -> datetime | None:
    """When all of them can, latest or soonest: whoever cannot so late moves all of them earlier."""
    until = task.by
    if not latest:
        return _start(task, who[0], walks, until, latest=False)
    while True:
        starts = [_start(task, person, walks, until, latest=True) for person in who]
        known = [at for at in starts if at is not None]
        if len(known) < len(who):
            return None
        if min(known) == max(known):
            return known[0]
        until = min(known) + timedelta(minutes=task.minutes)


def _longest_min(task: RunTask, person: _Person, walks: Mapping[tuple[str, str], float]) -> float:
    return max(
        ((ends - begins).total_seconds() / 60 for begins, ends in _gaps(task, person, walks, task.by)), default=0.0
    )


def _findings(question: _Question, missing: Sequence[RunTask], *, one_more: bool) -> Iterator[Finding]:
    """One for every part that something is not ready for."""
    for part in question.day:
        mine = [t for t in missing if t.part == part.id and t.kind not in _APART]
        yield from _overrun(question, part)
        yield from _not_worn([t for t in missing if (t.part, t.kind) == (part.id, "mic up")], part)
        if not mine:
            continue
        later = question.ready_later_min(part.id)
        named = ", ".join(f"{t.kind} of {t.voice or question.job.rig(t.rig).label}" for t in mine[:_MOST_NAMED])
        more = f" and {len(mine) - _MOST_NAMED} more" if len(mine) > _MOST_NAMED else ""
        when = "in two hours neither" if later is None else f"{later:g} min later it would be"
        yield Finding(
            code="day.no_time",
            level=Level.STOP,
            about=About(units=(f"run {part.id}",)),
            value=later,
            limit=0.0,
            unit="min",
            text=f"Not ready when {part.label} begins at {part.starts:%H:%M}; {when}. Missing: {named}{more}."
            + (" It is to be cut last." if part.conditions.protected else "")
            + (" With one more person everything fits." if one_more else ""),
        )


def _not_worn(missing: Sequence[RunTask], part: PartOfDay) -> Iterator[Finding]:
    """Microphones for which there is nobody in their window; a later start moves that along, and cures nothing."""
    by: dict[str, list[RunTask]] = {}
    for task in missing:
        by.setdefault(task.only, []).append(task)
    for who, tasks in by.items():
        named = " and ".join(t.voice for t in tasks)
        window, short = (tasks[0].by - tasks[0].after).total_seconds() / 60, max(t.short_min for t in tasks)
        yield Finding(
            code="day.no_time",
            level=Level.STOP,
            about=About(units=(f"run {part.id}", f"mic up {who}")),
            value=short,
            limit=0.0,
            unit="min",
            text=f"{named} without microphones when {part.label} begins at {part.starts:%H:%M}:"
            f" {who or 'whoever is free'} is {short:g} min short in the {window:g} min before"
            f" {tasks[0].by:%H:%M}. Another pair of hands for one of them, or a wider window.",
        )


def _overrun(question: _Question, part: PartOfDay) -> Iterator[Finding]:
    """A part that begins before the one before it has ended."""
    before = [p for p in question.day if p.starts < part.starts]
    if not before:
        return
    by = (before[-1].ends - part.starts).total_seconds() / 60 + question.late.get(before[-1].id, 0.0)
    if by > 0:
        yield Finding(
            code="day.no_time",
            level=Level.STOP,
            about=About(units=(f"run {part.id}", before[-1].id)),
            value=by,
            limit=0.0,
            unit="min",
            text=f"{part.label} begins at {part.starts:%H:%M}, {by:g} min before {before[-1].label} has ended.",
        )
