"""Moments of inertia of a rig from the boxes of its parts. g, mm; kg·m².

Formulas: docs/formulas.md §1 and §3, 'Moves'.
"""

from __future__ import annotations

from collections.abc import Collection

from .assembly import Assembly
from .geometry import Array, Pose

__all__ = ["about_axis_kg_m2", "of_point_kg_m2"]

_G_MM2 = 1e-9
"""g·mm² to kg·m²."""


def about_axis_kg_m2(assembly: Assembly, holders: Collection[str], tf_frame_rig: Pose, shift_mm: Array, axis: Array) -> float:
    """Moment of inertia of all that moves with some units about an axis through the origin of a frame.

    I = Σ [m·d² + kᵀ·I_box·k] with the box of each part, its axes turned as the part is; a
    cable's halves are points. ``shift_mm`` moves everything in that frame, shape (3,);
    ``axis`` has length 1, shape (3,).
    """
    total = 0.0
    for part in assembly.masses(holders):
        at = tf_frame_rig.point(part.cg_mm) + shift_mm
        total += of_point_kg_m2(part.mass_g, at, axis)
        if part.unit == part.holder:
            low, high = assembly.catalogue.model_of(part.unit).bounds
            along = (tf_frame_rig @ part.tf_rig_part).rotation.T @ axis
            size = (high - low) ** 2
            total += part.mass_g * _G_MM2 / 12 * float(size @ (1 - along * along))
    return total


def of_point_kg_m2(mass_g: float, at_mm: Array, axis: Array) -> float:
    """m·d² of a point about an axis through the origin."""
    return mass_g * _G_MM2 * float(at_mm @ at_mm - (at_mm @ axis) ** 2)
