"""Framing, sharpness, light and corners, against figures computed twice and independently."""

from __future__ import annotations

import math

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.lens.framing import (
    angle_deg,
    blur_mm,
    clear_radius_mm,
    crop_factor,
    depth_of_field_mm,
    exposure_ev,
    from_lens_mm,
    nd_stops,
    width_at_mm,
)

SUPER = (24.9, 14.0)
DIAGONAL = math.hypot(*SUPER)


def test_crop_angle_and_width() -> None:
    assert pytest.approx(28.566, abs=5e-4) == DIAGONAL
    assert crop_factor(DIAGONAL) == pytest.approx(1.5146, abs=5e-5)
    assert angle_deg(SUPER[0], 35) == pytest.approx(39.16, abs=5e-3)
    assert width_at_mm(SUPER[0], 35, 4000) == pytest.approx(2796, abs=0.5)


@pytest.mark.parametrize(
    ("focal", "stop", "circle", "u", "near", "far"),
    [(85, 1.4, 0.029, 2000, 1978.7, 2021.8), (35, 2, 0.019, 3000, 2747, 3304)],
)
def test_depth_of_field(focal: float, stop: float, circle: float, u: float, near: float, far: float) -> None:
    assert depth_of_field_mm(focal, stop, circle, u) == pytest.approx((near, far), abs=0.5)


def test_from_the_hyperfocal_distance_on_it_is_sharp_to_infinity() -> None:
    hyperfocal = 35**2 / (2 * 0.019) + 35
    assert math.isinf(depth_of_field_mm(35, 2, 0.019, hyperfocal)[1])
    assert depth_of_field_mm(35, 2, 0.019, hyperfocal)[0] == pytest.approx(hyperfocal / 2, rel=1e-3)


@given(st.floats(16, 200), st.floats(1.2, 11), st.floats(1500, 60_000))
def test_a_point_at_the_end_of_the_depth_of_field_is_blurred_by_the_circle(focal: float, stop: float, u: float) -> None:
    near, far = depth_of_field_mm(focal, stop, 0.025, u)
    assert blur_mm(focal, stop, u, near) == pytest.approx(0.025, rel=1e-6)
    if math.isfinite(far):
        assert blur_mm(focal, stop, u, far) == pytest.approx(0.025, rel=1e-6)


@given(st.floats(10, 300), st.floats(1500, 90_000))
def test_the_lens_equation_holds(focal: float, from_plane: float) -> None:
    u = from_lens_mm(from_plane, focal)
    assert u
    assert 1 / focal == pytest.approx(1 / u + 1 / (from_plane - u))
    assert from_lens_mm(3.9 * focal, focal) is None


def test_corners() -> None:
    assert clear_radius_mm(16, DIAGONAL, 22, 0) == pytest.approx(19.64, abs=5e-3)
    assert clear_radius_mm(16, DIAGONAL, 22, 9) == pytest.approx(27.67, abs=5e-3)


def test_light() -> None:
    """EV 15, 2.8, 180°, 24 fps, ISO 800: 9.44 stops too much."""
    assert nd_stops(15, 2.8, 180, 24, 800) == pytest.approx(9.44, abs=5e-3)
    assert nd_stops(15, 2.8, 180, 24, 800, already_stops=3) == pytest.approx(6.44, abs=5e-3)
    assert exposure_ev(16, 1 / 125, 100) == pytest.approx(15, abs=0.05)


@given(st.floats(1, 22), st.floats(0.5, 4))
def test_a_stop_is_a_factor_of_two_wherever_it_is_taken(stop: float, stops: float) -> None:
    base = nd_stops(10, stop, 180, 25, 800)
    assert nd_stops(10 + stops, stop, 180, 25, 800) == pytest.approx(base + stops)
    assert nd_stops(10, stop, 180, 25, 800 * 2**stops) == pytest.approx(base + stops)
    assert nd_stops(10, stop * 2 ** (stops / 2), 180, 25, 800) == pytest.approx(base - stops)
