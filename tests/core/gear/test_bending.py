"""Arms bent at their hinges: by hand, and against the same arm made of parts that are joined where it bends."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.balance.stale import fingerprint
from lift_crate.core.errors import NoSuchUnit, NotAllowed
from lift_crate.core.fit.joints import joint_findings
from lift_crate.core.gear.bending import bent
from lift_crate.core.gear.model import GearModel
from lift_crate.core.gear.solids import Block, solids_of
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Bend, Build, Catalogue, Unit
from lift_crate.core.rig.edits import BendTo, Detach, Replace, apply, check_bend, describe
from lift_crate.core.settings import Settings
from tests.kit import X, Y, Z, build, catalogue, examples, model, port

DOWN = (0, 0, -1)
FOOT = port("foot", "screw", "male", (0, 0, 0), DOWN)


def barrel(low: float, high: float) -> dict[str, object]:
    return {"barrel": ((0, 0, low), (0, 0, high)), "radius_mm": 5}


def arm(*hinges: dict[str, Any], **more: Any) -> GearModel:
    return model(
        "arm",
        200,
        (0, 0, 50),
        FOOT,
        port("tip", "screw", "female", (0, 0, 100)),
        kind="arm",
        shapes=(barrel(0, 20), barrel(20, 60), barrel(60, 100)),
        hinges=hinges,
        **more,
    )


LOW: dict[str, Any] = {"at": (0, 0, 20), "beyond": "tip", "label": "base ball"}
HIGH: dict[str, Any] = {"at": (0, 0, 60), "beyond": "tip", "label": "elbow", "range_deg": (-135, 135)}
ARM = arm(LOW, HIGH)
LOAD = model("load", 300, (0, 0, 10), FOOT, shapes=({"block": ((-5, -20, 0), (5, 20, 30))},))
BODY = model("body", 1000, (0, 0, 0), port("top", "screw", "female", (0, 0, 0)))
SHELF = catalogue(BODY, ARM, LOAD)
RIG = build("body", "arm.foot > body.top", "load.foot > arm.tip")


def at(rig: Build, *deg: float) -> Build:
    return replace(rig, bends=(Bend(unit="arm", deg=deg),))


def test_a_quarter_turn_by_hand() -> None:
    """80 of 100 mm lie beyond the ball: the tip goes to (80, 0, 20), the CG 0.8 of the way of their middle."""
    now = bent(ARM, (90.0,))
    assert now.port("tip").at == pytest.approx((80, 0, 20))
    assert now.port("tip").n == pytest.approx((1, 0, 0))
    assert now.port("foot") == ARM.port("foot")
    assert now.cg_mm == pytest.approx((32, 0, 18))
    assert now.hinges[1].at == pytest.approx((40, 0, 20))
    held = assemble(at(RIG, 90.0), SHELF)
    assert held.parts["load"].cg_mm == pytest.approx((90, 0, 20))
    assert assemble(at(RIG, 90.0, -90.0), SHELF).parts["load"].cg_mm == pytest.approx((40, 0, 70))


def test_what_is_straight_is_the_very_same() -> None:
    assert bent(ARM, ()) is ARM
    assert bent(ARM, (0.0, 0.0)) is ARM
    assert assemble(RIG, SHELF).catalogue is SHELF
    one, other = (assemble(at(RIG, 30.0), SHELF).layout for _ in range(2))
    assert one is other
    assert one.catalogue.straight is SHELF
    assert assemble(RIG, one.catalogue).catalogue is SHELF, "from a bent shelf back to the straight one"
    assert assemble(at(RIG, 10.0), one.catalogue).catalogue is assemble(at(RIG, 10.0), SHELF).catalogue


def chained(axis: tuple[float, float, float]) -> Catalogue:
    """The same arm as three parts: each turns on the one before about the axis of a hinge."""
    side = X if axis != X else Y
    pin = {"n": axis, "u": side}
    socket = {"n": tuple(-a for a in axis), "u": side}

    def piece(name: str, long: float, mass_g: float, *ports: dict[str, object]) -> GearModel:
        return model(name, mass_g, (0, 0, long / 2), *ports)

    return catalogue(
        BODY,
        LOAD,
        piece("low", 20, 40, FOOT, port("out", "screw", "female", (0, 0, 20), **pin)),
        piece(
            "mid",
            40,
            80,
            port("in", "screw", "male", (0, 0, 0), **socket),
            port("out", "screw", "female", (0, 0, 40), **pin),
        ),
        piece(
            "high",
            40,
            80,
            port("in", "screw", "male", (0, 0, 0), **socket),
            port("tip", "screw", "female", (0, 0, 40)),
        ),
    )


@given(
    first=st.floats(-90, 90),
    second=st.floats(-135, 135),
    axis=st.sampled_from([X, Y]),
)
@settings(max_examples=examples(60), deadline=None)
def test_an_arm_bends_as_its_parts_would_turn_on_each_other(
    first: float, second: float, axis: tuple[float, float, float]
) -> None:
    shelf = catalogue(BODY, LOAD, arm({**LOW, "axis": axis}, {**HIGH, "axis": axis}))
    whole = assemble(at(RIG, first, second), shelf)
    parts = chained(axis)
    level = assemble(
        build("body", "low.foot > body.top", "mid.in > low.out", "high.in > mid.out", "load.foot > high.tip"), parts
    )
    straight = {u: level.pose(u).rotation for u in ("mid", "high")}
    # At no turn the two ports of a joint may stand at any angle; what matters is how far each is turned from there.
    by = {unit: _straightens(straight, unit, axis) for unit in straight}
    turned = replace(
        level.build,
        joints=tuple(
            replace(j, spin_deg=by[j.child] + (first if j.child == "mid" else second)) if j.child in by else j
            for j in level.build.joints
        ),
    )
    joined = assemble(turned, parts)
    assert whole.parts["load"].cg_mm == pytest.approx(joined.parts["load"].cg_mm, abs=1e-6)
    assert whole.pose("load").rotation == pytest.approx(joined.pose("load").rotation, abs=1e-9)
    summed = sum(joined.parts[u].mass_g * joined.parts[u].cg_mm for u in ("low", "mid", "high")) / 200
    assert whole.parts["arm"].cg_mm == pytest.approx(summed, abs=1e-6)


def _straightens(straight: dict[str, np.ndarray], unit: str, axis: tuple[float, float, float]) -> float:
    """Degrees about the axis that bring a part back in line with the one before."""
    own = straight[unit] @ Z
    before = np.asarray(Z) if unit == "mid" else straight["mid"] @ Z
    return float(np.degrees(np.arctan2(np.cross(own, before) @ np.asarray(axis), own @ before)))


@given(st.floats(-90, 90))
@settings(deadline=None)
def test_boxes_beyond_a_hinge_stand_askew_and_keep_their_size(deg: float) -> None:
    box = replace(ARM, shapes=(*ARM.shapes, Block(block=((-5, -20, 60), (5, 20, 90)))), cg_mm=None)
    now = bent(box, (deg,))
    before, after = solids_of(box.shapes), solids_of(now.shapes)
    assert after.half_mm == pytest.approx(before.half_mm)
    for shape, row in zip(now.shapes, range(4), strict=True):
        inside = (shape.points - after.centre_mm[row]) @ after.frame[row].T
        assert np.abs(inside).max(axis=0) == pytest.approx(after.half_mm[row], abs=1e-6)
        low, high = shape.corners
        assert (shape.points >= np.asarray(low) - 1e-6).all()
        assert (shape.points <= np.asarray(high) + 1e-6).all()


def test_a_measured_cg_bends_too() -> None:
    """Measured 10 mm above the model's, straight; bent it moves by the same 32 mm out and 32 down."""
    own = catalogue(BODY, ARM, LOAD, units=[Unit(id="arm", model="arm", measured_cg_mm=(0, 0, 60))])
    assert assemble(at(RIG, 90.0), own).parts["arm"].cg_mm == pytest.approx((32, 0, 28))


def test_an_arm_sags_at_the_joint_that_is_worst_and_says_which() -> None:
    rig = replace(at(RIG, 90.0), use="static")
    found = [f for f in joint_findings(assemble(rig, SHELF), Settings(arm_holding_nm=0.2)) if f.code == "fit.sag"]
    assert len(found) == 1
    # 300 g, 10 mm beyond the tip, which is 80 mm beyond the first joint; level, so that it is the whole arm.
    assert found[0].value == pytest.approx(0.3 * 9.80665 * 0.09, rel=1e-3)
    assert "base ball" in found[0].text


def test_edits_bend_within_the_range_and_say_so() -> None:
    edit = BendTo(unit="arm", hinge=1, to_deg=200)
    now = apply(RIG, edit, SHELF)
    assert now.bends == (Bend(unit="arm", deg=(0.0, 135.0)),)
    assert describe(edit, SHELF) == "Bend arm, elbow, to +200°"
    assert fingerprint(now, SHELF) != fingerprint(RIG, SHELF)
    assert apply(now, BendTo(unit="arm", hinge=1, to_deg=0), SHELF) == RIG
    assert apply(now, Detach(unit="arm"), SHELF).bends == ()
    stiff = catalogue(BODY, ARM, LOAD, arm({**LOW, "range_deg": (-10, 10)}), model("spare", 10, (0, 0, 0), FOOT))
    assert apply(at(build("body", "arm.foot > body.top"), 60.0), Replace(unit="arm", by="spare"), stiff).bends == ()
    for bad, error, said in (
        (BendTo(unit="arm", hinge=2, to_deg=5), NotAllowed, "2 joints"),
        (BendTo(unit="load", hinge=0, to_deg=5), NotAllowed, "no joint to bend at"),
        (BendTo(unit="ghost", hinge=0, to_deg=5), NoSuchUnit, "ghost"),
    ):
        with pytest.raises(error, match=said):
            apply(RIG, bad, SHELF)
    for wrong, said in (((0.0, 136.0), "from -135 to 135"), ((1.0, 1.0, 1.0), "bent at 3 joints")):
        with pytest.raises(NotAllowed, match=said):
            check_bend(RIG, Bend(unit="arm", deg=wrong), SHELF)
    with pytest.raises(ValueError, match="stands twice"):
        replace(RIG, bends=(Bend(unit="arm", deg=(1.0,)), Bend(unit="arm", deg=(2.0,))))


@pytest.mark.parametrize(
    ("wrong", "said"),
    [
        ({"beyond": "ghost"}, "'ghost' is beyond it"),
        ({"axis": (0, 2, 0)}, "length 1"),
        ({"range_deg": (10, 90)}, "from below 0° to above it"),
    ],
)
def test_impossible_hinges_are_refused(wrong: dict[str, object], said: str) -> None:
    with pytest.raises(ValueError, match=said):
        arm({**LOW, **wrong})
