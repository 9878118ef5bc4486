"""Arms that are bent at their hinges.

What lies beyond a hinge turns with it: of each solid its middle decides, seen along the line from the hinge to the
port beyond. Formulas: docs/formulas.md §1, 'Bent arms'.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace
from itertools import chain, repeat

import numpy as np

from ..geometry import IDENTITY, Array, Pose, Vec3, rotations_about
from .model import GearModel, Hinge, Port
from .solids import Block, KeepClear, Round, TurnedBlock, solids_of

__all__ = ["bent", "beyond", "shift_mm", "turn_about"]


def turn_about(at: Vec3, axis: Vec3, deg: float) -> Pose:
    """A turn about a line through ``at``, right hand."""
    rotation = rotations_about(np.asarray(axis, dtype=float), np.array([deg]))[0]
    through = np.asarray(at, dtype=float)
    return Pose(rotation, through - rotation @ through)


def _beyond_mm(model: GearModel, hinge: Hinge, at_mm: Array) -> float:
    """How far a point of the straight model lies beyond a hinge, along the line to the port beyond it."""
    port = model.port(hinge.beyond)
    along = np.asarray(port.at, dtype=float) - hinge.at
    far = float(np.linalg.norm(along))
    along = along / far if far > 1e-6 else np.asarray(port.n, dtype=float)
    return float(along @ (at_mm - np.asarray(hinge.at, dtype=float)))


def beyond(model: GearModel, shape: Block | Round) -> tuple[int, ...]:
    """The hinges of a straight model that a shape lies beyond, by their numbers."""
    middle = _middle(shape)
    return tuple(i for i, hinge in enumerate(model.hinges) if _beyond_mm(model, hinge, middle) > 0)


def bent(model: GearModel, degrees: Sequence[float]) -> GearModel:
    """A model with its hinges turned so far, inner ones first; hinges that are not said stay straight.

    Its CG moves as its solids do, each by its share of their volume; without solids it goes with its own place.
    """
    turns = tuple(
        (hinge, turn_about(hinge.at, hinge.axis, deg))
        for hinge, deg in zip(model.hinges, chain(degrees, repeat(0.0)), strict=False)
        if deg
    )
    if not turns:
        return model

    def moved(at_mm: Array, port: str | None = None) -> Pose:
        tf = IDENTITY
        for hinge, turn in turns:
            if port == hinge.beyond or _beyond_mm(model, hinge, at_mm) > 0:
                tf = tf @ turn
        return tf

    now = replace(
        model,
        shapes=tuple(_shape(shape, moved(_middle(shape))) for shape in model.shapes),
        ports=tuple(_port(port, moved(np.asarray(port.at, dtype=float), port.id)) for port in model.ports),
        hinges=tuple(_hinge(hinge, _before(turns, model.hinges, i)) for i, hinge in enumerate(model.hinges)),
        keep_clear=tuple(_room(room, moved(np.mean(room.block, axis=0))) for room in model.keep_clear),
    )
    if model.cg_mm is None:
        return now
    cg = np.asarray(model.cg_mm, dtype=float)
    return replace(now, cg_mm=_vec(cg + shift_mm(model, now) if model.shapes else moved(cg).point(cg)))


def _before(turns: Sequence[tuple[Hinge, Pose]], hinges: Sequence[Hinge], i: int) -> Pose:
    """The turns of the inner hinges that lead to the same port."""
    tf, inner = IDENTITY, [id(hinge) for hinge in hinges[:i] if hinge.beyond == hinges[i].beyond]
    for hinge, turn in turns:
        if id(hinge) in inner:
            tf = tf @ turn
    return tf


def shift_mm(straight: GearModel, now: GearModel) -> Array:
    """How far bending moves the CG of a model with solids, each by its share of their volume, mm, shape (3,)."""
    solids = solids_of(straight.shapes)
    volumes: Array = solids.half_mm.prod(axis=1) * np.where(solids.round, 2 * np.pi, 8.0)
    if not volumes.sum():
        return np.zeros(3)
    steps = [_middle(b) - _middle(a) for a, b in zip(straight.shapes, now.shapes, strict=True)]
    return np.asarray(volumes @ np.array(steps) / volumes.sum())


def _middle(shape: Block | Round) -> Array:
    ends = shape.block if isinstance(shape, Block) else shape.barrel
    return np.asarray(np.mean(np.asarray(ends, dtype=float), axis=0))


def _vec(values: Array) -> Vec3:
    x, y, z = np.asarray(values, dtype=float).tolist()
    return x, y, z


def _shape(shape: Block | Round, tf: Pose) -> Block | Round:
    if tf is IDENTITY:
        return shape
    if isinstance(shape, Round):
        a, b = (_vec(tf.point(end)) for end in shape.barrel)
        return replace(shape, barrel=(a, b))
    middle = _middle(shape)
    half, there = np.asarray(shape.block[1]) - middle, tf.point(middle)
    x, y, z = (_vec(row) for row in tf.rotation)
    return TurnedBlock(
        block=(_vec(there - half), _vec(there + half)), look=shape.look, stage=shape.stage, turn=(x, y, z)
    )


def _hinge(hinge: Hinge, tf: Pose) -> Hinge:
    return replace(hinge, at=_vec(tf.point(hinge.at)), axis=_vec(tf.direction(hinge.axis)))


def _room(room: KeepClear, tf: Pose) -> KeepClear:
    """Room beyond a hinge: the square box around it as turned."""
    if tf is IDENTITY:
        return room
    points = tf.point(Block(block=room.block).points)
    return replace(room, block=(_vec(points.min(axis=0)), _vec(points.max(axis=0))))


def _port(port: Port, tf: Pose) -> Port:
    if tf is IDENTITY:
        return port
    slide = replace(port.slide, axis=_vec(tf.direction(port.slide.axis))) if port.slide else None
    return replace(
        port,
        at=_vec(tf.point(port.at)),
        n=_vec(tf.direction(port.n)),
        u=_vec(tf.direction(port.u)),
        slide=slide,
    )
