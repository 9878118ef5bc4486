"""Whether what a job does is allowed: what every permission says for its use and its days, and what nobody asked for.

Nothing here says what the law is: it says what somebody noted, and what that leaves open. Days are the job's own.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import date

from ..callouts import About, Finding, Level, by_weight
from ..day.table import DayTable
from ..job.job import Job
from ..job.permission import Permission, PermissionKind

__all__ = ["Allowed", "not_asked_for", "permission_states"]

_SHAKY = ("a rule of weight", "well known", "hearsay")


@dataclass(frozen=True, kw_only=True)
class Allowed:
    """A permission, the days it is needed for, and what stands against it."""

    permission: Permission
    first: date | None
    last: date | None
    findings: tuple[Finding, ...]


def permission_states(job: Job) -> tuple[Allowed, ...]:
    """Every permission of a job with what stands against it, as they were noted."""
    found = []
    for one in job.safety.permissions:
        parts = [p for p in job.parts if not one.parts or p.id in one.parts]
        first = min((p.starts.date() for p in parts), default=None)
        last = max((p.ends.date() for p in parts), default=None)
        told = tuple(by_weight([*_against(job, one, first, last)])) if one.state != "not needed" else ()
        found.append(Allowed(permission=one, first=first, last=last, findings=told))
    return tuple(found)


def not_asked_for(job: Job, table: DayTable) -> tuple[Finding, ...]:
    """What the plan needs somebody to allow and nobody noted, by the kind of permission."""
    return tuple(
        by_weight(
            [
                *_missing(job, "vehicle", _driven(table), "Cameras on what drives"),
                *_missing(job, "music", _played(job), "What the house plays is recorded"),
            ]
        )
    )


def _told(
    one: Permission, code: str, level: Level, text: str, value: float | None = None, limit: float | None = None
) -> Finding:
    return Finding(
        code=code,
        level=level,
        about=About(units=(), port=one.id),
        text=f"{one.label}: {text}",
        value=value,
        limit=limit,
        unit="days" if limit is not None else "",
    )


def _against(job: Job, one: Permission, first: date | None, last: date | None) -> Iterator[Finding]:
    if one.state != "given":
        said = {"to ask": "nobody has asked yet", "asked": "asked, no answer yet", "refused": "refused"}[one.state]
        level = Level.STOP if one.state == "refused" else Level.WATCH
        asks = f"; {one.asked_by} asks" if one.asked_by and one.state == "to ask" else ""
        decides = f", {one.by} decides" if one.by else ""
        yield _told(one, "safe.permit_open", level, f"{said}{decides}{asks}.")
        return
    paid = job.safety.paid
    if one.unpaid_only and paid:
        yield _told(one, "safe.permit_use", Level.STOP, "it holds where nobody is paid, and this job is paid.")
    if one.rests_on in _SHAKY:
        yield _told(
            one,
            "safe.permit_rests",
            Level.STOP if paid and one.rests_on != "hearsay" else Level.WATCH,
            f"it rests on {one.rests_on}, for {'paid' if paid else 'unpaid'} use; that is not valid everywhere.",
        )
    if one.until and last and one.until < last:
        yield _told(
            one, "safe.permit_over", Level.STOP, f"it runs out on {_day(one.until)}, and is needed until {_day(last)}."
        )
    yield from _looked_at(job, one, first)


def _looked_at(job: Job, one: Permission, first: date | None) -> Iterator[Finding]:
    if one.checked is None:
        yield _told(one, "safe.permit_checked", Level.WATCH, "nobody noted when it was looked at.")
        return
    room = job.settings.permit_days
    days = (first - one.checked).days if first else 0
    if days > room:
        said = f"looked at on {_day(one.checked)}, {days} days before it is needed; {room:g} at most."
        yield _told(one, "safe.permit_checked", Level.WATCH, said, days, room)


def _driven(table: DayTable) -> tuple[str, ...]:
    moving = (c for c in table.cells if c.stand.target and c.stand.target.speed_m_s > 0)
    return tuple(dict.fromkeys(f"{c.rig.label} in {c.part.label}" for c in moving))


def _played(job: Job) -> tuple[str, ...]:
    labels = {p.id: p.label for p in job.parts}
    fed = (v for v in job.sound.voices if any(s.house for s in v.sources))
    return tuple(dict.fromkeys(f"{v.label} in {labels.get(p, p)}" for v in fed for p in v.parts))


def _missing(job: Job, kind: PermissionKind, where: Sequence[str], what: str) -> Iterator[Finding]:
    if where and all(p.kind != kind for p in job.safety.permissions):
        more = f" and {len(where) - 2} more" if len(where) > 2 else ""
        yield Finding(
            code="safe.permit_missing",
            level=Level.WATCH,
            about=About(units=(), port=kind),
            text=f"{what} ({', '.join(where[:2])}{more}): no permission for it is noted.",
        )


def _day(at: date) -> str:
    return f"{at:%-d %b %Y}"
