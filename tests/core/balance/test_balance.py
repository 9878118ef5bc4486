"""Balance on the demo's gimbals and supports: readings, what changed,
step cards, what would level it, what balances teach.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import replace

import pytest

from lift_crate.core.balance.report import AXES, BalanceReport, balance_report, hung_at, readings_of, zoom_hours
from lift_crate.core.balance.see_saw import see_saw_report
from lift_crate.core.balance.stale import TOUCHED, changes_between, fingerprint, swapped_since, touched
from lift_crate.core.balance.steps import cards, pre_flight, seen_at
from lift_crate.core.bench.levellers import levellers
from lift_crate.core.bench.proposal import Observed, proposals, sensitivities
from lift_crate.core.callouts import Level
from lift_crate.core.errors import NotAllowed
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Catalogue
from lift_crate.core.rig.edits import Adjust, Attach, Detach, Operation, Replace, SlideTo
from lift_crate.core.support.load import carried
from lift_crate.core.verdict.judge import Quick
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench


def report(demo: JobFile, part: str, rig: str, *operations: Operation) -> tuple[Quick, BalanceReport]:
    at = bench(demo, part, rig, *operations)
    found = balance_report(at.stand)
    assert found
    return at.quick, found


def test_at_the_readings_the_camera_hangs_at_rest(demo: JobFile) -> None:
    """The solved slides put the CG of what tilts on the tilt axis, of what
    rolls on the roll axis, of what pans on the pan axis.
    """
    judged, found = report(demo, "dress", "dock-floor")
    gimbal, p, m = judged.stand.carried.gimbal, judged.stand.carried.payload, judged.stand.carried.payload.mass_g
    assert gimbal
    assert judged.stand.carried.support
    assert judged.stand.carried.solution
    at = judged.stand.assembly.pose(judged.stand.carried.support).inverse().point(p.cg_mm)
    slides = {s.name: s.set_mm for s in judged.stand.carried.solution.slides}
    tilt = gimbal.tilt
    assert m * (at[0] + slides["fore_aft"]) + tilt.mass_g * tilt.cg_mm[0] == pytest.approx(0, abs=1e-6 * m)
    assert m * (at[2] + slides["vertical"]) + tilt.mass_g * tilt.cg_mm[2] == pytest.approx(0, abs=1e-6 * m)
    assert all(s.short_mm == 0 and s.scale[0] <= s.reading <= s.scale[1] for s in found.slides)
    assert all(
        s.spread_mm == pytest.approx(2 * float(p.cg_sd_mm[i])) for s, i in zip(found.slides, (0, 2, 1, 0), strict=True)
    )


def test_out_of_travel_the_slide_stands_at_its_stop_and_the_motor_holds_the_rest(demo: JobFile) -> None:
    judged, found = report(demo, "act-3", "stage-rail")
    fore_aft = found.slides[0]
    assert fore_aft.reading in fore_aft.scale
    assert fore_aft.short_mm > 0
    loads = {load.axis: load for load in found.loads}
    left = judged.stand.carried.payload.mass_g * 9.80665e-6 * fore_aft.short_mm
    assert loads["tilt"].torque_nm >= left - 1e-9
    assert loads["tilt"].torque_nm == pytest.approx(max(loads["tilt"].by_move.values()))
    assert found.hours
    assert found.hours_balanced
    assert found.hours < found.hours_balanced
    assert found.zoom
    assert not found.zoom.helps


def test_what_hits_within_the_move_is_a_stop(demo: JobFile) -> None:
    _, found = report(demo, "acts-1-2", "dock-floor")
    tilt = next(r for r in found.reaches if r.axis == "tilt")
    assert tilt.low_hits
    assert tilt.high_hits
    stops = [f for f in found.findings if f.code == "gimbal.clearance.tilt" and f.level is Level.STOP]
    assert {round(f.value or 0.0) for f in stops} == {round(abs(tilt.low_deg)), round(abs(tilt.high_deg))}


@pytest.mark.parametrize(
    ("operation", "says"),
    [
        (Attach(unit="VND-1", unit_port="thread", onto="ZOOM-3", onto_port="front"), "VND-1 was put on"),
        (Adjust(unit="ZOOM-3", focal_mm=70), "ZOOM-3 was zoomed from 25 to 70 mm"),
    ],
)
def test_a_change_names_the_readings_it_moves(demo: JobFile, operation: Operation, says: str) -> None:
    before, _ = report(demo, "act-3", "stage-rail", *([Detach(unit="VND-1")] if isinstance(operation, Attach) else []))
    after = bench(
        demo, "act-3", "stage-rail", *([Detach(unit="VND-1")] if isinstance(operation, Attach) else []), operation
    ).stand
    found = changes_between(before.stand.assembly.build, after)
    assert [c.text for c in found] == [says]
    assert fingerprint(before.stand.assembly.build, before.stand.assembly.catalogue) != fingerprint(
        after.assembly.build, after.assembly.catalogue
    )
    moved = {name: readings_of(after.carried)[name] - readings_of(before.stand.carried)[name] for name in AXES}
    assert found[0].moved_mm == pytest.approx(moved)


def test_a_slide_of_the_rig_on_its_plate_moves_the_reading_by_as_much(demo: JobFile) -> None:
    before = bench(demo, "dress", "dock-floor").quick
    support = before.stand.carried.support
    joint = before.stand.assembly.build.joint_of(support) if support else None
    assert joint
    after = bench(demo, "dress", "dock-floor", SlideTo(unit=joint.child, to_mm=joint.slide_mm + 3)).quick
    change = changes_between(before.stand.assembly.build, after.stand)[0]
    assert change.text.startswith(f"{joint.child} slid from ")
    assert abs(change.moved_mm["fore_aft"]) == pytest.approx(3, abs=1e-6)
    assert change.axes == ("fore_aft",) or set(change.axes) == {"fore_aft", "pan"}


def test_nothing_changed_is_no_change(demo: JobFile) -> None:
    judged = bench(demo, "dress", "dock-floor").quick
    assert changes_between(judged.stand.assembly.build, judged.stand) == ()


def test_cards_in_both_orders_end_with_power_and_name_every_slide(demo: JobFile) -> None:
    judged, found = report(demo, "act-3", "stage-rail")
    tilt, roll = cards(found, "tilt first"), cards(found, "roll first")
    assert [c.slide for c in tilt] == ["fore_aft", "vertical", "fore_aft", "lateral", "pan", "unlock", "power"]
    assert [c.slide for c in roll] == [
        "lateral",
        "fore_aft",
        "vertical",
        "fore_aft",
        "lateral",
        "pan",
        "unlock",
        "power",
    ]
    assert [c.number for c in tilt] == [1, 2, 3, 4, 5, 6, 7]
    assert "once more" in tilt[2].title
    assert cards(found) == (tilt if found.axis_locks else roll)
    for card in (*tilt, *roll):
        target = next((s for s in found.slides if s.name == card.slide), None)
        assert card.reading == (target.reading if target else None)
        assert card.symptoms
    assert any("travel used up" in s.means for s in tilt[0].symptoms), "a slide at its stop says so"
    assert not any("travel used up" in s.means for s in tilt[3].symptoms)
    listed = pre_flight(judged.stand.assembly, found)
    assert listed[0] == "Gimbal off, axes locked."
    assert any(line.startswith("Filters on: VND-1") for line in listed)


def test_the_see_saw_adds_up_and_its_slide_levels_it(demo: JobFile) -> None:
    at = bench(demo, "dress", "stage-rail")
    saw = see_saw_report(at.stand)
    assert sum(a.moment_nm for a in saw.arms) == pytest.approx(saw.moment_nm, abs=1e-9)
    assert sum(a.mass_g for a in saw.arms) == pytest.approx(saw.mass_g)
    assert saw.grip_x_mm is not None
    assert saw.hands_g == pytest.approx(saw.mass_g * (saw.cg_x_mm - saw.pad_x_mm) / (saw.grip_x_mm - saw.pad_x_mm))
    found = levellers(at)
    assert found[0].operations[0].op == "slide"
    assert abs(found[0].front_nm) < 0.02
    assert not found[0].brings
    for leveller in found:
        after = bench(demo, "dress", "stage-rail", *leveller.operations).quick
        assert after.stand.carried.front_nm == pytest.approx(leveller.front_nm)
        assert abs(after.stand.carried.front_nm) < abs(saw.moment_nm)
        assert set(leveller.brings) <= {f.text for f in after.findings if f.level is Level.STOP}
    assert any(x.brings and "runs" in x.brings[0] for x in found), "a pack that hits the rods is shown, and says so"


def as_balanced(
    demo: JobFile,
    part: str,
    rig: str,
    wrong: dict[str, tuple[float, float, float]],
    noise: Sequence[float] = (0, 0, 0),
    *operations: Operation,
) -> Observed:
    """What the scales would really read with the CGs of some units off by so much in their own frames."""
    at = bench(demo, part, rig, *operations)
    units = dict(at.catalogue.units)
    for unit, (x, y, z) in wrong.items():
        cg = at.catalogue.cg_of(unit)[0]
        units[unit] = replace(units[unit], measured_cg_mm=(cg[0] + x, cg[1] + y, cg[2] + z))
    truly = Catalogue(at.catalogue.interfaces, at.catalogue.models, units)
    readings = readings_of(carried(assemble(at.build, truly), at.settings))
    return Observed(
        at.build,
        {name: readings[name] + off for name, off in zip(("fore_aft", "lateral", "vertical"), noise, strict=True)},
    )


def test_balances_of_two_rigs_point_to_the_unit_that_is_in_both_and_off_in_one(demo: JobFile) -> None:
    """A pack whose CG lies 12 mm further back than the catalogue says
    is found among all parts, and what it would be.
    """
    catalogue, settings = catalogue_of(demo), demo.job.settings
    wrong = {"PACK-02": (-12.0, 0.0, 0.0)}
    with_pack = [
        as_balanced(demo, "dress", "dock-floor", wrong, noise)
        for noise in 4 * ((0.4, -0.3, 0.2), (-0.5, 0.2, 0.1), (0.2, 0.3, -0.4))
    ]
    without = [
        as_balanced(demo, "dress", "dock-floor", wrong, noise, Detach(unit="PACK-02"))
        for noise in 4 * ((0.3, 0.1, -0.2), (-0.2, -0.4, 0.3))
    ]
    found = proposals([*with_pack, *without], catalogue, settings)
    assert found[0].unit == "PACK-02", "whether by its CG or its mass, balances cannot always tell"
    by_cg = next(p for p in found if p.what == "CG")
    now = catalogue.cg_of("PACK-02")[0]
    assert by_cg.now == now
    assert by_cg.better[0] < now[0] - 4
    assert abs(by_cg.better[0] - (now[0] - 12)) < 3 * by_cg.sd
    assert by_cg.explains > 0.5
    corrected = Catalogue(
        catalogue.interfaces,
        catalogue.models,
        {
            **catalogue.units,
            "PACK-02": replace(catalogue.units["PACK-02"], measured_cg_mm=(now[0] - 12, now[1], now[2])),
        },
    )
    assert proposals([*with_pack, *without], corrected, settings) == (), "what has been corrected is not proposed again"


def test_one_balance_or_the_noise_of_a_hand_teaches_nothing(demo: JobFile) -> None:
    catalogue, settings = catalogue_of(demo), demo.job.settings
    assert (
        proposals([as_balanced(demo, "dress", "dock-floor", {"PACK-02": (-12.0, 0.0, 0.0)})], catalogue, settings) == ()
    )
    noisy = [
        as_balanced(demo, "dress", "dock-floor", {}, noise)
        for noise in ((0.6, -0.8, 0.3), (-0.7, 0.5, -0.2), (0.3, 0.2, 0.1))
    ]
    assert proposals(noisy, catalogue, settings) == ()
    gimbal = bench(demo, "act-3", "stage-rail").quick
    heavier = Catalogue(
        catalogue.interfaces,
        catalogue.models,
        {**catalogue.units, "MIC-2": replace(catalogue.units["MIC-2"], measured_g=400.0)},
    )
    truly = readings_of(carried(assemble(gimbal.stand.assembly.build, heavier), settings))
    found = proposals([Observed(gimbal.stand.assembly.build, truly)] * 3, catalogue, settings)
    assert found
    assert all(p.explains > 0.15 for p in found)


def test_derivatives_of_the_readings_are_those_of_the_solver(demo: JobFile) -> None:
    """The change of every slide for a small change of a unit's CG and mass, against solving again."""
    at = bench(demo, "dress", "dock-floor")
    build, catalogue, settings = at.build, at.catalogue, at.settings
    base = readings_of(carried(assemble(build, catalogue), settings))
    for unit in ("CINE-2", "PACK-02", "TX-1"):
        cg, mass_g = catalogue.cg_of(unit)[0], catalogue.mass_of(unit)[0] or 0.0
        for change in (
            replace(catalogue.units[unit], measured_cg_mm=(cg[0] + 0.01, cg[1] - 0.02, cg[2] + 0.03)),
            replace(catalogue.units[unit], measured_g=mass_g + 0.1),
        ):
            changed = Catalogue(catalogue.interfaces, catalogue.models, {**catalogue.units, unit: change})
            after = readings_of(carried(assemble(build, changed), settings))
            step = (
                [0.01, -0.02, 0.03, 0.0]
                if change.measured_cg_mm and change.measured_cg_mm != cg
                else [0.0, 0.0, 0.0, 0.1]
            )
            by_row = sensitivities(build, catalogue, settings)[unit] @ step
            for name, expected in zip(("fore_aft", "lateral", "vertical"), by_row, strict=True):
                assert after[name] - base[name] == pytest.approx(expected, abs=2e-5)


def test_hours_with_a_zoom_follow_the_share_of_time_at_its_ends(demo: JobFile) -> None:
    judged, found = report(demo, "act-3", "stage-rail")
    assert found.zoom
    assert found.hours
    at_set, at_long = zoom_hours(judged.stand, (1, 0)), zoom_hours(judged.stand, (0, 1))
    assert at_set["as it is set"] == pytest.approx(found.hours), (
        "always at the focal length it was balanced at is as it is"
    )
    assert at_long["as it is set"] < at_set["as it is set"]
    mixed = zoom_hours(judged.stand, (0.5, 0.5))["as it is set"]
    assert 1 / mixed == pytest.approx((1 / at_set["as it is set"] + 1 / at_long["as it is set"]) / 2, rel=2e-3), (
        "mean power, not mean hours"
    )
    with pytest.raises(NotAllowed, match="at most the whole"):
        zoom_hours(judged.stand, (0.7, 0.6))
    assert zoom_hours(bench(demo, "dress", "dock-floor").stand) == {}


@pytest.mark.parametrize(
    ("slide", "away_mm", "seen", "cure_mm"),
    [
        ("fore_aft", 12, "level, lens drops", -1),
        ("fore_aft", -12, "level, lens rises", 1),
        ("vertical", -8, "lens up, falls forward again", 1),
        ("vertical", 8, "lens up, rolls past backward", -1),
        ("lateral", 12, "rolls to the left", -1),
        ("lateral", -12, "rolls to the right", 1),
        ("pan", 12, "handle held level, swings nose-down", -1),
        ("pan", -12, "handle held level, swings tail-down", 1),
    ],
)
def test_every_line_of_the_symptom_table_is_what_a_slide_set_wrong_shows_and_its_cure_helps(
    demo: JobFile, slide: str, away_mm: float, seen: str, cure_mm: float
) -> None:
    """A slide set so many mm forward, up or left of its balance; the
    cure moves it the other way (docs/formulas.md §3).
    """
    judged, _ = report(demo, "dress", "dock-floor")
    right = readings_of(judged.stand.carried)
    wrong = {**right, slide: right[slide] + away_mm}
    if slide in ("lateral", "fore_aft"):
        wrong |= {"pan": right["pan"] + (0 if slide == "lateral" else -away_mm * 0.9)}
    shown = [s.seen for s in seen_at(judged.stand, wrong)]
    assert seen in shown
    before = hung_at(judged.stand, wrong).uneven_nm[slide]
    after = hung_at(judged.stand, {**wrong, slide: wrong[slide] + cure_mm}).uneven_nm[slide]
    assert abs(after) < abs(before)
    assert not [s for s in seen_at(judged.stand, right) if s.means in {"mass too far forward", "mass too far back"}], (
        "balanced, nothing nods"
    )


def test_travel_used_up_and_a_camera_that_hits_are_told_apart(demo: JobFile) -> None:
    ended, _ = report(demo, "act-3", "stage-rail")
    hits, _ = report(demo, "dress", "dock-floor")
    at_stop = [s.seen for s in seen_at(ended.stand, readings_of(ended.stand.carried))]
    assert "slide at its stop and still falls" in at_stop
    assert "level, lens drops" in at_stop, "the slide went as far back as it goes, and the lens still drops"
    assert [s.seen for s in seen_at(hits.stand, readings_of(hits.stand.carried))] == [
        "balanced but hits the arm when tilted"
    ]
    with pytest.raises(NotAllowed, match="its scale goes from"):
        seen_at(hits.stand, {"pan": 9999})


def test_packs_are_followed_through_every_swap_and_one_that_came_back_is_no_change(demo: JobFile) -> None:
    stand = bench(demo, "act-3", "stage-rail").stand
    once = swapped_since(stand, [("SLIM-1", "SLIM-3")])
    twice = swapped_since(stand, [("SLIM-1", "SLIM-4"), ("SLIM-4", "SLIM-3")])
    assert [c.text for c in twice] == ["SLIM-3 is in where SLIM-1 was"]
    assert twice[0].moved_mm == pytest.approx(once[0].moved_mm), "only what is in now counts"
    assert swapped_since(stand, [("SLIM-1", "SLIM-3"), ("SLIM-3", "SLIM-1")]) == ()
    assert swapped_since(stand, [("PACK-05", "PACK-06")]) == (), "a pack of another rig"
    heavier = swapped_since(stand, [("SLIM-1", "SLIM-5")])[0]
    by_hand = bench(demo, "act-3", "stage-rail", Replace(unit="SLIM-1", by="SLIM-5")).stand
    before, after = readings_of(stand.carried), readings_of(by_hand.carried)
    assert heavier.moved_mm == pytest.approx({name: after[name] - before[name] for name in before}, abs=1e-6)


def test_what_is_noted_by_hand_names_the_slides_to_check() -> None:
    told = touched(["lens hood", "cable run"])
    assert [(c.text, c.axes, c.moved_mm) for c in told] == [
        ("lens hood changed", ("fore_aft",), {}),
        ("cable run changed", ("lateral", "pan"), {}),
    ]
    for slides in TOUCHED.values():
        assert set(slides) <= set(AXES)
    with pytest.raises(NotAllowed, match="it is one of: lens cap"):
        touched(["mood"])
