"""The edits a person can make to what is to be heard."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, replace
from typing import Annotated, Any, Literal

from annotated_types import Ge, Le, MaxLen

from ..quantities import Identifier, Label
from ..rig.build import Catalogue
from ..settings import STRICT
from .job import Job, JobRefused, NotInJob
from .sound import Band, Consent, Khz, SaidSync, SoundPlan, Source, SyncMethod, Voice

__all__ = [
    "ChangeSource",
    "ChangeVoice",
    "PutVoice",
    "RemoveSource",
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
class ChangeVoice:
    """Say something else of a voice; what is None stays."""

    __pydantic_config__ = STRICT

    op: Literal["change voice"] = "change voice"
    voice: Identifier
    label: Identifier | None = None
    wearer: Label | None = None
    thing: Label | None = None
    parts: Annotated[tuple[Identifier, ...], MaxLen(100)] | None = None
    once: bool | None = None
    louder_db: Annotated[float, Ge(0), Le(80)] | None = None
    consent: Consent | None = None
    mic_by: Label | None = None
    mic_at: Label | None = None


@dataclass(frozen=True, kw_only=True)
class ChangeSource:
    """Say something else of a source of a voice, or of a new one; what is None stays."""

    __pydantic_config__ = STRICT

    op: Literal["change source"] = "change source"
    voice: Identifier
    source: Identifier
    label: Identifier | None = None
    """Its new name."""
    units: Annotated[tuple[Identifier, ...], MaxLen(12)] | None = None
    khz: Annotated[int, Ge(0), Le(10_000_000)] | None = None
    """0: it has no channel."""
    pocket: Label | None = None
    clip: Label | None = None
    cover: bool | None = None
    shows: bool | None = None
    rides: Label | None = None
    safety_db: Annotated[float, Ge(0), Le(40)] | None = None
    house: bool | None = None
    plugs: Annotated[tuple[Identifier, ...], MaxLen(12)] | None = None


@dataclass(frozen=True, kw_only=True)
class RemoveSource:
    """Take a source from a voice."""

    __pydantic_config__ = STRICT

    op: Literal["remove source"] = "remove source"
    voice: Identifier
    source: Identifier


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


SoundOperation = PutVoice | ChangeVoice | ChangeSource | RemoveSource | RemoveVoice | SetBands | SetChannels | SetSync


def edit_sound(job: Job, operation: SoundOperation, catalogue: Catalogue) -> Job:
    """The job after an edit. Raises JobRefused with a sentence, NotInJob, NoSuchUnit."""
    sound = job.sound
    match operation:
        case PutVoice():
            sound = _with_voice(job, operation.voice, catalogue)
        case ChangeVoice():
            voice = voice_of(job, operation.voice)
            sound = _with_voice(job, replace(voice, **_said(operation, _OF_VOICE)), catalogue)
        case ChangeSource() | RemoveSource():
            sound = _with_voice(job, _with_source(voice_of(job, operation.voice), operation), catalogue)
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


_OF_VOICE = ("label", "wearer", "thing", "parts", "once", "louder_db", "consent", "mic_by", "mic_at")
_OF_SOURCE = ("label", "units", "khz", "pocket", "clip", "cover", "shows", "rides", "safety_db", "house", "plugs")


def _said(operation: ChangeVoice | ChangeSource, names: tuple[str, ...]) -> dict[str, Any]:
    return {name: value for name in names if (value := getattr(operation, name)) is not None}


def _with_voice(job: Job, voice: Voice, catalogue: Catalogue) -> SoundPlan:
    _check(job, voice, catalogue)
    voices = {**{v.id: v for v in job.sound.voices}, voice.id: voice}
    return replace(job.sound, voices=tuple(voices.values()))


def _with_source(voice: Voice, operation: ChangeSource | RemoveSource) -> Voice:
    """Raises NotInJob for a source to be taken that is not there, JobRefused for a name that another has."""
    known = {s.label: s for s in voice.sources}
    if isinstance(operation, RemoveSource):
        if operation.source not in known:
            raise NotInJob(f"source of {voice.label} called", operation.source)
        return replace(voice, sources=tuple(s for s in voice.sources if s.label != operation.source))
    said = _said(operation, _OF_SOURCE)
    if "khz" in said:
        said["khz"] = said["khz"] or None
    if said.get("label", operation.source) != operation.source and said["label"] in known:
        raise JobRefused(f"{voice.label} has a source '{said['label']}' already; give this one another name.")
    made = replace(known.get(operation.source) or Source(label=operation.source), **said)
    others = {**known, operation.source: made}
    return replace(voice, sources=tuple(others.values()))


def describe_in_sound(operation: SoundOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    match operation:
        case PutVoice():
            known = any(v.id == operation.voice.id for v in job.sound.voices)
            said = f"{'Change' if known else 'Add'} voice {operation.voice.label}"
        case ChangeVoice():
            said = f"Change voice {_named(job, operation.voice)}"
        case ChangeSource():
            said = f"Change '{operation.source}' of {_named(job, operation.voice)}"
        case RemoveSource():
            said = f"Remove '{operation.source}' from {_named(job, operation.voice)}"
        case RemoveVoice():
            said = f"Remove voice {_named(job, operation.voice)}"
        case SetBands():
            said = "Change the radio bands"
        case SetChannels():
            tuned = (f"{source} to {khz / 1000:.3f} MHz" for _, source, khz in operation.channels[:3])
            said = f"Tune {', '.join(tuned)}"
        case SetSync():
            said = f"Keep {operation.unit} in step: {operation.method or 'as it is plugged'}"
    return said


def _named(job: Job, voice: str) -> str:
    return next((v.label for v in job.sound.voices if v.id == voice), voice)


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
