"""A look at the footage in the breaks of a day: what can be read straight away, what is copied first, and how long.

The second side of a mirror may be read: the first stays as it is. What lies on one card alone is copied before anybody
plays it. Minutes. Formulas: docs/formulas.md §10, 'A look in the break'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

from ..job.job import Job, PartOfDay
from ..rig.build import Catalogue
from ..swaps.day import days_of
from .media import CardLine, MediaPlan

__all__ = ["Look", "looks_of"]


@dataclass(frozen=True, slots=True)
class Look:
    """A camera's footage of a part, in the break after it."""

    part: PartOfDay
    gap_min: float
    rig: str
    cards: tuple[str, ...]
    straight: bool
    """Its second side can be read; else it is copied first."""
    first_min: float | None
    """What is to be done before the first picture: the card taken to the reader, and copied where it must be; None:
    there is no reader or drive for it.
    """

    @property
    def left_min(self) -> float | None:
        """What is left of the break to look; below 0: it does not fit."""
        return None if self.first_min is None else self.gap_min - self.first_min


def looks_of(job: Job, catalogue: Catalogue, media: MediaPlan) -> tuple[Look, ...]:
    """Every break of every day with what can be looked at in it, quickest first."""
    found = []
    for parts in days_of(job):
        for one, other in pairwise(sorted(parts, key=lambda p: p.starts)):
            gap = (other.starts - one.ends).total_seconds() / 60
            if gap <= 0:
                continue
            looks = [_look(job, catalogue, line, gap) for line in media.lines if line.part.id == one.id]
            found += sorted(
                (x for x in looks if x.cards), key=lambda x: (x.first_min is None, x.first_min or 0.0, x.rig)
            )
    return tuple(found)


def _look(job: Job, catalogue: Catalogue, line: CardLine, gap: float) -> Look:
    straight = line.scheme == "mirrored"
    last = max((p.slot for p in line.pieces), default="")
    pieces = [p for p in line.pieces if p.card and (not straight or p.slot == last)]
    cards = tuple(p.card for p in pieces if p.card)
    carried = job.settings.card_min * max(1, len(cards))
    rates = list(_rates(catalogue, line, cards))
    if not rates:
        return Look(line.part, gap, line.rig.label, cards, straight, None)
    copied = 0.0 if straight else sum(p.gb for p in pieces) * 1000 / min(rates) / 60
    return Look(line.part, gap, line.rig.label, cards, straight, carried + copied)


def _rates(catalogue: Catalogue, line: CardLine, cards: tuple[str, ...]) -> Iterator[float]:
    """MB/s that the way from the card to a drive goes at: the best reader of its kind, the best drive, the card."""
    usable = [u for u in catalogue.shelf if u.condition != "out of use"]
    data = [(u, d) for u in usable if (d := catalogue.model_of(u.id).card)]
    readers = [d.read_mb_s or math.inf for _, d in data if d.gb is None and d.slot == line.takes]
    drives = [d.write_mb_s or math.inf for u, d in data if catalogue.model_of(u.id).kind == "drive"]
    if line.drive:
        yield catalogue.model_of(line.drive).card.read_mb_s or math.inf  # type: ignore[union-attr]  # a drive has it
        return
    if not readers or not drives:
        return
    yield max(readers)
    yield max(drives)
    yield from ((d.read_mb_s or math.inf) for u, d in data if u.id in cards)
