"""Hand, shoulder and head: the see-saw of a rig about what carries it, how long it is held, and what would level it.

Formulas: docs/formulas.md §4.
"""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass, replace

from .assembly import assemble
from .carrying import carried, support_point
from .errors import BadRig
from .evaluate import Evaluation
from .findings import Level
from .gear import mates
from .geometry import STANDARD_GRAVITY, Array
from .holding import hold_minutes, see_saw
from .operations import Operation, Replace, SlideTo, describe
from .shelf import Bench, free_ports, is_socket, ways_on

__all__ = ["Arm", "Hold", "Leveller", "SeeSawReport", "Twist", "holds", "level_slides", "levellers", "see_saw_report", "twists", "verdict"]

_COUNTERS = ("counterweight", "pack")
_MOST_TRIED = 60
_MOST_SHOWN = 8
_SHOULDER_REACH_M = 0.10
_WORTH_NM = 0.05
"""What makes a rig less uneven by less than this is not worth the work."""


@dataclass(frozen=True, slots=True)
class Hold:
    """How a rig is held: with how many arms at which reach, what they carry, and for how long as a guide; None: long."""

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

    @property
    def moment_nm(self) -> float:
        """Nose-down positive."""
        return self.mass_g * self.from_support_mm * STANDARD_GRAVITY * 1e-6


@dataclass(frozen=True, slots=True)
class SeeSawReport:
    """A rig about its pad, pivot or palm: moments of its parts, what the hands carry, and hold times."""

    kind: str
    support: str | None
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


@dataclass(frozen=True, eq=False)
class Leveller:
    """Something that makes a rig more level: what to do, front-heaviness and hours after it, and the Stops it brings."""

    title: str
    operations: tuple[Operation, ...]
    front_nm: float
    mass_g: float
    hours: float | None
    brings: tuple[str, ...]
    """What is wrong with it that was not before, in words."""


def see_saw_report(evaluation: Evaluation) -> SeeSawReport:
    """The see-saw of an evaluated build about its support."""
    held, assembly = evaluation.carried, evaluation.assembly
    data = assembly.catalogue.model_of(held.support).support if held.support else None
    payload = held.payload
    pad_x = float(payload.cg_mm[0]) - held.front_nm / (payload.mass_g * STANDARD_GRAVITY * 1e-6) if payload.mass_g else 0.0
    grip, grip_x = _grip(evaluation)
    hands = None
    if held.kind == "shoulder" and grip_x is not None and abs(grip_x - pad_x) > 1:
        hands = see_saw(payload.mass_g, float(payload.cg_mm[0]), pad_x, grip_x)
    beyond = set(assembly.build.subtree(held.support)) if held.support and data else set()
    parts = [Arm(p.unit, p.mass_g, float(p.cg_mm[0]) - pad_x) for p in assembly.masses() if p.holder not in beyond and p.mass_g]
    parts.sort(key=lambda part: -abs(part.moment_nm))
    return SeeSawReport(
        held.kind, held.support, payload.mass_g, float(payload.cg_mm[0]), pad_x, grip_x, grip, held.front_nm, _tips_deg(evaluation, float(payload.cg_mm[0]) - pad_x),
        hands.hands_g if hands else None, hands.hands_signed_g if hands else None, tuple(parts), holds(evaluation, hands.hands_g if hands else None), twists(evaluation),
    )  # fmt: skip


def _tips_deg(evaluation: Evaluation, ahead_mm: float) -> float:
    high = abs(float(evaluation.carried.payload.cg_mm[2] - support_point(evaluation.assembly)[2]))
    return math.degrees(math.atan2(ahead_mm, high)) if abs(ahead_mm) > 1e-9 else 0.0


def verdict(moment_nm: float) -> str:
    """What a moment about the support is called, nose-down positive, N·m."""
    return "level" if abs(moment_nm) < _WORTH_NM else "nose-heavy" if moment_nm > 0 else "tail-heavy"


def _grip(evaluation: Evaluation) -> tuple[str | None, float | None]:
    """The handle or grip that hands hold, and where it is."""
    return next(((hand.unit, float(hand.at_mm[0])) for hand in _hands(evaluation)), (None, None))


@dataclass(frozen=True, slots=True)
class _Hand:
    unit: str
    at_mm: Array


def _hands(evaluation: Evaluation) -> Iterator[_Hand]:
    """Handles and grips on the rig, the one it is held by first, each with its middle in the rig frame."""
    assembly = evaluation.assembly
    for unit in sorted(assembly.hands, key=lambda each: each != assembly.held_by):
        low, high = assembly.catalogue.model_of(unit).bounds
        yield _Hand(unit, assembly.pose(unit).point((low + high) / 2))


def holds(evaluation: Evaluation, hands_g: float | None = None) -> tuple[Hold, ...]:
    """Ways to hold the rig on its support, longest last to give up; on a shoulder ``hands_g`` is what the hands carry."""
    held, settings = evaluation.carried, evaluation.settings
    found = [
        Hold(name, held.total.mass_g * grip.share, hold_minutes(held.total.mass_g * grip.share, grip.reach_m, grip.arms, settings.held_nm))
        for name, grip in settings.grips.items() if held.kind in grip.on
    ]
    if held.kind == "shoulder" and hands_g is not None:
        found.append(Hold("on the shoulder, hands at the grip", hands_g, hold_minutes(hands_g, _SHOULDER_REACH_M, held_nm=settings.held_nm)))
    return tuple(sorted(found, key=lambda h: -(math.inf if h.minutes is None else h.minutes)))


def twists(evaluation: Evaluation) -> tuple[Twist, ...]:
    """What each handle or grip on the rig asks of a wrist when all hangs on it, least first."""
    total = evaluation.carried.total
    weight = total.mass_g * STANDARD_GRAVITY * 1e-6
    found = [
        Twist(hand.unit, weight * float(total.cg_mm[0] - hand.at_mm[0]), weight * float(total.cg_mm[1] - hand.at_mm[1])) for hand in _hands(evaluation)
    ]
    return tuple(sorted(found, key=lambda t: math.hypot(t.nose_nm, t.side_nm)))


def levellers(bench: Bench) -> list[Leveller]:
    """What is on slid along its rails; counterweights and packs of the shelf tried in every place, and other packs in the place of those on.

    Those that bring a new Stop come last; then most level first, longest hours.
    """
    before = abs(bench.evaluation.carried.front_nm)
    wrong = {f.key for f in bench.evaluation.findings if f.level is Level.STOP}
    found = []
    for operations in (*level_slides(bench), *_trials(bench)[:_MOST_TRIED]):
        try:
            after = bench.after(operations).evaluation
        except BadRig:
            continue
        if abs(after.carried.front_nm) >= before - _WORTH_NM:
            continue
        first = after.first_empty
        found.append(Leveller(
            "; then ".join(describe(op, bench.catalogue) for op in operations), operations, after.carried.front_nm,
            after.carried.total.mass_g - bench.evaluation.carried.total.mass_g, first.hours if first else None,
            tuple(f.text for f in after.findings if f.level is Level.STOP and f.key not in wrong),
        ))  # fmt: skip
    found.sort(key=lambda x: (bool(x.brings), round(abs(x.front_nm), 2), -(x.hours or 0.0), x.mass_g))
    return found[:_MOST_SHOWN]


def level_slides(bench: Bench) -> Iterator[tuple[Operation, ...]]:
    """Every joint that slides, to where the rig would be level, or to the end of its rail.

    The moment is linear in a slide, so two places tell it.
    """
    build, models, settings = bench.build, bench.catalogue, bench.settings
    front = bench.evaluation.carried.front_nm
    for joint in build.joints:
        travel = models.travel(joint)
        if travel is None or travel.max_mm - travel.min_mm < 1:
            continue
        there = travel.min_mm if joint.slide_mm - travel.min_mm > travel.max_mm - joint.slide_mm else travel.max_mm
        moved = replace(build, joints=tuple(replace(j, slide_mm=there) if j.child == joint.child else j for j in build.joints))
        per_mm = (carried(assemble(moved, models), settings).front_nm - front) / (there - joint.slide_mm)
        if abs(per_mm) > 1e-6:
            level_at = min(max(joint.slide_mm - front / per_mm, travel.min_mm), travel.max_mm)
            yield (SlideTo(unit=joint.child, to_mm=round(level_at, 1)),)


def _trials(bench: Bench) -> list[tuple[Operation, ...]]:
    build, models = bench.build, bench.catalogue
    trials: list[tuple[Operation, ...]] = []
    seen: set[tuple[str, str, str]] = set()
    packs = [unit for unit in bench.evaluation.assembly.parts if models.model_of(unit).pack and build.joint_of(unit) and models.model_of(unit).kind == "pack"]
    ports = [(onto, port) for onto, port in free_ports(bench.evaluation) if not is_socket(models, port)]
    for unit in bench.on_shelf():
        model = models.model_of(unit)
        if model.kind not in _COUNTERS:
            continue
        for pack in packs:
            joint = build.joint_of(pack)
            if model.kind != "pack" or joint is None or (model.id, pack, "") in seen:
                continue
            port = models.model_of(joint.parent).port(joint.parent_port)
            if any(p.id == joint.child_port and mates(p, port) for p in model.ports):
                seen.add((model.id, pack, ""))
                trials.append((Replace(unit=pack, by=unit),))
        for onto, port in ports:
            if (model.id, onto, port.id) in seen:
                continue
            for way in ways_on(bench, unit, onto, port)[:1]:
                seen.add((model.id, onto, port.id))
                trials.append((way,))
    return trials
