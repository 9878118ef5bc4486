"""What hangs on what: all of a build that stays as it is when things are slid, turned or set.

Most changes that are tried leave it alone, so that what follows from it is worked out once.
"""

from __future__ import annotations

from collections.abc import Callable, Collection
from dataclasses import dataclass
from functools import cached_property
from typing import Any, TypeVar, cast

import numpy as np

from ..errors import CableTwice, JointCycle, LooseUnit, MountedTwice, NoSuchUnit, NotCable
from ..gear.model import GearModel, Port, Source
from ..gear.solids import Rows
from ..geometry import Array
from ..recent import Recent
from ..settings import Support
from .build import Build, Catalogue, Joint, Link, Rest
from .masses import Masses

__all__ = ["Layout", "layout_of", "put_in_order"]

T = TypeVar("T")

_MOST_KEPT = 256
_SUPPORT_ORDER: tuple[Support, ...] = ("gimbal", "head", "mount", "shoulder", "hand")


@dataclass(frozen=True, eq=False)
class Layout:
    """The tree of a build's joints over one shelf, and its cables; units stand in rows, body outwards."""

    catalogue: Catalogue
    body: str
    order: tuple[int, ...]
    """Where each joint stands in the build, parents before their children; joint ``i`` carries row ``i + 1``."""
    above: tuple[int, ...]
    """The row that each joint hangs on."""
    units: tuple[str, ...]
    ports: tuple[tuple[Port, Port], ...]
    """The parent's and the child's port of every joint."""
    links: tuple[Link, ...]
    """Cables with both ends on the rig."""
    ends: tuple[tuple[int, Array], ...]
    """The row that holds each end of each cable, and the socket in that unit's frame, mm, shape
    (3,); after both ends of all links that of every lead that ends on the rig.
    """
    chosen: str | None
    """What is said to carry it."""
    worn: tuple[str, ...] = ()
    """What the operator wears, outwards; none of it has a row."""
    worn_joints: tuple[tuple[str, str, tuple[Port, Port]], ...] = ()
    """Child and parent of every joint of it, with the parent's and the child's port."""
    leads: tuple[Link, ...] = ()
    """Cables with an end on what is worn."""

    @property
    def every_unit(self) -> tuple[str, ...]:
        """What is mounted, body outwards, and what is worn."""
        return (*self.units, *self.worn)

    @cached_property
    def worn_g(self) -> float:
        """What the operator wears for it, g, with the ends of the cables there; what nobody weighed is not in it."""
        ends = [link.cable for link in self.leads for end in _ends(link) if end[0] not in self.row]
        return sum(self.catalogue.mass_of(unit)[0] or 0.0 for unit in self.worn) + sum(
            (self.catalogue.mass_of(cable)[0] or 0.0) / 2 for cable in ends
        )

    @property
    def every_link(self) -> tuple[Link, ...]:
        """All cables, those to what is worn last."""
        return (*self.links, *self.leads)

    @cached_property
    def every_model(self) -> tuple[GearModel, ...]:
        """The model of everything that is mounted or worn."""
        return (*self.models, *(self.catalogue.model_of(unit) for unit in self.worn))

    @cached_property
    def joined(self) -> tuple[tuple[str, str, tuple[Port, Port]], ...]:
        """Every joint, of what is worn too: child, parent, and the ports of parent and child."""
        rig = zip(self.units[1:], self.above, self.ports, strict=True)
        return (*((child, self.units[above], ports) for child, above, ports in rig), *self.worn_joints)

    def once(self, make: Callable[[Layout], T]) -> T:
        """What a function makes of this layout, worked out once."""
        if make not in self._made:
            self._made[make] = make(self)
        return cast("T", self._made[make])

    @cached_property
    def _made(self) -> dict[Callable[[Layout], Any], Any]:
        return {}

    @cached_property
    def as_built(self) -> tuple[str, ...]:
        """The body, what is mounted in the order of the build, what is worn, and the cables."""
        mounted = sorted(zip(self.order, self.units[1:], strict=True))
        return (
            self.body,
            *(unit for _, unit in mounted),
            *self.worn,
            *(link.cable for link in self.every_link),
        )

    @cached_property
    def row(self) -> dict[str, int]:
        """The row of every unit."""
        return {unit: i for i, unit in enumerate(self.units)}

    @cached_property
    def models(self) -> tuple[GearModel, ...]:
        """The model of every row."""
        return tuple(self.catalogue.model_of(unit) for unit in self.units)

    @cached_property
    def rest(self) -> tuple[Rest, ...]:
        """Mass and own CG of every row, set to nothing else."""
        return tuple(self.catalogue.at_rest(unit) for unit in self.units)

    @cached_property
    def own_cgs(self) -> Array:
        """CG of every row in its own frame, set to nothing else, mm, shape (n, 3)."""
        return np.array([known.cg_mm for known in self.rest], dtype=float)

    @cached_property
    def masses(self) -> Masses:
        """All masses: those of the rows, then half of each cable at each of its ends; of a lead its end on the rig."""
        cables = [link.cable for link in self.links for _ in range(2)]
        cables += [link.cable for link in self.leads for end in _ends(link) if end[0] in self.row]
        ends = [
            (cable, (mass_g or 0.0) / 2, source, mass_g is not None)
            for cable in cables
            for mass_g, source in (self.catalogue.mass_of(cable),)
        ]
        placed: list[Source] = ["assumed" for _ in ends]
        return Masses(
            (*self.units, *(cable for cable, _, _, _ in ends)),
            (*(known.mass_g for known in self.rest), *(grams for _, grams, _, _ in ends)),
            (*(known.mass_source for known in self.rest), *(source for _, _, source, _ in ends)),
            (*(known.cg_source for known in self.rest), *placed),
            (*(known.mass_known for known in self.rest), *(known for _, _, _, known in ends)),
            (*(1.0 for _ in self.rest), *(0.5 for _ in ends)),
        )

    @cached_property
    def holders(self) -> Rows:
        """The row that each mass moves with, shape (masses,)."""
        return np.array((*range(len(self.units)), *(row for row, _ in self.ends)), dtype=np.intp)

    @cached_property
    def held_at(self) -> tuple[Rows, Array]:
        """Rows that cables end at, shape (k,), and the sockets in their frames, mm, shape (k, 3)."""
        rows = np.array([row for row, _ in self.ends], dtype=np.intp)
        return rows, np.array([at for _, at in self.ends], dtype=float).reshape(-1, 3)

    def moving_with(self, units: Collection[str]) -> tuple[Rows, Masses]:
        """The rows of the masses that move with some units, and those masses."""
        key = frozenset(units)
        known = self._moving.get(key)
        if known is None:
            rows = [i for i, holder in enumerate(self.holders.tolist()) if self.units[holder] in key]
            known = self._moving[key] = np.array(rows, dtype=np.intp), self.masses.rows(rows)
        return known

    @cached_property
    def _moving(self) -> dict[frozenset[str], tuple[Rows, Masses]]:
        return {}

    @cached_property
    def carrying(self) -> Array:
        """Which masses each joint carries, 1 or 0, shape (joints, masses).

        That is the side away from what holds the rig: the child and what hangs on it, or everything
        else when it is held on the child's side.
        """
        beyond = np.eye(len(self.units), dtype=bool)
        for i in range(len(self.above), 0, -1):
            beyond[self.above[i - 1]] |= beyond[i]
        carried = beyond[1:]
        at = self.row[self.held_by] if self.held_by else 0
        carried[beyond[1:, at]] ^= True
        return carried[:, self.holders].astype(float)

    def subtree(self, unit: str) -> tuple[str, ...]:
        """A unit and everything mounted on it, outwards; raises KeyError for what is not mounted."""
        known = self._subtrees.get(unit)
        if known is None:
            line = [self.row[unit]]
            for held in line:
                line += [i for i, above in enumerate(self.above, 1) if above == held]
            known = self._subtrees[unit] = tuple(self.units[i] for i in line)
        return known

    @cached_property
    def _subtrees(self) -> dict[str, tuple[str, ...]]:
        return {}

    @cached_property
    def beyond_support(self) -> frozenset[str]:
        """The support that carries the rig and everything mounted on it; nothing without one."""
        return frozenset(self.subtree(self.support)) if self.support else frozenset()

    @cached_property
    def on_support(self) -> frozenset[str]:
        """Everything that the support carries; nothing without one."""
        return frozenset(self.units) - self.beyond_support if self.support else frozenset()

    @cached_property
    def supports(self) -> tuple[str, ...]:
        """Units that can carry the rig, outermost first; of those equally far
        out a gimbal before a head, mount, shoulder or hand.
        """
        depth = [0]
        for above in self.above:
            depth.append(depth[above] + 1)
        found = [
            (-far, _SUPPORT_ORDER.index(model.support.kind), unit)
            for far, model, unit in zip(depth, self.models, self.units, strict=True)
            if model.support
        ]
        return tuple(unit for _, _, unit in sorted(found))

    @cached_property
    def hands(self) -> tuple[str, ...]:
        """Handles and grips of the rig, body outwards."""
        return tuple(
            unit for unit, model in zip(self.units, self.models, strict=True) if model.kind in ("handle", "grip")
        )

    @cached_property
    def support(self) -> str | None:
        """The unit that carries the rig: the one that is said to, else the outermost;
        None when it is held by a handle, or by the body itself.
        """
        if self.chosen in self.supports:
            return self.chosen
        return None if self.chosen in self.hands else next(iter(self.supports), None)

    @cached_property
    def held_by(self) -> str | None:
        """The unit whose joint carries the rest of the rig: its support, else the handle or grip it is held by."""
        if self.support:
            return self.support
        return self.chosen if self.chosen in self.hands else next(iter(self.hands), None)


_recent: Recent[Layout] = Recent(_MOST_KEPT)


def layout_of(build: Build, catalogue: Catalogue) -> Layout:
    """The layout of a build, the same one for all that differ in slides, turns and settings only; its arms bent.

    The shelf goes by identity; what is kept holds it, so that an identity stays its own.
    Raises what ``put_in_order`` raises, UnknownPort, NoSuchUnit, CableTwice and NotCable.
    """
    shelf = catalogue.bent(build.bends) if build.bends else catalogue.straight or catalogue
    return _recent.of((id(shelf), build.tree), lambda: _laid_out(build, shelf))


def _laid_out(build: Build, catalogue: Catalogue) -> Layout:
    worn = set(build.on_operator)
    every = put_in_order(build)
    joints = tuple(joint for joint in every if joint.child not in worn)
    _check_cables(build, catalogue)

    def ports_of(joint: Joint) -> tuple[Port, Port]:
        return (
            catalogue.model_of(joint.parent).port(joint.parent_port, joint.parent),
            catalogue.model_of(joint.child).port(joint.child_port, joint.child),
        )

    ports = tuple(ports_of(joint) for joint in joints)
    units = (build.body, *(joint.child for joint in joints))
    row = {unit: i for i, unit in enumerate(units)}
    at = {joint.child: i for i, joint in enumerate(build.joints)}
    for unit in (*units, *build.on_operator):
        catalogue.at_rest(unit)
    links = tuple(link for link in build.links if not worn & {link.from_unit, link.to_unit})
    leads = tuple(link for link in build.links if worn & {link.from_unit, link.to_unit})
    ends = []
    for link in (*links, *leads):
        for holder, port_id in _ends(link):
            if holder not in row and holder not in worn:
                raise NoSuchUnit(holder, f"in this build, though cable {link.cable} ends there")
            socket = catalogue.model_of(holder).port(port_id, holder)
            if holder in row:
                ends.append((row[holder], np.asarray(socket.at, dtype=float)))
    return Layout(
        catalogue,
        build.body,
        tuple(at[joint.child] for joint in joints),
        tuple(row[joint.parent] for joint in joints),
        units,
        ports,
        links,
        tuple(ends),
        build.held_by,
        build.on_operator,
        tuple((joint.child, joint.parent, ports_of(joint)) for joint in every if joint.child in worn),
        leads,
    )


def _ends(link: Link) -> tuple[tuple[str, str], tuple[str, str]]:
    return (link.from_unit, link.from_port), (link.to_unit, link.to_port)


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
    placed, ordered, waiting = {build.body, *build.worn}, [], list(build.joints)
    if build.body in by_child:
        raise JointCycle(_circle(build.body, by_child))
    if twice := next((unit for unit in build.worn if unit in by_child), None):
        raise MountedTwice(twice, by_child[twice].parent, "the operator")
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


def _check_cables(build: Build, catalogue: Catalogue) -> None:
    mounted = {build.body, *build.worn, *(joint.child for joint in build.joints)}
    for link in build.links:
        if link.cable in mounted:
            raise CableTwice(link.cable)
        mounted.add(link.cable)
        if not catalogue.model_of(link.cable).is_cable:
            raise NotCable(link.cable)
