"""Where everything is: poses from joints, mass and centre of gravity with their spread.

Formulas: docs/formulas.md §1. Frame: the rig's (see ``geometry``).
"""

from __future__ import annotations

import math
from collections.abc import Collection, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cached_property

import numpy as np

from ..errors import CableTwice, JointCycle, LooseUnit, MountedTwice, NoSuchUnit, NotCable
from ..gear.model import Port
from ..geometry import Array, Pose
from ..settings import Settings, Spreads, Support
from .build import Build, Catalogue, Joint

__all__ = ["Assembly", "MassSummary", "Part", "assemble", "mass_deviation_g", "mass_summary", "put_in_order"]

_EYE = np.eye(3)
_BODY = np.eye(4, 5)
"""The body's own frame is the rig's."""
_SUPPORT_ORDER: tuple[Support, ...] = ("gimbal", "head", "mount", "shoulder", "hand")


@dataclass(frozen=True, slots=True, eq=False)
class Part:
    """One mass where it is: pose ``tf_rig_part``, mass in g, CG in the rig frame, their sources.

    ``holder`` is the mounted unit it moves with: itself, or the unit at that end of a cable.
    """

    unit: str
    holder: str
    tf_rig_part: Pose
    mass_g: float
    mass_source: str
    cg_mm: Array
    cg_source: str
    mass_known: bool = True
    share: float = 1.0
    """Of the unit's mass that is here: half at each end of a cable."""


@dataclass(frozen=True, eq=False)
class Assembly:
    """A build put together: mounted parts from the body outwards, and the half of a cable at each of its ends."""

    build: Build
    catalogue: Catalogue
    joints: tuple[Joint, ...]
    parts: dict[str, Part]
    joint_ports: tuple[tuple[Joint, Port, Port], ...]
    """Every joint with its parent's and its child's port."""
    joint_points: dict[str, Array]
    """Where each joint is, by its child, mm in the rig frame, shape (3,)."""
    row: dict[str, int]
    """The row of every part in ``frames``, body outwards."""
    frames: Array
    """Frame of every part in the rig's, and in the last column the joint it hangs on, mm, shape (n, 4, 5)."""
    cable_halves: tuple[Part, ...] = ()

    def masses(self, holders: Collection[str] | None = None) -> list[Part]:
        """All masses, or those that move with the units named."""
        every = (*self.parts.values(), *self.cable_halves)
        return [part for part in every if holders is None or part.holder in holders]

    @cached_property
    def carried_sides(self) -> tuple[tuple[Joint, float, Array], ...]:
        """For every joint the mass in g and CG in mm that it carries.

        That is the side away from the support in use: the child and what hangs on it,
        or everything else when the support is on the child's side. Joints that carry
        nothing are left out.
        """
        row = {unit: i for i, unit in enumerate(self.parts)}
        every = self.masses()
        masses = np.array([part.mass_g for part in every])
        at = [row[part.holder] for part in every]
        sums = np.zeros((len(row), 4))
        np.add.at(sums, at, np.column_stack((masses, masses[:, None] * np.array([part.cg_mm for part in every]))))
        for joint in reversed(self.joints):
            sums[row[joint.parent]] += sums[row[joint.child]]
        body, above = self.build.body, {joint.child: joint.parent for joint in self.joints}
        towards_support, unit = set(), self.held_by
        while unit is not None and unit != body:
            towards_support.add(unit)
            unit = above.get(unit)
        children = [row[joint.child] for joint in self.joints]
        carried = sums[children]
        for i, joint in enumerate(self.joints):
            if joint.child in towards_support:
                carried[i] = sums[row[body]] - carried[i]
        with np.errstate(invalid="ignore", divide="ignore"):
            cgs = carried[:, 1:] / carried[:, :1]
        return tuple(
            (joint, mass_g, cgs[i])
            for i, (joint, mass_g) in enumerate(zip(self.joints, carried[:, 0].tolist(), strict=True))
            if mass_g > 1e-9
        )

    def pose(self, unit: str) -> Pose:
        """``tf_rig_part`` of a mounted unit."""
        return self.parts[unit].tf_rig_part

    def port_at(self, unit: str, port_id: str) -> Array:
        """A port's position in the rig frame, mm, shape (3,); its slide not counted."""
        return self.pose(unit).point(self.catalogue.model_of(unit).port(port_id, unit).at)

    @cached_property
    def _depth(self) -> dict[str, int]:
        found = {self.build.body: 0}
        for joint in self.joints:
            found[joint.child] = found[joint.parent] + 1
        return found

    @cached_property
    def supports(self) -> tuple[str, ...]:
        """Units that can carry the rig, outermost first; of those equally far
        out a gimbal before a head, mount, shoulder or hand.
        """
        found = [(unit, data) for unit in self.parts if (data := self.catalogue.model_of(unit).support)]
        return tuple(
            unit
            for unit, _ in sorted(
                found, key=lambda each: (-self._depth[each[0]], _SUPPORT_ORDER.index(each[1].kind), each[0])
            )
        )

    @cached_property
    def hands(self) -> tuple[str, ...]:
        """Handles and grips of the rig, body outwards."""
        return tuple(unit for unit in self.parts if self.catalogue.model_of(unit).kind in ("handle", "grip"))

    @cached_property
    def _support(self) -> str | None:
        chosen = self.build.held_by
        if chosen in self.supports:
            return chosen
        return None if chosen in self.hands else next(iter(self.supports), None)

    def find_support(self) -> str | None:
        """The unit that carries the rig: the one the build says, else the outermost;
        None when it is held by a handle, or by the body itself.
        """
        return self._support

    @property
    def support_kind(self) -> Support:
        """What kind of support carries the rig; in the hand where there is none."""
        support = self.find_support()
        data = self.catalogue.model_of(support).support if support else None
        return data.kind if data else "hand"

    @property
    def held_in_doubt(self) -> bool:
        """Whether several things could carry it, so that one should say
        which: supports, or handles where there is no support.
        """
        return len(self.supports) > 1 or (not self.supports and len(self.hands) > 1) or self.build.held_by is not None

    @property
    def held_by(self) -> str | None:
        """The unit whose joint carries the rest of the rig: its support, else the handle or grip it is held by."""
        if self.find_support():
            return self.find_support()
        return self.build.held_by if self.build.held_by in self.hands else next(iter(self.hands), None)


@dataclass(frozen=True, slots=True, eq=False)
class MassSummary:
    """Mass in g and CG in mm (shape (3,)), one standard deviation of each, mass by source."""

    mass_g: float
    cg_mm: Array
    mass_sd_g: float
    cg_sd_mm: Array
    by_source_g: dict[str, float]
    unknown: tuple[str, ...]
    cg_covariance_mm2: Array
    """Shape (3, 3), in the rig frame; ``cg_sd_mm`` is the root of its diagonal."""

    def cg_sd_along_mm(self, direction: Array) -> float:
        """One standard deviation of the CG along a direction of length 1 in the rig frame, mm."""
        return math.sqrt(max(0.0, float(direction @ self.cg_covariance_mm2 @ direction)))


def put_in_order(build: Build) -> tuple[Joint, ...]:
    """Joints so that every parent comes before its children.

    Raises
    ------
    MountedTwice
        If a unit hangs on two joints, or the body hangs on anything.
    JointCycle
        If joints go in a circle.
    LooseUnit
        If a joint's parent is not in the build.

    """
    by_child: dict[str, Joint] = {}
    for joint in build.joints:
        if joint.child in by_child:
            raise MountedTwice(joint.child, by_child[joint.child].parent, joint.parent)
        by_child[joint.child] = joint
    placed, ordered, waiting = {build.body}, [], list(build.joints)
    if build.body in by_child:
        raise JointCycle(_circle(build.body, by_child))
    while waiting:
        ready = [joint for joint in waiting if joint.parent in placed]
        if not ready:
            stray = next((j for j in waiting if j.parent not in by_child), None)
            if stray:
                raise LooseUnit(stray.child, stray.parent)
            raise JointCycle(_circle(waiting[0].child, by_child))
        ordered.extend(ready)
        placed.update(joint.child for joint in ready)
        waiting = [joint for joint in waiting if joint.child not in placed]
    return tuple(ordered)


def _circle(start: str, by_child: dict[str, Joint]) -> tuple[str, ...]:
    trail = [start]
    while (joint := by_child.get(trail[-1])) and joint.parent not in trail:
        trail.append(joint.parent)
    last = by_child.get(trail[-1])
    return tuple(trail[trail.index(last.parent) :]) if last else tuple(trail)


def assemble(build: Build, catalogue: Catalogue) -> Assembly:
    """Put a build together.

    Raises what ``put_in_order`` raises, UnknownPort, NoSuchUnit, CableTwice and NotCable. Whether things
    really fit is not asked here: a wrong joint still has a place to be drawn at.
    """
    joints = put_in_order(build)
    _check_cables(build, catalogue)
    ports = [_ports_of(joint, catalogue) for joint in joints]
    row, frames = _framed(build.body, joints, ports)
    parts = _parts(row, frames, build, catalogue)
    joint_ports = tuple((joint, parent, child) for joint, (parent, child) in zip(joints, ports, strict=True))
    points = {joint.child: frames[i, :3, 4] for i, joint in enumerate(joints, 1)}
    assembly = Assembly(build, catalogue, joints, parts, joint_ports, points, row, frames)
    halves = tuple(
        half
        for link in build.links
        for half in (
            _cable_half(assembly, link.cable, link.from_unit, link.from_port),
            _cable_half(assembly, link.cable, link.to_unit, link.to_port),
        )
    )
    return replace(assembly, cable_halves=halves)


def _framed(body: str, joints: Sequence[Joint], ports: Sequence[tuple[Port, Port]]) -> tuple[dict[str, int], Array]:
    """The row of every unit, body outwards, and by row its frame in the rig's and its joint, shape (n, 4, 5)."""
    frames = np.empty((len(joints) + 1, 4, 5))
    frames[0] = _BODY
    row = {body: 0}
    for i, (joint, (parent, child)) in enumerate(zip(joints, ports, strict=True), 1):
        mated = parent.mated(child, joint.spin_deg, joint.slide_mm)
        np.matmul(frames[row[joint.parent], :, :4], mated, out=frames[i])
        row[joint.child] = i
    return row, frames


def _check_cables(build: Build, catalogue: Catalogue) -> None:
    mounted = {build.body, *(joint.child for joint in build.joints)}
    for link in build.links:
        if link.cable in mounted:
            raise CableTwice(link.cable)
        mounted.add(link.cable)
        if not catalogue.model_of(link.cable).is_cable:
            raise NotCable(link.cable)


def _ports_of(joint: Joint, catalogue: Catalogue) -> tuple[Port, Port]:
    return (
        catalogue.model_of(joint.parent).port(joint.parent_port, joint.parent),
        catalogue.model_of(joint.child).port(joint.child_port, joint.child),
    )


def _parts(row: Mapping[str, int], frames: Array, build: Build, catalogue: Catalogue) -> dict[str, Part]:
    rest = {unit: catalogue.at_rest(unit) for unit in row}
    for setting in build.settings:
        if setting.focal_mm and setting.unit in rest:
            cg_mm, cg_source = catalogue.cg_of(setting.unit, setting.focal_mm)
            rest[setting.unit] = replace(rest[setting.unit], cg_mm=cg_mm, cg_source=cg_source)
    rotations, shifts = frames[:, :3, :3], frames[:, :3, 3]
    own = np.array([known.cg_mm for known in rest.values()], dtype=float)
    at = np.matmul(rotations, own[:, :, None])[:, :, 0] + shifts
    return {
        unit: Part(
            unit, unit, Pose(rotation, shift), known.mass_g, known.mass_source, cg, known.cg_source, known.mass_known
        )
        for (unit, known), rotation, shift, cg in zip(rest.items(), rotations, shifts, at, strict=True)
    }


def _cable_half(assembly: Assembly, cable: str, holder: str, port_id: str) -> Part:
    mass_g, source = assembly.catalogue.mass_of(cable)
    if holder not in assembly.parts:
        raise NoSuchUnit(holder, f"in this build, though cable {cable} ends there")
    end = assembly.port_at(holder, port_id)
    return Part(
        cable, holder, Pose(np.eye(3), end), (mass_g or 0.0) / 2, source, end, "assumed", mass_g is not None, 0.5
    )


def mass_deviation_g(mass_g: float, source: str, spreads: Spreads) -> float:
    """One standard deviation of a mass by its source, g."""
    if source == "measured":
        return spreads.measured_g
    return mass_g * (spreads.catalogue_share if source == "catalogue" else spreads.assumed_share)


def mass_summary(parts: Sequence[Part], settings: Settings) -> MassSummary:
    """Mass and CG of some parts, with one standard deviation of each.

        CG = Σ mᵢ·rᵢ / Σ mᵢ
        σ_x = √Σ[((xᵢ − x̄)·σ_mᵢ)² + (mᵢ·σ_xᵢ)²] / M

    The two halves of a cable are one thing: what is wrong with one is wrong with the
    other, and adds up before it is squared. No parts, or none with a mass, give 0 g at the origin.
    """
    spreads = settings.spreads
    by_source = {"measured": 0.0, "catalogue": 0.0, "assumed": 0.0}
    for part in parts:
        by_source[part.mass_source] += part.mass_g
    total = sum(by_source.values())
    unknown = tuple(dict.fromkeys(part.unit for part in parts if not part.mass_known))
    if total <= 0:
        return MassSummary(0.0, np.zeros(3), 0.0, np.zeros(3), by_source, unknown, np.zeros((3, 3)))
    masses = np.array([part.mass_g for part in parts])
    places = np.array([part.cg_mm for part in parts])
    deviations = np.array(
        [mass_deviation_g(part.mass_g / part.share, part.mass_source, spreads) * part.share for part in parts]
    )
    cg_sd_by = {
        "measured": spreads.measured_cg_mm,
        "catalogue": spreads.catalogue_cg_mm,
        "assumed": spreads.assumed_cg_mm,
    }
    cg_deviations = np.array([cg_sd_by[part.cg_source] for part in parts])
    cg = masses @ places / total
    moved, shifted = (places - cg) * deviations[:, None], masses * cg_deviations
    covariance, about, mass = moved.T @ moved, float(shifted @ shifted), float(deviations @ deviations)
    ends: dict[str, int] = {}
    pairs = [
        (first, i) for i, part in enumerate(parts) if part.share < 1 and (first := ends.setdefault(part.unit, i)) != i
    ]
    if pairs:
        # (a + b)² = a² + b² + 2ab
        one, other = np.array(pairs).T
        both = moved[one].T @ moved[other]
        covariance = covariance + both + both.T
        about, mass = (
            about + 2 * float(shifted[one] @ shifted[other]),
            mass + 2 * float(deviations[one] @ deviations[other]),
        )
    covariance = (covariance + _EYE * about) / total**2
    return MassSummary(total, cg, math.sqrt(mass), np.sqrt(np.diag(covariance)), by_source, unknown, covariance)
