"""Answers checked by other means: torques from forces in space, hours
by a finer integration, outlines by their points.
"""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.drawings.elevation import VIEWS, elevations
from lift_crate.core.gear.electrical import Pack
from lift_crate.core.gear.supports import GimbalData, SlideRange, Stage
from lift_crate.core.geometry import STANDARD_GRAVITY, Array
from lift_crate.core.power.discharge import capacity_factor, discharge, resistance_factor
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Conditions
from lift_crate.core.settings import Settings
from lift_crate.core.stand import stand_of
from lift_crate.core.support.gimbal import Payload, solve
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.kit import examples, quick_of

SETTINGS = Settings()


def tilted(theta: float) -> Array:
    """Rotation about y, right-hand."""
    c, s = math.cos(theta), math.sin(theta)
    return np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])


def rolled(rho: float) -> Array:
    """Rotation about x, right-hand."""
    c, s = math.cos(rho), math.sin(rho)
    return np.array([[1, 0, 0], [0, c, -s], [0, s, c]])


def torque_nm(axis: Array, places: list[Array], masses_g: list[float], pivot: Array, downs: Array) -> float:
    """Largest |k·Σ (r − A) × m·g⃗| over directions of gravity, shape (n, 3)."""
    turning = sum(
        (m * 1e-6 * STANDARD_GRAVITY * np.cross(axis, r - pivot) for r, m in zip(places, masses_g, strict=True)),
        start=np.zeros(3),
    )
    return float(np.abs(downs @ turning).max())


def torques_in_space(
    gimbal: GimbalData,
    payload: Payload,
    slides: tuple[float, float, float, float],
    theta: float,
    rho: float,
    lean: float,
) -> tuple[float, float, float]:
    """Tilt, roll and pan torque, N·m, from every mass as a force at its place."""
    a, v, side, b = slides
    masses = [payload.mass_g, gimbal.tilt.mass_g, gimbal.roll.mass_g, gimbal.pan.mass_g]
    pivot_tilt, pivot_roll = np.array([b, side, 0.0]), np.array([b, 0.0, 0.0])
    tilt_body = [np.add(payload.cg_mm, (a, 0, v)), np.array(gimbal.tilt.cg_mm)]
    to_roll = [pivot_tilt + tilted(theta) @ r for r in tilt_body] + [np.add(gimbal.roll.cg_mm, (b, 0, 0))]
    to_pan = [pivot_roll + rolled(rho) @ (r - pivot_roll) for r in to_roll] + [np.array(gimbal.pan.cg_mm)]
    down_on_roll = rolled(rho).T @ np.array([[0.0], [0], [-1]])
    around = np.linspace(0, 2 * math.pi, 721)
    leaned = np.column_stack(
        (math.sin(lean) * np.cos(around), math.sin(lean) * np.sin(around), np.full_like(around, -math.cos(lean)))
    )
    return (
        torque_nm(np.array([0.0, 1, 0]), tilt_body, masses[:2], np.zeros(3), (tilted(theta).T @ down_on_roll).T),
        torque_nm(np.array([1.0, 0, 0]), to_roll, masses[:3], pivot_roll, down_on_roll.T),
        torque_nm(np.array([0.0, 0, 1]), to_pan, masses, np.zeros(3), leaned),
    )


mm = st.floats(-60, 60)
stage = st.builds(lambda m, x, y, z: Stage(mass_g=m, cg_mm=(x, y, z)), st.floats(50, 1200), mm, mm, mm)
stops = st.builds(lambda half: SlideRange(min_mm=-half, max_mm=half), st.floats(1, 40))


@settings(max_examples=examples(25))
@given(st.floats(400, 5000), mm, mm, mm, stage, stage, stage, stops, stops, stops, stops)
def test_closed_form_torques_are_those_of_forces_in_space(
    m: float,
    x: float,
    y: float,
    z: float,
    tilt: Stage,
    roll: Stage,
    pan: Stage,
    fa: SlideRange,
    ve: SlideRange,
    la: SlideRange,
    pa: SlideRange,
) -> None:
    """At level, and the tilt torque at its worst attitude, where the lever is level."""
    gimbal = GimbalData(
        camera_port="c",
        max_payload_g=9e9,
        tilt=tilt,
        roll=roll,
        pan=pan,
        fore_aft=fa,
        vertical=ve,
        lateral=la,
        pan_slide=pa,
        torque_nm=(1, 1, 1),
    )
    payload = Payload(m, (x, y, z))
    answer = solve(gimbal, payload, SETTINGS)
    set_mm = tuple(slide.set_mm for slide in answer.slides)
    slides = (set_mm[0], set_mm[1], set_mm[2], set_mm[3])
    level = torques_in_space(gimbal, payload, slides, 0.0, 0.0, math.radians(SETTINGS.gimbal_lean_deg))
    assert answer.level_nm[1] == pytest.approx(level[1], abs=1e-9)
    assert answer.level_nm[2] == pytest.approx(level[2], rel=1e-4, abs=1e-9)
    around = [torques_in_space(gimbal, payload, slides, t, 0.0, 0.0)[0] for t in np.linspace(-math.pi, math.pi, 181)]
    assert max(around) == pytest.approx(answer.level_nm[0], rel=2e-4, abs=1e-9)
    within = [
        torques_in_space(gimbal, payload, slides, math.radians(t), math.radians(r), 0.0)[1]
        for t in (-90, -45, 0, 30, 90)
        for r in (-45, -20, 0, 45)
    ]
    assert max(within) <= answer.residual_nm[1] + 1e-9


@pytest.mark.parametrize(
    ("load_w", "temperature_c", "health"), [(12.0, 20.0, 1.0), (33.3, 4.0, 0.93), (47.0, -5.0, 0.8)]
)
def test_hours_agree_with_a_hundred_times_finer_integration(load_w: float, temperature_c: float, health: float) -> None:
    pack = Pack(cells=4, capacity_ah=6.8, resistance_ohm=0.14)
    points = [0, 5, 10, 20, 30, 40, 50, 60, 70, 80, 90, 100]
    volts = [3.00, 3.35, 3.50, 3.62, 3.68, 3.72, 3.77, 3.83, 3.90, 3.97, 4.06, 4.20]
    charge, hours, step = 100.0, 0.0, 0.01
    while charge > 10.0 + step / 2:
        open_v, ohm = 4 * float(np.interp(charge, points, volts)), 0.14 * resistance_factor(temperature_c)
        amps = load_w / open_v
        for _ in range(50):
            amps = load_w / (open_v - amps * ohm)
        hours += step / 100 * 6.8 * health * capacity_factor(temperature_c) / amps
        charge -= step
    run = discharge(pack, lambda v: (np.full_like(v, load_w), {}), health=health, temperature_c=temperature_c)
    assert run.hours == pytest.approx(hours, rel=2e-3)
    assert run.ended_by == "reserve"


def test_every_point_of_every_shape_lies_within_its_outline(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    judged = quick_of(demo.job.planned("dress", "quay"), catalogue, Conditions(), SETTINGS)
    for view in elevations(judged.stand):
        axes = VIEWS[view.view]
        drawn: dict[str, list[Array]] = {}
        for outline in view.outlines:
            drawn.setdefault(outline.unit, []).append(np.array(outline.points))
        for unit, part in judged.stand.assembly.parts.items():
            for shape in catalogue.model_of(unit).shapes:
                seen = (part.tf_rig_part.point(shape.points) @ axes.T)[:, :2]
                assert any(_inside(seen, polygon) for polygon in drawn[unit]), f"{unit} in {view.view}"


def _inside(points: Array, polygon: Array) -> bool:
    """All points within a convex polygon, whichever way round it goes; a millimetre of room for rounding."""
    after = np.roll(polygon, -1, axis=0)
    edges, lengths = after - polygon, np.linalg.norm(after - polygon, axis=1)
    across = edges[:, None, 0] * (points[None, :, 1] - polygon[:, None, 1]) - edges[:, None, 1] * (
        points[None, :, 0] - polygon[:, None, 0]
    )
    distance = across / np.maximum(lengths, 1e-9)[:, None]
    return bool((distance > -1.0).all() or (distance < 1.0).all())


def test_the_gimbals_own_slides_do_not_move_the_camera(demo: JobFile) -> None:
    """The same payload on a gimbal with longer travel is drawn at the same place; only the gimbal moves."""
    catalogue = catalogue_of(demo)
    build = demo.job.planned("act-3", "stage-rail")
    old = catalogue.models["bight-g3"]
    assert old.gimbal
    longer = replace(old, gimbal=replace(old.gimbal, fore_aft=SlideRange(min_mm=-80, max_mm=80)))
    other = replace(catalogue, models={**catalogue.models, "bight-g3": longer})
    drawn = [elevations(stand_of(build, c, Conditions(), SETTINGS))[0] for c in (catalogue, other)]
    still = [{o.unit: o.points for o in d.outlines if o.unit != "GIMBAL-2"} for d in drawn]
    assert still[0] == still[1]
    assert drawn[0].outlines != drawn[1].outlines
    assert assemble(build, catalogue).pose("GIMBAL-2").translation_mm == pytest.approx(
        assemble(build, other).pose("GIMBAL-2").translation_mm
    )
