"""Cards over the day: what every recorder writes, which card goes in which slot, when it is full, how long the
copies take.

1 GB = 10⁹ B, 1 Mb = 10⁶ bit; a card holds 93 % of what is printed on it. A card is used once a day: it is not wiped
before its copies are confirmed. Formulas: docs/formulas.md §10, 'Cards'.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Literal

from ..callouts import About, Finding, Input, Level, Working
from ..gear.recording import CardData, CardSlot, RecordingMode
from ..job.job import Job, OutElsewhere, PartOfDay, Rig
from ..lens.coverage import exposure_of
from ..lens.together import modes_of
from ..recent import Recent
from ..rig.build import Build, Catalogue, Unit

__all__ = ["PLACES", "CardLine", "Copies", "MediaPlan", "Piece", "gb_of", "media_plan", "minutes_on"]

USABLE = 0.93
"""Share of a card's printed size that can be written."""
_MOVING = ("walking", "running", "vehicle")
Scheme = Literal["single", "mirrored", "relay"]
PLACES = 3
"""Copies of everything that there are before a card is wiped."""
_DOUBTFUL, _SHORT, _ONCE_ONLY, _NEVER = 20_000, 10**9, 10**10, 10**12
"""What it costs in the dealing, beside GB, to give a doubtful card, to have none for a piece, to have none for what
cannot be repeated, to give one that does not do.
"""


_recent: Recent[tuple[Catalogue, list[tuple[Unit, CardData]]]] = Recent(32)
"""The shelf goes by identity; what is kept holds it, so that an identity stays its own."""


def minutes_on(gb: float, mbit_s: float) -> float:
    """Minutes that a card holds: 512 GB at 480 Mb/s are 132.27."""
    return gb * 1e9 * USABLE * 8 / (mbit_s * 1e6) / 60


def gb_of(minutes: float, mbit_s: float) -> float:
    """What so many minutes take, GB: 90 at 480 Mb/s are 324."""
    return minutes * 60 * mbit_s * 1e6 / 8 / 1e9


@dataclass(frozen=True, slots=True)
class Piece:
    """What goes on one card: in which slot, how much, from when; no card: one is missing."""

    slot: str
    gb: float
    starts: datetime
    card: str | None = None
    share: float = 0.0
    """Of what the card holds that it will hold."""


@dataclass(frozen=True, slots=True)
class CardLine:
    """A recorder in a part of the day: its mode, how its slots share the work, and its cards."""

    rig: Rig
    part: PartOfDay
    unit: str
    mode: RecordingMode
    takes: str
    scheme: Scheme
    minutes: float
    gb: float
    """On each side of a mirror, else in all."""
    pieces: tuple[Piece, ...]
    changes: tuple[datetime, ...]
    """When somebody must change a card."""
    drive: str = ""
    """It records onto this drive of its build, on a lead."""
    stands: bool = True
    """The camera stands still while it does."""

    @property
    def once_only(self) -> bool:
        """Whether what it records could not be done again."""
        return not self.part.conditions.repeatable


@dataclass(frozen=True, slots=True)
class Copies:
    """The copies of a day: how much, how long on the readers there are, by when, and whether the drives hold it."""

    day: date
    gb: float
    minutes: float
    ready: datetime | None
    """None without a reader or a drive."""
    readers: int
    drive_gb: float
    wanted_gb: float


@dataclass(frozen=True, slots=True)
class MediaPlan:
    """All cards of a job, dealt."""

    lines: tuple[CardLine, ...]
    copies: tuple[Copies, ...]
    findings: tuple[Finding, ...]


def media_plan(job: Job, catalogue: Catalogue, out: OutElsewhere | None = None) -> MediaPlan:
    """Deal the cards of the shelf to every recorder of every day, and see what stands against it.

    ``out``: what other jobs have then, cards with their footage among it.
    """
    lines = list(_all_lines(job, catalogue))
    days: dict[date, list[CardLine]] = defaultdict(list)
    for line in lines:
        days[line.part.starts.date()].append(line)
    of_day = {part.id: part.starts.date() for part in job.parts}
    away: dict[date, set[str]] = defaultdict(set)
    for part, unit in out or ():
        if part in of_day:
            away[of_day[part]].add(unit)
    dealt = [line for at, day in days.items() for line in _dealt(day, catalogue, job, away[at])]
    copies = tuple(_copies(day, [x for x in dealt if x.part.starts.date() == day], catalogue) for day in days)
    findings = [f for line in dealt for f in _findings(line, catalogue, job)]
    findings += [f for c in copies for f in _copy_findings(c, job)]
    findings.sort(key=lambda f: (-f.level, f.code, f.about.units))
    return MediaPlan(tuple(dealt), copies, tuple(findings))


def _all_lines(job: Job, catalogue: Catalogue) -> Iterator[CardLine]:
    for part in sorted(job.parts, key=lambda p: p.starts):
        for rig, build in job.builds_in(part.id).values():
            yield from _lines(job, catalogue, part, rig, build)


def _lines(job: Job, catalogue: Catalogue, part: PartOfDay, rig: Rig, build: Build) -> Iterator[CardLine]:
    """Recorders of a build with slots and a mode that fits how they are set, the cards still open."""
    minutes = (part.ends - part.starts).total_seconds() / 60 * part.conditions.rolling
    for unit in build.units:
        model = catalogue.model_of(unit)
        data = model.recording
        if data is None or not data.slots or not data.modes or minutes <= 0:
            continue
        mode = _mode(job, catalogue, build, unit)
        kinds = defaultdict(list)
        for slot in data.slots:
            if not mode.takes or slot.takes in mode.takes:
                kinds[slot.takes].append(slot.id)
        drive = _drive_of(catalogue, build, kinds)
        if drive:
            takes = _card_of(catalogue, drive).slot
            gb = gb_of(minutes, mode.mbit_s)
            share = gb / ((_card_of(catalogue, drive).gb or math.inf) * USABLE)
            piece = Piece(kinds[takes][0], gb, part.starts, drive, share)
            yield CardLine(
                rig,
                part,
                unit,
                mode,
                takes,
                "single",
                minutes,
                gb,
                (piece,),
                (),
                drive,
                _stands(job, catalogue, part, rig, build),
            )
            continue
        takes, slots = max(kinds.items(), key=lambda pair: len(pair[1]))
        usual: Scheme = "relay" if part.conditions.repeatable else "mirrored"
        scheme: Scheme = "single" if len(slots) < 2 else job.cell(part.id, rig.id).scheme or usual
        if scheme == "single":
            slots = slots[:1]
        yield CardLine(
            rig, part, unit, mode, takes, scheme, minutes, gb_of(minutes, mode.mbit_s), tuple(_open(slots, part)), ()
        )


def _drive_of(catalogue: Catalogue, build: Build, kinds: Mapping[str, Sequence[str]]) -> str:
    """The drive that is on the rig and goes into a slot of the recorder; empty: none is."""
    return next(
        (u for u in build.units if _is_drive(catalogue, catalogue.unit(u)) and _card_of(catalogue, u).slot in kinds), ""
    )


def _card_of(catalogue: Catalogue, unit: str) -> CardData:
    return catalogue.model_of(unit).card or CardData(slot=unit)


def _stands(job: Job, catalogue: Catalogue, part: PartOfDay, rig: Rig, build: Build) -> bool:
    """Whether a rig stands still: on a head or a mount, nobody walks with it, and nothing drives it."""
    target = job.target_of(rig, part.id)
    if build.use in _MOVING or (target and target.speed_m_s > 0):
        return False
    supports = {model.support.kind for u in build.units if (model := catalogue.model_of(u)).support}
    return bool(supports & {"head", "mount"}) and "gimbal" not in supports


def _mode(job: Job, catalogue: Catalogue, build: Build, unit: str) -> RecordingMode:
    """The mode that area and rate as they are set lead to, else the usual one."""
    model, setting = catalogue.model_of(unit), build.setting_of(unit)
    modes = model.recording.modes if model.recording else ()
    area = setting.area or (model.body.areas[0].id if model.body and model.body.areas else "")
    fps, _, _ = exposure_of(setting, job.settings)
    return next(iter(modes_of(modes, area, fps)), modes[0])


def _open(slots: Sequence[str], part: PartOfDay) -> Iterator[Piece]:
    yield from (Piece(slot, 0.0, part.starts) for slot in slots)


def _cards(catalogue: Catalogue, takes: str, away: Collection[str] = ()) -> list[tuple[Unit, CardData]]:
    """Cards of a kind that may be used and are not away, sound ones first, then by size and label."""
    found = _recent.of((id(catalogue), takes), lambda: (catalogue, _found_cards(catalogue, takes)))[1]
    return [pair for pair in found if pair[0].id not in away] if away else found


def _found_cards(catalogue: Catalogue, takes: str) -> list[tuple[Unit, CardData]]:
    found = []
    for unit in catalogue.shelf:
        data = catalogue.model_of(unit.id).card
        if (
            data
            and data.gb
            and data.slot == takes
            and unit.condition != "out of use"
            and not _is_drive(catalogue, unit)
        ):
            found.append((unit, data))
    return sorted(found, key=lambda pair: (pair[0].condition != "good", pair[1].gb or 0, pair[0].id))


def _is_drive(catalogue: Catalogue, unit: Unit) -> bool:
    return catalogue.model_of(unit.id).kind == "drive"


def _dealt(lines: Sequence[CardLine], catalogue: Catalogue, job: Job, away: Collection[str]) -> list[CardLine]:
    """The lines of a day with their pieces and cards: each card once, the smallest that will do, as many pieces
    with a card as there can be, those that cannot be repeated first.
    """
    cut = [line if line.drive else _cut(line, catalogue, job) for line in lines]
    given: dict[tuple[int, int], tuple[str, float]] = {}
    for takes in dict.fromkeys(line.takes for line in cut if not line.drive):
        cards = _cards(catalogue, takes, away)
        wanted = [(i, j) for i, line in enumerate(cut) if line.takes == takes for j in range(len(line.pieces))]
        if not cards or not wanted:
            continue
        costs = [
            [_cost(cut[i], cut[i].pieces[j], unit, data, job) * 1000 + n for n, (unit, data) in enumerate(cards)]
            for i, j in wanted
        ]
        without = [(_ONCE_ONLY if cut[i].once_only else _SHORT) * 1000 for i, _ in wanted]
        for (i, j), column in zip(wanted, _assigned(costs, without), strict=True):
            if column is not None:
                unit, data = cards[column]
                given[i, j] = unit.id, cut[i].pieces[j].gb / ((data.gb or math.inf) * USABLE)
    given = _in_order(given, catalogue)
    dealt = [
        replace(
            line,
            pieces=tuple(
                replace(piece, card=given[i, j][0], share=given[i, j][1]) if (i, j) in given else piece
                for j, piece in enumerate(line.pieces)
            ),
        )
        for i, line in enumerate(cut)
    ]
    left = {takes: _cards(catalogue, takes, away) for takes in {line.takes for line in dealt}}
    used = {card for card, _ in given.values()}
    for i, line in enumerate(dealt):
        if line.drive or line.scheme == "mirrored" or all(piece.card for piece in line.pieces):
            continue
        used -= {piece.card for piece in line.pieces if piece.card}
        dealt[i] = _of_smaller(line, [pair for pair in left[line.takes] if pair[0].id not in used], catalogue, job)
        used |= {piece.card for piece in dealt[i].pieces if piece.card}
    return dealt


def _in_order(
    given: Mapping[tuple[int, int], tuple[str, float]], catalogue: Catalogue
) -> dict[tuple[int, int], tuple[str, float]]:
    """The same dealing with the labels of cards alike in the order of the day."""
    alike: dict[tuple[str, str], list[tuple[int, int]]] = defaultdict(list)
    for at, (card, _) in sorted(given.items()):
        unit = catalogue.unit(card)
        alike[unit.model, unit.condition].append(at)
    found: dict[tuple[int, int], tuple[str, float]] = {}
    for places in alike.values():
        cards = sorted(given[at][0] for at in places)
        found |= {at: (card, given[at][1]) for at, card in zip(places, cards, strict=True)}
    return found


def _of_smaller(line: CardLine, left: Sequence[tuple[Unit, CardData]], catalogue: Catalogue, job: Job) -> CardLine:
    """A line for which no card was large enough, on several smaller ones that are left, the largest first; as it was
    where they do not hold it together.
    """
    slots = [slot.id for slot in _slots(catalogue, line)][: 1 if line.scheme == "single" else None]
    rest, pieces, gone = line.gb, list[Piece](), 0.0
    for unit, data in sorted(left, key=lambda pair: (pair[0].condition != "good", -(pair[1].gb or 0.0), pair[0].id)):
        if rest <= 1e-9 or not _fast_enough(line.mode, data, job):
            continue
        if unit.condition == "doubtful" and line.once_only:
            continue
        room = (data.gb or 0.0) * USABLE
        holds = min(room, rest)
        starts = line.part.starts + (line.part.ends - line.part.starts) * (gone / line.gb)
        pieces.append(Piece(slots[len(pieces) % len(slots)], holds, starts, unit.id, holds / room))
        rest, gone = rest - holds, gone + holds
    if rest > 1e-9:
        return line
    first = len(slots) if line.scheme == "relay" else 1
    return replace(line, pieces=tuple(pieces), changes=tuple(piece.starts for piece in pieces[first:]))


def _slots(catalogue: Catalogue, line: CardLine) -> list[CardSlot]:
    data = catalogue.model_of(line.unit).recording
    return [slot for slot in (data.slots if data else ()) if slot.takes == line.takes]


def _assigned(costs: Sequence[Sequence[int]], without: Sequence[int]) -> list[int | None]:
    """By row the column that it gets, no column twice, at the least cost in all; None where it gets none, which
    costs ``without``.
    """
    # Nobody waits for it who has no cards.
    from ortools.graph.python import linear_sum_assignment  # type: ignore[import-untyped]  # noqa: PLC0415

    rows, columns = len(costs), len(costs[0])
    solver = linear_sum_assignment.SimpleLinearSumAssignment()
    for row in range(rows + columns):
        for column in range(columns + rows):
            if row >= rows:
                # What is left over goes with what is left over.
                solver.add_arc_with_cost(row, column, 0)
            elif column < columns:
                solver.add_arc_with_cost(row, column, costs[row][column])
            elif column - columns == row:
                solver.add_arc_with_cost(row, column, without[row])
    if solver.solve() != solver.OPTIMAL:
        raise ValueError("Cards that cannot be dealt at all.")
    found = [solver.right_mate(row) for row in range(rows)]
    return [
        column if column < columns and costs[row][column] < without[row] else None for row, column in enumerate(found)
    ]


def _cost(line: CardLine, piece: Piece, unit: Unit, data: CardData, job: Job) -> int:
    """What it costs to give a card to a piece; beyond any where it does not hold it, or is too slow."""
    room = (data.gb or 0.0) * USABLE
    if room < piece.gb - 1e-9 or not _fast_enough(line.mode, data, job):
        return _NEVER
    if unit.condition == "doubtful":
        return _NEVER if line.once_only and line.scheme != "mirrored" else _DOUBTFUL + round(room)
    return round(room)


def _fast_enough(mode: RecordingMode, data: CardData, job: Job) -> bool:
    return data.write_mb_s is None or mode.mbit_s / 8 <= job.settings.card_rate_share * data.write_mb_s


def _cut(line: CardLine, catalogue: Catalogue, job: Job) -> CardLine:
    """A line in pieces that cards of its kind hold: on both sides of a mirror, else one after the other."""
    slots = [piece.slot for piece in line.pieces]
    rooms = sorted(
        ((d.gb or 0.0) * USABLE for _, d in _cards(catalogue, line.takes) if _fast_enough(line.mode, d, job)),
        reverse=True,
    )
    count = max(1, math.ceil(line.gb / rooms[0] - 1e-9)) if rooms else 1
    lasts = (line.part.ends - line.part.starts) / count
    sides = slots[:2] if line.scheme == "mirrored" else [""]
    pieces = [
        Piece(side or slots[n % len(slots)], line.gb / count, line.part.starts + n * lasts)
        for n in range(count)
        for side in sides
    ]
    # A relay runs on by itself as long as there are slots; whatever comes after that needs a hand before it is full.
    first = len(slots) if line.scheme == "relay" else 1
    changes = tuple(line.part.starts + n * lasts for n in range(first, count))
    return replace(line, pieces=tuple(pieces), changes=changes)


def _findings(line: CardLine, catalogue: Catalogue, job: Job) -> Iterator[Finding]:
    where = f"{line.rig.label} in {line.part.label}"
    about = About(units=(f"{line.rig.id} {line.part.id}", line.unit))
    missing = [piece for piece in line.pieces if piece.card is None]
    if missing:
        fast = [d for _, d in _cards(catalogue, line.takes) if _fast_enough(line.mode, d, job)]
        known = _cards(catalogue, line.takes)
        reason = (
            "there is none on the shelf"
            if not known
            else f"none of them writes {line.mode.mbit_s / 8:.0f} MB/s"
            if not fast
            else "the others are out by then"
        )
        yield Finding(
            code="media.short" if fast or not known else "media.slow",
            level=Level.STOP,
            about=about,
            value=float(len(missing)),
            limit=0.0,
            unit="cards",
            text=(
                f"{len(missing)} × {line.takes} of {missing[0].gb / USABLE:.0f} GB or more short for {where} from"
                f" {missing[0].starts:%H:%M} on: {reason}."
            ),
            working=(_working(line),),
        )
    else:
        fullest = max(line.pieces, key=lambda p: p.share)
        yield Finding(
            code="media.short",
            level=Level.CLEAR,
            about=about,
            value=fullest.gb,
            limit=fullest.gb / fullest.share if fullest.share else None,
            unit="GB",
            text=(
                f"{where}: {line.gb:.0f} GB {line.scheme}, fullest card {fullest.card} at {fullest.share * 100:.0f} %."
            ),
            working=(_working(line),),
        )
    if line.once_only and line.scheme != "mirrored":
        yield Finding(
            code="media.single",
            level=Level.WATCH,
            about=about,
            text=f"{where} cannot be repeated, and {line.unit} records it on one card only"
            + (": slots in turn are no backup." if line.scheme == "relay" else "."),
        )
    alone, whole_h = (
        job.cell(line.part.id, line.rig.id).unattended,
        (line.part.ends - line.part.starts).total_seconds() / 3600,
    )
    if line.changes:
        lasts = (line.changes[0] - line.part.starts).total_seconds() / 3600
        untouched = whole_h if alone else line.part.conditions.untouched_h
        stops = lasts < untouched - 1e-9
        yield Finding(
            code="media.change",
            level=Level.STOP if stops else Level.WATCH,
            about=about,
            value=lasts,
            limit=untouched,
            unit="h",
            text=(
                f"The card of {where} is full at {line.changes[0]:%H:%M}; somebody changes it"
                f" {len(line.changes)} time{'s' if len(line.changes) > 1 else ''}"
                + (
                    ", and nobody is there."
                    if alone
                    else f", and nobody may touch it for {untouched:.2f} h."
                    if stops
                    else "."
                )
            ),
        )
    if line.drive:
        yield from _on_a_drive(line, catalogue, job)
    elif line.changes and _stands(job, catalogue, line.part, line.rig, _build_of(job, line)):
        yield from _drive_instead(line, catalogue)
    data = catalogue.model_of(line.unit).recording
    # Nobody starts an unattended camera again: it is to run all through.
    limit, take = (
        data.take_limit_min if data else None,
        whole_h * 60 if alone else line.part.conditions.longest_take_min,
    )
    yield from _heat(line, take, about, alone=alone)
    if limit and take > limit:
        yield Finding(
            code="media.take_limit",
            level=Level.STOP,
            about=about,
            value=take,
            limit=limit,
            unit="min",
            text=(
                f"{where} is to run {take:g} min with nobody by it"
                if alone
                else f"The longest take in {line.part.label} is {take:g} min"
            )
            + f"; {line.unit} stops by itself after {limit:g}.",
        )


def _heat(line: CardLine, take: float, about: About, *, alone: bool) -> Iterator[Finding]:
    """Whether the longest take ends before the body is too hot in the air of that part."""
    air_c = line.part.conditions.temperature_c
    hot = line.mode.heat_min(air_c)
    if hot is not None and take > hot:
        yield Finding(
            code="media.heat",
            level=Level.STOP,
            about=about,
            value=take,
            limit=hot,
            unit="min",
            text=(
                f"{line.unit} is too hot after {hot:.0f} min of '{line.mode.label}' at {air_c:g} °C;"
                f" {line.rig.label} in {line.part.label} is to run {take:g}"
                + (" with nobody by it." if alone else " in one take.")
            ),
        )


def _build_of(job: Job, line: CardLine) -> Build:
    return job.builds_in(line.part.id)[line.rig.id][1]


def _on_a_drive(line: CardLine, catalogue: Catalogue, job: Job) -> Iterator[Finding]:
    """What hangs on a lead holds as long as the camera stands still, and as long as there is room on it."""
    data = catalogue.model_of(line.unit).recording
    size = _card_of(catalogue, line.drive).gb or math.inf
    about = About(units=(f"{line.rig.id} {line.part.id}", line.drive))
    cards = {
        slot.takes: [minutes_on(d.gb, line.mode.mbit_s) for _, d in _cards(catalogue, slot.takes) if d.gb]
        for slot in (data.slots if data else ())
        if slot.takes != line.takes
    }
    longest = max((max(each) for each in cards.values() if each), default=0.0)
    instead = f"; a card in the body holds {longest:.0f} min" if longest else ""
    where = f"{line.rig.label} in {line.part.label}"
    if not line.stands:
        yield Finding(
            code="media.loose",
            level=Level.WATCH,
            about=about,
            text=f"{line.drive} hangs on a lead, and {where} moves: it comes loose on the run{instead}.",
        )
    day = line.part.starts.date()
    before = [
        x
        for x in _all_lines(job, catalogue)
        if x.drive == line.drive and x.part.starts.date() == day and x.part.starts <= line.part.starts
    ]
    written = sum(x.gb for x in before)
    if written > size * USABLE:
        yield Finding(
            code="media.short",
            level=Level.STOP,
            about=about,
            value=written,
            limit=size * USABLE,
            unit="GB",
            text=f"{line.drive} is full in {where}: {written:.0f} GB by its end, and it holds {size * USABLE:.0f}.",
        )


def _drive_instead(line: CardLine, catalogue: Catalogue) -> Iterator[Finding]:
    """A camera that stands still and changes cards could write to a drive."""
    data = catalogue.model_of(line.unit).recording
    takes = {
        slot.takes for slot in (data.slots if data else ()) if not line.mode.takes or slot.takes in line.mode.takes
    }
    drives = [u for u in catalogue.shelf if _is_drive(catalogue, u) and _card_of(catalogue, u.id).slot in takes]
    if drives:
        gb = _card_of(catalogue, drives[0].id).gb or 0.0
        yield Finding(
            code="media.loose",
            level=Level.NOTE,
            about=About(units=(f"{line.rig.id} {line.part.id}", drives[0].id)),
            value=minutes_on(gb, line.mode.mbit_s),
            unit="min",
            text=(
                f"{line.rig.label} stands still in {line.part.label}: {drives[0].id} on a clamped lead holds"
                f" {minutes_on(gb, line.mode.mbit_s):.0f} min, its take limit and heat aside."
            ),
        )


def _working(line: CardLine) -> Working:
    return Working(
        formula="GB = minutes rolling × 60 × Mb/s / 8 / 1000; a card holds 0.93 of its size",
        numbers=f"{line.minutes:.0f} min × 60 × {line.mode.mbit_s:g} / 8 / 1000 = {line.gb:.0f} GB",
        inputs=(Input(name="rolling", value=f"{line.part.conditions.rolling * 100:.0f} %", source="job"),),
    )


def _copies(day: date, lines: Sequence[CardLine], catalogue: Catalogue) -> Copies:
    """All cards of a day read on all readers, longest first; one reading writes to two drives at once.

    Three places: the second side of a mirror counts as one until its card is used again.
    """
    readers, drives, slowest = list[str](), list[CardData](), math.inf
    for unit in catalogue.shelf:
        data = catalogue.model_of(unit.id).card
        if data is None or unit.condition == "out of use":
            continue
        if data.gb is None:
            readers += [data.slot] * data.bays
            slowest = min(slowest, data.read_mb_s or math.inf)
        elif _is_drive(catalogue, unit):
            drives.append(data)
    writes = min((d.write_mb_s or math.inf for d in drives), default=math.inf)
    read: list[tuple[float, str]] = []
    wanted = total = 0.0
    for line in lines:
        mirrored = line.scheme == "mirrored"
        copies = PLACES - 1 if mirrored else PLACES
        sides = {line.pieces[0].slot} if mirrored else {p.slot for p in line.pieces}
        for piece in line.pieces:
            if piece.slot not in sides:
                continue
            total += piece.gb
            wanted += piece.gb * copies
            card = catalogue.model_of(piece.card).card if piece.card else None
            rate = min((card.read_mb_s if card else None) or math.inf, writes, slowest)
            once = piece.gb * 1000 / rate / 60 * 2 if math.isfinite(rate) else 0.0
            read.append((math.ceil(copies / 2) * once, line.takes))
    busy = [0.0] * len(readers)
    for minutes, takes in sorted(read, reverse=True):
        fitting = [i for i, slot in enumerate(readers) if slot == takes]
        if fitting:
            busy[min(fitting, key=lambda i: busy[i])] += minutes
    can = bool(drives) and all(takes in readers for _, takes in read)
    lasts = max(busy, default=0.0)
    ends = max(line.part.ends for line in lines)
    return Copies(
        day,
        total,
        lasts,
        ends + timedelta(minutes=lasts) if can else None,
        len(readers),
        sum(d.gb or 0.0 for d in drives),
        wanted,
    )


def _copy_findings(copies: Copies, job: Job) -> Iterator[Finding]:
    about = About(units=(f"copies {copies.day:%d %b}",))
    if copies.ready is None:
        yield Finding(
            code="media.copies",
            level=Level.WATCH,
            about=about,
            text=(
                f"{copies.gb:.0f} GB of {copies.day:%d %b} are copied by nothing: no reader for every card, or no"
                " drive."
            ),
        )
        return
    later = [p.starts for p in job.parts if p.starts.date() > copies.day]
    late = bool(later) and copies.ready > min(later)
    room = copies.drive_gb >= copies.wanted_gb
    yield Finding(
        code="media.copies",
        level=Level.WATCH if late or not room else Level.CLEAR,
        about=about,
        value=copies.wanted_gb,
        limit=copies.drive_gb,
        unit="GB",
        text=(
            f"{copies.gb:.0f} GB of {copies.day:%d %b} in three places: {copies.minutes / 60:.1f} h of copying with"
            f" verification, ready at {copies.ready:%H:%M}"
            + ("" if room else f"; the drives hold {copies.drive_gb:.0f} of {copies.wanted_gb:.0f} GB")
            + (", after the next day has begun." if late else ".")
        ),
    )
