"""Repeated sessions: one subject after the other in a part of the day, and how many fit.

Each takes its set-up, its take and a reset before the next; between two of them full cards are changed and packs
that would not last are swapped. Minutes; times on the job's clock. Formulas: docs/formulas.md §11, 'Sessions'.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..job.job import Job, PartOfDay
from ..rig.build import Catalogue
from .media import MediaPlan, minutes_on
from .table import DayTable

__all__ = ["Pause", "Session", "Subject", "sessions_of"]

_MOST = 2000


@dataclass(frozen=True, slots=True)
class Subject:
    """One of those who come after another: when its set-up, its take and what follows begin."""

    number: int
    starts: datetime
    take: datetime
    ends: datetime


@dataclass(frozen=True, slots=True)
class Pause:
    """Cards changed or packs swapped between two subjects."""

    after: int
    what: str
    cameras: tuple[str, ...]
    minutes: float


@dataclass(frozen=True, slots=True)
class Session:
    """A part of the day in which subjects come one after the other."""

    part: PartOfDay
    subjects: tuple[Subject, ...]
    pauses: tuple[Pause, ...]
    each_min: float
    """Set-up, take and reset of one subject."""
    left_min: float
    """What is left of the part behind the last one."""
    lasts: str
    """Why no more fit."""


@dataclass
class _Camera:
    label: str
    card_min: float
    """Minutes that it records on its cards before somebody changes them."""
    pack_min: float
    rolled: float = 0.0
    on: float = 0.0


def sessions_of(job: Job, catalogue: Catalogue, table: DayTable, media: MediaPlan) -> tuple[Session, ...]:
    """Every part of the day that has subjects one after the other, and how many fit into it."""
    return tuple(
        _session(job, catalogue, table, media, part)
        for part in sorted(job.parts, key=lambda p: p.starts)
        if part.conditions.subject_take_min > 0
    )


def _cameras(catalogue: Catalogue, table: DayTable, media: MediaPlan, part: PartOfDay) -> list[_Camera]:
    found = []
    for cell in (c for c in table.cells if c.part.id == part.id):
        holds = math.inf
        for line in (x for x in media.lines if (x.rig.id, x.part.id) == (cell.rig.id, part.id)):
            sizes = [(p.slot, data.gb) for p in line.pieces if p.card and (data := catalogue.model_of(p.card).card)]
            each = [minutes_on(gb, line.mode.mbit_s) for _, gb in sizes if gb]
            if each:
                # Mirrored: both are full together; in relay one after the other, as many as there are slots.
                slots = len({slot for slot, _ in sizes})
                holds = min(holds, min(each) if line.scheme == "mirrored" else sum(each[:slots]))
        first = cell.stand.first_empty
        found.append(_Camera(cell.rig.label, holds, first.hours * 60 if first else math.inf))
    return found


def _session(job: Job, catalogue: Catalogue, table: DayTable, media: MediaPlan, part: PartOfDay) -> Session:
    air, hands = part.conditions, max(1, job.charging.hands)
    set_up, take, reset = air.subject_set_up_min, air.subject_take_min, air.subject_reset_min
    each, length = set_up + take + reset, (part.ends - part.starts).total_seconds() / 60
    cameras = _cameras(catalogue, table, media, part)
    gone, subjects, pauses = 0.0, list[Subject](), list[Pause]()
    lasts = "the part is over"
    while len(subjects) < _MOST:
        if subjects and reset + gone <= length:
            gone += reset
        stopped = _paused(cameras, take, each, len(subjects), hands, job)
        if stopped is None:
            lasts = "one take is longer than a card or a pack lasts"
            break
        minutes = sum(p.minutes for p in stopped)
        if gone + minutes + set_up + take > length + 1e-9:
            break
        gone += minutes
        pauses += stopped
        starts = part.starts + timedelta(minutes=gone)
        begins = starts + timedelta(minutes=set_up)
        gone += set_up + take
        subjects.append(Subject(len(subjects) + 1, starts, begins, part.starts + timedelta(minutes=gone)))
        for camera in cameras:
            camera.rolled += take
            camera.on += each + minutes
    ended = subjects[-1].ends if subjects else part.starts
    return Session(part, tuple(subjects), tuple(pauses), each, (part.ends - ended).total_seconds() / 60, lasts)


def _paused(
    cameras: Sequence[_Camera], take: float, each: float, after: int, hands: int, job: Job
) -> list[Pause] | None:
    """What is done before the next subject so that neither a card nor a pack ends in it; None: it cannot be."""
    found = []
    if any(c.card_min < take or c.pack_min < each for c in cameras):
        return None
    full = [c for c in cameras if c.rolled + take > c.card_min + 1e-9]
    if full:
        minutes = math.ceil(len(full) / hands) * job.settings.card_min
        found.append(Pause(after, "cards", tuple(c.label for c in full), minutes))
    empty = [c for c in cameras if c.on + each + sum(p.minutes for p in found) > c.pack_min + 1e-9]
    if empty:
        minutes = math.ceil(len(empty) / hands) * job.charging.swap_min
        found.append(Pause(after, "packs", tuple(c.label for c in empty), minutes))
    for camera in full:
        camera.rolled = 0.0
    for camera in empty:
        camera.on = 0.0
    return found
