"""Entries of the log: noted with one tap, corrected beside what was said before, never rubbed out.

Hours, W, V, °C, m/s, minutes.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Annotated, Literal

from annotated_types import Ge, Le

from ..job.job import Job
from ..quantities import Identifier, Label, Note
from ..rig.build import Catalogue
from ..settings import STRICT

__all__ = [
    "READINGS",
    "TIMINGS",
    "EntryKind",
    "LogBook",
    "LogEntry",
    "Standing",
    "book_of",
    "entry_text",
    "refused_entry",
]

EntryKind = Literal[
    "note", "fault", "near miss", "reading", "minutes", "consent", "promise", "version", "weather", "set", "settled"
]
Verdict = Literal["", "doubtful", "out of use"]

READINGS: Mapping[str, tuple[str, str]] = {
    "hours": ("Pack or gimbal ran until empty", "h"),
    "watts": ("Draw while recording", "W"),
    "card minutes": ("Card full after", "min"),
    "volts": ("Volts", "V"),
}
"""By kind of reading what it tells, and its unit."""
TIMINGS: Mapping[str, str] = {
    "changeover": "Changeover, whole",
    "quick release": "Quick release",
    "shoe": "Shoe",
    "clamp": "Clamp",
    "screw": "Screw",
    "lens": "Lens",
    "cable": "Cable",
    "balance": "Balancing a gimbal",
    "recalibrate": "Calibrating a gimbal",
    "card": "Putting a card in",
    "line up": "Framing, focus, exposure",
    "close": "Stopping and emptying a camera",
    "mic up": "Putting a source on a person",
    "mic off": "Taking a source off",
    "open case": "Opening a case",
}
"""By kind of work what was timed."""
_MOST = 100_000.0


@dataclass(frozen=True, kw_only=True)
class LogEntry:
    """One thing that happened, at a time, and what it was about; what does not apply is empty.

    ``what`` and ``value`` belong to readings, minutes and weather; ``people`` and ``times`` to minutes.
    """

    __pydantic_config__ = STRICT

    id: Identifier
    kind: EntryKind
    at: datetime
    rig: Label = ""
    unit: Label = ""
    who: Label = ""
    """Whose consent, to whom it was promised."""
    text: Note = ""
    what: Label = ""
    value: Annotated[float, Ge(-_MOST), Le(_MOST)] | None = None
    times: Annotated[int, Ge(1), Le(999)] = 1
    """How often the work was done in those minutes."""
    people: Annotated[int, Ge(1), Le(9)] = 1
    verdict: Verdict = ""
    """Faults: what becomes of the unit."""
    photo: Label = ""
    """Of the picture that is kept."""
    number: Annotated[int, Ge(0), Le(2**53)] | None = None
    """Versions of a build: the edit after which it stood so."""
    corrects: Label = ""
    """The entry that this one stands for."""
    settles: Label = ""
    """The fault that is mended, the promise that was kept."""


@dataclass(frozen=True, kw_only=True)
class Standing:
    """An entry as it counts now, what was said before it, and by which entry it was settled."""

    entry: LogEntry
    by: str
    said: tuple[tuple[LogEntry, str], ...] = ()
    """What it was before, the first first, each by whom."""
    settled: LogEntry | None = None


@dataclass(frozen=True)
class LogBook:
    """A log as it counts now, in the order of time."""

    standing: tuple[Standing, ...]

    def find(self, entry_id: str) -> Standing | None:
        """The entry that counts of that name."""
        return next((s for s in self.standing if s.entry.id == entry_id), None)

    def of_kind(self, *kinds: EntryKind) -> tuple[Standing, ...]:
        """The entries of some kinds."""
        return tuple(s for s in self.standing if s.entry.kind in kinds)


def book_of(entries: Iterable[tuple[LogEntry, str]]) -> LogBook:
    """The log from its entries, each by whom, without those that were taken back.

    What corrects an entry that was taken back counts by itself; of two corrections of one entry, noted
    by two people, the later stands and the other is among what was said.
    """
    order = [(entry, by) for entry, by in entries]
    by_id = {entry.id: (entry, by) for entry, by in order}

    def first_of(entry: LogEntry) -> str:
        seen = {entry.id}
        while entry.corrects in by_id and entry.corrects not in seen:
            entry = by_id[entry.corrects][0]
            seen.add(entry.id)
        return entry.id

    lines: dict[str, list[tuple[LogEntry, str]]] = {}
    for entry, by in order:
        lines.setdefault(first_of(entry), []).append((entry, by))
    settled = {e.settles: e for e, _ in order if e.kind == "settled"}
    found = []
    for told in lines.values():
        entry, by = told[-1]
        ended = next((settled[e.id] for e, _ in reversed(told) if e.id in settled), None)
        found.append(Standing(entry=entry, by=by, said=tuple(told[:-1]), settled=ended))
    return LogBook(tuple(sorted(found, key=lambda s: (s.entry.at, s.entry.id))))


def refused_entry(job: Job, catalogue: Catalogue, book: LogBook, entry: LogEntry) -> str:
    """Why an entry cannot be noted; empty where it can."""
    checks = (_unknown(job, catalogue, entry), _no_figure(catalogue, entry), _no_words(entry), _on_another(book, entry))
    return next((why for why in checks if why), "")


def _unknown(job: Job, catalogue: Catalogue, entry: LogEntry) -> str:
    if entry.rig and all(rig.id != entry.rig for rig in job.rigs):
        return f"This job has no camera '{entry.rig}'."
    if entry.unit and entry.unit not in catalogue.units:
        return f"There is no unit '{entry.unit}' on the Shelf. Check its label."
    if entry.kind == "set" and all(part.id != entry.what for part in job.parts):
        return f"This job has no part of the day '{entry.what}'."
    return ""


def _no_figure(catalogue: Catalogue, entry: LogEntry) -> str:
    tables: dict[str, Sequence[str]] = {
        "reading": tuple(READINGS),
        "minutes": tuple(TIMINGS),
        "weather": ("°C", "m/s", "EV"),
    }
    known = tables.get(entry.kind)
    if known is None:
        return ""
    if entry.what not in known:
        return f"'{entry.what}' is no {entry.kind}; say one of {', '.join(known)}."
    if entry.value is None:
        return f"A {entry.kind} needs its figure."
    if entry.kind != "weather" and entry.value <= 0:
        return f"{entry.value:g} is no figure for a {entry.kind}; it is more than 0."
    if entry.kind == "minutes" and entry.what == "changeover" and not entry.rig:
        return "Say of which camera the changeover was."
    return _no_unit(catalogue, entry) if entry.kind == "reading" else ""


def _no_unit(catalogue: Catalogue, entry: LogEntry) -> str:
    if not entry.unit:
        return f"Say of which unit: {READINGS[entry.what][0].lower()}."
    model = catalogue.model_of(entry.unit)
    if entry.what == "hours" and model.pack is None and model.gimbal is None:
        return f"{entry.unit} is neither a pack nor a gimbal; hours are read of those."
    if entry.what == "card minutes" and (model.card is None or model.card.gb is None):
        return f"{entry.unit} is no card."
    if entry.what in ("hours", "card minutes") and model.gimbal is None and not entry.rig:
        return f"Say in which camera {entry.unit} was."
    return ""


def _no_words(entry: LogEntry) -> str:
    wants = {
        "note": "A note needs its words, or a photo.",
        "near miss": "Say what nearly happened.",
        "promise": "Say what was promised.",
        "version": "Say why this build is kept.",
    }
    # A tap with the camera chosen keeps the moment; words can follow as a correction.
    bare = not (entry.text.strip() or entry.photo)
    if entry.kind in wants and bare and (entry.kind in ("promise", "version") or not (entry.rig or entry.unit)):
        return wants[entry.kind]
    if entry.kind == "fault" and bare and not (entry.unit or entry.rig):
        return "Say what is at fault: its label or camera, words or a photo."
    if entry.kind == "version" and not entry.rig:
        return "Say of which camera the build is kept."
    if entry.kind == "set" and not (entry.rig and entry.text.strip()):
        return "Say of which camera, and what was set."
    if entry.kind in ("consent", "promise") and not entry.who.strip():
        return "Say who: whose consent, or to whom it was promised."
    return ""


def _on_another(book: LogBook, entry: LogEntry) -> str:
    if entry.kind == "settled":
        settled = book.find(entry.settles)
        if settled is None:
            return f"There is no entry '{entry.settles}' that counts now."
        if settled.entry.kind not in ("fault", "near miss", "promise", "consent"):
            return f"A {settled.entry.kind} is not settled; faults, near misses, promises and consents are."
        return "It is settled already." if settled.settled else ""
    if entry.corrects:
        corrected = book.find(entry.corrects)
        if corrected is None:
            return f"There is no entry '{entry.corrects}' that counts now: it was corrected or taken back meanwhile."
        if corrected.entry.kind != entry.kind:
            return f"A {corrected.entry.kind} does not become a {entry.kind}. Take it back and note it anew."
    return ""


def entry_text(entry: LogEntry) -> str:
    """An entry in one line, without its time, camera and unit."""
    said = entry.text.strip()
    if entry.kind == "reading" and entry.value is not None:
        label, unit = READINGS.get(entry.what, (entry.what, ""))
        return _joined(f"{label} {entry.value:g} {unit}".strip(), said)
    if entry.kind == "minutes" and entry.value is not None:
        label = TIMINGS.get(entry.what, entry.what)
        often = f"{entry.times} × {label.lower()}" if entry.times > 1 else label
        hands = f", {entry.people} people" if entry.people > 1 else ""
        return _joined(f"{often}: {entry.value:g} min{hands}", said)
    if entry.kind == "weather" and entry.value is not None:
        return _joined(f"{entry.value:g} {entry.what}", said)
    if entry.kind in ("consent", "promise"):
        return _joined(entry.who.strip(), said)
    return said or ("Photo" if entry.photo else f"{entry.kind.capitalize()}, no words yet")


def _joined(*words: str) -> str:
    return "; ".join(word for word in words if word)
