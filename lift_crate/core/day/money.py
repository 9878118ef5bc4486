"""What a job costs in gear: hire by model over its days, what is owned, what is bought back by hiring it.

Every sum is added up from its lines, never kept. Prices are each and without tax; money in the job's currency.
Formulas: docs/formulas.md §13, 'Money'.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from datetime import date

from ..job.job import Job
from ..rig.build import Catalogue, Unit
from .media import MediaPlan

__all__ = ["Budget", "CostLine", "budget_of", "days_of_job", "hire_for", "payback_days"]

_WEEK = 7


@dataclass(frozen=True, slots=True)
class CostLine:
    """Units of one model and owner that a job uses: what each costs, for how many days, and in all."""

    model: str
    title: str
    kind: str
    owner: str
    units: tuple[str, ...]
    cameras: tuple[str, ...]
    """Which cameras have them; nothing: chargers, lights, cards in reserve."""
    days: int
    """Days of hire; 0 for what is owned."""
    each: float | None
    """Hire a day, or the price of what is owned; None: not known."""
    total: float
    """Hire for the days; of what is owned its worth."""
    payback_days: float | None
    """Days of hire after which it would have been cheaper to buy it; None where a price is missing."""


@dataclass(frozen=True, slots=True)
class Budget:
    """All lines, and their sums."""

    lines: tuple[CostLine, ...]
    hire: float
    tax: float
    worth: float
    """Of what is owned and used, to be insured."""
    unknown: tuple[str, ...]
    """Units whose price nobody entered; they are in no sum."""
    by_camera: Mapping[str, float]
    """Hire by camera: what several have over the days is shared by the parts of the day they have it in."""
    returns: tuple[tuple[date | None, tuple[str, ...]], ...]
    """By the last day of their hire, soonest first, the hired units of the job; None: nobody said until when."""

    @property
    def total(self) -> float:
        """Hire with tax."""
        return self.hire + self.tax


def hire_for(rate: float, days: int, week_days: int = 3) -> float:
    """Hire for so many days in a row, seven for the price of three: rate·(3·⌊n/7⌋ + min(n mod 7, 3)).

    60 a day: 9 days 300, 5 days 180.
    """
    weeks, rest = divmod(days, _WEEK)
    return rate * (week_days * weeks + min(rest, week_days))


def payback_days(buy: float, hire_per_day: float, resale: float = 0.0) -> float:
    """Days of hire that buying it costs, less what it is sold for: 2400 against 60: 40; resale 900: 25."""
    return (buy - resale) / hire_per_day


def budget_of(job: Job, catalogue: Catalogue, media: MediaPlan) -> Budget:
    """The budget of everything that a job plans."""
    had = _had(job, media)
    used = [catalogue.unit(unit) for unit in sorted(had) if unit in catalogue.units]
    groups: dict[tuple[str, str, int], list[Unit]] = defaultdict(list)
    for unit in used:
        groups[unit.model, unit.owner, _days(job, unit)].append(unit)
    lines = tuple(sorted(_lines(groups, had, catalogue, job), key=lambda x: (x.owner != "hired", -x.total, x.title)))
    hire = sum(x.total for x in lines if x.owner == "hired")
    return Budget(
        lines,
        hire,
        hire * job.settings.tax_share,
        sum(x.total for x in lines if x.owner != "hired"),
        tuple(unit.id for unit in used if _price(unit, catalogue) is None),
        _by_camera(job, catalogue, used, had),
        _returns([unit for unit in used if unit.owner == "hired"]),
    )


def _returns(hired: Sequence[Unit]) -> tuple[tuple[date | None, tuple[str, ...]], ...]:
    by: dict[date | None, list[str]] = defaultdict(list)
    for unit in hired:
        by[unit.hired_until].append(unit.id)
    return tuple(
        (day, tuple(units)) for day, units in sorted(by.items(), key=lambda x: (x[0] is None, x[0] or date.max))
    )


def _had(job: Job, media: MediaPlan) -> dict[str, dict[str, int]]:
    """By unit the cameras that have it, and in how many parts of the day; none for what only charges or lights."""
    had: dict[str, dict[str, int]] = defaultdict(lambda: defaultdict(int))
    for part in job.parts:
        for rig, build in job.builds_in(part.id).values():
            for unit in build.units:
                had[unit][rig.label] += 1
    for line in media.lines:
        for card in (piece.card for piece in line.pieces if piece.card):
            had[card][line.rig.label] += 1
    for unit, _, _ in job.claims_beside():
        had.setdefault(unit, {})
    return had


def _by_camera(
    job: Job, catalogue: Catalogue, used: Sequence[Unit], had: Mapping[str, Mapping[str, int]]
) -> dict[str, float]:
    shares: dict[str, float] = defaultdict(float)
    for unit in used:
        rate = catalogue.model_of(unit.id).hire_per_day
        if unit.owner == "hired" and rate is not None and had[unit.id]:
            cost = hire_for(rate, _days(job, unit), job.settings.hire_week_days)
            for camera, count in had[unit.id].items():
                shares[camera] += cost * count / sum(had[unit.id].values())
    return dict(sorted(shares.items()))


def _days(job: Job, unit: Unit) -> int:
    """Days that a hired unit is paid for: from when until when it is hired, else the days of the job."""
    if unit.owner != "hired":
        return 0
    if unit.hired_from and unit.hired_until:
        return (unit.hired_until - unit.hired_from).days + 1
    return days_of_job(job)


def days_of_job(job: Job) -> int:
    """Days from the first of a job to its last, both counted; 0 without parts."""
    dates = {at.date() for part in job.parts for at in (part.starts, part.ends)}
    return (max(dates) - min(dates)).days + 1 if dates else 0


def _price(unit: Unit, catalogue: Catalogue) -> float | None:
    model = catalogue.model_of(unit.id)
    if unit.owner == "hired":
        return model.hire_per_day
    return unit.price if unit.price is not None else model.price


def _lines(
    groups: Mapping[tuple[str, str, int], Sequence[Unit]],
    had: Mapping[str, Mapping[str, int]],
    catalogue: Catalogue,
    job: Job,
) -> Iterator[CostLine]:
    settings = job.settings
    for (model_id, owner, days), units in groups.items():
        model = catalogue.model(model_id)
        prices = [_price(unit, catalogue) for unit in units]
        known = [price for price in prices if price is not None]
        total = sum(hire_for(price, days, settings.hire_week_days) if owner == "hired" else price for price in known)
        pays = (
            payback_days(model.price, model.hire_per_day, model.price * settings.resale_share)
            if model.price is not None and model.hire_per_day
            else None
        )
        yield CostLine(
            model_id,
            model.title,
            model.kind,
            owner,
            tuple(unit.id for unit in units),
            tuple(sorted({camera for unit in units for camera in had[unit.id]})),
            days,
            known[0] if known and len(set(known)) == 1 else None,
            total,
            pays,
        )
