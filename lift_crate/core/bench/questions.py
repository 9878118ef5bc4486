"""The three questions at the bench: what can go here, where can this go, what would make it fit.

Answers come from the index of the shelf by interface; the best of them are put on
and evaluated, the rest are listed with what they weigh.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace

from ..errors import BadRig, NotAllowed
from ..fit.adapters import AdapterChain, all_chains, half_for
from ..fit.joints import port_uses, why_not_mate
from ..gear.model import GearModel, Port, mates
from ..rig.build import Claim
from ..rig.edits import Attach, Detach, Disconnect, Move, Operation, Wear, describe
from .bench import Bench, Effect, free_ports, is_socket, through, ways_on, ways_to_link, ways_to_move
from .search import runs_of

__all__ = [
    "Candidate",
    "Misfit",
    "Place",
    "Way",
    "candidates",
    "every_place_for",
    "misfits",
    "no_place",
    "places_for",
    "ways_to_fit",
]

MOST_TRIED = 24
"""Candidates that are evaluated at once; more would not be read."""
_MOST_MISFITS = 60
_MOST_HOLDERS = 6


@dataclass(frozen=True, eq=False)
class Candidate:
    """A unit that fits here, how it would be put on, and what that does; no effect: not tried yet."""

    unit: str
    model: GearModel
    operations: tuple[Operation, ...]
    effect: Effect | None
    alike: int
    """How many more units of the same model lie free."""


@dataclass(frozen=True, eq=False)
class Misfit:
    """A unit that cannot go here now, and why; with the adapters that would make it fit."""

    unit: str
    model: GearModel
    reason: str
    taken_by: Claim | None = None
    adapter: AdapterChain | None = None


@dataclass(frozen=True, eq=False)
class Place:
    """A port of the rig where a unit could go, straight, by adapters or on another part that goes on
    first, and what that does; without a port it is the operator's belt.
    """

    onto: str
    port: Port | None
    operations: tuple[Operation, ...]
    effect: Effect
    adapter: AdapterChain | None = None
    holder: str = ""
    """The part that goes on first and takes it."""

    @property
    def port_id(self) -> str:
        """Of the port; empty on the belt."""
        return self.port.id if self.port else ""


@dataclass(frozen=True, eq=False)
class Way:
    """Something that would make a unit fit on a port: what to do, what
    must be hired, and the effect when it can be tried.
    """

    title: str
    operations: tuple[Operation, ...]
    to_hire: tuple[str, ...]
    effect: Effect | None


def candidates(bench: Bench, unit: str, port_id: str, most: int = MOST_TRIED) -> list[Candidate]:
    """What fits on a port now, best first: fewest Stops, then Watches, owned before hired, then lightest.

    One unit per model stands for those alike. Beyond ``most`` they are listed untried,
    lightest first. Raises UnknownPort.
    """
    port = bench.catalogue.model_of(unit).port(port_id, unit)
    if len(bench.stand.assembly.layout.once(port_uses).get((unit, port_id), ())) >= port.takes:
        return _instead(bench, unit, port_id, most)
    ways, alike = _offers(bench, unit, port)
    masses = bench.catalogue.mass_of
    units = bench.catalogue.units
    ways.sort(key=lambda way: (units[way[0]].owner != "owned", masses(way[0])[0] or 0.0, way[0]))
    tried = [
        Candidate(name, bench.catalogue.model_of(name), (way,), effect, alike.get(name, 0))
        for name, way in ways[:most]
        if (effect := bench.try_out((way,)))
    ]
    tried.sort(key=lambda c: _rank(c.effect, units[c.unit].owner, c.unit))
    return tried + [
        Candidate(name, bench.catalogue.model_of(name), (way,), None, alike.get(name, 0)) for name, way in ways[most:]
    ]


def _rank(effect: Effect | None, owner: str, unit: str) -> tuple[float, float, bool, float, str]:
    if effect is None:
        return float("inf"), 0.0, owner != "owned", 0.0, unit
    return effect.stops_after, effect.watches_after, owner != "owned", effect.mass_g, unit


def _offers(bench: Bench, unit: str, port: Port) -> tuple[list[tuple[str, Operation]], dict[str, int]]:
    """Ways on for one unit of every kind that fits and is free, and how many more lie alike."""
    links: list[tuple[str, Operation]] = (
        [(link.cable, link) for link in ways_to_link(bench, unit, port)] if is_socket(bench.catalogue, port) else []
    )
    here = set(bench.build.units)
    alike: dict[str, int] = {}
    first_of: dict[tuple[str, str, bool], str] = {}
    ways = links
    for item, _ in bench.catalogue.mating(port):
        if item.id in here or item.id in bench.taken or item.id in alike or bench.catalogue.model_of(item.id).is_cable:
            continue
        differs = "" if item.measured_g is None and item.health_left == 1.0 else item.id
        known = first_of.setdefault((item.model, differs, item.owner == "owned"), item.id)
        if known != item.id:
            alike[known] += 1
            continue
        alike[known] = 0
        ways += [(item.id, way) for way in ways_on(bench, item.id, unit, port)[:1]]
    return ways, alike


def _instead(bench: Bench, unit: str, port_id: str, most: int) -> list[Candidate]:
    """Candidates for a port that is taken: what holds it comes off first, with all that hangs on it.

    None when the port is the one its own unit is mounted by, or a rail with several clamps.
    """
    holders = [j.child for j in bench.build.joints if (j.parent, j.parent_port) == (unit, port_id)]
    cables = [
        k.cable for k in bench.build.links if (unit, port_id) in ((k.from_unit, k.from_port), (k.to_unit, k.to_port))
    ]
    if len(holders) + len(cables) != 1:
        return []
    off: Operation = Detach(unit=holders[0]) if holders else Disconnect(cable=cables[0])
    without = bench.after((off,))
    found = []
    for candidate in candidates(without, unit, port_id, most):
        operations = (off, *candidate.operations)
        if candidate.unit in (*holders, *cables):
            continue
        effect = bench.try_out(operations) if candidate.effect else None
        found.append(replace(candidate, operations=operations, effect=effect))
    return found


def misfits(bench: Bench, unit: str, port_id: str) -> list[Misfit]:
    """What cannot go on a port now: taken units that would fit first,
    then what an adapter would make fit, then why not.
    """
    port = bench.catalogue.model_of(unit).port(port_id, unit)
    socket = is_socket(bench.catalogue, port)
    here = set(bench.build.units)
    found = [
        Misfit(item.id, bench.catalogue.model_of(item.id), f"in {claim.rig} ({claim.build}) until {claim.until}", claim)
        for item in dict.fromkeys(item for item, _ in bench.catalogue.mating(port))
        if item.id not in here and (claim := bench.taken.get(item.id))
    ]
    chains = {} if socket else all_chains(bench.catalogue, port, bench.free_adapters)
    seen: set[str] = set()
    apart = []
    for item in bench.catalogue.shelf:
        model = bench.catalogue.models[item.model]
        if model.id in seen or item.id in here or item.id in bench.taken or model.is_cable != socket or not model.ports:
            continue
        seen.add(model.id)
        if any(mates(own, port) for own in model.ports):
            continue
        own = next((p for p in model.ports if half_for(p) in chains), None) or _mounting_port(bench, model, socket)
        reason = why_not_mate(bench.stand.assembly.catalogue, item.id, own, unit, port) or ""
        apart.append(Misfit(item.id, model, reason, None, chains.get(half_for(own))))
    apart.sort(key=lambda m: (m.adapter is None, len(m.adapter.links) if m.adapter else 0, m.unit))
    return (found + apart)[:_MOST_MISFITS]


def _mounting_port(bench: Bench, model: GearModel, socket: bool) -> Port:
    return next((p for p in model.ports if is_socket(bench.catalogue, p) == socket), model.ports[0])


def places_for(bench: Bench, unit: str) -> list[Place]:
    """Where a unit can go on this rig: every free port that takes it, then by adapters; best first.

    A unit that is mounted already is moved; a cable joins an outlet to an input, a source to what shows it.
    Raises NoSuchUnit; NotAllowed for a unit that another rig has.
    """
    if claim := bench.taken.get(unit):
        raise NotAllowed(f"{unit} is in {claim.rig} ({claim.build}) until {claim.until}.")
    ways: list[tuple[str, Port, tuple[Operation, ...], AdapterChain | None]] = []
    if bench.catalogue.model_of(unit).is_cable:
        ways = [(onto, port, (run,), None) for onto, port, run in runs_of(bench, unit)]
        here = unit in bench.build.units
        ways = [(onto, port, (Disconnect(cable=unit), *run), None) for onto, port, run, _ in ways] if here else ways
    elif bench.build.joint_of(unit) or unit in bench.build.worn:
        ways = [
            (m.onto, bench.catalogue.model_of(m.onto).port(m.onto_port), (m,), None) for m in ways_to_move(bench, unit)
        ]
    elif unit != bench.build.body:
        for onto, port in free_ports(bench.stand.assembly):
            straight = ways_on(bench, unit, onto, port)[:1]
            ways += [(onto, port, (way,), None) for way in straight]
            if not straight and not is_socket(bench.catalogue, port):
                ways += _by_adapter(bench, unit, onto, port)
    ways.sort(key=lambda way: (way[3] is not None, len(way[2])))
    found = []
    for onto, port, operations, chain in ways[:MOST_TRIED]:
        try:
            after = bench.after(operations)
        except BadRig:
            continue
        effect = Effect.between(bench.quick, after.quick)
        # Fewest call-outs, then the fewest parts between, then as it usually stands, then the least moment.
        rank = effect.stops_after, effect.watches_after, chain is not None, _leans(after, unit), effect.shift_mm
        found.append((rank, Place(onto, port, operations, effect, chain)))
    found.sort(key=lambda pair: pair[0])
    return [place for _, place in found]


def every_place_for(bench: Bench, unit: str) -> list[Place]:
    """The same, and where there is none what else would take it first; then the operator's belt."""
    return [*(places_for(bench, unit) or _on_another(bench, unit)), *_on_the_belt(bench, unit)]


def _on_another(bench: Bench, unit: str) -> list[Place]:
    """Free parts that go on the rig and take a unit for which it has no place: one of each model, best first."""
    if unit in bench.build.units or bench.catalogue.model_of(unit).is_cable:
        return []
    own = [port for port in bench.catalogue.model_of(unit).ports if not is_socket(bench.catalogue, port)]
    free, found, seen = free_ports(bench.stand.assembly), [], set[str]()
    for holder in bench.sound():
        model = bench.catalogue.model_of(holder)
        takes = [port for port in model.ports if any(mates(port, end) for end in own)]
        if model.id in seen or not takes or holder == unit or model.is_cable or model.is_body or model.support:
            continue
        seen.add(model.id)
        for onto, port in free:
            first = next(iter(ways_on(bench, holder, onto, port)), None)
            left = next((p for p in takes if first and (p.takes > 1 or p.id != first.unit_port)), None)
            if first is None or left is None:
                continue
            end = next(end for end in own if mates(left, end))
            then = Attach(unit=unit, unit_port=end.id, onto=holder, onto_port=left.id)
            effect = bench.try_out((first, then))
            if effect:
                found.append(Place(onto, port, (first, then), effect, holder=holder))
                break
        if len(found) >= _MOST_HOLDERS:
            break
    found.sort(key=lambda p: (p.effect.stops_after, p.effect.watches_after, p.effect.mass_g))
    return found


def _on_the_belt(bench: Bench, unit: str) -> list[Place]:
    """The operator's belt, for what is joined to the rig by a cable or by radio."""
    model = bench.catalogue.model_of(unit)
    if model.is_cable or model.is_body or model.support or unit in bench.build.worn:
        return []
    if not (model.pack or model.has_power or any(port.signal for port in model.ports)):
        return []
    effect = bench.try_out((Wear(unit=unit),))
    return [Place("the operator", None, (Wear(unit=unit),), effect)] if effect else []


def no_place(bench: Bench, unit: str) -> str:
    """Why nothing on the rig takes a unit: by what it goes on, and that neither the rig nor a free part has that."""
    interfaces = bench.catalogue.interfaces
    halves = dict.fromkeys(
        f"the {i.half('female' if port.gender == 'male' else 'male')} of {i.label}"
        for port in bench.catalogue.model_of(unit).ports
        if not is_socket(bench.catalogue, port)
        for i in (interfaces[port.interface],)
    )
    if not halves:
        return f"{unit} has nothing to be mounted by."
    return f"{unit} wants {' or '.join(halves)}: free nowhere on this rig, and no free part that goes on it has one."


def _leans(bench: Bench, unit: str) -> float:
    """How far a part is turned from the way up it has in the catalogue: 0 upright, 1 on its side, 2 on its head."""
    if unit not in bench.stand.assembly.row:
        return 0.0
    return round(1 - float(bench.stand.assembly.pose(unit).rotation[2, 2]), 2)


def _by_adapter(
    bench: Bench, unit: str, onto: str, port: Port
) -> list[tuple[str, Port, tuple[Operation, ...], AdapterChain | None]]:
    for own in bench.catalogue.model_of(unit).ports:
        if is_socket(bench.catalogue, own):
            continue
        chain = bench.chain(port, own)
        steps = through(chain, onto, port.id) if chain else None
        if chain and steps and chain.links:
            last, last_port = steps[1]
            return [
                (onto, port, (*steps[0], Attach(unit=unit, unit_port=own.id, onto=last, onto_port=last_port)), chain)
            ]
    return []


def ways_to_fit(bench: Bench, unit: str, onto: str, port_id: str) -> list[Way]:
    """What would make a unit fit on a port: as it is, by adapters, after
    freeing the port; best first. Empty: nothing known does.
    """
    model = bench.catalogue.model_of(unit)
    port = bench.catalogue.model_of(onto).port(port_id, onto)
    taken = [j.child for j in bench.build.joints if (j.parent, j.parent_port) == (onto, port_id)]
    clear: list[tuple[Operation, ...]] = [()] if len(taken) < port.takes else _clearing(bench, taken)
    found: list[Way] = []
    for own in model.ports:
        if is_socket(bench.catalogue, own) or is_socket(bench.catalogue, port):
            continue
        chain = bench.chain(port, own)
        if chain is None:
            continue
        if chain.units is None:
            hire = tuple(link.model.title for link in chain.links if link.unit is None)
            found.append(Way(f"With {chain}", (), hire, None))
            continue
        steps = through(chain, onto, port_id)
        if steps is None:
            continue
        last, last_port = steps[1]
        on = _put(bench, unit, own, last, last_port)
        for first in clear:
            operations = (*first, *steps[0], on)
            effect = bench.try_out(operations)
            if effect:
                found.append(
                    Way("; then ".join(describe(op, bench.catalogue) for op in operations), operations, (), effect)
                )
    found.sort(
        key=lambda w: (
            w.effect is None,
            w.effect.stops_after if w.effect else 0,
            len(w.operations),
            w.effect.mass_g if w.effect else 0.0,
        )
    )
    return found


def _put(bench: Bench, unit: str, own: Port, onto: str, onto_port: str) -> Operation:
    if bench.build.joint_of(unit):
        return Move(unit=unit, unit_port=own.id, onto=onto, onto_port=onto_port)
    return Attach(unit=unit, unit_port=own.id, onto=onto, onto_port=onto_port)


def _clearing(bench: Bench, holders: Sequence[str]) -> list[tuple[Operation, ...]]:
    """Ways to free a port: move what holds it elsewhere, or take it off."""
    ways: list[tuple[Operation, ...]] = []
    for holder in holders:
        ways += [(move,) for move in ways_to_move(bench, holder)[:4]]
        ways.append((Detach(unit=holder),))
    return ways
