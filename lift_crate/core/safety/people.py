"""The day of every person: how long there, the longest stretch without a break, on foot, water and warmth."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..callouts import About, Finding, Input, Level, Working, by_weight
from ..day.run_sheet import RunSheet
from ..job.job import Job

__all__ = ["PersonDay", "people_days"]


@dataclass(frozen=True, kw_only=True)
class PersonDay:
    """A person on one day: from call to the end of what is theirs, worked and free, and what stands against it."""

    who: str
    starts: datetime
    ends: datetime
    worked_h: float
    stretch_h: float
    """Longest without a break."""
    stretch_from: datetime
    breaks: int
    water_l: float
    findings: tuple[Finding, ...]

    @property
    def there_h(self) -> float:
        """From call to end."""
        return (self.ends - self.starts).total_seconds() / 3600


def people_days(job: Job, sheet: RunSheet) -> tuple[PersonDay, ...]:
    """Everybody who has something to do on a day, by how serious it is."""
    found = []
    for who in sheet.people:
        spans = [(t.starts, t.ends) for t in sheet.tasks if who in t.who and t.starts and t.ends]
        spans += [(b.starts, b.ends) for b in sheet.busy if b.who == who]
        own = sorted((a, b) for a, b in spans if a is not None and b is not None)
        if own:
            found.append(_day(job, who, min(sheet.call, own[0][0]), own))
    return tuple(sorted(found, key=lambda p: (-max((f.level for f in p.findings), default=0), p.who)))


def _day(job: Job, who: str, call: datetime, spans: Sequence[tuple[datetime, datetime]]) -> PersonDay:
    settings = job.settings
    joined = [spans[0]]
    for starts, ends in spans[1:]:
        if starts - joined[-1][1] < timedelta(minutes=settings.break_min):
            joined[-1] = joined[-1][0], max(joined[-1][1], ends)
        else:
            joined.append((starts, ends))
    longest = max(joined, key=lambda s: s[1] - s[0])
    ends = joined[-1][1]
    stretch, there = _hours(*longest), _hours(call, ends)
    worked = sum(_hours(a, b) for a, b in _merged(spans))
    warm = any(p.conditions.temperature_c >= 25 for p in job.parts if p.ends > call and p.starts < ends)
    water = there * settings.water_l_h * (2.0 if warm else 1.0)
    findings = []
    if stretch > settings.stretch_h:
        findings.append(
            _told("people.break", who, stretch, settings.stretch_h,
                  f"{who} has no break of {settings.break_min:g} min from {longest[0]:%H:%M} to {longest[1]:%H:%M},"
                  f" {stretch:.1f} h; {settings.stretch_h:g} h at most.")
        )  # fmt: skip
    if there > settings.day_h:
        findings.append(
            _told("people.long", who, there, settings.day_h,
                  f"{who} is there {there:.1f} h, from {call:%H:%M} to {ends:%H:%M}; {settings.day_h:g} h at most.")
        )  # fmt: skip
    waits = there - worked
    if waits > settings.stretch_h:
        findings.append(
            _told("people.waits", who, waits, settings.stretch_h,
                  f"{who} waits {waits:.1f} h of {there:.1f} h: a warm or shaded place, food and water"
                  f" ({water:.1f} l), and leave to sit.")
        )  # fmt: skip
    return PersonDay(
        who=who,
        starts=call,
        ends=ends,
        worked_h=worked,
        stretch_h=stretch,
        stretch_from=longest[0],
        breaks=len(joined) - 1,
        water_l=water,
        findings=by_weight(findings),
    )


def _merged(spans: Sequence[tuple[datetime, datetime]]) -> list[tuple[datetime, datetime]]:
    found = [spans[0]]
    for starts, ends in spans[1:]:
        if starts <= found[-1][1]:
            found[-1] = found[-1][0], max(found[-1][1], ends)
        else:
            found.append((starts, ends))
    return found


def _hours(starts: datetime, ends: datetime) -> float:
    return (ends - starts).total_seconds() / 3600


def _told(code: str, who: str, value: float, limit: float, text: str) -> Finding:
    return Finding(
        code=code,
        level=Level.NOTE if code == "people.waits" else Level.WATCH,
        about=About(units=(), port=who),
        text=text,
        value=round(value, 2),
        limit=limit,
        unit="h",
        working=(
            Working(
                formula="hours of the run sheet, tasks and cameras worked, against the setting",
                numbers=f"{value:.2f} h against {limit:g} h",
                inputs=(Input(name="at most", value=f"{limit:g} h", source="setting"),),
            ),
        ),
    )
