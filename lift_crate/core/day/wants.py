"""What a job pays beside hire, and what wanted gear costs for what it brings.

Every sum is without tax, tax is added to it once; what stands in the place of a unit is tried there, and its price
set against each thing that gets better. Formulas: docs/formulas.md §13, 'Wanted'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date
from typing import Literal, get_args

from ..bench.bench import Bench
from ..bench.exchange import exchange
from ..callouts import About, Finding, Level
from ..errors import BadRig
from ..gear.model import GearModel
from ..job.job import Job
from ..job.money import Cost, Tier, Want
from ..rig.build import Catalogue, Unit
from ..stand import stand_of
from .money import Budget, days_of_job, hire_for, payback_days

__all__ = ["Gain", "Paid", "Spending", "Wanted", "cost_of", "spending_of"]

TIERS: tuple[Tier, ...] = get_args(Tier)
What = Literal["Stops fewer", "Watches fewer", "stops of light", "g lighter", "h longer"]
_LEAST = {"g lighter": 1.0, "h longer": 0.01, "stops of light": 0.05}
"""What is less is no gain and no loss."""


@dataclass(frozen=True, slots=True)
class Paid:
    """A running cost: what this job pays of it, without tax."""

    cost: Cost
    total: float


@dataclass(frozen=True, slots=True)
class Gain:
    """Something that gets better by so much, or worse; what one of it costs."""

    what: What
    amount: float
    each: float | None
    """None where it gets worse."""


@dataclass(frozen=True, slots=True)
class Wanted:
    """Something wanted: without tax in all, when buying it is paid back, and what it brings where it would stand."""

    want: Want
    title: str
    price: float | None
    """Of one, without tax; by the day where it is hired."""
    total: float | None
    """None: nobody entered a price."""
    payback_days: float | None
    payback_jobs: int | None
    """Of jobs as long as this one."""
    gains: tuple[Gain, ...]
    comes_off: tuple[str, ...]
    refused: str
    """Why it does not go in that place; empty: it does, or none was named."""


@dataclass(frozen=True, slots=True)
class Spending:
    """All that a job pays and might pay; every sum is without tax unless it says otherwise."""

    paid: tuple[Paid, ...]
    wanted: tuple[Wanted, ...]
    running: float
    tiers: dict[Tier, tuple[float, float]]
    """By tier what everything in it costs, and what of that is decided."""
    unknown: tuple[str, ...]
    """Wanted gear without a price; it is in no sum."""
    tax: float
    """On hire, running costs and what is decided."""
    total: float
    """Hire, running costs and what is decided, with tax."""
    findings: tuple[Finding, ...]


def spending_of(job: Job, catalogue: Catalogue, budget: Budget) -> Spending:
    """What a job pays beside its hire, and what it might."""
    tax = job.settings.tax_share
    paid = tuple(Paid(cost, cost_of(cost, job)) for cost in job.money.costs)
    wanted = tuple(_wanted(want, job, catalogue) for want in job.money.wants)
    tiers: dict[Tier, tuple[float, float]] = {
        tier: (
            sum(w.total or 0.0 for w in wanted if w.want.tier == tier),
            sum(w.total or 0.0 for w in wanted if w.want.tier == tier and w.want.taken),
        )
        for tier in TIERS
    }
    running = sum(p.total for p in paid)
    net = budget.hire + running + sum(taken for _, taken in tiers.values())
    return Spending(
        paid,
        wanted,
        running,
        tiers,
        tuple(w.title for w in wanted if w.total is None),
        net * tax,
        net * (1 + tax),
        tuple(_findings(job, wanted)),
    )


def cost_of(cost: Cost, job: Job) -> float:
    """What one job pays of a running cost, without tax: amount × days or cameras, shared by so many jobs."""
    times = {"job": 1, "day": days_of_job(job), "camera": len(job.rigs)}[cost.per]
    return _net(cost.amount, job, with_tax=cost.with_tax) * times / cost.jobs


def _net(amount: float, job: Job, *, with_tax: bool) -> float:
    return amount / (1 + job.settings.tax_share) if with_tax else amount


def _wanted(want: Want, job: Job, catalogue: Catalogue) -> Wanted:
    model = catalogue.models.get(want.model)
    if model is None:
        return Wanted(want, want.model, None, None, None, None, (), (), "it is not in the catalogue any more")
    days = days_of_job(job)
    given = want.price if want.price is not None else model.hire_per_day if want.how == "hire" else model.price
    price = None if given is None else _net(given, job, with_tax=want.with_tax and want.price is not None)
    if price is not None and want.per == "set" and want.price is not None:
        price /= want.count
    total = None if price is None else want.count * price
    if total is not None and want.how == "hire":
        total = hire_for(total, days, job.settings.hire_week_days)
    back = jobs = None
    if price is not None and want.how != "hire" and model.hire_per_day:
        sold = price * job.settings.resale_share
        back = payback_days(price, model.hire_per_day, sold)
        a_job = hire_for(model.hire_per_day, days, job.settings.hire_week_days)
        jobs = math.ceil((price - sold) / a_job - 1e-9) if a_job else None
    gains, off, why = _tried(want, model, total, job, catalogue)
    return Wanted(want, model.title, price, total, back, jobs, gains, off, why)


def _tried(
    want: Want, model: GearModel, total: float | None, job: Job, catalogue: Catalogue
) -> tuple[tuple[Gain, ...], tuple[str, ...], str]:
    """It in the place of what it is wanted for: what gets better and worse there, what comes off, or why not."""
    if not want.unit:
        return (), (), ""
    part = next((p for p in job.parts if p.id == want.part), None)
    planned = job.builds_in(part.id).get(want.rig) if part else None
    if part is None or planned is None or want.unit not in planned[1].units:
        return (), (), f"{want.unit} is not there any more"
    rig, build = planned
    new = f"new {model.id}"
    shelf = Catalogue(catalogue.interfaces, catalogue.models, {**catalogue.units, new: Unit(id=new, model=model.id)})
    bench = Bench(stand_of(build, shelf, part.conditions, job.settings, {}, job.target_of(rig, part.id)))
    found = exchange(bench, want.unit, new)
    if found is None:
        return (), (), f"it does not go in the place of {want.unit}"
    try:
        after = bench.after(found.operations).whole
    except BadRig as error:
        return (), (), str(error)
    before = bench.whole
    first, then = before.stand.first_empty, after.stand.first_empty
    amounts: list[tuple[What, float]] = [
        ("Stops fewer", before.counts["stops"] - after.counts["stops"]),
        ("Watches fewer", before.counts["watches"] - after.counts["watches"]),
        ("stops of light", _light(catalogue.model_of(want.unit), model)),
        ("g lighter", before.stand.carried.total.mass_g - after.stand.carried.total.mass_g),
        (
            "h longer",
            then.hours - first.hours
            if first and then and math.isfinite(first.hours) and math.isfinite(then.hours)
            else 0.0,
        ),
    ]
    gains = tuple(
        Gain(what, amount, total / amount if amount > 0 and total is not None else None)
        for what, amount in amounts
        if abs(amount) >= _LEAST.get(what, 1)
    )
    return gains, found.left, ""


def _light(old: GearModel, new: GearModel) -> float:
    """Stops that a lens lets through more than another: 2·log₂(T/T); T2 in the place of T2.8: 0.97."""
    if old.lens is None or new.lens is None:
        return 0.0
    was, now = old.lens.t_stop or old.lens.stop, new.lens.t_stop or new.lens.stop
    return 2 * math.log2(was / now)


def _findings(job: Job, wanted: Sequence[Wanted]) -> Iterator[Finding]:
    for rank, tier in enumerate(TIERS):
        skipped = [w for w in wanted if w.want.tier == tier and not w.want.taken]
        before = [w for w in wanted if w.want.taken and TIERS.index(w.want.tier) > rank]
        if tier == "must" and skipped and before:
            yield Finding(
                code="money.skipped",
                level=Level.WATCH,
                about=About(units=tuple(f"want {w.want.id}" for w in (skipped[0], before[0]))),
                value=sum(w.total or 0.0 for w in skipped),
                text=(
                    f"{skipped[0].title} is a must and not decided, and {before[0].title}, which is for"
                    f" {before[0].want.tier}, is."
                ),
            )
    last: date | None = max((p.ends.date() for p in job.parts), default=None)
    for cost in job.money.costs:
        if cost.until and last and cost.until < last:
            yield Finding(
                code="money.until",
                level=Level.WATCH,
                about=About(units=(f"cost {cost.id}",)),
                text=f"{cost.label} holds until {cost.until:%d %b}; the job goes on until {last:%d %b}.",
            )
