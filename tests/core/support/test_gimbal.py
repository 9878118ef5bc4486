"""Gimbal slides and torques, against figures computed twice and independently."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.gear.supports import GimbalData, SlideRange, Stage
from lift_crate.core.settings import GimbalMove, Settings
from lift_crate.core.support.gimbal import Payload, gimbal_power_w, motor_torques_nm, solve

PAYLOAD = Payload(2340, (31, -7, 12))
SETTINGS = Settings()
FREE = SlideRange(min_mm=-1e6, max_mm=1e6)
GIMBAL = GimbalData(
    camera_port="camera",
    max_payload_g=3000,
    tilt=Stage(mass_g=310, cg_mm=(-4, 38, -3)),
    roll=Stage(mass_g=420, cg_mm=(-85, -30, 0)),
    pan=Stage(mass_g=380, cg_mm=(-70, 0, -60)),
    fore_aft=FREE,
    vertical=FREE,
    lateral=FREE,
    pan_slide=FREE,
    torque_nm=(0.45, 0.6, 0.6),
    motor_constant=(0.16, 0.16, 0.16),
    base_w=2.4,
)


def stops(mm: float) -> SlideRange:
    return SlideRange(min_mm=-mm, max_mm=mm)


def test_ideal_slides() -> None:
    answer = solve(GIMBAL, PAYLOAD, SETTINGS)
    assert [s.ideal_mm for s in answer.slides] == pytest.approx([-30.470, -11.603, 6.491, 20.293], abs=5e-4)
    assert answer.residual_nm == pytest.approx((0, 0, 0), abs=1e-12)


def test_fore_aft_stopped_at_22_mm_leaves_torque_and_moves_the_pan_slide() -> None:
    answer = solve(replace(GIMBAL, fore_aft=stops(22)), PAYLOAD, SETTINGS)
    assert answer.residual_nm[0] == pytest.approx(0.1944, abs=5e-5)
    assert answer.residual_nm[0] / 0.45 == pytest.approx(0.43, abs=5e-3)
    assert answer.pan.ideal_mm == pytest.approx(13.837, abs=5e-4)
    assert answer.fore_aft.short_mm == pytest.approx(8.470, abs=5e-4)


@pytest.mark.parametrize(
    ("change", "attitudes", "axis", "torque"),
    [
        ({"fore_aft": stops(22), "vertical": stops(8)}, (90, 45), 0, 0.2112),
        ({"fore_aft": stops(22), "vertical": stops(8)}, (0, 90), 1, 0.0827),
        ({"fore_aft": stops(22), "vertical": stops(8)}, (45, 45), 1, 0.1385),
        ({"lateral": stops(4)}, (0, 0.1), 1, 0.0647),
        ({"pan_slide": stops(15)}, (90, 45), 2, 0.0797),
        ({"pan": Stage(mass_g=380, cg_mm=(-70, 12, -60))}, (90, 45), 2, 0.0224),
    ],
)
def test_what_is_left_when_a_slide_stops(
    change: dict[str, Any], attitudes: tuple[float, float], axis: int, torque: float
) -> None:
    tilt, roll = attitudes
    moves = {"asked": GimbalMove(tilt_deg=(-tilt, tilt), roll_deg=(-roll, roll))}
    answer = solve(replace(GIMBAL, **change), PAYLOAD, SETTINGS, moves=moves)
    assert answer.residual_nm[axis] == pytest.approx(torque, abs=5e-5)


def test_a_counterweight_brings_it_back_within_travel() -> None:
    """m = −S/x_c: 208.6 g on the camera, 95 mm behind the axis with the slide at its stop."""
    gimbal = replace(GIMBAL, fore_aft=stops(22))
    with_weight = PAYLOAD.joined(Payload(208.6, (-95 + 22, 0, 0)))
    answer = solve(gimbal, with_weight, SETTINGS)
    assert answer.fore_aft.ideal_mm == pytest.approx(-22, abs=0.01)
    assert answer.lateral.ideal_mm == pytest.approx(6.017, abs=2e-3)
    assert answer.pan.ideal_mm == pytest.approx(19.00, abs=0.01)


def test_own_power() -> None:
    strained = gimbal_power_w(GIMBAL, (0.1944, 0, 0), 1.0)
    assert strained is not None
    assert strained == pytest.approx(3.876, abs=5e-4)
    assert 25.9 * 0.9 / strained == pytest.approx(6.01, abs=5e-3)
    assert 25.9 * 0.9 / (gimbal_power_w(GIMBAL, (0, 0, 0), 1.0) or 0) == pytest.approx(9.71, abs=5e-3)
    assert gimbal_power_w(replace(GIMBAL, base_w=None), (0, 0, 0), 1.0) is None


def test_cable_pull_is_adverse_on_every_axis() -> None:
    assert motor_torques_nm((0.1, 0.0, 0.2), (0.015, 0.015, 0.015)) == pytest.approx((0.115, 0.015, 0.215))


mm = st.floats(-80, 80)
stages = st.builds(lambda m, x, y, z: Stage(mass_g=m, cg_mm=(x, y, z)), st.floats(0, 1500), mm, mm, mm)


@given(st.floats(200, 6000), mm, mm, mm, stages, stages, stages)
def test_settling_every_slide_at_its_answer_leaves_no_torque(
    m: float, x: float, y: float, z: float, tilt: Stage, roll: Stage, pan: Stage
) -> None:
    flat_pan = replace(pan, cg_mm=(pan.cg_mm[0], 0, pan.cg_mm[2]))
    level_roll = replace(roll, cg_mm=(roll.cg_mm[0], roll.cg_mm[1], 0))
    answer = solve(replace(GIMBAL, tilt=tilt, roll=level_roll, pan=flat_pan), Payload(m, (x, y, z)), SETTINGS)
    assert answer.residual_nm == pytest.approx((0, 0, 0), abs=1e-9)


def test_a_gimbal_without_payload_is_no_question() -> None:
    with pytest.raises(ValueError, match="mount the camera first"):
        solve(GIMBAL, Payload(0, (0, 0, 0)), SETTINGS)


def test_printed_scale() -> None:
    assert SlideRange(min_mm=-28, max_mm=28, zero=28, direction=-1).reading(10) == 18
