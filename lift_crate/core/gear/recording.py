"""What a body or recorder writes, and on what: recording modes, slots, cards. Mb/s, GB, MB/s, minutes."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

import numpy as np

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
    takes: tuple[Identifier, ...] = ()
    """Kinds of card that can write it; none said: whatever goes into a slot."""
    heat_20_min: Positive | None = None
    """Minutes until it is too hot and stops, in air of 20 °C; None: nobody said."""
    heat_30_min: Positive | None = None
    heat_40_min: Positive | None = None

    def heat_min(self, air_c: float) -> float | None:
        """Minutes until it is too hot in air of so many °C: linear between what is said, held outside; None: not known.

        75 min at 20 °C and 45 at 30: 60 at 25, 75 at 4.
        """
        said = [(20, self.heat_20_min), (30, self.heat_30_min), (40, self.heat_40_min)]
        known = [(at, minutes) for at, minutes in said if minutes is not None]
        if not known:
            return None
        return float(np.interp(air_c, [at for at, _ in known], [minutes for _, minutes in known]))

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

    def __post_init__(self) -> None:
        kinds = {slot.takes for slot in self.slots}
        for mode in self.modes:
            unknown = [kind for kind in mode.takes if kind not in kinds]
            if unknown:
                there = ", ".join(sorted(kinds)) or "none at all"
                raise ValueError(
                    f"mode '{mode.label}' is written to '{unknown[0]}', and no slot takes that; the slots take {there}"
                )


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
