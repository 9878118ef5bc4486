"""What the operator wears: off the arms, out of space, and still feeding the rig by its cable."""

from __future__ import annotations

import pytest

from lift_crate.core.balance.stale import changes_between
from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.questions import every_place_for, no_place
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import Level
from lift_crate.core.drawings.build_sheet import build_sheet
from lift_crate.core.drawings.chain import chain_of
from lift_crate.core.drawings.elevation import elevations
from lift_crate.core.drawings.figures import figures_of
from lift_crate.core.drawings.space import space_of
from lift_crate.core.errors import MountedTwice, NotAllowed
from lift_crate.core.fit.joints import port_uses
from lift_crate.core.gear.model import GearModel
from lift_crate.core.rig.build import Conditions
from lift_crate.core.rig.edits import Connect, Detach, Move, Operation, Wear, apply
from lift_crate.core.rig.layout import layout_of
from lift_crate.core.settings import Settings
from lift_crate.core.swaps.day import day_problem
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench, level
from tests.kit import build, catalogue, model, port, quick_of

BELT: tuple[Operation, ...] = (
    Wear(unit="SWAP-2"),
    Connect(cable="TR-3", from_unit="SWAP-2", from_port="tap-2", to_unit="MON7-2", to_port="dc"),
)


def test_a_plate_with_its_pack_goes_from_the_gimbal_to_the_belt(demo: JobFile) -> None:
    before, after = bench(demo, "dress", "dock-floor"), bench(demo, "dress", "dock-floor", *BELT)
    shelf = catalogue_of(demo)
    grams = {u: shelf.mass_of(u)[0] or 0.0 for u in ("SWAP-2", "PACK-02", "TR-2", "TR-3")}
    was, now = before.stand.carried, after.stand.carried
    # TR-2 had both its ends on the rig, TR-3 none; now half of each hangs there.
    moved = grams["SWAP-2"] + grams["PACK-02"] + grams["TR-2"] / 2 - grams["TR-3"] / 2
    assert was.total.mass_g - now.total.mass_g == pytest.approx(moved)
    assert after.stand.assembly.layout.worn_g == pytest.approx(
        grams["SWAP-2"] + grams["PACK-02"] + (grams["TR-2"] + grams["TR-3"]) / 2
    )
    told = figures_of(after.whole)
    assert told.carried.worn_g == pytest.approx(after.stand.assembly.layout.worn_g)
    assert "PACK-02" not in {p.unit for p in told.parts}
    # It feeds what its cables reach, over the axes of the gimbal.
    run = next(r for r in after.stand.runs if r.pack == "PACK-02")
    assert after.stand.graph.downstream("PACK-02") == ("SWAP-2", "TX-1", "MON7-2")
    assert run.hours > next(r for r in before.stand.runs if r.pack == "PACK-02").hours, "the body is off it"
    assert level(after, "power.unfed") is not None, "nothing feeds the body any more"
    lead = next(r for r in after.stand.routes if r.link.cable == "TR-2")
    assert (lead.straight_mm, lead.crosses) == (900, True)
    assert lead.pull.startswith("pulls down on tilt, roll, pan")
    assert level(after, "link.length") is Level.STOP, "600 mm do not reach from the hip"
    sheet = [(s.unit, s.onto) for s in build_sheet(after.whole).build]
    assert sheet.index(("SWAP-2", "the operator")) < sheet.index(("PACK-02", "SWAP-2"))


def test_it_comes_back_and_comes_off(demo: JobFile) -> None:
    shelf, rig = catalogue_of(demo), bench(demo, "dress", "dock-floor").build
    was = rig.joint_of("SWAP-2")
    assert was
    worn = apply(rig, Wear(unit="SWAP-2"), shelf)
    back = apply(
        worn,
        Move(
            unit="SWAP-2", unit_port=was.child_port, onto=was.parent, onto_port=was.parent_port, slide_mm=was.slide_mm
        ),
        shelf,
    )
    assert (set(back.units), back.worn) == (set(rig.units), ())
    assert layout_of(back, shelf).masses.mass_g.sum() == pytest.approx(layout_of(rig, shelf).masses.mass_g.sum())
    off = apply(worn, Detach(unit="SWAP-2"), shelf)
    assert not {"SWAP-2", "PACK-02", "TR-2"} & set(off.units)
    for wrong, reason in ((Wear(unit="TR-2"), "cable"), (Wear(unit=rig.body), "already"), (Wear(unit="SWAP-2"), "on")):
        with pytest.raises(NotAllowed, match=reason):
            apply(worn, wrong, shelf)
    with pytest.raises(MountedTwice):
        layout_of(build(rig.body, *rig.joints, worn=("SWAP-2",)), shelf)
    with pytest.raises(ValueError, match="twice"):
        build(rig.body, worn=("SWAP-2", "SWAP-2"))


def test_the_belt_is_offered_and_what_is_on_it_takes_parts(demo: JobFile) -> None:
    at = bench(demo, "dress", "quay")
    last = every_place_for(at, "RX-2")[-1]
    assert (last.onto, last.port_id, last.operations) == ("the operator", "", (Wear(unit="RX-2"),))
    assert not any(p.port is None for p in every_place_for(at, "ARM-2")), "a friction arm is not worn"
    on = at.after(last.operations)
    assert ("RX-2", "line") not in port_uses(on.stand.assembly.layout)
    assert any(p.port for p in every_place_for(on, "RX-2")), "from the belt it goes back on the rig"


def test_a_part_without_a_place_is_told_what_would_take_it() -> None:
    """A radio with a foot, a body with a screw hole: a bracket joins them; without one it is said what is wanted."""
    up, down = {"n": (0, 0, 1)}, {"n": (0, 0, -1)}
    models = (
        model("body", 1000, (0, 0, 0), port("top", "screw", "female", (0, 0, 50), **up)),
        model("radio", 80, (0, 0, 0), port("foot", "shoe", "male", (0, 0, -10), **down), kind="video transmitter"),
        model(
            "bracket",
            40,
            (0, 0, 0),
            port("screw", "screw", "male", (0, 0, -5), **down),
            port("shoe", "shoe", "female", (0, 0, 5), **up),
        ),
    )

    def at(*there: GearModel) -> Bench:
        return Bench(quick_of(build("body"), catalogue(*there), Conditions(), Settings()).stand)

    (place,) = every_place_for(at(*models), "radio")
    assert (place.onto, place.port_id, place.holder) == ("body", "top", "bracket")
    assert at(*models).after(place.operations).build.units == ("body", "bracket", "radio")
    alone = at(*models[:2])
    assert every_place_for(alone, "radio") == []
    assert no_place(alone, "radio") == (
        "radio wants the shoe of accessory shoe: free nowhere on this rig, and no free part that goes on it has one."
    )


def test_everything_that_draws_and_proposes_takes_a_rig_with_something_worn(demo: JobFile) -> None:
    at = bench(demo, "dress", "dock-floor", *BELT)
    assert elevations(at.stand)
    cables = {c.cable: c for c in space_of(at.stand).cables}
    assert cables["TR-2"].ends_mm[1][2] == pytest.approx(cables["TR-2"].ends_mm[0][2] - 300), "it hangs down"
    assert {"SWAP-2", "PACK-02"} <= {node.unit for node in chain_of(at.whole).nodes}
    for finding in at.quick.findings:
        for remedy in remedies(at, finding):
            assert at.after(remedy.operations).build != at.build
    unfed = next(f for f in at.quick.findings if f.code == "power.unfed" and f.about.units[0] == at.build.body)
    assert remedies(at, unfed), "the body can be fed again"
    before = bench(demo, "dress", "dock-floor")
    told = [c.text for c in changes_between(before.build, at.stand)]
    assert "SWAP-2 was taken off" in told


def test_packs_on_the_belt_are_swapped_for_those_that_take_its_cables(demo: JobFile) -> None:
    shelf = catalogue_of(demo)
    floor = demo.job.rig("dock-floor")
    worn = apply(demo.job.planned("dress", "dock-floor"), Wear(unit="SWAP-2"), shelf)
    job = demo.job.with_build(worn)
    slots = day_problem(job, shelf, [job.part("dress")]).slots
    slot = next(s for s in slots if s.rig == floor.id and s.holder == "SWAP-2")
    assert slot.own == "PACK-02"
    assert slot.used, "what goes on the plate runs it there too"
