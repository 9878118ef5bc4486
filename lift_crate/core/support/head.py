"""Heads and what they stand on: what the counterbalance leaves to the
drag over the tilt, and the wind that tips the sticks.

Formulas: docs/formulas.md §4, 'Heads' and 'Tip-over'. Tilts in degrees, lens down positive.
"""

from __future__ import annotations

import math
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from functools import lru_cache

import numpy as np

from ..callouts import About, Finding, Level, Working
from ..gear.supports import HeadData, Spring
from ..geometry import STANDARD_GRAVITY, Array
from ..lens.coverage import view_of
from ..rig.assembly import Assembly
from ..rig.build import Target
from ..settings import Settings
from ..wording import signed
from .load import Carried
from .sticks import stand_on

__all__ = ["HeadReport", "HeadStep", "head_findings", "head_report"]

_NO_SPRING = Spring(label="none", nm_at=((90.0, 0.0),))
_STEP_DEG = 1.0


@dataclass(frozen=True, slots=True)
class HeadStep:
    """A step of the counterbalance: the greatest moment it leaves, where, and
    between which tilts the rig stays where it is let go.
    """

    label: str
    worst_nm: float
    worst_deg: float
    stays_deg: tuple[float, float] | None
    """Around level; None: not even there."""
    left_nm: tuple[float, ...]
    """At every tilt of the report, lens-down positive."""


@dataclass(frozen=True, slots=True)
class HeadReport:
    """A rig on a tilting head: how it lies on the pivot, every step of
    the counterbalance, and the tilts it is wanted for.
    """

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

    holds: bool
    """Whether the rig stays where it is let go over all tilts needed."""


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
    steps = _steps(labels, tilts, load - pushed, data.hold_nm)
    best = min(steps, key=lambda step: step.worst_nm)
    return HeadReport(
        high,
        ahead,
        data.hold_nm,
        (float(tilts[0]), float(tilts[-1])),
        tuple(tilts.tolist()),
        tuple(load.tolist()),
        steps,
        best,
        best.worst_nm <= data.hold_nm + 1e-9,
    )


@lru_cache(maxsize=64)
def _charts(data: HeadData, wanted_deg: float) -> tuple[Array, Array]:
    """The tilts a head is wanted for, within its range, level among them; and
    what every step of the counterbalance pushes back there, N·m, shape (steps, tilts).
    """
    low, top = max(data.tilt_deg[0], -wanted_deg), min(data.tilt_deg[1], wanted_deg)
    tilts = np.unique(np.append(np.arange(math.ceil(low), math.floor(top) + _STEP_DEG / 2, _STEP_DEG), (low, 0.0, top)))
    return tilts, np.array([spring.moment_nm(tilts) for spring in data.springs or (_NO_SPRING,)])


def _head(assembly: Assembly, held: Carried) -> HeadData | None:
    support = assembly.catalogue.model_of(held.support).support if held.support else None
    return support.head if support else None


def _pivot(assembly: Assembly, support: str) -> tuple[float, float, float]:
    data = assembly.catalogue.model_of(support).support
    return data.at if data else (0.0, 0.0, 0.0)


def _steps(labels: Sequence[str], tilts: Array, left: Array, hold_nm: float) -> tuple[HeadStep, ...]:
    """Every step of the counterbalance by what it leaves, N·m, shape (steps, tilts)."""
    apart = np.abs(left)
    worst, stays = apart.argmax(axis=1).tolist(), apart <= hold_nm
    middle = int(np.abs(tilts).argmin())
    found = []
    for i, label in enumerate(labels):
        between = None
        if stays[i, middle]:
            out = np.flatnonzero(~stays[i])
            at = int(out.searchsorted(middle))
            low = int(out[at - 1]) + 1 if at > 0 else 0
            high = int(out[at]) - 1 if at < len(out) else len(tilts) - 1
            between = float(tilts[low]), float(tilts[high])
        nm = tuple(left[i].tolist())
        found.append(HeadStep(label, abs(nm[worst[i]]), float(tilts[worst[i]]), between, nm))
    return tuple(found)


def head_findings(assembly: Assembly, held: Carried, settings: Settings, target: Target | None) -> Iterator[Finding]:
    """Whether the rig stays where it is let go, and whether it stands on what suits its lens."""
    report = head_report(assembly, held, settings)
    if report and held.support:
        best = report.best
        drifts = (
            "it stays where it is let go."
            if report.holds
            else (
                f"let go it stays between {_tilt(best.stays_deg[0])} and {_tilt(best.stays_deg[1])} only."
                if best.stays_deg
                else "let go it falls even from level."
            )
        )
        yield Finding(
            code="head.drift",
            level=Level.CLEAR if report.holds else Level.WATCH,
            about=About(units=(held.support,)),
            value=best.worst_nm,
            limit=report.hold_nm,
            unit="N·m",
            text=(
                f"With the counterbalance at {best.label}, {held.support} is left with {best.worst_nm:.1f} N·m at"
                f" {_tilt(best.worst_deg)}, its drag holds {report.hold_nm:.1f}: {drifts}"
            ),
            working=(
                Working(
                    formula="|M·g·(h·sinθ + d_x·cosθ) − spring(θ)| ≤ drag or lock, over the tilts needed",
                    numbers=(
                        f"M {held.payload.mass_g:.0f} g, h {report.high_mm:.0f} mm, d_x {signed(report.ahead_mm, 1)}"
                        " mm; left at worst: "
                    )
                    + "; ".join(f"{s.label} {s.worst_nm:.2f} N·m" for s in report.steps),
                ),
            ),
        )
    stand = stand_on(assembly)
    if (
        stand
        and stand[1].legs == "monopod"
        and target
        and target.follows
        and (view := view_of(assembly))
        and view.angle_deg < settings.long_lens_deg
    ):
        yield Finding(
            code="stand.monopod",
            level=Level.WATCH,
            about=About(units=(stand[0],)),
            value=view.angle_deg,
            limit=settings.long_lens_deg,
            unit="°",
            text=(
                f"{view.lens} sees {view.angle_deg:.1f}° and follows what moves; {stand[0]} is a monopod. A locked-off"
                " frame can do with it, following needs sticks."
            ),
        )


def _tilt(deg: float) -> str:
    return "level" if abs(deg) < 0.5 else f"{abs(deg):.0f}° lens {'down' if deg > 0 else 'up'}"
