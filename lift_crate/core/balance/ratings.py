"""Rules of thumb where no physics decides: how long a hold may be, what keeps it steady, how large it looks.

Each is said to be one. Formulas: docs/formulas.md §9.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..fit.joints import use_of
from ..geometry import IDENTITY, Array
from ..lens.coverage import filters_on
from ..lens.mount import STABILISER, lens_keeps
from ..rig.layout import Layout
from ..stand import Stand
from ..support.inertia import of_parts
from .see_saw import Hold, hold_ways

__all__ = [
    "REACTION_S",
    "HandsReport",
    "Look",
    "Steadiness",
    "hands_report",
    "inertia_kg_m2",
    "look_of",
    "rating_findings",
    "steadiness",
]

THUMB = "rule of thumb"
_BY_HAND = ("hand", "shoulder")
HELD = (*_BY_HAND, "gimbal")
REACTION_S = {"hand": 1.0, "shoulder": 2.0, "head": 3.0, "gimbal": 3.0}
"""From the call to rolling, s; a gimbal switched on already."""
_HEAVY_KG_M2 = 0.02
_LEVEL_NM = 1.0
_CLOSE_SHARE = 0.8
"""Of the hold time, above which it is a Watch."""
_DISCREET_L, _DISCREET_G, _ORDINARY_L = 4.0, 1500.0, 15.0
_MM3 = 1e-6
"""mm³ to l."""
Size = Literal["discreet", "ordinary", "impressive"]
SIZES: tuple[Size, ...] = ("discreet", "ordinary", "impressive")


@dataclass(frozen=True, slots=True)
class Steadiness:
    """Where a pair's steadiness comes from, 0 to 4, and the moments of inertia about its CG: roll, tilt, pan, kg·m²."""

    rating: int
    source: str
    inertia: tuple[float, float, float]


@dataclass(frozen=True, slots=True)
class Look:
    """The box around what stands on the support, l, its mass in g, and what that looks like."""

    size: Size
    litres: float
    mass_g: float


@dataclass(frozen=True, slots=True)
class HandsReport:
    """What a build asks of whoever holds it, and what keeps it steady; rules of thumb."""

    ways: tuple[Hold, ...]
    """The one that lasts longest first."""
    take_min: float
    """Longest take of the part of the day; 0: none said."""
    repeatable: bool
    reaction_s: float | None
    """From the call to rolling."""
    steady: Steadiness | None
    """None: a head, a gimbal or a mount keeps it steady."""
    inertia: tuple[float, float, float]
    """Of what the support carries about roll, tilt and pan through its CG, kg·m²."""
    look: Look


def hands_report(stand: Stand) -> HandsReport:
    """Hold times, reaction, steadiness and look of a build where it stands."""
    return HandsReport(
        hold_ways(stand),
        stand.conditions.longest_take_min,
        stand.conditions.repeatable,
        REACTION_S.get(stand.carried.kind),
        steadiness(stand) if stand.carried.kind in _BY_HAND else None,
        inertia_kg_m2(stand),
        look_of(stand),
    )


def inertia_kg_m2(stand: Stand) -> tuple[float, float, float]:
    """Moments of inertia of all that stands on the support, about x, y and z through its CG, kg·m²."""
    masses, places, grown = of_parts(stand.assembly, _camera_side(stand), IDENTITY)
    at = places - np.asarray(stand.carried.payload.cg_mm)
    squares = masses @ (at**2) * 1e-9
    x, y, z = (float(squares.sum() - squares[k] + grown[k, k]) for k in range(3))
    return x, y, z


def _camera_side(stand: Stand) -> frozenset[str]:
    """What the support carries; without one, all of it."""
    return stand.assembly.layout.on_support or frozenset(stand.assembly.layout.units)


def steadiness(stand: Stand) -> Steadiness:
    """Sensor and lens 4, one of them 3, electronic 2, mass alone 1, nothing 0."""
    body = stand.assembly.catalogue.model_of(stand.assembly.build.body).body
    view, keeps = stand.view, lens_keeps(stand.assembly)
    sensor = body is not None and body.stabilised == "sensor"
    lens = view is not None and view.data.stabilised and (keeps is None or STABILISER in keeps)
    inertia = inertia_kg_m2(stand)
    if sensor and lens:
        return Steadiness(4, "sensor and lens", inertia)
    if sensor or lens:
        return Steadiness(3, "sensor" if sensor else "lens", inertia)
    if body is not None and body.stabilised == "electronic":
        return Steadiness(2, "electronic, at the cost of a crop", inertia)
    if min(inertia) > _HEAVY_KG_M2 and abs(stand.carried.front_nm) < _LEVEL_NM:
        return Steadiness(1, "its mass alone", inertia)
    return Steadiness(0, "nothing", inertia)


def look_of(stand: Stand) -> Look:
    """Up to 4 l and 1.5 kg discreet, up to 15 l ordinary, above impressive; sticks and heads are not counted."""
    layout = stand.assembly.layout
    stands = stand.carried.kind in ("head", "mount")
    counted = _camera_side(stand) if stands else frozenset(layout.units)
    drawn, corners = layout.once(_corners)
    rows = [i for i, row in enumerate(drawn) if layout.units[row] in counted]
    mass_g = (stand.carried.payload if stands else stand.carried.total).mass_g
    if not rows:
        return Look("discreet", 0.0, mass_g)
    frames = stand.assembly.frames[[drawn[i] for i in rows]]
    every = (np.matmul(corners[rows], frames[:, :3, :3].transpose(0, 2, 1)) + frames[:, None, :3, 3]).reshape(-1, 3)
    litres = float(np.prod(every.max(axis=0) - every.min(axis=0))) * _MM3
    if litres <= _DISCREET_L and mass_g <= _DISCREET_G:
        return Look("discreet", litres, mass_g)
    return Look("ordinary" if litres <= _ORDINARY_L else "impressive", litres, mass_g)


def _corners(layout: Layout) -> tuple[tuple[int, ...], Array]:
    """Rows that have solids, and the corners of the box around each in its own frame, mm, shape (rows, 8, 3)."""
    rows = tuple(i for i, model in enumerate(layout.models) if model.shapes)
    ends = np.array([layout.models[i].bounds for i in rows], dtype=float).reshape(-1, 2, 3)
    picks = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
    return rows, np.stack([ends[:, picks[:, axis], axis] for axis in range(3)], axis=2)


def rating_findings(stand: Stand) -> Iterator[Finding]:
    """Hold, steadiness and look of a build in its part of the day."""
    yield from _hold(stand)
    yield from _steady(stand)
    yield from _hand_on_filter(stand)
    if stand.target and stand.target.look:
        yield _look(stand, stand.target.look)


def _hold(stand: Stand) -> Iterator[Finding]:
    take = stand.conditions.longest_take_min
    if stand.carried.kind not in HELD or take <= 0:
        return
    ways = hold_ways(stand)
    if not ways:
        return
    now = next(way for way in ways if way.chosen)
    can = now.minutes
    about = About(units=(stand.carried.support or stand.assembly.held_by or stand.assembly.build.body,))
    if can is None or take <= _CLOSE_SHARE * can:
        level = Level.CLEAR
    elif take <= can or stand.conditions.repeatable:
        level = Level.WATCH
    else:
        level = Level.STOP
    held = "long" if can is None else f"about {can:.1f} min"
    yield Finding(
        code="hold.long",
        level=level,
        about=about,
        text=f"The longest take is {take:g} min; {now.carried_g:.0f} g are held {held} {_in_words(now)} ({THUMB})."
        + (" It cannot be repeated." if level is Level.STOP else ""),
        value=take,
        limit=can,
        unit="min",
        working=(
            Working(
                formula="F = moment per arm / 60 N·m;  minutes = −1.5 + 2.1/F − 0.6/F² + 0.1/F³",
                numbers="; ".join(
                    f"{way.name}: {'long' if way.minutes is None else f'{way.minutes:.1f} min'}" for way in ways
                ),
                inputs=(
                    Input(name="longest take", value=f"{take:g} min", source="job"),
                    Input(name="carried", value=f"{now.carried_g:.0f} g", source="computed"),
                ),
            ),
        ),
    )


def _in_words(way: Hold) -> str:
    return f"by '{way.name}'"


def _steady(stand: Stand) -> Iterator[Finding]:
    if stand.carried.kind not in _BY_HAND or stand.view is None:
        return
    found = steadiness(stand)
    moves = use_of(stand.assembly, stand.settings).handling != "static"
    level = Level.CLEAR if found.rating else Level.WATCH if moves else Level.NOTE
    about = About(units=(stand.assembly.build.body, stand.view.lens))
    x, y, z = found.inertia
    yield Finding(
        code="hold.steady",
        level=level,
        about=about,
        text=(
            f"What keeps {stand.assembly.build.body} with {stand.view.lens} steady by hand: {found.source},"
            f" {found.rating} of 4 ({THUMB})."
        ),
        value=float(found.rating),
        limit=1.0,
        unit="of 4",
        working=(
            Working(
                formula=(
                    "sensor and lens 4, one of them 3, electronic 2; mass 1 where I > 0.02 kg·m² about all axes and the"
                    " front weighs < 1 N·m"
                ),
                numbers=f"I roll {x:.4f}, tilt {y:.4f}, pan {z:.4f} kg·m²; front {stand.carried.front_nm:.2f} N·m",
                inputs=(Input(name="inertia", value=f"smallest {min(found.inertia):.4f} kg·m²", source="computed"),),
            ),
        ),
    )


def _hand_on_filter(stand: Stand) -> Iterator[Finding]:
    """Whether anybody's hand is free to turn a variable ND when the light changes."""
    if stand.view is None:
        return
    turned = [unit for unit, data in filters_on(stand.assembly, stand.view.lens) if data.kind == "variable nd"]
    if not turned:
        return
    by = stand.target.worked_by if stand.target else "two hands"
    way = next((way for way in hold_ways(stand) if way.chosen), None) if stand.carried.kind in HELD else None
    grip = stand.settings.grips.get(way.name) if way else None
    if by == "nobody":
        why = "nobody stands behind it"
    elif by == "one hand":
        why = "the one hand there holds the camera"
    elif grip and grip.arms > 1:
        why = f"both hands hold it ('{way.name if way else ''}')"
    else:
        return
    yield Finding(
        code="filter.hand",
        level=Level.NOTE if by == "two hands" else Level.WATCH,
        about=About(units=(*turned, stand.assembly.build.body)),
        text=f"{', '.join(turned)} is turned by hand, and {why}: when the light changes it stays as it is.",
    )


def _look(stand: Stand, wanted: Size) -> Finding:
    found = look_of(stand)
    beyond = SIZES.index(found.size) - SIZES.index(wanted)
    level = Level.WATCH if beyond > 0 else Level.NOTE if beyond < 0 else Level.CLEAR
    return Finding(
        code="build.look",
        level=level,
        about=About(units=(stand.assembly.build.body,)),
        text=(
            f"It looks {found.size}: {found.litres:.1f} l around it, {found.mass_g / 1000:.2f} kg; {wanted} is asked"
            f" for ({THUMB})."
        ),
        value=found.litres,
        limit={"discreet": _DISCREET_L, "ordinary": _ORDINARY_L}.get(wanted),
        unit="l",
        working=(
            Working(
                formula="discreet ≤ 4 l and ≤ 1.5 kg, ordinary ≤ 15 l, above impressive",
                numbers=f"box {found.litres:.2f} l, {found.mass_g:.0f} g",
            ),
        ),
    )
