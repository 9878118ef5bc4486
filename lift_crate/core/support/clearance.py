"""How far each axis of a gimbal turns before something hits: the payload swept against the frame, at the slides as set.

Formulas: docs/formulas.md §3, 'Clearance'. Tilt turns the camera against roll arm,
pan arm and handle; roll turns camera and tilt stage against pan arm and handle;
pan turns all of them against the handle.
"""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..fit.collisions import bounds_of, overlaps_mm, plug_room
from ..gear.solids import GimbalStage, Rows, Solids, solids_of
from ..geometry import Array, rotations_about
from ..rig.assembly import Assembly
from .load import Carried

__all__ = ["TRIED_DEG", "Body", "Reach", "SideGap", "camera_of", "reaches", "side_gaps", "stages_of"]

TRIED_DEG: Mapping[str, float] = {"tilt": 120.0, "roll": 120.0, "pan": 180.0}
"""How far either way each axis is tried."""
_STEP_DEG = 5.0
_FINE_DEG = 0.5
_BLOCK = 7
"""Steps looked at together; most sweeps end in their first blocks or go all the way."""
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


def reaches(assembly: Assembly, held: Carried, only: str = "") -> tuple[Reach, ...]:
    """Reachable range of tilt, roll and pan, or of one of them; empty without a solved gimbal."""
    if held.solution is None or held.support is None or held.gimbal is None:
        return ()
    support, s = held.support, held.solution
    a, v, side, b = s.fore_aft.set_mm, s.vertical.set_mm, s.lateral.set_mm, s.pan.set_mm
    at = {
        "tilt": np.array([b, side, 0.0]),
        "seat": np.array([b, side, v]),
        "roll": np.array([b, 0.0, 0.0]),
        "pan": np.zeros(3),
        "handle": np.zeros(3),
    }

    def stages(*names: GimbalStage, hung: bool = True) -> Body:
        return stages_of(assembly, support, {name: at[name] for name in names}, hung=hung)

    shift = np.array([a + b, side, v])
    camera = _together(camera_of(assembly, support, shift), _plugs_on(assembly, support, shift))
    rolled = _together(camera, stages("tilt", "seat", hung=False))
    # An arm turns in the bearing of the next, so an arm is not tried against its own.
    sweeps: dict[str, Callable[[], tuple[Body, Body, Array, float]]] = {
        "tilt": lambda: (camera, stages("roll", "pan", "handle"), np.array([0.0, 1.0, 0.0]), TRIED_DEG["tilt"]),
        "roll": lambda: (
            rolled,
            stages("pan", "handle"),
            np.asarray(held.gimbal.roll_axis if held.gimbal else (1, 0, 0), dtype=float),
            TRIED_DEG["roll"],
        ),
        "pan": lambda: (
            _together(rolled, stages("roll")),
            stages("handle"),
            np.array([0.0, 0.0, 1.0]),
            TRIED_DEG["pan"],
        ),
    }
    found = []
    for axis, parts in sweeps.items():
        if only in ("", axis):
            moving, still, along, tried_deg = parts()
            found.append(_sweep(axis, moving, still, along, at[axis], tried_deg))
    return tuple(found)


@dataclass(frozen=True, slots=True)
class SideGap:
    """Room that the camera, level, leaves to an arm beside it, mm, and between which parts."""

    side: Literal["left", "right"]
    mm: float
    camera: str
    gimbal: str


def side_gaps(assembly: Assembly, held: Carried) -> tuple[SideGap, ...]:
    """The least room to the arms left and right of the camera, at the slides as set; nothing where no arm is beside it.

    Solids are taken by the boxes around them.
    """
    if held.solution is None or held.support is None:
        return ()
    support, s = held.support, held.solution
    a, v, side, b = s.fore_aft.set_mm, s.vertical.set_mm, s.lateral.set_mm, s.pan.set_mm
    camera = camera_of(assembly, support, np.array([a + b, side, v]))
    arms = stages_of(
        assembly,
        support,
        {"tilt": np.array([b, side, 0.0]), "roll": np.array([b, 0.0, 0.0]), "pan": np.zeros(3)},
    )
    (low, high), (floor, ceiling) = bounds_of(camera.solids), bounds_of(arms.solids)
    beside = np.ones((len(low), len(floor)), dtype=bool)
    for along in (0, 2):
        beside &= (low[:, None, along] < ceiling[None, :, along]) & (floor[None, :, along] < high[:, None, along])
    sides: tuple[tuple[Literal["left", "right"], Array], ...] = (
        ("left", floor[None, :, 1] - high[:, None, 1]),
        ("right", low[:, None, 1] - ceiling[None, :, 1]),
    )
    found = []
    for name, room in sides:
        free = np.where(beside & (room >= 0), room, np.inf)
        if free.size and np.isfinite(free.min()):
            i, k = np.unravel_index(int(free.argmin()), free.shape)
            found.append(SideGap(name, float(free[i, k]), camera.names[i], arms.names[k]))
    return tuple(found)


def _together(a: Body, b: Body) -> Body:
    return Body(Solids.joined([a.solids, b.solids]), a.names + b.names)


def camera_of(assembly: Assembly, support: str, shift: Array) -> Body:
    """Everything that hangs on the camera's port, in the gimbal's frame, moved by what its slides add up to, mm."""
    tf_gimbal_rig = assembly.pose(support).inverse()
    beyond = assembly.layout.beyond_support
    solids, names = [], []
    for unit in assembly.units:
        if unit not in beyond and len(own := assembly.catalogue.model_of(unit).solids.half_mm):
            moved = assembly.catalogue.model_of(unit).solids.moved(tf_gimbal_rig @ assembly.pose(unit))
            solids.append(Solids(moved.centre_mm + shift, moved.frame, moved.half_mm, moved.round))
            names += [unit] * len(own)
    return Body(Solids.joined(solids) if solids else solids_of(()), tuple(names))


def _plugs_on(assembly: Assembly, support: str, shift: Array) -> Body:
    """The room that plugs and their bends take on what hangs on the camera's port, named by their cables."""
    tf_gimbal_rig = assembly.pose(support).inverse()
    beyond = assembly.layout.beyond_support
    solids, names = [solids_of(())], list[str]()
    for link in assembly.build.links:
        wire = assembly.catalogue.model_of(link.cable).cable
        for unit, port in ((link.from_unit, link.from_port), (link.to_unit, link.to_port)):
            if wire is None or not wire.bend_mm or unit in beyond or unit == support or unit not in assembly.layout.row:
                continue
            room = plug_room(assembly.catalogue.model_of(unit).port(port, unit), wire.bend_mm)
            moved = room.moved(tf_gimbal_rig @ assembly.pose(unit))
            solids.append(Solids(moved.centre_mm + shift, moved.frame, moved.half_mm, moved.round))
            names.append(link.cable)
    return Body(Solids.joined(solids), tuple(names))


def stages_of(assembly: Assembly, support: str, shifts: Mapping[GimbalStage, Array], *, hung: bool = False) -> Body:
    """Stages of a gimbal, each moved by its own shift in mm; ``hung``: with what hangs on their ports."""
    model = assembly.catalogue.model_of(support)
    solids, names = [solids_of(())], list[str]()
    for stage, own in model.stages.items():
        if stage in shifts:
            solids.append(Solids(own.centre_mm + shifts[stage], own.frame, own.half_mm, own.round))
            names += [f"the {stage} {'arm' if stage in ('roll', 'pan') else 'part'} of {support}"] * len(own.half_mm)
    if hung:
        tf_gimbal_rig = assembly.pose(support).inverse()
        for joint in assembly.joints:
            on = model.port(joint.parent_port).stage if joint.parent == support else None
            if on and on in shifts:
                for unit in assembly.layout.subtree(joint.child):
                    own = assembly.catalogue.model_of(unit).solids.moved(tf_gimbal_rig @ assembly.pose(unit))
                    solids.append(Solids(own.centre_mm + shifts[on], own.frame, own.half_mm, own.round))
                    names += [unit] * len(own.half_mm)
    return Body(Solids.joined(solids), tuple(names))


def _sweep(name: str, moving: Body, still: Body, axis: Array, through: Array, tried_deg: float) -> Reach:
    sweep = _Sweep(moving, still, axis, through)
    (low, low_hits), (high, high_hits) = (sweep.first_hit(sign, tried_deg) for sign in (-1.0, 1.0))
    return Reach(name, -low, high, low_hits, high_hits)


class _Sweep:
    """Solids that turn about an axis through a point, against solids that stand still."""

    def __init__(self, moving: Body, still: Body, axis: Array, through: Array) -> None:
        self._axis, self._through = axis, through
        first, second = _may_meet(moving.solids, still.solids, axis, through)
        used, self._row = np.unique(first, return_inverse=True)
        self._moving, self._still = moving.solids.rows(used), still.solids.rows(second)
        self._floor, self._ceiling = bounds_of(self._still)
        self._names = [(moving.names[i], still.names[k]) for i, k in zip(first.tolist(), second.tolist(), strict=True)]

    def first_hit(self, sign: float, tried_deg: float) -> tuple[float, tuple[str, str] | None]:
        """Angle in one direction at which something hits, found by steps and then by finer ones; and what."""
        free, steps = 0.0, np.arange(0.0, tried_deg + _STEP_DEG / 2, _STEP_DEG)
        for block in np.split(steps, range(_BLOCK, len(steps), _BLOCK)):
            found = self._hits(sign * block)
            first = next((i for i, pair in enumerate(found) if pair), None)
            if first is not None:
                if block[first] == 0:
                    return 0.0, found[first]
                finer = block[first] - np.arange(_STEP_DEG - _FINE_DEG, -_FINE_DEG / 2, -_FINE_DEG)
                found = self._hits(sign * finer)
                at = next(i for i, pair in enumerate(found) if pair)
                return float(finer[at] - _FINE_DEG), found[at]
            free = float(block[-1])
        return free, None

    def _hits(self, angles_deg: Array) -> list[tuple[str, str] | None]:
        """The deepest pair at every angle that overlaps by more than a touch, or None."""
        found: list[tuple[str, str] | None] = [None] * len(angles_deg)
        count = len(self._names)
        if not count:
            return found
        turned = _turned(self._moving, self._axis, self._through, angles_deg)
        low, high = bounds_of(turned)
        row = (np.arange(len(angles_deg))[:, None] * len(self._moving.half_mm) + self._row).ravel()
        pair = np.tile(np.arange(count), len(angles_deg))
        near = np.flatnonzero(((low[row] < self._ceiling[pair]) & (self._floor[pair] < high[row])).all(axis=1))
        if not len(near):
            return found
        depth = overlaps_mm(turned.rows(row[near]), self._still.rows(pair[near]))
        deepest = [_TOUCH_MM] * len(angles_deg)
        for i, mm in zip(near.tolist(), depth.tolist(), strict=True):
            at = i // count
            if mm > deepest[at]:
                deepest[at], found[at] = mm, self._names[i % count]
        return found


def _may_meet(moving: Solids, still: Solids, axis: Array, through: Array) -> tuple[Rows, Rows]:
    """Rows of pairs that can meet at any angle: the balls around them reach each other at some turn about the axis."""
    (along_m, out_m), (along_s, out_s) = (_cylindrical(solids.centre_mm - through, axis) for solids in (moving, still))
    balls = np.linalg.norm(moving.half_mm, axis=1)[:, None] + np.linalg.norm(still.half_mm, axis=1)[None]
    first, second = np.nonzero((along_m[:, None] - along_s[None]) ** 2 + (out_m[:, None] - out_s[None]) ** 2 < balls**2)
    return first, second


def _cylindrical(points: Array, axis: Array) -> tuple[Array, Array]:
    """How far along an axis and how far from it, shape (k,) each."""
    along = points @ axis
    return along, np.linalg.norm(points - along[:, None] * axis, axis=1)


def _turned(solids: Solids, axis: Array, through: Array, angles_deg: Array) -> Solids:
    """The solids turned about an axis through a point, right hand, by one angle after the other, all rows for each."""
    turns = rotations_about(axis, angles_deg)
    centres = (solids.centre_mm - through) @ turns.transpose(0, 2, 1) + through
    frames = solids.frame[None] @ turns[:, None].transpose(0, 1, 3, 2)
    many = len(angles_deg)
    return Solids(
        centres.reshape(-1, 3),
        frames.reshape(-1, 3, 3),
        np.tile(solids.half_mm, (many, 1)),
        np.tile(solids.round, many),
    )
