"""The day as a table: every camera in every part, who works it, and what changes between two parts.

A camera's cell is its build there; between two cells stands the change that leads from one to the other.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass
from itertools import combinations, pairwise

from ..callouts import About, Finding, Input, Level, Working
from ..job.job import Job, PartOfDay, Rig, claims_of_others
from ..job.sight import lead_of, walk_m
from ..lens.framing import width_at_mm
from ..rig.build import Build, Catalogue
from ..stand import Stand, Stands
from .changeover import Changeover, Elsewhere, changeover

__all__ = [
    "Between",
    "Cell",
    "DayTable",
    "Instead",
    "StandIn",
    "day_table",
    "instead_of",
    "kept_stands",
    "walks_between",
]

_BEAT_MIN = 3.0
"""A gap so short is told in seconds: it is one between two beats."""
_ROOM = 1.15
"""An unattended frame is so much wider than what must fit in: nobody corrects it. Rule of thumb."""


@dataclass(frozen=True, eq=False)
class Cell:
    """A camera in a part of the day: its build, as it stands there, and who works it."""

    part: PartOfDay
    rig: Rig
    build: Build
    stand: Stand
    operator: str
    unattended: bool
    spotter: str = ""

    @property
    def worked_by(self) -> str:
        """Who works it and who watches the way, in words."""
        who = self.operator or ("unattended" if self.unattended else "nobody named")
        return f"{who}, {self.spotter} as spotter" if self.spotter else who


@dataclass(frozen=True, eq=False)
class Between:
    """A camera from one part that it is in to the next, with what that takes."""

    rig: Rig
    before: PartOfDay
    after: PartOfDay
    was: Build
    now: Build
    change: Changeover


@dataclass(frozen=True, eq=False)
class Instead:
    """Another build for the part after a change: what it takes to get into it, or why it cannot be there."""

    build: Build
    change: Changeover | None
    refused: str = ""


@dataclass(frozen=True, eq=False)
class DayTable:
    """All cells of a job and what is between them; what stands against the day as a whole."""

    cells: tuple[Cell, ...]
    between: tuple[Between, ...]
    people: Mapping[str, Mapping[str, tuple[str, ...]]]
    """By person and part: the cameras they work, by their names, and whose spotter they are."""
    findings: tuple[Finding, ...]


StandIn = Callable[[Build, PartOfDay, Rig], Stand]
"""Puts a build of a rig together in a part of the day."""


def day_table(job: Job, catalogue: Catalogue, stand_in: StandIn | None = None) -> DayTable:
    """The table of a job over all its days; ``stand_in`` is asked for facts that may be known already."""
    stand_in = stand_in or kept_stands(job, catalogue)
    parts = sorted(job.parts, key=lambda p: p.starts)
    cells: dict[tuple[str, str], Cell] = {}
    for part in parts:
        for rig, build in job.builds_in(part.id).values():
            said = job.cell(part.id, rig.id)
            stand = stand_in(build, part, rig)
            cells[part.id, rig.id] = Cell(part, rig, build, stand, said.operator, said.unattended, said.spotter)
    between, walks = list[Between](), walks_between(job)
    for rig in job.rigs:
        line = [cells[part.id, rig.id] for part in parts if (part.id, rig.id) in cells]
        between += [
            Between(
                rig,
                one.part,
                other.part,
                one.build,
                other.build,
                _from_one(job, rig, one, other.stand, other.part, walks),
            )
            for one, other in pairwise(line)
        ]
    people: dict[str, dict[str, list[str]]] = defaultdict(lambda: defaultdict(list))
    for cell in cells.values():
        if cell.operator:
            people[cell.operator][cell.part.id].append(cell.rig.label)
        if cell.spotter:
            people[cell.spotter][cell.part.id].append(f"{cell.rig.label} as spotter")
    told = {name: {part: tuple(rigs) for part, rigs in at.items()} for name, at in sorted(people.items())}
    findings = [*map(_change_finding, between), *_two_places(job, told)]
    findings += [finding for cell in cells.values() if cell.unattended for finding in _unattended(job, cell)]
    findings.sort(key=lambda f: (-f.level, f.code, f.about.units))
    return DayTable(tuple(cells.values()), tuple(between), told, tuple(findings))


def instead_of(
    job: Job, catalogue: Catalogue, between: Between, stand_in: StandIn | None = None
) -> tuple[Instead, ...]:
    """Every build that the camera could be in after a change, the one of before among them, quickest first."""
    stand_in = stand_in or kept_stands(job, catalogue)
    rig, part = between.rig, between.after
    said = job.cell(between.before.id, rig.id)
    one = Cell(
        between.before,
        rig,
        between.was,
        stand_in(between.was, between.before, rig),
        said.operator,
        said.unattended,
    )
    taken, walks = claims_of_others(job, part.id, rig.id), walks_between(job)
    found = []
    for build in rig.builds:
        shared = [f"{unit} ({taken[unit].rig})" for unit in build.units if unit in taken]
        if shared:
            more = f" and {len(shared) - 2} more" if len(shared) > 2 else ""
            found.append(Instead(build, None, f"{', '.join(shared[:2])}{more} in use then"))
        else:
            found.append(Instead(build, _from_one(job, rig, one, stand_in(build, part, rig), part, walks)))
    return tuple(sorted(found, key=lambda x: (x.change is None, x.change.alone_min if x.change else 0.0)))


def kept_stands(job: Job, catalogue: Catalogue) -> StandIn:
    """Facts of builds, each found out once."""
    known = Stands()

    def stand_in(build: Build, part: PartOfDay, rig: Rig) -> Stand:
        return known.of(build, catalogue, part.conditions, job.settings, job.target_of(rig, part.id))

    return stand_in


def _had_by_others(job: Job, part_id: str, rig: Rig, walks: Mapping[tuple[str, str], float]) -> dict[str, Elsewhere]:
    """Units that others have in a part of the day: which camera, and minutes on foot from there; what the charging plan
    keeps is where packs are charged.
    """
    there = job.walks_min().get(rig.id, 0.0)
    found: dict[str, Elsewhere] = {
        unit: (serves, there) for unit, part, serves in job.claims_beside() if part == part_id
    }
    for other, (of, build) in job.builds_in(part_id).items():
        if other != rig.id:
            found |= dict.fromkeys(build.units, (of.label, walks[rig.id, other]))
    return found


def _from_one(
    job: Job, rig: Rig, one: Cell, other: Stand, part: PartOfDay, walks: Mapping[tuple[str, str], float]
) -> Changeover:
    gap = max(0.0, (part.starts - one.part.ends).total_seconds() / 60)
    # Nobody fetches anything for a build that is there.
    same = one.build == other.assembly.build
    others = {} if same else _had_by_others(job, one.part.id, rig, walks)
    return changeover(one.build, other, gap, others=others, stood=one.stand)


def walks_between(job: Job) -> dict[tuple[str, str], float]:
    """Minutes on foot between every two cameras, by their ids, both ways; by way of the chargers where one of them
    is not on the plan.
    """
    there = job.walks_min()
    found = {(rig.id, rig.id): 0.0 for rig in job.rigs}
    for one, other in combinations(job.rigs, 2):
        minutes = there.get(one.id, 0.0) + there.get(other.id, 0.0)
        if one.place and other.place:
            metres = walk_m((one.place.x_m, one.place.y_m), (other.place.x_m, other.place.y_m), job.venue)
            minutes = metres / job.venue.walk_m_s / 60
        found[one.id, other.id] = found[other.id, one.id] = minutes
    return found


_LEVELS = {"easily": Level.CLEAR, "tight": Level.NOTE, "with two": Level.WATCH, "no": Level.STOP}


def _change_finding(between: Between) -> Finding:
    change, slowest = between.change, between.change.slowest
    label, to = between.rig.label, between.after.label
    if not change.tasks:
        text = f"{label} goes into {to} as it is."
    elif change.fits == "no":
        text = (
            f"{label} needs {change.alone_min:.1f} min for its change to {to}, with two pairs of hands"
            f" {change.two_min:.1f}; there are {change.gap_min:.0f}."
        )
    else:
        hands = (
            f"{change.two_min:.1f} min with two pairs of hands"
            if change.fits == "with two"
            else (f"{change.alone_min:.1f} min for one")
        )
        text = f"{label} changes for {to} in {hands}, of {change.gap_min:.0f}."
    if slowest:
        text += f" Slowest joint: {slowest.unit}, {slowest.minutes:g} min ({slowest.kind})."
    if change.tasks and 0 < change.gap_min < _BEAT_MIN:
        ready = f"; {len(change.beforehand)} things lie ready for it before" if change.beforehand else ""
        text += (
            f" Between two beats that is {change.gap_min * 60:.0f} s against {change.alone_min * 60:.0f}, with two"
            f" {change.two_min * 60:.0f}{ready}."
        )
    by_act: dict[str, float] = defaultdict(float)
    for task in change.tasks:
        by_act[task.act] += task.minutes
    return Finding(
        code="day.change",
        level=_LEVELS[change.fits] if change.tasks else Level.CLEAR,
        about=About(units=(f"{between.rig.id} {between.after.id}",)),
        text=text,
        value=change.two_min if change.fits in ("with two", "no") else change.alone_min,
        limit=change.gap_min,
        unit="min",
        working=(
            Working(
                formula="Σ minutes of joints, cables, balancing, walks; with two no task before those it follows",
                numbers=" + ".join(f"{act} {minutes:.1f}" for act, minutes in by_act.items())
                + f" = {change.alone_min:.1f} min",
                inputs=(Input(name="minutes by kind of joint", value="", source="setting"),),
            ),
        )
        if change.tasks
        else (),
    )


def _two_places(job: Job, people: Mapping[str, Mapping[str, tuple[str, ...]]]) -> Iterator[Finding]:
    for name, at in people.items():
        for part_id, rigs in at.items():
            if len(rigs) > 1:
                part = job.part(part_id)
                yield Finding(
                    code="day.two_places",
                    level=Level.STOP,
                    about=About(units=(name, part_id)),
                    text=(
                        f"{name} works {' and '.join(rigs)} in {part.label}, {part.starts:%H:%M} to {part.ends:%H:%M}."
                    ),
                    value=float(len(rigs)),
                    limit=1.0,
                    unit="cameras",
                )


def _tripped_over(job: Job, cell: Cell) -> Iterator[str]:
    """Lanes that the mains lead of a camera crosses, where one feeds it: nobody is there to see to it."""
    layout = cell.stand.assembly.layout
    fed = any(m.kind == "mains adapter" or m.mains_lead_m for m in layout.every_model)
    lead = lead_of((cell.rig.place.x_m, cell.rig.place.y_m), job.venue) if fed and cell.rig.place else None
    if lead and lead.crosses:
        lanes = [thing.label if (thing := job.venue.thing(name)) else name for name in lead.crosses]
        yield f"its mains lead crosses {' and '.join(lanes)}"


def _unattended(job: Job, cell: Cell) -> Iterator[Finding]:
    """What nobody is there to mend: a frame without room, a pack that ends, a lead that somebody trips over."""
    about = About(units=(f"{cell.rig.id} {cell.part.id}",))
    label, stand = f"{cell.rig.label} in {cell.part.label}", cell.stand
    hours = (cell.part.ends - cell.part.starts).total_seconds() / 3600
    missing = []
    first = stand.first_empty
    if first is not None and first.hours < hours:
        missing.append(f"{first.pack} ends after {first.hours:.2f} h of {hours:.2f}")
    target, view = stand.target, stand.view
    if target is None:
        missing.append("nothing says what it must see")
    elif target.width_mm and view:
        wide = width_at_mm(view.area.width_mm, view.focal_mm, target.distance_mm)
        if wide is not None and wide < target.width_mm * _ROOM:
            missing.append(
                f"the frame is {wide / 1000:.2f} m wide, {target.width_mm * _ROOM / 1000:.2f} m leave room for"
                f" {target.width_mm / 1000:.2f}"
            )
    if target and target.follows:
        missing.append("it is to follow what moves")
    missing += _tripped_over(job, cell)
    yield Finding(
        code="day.unattended",
        level=Level.STOP if first is not None and first.hours < hours else Level.WATCH if missing else Level.CLEAR,
        about=about,
        text=f"{label} runs with nobody by it" + (f": {'; '.join(missing)}." if missing else "; frame and power last."),
        value=float(len(missing)),
        limit=0.0,
    )
