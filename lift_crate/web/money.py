"""What a job costs: hire by model over its days, running costs, and what is wanted for what it brings."""

from __future__ import annotations

from datetime import date
from typing import Annotated, Literal

from annotated_types import MaxLen
from flask import Response
from flask_openapi3.models.tag import Tag

from ..core.day.media import media_plan
from ..core.day.money import Budget, budget_of
from ..core.day.wants import Spending, Wanted, spending_of
from ..core.job.job import Job
from ..core.job.money import Cost, Want
from ..core.quantities import Label
from ..formats.day_list import budget_csv
from . import present
from . import schema as s
from .answers import READ, answer, file_headers
from .described import PlaceApi
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "money",
    __name__,
    url_prefix="/api/jobs/<string:job>/day",
    abp_tags=[Tag(name="money", description="Hire, running costs, wanted gear")],
)
_MOST_MODELS = 80


class CostLineView(Told):
    """Units of one model and owner: what each costs, for how many days, in all."""

    title: str
    kind: str
    owner: str
    units: list[str]
    cameras: list[str]
    days: int
    each: float | None
    total: float
    payback_days: float | None


class ReturnView(Told):
    """Hired units that go back after a day; null: nobody said which."""

    by: date | None
    units: list[str]


class PaidView(Told):
    """A running cost, and what this job pays of it without tax."""

    cost: Cost
    total: float


class GainView(Told):
    """Something that gets better by so much, or worse; what one of it costs."""

    what: Literal["Stops fewer", "Watches fewer", "stops of light", "g lighter", "h longer"]
    amount: float
    each: float | None


class WantedView(Told):
    """Something wanted, what it costs without tax, when that is paid back, and what it brings."""

    want: Want
    title: str
    price: float | None
    total: float | None
    payback_days: float | None
    payback_jobs: int | None
    gains: list[GainView]
    comes_off: list[str]
    refused: str


class TierView(Told):
    """How much it matters: what everything in it costs, and what of that is decided."""

    tier: Literal["must", "next", "later"]
    total: float
    taken: float


class BudgetView(Told):
    """What a job costs in gear."""

    currency: str
    lines: list[CostLineView]
    hire: float
    tax: float
    tax_share: float
    total: float
    worth: float
    unknown: list[str]
    by_camera: dict[str, float]
    returns: list[ReturnView]
    costs: list[PaidView]
    running: float
    wanted: list[WantedView]
    tiers: list[TierView]
    unpriced: list[str]
    """Wanted gear without a price; it is in no sum."""
    all_tax: float
    all_total: float
    """Hire, running costs and what is decided, with tax."""
    findings: list[s.FindingView]


@api.get("/budget", responses={200: BudgetView, **READ}, operation_id="readBudget")
def read_budget(path: s.JobPath) -> Response:
    """Hire by model over the days, with tax; what is owned; days after which buying is cheaper."""
    job, found, spending = _money(path.job)
    return answer(
        BudgetView(
            currency=job.settings.currency,
            lines=[
                CostLineView(
                    title=x.title,
                    kind=x.kind,
                    owner=x.owner,
                    units=list(x.units),
                    cameras=list(x.cameras),
                    days=x.days,
                    each=x.each,
                    total=x.total,
                    payback_days=x.payback_days,
                )
                for x in found.lines
            ],
            hire=found.hire,
            tax=found.tax,
            tax_share=job.settings.tax_share,
            total=found.total,
            worth=found.worth,
            unknown=list(found.unknown),
            by_camera=dict(found.by_camera),
            returns=[ReturnView(by=by, units=list(units)) for by, units in found.returns],
            costs=[PaidView(cost=p.cost, total=p.total) for p in spending.paid],
            running=spending.running,
            wanted=[_wanted(w) for w in spending.wanted],
            tiers=[TierView(tier=t, total=total, taken=taken) for t, (total, taken) in spending.tiers.items()],
            unpriced=list(spending.unknown),
            all_tax=spending.tax,
            all_total=spending.total,
            findings=present.finding_views(spending.findings),
        )
    )


def _money(job_id: str) -> tuple[Job, Budget, Spending]:
    job, catalogue, _ = services().jobs.read(job_id)
    budget = budget_of(job, catalogue, media_plan(job, catalogue))
    return job, budget, spending_of(job, catalogue, budget)


def _wanted(w: Wanted) -> WantedView:
    return WantedView(
        want=w.want,
        title=w.title,
        price=w.price,
        total=w.total,
        payback_days=w.payback_days,
        payback_jobs=w.payback_jobs,
        gains=[GainView(what=g.what, amount=g.amount, each=g.each) for g in w.gains],
        comes_off=list(w.comes_off),
        refused=w.refused,
    )


@api.get("/budget.csv", responses=READ, operation_id="exportBudgetCsv")
def export_budget_csv(path: s.JobPath) -> Response:
    """Hire, running costs and wanted gear as CSV, line by line."""
    job, budget, spending = _money(path.job)
    return Response(
        budget_csv(job, budget, spending), mimetype="text/csv", headers=file_headers(f"{path.job}-budget.csv")
    )


class WantableModelView(Told):
    """A model that might be wanted."""

    id: str
    title: str
    price: float | None
    hire_per_day: float | None


class WantableUnitView(Told):
    """A unit of a camera that something might stand in the place of."""

    unit: str
    title: str


class WantableView(Told):
    """What may be wanted: models of a unit's kind, or by words; units of the camera."""

    units: list[WantableUnitView]
    models: list[WantableModelView]


class WantablePath(s.JobPath):
    """A camera in a part of the day."""

    part: str
    rig: str


class WantableQuery(s.Strict):
    """In the place of which unit; or words that are looked for in all models."""

    unit: Label = ""
    words: Annotated[str, MaxLen(200)] = ""


@api.get("/wantable/<string:part>/<string:rig>", responses={200: WantableView, **READ}, operation_id="readWantable")
def read_wantable(path: WantablePath, query: WantableQuery) -> Response:
    """What may be wanted for a camera in a part of the day."""
    job, catalogue, _ = services().jobs.read(path.job)
    planned = job.builds_in(job.part(path.part).id).get(job.rig(path.rig).id)
    units = planned[1].units if planned else ()
    kind = catalogue.model_of(query.unit).kind if query.unit else ""
    words = query.words.lower().split()
    models = [
        m
        for m in sorted(catalogue.models.values(), key=lambda m: m.title)
        if (m.kind == kind if query.unit else bool(words)) and all(w in f"{m.title} {m.kind}".lower() for w in words)
    ]
    return answer(
        WantableView(
            units=[WantableUnitView(unit=u, title=catalogue.model_of(u).title) for u in units],
            models=[
                WantableModelView(id=m.id, title=m.title, price=m.price, hire_per_day=m.hire_per_day)
                for m in models[:_MOST_MODELS]
            ],
        )
    )
