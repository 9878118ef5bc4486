"""A build against the shelf: what is free, which ways a thing goes on, and what a change would do.

Nothing is guessed: a change is made on paper and the build is evaluated again.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import TypeVar

import numpy as np

from ..callouts import Finding, Level
from ..errors import BadRig
from ..fit.adapters import AdapterChain, find_chain
from ..fit.joints import port_uses
from ..gear.model import Port, mates
from ..rig.assembly import Assembly
from ..rig.build import Build, Catalogue, Claim, Target
from ..rig.edits import Attach, Connect, Move, Operation, apply_all
from ..settings import Settings
from ..stand import Stand, stand_of
from ..verdict.judge import Quick, Whole, quick, whole

__all__ = [
    "Bench",
    "Effect",
    "free_ports",
    "free_slide_mm",
    "is_socket",
    "links_between",
    "same_ends",
    "spares_of",
    "through",
    "ways_on",
    "ways_to_link",
    "ways_to_move",
]


V = TypeVar("V", Quick, Whole)


@dataclass(frozen=True, eq=False)
class Bench:
    """A build where it stands: changes are tried on its ``quick`` verdict, what is shown is its ``whole`` one."""

    stand: Stand

    @cached_property
    def quick(self) -> Quick:
        """The verdict that changes are tried by."""
        return quick(self.stand)

    @cached_property
    def whole(self) -> Whole:
        """The verdict that is shown."""
        return whole(self.quick)

    @property
    def build(self) -> Build:
        """The build as it is."""
        return self.stand.assembly.build

    @property
    def catalogue(self) -> Catalogue:
        """Everything on the shelf."""
        return self.stand.assembly.catalogue

    @property
    def settings(self) -> Settings:
        """Those of the job."""
        return self.stand.settings

    @property
    def target(self) -> Target | None:
        """What the rig must see."""
        return self.stand.target

    @property
    def taken(self) -> Mapping[str, Claim]:
        """Units that another rig has at this time."""
        return self.stand.taken

    def try_out(self, operations: tuple[Operation, ...]) -> Effect | None:
        """What these operations would do; None when they cannot be done at all."""
        try:
            return Effect.between(self.quick, self.after(operations).quick)
        except BadRig:
            return None

    def after(self, operations: tuple[Operation, ...]) -> Bench:
        """The bench with these operations done; raises what ``apply`` and ``stand_of`` raise."""
        return self.of(apply_all(self.build, operations, self.catalogue))

    def of(self, build: Build) -> Bench:
        """The bench with another build in its place; raises what ``stand_of`` raises."""
        at = self.stand
        return Bench(stand_of(build, self.catalogue, at.conditions, at.settings, at.taken, at.target))

    def on_shelf(self) -> Iterator[str]:
        """Units that are in no rig at this time, owned before hired."""
        here = set(self.build.units)
        for unit in self.catalogue.shelf:
            if unit.id not in here and unit.id not in self.taken:
                yield unit.id

    def sound(self) -> Iterator[str]:
        """Those of them in good condition: what one proposes to somebody."""
        return (unit for unit in self.on_shelf() if self.catalogue.unit(unit).condition == "good")

    def chain(self, parent: Port, child: Port) -> AdapterChain | None:
        """The shortest chain of adapters that joins a child's port to a parent's."""
        return find_chain(self.catalogue, parent, child, self.free_adapters)

    @cached_property
    def free_adapters(self) -> tuple[str, ...]:
        """Adapters that are in no rig at this time, owned before hired."""
        here = set(self.build.units)
        return tuple(unit for unit in self.catalogue.adapters if unit not in here and unit not in self.taken)


@dataclass(frozen=True, eq=False)
class Effect:
    """What a change does: differences, the counts after it, call-outs that come and go."""

    mass_g: float
    cg_x_mm: float
    shift_mm: float
    """How far the balance point moves, in space."""
    draw_w: float
    hours_after: float | None
    stops_after: int
    watches_after: int
    come: tuple[Finding, ...]
    gone: tuple[Finding, ...]
    """Call-outs no longer there, or less serious than before."""
    levels: Mapping[str, Level]
    """Level of every finding afterwards, by its key."""

    @classmethod
    def between(cls, before: V, after: V) -> Effect:
        """The effect that leads from one verdict to another of the same kind."""
        levels_before = {f.key: f.level for f in before.findings}
        levels_after = {f.key: f.level for f in after.findings}
        first = after.stand.first_empty
        moved = np.asarray(after.stand.carried.payload.cg_mm) - np.asarray(before.stand.carried.payload.cg_mm)
        return cls(
            after.stand.carried.total.mass_g - before.stand.carried.total.mass_g,
            float(moved[0]),
            float(np.linalg.norm(moved)),
            after.stand.draw_w - before.stand.draw_w,
            first.hours if first else None,
            after.counts["stops"],
            after.counts["watches"],
            tuple(
                f for f in after.findings if f.level >= Level.WATCH and levels_before.get(f.key, Level.CLEAR) < f.level
            ),
            tuple(
                f for f in before.findings if f.level >= Level.WATCH and levels_after.get(f.key, Level.CLEAR) < f.level
            ),
            levels_after,
        )


def free_ports(assembly: Assembly) -> list[tuple[str, Port]]:
    """Ports that still take something, body outwards."""
    uses = assembly.layout.once(port_uses)
    return [
        (unit, port)
        for unit in assembly.layout.every_unit
        for port in assembly.catalogue.model_of(unit).ports
        if len(uses.get((unit, port.id), ())) < port.takes
    ]


def free_slide_mm(bench: Bench, unit: str, port: Port, grip_mm: float, mover: str | None = None) -> float | None:
    """The place nearest the middle of a rail where ``grip_mm`` is free; None when it is full.

    0 for a port without a slide. ``mover`` is left out of what is in the way.
    """
    if port.slide is None:
        return 0.0
    build, catalogue = bench.build, bench.catalogue
    held = [
        (joint.slide_mm, catalogue.model_of(joint.child).port(joint.child_port).grip_mm)
        for joint in build.joints
        if joint.parent == unit and joint.parent_port == port.id and joint.child != mover
    ]
    low, high = port.slide.min_mm, port.slide.max_mm
    start = min(max(0.0, low), high)
    edges = [place + side * (grip + grip_mm) / 2 for place, grip in held for side in (-1, 1)]
    for place in sorted((start, *edges), key=lambda mm: abs(mm - start)):
        if low <= place <= high and all(abs(place - at) >= (grip + grip_mm) / 2 - 1e-6 for at, grip in held):
            return place
    return None


def _first_spin(catalogue: Catalogue, parent: Port, child: Port) -> float:
    turns = catalogue.turns_deg(parent, child)
    return 0.0 if not turns or 0.0 in turns else turns[0]


def ways_on(bench: Bench, unit: str, onto: str, port: Port) -> list[Attach]:
    """Every way a unit mates with a port."""
    found = []
    for own in bench.catalogue.model_of(unit).ports:
        if mates(own, port):
            slide = free_slide_mm(bench, onto, port, own.grip_mm)
            if slide is not None:
                spin = _first_spin(bench.catalogue, port, own)
                found.append(
                    Attach(unit=unit, unit_port=own.id, onto=onto, onto_port=port.id, spin_deg=spin, slide_mm=slide)
                )
    return found


def ways_to_move(bench: Bench, unit: str) -> list[Move]:
    """Every other free port of the build that a mounted unit could go on, with the same end of it; one that is
    worn goes on with any end.
    """
    joint = bench.build.joint_of(unit)
    if joint is None and unit not in bench.build.worn:
        return []
    model = bench.catalogue.model_of(unit)
    ends = (model.port(joint.child_port),) if joint else model.ports
    at = (joint.parent, joint.parent_port) if joint else None
    behind = set(bench.build.subtree(unit))
    found = []
    for onto, port in free_ports(bench.stand.assembly):
        own = next((end for end in ends if mates(end, port)), None)
        if own is None or onto in behind or (onto, port.id) == at:
            continue
        slide = free_slide_mm(bench, onto, port, own.grip_mm, unit)
        if slide is not None:
            spin = _first_spin(bench.catalogue, port, own)
            found.append(Move(unit=unit, unit_port=own.id, onto=onto, onto_port=port.id, spin_deg=spin, slide_mm=slide))
    return found


def ways_to_link(bench: Bench, unit: str, port: Port) -> list[Connect]:
    """Every cable of the shelf from this socket to another free socket of the build.

    Power runs from an outlet to an input; the cable is named from the outlet's end.
    """
    cables = [cable for cable in bench.on_shelf() if bench.catalogue.model_of(cable).is_cable]
    sockets = [(u, p) for u, p in free_ports(bench.stand.assembly) if u != unit and _linkable(port, p)]
    return [way for socket in sockets for way in links_between(bench.catalogue, cables, (unit, port), socket)]


def links_between(
    catalogue: Catalogue, cables: Iterable[str], here: tuple[str, Port], there: tuple[str, Port]
) -> Iterator[Connect]:
    """One cable of every model, of those given, that joins two sockets."""
    seen: set[str] = set()
    for cable in cables:
        model = catalogue.model_of(cable)
        for first, second in ((here, there), (there, here)):
            if (
                model.is_cable
                and model.id not in seen
                and mates(model.port("a"), first[1])
                and mates(model.port("b"), second[1])
            ):
                seen.add(model.id)
                yield Connect(
                    cable=cable, from_unit=first[0], from_port=first[1].id, to_unit=second[0], to_port=second[1].id
                )


def _linkable(a: Port, b: Port) -> bool:
    if a.electrical and b.electrical:
        return a.electrical.role != b.electrical.role
    return a.electrical is None and b.electrical is None


def is_socket(catalogue: Catalogue, port: Port) -> bool:
    """True for a port that takes a cable rather than a part."""
    return catalogue.interfaces[port.interface].takes_cable


def through(chain: AdapterChain, onto: str, onto_port: str) -> tuple[tuple[Attach, ...], tuple[str, str]] | None:
    """How a chain goes on, and the port it then offers; None when one of it must be hired first."""
    if chain.units is None:
        return None
    steps = []
    for link, unit in zip(chain.links, chain.units, strict=True):
        if link.model.adapter is None:
            return None
        steps.append(Attach(unit=unit, unit_port=link.model.adapter.toward_body, onto=onto, onto_port=onto_port))
        onto, onto_port = unit, link.model.adapter.toward_part
    return tuple(steps), (onto, onto_port)


def same_ends(bench: Bench, unit: str, other: str) -> bool:
    """Whether another unit goes where a mounted one is, by the same port."""
    joint = bench.build.joint_of(unit)
    if joint is None:
        return False
    port = bench.catalogue.model_of(joint.parent).port(joint.parent_port)
    return any(p.id == joint.child_port and mates(p, port) for p in bench.catalogue.model_of(other).ports)


def spares_of(bench: Bench, unit: str) -> tuple[str, ...]:
    """Sound units that are free at this time and could stand in for one: of its
    model first, then of its kind where they go in its place.
    """
    model = bench.catalogue.model_of(unit)
    alike, others = [], []
    for other in bench.sound():
        theirs = bench.catalogue.model_of(other)
        if theirs.id == model.id:
            alike.append(other)
        elif theirs.kind == model.kind and same_ends(bench, unit, other):
            others.append(other)
    return (*alike, *others)
