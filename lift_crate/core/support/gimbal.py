"""Three-axis gimbal: slides that balance it, what is left, what its motors and pack feel.

Frame: origin where the axes meet at zero scales, x forward, y left, z up. Order
pan · roll · tilt with tilt innermost. Formulas: docs/formulas.md §3.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from functools import lru_cache

import numpy as np

from ..gear.supports import GimbalData, SlideRange
from ..geometry import STANDARD_GRAVITY, Array, rotations_about
from ..settings import GimbalMove, Settings

__all__ = [
    "EVERYTHING",
    "Payload",
    "PerAxis",
    "SlideAnswer",
    "Solution",
    "gimbal_power_w",
    "motor_torques_nm",
    "pinned",
    "shaken_nm",
    "solve",
]

EVERYTHING: Mapping[str, GimbalMove] = {"everything": GimbalMove(tilt_deg=(-90, 90), roll_deg=(-45, 45))}
"""Tilt ±90°, roll ±45°, the handle leaning 30°."""

PerAxis = tuple[float, float, float]
"""One figure each for tilt, roll and pan."""

_G_MM_TO_NM = STANDARD_GRAVITY * 1e-6
"""g·mm to N·m."""


@dataclass(frozen=True, slots=True)
class Payload:
    """Mass in g and CG in mm of what hangs on a stage, in the gimbal's frame at zero scales."""

    mass_g: float
    cg_mm: tuple[float, float, float]

    def joined(self, other: Payload) -> Payload:
        """Both as one."""
        total = self.mass_g + other.mass_g
        if total <= 0:
            return self
        x, y, z = ((self.mass_g * a + other.mass_g * b) / total for a, b in zip(self.cg_mm, other.cg_mm, strict=True))
        return Payload(total, (x, y, z))


@dataclass(frozen=True, slots=True)
class SlideAnswer:
    """One slide: where it balances, where it stops, and the number on its scale, mm."""

    name: str
    ideal_mm: float
    set_mm: float
    range: SlideRange

    @property
    def short_mm(self) -> float:
        """Travel that is missing; 0 when it balances."""
        return abs(self.ideal_mm - self.set_mm)

    @property
    def left_mm(self) -> float:
        """Travel left to the nearer stop; negative when it is missing."""
        return min(self.ideal_mm - self.range.min_mm, self.range.max_mm - self.ideal_mm)

    @property
    def reading(self) -> float:
        """Number on the printed scale at the place it is set to."""
        return self.range.reading(self.set_mm)


@dataclass(frozen=True, slots=True)
class Solution:
    """The four slides in the order they are solved, and the torque left on tilt, roll, pan in N·m."""

    fore_aft: SlideAnswer
    vertical: SlideAnswer
    lateral: SlideAnswer
    pan: SlideAnswer
    residual_nm: tuple[float, float, float]
    """Worst over the attitudes used, pan at the lean of the handle."""
    level_nm: tuple[float, float, float]
    """Tilt in any attitude, roll at level, pan at the lean."""
    by_move: Mapping[str, tuple[float, float, float]]
    """The same as ``residual_nm`` for every kind of work asked for."""
    uneven_nm: Mapping[str, float]
    """What each slide leaves uneven, by its name, N·m: forward of the tilt axis,
    above it, left of the roll axis, forward of the pan axis.
    """
    first_moment_kg_m: Mapping[str, PerAxis] = field(default_factory=dict)
    """For every kind of work, the greatest first moment about each axis over its attitudes."""

    @property
    def slides(self) -> tuple[SlideAnswer, ...]:
        """All four."""
        return self.fore_aft, self.vertical, self.lateral, self.pan


def _answer(name: str, ideal_mm: float, travel: SlideRange) -> SlideAnswer:
    return SlideAnswer(name, ideal_mm, min(max(ideal_mm, travel.min_mm), travel.max_mm), travel)


def solve(
    gimbal: GimbalData,
    payload: Payload,
    settings: Settings,
    *,
    on_pan: Payload | None = None,
    moves: Mapping[str, GimbalMove] = EVERYTHING,
) -> Solution:
    """Slides that balance a payload, later ones from the earlier ones' clamped places.

        a* = −(m_p·p_x + m_t·c_tx)/m_p      v* = −(m_p·p_z + m_t·c_tz)/m_p
        l* = −(M_t·y_t + m_r·c_ry)/M_t      b* = −(M_t·x_t + m_r·c_rx + m_q·c_qx)/M_r

    ``on_pan`` is what hangs on the pan arm's own ports. ``moves``: kinds of work over
    which the residual torques are the worst. The torque about an axis k through A of
    a body with first moment S is k·((r − A) × M·g⃗); for roll about x that is
    g·|S_y·cosρ − S_z·sinρ|. A payload without mass has no balance: raises ValueError.
    """
    if payload.mass_g <= 0:
        raise ValueError("A gimbal without payload has no balance; mount the camera first.")
    m_p, (px, py, pz) = payload.mass_g, payload.cg_mm
    tilt, roll = (Payload(s.mass_g, s.cg_mm) for s in (gimbal.tilt, gimbal.roll))
    pan = Payload(gimbal.pan.mass_g, gimbal.pan.cg_mm)
    if on_pan:
        pan = pan.joined(on_pan)

    a = _answer("fore_aft", -(m_p * px + tilt.mass_g * tilt.cg_mm[0]) / m_p, gimbal.fore_aft)
    v = _answer("vertical", -(m_p * pz + tilt.mass_g * tilt.cg_mm[2]) / m_p, gimbal.vertical)
    body = Payload(m_p, (px + a.set_mm, py, pz + v.set_mm)).joined(tilt)
    x_t, y_t, z_t = body.cg_mm
    m_t, m_r = body.mass_g, body.mass_g + roll.mass_g
    side = _answer("lateral", -(m_t * y_t + roll.mass_g * roll.cg_mm[1]) / m_t, gimbal.lateral)
    fixed_x = m_t * x_t + roll.mass_g * roll.cg_mm[0] + pan.mass_g * pan.cg_mm[0]
    b = _answer("pan", -fixed_x / m_r, gimbal.pan_slide)

    tilt_nm = _G_MM_TO_NM * m_t * math.hypot(x_t, z_t)
    axis = np.asarray(gimbal.roll_axis, dtype=float)

    def turning(theta: Array, rho_deg: tuple[float, float], lean_deg: float) -> tuple[float, float, float, float]:
        """Roll and pan torque, N·m, worst over tilts of shape (n,) in radians and rolls
        between two limits; the greatest first moments about the two axes, kg·m.
        """
        about_roll = np.column_stack(
            (
                m_t * (x_t * np.cos(theta) + z_t * np.sin(theta)) + roll.mass_g * roll.cg_mm[0],
                np.full_like(theta, m_t * (y_t + side.set_mm) + roll.mass_g * roll.cg_mm[1]),
                m_t * (z_t * np.cos(theta) - x_t * np.sin(theta)) + roll.mass_g * roll.cg_mm[2],
            )
        )
        down, turns = _rolled(gimbal.roll_axis, *rho_deg)
        aside = _cross(axis, about_roll)
        roll_nm: Array = _G_MM_TO_NM * np.abs(aside @ down.T)
        # What pan turns is rolled too, shape (rolls, tilts, 3).
        rolled = about_roll @ turns
        s_x = rolled[..., 0] + m_r * b.set_mm + pan.mass_g * pan.cg_mm[0]
        s_y = rolled[..., 1] + pan.mass_g * pan.cg_mm[1]
        about_pan = float(np.hypot(s_x, s_y).max())
        pan_nm = _G_MM_TO_NM * math.sin(math.radians(lean_deg)) * about_pan
        return (
            float(roll_nm.max()),
            pan_nm,
            1e-6 * math.sqrt(float((aside * aside).sum(axis=1).max())),
            1e-6 * about_pan,
        )

    by_move: dict[str, PerAxis] = {}
    swung: dict[str, PerAxis] = {}
    for name, move in moves.items():
        worst_roll, worst_pan, roll_kg_m, pan_kg_m = turning(_between(*move.tilt_deg), move.roll_deg, move.lean_deg)
        by_move[name] = (tilt_nm, worst_roll, worst_pan)
        swung[name] = (tilt_nm / STANDARD_GRAVITY, roll_kg_m, pan_kg_m)
    level_roll, level_pan, _, _ = turning(np.zeros(1), (0.0, 0.0), settings.gimbal_lean_deg)
    return Solution(
        a,
        v,
        side,
        b,
        (tilt_nm, max(t[1] for t in by_move.values()), max(t[2] for t in by_move.values())),
        (tilt_nm, level_roll, level_pan),
        by_move,
        {
            "fore_aft": _G_MM_TO_NM * m_t * x_t,
            "vertical": _G_MM_TO_NM * m_t * z_t,
            "lateral": _G_MM_TO_NM * (m_t * (y_t + side.set_mm) + roll.mass_g * roll.cg_mm[1]),
            "pan": _G_MM_TO_NM * (fixed_x + m_r * b.set_mm),
        },
        swung,
    )


def shaken_nm(still_nm: PerAxis, first_moment_kg_m: PerAxis, lean_deg: float, shake_m_s2: float) -> PerAxis:
    """What tilt, roll and pan hold while the operator moves, N·m: the residual as it is when nothing shakes.

        tilt, roll  |S|·√(g² + a²)
        pan         |S|·(g·sinφ + a·cosφ), or |S|·√(g² + a²) where a·sinφ ≥ g·cosφ

    ``first_moment_kg_m`` is |S| about every axis, ``lean_deg`` φ, ``shake_m_s2`` a.
    """
    if shake_m_s2 <= 0:
        return still_nm
    tilt, roll, pan = first_moment_kg_m
    phi, most = math.radians(lean_deg), math.hypot(STANDARD_GRAVITY, shake_m_s2)
    leaning = (
        most
        if shake_m_s2 * math.sin(phi) >= STANDARD_GRAVITY * math.cos(phi)
        else STANDARD_GRAVITY * math.sin(phi) + shake_m_s2 * math.cos(phi)
    )
    return tilt * most, roll * most, pan * leaning


def pinned(gimbal: GimbalData, readings: Mapping[str, float]) -> GimbalData:
    """The gimbal with its slides where their scales read so, by name; those not named stay free.

    Raises ValueError when a reading is not on its scale.
    """
    fields = {"fore_aft": "fore_aft", "vertical": "vertical", "lateral": "lateral", "pan": "pan_slide"}
    held: dict[str, SlideRange] = {}
    for name, reading in readings.items():
        travel: SlideRange = getattr(gimbal, fields[name])
        at = travel.direction * (reading - travel.zero)
        if not travel.min_mm - 0.5 <= at <= travel.max_mm + 0.5:
            low, high = sorted((travel.reading(travel.min_mm), travel.reading(travel.max_mm)))
            raise ValueError(f"{name} reads {reading:g}, but its scale goes from {low:g} to {high:g}")
        held[fields[name]] = replace(travel, min_mm=at, max_mm=at)
    return replace(gimbal, **held)  # type: ignore[arg-type]


def _turned_down(axis: Array, rho: Array) -> Array:
    """Upwards in the frame that is rolled by ρ about an axis, shape (k, 3):
    what a turning moment's vertical part is taken along.
    """
    up = np.array([0.0, 0.0, 1.0])
    along = axis * (axis @ up)
    # R_k(−ρ)·z, by Rodrigues' formula.
    return np.asarray(along + np.outer(np.cos(rho), up - along) - np.outer(np.sin(rho), np.cross(axis, up)))


def _cross(axis: Array, points: Array) -> Array:
    """Axis × p for every row of points, shape (n, 3)."""
    x, y, z = points[:, 0], points[:, 1], points[:, 2]
    return np.column_stack((axis[1] * z - axis[2] * y, axis[2] * x - axis[0] * z, axis[0] * y - axis[1] * x))


@lru_cache(maxsize=64)
def _rolled(roll_axis: tuple[float, float, float], low_deg: float, high_deg: float) -> tuple[Array, Array]:
    """For every roll between two limits: upwards in the rolled frame, shape (k,
    3), and what turns a row of points by it, shape (k, 3, 3).
    """
    axis, rho = np.asarray(roll_axis, dtype=float), _between(low_deg, high_deg)
    return _turned_down(axis, rho), np.ascontiguousarray(rotations_about(axis, np.degrees(rho)).transpose(0, 2, 1))


@lru_cache(maxsize=64)
def _between(first_deg: float, second_deg: float) -> Array:
    """Angles from one limit to the other, radians, at most 2.5° apart,
    the limits and level included where it lies between.
    """
    low, high = min(first_deg, second_deg), max(first_deg, second_deg)
    if high - low < 1e-9:
        return np.asarray(np.radians(np.array([low])))
    count = max(1, math.ceil((high - low) / 2.5))
    found = np.linspace(low, high, count + 1)
    return np.asarray(np.radians(np.append(found, 0.0) if low <= 0 <= high else found))


def motor_torques_nm(residual_nm: PerAxis, cable_pull_nm: PerAxis) -> PerAxis:
    """What the tilt, roll and pan motors hold: residual plus the pull of the cables over each axis, adverse."""
    t, r, p = (torque + pull for torque, pull in zip(residual_nm, cable_pull_nm, strict=True))
    return t, r, p


def gimbal_power_w(gimbal: GimbalData, torques_nm: PerAxis, style: float) -> float | None:
    """Power a gimbal takes, W: P = P_base·style + Σ(τᵢ/Kmᵢ)²; None when its base draw is unknown."""
    if gimbal.base_w is None:
        return None
    held = sum((t / km) ** 2 for t, km in zip(torques_nm, gimbal.motor_constant or (), strict=False))
    return gimbal.base_w * style + held
