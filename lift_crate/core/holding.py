"""Hand, shoulder, head and stand: what the hands carry, how long, what levels a rig, what tips it over.

Formulas: docs/formulas.md §4. Hold times are a guide: people differ, and this is no
medical advice.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Literal

from .geometry import STANDARD_GRAVITY
from .wind import wind_force_n

__all__ = ["GRIPS", "Grip", "SeeSaw", "counterweight_g", "hold_minutes", "magnets_factor", "see_saw", "tips_over_m_s"]

Grip = Literal["held out", "close", "shoulder"]
GRIPS: dict[Grip, float] = {"held out": 0.42, "close": 0.25, "shoulder": 0.10}
"""Reach of the arm in m (settings)."""

_ARM_KG = 3.6
"""Mass of an arm, with its CG at 0.25/0.42 of the reach."""
_ARM_CG_SHARE = 0.25 / 0.42
_FULL_NM = 60.0
"""Moment of an arm that can just be held."""


@dataclass(frozen=True, slots=True)
class SeeSaw:
    """A rig about its pad or pivot: moment nose-down in N·m, and what the hands at the grip carry, g (never below 0)."""

    moment_nm: float
    hands_g: float
    hands_signed_g: float
    """Below 0: the rig pulls its front up, and the hands hold it down."""


def see_saw(mass_g: float, cg_x_mm: float, pad_x_mm: float, grip_x_mm: float) -> SeeSaw:
    """Moment about the support M·g·(x_cg − x_s), and M·(x_cg − x_pad)/(x_grip − x_pad) on the hands.

    Raises ValueError when grip and pad are at one place.
    """
    if abs(grip_x_mm - pad_x_mm) < 1e-9:
        raise ValueError("Grip and pad are at one place; the hands carry nothing there that can be told.")
    moment = mass_g * 1e-3 * STANDARD_GRAVITY * (cg_x_mm - pad_x_mm) * 1e-3
    hands = mass_g * (cg_x_mm - pad_x_mm) / (grip_x_mm - pad_x_mm)
    return SeeSaw(moment, max(0.0, hands), hands)


def counterweight_g(mass_g: float, cg_x_mm: float, support_x_mm: float, at_mm: float) -> float | None:
    """Mass that levels a rig when it is put at ``at_mm``; None where it would have to be negative or infinite."""
    lever = at_mm - support_x_mm
    if abs(lever) < 1e-9:
        return None
    mass = -mass_g * (cg_x_mm - support_x_mm) / lever
    return mass if mass >= 0 else None


def hold_minutes(carried_g: float, reach_m: float, arms: int = 2) -> float | None:
    """How long a mass can be held, min, as a guide; None: long.

    Moment per arm = M·g·reach/arms + 3.6 kg·g·reach·(0.25/0.42); F = moment/60 N·m;
    minutes = −1.5 + 2.1/F − 0.6/F² + 0.1/F³ for F > 0.15, not below 0.
    """
    moment = max(0.0, carried_g) * 1e-3 * STANDARD_GRAVITY * reach_m / arms + _ARM_KG * STANDARD_GRAVITY * reach_m * _ARM_CG_SHARE
    share = moment / _FULL_NM
    if share <= 0.15:
        return None
    return max(0.0, -1.5 + 2.1 / share - 0.6 / share**2 + 0.1 / share**3)


def tips_over_m_s(mass_kg: float, edge_m: float, height_m: float, area_m2: float, slope_deg: float = 0.0, safety: float = 1.5) -> float:
    """Wind at which a stand tips: M·g·b·cosδ ≥ safety·(F_wind·h + M·g·h·sinδ), F = ½·1.2·1.1·A·v², m/s; 0 when it tips by itself.

    With ``safety`` 1 the wind that really tips it.
    """
    delta = math.radians(slope_deg)
    weight = mass_kg * STANDARD_GRAVITY
    left = weight * edge_m * math.cos(delta) / safety - weight * height_m * math.sin(delta)
    return math.sqrt(left / (wind_force_n(area_m2, 1.0) * height_m)) if left > 0 else 0.0


def magnets_factor(pull_off_n: float, mass_kg: float, handling: float, *, along_face: bool, friction: float = 0.2) -> float:
    """How many times what is needed is held: Σ pull-off / (4·m·g·factor), or μ·Σ / (m·g·factor) with gravity along the face."""
    load = mass_kg * STANDARD_GRAVITY * handling
    return friction * pull_off_n / load if along_face else pull_off_n / (4 * load)
