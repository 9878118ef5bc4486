"""From closed cases to rolling, and who carries what. Minutes, g, kg. Formulas: docs/formulas.md §16, 'Ready'."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..callouts import About, Finding, Level
from ..day.laid_out import LaidOut
from ..day.run_tasks import from_bare
from ..day.table import Cell
from ..job.job import Job
from .packed import PackedCase

__all__ = ["Load", "Ready", "loads_of", "ready_of"]


@dataclass(frozen=True, slots=True)
class Ready:
    """A camera's way from closed cases to its first part: which cases, and minutes for one and for two people."""

    rig: str
    label: str
    part: str
    cases: tuple[str, ...]
    open_min: float
    build_min: float
    two_min: float
    line_up_min: float

    @property
    def alone(self) -> float:
        """Minutes in all for one person."""
        return self.open_min + self.build_min + self.line_up_min

    @property
    def by_two(self) -> float:
        """Minutes in all for two people."""
        return self.open_min + self.two_min + self.line_up_min


@dataclass(frozen=True, slots=True)
class Load:
    """What a person carries: cases, and what hangs on his belt in a part of the day, g."""

    who: str
    cases: tuple[str, ...]
    cases_g: float
    belt_g: float
    belt_in: str
    hands_in: str
    """The first part in which he has a camera in his hands; empty: none."""


def ready_of(job: Job, day: LaidOut, case_of: Mapping[str, str]) -> tuple[Ready, ...]:
    """Every camera's way from closed cases to its first part. ``case_of``: by unit the case that it is in."""
    first: dict[str, Cell] = {}
    for cell in sorted(day.table.cells, key=lambda c: c.part.starts):
        first.setdefault(cell.rig.id, cell)
    found = []
    for cell in first.values():
        cases = tuple(dict.fromkeys(case_of[unit] for unit in cell.build.units if unit in case_of))
        built = from_bare(cell.build, cell.stand)
        settings = job.settings
        found.append(
            Ready(
                cell.rig.id,
                cell.rig.label,
                cell.part.id,
                cases,
                settings.case_open_min * len(cases),
                built.alone_min,
                built.two_min,
                settings.line_up_min,
            )
        )
    return tuple(found)


def loads_of(job: Job, day: LaidOut, cases: Sequence[PackedCase]) -> tuple[tuple[Load, ...], tuple[Finding, ...]]:
    """What everybody carries who carries a case or something on his belt, and what stands against it."""
    carried: dict[str, list[PackedCase]] = {}
    for case in cases:
        if case.box.along.carried_by:
            carried.setdefault(case.box.along.carried_by, []).append(case)
    belts: dict[str, tuple[float, str]] = {}
    hands: dict[str, str] = {}
    for cell in sorted(day.table.cells, key=lambda c: c.part.starts):
        who = job.cell(cell.part.id, cell.rig.id).operator
        if not who:
            continue
        catalogue = cell.stand.assembly.catalogue
        belt = sum(catalogue.mass_of(unit)[0] or 0.0 for unit in cell.build.on_operator)
        if belt > belts.get(who, (0.0, ""))[0]:
            belts[who] = belt, cell.part.label
        if cell.stand.carried.kind in ("hand", "shoulder", "gimbal"):
            hands.setdefault(who, f"{cell.rig.label} from {cell.part.starts:%H:%M}")
    loads = tuple(
        Load(
            who,
            tuple(c.box.unit for c in carried.get(who, ())),
            sum(c.mass_g for c in carried.get(who, ())),
            *belts.get(who, (0.0, "")),
            hands.get(who, ""),
        )
        for who in sorted({*carried, *belts})
    )
    return loads, tuple(_against(job, loads))


def _against(job: Job, loads: Sequence[Load]) -> Iterator[Finding]:
    for load in loads:
        kg = (load.cases_g + load.belt_g) / 1000
        if load.cases and kg >= job.settings.lift_kg:
            yield Finding(
                code="pack.load",
                level=Level.WATCH,
                about=About(units=load.cases),
                value=kg,
                limit=job.settings.lift_kg,
                unit="kg",
                text=f"{load.who} carries {kg:.1f} kg: go twice, or share it; two lift {job.settings.lift_kg:g} kg.",
            )
        if len(load.cases) > 2:
            yield Finding(
                code="pack.hands",
                level=Level.NOTE,
                about=About(units=load.cases),
                value=float(len(load.cases)),
                limit=2.0,
                text=f"{load.who} carries {len(load.cases)} cases and has two hands.",
            )
        if load.cases and load.hands_in:
            yield Finding(
                code="pack.hands",
                level=Level.NOTE,
                about=About(units=load.cases),
                text=f"{load.who} has {load.hands_in} in hand: somebody else takes his cases from then on.",
            )
