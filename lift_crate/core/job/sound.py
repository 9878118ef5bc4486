"""What is to be heard: voices and sounds of a job, each with its sources, from what hears it to what records it."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen

from ..quantities import Identifier, Label
from ..settings import STRICT

__all__ = ["Band", "Consent", "Khz", "SaidSync", "SoundPlan", "Source", "SyncMethod", "Voice"]

Khz = Annotated[int, Ge(20_000), Le(10_000_000)]
"""A radio frequency in whole kHz."""
Consent = Literal["", "asked", "given", "refused", "not needed"]
SyncMethod = Literal["timecode box", "jammed once", "direct", "guide sound", "none"]


@dataclass(frozen=True, kw_only=True)
class Source:
    """One way in which a voice is recorded."""

    __pydantic_config__ = STRICT

    label: Identifier
    units: Annotated[tuple[Identifier, ...], MaxLen(12)] = ()
    """From what hears to what records, a cable where it runs from one place to another."""
    khz: Khz | None = None
    """The channel of its radio."""
    pocket: Label = ""
    """Where on the wearer pack or recorder sits, and under what."""
    clip: Label = ""
    """Where its microphone is clipped."""
    cover: bool = False
    """A wind cover is on."""
    shows: bool = False
    """It can be seen in the picture."""
    rides: Label = ""
    """Who rides its level; empty: nobody does."""
    safety_db: Annotated[float, Ge(0), Le(40)] = 0.0
    """How much lower a second track records; 0: there is none."""
    house: bool = False
    """It is fed by the venue's own desk."""
    plugs: Annotated[tuple[Identifier, ...], MaxLen(12)] = ()
    """Connectors that the desk may show."""


@dataclass(frozen=True, kw_only=True)
class Voice:
    """A voice or sound, who wears its microphones, and the parts of the day it sounds in."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Identifier
    wearer: Label = ""
    """Empty: nobody wears it, as of a bell or a crowd."""
    thing: Label = ""
    """What on the plan of the venue it comes from."""
    parts: Annotated[tuple[Identifier, ...], MaxLen(100)] = ()
    once: bool = True
    """What of it is missed in a part that cannot be repeated is lost."""
    louder_db: Annotated[float, Ge(0), Le(80)] = 0.0
    """How much louder than plain speech it gets at its loudest: a shout 15, a shot 40."""
    consent: Consent = ""
    mic_by: Label = ""
    """Who puts its microphones on."""
    mic_at: Label = ""
    """In which room."""
    sources: Annotated[tuple[Source, ...], MaxLen(12)] = ()

    def __post_init__(self) -> None:
        labels = [source.label for source in self.sources]
        if twice := next((label for label in labels if labels.count(label) > 1), None):
            raise ValueError(f"voice '{self.label}': source '{twice}' stands twice; give each its own name")

    @property
    def worn(self) -> tuple[Source, ...]:
        """Sources of which something sits on a person."""
        return tuple(s for s in self.sources if s.pocket or s.clip) if self.wearer else ()


@dataclass(frozen=True, kw_only=True)
class Band:
    """Radio frequencies that may be used, kHz; local rules decide."""

    __pydantic_config__ = STRICT

    low_khz: Khz
    high_khz: Khz

    def __post_init__(self) -> None:
        if self.high_khz < self.low_khz:
            raise ValueError(f"band from {self.low_khz} to {self.high_khz} kHz: the lower end comes first")


@dataclass(frozen=True, kw_only=True)
class SaidSync:
    """How a camera or recorder is kept in step, as somebody said."""

    __pydantic_config__ = STRICT

    unit: Identifier
    method: SyncMethod


@dataclass(frozen=True, kw_only=True)
class SoundPlan:
    """Voices of a job, the radio bands it may use, and how its devices are kept in step."""

    __pydantic_config__ = STRICT

    voices: Annotated[tuple[Voice, ...], MaxLen(100)] = ()
    bands: Annotated[tuple[Band, ...], MaxLen(50)] = ()
    sync: Annotated[tuple[SaidSync, ...], MaxLen(200)] = ()

    def __post_init__(self) -> None:
        for what, names in (("voice", [v.id for v in self.voices]), ("sync of", [s.unit for s in self.sync])):
            if twice := next((name for name in names if names.count(name) > 1), None):
                raise ValueError(f"{what} '{twice}' stands twice; name each once")
