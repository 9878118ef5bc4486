"""Balance on the demo's gimbals and supports: readings, what changed, step cards, what would level it, what balances teach."""

from __future__ import annotations

import pytest

from lift_crate.core.balance import AXES, BalanceReport, balance_report, readings_of
from lift_crate.core.evaluate import Evaluation
from lift_crate.core.findings import Level
from lift_crate.core.learning import proposal
from lift_crate.core.levelling import levellers, see_saw_report
from lift_crate.core.operations import Adjust, Attach, Detach, Operation, SlideTo
from lift_crate.core.staleness import changes_between, fingerprint
from lift_crate.core.steps import cards, pre_flight
from lift_crate.formats.job_file import JobFile
from tests.core.test_demo_rigs import bench


def report(demo: JobFile, part: str, rig: str, *operations: Operation) -> tuple[Evaluation, BalanceReport]:
    at = bench(demo, part, rig, *operations)
    found = balance_report(at.evaluation)
    assert found
    return at.evaluation, found


def test_at_the_readings_the_camera_hangs_at_rest(demo: JobFile) -> None:
    """The solved slides put the CG of what tilts on the tilt axis, of what rolls on the roll axis, of what pans on the pan axis."""
    judged, found = report(demo, "dress", "dock-floor")
    gimbal, p, m = judged.carried.gimbal, judged.carried.payload, judged.carried.payload.mass_g
    assert gimbal
    assert judged.carried.support
    assert judged.carried.solution
    at = judged.assembly.pose(judged.carried.support).inverse().point(p.cg_mm)
    slides = {s.name: s.set_mm for s in judged.carried.solution.slides}
    tilt = gimbal.tilt
    assert m * (at[0] + slides["fore_aft"]) + tilt.mass_g * tilt.cg_mm[0] == pytest.approx(0, abs=1e-6 * m)
    assert m * (at[2] + slides["vertical"]) + tilt.mass_g * tilt.cg_mm[2] == pytest.approx(0, abs=1e-6 * m)
    assert all(s.short_mm == 0 and s.scale[0] <= s.reading <= s.scale[1] for s in found.slides)
    assert all(s.spread_mm == pytest.approx(2 * float(p.cg_sd_mm[i])) for s, i in zip(found.slides, (0, 2, 1, 0), strict=True))


def test_out_of_travel_the_slide_stands_at_its_stop_and_the_motor_holds_the_rest(demo: JobFile) -> None:
    judged, found = report(demo, "act-3", "stage-rail")
    fore_aft = found.slides[0]
    assert fore_aft.reading in fore_aft.scale
    assert fore_aft.short_mm > 0
    loads = {load.axis: load for load in found.loads}
    left = judged.carried.payload.mass_g * 9.80665e-6 * fore_aft.short_mm
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
        (Adjust(unit="ZOOM-3", focal_mm=70), "ZOOM-3 was zoomed from 24 to 70 mm"),
    ],
)  # fmt: skip
def test_a_change_names_the_readings_it_moves(demo: JobFile, operation: Operation, says: str) -> None:
    before, _ = report(demo, "act-3", "stage-rail", *([Detach(unit="VND-1")] if isinstance(operation, Attach) else []))
    after = bench(demo, "act-3", "stage-rail", *([Detach(unit="VND-1")] if isinstance(operation, Attach) else []), operation).evaluation
    found = changes_between(before.assembly.build, after)
    assert [c.text for c in found] == [says]
    assert fingerprint(before.assembly.build, before.assembly.catalogue) != fingerprint(after.assembly.build, after.assembly.catalogue)
    moved = {name: readings_of(after.carried)[name] - readings_of(before.carried)[name] for name in AXES}
    assert found[0].moved_mm == pytest.approx(moved)


def test_a_slide_of_the_rig_on_its_plate_moves_the_reading_by_as_much(demo: JobFile) -> None:
    before = bench(demo, "dress", "dock-floor").evaluation
    support = before.carried.support
    joint = before.assembly.build.joint_of(support) if support else None
    assert joint
    after = bench(demo, "dress", "dock-floor", SlideTo(unit=joint.child, to_mm=joint.slide_mm + 3)).evaluation
    change = changes_between(before.assembly.build, after)[0]
    assert change.text.startswith(f"{joint.child} slid from ")
    assert abs(change.moved_mm["fore_aft"]) == pytest.approx(3, abs=1e-6)
    assert change.axes == ("fore_aft",) or set(change.axes) == {"fore_aft", "pan"}


def test_nothing_changed_is_no_change(demo: JobFile) -> None:
    judged = bench(demo, "dress", "dock-floor").evaluation
    assert changes_between(judged.assembly.build, judged) == ()


def test_cards_in_both_orders_end_with_power_and_name_every_slide(demo: JobFile) -> None:
    judged, found = report(demo, "act-3", "stage-rail")
    tilt, roll = cards(found, "tilt first"), cards(found, "roll first")
    assert [c.slide for c in tilt] == ["fore_aft", "vertical", "fore_aft", "lateral", "pan", "power"]
    assert [c.slide for c in roll] == ["lateral", "fore_aft", "vertical", "pan", "power"]
    assert [c.number for c in tilt] == [1, 2, 3, 4, 5, 6]
    assert "once more" in tilt[2].title
    assert cards(found) == (tilt if found.axis_locks else roll)
    for card in (*tilt, *roll):
        target = next((s for s in found.slides if s.name == card.slide), None)
        assert card.reading == (target.reading if target else None)
        assert card.symptoms
    assert any("travel used up" in s.means for s in tilt[0].symptoms), "a slide at its stop says so"
    assert not any("travel used up" in s.means for s in tilt[3].symptoms)
    listed = pre_flight(judged.assembly, found)
    assert listed[0] == "Gimbal off, axes locked."
    assert any(line.startswith("Filters on: VND-1") for line in listed)


def test_the_see_saw_adds_up_and_its_slide_levels_it(demo: JobFile) -> None:
    at = bench(demo, "dress", "stage-rail")
    saw = see_saw_report(at.evaluation)
    assert sum(a.moment_nm for a in saw.arms) == pytest.approx(saw.moment_nm, abs=1e-9)
    assert sum(a.mass_g for a in saw.arms) == pytest.approx(saw.mass_g)
    assert saw.grip_x_mm is not None
    assert saw.hands_g == pytest.approx(saw.mass_g * (saw.cg_x_mm - saw.pad_x_mm) / (saw.grip_x_mm - saw.pad_x_mm))
    found = levellers(at)
    assert found[0].operations[0].op == "slide"
    assert abs(found[0].front_nm) < 0.02
    assert not found[0].brings
    for leveller in found:
        after = bench(demo, "dress", "stage-rail", *leveller.operations).evaluation
        assert after.carried.front_nm == pytest.approx(leveller.front_nm)
        assert abs(after.carried.front_nm) < abs(saw.moment_nm)
        assert set(leveller.brings) <= {f.text for f in after.findings if f.level is Level.STOP}
    assert any(x.brings and "runs" in x.brings[0] for x in found), "a pack that hits the rods is shown, and says so"


def test_balances_that_agree_point_to_a_cg_and_noise_does_not(demo: JobFile) -> None:
    """A CG that truly lies 6 mm further forward must be set 6 mm further back, and is found again."""
    judged, _ = report(demo, "dress", "dock-floor")
    gimbal = judged.carried.gimbal
    assert gimbal
    always = {"fore_aft": -6.0 * gimbal.fore_aft.direction, "vertical": 0.0, "lateral": 0.0}
    found = proposal(judged, [always, always, always])
    assert found
    lever = judged.carried.payload.mass_g / judged.assembly.parts[found.unit].mass_g
    assert sum((b - a) ** 2 for a, b in zip(found.cg_mm, found.better_mm, strict=True)) ** 0.5 == pytest.approx(6 * lever)
    turned = judged.assembly.parts[found.unit].tf_rig_part.rotation @ [b - a for a, b in zip(found.cg_mm, found.better_mm, strict=True)]
    assert turned[0] == pytest.approx(6 * lever)
    assert found.sd_mm == pytest.approx(lever / 3**0.5)
    assert proposal(judged, [always]) is None
    assert proposal(judged, [always, {k: -v for k, v in always.items()}]) is None
