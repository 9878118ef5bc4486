"""The rig in space is the rig of the elevations: same solids, same places; axes, cables, legs and order."""

from __future__ import annotations

import math

import numpy as np
import pytest

from lift_crate.core.drawings.build_sheet import build_sheet
from lift_crate.core.drawings.elevation import VIEWS, elevation_turned, elevations
from lift_crate.core.drawings.space import Space, SpacePiece, feet_of, space_of
from lift_crate.core.gear.solids import Block, Round
from lift_crate.core.gear.supports import StandData
from lift_crate.core.geometry import Array, Pose, about_axis
from lift_crate.core.job.job import evaluate_job
from lift_crate.core.rig.edits import SlideTo, apply
from lift_crate.core.stand import stand_of
from lift_crate.core.support.load import support_point
from lift_crate.core.verdict.judge import Whole
from lift_crate.formats.job_file import JobFile, catalogue_of


@pytest.fixture(scope="module")
def judged(demo: JobFile) -> dict[tuple[str, str], Whole]:
    return {(part.id, rig.id): each for part, rig, _, each in evaluate_job(demo.job, catalogue_of(demo))}


def corners(piece: SpacePiece) -> Array:
    """All points of a piece in the rig frame, shape (k, 3)."""
    own = [
        Round(barrel=shape.barrel, radius_mm=shape.radius_mm, end_radius_mm=shape.end_radius_mm or None).points
        if shape.barrel
        else Block(block=shape.block or ((0, 0, 0), (0, 0, 0))).points
        for shape in piece.shapes
        if shape.barrel or shape.block
    ]
    return np.asarray(np.concatenate(own) @ np.array(piece.rotation).T + np.array(piece.at_mm))


def turned(space: Space, axis: str, deg: float) -> dict[str, Array]:
    """Points of every unit with one axis of the gimbal turned."""
    about = next(a for a in space.axes if a.axis == axis)
    turn = about_axis(np.array(about.along), np.array(about.through_mm), deg)
    moved = {"tilt": ("tilt",), "roll": ("tilt", "roll"), "pan": ("tilt", "roll", "pan")}[axis]
    found: dict[str, list[Array]] = {}
    for piece in space.pieces:
        points = corners(piece)
        found.setdefault(piece.unit, []).append(turn.point(points) if piece.turns_with in moved else points)
    return {unit: np.concatenate(each) for unit, each in found.items()}


def outlined(outlines: object, unit: str) -> tuple[float, float, float, float]:
    points = np.array([p for o in outlines for p in o.points if o.unit == unit])  # type: ignore[attr-defined]
    return (*points.min(axis=0), *points.max(axis=0))


def test_every_solid_is_where_the_elevations_draw_it(judged: dict[tuple[str, str], Whole]) -> None:
    for each in judged.values():
        space, views = space_of(each.stand), elevations(each.stand)
        drawn = {o.unit for o in views[0].outlines}
        by_unit: dict[str, list[Array]] = {}
        for piece in space.pieces:
            by_unit.setdefault(piece.unit, []).append(corners(piece))
        legs = {u for u in by_unit if each.stand.assembly.catalogue.model_of(u).stand} - drawn
        assert set(by_unit) == drawn | legs
        for view in views:
            axes = VIEWS[view.view]
            for unit in drawn:
                flat = np.concatenate(by_unit[unit]) @ axes.T
                low, high = flat.min(axis=0), flat.max(axis=0)
                assert (low[0], low[1], high[0], high[1]) == pytest.approx(outlined(view.outlines, unit), abs=0.7)


@pytest.mark.parametrize("axis", ["tilt", "roll", "pan"])
@pytest.mark.parametrize("deg", [-40.0, 25.0])
def test_a_gimbal_turns_in_space_as_it_does_in_the_elevations(
    judged: dict[tuple[str, str], Whole], axis: str, deg: float
) -> None:
    stand = judged["dress", "dock-floor"].stand
    space, drawn = space_of(stand), elevation_turned(stand, axis, deg)
    axes = VIEWS[drawn.view]
    for unit, points in turned(space, axis, deg).items():
        flat = points @ axes.T
        low, high = flat.min(axis=0), flat.max(axis=0)
        assert (low[0], low[1], high[0], high[1]) == pytest.approx(outlined(drawn.outlines, unit), abs=1.2)


def test_axes_end_where_something_meets(judged: dict[tuple[str, str], Whole]) -> None:
    axes = {a.axis: a for a in space_of(judged["dress", "dock-floor"].stand).axes}
    assert set(axes) == {"tilt", "roll", "pan"}
    told = {f.about.port: f for f in judged["dress", "dock-floor"].findings if f.code == "gimbal.clearance.tilt"}
    assert -axes["tilt"].low_deg == pytest.approx(told["up"].value)
    assert axes["tilt"].high_deg == pytest.approx(told["down"].value)
    assert space_of(judged["dress", "stage-rail"].stand).axes == (), "on the shoulder nothing turns by itself"


def test_on_a_head_the_camera_tilts_about_the_pivot_as_far_as_the_head_goes(
    judged: dict[tuple[str, str], Whole],
) -> None:
    stand = judged["dress", "quay"].stand
    space = space_of(stand)
    (tilt,) = space.axes
    head = stand.assembly.catalogue.model_of(stand.carried.support or "").support
    assert head
    assert head.head
    assert tilt.range_deg == (tilt.low_deg, tilt.high_deg) == head.head.tilt_deg
    assert tilt.through_mm == pytest.approx(support_point(stand.assembly), abs=0.01)
    turns = {piece.unit: piece.turns_with for piece in space.pieces}
    beyond = stand.assembly.layout.beyond_support
    assert {unit for unit, by in turns.items() if by == "tilt"} == set(turns) - set(beyond)
    assert turns[stand.carried.support or ""] == "fixed"


def test_a_millimetre_of_slide_moves_a_part_as_its_run_says(judged: dict[tuple[str, str], Whole]) -> None:
    stand = judged["dress", "quay"].stand
    before = space_of(stand)
    for unit, run in before.runs.items():
        joint = stand.assembly.build.joint_of(unit)
        assert joint
        there = apply(stand.assembly.build, SlideTo(unit=unit, to_mm=joint.slide_mm + 3), stand.assembly.catalogue)
        moved_mm = (there.joint_of(unit) or joint).slide_mm - joint.slide_mm
        if not moved_mm:
            continue
        after = space_of(
            stand_of(there, stand.assembly.catalogue, stand.conditions, stand.settings, target=stand.target)
        )
        at = [next((np.array(p.at_mm) for p in s.pieces if p.unit == unit), None) for s in (before, after)]
        if at[0] is not None and at[1] is not None:
            assert at[1] - at[0] == pytest.approx(np.array(run) * moved_mm, abs=0.02)


def test_legs_stand_as_far_out_as_their_footprint_says() -> None:
    feet = np.array(feet_of(StandData(edge_mm=390, height_mm=1300)))
    for a, b in ((0, 1), (1, 2), (2, 0)):
        (ex, ey, _), (fx, fy, _) = feet[b] - feet[a], feet[a]
        # Distance of the axis from the line between two feet.
        assert abs(ex * fy - ey * fx) / math.hypot(ex, ey) == pytest.approx(390)
    assert feet[:, 2] == pytest.approx(-1300)
    assert feet_of(StandData(legs="monopod", edge_mm=0, height_mm=1500)) == ((0.0, 0.0, -1500.0),)


def test_the_order_is_that_of_the_build_sheet_and_cables_hang_between_their_sockets(
    judged: dict[tuple[str, str], Whole],
) -> None:
    each = judged["dress", "quay"]
    space = space_of(each.stand)
    sheet = [s.unit for s in build_sheet(each).build if not each.stand.assembly.catalogue.model_of(s.unit).is_cable]
    steps = {p.unit: p.step for p in space.pieces}
    assert [u for u in sorted(steps, key=steps.__getitem__) if steps[u]] == [u for u in sheet if u in steps]
    for piece in space.pieces:
        assert piece.parent is None or steps.get(piece.parent, -1) < piece.step
    for cable in space.cables:
        straight = math.dist(*cable.ends_mm)
        # A flat curve: L ≈ s + 8·sag²/3s.
        assert straight + 8 * cable.sag_mm**2 / (3 * straight) == pytest.approx(
            max(cable.length_mm, straight), rel=2e-3
        )
    body = Pose(np.eye(3), np.zeros(3))
    assert next(p for p in space.pieces if p.step == 0).at_mm == tuple(body.translation_mm)
