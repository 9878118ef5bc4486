"""Ways to feed a device from what is on the shelf: a cable, a pack, or both through a
dummy pack, converter, plate or mains adapter; two feeds exchanged.

Whether a way is safe is for the evaluation to say; those that cannot be are left out where
one look at two plugs tells. Formulas: docs/formulas.md §5.
"""

from __future__ import annotations

from collections.abc import Iterator

import numpy as np

from ..gear.model import GearModel, Port, mates
from ..rig.edits import Attach, Disconnect, Operation, Replace
from .bench import Bench, free_ports, is_socket, links_between, ways_on

__all__ = ["ways_to_feed", "ways_to_replace_pack"]

Steps = tuple[Operation, ...]
Socket = tuple[str, Port]
_PLACES = 2
"""Places nearest the device at which something that must hang somewhere is tried."""


def ways_to_feed(bench: Bench, sink: str) -> Iterator[Steps]:
    """Every way to feed a device otherwise, its present power cables taken off first; the fewest operations first."""
    off = [
        link.cable
        for link in bench.build.links
        if any(f.cable == link.cable and f.sink == sink for f in bench.stand.graph.feeds)
    ]
    first: Steps = tuple(Disconnect(cable=cable) for cable in off)
    without = bench.after(first)
    cables = [*_cables(bench), *off]
    inlets = [
        p
        for p in bench.catalogue.model_of(sink).ports
        if _role(p) == "in" and (p in _free(without, sink) or is_socket(bench.catalogue, p))
    ]
    outlets = _outlets(without)
    direct: list[Steps] = []
    for inlet in inlets:
        if is_socket(bench.catalogue, inlet):
            ways = [
                (*first, link)
                for outlet in outlets
                if _could(without, outlet, inlet)
                for link in links_between(bench.catalogue, cables, outlet, (sink, inlet))
            ]
            direct += ways
            yield from ways
        else:
            yield from ((*first, way) for way in _packs_on(without, sink, inlet))
    through = False
    for inlet in inlets:
        for unit in _between(bench):
            for steps in _through(without, unit, (sink, inlet), outlets, cables):
                through = True
                yield (*first, *steps)
    if not direct and not through:
        for inlet in inlets:
            yield from ((*first, *steps) for steps in _through_two(without, (sink, inlet), cables))
    if not direct:
        yield from _exchanged(bench, sink, first, inlets, cables)


def ways_to_replace_pack(bench: Bench, pack: str) -> Iterator[Steps]:
    """A dummy pack in the slot of a pack, fed from outlets of the build that the pack does not feed itself."""
    joint = bench.build.joint_of(pack)
    if joint is None:
        return
    slot = bench.catalogue.model_of(joint.parent).port(joint.parent_port)
    behind = {pack, *bench.stand.graph.downstream(pack)}
    outlets = [outlet for outlet in _outlets(bench) if outlet[0] not in behind]
    for unit in _between(bench):
        model = bench.catalogue.model_of(unit)
        if any(p.id == joint.child_port and _role(p) == "out" and mates(p, slot) for p in model.ports):
            inlets = [p for p in model.ports if _role(p) == "in" and is_socket(bench.catalogue, p)]
            yield from (
                (Replace(unit=pack, by=unit), link)
                for inlet in inlets
                for outlet in outlets
                if _could(bench, outlet, inlet)
                for link in links_between(bench.catalogue, _cables(bench), outlet, (unit, inlet))
            )


def _role(port: Port) -> str | None:
    return port.electrical.role if port.electrical else None


def _could(bench: Bench, outlet: Socket, inlet: Port) -> bool:
    """False where what the outlet gives can never suit the input."""
    gives, takes = outlet[1].electrical, inlet.electrical
    if gives is None or takes is None or gives.polarity != takes.polarity:
        return False
    volts = gives.output_v or (bench.stand.graph.top_v(outlet[0]) if outlet[0] in bench.build.units else None)
    return volts is None or bool(gives.steps and takes.steps) or (takes.min_v or 0.0) <= volts <= (takes.max_v or volts)


def _cables(bench: Bench) -> list[str]:
    return [unit for unit in bench.sound() if bench.catalogue.model_of(unit).is_cable]


def _outlets(bench: Bench) -> list[Socket]:
    """Free outlets of the build that take a cable, one of those alike."""
    found = [
        (unit, port)
        for unit, port in free_ports(bench.stand.assembly)
        if _role(port) == "out" and is_socket(bench.catalogue, port)
    ]
    return list({(unit, port.interface, port.electrical): (unit, port) for unit, port in reversed(found)}.values())[
        ::-1
    ]


def _free(bench: Bench, unit: str) -> list[Port]:
    return [port for owner, port in free_ports(bench.stand.assembly) if owner == unit]


def _one_of_each(bench: Bench) -> Iterator[tuple[str, GearModel]]:
    """The first sound unit of every model on the shelf."""
    seen: set[str] = set()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        if model.id not in seen:
            seen.add(model.id)
            yield unit, model


def _packs_on(bench: Bench, onto: str, port: Port) -> Iterator[Attach]:
    for unit, model in _one_of_each(bench):
        if model.kind == "pack":
            yield from ways_on(bench, unit, onto, port)[:1]


def _between(bench: Bench) -> Iterator[str]:
    """Things that pass power on and draw none: dummy packs, converters,
    plates; and mains adapters, which begin a chain.
    """
    for unit, model in _one_of_each(bench):
        if (
            model.kind != "pack"
            and not model.body
            and not model.gimbal
            and model.draw is None
            and any(_role(p) == "out" for p in model.ports)
        ):
            yield unit


def _through(bench: Bench, unit: str, sink: Socket, outlets: list[Socket], cables: list[str]) -> Iterator[Steps]:
    """Feed an input through one more thing: hang it, join it to the input, and feed it."""
    model = bench.catalogue.model_of(unit)
    inputs = [p for p in model.ports if _role(p) == "in"]
    for steps, used in _hung(bench, unit, sink, cables):
        if not inputs:
            yield steps
        for port in inputs:
            if is_socket(bench.catalogue, port):
                left = [cable for cable in cables if cable not in used]
                yield from (
                    (*steps, feed)
                    for outlet in outlets
                    if _could(bench, outlet, port)
                    for feed in links_between(bench.catalogue, left, outlet, (unit, port))
                )
            else:
                for pack, theirs in _one_of_each(bench):
                    own = next((p for p in theirs.ports if theirs.kind == "pack" and mates(p, port)), None)
                    if own:
                        yield (*steps, Attach(unit=pack, unit_port=own.id, onto=unit, onto_port=port.id))


def _through_two(bench: Bench, sink: Socket, cables: list[str]) -> Iterator[Steps]:
    """Feed an input through two more things, one behind the other: where one alone has no way."""
    between = list(_between(bench))
    for near in between:
        inputs = [p for p in bench.catalogue.model_of(near).ports if _role(p) == "in"]
        for steps, used in _hung(bench, near, sink, cables) if inputs else ():
            placed = bench.after(steps)
            left = [cable for cable in cables if cable not in used]
            outlets = [outlet for outlet in _outlets(placed) if outlet[0] != near]
            for port in inputs:
                for far in between:
                    if far != near:
                        yield from ((*steps, *more) for more in _through(placed, far, (near, port), outlets, left))


def _hung(bench: Bench, unit: str, sink: Socket, cables: list[str]) -> Iterator[tuple[Steps, frozenset[str]]]:
    """Ways to hang a thing so that an outlet of it is joined to an input, and the cable that takes."""
    catalogue, (device, inlet) = bench.catalogue, sink
    for out in catalogue.model_of(unit).ports:
        if _role(out) != "out" or not _could(bench, (unit, out), inlet):
            continue
        if is_socket(catalogue, inlet):
            yield from (
                ((place, link), frozenset({link.cable}))
                for place in _places(bench, unit, device)
                for link in links_between(catalogue, cables, (unit, out), sink)
            )
        else:
            yield from (
                ((way,), frozenset[str]()) for way in ways_on(bench, unit, device, inlet) if way.unit_port == out.id
            )


def _places(bench: Bench, unit: str, near: str) -> list[Attach]:
    """The places nearest a device that take a thing."""
    assembly = bench.stand.assembly
    if near not in assembly.row:
        return []
    at = assembly.pose(near).point(np.zeros(3))
    ways = [
        (float(np.linalg.norm(assembly.port_at(onto, port.id) - at)), way)
        for onto, port in free_ports(bench.stand.assembly)
        if not port.electrical and onto in assembly.row
        for way in ways_on(bench, unit, onto, port)[:1]
    ]
    return [way for _, way in sorted(ways, key=lambda pair: pair[0])[:_PLACES]]


def _exchanged(bench: Bench, sink: str, first: Steps, inlets: list[Port], cables: list[str]) -> Iterator[Steps]:
    """The outlet of another device for this one, and another outlet for that."""
    catalogue = bench.catalogue
    for feed in bench.stand.graph.feeds:
        inlet_there = catalogue.model_of(feed.sink).port(feed.inlet)
        if feed.cable is None or feed.sink == sink:
            continue
        both: Steps = (*first, Disconnect(cable=feed.cable))
        outlet = (feed.source, catalogue.model_of(feed.source).port(feed.outlet))
        others = [
            other for other in _outlets(bench.after(both)) if other != outlet and _could(bench, other, inlet_there)
        ]
        for inlet in inlets:
            if not is_socket(catalogue, inlet) or not _could(bench, outlet, inlet):
                continue
            for link in links_between(catalogue, [*cables, feed.cable], outlet, (sink, inlet)):
                left = [cable for cable in (*cables, feed.cable) if cable != link.cable]
                yield from (
                    (*both, link, back)
                    for other in others
                    for back in links_between(catalogue, left, other, (feed.sink, inlet_there))
                )
