"""What each thing on a rig that could be left off costs, and what it gives today; leaving it off is tried.

A thing here is a part with everything that hangs on it, without which there is still a camera that sees and runs.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator, Mapping
from dataclasses import dataclass

from ..balance.ratings import look_of
from ..errors import BadRig
from ..lens.coverage import light_of
from ..rig.edits import Attach, Connect, Detach, Operation
from .bench import Bench, Effect, free_ports, ways_on

__all__ = ["Accessory", "accessories"]

_STAYS = frozenset({"body", "lens", "lens adapter", "mount plate", "battery plate", "pack", "cage"})
"""Kinds without which there is no camera, or nothing holds together."""
_DARK_EV, _BRIGHT_EV = 5.0, 13.0
"""Below it a lamp on the camera is seen; above it a matte box keeps the sun off the glass."""

_MOST_PLACES = 8

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
        if model.kind == "cage" and (found := _needs_no_cage(bench, unit, litres)):
            yield found
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


def _needs_no_cage(bench: Bench, cage: str, litres: float) -> Accessory | None:
    """A cage whose load the body could take itself, by ports of its own, with no more Stops; None: it is needed."""
    operations = _moved_off(bench, cage)
    if not operations:
        return None
    try:
        without = bench.after(operations)
    except BadRig:
        return None
    effect = Effect.between(bench.quick, without.quick)
    if effect.stops_after > bench.quick.counts["stops"]:
        return None
    return Accessory(
        cage,
        "cage",
        bench.catalogue.model_of(cage).title,
        (),
        -effect.mass_g,
        litres - look_of(without.stand).litres,
        0.0 - effect.draw_w,
        "needs no cage: what is on it goes elsewhere on the rig",
        False,
        operations,
        effect,
    )


def _moved_off(bench: Bench, cage: str) -> tuple[Operation, ...]:
    """The cage off, and all that was on it back on the rig by the first places that take it; empty: it cannot be."""
    build, operations = bench.build, list[Operation]([Detach(unit=cage)])
    now = bench.after((Detach(unit=cage),))
    off = set(build.subtree(cage))
    for joint in (j for j in build.joints if j.parent == cage):
        ways = [w for onto, port in free_ports(now.stand.assembly) for w in ways_on(now, joint.child, onto, port)]
        tried = [(now.try_out((way,)), way) for way in ways[:_MOST_PLACES]]
        best = min(
            ((e.stops_after, e.watches_after, e.shift_mm, i) for i, (e, _) in enumerate(tried) if e), default=None
        )
        if best is None:
            return ()
        steps: list[Operation] = [tried[best[-1]][1]]
        steps += [
            Attach(
                unit=j.child,
                unit_port=j.child_port,
                onto=j.parent,
                onto_port=j.parent_port,
                spin_deg=j.spin_deg,
                slide_mm=j.slide_mm,
            )
            for unit in build.subtree(joint.child)[1:]
            if (j := build.joint_of(unit))
        ]
        try:
            now = now.after(tuple(steps))
        except BadRig:
            return ()
        operations += steps
    operations += [
        Connect(cable=k.cable, from_unit=k.from_unit, from_port=k.from_port, to_unit=k.to_unit, to_port=k.to_port)
        for k in build.links
        if {k.from_unit, k.to_unit} & off and cage not in (k.from_unit, k.to_unit)
    ]
    return tuple(operations)


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
