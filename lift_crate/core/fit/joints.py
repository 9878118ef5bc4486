"""Does it go together: interfaces, occupied ports, rails, load, bending and twist at every joint.

Formulas: docs/formulas.md §2. Everything here is computed over an ``Assembly``.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..gear.model import Hinge, Port, mates
from ..geometry import STANDARD_GRAVITY, Array, Attitudes
from ..rig.assembly import Assembly
from ..rig.build import Catalogue, Joint
from ..rig.layout import Layout
from ..settings import Settings
from ..wording import signed

__all__ = ["Use", "joint_findings", "port_uses", "use_of", "why_not_mate", "worst_bending_nm", "worst_twist_nm"]

_RAIL_TOLERANCE_MM = 0.05


def port_uses(layout: Layout) -> Mapping[tuple[str, str], Sequence[str]]:
    """What is on every port in use: (unit, port) to the units joined there."""
    uses: dict[tuple[str, str], list[str]] = defaultdict(list)
    for child, parent, (parent_port, child_port) in layout.joined:
        uses[parent, parent_port.id].append(child)
        uses[child, child_port.id].append(parent)
    for link in layout.every_link:
        uses[link.from_unit, link.from_port].append(link.cable)
        uses[link.to_unit, link.to_port].append(link.cable)
    return dict(uses)


def _joined(layout: Layout) -> Sequence[tuple[str, str, tuple[Port, Port]]]:
    """Joints that are somewhere in space, in the order of what they carry: child, parent, and their ports."""
    return layout.joined[: len(layout.ports)]


def why_not_mate(catalogue: Catalogue, unit_a: str, a: Port, unit_b: str, b: Port) -> str | None:
    """None when two ports mate, else a sentence in terms of both ends."""
    if mates(a, b):
        return None
    interfaces = catalogue.interfaces
    ia, ib = interfaces[a.interface], interfaces[b.interface]
    if a.interface == b.interface:
        return (
            f"{unit_a} and {unit_b} both have the {ia.half(a.gender)} of {ia.label} there; one must have the"
            f" {ia.male if a.gender == 'female' else ia.female}."
        )
    return (
        f"{unit_a} has the {ia.half(a.gender)} of {ia.label} at '{a.label}', "
        f"{unit_b} has the {ib.half(b.gender)} of {ib.label} at '{b.label}'."
    )


def joint_findings(assembly: Assembly, settings: Settings) -> Iterator[Finding]:
    """All findings on joints and ports of a build."""
    yield from assembly.layout.once(_unfit)
    yield from assembly.layout.once(_idle_rings)
    yield from assembly.layout.once(_one_catch)
    yield from _turned(assembly)
    yield from _slid(assembly)
    yield from _rails(assembly)
    use = use_of(assembly, settings)
    yield from _strength(assembly, use)
    yield from _sagging(assembly, use, settings)
    yield from _rod_heights(assembly, settings)


def _idle_rings(layout: Layout) -> tuple[Finding, ...]:
    """Rings in front of a lens with nothing on them: left on from the lens or filter before."""
    catalogue, found = layout.catalogue, []
    uses = layout.once(port_uses)
    for unit, model in zip(layout.units, layout.models, strict=True):
        front = model.port(model.adapter.toward_part) if model.adapter else None
        if front is None or catalogue.interfaces[front.interface].kind != "front" or uses.get((unit, front.id)):
            continue
        found.append(
            Finding(
                code="front.idle",
                level=Level.NOTE,
                about=About(units=(unit,)),
                text=f"Nothing is on {unit}: {model.mass_g or 0:.0f} g in front of the lens that do nothing.",
                value=model.mass_g,
                unit="g",
            )
        )
    return tuple(found)


def _one_catch(layout: Layout) -> tuple[Finding, ...]:
    """Clamps and releases that one lever or screw holds alone."""
    interfaces = layout.catalogue.interfaces
    alone = [
        f"{child} in {parent}" if port.gender == "female" else f"{parent} in {child}"
        for child, parent, (port, own) in layout.joined
        if interfaces[port.interface].kind in ("plate", "rail")
        and mates(port, own)
        and not interfaces[port.interface].second_catch
    ]
    if not alone:
        return ()
    return (
        Finding(
            code="joint.one_catch",
            level=Level.NOTE,
            about=About(units=(layout.body,)),
            text=(
                f"One clamp and no second catch: {'; '.join(alone)}. Tighten each by hand, pull at it, and tighten it"
                " once more after the first minutes."
            ),
            value=len(alone),
            unit="joints",
        ),
    )


def _unfit(layout: Layout) -> tuple[Finding, ...]:
    """What is wrong however things are slid and turned: unlike ports, ports taken twice, rails too short."""
    found = []
    for child, parent, (parent_port, child_port) in layout.joined:
        reason = why_not_mate(layout.catalogue, child, child_port, parent, parent_port)
        about = About(units=(child, parent), port=parent_port.id)
        if reason:
            found.append(
                Finding(
                    code="fit.interface",
                    level=Level.STOP,
                    about=about,
                    text=f"{child} does not go on {parent}: {reason}",
                )
            )
        rail, clamp, holder = (
            (parent_port, child_port, parent) if parent_port.slide else (child_port, parent_port, child)
        )
        if rail.length_mm and clamp.grip_mm > rail.length_mm:
            found.append(
                Finding(
                    code="fit.rail_short",
                    level=Level.STOP,
                    about=about,
                    text=(
                        f"The rail of {holder} is {rail.length_mm:.0f} mm long; the clamp on it needs"
                        f" {clamp.grip_mm:.0f} mm."
                    ),
                    value=clamp.grip_mm,
                    limit=rail.length_mm,
                    unit="mm",
                )
            )
    return (*found, *_occupied(layout))


def _occupied(layout: Layout) -> Iterator[Finding]:
    for (unit, port_id), held in layout.once(port_uses).items():
        port = layout.catalogue.model_of(unit).port(port_id, unit)
        if len(held) > port.takes:
            label = layout.catalogue.interfaces[port.interface].label
            yield Finding(
                code="fit.occupied",
                level=Level.STOP,
                about=About(units=(held[-1], unit), port=port_id),
                text=(
                    f"'{port.label}' of {unit} ({label}) takes {port.takes}; it is held by {held[0]}"
                    f"{''.join(f' and {h}' for h in held[1:])}."
                ),
                value=len(held),
                limit=port.takes,
            )


def _turns(layout: Layout) -> tuple[tuple[int, tuple[float, ...]], ...]:
    """Joints that go together in some turns only, and those turns, degrees."""
    return tuple(
        (i, allowed)
        for i, (parent, child) in enumerate(layout.ports)
        if mates(parent, child) and (allowed := layout.catalogue.turns_deg(parent, child))
    )


def _turned(assembly: Assembly) -> Iterator[Finding]:
    for i, allowed in assembly.layout.once(_turns):
        joint = assembly.joints[i]
        if joint.spin_deg in allowed or any(abs((joint.spin_deg - a + 180) % 360 - 180) < 0.01 for a in allowed):
            continue
        turns = ", ".join(f"{a:g}°" for a in allowed)
        yield Finding(
            code="fit.spin",
            level=Level.STOP,
            about=About(units=(joint.child,), port=joint.child_port),
            text=f"{joint.child} is turned to {joint.spin_deg:g}° on {joint.parent}; it goes on at {turns}.",
            value=joint.spin_deg,
            unit="°",
        )


def _slid(assembly: Assembly) -> Iterator[Finding]:
    for joint, (parent, child) in zip(assembly.joints, assembly.layout.ports, strict=True):
        slide = parent.slide or child.slide
        if slide is None:
            if joint.slide_mm:
                yield Finding(
                    code="fit.slide",
                    level=Level.STOP,
                    about=About(units=(joint.child,), port=joint.child_port),
                    text=(
                        f"{joint.child} is slid by {joint.slide_mm:g} mm, and neither it nor {joint.parent} slides"
                        " there."
                    ),
                    value=joint.slide_mm,
                    limit=0.0,
                    unit="mm",
                )
            continue
        low, high = slide.min_mm, slide.max_mm
        if not low - _RAIL_TOLERANCE_MM <= joint.slide_mm <= high + _RAIL_TOLERANCE_MM:
            holder = joint.parent if parent.slide else joint.child
            yield Finding(
                code="fit.slide",
                level=Level.STOP,
                about=About(units=(joint.child,), port=joint.child_port),
                text=(
                    f"{joint.child} is at {signed(joint.slide_mm, 1)} mm on {holder}; its slide goes from"
                    f" {signed(low, 0)} to {signed(high, 0)} mm."
                ),
                value=joint.slide_mm,
                limit=low if joint.slide_mm < low else high,
                unit="mm",
            )


def _shared_rails(layout: Layout) -> tuple[tuple[str, str, tuple[tuple[int, float], ...]], ...]:
    """Rails with more than one clamp on them: unit, port, and each clamp's joint with half its length, mm."""
    on_rail: dict[tuple[str, str], list[tuple[int, float]]] = defaultdict(list)
    for i, (_, unit, (parent, child)) in enumerate(_joined(layout)):
        if parent.slide and parent.takes > 1 and child.grip_mm:
            on_rail[unit, parent.id].append((i, child.grip_mm / 2))
    return tuple((unit, port, tuple(clamps)) for (unit, port), clamps in on_rail.items() if len(clamps) > 1)


def _rails(assembly: Assembly) -> Iterator[Finding]:
    for unit, port_id, clamps in assembly.layout.once(_shared_rails):
        on = [(assembly.joints[i], half) for i, half in clamps]
        grips = sorted((joint.slide_mm - half, joint.slide_mm + half, joint.child) for joint, half in on)
        for (_, end, first), (start, _, second) in pairwise(grips):
            if start < end - _RAIL_TOLERANCE_MM:
                yield Finding(
                    code="fit.rail_full",
                    level=Level.STOP,
                    about=About(units=(second, first, unit), port=port_id),
                    text=f"{first} and {second} share {end - start:.0f} mm of {unit}'s rail; slide one of them along.",
                    value=end - start,
                    limit=0.0,
                    unit="mm",
                )


def worst_bending_nm(mass_g: float, arm_mm: Array, attitudes: Attitudes) -> float:
    """Largest moment of a weight about a point over attitudes, N·m: max |r × m·g⃗|.

    ``arm_mm`` shape (3,) from the point to the CG, in the rig frame.
    """
    low, high = attitudes.along_gravity(arm_mm)
    along = 0.0 if low <= 0 <= high else min(abs(low), abs(high))
    lever = math.sqrt(max(float(arm_mm @ arm_mm) - along * along, 0.0))
    return mass_g * 1e-3 * STANDARD_GRAVITY * lever * 1e-3


def worst_twist_nm(mass_g: float, arm_mm: Array, axis: Array, attitudes: Attitudes) -> float:
    """Largest turning moment about a screw's axis over attitudes, N·m: max |n·(r × m·g⃗)|."""
    side = np.array(
        (
            axis[1] * arm_mm[2] - axis[2] * arm_mm[1],
            axis[2] * arm_mm[0] - axis[0] * arm_mm[2],
            axis[0] * arm_mm[1] - axis[1] * arm_mm[0],
        )
    )
    low, high = attitudes.along_gravity(side)
    return mass_g * 1e-3 * STANDARD_GRAVITY * max(abs(low), abs(high)) * 1e-3


@dataclass(frozen=True, slots=True, eq=False)
class Use:
    """How the rig is carried: what holds it, handling factor, and the attitudes it is expected to see."""

    kind: str
    handling: str
    factor: float
    attitudes: Attitudes


def use_of(assembly: Assembly, settings: Settings) -> Use:
    """How a rig is carried: as its build says, or as is usual on its support."""
    kind = assembly.support_kind
    handling = assembly.build.use or settings.use[kind]
    attitudes = settings.attitudes["vehicle" if handling == "vehicle" else kind]
    return Use(kind, handling, settings.handling[handling], Attitudes(*attitudes))


@dataclass(frozen=True, slots=True, eq=False)
class _Limits:
    """What every joint is rated for, infinity where nothing is said, each of shape (joints,)."""

    load_n: Array
    moment_nm: Array
    holding_nm: Array
    """What a screw holds against turning, hand-tight, where nothing else stops it."""


def _limits(layout: Layout) -> _Limits:
    def lower(a: float | None, b: float | None) -> float:
        return min(limit or math.inf for limit in (a, b))

    held = [
        holding
        if (holding := layout.catalogue.interfaces[parent.interface].holding_nm) is not None
        and mates(parent, child)
        and not (parent.anti_twist and child.anti_twist)
        else math.inf
        for parent, child in layout.ports
    ]
    return _Limits(
        np.array([lower(parent.load_n, child.load_n) for parent, child in layout.ports]),
        np.array([lower(parent.moment_nm, child.moment_nm) for parent, child in layout.ports]),
        np.array(held),
    )


def _strength(assembly: Assembly, use: Use) -> Iterator[Finding]:
    limits = assembly.layout.once(_limits)
    grams, cgs = assembly.loads
    arms = cgs - assembly.joint_points
    load_n = grams * (1e-3 * STANDARD_GRAVITY * use.factor)
    # The lever is never longer than the arm: most joints are far below their limits and need no search.
    most_nm = load_n * 1e-3 * np.sqrt((arms * arms).sum(axis=1))
    heavy, bent, twisted = load_n > limits.load_n, most_nm > limits.moment_nm, most_nm > limits.holding_nm
    for i in np.flatnonzero(heavy | bent | twisted).tolist():
        joint, (parent, _), mass_g, arm = assembly.joints[i], assembly.layout.ports[i], float(grams[i]), arms[i]
        if heavy[i]:
            yield _overloaded(joint, parent, mass_g, float(load_n[i]), arm, use, float(limits.load_n[i]))
        if bent[i]:
            yield from _bending(joint, parent, mass_g, arm, use, float(limits.moment_nm[i]))
        if twisted[i]:
            yield from _twist(assembly, joint, parent, mass_g, arm, use, float(limits.holding_nm[i]))


def _hinged(layout: Layout) -> tuple[tuple[str, Hinge, tuple[int, ...]], ...]:
    """Hinges with something beyond them: the arm, the hinge, and the joints that hang there."""
    found = []
    for unit, model in zip(layout.units, layout.models, strict=True):
        for hinge in model.hinges:
            hung = tuple(
                i
                for i, (_, parent, (port, _)) in enumerate(_joined(layout))
                if (parent, port.id) == (unit, hinge.beyond)
            )
            if hung:
                found.append((unit, hinge, hung))
    return tuple(found)


def _sagging(assembly: Assembly, use: Use, settings: Settings) -> Iterator[Finding]:
    """Friction hinges of arms: m·g·(horizontal distance from the hinge) × factor
    in the worst attitude of the use, against what they hold.
    """
    worst: dict[tuple[str, str], Finding] = {}
    for unit, hinge, hung in assembly.layout.once(_hinged):
        for i in hung:
            found = _sag_at(assembly, unit, hinge, assembly.joints[i].child, use, settings)
            known = worst.get((unit, assembly.joints[i].child))
            if found and (known is None or _over(found) > _over(known)):
                worst[unit, assembly.joints[i].child] = found
    yield from worst.values()


def _over(finding: Finding) -> float:
    return (finding.value or 0.0) / (finding.limit or 1.0)


def _sag_at(assembly: Assembly, unit: str, hinge: Hinge, child: str, use: Use, settings: Settings) -> Finding | None:
    mass_g, cg = assembly.load_of(child)
    if mass_g <= 0:
        return None
    arm = cg - assembly.pose(unit).point(hinge.at)
    worst = worst_bending_nm(mass_g, arm, use.attitudes)
    moment = worst * use.factor
    holding = hinge.holding_nm or settings.arm_holding_nm
    if moment <= holding:
        return None
    where = hinge.label or "hinge"
    return Finding(
        code="fit.sag",
        level=Level.WATCH,
        about=About(units=(child, unit), port=hinge.beyond),
        text=f"{unit} sags under {child}: {moment:.2f} N·m at its {where}, which holds {holding:.2f} N·m.",
        value=moment,
        limit=holding,
        unit="N·m",
        working=(
            Working(
                formula="M = m·g·r_h · factor, r_h the greatest horizontal distance over the attitudes",
                inputs=_inputs(mass_g, arm, use),
                numbers=(
                    f"{mass_g / 1000:.3f} kg × 9.80665 ×"
                    f" {worst / (mass_g * STANDARD_GRAVITY * 1e-6):.0f} mm × {use.factor:g} = {moment:.3f} N·m"
                ),
            ),
        ),
    )


def _on_rods(layout: Layout) -> tuple[tuple[int, Port, float], ...]:
    """Joints on rods by which something meets the lens, the rods' port, and how far below the axis they shall be."""
    found = []
    for i, (parent, _) in enumerate(layout.ports):
        rods = layout.catalogue.interfaces[parent.interface]
        meets_lens = layout.models[i + 1].kind in ("lens support", "lens motor", "matte box")
        if meets_lens and rods.kind == "rod" and parent.gender == "male" and rods.below_axis_mm is not None:
            found.append((i, parent, rods.below_axis_mm))
    return tuple(found)


def _rod_heights(assembly: Assembly, settings: Settings) -> Iterator[Finding]:
    """Rods with something on them that meets the lens stand at the height of their standard below the axis."""
    for i, port, wanted_mm in assembly.layout.once(_on_rods):
        joint, below = assembly.joints[i], -float(assembly.joint_points[i][2])
        if abs(below - wanted_mm) > settings.rod_height_mm:
            yield Finding(
                code="rods.height",
                level=Level.WATCH,
                about=About(units=(joint.parent, joint.child), port=joint.parent_port),
                text=(
                    f"The rods of {joint.parent} stand {below:.0f} mm below the axis;"
                    f" {assembly.catalogue.interfaces[port.interface].label} stand {wanted_mm:.0f} mm below, and"
                    f" {joint.child} is made for that."
                ),
                value=below,
                limit=wanted_mm,
                unit="mm",
            )


def _inputs(mass_g: float, arm: Array, use: Use) -> tuple[Input, ...]:
    return (
        Input(name="mass carried", value=f"{mass_g:.0f} g", source="computed"),
        Input(name="CG from the joint", value=f"({arm[0]:.0f}, {arm[1]:.0f}, {arm[2]:.0f}) mm", source="computed"),
        Input(
            name="attitudes",
            value=f"{use.kind}: tilt ±{use.attitudes.tilt_deg:g}°, roll ±{use.attitudes.roll_deg:g}°",
            source="setting",
        ),
        Input(name=f"handling factor, {use.handling}", value=f"{use.factor:g}", source="setting"),
    )


def _about(joint: Joint) -> About:
    return About(units=(joint.child, joint.parent), port=joint.parent_port)


def _overloaded(
    joint: Joint, parent: Port, mass_g: float, load_n: float, arm: Array, use: Use, limit: float
) -> Finding:
    return Finding(
        code="fit.load",
        level=Level.STOP,
        about=_about(joint),
        value=load_n,
        limit=limit,
        unit="N",
        text=(
            f"'{parent.label}' of {joint.parent} carries {load_n:.0f} N with {joint.child}; it is rated for"
            f" {limit:.0f} N."
        ),
        working=(
            Working(
                formula="F = m·g·factor",
                numbers=f"{mass_g / 1000:.3f} kg × 9.80665 × {use.factor:g} = {load_n:.1f} N",
                inputs=_inputs(mass_g, arm, use),
            ),
        ),
    )


def _bending(joint: Joint, parent: Port, mass_g: float, arm: Array, use: Use, limit: float) -> Iterator[Finding]:
    bending = worst_bending_nm(mass_g, arm, use.attitudes) * use.factor
    if bending > limit:
        yield Finding(
            code="fit.bending",
            level=Level.STOP,
            about=_about(joint),
            value=bending,
            limit=limit,
            unit="N·m",
            text=(
                f"{joint.child} bends '{parent.label}' of {joint.parent} with {bending:.2f} N·m; it is rated for"
                f" {limit:.2f} N·m."
            ),
            working=(
                Working(
                    formula="M = max |r × m·g| · factor",
                    numbers=f"{bending:.3f} N·m against {limit:.2f} N·m",
                    inputs=_inputs(mass_g, arm, use),
                ),
            ),
        )


def _twist(
    assembly: Assembly, joint: Joint, parent: Port, mass_g: float, arm: Array, use: Use, holding: float
) -> Iterator[Finding]:
    axis = assembly.pose(joint.parent).direction(parent.n)
    twist = worst_twist_nm(mass_g, arm, axis, use.attitudes) * use.factor
    if twist > holding:
        screw = assembly.catalogue.interfaces[parent.interface].label
        yield Finding(
            code="fit.twist",
            level=Level.WATCH,
            about=_about(joint),
            value=twist,
            limit=holding,
            unit="N·m",
            text=(
                f"{joint.child} on the single {screw} of {joint.parent} can turn: {twist:.2f} N·m against {holding:.2f}"
                " N·m held hand-tight."
            ),
            working=(
                Working(
                    formula="M = max |n·(r × m·g)| · factor",
                    numbers=f"{twist:.3f} N·m against {holding:.2f} N·m",
                    inputs=_inputs(mass_g, arm, use),
                ),
            ),
        )
