"""Does it go together: interfaces, occupied ports, rails, load, bending and twist at every joint.

Formulas: docs/formulas.md §2. Everything here is computed over an ``Assembly``.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator
from itertools import pairwise

import numpy as np

from .assembly import Assembly
from .findings import About, Finding, Input, Level, Working
from .gear import Port, mates
from .geometry import STANDARD_GRAVITY, Array, gravity_directions
from .rig import Joint
from .settings import ATTITUDES, HANDLING

__all__ = ["carried_side", "joint_findings", "port_uses", "why_not_mate", "worst_bending_nm", "worst_twist_nm"]

_RAIL_TOLERANCE_MM = 0.05
_USUAL_HANDLING = {"head": "static", "hand": "walking", "shoulder": "walking", "gimbal": "walking"}


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
        return f"{unit_a} and {unit_b} both have the {ia.half(a.gender)} of {ia.label} there; one must have the {ia.male if a.gender == 'female' else ia.female}."
    return (
        f"{unit_a} has the {ia.half(a.gender)} of {ia.label} at '{a.label}', "
        f"{unit_b} has the {ib.half(b.gender)} of {ib.label} at '{b.label}'."
    )


def joint_findings(assembly: Assembly) -> Iterator[Finding]:
    """All findings on joints and ports of a build."""
    for joint in assembly.joints:
        yield from _interface(assembly, joint)
        yield from _travel(assembly, joint)
    yield from _occupied(assembly)
    yield from _rails(assembly)
    yield from _strength(assembly)


def _ports(assembly: Assembly, joint: Joint) -> tuple[Port, Port]:
    models = assembly.catalogue
    return (
        models.model_of(joint.parent).port(joint.parent_port, joint.parent),
        models.model_of(joint.child).port(joint.child_port, joint.child),
    )


def _interface(assembly: Assembly, joint: Joint) -> Iterator[Finding]:
    parent, child = _ports(assembly, joint)
    reason = why_not_mate(assembly, joint.child, child, joint.parent, parent)
    if reason:
        yield Finding(
            code="fit.interface", level=Level.STOP,
            about=About(units=(joint.child, joint.parent), port=joint.parent_port),
            text=f"{joint.child} does not go on {joint.parent}: {reason}",
        )  # fmt: skip
        return
    allowed = child.spins_deg or parent.spins_deg or assembly.catalogue.interfaces[parent.interface].spins_deg
    if allowed and not any(abs((joint.spin_deg - a + 180) % 360 - 180) < 0.01 for a in allowed):
        turns = ", ".join(f"{a:g}°" for a in allowed)
        yield Finding(
            code="fit.spin", level=Level.STOP, about=About(units=(joint.child,), port=joint.child_port),
            text=f"{joint.child} is turned to {joint.spin_deg:g}° on {joint.parent}; it goes on at {turns}.",
            value=joint.spin_deg, unit="°",
        )  # fmt: skip


def _travel(assembly: Assembly, joint: Joint) -> Iterator[Finding]:
    parent, child = _ports(assembly, joint)
    port, holder = (parent, joint.parent) if parent.slide else (child, joint.child)
    if port.slide is None:
        if joint.slide_mm:
            yield Finding(
                code="fit.slide", level=Level.STOP, about=About(units=(joint.child,), port=joint.child_port),
                text=f"{joint.child} is slid by {joint.slide_mm:g} mm, and neither it nor {joint.parent} slides there.",
                value=joint.slide_mm, limit=0.0, unit="mm",
            )  # fmt: skip
        return
    low, high = port.slide.min_mm, port.slide.max_mm
    if not low - _RAIL_TOLERANCE_MM <= joint.slide_mm <= high + _RAIL_TOLERANCE_MM:
        yield Finding(
            code="fit.slide", level=Level.STOP, about=About(units=(joint.child,), port=joint.child_port),
            text=f"{joint.child} is at {joint.slide_mm:+.1f} mm on {holder}; its slide goes from {low:+.0f} to {high:+.0f} mm.",
            value=joint.slide_mm, limit=low if joint.slide_mm < low else high, unit="mm",
        )  # fmt: skip


def _occupied(assembly: Assembly) -> Iterator[Finding]:
    for (unit, port_id), held in port_uses(assembly).items():
        port = assembly.catalogue.model_of(unit).port(port_id, unit)
        if len(held) > port.takes:
            label = assembly.catalogue.interfaces[port.interface].label
            yield Finding(
                code="fit.occupied", level=Level.STOP, about=About(units=(held[-1], unit), port=port_id),
                text=f"'{port.label}' of {unit} ({label}) takes {port.takes}; it is held by {held[0]}"
                f"{''.join(f' and {h}' for h in held[1:])}.",
                value=len(held), limit=port.takes,
            )  # fmt: skip


def _rails(assembly: Assembly) -> Iterator[Finding]:
    on_rail: dict[tuple[str, str], list[tuple[float, float, str]]] = defaultdict(list)
    for joint in assembly.joints:
        parent, child = _ports(assembly, joint)
        if parent.slide and parent.takes > 1 and child.grip_mm:
            half = child.grip_mm / 2
            on_rail[joint.parent, joint.parent_port].append((joint.slide_mm - half, joint.slide_mm + half, joint.child))
    for (unit, port_id), grips in on_rail.items():
        grips.sort()
        for (_, end, first), (start, _, second) in pairwise(grips):
            if start < end - _RAIL_TOLERANCE_MM:
                yield Finding(
                    code="fit.rail_full", level=Level.STOP, about=About(units=(second, first, unit), port=port_id),
                    text=f"{first} and {second} share {end - start:.0f} mm of {unit}'s rail; slide one of them along.",
                    value=end - start, limit=0.0, unit="mm",
                )  # fmt: skip


def worst_bending_nm(mass_g: float, arm_mm: Array, directions: Array) -> float:
    """Largest moment of a weight about a point over attitudes, N·m: max |r × m·g⃗|.

    ``arm_mm`` shape (3,) from the point to the CG; ``directions`` shape (k, 3).
    """
    lever = np.sqrt(np.maximum((arm_mm @ arm_mm) - (directions @ arm_mm) ** 2, 0.0).max())
    return float(mass_g * 1e-3 * STANDARD_GRAVITY * lever * 1e-3)


def worst_twist_nm(mass_g: float, arm_mm: Array, axis: Array, directions: Array) -> float:
    """Largest turning moment about a screw's axis over attitudes, N·m: max |n·(r × m·g⃗)|."""
    side = np.array((
        axis[1] * arm_mm[2] - axis[2] * arm_mm[1],
        axis[2] * arm_mm[0] - axis[0] * arm_mm[2],
        axis[0] * arm_mm[1] - axis[1] * arm_mm[0],
    ))  # fmt: skip
    return float(mass_g * 1e-3 * STANDARD_GRAVITY * np.abs(directions @ side).max() * 1e-3)


def carried_side(assembly: Assembly) -> Iterator[tuple[Joint, float, Array]]:
    """For every joint the mass in g and CG in mm that it carries.

    That is the side away from the support in use: the child and what hangs on it,
    or everything else when the support is on the child's side.
    """
    mass: dict[str, float] = defaultdict(float)
    moment: dict[str, Array] = defaultdict(lambda: np.zeros(3))
    for part in assembly.masses():
        mass[part.holder] += part.mass_g
        moment[part.holder] = moment[part.holder] + part.mass_g * part.cg_mm
    for joint in reversed(assembly.joints):
        mass[joint.parent] += mass[joint.child]
        moment[joint.parent] = moment[joint.parent] + moment[joint.child]
    body = assembly.build.body
    held_from, unit = set(), assembly.find_support()
    while unit is not None and unit != body:
        held_from.add(unit)
        joint_above = assembly.build.joint_of(unit)
        unit = joint_above.parent if joint_above else None
    for joint in assembly.joints:
        m, s = mass[joint.child], moment[joint.child]
        if joint.child in held_from:
            m, s = mass[body] - m, moment[body] - s
        if m > 0:
            yield joint, m, s / m


def _strength(assembly: Assembly) -> Iterator[Finding]:
    support = assembly.find_support()
    data = assembly.catalogue.model_of(support).support if support else None
    kind = data.kind if data else "hand"
    handling = _USUAL_HANDLING[kind]
    factor, (tilt, roll) = HANDLING[handling], ATTITUDES[kind]
    directions = gravity_directions(tilt, roll)
    for joint, mass_g, cg in carried_side(assembly):
        parent, child = _ports(assembly, joint)
        arm = cg - assembly.joint_at(joint)
        about = About(units=(joint.child, joint.parent), port=joint.parent_port)
        inputs = (
            Input(name="mass carried", value=f"{mass_g:.0f} g", source="computed"),
            Input(name="CG from the joint", value=f"({arm[0]:.0f}, {arm[1]:.0f}, {arm[2]:.0f}) mm", source="computed"),
            Input(name="attitudes", value=f"{kind}: tilt ±{tilt:g}°, roll ±{roll:g}°", source="setting"),
            Input(name=f"handling factor, {handling}", value=f"{factor:g}", source="setting"),
        )
        load_n = mass_g * 1e-3 * STANDARD_GRAVITY * factor
        load_limit = _lower(parent.load_n, child.load_n)
        if load_limit and load_n > load_limit:
            yield Finding(
                code="fit.load", level=Level.STOP, about=about, value=load_n, limit=load_limit, unit="N",
                text=f"'{parent.label}' of {joint.parent} carries {load_n:.0f} N with {joint.child}; it is rated for {load_limit:.0f} N.",
                working=(Working(formula="F = m·g·factor", numbers=f"{mass_g / 1000:.3f} kg × 9.80665 × {factor:g} = {load_n:.1f} N", inputs=inputs),),
            )  # fmt: skip
        moment_limit = _lower(parent.moment_nm, child.moment_nm)
        if moment_limit and (bending := worst_bending_nm(mass_g, arm, directions) * factor) > moment_limit:
            yield Finding(
                code="fit.bending", level=Level.STOP, about=about, value=bending, limit=moment_limit, unit="N·m",
                text=f"{joint.child} bends '{parent.label}' of {joint.parent} with {bending:.2f} N·m; it is rated for {moment_limit:.2f} N·m.",
                working=(Working(formula="M = max |r × m·g| · factor", numbers=f"{bending:.3f} N·m against {moment_limit:.2f} N·m", inputs=inputs),),
            )  # fmt: skip
        holding = assembly.catalogue.interfaces[parent.interface].holding_nm
        if holding is not None and mates(parent, child) and not (parent.anti_twist and child.anti_twist):
            axis = assembly.pose(joint.parent).direction(parent.n)
            twist = worst_twist_nm(mass_g, arm, axis, directions) * factor
            if twist > holding:
                yield Finding(
                    code="fit.twist", level=Level.WATCH, about=about, value=twist, limit=holding, unit="N·m",
                    text=f"{joint.child} on the single {assembly.catalogue.interfaces[parent.interface].label} of {joint.parent} "
                    f"can turn: {twist:.2f} N·m against {holding:.2f} N·m held hand-tight.",
                    working=(Working(formula="M = max |n·(r × m·g)| · factor", numbers=f"{twist:.3f} N·m against {holding:.2f} N·m", inputs=inputs),),
                )  # fmt: skip


def _lower(a: float | None, b: float | None) -> float | None:
    known = [limit for limit in (a, b) if limit is not None]
    return min(known) if known else None
