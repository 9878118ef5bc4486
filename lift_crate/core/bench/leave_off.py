"""What each thing on a rig that could be left off costs, and what it gives today; leaving it off is tried.

A thing here is a part with everything that hangs on it, without which there is still a camera that sees and runs.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from ..balance.ratings import look_of
from ..lens.coverage import light_of
from ..rig.edits import Detach, Operation
from .bench import Bench, Effect

__all__ = ["Accessory", "accessories"]

_STAYS = frozenset({"body", "lens", "lens adapter", "mount plate", "battery plate", "pack", "cage"})
"""Kinds without which there is no camera, or nothing holds together."""
_DARK_EV, _BRIGHT_EV = 5.0, 13.0
"""Below it a lamp on the camera is seen; above it a matte box keeps the sun off the glass."""

Given = tuple[str, bool | None]
"""What a thing gives, and whether that helps today; None: that cannot be told from here."""


@dataclass(frozen=True, eq=False)
class Accessory:
    """A thing that could stay in the case: what it takes with it, what it costs and gives."""

    unit: str
    kind: str
    title: str
    takes_along: tuple[str, ...]
    """What hangs on it and comes off with it, cables included."""
    mass_g: float
    litres: float
    """How much smaller the box around the rig is without it."""
    draw_w: float
    gives: str
    """What it is for in these conditions; empty: nothing that is known here."""
    worth: bool | None
    """Whether it helps today; None: that cannot be told from here."""
    operations: tuple[Operation, ...]
    effect: Effect
    """Of leaving it off."""


def accessories(bench: Bench) -> tuple[Accessory, ...]:
    """Everything that could be left off, what helps least today first, then the heaviest."""
    found = tuple(_tried(bench))
    rank = {False: 0, None: 1, True: 2}
    return tuple(sorted(found, key=lambda a: (rank[a.worth], -a.mass_g, a.unit)))


def _tried(bench: Bench) -> Iterator[Accessory]:
    layout = bench.stand.assembly.layout
    litres = look_of(bench.stand).litres
    for unit, model in zip(layout.units, layout.models, strict=True):
        on_it = layout.subtree(unit)
        if unit == layout.body or unit in layout.beyond_support or model.kind in _STAYS or layout.support in on_it:
            continue
        kinds = {layout.catalogue.model_of(each).kind for each in on_it}
        if kinds & {"lens", "pack", "battery plate"}:
            continue
        operations: tuple[Operation, ...] = (Detach(unit=unit),)
        without = bench.after(operations)
        effect = Effect.between(bench.quick, without.quick)
        cables = [k.cable for k in bench.build.links if {k.from_unit, k.to_unit} & set(on_it)]
        gives, worth = _gives(bench, unit, effect)
        yield Accessory(
            unit,
            model.kind,
            model.title,
            (*(each for each in on_it if each != unit), *cables),
            -effect.mass_g,
            litres - look_of(without.stand).litres,
            0.0 - effect.draw_w,
            gives,
            worth,
            operations,
            effect,
        )


def _gives(bench: Bench, unit: str, without: Effect) -> Given:
    """What a thing does in these conditions, and whether that helps today."""
    if missed := [f for f in without.come if unit not in f.about.units]:
        return f"without it: {missed[0].call_out.title.lower()}", True
    says = _BY_KIND.get(bench.catalogue.model_of(unit).kind)
    return says(bench, unit) if says else ("", None)


def _light(bench: Bench, unit: str) -> Given:
    del unit
    ev = light_of(bench.target, bench.stand.conditions)
    if ev is None:
        return "", None
    return f"a light {'in the dark' if ev < _DARK_EV else 'where there is enough'} (EV {ev:.0f})", ev < _DARK_EV


def _matte_box(bench: Bench, unit: str) -> Given:
    if any(bench.catalogue.model_of(each).filter for each in bench.build.subtree(unit)):
        return "holds the filters", True
    sun = _sunny(bench)
    return "keeps the sun off the glass" if sun else "no sun to keep off", sun


def _filter(bench: Bench, unit: str) -> Given:
    data = bench.catalogue.model_of(unit).filter
    light = next((f for f in bench.quick.findings if f.code == "lens.light"), None)
    if data is None or data.kind not in ("nd", "variable nd") or light is None or light.value is None:
        return "", None
    bright = light.value + data.stops[0] > bench.settings.light_room_stops
    return "takes light that is too much" if bright else "takes light that is missing", bright


def _hood(bench: Bench, unit: str) -> Given:
    del unit
    sun = _sunny(bench)
    return "the screen can be read in this light" if sun else "the screen is bright enough without", sun


def _counterweight(bench: Bench, unit: str) -> Given:
    del unit
    return f"levels the rig: with it {abs(bench.stand.carried.front_nm):.2f} N·m are left", None


def _monitor(bench: Bench, unit: str) -> Given:
    del unit
    body = bench.catalogue.model_of(bench.build.body).body
    return ("the body has a screen of its own" if body and body.screen != "none" else "shows the picture"), None


def _sunny(bench: Bench) -> bool:
    conditions = bench.stand.conditions
    return conditions.light_ev is not None and conditions.light_ev >= _BRIGHT_EV and not conditions.indoors


_BY_KIND: Mapping[str, Callable[[Bench, str], Given]] = {
    "light": _light,
    "matte box": _matte_box,
    "filter": _filter,
    "hood": _hood,
    "counterweight": _counterweight,
    "monitor": _monitor,
    "video transmitter": lambda *_: ("sends the picture to others", None),
    "receiver": lambda *_: ("takes in sound or picture from elsewhere", None),
    "microphone": lambda *_: ("sound at the camera", None),
    "handle": lambda *_: ("to carry it by", None),
    "lens motor": lambda *_: ("turns a ring without touching the lens", None),
    "timecode box": lambda *_: ("keeps the clock of all cameras", None),
}
