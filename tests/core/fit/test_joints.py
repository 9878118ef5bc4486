"""Joints that do not go together, and joints that carry too much."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest

from lift_crate.core.callouts import Finding
from lift_crate.core.fit.joints import joint_findings, worst_bending_nm, worst_twist_nm
from lift_crate.core.gear.interface import Interface
from lift_crate.core.geometry import Attitudes
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build
from lift_crate.core.settings import Settings
from tests.kit import X, Y, Z, build, catalogue, joint, link, model, port

DOWN = (0, 0, -1)
SHELF = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("top", "screw", "female", (0, 0, 50)),
        port("pinned", "screw", "female", (0, 0, 50), anti_twist=True),
        port("shoe", "shoe", "female", (0, 0, 60), load_n=5, moment_nm=0.4),
        port("rail", "rail", "male", (0, 0, -40), DOWN, X, slide={"axis": X, "min_mm": -40, "max_mm": 40}, takes=2),
        port("tap", "tap", "female"),
    ),
    model("light", 365, (4, 0, 136), port("foot", "shoe", "male", (0, 0, 0), DOWN)),
    model("mic", 100, (10, 0, 20), port("foot", "shoe", "male", (0, 0, 0), DOWN)),
    model(
        "arm",
        900,
        (120, 60, 20),
        port("foot", "screw", "male", (0, 0, 0), DOWN),
        port("pins", "screw", "male", (0, 0, 0), DOWN, anti_twist=True),
    ),
    model("clamp1", 100, (0, 0, -10), port("clamp", "rail", "female", (0, 0, 0), Z, X, grip_mm=30)),
    model("clamp2", 100, (0, 0, -10), port("clamp", "rail", "female", (0, 0, 0), Z, X, grip_mm=30)),
    model(
        "head",
        2000,
        (0, 0, -60),
        port("clamp", "rail", "female", (0, 0, 0), Z, X),
        support={"kind": "head", "max_payload_g": 1500},
    ),
    model("cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 500}),
)


def found(rig: Build) -> dict[str, Finding]:
    return {f.code: f for f in joint_findings(assemble(rig, SHELF), Settings())}


def test_moment_of_a_light_on_a_shoe_in_any_attitude() -> None:
    """365 g with its CG (4, 0, 136) mm from the shoe: at most 0.487 N·m."""
    assert worst_bending_nm(365, np.array([4.0, 0, 136]), Attitudes(90, 45)) == pytest.approx(0.487, abs=5e-4)
    assert worst_bending_nm(365, np.array([4.0, 0, 136]), Attitudes(0, 0)) == pytest.approx(0.365 * 9.80665 * 0.004)


def test_twist_is_about_the_screw_only() -> None:
    level = Attitudes(0, 0)
    assert worst_twist_nm(1000, np.array([100.0, 0, 0]), np.array(Z), level) == 0
    assert worst_twist_nm(1000, np.array([100.0, 0, 0]), np.array(Y), level) == pytest.approx(0.980665)


@pytest.mark.parametrize(
    ("rig", "code", "says"),
    [
        (
            build("body", "mic.foot > body.top"),
            "fit.interface",
            "mic has the foot of accessory shoe at 'foot', body has the socket of 1/4-20 thread at 'top'.",
        ),
        (
            build("body", "light.foot > body.shoe", "mic.foot > body.shoe"),
            "fit.occupied",
            "'shoe' of body (accessory shoe) takes 1; it is held by light and mic.",
        ),
        (
            build("body", joint("mic.foot > body.shoe", 90)),
            "fit.spin",
            "mic is turned to 90° on body; it goes on at 0°, 180°.",
        ),
        (
            build("body", joint("clamp1.clamp > body.rail", slide=41)),
            "fit.slide",
            "clamp1 is at +41.0 mm on body; its slide goes from −40 to +40 mm.",
        ),
        (build("body", joint("mic.foot > body.shoe", slide=3)), "fit.slide", "neither it nor body slides there"),
        (
            build("body", joint("clamp1.clamp > body.rail", slide=-5), joint("clamp2.clamp > body.rail", slide=15)),
            "fit.rail_full",
            "clamp1 and clamp2 share 10 mm of body's rail",
        ),
        (build("body", "light.foot > body.shoe"), "fit.bending", "light bends 'shoe' of body with"),
        (build("body", "arm.foot > body.top"), "fit.twist", "arm on the single 1/4-20 thread of body can turn"),
    ],
)
def test_findings(rig: Build, code: str, says: str) -> None:
    assert says in found(rig)[code].text


@pytest.mark.parametrize(("below_mm", "told"), [(85, False), (87, False), (87.1, True), (82.9, True), (83, False)])
def test_rods_stand_at_the_height_of_their_standard_for_what_meets_the_lens(below_mm: float, told: bool) -> None:
    """2 mm either way (setting); what clamps to them without meeting the lens may stand anywhere."""
    rods = Interface(
        id="rods",
        label="15 mm rods",
        kind="rod",
        female="clamp",
        male="rods",
        spins_deg=(0,),
        below_axis_mm=85.0,
        diameter_mm=15.0,
        spacing_mm=60.0,
    )
    shelf = catalogue(
        model("body", 1000, (0, 0, 0), port("rods", "rods", "male", (0, 0, -below_mm))),
        model("box", 300, (0, 0, 0), port("clamp", "rods", "female", (0, 0, 0)), kind="matte box"),
        model("plate", 300, (0, 0, 0), port("clamp", "rods", "female", (0, 0, 0)), kind="battery plate"),
    )
    shelf = replace(shelf, interfaces={**shelf.interfaces, "rods": rods})
    for on, expected in (("box", told), ("plate", False)):
        rig = assemble(build("body", f"{on}.clamp > body.rods"), shelf)
        assert ("rods.height" in {f.code for f in joint_findings(rig, Settings())}) is expected


def test_pins_hold_what_a_single_screw_does_not() -> None:
    assert "fit.twist" not in found(build("body", "arm.pins > body.pinned"))
    assert "fit.twist" in found(build("body", "arm.pins > body.top"))


def test_clamps_side_by_side_are_fine() -> None:
    rig = build("body", joint("clamp1.clamp > body.rail", slide=-15), joint("clamp2.clamp > body.rail", slide=15))
    assert set(found(rig)) == {"joint.one_catch"}
    assert found(rig)["joint.one_catch"].value == 2


def test_a_joint_on_the_way_to_the_support_carries_everything_else() -> None:
    rig = build("body", "head.clamp > body.rail", "mic.foot > body.shoe")
    rig_on_head = assemble(rig, SHELF)
    assert rig_on_head.load_of("mic")[0] == 100
    mass_g, cg = rig_on_head.load_of("head")
    assert mass_g == 1100
    assert cg == pytest.approx((1000 * np.zeros(3) + 100 * np.array([10, 0, 80])) / 1100)


def test_a_cable_takes_up_its_sockets() -> None:
    rig = Build(id="b", label="b", body="body", links=(link("cord: body.tap > body.tap"),))
    assert "fit.occupied" in found(rig)
