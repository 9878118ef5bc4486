"""A zoom on a gimbal: where to balance it, and what the motors hold at its ends.

Formulas: docs/formulas.md §3, 'Zoom'. The minimax point is the middle of the lowest
and highest CG of the rig over the range that is used; the focal length to set is
where the lens's CG is that.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Sequence
from dataclasses import dataclass

import numpy as np

__all__ = ["School", "ZoomAnswer", "ZoomLoad", "focal_at_cg", "zoom_answer"]

_SAMPLES = 25
_FELT_NM = 5e-4


@dataclass(frozen=True, slots=True)
class ZoomLoad:
    """What the tilt motor holds at a focal length when the rig is balanced somewhere else, N·m."""

    focal_mm: float
    torque_nm: float


@dataclass(frozen=True, slots=True)
class School:
    """A way to choose where to balance: the focal length to set, and the worst torque over the range."""

    name: str
    focal_mm: float | None
    """None: between two focal lengths of one CG, a point that no focal length has."""
    cg_x_mm: float
    worst_nm: float


@dataclass(frozen=True, slots=True)
class ZoomAnswer:
    """The schools, the minimax first, and the load over the range when balanced there."""

    schools: tuple[School, ...]
    loads: tuple[ZoomLoad, ...]

    @property
    def best(self) -> School:
        """The minimax point."""
        return self.schools[0]

    @property
    def as_set(self) -> School:
        """Balanced at the focal length it is set to now."""
        return self.schools[-1]

    @property
    def helps(self) -> bool:
        """Whether balancing at the minimax point spares the tilt motor anything that can be felt."""
        return self.as_set.worst_nm - self.best.worst_nm >= _FELT_NM


def focal_at_cg(focals: Sequence[float], cg_x_mm: Sequence[float], wanted_mm: float) -> float:
    """Focal length at which the CG is at ``wanted_mm``, linear between points;
    several: the nearest to the middle; none: the nearest reachable.

    ``focals`` ascending, mm; both of one length.
    """
    middle = (focals[0] + focals[-1]) / 2
    found = []
    for i in range(len(focals) - 1):
        (f0, f1), (x0, x1) = focals[i : i + 2], cg_x_mm[i : i + 2]
        if x0 == x1:
            if x0 == wanted_mm:
                found.append(min(max(middle, f0), f1))
        elif min(x0, x1) <= wanted_mm <= max(x0, x1):
            found.append(f0 + (wanted_mm - x0) / (x1 - x0) * (f1 - f0))
    if not found:
        return float(min(zip(focals, cg_x_mm, strict=True), key=lambda pair: abs(pair[1] - wanted_mm))[0])
    return float(min(found, key=lambda f: abs(f - middle)))


def zoom_answer(
    focals: Sequence[float],
    cg_x_of: Callable[[float], float],
    torque_of: Callable[[float, float], float],
    used: tuple[float, float],
    set_mm: float,
    reachable_mm: tuple[float, float] = (-math.inf, math.inf),
) -> ZoomAnswer:
    """Where to balance a zoom that is used over a range.

    ``focals`` are the stated points of the lens; ``cg_x_of`` gives the rig's CG at a
    focal length, mm; ``torque_of(at, balanced_x)`` the tilt torque at a focal length
    when the rig is balanced for a CG of ``balanced_x``, N·m. ``set_mm`` is the focal
    length it is set to now; ``reachable_mm`` are the rig's CGs, least and most, that the
    slide can balance: beyond them the nearest is what is balanced, and told.
    """
    low, high = min(used), max(used)
    points = sorted({low, high, *(f for f in focals if low < f < high)})
    xs = [cg_x_of(f) for f in points]
    samples = sorted({*points, *np.linspace(low, high, _SAMPLES).tolist()})

    def worst(x: float) -> float:
        return max(torque_of(f, x) for f in samples)

    middle_x, ends_x = (
        min(max(x, reachable_mm[0]), reachable_mm[1]) for x in ((min(xs) + max(xs)) / 2, (xs[0] + xs[-1]) / 2)
    )
    arithmetic = (low + high) / 2
    schools = (
        School("minimax", focal_at_cg(points, xs, middle_x), middle_x, worst(middle_x)),
        School("middle focal length", arithmetic, cg_x_of(arithmetic), worst(cg_x_of(arithmetic))),
        School("half-way between the ends", focal_at_cg(points, xs, ends_x), ends_x, worst(ends_x)),
        School("as it is set", set_mm, cg_x_of(set_mm), worst(cg_x_of(set_mm))),
    )
    return ZoomAnswer(schools, tuple(ZoomLoad(f, torque_of(f, middle_x)) for f in samples))
