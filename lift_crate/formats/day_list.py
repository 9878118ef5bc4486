"""The run sheet, cards and gear of a day, for phones and spreadsheets."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Mapping, Sequence
from datetime import UTC, datetime, timedelta

from ..core.day.custody import CardStep
from ..core.day.media import MediaPlan
from ..core.day.money import Budget
from ..core.day.pool import Pool
from ..core.day.run_sheet import RunSheet
from ..core.day.table import DayTable
from ..core.day.wants import Spending
from ..core.job.job import Job
from .text import harmless

__all__ = ["budget_csv", "cards_csv", "custody_csv", "day_ics", "gear_csv", "run_csv", "run_ics", "written"]

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
        what = f"{task.voice} {task.starts:%H%M}" if task.kind == "swap" else task.rig or task.voice
        event.add("uid", f"{job.id}-{task.part}-{what}-{task.kind}@lift-crate".replace(" ", "-"))
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


def budget_csv(job: Job, budget: Budget, spending: Spending) -> str:
    """One line a cost, all without tax, then the sums; what has no price says so in no figure."""
    days = f"{job.settings.tax_share * 100:g} % of tax"
    rows = [
        (
            "hire" if x.owner == "hired" else "owned",
            x.title,
            ", ".join(x.units),
            _sum(x.each),
            str(x.days),
            _sum(x.total),
            "",
        )
        for x in budget.lines
    ]
    rows += [
        ("running cost", p.cost.label, p.cost.covers, _sum(p.cost.amount), p.cost.per, _sum(p.total), "")
        for p in spending.paid
    ]
    rows += [
        (
            w.want.how,
            w.title,
            f"{w.want.count} ×",
            _sum(w.price),
            "",
            _sum(w.total),
            f"{w.want.tier}{', decided' if w.want.taken else ''}",
        )
        for w in spending.wanted
    ]
    rows += [
        ("sum", "tax", days, "", "", _sum(spending.tax), ""),
        ("sum", "hire, running costs and what is decided, with tax", "", "", "", _sum(spending.total), ""),
    ]
    return written(
        ("what", "title", "which", f"each, {job.settings.currency}", "days or per", "in all", "how much it matters"),
        rows,
    )


def _sum(value: float | None) -> str:
    return "" if value is None else f"{value:.2f}"


def day_ics(job: Job, table: DayTable, stamp: datetime) -> bytes:
    """The day as iCalendar: every part with its cameras and who works them, every once-only moment, every change with
    its sheet's minutes, begun so that it is done when the part begins.
    """
    from icalendar import Calendar, Event  # noqa: PLC0415 - a calendar is rarely asked for, and long to load

    calendar = Calendar()
    calendar.add("prodid", "-//Lift Crate//day//EN")
    calendar.add("version", "2.0")
    calendar.add("x-wr-calname", f"{job.title}: the day")

    def event(uid: str, starts: datetime, ends: datetime, summary: str, said: str) -> None:
        made = Event()
        made.add("uid", f"{job.id}-{uid}@lift-crate".replace(" ", "-"))
        made.add("dtstamp", stamp.astimezone(UTC))
        made.add("dtstart", starts)
        made.add("dtend", max(ends, starts + _LEAST))
        made.add("summary", summary)
        if said:
            made.add("description", said)
        calendar.add_component(made)

    for part in sorted(job.parts, key=lambda p: p.starts):
        cells = [c for c in table.cells if c.part.id == part.id]
        said = (f"{c.rig.label}: {c.build.label}, {c.worked_by}" for c in cells)
        event(f"part-{part.id}", part.starts, part.ends, part.label, "\n".join(said))
        for n, moment in enumerate(part.moments):
            event(f"moment-{part.id}-{n}", moment.at, moment.at, f"Once only: {moment.label}", "")
    for between in (b for b in table.between if b.change.tasks):
        change = between.change
        two = change.alone_min > change.gap_min
        minutes = change.two_min if two else change.alone_min
        said_ = [f"{t.act} {t.unit} {t.where}, {t.minutes:g} min" for t in change.tasks]
        event(
            f"change-{between.after.id}-{between.rig.id}",
            between.after.starts - timedelta(minutes=minutes),
            between.after.starts,
            f"{between.rig.label}: {between.was.label} → {between.now.label}{', two pairs of hands' if two else ''}",
            "\n".join(said_),
        )
    calendar.add_missing_timezones()
    return bytes(calendar.to_ical())


def _at(at: Mapping[str, str], part: str) -> str:
    return at.get(part, "")


def written(head: Sequence[str], rows: Iterable[Sequence[str]]) -> str:
    """A table as CSV, nothing in it that a spreadsheet would run."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow([harmless(text) for text in head])
    writer.writerows([harmless(text) for text in row] for row in rows)
    return out.getvalue()
