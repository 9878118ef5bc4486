"""What a figure that was learnt changes in the days that are still to come: call-outs, swaps, changeovers."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from ..callouts import Finding, Level
from ..day.laid_out import LaidOut, lay_out
from ..job.job import Job, evaluate_job
from ..rig.build import Catalogue
from ..swaps.card import swaps_of
from ..swaps.day import day_problem, days_of
from ..swaps.solver import solve_day
from ..swaps.what_if import Made, with_made
from .learn import Figure, with_figure

__all__ = ["Effect", "days_to_come", "effects_of"]

_EFFORT = 1.0
_A_NIGHT_MIN = 360
"""A longer gap is none that anybody works against."""
_MOST = 12
"""Lines that are told of one figure; the rest is counted."""
Lines = dict[tuple[str, ...], str]


@dataclass(frozen=True, kw_only=True)
class Effect:
    """What a figure changes: call-outs that come and go, changeovers and swaps that differ, in words."""

    figure: Figure
    comes: tuple[str, ...] = ()
    goes: tuple[str, ...] = ()
    differs: tuple[str, ...] = ()


@dataclass(frozen=True)
class _Seen:
    """The days to come as they stand with some figures."""

    findings: Lines
    changes: Lines
    swaps: Lines


def days_to_come(job: Job, since: datetime | None) -> Job:
    """The job with the parts that begin after a time; all of them where none does."""
    parts = tuple(p for p in job.parts if since is None or p.starts > since)
    return replace(job, parts=parts) if parts else job


def effects_of(
    job: Job,
    catalogue: Catalogue,
    figures: Sequence[Figure],
    made: Sequence[Made],
    told: Callable[[tuple[Effect, ...]], bool],
) -> None:
    """Try every figure by itself; ``told`` is given what is found so far, and ends it when it returns True."""
    found: tuple[Effect, ...] = ()
    before = _seen(job, catalogue, made)
    for figure in figures:
        other, shelf = with_figure(job, catalogue, figure)
        after = _seen(other, shelf, made, figure, before)
        found = (
            *found,
            Effect(
                figure=figure,
                comes=_few([text for key, text in after.findings.items() if key not in before.findings]),
                goes=_few([text for key, text in before.findings.items() if key not in after.findings]),
                differs=_few([*_other(before.changes, after.changes), *_other(before.swaps, after.swaps)]),
            ),
        )
        if told(found):
            return


def _few(lines: Sequence[str]) -> tuple[str, ...]:
    return (*lines[:_MOST], f"and {len(lines) - _MOST} more") if len(lines) > _MOST else tuple(lines)


def _other(before: Lines, after: Lines) -> list[str]:
    keys = [*before, *(k for k in after if k not in before)]
    return [
        f"{key[0]}: {after.get(key, 'none')} instead of {before.get(key, 'none')}"
        for key in keys
        if before.get(key) != after.get(key)
    ]


def _seen(
    job: Job, catalogue: Catalogue, made: Sequence[Made], figure: Figure | None = None, before: _Seen | None = None
) -> _Seen:
    """The days with a figure; what it has no part in stands as it did before."""
    laid = lay_out(job, catalogue)
    days = {("", "", f.key, f.level.name): _said(f, "the day") for f in laid.findings if f.level > Level.NOTE}
    if before is not None and figure is not None and figure.of == "minutes":
        cells = {key: text for key, text in before.findings.items() if key[0]}
    else:
        cells = _of_cells(job, catalogue)
    untouched = before is not None and figure is not None and figure.of in ("minutes", "card minutes")
    swaps = before.swaps if untouched and before is not None else _swaps(job, catalogue, made)
    return _Seen(cells | days, _changes(laid, job), swaps)


def _of_cells(job: Job, catalogue: Catalogue) -> Lines:
    findings: Lines = {}
    for part, rig, _, judged in evaluate_job(job, catalogue):
        findings |= {
            (part.id, rig.id, f.key, f.level.name): _said(f, f"{rig.label}, {part.label}")
            for f in judged.findings
            if f.level > Level.NOTE
        }
    return findings


def _said(finding: Finding, where: str) -> str:
    return f"{finding.level.name.capitalize()}, {where}: {finding.text}"


def _changes(laid: LaidOut, job: Job) -> Lines:
    found: Lines = {}
    for between in laid.table.between:
        if between.was != between.now:
            at = between.before.ends.astimezone(job.clock)
            gap = between.change.gap_min
            room = f", {gap:.0f} min between" if gap < _A_NIGHT_MIN else ""
            what = f"{between.rig.label} into {between.now.label} at {at:%a %H:%M}{room}"
            found[what, between.after.id] = f"{between.change.alone_min:.1f} min"
    return found


def _swaps(job: Job, catalogue: Catalogue, made: Sequence[Made]) -> Lines:
    """By place how often and when it is swapped, and what is short."""
    found: Lines = {}
    for parts in days_of(job):
        problem = with_made(day_problem(job, catalogue, parts), made)
        plan = solve_day(problem, effort=_EFFORT, tries=0)
        day = f"{parts[0].starts:%a %-d %b}"
        times: dict[str, list[str]] = {}
        for swap in swaps_of(problem, plan):
            if swap.pack_out:
                times.setdefault(swap.label, []).append(f"{swap.at.astimezone(job.clock):%H:%M}")
        for slot in problem.slots:
            at = times.get(slot.label, [])
            found[f"Swaps at {slot.label}, {day}", slot.id] = ", ".join(at) if at else "none"
        short = sum(plan.bring.values())
        found[f"Packs short, {day}", ""] = str(short)
    return found
