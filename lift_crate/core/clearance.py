"""How far each axis of a gimbal turns before something hits: the payload swept against the frame, at the slides as set.

Formulas: docs/formulas.md §3, 'Clearance'. Tilt turns the camera against roll arm,
pan arm and handle; roll turns camera and tilt stage against pan arm and handle.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .assembly import Assembly
from .carrying import Carried
from .clash import bounds_of, overlaps_mm
from .geometry import Array, Pose
from .shapes import Rows, Solids, solids_of

__all__ = ["Body", "Reach", "camera_of", "reaches", "stages_of"]

_STEP_DEG = 5.0
_FINE_DEG = 0.5
_TOUCH_MM = 1.0


@dataclass(frozen=True, slots=True)
class Reach:
    """Range of an axis in degrees from level, and what hits at each end; None: free to the end that was tried."""

    axis: str
    low_deg: float
    high_deg: float
    low_hits: tuple[str, str] | None
    """The part of the camera and the part of the gimbal, at the low end."""
    high_hits: tuple[str, str] | None


@dataclass(frozen=True, eq=False)
class Body:
    """Solids in the gimbal's frame with the name of what each belongs to."""

    solids: Solids
    names: tuple[str, ...]


def reaches(assembly: Assembly, held: Carried, tried_deg: float = 120.0) -> tuple[Reach, ...]:
    """Reachable range of tilt and roll; empty without a solved gimbal."""
    if held.solution is None or held.support is None:
        return ()
    s = held.solution
    a, v, side, b = s.fore_aft.set_mm, s.vertical.set_mm, s.lateral.set_mm, s.pan.set_mm
    camera = camera_of(assembly, held.support, np.array([a + b, side, v]))
    tilt_stage = stages_of(assembly, held.support, {"tilt": np.array([b, side, 0.0]), "seat": np.array([b, side, v])})
    arms = stages_of(assembly, held.support, {"roll": np.array([b, 0.0, 0.0]), "pan": np.zeros(3), "handle": np.zeros(3)}, hung=True)
    fixed = stages_of(assembly, held.support, {"pan": np.zeros(3), "handle": np.zeros(3)}, hung=True)
    tilt = _sweep("tilt", camera, arms, np.array([0.0, 1.0, 0.0]), np.array([b, side, 0.0]), tried_deg)
    roll_axis = np.asarray(held.gimbal.roll_axis if held.gimbal else (1.0, 0.0, 0.0), dtype=float)
    rolled = Body(Solids.joined([camera.solids, tilt_stage.solids]), camera.names + tilt_stage.names)
    return tilt, _sweep("roll", rolled, fixed, roll_axis, np.array([b, 0.0, 0.0]), tried_deg)


def camera_of(assembly: Assembly, support: str, shift: Array) -> Body:
    """Everything that hangs on the camera's port, in the gimbal's frame, moved by what its slides add up to, mm."""
    tf_gimbal_rig = assembly.pose(support).inverse()
    beyond = set(assembly.build.subtree(support))
    solids, names = [], []
    for unit in assembly.parts:
        if unit not in beyond and len(own := assembly.catalogue.model_of(unit).solids.half_mm):
            moved = assembly.catalogue.model_of(unit).solids.moved(tf_gimbal_rig @ assembly.pose(unit))
            solids.append(Solids(moved.centre_mm + shift, moved.frame, moved.half_mm, moved.round))
            names += [unit] * len(own)
    return Body(Solids.joined(solids) if solids else solids_of(()), tuple(names))


def stages_of(assembly: Assembly, support: str, shifts: dict[str, Array], *, hung: bool = False) -> Body:
    """Stages of a gimbal, each moved by its own shift in mm; ``hung``: with what hangs on their ports."""
    model = assembly.catalogue.model_of(support)
    solids, names = [solids_of(())], list[str]()
    for shape in model.shapes:
        if shape.stage in shifts:
            own = solids_of((shape,))
            solids.append(Solids(own.centre_mm + shifts[shape.stage], own.frame, own.half_mm, own.round))
            names.append(f"the {shape.stage} {'arm' if shape.stage in ('roll', 'pan') else 'part'} of {support}")
    if hung:
        tf_gimbal_rig = assembly.pose(support).inverse()
        for joint in assembly.joints:
            stage = model.port(joint.parent_port).stage if joint.parent == support else None
            if stage in shifts:
                for unit in assembly.build.subtree(joint.child):
                    own = assembly.catalogue.model_of(unit).solids.moved(tf_gimbal_rig @ assembly.pose(unit))
                    solids.append(Solids(own.centre_mm + shifts[stage], own.frame, own.half_mm, own.round))
                    names += [unit] * len(own.half_mm)
    return Body(Solids.joined(solids), tuple(names))


def _sweep(name: str, moving: Body, still: Body, axis: Array, through: Array, tried_deg: float) -> Reach:
    ends = [_first_hit(moving, still, axis, through, sign, tried_deg) for sign in (-1.0, 1.0)]
    (low, low_hits), (high, high_hits) = ends
    return Reach(name, -low, high, low_hits, high_hits)


def _first_hit(moving: Body, still: Body, axis: Array, through: Array, sign: float, tried_deg: float) -> tuple[float, tuple[str, str] | None]:
    """Angle in one direction at which something hits, found by steps and then halved; and what."""
    angles = np.arange(0.0, tried_deg + _STEP_DEG / 2, _STEP_DEG)
    hits = _hits(moving, still, axis, through, sign * angles)
    first = next((i for i, pair in enumerate(hits) if pair), None)
    if first is None:
        return float(tried_deg), None
    if first == 0:
        return 0.0, hits[0]
    low, high, pair = float(angles[first - 1]), float(angles[first]), hits[first]
    while high - low > _FINE_DEG:
        middle = (low + high) / 2
        found = _hits(moving, still, axis, through, np.array([sign * middle]))[0]
        if found:
            high, pair = middle, found
        else:
            low = middle
    return low, pair


def _hits(moving: Body, still: Body, axis: Array, through: Array, angles_deg: Array) -> list[tuple[str, str] | None]:
    """The deepest pair at every angle that overlaps by more than a touch, or None."""
    count, k = len(angles_deg), len(moving.names)
    if not k or not still.names:
        return [None] * count
    turned = Solids.joined([moving.solids.moved(_about(axis, through, deg)) for deg in angles_deg])
    low, high = bounds_of(turned)
    floor, ceiling = bounds_of(still.solids)
    near = np.ones((count * k, len(still.names)), dtype=bool)
    for i in range(3):
        near &= (low[:, i, None] < ceiling[None, :, i]) & (floor[None, :, i] < high[:, i, None])
    rows, others = np.nonzero(near)
    found: list[tuple[str, str] | None] = [None] * count
    if not len(rows):
        return found
    depth = overlaps_mm(turned.rows(rows), still.solids.rows(others))
    deepest = [_TOUCH_MM] * count
    for row, other, mm in zip(_list(rows), _list(others), depth.tolist(), strict=True):
        at = row // k
        if mm > deepest[at]:
            deepest[at] = mm
            found[at] = moving.names[row % k], still.names[other]
    return found


def _list(rows: Rows) -> list[int]:
    return [int(row) for row in rows]


def _about(axis: Array, through: Array, deg: float) -> Pose:
    """Rotation about an axis through a point, right hand."""
    angle = math.radians(deg)
    k = np.array([[0.0, -axis[2], axis[1]], [axis[2], 0.0, -axis[0]], [-axis[1], axis[0], 0.0]])
    rotation = np.eye(3) + math.sin(angle) * k + (1 - math.cos(angle)) * (k @ k)
    return Pose(rotation, through - rotation @ through)
