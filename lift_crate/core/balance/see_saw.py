"""Hand, shoulder and head: the see-saw of a rig about what carries it, and how long it is held.

Formulas: docs/formulas.md §4.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..geometry import STANDARD_GRAVITY, Array
from ..stand import Stand
from ..support.hands import SeeSaw, girth_share, hold_minutes, see_saw
from ..support.load import Carried, support_point

__all__ = [
    "WORTH_NM",
    "Arm",
    "Hold",
    "SeeSawReport",
    "Twist",
    "hold_ways",
    "see_saw_report",
    "twists",
    "verdict",
]

_SHOULDER_REACH_M = 0.10
_ON_THE_SHOULDER = "on the shoulder, hands at the grip"
_USUAL = {
    "hand": "two hands, close to the body",
    "shoulder": _ON_THE_SHOULDER,
    "gimbal": "twin grips, close to the body",
}
"""How hands hold a rig on each support where its build says nothing."""
WORTH_NM = 0.05
"""What makes a rig less uneven by less than this is not worth the work."""


@dataclass(frozen=True, slots=True)
class Hold:
    """How a rig is held: with how many arms at which reach, what they
    carry, and for how long as a guide; None: long.
    """

    name: str
    carried_g: float
    minutes: float | None
    chosen: bool = False
    """It is how this build is held."""


@dataclass(frozen=True, slots=True)
class Twist:
    """What a handle asks of a wrist: moment nose-down and to the left, N·m."""

    unit: str
    nose_nm: float
    side_nm: float


@dataclass(frozen=True, slots=True)
class Arm:
    """A part on the see-saw: its mass in g, its distance forward of the support in mm, its moment in N·m."""

    unit: str
    mass_g: float
    from_support_mm: float

    moment_nm: float
    """Nose-down positive."""


@dataclass(frozen=True, slots=True)
class SeeSawReport:
    """A rig about its pad, pivot or palm: moments of its parts, what the hands carry, and hold times."""

    kind: str
    support: str | None
    verdict: str
    mass_g: float
    cg_x_mm: float
    pad_x_mm: float
    grip_x_mm: float | None
    grip: str | None
    moment_nm: float
    tips_deg: float
    """How far the rig is tipped back until its CG is over the support: atan(d_x / h); forward negative."""
    hands_g: float | None
    hands_signed_g: float | None
    arms: tuple[Arm, ...]
    """Greatest moment first."""
    twists: tuple[Twist, ...]


def see_saw_report(stand: Stand) -> SeeSawReport:
    """The see-saw of an evaluated build about its support."""
    held, assembly = stand.carried, stand.assembly
    data = assembly.catalogue.model_of(held.support).support if held.support else None
    payload = held.payload
    pad_x = _pad_x(held)
    grip, grip_x = _grip(stand)
    hands = _on_hands(stand, pad_x, grip_x)
    beyond = set(assembly.build.subtree(held.support)) if held.support and data else set()
    parts = [
        _arm(p.unit, p.mass_g, float(p.cg_mm[0]) - pad_x)
        for p in assembly.masses()
        if p.holder not in beyond and p.mass_g
    ]
    parts.sort(key=lambda part: -abs(part.moment_nm))
    return SeeSawReport(
        held.kind,
        held.support,
        verdict(held.front_nm),
        payload.mass_g,
        float(payload.cg_mm[0]),
        pad_x,
        grip_x,
        grip,
        held.front_nm,
        _tips_deg(stand, float(payload.cg_mm[0]) - pad_x),
        hands.hands_g if hands else None,
        hands.hands_signed_g if hands else None,
        tuple(parts),
        twists(stand),
    )


def _pad_x(held: Carried) -> float:
    """Where the pad, pivot or palm is along the rig: from the moment about it."""
    mass_g = held.payload.mass_g
    return float(held.payload.cg_mm[0]) - held.front_nm / (mass_g * STANDARD_GRAVITY * 1e-6) if mass_g else 0.0


def _on_hands(stand: Stand, pad_x: float, grip_x: float | None) -> SeeSaw | None:
    """What the hands at the grip of a shoulder rig carry; None for every other rig."""
    payload = stand.carried.payload
    if stand.carried.kind != "shoulder" or grip_x is None or abs(grip_x - pad_x) <= 1:
        return None
    return see_saw(payload.mass_g, float(payload.cg_mm[0]), pad_x, grip_x)


def _tips_deg(stand: Stand, ahead_mm: float) -> float:
    high = abs(float(stand.carried.payload.cg_mm[2] - support_point(stand.assembly)[2]))
    return math.degrees(math.atan2(ahead_mm, high)) if abs(ahead_mm) > 1e-9 else 0.0


def _arm(unit: str, mass_g: float, ahead_mm: float) -> Arm:
    return Arm(unit, mass_g, ahead_mm, mass_g * ahead_mm * STANDARD_GRAVITY * 1e-6)


def verdict(moment_nm: float) -> str:
    """What a moment about the support is called, nose-down positive, N·m."""
    return "level" if abs(moment_nm) < WORTH_NM else "nose-heavy" if moment_nm > 0 else "tail-heavy"


def _grip(stand: Stand) -> tuple[str | None, float | None]:
    """The handle or grip that hands hold, and where it is."""
    return next(((hand.unit, float(hand.at_mm[0])) for hand in _hands(stand)), (None, None))


@dataclass(frozen=True, slots=True)
class _Hand:
    unit: str
    at_mm: Array


def _hands(stand: Stand) -> Iterator[_Hand]:
    """Handles and grips on the rig, the one it is held by first, each with its middle in the rig frame."""
    assembly = stand.assembly
    for unit in sorted(assembly.hands, key=lambda each: each != assembly.held_by):
        low, high = assembly.catalogue.model_of(unit).bounds
        yield _Hand(unit, assembly.pose(unit).point((low + high) / 2))


def hold_ways(stand: Stand) -> tuple[Hold, ...]:
    """Ways to hold a build on its support, the one that lasts longest first; on a
    shoulder the hands carry what they do not leave to the pad.
    """
    held, settings = stand.carried, stand.settings
    hands = _on_hands(stand, _pad_x(held), _grip(stand)[1])
    data = stand.assembly.catalogue.model_of(held.support).support if held.support else None
    held_nm = settings.held_nm * girth_share(data.girth_mm if data else None)
    found = [
        Hold(
            name,
            held.total.mass_g * grip.share,
            hold_minutes(held.total.mass_g * grip.share, grip.reach_m, grip.arms, held_nm),
        )
        for name, grip in settings.grips.items()
        if held.kind in grip.on
    ]
    if hands:
        minutes = hold_minutes(hands.hands_g, _SHOULDER_REACH_M, held_nm=settings.held_nm)
        found.append(Hold(_ON_THE_SHOULDER, hands.hands_g, minutes))
    found.sort(key=lambda h: -(math.inf if h.minutes is None else h.minutes))
    now = _held_as([way.name for way in found], stand.assembly.build.grip, held.kind)
    return tuple(replace(way, chosen=way.name == now) for way in found)


def _held_as(names: list[str], said: str | None, kind: str) -> str | None:
    """The way a build is held: as it says, else as is usual, else the one that lasts longest."""
    return next((name for name in (said, _USUAL.get(kind), *names) if name in names), None)


def twists(stand: Stand) -> tuple[Twist, ...]:
    """What each handle or grip on the rig asks of a wrist when all hangs on it, least first."""
    total = stand.carried.total
    weight = total.mass_g * STANDARD_GRAVITY * 1e-6
    found = [
        Twist(hand.unit, weight * float(total.cg_mm[0] - hand.at_mm[0]), weight * float(total.cg_mm[1] - hand.at_mm[1]))
        for hand in _hands(stand)
    ]
    return tuple(sorted(found, key=lambda t: math.hypot(t.nose_nm, t.side_nm)))
