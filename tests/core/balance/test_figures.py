"""Zoom, hand, shoulder, stand and clearance, against figures computed twice and independently."""

from __future__ import annotations

import numpy as np
import pytest
import shapely
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.balance.report import balance_report
from lift_crate.core.balance.zoom import ZoomAnswer, focal_at_cg, zoom_answer
from lift_crate.core.fit.collisions import overlaps_mm
from lift_crate.core.gear.solids import Block, Solids, solids_of
from lift_crate.core.geometry import STANDARD_GRAVITY, Pose, about_axis
from lift_crate.core.rig.build import Build
from lift_crate.core.rig.edits import Detach
from lift_crate.core.stand import Stand, stand_of
from lift_crate.core.support.clearance import camera_of, reaches, stages_of
from lift_crate.core.support.hands import (
    counterweight_g,
    grip_factor,
    hold_minutes,
    pull_off_factor,
    see_saw,
    tips_over_m_s,
)
from lift_crate.core.support.load import slide_shares_mm
from lift_crate.core.support.wind import wind_area, wind_force_n, wind_on_motors
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench
from tests.kit import examples

FOCALS, LENS_CG = (24.0, 35.0, 50.0, 70.0), (52.0, 55.0, 61.0, 71.0)
LENS_KG = 0.9


def cg(focal: float) -> float:
    return float(np.interp(focal, FOCALS, LENS_CG))


def answer(used: tuple[float, float] = (24, 70), set_mm: float = 24) -> ZoomAnswer:
    """A zoom alone on the axis: what is not balanced is its own shift."""
    return zoom_answer(FOCALS, cg, lambda f, x: LENS_KG * STANDARD_GRAVITY * abs(cg(f) - x) * 1e-3, used, set_mm)


def test_the_minimax_point_and_what_the_schools_cost() -> None:
    schools = {s.name: s for s in answer().schools}
    assert schools["minimax"].focal_mm == pytest.approx(51)
    assert schools["minimax"].cg_x_mm == 61.5
    assert schools["minimax"].worst_nm == pytest.approx(0.0838, abs=5e-5)
    assert schools["middle focal length"].focal_mm == 47
    assert schools["middle focal length"].worst_nm == pytest.approx(0.0989, abs=5e-5)
    geometric = max(LENS_KG * STANDARD_GRAVITY * abs(cg(f) - cg(40.99)) * 1e-3 for f in FOCALS)
    assert geometric == pytest.approx(0.1201, abs=5e-5)
    assert schools["as it is set"].worst_nm == pytest.approx(LENS_KG * STANDARD_GRAVITY * 19e-3)


def test_loads_at_both_ends_are_equal_at_the_minimax_point_and_nothing_there() -> None:
    loads = {round(load.focal_mm, 3): load.torque_nm for load in answer().loads}
    assert loads[24] == pytest.approx(loads[70])
    assert min(loads.values()) < 0.01
    assert answer((35, 50)).best.cg_x_mm == 58


cgs = st.lists(st.floats(20, 120), min_size=2, max_size=6)


@given(cgs, st.floats(0, 1))
def test_the_minimax_point_is_never_worse_than_any_school(values: list[float], share: float) -> None:
    focals = [20.0 + 15 * i for i in range(len(values))]

    def at(f: float) -> float:
        return float(np.interp(f, focals, values))

    used = (focals[0], focals[-1])
    found = zoom_answer(focals, at, lambda f, x: abs(at(f) - x), used, focals[0] + share * (focals[-1] - focals[0]))
    assert all(found.best.worst_nm <= school.worst_nm + 1e-9 for school in found.schools)
    if found.best.focal_mm is not None and min(values) <= found.best.cg_x_mm <= max(values):
        assert at(found.best.focal_mm) == pytest.approx(found.best.cg_x_mm, abs=1e-6)


def test_of_several_focal_lengths_the_nearest_to_the_middle_and_the_nearest_reachable() -> None:
    assert focal_at_cg((20, 40, 60), (10, 30, 10), 20) in (30, 50)
    assert focal_at_cg((20, 40, 80), (10, 30, 10), 20) == 60
    assert focal_at_cg((20, 40), (10, 30), 99) == 40


def test_a_shoulder_rig() -> None:
    """6.2 kg, CG 34, pad −60, grip 120: 5.715 N·m, the hands carry 3.24 kg; level with 2.53 kg added at −290."""
    rig = see_saw(6200, 34, -60, 120)
    assert rig.moment_nm == pytest.approx(5.715, abs=5e-4)
    assert rig.hands_g == pytest.approx(3240, abs=5)
    weight = counterweight_g(6200, 34, -60, -290)
    assert weight == pytest.approx(2530, abs=5)
    assert weight
    with_it = (6200 * 34 + weight * -290) / (6200 + weight)
    assert see_saw(6200 + weight, with_it, -60, 120).moment_nm == pytest.approx(0, abs=1e-9)
    assert counterweight_g(6200, 34, -60, 120) is None, "in front it makes it worse"
    assert see_saw(6200, -100, -60, 120).hands_g == 0


@pytest.mark.parametrize(("mass_g", "minutes"), [(1800, 5.8), (3200, 3.5), (4500, 2.5)])
def test_hold_times_held_out(mass_g: float, minutes: float) -> None:
    assert hold_minutes(mass_g, 0.42) == pytest.approx(minutes, abs=0.05)


@given(st.floats(0, 12_000), st.floats(100, 4000))
def test_more_mass_is_never_held_longer_and_near_is_never_shorter(mass_g: float, more_g: float) -> None:
    long = 1e9
    here, heavier, near = (hold_minutes(m, r) for m, r in ((mass_g, 0.42), (mass_g + more_g, 0.42), (mass_g, 0.25)))
    assert (long if heavier is None else heavier) <= (long if here is None else here) + 1e-9
    assert (
        (long if near is None else near) >= (0 if here is None else here) - 1e-9 if here is not None else near is None
    )


def test_tip_over_and_magnets() -> None:
    """9 kg, b 0.25, h 1.5 m, 0.08 m², level: tips at 16.7 m/s."""
    assert tips_over_m_s(9, 0.25, 1.5, 0.08, safety=1) == pytest.approx(16.7, abs=0.05)
    assert tips_over_m_s(9, 0.25, 1.5, 0.08) < 16.7
    assert tips_over_m_s(9, 0.25, 1.5, 0.08, slope_deg=12) == 0
    assert pull_off_factor(1200, 4, 3) == pytest.approx(1200 / (4 * 4 * STANDARD_GRAVITY * 3))
    assert grip_factor(0.2 * 1200, 4, 3) == pytest.approx(0.2 * 1200 / (4 * 4 * STANDARD_GRAVITY * 3))


def test_the_camera_turns_until_something_hits_and_taking_that_off_frees_it(demo: JobFile) -> None:
    floor = bench(demo, "dress", "dock-floor")
    tilt = reaches(floor.stand.assembly, floor.stand.carried)[0]
    assert tilt.low_hits == ("TX-1", "the roll arm of GIMBAL-1")
    assert tilt.high_hits == ("CINE-2", "MON7-2")
    assert -90 < tilt.low_deg < 0 < tilt.high_deg < 90
    off = bench(demo, "dress", "dock-floor", Detach(unit="SCREW-1"), Detach(unit="PIN-2"))
    freed = reaches(off.stand.assembly, off.stand.carried)[0]
    assert freed.low_deg < tilt.low_deg
    assert freed.high_deg > tilt.high_deg
    assert reaches(bench(demo, "dress", "quay").stand.assembly, bench(demo, "dress", "quay").stand.carried) == ()


def test_the_angle_at_which_it_hits_is_where_it_touches(demo: JobFile) -> None:
    """The camera turned by hand: half a degree short of the angle told
    nothing overlaps, half a degree beyond it does.
    """
    floor = bench(demo, "dress", "dock-floor").quick
    told = reaches(floor.stand.assembly, floor.stand.carried)[0]
    slides, support = floor.stand.carried.solution, floor.stand.carried.support
    assert slides
    assert support
    a, v, side, b = (s.set_mm for s in (slides.fore_aft, slides.vertical, slides.lateral, slides.pan))
    camera = camera_of(floor.stand.assembly, support, np.array([a + b, side, v])).solids
    still = stages_of(
        floor.stand.assembly,
        support,
        {"roll": np.array([b, 0, 0]), "pan": np.zeros(3), "handle": np.zeros(3)},
        hung=True,
    ).solids
    many, others = len(camera.half_mm), len(still.half_mm)

    def deepest_mm(deg: float) -> float:
        turned = camera.moved(about_axis(np.array([0.0, 1.0, 0.0]), np.array([b, side, 0.0]), deg))
        return float(
            overlaps_mm(
                turned.rows(np.repeat(np.arange(many), others)), still.rows(np.tile(np.arange(others), many))
            ).max()
        )

    assert all(deepest_mm(deg) <= 1 for deg in np.linspace(told.low_deg, told.high_deg, 40))
    assert deepest_mm(told.high_deg + 0.6) > 1
    assert deepest_mm(told.low_deg - 0.6) > 1


@given(
    boxes=st.lists(
        st.tuples(*[st.floats(-200, 200)] * 3, *[st.floats(5, 120)] * 3, st.floats(-180, 180), st.floats(-90, 90)),
        min_size=1,
        max_size=6,
    ),
    way=st.floats(0, 360),
)
@settings(max_examples=examples(60), deadline=None)
def test_the_area_in_the_wind_is_that_of_the_union_of_the_outlines(boxes: list[tuple[float, ...]], way: float) -> None:
    """Slabs against a geometry library that unites the convex outlines exactly."""
    made = []
    for x, y, z, length, width, height, pan, tilt in boxes:
        turned = (
            about_axis(np.array([0.0, 0.0, 1.0]), np.zeros(3), pan).rotation
            @ about_axis(np.array([0.0, 1.0, 0.0]), np.zeros(3), tilt).rotation
        )
        made.append(
            solids_of((Block(block=((-length, -width, -height), (length, width, height))),)).moved(
                Pose(turned, np.array([x, y, z]))
            )
        )
    solids = Solids.joined(made)
    towards = np.array([np.cos(np.radians(way)), np.sin(np.radians(way)), 0.0])
    across = np.array([-towards[1], towards[0], 0.0])
    corners = np.array([[i, j, k] for i in (-1, 1) for j in (-1, 1) for k in (-1, 1)], dtype=float)
    outlines = []
    for c, frame, half in zip(solids.centre_mm, solids.frame, solids.half_mm, strict=True):
        points = c + (corners * half) @ frame
        outlines.append(shapely.MultiPoint(np.column_stack((points @ across, points[:, 2]))).convex_hull)
    union = shapely.union_all(outlines)
    area, centre = wind_area(solids, towards)
    assert area * 1e6 == pytest.approx(union.area, rel=0.01, abs=20)
    assert (float(centre @ across), float(centre[2])) == pytest.approx((union.centroid.x, union.centroid.y), abs=2)


def test_wind_on_a_plate_and_on_what_stands_behind_it() -> None:
    """0.03 m²: 1.38 N at 30 km/h, 13.8 N at 95; a second plate in its lee adds nothing."""
    assert wind_force_n(0.03, 30 / 3.6) == pytest.approx(1.38, abs=5e-3)
    assert wind_force_n(0.03, 95 / 3.6) == pytest.approx(13.8, abs=5e-2)
    plate = Block(block=((0, -100, -20), (4, 200, 80)))
    ahead = np.array([1.0, 0.0, 0.0])
    area, centre = wind_area(solids_of((plate,)), ahead)
    assert area == pytest.approx(0.03)
    assert centre[1:] == pytest.approx([50, 30])
    assert wind_area(solids_of((plate, Block(block=((50, -50, 0), (60, 50, 40))))), ahead)[0] == pytest.approx(0.03)
    slanting = wind_area(solids_of((Block(block=((0, 0, 0), (100, 100, 100))),)), np.array([0.5**0.5, 0.5**0.5, 0.0]))
    assert slanting[0] == pytest.approx(0.01 * 2**0.5)
    assert wind_area(solids_of(()), ahead)[0] == 0


def test_in_the_gusts_of_the_wind_it_gives_up_in_a_motor_holds_just_what_it_can(demo: JobFile) -> None:
    judged = bench(demo, "act-3", "stage-rail").quick
    still = wind_on_motors(judged.stand.assembly, judged.stand.carried, judged.stand.settings, 0.0)
    assert [w.torque_nm for w in still] == pytest.approx(judged.stand.carried.torques_nm)
    for i, motor in enumerate(still):
        at = wind_on_motors(judged.stand.assembly, judged.stand.carried, judged.stand.settings, motor.gives_up_m_s)[i]
        assert at.torque_nm == pytest.approx(at.rated_nm)


def test_each_part_asks_for_its_own_share_of_a_slide(demo: JobFile) -> None:
    """Without a part the balance is where the shares of the others put it: m_p·a* less what it asked for."""
    catalogue = catalogue_of(demo)
    build, part = demo.job.planned("dress", "dock-floor"), demo.job.part("dress")

    def standing(rig: Build) -> Stand:
        return stand_of(rig, catalogue, part.conditions, demo.job.settings)

    at = standing(build)
    held = at.carried
    assert held.solution is not None
    linked = {u for k in build.links for u in (k.from_unit, k.to_unit)}
    leaves = [u for u in at.assembly.layout.on_support if len(build.subtree(u)) == 1 and u not in linked]
    assert leaves
    for name in ("fore_aft", "vertical"):
        shares = slide_shares_mm(at.assembly, held, name)
        ideal = next(s.ideal_mm for s in held.solution.slides if s.name == name)
        assert sum(shares.values()) == pytest.approx(ideal)
        for leaf in leaves:
            if leaf == build.body:
                continue
            less = standing(build.without({leaf})).carried
            assert less.solution is not None
            there = next(s.ideal_mm for s in less.solution.slides if s.name == name)
            assert less.payload.mass_g * there == pytest.approx(held.payload.mass_g * (ideal - shares[leaf]), abs=1e-3)
    report = balance_report(at)
    assert report
    told = {s.name: s.uses for s in report.slides}
    assert told["fore_aft"][0][0] in at.assembly.layout.units
