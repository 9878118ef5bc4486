"""Rigs held by magnets, suction cups and clamps: pull-off against what
shakes them, points, speed, and the line that catches them.

Formulas: docs/formulas.md §4, 'Magnets and clamps'. Work on vehicles and cranes is for
licensed crews under local law; these figures are for choosing gear, not a permit.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..fit.joints import Use, use_of
from ..gear.supports import MountData, MountPoint
from ..geometry import STANDARD_GRAVITY
from ..rig.assembly import Assembly
from ..rig.build import Target
from ..settings import Settings
from .hands import POINTS_MARGIN, grip_factor, peel_nm, pull_off_factor
from .load import Carried

__all__ = ["Mounted", "mount_findings", "mounted"]

_LINE = "safety line"
_UPRIGHT = 0.95
"""A face whose slope along gravity is more than this stands upright."""


@dataclass(frozen=True, slots=True)
class Mounted:
    """What a mount's points hold: pull-off in N, the load with its
    handling factor in N, how many times each is held.
    """

    support: str
    points: tuple[MountPoint, ...]
    pull_off_n: float
    load_n: float
    handling: str
    factor: float
    off_face: float
    """Σ pull-off over four times the load."""
    along_face: float | None
    """Grip along the face over four times the load; None on a level face."""
    peel: float | None
    """Moment held against peeling over four times the load's; None on a
    level face, and where nobody says where its points are.
    """
    peel_nm: tuple[float, float] | None
    """What is held, and what four times the load asks for."""
    rated_m_s: float | None
    planned_m_s: float
    line: str | None
    """The part that catches it."""

    margin: float
    """How many times the load is asked for."""
    held: float
    """The least of the three: off the face, along it, against peeling."""


def mounted(assembly: Assembly, held: Carried, settings: Settings, target: Target | None) -> Mounted | None:
    """A rig on a mount; None on anything else. Mass is everything that hangs on the points, the mount too."""
    data = _mount(assembly, held)
    if data is None or held.support is None or held.total.mass_g <= 0:
        return None
    use = use_of(assembly, settings)
    mass_kg = held.total.mass_g * 1e-3
    pull = sum(point.pull_off_n for point in data.points)
    grip = sum(settings.friction["rubber" if point.rubber else point.by] * point.pull_off_n for point in data.points)
    peel = _peeling(assembly, held, data, use) if data.along_face else None
    line = next((unit for unit in assembly.units if assembly.catalogue.model_of(unit).kind == _LINE), None)
    shares = (
        pull_off_factor(pull, mass_kg, use.factor),
        grip_factor(grip, mass_kg, use.factor) if data.along_face else None,
        peel[0] / peel[1] if peel and peel[1] > 0 else None,
    )
    return Mounted(
        held.support,
        data.points,
        pull,
        mass_kg * STANDARD_GRAVITY * use.factor,
        use.handling,
        use.factor,
        *shares,
        peel,
        data.rated_m_s,
        target.speed_m_s if target else 0.0,
        line,
        POINTS_MARGIN,
        min(share for share in shares if share is not None),
    )


def _peeling(assembly: Assembly, held: Carried, data: MountData, use: Use) -> tuple[float, float] | None:
    """Moment held against peeling and four times what the rig asks for, N·m; None where a point has no place.

    Gravity runs down the face; where the face does not stand upright as the rig is
    drawn, or a vehicle turns it, the worst direction along it is taken.
    """
    if held.support is None or any(point.at is None for point in data.points):
        return None
    pose = assembly.pose(held.support)
    face = pose.direction(data.face)
    places = np.array([pose.point(point.at or (0.0, 0.0, 0.0)) for point in data.points])
    off_mm = max(0.0, float((places.mean(axis=0) - held.total.cg_mm) @ face))
    down = np.array([0.0, 0.0, -1.0]) - face * -face[2]
    upright = float(np.linalg.norm(down))
    if upright > _UPRIGHT and use.handling != "vehicle":
        ways = (down / upright)[None, :]
    else:
        one = np.cross(face, (1.0, 0.0, 0.0) if abs(face[0]) < 0.9 else (0.0, 1.0, 0.0))
        one /= np.linalg.norm(one)
        turns = np.radians(np.arange(0.0, 360.0, 1.0))[:, None]
        ways = np.cos(turns) * one + np.sin(turns) * np.cross(face, one)
    pulls, feet = [point.pull_off_n for point in data.points], [point.foot_mm for point in data.points]
    holds = min(peel_nm(pulls, row, feet) for row in (ways @ places.T).tolist())
    return holds, POINTS_MARGIN * held.total.mass_g * 1e-3 * STANDARD_GRAVITY * off_mm * 1e-3 * use.factor


def _mount(assembly: Assembly, held: Carried) -> MountData | None:
    support = assembly.catalogue.model_of(held.support).support if held.support else None
    return support.mount if support else None


def mount_findings(assembly: Assembly, held: Carried, settings: Settings, target: Target | None) -> Iterator[Finding]:
    """Findings on pull-off, points, speed and the safety line."""
    m = mounted(assembly, held, settings, target)
    if m is None:
        return
    about = About(units=(m.support,))
    kinds = ", ".join(f"{sum(p.by == by for p in m.points)} × {by}" for by in dict.fromkeys(p.by for p in m.points))
    along = "" if m.along_face is None else f", along the face {m.along_face:.1f} times"
    along += "" if m.peel is None else f", against peeling {m.peel:.1f} times"
    yield Finding(
        code="mount.pull_off",
        level=Level.CLEAR if m.held >= 1 else Level.STOP,
        about=about,
        value=m.held,
        limit=1.0,
        unit="×",
        text=(
            f"{m.support} ({kinds}) holds {m.off_face:.1f} times what four times its load of {m.load_n:.0f} N"
            f" {m.handling} asks for{along}."
        ),
        working=(
            Working(
                formula=(
                    "Σ pull-off ≥ 4·m·g·factor; on an upright face Σ μ·pull-off ≥ 4·m·g·factor and Σ pullᵢ·aᵢ ≥"
                    " 4·m·g·d·factor"
                ),
                numbers=f"Σ {m.pull_off_n:.0f} N against 4 × {m.load_n:.0f} N"
                + (
                    ""
                    if m.along_face is None
                    else f"; grip {m.along_face * POINTS_MARGIN * m.load_n:.0f} N against 4 × {m.load_n:.0f} N"
                )
                + (f"; peeling {m.peel_nm[0]:.1f} against {m.peel_nm[1]:.2f} N·m" if m.peel_nm else ""),
                inputs=(
                    Input(name=f"handling factor, {m.handling}", value=f"{m.factor:g}", source="setting"),
                    Input(name="pull-off", value="new, clean and on flat steel or glass", source="catalogue"),
                ),
            ),
        ),
    )
    if len(m.points) < 2:
        yield Finding(
            code="mount.points",
            level=Level.STOP,
            about=about,
            value=1,
            limit=2,
            text=f"{m.support} holds by one point; two at least, so that one may let go.",
        )
    elif len(m.points) == 2 and not all(point.moment_nm for point in m.points):
        yield Finding(
            code="mount.points",
            level=Level.WATCH,
            about=about,
            value=2,
            limit=3,
            text=(
                f"{m.support} holds by two points, and nothing says what moment either takes: it can turn about the"
                " line between them."
            ),
        )
    if m.planned_m_s > 0 and (m.rated_m_s is None or m.rated_m_s < m.planned_m_s):
        rated = f"is rated for {m.rated_m_s * 3.6:.0f} km/h" if m.rated_m_s else "has no rated speed"
        yield Finding(
            code="mount.speed",
            level=Level.STOP,
            about=about,
            value=m.planned_m_s,
            limit=m.rated_m_s,
            unit="m/s",
            text=f"{m.support} {rated}; {m.planned_m_s * 3.6:.0f} km/h are planned.",
        )
    if m.line is None:
        yield Finding(
            code="mount.line",
            level=Level.STOP if m.planned_m_s > 0 else Level.WATCH,
            about=about,
            text=f"Nothing catches the rig when {m.support} lets go; a safety line to a point of its own.",
        )
