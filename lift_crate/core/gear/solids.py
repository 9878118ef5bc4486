"""Simple solids that gear is drawn with and that must not run into each other, in the model's frame, mm."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np
from numpy.typing import NDArray

from ..geometry import Array, Pose, Vec3
from ..quantities import Identifier, Label, Positive
from ..settings import STRICT

__all__ = ["Block", "GimbalStage", "KeepClear", "Look", "Round", "Rows", "Solids", "TurnedBlock", "solids_of"]

Rows = NDArray[np.intp]
"""Indices of rows, shape (k,)."""
Look = Literal["body", "metal", "glass", "screen", "soft", "accent"]
GimbalStage = Literal["seat", "tilt", "roll", "pan", "handle"]
"""Parts of a gimbal that move apart: the seat slides up and down on the tilt stage with the camera."""

_UNIT_CUBE = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
_CIRCLE = np.linspace(0, 2 * np.pi, 28, endpoint=False)


@dataclass(frozen=True, kw_only=True)
class Block:
    """A box, two opposite corners; ``stage`` tells which part of a gimbal it moves with."""

    __pydantic_config__ = STRICT

    block: tuple[Vec3, Vec3]
    look: Look = "body"
    stage: GimbalStage | None = None

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner."""
        return self.block

    @cached_property
    def points(self) -> Array:
        """All eight corners, shape (8, 3)."""
        low, high = (np.asarray(corner, dtype=float) for corner in self.block)
        return np.asarray(low + _UNIT_CUBE * (high - low))


@dataclass(frozen=True, kw_only=True)
class TurnedBlock(Block):
    """A box that stands askew, as beyond a bent hinge; its corners are given square, and turned about its middle.

    No gear is described by it; it is made where gear is bent.
    """

    turn: tuple[Vec3, Vec3, Vec3]
    """Rows of the matrix."""

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner of the box around it."""
        low, high = self.points.min(axis=0).tolist(), self.points.max(axis=0).tolist()
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    @cached_property
    def points(self) -> Array:
        """All eight corners, shape (8, 3)."""
        low, high = (np.asarray(corner, dtype=float) for corner in self.block)
        square = low + _UNIT_CUBE * (high - low) - (low + high) / 2
        return np.asarray(square @ np.asarray(self.turn).T + (low + high) / 2)


@dataclass(frozen=True, kw_only=True)
class Round:
    """A barrel, rod or cone between two points, with a radius at each end."""

    __pydantic_config__ = STRICT

    barrel: tuple[Vec3, Vec3]
    radius_mm: Positive
    end_radius_mm: Positive | None = None
    look: Look = "body"
    stage: GimbalStage | None = None

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner of the box around it."""
        a, b = (np.asarray(p, dtype=float) for p in self.barrel)
        axis = (b - a) / (np.linalg.norm(b - a) or 1.0)
        reach = np.sqrt(np.clip(1.0 - axis**2, 0.0, 1.0)) * max(self.radius_mm, self.end_radius_mm or 0.0)
        low, high = np.minimum(a, b) - reach, np.maximum(a, b) + reach
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    @property
    def end_radius(self) -> float:
        """Radius at the second end."""
        return self.radius_mm if self.end_radius_mm is None else self.end_radius_mm

    @cached_property
    def points(self) -> Array:
        """Both rims, 28 points each, shape (56, 3)."""
        a, b = (np.asarray(end, dtype=float) for end in self.barrel)
        axis = (b - a) / (np.linalg.norm(b - a) or 1.0)
        helper = np.array([0.0, 0.0, 1.0]) if abs(axis[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
        u = np.cross(axis, helper)
        u /= np.linalg.norm(u)
        ring = np.outer(np.cos(_CIRCLE), u) + np.outer(np.sin(_CIRCLE), np.cross(axis, u))
        return np.vstack((a + self.radius_mm * ring, b + self.end_radius * ring))


@dataclass(frozen=True, kw_only=True)
class KeepClear:
    """Room that must stay free for the thing to be used: a door, a screen's swing, a fan outlet, a release."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    kind: Literal["card door", "battery door", "screen", "fan", "release"]
    block: tuple[Vec3, Vec3]

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner."""
        return self.block


@dataclass(frozen=True, slots=True, eq=False)
class Solids:
    """Boxes and barrels as rows: centres (k, 3), their three axes as rows (k, 3, 3), half sizes along them (k, 3).

    A barrel lies along its first axis and has its radius in the other two.
    """

    centre_mm: Array
    frame: Array
    half_mm: Array
    round: Array
    """Which are barrels, shape (k,)."""

    @classmethod
    def joined(cls, parts: Sequence[Solids]) -> Solids:
        """All rows, one set after the other."""
        return cls(
            np.concatenate([p.centre_mm for p in parts]),
            np.concatenate([p.frame for p in parts]),
            np.concatenate([p.half_mm for p in parts]),
            np.concatenate([p.round for p in parts]),
        )

    def rows(self, chosen: Rows) -> Solids:
        """Some rows, in the order of their indices."""
        return Solids(self.centre_mm[chosen], self.frame[chosen], self.half_mm[chosen], self.round[chosen])

    def moved_each(self, frames: Array) -> Solids:
        """Every row, given in a frame of its own, in the frame that those are in; ``frames`` shape (k, 4, 4+)."""
        rotations = frames[:, :3, :3]
        return Solids(
            np.matmul(rotations, self.centre_mm[:, :, None])[:, :, 0] + frames[:, :3, 3],
            np.matmul(self.frame, rotations.transpose(0, 2, 1)),
            self.half_mm,
            self.round,
        )

    def moved(self, tf_a_b: Pose) -> Solids:
        """The same solids, given in frame b, in frame a."""
        return Solids(tf_a_b.point(self.centre_mm), self.frame @ tf_a_b.rotation.T, self.half_mm, self.round)


def solids_of(shapes: Sequence[Block | Round | KeepClear]) -> Solids:
    """Boxes and barrels as rows, in the order given."""
    rows = [_round_row(shape) if isinstance(shape, Round) else _block_row(shape) for shape in shapes]
    if not rows:
        return Solids(np.zeros((0, 3)), np.zeros((0, 3, 3)), np.zeros((0, 3)), np.zeros(0, dtype=bool))
    centres, frames, halves = (np.array([row[i] for row in rows]) for i in range(3))
    return Solids(centres, frames, halves, np.array([isinstance(shape, Round) for shape in shapes]))


def _block_row(shape: Block | KeepClear) -> tuple[Array, Array, Array]:
    low, high = (np.asarray(corner, dtype=float) for corner in shape.block)
    axes = np.asarray(shape.turn).T if isinstance(shape, TurnedBlock) else np.eye(3)
    return (low + high) / 2, axes, np.abs(high - low) / 2


def _round_row(shape: Round) -> tuple[Array, Array, Array]:
    a, b = (np.asarray(end, dtype=float) for end in shape.barrel)
    length = float(np.linalg.norm(b - a)) or 1.0
    along = (b - a) / length
    helper = np.array([0.0, 0.0, 1.0]) if abs(along[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
    side = np.cross(along, helper)
    side /= np.linalg.norm(side)
    radius = max(shape.radius_mm, shape.end_radius)
    return (a + b) / 2, np.array([along, side, np.cross(along, side)]), np.array([length / 2, radius, radius])
