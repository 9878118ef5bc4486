"""A job's days laid out whole: the table, cards, gear, once-only moments, and everything that stands against them."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import tzinfo

from ..callouts import Finding, by_weight
from ..job.job import Job, OutElsewhere
from ..rig.build import Catalogue
from ..swaps.card import Swap
from ..swaps.day import days_of
from .angles import MomentSeen, angles_of
from .bodies import companions
from .cures import shortages
from .media import MediaPlan, media_plan
from .mic_up import mic_ups
from .pool import Pool, pool_of
from .run_sheet import RunSheet, run_sheet
from .run_solver import Search, by_search
from .run_tasks import SwapDue
from .sound import Sound, sound_of
from .table import DayTable, StandIn, day_table

__all__ = [
    "Beside",
    "LaidOut",
    "PlannedRun",
    "RunAsked",
    "beside",
    "lay_out",
    "out_of",
    "plan_the_run",
    "run_sheets",
    "swaps_due",
]

Beside = tuple[tuple[str, str, str], ...]
"""Part of the day, unit, and the title of another job that has it then."""


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
    table, media = day_table(job, catalogue, stand_in), media_plan(job, catalogue, out)
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
    job: Job,
    catalogue: Catalogue,
    day: LaidOut,
    late: dict[str, float] | None = None,
    swaps: Sequence[SwapDue] = (),
) -> tuple[RunSheet, ...]:
    """The run sheet of every day of a job; ``late``: minutes by which parts end late, by part; ``swaps``: on its cards
    of swaps.
    """
    return tuple(
        run_sheet(job, day.table, day.media, parts, mics=mic_ups(job, catalogue, parts), swaps=swaps, late=late)
        for parts in days_of(job)
    )


@dataclass(frozen=True, kw_only=True)
class RunAsked:
    """A question about run sheets: a part that ends late and by how many minutes, none: as it is planned; and the
    swap cards of the days as far as they are planned; ``out``: what other jobs have.
    """

    late_part: str
    late_min: float
    swaps: tuple[SwapDue, ...] = ()
    out: Beside = ()


@dataclass(frozen=True, kw_only=True)
class PlannedRun:
    """The run sheets of a job's days, as far as they have been searched, and whether nothing better exists."""

    sheets: tuple[RunSheet, ...]
    proven: bool

    def in_zone(self, clock: tzinfo) -> PlannedRun:
        """The same, told in another time zone."""
        return replace(self, sheets=tuple(sheet.in_zone(clock) for sheet in self.sheets))


def beside(out: OutElsewhere) -> Beside:
    """What other jobs have, as a question keeps it: another answer is wanted when it changes."""
    return tuple(sorted((part, unit, title) for (part, unit), title in out.items()))


def out_of(told: Beside) -> OutElsewhere:
    """The same as it is looked up."""
    return {(part, unit): title for part, unit, title in told}


def swaps_due(cards: Sequence[Swap], clock: tzinfo) -> tuple[SwapDue, ...]:
    """What a swap card asks of somebody; the first packs go in when a rig is built."""
    return tuple(
        SwapDue(
            at=swap.at.astimezone(clock),
            rig=swap.rig or "",
            place=swap.label,
            what=f"{swap.pack_in} for {swap.pack_out}",
            who=swap.person,
        )
        for swap in cards
        if swap.pack_out
    )


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
    laid = lay_out(job, catalogue, out=out_of(asked.out))
    found = PlannedRun(sheets=run_sheets(job, catalogue, laid, late, asked.swaps), proven=False)
    left = told(found, False)
    search = Search(unwanted=unwanted)
    for number, parts in enumerate(days_of(job)):
        if left or unwanted():
            break
        mics = mic_ups(job, catalogue, parts)
        better = run_sheet(
            job, laid.table, laid.media, parts, mics=mics, swaps=asked.swaps, late=late, placing=by_search(search)
        )
        last = number + 1 == len(found.sheets)
        sheets = (*found.sheets[:number], better, *found.sheets[number + 1 :])
        found = PlannedRun(sheets=sheets, proven=last and search.proven)
        left = told(found, last and not unwanted())
    return found
