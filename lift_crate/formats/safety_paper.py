"""The safety sheet of every position on paper, to be filled in and signed; the day of every person."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, PageBreak, Spacer

from ..core.callouts import Finding, Level
from ..core.job.job import Job
from ..core.safety.allowed import Allowed
from ..core.safety.lines import PositionSheet
from ..core.safety.people import PersonDay
from .paper import CAUTION, grid, head, made, said

__all__ = ["safety_pdf"]

_BLANK = "_" * 18


def safety_pdf(
    job: Job,
    allowed: Sequence[Allowed],
    missing: Sequence[Finding],
    sheets: Sequence[PositionSheet],
    people: Sequence[PersonDay],
) -> bytes:
    """What is allowed, where anything is noted or missing; a page a position; then the people."""
    story = _allowed(job, allowed, missing) if allowed or missing else []
    for sheet in sheets:
        story += [PageBreak()] if story else []
        story += [head(f"{sheet.rig.label}: safety"), said(sheet.rig.position), said(CAUTION), Spacer(1, 3 * mm)]
        story.append(
            grid(
                ("", "What applies", "In", "By name"),
                [
                    (
                        "☐",
                        f"{line.finding.call_out.title}. {line.finding.text}",
                        ", ".join(line.parts),
                        "; ".join(f"{what} {_BLANK}" for what in line.sign),
                    )
                    for line in sheet.lines
                ],
                (7, 96, 34, 44),
            )
        )
        stops = sum(line.finding.level is Level.STOP for line in sheet.lines)
        if stops:
            story.append(said("Nothing here begins while a Stop stands.", stop=True))
        story += [Spacer(1, 8 * mm), said(f"Read and agreed: {_BLANK}{_BLANK}   at {_BLANK}")]
    story += _people(people, after=bool(story))
    return made(story or [said("No camera is planned.")], f"{job.title}: safety")


def _allowed(job: Job, allowed: Sequence[Allowed], missing: Sequence[Finding]) -> list[Flowable]:
    rows = [
        (
            a.permission.label,
            f"{a.permission.state}{f', {a.permission.rests_on}' if a.permission.rests_on else ''}",
            a.permission.by,
            a.permission.asked_by,
            f"{a.permission.checked:%-d %b %Y}" if a.permission.checked else "never",
            f"{a.permission.until:%-d %b %Y}" if a.permission.until else "",
            "unpaid use only" if a.permission.unpaid_only else "any use",
            a.permission.terms,
        )
        for a in allowed
    ]
    heads = ("What", "State", "By", "Asked by", "Looked at", "Until", "For", "Terms")
    against = [f for a in allowed for f in a.findings] + list(missing)
    return [
        head(f"Permissions: {'paid' if job.safety.paid else 'unpaid'} work"),
        said(CAUTION),
        Spacer(1, 3 * mm),
        *([grid(heads, rows, (36, 24, 24, 20, 20, 20, 18, 20))] if rows else []),
        *(said(f.text, stop=f.level is Level.STOP) for f in against),
    ]


def _people(people: Sequence[PersonDay], *, after: bool) -> list[Flowable]:
    if not people:
        return []
    rows = [
        (
            f"{p.starts:%a %-d %b}",
            p.who,
            f"{p.starts:%H:%M} to {p.ends:%H:%M}",
            f"{p.worked_h:.1f} h",
            f"{p.stretch_h:.1f} h from {p.stretch_from:%H:%M}",
            str(p.breaks),
            f"{p.water_l:.1f} l",
        )
        for p in people
    ]
    heads = ("Day", "Who", "There", "At work", "Longest without a break", "Breaks", "Water")
    story: list[Flowable] = [PageBreak()] if after else []
    story += [head("People"), grid(heads, rows, (22, 34, 34, 20, 40, 16, 16))]
    return [*story, *(said(f.text) for p in people for f in p.findings)]
