"""What a body or recorder writes, and on what: recording modes, slots, cards. Mb/s, GB, MB/s, minutes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..quantities import Count, Identifier, Positive
from ..settings import STRICT

__all__ = ["CardData", "CardSlot", "RecordingData", "RecordingMode"]


@dataclass(frozen=True, kw_only=True)
class RecordingMode:
    """A way to record: area, frames a second, rate, and how finely colour is kept."""

    __pydantic_config__ = STRICT

    label: Identifier
    area: str = ""
    """Recorded area that it uses; empty: any."""
    fps: Positive | None = None
    mbit_s: Positive
    bits: Literal[8, 10, 12, 14, 16] | None = None
    sampling: Literal["", "4:2:0", "4:2:2", "4:4:4", "raw"] = ""

    @property
    def fineness(self) -> str:
        """How finely colour is kept, in words; empty where it is not known."""
        return " ".join(word for word in (f"{self.bits} bit" if self.bits else "", self.sampling) if word)


@dataclass(frozen=True, kw_only=True)
class CardSlot:
    """A place for a card or drive."""

    __pydantic_config__ = STRICT

    id: Identifier
    takes: Identifier
    """Kind of card, as written on it."""


@dataclass(frozen=True, kw_only=True)
class RecordingData:
    """What makes a body or recorder a recorder: its modes, the usual one first, and its slots."""

    __pydantic_config__ = STRICT

    modes: tuple[RecordingMode, ...] = ()
    slots: tuple[CardSlot, ...] = ()
    take_limit_min: Positive | None = None
    """Longest take before it stops by itself."""
    while_fed: bool = True
    """It records while it is fed from outside."""


@dataclass(frozen=True, kw_only=True)
class CardData:
    """A card or drive, or the reader for it: kind, size, and what it writes and reads without a pause."""

    __pydantic_config__ = STRICT

    slot: Identifier
    gb: Positive | None = None
    """None: a reader."""
    write_mb_s: Positive | None = None
    read_mb_s: Positive | None = None
    bays: Count = 1
    """Readers: how many cards at once."""
