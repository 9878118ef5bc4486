"""Microphones on people: in which window before the first part of a day, by whom, and what is looked at in order.

Formulas: docs/formulas.md §14, 'Microphones on people'.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, timedelta

from ..job.job import Job, PartOfDay
from ..job.sound import Source, Voice
from ..rig.build import Catalogue

__all__ = ["MicUp", "checks_of", "mic_ups"]


@dataclass(frozen=True, slots=True)
class MicUp:
    """A person to be given microphones: for which part, from when, by when, how long it takes, and the order of it."""

    voice: Voice
    part: PartOfDay
    after: datetime
    by: datetime
    minutes: float
    checks: tuple[str, ...]
    off: PartOfDay
    """The last part of that day: after it they come off."""


def mic_ups(job: Job, catalogue: Catalogue, day: Sequence[PartOfDay]) -> tuple[MicUp, ...]:
    """Everybody who wears a microphone on one day, in the order of their parts."""
    settings = job.settings
    found = []
    for voice in job.sound.voices:
        parts = [p for p in sorted(day, key=lambda p: p.starts) if p.id in voice.parts]
        if not parts or not voice.worn:
            continue
        first = parts[0]
        found.append(
            MicUp(
                voice,
                first,
                first.starts - timedelta(minutes=settings.mic_up_from_min),
                first.starts - timedelta(minutes=settings.mic_up_by_min),
                settings.mic_up_min * len(voice.worn),
                tuple(checks_of(job, catalogue, voice, first)),
                parts[-1],
            )
        )
    return tuple(sorted(found, key=lambda m: (m.by, m.voice.label)))


def checks_of(job: Job, catalogue: Catalogue, voice: Voice, part: PartOfDay) -> Iterator[str]:
    """What is done and looked at, source by source, in the order of the hand: the second before buttoning up."""
    worn = voice.worn
    if voice.consent not in ("given", "not needed"):
        yield f"Ask {voice.wearer} first: it runs all along, in the wings too."
    for number, source in enumerate(worn, 1):
        yield from _one(job, catalogue, voice, source, part)
        if number < len(worn):
            yield f"Before buttoning up: {worn[number].label} goes on too."
    yield f"Button up, then once more on headphones: {voice.label} speaks, turns, sits."


def _one(job: Job, catalogue: Catalogue, voice: Voice, source: Source, part: PartOfDay) -> Iterator[str]:
    sits = f"{source.units[-1 if _records_there(catalogue, source) else 0]}" if source.units else source.label
    where = ", ".join(
        word
        for word in (source.pocket and f"pack in the {source.pocket}", source.clip and f"clip at the {source.clip}")
        if word
    )
    yield f"{source.label}: {sits}, {where or 'where it holds'}; hide the cable, leave a loop."
    if _records_there(catalogue, source):
        yield f"{source.label}: recording runs, hold switch on, hand off the record key."
    else:
        yield f"{source.label}: switched on, hold switch on" + (
            f", {source.khz / 1000:.3f} MHz." if source.khz else "."
        )
    if not part.conditions.indoors and part.conditions.wind_m_s > job.settings.wind_cover_m_s:
        yield f"{source.label}: wind cover on."
    test = "speech" if not voice.louder_db else f"speech, then as loud as it gets ({voice.louder_db:g} dB more)"
    if source.rides:
        yield f"{source.label}: level with {source.rides}, tested by {test}."
    else:
        second = f", second track {source.safety_db:g} dB lower" if source.safety_db else ""
        yield f"{source.label}: level left to itself{second}, tested by {test}."
    yield f"{source.label}: heard on headphones, then slated: the name, spoken into it."


def _records_there(catalogue: Catalogue, source: Source) -> bool:
    last = source.units[-1] if source.units else ""
    return last in catalogue.units and catalogue.model_of(last).records
