"""Exchange a part, or the body, and keep all that still goes: ports matched, adapters between, the rest off."""

from __future__ import annotations

from dataclasses import dataclass

from ..errors import BadRig
from ..gear.model import GearModel, Port, mates
from ..rig.build import Joint, Link
from ..rig.edits import Detach, Disconnect, Move, Operation, Replace
from .bench import Bench, Effect, is_socket, through

__all__ = ["Exchange", "exchange", "exchanges"]

_MOST_TRIED = 12


@dataclass(frozen=True, eq=False)
class Exchange:
    """A unit in the place of another: what to do, what comes off for good, and the effect."""

    unit: str
    model: GearModel
    operations: tuple[Operation, ...]
    left: tuple[str, ...]
    effect: Effect


def exchanges(bench: Bench, unit: str, words: str = "") -> list[Exchange]:
    """What can take the place of a unit now, one of each model: fewest parts lost first, then fewest call-outs.

    Its own kind unless words ask for another. Raises NoSuchUnit.
    """
    own = bench.catalogue.model_of(unit)
    asked = words.lower().split()
    tried: list[Exchange] = []
    seen: set[tuple[str, str]] = set()
    for other in bench.on_shelf():
        theirs = bench.catalogue.model_of(other)
        key = theirs.id, bench.catalogue.unit(other).owner
        text = f"{other} {theirs.title} {theirs.kind}".lower()
        if key in seen or not all(word in text for word in asked) or theirs.is_cable != own.is_cable:
            continue
        if (unit == bench.build.body and not theirs.is_body) or (not asked and theirs.kind != own.kind):
            continue
        seen.add(key)
        if (found := exchange(bench, unit, other)) is not None:
            tried.append(found)
        if len(tried) >= _MOST_TRIED:
            break
    tried.sort(key=lambda e: (len(e.left), e.effect.stops_after, e.effect.watches_after, e.unit))
    return tried


def exchange(bench: Bench, unit: str, by: str) -> Exchange | None:
    """One unit in the place of another with all that still goes on it; None where it does not go there at all."""
    swap = _Swap(bench, unit, by)
    joint = bench.build.joint_of(unit)
    if joint is not None and not swap.hold(joint):
        return None
    for child in (j for j in bench.build.joints if j.parent == unit):
        swap.take_over(child)
    for link in bench.build.links:
        swap.plug_in(link)
    try:
        after = bench.after(swap.operations)
    except BadRig:
        return None
    kept = set(after.build.units)
    left = tuple(u for u in bench.build.units if u != unit and u not in kept)
    return Exchange(by, swap.new, swap.operations, left, Effect.between(bench.quick, after.quick))


class _Swap:
    """One unit taking the place of another: ports given so far, what comes off before, what goes on after."""

    def __init__(self, bench: Bench, unit: str, by: str) -> None:
        self.bench, self.unit, self.by = bench, unit, by
        self.old, self.new = bench.catalogue.model_of(unit), bench.catalogue.model_of(by)
        self._gone: set[str] = set()
        self._ports: dict[str, str] = {}
        self._used: set[str] = set()
        self._before: list[Operation] = []
        self._after: list[Operation] = []

    @property
    def operations(self) -> tuple[Operation, ...]:
        """All that is to be done, in order."""
        ports = tuple((a, b) for a, b in self._ports.items() if a != b)
        return (*self._before, Replace(unit=self.unit, by=self.by, ports=ports), *self._after)

    def hold(self, joint: Joint) -> bool:
        """The new unit on what held the old one; False where it does not go there."""
        port = self.old.port(joint.child_port)
        found = self._match(port, self.bench.catalogue.model_of(joint.parent).port(joint.parent_port))
        if found is not None:
            self._keep(port, found)
        return found is not None

    def take_over(self, joint: Joint) -> None:
        """What hung on the old unit: on the new one, through adapters, or off."""
        port, theirs = (
            self.old.port(joint.parent_port),
            self.bench.catalogue.model_of(joint.child).port(joint.child_port),
        )
        given = self._ports.get(port.id)
        if given and mates(self.new.port(given), theirs):
            return
        found = self._match(port, theirs)
        if found is not None:
            self._keep(port, found)
            return
        wide = self._match(port, theirs, loose=True)
        if wide is not None and self._bring(wide, joint.child, theirs):
            self._keep(port, wide)
            return
        if wide is not None and self.bench.catalogue.model_of(joint.child).adapter and self._past(wide, joint.child):
            self._keep(port, wide)
            return
        self._before.append(Detach(unit=joint.child))
        self._gone |= set(self.bench.build.subtree(joint.child))

    def _bring(self, onto: Port, child: str, own: Port) -> bool:
        """A part onto a port of the new unit, as it is or through adapters that are free."""
        if mates(onto, own):
            self._after.append(Move(unit=child, unit_port=own.id, onto=self.by, onto_port=onto.id))
            return True
        chain = self.bench.chain(onto, own)
        steps = through(chain, self.by, onto.id) if chain else None
        if steps is None:
            return False
        last, last_port = steps[1]
        self._after += [*steps[0], Move(unit=child, unit_port=own.id, onto=last, onto_port=last_port)]
        return True

    def _past(self, onto: Port, adapter: str) -> bool:
        """What an adapter held, without it: the adapter is of no use on the new unit."""
        for joint in (j for j in self.bench.build.joints if j.parent == adapter):
            own = self.bench.catalogue.model_of(joint.child).port(joint.child_port)
            if self._bring(onto, joint.child, own):
                self._after.append(Detach(unit=adapter))
                return True
        return False

    def plug_in(self, link: Link) -> None:
        """A cable of the old unit: into the new one, or off."""
        for end, (unit, port_id) in (("a", (link.from_unit, link.from_port)), ("b", (link.to_unit, link.to_port))):
            if unit != self.unit or {link.cable, link.from_unit, link.to_unit} & self._gone:
                continue
            port, plug = self.old.port(port_id), self.bench.catalogue.model_of(link.cable).port(end)
            free = [p for p in self.new.ports if p.id not in self._used and mates(p, plug) and _same_way(p, port)]
            if free:
                self._keep(port, min(free, key=lambda p: p.id != port.id))
            else:
                self._before.append(Disconnect(cable=link.cable))
                self._gone.add(link.cable)

    def _match(self, port: Port, other: Port, *, loose: bool = False) -> Port | None:
        """The free port of the new unit that is most like one of the old: by its name, then where it faces."""
        fitting = [
            p
            for p in self.new.ports
            if p.id not in self._used and (mates(p, other) or (loose and _alike(self.bench, p, other)))
        ]
        return min(
            fitting,
            key=lambda p: (p.id != port.id, -sum(a * b for a, b in zip(p.n, port.n, strict=True))),
            default=None,
        )

    def _keep(self, port: Port, found: Port) -> None:
        self._ports[port.id] = found.id
        if found.takes <= 1:
            self._used.add(found.id)


def _alike(bench: Bench, port: Port, other: Port) -> bool:
    """A port of the family of another that adapters may lead to."""
    interfaces = bench.catalogue.interfaces
    return (
        not is_socket(bench.catalogue, port)
        and interfaces[port.interface].kind == interfaces[other.interface].kind
        and port.gender != other.gender
    )


def _same_way(port: Port, old: Port) -> bool:
    if port.electrical or old.electrical:
        return bool(port.electrical and old.electrical and port.electrical.role == old.electrical.role)
    return bool(port.signal and old.signal and port.signal.what == old.signal.what)
