"""Patterns for packs, plates, chargers, converters, supplies and cables."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from ..electrical import Cable, Charger, Electrical, Pack
from ..model import Port
from .question import Answers, Question
from .sketch import FACES, POWER_OUT, Pattern, Sketch, mass, num, plug_of, socket_of

__all__ = ["POWERING"]

_CELL_V, _WORKING_V = 3.65, 3.77
_OHM_PER_CELL = 0.06
_CELL_WH = 12.5
_OHM_PER_M: Mapping[str, float] = {"24": 0.0842, "22": 0.053, "20": 0.0333, "18": 0.0210, "16": 0.0132}
"""One conductor of copper by AWG, Ω/m."""
_CLASSES: Mapping[str, tuple[float, str]] = {"thin": (20.0, "24"), "ordinary": (45.0, "22"), "stiff": (75.0, "20")}
"""Grams a metre and the usual gauge."""
_PLUG_G: Mapping[str, float] = {"xlr-3": 25.0, "xlr-4": 25.0, "mini-xlr": 12.0, "tap-2": 12.0}


def _pack(a: Answers, s: Sketch) -> Mapping[str, Any]:
    family, watt_hours = a.interface("family"), a.number("wh")
    high, wide, deep = a.number("length_mm"), a.number("width_mm"), a.number("height_mm")
    cells = max(1, round(a.number("nominal_v") / _CELL_V))
    capacity = a.number("ah") if a.is_known("ah") else watt_hours / (_WORKING_V * cells)
    max_a = a.maybe("max_a")
    electrical = Electrical(role="out", max_a=max_a)
    if a.choice("sits") == "on a plate":
        box = s.box((-deep, 0), (-wide / 2, wide / 2), (-high / 2, high / 2))
        s.port("contacts", family.male, family.id, "male", (0, 0, 0), "front", electrical=electrical)
        cg = (-deep / 2, 0.0, 0.0)
    else:
        box = s.box((-deep / 2, deep / 2), (-wide / 2, wide / 2), (0, high), look="soft")
        s.port("contacts", family.male, family.id, "male", (0, 0, 0), "top", electrical=electrical)
        cg = (0.0, 0.0, high / 2)
    s.power_out(a, "outlets", box)
    return {
        "kind": "pack",
        "cg_mm": cg,
        "pack": Pack(
            cells=cells,
            capacity_ah=capacity,
            resistance_ohm=_OHM_PER_CELL * cells / (watt_hours / (_CELL_WH * cells)),
            max_a=max_a,
        ),
        "derived": ("cg_mm", "pack.resistance_ohm", *(() if a.is_known("ah") else ("pack.capacity_ah",))),
    }


def _plate(a: Answers, s: Sketch) -> Mapping[str, Any]:
    family, wide, high, deep = a.interface("family"), a.number("width_mm"), a.number("height_mm"), a.number("depth_mm")
    box = s.box((-deep, 0), (-wide / 2, wide / 2), (-high / 2, high / 2), look="metal")
    s.port(
        "pack",
        f"{family.label}",
        family.id,
        "female",
        (-deep, 0, 0),
        "rear",
        electrical=Electrical(role="in", min_v=a.maybe("min_v"), max_v=a.maybe("max_v"), max_a=a.maybe("max_a")),
    )
    sits = a.choice("sits")
    if sits == "on the body's plate":
        s.port(
            "body",
            "to the body's plate",
            family.id,
            "male",
            (0, 0, 0),
            "front",
            electrical=Electrical(role="out", max_a=a.maybe("max_a")),
        )
    elif sits == "on 15 mm rods":
        s.box((-deep / 2 - 11, -deep / 2 + 11), (-42, 42), (-high / 2 - 23, -high / 2 + 1), look="metal")
        s.port("clamp", "rod clamp", "rods-15", "female", (-deep / 2, 0, -high / 2 - 11), "bottom", grip_mm=24.0)
    else:
        s.port("screw", "1/4-20 socket", "thread-1/4-20", "female", (0, 0, 0), "front", anti_twist=True)
    s.power_out(a, "outlets", box)
    backup = a.maybe("backup_wh")
    own = None
    if backup:
        cells = 4
        own = Pack(
            cells=cells,
            capacity_ah=backup / (_WORKING_V * cells),
            resistance_ohm=_OHM_PER_CELL * cells / (backup / (_CELL_WH * cells)),
            max_a=a.maybe("max_a"),
        )
    twin = a.choice("twin")
    return {
        "kind": "battery plate",
        "cg_mm": (-deep / 2, 0.0, 0.0),
        "pack": own,
        "twin": None if twin == "one pack" else twin.removeprefix("two, "),
        "derived": ("cg_mm", *(("pack.resistance_ohm",) if own else ())),
    }


def _charger(a: Answers, s: Sketch) -> Mapping[str, Any]:
    family, bays = a.interface("family"), max(1, int(a.number("bays")))
    wide, deep, high = a.number("width_mm"), a.number("depth_mm"), a.number("height_mm")
    s.box((-deep / 2, deep / 2), (-wide / 2, wide / 2), (0, high))
    s.port("bay", "bays" if bays > 1 else "bay", family.id, "female", (0, 0, high), "top")
    per_bay = a.number("bay_w")
    return {
        "kind": "charger",
        "cg_mm": (0.0, 0.0, high / 2),
        "charger": Charger(
            bay_port="bay",
            bays=bays,
            bay_w=per_bay,
            total_w=a.maybe("total_w"),
            way="in turn" if a.choice("way") == "one after the other" else "shared",
        ),
        "mains_lead_m": a.maybe("lead_m"),
        "derived": ("cg_mm",),
    }


def _supply(a: Answers, s: Sketch) -> Mapping[str, Any]:
    kind = a.choice("kind")
    plug, volts = a.interface("out"), a.maybe("output_v")
    wide, deep, high = a.number("width_mm"), a.number("depth_mm"), a.number("height_mm")
    max_a = a.maybe("max_a")
    efficiency = a.number("efficiency") if kind == "converter" else 1.0
    if kind == "dummy pack":
        slot = a.interface("slot")
        s.box((-deep / 2, deep / 2), (-wide / 2, wide / 2), (0, high), look="soft")
        s.port(
            "contacts",
            f"contacts, {slot.label}",
            slot.id,
            "male",
            (0, 0, 0),
            "top",
            electrical=Electrical(role="out", max_a=max_a),
        )
        s.port(
            "in",
            f"{plug.label} in",
            plug.id,
            socket_of(plug, "in"),
            (0, 0, 0),
            "bottom",
            electrical=Electrical(role="in", min_v=a.maybe("min_v"), max_v=a.maybe("max_v"), max_a=max_a),
        )
    else:
        s.box((-deep / 2, deep / 2), (-wide / 2, wide / 2), (0, high))
        s.port(
            "foot",
            "shoe foot" if kind == "converter" else "underside socket",
            "shoe" if kind == "converter" else "thread-1/4-20",
            "male" if kind == "converter" else "female",
            (0, 0, 0),
            "bottom",
        )
        s.port(
            "out",
            f"{plug.label} out",
            plug.id,
            socket_of(plug, "out"),
            (deep / 2, 0, high / 2),
            "front",
            electrical=Electrical(role="out", output_v=volts, efficiency=efficiency, max_a=max_a),
        )
        if kind == "converter":
            fed = a.interface("in")
            s.port(
                "in",
                f"{fed.label} in",
                fed.id,
                socket_of(fed, "in"),
                (-deep / 2, 0, high / 2),
                "rear",
                electrical=Electrical(role="in", min_v=a.maybe("min_v"), max_v=a.maybe("max_v"), max_a=None),
            )
        if volts is None:
            a.problem("output_v", "Enter the volts that it gives.")
    return {
        "kind": kind,
        "cg_mm": (0.0, 0.0, high / 2),
        "mains_lead_m": a.maybe("lead_m") if kind == "mains adapter" else None,
        "derived": ("cg_mm",),
    }


def _cable(a: Answers, s: Sketch) -> Mapping[str, Any]:
    first, second, metres = a.interface("a"), a.interface("b"), a.number("length_m")
    lies = a.choice("lies")
    per_m, gauge = _CLASSES[lies]
    gauge = a.choice("gauge") or gauge
    carries = any(i.carries_power for i in (first, second))
    ports = []
    for name, interface, way, end in (("a", first, "out", "angled_a"), ("b", second, "in", "angled_b")):
        n, u = FACES["rear" if name == "a" else "front"]
        label = f"{interface.label} {'angled ' if a.yes(end) else ''}plug"
        ports.append(Port(id=name, label=label, interface=interface.id, gender=plug_of(interface, way), n=n, u=u))
    s.ports += ports
    locks = a.yes("locks")
    weighs = metres * per_m + sum(_PLUG_G.get(i.id, 8.0) for i in (first, second))
    stiffness: Literal["thin", "ordinary", "stiff"] = lies  # type: ignore[assignment]  # one of its choices
    return {
        "kind": "cable",
        "mass_g": round(weighs, 1),
        "cable": Cable(
            length_mm=metres * 1000,
            ohm_per_m=_OHM_PER_M[gauge] if carries else 0.0,
            max_a=a.maybe("max_a"),
            max_gbps=a.maybe("gbps"),
            stiffness=stiffness,
            bend_mm=18.0 if a.yes("angled_a") and a.yes("angled_b") else 35.0,
            locks=locks,
        ),
        "derived": ("cable.bend_mm", *(("cable.ohm_per_m",) if carries else ())),
    }


def _sizes(wide: float, deep: float, high: float) -> tuple[Question, ...]:
    return (
        num("width_mm", "Width", "mm", 5, 700, wide, feeds="room"),
        num("depth_mm", "Depth", "mm", 5, 700, deep, feeds="room"),
        num("height_mm", "Height", "mm", 5, 700, high, feeds="room"),
    )


_FAMILY = Question(key="family", label="Battery plate or slot", kind="interface", families=("battery",), feeds="fit")
_MAX_A = num("max_a", "At most", "A", 0.1, 60, feeds="currents")
_WINDOW = (
    num("min_v", "Takes from", "V", 3, 60, feeds="voltages"),
    num("max_v", "to", "V", 3, 260, feeds="voltages"),
)
_OUTLETS = Question(key="outlets", label="Outlets", kind="rows", columns=POWER_OUT, typical=(), feeds="feeding")
_CABLE_ENDS: Any = {"kind": "interface", "families": ("power", "signal", "audio", "timecode", "control")}
_USB: Any = {"kind": "interface", "families": ("power",)}


POWERING = (
    Pattern(
        id="pack",
        label="Battery pack",
        group="Power",
        draw=_pack,
        questions=(
            _FAMILY,
            num("wh", "Energy", "Wh", 1, 1000, 98.0, required=True, feeds="hours"),
            num("nominal_v", "Voltage on the label", "V", 3, 60, 14.4, feeds="voltages"),
            _MAX_A,
            mass(20, 6000, None),
            num("length_mm", "Length", "mm", 15, 300, 103.0, feeds="room"),
            num("width_mm", "Width", "mm", 10, 200, 75.0, feeds="room"),
            num("height_mm", "Thickness", "mm", 8, 200, 52.0, feeds="room"),
            Question(key="sits", label="It sits", kind="choice", choices=("on a plate", "in a slot")),
            _OUTLETS,
            num("ah", "Capacity, if printed", "Ah", 0.1, 100, more=True, feeds="hours", field="pack.capacity_ah"),
        ),
    ),
    Pattern(
        id="battery plate",
        label="Battery plate",
        group="Power",
        draw=_plate,
        questions=(
            _FAMILY,
            Question(
                key="sits",
                label="It sits",
                kind="choice",
                choices=("on the body's plate", "on 15 mm rods", "on a 1/4-20 screw"),
                feeds="fit",
            ),
            mass(40, 2500, 290.0),
            num("width_mm", "Width", "mm", 20, 250, 90.0),
            num("height_mm", "Height", "mm", 30, 300, 110.0),
            num("depth_mm", "Depth", "mm", 5, 100, 18.0),
            *_WINDOW,
            _MAX_A,
            _OUTLETS,
            num("backup_wh", "Cell of its own", "Wh", 0.5, 100, feeds="hot swap"),
            Question(
                key="twin",
                label="Packs",
                kind="choice",
                choices=("one pack", "two, parallel", "two, in turn"),
                more=True,
            ),
        ),
    ),
    Pattern(
        id="charger",
        label="Charger",
        group="Power",
        draw=_charger,
        questions=(
            _FAMILY,
            num("bays", "Bays", "", 1, 24, 2.0, feeds="charging"),
            num("bay_w", "Into a bay", "W", 1, 400, required=True, feeds="charging", field="charger.bay_w"),
            num("total_w", "In all", "W", 1, 3000, feeds="charging", field="charger.total_w"),
            Question(
                key="way",
                label="Charges",
                kind="choice",
                choices=("all at once", "one after the other"),
                feeds="charging",
            ),
            mass(50, 15_000, 800.0),
            *_sizes(160.0, 120.0, 60.0),
            num("lead_m", "Mains lead", "m", 0.1, 50, more=True, field="mains_lead_m"),
        ),
    ),
    Pattern(
        id="supply",
        label="Converter, mains adapter or dummy pack",
        group="Power",
        draw=_supply,
        questions=(
            Question(key="kind", label="Kind", kind="choice", choices=("converter", "mains adapter", "dummy pack")),
            Question(key="out", label="Outlet (dummy pack: socket)", typical="barrel-2.1", feeds="feeding", **_USB),
            num("output_v", "Gives", "V", 3, 50, feeds="voltages"),
            _MAX_A,
            Question(key="in", label="Converter: fed by", typical="tap-2", feeds="feeding", **_USB),
            *_WINDOW,
            Question(
                key="slot", label="Dummy pack: for the slot", kind="interface", families=("battery",), feeds="fit"
            ),
            mass(10, 5000, 90.0),
            num("lead_m", "Mains lead", "m", 0.1, 50, feeds="reach", field="mains_lead_m"),
            *(
                Question(**{**{f: getattr(q, f) for f in q.__dataclass_fields__}, "more": True})
                for q in _sizes(52.0, 32.0, 20.0)
            ),
            num("efficiency", "Efficiency", "", 0.5, 1, 0.9, more=True, feeds="hours"),
        ),
    ),
    Pattern(
        id="cable",
        label="Cable",
        group="Power",
        draw=_cable,
        questions=(
            Question(key="a", label="Plug at the source", feeds="links", **_CABLE_ENDS),
            Question(key="b", label="Plug at the other end", feeds="links", **_CABLE_ENDS),
            num("length_m", "Length", "m", 0.05, 100, 0.5, required=True, feeds="reach"),
            Question(key="lies", label="It is", kind="choice", choices=tuple(_CLASSES), feeds="gimbal, bend"),
            Question(key="locks", label="Plugs lock", kind="yes", feeds="tugs"),
            num("max_a", "Power: at most", "A", 0.1, 60, feeds="currents", field="cable.max_a"),
            num("gbps", "Signal: carries", "Gb/s", 0.1, 100, feeds="rates", field="cable.max_gbps"),
            mass(2, 20_000, None),
            Question(
                key="gauge",
                label="Power: gauge AWG",
                kind="choice",
                choices=("", *_OHM_PER_M),
                more=True,
                feeds="voltages",
            ),
            Question(key="angled_a", label="Angled plug at the source", kind="yes", more=True, feeds="bend"),
            Question(key="angled_b", label="Angled plug at the other end", kind="yes", more=True, feeds="bend"),
        ),
    ),
)
