"""Does it go together: interfaces, occupied ports, rails, load, bending and twist at every joint.

Formulas: docs/formulas.md §2. Everything here is computed over an ``Assembly``.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..gear.model import Port, mates
from ..geometry import STANDARD_GRAVITY, Array, Attitudes
from ..rig.assembly import Assembly
from ..rig.build import Joint
from ..settings import Settings
from ..wording import signed

__all__ = ["Use", "joint_findings", "port_uses", "use_of", "why_not_mate", "worst_bending_nm", "worst_twist_nm"]

_RAIL_TOLERANCE_MM = 0.05


def port_uses(assembly: Assembly) -> dict[tuple[str, str], list[str]]:
    """What is on every port in use: (unit, port) to the units joined there."""
    uses: dict[tuple[str, str], list[str]] = defaultdict(list)
    for joint in assembly.joints:
        uses[joint.parent, joint.parent_port].append(joint.child)
        uses[joint.child, joint.child_port].append(joint.parent)
    for link in assembly.build.links:
        uses[link.from_unit, link.from_port].append(link.cable)
        uses[link.to_unit, link.to_port].append(link.cable)
    return dict(uses)


def why_not_mate(assembly: Assembly, unit_a: str, a: Port, unit_b: str, b: Port) -> str | None:
    """None when two ports mate, else a sentence in terms of both ends."""
    if mates(a, b):
        return None
    interfaces = assembly.catalogue.interfaces
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
    for joint, parent, child in assembly.joint_ports:
        yield from _interface(assembly, joint, parent, child)
        yield from _travel(joint, parent, child)
    yield from _occupied(assembly)
    yield from _rails(assembly)
    use = use_of(assembly, settings)
    yield from _strength(assembly, use)
    yield from _sagging(assembly, use, settings)
    yield from _rod_heights(assembly, settings)


def _interface(assembly: Assembly, joint: Joint, parent: Port, child: Port) -> Iterator[Finding]:
    reason = why_not_mate(assembly, joint.child, child, joint.parent, parent)
    if reason:
        yield Finding(
            code="fit.interface",
            level=Level.STOP,
            about=About(units=(joint.child, joint.parent), port=joint.parent_port),
            text=f"{joint.child} does not go on {joint.parent}: {reason}",
        )
        return
    allowed = assembly.catalogue.turns_deg(parent, child)
    if allowed and not any(abs((joint.spin_deg - a + 180) % 360 - 180) < 0.01 for a in allowed):
        turns = ", ".join(f"{a:g}°" for a in allowed)
        yield Finding(
            code="fit.spin",
            level=Level.STOP,
            about=About(units=(joint.child,), port=joint.child_port),
            text=f"{joint.child} is turned to {joint.spin_deg:g}° on {joint.parent}; it goes on at {turns}.",
            value=joint.spin_deg,
            unit="°",
        )


def _travel(joint: Joint, parent: Port, child: Port) -> Iterator[Finding]:
    port, holder = (parent, joint.parent) if parent.slide else (child, joint.child)
    if port.length_mm and (other := child if port is parent else parent).grip_mm > port.length_mm:
        yield Finding(
            code="fit.rail_short",
            level=Level.STOP,
            about=About(units=(joint.child, joint.parent), port=joint.parent_port),
            text=f"The rail of {holder} is {port.length_mm:.0f} mm long; the clamp on it needs {other.grip_mm:.0f} mm.",
            value=other.grip_mm,
            limit=port.length_mm,
            unit="mm",
        )
    if port.slide is None:
        if joint.slide_mm:
            yield Finding(
                code="fit.slide",
                level=Level.STOP,
                about=About(units=(joint.child,), port=joint.child_port),
                text=f"{joint.child} is slid by {joint.slide_mm:g} mm, and neither it nor {joint.parent} slides there.",
                value=joint.slide_mm,
                limit=0.0,
                unit="mm",
            )
        return
    low, high = port.slide.min_mm, port.slide.max_mm
    if not low - _RAIL_TOLERANCE_MM <= joint.slide_mm <= high + _RAIL_TOLERANCE_MM:
        yield Finding(
            code="fit.slide",
            level=Level.STOP,
            about=About(units=(joint.child,), port=joint.child_port),
            text=(
                f"{joint.child} is at {signed(joint.slide_mm, 1)} mm on {holder}; its slide goes from {signed(low, 0)}"
                f" to {signed(high, 0)} mm."
            ),
            value=joint.slide_mm,
            limit=low if joint.slide_mm < low else high,
            unit="mm",
        )


def _occupied(assembly: Assembly) -> Iterator[Finding]:
    for (unit, port_id), held in port_uses(assembly).items():
        port = assembly.catalogue.model_of(unit).port(port_id, unit)
        if len(held) > port.takes:
            label = assembly.catalogue.interfaces[port.interface].label
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


def _rails(assembly: Assembly) -> Iterator[Finding]:
    on_rail: dict[tuple[str, str], list[tuple[float, float, str]]] = defaultdict(list)
    for joint, parent, child in assembly.joint_ports:
        if parent.slide and parent.takes > 1 and child.grip_mm:
            half = child.grip_mm / 2
            on_rail[joint.parent, joint.parent_port].append((joint.slide_mm - half, joint.slide_mm + half, joint.child))
    for (unit, port_id), grips in on_rail.items():
        grips.sort()
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


def _strength(assembly: Assembly, use: Use) -> Iterator[Finding]:
    ports = {joint.child: (parent, child) for joint, parent, child in assembly.joint_ports}
    sides = assembly.carried_sides
    if not sides:
        return
    arms = np.array([cg for _, _, cg in sides]) - np.array(
        [assembly.joint_points[joint.child] for joint, _, _ in sides]
    )
    # The lever is never longer than the arm: most joints are far below their limits and need no search.
    most = (
        STANDARD_GRAVITY
        * use.factor
        * 1e-6
        * np.array([mass_g for _, mass_g, _ in sides])
        * np.sqrt((arms * arms).sum(axis=1))
    )
    for (joint, mass_g, _), arm, most_nm in zip(sides, arms, most.tolist(), strict=True):
        parent, child = ports[joint.child]
        yield from _load(joint, parent, child, mass_g, arm, use)
        bending_limit = _lower(parent.moment_nm, child.moment_nm)
        if bending_limit and most_nm > bending_limit:
            yield from _bending(joint, parent, mass_g, arm, use, bending_limit)
        holding = assembly.catalogue.interfaces[parent.interface].holding_nm
        pinned = parent.anti_twist and child.anti_twist
        if holding is not None and not pinned and most_nm > holding and mates(parent, child):
            yield from _twist(assembly, joint, parent, mass_g, arm, use, holding)


def _sagging(assembly: Assembly, use: Use, settings: Settings) -> Iterator[Finding]:
    """Friction hinges of arms: m·g·(horizontal distance from the hinge) × factor
    in the worst attitude of the use, against what they hold.
    """
    sides = {joint.child: (joint, mass_g, cg) for joint, mass_g, cg in assembly.carried_sides}
    for unit in assembly.parts:
        for hinge in assembly.catalogue.model_of(unit).hinges:
            carried = [
                sides[j.child]
                for j in assembly.joints
                if (j.parent, j.parent_port) == (unit, hinge.beyond) and j.child in sides
            ]
            for joint, mass_g, cg in carried:
                arm = cg - assembly.pose(unit).point(hinge.at)
                worst = worst_bending_nm(mass_g, arm, use.attitudes)
                moment = worst * use.factor
                holding = hinge.holding_nm or settings.arm_holding_nm
                if moment > holding:
                    yield Finding(
                        code="fit.sag",
                        level=Level.WATCH,
                        about=About(units=(joint.child, unit), port=hinge.beyond),
                        text=(
                            f"{unit} sags under {joint.child}: {moment:.2f} N·m at its hinge, which holds {holding:.2f}"
                            " N·m."
                        ),
                        value=moment,
                        limit=holding,
                        unit="N·m",
                        working=(
                            Working(
                                formula="M = m·g·r_h · factor, r_h the greatest horizontal distance over the attitudes",
                                inputs=_inputs(mass_g, arm, use),
                                numbers=(
                                    f"{mass_g / 1000:.3f} kg × 9.80665 ×"
                                    f" {worst / (mass_g * STANDARD_GRAVITY * 1e-6):.0f} mm × {use.factor:g} ="
                                    f" {moment:.3f} N·m"
                                ),
                            ),
                        ),
                    )
                    break


def _rod_heights(assembly: Assembly, settings: Settings) -> Iterator[Finding]:
    """Rods with something on them that meets the lens stand at the height of their standard below the axis."""
    for joint, parent, _ in assembly.joint_ports:
        rods = assembly.catalogue.interfaces[parent.interface]
        if rods.kind != "rod" or parent.gender != "male" or rods.below_axis_mm is None:
            continue
        if assembly.catalogue.model_of(joint.child).kind not in ("lens support", "lens motor", "matte box"):
            continue
        below = -float(assembly.joint_points[joint.child][2])
        if abs(below - rods.below_axis_mm) > settings.rod_height_mm:
            yield Finding(
                code="rods.height",
                level=Level.WATCH,
                about=About(units=(joint.parent, joint.child), port=joint.parent_port),
                text=(
                    f"The rods of {joint.parent} stand {below:.0f} mm below the axis; {rods.label} stand"
                    f" {rods.below_axis_mm:.0f} mm below, and {joint.child} is made for that."
                ),
                value=below,
                limit=rods.below_axis_mm,
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


def _load(joint: Joint, parent: Port, child: Port, mass_g: float, arm: Array, use: Use) -> Iterator[Finding]:
    limit = _lower(parent.load_n, child.load_n)
    load_n = mass_g * 1e-3 * STANDARD_GRAVITY * use.factor
    if limit and load_n > limit:
        yield Finding(
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


def _lower(a: float | None, b: float | None) -> float | None:
    known = [limit for limit in (a, b) if limit is not None]
    return min(known) if known else None
