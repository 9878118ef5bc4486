"""How a drill is scored: against the best that can be done, each hint and each false alarm taken off."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass

__all__ = ["FALSE_ALARM", "HINT", "Lesson", "Result", "points"]

HINT = 10
FALSE_ALARM = 15


@dataclass(frozen=True, kw_only=True)
class Lesson:
    """What one thing of a drill teaches: in plain words, in technical ones, why it matters and what cures it."""

    plain: str
    technical: str
    why: str
    cure: str
    got: bool
    """Whether the player had it."""


@dataclass(frozen=True, kw_only=True)
class Result:
    """How a drill ended: points of 100, what was done, what the best would have been, and what it teaches."""

    points: int
    won: bool
    said: str
    best: str
    lessons: Sequence[Lesson] = ()


def points(share: float, *, hints: int = 0, false_alarms: int = 0) -> int:
    """Points of 100 for a share of the best: 3 of 4 moves with one hint, 65."""
    return max(0, min(100, round(100 * share) - HINT * hints - FALSE_ALARM * false_alarms))
