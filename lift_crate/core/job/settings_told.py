"""Settings as people read them: name, unit, range, what each affects and where its default is from.

The figures themselves stand in ``settings``; a setting that is not told here fails a test.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any, Literal, get_args, get_origin, get_type_hints

from ..gear.fields import plain_type, unit_of
from ..settings import GimbalMove, Grip, Settings, Spreads

__all__ = ["SettingInfo", "settings_told"]

_OURS = "a cautious estimate"
_TRADE = "trade practice"
_PHYSICS = "worked out from the physics"

_TOLD: dict[str, tuple[str, str, str]] = {
    "spreads.measured_g": ("Scale reads to ±", "how sure masses and balance points are", _OURS),
    "spreads.catalogue_share": ("Catalogue mass off by, share", "how sure masses are", _OURS),
    "spreads.assumed_share": ("Assumed mass off by, share", "how sure masses are", _OURS),
    "spreads.measured_cg_mm": ("Measured balance point to ±", "how sure balance is", _OURS),
    "spreads.catalogue_cg_mm": ("Catalogue balance point to ±", "how sure balance is", _OURS),
    "spreads.assumed_cg_mm": ("Assumed balance point to ±", "how sure balance is", _OURS),
    "payload_watch_share": ("Watch above this share of a payload", "payload of gimbals, heads, sticks", _TRADE),
    "reserve": ("Charge left when a pack counts as empty, share", "runtimes, swaps", _TRADE),
    "hours_margin": ("Watch when runtime exceeds the need by less than, share", "runtimes", _TRADE),
    "mains_v": ("Mains", "current of chargers", "where the job is shot"),
    "restart_min": ("A camera switched off needs, before it rolls", "hours switched off between takes", _OURS),
    "swap_gap_min": ("A backup pack must last", "swaps without switching off", _OURS),
    "joint_min": ("Opening or closing a joint, kind:", "changes of the day", _TRADE),
    "balance_min": ("Balancing a gimbal anew", "changes of the day", _TRADE),
    "card_rate_share": ("Ask of a card's writing rate no more than, share", "cards of the day", _TRADE),
    "card_min": ("Putting a card in", "run sheet", _TRADE),
    "line_up_min": ("Framing, focus and exposure before a part", "run sheet", _OURS),
    "close_min": ("Stopping a camera and emptying it", "run sheet", _OURS),
    "mic_up_from_min": ("Microphones on people before a part, at the earliest", "run sheet", _TRADE),
    "mic_up_by_min": ("Microphones on people before a part, at the latest", "run sheet", _TRADE),
    "mic_up_min": ("Putting one source on a person and hearing it", "run sheet", _OURS),
    "mic_off_min": ("Taking one off again", "run sheet", _OURS),
    "radio_apart_khz": ("Radio channels apart by", "radio of the day", _TRADE),
    "radio_product_khz": ("A third-order product stays off a channel by", "radio of the day", _TRADE),
    "radio_step_khz": ("A radio is tuned in steps of", "radio of the day", _TRADE),
    "level_room_db": ("Room over plain speech on a track, dB", "sound of the day", _TRADE),
    "wind_cover_m_s": ("A microphone wants its wind cover from", "sound of the day", _TRADE),
    "clock_ppm": ("A clock runs off, where nobody said, parts in a million", "sound of the day", _OURS),
    "call_min": ("Crew there before the first part of a day", "run sheet", "how the job is called"),
    "lift_kg": ("Two people lift from", "packing", "usual in the trade; local rules may say less"),
    "case_fill": ("A case is filled up to, share", "packing", _OURS),
    "case_open_min": ("Putting a case where it is wanted and opening it", "packing", _OURS),
    "water_l_h": ("Water a person drinks in an hour, l", "packing", "rule of thumb"),
    "cable_min": ("Plugging in or pulling a cable", "changes of the day", _TRADE),
    "recalibrate_min": ("Calibrating its motors anew", "changes of the day", _TRADE),
    "learn_first": ("Off before anything was read by, share, of", "what the log teaches", _OURS),
    "learn_reading": ("One reading off by, share, of", "what the log teaches", _OURS),
    "public_near_m": ("Legs nearer to a lane than this want weights and tape", "safety sheets", _OURS),
    "case_seen_ev": ("Cases by a camera throw light back below, EV", "packing", _OURS),
    "permit_days": ("A permission is looked at again after days", "safety sheets", _OURS),
    "break_min": ("A pause is a break from", "people's day", _OURS),
    "stretch_h": ("Nobody works without a break for more than", "people's day", "local rules may say less"),
    "day_h": ("Nobody is there on one day for more than", "people's day", "local rules may say less"),
    "weather_room_c": ("Colder than planned is told from, °C", "weather in the log", _OURS),
    "weather_room_m_s": ("Windier than planned is told from, m/s", "weather in the log", _OURS),
    "weather_room_ev": ("Darker than planned is told from, stops", "weather in the log", _OURS),
    "adapter_min_mm": ("Thinnest adapter believed possible", "lenses that need an adapter", _PHYSICS),
    "adapter_tolerance_mm": ("Adapter thickness may be off by", "infinity focus", _PHYSICS),
    "lens_support_g": ("Support lenses on rods from", "lens mounts", _TRADE),
    "release_play_deg": (
        "A clamp rocks, made fast, where nobody measured it",
        "where a quick release pays",
        _OURS,
    ),
    "arm_holding_nm": ("Friction arm holds, where its maker says nothing", "arms that sag", _OURS),
    "rod_height_mm": ("Rods may be off their standard height by", "matte boxes, follow focus", _TRADE),
    "cable_slack": ("Cable length over the straight distance", "cables that are too short", _TRADE),
    "worn_reach_mm": ("From the operator's belt to the rig", "cables to what is worn that are too short", _TRADE),
    "face_near_mm": ("A face nearer than this looks distorted", "focal length against distance", _TRADE),
    "blur_diagonals": ("Circle of confusion: image diagonal divided by", "depth of field", _TRADE),
    "light_room_stops": ("Watch when exposure is off by more than", "exposure", _OURS),
    "shutter_deg": ("Shutter angle", "exposure", _TRADE),
    "fps": ("Frames a second", "exposure", _TRADE),
    "tax_share": ("Tax on hire, share", "budget", "where the job is paid"),
    "hire_week_days": ("Days of hire paid for a week", "budget", _TRADE),
    "resale_share": ("Sold again for this share of its price", "payback of a purchase", _OURS),
    "currency": ("Currency", "prices and hire", "where the job is paid"),
    "iso": ("ISO", "exposure", _OURS),
    "use": ("Handling when a build says nothing, on", "loads, joints that bend or twist", _OURS),
    "handling": ("Load factor", "loads, joints that bend or twist", _OURS),
    "attitudes": ("Expected tilt and roll ±, on", "joints that bend or twist", _OURS),
    "gimbal_lean_deg": ("Gimbal handle leans by", "how far a gimbal turns", _OURS),
    "moves.tilt_deg": ("Gimbal work, tilt", "how far a gimbal turns", _TRADE),
    "moves.roll_deg": ("Gimbal work, roll", "how far a gimbal turns", _TRADE),
    "moves.pan_deg": ("Gimbal work, pan", "how far a gimbal turns", _TRADE),
    "moves.lean_deg": ("Gimbal work, handle leans", "how far a gimbal turns", _TRADE),
    "zoom_ends": ("Share of the time a zoom is at its ends", "gimbal hours", _OURS),
    "gimbal_style": ("Operating style, 1 calm to 1.6 hard", "gimbal hours, motors", _OURS),
    "move_accel": ("Start of a move in rad/s²: calm, usual, hard", "gimbal motors", _OURS),
    "shake_m_s2": ("Shake of what carries a gimbal", "gimbal motors", _OURS),
    "motor_settled": ("Motor load: settled up to, share", "gimbal motors", _OURS),
    "motor_workable": ("Motor load: workable up to, share", "gimbal motors", _OURS),
    "motor_strained": ("Motor load: Stop above, share", "gimbal motors", _OURS),
    "walks_past_m_s": ("Somebody walks past at", "how fast a gimbal pans", _TRADE),
    "slope_deg": ("Ground slopes by", "sticks that tip over", _OURS),
    "tip_safety": ("Safety against tipping over, factor", "sticks that tip over", _TRADE),
    "long_lens_deg": ("A lens is long below an angle of", "what a long lens stands on", _TRADE),
    "friction": ("Grip along the face, share of the pull-off force:", "magnets, suction cups, clamps", _OURS),
    "grips.on": ("Grip, on these supports", "hold times", _TRADE),
    "grips.reach_m": ("Grip, hands from the body", "hold times", _PHYSICS),
    "grips.arms": ("Grip, arms that hold", "hold times", _PHYSICS),
    "grips.share": ("Grip, share of the mass on the arms", "hold times", _OURS),
    "held_nm": ("An arm can just hold", "hold times", _OURS),
    "gust": ("Gusts over the mean wind, factor", "sticks, gimbal motors in wind", _TRADE),
    "cable_pull_nm": ("A loose cable pulls, kind:", "gimbal motors", _OURS),
}


@dataclass(frozen=True, kw_only=True)
class SettingInfo:
    """One setting: a figure, a pair of them, or a column of a table."""

    key: str
    """Its name; of a table with several columns 'table.column'."""
    label: str
    bears_on: str
    source: str
    unit: str
    low: float | None
    high: float | None
    choices: tuple[str, ...]


def settings_told() -> tuple[SettingInfo, ...]:
    """Every setting, in the order of ``Settings``."""
    return tuple(_told(key, hint) for key, hint in _keys())


def _told(key: str, hint: Any) -> SettingInfo:  # noqa: ANN401 - a type as it was written
    label, bears_on, source = _TOLD[key]
    plain, bounds = plain_type(hint)
    while get_origin(plain) in (dict, tuple):
        args = get_args(plain)
        plain, bounds = plain_type(args[1] if get_origin(plain) is dict else args[0])
    choices = tuple(str(v) for v in get_args(plain)) if get_origin(plain) is Literal else ()
    return SettingInfo(
        key=key,
        label=label,
        bears_on=bears_on,
        source=source,
        unit=unit_of(key),
        low=bounds.get("low"),
        high=bounds.get("high"),
        choices=choices,
    )


def _keys() -> Iterator[tuple[str, Any]]:
    columns = {"spreads": Spreads, "moves": GimbalMove, "grips": Grip}
    for name, hint in get_type_hints(Settings, include_extras=True).items():
        if name in columns:
            yield from (
                (f"{name}.{n}", h) for n, h in get_type_hints(columns[name], include_extras=True).items() if n[0] != "_"
            )
        elif name[0] != "_":
            yield name, hint
