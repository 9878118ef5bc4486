"""Patterns for screens, recorders, radio links, sound, light and timecode."""

from __future__ import annotations

import math
from collections.abc import Mapping
from typing import Any, Literal

from ..electrical import Draw, Pack, Signal
from ..equipment import LampData, RadioData, ScreenData
from .cameras import RECORDS, recording
from .question import Answers, Question
from .sketch import POINTS, POWER_IN, SIGNALS, Box, Pattern, Sketch, mass, num, plug_of, socket_of

__all__ = ["ELECTRONICS"]

_PEAK = 1.25
_FEET: Mapping[str, tuple[str, Literal["female", "male"], str]] = {
    "1/4-20 socket": ("thread-1/4-20", "female", "bottom socket"),
    "shoe foot": ("shoe", "male", "shoe foot"),
}
_CELL_V = 3.65
_WORKING_V = 3.77


def _draw(a: Answers) -> Draw:
    record = a.number("record_w")
    standby = a.number("standby_w") if a.is_known("standby_w") else 0.75 * record
    return Draw(standby_w=standby, record_w=record, peak_w=_PEAK * record)


def _foot(a: Answers, s: Sketch) -> None:
    interface, gender, label = _FEET[a.choice("foot")]
    s.port("foot", label, interface, gender, (0, 0, 0), "bottom", anti_twist=a.yes("pins") and gender == "female")


def _own_pack(watt_hours: float | None) -> Pack | None:
    """A built-in cell of so many Wh."""
    if watt_hours is None:
        return None
    return Pack(cells=1, capacity_ah=watt_hours / _WORKING_V, resistance_ohm=0.06 / (watt_hours / 12.5))


def _slab(a: Answers, s: Sketch) -> Box:
    wide, high, deep = a.number("width_mm"), a.number("height_mm"), a.number("depth_mm")
    return s.box((-deep / 2, deep / 2), (-wide / 2, wide / 2), (0, high))


def _monitor(a: Answers, s: Sketch) -> Mapping[str, Any]:
    box = _slab(a, s)
    wide, high = box[1][1] - box[0][1], box[1][2]
    inches = a.number("inches")
    across = min(inches * 25.4 * 16 / math.hypot(16, 9), wide - 4)
    tall = min(across * 9 / 16, high - 4)
    s.box((box[0][0] - 2, box[0][0]), (-across / 2, across / 2), ((high - tall) / 2, (high + tall) / 2), look="screen")
    _foot(a, s)
    s.power_in(a, "inputs", box)
    s.signals(a, "sockets", box)
    s.points(a, "points", box)
    return {
        "kind": "recorder" if a.yes("records") else "monitor",
        "cg_mm": (0.0, 0.0, high / 2),
        "draw": _draw(a),
        "screen": ScreenData(
            inches=inches,
            nits=a.maybe("nits"),
            touch=a.yes("touch"),
            luts=a.yes("luts"),
            delay_ms=a.maybe("delay_ms"),
            phone=a.yes("phone"),
        ),
        "recording": recording(a),
        "derived": ("cg_mm", "draw.peak_w"),
    }


def _radio(a: Answers, s: Sketch) -> Mapping[str, Any]:
    box = _slab(a, s)
    high = box[1][2]
    _foot(a, s)
    for y in (box[0][1] + 8, box[1][1] - 8):
        s.tube((0, y, high), (0, y, high + a.number("antenna_mm")), 4, look="soft")
    s.power_in(a, "inputs", box)
    s.signals(a, "sockets", box)
    hours, record = a.maybe("hours"), a.number("record_w")
    return {
        "kind": a.choice("kind"),
        "cg_mm": (0.0, 0.0, high / 2),
        "draw": _draw(a),
        "pack": _own_pack(hours * record / 0.9 if hours else None),
        "radio": RadioData(
            band=a.text("band"),
            channels=max(1, int(a.number("channels"))),
            range_m=a.maybe("range_m"),
            delay_ms=a.maybe("delay_ms"),
        ),
        "derived": ("cg_mm", "draw.peak_w", *(("pack",) if hours else ())),
    }


def _microphone(a: Answers, s: Sketch) -> Mapping[str, Any]:
    long, wide, high = a.number("length_mm"), a.number("diameter_mm"), a.number("height_mm")
    around = wide / 2 + (25 if a.choice("cover") == "blimp" else 8 if a.choice("cover") == "fur" else 0)
    axis = high + around
    rear = -0.38 * long
    s.box((-9, 9), (-9, 9), (0, high), look="metal")
    s.tube((rear, 0, axis), (rear + long, 0, axis), around, look="soft")
    _foot(a, s)
    out = a.interface("plug")
    powered = a.choice("powered")
    level: Literal["mic", "line"] = "line" if a.choice("level") == "line" else "mic"
    own_cord = a.yes("cord")
    s.port(
        "out",
        f"{out.label} plug of its cord" if own_cord else f"{out.label} out",
        out.id,
        plug_of(out, "in") if own_cord else socket_of(out, "out"),
        (rear, 0, axis),
        "rear",
        signal=Signal(
            role="out",
            what="sound",
            level=(level,),
            phantom="needs" if powered == "48 V" else "no",
        ),
    )
    hours = a.maybe("hours") if powered == "own cell" else None
    return {
        "kind": "microphone",
        "cg_mm": (rear + long / 2, 0.0, axis * 0.8),
        "pack": _own_pack(hours * 0.05 if hours else None),
        "draw": Draw(standby_w=0.05, record_w=0.05, peak_w=0.06) if hours else None,
        "derived": ("cg_mm", "shapes"),
    }


def _light(a: Answers, s: Sketch) -> Mapping[str, Any]:
    box = _slab(a, s)
    s.box((box[1][0], box[1][0] + 2), (box[0][1] + 4, box[1][1] - 4), (4, box[1][2] - 4), look="accent")
    _foot(a, s)
    s.power_in(a, "inputs", box)
    record, hours = a.number("record_w"), a.maybe("hours")
    return {
        "kind": "light",
        "cg_mm": (0.0, 0.0, box[1][2] / 2),
        "draw": Draw(standby_w=0.0, record_w=record, peak_w=_PEAK * record),
        "pack": _own_pack(hours * record / 0.9 if hours else None),
        "lamp": LampData(lux_1m=a.maybe("lux_1m"), beam_deg=a.maybe("beam_deg"), dims=a.yes("dims")),
        "derived": ("cg_mm", "draw.peak_w", *(("pack",) if hours else ())),
    }


def _box(a: Answers, s: Sketch) -> Mapping[str, Any]:
    box = _slab(a, s)
    _foot(a, s)
    s.power_in(a, "inputs", box)
    s.signals(a, "sockets", box)
    record, hours = a.number("record_w"), a.maybe("hours")
    return {
        "kind": a.choice("kind"),
        "cg_mm": (0.0, 0.0, box[1][2] / 2),
        "draw": _draw(a),
        "pack": _own_pack(hours * record / 0.9 if hours else None),
        "clock_ppm": a.maybe("clock_ppm"),
        "recording": recording(a),
        "derived": ("cg_mm", "draw.peak_w", *(("pack",) if hours else ())),
    }


def _size(wide: float, high: float, deep: float) -> tuple[Question, ...]:
    return (
        num("width_mm", "Width", "mm", 10, 700, wide, feeds="room"),
        num("height_mm", "Height", "mm", 8, 700, high, feeds="room"),
        num("depth_mm", "Depth", "mm", 5, 400, deep, feeds="room"),
    )


_FOOT = Question(key="foot", label="Mounted by", kind="choice", choices=tuple(_FEET), feeds="fit")
_SHOE = Question(key="foot", label="Mounted by", kind="choice", choices=("shoe foot", "1/4-20 socket"), feeds="fit")
_PINS = Question(key="pins", label="Pins against twisting", kind="yes", more=True, feeds="twist")
_STANDBY = num("standby_w", "Draw, standby", "W", 0, 200, more=True, feeds="hours", field="draw.standby_w")
_HOURS = num("hours", "Hours on its own cell", "h", 0.2, 100, more=True, feeds="hours")


def _inputs(*rows: Mapping[str, str], more: bool = False) -> Question:
    return Question(
        key="inputs",
        label="Power inputs",
        kind="rows",
        columns=POWER_IN,
        typical=rows,
        more=more,
        feeds="feeding, voltages",
    )


def _sockets(*rows: Mapping[str, Any], more: bool = False) -> Question:
    return Question(
        key="sockets", label="Sockets", kind="rows", columns=SIGNALS, typical=rows, more=more, feeds="links"
    )


def _watts(typical: float) -> Question:
    return num("record_w", "Draw", "W", 0.05, 1000, typical, feeds="hours", field="draw.record_w")


_POINTS = Question(
    key="points",
    label="More threads and shoes",
    kind="rows",
    columns=POINTS,
    typical=(),
    more=True,
    feeds="what can be mounted",
)
_HDMI_IN = {"socket": "hdmi", "way": "in", "gbps": 10.2}

ELECTRONICS = (
    Pattern(
        id="monitor",
        label="Monitor or recorder",
        group="Seeing and recording",
        draw=_monitor,
        questions=(
            Question(key="records", label="It records", kind="yes", feeds="cards"),
            mass(80, 4000, 350.0),
            *_size(140.0, 88.0, 26.0),
            num("inches", "Diagonal", "in", 2, 24, 5.0, field="screen.inches"),
            _watts(9.0),
            _inputs({"plug": "barrel-2.1", "face": "front"}),
            _sockets(_HDMI_IN),
            _FOOT,
            num("nits", "Brightness", "cd/m²", 100, 5000, more=True, field="screen.nits"),
            num("delay_ms", "Delay from lens to screen", "ms", 0, 2000, more=True, field="screen.delay_ms"),
            Question(key="phone", label="A phone or tablet", kind="yes", more=True, field="screen.phone"),
            Question(key="touch", label="Touch", kind="yes", more=True, field="screen.touch"),
            Question(key="luts", label="Look-up tables", kind="yes", more=True, field="screen.luts"),
            _STANDBY,
            _PINS,
            _POINTS,
            *RECORDS,
        ),
    ),
    Pattern(
        id="radio",
        label="Transmitter or receiver",
        group="Seeing and recording",
        draw=_radio,
        questions=(
            Question(
                key="kind",
                label="Kind",
                kind="choice",
                choices=("video transmitter", "video receiver", "receiver", "transmitter"),
            ),
            mass(20, 1500, 200.0),
            *_size(70.0, 70.0, 28.0),
            _watts(6.0),
            _inputs({"plug": "round-2", "face": "front"}),
            _sockets({"socket": "bnc", "way": "in", "gbps": 3.0, "face": "front"}),
            _FOOT,
            _HOURS,
            num("antenna_mm", "Antennas", "mm", 5, 300, 60.0, more=True),
            Question(key="band", label="Band", kind="text", more=True, field="radio.band"),
            num("channels", "Channels", "", 1, 64, 1.0, more=True),
            num("range_m", "Range in the open", "m", 5, 5000, more=True, field="radio.range_m"),
            num("delay_ms", "Delay", "ms", 0, 1000, more=True, field="radio.delay_ms"),
            _STANDBY,
            _PINS,
        ),
    ),
    Pattern(
        id="microphone",
        label="Microphone",
        group="Sound",
        draw=_microphone,
        questions=(
            mass(5, 1200, 110.0),
            num("length_mm", "Length", "mm", 15, 700, 230.0, feeds="room"),
            num("diameter_mm", "Diameter", "mm", 6, 90, 19.0, feeds="room"),
            Question(
                key="powered",
                label="Powered by",
                kind="choice",
                choices=("48 V", "plug-in power", "own cell"),
                feeds="48 V",
            ),
            Question(key="plug", label="Socket", kind="interface", families=("audio",), typical="xlr-3", feeds="links"),
            Question(
                key="cover", label="Wind cover", kind="choice", choices=("none", "fur", "blimp"), feeds="room, wind"
            ),
            _SHOE,
            Question(key="cord", label="Its own cord with a plug, as clip microphones have", kind="yes", feeds="links"),
            Question(
                key="level", label="Output level", kind="choice", choices=("mic", "line"), more=True, feeds="level"
            ),
            num("height_mm", "Height of its mount", "mm", 3, 90, 18.0, more=True),
            _HOURS,
            _PINS,
        ),
    ),
    Pattern(
        id="sound box",
        label="Sound recorder, mixer or timecode box",
        group="Sound",
        draw=_box,
        questions=(
            Question(
                key="kind",
                label="Kind",
                kind="choice",
                choices=("sound recorder", "mixer", "timecode box", "headphones"),
            ),
            mass(20, 4000, 120.0),
            *_size(60.0, 40.0, 24.0),
            _watts(1.0),
            _HOURS,
            _inputs(),
            _sockets({"socket": "xlr-3", "way": "in", "level": "mic and line", "phantom": "gives"}),
            _FOOT,
            num("clock_ppm", "Clock runs off by", "ppm", 0.01, 100, more=True, field="clock_ppm"),
            _STANDBY,
            _PINS,
            *RECORDS,
        ),
    ),
    Pattern(
        id="light",
        label="Light",
        group="Light",
        draw=_light,
        questions=(
            mass(30, 15_000, 250.0),
            *_size(90.0, 70.0, 16.0),
            _watts(8.0),
            _inputs({"plug": "usb-c", "face": "rear"}),
            num("lux_1m", "Light at 1 m", "lx", 10, 100_000, feeds="light", field="lamp.lux_1m"),
            num("beam_deg", "Beam", "°", 5, 170, feeds="light", field="lamp.beam_deg"),
            _FOOT,
            Question(key="dims", label="Dims", kind="yes", typical=True, more=True, field="lamp.dims"),
            _HOURS,
            _PINS,
        ),
    ),
)
