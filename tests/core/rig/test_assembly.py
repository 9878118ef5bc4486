"""Mass, CG and their spread; and what is no rig at all."""

from __future__ import annotations

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.errors import BadRig, JointCycle, LooseUnit, MountedTwice, NoSuchUnit, UnknownPort
from lift_crate.core.gear.model import Source
from lift_crate.core.geometry import IDENTITY, Pose, port_basis, rotation_about_x
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Unit
from lift_crate.core.rig.layout import put_in_order
from lift_crate.core.rig.masses import Part, mass_summary
from lift_crate.core.settings import Settings
from tests.kit import X, Z, build, catalogue, joint, model, port

SETTINGS = Settings()


def part(name: str, mass_g: float, at: tuple[float, float, float], source: Source = "catalogue") -> Part:
    return Part(name, name, IDENTITY, mass_g, source, np.array(at, dtype=float), source)


FOUR = [
    part("body", 1180, (-42, 0, -6)),
    part("lens", 870, (74, 0, 0)),
    part("pack", 760, (-128, 0, 4)),
    part("mic", 240, (10, 0, 92)),
]
places = st.tuples(*[st.floats(-300, 300)] * 3)
parts = st.lists(st.builds(part, st.just("p"), st.floats(1, 4000), places), min_size=1, max_size=8)


def test_cg_of_four_parts() -> None:
    total = mass_summary(FOUR, SETTINGS)
    assert total.mass_g == 3050
    assert total.cg_mm == pytest.approx((-26.249, 0, 5.915), abs=5e-4)


def test_spread_follows_the_formula_written_out() -> None:
    two = [part("a", 1000, (0, 0, 0), "measured"), part("b", 500, (90, 0, 0), "assumed")]
    total = mass_summary(two, SETTINGS)
    assert total.cg_mm[0] == pytest.approx(30)
    expected = (((0 - 30) * 5) ** 2 + (1000 * 1) ** 2 + ((90 - 30) * 165) ** 2 + (500 * 15) ** 2) ** 0.5 / 1500
    assert total.cg_sd_mm[0] == pytest.approx(expected)
    assert total.mass_sd_g == pytest.approx((5**2 + 165**2) ** 0.5)
    assert total.by_source_g == {"measured": 1000, "catalogue": 0, "assumed": 500}


@given(parts, places, st.floats(0, 360))
def test_moving_everything_by_one_pose_moves_the_cg_by_it(
    some: list[Part], shift: tuple[float, float, float], turn: float
) -> None:
    pose = Pose(rotation_about_x(turn) @ port_basis(Z, X), np.array(shift))
    moved = [part(p.unit, p.mass_g, tuple(pose.point(p.cg_mm))) for p in some]
    assert mass_summary(moved, SETTINGS).cg_mm == pytest.approx(
        pose.point(mass_summary(some, SETTINGS).cg_mm), abs=1e-6
    )


@given(parts, places)
def test_a_massless_part_changes_nothing(some: list[Part], where: tuple[float, float, float]) -> None:
    before, after = mass_summary(some, SETTINGS), mass_summary([*some, part("nothing", 0, where)], SETTINGS)
    assert (after.mass_g, *after.cg_mm) == pytest.approx((before.mass_g, *before.cg_mm))


CHAIN = catalogue(
    model(
        "body",
        1000,
        (0, 0, 0),
        port("top", "screw", "female", (0, 0, 50)),
        port("rear", "screw", "female", (-60, 0, 0), (-1, 0, 0), Z),
    ),
    *(
        model(
            name,
            100,
            (0, 0, 10),
            port("foot", "screw", "male", (0, 0, 0), (0, 0, -1)),
            port("head", "screw", "female", (0, 0, 30)),
        )
        for name in "abc"
    ),
    model("cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 500}),
    model("secret", None, None, port("foot", "screw", "male")),
)


@given(st.permutations(["a.foot > body.top", "b.foot > a.head", "c.foot > body.rear"]))
def test_the_order_of_joints_does_not_matter(order: list[str]) -> None:
    rig = assemble(build("body", *order), CHAIN)
    straight = assemble(build("body", "a.foot > body.top", "b.foot > a.head", "c.foot > body.rear"), CHAIN)
    assert mass_summary(rig.masses(), SETTINGS).cg_mm == pytest.approx(mass_summary(straight.masses(), SETTINGS).cg_mm)


def test_a_cable_weighs_half_at_each_end() -> None:
    rig = assemble(build("body", "a.foot > body.top", links=["cord: body.rear > a.head"]), CHAIN)
    assert [(half.holder, half.mass_g, tuple(half.cg_mm)) for half in rig.cable_halves] == [
        ("body", 20, (-60, 0, 0)),
        ("a", 20, (0, 0, 80)),
    ]


def test_a_missing_mass_is_named_and_measured_ones_replace_the_catalogue() -> None:
    rig = assemble(build("body", "secret.foot > body.top"), CHAIN)
    assert mass_summary(rig.masses(), SETTINGS).unknown == ("secret",)
    weighed = catalogue(
        *CHAIN.models.values(), units=[Unit(id="body", model="body", measured_g=1234, measured_cg_mm=(5, 0, 0))]
    )
    summary = mass_summary(assemble(build("body"), weighed).masses(), SETTINGS)
    assert (summary.mass_g, summary.cg_mm[0], summary.by_source_g["measured"]) == (1234, 5, 1234)


@pytest.mark.parametrize(
    ("joints", "error", "says"),
    [
        (
            ["a.foot > b.head", "b.foot > a.head"],
            JointCycle,
            "The joints go in a circle: a → b → a; every part must lead back to the body.",
        ),
        (["body.top > a.head", "a.foot > body.rear"], JointCycle, "circle: body → a → body"),
        (
            ["a.foot > ghost.head"],
            LooseUnit,
            "a is mounted on ghost, which is not part of this build; mount ghost first.",
        ),
        (["a.foot > body.top", "a.foot > body.rear"], MountedTwice, "a is mounted on body and again on body"),
        (["a.toe > body.top"], UnknownPort, "a has no port 'toe'; its ports are: foot, head."),
        (["z.foot > body.top"], NoSuchUnit, "There is no unit 'z' on the shelf"),
    ],
)
def test_what_is_no_rig_says_so(joints: list[str], error: type[BadRig], says: str) -> None:
    with pytest.raises(error) as caught:
        assemble(build("body", *joints), CHAIN)
    assert says in str(caught.value)


def test_parents_come_first() -> None:
    ordered = put_in_order(build("body", "b.foot > a.head", "a.foot > body.top"))
    assert [j.child for j in ordered] == ["a", "b"]
    assert joint("a.foot > body.top") in ordered
