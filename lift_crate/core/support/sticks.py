"""Sticks and stands in the wind: what tips them, and in which wind.

Formulas: docs/formulas.md §4.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

import numpy as np

from ..callouts import About, Finding, Level, Working
from ..gear.supports import StandData
from ..quantities import finite
from ..recent import Recent
from ..rig.assembly import Assembly
from ..rig.build import Catalogue, Conditions
from ..settings import Settings
from .hands import tips_over_m_s
from .load import Carried
from .wind import wind_areas

__all__ = ["TipOver", "stand_on", "tip_over", "tip_over_findings"]

_DIRECTIONS = 16


def stand_on(assembly: Assembly) -> tuple[str, StandData] | None:
    """The sticks or stand that a rig is on, and its data; None where it is on none."""
    return next(((unit, data) for unit in assembly.units if (data := assembly.catalogue.model_of(unit).stand)), None)


@dataclass(frozen=True, slots=True)
class TipOver:
    """A rig on its sticks in wind: what tips it, and what holds against it with the safety asked for."""

    stand: str
    legs: str
    mass_g: float
    edge_mm: float
    """From the CG's plumb line to the nearest edge of the footprint."""
    high_mm: float
    """Of the CG above the ground."""
    area_m2: float
    area_high_mm: float
    safe_m_s: float | None
    """Steadiest wind it stands with the safety asked for; None: any."""
    tips_m_s: float | None
    gust_m_s: float


def tip_over(assembly: Assembly, held: Carried, settings: Settings, conditions: Conditions) -> TipOver | None:
    """When a rig tips over on its sticks; None where it stands on none.

    M·g·b·cosδ ≥ safety·(F_wind·h_A + M·g·h·sinδ), the wind from the worst of 16
    directions on everything drawn above the bowl, sticks taken to weigh at half their height.
    """
    found = stand_on(assembly)
    if found is None or held.support is None:
        return None
    unit, data = found
    stand_g = assembly.parts[unit].mass_g
    # The bowl stands at the stand's own port, wherever that is in the rig frame.
    foot = float(assembly.pose(unit).translation_mm[2]) - data.height_mm
    upper_g = held.total.mass_g - stand_g
    total = held.total.mass_g
    if total <= 0:
        return None
    centre = (
        (held.total.mass_g * held.total.cg_mm - stand_g * assembly.parts[unit].cg_mm) / upper_g
        if upper_g > 0
        else held.total.cg_mm
    )
    aside = np.hypot(*(upper_g * (centre - assembly.pose(unit).translation_mm)[:2])) / total
    high = (upper_g * (float(centre[2]) - foot) + stand_g * data.height_mm / 2) / total
    edge = max(0.0, data.edge_mm - float(aside))
    # Where everything is decides what the wind finds; cables, settings and the weather do not.
    where = id(assembly.catalogue), assembly.build.body, assembly.build.joints
    area, up, _ = _areas.of(where, lambda: (*_worst_area(assembly, unit, foot), assembly.catalogue))
    height = up - foot

    def tips(safety: float) -> float:
        return tips_over_m_s(
            total * 1e-3, edge * 1e-3, high * 1e-3, area, settings.slope_deg, safety, wind_m=height * 1e-3
        )

    return TipOver(
        unit,
        data.legs,
        total,
        edge,
        high,
        area,
        height,
        finite(tips(settings.tip_safety)),
        finite(tips(1.0)),
        conditions.blows_m_s * settings.gust,
    )


_areas: Recent[tuple[float, float, Catalogue]] = Recent(128)
"""Areas with the shelf they are of, which is known by its identity."""


def _worst_area(assembly: Assembly, stand: str, foot_mm: float) -> tuple[float, float]:
    """What a wind from the worst direction blows against, m², and the height of its centre in the rig frame, mm."""
    units = [unit for unit in assembly.units if unit != stand]
    owner, own = assembly.catalogue.solids_of(units)
    solids = own.moved_each(assembly.frames[[assembly.row[unit] for unit in units]][owner])
    angles = math.pi * np.arange(_DIRECTIONS // 2) / (_DIRECTIONS // 2)
    towards = np.column_stack((np.cos(angles), np.sin(angles), np.zeros_like(angles)))
    areas, centres = wind_areas(solids, towards)
    worst = int((areas * (centres[:, 2] - foot_mm)).argmax())
    return float(areas[worst]), float(centres[worst, 2])


def tip_over_findings(assembly: Assembly, held: Carried, settings: Settings, conditions: Conditions) -> list[Finding]:
    """Whether sticks stand in the gusts of a part of the day; a monopod is held by hand and not judged."""
    found = tip_over(assembly, held, settings, conditions)
    if found is None or found.legs == "monopod":
        return []
    level = (
        Level.STOP
        if found.tips_m_s is not None and found.gust_m_s >= found.tips_m_s
        else Level.WATCH
        if found.safe_m_s is not None and found.gust_m_s >= found.safe_m_s
        else Level.CLEAR
    )
    stands = (
        "it stands" if level is Level.CLEAR else "too near to what tips it" if level is Level.WATCH else "it goes over"
    )
    return [
        Finding(
            code="stand.tips",
            level=level,
            about=About(units=(found.stand,)),
            value=found.gust_m_s,
            limit=found.safe_m_s,
            unit="m/s",
            text=(
                f"Gusts of {found.gust_m_s:.1f} m/s on {found.stand}: {stands}. With a margin of"
                f" {settings.tip_safety:g} it stands"
                f" {f'up to {found.safe_m_s:.0f} m/s' if found.safe_m_s is not None else 'in any wind'} on a slope"
                f" of {settings.slope_deg:g}°."
            ),
            working=(
                Working(
                    formula="M·g·b·cosδ ≥ margin·(½·1.2·1.1·A·v²·h_A + M·g·h·sinδ)",
                    numbers=(
                        f"M {found.mass_g / 1000:.1f} kg, b {found.edge_mm:.0f} mm, h {found.high_mm:.0f} mm, A"
                        f" {found.area_m2:.3f} m² at {found.area_high_mm:.0f} mm, δ {settings.slope_deg:g}°; "
                    )
                    + (
                        f"tips by itself at {found.tips_m_s:.1f} m/s"
                        if found.tips_m_s is not None
                        else "nothing for the wind to push"
                    ),
                ),
            ),
        )
    ]
