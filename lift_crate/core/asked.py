"""What is asked of a job's days and takes too long to be waited for: each question with its answer, for a worker."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass
from datetime import datetime
from typing import Literal

from .day.cures import Cure, cures_of
from .day.deal import Dealt, deal_units
from .day.laid_out import Beside, PlannedRun, RunAsked, lay_out, out_of, plan_the_run
from .day.run_cures import RunCure, run_cures
from .day.run_tasks import SwapDue
from .day.table import kept_stands
from .job.job import Job
from .log.effects import Effect, days_to_come, effects_of
from .log.learn import Figure
from .pack.along import goes_along
from .pack.packed import Packed, pack_up
from .rig.build import Catalogue
from .swaps.day import days_of
from .swaps.what_if import Made

__all__ = [
    "AnswerOfDay",
    "CuresAsked",
    "CuresFound",
    "DealAsked",
    "EffectsAsked",
    "EffectsFound",
    "PackAsked",
    "QuestionOfDay",
    "RunCuresAsked",
    "RunCuresFound",
    "answer_of_day",
]


@dataclass(frozen=True, kw_only=True)
class CuresAsked:
    """What cures it that a build lacks something in a part of the day?"""

    cures: Literal["of a shortage"] = "of a shortage"
    part: str
    rig: str
    build: str
    out: Beside = ()


@dataclass(frozen=True, kw_only=True)
class RunCuresAsked:
    """What makes the run sheets fit; with a part that ends late by so many minutes, or none?"""

    run_cures: Literal["of a run sheet"] = "of a run sheet"
    late_part: str
    late_min: float
    swaps: tuple[SwapDue, ...] = ()
    out: Beside = ()


@dataclass(frozen=True, kw_only=True)
class DealAsked:
    """Which units go where, dealt anew?"""

    deal: Literal["units"] = "units"
    out: Beside = ()


@dataclass(frozen=True, kw_only=True)
class PackAsked:
    """How does everything that goes along go into the cases?"""

    pack: Literal["cases"] = "cases"
    out: Beside = ()


@dataclass(frozen=True, kw_only=True)
class EffectsAsked:
    """What do figures that were learnt change in the parts that begin after a time, from the swaps made?"""

    effects: Literal["of figures"] = "of figures"
    figures: tuple[Figure, ...]
    since: datetime | None = None
    made: tuple[Made, ...] = ()


@dataclass(frozen=True, kw_only=True)
class CuresFound:
    """The smallest changes that cure a shortage."""

    shortage_cures: tuple[Cure, ...]


@dataclass(frozen=True, kw_only=True)
class RunCuresFound:
    """The changes after which fewer tasks find no time, by day as numbered from 0."""

    by_day: tuple[tuple[RunCure, ...], ...]


@dataclass(frozen=True, kw_only=True)
class EffectsFound:
    """What each figure changes, as far as it was tried."""

    of_figures: tuple[Effect, ...]


QuestionOfDay = RunAsked | CuresAsked | RunCuresAsked | DealAsked | PackAsked | EffectsAsked
AnswerOfDay = PlannedRun | CuresFound | RunCuresFound | Dealt | Packed | EffectsFound


def answer_of_day(
    job: Job,
    catalogue: Catalogue,
    asked: QuestionOfDay,
    told: Callable[[AnswerOfDay, bool], bool],
    unwanted: Callable[[], bool] = lambda: False,
) -> None:
    """Answer a question; ``told`` is given what there is and whether it stays so, ``unwanted`` asked in the middle.

    Raises NotInJob.
    """
    if isinstance(asked, RunAsked):
        plan_the_run(job, catalogue, asked, told, unwanted)
    elif isinstance(asked, CuresAsked):
        out = out_of(asked.out)
        told(CuresFound(shortage_cures=cures_of(job, catalogue, asked.part, asked.rig, asked.build, out)), True)
    elif isinstance(asked, DealAsked):
        dealt = deal_units(job, catalogue, out_of(asked.out), unwanted)
        told(dealt, not unwanted())
    elif isinstance(asked, PackAsked):
        things = goes_along(job, catalogue, lay_out(job, catalogue, out=out_of(asked.out)))
        pack_up(job, catalogue, things, told, unwanted)
    elif isinstance(asked, EffectsAsked):
        _effects(job, catalogue, asked, told, unwanted)
    else:
        if asked.late_part:
            job.part(asked.late_part)
        late = {asked.late_part: asked.late_min} if asked.late_part else {}
        stand_in = kept_stands(job, catalogue)
        found = tuple(
            run_cures(job, catalogue, parts, late, stand_in, asked.swaps, out_of(asked.out)) for parts in days_of(job)
        )
        told(RunCuresFound(by_day=found), True)


def _effects(
    job: Job,
    catalogue: Catalogue,
    asked: EffectsAsked,
    told: Callable[[AnswerOfDay, bool], bool],
    unwanted: Callable[[], bool],
) -> None:
    def so_far(found: tuple[Effect, ...]) -> bool:
        last = len(found) == len(asked.figures)
        return told(EffectsFound(of_figures=found), last) or unwanted()

    if not asked.figures:
        told(EffectsFound(of_figures=()), True)
    effects_of(days_to_come(job, asked.since), catalogue, asked.figures, asked.made, so_far)
