"""Patterns for what parts hang on: cages, plates, rods, handles, arms, weights."""

from __future__ import annotations

from collections.abc import Mapping
from itertools import pairwise
from typing import Any

from ..equipment import HandleData
from ..interface import Gender
from ..model import Adapter, GearModel, Hinge, Slide
from .question import Answers, Question
from .sketch import POINTS, Pattern, Sketch, mass, num

__all__ = ["RIGGING"]

_BAR_MM = 8.0
_STEEL_15, _STEEL_19, _ALUMINIUM_15 = 0.50, 1.02, 0.286
"""Grams a millimetre of one rod: tubes with walls of 1.5, 2.5 and 2.75 mm."""
_RODS: Mapping[str, tuple[str, float, float]] = {"15 mm": ("rods-15", 60.0, 7.5), "19 mm": ("rods-19", 104.0, 9.5)}
"""Interface, distance of their middles and radius of each kind of rod, mm."""
_End = tuple[str, Gender, bool]
_UNDER: Mapping[str, _End] = {
    "1/4-20 socket with pins": ("thread-1/4-20", "female", True),
    "1/4-20 socket": ("thread-1/4-20", "female", False),
    "3/8-16 socket": ("thread-3/8-16", "female", False),
    "38 mm dovetail": ("dovetail-38", "male", False),
    "50 mm slide-in plate": ("plate-50", "male", False),
}
_AS_USUAL = "as is usual for its kind"
_OVER: Mapping[str, _End] = {
    "1/4-20 screw with pins": ("thread-1/4-20", "male", True),
    "1/4-20 screw": ("thread-1/4-20", "male", False),
    "3/8-16 screw": ("thread-3/8-16", "male", False),
    "38 mm dovetail clamp": ("dovetail-38", "female", False),
}
_HANGS: Mapping[str, _End] = {
    "21 mm rail clamp": ("rail-21", "female", False),
    "1/4-20 screw with pins": ("thread-1/4-20", "male", True),
    "1/4-20 screw": ("thread-1/4-20", "male", False),
    "shoe foot": ("shoe", "male", False),
    "rosette": ("rosette-m6", "male", False),
}
_ARM_ENDS: Mapping[str, _End] = {k: v for k, v in _HANGS.items() if k in ("1/4-20 screw with pins", "1/4-20 screw")} | {
    "shoe foot": ("shoe", "male", False),
    "3/8-16 screw": ("thread-3/8-16", "male", False),
}


def _cage(a: Answers, s: Sketch) -> Mapping[str, Any]:
    body = a.model("body")
    bar = a.number("bar_mm")
    low, high = (-80.0, -60.0, -50.0), (0.0, 60.0, 50.0)
    under = (-30.0, 0.0, -50.0)
    if body is not None:
        seat = next(
            (p for p in body.ports if p.gender == "female" and p.interface == "thread-1/4-20" and p.n[2] < 0), None
        )
        if seat is None:
            a.problem("body", f"{body.title} has no 1/4-20 socket underneath that a cage screws to.")
        box = max(
            (shape.corners for shape in body.shapes),
            key=lambda c: (c[1][0] - c[0][0]) * (c[1][1] - c[0][1]) * (c[1][2] - c[0][2]),
        )
        low, high = box
        under = seat.at if seat else under
    (x0, y0, _), (x1, y1, z1) = low, high
    foot = under[2] - bar
    half = a.choice("reach") == "half, left side"
    left, right = y1 + 1 + bar, (y0 - 1 - bar if not half else under[1] - 24)
    s.box((max(x0 + 6, under[0] - 26), min(x1 - 2, under[0] + 26)), (right, left), (foot, under[2]), look="metal")
    roof_z = max(z1, _top(body, z1)) + 1
    roof = s.box((x0 + 6, x1 - 2), (right if not half else under[1], left), (roof_z, roof_z + bar), look="metal")
    for x in (x1 - 2 - 14, x0 + 6):
        s.box((x, x + 14), (left - bar, left), (foot, roof_z), look="metal")
        if not half:
            s.box((x, x + 14), (right, right + bar), (foot, roof_z), look="metal")
    whole = ((roof[0][0], right, foot), (roof[1][0], left, roof_z + bar))
    s.port("to-body", "bottom screw to body", "thread-1/4-20", "male", under, "top", anti_twist=a.yes("pins"))
    s.port("bottom", "bottom socket", "thread-1/4-20", "female", (under[0], under[1], foot), "bottom", anti_twist=True)
    rail = a.number("rail_mm")
    if rail >= 20:
        room = max(0.0, (min(rail, roof[1][0] - roof[0][0]) - 28) / 2)
        middle = (roof[0][0] + roof[1][0]) / 2
        s.port(
            "rail",
            "top rail",
            "rail-21",
            "male",
            (middle, (roof[0][1] + roof[1][1]) / 2, roof_z + bar),
            "top",
            slide=Slide(axis=(1.0, 0.0, 0.0), min_mm=-room, max_mm=room),
            length_mm=rail,
            takes=2 if room >= 28 else 1,
        )
    for x, name in ((x1 - 9, "front"), (x0 + 13, "rear")):
        for y, side in ((left, "left"), (right, "right")):
            if side == "right" and half:
                continue
            s.port(
                f"{side}-{name}",
                f"{side} {name} socket",
                "thread-1/4-20",
                "female",
                (x, y, foot + 0.6 * (roof_z - foot)),
                side,
                anti_twist=True,
            )
    s.port("shoe", "top shoe", "shoe", "female", (x0 + 13, roof[1][1] - 9, roof_z + bar), "top")
    s.points(a, "points", whole)
    return {
        "kind": "cage",
        "cg_mm": tuple((whole[0][i] + whole[1][i]) / 2 for i in range(3)),
        "derived": ("cg_mm", "shapes", "ports"),
    }


def _top(body: GearModel | None, otherwise: float) -> float:
    return max((shape.corners[1][2] for shape in body.shapes), default=otherwise) if body else otherwise


def _plate(a: Answers, s: Sketch) -> Mapping[str, Any]:
    long, wide, high = a.number("length_mm"), a.number("width_mm"), a.number("height_mm")
    kind, below = a.choice("called"), a.choice("under")
    if below == _AS_USUAL:
        below = "50 mm slide-in plate" if kind == "head plate" else "38 mm dovetail"
    over, under = _OVER[a.choice("over")], _UNDER[below]
    box = s.box((-long / 2, long / 2), (-wide / 2, wide / 2), (-high, 0), look="metal")
    load = a.maybe("load_n")
    clamped = a.number("clamp_mm")
    travel = max(0.0, (long - clamped) / 2)
    sliding = Slide(axis=(1.0, 0.0, 0.0), min_mm=-travel, max_mm=travel)
    foot = -high
    rods = a.choice("rods")
    if rods != "none":
        interface, spacing, radius = _RODS[rods]
        down = a.number("rods_below_mm")
        reach = spacing / 2 + radius + 6
        for x in ((long / 2 - 18, long / 2), (-long / 2, -long / 2 + 18)):
            s.box(x, (-reach, reach), (-down - radius - 3, min(-high + 1, -down + radius + 3)), look="metal")
        # What holds it from below must pass under the rods.
        foot = min(foot, -down - radius - 8)
        s.box((-long / 2, long / 2), (-min(wide, 38.0) / 2, min(wide, 38.0) / 2), (foot, -high), look="metal")
        s.port("rods-front", "front rod clamp", interface, "female", (long / 2, 0, -down), "front", load_n=load)
        s.port("rods-rear", "rear rod clamp", interface, "female", (-long / 2, 0, -down), "rear", load_n=load)
    s.port("top", a.choice("over"), over[0], over[1], (0, 0, 0), "top", anti_twist=over[2], load_n=load)
    s.port(
        "under",
        below,
        under[0],
        under[1],
        (0, 0, foot),
        "bottom",
        anti_twist=under[2],
        load_n=load,
        slide=sliding if under[1] == "male" else None,
    )
    s.points(a, "points", box)
    return {"kind": kind, "cg_mm": (0.0, 0.0, -high / 2), "derived": ("cg_mm", "shapes")}


def _rods(a: Answers, s: Sketch) -> Mapping[str, Any]:
    long, thick = a.number("length_mm"), a.choice("thick")
    interface, spacing, radius = _RODS[thick]
    for y in (-spacing / 2, spacing / 2):
        s.tube((0, y, 0), (long, y, 0), radius, look="metal")
    per_mm = _STEEL_19 if thick == "19 mm" else _STEEL_15 if a.choice("of") == "steel" else _ALUMINIUM_15
    grip = min(20.0, long / 4)
    s.port(
        "end",
        "clamped end",
        interface,
        "male",
        (grip, 0, 0),
        "rear",
        slide=Slide(axis=(1.0, 0.0, 0.0), min_mm=-grip * 0.75, max_mm=max(0.0, 0.45 * long - grip)),
    )
    middle, room = long * 0.54, long * 0.4
    s.port(
        "along",
        "along the rods",
        interface,
        "male",
        (middle, 0, 0),
        "top",
        slide=Slide(axis=(1.0, 0.0, 0.0), min_mm=-room, max_mm=room),
        takes=max(1, int(long // 60)),
        load_n=a.maybe("load_n"),
        length_mm=long,
    )
    return {"kind": "rods", "cg_mm": (long / 2, 0.0, 0.0), "mass_g": round(2 * per_mm * long), "derived": ("ports",)}


def _handle(a: Answers, s: Sketch) -> Mapping[str, Any]:
    form, long, clear = a.choice("form"), a.number("length_mm"), a.number("clearance_mm")
    base = _HANGS[a.choice("base")]
    if form == "top handle":
        s.box((-14, 14), (-13, 13), (0, 12), look="metal")
        s.box((-12, 8), (-9, 9), (12, clear + 8), look="metal")
        axis = clear + 14.0
        rear, front = -min(30.0, long / 3), long - min(30.0, long / 3)
        s.tube((rear, 0, axis), (front, 0, axis), 14, look="soft")
        s.port(
            "base",
            a.choice("base"),
            base[0],
            base[1],
            (0, 0, 0),
            "bottom",
            anti_twist=base[2],
            grip_mm=28.0 if base[0] == "rail-21" else 0.0,
        )
        s.port("front", "front socket", "thread-1/4-20", "female", (front, 0, axis), "front", anti_twist=True)
        s.port("shoe", "handle shoe", "shoe", "female", ((rear + front) / 2, 0, axis + 14), "top")
        cg = ((rear + front) / 2, 0.0, axis)
    else:
        s.box((-12, 12), (-14, 14), (-14, 0), look="metal")
        s.tube((0, 0, -14), (0, 0, -14 - long), 17, look="soft")
        s.port("base", a.choice("base"), base[0], base[1], (0, 0, 0), "top", anti_twist=base[2])
        cg = (0.0, 0.0, -14 - long / 2)
    controls = tuple(part.strip() for part in a.text("controls").split(",") if part.strip())
    return {
        "kind": "handle" if form == "top handle" else "grip",
        "cg_mm": cg,
        "handle": HandleData(trigger=a.yes("trigger"), controls=controls),
        "derived": ("cg_mm", "shapes", "ports"),
    }


def _arm(a: Answers, s: Sketch) -> Mapping[str, Any]:
    long, joints = a.number("length_mm"), int(a.choice("joints"))
    base, tip = _ARM_ENDS[a.choice("base")], _ARM_ENDS[a.choice("tip")]
    holding = a.maybe("holding_nm")
    ends = min(14.0, long / 4)
    steps = {0: (), 1: (long / 2,), 2: (ends, long - ends), 3: (ends, long / 2, long - ends)}[joints]
    names = {1: ("elbow",), 2: ("base ball", "tip ball"), 3: ("base ball", "elbow", "tip ball")}
    if joints:
        cuts = sorted({0.0, ends, *steps, long - ends, long})
        for low, high in pairwise(cuts):
            s.tube((0, 0, low), (0, 0, high), 13 if low < ends or high > long - ends else 8, look="metal")
    else:
        s.box((-14, 14), (-14, 14), (0, long), look="metal")
    s.port("base", f"base {a.choice('base')}", base[0], base[1], (0, 0, 0), "bottom", anti_twist=base[2])
    s.port(
        "tip",
        f"tip {a.choice('tip')}",
        tip[0],
        tip[1],
        (0, 0, long),
        "top",
        anti_twist=tip[2],
        load_n=_newtons(a.maybe("load_g")),
    )
    return {
        "kind": "arm",
        "cg_mm": (0.0, 0.0, long / 2),
        "hinges": tuple(
            Hinge(
                at=(0.0, 0.0, at),
                beyond="tip",
                holding_nm=holding,
                label=name,
                range_deg=(-135.0, 135.0) if name == "elbow" else (-90.0, 90.0),
            )
            for at, name in zip(steps, names.get(joints, ()), strict=True)
        ),
        "derived": ("cg_mm", "shapes", *(("hinges",) if steps else ())),
    }


def _newtons(grams: float | None) -> float | None:
    return None if grams is None else round(grams / 1000 * 9.80665, 2)


def _converts(a: Answers, s: Sketch) -> Mapping[str, Any]:
    high = a.number("height_mm")
    below: Mapping[str, _End] = {
        "shoe foot": ("shoe", "male", False),
        **{k: v for k, v in _OVER.items() if v[1] == "male"},
    }
    above: Mapping[str, _End] = {
        "1/4-20 screw": ("thread-1/4-20", "male", False),
        "1/4-20 socket": ("thread-1/4-20", "female", False),
        "shoe": ("shoe", "female", False),
        "3/8-16 screw": ("thread-3/8-16", "male", False),
    }
    lower, upper = below[a.choice("base")], above[a.choice("tip")]
    if lower[:2] == upper[:2] and lower[0] == "shoe":
        a.problem("tip", "Both ends are alike; it would adapt nothing.")
    s.box((-11, 11), (-11, 11), (0, high), look="metal")
    s.port("base", a.choice("base"), lower[0], lower[1], (0, 0, 0), "bottom", anti_twist=lower[2])
    s.port("tip", a.choice("tip"), upper[0], upper[1], (0, 0, high), "top")
    adapts = lower[0] != upper[0] or lower[1] == upper[1]
    return {
        "kind": "adapter" if adapts else "riser",
        "cg_mm": (0.0, 0.0, high / 2),
        "adapter": Adapter(toward_body="base", toward_part="tip") if adapts else None,
        "derived": ("cg_mm", "shapes"),
    }


def _riser(a: Answers, s: Sketch) -> Mapping[str, Any]:
    long, wide, high = a.number("length_mm"), a.number("width_mm"), a.number("height_mm")
    s.box((-long / 2, long / 2), (-wide / 2, wide / 2), (-high, 0), look="metal")
    s.port("screw", "top screw", "thread-1/4-20", "male", (0, 0, 0), "top", anti_twist=True)
    s.port("socket", "bottom socket", "thread-1/4-20", "female", (0, 0, -high), "bottom", anti_twist=True)
    return {"kind": "riser", "cg_mm": (0.0, 0.0, -high / 2), "derived": ("cg_mm",)}


def _rod_support(a: Answers, s: Sketch) -> Mapping[str, Any]:
    thick = a.choice("thick")
    interface, spacing, radius = _RODS[thick]
    up = a.number("height_mm")
    wide = spacing / 2 + radius + 5
    s.box((-10, 10), (-wide, wide), (-radius - 4, radius + 4), look="metal")
    s.box((-7, 7), (-7, 7), (radius + 4, up - 4), look="metal")
    s.box((-9, 9), (-20, 20), (up - 4, up), look="soft")
    s.port("clamp", "rod clamp", interface, "female", (0, 0, 0), "bottom", grip_mm=20.0)
    return {"kind": "lens support", "cg_mm": (0.0, 0.0, up / 4), "derived": ("cg_mm", "shapes")}


def _weight(a: Answers, s: Sketch) -> Mapping[str, Any]:
    grams, wide = a.number("mass_g"), a.number("diameter_mm")
    high = grams / 1000 / 7.9e-6 / (3.14159 * wide**2 / 4)
    s.tube((0, 0, 0), (0, 0, high), wide / 2, look="metal")
    s.port("screw", "screw", "thread-1/4-20", "male", (0, 0, 0), "bottom")
    s.port("socket", "socket", "thread-1/4-20", "female", (0, 0, high), "top")
    return {"kind": "counterweight", "cg_mm": (0.0, 0.0, high / 2), "derived": ("cg_mm", "shapes")}


_THICK = Question(key="thick", label="Rods", kind="choice", choices=("15 mm", "19 mm"), feeds="fit")
_MORE_POINTS = Question(
    key="points",
    label="Threads, shoes and rails",
    kind="rows",
    columns=POINTS,
    typical=(),
    more=True,
    feeds="what can be mounted",
)

RIGGING = (
    Pattern(
        id="cage",
        label="Cage",
        group="Rigging",
        draw=_cage,
        questions=(
            Question(key="body", label="Body it fits", kind="model", required=True, feeds="fit"),
            mass(60, 1500, 300.0),
            Question(key="reach", label="Form", kind="choice", choices=("full", "half, left side")),
            num("bar_mm", "Bar thickness", "mm", 4, 16, _BAR_MM, feeds="room"),
            num("rail_mm", "Rail on top, length (0: none)", "mm", 0, 250, 70.0),
            Question(key="pins", label="Pins against twisting", kind="yes", typical=True, feeds="twist"),
            _MORE_POINTS,
        ),
    ),
    Pattern(
        id="base plate",
        label="Base, release or head plate",
        group="Rigging",
        draw=_plate,
        questions=(
            Question(
                key="called",
                label="Kind",
                kind="choice",
                choices=("base plate", "release plate", "head plate", "dovetail clamp"),
            ),
            mass(30, 3000, 300.0),
            num("length_mm", "Length", "mm", 30, 500, 120.0, feeds="travel"),
            num("width_mm", "Width", "mm", 15, 200, 60.0),
            num("height_mm", "Height", "mm", 5, 100, 14.0, feeds="rod height"),
            Question(key="over", label="On top", kind="choice", choices=tuple(_OVER), feeds="fit"),
            Question(
                key="under",
                label="Underneath",
                kind="choice",
                choices=(_AS_USUAL, *_UNDER),
                typical=_AS_USUAL,
                feeds="fit",
            ),
            Question(key="rods", label="Rod clamps", kind="choice", choices=("none", "15 mm", "19 mm"), feeds="rods"),
            num("rods_below_mm", "Rod centres below its top", "mm", 5, 150, 23.0, feeds="rod height"),
            num("load_n", "Rated load", "N", 5, 2000, more=True, feeds="load"),
            num("clamp_mm", "Of its length the clamp needs", "mm", 10, 150, 50.0, more=True, feeds="travel"),
            _MORE_POINTS,
        ),
    ),
    Pattern(
        id="rods",
        label="Rods, a pair",
        group="Rigging",
        draw=_rods,
        questions=(
            num("length_mm", "Length", "mm", 60, 900, 300.0, feeds="room"),
            _THICK,
            Question(key="of", label="Made of", kind="choice", choices=("aluminium", "steel"), feeds="mass"),
            mass(40, 3000, None),
            num("load_n", "Rated load", "N", 5, 1000, more=True, feeds="load"),
        ),
    ),
    Pattern(
        id="lens support",
        label="Lens support on rods",
        group="Rigging",
        draw=_rod_support,
        questions=(mass(40, 800, 180.0), _THICK, num("height_mm", "Height over the rods", "mm", 10, 90, 36.0)),
    ),
    Pattern(
        id="handle",
        label="Handle or grip",
        group="Rigging",
        draw=_handle,
        questions=(
            Question(key="form", label="Form", kind="choice", choices=("top handle", "side grip")),
            Question(key="base", label="Fastened by", kind="choice", choices=tuple(_HANGS), feeds="fit, twist"),
            mass(60, 1200, 280.0),
            num("length_mm", "Length of the grip", "mm", 60, 300, 120.0, feeds="room"),
            num("clearance_mm", "Room under a top handle", "mm", 15, 90, 40.0, feeds="room"),
            Question(key="trigger", label="Record button", kind="yes", more=True, field="handle.trigger"),
            Question(key="controls", label="Controls lost without it", kind="text", more=True),
        ),
    ),
    Pattern(
        id="arm",
        label="Arm or tilting mount",
        group="Rigging",
        draw=_arm,
        questions=(
            mass(20, 1500, 180.0),
            num("length_mm", "Length, end to end", "mm", 15, 600, 110.0, feeds="sag"),
            Question(key="joints", label="Friction joints", kind="choice", choices=("2", "1", "3", "0"), feeds="sag"),
            Question(key="base", label="Base", kind="choice", choices=tuple(_ARM_ENDS), feeds="fit, twist"),
            Question(
                key="tip", label="Tip", kind="choice", choices=tuple(_ARM_ENDS), typical="1/4-20 screw", feeds="fit"
            ),
            num("load_g", "Rated load", "g", 50, 10_000, feeds="load"),
            num("holding_nm", "A joint holds", "N·m", 0.1, 20, more=True, feeds="sag"),
        ),
    ),
    Pattern(
        id="adapter",
        label="Small adapter (shoe, thread)",
        group="Rigging",
        draw=_converts,
        questions=(
            Question(
                key="base",
                label="Base",
                kind="choice",
                choices=("shoe foot", "1/4-20 screw", "1/4-20 screw with pins", "3/8-16 screw"),
                feeds="fit",
            ),
            Question(
                key="tip",
                label="Other end",
                kind="choice",
                choices=("1/4-20 screw", "1/4-20 socket", "shoe", "3/8-16 screw"),
                feeds="fit",
            ),
            mass(5, 300, 25.0),
            num("height_mm", "Height", "mm", 3, 100, 12.0),
        ),
    ),
    Pattern(
        id="riser",
        label="Riser plate",
        group="Rigging",
        draw=_riser,
        questions=(
            mass(20, 800, 115.0),
            num("length_mm", "Length", "mm", 20, 300, 80.0),
            num("width_mm", "Width", "mm", 15, 150, 48.0),
            num("height_mm", "Height", "mm", 5, 80, 20.0, feeds="rod height, gimbal"),
        ),
    ),
    Pattern(
        id="counterweight",
        label="Counterweight",
        group="Rigging",
        draw=_weight,
        questions=(mass(20, 3000, 100.0), num("diameter_mm", "Diameter", "mm", 15, 120, 38.0)),
    ),
)
