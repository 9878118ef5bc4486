"""Hand, shoulder, head and stand: what the hands carry, how long, what levels a rig, what tips it over.

Formulas: docs/formulas.md §4. Hold times are a guide: people differ, and this is no
medical advice.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from ..geometry import STANDARD_GRAVITY
from .wind import wind_force_n

__all__ = [
    "POINTS_MARGIN",
    "SeeSaw",
    "counterweight_g",
    "girth_share",
    "grip_factor",
    "hold_minutes",
    "peel_nm",
    "pull_off_factor",
    "see_saw",
    "tips_over_m_s",
]

_ARM_KG = 3.6
"""Mass of an arm, with its CG at 0.25/0.42 of the reach."""
_ARM_CG_SHARE = 0.25 / 0.42


@dataclass(frozen=True, slots=True)
class SeeSaw:
    """A rig about its pad or pivot: moment nose-down in N·m, and what
    the hands at the grip carry, g (never below 0).
    """

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


_GIRTH_MM = 130.0


def girth_share(girth_mm: float | None) -> float:
    """Share of the hold that a grip leaves: a hand that does not close around it holds less. Rule of thumb.

    130/girth beyond 130 mm, 1 below or where nothing is known; 156 mm: 0.83.
    """
    return min(1.0, _GIRTH_MM / girth_mm) if girth_mm else 1.0


def hold_minutes(carried_g: float, reach_m: float, arms: int = 2, held_nm: float = 60.0) -> float | None:
    """How long a mass can be held, min, as a guide; None: long.

    Moment per arm = M·g·reach/arms + 3.6 kg·g·reach·(0.25/0.42); F = moment/``held_nm``;
    minutes = −1.5 + 2.1/F − 0.6/F² + 0.1/F³ for F > 0.15, not below 0.
    """
    moment = (
        max(0.0, carried_g) * 1e-3 * STANDARD_GRAVITY * reach_m / arms
        + _ARM_KG * STANDARD_GRAVITY * reach_m * _ARM_CG_SHARE
    )
    share = moment / held_nm
    if share <= 0.15:
        return None
    return max(0.0, -1.5 + 2.1 / share - 0.6 / share**2 + 0.1 / share**3)


def tips_over_m_s(
    mass_kg: float,
    edge_m: float,
    height_m: float,
    area_m2: float,
    slope_deg: float = 0.0,
    safety: float = 1.5,
    *,
    wind_m: float | None = None,
) -> float:
    """Wind at which a stand tips: M·g·b·cosδ ≥ safety·(F_wind·h_A +
    M·g·h·sinδ), F = ½·1.2·1.1·A·v², m/s; 0 when it tips by itself.

    ``height_m`` of the CG, ``wind_m`` of the area's centre where that is another. With
    ``safety`` 1 the wind that really tips it; without an area in the wind, infinite.
    """
    delta = math.radians(slope_deg)
    weight = mass_kg * STANDARD_GRAVITY
    left = weight * edge_m * math.cos(delta) / safety - weight * height_m * math.sin(delta)
    if left <= 0:
        return 0.0
    per_v2 = wind_force_n(area_m2, 1.0) * (height_m if wind_m is None else wind_m)
    return math.sqrt(left / per_v2) if per_v2 > 0 else math.inf


POINTS_MARGIN = 4.0
"""How many times their load magnets, cups and clamps are asked to hold."""


def pull_off_factor(pull_off_n: float, mass_kg: float, handling: float) -> float:
    """How many times four times the load is held square to a face: Σ pull-off / (4·m·g·factor)."""
    return pull_off_n / (POINTS_MARGIN * mass_kg * STANDARD_GRAVITY * handling)


def grip_factor(grip_n: float, mass_kg: float, handling: float) -> float:
    """How many times four times the load is held along a face: Σ μ·pull-off / (4·m·g·factor)."""
    return grip_n / (POINTS_MARGIN * mass_kg * STANDARD_GRAVITY * handling)


def peel_nm(pulls_n: Sequence[float], down_mm: Sequence[float], feet_mm: Sequence[float]) -> float:
    """Moment that points on an upright face hold against peeling, N·m: Σ pullᵢ·aᵢ.

    ``down_mm`` is where each point is along gravity; aᵢ its distance from the lowest of
    them, at least the radius of its own foot. Two of 400 N, 80 mm apart: 32.0 N·m.
    """
    lowest = max(down_mm)
    return sum(pull * max(lowest - at, foot) for pull, at, foot in zip(pulls_n, down_mm, feet_mm, strict=True)) * 1e-3
