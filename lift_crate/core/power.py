"""Who feeds whom, and for how long: the power graph of a build and simulated discharge.

Formulas: docs/formulas.md §5. A feed runs from an outlet to an input, through a
joint that carries power (pack on plate) or through a cable.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from .assembly import Assembly
from .gear import GearModel, Port, mates
from .geometry import Array
from .wiring import Electrical, Pack

__all__ = [
    "FULL_CELL_V",
    "Branch",
    "Discharge",
    "Feed",
    "Flow",
    "LoadTree",
    "PowerGraph",
    "capacity_factor",
    "discharge",
    "negotiated",
    "pack_current_a",
    "power_graph",
    "resistance_factor",
    "settled",
    "two_sources",
]

FULL_CELL_V = 4.20
_CHARGE = np.array([0, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]) / 100
_OPEN_CELL_V = np.array([3.00, 3.35, 3.50, 3.62, 3.68, 3.72, 3.77, 3.83, 3.90, 3.97, 4.06, 4.20])
_STEP = 0.01
_SETTLED_W = 1e-5
"""Load and voltage agree when the load moves by less."""


def capacity_factor(temperature_c: float) -> float:
    """Share of a pack's capacity left at a temperature, 1 at 20 °C and above (setting)."""
    return float(np.interp(temperature_c, [-20, -10, 0, 10, 20], [0.50, 0.70, 0.85, 0.95, 1.0]))


def resistance_factor(temperature_c: float) -> float:
    """How much a pack's resistance grows in the cold, 1 at 20 °C and above (setting)."""
    return float(np.interp(temperature_c, [-10, 0, 10, 20], [3.5, 2.0, 1.4, 1.0]))


def pack_current_a(open_v: Array, resistance_ohm: float, load_w: Array) -> Array:
    """Current that delivers a power through a resistance: I = (V − √(V² − 4RP))/2R.

    Shapes as given; NaN where the pack cannot deliver.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        return _current(open_v, resistance_ohm, load_w)


def _current(open_v: Array, resistance_ohm: float, load_w: Array) -> Array:
    if resistance_ohm <= 0:
        return np.asarray(load_w / open_v)
    return np.asarray((open_v - np.sqrt(open_v * open_v - 4 * resistance_ohm * load_w)) / (2 * resistance_ohm))


@dataclass(frozen=True, slots=True, eq=False)
class Discharge:
    """A pack running down: hours until ``ended_by``, with charge, volts and amps per step."""

    hours: float
    ended_by: str
    charge: Array
    terminal_v: Array
    current_a: Array
    load_w: Array

    @property
    def end_charge(self) -> float:
        """Share of charge at the end of the last step that still ran; 1 when none did."""
        return float(self.charge[-1]) - _STEP / 2 if len(self.charge) else 1.0


def discharge(
    pack: Pack,
    load: Callable[[Array], tuple[Array, Mapping[str, Array]]],
    *,
    reserve: float = 0.10,
    health: float = 1.0,
    temperature_c: float = 20.0,
    resistance_scale: float | None = None,
) -> Discharge:
    """Run a pack from full to empty in steps of 1 % of charge, current at the step's middle.

    ``load`` takes terminal voltages, shape (k,), and returns the power in W at the
    terminals and, per device, its margin in V above the voltage it stops at (all of
    shape (k,)). Ends at ``reserve``, at the first device that stops, or when the
    pack cannot deliver. ``resistance_scale`` replaces the factor of temperature.
    """
    charge = np.arange(1.0 - _STEP / 2, reserve, -_STEP)
    scale = resistance_factor(temperature_c) if resistance_scale is None else resistance_scale
    terminal, current, power, margins = _settled(pack, charge, pack.resistance_ohm * scale, load)
    stop, ended_by = len(charge), "reserve"
    for device, margin in margins.items():
        below = np.flatnonzero(~(margin >= 0))
        if len(below) and below[0] < stop:
            stop, ended_by = int(below[0]), device
    undelivered = np.flatnonzero(np.isnan(current))
    if len(undelivered) and undelivered[0] <= stop:
        stop, ended_by = int(undelivered[0]), "pack cannot deliver"
    amp_hours = pack.capacity_ah * health * capacity_factor(temperature_c) * _STEP
    hours = float((amp_hours / current[:stop]).sum()) if stop and current[0] > 0 else (0.0 if not stop else np.inf)
    return Discharge(hours, ended_by, charge[:stop], terminal[:stop], current[:stop], power[:stop])


def settled(
    pack: Pack, charge: Array, temperature_c: float, load: Callable[[Array], tuple[Array, Mapping[str, Array]]]
) -> tuple[Array, Array, Array, Mapping[str, Array]]:
    """Terminal V, current A, load W and margins V of a pack at each charge, where load and voltage agree; NaN where they cannot."""
    return _settled(pack, charge, pack.resistance_ohm * resistance_factor(temperature_c), load)


def _settled(
    pack: Pack, charge: Array, resistance_ohm: float, load: Callable[[Array], tuple[Array, Mapping[str, Array]]]
) -> tuple[Array, Array, Array, Mapping[str, Array]]:
    """Terminal V, current A, load W and margins V at each charge, where load and voltage agree; NaN where they cannot."""
    open_v = np.asarray(pack.cells * np.interp(charge, _CHARGE, _OPEN_CELL_V))
    terminal = open_v
    current = np.zeros_like(open_v)
    power: Array = current
    margins: Mapping[str, Array] = {}
    with np.errstate(invalid="ignore", divide="ignore"):
        for _ in range(25):
            before = power
            power, margins = load(terminal)
            current = _current(open_v, resistance_ohm, power)
            terminal = open_v - current * resistance_ohm
            if not np.fmax.reduce(np.abs(power - before), axis=None, initial=0.0) > _SETTLED_W:
                break
    return terminal, current, power if power.shape == open_v.shape else np.broadcast_to(power, open_v.shape), margins


def _side_by_side(packs: Sequence[tuple[Pack, float]]) -> Pack:
    """Packs of as many cells that share a load, by their health, as one: Ah add up, 1/R adds up."""
    ohm = 1 / sum(1 / pack.resistance_ohm for pack, _ in packs) if all(pack.resistance_ohm > 0 for pack, _ in packs) else 0.0
    return Pack(cells=min(pack.cells for pack, _ in packs), capacity_ah=sum(pack.capacity_ah * health for pack, health in packs), resistance_ohm=ohm)


def _one_after_the_other(runs: Sequence[Discharge]) -> Discharge:
    """Packs of which the next takes over when one ends: their hours add up; the last one's end is the end."""
    last = runs[-1]
    joined = [np.concatenate([getattr(run, name) for run in runs]) for name in ("charge", "terminal_v", "current_a", "load_w")]
    return Discharge(sum(run.hours for run in runs), last.ended_by, *joined)


@dataclass(frozen=True, slots=True)
class Feed:
    """One way from an outlet to an input, by a joint or by a cable."""

    source: str
    outlet: str
    sink: str
    inlet: str
    cable: str | None
    ohm: float
    connects: bool
    """Plugs and polarity agree all the way, and a negotiated supply has a step for both."""
    reason: str = ""
    volts: float | None = None
    """What a negotiated supply or a converter gives; None: the source's own voltage."""


@dataclass(frozen=True, slots=True)
class Flow:
    """What goes along a feed: volts where it leaves and where it arrives, amps through it, watts at the outlet."""

    out_v: float
    arriving_v: float
    amps: float

    @property
    def drop_v(self) -> float:
        """What the cable takes."""
        return self.out_v - self.arriving_v

    @property
    def watts(self) -> float:
        """At the outlet."""
        return self.out_v * self.amps


@dataclass(frozen=True, eq=False)
class Branch:
    """One feed of a load tree: converter, cable, and the voltage its device stops at."""

    sink: str
    tree: LoadTree
    output_v: float | None
    efficiency: float
    ohm: float
    stop_v: float

    def taken(self, at_v: Array) -> tuple[Array, Mapping[str, Array]]:
        """Power in W at the outlet, converter not counted, and the margins of all behind it; shapes broadcast to ``at_v``'s."""
        return self._taken(at_v) if self.output_v is None else self._behind_converter

    @cached_property
    def _behind_converter(self) -> tuple[Array, Mapping[str, Array]]:
        return self._taken(np.full(1, self.output_v))

    def _taken(self, volts: Array) -> tuple[Array, Mapping[str, Array]]:
        taken, behind = self.tree.at(volts)
        arriving = volts
        if self.ohm > 0:
            for _ in range(1 if self.tree.steady else 12):
                before = taken
                arriving = volts - _current(volts, self.ohm, taken) * self.ohm
                if self.tree.steady and not behind:
                    break
                taken, behind = self.tree.at(arriving)
                if not np.fmax.reduce(np.abs(taken - before), axis=None, initial=0.0) > _SETTLED_W:
                    break
            taken = volts * _current(volts, self.ohm, taken)
        return taken, behind if self.output_v is not None else {**behind, self.sink: arriving - self.stop_v}


@dataclass(frozen=True, eq=False)
class LoadTree:
    """What a unit draws itself, W, and what it feeds."""

    draw_w: float
    branches: tuple[Branch, ...]

    @cached_property
    def steady(self) -> bool:
        """True when the power does not depend on the voltage: no cable behind it carries pack voltage."""
        return all(b.output_v is not None or (b.ohm == 0 and b.tree.steady) for b in self.branches)

    def at(self, at_v: Array) -> tuple[Array, dict[str, Array]]:
        """Power in W at the unit's terminals and, per device, volts above its stop; shapes broadcast to ``at_v``'s.

        Cable losses and converters included: P = Σ (draw + I²·R)/η. A device behind a
        converter has no margin of its own: the converter's input has.
        """
        power = np.asarray(self.draw_w)
        margins: dict[str, Array] = {}
        for branch in self.branches:
            taken, behind = branch.taken(at_v)
            margins.update(behind)
            power = power + taken / branch.efficiency
        return power, margins


@dataclass(frozen=True, eq=False)
class PowerGraph:
    """Feeds of a build: who feeds whom, the packs, and everything that draws."""

    assembly: Assembly
    feeds: tuple[Feed, ...]
    circle: tuple[str, ...]
    """Units that feed each other in a circle; empty when there is none."""

    @cached_property
    def _feeds_in_use(self) -> dict[str, Feed]:
        found: dict[str, Feed] = {}
        for unit in {feed.sink for feed in self.feeds}:
            inlets = [port.id for port in _model(self.assembly, unit).ports]
            own = [feed for feed in self.feeds if feed.sink == unit and feed.connects]
            if own:
                found[unit] = min(own, key=lambda feed: inlets.index(feed.inlet))
        return found

    def feed_of(self, unit: str) -> Feed | None:
        """The feed a unit runs on: the first of its inputs, in its model's order, that is fed."""
        return self._feeds_in_use.get(unit)

    @cached_property
    def _by_source(self) -> dict[str, tuple[Feed, ...]]:
        found: dict[str, list[Feed]] = defaultdict(list)
        for feed in self.feeds:
            if feed.connects and self.feed_of(feed.sink) is feed:
                found[feed.source].append(feed)
        return {unit: tuple(feeds) for unit, feeds in found.items()}

    def fed_by(self, unit: str) -> tuple[Feed, ...]:
        """Feeds that run on a unit's outlets."""
        return self._by_source.get(unit, ())

    def partners(self, pack: str) -> tuple[str, ...]:
        """Other packs on the same plate, where the plate is made for more than one, in the order of its ports."""
        feed = next((f for f in self.feeds if f.source == pack and f.connects), None)
        if feed is None or _model(self.assembly, feed.sink).twin is None:
            return ()
        order = [port.id for port in _model(self.assembly, feed.sink).ports]
        others = [f for f in self.feeds if f.sink == feed.sink and f.connects and f.source != pack and _model(self.assembly, f.source).pack]
        return tuple(f.source for f in sorted(others, key=lambda f: order.index(f.inlet)))

    def twin_of(self, pack: str) -> Literal["parallel", "in turn"] | None:
        """How a pack runs with its partners; None where it has none."""
        feed = next((f for f in self.feeds if f.source == pack and f.connects), None)
        return _model(self.assembly, feed.sink).twin if feed and self.partners(pack) else None

    def mains(self) -> tuple[str, ...]:
        """Units that give a voltage of their own, are fed by nothing and have no cells: mains adapters."""
        return tuple(
            unit for unit in self.assembly.parts
            if self.fed_by(unit) and not (model := _model(self.assembly, unit)).pack and not any(p.electrical and p.electrical.role == "in" for p in model.ports)
        )  # fmt: skip

    def packs(self) -> tuple[str, ...]:
        """Units with cells in them that feed something, or themselves draw."""
        return tuple(
            unit for unit in self.assembly.parts
            if (model := _model(self.assembly, unit)).pack and not self.feed_of(unit) and (self.fed_by(unit) or self.assembly.catalogue.draw_of(unit)[0] or model.gimbal)
        )  # fmt: skip

    def downstream(self, unit: str) -> tuple[str, ...]:
        """Everything that goes dark with a unit, outwards."""
        found: list[str] = []
        for feed in self.fed_by(unit):
            found += [feed.sink, *self.downstream(feed.sink)]
        return tuple(found)

    def draw_w(self, unit: str, extra_w: Mapping[str, float]) -> float:
        """What a unit itself draws while recording, W."""
        draw, _ = self.assembly.catalogue.draw_of(unit)
        return (draw.record_w if draw else 0.0) + extra_w.get(unit, 0.0)

    def load_tree(self, unit: str, extra_w: Mapping[str, float]) -> LoadTree:
        """What a unit and everything behind it draws, ready to be asked at any voltage."""
        branches = []
        for feed in self.fed_by(unit):
            outlet, inlet = self.electrical(feed.source, feed.outlet), self.electrical(feed.sink, feed.inlet)
            stop_v = inlet.cutoff_v or inlet.min_v or 0.0
            branches.append(Branch(feed.sink, self.load_tree(feed.sink, extra_w), feed.volts, outlet.efficiency, feed.ohm, stop_v))
        return LoadTree(self.draw_w(unit, extra_w), tuple(branches))

    def load(self, unit: str, extra_w: Mapping[str, float], at_v: Array) -> tuple[Array, dict[str, Array]]:
        """Power in W that a unit takes at its terminals, and margins of all devices behind it; shapes as ``at_v``."""
        with np.errstate(invalid="ignore", divide="ignore"):
            power, margins = self.load_tree(unit, extra_w).at(at_v)
        return np.broadcast_to(power, at_v.shape), margins

    def run_down(self, pack_unit: str, extra_w: Mapping[str, float], *, reserve: float, temperature_c: float) -> Discharge:
        """Simulated discharge of one pack of the build, and of those on the same plate, under everything it feeds."""
        load = self.load_tree(pack_unit, extra_w).at
        runs = [discharge(pack, load, reserve=reserve, health=health, temperature_c=temperature_c) for pack, health in self.cells_of(pack_unit)]
        return runs[0] if len(runs) == 1 else _one_after_the_other(runs)

    def cells_of(self, pack_unit: str) -> tuple[tuple[Pack, float], ...]:
        """What runs down one after the other, each with its health: the pack and its partners; packs that share the load as one."""
        every = []
        for name in (pack_unit, *self.partners(pack_unit)):
            pack = _model(self.assembly, name).pack
            if pack is None:
                raise ValueError(f"{name} has no cells in it.")
            every.append((pack, self.assembly.catalogue.unit(name).health_left))
        return ((_side_by_side(every), 1.0),) if self.twin_of(pack_unit) == "parallel" else tuple(every)

    def at_peak(self, unit: str, extra_w: Mapping[str, float]) -> dict[str, float]:
        """Watts on top of recording when, of a unit and all behind it, the one that rises most is at its peak."""
        highest = max((unit, *self.downstream(unit)), key=self._rise_w)
        return {**extra_w, highest: extra_w.get(highest, 0.0) + max(0.0, self._rise_w(highest))}

    def all_at_peak(self, unit: str, extra_w: Mapping[str, float]) -> dict[str, float]:
        """Watts on top of recording with a unit and all behind it at their peaks at once: no current is ever above this one's."""
        return {**extra_w, **{name: extra_w.get(name, 0.0) + max(0.0, self._rise_w(name)) for name in (unit, *self.downstream(unit))}}

    def _rise_w(self, device: str) -> float:
        draw, _ = self.assembly.catalogue.draw_of(device)
        return draw.peak_w - draw.record_w if draw else 0.0

    def pack_at(self, pack_unit: str, charge: float, extra_w: Mapping[str, float], temperature_c: float) -> tuple[float, float]:
        """Terminal V and current A of a pack at one charge under everything it feeds; NaN when it cannot deliver."""
        pack, _ = self.cells_of(pack_unit)[0]
        resistance = pack.resistance_ohm * resistance_factor(temperature_c)
        volts, amps, _, _ = _settled(pack, np.array([charge]), resistance, self.load_tree(pack_unit, extra_w).at)
        return float(volts[0]), float(amps[0])

    def flows(self, unit: str, at_v: float, extra_w: Mapping[str, float]) -> dict[Feed, Flow]:
        """What goes along every feed behind a unit whose terminals are at a voltage, nearest first; feeds that do not run are left out.

        Every current is that of the voltage at its device's own terminals: the drop of
        its own cable and of all that lies before it is counted.
        """
        with np.errstate(invalid="ignore", divide="ignore"):
            return self._flows(unit, self.load_tree(unit, extra_w), at_v)

    def _flows(self, unit: str, tree: LoadTree, at_v: float) -> dict[Feed, Flow]:
        found: dict[Feed, Flow] = {}
        for feed, branch in zip(self.fed_by(unit), tree.branches, strict=True):
            out_v = feed.volts or at_v
            arriving, amps, before = out_v, 0.0, -1.0
            for _ in range(40):
                taken = float(np.asarray(branch.tree.at(np.array([arriving]))[0]).ravel()[0])
                amps = float(_current(np.array([out_v]), feed.ohm, np.array([taken]))[0])
                arriving = out_v - amps * feed.ohm
                if branch.tree.steady or not abs(taken - before) > _SETTLED_W:
                    break
                before = taken
            if np.isnan(amps):
                continue
            found[feed] = Flow(out_v, arriving, amps)
            found |= self._flows(feed.sink, branch.tree, arriving)
        return found

    def top_v(self, unit: str) -> float | None:
        """Highest voltage at a unit's terminals; None when nothing feeds it."""
        feed = self.feed_of(unit)
        if feed:
            return feed.volts or self.top_v(feed.source)
        pack = _model(self.assembly, unit).pack
        return FULL_CELL_V * pack.cells if pack else None

    def electrical(self, unit: str, port_id: str) -> Electrical:
        """Electrical data of a port that has some."""
        data = _model(self.assembly, unit).port(port_id, unit).electrical
        if data is None:
            raise ValueError(f"'{port_id}' of {unit} carries no power.")
        return data


def _model(assembly: Assembly, unit: str) -> GearModel:
    return assembly.catalogue.model_of(unit)


def power_graph(assembly: Assembly) -> PowerGraph:
    """Find all feeds of a build, whether they are right or not."""
    feeds = [*_joint_feeds(assembly), *_cable_feeds(assembly)]
    circle = _find_circle(feeds)
    if circle:
        feeds = [f for f in feeds if not (f.source in circle and f.sink in circle)]
    return PowerGraph(assembly, tuple(feeds), circle)


def _joint_feeds(assembly: Assembly) -> list[Feed]:
    found = []
    for joint, parent, child in assembly.joint_ports:
        if not assembly.catalogue.interfaces[parent.interface].carries_power:
            continue
        source, sink = _by_role([(joint.parent, parent), (joint.child, child)])
        if source and sink and mates(source[1], sink[1]):
            found.append(_feed(assembly, source, sink, None, 0.0, ""))
    return found


def _cable_feeds(assembly: Assembly) -> list[Feed]:
    found = []
    for link in assembly.build.links:
        ends = [
            (unit, _model(assembly, unit).port(port_id, unit))
            for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        ]
        source, sink = _by_role(ends)
        if not (source and sink):
            continue
        cable = _model(assembly, link.cable)
        plug_a, plug_b = cable.port("a", link.cable), cable.port("b", link.cable)
        reason = _plug_reason(link.cable, plug_a, ends[0]) or _plug_reason(link.cable, plug_b, ends[1])
        polarity = [e.polarity for e in (source[1].electrical, sink[1].electrical) if e]
        if not reason and len(set(polarity)) > 1:
            reason = f"the outlet of {source[0]} is {polarity[0]}, the input of {sink[0]} wants {polarity[1]}"
        ohm = 2 * cable.cable.length_mm * 1e-3 * cable.cable.ohm_per_m if cable.cable else 0.0
        found.append(_feed(assembly, source, sink, link.cable, ohm, reason or ""))
    return found


def _feed(assembly: Assembly, source: tuple[str, Port], sink: tuple[str, Port], cable: str | None, ohm: float, reason: str) -> Feed:
    outlet, inlet = source[1].electrical, sink[1].electrical
    volts = outlet.output_v if outlet else None
    if outlet and inlet and outlet.steps and inlet.steps:
        draw, _ = assembly.catalogue.draw_of(sink[0])
        peak_w = draw.peak_w if draw else 0.0
        step = negotiated(outlet, inlet, peak_w)
        if step is None and not reason:
            reason = f"{source[0]} and {sink[0]} agree on no voltage that carries {peak_w:.0f} W"
        volts = step if step is not None else volts
    return Feed(source[0], source[1].id, sink[0], sink[1].id, cable, ohm, not reason, reason, volts)


def negotiated(outlet: Electrical, inlet: Electrical, peak_w: float) -> float | None:
    """The highest voltage step that both know and that carries the peak, V·I ≥ P; None where there is none."""
    asked = dict(inlet.steps)
    shared = [volts for volts, amps in outlet.steps if volts in asked and volts * min(amps, asked[volts]) >= peak_w]
    return max(shared, default=None)


def two_sources(assembly: Assembly) -> list[tuple[str, str, str]]:
    """Cables from an outlet to an outlet: the cable and both units."""
    found = []
    for link in assembly.build.links:
        ends = [_model(assembly, unit).port(port_id, unit).electrical for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))]
        if all(end and end.role == "out" for end in ends):
            found.append((link.cable, link.from_unit, link.to_unit))
    return found


def _plug_reason(cable: str, plug: Port, end: tuple[str, Port]) -> str | None:
    unit, socket = end
    if mates(plug, socket):
        return None
    return f"end '{plug.label}' of {cable} does not mate with '{socket.label}' of {unit}"


def _by_role(ends: list[tuple[str, Port]]) -> tuple[tuple[str, Port] | None, tuple[str, Port] | None]:
    """(source end, sink end) of two ends, None where there is no such role."""
    by_role: dict[str, tuple[str, Port]] = {}
    for end in ends:
        if end[1].electrical:
            by_role[end[1].electrical.role] = end
    return by_role.get("out"), by_role.get("in")


def _find_circle(feeds: list[Feed]) -> tuple[str, ...]:
    onwards: dict[str, list[str]] = defaultdict(list)
    for feed in feeds:
        onwards[feed.source].append(feed.sink)
    for start in list(onwards):
        trail, todo = {start: ""}, [start]
        while todo:
            at = todo.pop()
            for sink in onwards[at]:
                if sink == start:
                    circle = [at]
                    while trail[circle[-1]]:
                        circle.append(trail[circle[-1]])
                    return tuple(reversed(circle))
                if sink not in trail:
                    trail[sink] = at
                    todo.append(sink)
    return ()
