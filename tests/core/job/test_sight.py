"""The plan: worked figures, and each rule against a slow way of its own."""

from __future__ import annotations

import math
from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.job.sight import ev_of, in_view, lead_of, light_at, outline, sight_of, target_of, walk_m
from lift_crate.core.job.venue import Spot, Thing, Venue
from lift_crate.core.lens.coverage import light_of
from lift_crate.core.lens.framing import exposure_ev, stop_for
from lift_crate.core.rig.build import Conditions, Target
from tests.kit import examples


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


@settings(max_examples=examples(60))
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


def outlet(id_: str, x: float, y: float) -> Thing:
    return Thing(id=id_, label=id_, kind="mains", x_m=x, y_m=y)


def test_a_mains_lead_runs_round_what_stands_there_and_tells_the_lanes_it_crosses() -> None:
    hall = wall("hall", 10, 0, width_m=4, depth_m=12, height_m=3)
    lane = Thing(id="fire", label="Fire lane", kind="lane", x_m=10, y_m=8, width_m=30, depth_m=2)
    aside = replace(lane, id="far", y_m=30)
    venue = Venue(things=(hall, lane, aside, outlet("near", 0, 0), outlet("far-off", 0, 90)))
    lead = lead_of((20, 0), venue)
    assert lead
    assert lead.outlet == "near"
    assert lead.length_m == pytest.approx(walk_m((0, 0), (20, 0), venue))
    assert lead.length_m == pytest.approx(sum(math.dist(a, b) for a, b in zip(lead.way, lead.way[1:], strict=False)))
    north = lead.way[1][1] > 0
    assert lead.crosses == ()
    over = replace(lane, y_m=6.4 if north else -6.4)
    crossed = lead_of((20, 0), replace(venue, things=(hall, over, aside, outlet("near", 0, 0))))
    assert crossed
    assert crossed.crosses == ("fire",)
    assert lead_of((20, 0), Venue(things=(hall,))) is None


@settings(max_examples=examples(80))
@given(st.floats(-180, 180), st.floats(5, 120), st.floats(-170, 170), st.floats(2, 60))
def test_who_stands_in_a_frame_by_walking_the_circle(bearing: float, across: float, off: float, far: float) -> None:
    """In view is what has any point of its width inside the wedge: tried at 400 points of the width."""
    x, y = (far * f(math.radians(bearing + off)) for f in (math.cos, math.sin))
    half = math.degrees(math.atan2(0.3, far))
    points = [off + half * (2 * i / 400 - 1) for i in range(401)]
    inside = any(abs((p + 180) % 360 - 180) <= across / 2 for p in points)
    if abs(abs(off) - across / 2 - half) > 0.05:
        assert in_view(Spot(), bearing, across, x, y) is inside


def test_what_was_typed_wins_and_the_plan_tells_the_rest() -> None:
    face, camera = see("face", 8, 0, height_m=1.7, width_m=4), Spot(sees=("face",))
    venue = Venue(things=(face, lamp("l1", 4, 0, 3000, height_m=2), outlet("m", 0, 12)))
    told = target_of(None, camera, venue)
    assert told
    assert told.mains_m == pytest.approx(12)
    assert told.lamps_ev
    typed = Target(distance_mm=5000, width_mm=2000, follows=True, mains_m=3)
    both = target_of(typed, camera, venue)
    assert both == replace(typed, nearest_mm=told.nearest_mm, lamps_ev=told.lamps_ev)
    assert target_of(typed, None, venue) == typed
    assert target_of(None, None, venue) is None


def test_lamps_add_to_the_light_there_is_and_the_aperture_follows() -> None:
    """EV 6.61 of lamps and EV 4 of the sky make 7.73 with the second lamp, as worked by hand: luxes add."""
    at = Target(distance_mm=1000, lamps_ev=math.log2(489.8 / 2.5))
    assert light_of(at, Conditions(light_ev=4)) == pytest.approx(7.73, abs=0.005)
    assert light_of(at, Conditions()) == pytest.approx(7.61, abs=0.01)
    assert light_of(replace(at, light_ev=2.0), Conditions(light_ev=4)) == 2.0
    assert light_of(None, Conditions(light_ev=4)) == 4
    assert light_of(Target(distance_mm=1), Conditions()) is None
    for ev in (-2.0, 4.0, 12.5):
        stop = stop_for(ev, 180, 25, 800)
        assert exposure_ev(stop, 0.5 / 25, 800) == pytest.approx(ev)
