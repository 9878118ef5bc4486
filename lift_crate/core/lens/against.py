"""One zoom against the primes that stand in for it: changes and their minutes, grams, light, looks, and what is missed.

Formulas: docs/formulas.md §2, 'A zoom against primes'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import pairwise

from ..settings import Settings
from .pairs import Pair

__all__ = ["Against", "zooms_against_primes"]

_OVER = 1.06
"""A prime this much beyond an end of the zoom still stands in for it."""


@dataclass(frozen=True, slots=True)
class Against:
    """A zoom of the package and the primes of its range on the same body."""

    body: str
    zoom: str
    focal_mm: tuple[float, float]
    zoom_g: float
    primes: tuple[str, ...]
    """Shortest first."""
    focals_mm: tuple[float, ...]
    primes_g: float
    """All of them together, in the case."""
    heaviest_g: float
    changes: int
    """To have used every one of them once."""
    minutes: float
    """Of those changes: lens off and on, and on a gimbal balanced and calibrated anew."""
    gains_stops: tuple[float, float]
    """Least and most light that a prime gives over the zoom at its focal length."""
    widest_step: float
    """The largest ratio from one prime to the next: what the zoom would frame between."""


def zooms_against_primes(pairs: Sequence[Pair], settings: Settings, *, on_gimbal: bool) -> tuple[Against, ...]:
    """Every zoom that works against the primes that work on the same body, by body and name."""
    working = [pair for pair in pairs if pair.works]
    found = [against for zoom in working if zoom.data.zooms for against in _against(zoom, working, settings, on_gimbal)]
    return tuple(sorted(found, key=lambda a: (a.body, a.zoom)))


def _against(zoom: Pair, working: Sequence[Pair], settings: Settings, on_gimbal: bool) -> Iterator[Against]:
    low, high = zoom.focal_mm
    primes = sorted(
        (
            p
            for p in working
            if p.body.id == zoom.body.id and not p.data.zooms and low / _OVER <= p.focal_mm[0] <= high * _OVER
        ),
        key=lambda p: p.focal_mm[0],
    )
    if not primes:
        return
    changes = len(primes) - 1
    each = 2 * settings.joint_min["lens"]
    if on_gimbal:
        each += settings.balance_min + settings.recalibrate_min
    gains = [2 * math.log2(_stop_at(zoom, p.focal_mm[0]) / p.t_stops[0]) for p in primes]
    masses = [p.lens.mass_g or 0.0 for p in primes]
    yield Against(
        zoom.body.title,
        zoom.lens.title,
        zoom.focal_mm,
        zoom.lens.mass_g or 0.0,
        tuple(p.lens.title for p in primes),
        tuple(p.focal_mm[0] for p in primes),
        sum(masses),
        max(masses),
        changes,
        changes * each,
        (min(gains), max(gains)),
        max((b.focal_mm[0] / a.focal_mm[0] for a, b in pairwise(primes)), default=1.0),
    )


def _stop_at(zoom: Pair, focal_mm: float) -> float:
    """Widest aperture of a zoom at a focal length, both through its adapters; T where it is known, else f."""
    factor = zoom.focal_mm[0] / zoom.data.focal_mm[0]
    return zoom.t_stops[0] * zoom.data.widest_stop_at(focal_mm / factor) / zoom.data.stop
