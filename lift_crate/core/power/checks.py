"""Power findings over a build: voltages, plugs, currents, and hours against the need."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass
from functools import cached_property

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..recent import Recent
from ..rig.build import Conditions, Target
from ..rig.layout import Layout
from ..settings import Settings
from .discharge import FULL_CELL_V, Discharge, capacity_factor, resistance_factor
from .feeds import Feed, Flow, PowerGraph, power_graph, two_sources

__all__ = ["PackRun", "Power", "mains_findings", "power_of"]


@dataclass(frozen=True, eq=False)
class PackRun:
    """One pack of the build under its load: watts at the start, hours, and what ends it."""

    pack: str
    feeds: tuple[str, ...]
    discharge: Discharge
    energy_wh: float
    """As printed, of all packs that run with it."""
    healthy_wh: float
    """The same at their health."""
    partners: tuple[str, ...] = ()
    """Other packs on the same plate that run with it."""

    @property
    def load_w(self) -> float:
        """Watts at the pack's terminals, first step; 0 when it never starts."""
        return float(self.discharge.load_w[0]) if len(self.discharge.load_w) else 0.0

    @property
    def hours(self) -> float:
        """Hours until it ends."""
        return self.discharge.hours


@dataclass(frozen=True, eq=False)
class Power:
    """The packs of a build run down, and what stands against its power."""

    graph: PowerGraph
    extra_w: Mapping[str, float]
    """What supports and other units take besides, W."""
    mean_w: Mapping[str, float]
    """The same on average: what is not drawn between takes is taken off."""
    conditions: Conditions
    settings: Settings

    @cached_property
    def runs(self) -> tuple[PackRun, ...]:
        """Every pack, run down under its load."""
        return _pack_runs(self.graph, self.mean_w, self.conditions, self.settings)

    @cached_property
    def findings(self) -> tuple[Finding, ...]:
        """Everything on it but the mains at a position."""
        return tuple(_findings(self.graph, self.runs, self.extra_w, self.conditions, self.settings))


_recent: Recent[Power] = Recent(128)


def power_of(
    graph: PowerGraph,
    extra_w: Mapping[str, float],
    conditions: Conditions,
    settings: Settings,
    mean_w: Mapping[str, float] | None = None,
) -> Power:
    """The power of a build. Most changes of a rig move or add what draws
    nothing: the same feeds between the same units have the same answer.

    Shelf and settings go by identity; what is kept holds both, so that an identity stays its own.
    """
    layout = graph.layout
    key = (
        id(layout.catalogue),
        id(settings),
        conditions,
        layout.once(_powered),
        graph.feeds,
        graph.circle,
        layout.every_link,
        tuple(sorted(extra_w.items())),
        tuple(sorted((mean_w or {}).items())),
    )
    return _recent.of(key, lambda: Power(graph, extra_w, extra_w if mean_w is None else mean_w, conditions, settings))


def _powered(layout: Layout) -> tuple[str, ...]:
    return tuple(unit for unit in layout.every_unit if layout.catalogue.has_power(unit))


def _pack_runs(
    graph: PowerGraph, extra_w: Mapping[str, float], conditions: Conditions, settings: Settings
) -> tuple[PackRun, ...]:
    """Simulated discharge of every pack in the build."""
    runs = []
    catalogue = graph.layout.catalogue
    for pack in graph.packs:
        model = catalogue.model_of(pack)
        if model.pack:
            run = graph.run_down(pack, extra_w, reserve=settings.reserve, temperature_c=conditions.temperature_c)
            partners = graph.partners(pack)
            packs = [
                (each, catalogue.unit(u).health_left) for u in (pack, *partners) if (each := catalogue.model_of(u).pack)
            ]
            energy, healthy = (
                sum(each.energy_wh for each, _ in packs),
                sum(each.energy_wh * health for each, health in packs),
            )
            runs.append(PackRun(pack, graph.downstream(pack), run, energy, healthy, partners))
    return tuple(runs)


def _findings(
    graph: PowerGraph,
    runs: tuple[PackRun, ...],
    extra_w: Mapping[str, float],
    conditions: Conditions,
    settings: Settings,
) -> Iterator[Finding]:
    """All findings on the power of a build."""
    if graph.circle:
        yield Finding(
            code="power.loop",
            level=Level.STOP,
            about=About(units=graph.circle),
            text=f"Power goes in a circle: {' → '.join((*graph.circle, graph.circle[0]))}.",
        )
    for cable, one, other in two_sources(graph.layout):
        yield Finding(
            code="power.two_sources",
            level=Level.STOP,
            about=About(units=(cable, one, other)),
            text=(
                f"{cable} joins two sources, {one} and {other}: one drives its current into the other. Take it off"
                " before anything is plugged in."
            ),
        )
    for feed in graph.feeds:
        if not feed.connects:
            yield Finding(
                code="power.connector",
                level=Level.STOP,
                about=About(units=(feed.cable or feed.sink, feed.source, feed.sink), port=feed.inlet),
                text=f"{feed.source} does not feed {feed.sink}: {feed.reason}.",
            )
        else:
            yield from _over_voltage(graph, feed)
            yield from _not_named(graph, feed)
    yield from graph.layout.once(_unfed)
    for run in runs:
        yield from _unlike(graph, run)
        yield from _under_voltage(graph, run, extra_w, conditions.temperature_c)
        yield from _currents(graph, run, extra_w, conditions.temperature_c)
        yield _hours(graph.layout, run, conditions, settings)
    yield from _backups(graph, extra_w, conditions, settings)


def fed_findings(graph: PowerGraph) -> Iterator[Finding]:
    """Devices that do not record while they are fed by a cable."""
    for unit, model in zip(graph.layout.every_unit, graph.layout.every_model, strict=True):
        if model.recording is None or model.recording.while_fed:
            continue
        for feed in graph.feeds:
            if feed.sink == unit and feed.cable is not None:
                yield Finding(
                    code="power.fed_recording",
                    level=Level.STOP,
                    about=About(units=(unit, feed.cable)),
                    text=(
                        f"{unit} does not record while it is fed through {model.port(feed.inlet).label}."
                        " Take the cable off before the take, or feed it by a pack."
                    ),
                )


def mains_findings(graph: PowerGraph, target: Target | None, conditions: Conditions) -> Iterator[Finding]:
    """Mains at the position, in reach of its lead, out of the rain, and what goes dark when they fail."""
    for unit in graph.mains:
        if conditions.wet:
            yield Finding(
                code="power.mains_wet",
                level=Level.WATCH,
                about=About(units=(unit,)),
                text=f"It rains and {unit} runs on mains. Use packs, or keep it under cover and off the ground.",
            )
        lead_m = graph.layout.catalogue.model_of(unit).mains_lead_m
        if target and target.mains_m is None:
            yield Finding(
                code="power.mains",
                level=Level.STOP,
                about=About(units=(unit,)),
                text=f"{unit} needs mains, and there is none entered for this position.",
            )
        elif target and lead_m and target.mains_m is not None and target.mains_m > lead_m:
            yield Finding(
                code="power.mains",
                level=Level.STOP,
                about=About(units=(unit,)),
                value=lead_m,
                limit=target.mains_m,
                unit="m",
                text=f"The lead of {unit} reaches {lead_m:g} m; the mains are {target.mains_m:g} m away.",
            )
        dark = [u for u in graph.downstream(unit) if not _bridged(graph, u, unit)]
        if dark:
            yield Finding(
                code="power.mains_alone",
                level=Level.WATCH,
                about=About(units=(unit, *dark)),
                text=(
                    f"When the mains fail, {', '.join(dark)} {'goes' if len(dark) == 1 else 'go'} dark at once: no pack"
                    f" stands behind {unit}."
                ),
            )


def _bridged(graph: PowerGraph, unit: str, mains: str) -> bool:
    """Whether cells carry a unit on when its mains fail: its own, some on the way, or a pack on another input."""
    if graph.layout.catalogue.model_of(unit).pack:
        return True
    return any(
        f.source != mains and _bridged(graph, f.source, mains) for f in graph.feeds if f.sink == unit and f.connects
    )


def _unlike(graph: PowerGraph, run: PackRun) -> Iterator[Finding]:
    """Packs that share a load must have as many cells: the fuller one drives its current into the other."""
    cells = {p.cells for u in (run.pack, *run.partners) if (p := graph.layout.catalogue.model_of(u).pack)}
    if len(cells) > 1 and graph.twin_of(run.pack) == "parallel":
        yield Finding(
            code="power.two_sources",
            level=Level.STOP,
            about=About(units=(run.pack, *run.partners)),
            text=(
                f"{' and '.join((run.pack, *run.partners))} share a plate and have unlike numbers of cells: one drives"
                " its current into the other."
            ),
        )


def _over_voltage(graph: PowerGraph, feed: Feed) -> Iterator[Finding]:
    inlet = graph.electrical(feed.sink, feed.inlet)
    top = feed.volts or graph.top_v(feed.source)
    if top is None or inlet.max_v is None or top <= inlet.max_v:
        return
    pack = graph.layout.catalogue.model_of(feed.source).pack
    numbers = f"{top:.1f} V against {inlet.max_v:.1f} V"
    if feed.volts is None and pack:
        numbers = f"{pack.cells} × {FULL_CELL_V:.2f} V = {numbers}"
    yield Finding(
        code="power.over_voltage",
        level=Level.STOP,
        about=About(units=(feed.sink, feed.source), port=feed.inlet),
        text=(
            f"{feed.source} gives {feed.sink} up to {top:.1f} V; it takes at most {inlet.max_v:.1f} V and can be"
            " destroyed. Do not plug it in."
        ),
        value=top,
        limit=inlet.max_v,
        unit="V",
        working=(
            Working(
                formula="V_top = 4.20 V × cells, or the converter's output",
                numbers=numbers,
                inputs=(Input(name=f"largest input of {feed.sink}", value=f"{inlet.max_v:.1f} V", source="catalogue"),),
            ),
        ),
    )


def _not_named(graph: PowerGraph, feed: Feed) -> Iterator[Finding]:
    """A pack or dummy pack in a slot whose maker names others."""
    named = graph.electrical(feed.sink, feed.inlet).approves
    models = graph.layout.catalogue
    if named and models.model_of(feed.source).id not in named:
        known = ", ".join(models.models[m].title for m in named if m in models.models) or ", ".join(named)
        yield Finding(
            code="power.not_named",
            level=Level.WATCH,
            about=About(units=(feed.sink, feed.source), port=feed.inlet),
            text=(
                f"{feed.source} is not among what the maker of {feed.sink} names for"
                f" '{models.model_of(feed.sink).port(feed.inlet).label}' ({known}); try it before the day, for it may"
                " be refused or show no charge."
            ),
        )


def _converted_low(
    graph: PowerGraph, run: PackRun, extra_w: Mapping[str, float], temperature_c: float
) -> Iterator[Finding]:
    """Devices behind a converter or negotiated supply that get less than they need, the drop of their cable counted."""
    converted = [
        f
        for f in graph.feeds
        if f.volts and f.connects and f.source in (run.pack, *run.feeds) and graph.feed_of(f.sink) is f
    ]
    if not converted:
        return
    volts, _ = graph.pack_at(run.pack, run.discharge.end_charge, extra_w, temperature_c)
    flows = graph.flows(run.pack, volts, extra_w)
    for feed in converted:
        inlet = graph.electrical(feed.sink, feed.inlet)
        least = inlet.cutoff_v or inlet.min_v
        flow = flows.get(feed)
        arriving = flow.arriving_v if flow else feed.volts or 0.0
        if least and arriving < least:
            through = f" through {feed.cable}" if flow and flow.drop_v > 0.05 else ""
            yield Finding(
                code="power.under_voltage",
                level=Level.STOP,
                about=About(units=(feed.sink, feed.source), port=feed.inlet),
                text=(
                    f"{feed.source} gives {feed.sink} {arriving:.1f} V{through}; it needs at least {least:.1f} V and"
                    " does not start."
                ),
                value=arriving,
                limit=least,
                unit="V",
                working=(
                    Working(
                        formula="V at the device = V of the converter − I·R of its cable",
                        numbers=f"{feed.volts or 0:.2f} − {flow.drop_v if flow else 0.0:.2f} = {arriving:.2f} V",
                    ),
                ),
            )


def _under_voltage(
    graph: PowerGraph, run: PackRun, extra_w: Mapping[str, float], temperature_c: float
) -> Iterator[Finding]:
    yield from _converted_low(graph, run, extra_w, temperature_c)
    device = run.discharge.ended_by
    if device not in run.feeds:
        return
    stop_v = next(
        (
            e.cutoff_v or e.min_v or 0.0
            for f in [graph.feed_of(device)]
            if f
            for e in [graph.electrical(f.sink, f.inlet)]
        ),
        0.0,
    )
    if not len(run.discharge.charge):
        level, text = (
            Level.STOP,
            f"{device} does not start on {run.pack}: even full it gives less than {stop_v:.1f} V there.",
        )
        left = 1.0
    else:
        left = float(run.discharge.charge[-1])
        level = Level.WATCH
        text = f"{device} stops at {stop_v:.1f} V with {left * 100:.0f} % still in {run.pack}."
    yield Finding(
        code="power.under_voltage",
        level=level,
        about=About(units=(device, run.pack)),
        text=text,
        value=left * 100,
        unit="% left",
        working=(
            Working(
                formula="V at the device = V_pack − I·R_cables",
                numbers=f"falls to {stop_v:.1f} V at {left * 100:.0f} % charge",
            ),
        ),
    )


def _currents(graph: PowerGraph, run: PackRun, extra_w: Mapping[str, float], temperature_c: float) -> Iterator[Finding]:
    """Currents at the end of charge, everything recording and the device that rises most at its peak."""
    if not len(run.discharge.charge):
        return
    # Judged where the charge ends, at the reserve or where a device stops before it.
    charge = run.discharge.end_charge
    rated = {
        f: limits
        for f in graph.feeds
        if f.connects and f.source in (run.pack, *run.feeds) and (limits := _limits(graph, f))
    }
    most_v, most_a = graph.pack_at(run.pack, charge, every := graph.all_at_peak(run.pack, extra_w), temperature_c)
    if not np.isnan(most_a) and not any(_over_pack(graph, run, most_a)):
        flows = graph.flows(run.pack, most_v, every)
        rated = {
            f: limits
            for f, limits in rated.items()
            if f not in flows or any(flows[f].amps > limit for limit, _ in limits)
        }
        if not rated:
            return
    _, amps = graph.pack_at(run.pack, charge, graph.at_peak(run.pack, extra_w), temperature_c)
    if np.isnan(amps):
        yield Finding(
            code="power.current",
            level=Level.STOP,
            about=About(units=(run.pack,), port="peak"),
            text=(
                f"{run.pack} cannot deliver the peak of what hangs on it at the end of its charge; everything on it"
                " loses power."
            ),
        )
        return
    for name, over, limit in _over_pack(graph, run, amps):
        yield _current(name, name, over, limit, "pack")
    for feed, amps in _peak_amps(graph, run, list(rated), extra_w, temperature_c):
        for limit, what in rated[feed]:
            if amps > limit:
                yield _current(feed.sink, feed.source, amps, limit, what)


def _over_pack(graph: PowerGraph, run: PackRun, amps: float) -> Iterator[tuple[str, float, float]]:
    """Packs of a run whose share of a current is above what they are rated for: name, share and rating, A."""
    for name, share in _shares(graph, run):
        most = graph.layout.catalogue.model_of(name).pack
        if most and most.max_a and amps * share > most.max_a:
            yield name, amps * share, most.max_a


def _limits(graph: PowerGraph, feed: Feed) -> tuple[tuple[float, str], ...]:
    """What is rated along a feed, A."""
    wire = graph.layout.catalogue.model_of(feed.cable).cable if feed.cable else None
    outlet, inlet = graph.electrical(feed.source, feed.outlet), graph.electrical(feed.sink, feed.inlet)
    return tuple(
        (limit, what)
        for limit, what in ((outlet.max_a, "outlet"), (wire.max_a if wire else None, "cable"), (inlet.max_a, "input"))
        if limit
    )


def _peak_amps(
    graph: PowerGraph, run: PackRun, feeds: Sequence[Feed], extra_w: Mapping[str, float], temperature_c: float
) -> Iterator[tuple[Feed, float]]:
    """What goes along each feed at the end of charge while the one behind it that rises most is at its peak."""
    known: dict[frozenset[tuple[str, float]], dict[Feed, Flow]] = {}
    for feed in feeds:
        peak = graph.at_peak(feed.sink, extra_w)
        state = frozenset(peak.items())
        if state not in known:
            known[state] = graph.flows(
                run.pack, graph.pack_at(run.pack, run.discharge.end_charge, peak, temperature_c)[0], peak
            )
        if flow := known[state].get(feed):
            yield feed, flow.amps


def _shares(graph: PowerGraph, run: PackRun) -> Iterator[tuple[str, float]]:
    """What share of the current goes through each pack of a plate: the whole in turn, by 1/R where they share."""
    names = (run.pack, *run.partners)
    ohms = [p.resistance_ohm for name in names if (p := graph.layout.catalogue.model_of(name).pack)]
    if graph.twin_of(run.pack) != "parallel":
        yield from ((name, 1.0) for name in names)
    elif min(ohms) <= 0:
        yield from ((name, 1 / len(names)) for name in names)
    else:
        yield from ((name, (1 / ohm) / sum(1 / r for r in ohms)) for name, ohm in zip(names, ohms, strict=True))


def _current(sink: str, source: str, amps: float, limit: float, what: str) -> Finding:
    return Finding(
        code="power.current",
        level=Level.STOP,
        about=About(units=(sink, source), port=what),
        text=f"{amps:.1f} A from {source} at peak and at the end of its charge; the {what} is rated for {limit:.1f} A.",
        value=amps,
        limit=limit,
        unit="A",
        working=(
            Working(
                formula=(
                    "I = (V − √(V² − 4·R·P))/2R through every cable from the pack on, at the end of its charge, all"
                    " recording, the one behind it that rises most at its peak"
                ),
                numbers=f"{amps:.2f} A against {limit:.1f} A",
            ),
        ),
    )


def _unfed(layout: Layout) -> tuple[Finding, ...]:
    return tuple(_without_power(layout.once(power_graph)))


def _without_power(graph: PowerGraph) -> Iterator[Finding]:
    catalogue = graph.layout.catalogue
    unfed = set(graph.unfed)
    for unit in graph.layout.every_unit:
        model = catalogue.model_of(unit)
        draw, _ = catalogue.draw_of(unit)
        if unit in unfed and draw:
            inlets = [port for port in model.ports if port.electrical and port.electrical.role == "in"]
            wants = ", ".join(f"'{port.label}'" for port in inlets)
            yield Finding(
                code="power.unfed",
                level=Level.STOP,
                about=About(units=(unit,), port=inlets[0].id),
                text=f"Nothing feeds {unit} ({draw.record_w:.1f} W); its inputs: {wants}.",
                value=draw.record_w,
                unit="W",
            )
        elif (
            draw is None
            and model.has_inlet
            and not model.pack
            and not graph.feed_of(unit)
            and not any(port.electrical and port.electrical.role == "out" for port in model.ports)
        ):
            yield Finding(
                code="power.figure_missing",
                level=Level.WATCH,
                about=About(units=(unit,)),
                text=f"{unit} has no power draw. Measure it or enter it.",
            )


def _pattern(conditions: Conditions) -> str:
    return f", rolling {conditions.rolling * 100:.0f} % of the time" if conditions.rolling < 1 else ""


def _hours(layout: Layout, run: PackRun, conditions: Conditions, settings: Settings) -> Finding:
    need, hours = conditions.untouched_h, run.hours
    level = Level.CLEAR
    if hours < need:
        level = Level.STOP
    elif hours < need * (1 + settings.hours_margin):
        level = Level.WATCH
    unit = layout.catalogue.unit(run.pack)
    ended = {"reserve": f"{settings.reserve * 100:.0f} % reserve", "pack cannot deliver": "the pack's own limit"}.get(
        run.discharge.ended_by, f"{run.discharge.ended_by} stopping"
    )
    factor = capacity_factor(conditions.temperature_c)
    usable = run.healthy_wh * factor * (1 - settings.reserve)
    return Finding(
        code="power.hours",
        level=level,
        about=About(units=(run.pack,)),
        text=(
            f"{' with '.join((run.pack, *run.partners))} runs {hours:.2f} h at {conditions.temperature_c:g} °C until"
            f" {ended}{_pattern(conditions)}; {need:.2f} h needed without a swap."
            if np.isfinite(hours)
            else f"{run.pack} feeds nothing that draws."
        ),
        value=hours if np.isfinite(hours) else None,
        limit=need,
        unit="h",
        working=(
            Working(
                formula="discharge in 1 % steps, I = (V − √(V² − 4RP))/2R, until reserve or the first device stops",
                numbers=f"{run.load_w:.1f} W at the pack; by watt-hours {usable:.0f} Wh / {run.load_w:.1f} W = "
                + (f"{usable / run.load_w:.2f} h" if run.load_w else "no end")
                + f"; simulated {hours:.2f} h",
                inputs=(
                    Input(name="energy", value=f"{run.energy_wh:.0f} Wh", source="catalogue"),
                    Input(
                        name=f"health after {unit.cycles} cycles" if unit.cycles else "health",
                        value=f"{unit.health_left * 100:.0f} %",
                        source="measured" if unit.health < 1 else "assumed",
                    ),
                    Input(
                        name=f"capacity at {conditions.temperature_c:g} °C", value=f"× {factor:.2f}", source="setting"
                    ),
                    Input(
                        name=f"resistance at {conditions.temperature_c:g} °C",
                        value=f"× {resistance_factor(conditions.temperature_c):.2f}",
                        source="setting",
                    ),
                    Input(name="reserve", value=f"{settings.reserve * 100:.0f} %", source="setting"),
                    Input(name="hours untouched", value=f"{need:.2f} h", source="job"),
                ),
            ),
        ),
    )


def _backups(
    graph: PowerGraph, extra_w: Mapping[str, float], conditions: Conditions, settings: Settings
) -> Iterator[Finding]:
    for unit, model in zip(graph.layout.every_unit, graph.layout.every_model, strict=True):
        feed = graph.feed_of(unit)
        if model.pack is None or feed is None or model.gimbal:
            continue
        run = graph.run_down(unit, extra_w, reserve=settings.reserve, temperature_c=conditions.temperature_c)
        if np.isfinite(run.hours):
            yield Finding(
                code="power.backup",
                level=Level.NOTE if run.hours * 60 >= settings.swap_gap_min else Level.WATCH,
                about=About(units=(unit, feed.source)),
                text=(
                    f"With {feed.source} pulled, the cell in {unit} carries on for {run.hours * 60:.0f} min; a swap"
                    f" takes {settings.swap_gap_min:g}."
                ),
                value=run.hours * 60,
                limit=settings.swap_gap_min,
                unit="min",
            )
