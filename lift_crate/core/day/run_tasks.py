"""What must be done on a day before, between and after its parts: tasks with their windows, and whose time there is.

Nobody has them yet: ``run_sheet`` places them by rule, ``run_solver`` by search. Minutes; times on the job's clock.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta
from typing import Literal

from ..job.job import Job, PartOfDay
from ..rig.build import Build
from ..stand import Stand
from .changeover import Changeover, changeover
from .media import MediaPlan, Piece
from .mic_up import MicUp
from .table import Cell, DayTable, walks_between

__all__ = ["AFTER", "RANK", "Busy", "OpenDay", "RunTask", "SwapDue", "from_bare", "open_day", "swap_tasks"]

Kind = Literal["build", "change", "cards", "line up", "close", "mic up", "mic off", "swap"]
AFTER: frozenset[Kind] = frozenset({"close", "mic off"})
"""What is done when a part has ended, as soon as may be; everything else as late as is safe."""
RANK: Mapping[Kind, int] = {"build": 0, "change": 0, "cards": 1, "line up": 2}
"""In which order things are done at one camera for one part."""


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
    """What it is done to, where that is no camera or only a part of one: whose microphones, which place for a pack."""
    only: str = ""
    """Nobody else may do it."""
    hands: int = 1
    """How many people do it together."""
    shared_min: float = 0.0
    """How long two people take; 0: it is for one."""
    protected: bool = False
    """Its part of the day is cut last."""

    @property
    def ends(self) -> datetime | None:
        """When it is done."""
        return self.starts + timedelta(minutes=self.minutes) if self.starts else None

    @property
    def key(self) -> tuple[str, str, str, str]:
        """What it is, whoever does it and whenever."""
        return self.kind, self.rig, self.part, self.voice

    @property
    def told(self) -> str:
        """What is done, and by how many."""
        return f"{self.what}, two pairs of hands" if self.hands > 1 else self.what


@dataclass(frozen=True, kw_only=True)
class SwapDue:
    """A swap of packs as it stands on the swap card: when, at which camera (or none), what of it, by whom."""

    at: datetime
    rig: str
    place: str
    what: str
    who: str


@dataclass(frozen=True, slots=True)
class Busy:
    """A stretch in which a person works a camera."""

    who: str
    rig: str
    part: str
    starts: datetime
    ends: datetime


@dataclass(frozen=True, eq=False)
class OpenDay:
    """A day's tasks with nobody to do them yet; what is done already; everybody's time that is taken."""

    parts: tuple[PartOfDay, ...]
    starts: Mapping[str, datetime]
    tasks: tuple[RunTask, ...]
    kept: tuple[RunTask, ...]
    busy: tuple[Busy, ...]
    taken: Mapping[str, tuple[tuple[datetime, datetime, str], ...]]
    """By person, in the order in which they are asked: stretches at a camera."""
    walks: Mapping[tuple[str, str], float]
    own: Mapping[tuple[str, str], str]
    """By camera and part: who works it, in the part itself or else in the first in which somebody does."""

    def may(self, task: RunTask) -> tuple[str, ...]:
        """Who may do it, the camera's own operator first; lining up is the operator's own, where there is one, and
        microphones are put on by whom it was said.
        """
        if task.only:
            return tuple(name for name in self.taken if name == task.only)
        own = self.own.get((task.rig, task.part), "")
        if own in self.taken:
            if task.kind == "line up":
                return (own,)
            return (own, *(name for name in self.taken if name != own))
        return tuple(self.taken)


def open_day(
    job: Job,
    table: DayTable,
    media: MediaPlan,
    day: Sequence[PartOfDay],
    mics: Sequence[MicUp],
    *,
    call: datetime,
    late: Mapping[str, float] | None = None,
    begins_later: Mapping[str, float] | None = None,
    extra: int = 0,
    kept: Sequence[RunTask] = (),
    fixed: Sequence[RunTask] = (),
    now: datetime | None = None,
) -> OpenDay:
    """The tasks of the parts of one day, in order of time.

    ``late``, ``begins_later``: minutes by which parts end and begin late, by part; ``extra``: so many people more;
    ``kept``: tasks that are done or begun; nothing else is done before ``now`` for parts that begin after it;
    ``fixed``: tasks whose time and people stand.
    """
    ends = {p.id: p.ends + timedelta(minutes=(late or {}).get(p.id, 0.0)) for p in day}
    starts = {p.id: p.starts + timedelta(minutes=(begins_later or {}).get(p.id, 0.0)) for p in day}
    dressers = [m.voice.mic_by for m in mics if m.voice.mic_by]
    names, busy = _people(job, table, day, starts, ends, extra, dressers)
    taken: dict[str, list[tuple[datetime, datetime, str]]] = {name: [] for name in names}
    for stretch in busy:
        taken[stretch.who].append((stretch.starts, stretch.ends, stretch.rig))
    for task in (*kept, *fixed):
        for name in task.who:
            if task.starts and task.ends:
                taken.setdefault(name, []).append((task.starts, task.ends, task.rig))
    guarded = {p.id for p in day if p.conditions.protected}
    done = {task.key for task in kept}
    tasks = [
        _bounded(task, kept, now if now and starts[task.part] > now else None, protected=task.part in guarded)
        for task in (
            *_tasks(job, table, media, day, starts, ends, call),
            *_mic_tasks(job, mics, starts, ends),
        )
        if task.key not in done
    ]
    return OpenDay(
        tuple(day),
        starts,
        tuple(tasks),
        (*kept, *fixed),
        tuple(busy),
        {name: tuple(sorted(stretches)) for name, stretches in taken.items()},
        walks_between(job),
        _operators(table),
    )


def _bounded(task: RunTask, kept: Sequence[RunTask], now: datetime | None, *, protected: bool) -> RunTask:
    """Not before now, and before whatever is done already at that camera and comes after it."""
    if task.kind in AFTER:
        return replace(task, protected=protected)
    later = [
        done.starts
        for done in kept
        if (done.rig, done.part) == (task.rig, task.part)
        and done.starts
        and RANK.get(done.kind, 0) > RANK.get(task.kind, 0)
    ]
    after = max(task.after, now) if now else task.after
    return replace(task, after=after, by=min([task.by, *later]), protected=protected)


def _operators(table: DayTable) -> dict[tuple[str, str], str]:
    first: dict[str, str] = {}
    for cell in table.cells:
        if cell.operator:
            first.setdefault(cell.rig.id, cell.operator)
    return {(c.rig.id, c.part.id): c.operator or first.get(c.rig.id, "") for c in table.cells}


def _people(
    job: Job,
    table: DayTable,
    day: Sequence[PartOfDay],
    begins: Mapping[str, datetime],
    ends: Mapping[str, datetime],
    extra: int,
    dressers: Sequence[str],
) -> tuple[tuple[str, ...], list[Busy]]:
    """Operators in the order of their cameras, then those who make the swaps, then more of them."""
    of_day = [cell for cell in table.cells if any(cell.part.id == p.id for p in day)]
    hands = [*job.charging.people, *(f"person {i + 1}" for i in range(len(job.charging.people), job.charging.hands))]
    names = dict.fromkeys(
        (
            *(who for c in of_day for who in (c.operator, c.spotter) if who),
            *hands,
            *dressers,
            *(f"extra {i + 1}" for i in range(extra)),
        )
    )
    busy: list[Busy] = []
    until: dict[str, tuple[datetime, str]] = {}
    for cell in sorted(of_day, key=lambda c: (c.part.starts, c.rig.number)):
        for who in filter(None, (cell.operator, cell.spotter)):
            # Whoever is held by a part that ends late comes to the next one when it has ended.
            ended, part = until.get(who, (begins[cell.part.id], cell.part.id))
            starts = max(begins[cell.part.id], ended) if part != cell.part.id else begins[cell.part.id]
            stretch = Busy(who, cell.rig.id, cell.part.id, starts, max(starts, ends[cell.part.id]))
            until[who] = stretch.ends, cell.part.id
            busy.append(stretch)
    return tuple(names), busy


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
                built = from_bare(cell.build, cell.stand)
                if built.tasks:
                    what = cell.build.label
                    shared = built.two_min
                    yield RunTask("build", rig.id, cell.part.id, built.alone_min, free, start, what, shared_min=shared)
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
                    f"{between.was.label} → {between.now.label}",
                    hands=2 if two else 1,
                    shared_min=0.0 if two else change.two_min,
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


def swap_tasks(job: Job, day: Sequence[PartOfDay], swaps: Sequence[SwapDue]) -> tuple[RunTask, ...]:
    """The swaps of a day as tasks that have their time and their person already; each for the part in which it is
    made, or that comes next.
    """
    found = []
    lasts = timedelta(minutes=job.charging.swap_min)
    for swap in swaps:
        part = next((p for p in day if swap.at < p.ends), None)
        if part and swap.at >= day[0].starts - timedelta(minutes=job.settings.call_min):
            ends = swap.at + lasts
            found.append(
                RunTask(
                    "swap",
                    swap.rig,
                    part.id,
                    job.charging.swap_min,
                    swap.at,
                    ends,
                    swap.what,
                    who=(swap.who,) if swap.who else (),
                    starts=swap.at,
                    voice=swap.place,
                )
            )
    return tuple(found)


def from_bare(build: Build, stand: Stand) -> Changeover:
    """Everything onto the bare body, nothing made ready before."""
    bare = Build(id=build.id, label=build.label, body=build.body)
    return changeover(bare, stand, 0.0, others={unit: ("", 0.0) for unit in build.units if unit != build.body})
