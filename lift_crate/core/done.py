"""What was really done in a job, as it goes along with it: with cards, at sources of sound, with packs, packing."""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime, tzinfo
from typing import Annotated

from annotated_types import Len

from .day.custody import CardStep, clashing, step_text
from .day.rolling import SoundStep
from .log.entries import LogEntry
from .pack.lists import PackStep
from .quantities import Identifier, Label, Share
from .rig.build import Catalogue
from .settings import STRICT

__all__ = ["CardDone", "Done", "LogDone", "PackDone", "SoundDone", "SwapDone", "clashes"]


@dataclass(frozen=True, kw_only=True)
class CardDone(CardStep):
    """A step with a card, by whom, and who took it back."""

    by: Label
    taken_back_by: Label | None = None


@dataclass(frozen=True, kw_only=True)
class SoundDone(SoundStep):
    """A step at a source of sound, who wore the source then, by whom, and who took it back."""

    wearer: Label = ""
    by: Label
    taken_back_by: Label | None = None


@dataclass(frozen=True, kw_only=True)
class SwapDone:
    """A swap of packs that was made, by whom."""

    __pydantic_config__ = STRICT

    slot: Label
    at: datetime
    pack_in: Identifier
    pack_out: Identifier | None = None
    charge_left: Share | None = None
    charge_in: Share | None = None
    by: Label


@dataclass(frozen=True, kw_only=True)
class PackDone(PackStep):
    """A step with the packing, by whom, and who took it back."""

    by: Label
    taken_back_by: Label | None = None


@dataclass(frozen=True, kw_only=True)
class LogDone(LogEntry):
    """An entry of the log, by whom, and who took it back; its photo stays where it was taken."""

    by: Label
    taken_back_by: Label | None = None


@dataclass(frozen=True, kw_only=True)
class Done:
    """All that was done in a job, in the order of time."""

    __pydantic_config__ = STRICT

    cards: Annotated[tuple[CardDone, ...], Len(0, 50_000)] = ()
    sound: Annotated[tuple[SoundDone, ...], Len(0, 50_000)] = ()
    swaps: Annotated[tuple[SwapDone, ...], Len(0, 50_000)] = ()
    packing: Annotated[tuple[PackDone, ...], Len(0, 50_000)] = ()
    log: Annotated[tuple[LogDone, ...], Len(0, 50_000)] = ()


def clashes(catalogue: Catalogue, clock: tzinfo, here: Sequence[CardStep], new: Sequence[CardStep]) -> Iterator[str]:
    """What of the steps that come with a job cannot be beside those that are here, in words.

    Steps that were odd among their own, as where a recorder has changed since, are not held against the others.
    """
    for step, why in clashing(catalogue, clock, here, new):
        yield f"'{step_text(step)}' at {step.at.astimezone(clock):%-d %b %H:%M}: {why}"
