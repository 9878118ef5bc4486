"""Three-axis gimbal: slides that balance it, what is left, what its motors and pack feel.

Frame: origin where the axes meet at zero scales, x forward, y left, z up. Order
pan · roll · tilt with tilt innermost. Formulas: docs/formulas.md §3.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from .carriers import GimbalData, SlideRange
from .geometry import STANDARD_GRAVITY, Array
from .settings import Settings

__all__ = ["Payload", "SlideAnswer", "Solution", "gimbal_power_w", "motor_torques_nm", "solve"]

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
        x, y, z = (
            (self.mass_g * a + other.mass_g * b) / total for a, b in zip(self.cg_mm, other.cg_mm, strict=True)
        )
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
    attitudes_deg: tuple[float, float] = (90.0, 45.0),
) -> Solution:
    """Slides that balance a payload, later ones from the earlier ones' clamped places.

        a* = −(m_p·p_x + m_t·c_tx)/m_p      v* = −(m_p·p_z + m_t·c_tz)/m_p
        l* = −(M_t·y_t + m_r·c_ry)/M_t      b* = −(M_t·x_t + m_r·c_rx + m_q·c_qx)/M_r

    ``on_pan`` is what hangs on the pan arm's own ports. ``attitudes_deg``: tilt and
    roll, ±, over which the residual torques are the worst. A payload without mass
    has no balance: raises ValueError.
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

    theta = np.radians(_samples(attitudes_deg[0]))
    rho = np.radians(_samples(attitudes_deg[1]))
    s_ry = m_t * (y_t + side.set_mm) + roll.mass_g * roll.cg_mm[1]
    s_rz = m_t * (z_t * np.cos(theta) - x_t * np.sin(theta)) + roll.mass_g * roll.cg_mm[2]
    s_x = (
        m_t * (x_t * np.cos(theta) + z_t * np.sin(theta))
        + roll.mass_g * roll.cg_mm[0] + m_r * b.set_mm + pan.mass_g * pan.cg_mm[0]
    )  # fmt: skip
    s_y = s_ry + pan.mass_g * pan.cg_mm[1]
    lean = math.sin(math.radians(settings.gimbal_lean_deg))
    tilt_nm = _G_MM_TO_NM * m_t * math.hypot(x_t, z_t)
    roll_nm = _G_MM_TO_NM * np.abs(s_ry * np.cos(rho)[None, :] - s_rz[:, None] * np.sin(rho)[None, :])
    pan_nm = _G_MM_TO_NM * lean * np.hypot(s_x, s_y)
    level = len(theta) // 2
    return Solution(
        a, v, side, b,
        (tilt_nm, float(roll_nm.max()), float(pan_nm.max())),
        (tilt_nm, _G_MM_TO_NM * abs(s_ry), float(pan_nm[level])),
    )  # fmt: skip


def _samples(limit_deg: float) -> Array:
    return np.linspace(-limit_deg, limit_deg, 2 * max(1, math.ceil(limit_deg / 2.5)) + 1)


def motor_torques_nm(residual_nm: tuple[float, float, float], cable_pull_nm: float) -> tuple[float, float, float]:
    """What each motor holds: residual plus the pull of cables, adverse on every axis."""
    t, r, p = (torque + cable_pull_nm for torque in residual_nm)
    return t, r, p


def gimbal_power_w(gimbal: GimbalData, torques_nm: tuple[float, float, float], style: float) -> float | None:
    """Power a gimbal takes, W: P = P_base·style + Σ(τᵢ/Kmᵢ)²; None when its base draw is unknown."""
    if gimbal.base_w is None:
        return None
    held = sum((t / km) ** 2 for t, km in zip(torques_nm, gimbal.motor_constant or (), strict=False))
    return gimbal.base_w * style + held
