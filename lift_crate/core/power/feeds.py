"""Who feeds whom, and for how long: the power graph of a build and simulated discharge.

Formulas: docs/formulas.md §5. A feed runs from an outlet to an input, through a
joint that carries power (pack on plate) or through a cable.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property
from typing import Literal

import numpy as np

from ..gear.electrical import Electrical, Pack
from ..gear.model import GearModel, Port, mates
from ..geometry import Array
from ..rig.build import Catalogue
from ..rig.layout import Layout
from .discharge import (
    FULL_CELL_V,
    SETTLED_W,
    Branch,
    Discharge,
    LoadTree,
    Volts,
    agreed,
    current_a,
    discharge,
    one_after_the_other,
    open_v,
    resistance_factor,
    side_by_side,
)

__all__ = ["Feed", "Flow", "PowerGraph", "negotiated", "power_graph", "two_sources"]


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
class PowerGraph:
    """Feeds of a build: who feeds whom, the packs, and everything that draws."""

    layout: Layout
    feeds: tuple[Feed, ...]
    circle: tuple[str, ...]
    """Units that feed each other in a circle; empty when there is none."""

    @cached_property
    def _feeds_in_use(self) -> dict[str, Feed]:
        found: dict[str, Feed] = {}
        for unit in {feed.sink for feed in self.feeds}:
            inlets = [port.id for port in _model(self.layout, unit).ports]
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
        if feed is None or _model(self.layout, feed.sink).twin is None:
            return ()
        order = [port.id for port in _model(self.layout, feed.sink).ports]
        others = [
            f
            for f in self.feeds
            if f.sink == feed.sink and f.connects and f.source != pack and _model(self.layout, f.source).pack
        ]
        return tuple(f.source for f in sorted(others, key=lambda f: order.index(f.inlet)))

    def twin_of(self, pack: str) -> Literal["parallel", "in turn"] | None:
        """How a pack runs with its partners; None where it has none."""
        feed = next((f for f in self.feeds if f.source == pack and f.connects), None)
        return _model(self.layout, feed.sink).twin if feed and self.partners(pack) else None

    @cached_property
    def mains(self) -> tuple[str, ...]:
        """Units that give a voltage of their own, are fed by nothing and have no cells: mains adapters."""
        return tuple(
            unit
            for unit in self.layout.every_unit
            if self.fed_by(unit) and not (model := _model(self.layout, unit)).pack and not model.has_inlet
        )

    @cached_property
    def unfed(self) -> tuple[str, ...]:
        """Units that draw, have an input, no cells of their own, and nothing on any input."""
        return tuple(
            unit
            for unit in self.layout.every_unit
            if _model(self.layout, unit).has_inlet
            and not _model(self.layout, unit).pack
            and not self.feed_of(unit)
            and (draw := self.layout.catalogue.draw_of(unit)[0])
            and draw.record_w > 0
        )

    @cached_property
    def packs(self) -> tuple[str, ...]:
        """Units with cells in them that feed something, or themselves draw."""
        return tuple(
            unit
            for unit in self.layout.every_unit
            if (model := _model(self.layout, unit)).pack
            and not self.feed_of(unit)
            and (self.fed_by(unit) or self.layout.catalogue.draw_of(unit)[0] or model.gimbal)
        )

    def downstream(self, unit: str) -> tuple[str, ...]:
        """Everything that goes dark with a unit, outwards."""
        found: list[str] = []
        for feed in self.fed_by(unit):
            found += [feed.sink, *self.downstream(feed.sink)]
        return tuple(found)

    def draw_w(self, unit: str, extra_w: Mapping[str, float]) -> float:
        """What a unit itself draws while recording, W."""
        draw, _ = self.layout.catalogue.draw_of(unit)
        return (draw.record_w if draw else 0.0) + extra_w.get(unit, 0.0)

    def load_tree(self, unit: str, extra_w: Mapping[str, float]) -> LoadTree:
        """What a unit and everything behind it draws, ready to be asked at any voltage."""
        branches = []
        for feed in self.fed_by(unit):
            outlet, inlet = self.electrical(feed.source, feed.outlet), self.electrical(feed.sink, feed.inlet)
            stop_v = inlet.cutoff_v or inlet.min_v or 0.0
            branches.append(
                Branch(feed.sink, self.load_tree(feed.sink, extra_w), feed.volts, outlet.efficiency, feed.ohm, stop_v)
            )
        return LoadTree(self.draw_w(unit, extra_w), tuple(branches))

    def load(self, unit: str, extra_w: Mapping[str, float], at_v: Array) -> tuple[Array, dict[str, Volts]]:
        """Power in W that a unit takes at its terminals, and margins of all devices behind it; shapes as ``at_v``."""
        with np.errstate(invalid="ignore", divide="ignore"):
            power, margins = self.load_tree(unit, extra_w).at(at_v)
        return np.broadcast_to(power, at_v.shape), margins

    def run_down(
        self, pack_unit: str, extra_w: Mapping[str, float], *, reserve: float, temperature_c: float
    ) -> Discharge:
        """Simulated discharge of one pack of the build, and of those on the same plate, under everything it feeds."""
        load = self.load_tree(pack_unit, extra_w).at
        runs = [
            discharge(pack, load, reserve=reserve, health=health, temperature_c=temperature_c)
            for pack, health in self.cells_of(pack_unit)
        ]
        return runs[0] if len(runs) == 1 else one_after_the_other(runs)

    def cells_of(self, pack_unit: str) -> tuple[tuple[Pack, float], ...]:
        """What runs down one after the other, each with its health: the pack
        and its partners; packs that share the load as one.
        """
        every = []
        for name in (pack_unit, *self.partners(pack_unit)):
            pack = _model(self.layout, name).pack
            if pack is None:
                raise ValueError(f"{name} has no cells in it.")
            every.append((pack, self.layout.catalogue.unit(name).health_left))
        return ((side_by_side(every), 1.0),) if self.twin_of(pack_unit) == "parallel" else tuple(every)

    def at_peak(self, unit: str, extra_w: Mapping[str, float]) -> dict[str, float]:
        """Watts on top of recording when, of a unit and all behind it, the one that rises most is at its peak."""
        highest = max((unit, *self.downstream(unit)), key=self._rise_w)
        return {**extra_w, highest: extra_w.get(highest, 0.0) + max(0.0, self._rise_w(highest))}

    def all_at_peak(self, unit: str, extra_w: Mapping[str, float]) -> dict[str, float]:
        """Watts on top of recording with a unit and all behind it at their
        peaks at once: no current is ever above this one's.
        """
        return {
            **extra_w,
            **{name: extra_w.get(name, 0.0) + max(0.0, self._rise_w(name)) for name in (unit, *self.downstream(unit))},
        }

    def _rise_w(self, device: str) -> float:
        draw, _ = self.layout.catalogue.draw_of(device)
        return draw.peak_w - draw.record_w if draw else 0.0

    def pack_at(
        self, pack_unit: str, charge: float, extra_w: Mapping[str, float], temperature_c: float
    ) -> tuple[float, float]:
        """Terminal V and current A of a pack at one charge under everything it feeds; NaN when it cannot deliver."""
        pack, _ = self.cells_of(pack_unit)[0]
        resistance = pack.resistance_ohm * resistance_factor(temperature_c)
        volts, amps, _, _ = agreed(open_v(pack, charge), resistance, self.load_tree(pack_unit, extra_w).at)
        return float(volts), float(amps)

    def flows(self, unit: str, at_v: float, extra_w: Mapping[str, float]) -> dict[Feed, Flow]:
        """What goes along every feed behind a unit whose terminals are at a
        voltage, nearest first; feeds that do not run are left out.

        Every current is that of the voltage at its device's own terminals: the drop of
        its own cable and of all that lies before it is counted.
        """
        return self._flows(unit, self.load_tree(unit, extra_w), at_v)

    def _flows(self, unit: str, tree: LoadTree, at_v: float) -> dict[Feed, Flow]:
        found: dict[Feed, Flow] = {}
        for feed, branch in zip(self.fed_by(unit), tree.branches, strict=True):
            out_v = feed.volts or at_v
            arriving, amps, before = out_v, 0.0, -1.0
            for _ in range(40):
                taken = float(branch.tree.at(arriving)[0])
                amps = float(current_a(out_v, feed.ohm, taken))
                arriving = out_v - amps * feed.ohm
                if branch.tree.steady or not abs(taken - before) > SETTLED_W:
                    break
                before = taken
            if math.isnan(amps):
                continue
            found[feed] = Flow(out_v, arriving, amps)
            found |= self._flows(feed.sink, branch.tree, arriving)
        return found

    def top_v(self, unit: str) -> float | None:
        """Highest voltage at a unit's terminals; None when nothing feeds it."""
        feed = self.feed_of(unit)
        if feed:
            return feed.volts or self.top_v(feed.source)
        pack = _model(self.layout, unit).pack
        return FULL_CELL_V * pack.cells if pack else None

    def electrical(self, unit: str, port_id: str) -> Electrical:
        """Electrical data of a port that has some."""
        data = _model(self.layout, unit).port(port_id, unit).electrical
        if data is None:
            raise ValueError(f"'{port_id}' of {unit} carries no power.")
        return data


def _model(layout: Layout, unit: str) -> GearModel:
    return layout.catalogue.model_of(unit)


def power_graph(layout: Layout) -> PowerGraph:
    """Find all feeds of a build, whether they are right or not; slides and settings have no part in it."""
    feeds = [*_joint_feeds(layout), *_cable_feeds(layout)]
    circle = _find_circle(feeds)
    if circle:
        feeds = [f for f in feeds if not (f.source in circle and f.sink in circle)]
    return PowerGraph(layout, tuple(feeds), circle)


def _joint_feeds(layout: Layout) -> list[Feed]:
    found = []
    for unit, above, (parent, child) in layout.joined:
        if not layout.catalogue.interfaces[parent.interface].carries_power:
            continue
        source, sink = _by_role([(above, parent), (unit, child)])
        if source and sink and mates(source[1], sink[1]):
            found.append(_feed(layout.catalogue, source, sink, None, 0.0, ""))
    return found


def _cable_feeds(layout: Layout) -> list[Feed]:
    found, models = [], layout.catalogue
    for link in layout.every_link:
        ends = [
            (unit, models.model_of(unit).port(port_id, unit))
            for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        ]
        source, sink = _by_role(ends)
        if not (source and sink):
            continue
        cable = models.model_of(link.cable)
        plug_a, plug_b = cable.port("a", link.cable), cable.port("b", link.cable)
        reason = _plug_reason(link.cable, plug_a, ends[0]) or _plug_reason(link.cable, plug_b, ends[1])
        polarity = [e.polarity for e in (source[1].electrical, sink[1].electrical) if e]
        if not reason and len(set(polarity)) > 1:
            reason = f"the outlet of {source[0]} is {polarity[0]}, the input of {sink[0]} wants {polarity[1]}"
        ohm = 2 * cable.cable.length_mm * 1e-3 * cable.cable.ohm_per_m if cable.cable else 0.0
        found.append(_feed(models, source, sink, link.cable, ohm, reason or ""))
    return found


def _feed(
    catalogue: Catalogue, source: tuple[str, Port], sink: tuple[str, Port], cable: str | None, ohm: float, reason: str
) -> Feed:
    outlet, inlet = source[1].electrical, sink[1].electrical
    volts = outlet.output_v if outlet else None
    if outlet and inlet and outlet.steps and inlet.steps:
        draw, _ = catalogue.draw_of(sink[0])
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


def two_sources(layout: Layout) -> list[tuple[str, str, str]]:
    """Cables from an outlet to an outlet: the cable and both units."""
    found = []
    for link in layout.every_link:
        ends = [
            _model(layout, unit).port(port_id, unit).electrical
            for unit, port_id in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        ]
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
