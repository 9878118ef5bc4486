"""Patterns for what carries a rig: heads, sticks, shoulder pads, gimbals, magnet and clamp mounts."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Literal

from ..electrical import Pack
from ..supports import (
    GimbalData,
    HeadData,
    MountData,
    MountPoint,
    SlideRange,
    Spring,
    Stage,
    StandData,
    SupportData,
)
from .question import Answers, Question
from .sketch import POINTS, Pattern, Sketch, mass, num

__all__ = ["STANDING"]

_BASES: Mapping[str, tuple[str, Literal["female", "male"]]] = {
    "75 mm half ball": ("bowl-75", "male"),
    "100 mm half ball": ("bowl-100", "male"),
    "flat base, 3/8-16": ("flat-3/8", "female"),
}
_BOWLS: Mapping[str, tuple[str, Literal["female", "male"]]] = {
    "75 mm bowl": ("bowl-75", "female"),
    "100 mm bowl": ("bowl-100", "female"),
    "flat, 3/8-16 stud": ("flat-3/8", "male"),
}
_TAKES: Mapping[str, tuple[str, Literal["female", "male"]]] = {
    "50 mm slide-in plate": ("plate-50", "female"),
    "38 mm dovetail": ("dovetail-38", "female"),
    "1/4-20 screw": ("thread-1/4-20", "male"),
    "3/8-16 screw": ("thread-3/8-16", "male"),
}
_TORQUES: Mapping[str, float] = {"small": 0.35, "middle": 0.8, "large": 1.4}
_STAGE_SHARES = (0.12, 0.18, 0.20)
_ARM_MM = (20.0, 30.0)
"""Thickness and width of a gimbal's arms."""
_PEAK_W = 8.0
"""What a motor takes at its rated torque: the constant follows from it."""


def _head(a: Answers, s: Sketch) -> Mapping[str, Any]:
    high, takes, base = a.number("height_mm"), _TAKES[a.choice("takes")], _BASES[a.choice("base")]
    pivot = -min(60.0, 0.4 * high)
    s.box((-50, 50), (-32, 32), (-14, 0), look="metal")
    s.tube((0, -55, pivot), (0, 55, pivot), min(40.0, -pivot - 4))
    s.tube((0, 0, pivot - 20), (0, 0, -high), 48)
    if a.yes("bar"):
        s.tube((0, 58, pivot), (-330, 110, pivot - 110), 10, look="soft")
    s.port("clamp", a.choice("takes"), takes[0], takes[1], (0, 0, 0), "top")
    s.port("base", a.choice("base"), base[0], base[1], (0, 0, -high), "bottom")
    up, down = a.number("tilt_up_deg"), a.number("tilt_down_deg")
    springs = tuple(
        Spring(label=r.text("label") or f"step {i + 1}", nm_at=((30.0, 0.577 * nm), (60.0, nm), (90.0, 1.155 * nm)))
        for i, r in enumerate(a.rows("springs"))
        for nm in (r.number("nm"),)
    )
    return {
        "kind": "head",
        "cg_mm": (0.0, 0.0, -0.55 * high),
        "support": SupportData(
            kind="head",
            at=(0.0, 0.0, pivot),
            max_payload_g=a.maybe("payload_g"),
            head=HeadData(tilt_deg=(-up, down), hold_nm=a.number("hold_nm"), springs=springs),
        ),
        "derived": ("cg_mm", "shapes", "support.at"),
    }


def _sticks(a: Answers, s: Sketch) -> Mapping[str, Any]:
    high = a.number("height_mm")
    top = _BOWLS[a.choice("bowl")]
    single = a.choice("legs") == "monopod"
    s.port("bowl", a.choice("bowl"), top[0], top[1], (0, 0, 0), "top", load_n=_newtons(a.maybe("payload_g")))
    edge = 0.0 if single else a.number("spread_mm") / 2
    return {
        "kind": "sticks",
        "cg_mm": (0.0, 0.0, -0.47 * high),
        "stand": StandData(legs="monopod" if single else "tripod", edge_mm=edge, height_mm=high),
        "derived": ("cg_mm", *(() if single else ("stand.edge_mm",))),
    }


def _newtons(grams: float | None) -> float | None:
    return None if grams is None else round(grams / 1000 * 9.80665, 2)


def _pad(a: Answers, s: Sketch) -> Mapping[str, Any]:
    takes = _TAKES[a.choice("takes")]
    s.box((-40, 40), (-28, 28), (-14, 0), look="metal")
    s.box((-76, 36), (-48, 48), (-44, -14), look="soft")
    s.port("clamp", a.choice("takes"), takes[0], takes[1], (0, 0, 0), "top", anti_twist=takes[1] == "male")
    s.points(a, "points", ((-76, -48, -44), (36, 48, -14)))
    return {
        "kind": "shoulder pad",
        "cg_mm": (-15.0, 0.0, -24.0),
        "support": SupportData(kind="shoulder", at=(-20.0, 0.0, -44.0), max_payload_g=a.maybe("payload_g")),
        "derived": ("cg_mm", "shapes", "support.at"),
    }


def _mount(a: Answers, s: Sketch) -> Mapping[str, Any]:
    count, radius, foot = max(1, int(a.number("points_n"))), a.number("circle_mm") / 2, a.number("foot_mm")
    by: Literal["magnet", "suction", "clamp"] = a.choice("by")  # type: ignore[assignment]  # one of its choices
    deep = a.number("height_mm")
    s.box((-radius - 10, radius + 10), (-radius - 10, radius + 10), (-10, 0), look="metal")
    pull = a.number("pull_n")
    if not a.is_known("pull_n"):
        a.problem("pull_n", "Enter what one point holds, in N, as its maker states it for the face it is to hold to.")
    points = []
    for i in range(count):
        turn = 2 * math.pi * i / count
        r = 0.0 if count == 1 else radius
        at = (round(r * math.cos(turn), 3), round(r * math.sin(turn), 3), -deep)
        s.tube((at[0], at[1], -10), at, foot, look="soft")
        points.append(MountPoint(by=by, pull_off_n=pull, rubber=a.yes("rubber"), at=at, foot_mm=foot))
    takes = _TAKES[a.choice("takes")]
    s.port("screw", a.choice("takes"), takes[0], takes[1], (0, 0, 0), "top", anti_twist=True)
    speed = a.maybe("rated_km_h")
    return {
        "kind": "mount",
        "cg_mm": (0.0, 0.0, -deep / 2),
        "support": SupportData(
            kind="mount",
            at=(0.0, 0.0, -deep),
            max_payload_g=a.maybe("payload_g"),
            mount=MountData(
                points=tuple(points),
                along_face=a.choice("face") == "upright",
                rated_m_s=speed / 3.6 if speed else None,
            ),
        ),
        "derived": ("cg_mm", "shapes"),
    }


def _line(a: Answers, s: Sketch) -> Mapping[str, Any]:
    s.tube((0, 0, 0), (0, 0, 14), 8, look="metal")
    s.port("screw", "eye screw", "thread-1/4-20", "male", (0, 0, 0), "bottom", load_n=a.maybe("load_n"))
    return {"kind": "safety line", "cg_mm": (0.0, 0.0, 7.0), "derived": ("cg_mm", "shapes")}


def _gimbal(a: Answers, s: Sketch) -> Mapping[str, Any]:
    half, back, below = a.number("clear_width_mm") / 2, a.number("clear_back_mm"), a.number("clear_below_mm")
    weighs = a.number("mass_g")
    thick, wide = _ARM_MM
    w = wide / 2
    takes = _TAKES[a.choice("takes")]
    right, motor = -half, 30.0
    # The plate and its arm ride up and down on the tilt arm, at the right of the camera.
    s.box((-60, 60), (-28, 28), (-below - 16, -below), look="metal", stage="seat")
    s.box((-w, w), (right + 2, -28), (-below - 16, -below - 3), look="metal", stage="seat")
    s.box((-w, w), (right - thick / 2, right), (-below - 40, w), look="metal", stage="tilt")
    outer = right - thick / 2 - 4 - motor
    s.tube((0, right - thick / 2 - 4, 0), (0, outer, 0), 30, stage="roll")
    s.box((-back - 12, -10), (outer - 2, outer + thick - 4), (-w, w), look="metal", stage="roll")
    s.box((-back - 12 - thick, -back - 4), (outer - 2, 20), (-w, w), look="metal", stage="roll")
    rear = -back - 12 - thick
    s.tube((rear, 0, 0), (rear - 34, 0, 0), 32, stage="pan")
    low = -below - 40 - 60
    s.box((rear - 34 - thick, rear - 34 + 6), (-w, w), (low - thick, w), look="metal", stage="pan")
    s.box((rear - 34 - thick, 30), (-w, w), (low - thick, low), look="metal", stage="pan")
    under = low - thick
    s.tube((0, 0, under), (0, 0, under - 40), 34, stage="handle")
    grip = a.number("girth_mm") / 2
    s.tube((0, 0, under - 40), (0, 0, under - 200), grip, look="soft", stage="handle")
    bar_z = under - 40
    if a.choice("form") == "two handles":
        s.box((-18, 18), (-210, 210), (bar_z - 26, bar_z), look="metal", stage="handle")
        for y in (-205, 205):
            s.tube((0, y, bar_z - 13), (0, y, bar_z + 80), grip, look="soft", stage="handle")
    s.port("camera", a.choice("takes"), takes[0], takes[1], (0, 0, -below), "top", stage="seat")
    for side, y in (("left", 1), ("right", -1)) if a.choice("form") == "two handles" else ():
        s.port(
            f"bar-{side}",
            f"bar socket {side}",
            "thread-1/4-20",
            "female",
            (0, 120.0 * y, bar_z),
            "top",
            stage="handle",
            anti_twist=True,
        )
    if a.choice("form") != "two handles":
        s.port(
            "grip-socket",
            "grip socket",
            "thread-1/4-20",
            "female",
            (grip, 0, under - 60),
            "front",
            stage="handle",
            anti_twist=True,
        )
    torque = a.number("torque_nm") if a.is_known("torque_nm") else _TORQUES[a.choice("class")]
    shares = [share * weighs for share in _STAGE_SHARES]
    pack_wh, base_w, most = a.maybe("pack_wh"), a.number("base_w"), a.maybe("payload_to_g")
    least = a.maybe("payload_from_g") or 0.0
    limits = [g for g in (most, a.maybe("second_payload_g")) if g]
    if limits and least > min(limits):
        a.problem("payload_from_g", f"It needs {least:g} g and carries {min(limits):g} g; the least comes below.")
    constant = torque / math.sqrt(_PEAK_W)
    slides: dict[str, Any] = {
        name: SlideRange(
            min_mm=-travel / 2,
            max_mm=travel / 2,
            zero=a.number(f"{name}_zero") if a.is_known(f"{name}_zero") else travel / 2,
            direction=-1 if a.choice(f"{name}_way") == "falls" else 1,
        )
        for name in ("fore_aft", "vertical", "lateral", "pan_slide")
        for travel in (a.number(f"{name}_mm"),)
    }
    return {
        "kind": "gimbal",
        "cg_mm": (-0.4 * back, -0.25 * half, -below - 40),
        "support": SupportData(
            kind="gimbal", girth_mm=math.pi * a.number("girth_mm") if a.is_known("girth_mm") else None
        ),
        "pack": _cells(pack_wh) if pack_wh else None,
        "gimbal": GimbalData(
            camera_port="camera",
            max_payload_g=most or 1.0,
            min_payload_g=least,
            second_payload_g=a.maybe("second_payload_g"),
            claimed_h=a.maybe("claimed_h"),
            tilt=Stage(mass_g=shares[0], cg_mm=(0.0, right - thick / 4, -below / 2)),
            roll=Stage(mass_g=shares[1], cg_mm=(-back / 2, outer / 2, 0.0)),
            pan=Stage(mass_g=shares[2], cg_mm=(rear - 34, 0.0, low / 2)),
            torque_nm=(torque, torque, torque),
            motor_constant=(constant, constant, constant),
            base_w=base_w,
            axis_locks=a.yes("locks"),
            **slides,
        ),
        "derived": (
            "cg_mm",
            "shapes",
            "gimbal.tilt",
            "gimbal.roll",
            "gimbal.pan",
            "gimbal.motor_constant",
            *(() if a.is_known("torque_nm") else ("gimbal.torque_nm",)),
            *(("pack.resistance_ohm",) if pack_wh else ()),
        ),
    }


def _cells(watt_hours: float) -> Pack:
    cells = 4 if watt_hours > 30 else 2
    return Pack(
        cells=cells,
        capacity_ah=watt_hours / (3.77 * cells),
        resistance_ohm=0.06 * cells / (watt_hours / (12.5 * cells)),
    )


def _travel(name: str, label: str, typical: float) -> tuple[Question, ...]:
    return (num(f"{name}_mm", f"{label}: travel", "mm", 4, 400, typical, feeds="balance"),)


def _scale(name: str, label: str) -> tuple[Question, ...]:
    return (
        num(f"{name}_zero", f"{label}: its scale in the middle", "mm", -400, 400, more=True, feeds="balance cards"),
        Question(
            key=f"{name}_way",
            label=f"{label}: forward, up or left the figure",
            kind="choice",
            choices=("rises", "falls"),
            more=True,
            feeds="balance cards",
        ),
    )


_SLIDES = (
    ("fore_aft", "Fore and aft", 70.0),
    ("vertical", "Up and down", 50.0),
    ("lateral", "Sideways", 60.0),
    ("pan_slide", "Pan arm", 80.0),
)
_TAKE = Question(key="takes", label="Takes", kind="choice", choices=tuple(_TAKES), feeds="fit")

STANDING = (
    Pattern(
        id="head",
        label="Head",
        group="Standing and moving",
        draw=_head,
        questions=(
            num("payload_g", "Rated payload", "g", 200, 60_000, feeds="payload", field="support.max_payload_g"),
            mass(200, 20_000, 2400.0),
            _TAKE,
            Question(key="base", label="Base", kind="choice", choices=tuple(_BASES), feeds="fit"),
            num("hold_nm", "Full drag or lock holds", "N·m", 0.1, 60, 1.5, feeds="tilt", field="support.head.hold_nm"),
            Question(
                key="springs",
                label="Counterbalance steps",
                kind="rows",
                feeds="tilt",
                typical=(),
                columns=(
                    Question(key="label", label="Step", kind="text"),
                    num("nm", "Moment at 60°", "N·m", 0.1, 100, 4.0),
                ),
            ),
            num("tilt_up_deg", "Tilts up", "°", 5, 120, 60.0, more=True),
            num("tilt_down_deg", "Tilts down", "°", 5, 120, 85.0, more=True),
            num("height_mm", "Height", "mm", 40, 400, 150.0, more=True, feeds="tipping"),
            Question(key="bar", label="Pan bar", kind="yes", typical=True, more=True, feeds="room"),
        ),
    ),
    Pattern(
        id="sticks",
        label="Sticks or monopod",
        group="Standing and moving",
        draw=_sticks,
        questions=(
            Question(key="legs", label="Legs", kind="choice", choices=("tripod", "monopod"), feeds="tipping"),
            Question(key="bowl", label="Top", kind="choice", choices=tuple(_BOWLS), feeds="fit"),
            mass(300, 20_000, 3200.0),
            num("height_mm", "Height in use", "mm", 200, 4000, 1300.0, feeds="tipping", field="stand.height_mm"),
            num("spread_mm", "From the middle to a foot", "mm", 100, 1800, 640.0, feeds="tipping"),
            num("payload_g", "Rated payload", "g", 500, 150_000, feeds="load"),
        ),
    ),
    Pattern(
        id="shoulder pad",
        label="Shoulder pad",
        group="Standing and moving",
        draw=_pad,
        questions=(
            mass(80, 3000, 450.0),
            Question(
                key="takes", label="Takes", kind="choice", choices=tuple(_TAKES), typical="38 mm dovetail", feeds="fit"
            ),
            num("payload_g", "Rated payload", "g", 500, 40_000, feeds="payload", field="support.max_payload_g"),
            Question(
                key="points",
                label="Threads, shoes and rails",
                kind="rows",
                columns=POINTS,
                typical=(),
                more=True,
                feeds="what can be mounted",
            ),
        ),
    ),
    Pattern(
        id="gimbal",
        label="Gimbal",
        group="Standing and moving",
        draw=_gimbal,
        questions=(
            num("payload_from_g", "Payload from", "g", 0, 30_000, feeds="payload", field="gimbal.min_payload_g"),
            num(
                "payload_to_g",
                "Payload to",
                "g",
                200,
                40_000,
                required=True,
                feeds="payload",
                field="gimbal.max_payload_g",
            ),
            mass(300, 15_000, 1600.0),
            num("clear_width_mm", "Room for the camera, width", "mm", 60, 400, 200.0, feeds="reach"),
            num("clear_back_mm", "behind the axis", "mm", 40, 400, 130.0, feeds="reach"),
            num("clear_below_mm", "below the axis, to the plate", "mm", 20, 250, 70.0, feeds="reach"),
            *(q for slide in _SLIDES for q in _travel(*slide)),
            Question(key="class", label="Motors", kind="choice", choices=tuple(_TORQUES), feeds="motors"),
            num("pack_wh", "Pack of its own", "Wh", 1, 300, feeds="hours"),
            num(
                "second_payload_g",
                "A second published payload",
                "g",
                200,
                40_000,
                more=True,
                feeds="payload, the stricter",
                field="gimbal.second_payload_g",
            ),
            num(
                "claimed_h", "Hours its maker claims", "h", 0.2, 100, more=True, feeds="hours", field="gimbal.claimed_h"
            ),
            num("torque_nm", "Motor torque, if known", "N·m", 0.02, 20, more=True, feeds="motors"),
            num("base_w", "Draw at rest", "W", 0.2, 60, 3.0, more=True, feeds="hours", field="gimbal.base_w"),
            Question(
                key="takes",
                label="Takes",
                kind="choice",
                choices=tuple(_TAKES),
                typical="38 mm dovetail",
                more=True,
                feeds="fit",
            ),
            Question(key="form", label="Held by", kind="choice", choices=("one grip", "two handles"), more=True),
            num("girth_mm", "Thickness of its grip", "mm", 20, 80, 40.0, more=True),
            Question(key="locks", label="Axis locks", kind="yes", typical=True, more=True, field="gimbal.axis_locks"),
            *(q for name, label, _ in _SLIDES for q in _scale(name, label)),
        ),
    ),
    Pattern(
        id="mount",
        label="Magnet, cup or clamp mount",
        group="Standing and moving",
        draw=_mount,
        questions=(
            Question(
                key="by",
                label="Holds by",
                kind="choice",
                choices=("magnet", "suction", "clamp"),
                feeds="whether it holds",
            ),
            num("points_n", "Points", "", 1, 8, 3.0, feeds="whether it holds"),
            num("pull_n", "One point holds", "N", 5, 5000, feeds="whether it holds"),
            mass(40, 8000, 700.0),
            num("circle_mm", "Circle of the points, across", "mm", 20, 800, 100.0, feeds="peeling"),
            num("foot_mm", "Radius of a foot", "mm", 5, 150, 25.0, feeds="peeling"),
            Question(key="rubber", label="Rubber faces", kind="yes", feeds="sliding"),
            Question(
                key="face",
                label="On a face that is",
                kind="choice",
                choices=("level", "upright"),
                feeds="sliding, peeling",
            ),
            num("rated_km_h", "Rated for", "km/h", 1, 200, feeds="speed"),
            num("payload_g", "Rated payload", "g", 100, 40_000, feeds="payload", field="support.max_payload_g"),
            Question(
                key="takes",
                label="Takes",
                kind="choice",
                choices=tuple(_TAKES),
                typical="1/4-20 screw",
                more=True,
                feeds="fit",
            ),
            num("height_mm", "Height", "mm", 12, 200, 30.0, more=True),
        ),
    ),
    Pattern(
        id="safety line",
        label="Safety line",
        group="Standing and moving",
        draw=_line,
        questions=(mass(10, 2000, 95.0), num("load_n", "Rated load", "N", 50, 20_000, feeds="second catch")),
    ),
)
