"""The run sheet, cards and gear of a day, for phones and spreadsheets."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime, timedelta

from ..core.day.custody import CardStep
from ..core.day.media import MediaPlan
from ..core.day.pool import Pool
from ..core.day.run_sheet import RunSheet
from ..core.job.job import Job
from .text import harmless

__all__ = ["cards_csv", "gear_csv", "run_csv", "run_ics", "written"]

_LEAST = timedelta(minutes=1)


def run_ics(job: Job, sheets: Sequence[RunSheet], stamp: datetime, who: str = "") -> bytes:
    """An iCalendar with an event for every task that has a time (RFC 5545), of everybody or of one person; the same
    task has the same UID in every export.
    """
    from icalendar import Calendar, Event  # noqa: PLC0415 - a calendar is rarely asked for, and long to load

    labels = {rig.id: rig.label for rig in job.rigs}
    calendar = Calendar()
    calendar.add("prodid", "-//Lift Crate//run sheet//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{job.title}: run sheet" + (f" of {who}" if who else ""))
    for task in (t for sheet in sheets for t in sheet.tasks):
        if task.starts is None or (who and who not in task.who):
            continue
        event = Event()
        event.add("uid", f"{job.id}-{task.part}-{task.rig or task.voice}-{task.kind}@lift-crate".replace(" ", "-"))
        event.add("dtstamp", stamp.astimezone(UTC))
        event.add("dtstart", task.starts)
        event.add("dtend", task.starts + max(_LEAST, timedelta(minutes=task.minutes)))
        event.add("summary", f"{task.voice or labels[task.rig]}: {task.kind}")
        event.add("description", f"{task.told}. {' and '.join(task.who)}.")
        calendar.add_component(event)
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def run_csv(job: Job, sheets: Sequence[RunSheet]) -> str:
    """One line a task, times in ISO 8601; those that do not fit without a start."""
    labels, parts = {r.id: r.label for r in job.rigs}, {p.id: p.label for p in job.parts}
    return written(
        ("starts", "minutes", "task", "camera", "part", "what", "who", "done by"),
        (
            (
                t.starts.isoformat() if t.starts else "",
                f"{t.minutes:.1f}",
                t.kind,
                t.voice or labels[t.rig],
                parts[t.part],
                t.told,
                " and ".join(t.who),
                t.by.isoformat(),
            )
            for sheet in sheets
            for t in sheet.tasks
        ),
    )


def cards_csv(media: MediaPlan) -> str:
    """One line a card in a slot; without a label where one is missing."""
    return written(
        ("part", "camera", "recorder", "mode", "Mb/s", "scheme", "slot", "card", "from", "GB", "full, share"),
        (
            (
                line.part.label,
                line.rig.label,
                line.unit,
                line.mode.label,
                f"{line.mode.mbit_s:g}",
                line.scheme,
                piece.slot,
                piece.card or "",
                piece.starts.isoformat(),
                f"{piece.gb:.1f}",
                f"{piece.share:.2f}",
            )
            for line in media.lines
            for piece in line.pieces
        ),
    )


def custody_csv(job: Job, steps: Sequence[tuple[CardStep, str, str]]) -> str:
    """One line a step with a card, in order of time: what, by whom, and who took it back."""
    return written(
        (
            "at",
            "card",
            "step",
            "recorder",
            "slot",
            "place",
            "GB",
            "verified",
            "checksum",
            "note",
            "who",
            "taken back by",
        ),
        (
            (
                step.at.astimezone(job.clock).isoformat(),
                step.card,
                step.act,
                step.unit or "",
                step.slot or "",
                step.place,
                f"{step.gb:.1f}" if step.gb else "",
                "yes" if step.verified else "",
                step.checksum,
                step.note,
                who,
                back,
            )
            for step, who, back in steps
        ),
    )


def gear_csv(job: Job, pool: Pool) -> str:
    """One line a unit: who has it in each part, what stops with it, what stands in for it."""
    parts = sorted(job.parts, key=lambda p: p.starts)
    return written(
        ("unit", "model", "kind", *(p.label for p in parts), "stops", "spare"),
        (
            (held.unit, model.title, model.kind, *(_at(held.at, p.id) for p in parts), held.stops, held.spare)
            for model in pool.models
            for held in model.units
        ),
    )


def _at(at: Mapping[str, str], part: str) -> str:
    return at.get(part, "")


def written(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """A table as CSV, nothing in it that a spreadsheet would run."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([harmless(text) for text in head])
    writer.writerows([harmless(text) for text in row] for row in rows)
    return out.getvalue()
