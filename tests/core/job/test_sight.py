"""The plan: worked figures, and each rule against a slow way of its own."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.job.sight import ev_of, light_at, outline, sight_of, walk_m
from lift_crate.core.job.venue import Spot, Thing, Venue


def see(id_: str, x: float, y: float, **more: float) -> Thing:
    return Thing(id=id_, label=id_, kind="to see", x_m=x, y_m=y, **more)  # type: ignore[arg-type]  # figures alone


def wall(id_: str, x: float, y: float, **more: float) -> Thing:
    return Thing(id=id_, label=id_, kind="obstacle", x_m=x, y_m=y, **more)  # type: ignore[arg-type]  # figures alone


def lamp(id_: str, x: float, y: float, lux: float, **more: object) -> Thing:
    return Thing(id=id_, label=id_, kind="lamp", x_m=x, y_m=y, lux_1m=lux, **more)  # type: ignore[arg-type]  # figures alone


def test_the_smallest_wedge_that_holds_three_points() -> None:
    venue = Venue(things=(see("a", 20, -6), see("b", 20, 6), see("c", 26, 9)))
    sight = sight_of(Spot(sees=("a", "b", "c")), venue, None)
    assert sight
    assert (round(sight.across_deg, 2), round(sight.bearing_deg, 2)) == (35.79, 1.20)


@settings(max_examples=60)
@given(st.lists(st.tuples(st.floats(-40, 40), st.floats(-40, 40)), min_size=1, max_size=6))
def test_the_wedge_is_the_least_of_all_that_start_at_a_point(points: list[tuple[float, float]]) -> None:
    points = [(x, y) for x, y in points if math.hypot(x, y) > 0.5]
    if not points:
        return
    venue = Venue(things=tuple(see(str(i), x, y) for i, (x, y) in enumerate(points)))
    sight = sight_of(Spot(sees=tuple(t.id for t in venue.things)), venue, None)
    bearings = [math.degrees(math.atan2(y, x)) for x, y in points]
    least = min(max((b - start) % 360 for b in bearings) for start in bearings)
    assert sight
    assert sight.across_deg == pytest.approx(least, abs=1e-6)
    half = sight.across_deg / 2 + 1e-6
    assert all(abs((b - sight.bearing_deg + 180) % 360 - 180) <= half for b in bearings)


@pytest.mark.parametrize(("face", "height", "hidden"), [(1.7, 1.671, False), (1.2, 1.314, True)])
def test_the_line_of_sight_over_a_wall(face: float, height: float, hidden: bool) -> None:
    thing = see("face", 42, 0, height_m=face)
    venue = Venue(things=(thing, wall("wall", 30, 0, depth_m=8, width_m=0.002, height_m=1.5)))
    sight = sight_of(Spot(sees=("face",)), venue, None)
    assert sight
    (seen,) = sight.seen
    assert seen.sight_m == pytest.approx(height, abs=5e-4)
    assert seen.hidden_by == ("wall" if hidden else None)


def test_light_of_lamps_as_worked_by_hand() -> None:
    face, camera = see("face", 0, 0), np.array([3.5, 0.0, 0.15])
    one = Venue(things=(face, lamp("l1", 3.5, 0, 3000, height_m=0.15)))
    found = light_at(face, camera, one, None)
    assert found
    assert (round(found.lux, 1), round(found.ev, 2)) == (244.9, 6.61)
    two = replace(one, things=(*one.things, replace(one.things[1], id="l2")))
    both = light_at(face, camera, two, 4.0)
    assert both
    assert (round(both.lux - 40, 1), round(both.ev, 2)) == (489.8, 7.73)
    behind = Venue(things=(face, lamp("l1", -3.5, 0, 3000, height_m=0.15)))
    assert light_at(face, camera, behind, None) is None
    away = Venue(things=(face, see("aim", 30, 30), lamp("l1", 3.5, 0, 3000, beam_deg=40, aims_at="aim", height_m=0.15)))
    assert light_at(face, camera, away, None) is None
    assert ev_of(2.5) == 0


def test_the_way_round_a_wall_is_the_shortest_of_all_round_its_corners() -> None:
    block = wall("hall", 10, 0, width_m=4, depth_m=12, height_m=3)
    venue = Venue(things=(block,))
    straight = walk_m((0, 10), (20, 10), venue)
    assert straight == pytest.approx(20)
    round_it = walk_m((0, 0), (20, 0), venue)
    corner = (12 + 0.8) / 2
    by_hand = 2 * math.hypot(10 - 2 - 0.4, corner) + 4.8
    assert round_it == pytest.approx(by_hand, abs=1e-6)
    shut = tuple(
        wall(name, x, y, width_m=w, depth_m=d, height_m=2)
        for name, x, y, w, d in (("s", 0, -3, 8, 1), ("n", 0, 3, 8, 1), ("w", -4, 0, 1, 7), ("e", 4, 0, 1, 7))
    )
    assert walk_m((0, 0), (20, 0), Venue(things=shut)) == math.inf


def test_a_turned_thing_keeps_its_size() -> None:
    corners = outline(replace(wall("w", 3, 4, width_m=4, depth_m=2), turn_deg=37.0))
    sides = np.linalg.norm(np.roll(corners, -1, axis=0) - corners, axis=1)
    assert sides == pytest.approx([4, 2, 4, 2])
    assert corners.mean(axis=0) == pytest.approx([3, 4])
