"""Two builds or rigs side by side: parts, mass, CG, hours, call-outs, cost."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from ..callouts import Finding, Level
from ..lens.matching import Matching, matching
from ..rig.build import Build, Catalogue
from ..verdict.judge import Whole

__all__ = ["Comparison", "Cost", "Figure", "PartLine", "compare", "cost_of"]


@dataclass(frozen=True, slots=True)
class Cost:
    """What a build costs: hire a day for what is hired, and the price of what is owned; and what has no figure."""

    hire_per_day: float
    value: float
    unknown: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Figure:
    """One figure of both sides, with its unit; None where a side has none. ``digits`` as it is written."""

    key: str
    name: str
    unit: str
    digits: int
    left: float | None
    right: float | None
    difference: float | None
    """Right less left."""


@dataclass(frozen=True, slots=True)
class PartLine:
    """A model and how many of it each side has, with the labels."""

    kind: str
    title: str
    left: tuple[str, ...]
    right: tuple[str, ...]


@dataclass(frozen=True, eq=False)
class Comparison:
    """Figures, parts of one side only and of both, call-outs of one side only and of both."""

    figures: tuple[Figure, ...]
    parts: tuple[PartLine, ...]
    only_left: tuple[Finding, ...]
    only_right: tuple[Finding, ...]
    both: tuple[str, ...]
    """Titles of call-outs that both have."""
    pictures: Matching
    """In what their pictures will not match."""


def cost_of(build: Build, catalogue: Catalogue) -> Cost:
    """What a build costs, added up unit by unit."""
    hire = value = 0.0
    unknown = []
    for unit_id in build.units:
        unit, model = catalogue.unit(unit_id), catalogue.model_of(unit_id)
        if unit.owner == "hired":
            hire += model.hire_per_day or 0.0
            if model.hire_per_day is None:
                unknown.append(unit_id)
        else:
            value += model.price or 0.0
    return Cost(hire, value, tuple(unknown))


def compare(left: Whole, right: Whole) -> Comparison:
    """Lay two judged builds side by side."""
    loud = [
        {(f.code, _spoken_of(side, f)): f for f in side.findings if f.level >= Level.WATCH} for side in (left, right)
    ]
    return Comparison(
        tuple(_figures(left, right)),
        tuple(_parts(left, right)),
        tuple(f for key, f in loud[0].items() if key not in loud[1]),
        tuple(f for key, f in loud[1].items() if key not in loud[0]),
        tuple(dict.fromkeys(f.call_out.title for key, f in loud[0].items() if key in loud[1])),
        matching(left.stand.assembly, right.stand.assembly, left.stand.settings),
    )


def _spoken_of(side: Whole, finding: Finding) -> tuple[str, ...]:
    """What a finding is about by kind, so that the same trouble with another unit counts as the same."""
    models = side.stand.assembly.catalogue
    return tuple(models.model_of(unit).kind for unit in finding.about.units)


def _cost(side: Whole) -> Cost:
    return cost_of(side.stand.assembly.build, side.stand.assembly.catalogue)


def _figures(left: Whole, right: Whole) -> list[Figure]:
    def both(key: str, name: str, unit: str, digits: int, pick: Callable[[Whole], float | None]) -> Figure:
        a, b = pick(left), pick(right)
        return Figure(key, name, unit, digits, a, b, None if a is None or b is None else b - a)

    return [
        both("mass", "Mass on the support", "g", 0, lambda e: e.stand.carried.payload.mass_g),
        both("total", "Carried in all", "g", 0, lambda e: e.stand.carried.total.mass_g),
        both("cg", "CG from film plane", "mm", 1, lambda e: float(e.stand.carried.payload.cg_mm[0])),
        both("front", "Front-heaviness", "N·m", 2, lambda e: e.stand.carried.front_nm),
        both("draw", "Draw", "W", 1, lambda e: e.stand.draw_w),
        both("hours", "Hours untouched", "h", 2, lambda e: e.stand.first_empty.hours if e.stand.first_empty else None),
        both("units", "Units", "", 0, lambda e: float(len(e.stand.assembly.build.units))),
        both(
            "hire",
            "Hire a day",
            "",
            2,
            lambda e: _cost(e).hire_per_day,
        ),
        both(
            "value",
            "Price of what is owned",
            "",
            0,
            lambda e: _cost(e).value,
        ),
        both("stops", "Stops", "", 0, lambda e: float(e.counts["stops"])),
        both("watches", "Watches", "", 0, lambda e: float(e.counts["watches"])),
    ]


def _parts(left: Whole, right: Whole) -> list[PartLine]:
    labels: dict[str, tuple[list[str], list[str]]] = {}
    for i, side in enumerate((left, right)):
        for unit in side.stand.assembly.build.units:
            model = side.stand.assembly.catalogue.model_of(unit)
            labels.setdefault(model.id, ([], []))[i].append(unit)
    models = {**left.stand.assembly.catalogue.models, **right.stand.assembly.catalogue.models}
    return [PartLine(models[m].kind, models[m].title, tuple(a), tuple(b)) for m, (a, b) in labels.items()]
