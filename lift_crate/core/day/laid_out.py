"""A job's days laid out whole: the table, cards, gear, once-only moments, and everything that stands against them."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, replace
from datetime import tzinfo

from ..callouts import Finding, by_weight
from ..job.job import Job, OutElsewhere
from ..rig.build import Catalogue
from ..swaps.day import days_of
from .angles import MomentSeen, angles_of
from .bodies import companions
from .cures import shortages
from .media import MediaPlan, media_plan
from .mic_up import mic_ups
from .pool import Pool, pool_of
from .run_sheet import RunSheet, run_sheet
from .run_solver import Search, by_search
from .sound import Sound, sound_of
from .table import DayTable, StandIn, day_table

__all__ = ["LaidOut", "PlannedRun", "RunAsked", "lay_out", "plan_the_run", "run_sheets"]


@dataclass(frozen=True, eq=False)
class LaidOut:
    """All days of a job but their run sheets, which take longer."""

    table: DayTable
    media: MediaPlan
    pool: Pool
    moments: tuple[MomentSeen, ...]
    sound: Sound
    findings: tuple[Finding, ...]
    """Most serious first, what is clear last."""


def lay_out(
    job: Job, catalogue: Catalogue, stand_in: StandIn | None = None, out: OutElsewhere | None = None
) -> LaidOut:
    """Everything of a job's days; ``stand_in`` is asked for facts of builds that may be known already; ``out``: what
    other jobs have then.
    """
    table, media = day_table(job, catalogue, stand_in), media_plan(job, catalogue)
    pool = pool_of(job, catalogue, table, media, out)
    moments, unseen = angles_of(job, table)
    sound = sound_of(job, catalogue, table)
    against = (
        *table.findings,
        *shortages(job, catalogue, table),
        *media.findings,
        *pool.findings,
        *companions(job, catalogue, media),
        *unseen,
        *sound.findings,
    )
    return LaidOut(table, media, pool, moments, sound, by_weight(against))


def run_sheets(
    job: Job, catalogue: Catalogue, day: LaidOut, late: dict[str, float] | None = None
) -> tuple[RunSheet, ...]:
    """The run sheet of every day of a job; ``late``: minutes by which parts end late, by part."""
    return tuple(
        run_sheet(job, day.table, day.media, parts, mics=mic_ups(job, catalogue, parts), late=late)
        for parts in days_of(job)
    )


@dataclass(frozen=True, kw_only=True)
class RunAsked:
    """A question about run sheets: a part that ends late and by how many minutes; none: as it is planned."""

    late_part: str
    late_min: float


@dataclass(frozen=True, kw_only=True)
class PlannedRun:
    """The run sheets of a job's days, as far as they have been searched, and whether nothing better exists."""

    sheets: tuple[RunSheet, ...]
    proven: bool

    def in_zone(self, clock: tzinfo) -> PlannedRun:
        """The same, told in another time zone."""
        return replace(self, sheets=tuple(sheet.in_zone(clock) for sheet in self.sheets))


def plan_the_run(
    job: Job,
    catalogue: Catalogue,
    asked: RunAsked,
    told: Callable[[PlannedRun, bool], bool],
    unwanted: Callable[[], bool] = lambda: False,
) -> PlannedRun:
    """The run sheets of a job, searched day by day; raises NotInJob.

    ``told`` is given what there is whenever there is more, and whether it will stay as it is; when it returns True
    nobody waits any more, and the search ends. ``unwanted`` is asked the same in the middle of a day.
    """
    if asked.late_part:
        job.part(asked.late_part)
    late = {asked.late_part: asked.late_min} if asked.late_part and asked.late_min else {}
    laid = lay_out(job, catalogue)
    found = PlannedRun(sheets=run_sheets(job, catalogue, laid, late), proven=False)
    left = told(found, False)
    search = Search(unwanted=unwanted)
    for number, parts in enumerate(days_of(job)):
        if left or unwanted():
            break
        mics = mic_ups(job, catalogue, parts)
        better = run_sheet(job, laid.table, laid.media, parts, mics=mics, late=late, placing=by_search(search))
        last = number + 1 == len(found.sheets)
        sheets = (*found.sheets[:number], better, *found.sheets[number + 1 :])
        found = PlannedRun(sheets=sheets, proven=last and search.proven)
        left = told(found, last and not unwanted())
    return found
