"""Moments of inertia of a rig from the boxes of its parts. g, mm; kg·m².

Formulas: docs/formulas.md §1 and §3, 'Moves'.
"""

from __future__ import annotations

from collections.abc import Collection

import numpy as np

from ..geometry import Array, Pose
from ..rig.assembly import Assembly
from ..rig.layout import Layout

__all__ = ["about_axis_kg_m2", "of_parts", "of_point_kg_m2"]

_G_MM2 = 1e-9
"""g·mm² to kg·m²."""


def of_parts(assembly: Assembly, holders: Collection[str], tf_frame_rig: Pose) -> tuple[Array, Array, Array]:
    """Masses in g, shape (n,), and CGs in a frame, shape (n, 3), of all that moves with
    some units; and what their boxes add to points, kg·m², shape (3, 3).
    """
    rows, moving = assembly.layout.moving_with(holders)
    masses, places = moving.mass_g, tf_frame_rig.point(assembly.cgs_mm[rows])
    boxed = rows[rows < len(assembly.units)]
    turns = np.matmul(tf_frame_rig.rotation, assembly.frames[boxed, :3, :3])
    # About an axis k a box has Σ size²·(1 − (Rᵀk)²): its own inertia turned.
    own = masses[: len(boxed), None] * assembly.layout.once(_squared_sizes)[boxed] * (_G_MM2 / 12)
    grown = np.eye(3) * own.sum() - np.einsum("nij,nj,nkj->ik", turns, own, turns)
    return masses, places, np.asarray(grown)


def _squared_sizes(layout: Layout) -> Array:
    """Length, width and height of the box around every unit, each squared, mm², shape (n, 3)."""
    return np.array([high - low for low, high in (model.bounds for model in layout.models)]) ** 2


def about_axis_kg_m2(parts: tuple[Array, Array, Array], shift_mm: Array, axis: Array) -> float:
    """Moment of inertia of parts, as ``of_parts`` gives them, about an axis through the origin of their frame.

    I = Σ [m·d² + kᵀ·I_box·k] with the box of each part, its axes turned as the part is; a
    cable's halves are points. ``shift_mm`` moves everything in that frame, shape (3,);
    ``axis`` has length 1, shape (3,).
    """
    masses, places, grown = parts
    at = places + shift_mm
    squares = np.einsum("ij,ij->i", at, at) - (at @ axis) ** 2
    return float(masses @ squares) * _G_MM2 + float(axis @ grown @ axis)


def of_point_kg_m2(mass_g: float, at_mm: Array, axis: Array) -> float:
    """m·d² of a point about an axis through the origin."""
    return mass_g * _G_MM2 * float(at_mm @ at_mm - (at_mm @ axis) ** 2)
