"""A job's days laid out whole: the table, cards, gear, once-only moments, and everything that stands against them."""

from __future__ import annotations

from dataclasses import dataclass

from ..callouts import Finding, by_weight
from ..job.job import Job
from ..rig.build import Catalogue
from ..swaps.day import days_of
from .angles import MomentSeen, angles_of
from .cures import shortages
from .media import MediaPlan, media_plan
from .mic_up import mic_ups
from .pool import Pool, pool_of
from .run_sheet import RunSheet, run_sheet
from .sound import Sound, sound_of
from .table import DayTable, StandIn, day_table

__all__ = ["LaidOut", "lay_out", "run_sheets"]


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


def lay_out(job: Job, catalogue: Catalogue, stand_in: StandIn | None = None) -> LaidOut:
    """Everything of a job's days; ``stand_in`` is asked for facts of builds that may be known already."""
    table, media = day_table(job, catalogue, stand_in), media_plan(job, catalogue)
    pool = pool_of(job, catalogue, table, media)
    moments, unseen = angles_of(job, table)
    sound = sound_of(job, catalogue, table)
    against = (
        *table.findings,
        *shortages(job, catalogue, table),
        *media.findings,
        *pool.findings,
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
