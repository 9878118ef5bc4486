"""Heads with their counterbalance, sticks in the wind, magnets and clamps, and how a rig is held by hand."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.balance.see_saw import hold_ways, see_saw_report
from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import Level
from lift_crate.core.gear.solids import Solids
from lift_crate.core.gear.supports import HeadData, MountData, MountPoint, Spring
from lift_crate.core.geometry import STANDARD_GRAVITY
from lift_crate.core.rig.build import Catalogue, Conditions, Target
from lift_crate.core.rig.edits import Attach, Detach, Operation, SlideTo
from lift_crate.core.support.head import head_report
from lift_crate.core.support.rigging import mounted
from lift_crate.core.support.sticks import tip_over
from lift_crate.core.support.wind import wind_areas
from lift_crate.core.verdict.judge import Quick, Verdict
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench
from tests.kit import quick_of


def with_target(demo: JobFile, part: str, rig: str, target: Target, *operations: Operation) -> Quick:
    at = bench(demo, part, rig, *operations)
    return quick_of(at.build, at.catalogue, at.stand.conditions, at.settings, target=target)


def levels(judged: Verdict) -> dict[str, Level]:
    return {f.code: f.level for f in judged.findings}


def test_what_a_head_is_left_with_is_the_weight_less_the_spring(demo: JobFile) -> None:
    judged = bench(demo, "dress", "quay").quick
    report = head_report(judged.stand.assembly, judged.stand.carried, judged.stand.settings)
    assert report
    at = report.tilts_deg.index(30.0)
    mass_kg = judged.stand.carried.payload.mass_g * 1e-3
    by_hand = (
        mass_kg
        * STANDARD_GRAVITY
        * (report.high_mm * math.sin(math.radians(30)) + report.ahead_mm * math.cos(math.radians(30)))
        * 1e-3
    )
    assert report.load_nm[at] == pytest.approx(by_hand)
    assert {step.label: step.left_nm[at] for step in report.steps} == pytest.approx(
        {f"step {i}": by_hand - 1.5 * i for i in (1, 2, 3, 4)}
    )
    assert report.best is min(report.steps, key=lambda step: step.worst_nm)
    for step in report.steps:
        assert step.stays_deg
        low, high = step.stays_deg
        assert all(
            abs(left) <= report.hold_nm
            for tilt, left in zip(report.tilts_deg, step.left_nm, strict=True)
            if low <= tilt <= high
        )
        assert low == report.tilts_deg[0] or abs(step.left_nm[report.tilts_deg.index(low) - 1]) > report.hold_nm


def test_a_head_that_drifts_holds_with_the_plate_slid_over_its_pivot(demo: JobFile) -> None:
    at = bench(demo, "dress", "caisson")
    finding = next(f for f in at.whole.findings if f.code == "head.drift")
    assert finding.level is Level.WATCH
    best = next(
        r
        for r in remedies(at, finding)
        if isinstance(r.operations[0], SlideTo) and r.operations[0].unit in ("HEAD-2", "HP-2")
    )
    assert best.clears
    after = bench(demo, "dress", "caisson", *best.operations).quick
    report = head_report(after.stand.assembly, after.stand.carried, after.stand.settings)
    assert report
    assert abs(report.ahead_mm) < 1
    assert report.holds


@pytest.mark.parametrize(
    ("make", "what"),
    [
        (lambda: Spring(label="s", nm_at=((60, 2), (30, 1))), "ascend"),
        (lambda: Spring(label="s", nm_at=((0, 1),)), "level"),
        (lambda: HeadData(tilt_deg=(80, -60), hold_nm=1), "comes first"),
    ],
)
def test_figures_of_a_head_that_cannot_be_are_refused(make: object, what: str) -> None:
    with pytest.raises(ValueError, match=what):
        make()  # type: ignore[operator]


def test_sticks_stand_until_the_wind_that_is_told(demo: JobFile) -> None:
    """At the wind told the two moments of the formula are equal; a rig that is lower or heavier stands longer."""
    at = bench(demo, "act-3", "quay")
    held, settings = at.stand.carried, at.settings
    found = tip_over(at.stand.assembly, held, settings, at.stand.conditions)
    assert found
    assert found.safe_m_s
    assert found.tips_m_s
    delta, weight = math.radians(settings.slope_deg), found.mass_g * 1e-3 * STANDARD_GRAVITY
    wind_n = 0.5 * 1.2 * 1.1 * found.area_m2 * found.tips_m_s**2
    holds = weight * found.edge_mm * 1e-3 * math.cos(delta)
    assert holds == pytest.approx(wind_n * found.area_high_mm * 1e-3 + weight * found.high_mm * 1e-3 * math.sin(delta))
    assert found.safe_m_s < found.tips_m_s
    # The sticks weigh at half their height, everything else where it is.
    assembly = at.stand.assembly
    masses = {u: assembly.parts[u].mass_g for u in assembly.units}
    sticks = at.catalogue.model_of(found.stand).stand
    assert sticks
    foot, half = float(assembly.pose(found.stand).translation_mm[2]) - sticks.height_mm, sticks.height_mm / 2
    moment = sum(m * (half if u == found.stand else assembly.parts[u].cg_mm[2] - foot) for u, m in masses.items())
    assert found.high_mm == pytest.approx(moment / sum(masses.values()), rel=0.02)
    # No wind of sixteen directions tips it sooner, each looked at by itself.
    drawn = Solids.joined(
        [at.catalogue.solids_of([u])[1].moved(assembly.pose(u)) for u in assembly.units if u != found.stand]
    )
    blown = [wind_areas(drawn, np.array([[math.cos(a), math.sin(a), 0.0]])) for a in np.arange(16) * math.pi / 8]
    moments = [float(area[0] * (centre[0, 2] - foot)) for area, centre in blown]
    assert found.area_m2 * found.area_high_mm == pytest.approx(max(moments), rel=1e-6)
    assert max(moments) > 1.2 * min(moments), "else it would be no matter which"
    assert found.gust_m_s == pytest.approx(13.5)
    for wind, level in (
        (found.safe_m_s * 0.99, Level.CLEAR),
        (found.safe_m_s * 1.01, Level.WATCH),
        (found.tips_m_s * 1.01, Level.STOP),
    ):
        calm = quick_of(at.build, at.catalogue, Conditions(wind_m_s=wind / settings.gust), settings)
        judged = Bench(calm.stand).whole
        assert levels(judged)["stand.tips"] is level


def test_a_long_lens_that_follows_wants_sticks_and_a_locked_frame_does_not(demo: JobFile) -> None:
    on_monopod = (
        Detach(unit="HEAD-1"),
        Attach(unit="HEAD-3", unit_port="clamp", onto="HP-1", onto_port="plate"),
        Attach(unit="MONO-1", unit_port="bowl", onto="HEAD-3", onto_port="ball"),
    )
    for follows in (True, False):
        judged = with_target(demo, "dress", "quay", Target(distance_mm=42000, follows=follows), *on_monopod)
        assert ("stand.monopod" in levels(judged)) is follows
    assert "stand.monopod" not in levels(with_target(demo, "dress", "quay", Target(distance_mm=42000, follows=True)))


def on_points(
    demo: JobFile,
    target: Target,
    *points: MountPoint,
    along: bool = False,
    rated: float | None = None,
    line: bool = True,
) -> Quick:
    operations = (Attach(unit="LINE-1", unit_port="screw", onto="HALF-1", onto_port="left"),) if line else ()
    at = bench(demo, "arrival", "stage-rail", *operations)
    model = at.catalogue.models["grapnel-magnet"]
    assert model.support
    mount = MountData(points=points, along_face=along, rated_m_s=rated)
    models = {**at.catalogue.models, model.id: replace(model, support=replace(model.support, mount=mount))}
    return quick_of(
        at.build,
        Catalogue(at.catalogue.interfaces, models, at.catalogue.units),
        at.stand.conditions,
        at.settings,
        target=target,
    )


STILL = Target(distance_mm=3000)
MAGNET = MountPoint(by="magnet", pull_off_n=190)


def test_points_hold_four_times_the_load_and_grip_along_a_face(demo: JobFile) -> None:
    judged = on_points(demo, STILL, MAGNET, MAGNET, MAGNET, along=True)
    found = mounted(judged.stand.assembly, judged.stand.carried, judged.stand.settings, STILL)
    assert found
    weight = judged.stand.carried.total.mass_g * 1e-3 * STANDARD_GRAVITY
    assert (found.off_face, found.along_face) == pytest.approx((570 / (4 * weight), 0.2 * 570 / (4 * weight)))
    assert levels(judged)["mount.pull_off"] is Level.CLEAR
    just = MountPoint(by="suction", pull_off_n=4 * weight / 3 * 0.99)
    assert levels(on_points(demo, STILL, just, just, just))["mount.pull_off"] is Level.STOP


def test_two_points_one_point_no_line_and_too_fast(demo: JobFile) -> None:
    assert levels(on_points(demo, STILL, MAGNET))["mount.points"] is Level.STOP
    assert levels(on_points(demo, STILL, MAGNET, MAGNET))["mount.points"] is Level.WATCH
    pinned = replace(MAGNET, moment_nm=4.0)
    assert "mount.points" not in levels(on_points(demo, STILL, pinned, pinned))
    driven = Target(distance_mm=3000, speed_m_s=15)
    assert levels(on_points(demo, driven, MAGNET, MAGNET, MAGNET))["mount.speed"] is Level.STOP
    assert levels(on_points(demo, driven, MAGNET, MAGNET, MAGNET, rated=12))["mount.speed"] is Level.STOP
    assert "mount.speed" not in levels(on_points(demo, driven, MAGNET, MAGNET, MAGNET, rated=20))
    assert levels(on_points(demo, driven, MAGNET, MAGNET, MAGNET, rated=20, line=False))["mount.line"] is Level.STOP
    assert levels(on_points(demo, STILL, MAGNET, MAGNET, MAGNET, line=False))["mount.line"] is Level.WATCH


def test_the_line_on_the_shelf_is_the_remedy_for_none(demo: JobFile) -> None:
    at = bench(demo, "arrival", "stage-rail")
    finding = next(f for f in at.whole.findings if f.code == "mount.line")
    found = remedies(at, finding)
    assert found[0].clears
    assert isinstance(found[0].operations[0], Attach)
    assert found[0].operations[0].unit == "LINE-1"


def test_by_hand_the_further_out_and_the_fewer_arms_the_shorter(demo: JobFile) -> None:
    ways = hold_ways(bench(demo, "mark-through", "dock-floor").stand)
    by_name = {h.name: math.inf if h.minutes is None else h.minutes for h in ways}
    assert by_name["two hands, held out"] < by_name["two hands, close to the body"]
    assert (
        by_name["side grip, one hand close"]
        < by_name["two hands, close to the body"]
        < by_name["top handle, arm hanging"]
    )
    assert list(by_name.values()) == sorted(by_name.values(), reverse=True)
    total = bench(demo, "mark-through", "dock-floor").stand.carried.total
    saw = see_saw_report(bench(demo, "mark-through", "dock-floor").stand)
    assert [t.unit for t in saw.twists] == ["GRIP-1"]
    grip = bench(demo, "mark-through", "dock-floor").stand.assembly
    low, high = grip.catalogue.model_of("GRIP-1").bounds
    middle = grip.pose("GRIP-1").point((low + high) / 2)
    assert saw.twists[0].nose_nm == pytest.approx(total.mass_g * STANDARD_GRAVITY * 1e-6 * (total.cg_mm[0] - middle[0]))


@given(
    deg=st.floats(-90, 90),
    points=st.lists(st.tuples(st.floats(1, 90), st.floats(0, 20)), min_size=1, max_size=4, unique_by=lambda p: p[0]),
)
def test_a_spring_pushes_back_alike_in_both_directions_and_not_at_level(
    deg: float, points: list[tuple[float, float]]
) -> None:
    spring = Spring(label="s", nm_at=tuple(sorted(points)))
    there, back, level = spring.moment_nm(np.array([deg, -deg, 0.0]))
    assert there == pytest.approx(-back)
    assert level == 0
    assert there * deg >= 0
