"""Settings: the defaults a job may change, each with its source.

The defaults are Lift Crate's own engineering assumptions unless a comment says
otherwise; docs/formulas.md tells how each is used.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from typing import Annotated, Any, Literal

from annotated_types import Ge, Gt, Le

from .quantities import Angle, Label, NotNegative, Positive, Share

__all__ = ["STRICT", "GimbalMove", "Grip", "Handling", "Settings", "Spreads", "Support"]

Handling = Literal["static", "walking", "running", "vehicle"]
Support = Literal["hand", "shoulder", "head", "gimbal", "mount"]

STRICT: Any = {"extra": "forbid", "allow_inf_nan": False, "defer_build": True}
"""How documents of these types are read at the edge: no unknown keys, no NaN,
no infinity; the reader is made when the first is read.
"""


@dataclass(frozen=True, kw_only=True)
class Spreads:
    """One standard deviation of a figure by its source: grams or share of mass, mm of CG."""

    __pydantic_config__ = STRICT

    measured_g: Positive = 5.0
    catalogue_share: Share = 0.03
    assumed_share: Share = 0.33
    measured_cg_mm: Positive = 1.0
    catalogue_cg_mm: Positive = 5.0
    assumed_cg_mm: Positive = 15.0


@dataclass(frozen=True, kw_only=True)
class GimbalMove:
    """What a kind of work asks of a gimbal: tilt (lens up negative),
    roll and pan from, to; lean of the handle, degrees.
    """

    __pydantic_config__ = STRICT

    tilt_deg: tuple[Angle, Angle]
    roll_deg: tuple[Angle, Angle] = (0.0, 0.0)
    pan_deg: tuple[Angle, Angle] = (-90.0, 90.0)
    lean_deg: Annotated[float, Ge(0), Le(90)] = 30.0


def _usual_moves() -> dict[str, GimbalMove]:
    return {
        "level work": GimbalMove(tilt_deg=(-30, 30), roll_deg=(-10, 10)),
        "lens up": GimbalMove(tilt_deg=(-90, 0), roll_deg=(-10, 10)),
        "low, underslung": GimbalMove(tilt_deg=(-45, 45), roll_deg=(-10, 10), lean_deg=90),
        "vertical format": GimbalMove(tilt_deg=(-30, 30), roll_deg=(90, 90)),
        "45 degrees held": GimbalMove(tilt_deg=(-45, 45)),
    }


@dataclass(frozen=True, kw_only=True)
class Grip:
    """A way to hold a rig: on which supports it is compared, reach of the arms
    in m, how many arms, and the share of the mass they carry.
    """

    __pydantic_config__ = STRICT

    on: tuple[Support, ...]
    reach_m: Positive
    arms: Literal[1, 2] = 2
    share: Share = 1.0


def _usual_grips() -> dict[str, Grip]:
    return {
        "two hands, held out": Grip(on=("hand",), reach_m=0.42),
        "two hands, close to the body": Grip(on=("hand",), reach_m=0.25),
        "side grip, one hand close": Grip(on=("hand",), reach_m=0.25, arms=1),
        "top handle, arm hanging": Grip(on=("hand",), reach_m=0.10, arms=1),
        "on the chest, two hands": Grip(on=("hand", "shoulder"), reach_m=0.10, share=0.5),
        "one handle, held out": Grip(on=("gimbal",), reach_m=0.42),
        "twin grips, close to the body": Grip(on=("gimbal",), reach_m=0.25),
        "ring, underslung, arms hanging": Grip(on=("gimbal",), reach_m=0.10),
        "one handle, one hand close": Grip(on=("gimbal",), reach_m=0.25, arms=1),
    }


@dataclass(frozen=True, kw_only=True)
class Settings:
    """What a job may set for itself."""

    __pydantic_config__ = STRICT

    spreads: Spreads = field(default_factory=Spreads)
    payload_watch_share: Share = 0.90
    """Share of a support's rated payload above which it is a Watch."""
    reserve: Annotated[float, Ge(0), Le(0.9)] = 0.10
    """Charge left in a pack when it is called empty."""
    hours_margin: Share = 0.20
    """Runtime above the need by less than this share is a Watch."""
    mains_v: Positive = 230.0
    restart_min: NotNegative = 1.0
    """Minutes that a camera which was switched off is on before it can roll."""
    swap_gap_min: Positive = 2.0
    """Minutes that a backup cell must carry on while a pack is swapped."""
    joint_min: dict[str, NotNegative] = field(
        default_factory=lambda: {"quick release": 0.3, "shoe": 0.3, "clamp": 0.6, "screw": 1.5, "lens": 1.0}
    )
    """Minutes to open or close one joint of a kind."""
    card_rate_share: Annotated[float, Gt(0), Le(1)] = 0.8
    """Of what a card writes without a pause, the share that a mode may ask of it."""
    card_min: NotNegative = 1.0
    """Minutes to put a card in, and to look that it is read."""
    line_up_min: NotNegative = 5.0
    """Minutes to frame, focus and expose before a part begins."""
    close_min: NotNegative = 5.0
    """Minutes to stop a camera, take cards and packs out and switch it off."""
    mic_up_from_min: NotNegative = 25.0
    """How long before a part microphones go on people at the earliest: earlier they slip, and packs run down."""
    mic_up_by_min: NotNegative = 10.0
    """By when before a part they are on: later nothing can be tested."""
    mic_up_min: NotNegative = 4.0
    """Minutes to put one source on a person and hear it."""
    mic_off_min: NotNegative = 2.0
    """Minutes to take one off again."""
    radio_apart_khz: Annotated[int, Ge(0), Le(10_000)] = 400
    """Least distance of two radio channels."""
    radio_product_khz: Annotated[int, Ge(0), Le(10_000)] = 100
    """Nearest that a third-order product of two or three channels may come to a further one."""
    radio_step_khz: Annotated[int, Ge(1), Le(10_000)] = 25
    """Steps in which a radio is tuned."""
    level_room_db: NotNegative = 12.0
    """Room over plain speech on a track whose level is set by speech."""
    wind_cover_m_s: NotNegative = 4.0
    """Wind in which a microphone wants its cover."""
    clock_ppm: Positive = 10.0
    """How far a clock runs off where nobody said, parts in a million. Assumed."""
    call_min: NotNegative = 180.0
    """How long before the first part of a day the crew is there."""
    lift_kg: Positive = 23.0
    """From this mass on two people lift."""
    case_fill: Annotated[float, Gt(0), Le(1)] = 0.7
    """Share of a case's inside that things may fill; the rest is for padding and hands."""
    case_open_min: NotNegative = 1.0
    """Minutes to put a case where it is wanted, and open it."""
    water_l_h: NotNegative = 0.25
    """Litres of water a person drinks in an hour; twice that in heat. Rule of thumb."""
    cable_min: NotNegative = 0.5
    """Minutes to plug in or pull one cable."""
    learn_first: dict[str, Annotated[float, Gt(0), Le(10)]] = field(
        default_factory=lambda: {
            "health": 0.10,
            "draw": 0.20,
            "gimbal hours": 0.30,
            "card minutes": 0.10,
            "minutes": 0.30,
        }
    )
    """How far a figure may be off before anything was read: one standard deviation, share of it."""
    learn_reading: dict[str, Annotated[float, Gt(0), Le(10)]] = field(
        default_factory=lambda: {
            "health": 0.07,
            "draw": 0.05,
            "gimbal hours": 0.10,
            "card minutes": 0.03,
            "minutes": 0.25,
        }
    )
    """How far one reading of it may be off: one standard deviation, share of it."""
    public_near_m: NotNegative = 2.0
    """Legs nearer than this to where the public walks want weights and tape."""
    case_seen_ev: float = 8.0
    """In less light than this a case that stays by a camera must throw light back."""
    permit_days: Positive = 30.0
    """A permission that was looked at longer ago than this is looked at again."""
    break_min: Positive = 15.0
    """A pause so long is a break."""
    stretch_h: Positive = 4.0
    """Nobody works longer than this without a break."""
    day_h: Positive = 12.0
    """Nobody is there longer than this on one day."""
    weather_room_c: NotNegative = 2.0
    """Colder than planned by no more than this is not told."""
    weather_room_m_s: NotNegative = 2.0
    """Windier than planned by no more than this is not told."""
    weather_room_ev: NotNegative = 1.0
    """Darker than planned by no more stops than this is not told."""
    balance_min: NotNegative = 4.0
    """Minutes to balance a gimbal anew."""
    recalibrate_min: NotNegative = 1.0
    adapter_min_mm: Positive = 6.0
    """Thinnest plain adapter believed possible while no model for the pair is known."""
    adapter_tolerance_mm: Positive = 0.02
    lens_support_g: Positive = 1500.0
    release_play_deg: Annotated[float, Ge(0), Le(10)] = 0.1
    """How far a clamp or quick release rocks, made fast, where nobody measured it: 0.17 mm at 100 mm. Rule of thumb."""
    arm_holding_nm: Positive = 1.0
    """Moment that a hinge of a friction arm holds when its maker says nothing."""
    rod_height_mm: Positive = 2.0
    """How far rods may stand from the height of their standard."""
    cable_slack: Annotated[float, Ge(1), Le(10)] = 1.3
    """Length of a cable over the greatest straight distance between its sockets."""
    worn_reach_mm: Annotated[float, Ge(100), Le(3000)] = 900.0
    """Greatest straight distance between what the operator wears and the rig."""
    face_near_mm: Positive = 1200.0
    """A face nearer than this looks distorted."""
    blur_diagonals: Positive = 1500.0
    """Circle of confusion as a share of the recorded diagonal."""
    light_room_stops: Positive = 0.5
    """How far the light may be off before it is a Watch."""
    shutter_deg: Annotated[float, Gt(0), Le(360)] = 180.0
    fps: Positive = 25.0
    currency: Label = "EUR"
    tax_share: Annotated[float, Ge(0), Le(1)] = 0.0
    """Tax on hire, share of it."""
    hire_week_days: Annotated[int, Ge(1), Le(7)] = 3
    """Days of hire that are paid for a week."""
    resale_share: Annotated[float, Ge(0), Le(1)] = 0.4
    """Of its price, the share that a thing is sold for again."""
    iso: Positive = 800.0
    use: dict[str, Handling] = field(
        default_factory=lambda: {
            "head": "static",
            "hand": "walking",
            "shoulder": "walking",
            "gimbal": "walking",
            "mount": "static",
        }
    )
    """How a rig is carried on each support when a build says nothing."""
    handling: dict[str, Annotated[float, Gt(0), Le(100)]] = field(
        default_factory=lambda: {"static": 1.0, "walking": 1.5, "running": 2.0, "vehicle": 3.0}
    )
    """Factor on load, bending and twist; it never multiplies gimbal motor torque."""
    attitudes: dict[str, tuple[Angle, Angle]] = field(
        default_factory=lambda: {
            "hand": (45.0, 20.0),
            "shoulder": (45.0, 20.0),
            "head": (30.0, 0.0),
            "gimbal": (90.0, 45.0),
            "mount": (0.0, 0.0),
            "vehicle": (180.0, 180.0),
        }
    )
    """Tilt and roll, ± degrees, that a rig on this support is expected to see."""
    gimbal_lean_deg: Annotated[float, Ge(0), Le(90)] = 30.0
    moves: dict[str, GimbalMove] = field(default_factory=_usual_moves)
    """Kinds of gimbal work that a position may need."""
    zoom_ends: tuple[Share, Share] = (0.3, 0.3)
    """Share of the time a zoom on a gimbal is at its wide and at its long end."""
    gimbal_style: Annotated[float, Gt(0), Le(10)] = 1.0
    """Factor on a gimbal's base draw: 1 calm to 1.6 hard."""
    move_accel: tuple[Positive, Positive, Positive] = (2.0, 5.0, 10.0)
    """rad/s² with which a gimbal starts a move in calm, usual and hard
    style: at ``gimbal_style`` 1, 1.3 and 1.6, linear between.
    """
    shake_m_s2: dict[str, Annotated[float, Ge(0), Le(100)]] = field(
        default_factory=lambda: {"static": 0.0, "walking": 3.0, "running": 8.0, "vehicle": 8.0}
    )
    """How hard what carries a gimbal shakes it."""
    motor_settled: Share = 0.10
    motor_workable: Share = 0.30
    motor_strained: Share = 0.80
    walks_past_m_s: Positive = 1.4
    """How fast what a gimbal follows passes by."""
    slope_deg: Annotated[float, Ge(0), Le(45)] = 3.0
    """Slope of the ground that sticks are set up on."""
    tip_safety: Annotated[float, Ge(1), Le(100)] = 1.5
    """How much more than what tips it a stand must hold."""
    long_lens_deg: Positive = 12.0
    """A lens that sees less than this across is long: it wants sticks when it follows."""
    friction: dict[str, Share] = field(
        default_factory=lambda: {"magnet": 0.2, "rubber": 0.5, "suction": 0.5, "clamp": 0.5}
    )
    """Grip of a point along the face it holds to, as a share of its pull-off force."""
    grips: dict[str, Grip] = field(default_factory=_usual_grips)
    """Ways to hold a rig that are compared."""
    held_nm: Positive = 60.0
    """Moment of an arm that can just be held."""
    gust: Annotated[float, Ge(1), Le(10)] = 1.5
    """Gusts over the mean wind."""
    cable_pull_nm: dict[str, NotNegative] = field(
        default_factory=lambda: {"thin": 0.004, "ordinary": 0.015, "stiff": 0.050}
    )

    def __post_init__(self) -> None:
        for name, known in _TABLES.items():
            given: dict[str, object] = getattr(self, name)
            if missing := [key for key in known if key not in given]:
                raise ValueError(
                    f"{name} has nothing for: {', '.join(missing)}; give every one of {', '.join(known)}, or leave the"
                    " table out"
                )
            if strange := [key for key in given if key not in known]:
                raise ValueError(f"{name}: there is no {', '.join(strange[:5])}; it goes by {', '.join(known)}")
        for name in ("moves", "grips"):
            if len(getattr(self, name)) > _MOST_ROWS:
                raise ValueError(f"{name} has {len(getattr(self, name))} rows; {_MOST_ROWS} at most")


_KINDS = ("hand", "shoulder", "head", "gimbal", "mount")
_HANDLINGS = ("static", "walking", "running", "vehicle")
_TABLES: dict[str, tuple[str, ...]] = {
    "use": _KINDS,
    "handling": _HANDLINGS,
    "attitudes": (*_KINDS, "vehicle"),
    "shake_m_s2": _HANDLINGS,
    "friction": ("magnet", "rubber", "suction", "clamp"),
    "cable_pull_nm": ("thin", "ordinary", "stiff"),
    "joint_min": ("quick release", "shoe", "clamp", "screw", "lens"),
    "learn_first": ("health", "draw", "gimbal hours", "card minutes", "minutes"),
    "learn_reading": ("health", "draw", "gimbal hours", "card minutes", "minutes"),
}
"""Tables of the settings and the rows that each of them has."""
_MOST_ROWS = 50
