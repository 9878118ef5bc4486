"""Hand, shoulder and head: the see-saw of a rig about what carries it, and how long it is held.

Formulas: docs/formulas.md §4.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass

from ..geometry import STANDARD_GRAVITY, Array
from ..stand import Stand
from ..support.hands import hold_minutes, see_saw
from ..support.load import support_point

__all__ = [
    "WORTH_NM",
    "Arm",
    "Hold",
    "SeeSawReport",
    "Twist",
    "holds",
    "see_saw_report",
    "twists",
    "verdict",
]

_SHOULDER_REACH_M = 0.10
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
    holds: tuple[Hold, ...]
    twists: tuple[Twist, ...]


def see_saw_report(stand: Stand) -> SeeSawReport:
    """The see-saw of an evaluated build about its support."""
    held, assembly = stand.carried, stand.assembly
    data = assembly.catalogue.model_of(held.support).support if held.support else None
    payload = held.payload
    pad_x = (
        float(payload.cg_mm[0]) - held.front_nm / (payload.mass_g * STANDARD_GRAVITY * 1e-6) if payload.mass_g else 0.0
    )
    grip, grip_x = _grip(stand)
    hands = None
    if held.kind == "shoulder" and grip_x is not None and abs(grip_x - pad_x) > 1:
        hands = see_saw(payload.mass_g, float(payload.cg_mm[0]), pad_x, grip_x)
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
        holds(stand, hands.hands_g if hands else None),
        twists(stand),
    )


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


def holds(stand: Stand, hands_g: float | None = None) -> tuple[Hold, ...]:
    """Ways to hold the rig on its support, longest last to give up; on
    a shoulder ``hands_g`` is what the hands carry.
    """
    held, settings = stand.carried, stand.settings
    found = [
        Hold(
            name,
            held.total.mass_g * grip.share,
            hold_minutes(held.total.mass_g * grip.share, grip.reach_m, grip.arms, settings.held_nm),
        )
        for name, grip in settings.grips.items()
        if held.kind in grip.on
    ]
    if held.kind == "shoulder" and hands_g is not None:
        found.append(
            Hold(
                "on the shoulder, hands at the grip",
                hands_g,
                hold_minutes(hands_g, _SHOULDER_REACH_M, held_nm=settings.held_nm),
            )
        )
    return tuple(sorted(found, key=lambda h: -(math.inf if h.minutes is None else h.minutes)))


def twists(stand: Stand) -> tuple[Twist, ...]:
    """What each handle or grip on the rig asks of a wrist when all hangs on it, least first."""
    total = stand.carried.total
    weight = total.mass_g * STANDARD_GRAVITY * 1e-6
    found = [
        Twist(hand.unit, weight * float(total.cg_mm[0] - hand.at_mm[0]), weight * float(total.cg_mm[1] - hand.at_mm[1]))
        for hand in _hands(stand)
    ]
    return tuple(sorted(found, key=lambda t: math.hypot(t.nose_nm, t.side_nm)))
