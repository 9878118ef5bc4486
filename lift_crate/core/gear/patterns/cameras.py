"""Patterns for bodies, lenses, lens adapters and mount plates."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any, Literal

from ..electrical import Draw
from ..model import Adapter
from ..optical import BodyData, GearRing, LensData, PictureFormat, RecordedArea, ZoomPoint
from ..recording import CardSlot, RecordingData, RecordingMode
from .question import Answers, Question
from .sketch import POINTS, POWER_IN, SIGNALS, Pattern, Sketch, mass, num

__all__ = ["CAMERAS"]

CONTACTS = ("electronic iris", "autofocus", "stabiliser power", "lens data")
_BITS: Mapping[str, int] = {"8": 8, "10": 10, "12": 12, "14": 14, "16": 16}
_SAMPLING = ("", "4:2:0", "4:2:2", "4:4:4", "raw")
_PEAK = 1.25
_FORMATS: Mapping[str, float] = {
    "36 × 24 (43.3 mm)": 43.3,
    "24.9 × 14 (28.6 mm)": 28.6,
    "23.5 × 15.6 (28.2 mm)": 28.2,
    "17.3 × 13 (21.6 mm)": 21.6,
    "2/3 in (11 mm)": 11.0,
    "54 × 40 (67 mm)": 67.0,
}
_MODULE_MM = 0.8
_TEETH_MM = 4.0
"""How far a toothed ring stands out over its barrel."""
_FAST = 2.9


def _body(a: Answers, s: Sketch) -> Mapping[str, Any]:
    wide, high, deep, axis = (a.number(k) for k in ("width_mm", "height_mm", "depth_mm", "axis_mm"))
    mount = a.interface("mount")
    flange = mount.flange_mm or 20.0
    if axis >= high:
        a.problem("axis_mm", f"The axis is {axis:g} mm above the base of a body that is {high:g} mm high.")
    ring = min(8.0, 0.4 * flange)
    rear, front = flange - deep, flange - ring
    if deep <= ring + 10:
        a.problem("depth_mm", f"{deep:g} mm from the mount to the back leave no room behind the mount.")
        rear = front - 20
    box = s.box((rear, front), (-wide / 2, wide / 2), (-axis, high - axis))
    radius = min((mount.throat_mm or 48.0) / 2 + 8, wide / 2, max(12.0, axis), max(12.0, high - axis))
    s.tube((front, 0, 0), (flange, 0, 0), radius, look="metal")
    s.port("lens", mount.female, mount.id, "female", (flange, 0, 0), "front")
    s.port(
        "bottom",
        "bottom screw",
        "thread-1/4-20",
        "female",
        (min(max(-8.0, rear + 8), front - 8), 0, -axis),
        "bottom",
        anti_twist=a.yes("bottom_pins"),
    )
    s.points(a, "points", box)
    s.power_in(a, "inputs", box)
    s.signals(a, "sockets", box)
    if a.choice("screen") == "hinged left":
        s.keep(
            "screen", "hinged screen", "screen", (rear, rear + 25), (wide / 2, wide / 2 + 70), (-axis + 10, high - axis)
        )
    if (door := a.choice("card_door")) != "none":
        side = 1 if door == "left" else -1
        y = sorted((side * wide / 2, side * (wide / 2 + 18)))
        s.keep("cards", "card door", "card door", (rear + 4, rear + 24), y, (-axis / 2, min(24, high - axis)))
    if a.choice("fan") != "none":
        side = 1 if a.choice("fan") == "left" else -1
        y = sorted((side * wide / 2, side * (wide / 2 + 14)))
        s.keep("fan", "fan outlet", "fan", (rear + 26, rear + 56), y, (-axis + 5, -axis + 30))
    areas = tuple(
        RecordedArea(id=f"area-{i + 1}", label=_size(w, h, r.text("label")), width_mm=w, height_mm=h)
        for i, r in enumerate(a.rows("areas"))
        for w, h in ((r.number("width_mm"), r.number("height_mm")),)
    )
    if not areas:
        a.problem("areas", "Enter at least one recorded area: its width and height in mm.")
        areas = (RecordedArea(id="area-1", label="?", width_mm=36.0, height_mm=20.0),)
    record = a.number("record_w")
    low, highest = a.maybe("iso_low"), a.maybe("iso_high")
    if low and highest and low > highest:
        a.problem("iso_high", f"ISO {low:g} to {highest:g}: the lower comes first.")
    return {
        "kind": "body",
        "cg_mm": (flange - 0.4 * deep, 0.0, -axis + 0.45 * high),
        "draw": Draw(standby_w=a.number("standby_w"), record_w=record, peak_w=_PEAK * record),
        "body": BodyData(
            areas=tuple(sorted(areas, key=lambda area: -area.diagonal_mm)),
            formats=tuple(
                PictureFormat(
                    id=f"picture-{i + 1}",
                    label=r.text("label"),
                    gbps=r.number("gbps"),
                    bits=_BITS.get(r.choice("bits")),  # type: ignore[arg-type]  # the widths there are
                    sampling=r.choice("sampling"),  # type: ignore[arg-type]  # one of its choices
                )
                for i, r in enumerate(a.rows("pictures"))
            ),
            iso=(low, highest) if low and highest else None,
            shutters=tuple(sorted(r.number("parts") for r in a.rows("shutters"))),
            screen=a.choice("screen"),  # type: ignore[arg-type]  # one of its choices
            touch_focus=a.yes("touch_focus"),
            autofocus=a.choice("autofocus"),  # type: ignore[arg-type]  # one of its choices
            autofocus_to_ev=a.maybe("autofocus_to_ev"),
            stabilised=a.choice("stabilised"),  # type: ignore[arg-type]  # one of its choices
        ),
        "recording": recording(a, len(areas)),
        "derived": ("cg_mm", "draw.peak_w", "shapes", "keep_clear"),
    }


def recording(a: Answers, areas: int = 0) -> RecordingData | None:
    """Modes and slots of a body or recorder, where any were entered; ``areas``: how many recorded areas it has."""
    modes = tuple(
        RecordingMode(
            label=r.text("label"),
            area=_area_of(r, areas),
            fps=r.maybe("fps"),
            mbit_s=r.number("mbit_s"),
            bits=_BITS.get(r.choice("bits")),  # type: ignore[arg-type]  # the widths there are
            sampling=r.choice("sampling"),  # type: ignore[arg-type]  # one of its choices
            heat_20_min=r.maybe("heat_20_min"),
            heat_30_min=r.maybe("heat_30_min"),
            heat_40_min=r.maybe("heat_40_min"),
        )
        for r in a.rows("modes")
    )
    slots = tuple(CardSlot(id=f"slot-{i + 1}", takes=r.text("takes")) for i, r in enumerate(a.rows("slots")))
    limit = a.maybe("take_limit_min")
    if not (modes or slots or limit):
        return None
    return RecordingData(modes=modes, slots=slots, take_limit_min=limit, while_fed=a.yes("while_fed"))


def _area_of(row: Answers, areas: int) -> str:
    """The id of the recorded area that a mode names by its number in the list; empty: any."""
    number = row.choice("area")
    if not number:
        return ""
    if int(number) > areas:
        row.problem("area", f"There is no recorded area {number}.")
        return ""
    return f"area-{number}"


def _size(width: float, height: float, label: str) -> str:
    return label or f"{width:g} × {height:g}"


RECORDS = (
    Question(
        key="modes",
        label="Recording modes",
        kind="rows",
        more=True,
        feeds="card minutes",
        columns=(
            Question(key="label", label="Called", kind="text", required=True),
            num("fps", "Frames", "fps", 1, 1000),
            num("mbit_s", "Rate", "Mb/s", 1, 20_000, 200.0),
            Question(key="bits", label="Bits", kind="choice", choices=("", *_BITS)),
            Question(key="sampling", label="Sampling", kind="choice", choices=_SAMPLING),
            Question(key="area", label="Area, by its number", kind="choice", choices=("", *"123456")),
            num("heat_20_min", "Too hot at 20 °C after", "min", 1, 10_000),
            num("heat_30_min", "Too hot at 30 °C after", "min", 1, 10_000),
            num("heat_40_min", "Too hot at 40 °C after", "min", 1, 10_000),
        ),
    ),
    Question(
        key="slots",
        label="Card slots",
        kind="rows",
        more=True,
        feeds="cards",
        columns=(Question(key="takes", label="Takes", kind="text", required=True),),
    ),
    num("take_limit_min", "Longest take", "min", 1, 100_000, more=True, feeds="longest take"),
    Question(key="while_fed", label="Records while it is fed", kind="yes", typical=True, more=True),
)
"""What bodies and recorders are asked of recording."""

_BODY = Pattern(
    id="body",
    label="Camera body",
    group="Camera",
    draw=_body,
    questions=(
        Question(key="mount", label="Lens mount", kind="interface", families=("lens",), feeds="lenses and adapters"),
        mass(150, 12_000, None),
        num("width_mm", "Width", "mm", 50, 350, 130.0, feeds="room"),
        num("height_mm", "Height", "mm", 40, 350, 100.0, feeds="room"),
        num("depth_mm", "Depth, mount to back", "mm", 35, 500, 80.0, feeds="room, balance"),
        num("axis_mm", "Lens axis above the base", "mm", 20, 200, 48.0, feeds="rods, balance"),
        Question(
            key="areas",
            label="Recorded areas",
            kind="rows",
            field="body.areas",
            feeds="coverage, framing",
            columns=(
                num("width_mm", "Width", "mm", 4, 60, 36.0),
                num("height_mm", "Height", "mm", 3, 45, 20.25),
                Question(key="label", label="Called", kind="text"),
            ),
            typical=({"width_mm": 36.0, "height_mm": 20.25},),
        ),
        num("record_w", "Draw, recording", "W", 1, 120, 12.0, feeds="hours", field="draw.record_w"),
        Question(
            key="inputs", label="Power inputs", kind="rows", columns=POWER_IN, typical=(), feeds="feeding, voltages"
        ),
        num("iso_low", "Lowest ISO", "", 25, 50_000, feeds="light"),
        num("iso_high", "Highest ISO", "", 100, 409_600, feeds="light"),
        num("standby_w", "Draw, standby", "W", 0, 100, 8.0, more=True, feeds="hours", field="draw.standby_w"),
        Question(key="sockets", label="Sockets", kind="rows", columns=SIGNALS, typical=(), more=True, feeds="links"),
        Question(
            key="points",
            label="Threads, shoes and rails",
            kind="rows",
            columns=POINTS,
            typical=({"what": "shoe", "face": "top"},),
            more=True,
            feeds="what can be mounted",
        ),
        Question(key="bottom_pins", label="Pin hole beside the bottom screw", kind="yes", more=True, feeds="twist"),
        Question(
            key="pictures",
            label="Output pictures",
            kind="rows",
            more=True,
            feeds="cable rates",
            field="body.formats",
            columns=(
                Question(key="label", label="Called", kind="text", required=True),
                num("gbps", "Rate", "Gb/s", 0.1, 50, 3.0),
                Question(key="bits", label="Bits", kind="choice", choices=("", *_BITS)),
                Question(key="sampling", label="Sampling", kind="choice", choices=_SAMPLING),
            ),
            typical=({"label": "UHD 25p", "gbps": 6.0}, {"label": "HD 50p", "gbps": 3.0}),
        ),
        Question(
            key="shutters",
            label="Shutter times it offers, where not any angle",
            kind="rows",
            more=True,
            feeds="nearest shutter",
            field="body.shutters",
            columns=(num("parts", "1/", "s", 1, 32_000, 50.0),),
            typical=(),
        ),
        Question(
            key="screen",
            label="Screen",
            kind="choice",
            choices=("none", "fixed", "tilting", "hinged left"),
            more=True,
            feeds="room of plugs",
        ),
        Question(key="card_door", label="Card door", kind="choice", choices=("right", "left", "none"), more=True),
        Question(key="fan", label="Fan outlet", kind="choice", choices=("none", "right", "left"), more=True),
        Question(key="autofocus", label="Autofocus", kind="choice", choices=("none", "slow", "dependable"), more=True),
        num("autofocus_to_ev", "Dependable down to", "EV", -8, 15, more=True),
        Question(key="touch_focus", label="Touch focus", kind="yes", more=True),
        Question(
            key="stabilised", label="Stabilised", kind="choice", choices=("none", "electronic", "sensor"), more=True
        ),
        *RECORDS,
    ),
)


def _lens(a: Answers, s: Sketch) -> Mapping[str, Any]:
    mount, length, wide = a.interface("mount"), a.number("length_mm"), a.number("diameter_mm")
    rim = a.number("front_diameter_mm") if a.is_known("front_diameter_mm") else wide
    short, long = a.number("from_mm"), a.maybe("to_mm") or a.number("from_mm")
    if long < short:
        a.problem("to_mm", f"{short:g} to {long:g} mm: the shortest focal length comes first.")
        long = short
    rear, middle = 0.25 * length, 0.7 * length
    s.tube((0, 0, 0), (rear, 0, 0), max(wide * 0.6, min(wide, 44.0)) / 2)
    s.tube((rear, 0, 0), (middle, 0, 0), wide / 2, look="soft")
    s.tube((middle, 0, 0), (length, 0, 0), rim / 2)
    s.port("mount", mount.male, mount.id, "male", (0, 0, 0), "rear")
    if a.is_known("front"):
        front = a.interface("front")
        threaded = front.pitch_mm is not None or front.female == "thread"
        s.port("front", front.label, front.id, "female" if threaded else "male", (length, 0, 0), "front")
    gears = []
    for row in a.rows("rings"):
        at = row.number("at_mm")
        if at > length:
            row.problem("at_mm", f"The ring is {at:g} mm from the mount of a lens of {length:g} mm.")
        barrel = wide / 2 if at < middle else rim / 2
        s.tube((at - 5, 0, 0), (at + 5, 0, 0), barrel + _TEETH_MM, look="metal")
        control: Literal["focus", "iris", "zoom"] = row.choice("control")  # type: ignore[assignment]  # one of its choices
        gears.append(GearRing(control=control, at_mm=at, radius_mm=barrel + _TEETH_MM, module_mm=_MODULE_MM))
    if a.yes("foot"):
        at = a.number("foot_mm")
        low = -(wide / 2 + 22)
        s.box((at - 22, at + 22), (-10, 10), (low, -wide / 2 + 2), look="metal")
        s.port("foot", "foot", "thread-1/4-20", "female", (at, 0, low), "bottom", anti_twist=True)
    given, t_given = a.number("stop"), a.choice("stop_is") == "T"
    stop = given * 0.94 if t_given else given
    share = 0.55 if long > short and stop <= _FAST else 0.48
    if a.is_known("cg_mm"):
        share = a.number("cg_mm") / length
    moves = a.number("cg_moves_mm") if long > short else 0.0
    circle = a.number("circle_mm") if a.is_known("circle_mm") else _FORMATS[a.choice("covers")]
    return {
        "kind": "lens",
        "cg_mm": (share * length, 0.0, 0.0),
        "lens": LensData(
            image_circle_mm=circle,
            focal_mm=(short, long),
            stop=stop,
            t_stop=given if t_given else None,
            long_stop=_none_if(a.maybe("long_stop"), given),
            close_focus_mm=_mm(a.maybe("close_focus_m")),
            pupil_mm=length / 3,
            front_mm=max(rim - 6, 5.0),
            zoom=_zoom_points(short, long, share * length, moves),
            gears=tuple(gears),
            grows_mm=a.number("grows_mm") if long > short else 0.0,
            autofocus=a.yes("autofocus"),
            stabilised=a.yes("stabilised"),
            rings=a.choice("turns"),  # type: ignore[arg-type]  # one of its choices
            holds_focus=a.yes("holds_focus"),
        ),
        "derived": (
            "shapes",
            "lens.pupil_mm",
            "lens.front_mm",
            *(("lens.stop",) if t_given else ()),
            *(() if a.is_known("cg_mm") else ("cg_mm",)),
            *(("lens.zoom",) if long > short else ()),
            *(("lens.gears",) if gears else ()),
        ),
    }


def _zoom_points(short: float, long: float, at_mm: float, moves_mm: float) -> tuple[ZoomPoint, ...]:
    """CG at five focal lengths, moving alike for alike ratios of focal length."""
    if long <= short:
        return ()
    return tuple(
        ZoomPoint(focal_mm=round(short * (long / short) ** t, 3), cg_mm=(at_mm + t * moves_mm, 0.0, 0.0))
        for t in (0.0, 0.25, 0.5, 0.75, 1.0)
    )


def _none_if(value: float | None, same: float) -> float | None:
    return None if value is None or value == same else value


def _mm(metres: float | None) -> float | None:
    return None if metres is None else metres * 1000


_LENS = Pattern(
    id="lens",
    label="Lens",
    group="Camera",
    draw=_lens,
    questions=(
        Question(key="mount", label="Lens mount", kind="interface", families=("lens",), feeds="fit"),
        num("from_mm", "Focal length, from", "mm", 4, 1200, 50.0, required=True, feeds="framing"),
        num("to_mm", "to (zooms)", "mm", 4, 2000, feeds="framing"),
        num("stop", "Widest aperture", "", 0.7, 16, 2.8, feeds="light, depth"),
        Question(key="stop_is", label="Aperture is", kind="choice", choices=("f", "T"), feeds="light"),
        Question(key="covers", label="Covers", kind="choice", choices=tuple(_FORMATS), feeds="coverage"),
        mass(50, 15_000, None),
        num("length_mm", "Length, flange to front", "mm", 15, 900, 110.0, feeds="room, balance"),
        num("diameter_mm", "Largest diameter", "mm", 30, 260, 84.0, feeds="room"),
        Question(
            key="front",
            label="Filter thread or front",
            kind="interface",
            families=("front",),
            feeds="filters, matte box",
        ),
        num("close_focus_m", "Close focus", "m", 0.05, 20, feeds="framing"),
        num("circle_mm", "Image circle, if known", "mm", 5, 120, more=True, feeds="coverage"),
        num("long_stop", "Aperture at the long end", "", 0.7, 32, more=True, field="lens.long_stop"),
        num("front_diameter_mm", "Front diameter", "mm", 30, 260, more=True, feeds="matte box"),
        num("cg_mm", "Balances at, from the flange", "mm", 1, 700, more=True, feeds="balance"),
        num(
            "cg_moves_mm",
            "Balance point moves when zoomed",
            "mm",
            -60,
            120,
            8.0,
            more=True,
            feeds="zooming on a gimbal",
        ),
        num("grows_mm", "Grows when zoomed", "mm", 0, 250, 0.0, more=True, feeds="room", field="lens.grows_mm"),
        Question(
            key="rings",
            label="Toothed rings",
            kind="rows",
            more=True,
            feeds="lens motors",
            columns=(
                Question(key="control", label="Ring", kind="choice", choices=("focus", "iris", "zoom")),
                num("at_mm", "Middle, from the flange", "mm", 5, 800, 50.0),
            ),
            typical=(),
        ),
        Question(key="foot", label="Foot of its own", kind="yes", more=True, feeds="lens support"),
        num("foot_mm", "Foot, from the flange", "mm", 10, 600, 60.0, more=True),
        Question(key="autofocus", label="Autofocus", kind="yes", more=True, field="lens.autofocus"),
        Question(key="stabilised", label="Stabilised", kind="yes", more=True, field="lens.stabilised"),
        Question(key="turns", label="Rings turn", kind="choice", choices=("", "light", "firm"), more=True),
        Question(key="holds_focus", label="Holds focus when zoomed", kind="yes", typical=True, more=True),
    ),
)


def _between(kind: str, a: Answers, s: Sketch) -> Mapping[str, Any]:
    rear, front = a.interface("rear"), a.interface("front")
    optics = a.choice("optics") if kind == "lens adapter" else "none"
    needed = (front.flange_mm or 0.0) - (rear.flange_mm or 0.0)
    if rear.id == front.id:
        a.problem("front", "Both ends are the same mount.")
    length = a.number("length_mm") if a.is_known("length_mm") else needed
    if optics == "none" and length <= 0.1:
        a.problem(
            "front",
            f"{front.label} needs {front.flange_mm:g} mm to the sensor and {rear.label} takes {rear.flange_mm:g} mm:"
            " no room for anything between them without optics.",
        )
        length = 5.0
    length = max(length, 1.0)
    radius = max(rear.throat_mm or 48.0, front.throat_mm or 48.0) / 2 + 6
    s.tube((0, 0, 0), (length, 0, 0), radius, look="metal")
    s.port("rear", rear.male, rear.id, "male", (0, 0, 0), "rear")
    s.port("front", front.label, front.id, "female", (length, 0, 0), "front")
    if a.yes("foot"):
        low = -(radius + 20)
        s.box((length / 2 - 12, length / 2 + 12), (-10, 10), (low, -radius + 2), look="metal")
        s.port("foot", "foot", "thread-1/4-20", "female", (length / 2, 0, low), "bottom", anti_twist=True)
    carried = a.many("carries")
    kept = set(rear.contacts) & set(front.contacts)
    return {
        "kind": kind,
        "cg_mm": (length / 2, 0.0, 0.0),
        "adapter": Adapter(
            toward_body="rear",
            toward_part="front",
            optics=optics != "none",
            factor=a.number("factor") if optics != "none" else 1.0,
            loses=tuple(c for c in CONTACTS if c in kept and c not in carried),
        ),
        "derived": ("cg_mm", "shapes"),
    }


def _mounts(front: str, rear: str) -> tuple[Question, ...]:
    return (
        Question(key="rear", label=rear, kind="interface", families=("lens",), feeds="fit"),
        Question(key="front", label=front, kind="interface", families=("lens",), feeds="fit"),
        mass(10, 1500, 130.0),
        Question(key="carries", label="Carries on", kind="many", choices=CONTACTS, feeds="what is lost"),
        num("length_mm", "Length, where it is not the difference of the flanges", "mm", 1, 120, more=True),
        Question(key="foot", label="Foot of its own", kind="yes", more=True, feeds="lens support"),
    )


_ADAPTER = Pattern(
    id="lens adapter",
    label="Lens adapter",
    group="Camera",
    draw=lambda a, s: _between("lens adapter", a, s),
    questions=(
        *_mounts("Takes lenses of", "Goes on bodies with"),
        Question(
            key="optics",
            label="Optics",
            kind="choice",
            choices=("none", "reducer", "expander"),
            more=True,
            feeds="coverage, framing, light",
        ),
        num("factor", "Factor on focal length", "", 0.5, 2, 0.71, more=True, field="adapter.factor"),
    ),
)
_PLATE = Pattern(
    id="mount plate",
    label="Mount plate",
    group="Camera",
    draw=lambda a, s: _between("mount plate", a, s),
    questions=_mounts("Takes lenses of", "Goes on the seat"),
)

CAMERAS = (_BODY, _LENS, _ADAPTER, _PLATE)
