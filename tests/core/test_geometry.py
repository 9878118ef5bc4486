"""The joint formula, against figures worked out by hand."""

from __future__ import annotations

import numpy as np
import pytest

from lift_crate.core.rig.assembly import assemble
from tests.kit import X, Y, Z, build, catalogue, joint, model, port

ARM_AND_MONITOR = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("top", "screw", "female", (-30, 20, 58), Z, X),
        port("side", "screw", "female", (-35, 48, 0), Y, Z),
    ),
    model(
        "arm",
        100,
        (0, 0, 0),
        port("base", "screw", "male", (0, 0, -12), (0, 0, -1), X),
        port("tip", "screw", "male", (0, 0, 95), Z, X),
    ),
    model("monitor", 300, (4, 0, 0), port("base", "screw", "female", (-8, 0, -52), (0, 0, -1), X)),
    model("grip", 200, (0, 0, -40), port("screw", "screw", "male", (0, 0, 20), Z, X)),
    model(
        "slider",
        200,
        (0, 0, 0),
        port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X, slide={"axis": X, "min_mm": -50, "max_mm": 50}),
    ),
)


@pytest.mark.parametrize(
    ("spin", "origin", "cg"), [(0, (-22, 20, 217), (-18, 20, 217)), (90, (-30, 28, 217), (-30, 32, 217))]
)
def test_a_monitor_on_an_arm_on_a_body(spin: float, origin: tuple[float, ...], cg: tuple[float, ...]) -> None:
    rig = assemble(build("body", "arm.base > body.top", joint("monitor.base > arm.tip", spin)), ARM_AND_MONITOR)
    assert rig.pose("monitor").translation_mm == pytest.approx(origin)
    assert rig.parts["monitor"].cg_mm == pytest.approx(cg)


def test_a_grip_on_a_side_port_hangs_outwards() -> None:
    rig = assemble(build("body", "grip.screw > body.side"), ARM_AND_MONITOR)
    assert rig.pose("grip").translation_mm == pytest.approx((-35, 68, 0))
    assert rig.parts["grip"].cg_mm == pytest.approx((-35, 108, 0))


def test_a_slide_on_the_childs_port_moves_the_child_the_other_way() -> None:
    rig = assemble(build("body", joint("slider.foot > body.top", slide=12)), ARM_AND_MONITOR)
    assert rig.pose("slider").translation_mm == pytest.approx((-42, 20, 58))


def test_poses_are_rigid_and_invert() -> None:
    rig = assemble(build("body", "arm.base > body.top", joint("monitor.base > arm.tip", 37)), ARM_AND_MONITOR)
    pose = rig.pose("monitor")
    assert pose.rotation @ pose.rotation.T == pytest.approx(np.eye(3))
    assert np.linalg.det(pose.rotation) == pytest.approx(1)
    assert pose.inverse().point(pose.point((3, -4, 5))) == pytest.approx((3, -4, 5))
