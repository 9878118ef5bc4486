"""The day on paper: the table, run sheets by person, change sheets and the sound list, as PDF for A4."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from reportlab.lib.units import mm
from reportlab.platypus import Flowable, KeepTogether, PageBreak, Spacer

from ..core.callouts import Finding, Level
from ..core.day.laid_out import LaidOut
from ..core.day.mic_up import MicUp
from ..core.day.run_sheet import RunSheet
from ..core.day.table import Between
from ..core.job.job import Job, PartOfDay
from .paper import CAUTION, grid, head, made, said

__all__ = ["changes_pdf", "day_pdf", "run_pdf", "sound_pdf"]

_KINDS = {"mic up": "microphones on", "mic off": "microphones off", "swap": "pack"}
_ACTS = {"take off": "off", "put on": "on", "unplug": "pull", "plug in": "plug", "recalibrate": "calibrate"}


def day_pdf(job: Job, day: LaidOut, sheets: Sequence[RunSheet], days: Sequence[Sequence[PartOfDay]]) -> bytes:
    """A page for each day: cameras against its parts with build, operator and lens, what happens once, and what stands
    against the day.
    """
    story: list[Flowable] = []
    for number, (parts, sheet) in enumerate(zip(days, sheets, strict=True)):
        if number:
            story.append(PageBreak())
        story += _table_page(job, day, parts, sheet)
    return made(story, f"{job.title}: the day", wide=True)


def run_pdf(job: Job, sheets: Sequence[RunSheet], who: str = "") -> bytes:
    """The run sheet with a box to tick for every task: of everybody, a page a day and person, or of one person."""
    story: list[Flowable] = []
    labels = {rig.id: rig.label for rig in job.rigs}
    for sheet in sheets:
        for person in (p for p in sheet.people if who in ("", p)):
            mine = [t for t in sheet.tasks if person in t.who and t.starts]
            held = [b for b in sheet.busy if b.who == person]
            if not mine and not held:
                continue
            if story:
                story.append(PageBreak())
            story += [head(person), said(f"{sheet.call:%A %d %B}, there from {sheet.call:%H:%M}.")]
            lines = [
                (t.starts, "☐", _KINDS.get(t.kind, t.kind), t.voice or labels[t.rig], t.told, f"{t.minutes:.0f} min")
                for t in mine
            ]
            lines += [(b.starts, "", "works", labels[b.rig], "", f"until {b.ends:%H:%M}") for b in held]
            rows = [
                (f"{at:%H:%M}", *rest)
                for at, *rest in sorted(lines, key=lambda line: (line[0], line[2]))
                if at is not None
            ]
            story.append(grid(("at", "", "what", "where or who", "", ""), rows, (16, 8, 32, 38, 62, 24)))
        missing = [t for t in sheet.tasks if t.starts is None]
        if missing and not who:
            story += [head("Not ready", small=True)]
            story += [said(f.text, stop=True) for f in sheet.findings]
            story.append(
                grid(
                    ("by", "what", "where or who", "minutes"),
                    [
                        (f"{t.by:%a %H:%M}", _KINDS.get(t.kind, t.kind), t.voice or labels[t.rig], f"{t.minutes:.1f}")
                        for t in missing
                    ],
                    (26, 40, 60, 24),
                )
            )
    return made(story or [said("Nothing is to be done.")], f"{job.title}: run sheet{f' of {who}' if who else ''}")


def changes_pdf(job: Job, day: LaidOut) -> bytes:
    """A sheet for every change between two parts: what comes off and goes on in order, and what is done again."""
    story: list[Flowable] = []
    for between in (b for b in day.table.between if b.change.tasks):
        if story:
            story.append(Spacer(1, 8 * mm))
        story.append(KeepTogether(_change(between)))
    return made(story or [said("Nothing is changed.")], f"{job.title}: changes")


def sound_pdf(job: Job, day: LaidOut, mics: Sequence[MicUp]) -> bytes:
    """Every source of every voice by part, and a card with the order of looks for everybody who wears a microphone."""
    rows = [
        (
            h.part.label,
            h.voice.label,
            c.source.label,
            " > ".join(c.source.units),
            f"{c.source.khz / 1000:.3f}" if c.source.khz else "",
            ", ".join(x for x in (c.source.pocket, c.source.clip) if x),
            "" if c.whole else "leads nowhere",
        )
        for h in day.sound.heard
        for c in h.chains
    ]
    heads = ("part", "voice", "source", "runs through", "MHz", "sits", "")
    story: list[Flowable] = [head("Sound"), grid(heads, rows, (28, 28, 36, 92, 18, 46, 22))]
    for mic in mics:
        card = [
            head(f"{mic.voice.wearer}: {mic.after:%a %H:%M} to {mic.by:%H:%M}", small=True),
            said(
                f"{mic.minutes:.0f} min by {mic.voice.mic_by or 'whoever is free'}"
                f"{f', {mic.voice.mic_at}' if mic.voice.mic_at else ''}; for {mic.part.label}."
            ),
            grid(("", "in this order"), [("☐", check) for check in mic.checks], (8, 160)),
        ]
        story += [Spacer(1, 5 * mm), KeepTogether(card)]
    return made(story, f"{job.title}: sound", wide=True)


def _table_page(job: Job, day: LaidOut, parts: Sequence[PartOfDay], sheet: RunSheet) -> Iterator[Flowable]:
    cells = {(c.part.id, c.rig.id): c for c in day.table.cells}
    yield head(f"{job.title}, {parts[0].starts:%A %d %B %Y}")
    heads = ("camera", *(f"{p.label} {p.starts:%H:%M}-{p.ends:%H:%M}" for p in parts))
    rows = []
    for rig in sorted(job.rigs, key=lambda r: r.number):
        row = [f"{rig.number} {rig.label}"]
        for part in parts:
            cell = cells.get((part.id, rig.id))
            if cell is None:
                row.append("not there")
                continue
            lens = cell.stand.view.lens if cell.stand.view else ""
            row.append(", ".join(word for word in (cell.build.label, lens, cell.worked_by) if word))
        rows.append(tuple(row))
    yield grid(heads, rows, (40, *(230 / len(parts) for _ in parts)))
    once = [seen for seen in day.moments if any(seen.part.id == p.id for p in parts)]
    if once:
        yield head("Once only", small=True)
        told = [
            (f"{seen.moment.at:%H:%M}", seen.moment.label, ", then ".join(a.label for a in seen.angles) or "no camera")
            for seen in once
        ]
        yield grid(("at", "what", "cameras"), told, (18, 90, 120))
    here, elsewhere = {p.id for p in parts}, {p.id for p in job.parts}
    every = (f for f in (*day.findings, *sheet.findings) if f.level >= Level.WATCH)
    against = [f for f in every if here & (about := _words(f)) or not elsewhere & about]
    if against:
        yield head("What stands against it", small=True)
        for finding in against:
            yield said(f"{finding.level.name.capitalize()}: {finding.text}", stop=finding.level is Level.STOP)
    yield said(CAUTION)


def _words(finding: Finding) -> set[str]:
    """Everything that a finding is about, word by word."""
    return {word for unit in finding.about.units for word in unit.split()}


def _change(between: Between) -> list[Flowable]:
    change = between.change
    gap = f"{change.gap_min:.0f} min" if change.gap_min < 120 else f"{change.gap_min / 60:.0f} h"
    story: list[Flowable] = [
        head(f"{between.rig.label}: {between.was.label} -> {between.now.label}", small=True),
        said(
            f"Between {between.before.label} and {between.after.label}, {gap}. Alone {change.alone_min:.1f} min, with"
            f" two {change.two_min:.1f}.",
            stop=change.two_min > change.gap_min,
        ),
    ]
    if change.beforehand:
        ready = "; ".join(f"{t.unit} on {t.where}" for t in change.beforehand)
        story.append(said(f"Ready beforehand: {ready}."))
    rows = [("☐", _ACTS.get(t.act, t.act), t.unit, t.where, f"{t.minutes:.1f}") for t in change.tasks]
    story.append(grid(("", "", "what", "where", "min"), rows, (8, 20, 46, 86, 16)))
    story += [said(f"{again.what.capitalize()} again: {again.why}.") for again in change.again]
    story += [said(f"Without {x.what}{f'; instead {x.instead}' if x.instead else ''}.") for x in change.lost]
    return story
