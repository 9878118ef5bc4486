"""The report of a day: what ran, what failed, what to change."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import date, datetime, timedelta

from ..day.custody import CardStep
from ..job.job import Job, PartOfDay
from ..swaps.day import days_of
from ..swaps.what_if import Made
from .entries import LogBook, Standing, entry_text
from .learn import Proposal

__all__ = ["DayReport", "PartReport", "of_day", "report_of"]

_BESIDE = timedelta(hours=6)
"""Rigging before and striking after are of the same night."""


@dataclass(frozen=True, kw_only=True)
class PartReport:
    """A part of the day: cameras that were planned, swaps made, cards recorded, and what was noted in it."""

    part: PartOfDay
    cameras: tuple[str, ...]
    swaps: int
    cards: int
    noted: tuple[Standing, ...]


@dataclass(frozen=True, kw_only=True)
class DayReport:
    """A day as it went. What was noted before its first part or after its last is beside the parts."""

    day: date
    parts: tuple[PartReport, ...]
    beside: tuple[Standing, ...]
    failed: tuple[Standing, ...]
    """Faults and near misses, mended or not."""
    promised: tuple[Standing, ...]
    """Consents and promises that stand."""
    to_change: tuple[str, ...]


def report_of(
    job: Job,
    book: LogBook,
    made: Sequence[Made],
    cards: Sequence[CardStep],
    proposals: Sequence[Proposal],
    day: date,
) -> DayReport | None:
    """The report of a day; None where the job has no part on it.

    What happens in a break belongs to the part before it, within six hours.
    """
    parts = next((p for p in days_of(job) if p[0].starts.date() == day), None)
    if parts is None:
        return None
    first, last = parts[0].starts, parts[-1].ends
    near = [s for s in book.standing if s.entry.kind not in ("settled", "weather") and of_day(s.entry.at, first, last)]

    def part_of(at: datetime) -> str | None:
        begun = [p for p in parts if p.starts <= at]
        return begun[-1].id if begun else None

    told = tuple(
        PartReport(
            part=part,
            cameras=tuple(rig.label for rig, _ in job.builds_in(part.id).values()),
            swaps=sum(of_day(m.at, first, last) and part_of(m.at) == part.id for m in made),
            cards=len(
                {c.card for c in cards if c.act == "in" and of_day(c.at, first, last) and part_of(c.at) == part.id}
            ),
            noted=tuple(s for s in near if part_of(s.entry.at) == part.id),
        )
        for part in parts
    )
    failed = tuple(s for s in near if s.entry.kind in ("fault", "near miss"))
    return DayReport(
        day=day,
        parts=told,
        beside=tuple(s for s in near if part_of(s.entry.at) is None),
        failed=failed,
        promised=tuple(s for s in book.of_kind("consent", "promise") if s.settled is None),
        to_change=(*_open_faults(failed), *(_figure(p) for p in proposals if not p.taken)),
    )


def of_day(at: datetime, first: datetime, last: datetime) -> bool:
    """Whether a time belongs to a day of parts: from six hours before the first to six after the last."""
    return first - _BESIDE <= at <= last + _BESIDE


def _open_faults(failed: Sequence[Standing]) -> list[str]:
    return [
        f"{s.entry.unit or 'Fault'}: {entry_text(s.entry)}. Mend or replace it before it goes out again."
        for s in failed
        if s.entry.kind == "fault" and s.settled is None
    ]


def _figure(proposal: Proposal) -> str:
    unit = f" {proposal.unit}" if proposal.unit else ""
    spread = f"{proposal.spread:.2g}"
    was = f" instead of {proposal.now:g}{unit}" if proposal.now else ""
    return f"{proposal.title}: count with {proposal.value:g} ± {spread}{unit}{was}."
