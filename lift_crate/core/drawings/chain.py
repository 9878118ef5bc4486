"""The power of a build as it is drawn: who feeds whom from left to right, with
volts, amps and watts; and a pack run down device by device.

Formulas: docs/formulas.md §5. V, A, W, h; voltages at the plugs they are told for.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..callouts import Level
from ..power.checks import PackRun
from ..power.discharge import capacity_factor, settled
from ..power.feeds import Feed, Flow, PowerGraph
from ..quantities import finite
from ..rig.build import Catalogue
from ..stand import Stand
from ..verdict.judge import Verdict

__all__ = ["Chain", "ChainEdge", "ChainNode", "CutOut", "Mode", "RunDown", "chain_of", "run_downs"]

Mode = Literal["standby", "record", "peak"]
_FULL = 0.995
"""The first step of a discharge, at its middle."""


@dataclass(frozen=True, slots=True)
class ChainNode:
    """A unit on the chain: how many feeds it is from its source, what it draws itself
    in W, volts at its terminals; None where nothing reaches it.
    """

    unit: str
    kind: str
    title: str
    column: int
    draw_w: float
    volts: float | None
    window: tuple[float | None, float | None]
    """Least and most volts of the input it is fed by."""
    level: Level
    source: str | None
    """What its draw rests on; None where it draws nothing."""
    dark: tuple[str, ...]
    """What goes dark with it when it is taken off."""


@dataclass(frozen=True, slots=True)
class ChainEdge:
    """A feed: the cable and plugs it runs through, and what goes along it; None where it does not run."""

    feed: Feed
    outlet: str
    inlet: str
    plugs: tuple[str, str]
    """Connectors at its two ends, by their standard names."""
    volts: float | None
    """Where it arrives."""
    drop_v: float | None
    amps: float | None
    watts: float | None
    """At the outlet."""
    converted_v: float | None
    level: Level


@dataclass(frozen=True, slots=True)
class Chain:
    """All feeds of a build in one state."""

    nodes: tuple[ChainNode, ...]
    edges: tuple[ChainEdge, ...]
    watts: float
    """Over all packs."""


@dataclass(frozen=True, slots=True)
class CutOut:
    """A device that stops before the pack is empty: when, with how much charge left, below which voltage."""

    unit: str
    hours: float
    charge: float
    stop_v: float


@dataclass(frozen=True, slots=True)
class RunDown:
    """A pack from full to its reserve with everything on it; who stops on the
    way. Points of the curve: hours, volts, share of charge.
    """

    pack: str
    curve: tuple[tuple[float, float, float], ...]
    cut_outs: tuple[CutOut, ...]
    hours: float | None
    """Until the first device stops or the reserve is reached; None: it has no end."""
    by_energy_h: float | None
    """Usable watt-hours over the load at the start."""
    load_w: float
    short: bool
    """It does not last as long as nobody may touch it."""
    standby_h: float | None
    """Hours were everything on it only standing by."""
    left_on_h: float | None
    """Hours by the pattern of this part of the day, left on between takes."""
    off_h: float | None
    """The same, switched off between takes."""


def _extra(stand: Stand, mode: Mode, pack: str) -> dict[str, float]:
    graph = stand.graph
    extra = dict(stand.carried.own_draw_w)
    if mode == "peak":
        return graph.at_peak(pack, extra)
    if mode == "standby":
        for unit in (pack, *graph.downstream(pack)):
            draw, _ = stand.assembly.catalogue.draw_of(unit)
            if draw:
                extra[unit] = extra.get(unit, 0.0) + draw.standby_w - draw.record_w
    return extra


def chain_of(judged: Verdict, mode: Mode = "record", *, empty: bool = False) -> Chain:
    """The chain of a judged build with everything in one mode, packs full or at the end of their charge."""
    stand = judged.stand
    graph, models = stand.graph, stand.assembly.catalogue
    volts, flows, columns, watts = _flows(stand, mode, empty=empty)
    worst = _levels(judged)
    nodes = []
    for unit, column in columns.items():
        own_feed = graph.feed_of(unit)
        inlet = graph.electrical(own_feed.sink, own_feed.inlet) if own_feed else None
        model = models.model_of(unit)
        takes, source = models.draw_of(unit)
        draw = getattr(takes, f"{mode}_w") if takes else 0.0
        own = draw + stand.carried.own_draw_w.get(unit, 0.0)
        nodes.append(
            ChainNode(
                unit,
                model.kind,
                model.title,
                column,
                own,
                volts.get(unit),
                (inlet.min_v, inlet.max_v) if inlet else (None, None),
                worst.get(unit, Level.CLEAR),
                source if takes else None,
                graph.downstream(unit),
            )
        )
    edges = []
    for feed in graph.feeds:
        flow = flows.get(feed)
        edges.append(
            ChainEdge(
                feed,
                models.model_of(feed.source).port(feed.outlet).label,
                models.model_of(feed.sink).port(feed.inlet).label,
                _plugs(models, feed),
                flow.arriving_v if flow else None,
                flow.drop_v if flow else None,
                flow.amps if flow else None,
                flow.watts if flow else None,
                feed.volts,
                (
                    Level.STOP
                    if not feed.connects
                    else max(
                        (
                            f.level
                            for f in judged.findings
                            if f.code.startswith("power.") and f.about.units[:2] == (feed.sink, feed.source)
                        ),
                        default=Level.CLEAR,
                    )
                ),
            )
        )
    nodes.sort(key=lambda n: (n.column, n.unit))
    return Chain(tuple(nodes), tuple(edges), watts)


def _plugs(models: Catalogue, feed: Feed) -> tuple[str, str]:
    outlet, inlet = models.model_of(feed.source).port(feed.outlet), models.model_of(feed.sink).port(feed.inlet)
    return models.interfaces[outlet.interface].label, models.interfaces[inlet.interface].label


def _flows(
    stand: Stand, mode: Mode, *, empty: bool
) -> tuple[dict[str, float | None], dict[Feed, Flow], dict[str, int], float]:
    """Volts at every unit, what goes along every feed, how far each unit
    is from its source, and watts over all sources.
    """
    graph = stand.graph
    volts: dict[str, float | None] = {}
    flows: dict[Feed, Flow] = {}
    columns: dict[str, int] = {}
    watts = 0.0
    for run in stand.runs:
        extra = _extra(stand, mode, run.pack)
        charge = run.discharge.end_charge if empty and len(run.discharge.charge) else _FULL
        at_v, amps = graph.pack_at(run.pack, charge, extra, stand.conditions.temperature_c)
        columns[run.pack] = 0
        if np.isnan(amps):
            volts[run.pack] = None
            continue
        volts[run.pack] = at_v
        watts += at_v * amps
        for partner in run.partners:
            columns[partner], volts[partner] = 0, at_v
        flows |= _follow(graph, run.pack, at_v, extra, volts, columns)
    for unit in graph.mains:
        columns[unit] = 0
        flows |= _follow(graph, unit, float("nan"), _extra(stand, mode, unit), volts, columns)
        watts += sum(flows[feed].watts for feed in graph.fed_by(unit) if feed in flows)
        volts[unit] = max((feed.volts for feed in graph.fed_by(unit) if feed.volts), default=None)
    for feed in graph.feeds:
        columns.setdefault(feed.source, 0)
    for _ in graph.feeds:
        for feed in graph.feeds:
            columns[feed.sink] = max(columns.get(feed.sink, 0), columns[feed.source] + 1)
    for unit in graph.unfed:
        columns.setdefault(unit, 1)
    return volts, flows, columns, watts


def _levels(judged: Verdict) -> dict[str, Level]:
    found: dict[str, Level] = {}
    for finding in judged.findings:
        if finding.code.startswith("power.") and finding.about.units:
            unit = finding.about.units[0]
            found[unit] = max(found.get(unit, Level.CLEAR), finding.level)
    return found


def _follow(
    graph: PowerGraph,
    unit: str,
    at_v: float,
    extra: Mapping[str, float],
    volts: dict[str, float | None],
    columns: dict[str, int],
) -> dict[Feed, Flow]:
    """What goes along every feed behind a unit; volts and columns of what it reaches are filled in."""
    found = graph.flows(unit, at_v, extra)
    for feed, flow in found.items():
        volts[feed.sink] = flow.arriving_v
        columns[feed.sink] = max(columns.get(feed.sink, 0), columns[feed.source] + 1)
    return found


def run_downs(stand: Stand) -> tuple[RunDown, ...]:
    """Every pack of the build run down to its reserve; what stops on the way is left out of the load from there on."""
    found = []
    for run in stand.runs:
        idle = _hours(stand, run.pack, _extra(stand, "standby", run.pack))
        by_pattern = (
            [_hours(stand, run.pack, stand.average_w(off=off)) for off in (False, True)]
            if stand.conditions.rolling < 1
            else [finite(run.hours), None]
        )
        found.append(_run_down(stand, run, idle, by_pattern[0], by_pattern[1]))
    return tuple(found)


def _hours(stand: Stand, pack: str, extra: Mapping[str, float]) -> float | None:
    run = stand.graph.run_down(
        pack, extra, reserve=stand.settings.reserve, temperature_c=stand.conditions.temperature_c
    )
    return finite(run.hours)


def _run_down(
    stand: Stand, run: PackRun, standby_h: float | None, left_on_h: float | None, off_h: float | None
) -> RunDown:
    graph, settings = stand.graph, stand.settings
    pack, hours, load_w = run.pack, run.hours, run.load_w
    cold = stand.conditions.temperature_c
    extra = stand.average_w()
    usable = run.healthy_wh * capacity_factor(cold) * (1 - settings.reserve)
    charge = np.arange(0.995, settings.reserve, -0.01)
    gone: dict[str, float] = {}
    curve: list[tuple[float, float, float]] = []
    stopped: list[CutOut] = []
    passed = 0.0
    cells = graph.cells_of(pack)
    for nth, (data, health) in enumerate(cells, 1):
        step_ah, start = data.capacity_ah * health * capacity_factor(cold) * 0.01, 0
        while start < len(charge):
            terminal, current, _, margins = settled(
                data, charge[start:], cold, graph.load_tree(pack, {**extra, **gone}).at
            )
            below = {
                device: int(np.flatnonzero(~(margin >= 0))[0])
                for device, margin in margins.items()
                if device not in gone and (~(margin >= 0)).any()
            }
            dead = np.flatnonzero(np.isnan(current) | (current <= 0))
            ends = min([len(charge) - start, *below.values(), *dead[:1].tolist()])
            for i in range(ends):
                curve.append((passed, float(terminal[i]), float(charge[start + i])))
                passed += step_ah / float(current[i])
            start += ends
            out = [device for device, at in below.items() if at == ends]
            if not out or nth < len(cells):
                break
            for device in out:
                feed = graph.feed_of(device)
                inlet = graph.electrical(feed.sink, feed.inlet) if feed else None
                stopped.append(
                    CutOut(
                        device,
                        passed,
                        float(charge[min(start, len(charge) - 1)]),
                        (inlet.cutoff_v or inlet.min_v or 0.0) if inlet else 0.0,
                    )
                )
                for dark in (device, *graph.downstream(device)):
                    gone[dark] = -graph.draw_w(dark, {})
    return RunDown(
        pack,
        tuple(curve),
        tuple(stopped),
        finite(hours),
        usable / load_w if load_w else None,
        load_w,
        run.hours < stand.conditions.untouched_h,
        standby_h,
        left_on_h,
        off_h,
    )
