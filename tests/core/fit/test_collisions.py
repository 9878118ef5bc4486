"""What runs into what: overlap of boxes and barrels against cases worked out by hand, and invariance."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding
from lift_crate.core.fit.collisions import clash_findings, clashes_of, overlaps_mm
from lift_crate.core.gear.solids import Block, Round, solids_of
from lift_crate.core.geometry import Pose, rotation_about_x
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build
from tests.kit import X, Y, Z, build, catalogue, joint, model, port

CUBE = Block(block=((-10, -10, -10), (10, 10, 10)))


def at(x: float, y: float = 0, z: float = 0, turn: float = 0, tilt: float = 0) -> Pose:
    c, s = np.cos(np.radians(tilt)), np.sin(np.radians(tilt))
    about_y = np.array([[c, 0, s], [0, 1, 0], [-s, 0, c]])
    return Pose(about_y @ rotation_about_x(turn), np.array([x, y, z]))


def overlap(a: Block | Round, b: Block | Round, where: Pose) -> float:
    return float(overlaps_mm(solids_of((a,)), solids_of((b,)).moved(where))[0])


BAR = Round(barrel=((-50, 0, 0), (50, 0, 0)), radius_mm=10)


@pytest.mark.parametrize(
    ("a", "b", "where", "expected"),
    [
        (CUBE, CUBE, at(18), 2),
        (CUBE, CUBE, at(20), 0),
        (CUBE, CUBE, at(25), -5),
        (CUBE, CUBE, at(19, 19, 19), 1),
        (CUBE, CUBE, at(24, turn=45), -4),  # turned about the axis between them: still 10 + 10
        (CUBE, CUBE, at(0, 0, 22, turn=45), 10 + 10 * 2**0.5 - 22),
        (BAR, BAR, at(0, 0, 19), 1),
        (BAR, BAR, at(0, 14, 14), 20 - 14 * 2**0.5),
        (BAR, CUBE, at(0, 0, 19), 1),
        (BAR, BAR, at(0, 0, 55, tilt=90), 50 + 10 - 55),  # crosswise: one stands on end
        (BAR, CUBE, at(55), 5),
    ],
)
def test_overlap_of_two_solids(a: Block | Round, b: Block | Round, where: Pose, expected: float) -> None:
    assert overlap(a, b, where) == pytest.approx(expected, abs=1e-9)


mm = st.floats(-40, 40)


@given(mm, mm, mm, st.floats(0, 90), st.floats(0, 90), st.sampled_from([CUBE, BAR]), st.sampled_from([CUBE, BAR]))
def test_overlap_is_the_same_from_both_sides_and_wherever_both_are(
    x: float, y: float, z: float, turn: float, tilt: float, a: Block | Round, b: Block | Round
) -> None:
    where, move = at(x, y, z, turn, tilt), at(120, -30, 55, 33, 71)
    one, other = solids_of((a,)), solids_of((b,)).moved(where)
    depth = float(overlaps_mm(one, other)[0])
    assert float(overlaps_mm(other, one)[0]) == pytest.approx(depth, abs=1e-9)
    # Barrels a millionth of a millimetre off one axis lose digits in the direction between them.
    assert float(overlaps_mm(one.moved(move), other.moved(move))[0]) == pytest.approx(depth, abs=1e-5)


@given(mm, mm, mm, st.floats(0, 90), st.floats(0, 90))
def test_boxes_that_share_a_point_are_never_told_apart(x: float, y: float, z: float, turn: float, tilt: float) -> None:
    """Against points sampled inside the second cube: one of them in the first means overlap."""
    where = at(x, y, z, turn, tilt)
    grid = np.stack(np.meshgrid(*[np.linspace(-10, 10, 7)] * 3), axis=-1).reshape(-1, 3)
    inside = bool(np.all(np.abs(where.point(grid)) < 10 - 1e-6, axis=1).any())
    assert not inside or overlap(CUBE, CUBE, where) > 0


SHELF = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("top", "screw", "female", (0, 0, 50)),
        port("side", "screw", "female", (0, 40, 0), Y, Z),
        port(
            "rail", "rail", "male", (0, 0, -50), (0, 0, -1), X, slide={"axis": X, "min_mm": -60, "max_mm": 60}, takes=3
        ),
        port("out", "tap", "female", (0, 40, 30), Y, Z),
        shapes=[{"block": ((-40, -40, -50), (40, 40, 50))}],
        keep_clear=[
            {"id": "cards", "label": "card door", "kind": "card door", "block": ((-30, 40, -30), (-10, 70, -10))},
            {"id": "flip", "label": "hinged screen", "kind": "screen", "block": ((-5, 40, 20), (5, 90, 40))},
        ],
    ),
    model(
        "brick",
        200,
        (0, 0, 20),
        port("foot", "screw", "male", (0, 0, 0), (0, 0, -1)),
        port("head", "screw", "female", (0, 0, 40)),
        shapes=[{"block": ((-20, -20, 0), (20, 20, 40))}],
    ),
    model(
        "deep",
        200,
        (0, 0, 20),
        port("foot", "screw", "male", (0, 0, 3), (0, 0, -1)),
        shapes=[{"block": ((-20, -20, 0), (20, 20, 40))}],
    ),
    model(
        "plate",
        100,
        (0, 0, -5),
        port("clamp", "rail", "female", (0, 0, 0), Z, X, grip_mm=10),
        shapes=[{"block": ((-5, -90, -10), (5, 90, 0))}, {"block": ((-5, 60, -10), (5, 70, 90))}],
    ),
    model(
        "cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 300, "bend_mm": 40}
    ),
)


def found(rig: Build) -> dict[str, Finding]:
    put = assemble(rig, SHELF)
    return {f.code: f for f in clash_findings(put, clashes_of(put))}


def test_parts_that_stand_side_by_side_are_fine_and_a_mated_pair_may_share_a_millimetre() -> None:
    assert not found(build("body", "brick.foot > body.top"))
    assert found(build("body", "deep.foot > body.top"))["clash.parts"].text == "deep runs 3 mm into body."


def test_two_parts_in_one_place() -> None:
    rig = build("body", "brick.foot > body.side", joint("plate.clamp > body.rail", slide=0))
    assert found(rig)["clash.parts"].about.units == ("plate", "brick")


def test_doors_plugs_and_screens_want_room() -> None:
    blocked = found(build("body", joint("plate.clamp > body.rail", slide=-20)))
    assert (
        blocked["clear.blocked"].text == "plate stands in front of the card door of body; take off plate to reach it."
    )
    link = {"links": ["cord: body.out > body.out"]}
    plugged = found(build("body", joint("plate.clamp > body.rail", slide=0), **link))
    assert plugged["clear.plug"].about.units == ("cord", "body", "plate")
    assert "cannot swing; flip it first, then plug" in plugged["clear.screen_plug"].text
    assert "clear.plug" not in found(build("body", **link))
