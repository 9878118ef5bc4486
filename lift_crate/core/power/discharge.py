"""Packs running down under what hangs on them: simulated discharge, and loads that depend on the voltage they get.

Formulas: docs/formulas.md §5.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from functools import cache, cached_property

import numpy as np

from ..gear.electrical import Pack
from ..geometry import Array

__all__ = [
    "FULL_CELL_V",
    "SETTLED_W",
    "Branch",
    "Discharge",
    "Load",
    "LoadTree",
    "Volts",
    "agreed",
    "capacity_factor",
    "current_a",
    "discharge",
    "one_after_the_other",
    "open_v",
    "pack_current_a",
    "resistance_factor",
    "settled",
    "side_by_side",
]

FULL_CELL_V = 4.20
_CHARGE = np.array([0, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]) / 100
_OPEN_CELL_V = np.array([3.00, 3.35, 3.50, 3.62, 3.68, 3.72, 3.77, 3.83, 3.90, 3.97, 4.06, 4.20])
_STEP = 0.01
SETTLED_W = 1e-5
"""Load and voltage agree when the load moves by less."""
Volts = float | Array
"""One value, or one at every step of a discharge, shape (k,)."""
Load = Callable[[Volts], tuple[Volts, Mapping[str, Volts]]]
"""From the voltage at terminals to the power taken there, W, and the margin of every device, V."""


@cache
def capacity_factor(temperature_c: float) -> float:
    """Share of a pack's capacity left at a temperature, 1 at 20 °C and above (setting)."""
    return float(np.interp(temperature_c, [-20, -10, 0, 10, 20], [0.50, 0.70, 0.85, 0.95, 1.0]))


@cache
def resistance_factor(temperature_c: float) -> float:
    """How much a pack's resistance grows in the cold, 1 at 20 °C and above (setting)."""
    return float(np.interp(temperature_c, [-10, 0, 10, 20], [3.5, 2.0, 1.4, 1.0]))


def open_v(pack: Pack, charge: float) -> float:
    """Voltage of a pack without a load at a share of its charge, V."""
    return float(pack.cells * np.interp(charge, _CHARGE, _OPEN_CELL_V))


def pack_current_a(open_v: Array, resistance_ohm: float, load_w: Volts) -> Array:
    """Current that delivers a power through a resistance: I = (V − √(V² − 4RP))/2R.

    Shapes as given; NaN where the pack cannot deliver.
    """
    with np.errstate(invalid="ignore", divide="ignore"):
        return np.asarray(current_a(open_v, resistance_ohm, load_w))


def current_a(open_v: Volts, resistance_ohm: float, load_w: Volts) -> Volts:
    """As ``pack_current_a``, of one voltage or of many; a plain number stays one."""
    if resistance_ohm <= 0:
        return math.nan if isinstance(open_v, float) and open_v <= 0 else load_w / open_v
    inside = open_v * open_v - 4 * resistance_ohm * load_w
    return (open_v - _root(inside)) / (2 * resistance_ohm)


def _root(inside: Volts) -> Volts:
    """Square root, NaN of what is below 0; a plain number stays one, which is ten times as fast as an array of one."""
    if isinstance(inside, float):
        return math.sqrt(inside) if inside >= 0 else math.nan
    return np.asarray(np.sqrt(inside))


def _moved_w(now: Volts, before: Volts) -> float:
    """By how much a load moved at most, W; what cannot be delivered has settled."""
    if isinstance(now, float) and isinstance(before, float):
        return abs(now - before)
    return float(np.fmax.reduce(np.abs(now - before), axis=None, initial=0.0))


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
    load: Load,
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
    pack: Pack, charge: Array, temperature_c: float, load: Load
) -> tuple[Array, Array, Array, Mapping[str, Array]]:
    """Terminal V, current A, load W and margins V of a pack at each charge,
    where load and voltage agree; NaN where they cannot.
    """
    return _settled(pack, charge, pack.resistance_ohm * resistance_factor(temperature_c), load)


def _settled(
    pack: Pack, charge: Array, resistance_ohm: float, load: Load
) -> tuple[Array, Array, Array, Mapping[str, Array]]:
    open_v = np.asarray(pack.cells * np.interp(charge, _CHARGE, _OPEN_CELL_V))
    with np.errstate(invalid="ignore", divide="ignore"):
        terminal, current, power, margins = agreed(open_v, resistance_ohm, load)
    wide = {device: np.broadcast_to(margin, open_v.shape) for device, margin in margins.items()}
    return np.asarray(terminal), np.asarray(current), np.broadcast_to(power, open_v.shape), wide


def agreed(open_v: Volts, resistance_ohm: float, load: Load) -> tuple[Volts, Volts, Volts, Mapping[str, Volts]]:
    """Terminal V, current A, load W and margins V behind a resistance, where load and voltage agree."""
    terminal, power = open_v, 0.0 * open_v
    for _ in range(25):
        before = power
        power, margins = load(terminal)
        current = current_a(open_v, resistance_ohm, power)
        terminal = open_v - current * resistance_ohm
        if not _moved_w(power, before) > SETTLED_W:
            break
    return terminal, current, power, margins


def side_by_side(packs: Sequence[tuple[Pack, float]]) -> Pack:
    """Packs of as many cells that share a load, by their health, as one: Ah add up, 1/R adds up."""
    ohm = (
        1 / sum(1 / pack.resistance_ohm for pack, _ in packs)
        if all(pack.resistance_ohm > 0 for pack, _ in packs)
        else 0.0
    )
    return Pack(
        cells=min(pack.cells for pack, _ in packs),
        capacity_ah=sum(pack.capacity_ah * health for pack, health in packs),
        resistance_ohm=ohm,
    )


def one_after_the_other(runs: Sequence[Discharge]) -> Discharge:
    """Packs of which the next takes over when one ends: their hours add up; the last one's end is the end."""
    last = runs[-1]
    joined = [
        np.concatenate([getattr(run, name) for run in runs]) for name in ("charge", "terminal_v", "current_a", "load_w")
    ]
    return Discharge(sum(run.hours for run in runs), last.ended_by, *joined)


@dataclass(frozen=True, eq=False)
class Branch:
    """One feed of a load tree: converter, cable, and the voltage its device stops at."""

    sink: str
    tree: LoadTree
    output_v: float | None
    efficiency: float
    ohm: float
    stop_v: float

    def taken(self, at_v: Volts) -> tuple[Volts, Mapping[str, Volts]]:
        """Power in W at the outlet, converter not counted, and the margins
        of all behind it; shapes broadcast to ``at_v``'s.
        """
        return self._taken(at_v) if self.output_v is None else self._behind_converter

    @cached_property
    def _behind_converter(self) -> tuple[Volts, Mapping[str, Volts]]:
        return self._taken(float(self.output_v or 0.0))

    def _taken(self, volts: Volts) -> tuple[Volts, Mapping[str, Volts]]:
        taken, behind = self.tree.at(volts)
        arriving = volts
        if self.ohm > 0:
            for _ in range(1 if self.tree.steady else 12):
                before = taken
                arriving = volts - current_a(volts, self.ohm, taken) * self.ohm
                if self.tree.steady and not behind:
                    break
                taken, behind = self.tree.at(arriving)
                if not _moved_w(taken, before) > SETTLED_W:
                    break
            taken = volts * current_a(volts, self.ohm, taken)
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

    def at(self, at_v: Volts) -> tuple[Volts, dict[str, Volts]]:
        """Power in W at the unit's terminals and, per device, volts above its stop; shapes broadcast to ``at_v``'s.

        Cable losses and converters included: P = Σ (draw + I²·R)/η. A device behind a
        converter has no margin of its own: the converter's input has.
        """
        power: Volts = self.draw_w
        margins: dict[str, Volts] = {}
        for branch in self.branches:
            taken, behind = branch.taken(at_v)
            margins.update(behind)
            power = power + taken / branch.efficiency
        return power, margins
