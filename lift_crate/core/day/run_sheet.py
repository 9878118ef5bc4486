"""The run sheet of a day: what must be done before, between and after its parts, by whom, as late as is safe.

Starts of parts stand fast, and everything is timed back from them: a camera is lined up last, its cards go in before
that, it is built or changed before that. Each task is given, latest first, to whoever may do it and can begin
latest: the camera's own operator, then the others who are free; nobody is in two places, walks are counted.
What no longer fits is told with the minutes that are missing. Minutes; times on the job's clock.
"""

from __future__ import annotations

import itertools
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta
from typing import Literal

from ..callouts import About, Finding, Level
from ..job.job import Job, PartOfDay
from ..rig.build import Build
from ..stand import Stand
from .changeover import Changeover, changeover
from .media import MediaPlan, Piece
from .mic_up import MicUp
from .table import Cell, DayTable, walks_between

__all__ = ["Busy", "RunSheet", "RunTask", "run_sheet", "untimed"]

Kind = Literal["build", "change", "cards", "line up", "close", "mic up", "mic off"]
_MOST_NAMED = 3
_MOST_LATER_MIN, _STEP_MIN = 120, 0.5
"""How much later a part is tried to begin, and in which steps."""
_AFTER: frozenset[Kind] = frozenset({"close", "mic off"})
_APART: frozenset[Kind] = _AFTER | {"mic up"}
_ORDER: tuple[Kind, ...] = ("line up", "cards", "change", "build")
"""Latest first: what comes right before the start, and what comes before that."""


@dataclass(frozen=True, slots=True)
class RunTask:
    """A task: for which camera and part, how long, who does it when; nobody: it does not fit."""

    kind: Kind
    rig: str
    part: str
    minutes: float
    after: datetime
    """It cannot begin before."""
    by: datetime
    """It must be done by then."""
    what: str
    who: tuple[str, ...] = ()
    starts: datetime | None = None
    short_min: float = 0.0
    """How much longer the longest free stretch of those who may do it should be."""
    voice: str = ""
    """Microphones: whose they are; they are put on at no camera."""
    only: str = ""
    """Nobody else may do it."""

    @property
    def ends(self) -> datetime | None:
        """When it is done."""
        return self.starts + timedelta(minutes=self.minutes) if self.starts else None


@dataclass(frozen=True, slots=True)
class Busy:
    """A stretch in which a person works a camera."""

    who: str
    rig: str
    part: str
    starts: datetime
    ends: datetime


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


@dataclass
class _Person:
    """Somebody's time: stretches that are taken, each with the camera where it is."""

    name: str
    taken: list[tuple[datetime, datetime, str]] = field(default_factory=list)


def run_sheet(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    *,
    mics: Sequence[MicUp] = (),
    late: Mapping[str, float] | None = None,
) -> RunSheet:
    """The run sheet of the parts of one day.

    ``mics``: who is to be given microphones that day; ``late``: minutes by which parts end late, by part; the starts
    after them stand fast. Raises ValueError without
    parts.
    """
    if not day:
        raise ValueError("A run sheet needs at least one part of the day.")
    question = _Question(job, table, media, tuple(sorted(day, key=lambda p: p.starts)), late or {}, tuple(mics))
    tasks, busy, people = question.answered()
    missing = [t for t in tasks if t.starts is None]
    open_ = [t for t in missing if t.kind != "mic up"]
    more = (t for t in question.answered(extra=1)[0] if t.kind != "mic up")
    one_more = bool(open_) and all(t.starts is not None for t in more)
    findings = tuple(_findings(question, missing, one_more=one_more))
    return RunSheet(tasks, busy, people, question.call, findings, one_more)


def untimed(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    *,
    mics: Sequence[MicUp] = (),
    late: Mapping[str, float] | None = None,
) -> tuple[RunTask, ...]:
    """The tasks of one day that find no time, as ``run_sheet`` places them, without what would cure it."""
    question = _Question(job, table, media, tuple(sorted(day, key=lambda p: p.starts)), late or {}, tuple(mics))
    tasks, _, _ = question.answered()
    return tuple(task for task in tasks if task.starts is None)


@dataclass(frozen=True)
class _Question:
    """A day to be timed back."""

    job: Job
    table: DayTable
    media: MediaPlan
    day: tuple[PartOfDay, ...]
    late: Mapping[str, float]
    mics: tuple[MicUp, ...] = ()

    @property
    def call(self) -> datetime:
        """When the crew is there."""
        return self.day[0].starts - timedelta(minutes=self.job.settings.call_min)

    def answered(
        self, *, extra: int = 0, begins_later: Mapping[str, float] | None = None, only: str = ""
    ) -> tuple[tuple[RunTask, ...], tuple[Busy, ...], tuple[str, ...]]:
        """Tasks in order of time, who works what, all people; with so many more of them, or parts that begin later.

        ``only``: a part whose tasks alone are placed; those of the others lie in other gaps.
        """
        job, table, later = self.job, self.table, begins_later or {}
        ends = {p.id: p.ends + timedelta(minutes=self.late.get(p.id, 0.0)) for p in self.day}
        starts = {p.id: p.starts + timedelta(minutes=later.get(p.id, 0.0)) for p in self.day}
        walks = walks_between(job)
        dressers = [m.voice.mic_by for m in self.mics if m.voice.mic_by]
        people, busy = _people(job, table, self.day, starts, ends, extra, dressers)
        open_tasks = [
            t for t in _tasks(job, table, self.media, self.day, starts, ends, self.call) if only in ("", t.part)
        ]
        # Microphones have a window of minutes; everything else goes around them.
        worn = [t for t in _mic_tasks(job, self.mics, starts, ends) if only in ("", t.part)]
        done: list[RunTask] = [_placed(t, people, table, walks) for t in worn if t.kind == "mic up"]
        for part in reversed(self.day):
            latest = {cell.rig.id: starts[part.id] for cell in table.cells if cell.part.id == part.id}
            for kind in _ORDER:
                mine = sorted(
                    (t for t in open_tasks if (t.part, t.kind) == (part.id, kind)), key=lambda t: (-t.minutes, t.rig)
                )
                for task in mine:
                    due = replace(task, by=min(task.by, latest[task.rig]))
                    placed = _placed(due, people, table, walks)
                    done.append(placed)
                    latest[task.rig] = placed.starts or due.by
        off = [t for t in worn if t.kind == "mic off"]
        closing = [*off, *(t for t in open_tasks if t.kind == "close")]
        done += [_placed(t, people, table, walks, latest=False) for t in closing]
        done.sort(key=lambda t: (t.starts is None, t.starts or t.by, t.rig))
        return tuple(done), tuple(busy), tuple(p.name for p in people)

    def ready_later_min(self, part: str) -> float | None:
        """By how much later a part would have to begin so that all is ready for it; None within two hours."""

        def ready(minutes: float) -> bool:
            tasks, _, _ = self.answered(begins_later={part: minutes}, only=part)
            return all(t.starts is not None for t in tasks if t.part == part and t.kind not in _APART)

        low, high = 0, int(_MOST_LATER_MIN / _STEP_MIN)
        if not ready(high * _STEP_MIN):
            return None
        while high - low > 1:
            middle = (low + high) // 2
            low, high = (low, middle) if ready(middle * _STEP_MIN) else (middle, high)
        return high * _STEP_MIN


def _people(
    job: Job,
    table: DayTable,
    day: Sequence[PartOfDay],
    begins: Mapping[str, datetime],
    ends: Mapping[str, datetime],
    extra: int,
    dressers: Sequence[str],
) -> tuple[list[_Person], list[Busy]]:
    """Operators in the order of their cameras, then those who make the swaps, then more of them."""
    of_day = [cell for cell in table.cells if any(cell.part.id == p.id for p in day)]
    hands = [*job.charging.people, *(f"person {i + 1}" for i in range(len(job.charging.people), job.charging.hands))]
    names = dict.fromkeys(
        (*(c.operator for c in of_day if c.operator), *hands, *dressers, *(f"extra {i + 1}" for i in range(extra)))
    )
    people = {name: _Person(name) for name in names}
    busy: list[Busy] = []
    until: dict[str, tuple[datetime, str]] = {}
    for cell in sorted(of_day, key=lambda c: (c.part.starts, c.rig.number)):
        if cell.operator:
            # Whoever is held by a part that ends late comes to the next one when it has ended.
            ended, part = until.get(cell.operator, (begins[cell.part.id], cell.part.id))
            starts = max(begins[cell.part.id], ended) if part != cell.part.id else begins[cell.part.id]
            stretch = Busy(cell.operator, cell.rig.id, cell.part.id, starts, max(starts, ends[cell.part.id]))
            until[cell.operator] = stretch.ends, cell.part.id
            busy.append(stretch)
            people[cell.operator].taken.append((stretch.starts, stretch.ends, cell.rig.id))
    for person in people.values():
        person.taken.sort()
    return list(people.values()), busy


def _tasks(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    begins: Mapping[str, datetime],
    ends: Mapping[str, datetime],
    call: datetime,
) -> Iterator[RunTask]:
    """Everything to be done, nobody for it yet."""
    settings = job.settings
    ids = [p.id for p in day]
    betweens = {(b.rig.id, b.after.id): b for b in table.between}
    pieces: dict[tuple[str, str], list[Piece]] = {}
    for line in media.lines:
        # What is changed while it rolls goes in then.
        first = [piece for piece in line.pieces if piece.starts not in line.changes]
        pieces.setdefault((line.rig.id, line.part.id), []).extend(first)
    for rig in job.rigs:
        cells = [c for c in table.cells if c.rig.id == rig.id and c.part.id in ids]
        cells.sort(key=lambda c: c.part.starts)
        before: Cell | None = None
        for cell in cells:
            free, start = ends[before.part.id] if before else call, begins[cell.part.id]
            between = betweens.get((rig.id, cell.part.id))
            if between is None:
                built = _from_bare(cell.build, cell.stand)
                if built.tasks:
                    yield RunTask("build", rig.id, cell.part.id, built.alone_min, free, start, cell.build.label)
            elif between.change.tasks:
                change = between.change
                room = (start - free).total_seconds() / 60
                two = change.alone_min > room
                yield RunTask(
                    "change",
                    rig.id,
                    cell.part.id,
                    change.two_min if two else change.alone_min,
                    free,
                    start,
                    f"{between.was.label} → {between.now.label}" + (", two pairs of hands" if two else ""),
                )
            cards = pieces.get((rig.id, cell.part.id))
            if cards:
                named = ", ".join(p.card or "one missing" for p in cards)
                minutes = settings.card_min * len(cards)
                yield RunTask("cards", rig.id, cell.part.id, minutes, free, start, named)
            # A camera that goes on as it was is lined up already.
            if before is None or (between and between.change.tasks):
                what = "frame, focus, exposure"
                yield RunTask("line up", rig.id, cell.part.id, settings.line_up_min, free, start, what)
            before = cell
        if before:
            last = ends[before.part.id]
            yield RunTask(
                "close",
                rig.id,
                before.part.id,
                settings.close_min,
                last,
                last + timedelta(minutes=settings.call_min),
                "stop, cards out, packs out, off",
            )


def _mic_tasks(
    job: Job, mics: Sequence[MicUp], begins: Mapping[str, datetime], ends: Mapping[str, datetime]
) -> Iterator[RunTask]:
    """Microphones on, in their window before the part, and off again after the last."""
    settings = job.settings
    for mic in mics:
        start, last = begins[mic.part.id], ends[mic.off.id]
        sources = ", ".join(source.label for source in mic.voice.worn)
        yield RunTask(
            "mic up",
            "",
            mic.part.id,
            mic.minutes,
            start - timedelta(minutes=settings.mic_up_from_min),
            start - timedelta(minutes=settings.mic_up_by_min),
            f"{sources}{f', {mic.voice.mic_at}' if mic.voice.mic_at else ''}",
            voice=mic.voice.label,
            only=mic.voice.mic_by,
        )
        yield RunTask(
            "mic off",
            "",
            mic.off.id,
            settings.mic_off_min * len(mic.voice.worn),
            last,
            last + timedelta(minutes=settings.call_min),
            f"{sources}, switched off and counted",
            voice=mic.voice.label,
        )


def _from_bare(build: Build, stand: Stand) -> Changeover:
    """Everything onto the bare body, nothing made ready before."""
    bare = Build(id=build.id, label=build.label, body=build.body)
    return changeover(bare, stand, 0.0, others={unit: ("", 0.0) for unit in build.units if unit != build.body})


def _may(task: RunTask, people: Sequence[_Person], table: DayTable) -> list[_Person]:
    """Who may do it, the camera's own operator first; lining up is the operator's own, where there is one, and
    microphones are put on by whom it was said.
    """
    if task.only:
        return [p for p in people if p.name == task.only]
    of_rig = [c for c in table.cells if c.rig.id == task.rig and c.operator]
    own = next((c.operator for c in of_rig if c.part.id == task.part), of_rig[0].operator if of_rig else "")
    mine = [p for p in people if p.name == own]
    if task.kind == "line up" and mine:
        return mine
    return [*mine, *(p for p in people if p.name != own)]


def _placed(
    task: RunTask,
    people: Sequence[_Person],
    table: DayTable,
    walks: Mapping[tuple[str, str], float],
    *,
    latest: bool = True,
) -> RunTask:
    """The task with those who do it, as late as it may be (or as soon); left open where nobody can."""
    wanted = 2 if task.what.endswith("two pairs of hands") else 1
    best: tuple[datetime, tuple[_Person, ...]] | None = None
    may = _may(task, people, table)
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
