"""The log as CSV, and the report of a day on paper: what ran, what failed, what to change."""

from __future__ import annotations

from collections.abc import Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Spacer

from ..core.job.job import Job
from ..core.log.entries import LogEntry, Standing, entry_text
from ..core.log.learn import Proposal
from ..core.log.report import DayReport
from .day_list import written
from .paper import CAUTION, grid, head, made, said

__all__ = ["log_csv", "report_pdf"]

_COLUMNS = (
    *("id", "at", "kind", "camera", "unit", "who", "what", "value", "times", "people", "text"),
    *("corrects", "settles", "by", "taken back by"),
)


def log_csv(job: Job, entries: Sequence[tuple[LogEntry, str, str | None]]) -> str:
    """A line for every entry as it was noted, in that order; each by whom, and who took it back."""
    return written(
        _COLUMNS,
        (
            (
                *(e.id, e.at.astimezone(job.clock).isoformat(), e.kind, e.rig, e.unit, e.who, e.what),
                *("" if e.value is None else f"{e.value:g}", str(e.times), str(e.people), e.text),
                *(e.corrects, e.settles, by, gone or ""),
            )
            for e, by, gone in entries
        ),
    )


def report_pdf(job: Job, report: DayReport, proposals: Sequence[Proposal]) -> bytes:
    """The report of a day."""
    story: list[Flowable] = [head(f"{job.title}, {report.day:%A %-d %B %Y}")]
    story += [_gap(), head("What ran", small=True)]
    story.append(
        grid(
            ("Part", "From", "To", "Cameras", "Packs changed", "Cards put in", "Noted"),
            [
                (
                    *(p.part.label, f"{p.part.starts:%H:%M}", f"{p.part.ends:%H:%M}", ", ".join(p.cameras)),
                    *(str(p.swaps), str(p.cards), str(len(p.noted))),
                )
                for p in report.parts
            ],
            (34, 14, 14, 60, 24, 22, 14),
        )
    )
    story += [_gap(), head("What failed", small=True)]
    story += [_entries(job, report.failed)] if report.failed else [said("No fault and no near miss was noted.")]
    story += [_gap(), head("What to change", small=True)]
    story += [said(f"☐ {line}") for line in report.to_change] or [said("Nothing that the log says.")]
    story += _figures(proposals)
    if report.promised:
        story += [_gap(), head("Promised and agreed", small=True), _entries(job, report.promised)]
    told = [x for part in report.parts for x in part.noted if x.entry.kind not in ("fault", "near miss")]
    rest = [*report.beside, *told]
    if rest:
        story += [_gap(), head("Noted", small=True), _entries(job, sorted(rest, key=lambda x: x.entry.at))]
    story += [_gap(), said(CAUTION)]
    return made(story, f"{job.title}, report {report.day:%-d %b %Y}")


def _gap() -> Flowable:
    return Spacer(1, 4 * mm)


def _entries(job: Job, entries: Sequence[Standing]) -> Flowable:
    labels = {rig.id: rig.label for rig in job.rigs}
    return grid(
        ("At", "Camera", "Unit", "What", "By"),
        [
            (
                f"{x.entry.at.astimezone(job.clock):%H:%M}",
                labels.get(x.entry.rig, x.entry.rig),
                x.entry.unit,
                _said(x),
                x.by,
            )
            for x in entries
        ],
        (14, 34, 30, 84, 24),
    )


def _said(x: Standing) -> str:
    words = f"{x.entry.kind.capitalize()}: {entry_text(x.entry)}" if x.entry.kind != "note" else entry_text(x.entry)
    if x.said:
        words += f" (before: {entry_text(x.said[-1][0])})"
    return f"{words} – {x.settled.text or 'settled'}" if x.settled else words


def _figures(proposals: Sequence[Proposal]) -> list[Flowable]:
    if not proposals:
        return []
    rows = [
        (
            p.title,
            f"{p.now:g} {p.unit}".strip() if p.now else "none yet",
            f"{p.value:g} ± {p.spread:.2g} {p.unit}".strip(),
            str(len(p.runs)),
            "taken over" if p.taken else "",
        )
        for p in proposals
    ]
    table = grid(("Figure", "Counted with", "Read", "Readings", ""), rows, (70, 30, 40, 22, 24))
    return [_gap(), head("Figures learnt", small=True), table]
