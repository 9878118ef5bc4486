"""What can go here now: units of the shelf tried on a free port, each with its effect.

Nothing is guessed: every candidate is put on and the build is evaluated again.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, replace

from .adapting import AdapterChain, find_chain
from .errors import BadRig
from .evaluate import Evaluation, evaluate
from .findings import Finding, Level
from .fit import port_uses, why_not_mate
from .gear import GearModel, Port, mates
from .operations import Attach, Connect, Detach, Disconnect, Move, Operation, apply_all
from .rig import Build, Catalogue, Claim, Conditions, Target
from .settings import Settings

__all__ = ["Bench", "Candidate", "Effect", "Misfit", "candidates", "free_ports", "free_slide_mm", "misfits"]


@dataclass(frozen=True, eq=False)
class Bench:
    """A build where it stands: evaluated, with the conditions and what other rigs have."""

    evaluation: Evaluation
    conditions: Conditions
    settings: Settings
    taken: Mapping[str, Claim]
    target: Target | None = None

    @property
    def build(self) -> Build:
        """The build as it is."""
        return self.evaluation.assembly.build

    @property
    def catalogue(self) -> Catalogue:
        """Everything on the shelf."""
        return self.evaluation.assembly.catalogue

    def try_out(self, operations: tuple[Operation, ...]) -> Effect | None:
        """What these operations would do; None when they cannot be done at all."""
        try:
            return Effect.between(self.evaluation, self.after(operations).evaluation)
        except BadRig:
            return None

    def after(self, operations: tuple[Operation, ...]) -> Bench:
        """The bench with these operations done; raises what ``apply`` and ``evaluate`` raise."""
        build = apply_all(self.build, operations, self.catalogue)
        return replace(self, evaluation=evaluate(build, self.catalogue, self.conditions, self.settings, self.taken, self.target))

    def on_shelf(self) -> Iterator[str]:
        """Units that are in no rig at this time, owned before hired."""
        here = set(self.build.units)
        for unit in self.catalogue.shelf:
            if unit.id not in here and unit.id not in self.taken:
                yield unit.id

    def chain(self, parent: Port, child: Port) -> AdapterChain | None:
        """The shortest chain of adapters that joins a child's port to a parent's."""
        return find_chain(self.catalogue, parent, child, self.on_shelf())


@dataclass(frozen=True, eq=False)
class Effect:
    """What a change does: differences, the counts after it, call-outs that come and go."""

    mass_g: float
    cg_x_mm: float
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
    def between(cls, before: Evaluation, after: Evaluation) -> Effect:
        """The effect that leads from one evaluation to the other."""
        levels_before = {f.key: f.level for f in before.findings}
        levels_after = {f.key: f.level for f in after.findings}
        first = after.first_empty
        return cls(
            after.carried.total.mass_g - before.carried.total.mass_g,
            float(after.carried.payload.cg_mm[0] - before.carried.payload.cg_mm[0]),
            after.draw_w - before.draw_w,
            first.hours if first else None,
            after.counts["stops"],
            after.counts["watches"],
            tuple(f for f in after.findings if f.level >= Level.WATCH and levels_before.get(f.key, Level.CLEAR) < f.level),
            tuple(f for f in before.findings if f.level >= Level.WATCH and levels_after.get(f.key, Level.CLEAR) < f.level),
            levels_after,
        )  # fmt: skip


@dataclass(frozen=True, eq=False)
class Candidate:
    """A unit that fits here, how it would be put on, and what that does."""

    unit: str
    model: GearModel
    operations: tuple[Operation, ...]
    effect: Effect
    alike: int
    """How many more units of the same model lie free."""


@dataclass(frozen=True, eq=False)
class Misfit:
    """A unit that cannot go here now, and why; with the adapter that would make it fit."""

    unit: str
    model: GearModel
    reason: str
    taken_by: Claim | None = None
    adapter: AdapterChain | None = None


def free_ports(evaluation: Evaluation) -> list[tuple[str, Port]]:
    """Ports that still take something, body outwards."""
    assembly = evaluation.assembly
    uses = port_uses(assembly)
    return [
        (unit, port)
        for unit in assembly.parts
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
    turns = child.spins_deg or parent.spins_deg or catalogue.interfaces[parent.interface].spins_deg
    return 0.0 if not turns or 0.0 in turns else turns[0]


def ways_on(bench: Bench, unit: str, onto: str, port: Port) -> list[Attach]:
    """Every way a unit mates with a port."""
    found = []
    for own in bench.catalogue.model_of(unit).ports:
        if mates(own, port):
            slide = free_slide_mm(bench, onto, port, own.grip_mm)
            if slide is not None:
                spin = _first_spin(bench.catalogue, port, own)
                found.append(Attach(unit=unit, unit_port=own.id, onto=onto, onto_port=port.id, spin_deg=spin, slide_mm=slide))
    return found


def ways_to_move(bench: Bench, unit: str) -> list[Move]:
    """Every other free port of the build that a mounted unit could go on, with the same end of it."""
    joint = bench.build.joint_of(unit)
    if joint is None:
        return []
    own = bench.catalogue.model_of(unit).port(joint.child_port)
    behind = set(bench.build.subtree(unit))
    found = []
    for onto, port in free_ports(bench.evaluation):
        if onto in behind or (onto, port.id) == (joint.parent, joint.parent_port) or not mates(own, port):
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
    sockets = [(u, p) for u, p in free_ports(bench.evaluation) if u != unit and _linkable(port, p)]
    found: list[Connect] = []
    seen: set[tuple[str, str, str]] = set()
    for cable in bench.on_shelf():
        model = bench.catalogue.model_of(cable)
        if not model.is_cable:
            continue
        for near, far in (("a", "b"), ("b", "a")):
            if not mates(model.port(near), port):
                continue
            for other, socket in sockets:
                if not mates(model.port(far), socket) or (model.id, other, socket.id) in seen:
                    continue
                seen.add((model.id, other, socket.id))
                here, there = (unit, port.id), (other, socket.id)
                first, second = (here, there) if near == "a" else (there, here)
                found.append(Connect(cable=cable, from_unit=first[0], from_port=first[1], to_unit=second[0], to_port=second[1]))
    return found


def _linkable(a: Port, b: Port) -> bool:
    if a.electrical and b.electrical:
        return a.electrical.role != b.electrical.role
    return a.electrical is None and b.electrical is None


def is_socket(catalogue: Catalogue, port: Port) -> bool:
    """True for a port that takes a cable rather than a part."""
    return catalogue.interfaces[port.interface].takes_cable


def candidates(bench: Bench, unit: str, port_id: str) -> list[Candidate]:
    """What fits on a port now, best first: fewest Stops, then Watches, owned before hired, then lightest.

    One unit per model stands for those alike; raises UnknownPort.
    """
    port = bench.catalogue.model_of(unit).port(port_id, unit)
    if len(port_uses(bench.evaluation.assembly).get((unit, port_id), ())) >= port.takes:
        return _instead(bench, unit, port_id)
    ways: list[tuple[str, Operation]] = []
    alike: dict[str, int] = {}
    if is_socket(bench.catalogue, port):
        ways = [(link.cable, link) for link in ways_to_link(bench, unit, port)]
    else:
        best_of_model: dict[tuple[str, str, bool], str] = {}
        for candidate in bench.on_shelf():
            item = bench.catalogue.unit(candidate)
            differs = "" if item.measured_g is None and item.health == 1.0 else candidate
            known = best_of_model.setdefault((item.model, differs, item.owner == "owned"), candidate)
            if known != candidate:
                alike[known] = alike.get(known, 0) + 1
        for candidate in best_of_model.values():
            ways += [(candidate, way) for way in ways_on(bench, candidate, unit, port)[:1]]
    found = [
        Candidate(name, bench.catalogue.model_of(name), (way,), effect, alike.get(name, 0))
        for name, way in ways
        if (effect := bench.try_out((way,)))
    ]
    units = bench.catalogue.units
    found.sort(key=lambda c: (c.effect.stops_after, c.effect.watches_after, units[c.unit].owner != "owned", c.effect.mass_g, c.unit))
    return found


def _instead(bench: Bench, unit: str, port_id: str) -> list[Candidate]:
    """Candidates for a port that is taken: what holds it comes off first, with all that hangs on it.

    None when the port is the one its own unit is mounted by, or a rail with several clamps.
    """
    holders = [j.child for j in bench.build.joints if (j.parent, j.parent_port) == (unit, port_id)]
    cables = [k.cable for k in bench.build.links if (unit, port_id) in ((k.from_unit, k.from_port), (k.to_unit, k.to_port))]
    if len(holders) + len(cables) != 1:
        return []
    off: Operation = Detach(unit=holders[0]) if holders else Disconnect(cable=cables[0])
    without = bench.after((off,))
    found = []
    for candidate in candidates(without, unit, port_id):
        operations = (off, *candidate.operations)
        if candidate.unit not in (*holders, *cables) and (effect := bench.try_out(operations)):
            found.append(replace(candidate, operations=operations, effect=effect))
    return found


def misfits(bench: Bench, unit: str, port_id: str) -> list[Misfit]:
    """What cannot go on a port now: taken units that would fit first, then what does not mate and why."""
    port = bench.catalogue.model_of(unit).port(port_id, unit)
    socket = is_socket(bench.catalogue, port)
    found: list[Misfit] = []
    seen: set[str] = set()
    for item in sorted(bench.catalogue.units.values(), key=lambda u: u.id):
        model = bench.catalogue.models[item.model]
        if item.id in bench.build.units or model.is_cable != socket:
            continue
        fitting = any(mates(own, port) for own in model.ports)
        if claim := bench.taken.get(item.id):
            if fitting:
                found.append(Misfit(item.id, model, f"in {claim.rig} ({claim.build}) until {claim.until}", claim))
        elif not fitting and model.ports and model.id not in seen:
            seen.add(model.id)
            own = next((p for p in model.ports if not is_socket(bench.catalogue, p) or socket), model.ports[0])
            reason = why_not_mate(bench.evaluation.assembly, item.id, own, unit, port) or ""
            found.append(Misfit(item.id, model, reason, None, None if socket else bench.chain(port, own)))
    found.sort(key=lambda m: (m.taken_by is None, m.adapter is None, m.unit))
    return found


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
