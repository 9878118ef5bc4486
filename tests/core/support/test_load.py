"""What carries a rig, by hand and by another way: cable pull, spreads, moves,
twist, handles, several supports, reach of cables, peeling.
"""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.balance.report import balance_report
from lift_crate.core.balance.zoom import zoom_answer
from lift_crate.core.cables import routes
from lift_crate.core.callouts import Level
from lift_crate.core.errors import NotAllowed
from lift_crate.core.fit.joints import worst_bending_nm, worst_twist_nm
from lift_crate.core.gear.supports import GimbalData, SlideRange, Stage
from lift_crate.core.geometry import STANDARD_GRAVITY, Attitudes
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build, Conditions
from lift_crate.core.rig.edits import HoldBy, Replace, apply
from lift_crate.core.rig.masses import mass_summary
from lift_crate.core.settings import GimbalMove, Settings
from lift_crate.core.support.gimbal import Payload, shaken_nm, solve
from lift_crate.core.support.hands import grip_factor, peel_nm
from lift_crate.core.support.load import carried, inertia_kg_m2
from lift_crate.core.verdict.judge import Quick
from tests.kit import X, Y, Z, build, catalogue, joint, model, port, quick_of

DOWN = (0, 0, -1)
FREE = {"min_mm": -80, "max_mm": 80}
GIMBAL: dict[str, Any] = {
    "camera_port": "seat",
    "max_payload_g": 4000,
    "tilt": {"mass_g": 300, "cg_mm": (0, 30, 0)},
    "roll": {"mass_g": 400, "cg_mm": (-80, -30, 0)},
    "pan": {"mass_g": 400, "cg_mm": (-70, 0, -60)},
    "fore_aft": FREE,
    "vertical": FREE,
    "lateral": FREE,
    "pan_slide": FREE,
    "torque_nm": (0.5, 0.5, 0.5),
    "base_w": 3.0,
    "motor_constant": (0.2, 0.2, 0.2),
}
IN, OUT = {"role": "in", "min_v": 6, "max_v": 17}, {"role": "out"}
SHELF = catalogue(
    model(
        "body",
        1500,
        (5, -4, 3),
        port("base", "screw", "female", (0, 0, -40), DOWN),
        port("tap", "tap", "female", (0, 60, 0), Y, X, signal=None),
        port("side", "screw", "female", (0, 50, 0), Y, X, load_n=30),
        port("front", "screw", "female", (0, -50, 0), (0, -1, 0), X),
        shapes=[{"block": ((-50, -50, -40), (50, 50, 40))}],
        kind="body",
        body={"areas": [{"id": "a", "label": "a", "width_mm": 24, "height_mm": 14}]},
    ),
    model(
        "gimbal",
        1100,
        (0, 0, 0),
        port("seat", "screw", "male", (0, 0, -40)),
        port("arm", "screw", "female", (-80, -60, 0), (0, -1, 0), X, stage="roll"),
        port("grip", "screw", "female", (-70, 0, -150), DOWN, stage="handle"),
        port("rolltap", "tap", "female", (-80, -40, 0), X, Z, stage="roll"),
        port("handletap", "tap", "female", (-70, 0, -120), X, Z, stage="handle", electrical=OUT),
        port("seattap", "tap", "female", (0, 20, -40), X, Z, stage="tilt"),
        kind="gimbal",
        gimbal=GIMBAL,
        support={"kind": "gimbal"},
        pack={"cells": 4, "capacity_ah": 2, "resistance_ohm": 0.1},
    ),
    model(
        "lamp",
        200,
        (0, 0, 0),
        port("foot", "screw", "male", (0, 0, 20)),
        port("dc", "tap", "female", (20, 0, 0), X, Z, electrical=IN),
        draw={"standby_w": 1, "record_w": 8, "peak_w": 8},
    ),
    model(
        "pad",
        500,
        (0, 0, 0),
        port("plate", "screw", "male", (0, 0, 0)),
        port("under", "screw", "female", (0, 0, -20), DOWN),
        kind="shoulder pad",
        support={"kind": "shoulder"},
    ),
    model(
        "handle",
        400,
        (0, 0, 60),
        port("foot", "screw", "male", (0, 0, 0), DOWN),
        kind="handle",
        shapes=[{"block": ((-60, -15, 40), (60, 15, 80))}],
    ),
    model("load", 4000, (0, 0, 0), port("foot", "screw", "male", (0, 0, 0), DOWN)),
    model(
        "cord",
        100,
        None,
        port("a", "tap", "male"),
        port("b", "tap", "male"),
        cable={"length_mm": 900, "stiffness": "ordinary"},
    ),
)


def judged(rig: Build, **settings: Any) -> Quick:
    return quick_of(rig, SHELF, Conditions(), Settings(**settings))


@pytest.mark.parametrize(
    ("ends", "loaded"),
    [
        ("body.tap > gimbal.seattap", ""),
        ("body.tap > gimbal.rolltap", "t"),
        ("gimbal.rolltap > gimbal.handletap", "rp"),
        ("gimbal.seattap > gimbal.handletap", "trp"),
        ("body.tap > gimbal.handletap", "trp"),
    ],
)
def test_a_cable_pulls_on_exactly_the_axes_between_its_stages(ends: str, loaded: str) -> None:
    held = judged(build("body", "gimbal.seat > body.base", links=[f"cord: {ends}"])).stand.carried
    assert held.cable_pull_nm == tuple(0.015 * (axis in loaded) for axis in "trp")


@given(st.floats(0, 359))
def test_the_spread_of_a_reading_is_along_the_slide_of_the_gimbal_however_the_camera_is_turned(spin: float) -> None:
    """A camera with 10 mm of doubt along its own x and more along y,
    turned on the seat: σ² = dᵀ·C·d along every slide.
    """
    rig = build("body", joint("gimbal.seat > body.base", spin=spin), "load.foot > body.side")
    held = carried(assemble(rig, SHELF), Settings())
    turned = assemble(rig, SHELF).pose("gimbal").rotation
    covariance = held.payload.cg_covariance_mm2
    assert held.slide_sd_mm["fore_aft"] == pytest.approx(math.sqrt(turned[:, 0] @ covariance @ turned[:, 0]))
    assert held.slide_sd_mm["lateral"] == pytest.approx(math.sqrt(turned[:, 1] @ covariance @ turned[:, 1]))
    assert math.hypot(held.slide_sd_mm["fore_aft"], held.slide_sd_mm["lateral"]) == pytest.approx(
        math.hypot(*held.payload.cg_sd_mm[:2])
    )


def test_the_halves_of_a_cable_are_wrong_together() -> None:
    """100 g of cable known to ±3 %: 3 g between the two sockets, not 1.5 g twice by chance."""
    both = list(
        assemble(build("body", "lamp.foot > body.side", links=["cord: body.tap > lamp.dc"]), SHELF).cable_halves
    )
    assert mass_summary(both, Settings()).mass_sd_g == pytest.approx(3.0)
    assert mass_summary(both, Settings()).cg_sd_mm == pytest.approx([15.0] * 3), (
        "assumed at its sockets, ±15 mm of the whole"
    )
    measured = [replace(part, mass_source="measured") for part in both]
    assert mass_summary(measured, Settings()).mass_sd_g == pytest.approx(5.0)


arm = st.tuples(*[st.floats(-300, 300)] * 3).map(np.array)


@given(arm, st.sampled_from([(0, 0), (30, 0), (45, 20), (90, 45), (180, 180), (77, 13)]))
def test_twist_and_bending_are_the_greatest_of_every_attitude_finely_sampled(
    r: Any, limits: tuple[float, float]
) -> None:
    theta, rho = np.meshgrid(
        np.radians(np.linspace(-limits[0], limits[0], 721)), np.radians(np.linspace(-limits[1], limits[1], 361))
    )
    down = np.stack((np.sin(theta) * np.cos(rho), -np.sin(rho), -np.cos(theta) * np.cos(rho)), axis=-1).reshape(-1, 3)
    moments = np.cross(r, down)
    bending, twist = np.linalg.norm(moments, axis=1).max(), np.abs(moments @ np.array([0.6, 0.0, 0.8])).max()
    unit = STANDARD_GRAVITY * 1e-3
    attitudes = Attitudes(*limits)
    assert worst_bending_nm(1000, r, attitudes) == pytest.approx(bending * unit, rel=1e-4, abs=1e-6)
    assert worst_twist_nm(1000, r, np.array([0.6, 0.0, 0.8]), attitudes) == pytest.approx(
        twist * unit, rel=1e-4, abs=1e-4
    )
    assert worst_twist_nm(1000, r, np.array([0.6, 0.0, 0.8]), attitudes) >= twist * unit - 1e-9


def test_the_joint_of_the_handle_it_is_held_by_carries_the_rig() -> None:
    """4 kg of load, 1.5 kg of body and their handle on a screw rated 30 N, walking: (5.5 kg) · g · 1.5."""
    rig = build("body", "handle.foot > body.side", "load.foot > body.base")
    found = next(f for f in judged(rig).findings if f.code == "fit.load")
    assert found.value == pytest.approx(5.5 * STANDARD_GRAVITY * 1.5)
    assert "handle" in found.about.units


def test_of_several_supports_the_chosen_one_carries_or_else_the_outermost() -> None:
    both = build("body", "pad.plate > body.side", "gimbal.seat > body.base")
    assert judged(both).stand.carried.support == "gimbal", "a pad that stands first in the list hides no gimbal"
    nested = build("body", "pad.plate > body.base", joint("gimbal.seat > pad.under"))
    assert judged(nested).stand.carried.support == "gimbal"
    assert judged(replace(nested, held_by="pad")).stand.carried.support == "pad"
    assert judged(replace(both, held_by="pad")).stand.carried.support == "pad"
    chosen = apply(both, HoldBy(unit="pad"), SHELF)
    assert apply(chosen, HoldBy(), SHELF) == both
    assert (
        apply(
            chosen,
            Replace(unit="pad", by="handle"),
            replace(
                SHELF,
                models={**SHELF.models, "handle": replace(SHELF.models["handle"], ports=SHELF.models["pad"].ports)},
            ),
        ).held_by
        == "handle"
    )
    with pytest.raises(NotAllowed, match="neither a support nor a handle"):
        apply(build("body", "lamp.foot > body.side"), HoldBy(unit="lamp"), SHELF)


def test_pan_turns_with_roll_as_well_as_tilt() -> None:
    """Vertical slide stopped 8 mm low, all else ideal: rolled by ρ the camera stands
    g·M·z·sinρ beside the pan axis, worst at the end of the roll range.
    """
    stopped = GimbalData(
        camera_port="s",
        max_payload_g=9000,
        tilt=Stage(mass_g=0, cg_mm=(0, 0, 0)),
        roll=Stage(mass_g=0, cg_mm=(0, 0, 0)),
        pan=Stage(mass_g=0, cg_mm=(0, 0, 0)),
        torque_nm=(1, 1, 1),
        fore_aft=SlideRange(min_mm=-50, max_mm=50),
        vertical=SlideRange(min_mm=0, max_mm=0),
        lateral=SlideRange(min_mm=-50, max_mm=50),
        pan_slide=SlideRange(min_mm=-50, max_mm=50),
    )
    found = solve(
        stopped,
        Payload(2000, (3, -5, 8)),
        Settings(),
        moves={"rolled": GimbalMove(tilt_deg=(0, 0), roll_deg=(-45, 30), lean_deg=30)},
    )
    assert found.residual_nm[2] == pytest.approx(STANDARD_GRAVITY * 2.0 * 0.008 * math.sin(math.radians(45)) * 0.5)


def test_moves_by_hand() -> None:
    """A point mass of 2 kg, 20 mm beside every axis: I·α on top of what shaking makes of it."""
    s = (0.04, 0.04, 0.04)
    g = STANDARD_GRAVITY
    assert shaken_nm((0.1, 0.2, 0.3), s, 30, 0.0) == (0.1, 0.2, 0.3)
    walking = shaken_nm((0.1, 0.2, 0.3), s, 30, 3.0)
    assert walking == pytest.approx(
        (0.04 * math.hypot(g, 3), 0.04 * math.hypot(g, 3), 0.04 * (g * 0.5 + 3 * math.cos(math.radians(30))))
    )
    assert shaken_nm((0, 0, 0), s, 90, 3.0)[2] == pytest.approx(0.04 * math.hypot(g, 3))


def test_inertia_is_that_of_the_box_about_the_axes_it_is_balanced_on_and_peak_torque_is_judged_by_it() -> None:
    rig = build("body", "gimbal.seat > body.base")
    on = judged(rig)
    turned = inertia_kg_m2(on.stand.assembly, on.stand.carried)
    assert turned
    # Balanced, the CG of camera and tilt stage lies on the tilt axis: box of 100 × 100 × 80 mm, both masses about it.
    s = on.stand.carried.solution
    assert s
    camera = np.array([5 + s.fore_aft.set_mm, -4, 3 + s.vertical.set_mm]) + on.stand.assembly.pose(
        "gimbal"
    ).inverse().point((0, 0, 0))
    box = 1.5 * (0.1**2 + 0.08**2) / 12
    assert turned[0] == pytest.approx(box + 1.5e-6 * (camera[0] ** 2 + camera[2] ** 2), rel=1e-6)
    finding = next(f for f in on.findings if f.code == "gimbal.moves" and f.about.port == "tilt")
    assert finding.level is Level.CLEAR
    assert finding.limit == pytest.approx(0.75), "1.5 times the continuous torque where nobody states a peak"
    hard = next(
        f
        for f in judged(rig, gimbal_style=1.6, move_accel=(2, 5, 400)).findings
        if f.code == "gimbal.moves" and f.about.port == "tilt"
    )
    assert hard.level is Level.STOP
    assert hard.value == pytest.approx(turned[0] * 400 + (finding.value or 0) - turned[0] * 2)


def test_hours_on_balance_are_those_on_power_whatever_the_gimbal_feeds() -> None:
    for links in ([], ["cord: gimbal.handletap > lamp.dc"]):
        on = judged(build("body", "gimbal.seat > body.base", "lamp.foot > gimbal.grip", links=links))
        report = balance_report(on.stand)
        run = next(r for r in on.stand.runs if r.pack == "gimbal")
        assert report
        assert report.hours == pytest.approx(run.hours)


def test_a_cable_reaches_over_tilt_roll_and_pan() -> None:
    """From the roll arm to the handle: no tilt between them, roll ±45° and pan ±90°, against a fine walk over both."""
    rig = build("body", "gimbal.seat > body.base", links=["cord: gimbal.rolltap > gimbal.handletap"])
    on = judged(rig)
    route = routes(on.stand.assembly, on.stand.carried, on.stand.settings)[0]
    s = on.stand.carried.solution
    assert s
    start, end = np.array([-80.0, -40.0, 0.0]), np.array([-70.0, 0.0, -120.0])
    furthest = 0.0
    for roll in np.radians(np.linspace(-45, 45, 181)):
        rolled = np.array([start[0] + s.pan.set_mm, start[1] * math.cos(roll), start[1] * math.sin(roll)])
        for pan in np.radians(np.linspace(-90, 90, 181)):
            at = np.array(
                [
                    rolled[0] * math.cos(pan) - rolled[1] * math.sin(pan),
                    rolled[0] * math.sin(pan) + rolled[1] * math.cos(pan),
                    rolled[2],
                ]
            )
            furthest = max(furthest, float(np.linalg.norm(at - end)))
    assert route.straight_mm == pytest.approx(furthest, abs=0.02)


def test_points_on_an_upright_face_peel() -> None:
    """1.5 kg at 90 mm, two of 400 N 80 mm apart, static: 32.0 against 5.30 N·m; grip 160 against 58.8 N."""
    assert peel_nm((400, 400), (0, 80), (0, 0)) == pytest.approx(32.0)
    assert pytest.approx(5.30, abs=5e-3) == 4 * 1.5 * STANDARD_GRAVITY * 0.09
    assert grip_factor(160, 1.5, 1.0) == pytest.approx(160 / 58.84, abs=1e-3)
    magnet = model(
        "magnet",
        500,
        (0, 0, 0),
        port("screw", "screw", "male", (0, 0, 0), (0, -1, 0), X),
        kind="mount",
        shapes=[{"block": ((-10, 0, -50), (10, 20, 50))}],
        support={
            "kind": "mount",
            "at": (0, 20, 0),
            "mount": {
                "along_face": True,
                "face": (0, 1, 0),
                "points": [{"by": "magnet", "pull_off_n": 400, "at": (0, 20, z)} for z in (-40, 40)],
            },
        },
    )
    shelf = catalogue(*SHELF.models.values(), magnet)
    on = quick_of(build("body", "magnet.screw > body.side"), shelf, Conditions(), Settings())
    finding = next(f for f in on.findings if f.code == "mount.pull_off")
    total = on.stand.carried.total
    off_m = (70 - float(total.cg_mm[1])) * 1e-3
    grips = 160 / (4 * total.mass_g * 1e-3 * STANDARD_GRAVITY)
    peels = 32.0 / (4 * total.mass_g * 1e-3 * STANDARD_GRAVITY * off_m)
    assert finding.value == pytest.approx(min(grips, peels))
    assert not any(f.code == "gear.incomplete" and "magnet" in f.about.units for f in on.findings)


def test_a_zoom_with_its_slide_at_the_stop_is_balanced_at_the_nearest_focal_length_it_reaches() -> None:
    """CG 52 to 71 mm over 24 to 70 mm, linear: the middle is 61.5 mm; a slide that ends at 57 mm balances 36.1 mm."""

    def cg(focal: float) -> float:
        return 52 + (focal - 24) / 46 * 19

    answer = zoom_answer([24, 70], cg, lambda f, x: abs(cg(f) - x), (24, 70), 24, (-1e9, 57.0))
    assert answer.best.focal_mm == pytest.approx(24 + 5 / 19 * 46)
    assert answer.best.cg_x_mm == 57
    beyond = zoom_answer([24, 70], cg, lambda f, x: abs(cg(f) - x), (24, 70), 24, (-1e9, 40.0))
    assert beyond.best.focal_mm == 24
