"""Patterns for what goes in front of a lens and what turns its rings."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from ..electrical import Draw
from ..model import Adapter
from ..optical import FilterData, FollowFocus
from .question import Answers, Question
from .sketch import POWER_IN, Pattern, Sketch, mass, num

__all__ = ["GLASS"]

_FilterKind = Literal["nd", "variable nd", "polariser", "clear", "diffusion"]
_KINDS: Mapping[str, _FilterKind] = {
    "ND": "nd",
    "variable ND": "variable nd",
    "polariser": "polariser",
    "clear": "clear",
    "diffusion": "diffusion",
}


def _filter(a: Answers, s: Sketch) -> Mapping[str, Any]:
    on, high = a.interface("on"), a.number("height_mm")
    least = a.number("stops")
    most = a.number("stops_to") if a.is_known("stops_to") else least
    if most < least:
        a.problem("stops_to", f"{least:g} to {most:g} stops: the fewer come first.")
    data = {
        "kind": "filter",
        "filter": FilterData(
            kind=_KINDS[a.choice("kind")],
            stops=(least, max(least, most)),
            height_mm=high,
            clear_mm=a.maybe("clear_mm") or (on.diameter_mm - 4 if on.diameter_mm else None),
        ),
        "derived": ("cg_mm", "shapes"),
    }
    if on.pitch_mm is None and on.diameter_mm is None:
        s.box((-high / 2, high / 2), (-72, 72), (-112, 3), look="glass")
        s.port("edge", "edge", on.id, "male", (0, 0, 0), "bottom")
        return {**data, "cg_mm": (0.0, 0.0, -55.0)}
    radius = (on.diameter_mm or 82.0) / 2 + 2
    s.tube((0, 0, 0), (high, 0, 0), radius, look="glass")
    s.port("thread", "rear thread", on.id, "male", (0, 0, 0), "rear")
    s.port("front", "front thread", on.id, "female", (high, 0, 0), "front")
    return {**data, "cg_mm": (high / 2, 0.0, 0.0)}


def _ring(a: Answers, s: Sketch) -> Mapping[str, Any]:
    rear, front, high = a.interface("rear"), a.interface("front"), a.number("height_mm")
    if rear.id == front.id:
        a.problem("front", "Both sides are the same; a ring leads from one size to another.")
    radius = max(rear.diameter_mm or 0.0, front.diameter_mm or 0.0, 40.0) / 2 + 2
    s.tube((0, 0, 0), (high, 0, 0), radius, look="metal")
    s.port("rear", "rear thread", rear.id, "male", (0, 0, 0), "rear")
    s.port("front", front.label, front.id, "female" if front.pitch_mm is not None else "male", (high, 0, 0), "front")
    return {
        "kind": "step-up ring",
        "cg_mm": (high / 2, 0.0, 0.0),
        "adapter": Adapter(toward_body="rear", toward_part="front"),
        "derived": ("cg_mm", "shapes"),
    }


def _matte(a: Answers, s: Sketch) -> Mapping[str, Any]:
    front, deep = a.interface("on"), a.number("depth_mm")
    radius = (front.diameter_mm or 114.0) / 2 + 5
    s.tube((-14, 0, 0), (2, 0, 0), radius, look="metal")
    s.box((2, 30), (-82, 82), (-64, 66), look="soft")
    s.box((30, max(31.0, deep)), (-88, 88), (-68, 72), look="soft")
    s.port("clamp", "clamp ring", front.id, "female", (0, 0, 0), "rear")
    for i in range(int(a.number("trays"))):
        s.port(f"tray-{i + 1}", f"filter tray {i + 1}", a.interface("tray").id, "female", (8.0 + 10 * i, 0, 66), "top")
    return {"kind": "matte box", "cg_mm": (deep / 3, 0.0, 0.0), "derived": ("cg_mm", "shapes")}


def _motor(a: Answers, s: Sketch) -> Mapping[str, Any]:
    side = 1.0 if a.choice("side") == "left" else -1.0
    interface = "rods-15" if a.choice("on") == "15 mm rods" else "rods-19"
    half = 40.0 if interface == "rods-15" else 64.0
    up = a.number("up_mm")
    module: float = float(a.choice("module"))
    out = side * half * 0.85
    s.box((-10, 10), (-half, half), (-11, 11), look="metal")
    box = ((-26.0, out - 17, up - 17), (26.0, out + 17, up + 17))
    s.tube((-26, out, up), (26, out, up), 17)
    s.tube((26, out, up), (34, out, up), 20, look="metal")
    s.port("clamp", "rod clamp", interface, "female", (0, 0, 0), "bottom", grip_mm=22.0)
    draws = a.yes("driven")
    if draws:
        s.power_in(a, "inputs", box)
    return {
        "kind": "lens motor" if draws else "follow focus",
        "cg_mm": (0.0, out * 0.6, up * 0.6),
        "draw": Draw(standby_w=a.number("standby_w"), record_w=a.number("record_w"), peak_w=a.number("peak_w"))
        if draws
        else None,
        "follow_focus": FollowFocus(at=(30.0, out, up), radius_mm=20.0, module_mm=module, width_mm=8.0, swing_mm=25.0),
        "derived": ("cg_mm", "shapes", "follow_focus"),
    }


_FRONTS = {"kind": "interface", "families": ("front",)}
GLASS = (
    Pattern(
        id="filter",
        label="Filter",
        group="In front of the lens",
        draw=_filter,
        questions=(
            Question(key="kind", label="Kind", kind="choice", choices=tuple(_KINDS), feeds="light"),
            Question(key="on", label="Thread or tray", feeds="fit", **_FRONTS),  # type: ignore[arg-type]  # its two words
            num("stops", "Takes", "stops", 0, 16, 2.0, feeds="light"),
            num("stops_to", "to (variable)", "stops", 0, 16, feeds="light"),
            mass(5, 600, 45.0),
            num("height_mm", "Height", "mm", 1, 40, 6.0, feeds="corners", field="filter.height_mm"),
            num("clear_mm", "Clear diameter", "mm", 10, 160, more=True, feeds="corners", field="filter.clear_mm"),
        ),
    ),
    Pattern(
        id="ring",
        label="Step-up ring",
        group="In front of the lens",
        draw=_ring,
        questions=(
            Question(key="rear", label="Screws into", feeds="fit", **_FRONTS),  # type: ignore[arg-type]  # its two words
            Question(key="front", label="Gives", feeds="fit", **_FRONTS),  # type: ignore[arg-type]  # its two words
            mass(3, 200, 20.0),
            num("height_mm", "Height", "mm", 1, 40, 4.0),
        ),
    ),
    Pattern(
        id="matte box",
        label="Matte box",
        group="In front of the lens",
        draw=_matte,
        questions=(
            Question(key="on", label="Clamps on", typical="front-114", feeds="fit", **_FRONTS),  # type: ignore[arg-type]  # its two words
            mass(100, 3000, 400.0),
            num("trays", "Trays", "", 0, 4, 1.0, feeds="filters"),
            num("depth_mm", "Depth", "mm", 20, 250, 58.0, feeds="room"),
            Question(key="tray", label="Tray size", typical="tray-4x5.65", more=True, **_FRONTS),  # type: ignore[arg-type]  # its two words
        ),
    ),
    Pattern(
        id="lens motor",
        label="Lens motor or follow focus",
        group="In front of the lens",
        draw=_motor,
        questions=(
            Question(key="driven", label="Driven by a motor", kind="yes", typical=True),
            Question(key="on", label="Sits on", kind="choice", choices=("15 mm rods", "19 mm rods"), feeds="fit"),
            Question(key="side", label="Side", kind="choice", choices=("left", "right")),
            Question(
                key="module", label="Gear module", kind="choice", choices=("0.8", "0.6", "0.5", "0.4"), feeds="rings"
            ),
            mass(60, 1500, 190.0),
            num("record_w", "Draw at work", "W", 0.5, 40, 4.0, feeds="hours", field="draw.record_w"),
            num("peak_w", "Draw at its peak", "W", 1, 80, 14.0, feeds="currents", field="draw.peak_w"),
            Question(
                key="inputs",
                label="Power inputs",
                kind="rows",
                columns=POWER_IN,
                typical=({"plug": "round-2", "face": "rear"},),
                feeds="feeding, voltages",
            ),
            num("standby_w", "Draw, standby", "W", 0, 20, 1.5, more=True, field="draw.standby_w"),
            num("up_mm", "Its axis over the rods", "mm", 10, 90, 30.0, more=True, feeds="rings"),
        ),
    ),
)
