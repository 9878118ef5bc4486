"""What cures a shortage or a run sheet, and which units go where: found by a worker, asked again until it is."""

from __future__ import annotations

from datetime import date
from typing import Annotated

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.asked import (
    AnswerOfDay,
    CuresAsked,
    CuresFound,
    DealAsked,
    QuestionOfDay,
    RunCuresAsked,
    RunCuresFound,
)
from ..core.day.cures import missing_of
from ..core.day.deal import Dealt
from ..core.day.laid_out import beside
from ..core.errors import NotAllowed
from ..core.job.edits import JobOperation
from ..core.swaps.day import days_of
from ..core.swaps.what_if import PlannedDay
from ..store.plans import Slot
from . import schema as s
from .answers import READ, answer
from .day import read_with_others
from .described import PlaceApi
from .identity import current_asker
from .run import RunQuery, run_asked
from .schema import Told
from .services import services

__all__ = ["api", "asked_of_worker"]

api = PlaceApi(
    "cures",
    __name__,
    url_prefix="/api/jobs/<string:job>/day",
    abp_tags=[Tag(name="cures", description="What cures a shortage or a run sheet, and units dealt anew")],
)


def asked_of_worker(job_id: str, question: QuestionOfDay, slot: Slot, what: str) -> tuple[AnswerOfDay | None, bool]:
    """What a worker has found so far, and whether that is all."""
    plans = services().plans
    state = plans.state(plans.ask(job_id, question, current_asker(), slot))
    if state.failed:
        raise NotAllowed(f"{what} could not be found: {state.failed}.")
    return None if isinstance(state.answer, PlannedDay) else state.answer, state.done


class CureChangeView(Told):
    """In this camera that unit goes in the place of another; by nothing: it is left off."""

    rig: str
    unit: str
    by: str
    title: str


class CureView(Told):
    """Changes that together cure a shortage, tried; counts as they differ from before."""

    changes: list[CureChangeView]
    stops: int
    watches: int
    grams: float
    operations: list[Annotated[JobOperation, Field(discriminator="op")]]


class MissingView(Told):
    """A unit that is wanted and not there, and what one more of it costs a day to hire."""

    unit: str
    title: str
    why: str
    hire_per_day: float | None


class CuresView(Told):
    """What is missing of a build in a part of the day, and what cures it, the least change first."""

    missing: list[MissingView]
    cures: list[CureView]
    currency: str
    searching: bool
    """Cures are still being tried: ask again."""


class CurePath(s.JobPath):
    """A build of a camera in a part of the day."""

    part: str
    rig: str
    build: str


@api.get(
    "/cures/<string:part>/<string:rig>/<string:build>", responses={200: CuresView, **READ}, operation_id="readCures"
)
def read_cures(path: CurePath) -> Response:
    """The smallest changes with which a camera can be in a build in a part of the day, each tried."""
    job, catalogue, out = read_with_others(path.job)
    part, rig = job.part(path.part), job.rig(path.rig)
    _, build = job.build(path.build)
    missing = missing_of(job, catalogue, part, rig, build, out)
    found: AnswerOfDay | None = None
    done = True
    if missing:
        question = CuresAsked(part=path.part, rig=path.rig, build=path.build, out=beside(out))
        found, done = asked_of_worker(path.job, question, "cures", "What cures this")
    labels = {r.id: r.label for r in job.rigs}
    return answer(
        CuresView(
            missing=[
                MissingView(
                    unit=m.unit,
                    title=(model := catalogue.model_of(m.unit)).title,
                    why=m.why,
                    hire_per_day=model.hire_per_day,
                )
                for m in missing
            ],
            cures=[
                CureView(
                    changes=[
                        CureChangeView(
                            rig=labels[c.rig],
                            unit=c.unit,
                            by=c.by,
                            title=catalogue.model_of(c.by).title if c.by else "",
                        )
                        for c in cure.changes
                    ],
                    stops=cure.stops,
                    watches=cure.watches,
                    grams=cure.grams,
                    operations=list(cure.operations),
                )
                for cure in (found.shortage_cures if isinstance(found, CuresFound) else ())
            ],
            currency=job.settings.currency,
            searching=not done,
        )
    )


class RunCureView(Told):
    """A change that was tried: how many of so many tasks without a time are left then, and the edit that makes it."""

    day: date
    label: str
    left: int
    before: int
    operation: Annotated[JobOperation, Field(discriminator="op")]


class RunCuresView(Told):
    """What would make the run sheets fit, or fit better."""

    cures: list[RunCureView]
    searching: bool
    """They are still being tried: ask again."""


@api.get("/run/cures", responses={200: RunCuresView, **READ}, operation_id="readRunCures")
def read_run_cures(path: s.JobPath, query: RunQuery) -> Response:
    """Changes after which fewer tasks find no time, each tried by timing its day back once more."""
    job, _, out = read_with_others(path.job)
    run, _ = run_asked(job, query, out)
    question = RunCuresAsked(late_part=run.late_part, late_min=run.late_min, swaps=run.swaps, out=run.out)
    found, done = asked_of_worker(path.job, question, "run cures", "What makes it fit")
    by_day = found.by_day if isinstance(found, RunCuresFound) else ()
    return answer(
        RunCuresView(
            cures=[
                RunCureView(
                    day=parts[0].starts.date(),
                    label=cure.label,
                    left=cure.left,
                    before=cure.before,
                    operation=cure.operation,
                )
                for parts, cures in zip(days_of(job), by_day, strict=False)
                for cure in cures
            ],
            searching=not done,
        )
    )


class DealingView(Told):
    """In this build of a camera one unit goes in the place of another, and why."""

    rig: str
    build: str
    title: str
    unit: str
    by: str
    why: str


class DealView(Told):
    """Units dealt anew over the job's days: how often one is wanted that is not there, how many different units of a
    model the cameras have over the days, before and after, and the edits that make it.
    """

    changes: list[DealingView]
    short_before: int
    short_after: int
    kept_before: int
    kept_after: int
    proven: bool
    operations: list[Annotated[JobOperation, Field(discriminator="op")]]
    searching: bool
    """It is still being dealt: ask again."""


@api.get("/gear/deal", responses={200: DealView, **READ}, operation_id="readDeal")
def read_deal(path: s.JobPath) -> Response:
    """Which of several alike units goes where: nothing wanted twice, the same kept, the soundest where it counts."""
    job, catalogue, out = read_with_others(path.job)
    found, done = asked_of_worker(path.job, DealAsked(out=beside(out)), "deal", "How to deal them")
    labels = {r.id: r.label for r in job.rigs} | {b.id: b.label for r in job.rigs for b in r.builds}
    dealt = found if isinstance(found, Dealt) else Dealt((), 0, 0, 0, 0, proven=False, operations=())
    return answer(
        DealView(
            changes=[
                DealingView(
                    rig=labels.get(c.rig, c.rig),
                    build=labels.get(c.build, c.build),
                    title=catalogue.model_of(c.by).title,
                    unit=c.unit,
                    by=c.by,
                    why=c.why,
                )
                for c in dealt.changes
            ],
            short_before=dealt.short_before,
            short_after=dealt.short_after,
            kept_before=dealt.kept_before,
            kept_after=dealt.kept_after,
            proven=dealt.proven,
            operations=list(dealt.operations),
            searching=not done,
        )
    )
