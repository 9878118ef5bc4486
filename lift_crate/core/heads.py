"""Heads and what they stand on: what the counterbalance leaves to the drag over the tilt, and the wind that tips the sticks.

Formulas: docs/formulas.md §4, 'Heads' and 'Tip-over'. Tilts in degrees, lens down positive.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from .assembly import Assembly
from .carriers import HeadData, Spring, StandData
from .carrying import Carried
from .findings import About, Finding, Level, Working
from .geometry import STANDARD_GRAVITY, Array
from .holding import tips_over_m_s
from .rig import Conditions, Target
from .settings import Settings
from .shapes import Solids
from .viewing import view_of
from .wind import wind_area
from .wording import signed

__all__ = ["HeadReport", "HeadStep", "TipOver", "head_findings", "head_report", "tip_over", "tip_over_findings"]

_NO_SPRING = Spring(label="none", nm_at=((90.0, 0.0),))
_STEP_DEG = 1.0
_DIRECTIONS = 16


@dataclass(frozen=True, slots=True)
class HeadStep:
    """A step of the counterbalance: the greatest moment it leaves, where, and between which tilts the rig stays where it is let go."""

    label: str
    worst_nm: float
    worst_deg: float
    stays_deg: tuple[float, float] | None
    """Around level; None: not even there."""
    left_nm: tuple[float, ...]
    """At every tilt of the report, lens-down positive."""


@dataclass(frozen=True, slots=True)
class HeadReport:
    """A rig on a tilting head: how it lies on the pivot, every step of the counterbalance, and the tilts it is wanted for."""

    high_mm: float
    ahead_mm: float
    """CG above and ahead of the pivot; the plate is slid by as much to the rear."""
    hold_nm: float
    needed_deg: tuple[float, float]
    tilts_deg: tuple[float, ...]
    load_nm: tuple[float, ...]
    """What the rig's weight turns it with at every tilt, lens-down positive."""
    steps: tuple[HeadStep, ...]
    best: HeadStep
    """The step that leaves the least over the tilts needed."""

    @property
    def holds(self) -> bool:
        """Whether the rig stays where it is let go over all tilts needed."""
        return self.best.worst_nm <= self.hold_nm + 1e-9


def head_report(assembly: Assembly, held: Carried, settings: Settings) -> HeadReport | None:
    """A rig on its head; None when it stands on none, or nothing is known of its tilt.

    Moment M·g·(h·sinθ + d_x·cosθ) against the spring's; what is left must be held by
    drag or lock.
    """
    data = _head(assembly, held)
    if data is None or held.support is None or held.payload.mass_g <= 0:
        return None
    pivot = assembly.pose(held.support).point(_pivot(assembly, held.support))
    ahead, high = float(held.payload.cg_mm[0] - pivot[0]), float(held.payload.cg_mm[2] - pivot[2])
    tilts, pushed = _charts(data, settings.attitudes["head"][0])
    theta = np.radians(tilts)
    load = held.payload.mass_g * STANDARD_GRAVITY * 1e-6 * (high * np.sin(theta) + ahead * np.cos(theta))
    labels = [spring.label for spring in data.springs or (_NO_SPRING,)]
    steps = tuple(_step(label, tilts, load - moment, data.hold_nm) for label, moment in zip(labels, pushed, strict=True))
    best = min(steps, key=lambda step: step.worst_nm)
    return HeadReport(high, ahead, data.hold_nm, (float(tilts[0]), float(tilts[-1])), tuple(tilts.tolist()), tuple(load.tolist()), steps, best)


@lru_cache(maxsize=64)
def _charts(data: HeadData, wanted_deg: float) -> tuple[Array, list[Array]]:
    """The tilts a head is wanted for, within its range, level among them; and what every step of the counterbalance pushes back there, N·m."""
    low, top = max(data.tilt_deg[0], -wanted_deg), min(data.tilt_deg[1], wanted_deg)
    tilts = np.unique(np.append(np.arange(math.ceil(low), math.floor(top) + _STEP_DEG / 2, _STEP_DEG), (low, 0.0, top)))
    return tilts, [spring.moment_nm(tilts) for spring in data.springs or (_NO_SPRING,)]


def _head(assembly: Assembly, held: Carried) -> HeadData | None:
    support = assembly.catalogue.model_of(held.support).support if held.support else None
    return support.head if support else None


def _pivot(assembly: Assembly, support: str) -> tuple[float, float, float]:
    data = assembly.catalogue.model_of(support).support
    return data.at if data else (0.0, 0.0, 0.0)


def _step(label: str, tilts: Array, left: Array, hold_nm: float) -> HeadStep:
    worst = int(np.abs(left).argmax())
    stays = np.abs(left) <= hold_nm
    middle = int(np.abs(tilts).argmin())
    between = None
    if stays[middle]:
        out = np.flatnonzero(~stays)
        low = int(out[out < middle].max()) + 1 if (out < middle).any() else 0
        high = int(out[out > middle].min()) - 1 if (out > middle).any() else len(tilts) - 1
        between = float(tilts[low]), float(tilts[high])
    return HeadStep(label, float(abs(left[worst])), float(tilts[worst]), between, tuple(left.tolist()))


def head_findings(assembly: Assembly, held: Carried, settings: Settings, target: Target | None) -> Iterator[Finding]:
    """Whether the rig stays where it is let go, and whether it stands on what suits its lens."""
    report = head_report(assembly, held, settings)
    if report and held.support:
        best = report.best
        drifts = "it stays where it is let go." if report.holds else (
            f"let go it stays between {_tilt(best.stays_deg[0])} and {_tilt(best.stays_deg[1])} only." if best.stays_deg else "let go it falls even from level."
        )  # fmt: skip
        yield Finding(
            code="head.drift", level=Level.CLEAR if report.holds else Level.WATCH, about=About(units=(held.support,)),
            value=best.worst_nm, limit=report.hold_nm, unit="N·m",
            text=f"With the counterbalance at {best.label}, {held.support} is left with {best.worst_nm:.1f} N·m at {_tilt(best.worst_deg)}, its drag holds {report.hold_nm:.1f}: {drifts}",
            working=(Working(
                formula="|M·g·(h·sinθ + d_x·cosθ) − spring(θ)| ≤ drag or lock, over the tilts needed",
                numbers=f"M {held.payload.mass_g:.0f} g, h {report.high_mm:.0f} mm, d_x {signed(report.ahead_mm, 1)} mm; left at worst: " + "; ".join(f"{s.label} {s.worst_nm:.2f} N·m" for s in report.steps),
            ),),
        )  # fmt: skip
    stand = _stand(assembly)
    if stand and stand[1].legs == "monopod" and target and target.follows and (view := view_of(assembly)) and view.angle_deg < settings.long_lens_deg:
        yield Finding(
            code="stand.monopod", level=Level.WATCH, about=About(units=(stand[0],)), value=view.angle_deg, limit=settings.long_lens_deg, unit="°",
            text=f"{view.lens} sees {view.angle_deg:.1f}° and follows what moves; {stand[0]} is a monopod. A locked-off frame can do with it, following wants sticks.",
        )  # fmt: skip


def _tilt(deg: float) -> str:
    return "level" if abs(deg) < 0.5 else f"{abs(deg):.0f}° lens {'down' if deg > 0 else 'up'}"


def _stand(assembly: Assembly) -> tuple[str, StandData] | None:
    return next(((unit, data) for unit in assembly.parts if (data := assembly.catalogue.model_of(unit).stand)), None)


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
    safe_m_s: float
    """Steadiest wind it stands with the safety asked for."""
    tips_m_s: float
    gust_m_s: float


def tip_over(assembly: Assembly, held: Carried, settings: Settings, conditions: Conditions) -> TipOver | None:
    """When a rig tips over on its sticks; None where it stands on none.

    M·g·b·cosδ ≥ safety·(F_wind·h_A + M·g·h·sinδ), the wind from the worst of 16
    directions on everything drawn above the bowl, sticks taken to weigh at half their height.
    """
    found = _stand(assembly)
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
    centre = (held.total.mass_g * held.total.cg_mm - stand_g * assembly.parts[unit].cg_mm) / upper_g if upper_g > 0 else held.total.cg_mm
    aside = np.hypot(*(upper_g * (centre - assembly.pose(unit).translation_mm)[:2])) / total
    high = (upper_g * (float(centre[2]) - foot) + stand_g * data.height_mm / 2) / total
    edge = max(0.0, data.edge_mm - float(aside))
    solids = [assembly.catalogue.model_of(u).solids.moved(assembly.pose(u)) for u in assembly.parts if u != unit]
    area, at = _worst_area(Solids.joined(solids), foot)
    height = float(at[2]) - foot

    def tips(safety: float) -> float:
        return tips_over_m_s(total * 1e-3, edge * 1e-3, high * 1e-3, area, settings.slope_deg, safety, wind_m=height * 1e-3)

    return TipOver(unit, data.legs, total, edge, high, area, height, tips(settings.tip_safety), tips(1.0), conditions.wind_m_s * settings.gust)


def _worst_area(solids: Solids, foot_mm: float) -> tuple[float, Array]:
    """What a wind from the worst direction blows against, m², and its centre."""
    angles = math.pi * np.arange(_DIRECTIONS // 2) / (_DIRECTIONS // 2)
    found = [wind_area(solids, np.array([math.cos(a), math.sin(a), 0.0])) for a in angles]
    return max(found, key=lambda pair: pair[0] * (float(pair[1][2]) - foot_mm))


def tip_over_findings(assembly: Assembly, held: Carried, settings: Settings, conditions: Conditions) -> list[Finding]:
    """Whether sticks stand in the gusts of a part of the day; a monopod is held by hand and not judged."""
    found = tip_over(assembly, held, settings, conditions)
    if found is None or found.legs == "monopod":
        return []
    level = Level.STOP if found.gust_m_s >= found.tips_m_s else Level.WATCH if found.gust_m_s >= found.safe_m_s else Level.CLEAR
    stands = "it stands" if level is Level.CLEAR else "too near to what tips it" if level is Level.WATCH else "it goes over"
    return [Finding(
        code="stand.tips", level=level, about=About(units=(found.stand,)), value=found.gust_m_s, limit=found.safe_m_s, unit="m/s",
        text=f"Gusts of {found.gust_m_s:.1f} m/s on {found.stand}: {stands}. With a margin of {settings.tip_safety:g} it stands {f'up to {found.safe_m_s:.0f} m/s' if math.isfinite(found.safe_m_s) else 'in any wind'} on a slope of {settings.slope_deg:g}°.",
        working=(Working(
            formula="M·g·b·cosδ ≥ margin·(½·1.2·1.1·A·v²·h_A + M·g·h·sinδ)",
            numbers=f"M {found.mass_g / 1000:.1f} kg, b {found.edge_mm:.0f} mm, h {found.high_mm:.0f} mm, A {found.area_m2:.3f} m² at {found.area_high_mm:.0f} mm, δ {settings.slope_deg:g}°; " + (f"tips by itself at {found.tips_m_s:.1f} m/s" if math.isfinite(found.tips_m_s) else "nothing for the wind to push"),
        ),),
    )]  # fmt: skip
