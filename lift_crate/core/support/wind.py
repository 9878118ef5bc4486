"""Wind on a gimbal: force on what stands against it, what each motor
holds in a gust, and the wind in which it gives up.

Formulas: docs/formulas.md §3, 'Wind'. Areas are unions of the solids' projections,
so what stands behind something else counts once.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Sequence
from dataclasses import dataclass

import numpy as np

from ..gear.solids import Rows, Solids
from ..geometry import Array
from ..rig.assembly import Assembly
from ..settings import Settings
from .clearance import camera_of, stages_of
from .load import Carried

__all__ = ["WindOnMotor", "weakest_in_wind", "wind_area", "wind_areas", "wind_force_n", "wind_on_motors"]

_HALF_AIR_DRAG = 0.5 * 1.2 * 1.1
"""½ · density of air · drag, kg/m³."""
_DIRECTIONS = 8
"""Over half a circle: from the other side the same force turns the other way."""
_FAR_MM = 1e9
_SLAB_MM = 5.0
_ROUND_MM = 0.05
"""Corners whose heights differ by less bound one slab."""
_CORNERS = np.array([[i, j, k] for i in (-1, 1) for j in (-1, 1) for k in (-1, 1)], dtype=float)
_EDGES = np.array([(a, b) for a in range(8) for b in range(a + 1, 8) if (a ^ b) in (1, 2, 4)])
"""Corners that an edge joins, by their indices."""


def wind_force_n(area_m2: float, wind_m_s: float) -> float:
    """F = ½·1.2·1.1·A·v², N."""
    return _HALF_AIR_DRAG * area_m2 * wind_m_s**2


@dataclass(frozen=True, slots=True)
class WindOnMotor:
    """A motor in the gusts of a part of the day: torque with wind, and the mean wind in whose gusts it gives up."""

    axis: str
    torque_nm: float
    rated_nm: float
    gives_up_m_s: float
    """0 when it cannot hold the rig in still air; infinite when wind does not turn it."""
    area_m2: float
    """Seen from the direction that turns it most."""

    @property
    def share(self) -> float:
        """Share of the continuous torque."""
        return self.torque_nm / self.rated_nm


def wind_area(solids: Solids, towards: Array) -> tuple[float, Array]:
    """Area in m² that solids put against a horizontal wind, and its centre in mm, anywhere along the wind.

    ``towards``: where the wind blows to, length 1, shape (3,).
    """
    areas, centres = wind_areas(solids, towards[None])
    return float(areas[0]), centres[0]


def wind_areas(solids: Solids, towards: Array) -> tuple[Array, Array]:
    """The same for several directions at once, ``towards`` and the centres of shape (directions, 3)."""
    areas, along, up = (found[:, 0] for found in _shadows(solids, (len(solids.half_mm),), towards))
    return areas, np.stack((-towards[:, 1] * along, towards[:, 0] * along, up), axis=-1)


def _shadows(solids: Solids, counts: Sequence[int], towards: Array) -> tuple[Array, Array, Array]:
    """Area in m² of the shadow of the first so many solids, and its centre across
    the wind and up in mm; each of shape (directions, counts).

    ``towards``: directions of the wind, shape (directions, 3); ``counts`` ascending.
    Between two heights at which some solid has a corner, each one's width changes
    evenly, so the width at the middle of such a slab is that of the slab. Where two
    slanting outlines cross within one it is not, so slabs are thin where anything slants.
    """
    none = np.zeros((len(towards), len(counts)))
    if not len(solids.half_mm):
        return none, none, none
    corners = solids.centre_mm[:, None, :] + (_CORNERS[None, :, :] * solids.half_mm[:, None, :]) @ solids.frame
    slanting = np.flatnonzero(np.abs(solids.frame[:, :, 2]).max(axis=1) < 1 - 1e-9)
    levels = corners[:, :, 2].ravel()
    if len(slanting):
        thin = corners[slanting, :, 2]
        levels = np.concatenate((levels, np.arange(thin.min(), thin.max(), _SLAB_MM)))
    heights = np.unique(np.round(levels / _ROUND_MM)) * _ROUND_MM
    middle, thick = (heights[1:] + heights[:-1]) / 2, np.diff(heights)
    order, lows, highs = _widths(corners, slanting, middle, np.stack((-towards[:, 1], towards[:, 0])))
    areas, along, up = none.copy(), none.copy(), none.copy()
    for i, count in enumerate(counts):
        ends = np.where(order < count, highs, -_FAR_MM)
        # What a solid adds to a slab begins where those to its left end.
        begins = lows.copy()
        np.maximum(lows[..., 1:], np.maximum.accumulate(ends, axis=-1)[..., :-1], out=begins[..., 1:])
        width = np.clip(ends - begins, 0.0, None)
        slabs = width.sum(axis=-1) * thick[:, None]
        total = slabs.sum(axis=0)
        areas[:, i] = total * 1e-6
        along[:, i] = thick @ (width * (ends + begins) / 2).sum(axis=-1) / np.where(total > 0, total, 1.0)
        up[:, i] = middle @ slabs / np.where(total > 0, total, 1.0)
    return areas, along, up


def _widths(corners: Array, slanting: Rows, heights: Array, across: Array) -> tuple[Rows, Array, Array]:
    """From where to where each solid stands across the wind at each height, mm, from
    the left: its row, its left end, its right end (-far where it is not), each of shape
    (heights, directions, solids).

    ``corners`` of the solids, shape (solids, 8, 3); ``slanting``: rows of those that do not
    stand upright; ``across``: horizontal directions square to the wind, shape (2, directions).
    """
    at_corners = corners[:, :, :2] @ across
    bottom, top = corners[:, :, 2].min(axis=1), corners[:, :, 2].max(axis=1)
    there = (heights[:, None] > bottom) & (heights[:, None] < top)
    left, right = at_corners.min(axis=1).T, at_corners.max(axis=1).T
    # What stands upright has one left end at all heights; only where something slants is a slab's order its own.
    by_left = np.argsort(left)
    shape = (len(heights), across.shape[1], len(corners))
    order = np.broadcast_to(by_left, shape).copy()
    low = np.broadcast_to(np.take_along_axis(left, by_left, -1), shape).copy()
    high = np.where(there[:, by_left], np.take_along_axis(right, by_left, -1), -_FAR_MM)
    own = np.flatnonzero(there[:, slanting].any(axis=1))
    if len(own):
        lows = np.broadcast_to(left, (len(own), *shape[1:])).copy()
        highs = np.where(there[own][:, None, :], right, -_FAR_MM)
        starts, ends = corners[slanting][:, _EDGES[:, 0]], corners[slanting][:, _EDGES[:, 1]]
        rise = ends[:, :, 2] - starts[:, :, 2]
        share = (heights[own] - starts[:, :, 2, None]) / np.where(np.abs(rise) < 1e-9, np.inf, rise)[:, :, None]
        crossed = ((share > 0) & (share < 1))[..., None]
        at = (starts[:, :, None, :2] + share[..., None] * (ends - starts)[:, :, None, :2]) @ across
        lows[..., slanting] = np.where(crossed, at, _FAR_MM).min(axis=1).transpose(1, 2, 0)
        highs[..., slanting] = np.where(crossed, at, -_FAR_MM).max(axis=1).transpose(1, 2, 0)
        order[own] = np.argsort(lows)
        low[own], high[own] = (np.take_along_axis(each, order[own], -1) for each in (lows, highs))
    return order, low, high


def wind_on_motors(assembly: Assembly, held: Carried, settings: Settings, wind_m_s: float) -> tuple[WindOnMotor, ...]:
    """Every motor in gusts of a mean wind, the camera level, the worst
    horizontal direction of 16; empty without a solved gimbal.

    The torque of wind about an axis k through A is k·((r − A) × F), on top of what the
    motor holds at worst in still air.
    """
    if held.solution is None or held.support is None or held.gimbal is None or held.torques_nm is None:
        return ()
    s = held.solution
    a, v, side, b = s.fore_aft.set_mm, s.vertical.set_mm, s.lateral.set_mm, s.pan.set_mm
    tilt_at, roll_at = np.array([b, side, 0.0]), np.array([b, 0.0, 0.0])
    camera = camera_of(assembly, held.support, np.array([a + b, side, v])).solids
    on_tilt = stages_of(assembly, held.support, {"tilt": tilt_at, "seat": np.array([b, side, v])}, hung=True).solids
    on_roll = stages_of(assembly, held.support, {"roll": roll_at}, hung=True).solids
    on_pan = stages_of(assembly, held.support, {"pan": np.zeros(3)}, hung=True).solids
    stages = (Solids.joined([camera, on_tilt]), on_roll, on_pan)
    counts = np.cumsum([len(solids.half_mm) for solids in stages]).tolist()
    axes = (
        ("tilt", np.array([0.0, 1.0, 0.0]), tilt_at),
        ("roll", np.asarray(held.gimbal.roll_axis, dtype=float), roll_at),
        ("pan", np.array([0.0, 0.0, 1.0]), np.zeros(3)),
    )
    angles = math.pi * np.arange(_DIRECTIONS) / _DIRECTIONS
    towards = np.column_stack((np.cos(angles), np.sin(angles), np.zeros(_DIRECTIONS)))
    areas, along, up = _shadows(Solids.joined(stages), counts, towards)
    centres = np.stack((-towards[:, None, 1] * along, towards[:, None, 0] * along, up), axis=-1)
    forces = towards[:, None, :] * (_HALF_AIR_DRAG * areas)[..., None]
    gust = settings.gust * wind_m_s
    found = []
    for i, ((axis, k, through), still, rated) in enumerate(
        zip(axes, held.torques_nm, held.gimbal.torque_nm, strict=True)
    ):
        turning = np.abs(np.cross((centres[:, i] - through) * 1e-3, forces[:, i]) @ k)
        worst = int(turning.argmax())
        per_v2, area = float(turning[worst]), float(areas[worst, i])
        room = rated - still
        gives_up = 0.0 if room <= 0 else math.sqrt(room / per_v2) / settings.gust if per_v2 > 0 else math.inf
        found.append(WindOnMotor(axis, still + per_v2 * gust**2, rated, gives_up, area))
    return tuple(found)


def weakest_in_wind(motors: Iterable[WindOnMotor]) -> str | None:
    """The axis whose motor gives up first; None where wind turns none of them."""
    weakest = min(motors, key=lambda motor: motor.gives_up_m_s, default=None)
    return weakest.axis if weakest and math.isfinite(weakest.gives_up_m_s) else None
