"""Wind on a gimbal: force on what stands against it, what each motor holds in a gust, and the wind in which it gives up.

Formulas: docs/formulas.md §3, 'Wind'. Areas are unions of the solids' projections,
so what stands behind something else counts once.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np
import shapely
from shapely.geometry.base import BaseGeometry

from .assembly import Assembly
from .carrying import Carried
from .clearance import camera_of, stages_of
from .geometry import Array
from .settings import Settings
from .shapes import Solids

__all__ = ["WindOnMotor", "wind_area", "wind_force_n", "wind_on_motors"]

_HALF_AIR_DRAG = 0.5 * 1.2 * 1.1
"""½ · density of air · drag, kg/m³."""
_DIRECTIONS = 8
"""Over half a circle: from the other side the same force turns the other way."""
_CORNERS = np.array([[i, j, k] for i in (-1, 1) for j in (-1, 1) for k in (-1, 1)], dtype=float)


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
    return next(_areas(solids, (len(solids.half_mm),), towards))


def _areas(solids: Solids, counts: Sequence[int], towards: Array) -> Iterator[tuple[float, Array]]:
    """The same for the first so many solids, ascending: what the inner ones cover is united once."""
    across = np.array([-towards[1], towards[0], 0.0])
    corners = solids.centre_mm[:, None, :] + (_CORNERS[None, :, :] * solids.half_mm[:, None, :]) @ solids.frame
    flat = np.stack((corners @ across, corners[:, :, 2]), axis=-1).reshape(-1, 2)
    clouds = shapely.multipoints(flat, indices=np.repeat(np.arange(len(solids.half_mm)), len(_CORNERS)))
    outlines = np.asarray(shapely.convex_hull(clouds), dtype=object)
    whole: BaseGeometry = shapely.Polygon()
    done = 0
    for count in counts:
        whole, done = shapely.union_all([whole, *outlines[done:count]]), count
        middle = whole.centroid
        centre = across * middle.x + np.array([0.0, 0.0, middle.y]) if whole.area > 0 else np.zeros(3)
        yield float(whole.area) * 1e-6, np.asarray(centre)


def wind_on_motors(assembly: Assembly, held: Carried, settings: Settings, wind_m_s: float) -> tuple[WindOnMotor, ...]:
    """Every motor in gusts of a mean wind, the camera level, the worst horizontal direction of 16; empty without a solved gimbal.

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
        ("tilt", np.array([0.0, 1.0, 0.0]), tilt_at), ("roll", np.asarray(held.gimbal.roll_axis, dtype=float), roll_at),
        ("pan", np.array([0.0, 0.0, 1.0]), np.zeros(3)),
    )  # fmt: skip
    turned: dict[str, list[tuple[float, float]]] = {axis: [] for axis, _, _ in axes}
    for step in range(_DIRECTIONS):
        angle = math.pi * step / _DIRECTIONS
        towards = np.array([math.cos(angle), math.sin(angle), 0.0])
        for (axis, along, through), (area, centre) in zip(axes, _areas(Solids.joined(stages), counts, towards), strict=True):
            turning = np.cross((centre - through) * 1e-3, towards * wind_force_n(area, 1.0))
            turned[axis].append((abs(float(along @ turning)), area))
    gust = settings.gust * wind_m_s
    found = []
    for axis, still, rated in zip(turned, held.torques_nm, held.gimbal.torque_nm, strict=True):
        per_v2, area = max(turned[axis])
        room = rated - still
        gives_up = 0.0 if room <= 0 else math.sqrt(room / per_v2) / settings.gust if per_v2 > 0 else math.inf
        found.append(WindOnMotor(axis, still + per_v2 * gust**2, rated, gives_up, area))
    return tuple(found)
