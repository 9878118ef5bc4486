"""What can be entered of gear, field by field, read off its dataclasses: label, unit, kind, range, default.

A screen that shows these shows every field there is, and a field that is added here is on the screen the same day.
"""

from __future__ import annotations

import types
from collections.abc import Iterator, Mapping
from dataclasses import MISSING, Field, dataclass, fields, is_dataclass
from datetime import date
from typing import Annotated, Any, Literal, Union, get_args, get_origin, get_type_hints

from annotated_types import Ge, Gt, Le

__all__ = ["FieldInfo", "fields_of", "plain_type", "unit_of"]

Kind = Literal["number", "whole", "text", "choice", "yes", "numbers", "texts", "date", "group", "rows"]
_UNITS: tuple[tuple[str, str], ...] = (
    ("_ohm_per_m", "Ω/m"),
    ("_mb_s", "MB/s"),
    ("mbit_s", "Mb/s"),
    ("_m_s2", "m/s²"),
    ("_m_s", "m/s"),
    ("_stops", "stops"),
    ("_gbps", "Gb/s"),
    ("gbps", "Gb/s"),
    ("_per_day", ""),
    ("_ohm", "Ω"),
    ("_mm", "mm"),
    ("_nm", "N·m"),
    ("nm_at", "°, N·m"),
    ("_ah", "Ah"),
    ("_deg", "°"),
    ("_min", "min"),
    ("_ppm", "ppm"),
    ("_ev", "EV"),
    ("_kg", "kg"),
    ("_ms", "ms"),
    ("lux_1m", "lx"),
    ("nits", "cd/m²"),
    ("inches", "in"),
    ("_g", "g"),
    ("_w", "W"),
    ("_v", "V"),
    ("_a", "A"),
    ("_n", "N"),
    ("_m", "m"),
    ("gb", "GB"),
)
_LABELS: Mapping[str, str] = {
    "GearModel.cg_mm": "Balance point",
    "GearModel.cg_source": "Balance point from",
    "GearModel.mass_source": "Mass from",
    "GearModel.hire_per_day": "Hire a day",
    "GearModel.twin": "Two packs",
    "GearModel.keep_clear": "Rooms to keep clear",
    "GearModel.clock_ppm": "Clock runs off by",
    "GearModel.shapes": "Solids",
    "GearModel.stand": "Legs",
    "GearModel.mains_lead_m": "Mains lead",
    "GearModel.packed_mm": "Size when packed",
    "Port.n": "Faces (unit vector)",
    "Port.u": "Its up (unit vector)",
    "Port.at": "At",
    "Port.takes": "Takes so many",
    "Port.grip_mm": "Uses of a rail",
    "Port.spins_deg": "Turns allowed",
    "Port.anti_twist": "Pins against twisting",
    "Port.stage": "Moves with",
    "GearModel.lamp": "Light",
    "GearModel.handle": "Handle or grip",
    "GearModel.draw": "Power draw",
    "GearModel.card": "Card, drive or reader",
    "GearModel.assumed": "Assumed figures",
    "GearModel.unconfirmed": "Ratings to confirm",
    "GearModel.follow_focus": "Gear wheel",
    "Draw.standby_w": "In standby",
    "Draw.record_w": "Recording",
    "Draw.peak_w": "At its peak",
    "Electrical.min_v": "From",
    "Electrical.max_v": "To",
    "Electrical.max_a": "At most",
    "Electrical.output_v": "Gives",
    "Pack.max_a": "At most",
    "Cable.max_a": "Power: at most",
    "Cable.max_gbps": "Signal: carries",
    "Signal.max_gbps": "Carries at most",
    "Signal.phantom": "48 V",
    "PictureFormat.gbps": "Rate",
    "CardData.gb": "Size",
    "CardData.write_mb_s": "Writes",
    "CardData.read_mb_s": "Reads",
    "RecordingMode.mbit_s": "Rate",
    "RecordingMode.fps": "Frames a second",
    "RecordingMode.takes": "Only onto cards of kind",
    "RecordingMode.heat_20_min": "Too hot at 20 °C after",
    "RecordingMode.heat_30_min": "Too hot at 30 °C after",
    "RecordingMode.heat_40_min": "Too hot at 40 °C after",
    "LampData.lux_1m": "Light at 1 m",
    "ScreenData.inches": "Diagonal",
    "ScreenData.nits": "Brightness",
    "ScreenData.luts": "Look-up tables",
    "ScreenData.delay_ms": "Delay from lens to screen",
    "ScreenData.phone": "A phone or tablet",
    "SupportData.max_payload_g": "Rated payload",
    "GimbalData.max_payload_g": "Payload to",
    "GimbalData.min_payload_g": "Payload from",
    "GimbalData.second_payload_g": "A second published figure",
    "SupportData.second_payload_g": "A second published figure",
    "SupportData.girth_mm": "Around its grip",
    "GimbalData.claimed_h": "Hours its maker claims",
    "GimbalMode.pan_deg_s": "Pans at up to",
    "GimbalData.fore_aft": "Fore and aft",
    "SlideRange.min_mm": "From",
    "SlideRange.max_mm": "to",
    "Slide.min_mm": "From",
    "Slide.max_mm": "to",
    "Stage.cg_mm": "Balance point",
    "ZoomPoint.cg_mm": "Balance point",
    "ZoomPoint.focal_mm": "At focal length",
    "Charger.bay_w": "Into a bay",
    "Charger.total_w": "In all",
    "CaseData.most_kg": "May weigh, full",
    "MountData.along_face": "On an upright face",
    "MountData.rated_m_s": "Rated for",
    "Adapter.toward_body": "Port toward the body",
    "Adapter.toward_part": "Port toward the part",
    "BodyData.autofocus_to_ev": "Dependable down to",
    "Port.load_n": "Rated load",
    "Port.moment_nm": "Rated moment",
    "Port.gender": "Half",
    "Port.label": "Called",
    "Interface.female": "Receiving half",
    "Interface.male": "Other half",
    "Interface.kind": "Family",
    "Interface.holding_nm": "Friction holds",
    "Interface.play_deg": "Rocks, made fast",
    "Interface.needs_clamp": "No lock of its own",
    "Interface.below_axis_mm": "Below the axis",
    "Interface.torque_nm": "Tighten to",
    "LensData.stop": "Widest aperture, f",
    "LensData.t_stop": "Widest aperture, T",
    "LensData.long_stop": "Aperture at the long end, f",
    "LensData.pupil_mm": "Entrance pupil behind the rim",
    "LensData.front_mm": "Clear front",
    "LensData.focal_mm": "Focal length",
    "LensData.zoom": "Balance point when zoomed",
    "LensData.gears": "Toothed rings",
    "LensData.rings": "Rings turn",
    "BodyData.switch": "Positions of its power switch",
    "BodyData.magnify": "Magnified view is left by",
    "BodyData.iris_push": "Iris is set by; a push on it",
    "BodyData.iso": "ISO, lowest and highest",
    "BodyData.shutters": "Shutter times it offers, 1/s",
    "BodyData.areas": "Recorded areas",
    "BodyData.formats": "Output pictures",
    "Electrical.cutoff_v": "Stops at",
    "Electrical.steps": "Steps it offers or asks for",
    "Electrical.approves": "Packs its maker names",
    "Signal.what": "Carries",
    "Signal.role": "Way",
    "Electrical.role": "Way",
    "Pack.cells": "Cells in series",
    "Cable.bend_mm": "Straight room for its plug",
    "SupportData.at": "Carries at",
    "SupportData.mount": "Points",
    "StandData.edge_mm": "Axis to the edge of its footprint",
    "MountPoint.by": "Holds by",
    "MountData.face": "Into the face (unit vector)",
    "Spring.nm_at": "Tilt and moment",
    "HeadData.springs": "Counterbalance steps",
    "HeadData.hold_nm": "Full drag holds",
    "HeadData.tilt_deg": "Tilts, up and down",
    "GimbalData.roll_axis": "Roll axis (unit vector)",
    "GimbalData.torque_nm": "Torque of tilt, roll, pan",
    "GimbalData.peak_nm": "Peak torque of tilt, roll, pan",
    "GimbalData.motor_constant": "Motor constant of tilt, roll, pan, N·m/√W",
    "GimbalData.base_w": "Draw at rest",
    "SlideRange.zero": "Scale in the middle",
    "SlideRange.direction": "Scale rises (1) or falls (-1)",
    "Adapter.loses": "Does not carry on",
    "Block.block": "Two corners",
    "KeepClear.block": "Two corners",
    "Round.barrel": "Two ends",
    "RecordingData.while_fed": "Records while it is fed",
    "CardData.slot": "Kind of slot",
    "Thing.x_m": "East",
    "Thing.y_m": "North",
    "Thing.ground_m": "Foot above zero",
    "Thing.turn_deg": "Turned",
    "Thing.lux_1m": "Light at 1 m",
    "Thing.dim": "Dimmed to (0 to 1)",
    "Thing.label": "Called",
    "Spot.x_m": "East",
    "Picture.x_m": "Middle east",
    "Picture.y_m": "Middle north",
    "Picture.width_m": "Width",
    "Picture.turn_deg": "Turned",
    "Spot.y_m": "North",
    "Spot.ground_m": "Ground above zero",
    "Spot.camera_m": "Lens above it",
    "Unit.measured_g": "Mass, measured",
    "Unit.measured_cg_mm": "Balance point, measured",
    "Unit.measured_w": "Draw, measured",
    "Unit.health": "Health, share of the capacity",
    "Unit.cycles": "Charged so many times",
    "Unit.serial": "Serial number",
    "Unit.price": "Paid",
    "Unit.hired_from": "Hired from",
    "Unit.hired_until": "Hired until",
}


@dataclass(frozen=True, kw_only=True)
class FieldInfo:
    """One field: what it is called, its unit, and what may be entered."""

    name: str
    label: str
    unit: str
    kind: Kind
    optional: bool
    """It may be left empty."""
    low: float | None = None
    high: float | None = None
    choices: tuple[str, ...] = ()
    numeric: bool = False
    """Choices that are numbers."""
    count: tuple[int, ...] = ()
    """Numbers: how many in a row, and how many rows; none: any."""
    of: tuple[str, ...] = ()
    """Groups and rows: names of their types."""
    default: float | str | bool | None = None
    """What holds where nothing is entered; None: it must be entered, or stays open."""


def fields_of(*roots: type) -> dict[str, tuple[FieldInfo, ...]]:
    """Fields of these dataclasses and of all that they hold, by the names of the types."""
    found: dict[str, tuple[FieldInfo, ...]] = {}
    waiting = list(roots)
    while waiting:
        kind = waiting.pop()
        if kind.__name__ in found:
            continue
        hints = get_type_hints(kind, include_extras=True)
        infos = []
        for field in fields(kind):
            hint, optional = _without_none(hints[field.name])
            held = list(_dataclasses(hint))
            waiting += held
            infos.append(_info(kind, field, hint, optional, tuple(h.__name__ for h in held)))
        found[kind.__name__] = tuple(infos)
    return found


def unit_of(name: str) -> str:
    """The unit that stands at the end of a field's name."""
    return next((unit for end, unit in _UNITS if name.endswith(end)), "")


def _info(kind: type, field: Field[Any], hint: Any, optional: bool, of: tuple[str, ...]) -> FieldInfo:  # noqa: ANN401 - a type as it was written, and whether it may be none
    plain, bounds = plain_type(hint)
    path = f"{kind.__name__}.{field.name}"
    unit = unit_of(field.name)
    label = _LABELS.get(path) or _said(field.name)
    shape: dict[str, Any] = {"kind": "text"}
    if of:
        shape = {"kind": "rows" if get_origin(plain) is tuple else "group", "of": of}
    elif plain is date:
        shape = {"kind": "date"}
    elif plain is bool:
        shape = {"kind": "yes"}
    elif plain in (int, float):
        shape = {"kind": "whole" if plain is int else "number", **bounds}
    elif get_origin(plain) is Literal:
        values = get_args(plain)
        shape = {
            "kind": "choice",
            "choices": tuple(str(v) for v in values),
            "numeric": all(isinstance(v, int) for v in values),
        }
    elif get_origin(plain) is tuple:
        shape = _tuple(plain)
    return FieldInfo(
        name=field.name,
        label=label,
        unit=unit,
        default=_default(field),
        optional=optional or (field.default is not MISSING and field.default in ("", ())),
        **shape,
    )


def _default(field: Field[Any]) -> float | str | bool | None:
    """What holds where nothing is entered, where one word or figure says it."""
    value = field.default
    if isinstance(value, (bool, str)):
        return value
    return float(value) if isinstance(value, (int, float)) else None


def _tuple(plain: Any) -> dict[str, Any]:  # noqa: ANN401 - a type as it was written
    """Numbers in a row or in rows, or texts: how many, where that is fixed."""
    inner = [plain_type(arg)[0] for arg in get_args(plain) if arg is not Ellipsis]
    any_number = Ellipsis in get_args(plain)
    if all(get_origin(i) is tuple for i in inner):
        across = len(get_args(inner[0]))
        return {"kind": "numbers", "count": (across,) if any_number else (across, len(inner))}
    if inner[0] is str or get_origin(inner[0]) is Literal:
        choices = tuple(str(v) for v in get_args(inner[0])) if get_origin(inner[0]) is Literal else ()
        return {"kind": "texts", "choices": choices}
    return {"kind": "numbers", "count": () if any_number else (len(inner), 1)}


def _without_none(hint: Any) -> tuple[Any, bool]:  # noqa: ANN401 - a type as it was written
    if get_origin(hint) in (Union, types.UnionType):
        rest = [arg for arg in get_args(hint) if arg is not types.NoneType]
        if len(rest) < len(get_args(hint)):
            return (rest[0] if len(rest) == 1 else Union[tuple(rest)]), True  # noqa: UP007 - made at run time
    return hint, False


def plain_type(hint: Any) -> tuple[Any, dict[str, float]]:  # noqa: ANN401 - a type as it was written
    """A type without its annotations, and the bounds that they give."""
    bounds: dict[str, float] = {}
    while get_origin(hint) is Annotated:
        hint, *extra = get_args(hint)
        for one in extra:
            if isinstance(one, (Ge, Gt)):
                bounds["low"] = float(one.ge if isinstance(one, Ge) else one.gt)  # type: ignore[arg-type]  # numbers, all of them
            if isinstance(one, Le):
                bounds["high"] = float(one.le)  # type: ignore[arg-type]  # a number
    return hint, bounds


def _dataclasses(hint: Any) -> Iterator[type]:  # noqa: ANN401 - a type as it was written
    hint, _ = plain_type(hint)
    if is_dataclass(hint):
        yield hint  # type: ignore[misc]  # a dataclass, not one of its values
        return
    for arg in get_args(hint):
        if arg is not Ellipsis:
            yield from _dataclasses(arg)


def _said(name: str) -> str:
    """A field's name as people read it: without its unit, with spaces."""
    for end, unit in _UNITS:
        if unit and end.startswith("_") and name.endswith(end):
            name = name.removesuffix(end)
            break
    words = name.replace("_", " ")
    return words[:1].upper() + words[1:]
