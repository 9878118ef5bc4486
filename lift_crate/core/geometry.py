"""Poses and the joint formula.

Right-handed rig frame: origin on the optical axis at the image plane, x forward
to the subject, y to the operator's left, z up. ``tf_a_b`` takes coordinates in
frame b to frame a, so in ``tf_a_b @ tf_b_c`` the inner frame cancels.
Lengths in mm, angles in degrees at the surface.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cache

import numpy as np
from numpy.typing import NDArray

from .quantities import Coordinate

__all__ = [
    "IDENTITY",
    "STANDARD_GRAVITY",
    "Array",
    "Attitudes",
    "Pose",
    "Vec3",
    "about_axis",
    "mated_frame",
    "mated_rotation",
    "port_basis",
    "rotation_about_x",
    "rotations_about",
]

Array = NDArray[np.float64]
Vec3 = tuple[Coordinate, Coordinate, Coordinate]

STANDARD_GRAVITY = 9.80665
"""m/s², the conventional value."""

_MATE = np.diag([-1.0, 1.0, -1.0])


@dataclass(frozen=True, slots=True, eq=False)
class Pose:
    """A rigid transform ``tf_a_b``: rotation shape (3, 3), translation shape (3,) in mm."""

    rotation: Array
    translation_mm: Array

    def __matmul__(self, other: Pose) -> Pose:
        return Pose(self.rotation @ other.rotation, self.rotation @ other.translation_mm + self.translation_mm)

    def point(self, p_b: Vec3 | Array) -> Array:
        """A point, shape (3,), or points, shape (n, 3), from frame b into frame a."""
        points: Array = np.asarray(p_b, dtype=float)
        return points @ self.rotation.T + self.translation_mm

    def direction(self, d_b: Vec3 | Array) -> Array:
        """A direction from frame b into frame a, shape (3,)."""
        turned: Array = self.rotation @ np.asarray(d_b, dtype=float)
        return turned

    def inverse(self) -> Pose:
        """``tf_b_a``."""
        return Pose(self.rotation.T, -self.rotation.T @ self.translation_mm)


IDENTITY = Pose(np.eye(3), np.zeros(3))


def port_basis(normal: Vec3, up: Vec3) -> Array:
    """Columns [n | u | n×u] of a port, shape (3, 3)."""
    n, u = np.asarray(normal, dtype=float), np.asarray(up, dtype=float)
    side = (n[1] * u[2] - n[2] * u[1], n[2] * u[0] - n[0] * u[2], n[0] * u[1] - n[1] * u[0])
    return np.column_stack((n, u, side))


@cache
def rotation_about_x(angle_deg: float) -> Array:
    """Right-hand rotation about x, shape (3, 3); quarter turns are exact."""
    c, s = ({0.0: (1.0, 0.0), 90.0: (0.0, 1.0), 180.0: (-1.0, 0.0), 270.0: (0.0, -1.0)}.get(angle_deg % 360.0)) or (
        math.cos(math.radians(angle_deg)),
        math.sin(math.radians(angle_deg)),
    )
    return np.array([[1.0, 0.0, 0.0], [0.0, c, -s], [0.0, s, c]])


def rotations_about(axis: Array, angles_deg: Array) -> Array:
    """Right-hand rotations about an axis of length 1, by Rodrigues' formula, shape (n, 3, 3)."""
    angles = np.radians(angles_deg)[:, None, None]
    k = np.array([[0.0, -axis[2], axis[1]], [axis[2], 0.0, -axis[0]], [-axis[1], axis[0], 0.0]])
    return np.asarray(np.eye(3) + np.sin(angles) * k + (1 - np.cos(angles)) * (k @ k))


def about_axis(axis: Array, through: Array, deg: float) -> Pose:
    """Rotation about an axis of length 1 through a point, right hand."""
    rotation = rotations_about(axis, np.array([deg]))[0]
    return Pose(rotation, through - rotation @ through)


def mated_frame(turned: Array, joint_at_mm: Array, child_at_mm: Array) -> Array:
    """Frame of a child in its parent's, and their joint, shape (4, 5): rotation, origin, joint; last row 0 0 0 1 1.

    ``turned``, shape (3, 3), is ``mated_rotation`` of the two ports; ``joint_at_mm``, shape (3,), the
    parent's port in its own frame, ``child_at_mm`` the child's in its own, both with any slide. A pose
    in the rig frame, shape (4, 4), times this one gives both in the rig frame:

        R_c = R_p · P_p · Rx(spin) · diag(-1, 1, -1) · P_cᵀ
        t_c = t_p + R_p·at_p − R_c·at_c
    """
    frame = np.zeros((4, 5))
    frame[:3, :3] = turned
    frame[:3, 3] = joint_at_mm - turned @ child_at_mm
    frame[:3, 4] = joint_at_mm
    frame[3, 3:] = 1.0
    return frame


def mated_rotation(parent_basis: Array, child_basis: Array, spin_deg: float) -> Array:
    """Rotation of a child in its parent's frame, shape (3, 3).

    Normals opposed, ups aligned, then turned by ``spin_deg`` about the parent's
    normal: P_p · Rx(spin) · diag(-1, 1, -1) · P_cᵀ.
    """
    turned: Array = parent_basis @ rotation_about_x(spin_deg) @ _MATE @ child_basis.T
    return turned


@dataclass(frozen=True, slots=True)
class Attitudes:
    """Every attitude of a rig tilted about y within ±``tilt_deg`` and rolled about x within ±``roll_deg``.

    Gravity seen from the rig is R_tilt(θ)ᵀ · R_roll(ρ)ᵀ · (0, 0, −1) =
    (sinθ·cosρ, −sinρ, −cosθ·cosρ).
    """

    tilt_deg: float
    roll_deg: float

    def along_gravity(self, r: Vec3 | Array) -> tuple[float, float]:
        """Least and most of r·ĝ over all attitudes, in closed form; r in the rig frame, shape (3,).

        r·ĝ = B·cosρ − r_y·sinρ with B = r_x·sinθ − r_z·cosθ is linear in B, so its
        extremes are at those of B.
        """
        x, y, z = (float(v) for v in r)
        found = [end for b in _swing(-z, x, self.tilt_deg) for end in _swing(b, -y, self.roll_deg)]
        return min(found), max(found)


def _swing(at_zero: float, at_quarter: float, limit_deg: float) -> tuple[float, float]:
    """Least and most of c·cos(a) + s·sin(a) over a within ± a limit."""
    limit = math.radians(min(180.0, limit_deg))
    peak = math.atan2(at_quarter, at_zero)
    angles = [-limit, limit, *(a for a in (peak, peak - math.pi, peak + math.pi) if abs(a) <= limit)]
    values = [at_zero * math.cos(a) + at_quarter * math.sin(a) for a in angles]
    return min(values), max(values)
