"""The edits a person can make to what is to be heard."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from typing import Annotated, Literal

from annotated_types import MaxLen

from ..quantities import Identifier
from ..rig.build import Catalogue
from ..settings import STRICT
from .job import Job, JobRefused, NotInJob
from .sound import Band, Khz, SaidSync, SoundPlan, Source, SyncMethod, Voice

__all__ = [
    "PutVoice",
    "RemoveVoice",
    "SetBands",
    "SetChannels",
    "SetSync",
    "SoundOperation",
    "describe_in_sound",
    "edit_sound",
    "without_part",
    "without_thing",
]


@dataclass(frozen=True, kw_only=True)
class PutVoice:
    """A voice or sound, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put voice"] = "put voice"
    voice: Voice


@dataclass(frozen=True, kw_only=True)
class RemoveVoice:
    """Take a voice out of the job, with its sources."""

    __pydantic_config__ = STRICT

    op: Literal["remove voice"] = "remove voice"
    voice: Identifier


@dataclass(frozen=True, kw_only=True)
class SetBands:
    """The radio bands that may be used, all of them."""

    __pydantic_config__ = STRICT

    op: Literal["set bands"] = "set bands"
    bands: Annotated[tuple[Band, ...], MaxLen(50)] = ()


@dataclass(frozen=True, kw_only=True)
class SetChannels:
    """Channels of sources, by voice and source, kHz."""

    __pydantic_config__ = STRICT

    op: Literal["set channels"] = "set channels"
    channels: Annotated[tuple[tuple[Identifier, Identifier, Khz], ...], MaxLen(200)]


@dataclass(frozen=True, kw_only=True)
class SetSync:
    """Say how a camera or recorder is kept in step; None: as it follows from what is plugged in."""

    __pydantic_config__ = STRICT

    op: Literal["set sync"] = "set sync"
    unit: Identifier
    method: SyncMethod | None = None


SoundOperation = PutVoice | RemoveVoice | SetBands | SetChannels | SetSync


def edit_sound(job: Job, operation: SoundOperation, catalogue: Catalogue) -> Job:
    """The job after an edit. Raises JobRefused with a sentence, NotInJob, NoSuchUnit."""
    sound = job.sound
    match operation:
        case PutVoice():
            _check(job, operation.voice, catalogue)
            voices = {**{v.id: v for v in sound.voices}, operation.voice.id: operation.voice}
            sound = replace(sound, voices=tuple(voices.values()))
        case RemoveVoice():
            voice_of(job, operation.voice)
            sound = replace(sound, voices=tuple(v for v in sound.voices if v.id != operation.voice))
        case SetBands():
            sound = replace(sound, bands=operation.bands)
        case SetChannels():
            sound = _tuned(job, operation.channels)
        case SetSync():
            catalogue.unit(operation.unit)
            others = tuple(s for s in sound.sync if s.unit != operation.unit)
            said = (SaidSync(unit=operation.unit, method=operation.method),) if operation.method else ()
            sound = replace(sound, sync=(*others, *said))
    return replace(job, sound=sound)


def describe_in_sound(operation: SoundOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    match operation:
        case PutVoice():
            known = any(v.id == operation.voice.id for v in job.sound.voices)
            return f"{'Change' if known else 'Add'} voice {operation.voice.label}"
        case RemoveVoice():
            named = next((v.label for v in job.sound.voices if v.id == operation.voice), operation.voice)
            return f"Remove voice {named}"
        case SetBands():
            return "Change the radio bands"
        case SetChannels():
            return f"Tune {', '.join(f'{source} to {khz / 1000:.3f} MHz' for _, source, khz in operation.channels[:3])}"
        case SetSync():
            return f"Keep {operation.unit} in step: {operation.method or 'as it is plugged'}"


def without_part(sound: SoundPlan, part: str) -> SoundPlan:
    """Voices no longer in a part of the day."""
    return replace(sound, voices=tuple(replace(v, parts=tuple(p for p in v.parts if p != part)) for v in sound.voices))


def without_thing(sound: SoundPlan, thing: str) -> SoundPlan:
    """Voices that came from a thing on the plan come from nowhere on it."""
    return replace(sound, voices=tuple(replace(v, thing="") if v.thing == thing else v for v in sound.voices))


def voice_of(job: Job, voice: str) -> Voice:
    """The voice of that id; raises NotInJob."""
    found = next((v for v in job.sound.voices if v.id == voice), None)
    if found is None:
        raise NotInJob("voice", voice)
    return found


def _check(job: Job, voice: Voice, catalogue: Catalogue) -> None:
    for part in voice.parts:
        job.part(part)
    if voice.thing and job.venue.thing(voice.thing) is None:
        raise JobRefused(f"There is no '{voice.thing}' on the plan for {voice.label} to come from; put it there first.")
    for source in voice.sources:
        for unit in source.units:
            catalogue.unit(unit)
        if twice := [unit for unit, times in Counter(source.units).items() if times > 1]:
            raise JobRefused(f"{twice[0]} is twice in '{source.label}' of {voice.label}; sound runs through it once.")
        if not voice.wearer and (source.pocket or source.clip):
            raise JobRefused(
                f"'{source.label}' of {voice.label} is clipped to somebody, and nobody wears it. Name the wearer, or"
                " leave pocket and clip empty."
            )
        for plug in source.plugs:
            if plug not in catalogue.interfaces:
                raise JobRefused(f"There is no connector '{plug}'; name one of the shelf's kinds.")
        if source.khz is not None and job.sound.bands and not in_bands(source.khz, job.sound.bands):
            raise JobRefused(
                f"{source.khz / 1000:.3f} MHz of '{source.label}' lies outside the job's bands,"
                f" {bands_said(job.sound.bands)}."
            )


def in_bands(khz: int, bands: tuple[Band, ...]) -> bool:
    """Whether a frequency may be used; where no band is named, nobody has said that it may not."""
    return not bands or any(band.low_khz <= khz <= band.high_khz for band in bands)


def bands_said(bands: tuple[Band, ...]) -> str:
    """Bands for people, MHz."""
    return ", ".join(f"{b.low_khz / 1000:.3f} to {b.high_khz / 1000:.3f} MHz" for b in bands)


def _tuned(job: Job, channels: tuple[tuple[str, str, int], ...]) -> SoundPlan:
    wanted = {(voice, source): khz for voice, source, khz in channels}
    for (voice, label), khz in wanted.items():
        of = voice_of(job, voice)
        if all(s.label != label for s in of.sources):
            raise NotInJob(f"source of {of.label} called", label)
        if not in_bands(khz, job.sound.bands):
            raise JobRefused(f"{khz / 1000:.3f} MHz lies outside the job's bands, {bands_said(job.sound.bands)}.")

    def tuned(voice: Voice, source: Source) -> Source:
        return replace(source, khz=wanted.get((voice.id, source.label), source.khz))

    return replace(
        job.sound,
        voices=tuple(replace(v, sources=tuple(tuned(v, s) for s in v.sources)) for v in job.sound.voices),
    )
