"""What is worked out once for a tree of joints, against the plain way of working it out anew for every build."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.errors import BadRig, CableTwice, NoSuchUnit, NotCable, UnknownPort
from lift_crate.core.fit.collisions import clashes_of
from lift_crate.core.fit.joints import port_uses
from lift_crate.core.geometry import Array
from lift_crate.core.rig.assembly import Assembly, assemble
from lift_crate.core.rig.build import Build, Catalogue, UnitSetting
from lift_crate.core.rig.edits import Replace, SlideTo, apply
from lift_crate.core.rig.layout import layout_of
from lift_crate.core.rig.masses import mass_summary
from lift_crate.core.settings import Settings
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.core.rig.test_random_edits import operations
from tests.kit import X, Z, build, catalogue, examples, joint, model, port

DEMO = demo_job_file()
SHELF = catalogue_of(DEMO)
BUILDS = sorted({b.id: b for part in DEMO.job.parts for _, b in DEMO.job.builds_in(part.id).values()}.items())


def afresh(shelf: Catalogue) -> Catalogue:
    """The same shelf, of which nothing is remembered."""
    return Catalogue(shelf.interfaces, shelf.models, dict(shelf.units))


@st.composite
def edited(draw: st.DrawFn) -> list[Build]:
    """A build of the demo, and what some random edits make of it one after the other."""
    at = draw(st.sampled_from([b for _, b in BUILDS]))
    found = [at]
    for operation in draw(st.lists(operations(DEMO), min_size=6, max_size=20)):
        try:
            at = apply(at, operation, SHELF)
        except BadRig:
            continue
        found.append(at)
    return found


def hangs_on(rig: Build, unit: str) -> set[str]:
    """A unit and all that is mounted on it, by walking the joints."""
    found = {unit}
    while more := {j.child for j in rig.joints if j.parent in found} - found:
        found |= more
    return found


def carried_by(at: Assembly, child: str) -> tuple[float, Array]:
    """What a joint carries, summed part by part."""
    beyond = hangs_on(at.build, child)
    if at.held_by and at.held_by != at.build.body and at.held_by in beyond:
        beyond = set(at.parts) - beyond
    parts = at.masses(beyond)
    grams = sum(part.mass_g for part in parts)
    moment = sum((part.mass_g * part.cg_mm for part in parts), np.zeros(3))
    return grams, moment / grams if grams else moment


@given(edited())
@settings(max_examples=examples(25))
def test_loads_and_masses_are_those_of_a_plain_sum(builds: list[Build]) -> None:
    for rig in builds:
        at = assemble(rig, SHELF)
        for each in at.joints:
            grams, cg = at.load_of(each.child)
            plain_g, plain_cg = carried_by(at, each.child)
            assert grams == pytest.approx(plain_g, abs=1e-6)
            if plain_g > 1e-6:
                assert cg == pytest.approx(plain_cg, abs=1e-6)
        some = set(list(at.parts)[::2])
        for holders in (None, some):
            quick, plain = at.summary(Settings(), holders), mass_summary(at.masses(holders), Settings())
            assert quick.mass_g == pytest.approx(plain.mass_g)
            assert quick.cg_mm == pytest.approx(plain.cg_mm, abs=1e-6)
            assert quick.mass_sd_g == pytest.approx(plain.mass_sd_g)
            assert quick.unknown == plain.unknown
            assert quick.cg_covariance_mm2 == pytest.approx(plain.cg_covariance_mm2, abs=1e-6)


@given(edited())
@settings(max_examples=examples(25))
def test_where_things_stand_after_edits_is_where_they_stand_anew(builds: list[Build]) -> None:
    """Only what moved is placed again; its shelf is one of which nothing is known."""
    for rig in builds:
        at, anew = assemble(rig, SHELF), assemble(rig, afresh(SHELF))
        assert at.units == anew.units
        assert np.array_equal(at.frames, anew.frames)
        assert at.cgs_mm == pytest.approx(anew.cgs_mm)
        assert clashes_of(at).overlaps == clashes_of(anew).overlaps


@given(edited())
@settings(max_examples=examples(25))
def test_what_hangs_where_is_what_walking_the_joints_finds(builds: list[Build]) -> None:
    for rig in builds:
        layout = layout_of(rig, SHELF)
        mounted = [j for j in rig.joints if j.child not in rig.on_operator]
        assert set(layout.units) == {rig.body} | {j.child for j in mounted}
        assert layout.worn == rig.on_operator
        assert all(layout.row[j.parent] < layout.row[j.child] for j in mounted), "parents before their children"
        assert sorted(layout.as_built) == sorted(rig.units)
        for unit in layout.units:
            assert set(layout.subtree(unit)) == hangs_on(rig, unit)
            assert layout.subtree(unit) == rig.subtree(unit)
        uses = {
            (unit, p.id): [
                *(j.child for j in rig.joints if (j.parent, j.parent_port) == (unit, p.id)),
                *(j.parent for j in rig.joints if (j.child, j.child_port) == (unit, p.id)),
                *(
                    k.cable
                    for k in rig.links
                    for end in ((k.from_unit, k.from_port), (k.to_unit, k.to_port))
                    if end == (unit, p.id)
                ),
            ]
            for unit in layout.every_unit
            for p in SHELF.model_of(unit).ports
        }
        assert {at: sorted(held) for at, held in uses.items() if held} == {
            at: sorted(held) for at, held in port_uses(layout).items()
        }
        assert layout.on_support | layout.beyond_support == (set(layout.units) if layout.support else set())
        assert not layout.on_support & layout.beyond_support


def test_slides_turns_and_settings_leave_the_layout_alone_and_nothing_else_does() -> None:
    rig = next(b for _, b in BUILDS if any(SHELF.travel(j) for j in b.joints) and b.settings)
    layout = layout_of(rig, SHELF)
    slid = next(j for j in rig.joints if (travel := SHELF.travel(j)) and travel.min_mm < travel.max_mm)
    travel = SHELF.travel(slid)
    assert travel is not None
    for same in (
        apply(rig, SlideTo(unit=slid.child, to_mm=travel.min_mm), SHELF),
        apply(rig, SlideTo(unit=slid.child, to_mm=travel.max_mm), SHELF),
        replace(rig, joints=tuple(replace(j, spin_deg=j.spin_deg + 90) for j in rig.joints)),
        replace(rig, settings=(), use="running"),
    ):
        assert layout_of(same, SHELF) is layout
    leaf = next(j.child for j in rig.joints if len(rig.subtree(j.child)) == 1)
    for other in (
        rig.without([leaf]),
        replace(rig, links=rig.links[1:]) if rig.links else rig.without([leaf]),
        replace(rig, held_by=rig.joints[0].child),
    ):
        assert layout_of(other, SHELF) is not layout
    assert layout_of(rig, afresh(SHELF)) is not layout


ARM = model(
    "arm",
    100,
    (0, 0, 50),
    port("foot", "screw", "male", n=(0, 0, -1), u=X),
    port("end", "screw", "female", (0, 0, 100)),
)
HEAVY = model("heavy", 300, (0, 0, 10), port("foot", "screw", "male", n=(0, 0, -1), u=X))
ZOOM = model(
    "zoom",
    900,
    None,
    port("foot", "screw", "male", n=(0, 0, -1), u=X),
    kind="lens",
    lens={
        "image_circle_mm": 40,
        "focal_mm": (20, 100),
        "stop": 2.8,
        "zoom": [{"focal_mm": 20, "cg_mm": (0, 0, 10)}, {"focal_mm": 100, "cg_mm": (0, 0, 50)}],
    },
)
CORD = model("cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 300})
BODY = model(
    "body",
    1000,
    (0, 0, 0),
    port("top", "screw", "female", (0, 0, 50)),
    port("side", "screw", "female", (0, 50, 0), (0, 1, 0), Z),
    port("tap", "tap", "female", (0, 0, -50), (0, 0, -1), X),
    kind="body",
)
SMALL = catalogue(BODY, ARM, HEAVY, ZOOM, CORD)


def test_worked_loads_of_an_arm_with_a_weight() -> None:
    at = assemble(build("body", "arm.foot > body.top", "heavy.foot > arm.end"), SMALL)
    assert at.load_of("heavy")[0] == 300
    grams, cg = at.load_of("arm")
    # 100 g at 50 + 50 mm and 300 g at 50 + 100 + 10 mm.
    assert (grams, cg[2]) == (400, pytest.approx((100 * 100 + 300 * 160) / 400))
    assert at.summary(Settings()).cg_mm[2] == pytest.approx(400 * 145 / 1400)
    for unit, error in (("body", IndexError), ("cord", KeyError)):
        with pytest.raises(error):
            at.load_of(unit)


def test_a_cable_hangs_half_on_each_end_and_moves_with_it() -> None:
    at = assemble(build("body", "arm.foot > body.top", links=["cord: body.tap > body.tap"]), SMALL)
    rows, masses = at.layout.moving_with({"body"})
    assert list(masses.units) == ["body", "cord", "cord"]
    assert list(masses.grams) == [1000, 20, 20]
    assert at.sockets_mm.tolist() == [[0, 0, -50], [0, 0, -50]]
    assert at.summary(Settings(), {"body"}).cg_mm[2] == pytest.approx(-50 * 40 / 1040)
    assert len(rows) == 3


def test_a_zoom_that_is_set_moves_its_cg_and_not_the_layout() -> None:
    wide = build("body", "zoom.foot > body.top")
    long = replace(wide, settings=(UnitSetting(unit="zoom", focal_mm=100.0),))
    at, set_to = assemble(wide, SMALL), assemble(long, SMALL)
    assert at.layout is set_to.layout
    assert (at.parts["zoom"].cg_mm[2], set_to.parts["zoom"].cg_mm[2]) == (pytest.approx(60), pytest.approx(100))
    assert assemble(wide, SMALL).parts["zoom"].cg_mm[2] == pytest.approx(60), "the setting leaves nothing behind"


def test_only_what_hangs_on_the_moved_joint_moves() -> None:
    rig = build("body", "arm.foot > body.top", "heavy.foot > arm.end", "zoom.foot > body.side")
    before = assemble(rig, SMALL)
    turned = replace(rig, joints=(joint("arm.foot > body.top", spin=90), *rig.joints[1:]))
    after = assemble(turned, SMALL)
    same = [np.array_equal(before.pose(u).rotation, after.pose(u).rotation) for u in ("body", "arm", "heavy", "zoom")]
    assert same == [True, False, False, True]
    assert np.array_equal(assemble(rig, SMALL).frames, before.frames), "turned back, all stands where it stood"


@pytest.mark.parametrize(
    ("rig", "error"),
    [
        (build("body", "arm.wrong > body.top"), UnknownPort),
        (build("body", "arm.foot > body.wrong"), UnknownPort),
        (build("nobody"), NoSuchUnit),
        (build("body", links=["arm: body.tap > body.tap"]), NotCable),
        (build("body", links=["cord: body.tap > body.tap", "cord: body.tap > body.tap"]), CableTwice),
        (build("body", links=["cord: body.tap > arm.end"]), NoSuchUnit),
        (build("body", links=["cord: body.tap > body.wrong"]), UnknownPort),
    ],
)
def test_what_is_no_rig_is_told_each_time_it_is_asked(rig: Build, error: type[BadRig]) -> None:
    for _ in range(2):
        with pytest.raises(error):
            assemble(rig, SMALL)


def test_another_unit_in_a_place_is_set_anew_and_the_others_stay_as_they_are() -> None:
    was = DEMO.job.build("caisson-first")[1]
    assert {s.unit for s in was.settings} == {"C6-2", "CINE-1"}
    changed = apply(was, Replace(unit="C6-2", by="C6-3"), SHELF)
    assert changed.settings == tuple(s for s in was.settings if s.unit == "CINE-1")
