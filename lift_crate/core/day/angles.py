"""Once-only moments: which cameras have them, the one that is counted on and the one that stands in.

A camera has a moment when it is there in that part of the day, is told on the plan to see what the moment is
about, and nothing hides it. Formulas: docs/formulas.md §12, 'Angles'.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

from ..callouts import About, Finding, Level
from ..job.job import Job, Moment, PartOfDay
from ..job.sight import sight_of
from ..lens.framing import width_at_mm
from .table import Cell, DayTable

__all__ = ["Angle", "MomentSeen", "angles_of"]


@dataclass(frozen=True, slots=True)
class Angle:
    """A camera that has a moment: how wide its frame is there, whether somebody works it, whether it stands still."""

    rig: str
    label: str
    wide_m: float | None
    operated: bool
    locked: bool


@dataclass(frozen=True, slots=True)
class MomentSeen:
    """A moment and the cameras that have it, the primary first, then what stands in for it."""

    part: PartOfDay
    moment: Moment
    thing: str
    """What it is about, by its name on the plan; empty: not said."""
    angles: tuple[Angle, ...]
    hidden: tuple[str, ...]
    """Cameras that are told to see it and from which something hides it."""


def angles_of(job: Job, table: DayTable) -> tuple[tuple[MomentSeen, ...], tuple[Finding, ...]]:
    """Every moment of a job with its cameras, and what stands against them."""
    found = []
    for part in sorted(job.parts, key=lambda p: p.starts):
        cells = [cell for cell in table.cells if cell.part.id == part.id]
        found += [_seen(job, part, moment, cells) for moment in sorted(part.moments, key=lambda m: m.at)]
    return tuple(found), tuple(finding for each in found for finding in _findings(each))


def _seen(job: Job, part: PartOfDay, moment: Moment, cells: Sequence[Cell]) -> MomentSeen:
    thing = job.venue.thing(moment.thing) if moment.thing else None
    angles, hidden = [], []
    for cell in cells if thing else ():
        place = cell.rig.place
        if place is None or thing is None or thing.id not in place.sees:
            continue
        sight = sight_of(place, job.venue, None)
        seen = next((s for s in sight.seen if s.thing == thing.id), None) if sight else None
        if seen is None or seen.hidden_by:
            hidden.append(cell.rig.label)
            continue
        view, target = cell.stand.view, cell.stand.target
        wide = width_at_mm(view.area.width_mm, view.focal_mm, seen.distance_m * 1000) if view else None
        angles.append(
            Angle(
                cell.rig.id,
                cell.rig.label,
                None if wide is None else wide / 1000,
                not cell.unattended,
                cell.unattended or not (target and target.follows),
            )
        )
    # The one that is counted on is worked by somebody and closest on it.
    angles.sort(key=lambda a: (not a.operated, a.wide_m is None, a.wide_m or 0.0, a.label))
    return MomentSeen(part, moment, thing.label if thing else "", tuple(angles), tuple(hidden))


def _findings(seen: MomentSeen) -> Iterator[Finding]:
    if not seen.thing:
        return
    count = len(seen.angles)
    when = f"{seen.moment.label} at {seen.moment.at:%H:%M}"
    hidden = f" From {' and '.join(seen.hidden)} it is hidden." if seen.hidden else ""
    if count == 0:
        level, text = Level.STOP, f"No camera has {when}: none there is told to see {seen.thing}."
    elif count == 1:
        level, text = Level.WATCH, f"Only {seen.angles[0].label} has {when}; if it fails, nobody has."
    elif not any(angle.locked for angle in seen.angles):
        level, text = Level.NOTE, f"{when}: {count} cameras, and none of them stands still."
    else:
        level, text = Level.CLEAR, f"{when}: {seen.angles[0].label}, then {seen.angles[1].label}."
    yield Finding(
        code="day.angles",
        level=level,
        about=About(units=(f"moment {seen.part.id}", f"{seen.moment.at:%H%M} {seen.moment.label}")),
        value=float(count),
        limit=2.0,
        unit="cameras",
        text=text + hidden,
    )
