"""The demo's rigs: payload and travel, candidates and remedies, all tried on the real thing."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.bench.bench import Bench, free_ports
from lift_crate.core.bench.questions import candidates, misfits
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import CALL_OUTS, Level
from lift_crate.core.drawings.elevation import elevations
from lift_crate.core.errors import NoSuchUnit, NotAllowed
from lift_crate.core.gear.model import GearModel, ImpossibleModel
from lift_crate.core.job.job import claims_of_others, evaluate_job
from lift_crate.core.rig.build import Catalogue
from lift_crate.core.rig.edits import (
    Adjust,
    Attach,
    Connect,
    Detach,
    Disconnect,
    Move,
    Operation,
    SlideTo,
    Strip,
    Turn,
    apply,
    apply_all,
)
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.kit import X, model, port, quick_of


def bench(demo: JobFile, part: str, rig: str, *operations: Operation) -> Bench:
    catalogue = catalogue_of(demo)
    conditions = demo.job.part(part).conditions
    taken = claims_of_others(demo.job, part, rig)
    build = apply_all(demo.job.planned(part, rig), operations, catalogue)
    target = demo.job.target_of(demo.job.rig(rig), part)
    return Bench(quick_of(build, catalogue, conditions, demo.job.settings, taken, target).stand)


def level(at: Bench, code: str) -> Level | None:
    return max((f.level for f in at.quick.findings if f.code == code), default=None)


@pytest.fixture
def gimbal(demo: JobFile) -> Bench:
    return bench(demo, "act-3", "stage-rail")


def test_every_code_that_is_used_stands_in_the_catalogue_and_every_level_has_its_working(demo: JobFile) -> None:
    for _, _, _, judged in evaluate_job(demo.job, catalogue_of(demo)):
        for finding in judged.findings:
            assert finding.call_out is CALL_OUTS[finding.code]
            assert all(w.formula and w.numbers for w in finding.working)


NOT_IN_THE_DEMO = {
    # Of positions and people, not of a rig: tests/core/safety.
    *(code for code in CALL_OUTS if code.startswith(("safe.", "people."))),
    # Only a station, or whoever types, tells what the weather is.
    "log.colder",
    "log.darker",
    "log.windier",
    "share.unit_taken",  # the database refuses it
    "gimbal.clearance.roll",
    "gimbal.clearance.pan",  # neither gimbal's camera is that wide or long
    "mount.pull_off",
    "mount.points",
    "mount.speed",  # three magnets on a rail, and nothing there drives
    "gimbal.moves",  # both gimbals are strong enough to start
    "body.iso",
    "body.mode",
    "body.shutter",  # every body is set to what it has
    "screen.none",  # every body of it has a screen
    "screen.bright",  # its light is low enough for every screen
    "record.gain",
    "screen.late",
    "screen.phone",  # its monitors are monitors, on cables
    "front.idle",  # nobody left a ring on
    "gimbal.follow",  # both gimbals follow as fast as anybody walks
    "gimbal.zoom_ring",  # its stiff zoom stands on sticks
    "power.fed_recording",  # it has no recorder, and no body that minds being fed
    "gear.incomplete",  # all its gear has its figures
    "stand.monopod",  # both long lenses stand on sticks
    "mass.cg_outside",  # nobody mismeasured
    "swap.short",
    "swap.dies",
    "swap.two_each",
    "swap.ageing",
    "swap.rate",
    "swap.hands",
    *(code for code in CALL_OUTS if code.startswith("pack.")),  # of cases: tests/core/pack
    "charge.single",  # of a day, not of a rig: tests/core/swaps/test_day.py
    "day.change",
    "day.two_places",
    "day.unattended",
    "day.short",
    "media.short",
    "media.slow",
    "media.single",
    "media.change",
    "media.take_limit",
    "media.heat",
    "media.loose",
    "media.copies",
    "pool.single",
    "sound.place",
    "pool.companion",
    "money.skipped",
    "money.until",
    "day.no_time",
    "sound.sources",
    "sound.broken",
    "sound.twice",
    "sound.wire",
    "sound.wind",
    "sound.clip",
    "sound.level",
    "sound.house",
    "sound.radio",
    "sound.sync",
    "sound.guide",
    "sound.consent",
    "day.angles",  # of a day, not of a rig: tests/core/day
    "gimbal.no_body",
    "gimbal.payload",
    "lens.missing",
    "power.loop",  # nobody plans a build like that; broken on purpose elsewhere
    "power.current",
    "power.figure_missing",
    "power.under_voltage",
    "power.two_sources",
    "power.mains",
    "power.mains_wet",
    "power.mains_alone",  # no camera of the demo hangs on the mains
    "power.not_named",  # the dummy pack stays on the shelf until somebody proposes it
}


def test_the_demo_holds_a_true_example_of_every_call_out(demo: JobFile) -> None:
    codes = {
        f.code
        for _, _, _, judged in evaluate_job(demo.job, catalogue_of(demo))
        for f in judged.findings
        if f.level > Level.CLEAR
    }
    assert codes == set(CALL_OUTS) - NOT_IN_THE_DEMO


def test_one_body_is_in_two_builds(demo: JobFile) -> None:
    shoulder, gimbal = demo.job.planned("acts-1-2", "stage-rail"), demo.job.planned("act-3", "stage-rail")
    assert shoulder.body == gimbal.body
    assert shoulder.id != gimbal.id


def test_things_on_the_gimbals_handle_are_carried_but_no_payload(demo: JobFile) -> None:
    with_monitor = bench(demo, "act-3", "dock-floor", Disconnect(cable="HDMI-3")).stand.carried
    without = bench(demo, "act-3", "dock-floor", Disconnect(cable="HDMI-3"), Detach(unit="PIN-2")).stand.carried
    assert with_monitor.payload.mass_g == without.payload.mass_g
    assert with_monitor.total.mass_g == pytest.approx(without.total.mass_g + 92 + 565)


def test_a_cg_measured_to_the_wrong_side_is_called_out(demo: JobFile) -> None:
    at = bench(demo, "dress", "dock-floor")
    assert level(at, "mass.cg_outside") is None
    units = {**at.catalogue.units, "PACK-02": replace(at.catalogue.units["PACK-02"], measured_cg_mm=(140.0, 0.0, 0.0))}
    judged = quick_of(
        at.build, Catalogue(at.catalogue.interfaces, at.catalogue.models, units), at.stand.conditions, at.settings
    )
    found = next(f for f in judged.findings if f.code == "mass.cg_outside")
    assert found.about.units == ("PACK-02",)
    assert found.value == pytest.approx(140 - at.catalogue.model_of("PACK-02").bounds[1][0])


def test_payload_is_judged_against_the_rating(gimbal: Bench) -> None:
    mass_g = gimbal.stand.carried.payload.mass_g
    for limit, expected in ((mass_g - 1, Level.STOP), (mass_g * 1.05, Level.WATCH), (mass_g * 1.5, Level.CLEAR)):
        assert level(with_gimbal(gimbal, limit, 0), "gimbal.payload") is expected
    assert level(with_gimbal(gimbal, mass_g * 2, mass_g + 1), "gimbal.payload_low") is Level.WATCH


def with_gimbal(at: Bench, most_g: float, least_g: float) -> Bench:
    models = dict(at.catalogue.models)
    old = models["bight-g3"]
    assert old.gimbal
    models["bight-g3"] = replace(old, gimbal=replace(old.gimbal, max_payload_g=most_g, min_payload_g=least_g))
    catalogue = Catalogue(at.catalogue.interfaces, models, at.catalogue.units)
    return Bench(quick_of(at.build, catalogue, at.stand.conditions, at.settings).stand)


def test_under_the_rating_is_not_balanceable_and_sliding_the_plate_cures_it(gimbal: Bench) -> None:
    assert level(gimbal, "gimbal.payload") is Level.CLEAR
    assert level(gimbal, "gimbal.travel.fore_aft") is Level.STOP
    finding = next(f for f in gimbal.quick.findings if f.code == "gimbal.travel.fore_aft")
    best = remedies(gimbal, finding)[0]
    assert best.clears
    assert isinstance(best.operations[0], SlideTo)
    assert best.effect.mass_g == 0


@pytest.mark.parametrize(
    ("part", "rig", "code"),
    [
        ("act-3", "stage-rail", "gimbal.travel.fore_aft"),
        ("dress", "caisson", "lens.circle"),
        ("dress", "stage-rail", "power.over_voltage"),
        ("dress", "dock-floor", "power.unfed"),
        ("acts-1-2", "caisson", "power.hours"),
        ("dress", "dock-floor", "gimbal.clearance.tilt"),
        ("act-3", "stage-rail", "gimbal.zoom"),
    ],
)
def test_remedies_do_what_they_promised_when_applied(demo: JobFile, part: str, rig: str, code: str) -> None:
    before = bench(demo, part, rig)
    finding = next(f for f in before.whole.findings if f.code == code)
    found = remedies(before, finding)
    assert found, f"nothing helps against {finding.text}"
    for remedy in found:
        after = bench(demo, part, rig, *remedy.operations)
        left = {f.key: f.level for f in after.whole.findings}.get(finding.key, Level.CLEAR)
        assert left < finding.level
        assert remedy.clears == (left < Level.WATCH)
        assert after.whole.counts["stops"] == remedy.effect.stops_after
        assert after.stand.carried.total.mass_g == pytest.approx(
            before.stand.carried.total.mass_g + remedy.effect.mass_g
        )


def test_a_part_that_does_not_mate_is_cured_by_the_adapter(demo: JobFile) -> None:
    wrong = bench(demo, "dress", "quay", Attach(unit="RX-2", unit_port="foot", onto="CAGE-1", onto_port="left"))
    finding = next(f for f in wrong.quick.findings if f.code == "fit.interface")
    assert any("SHOE-1" in remedy.title and remedy.clears for remedy in remedies(wrong, finding))


def test_candidates_fit_are_free_and_their_effect_is_true(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    found = candidates(quay, "CAGE-1", "left")
    assert found
    for candidate in found:
        assert candidate.unit not in quay.taken
        assert candidate.effect
        after = bench(demo, "dress", "quay", *candidate.operations)
        assert level(after, "fit.interface") is None
        assert after.stand.carried.total.mass_g == pytest.approx(
            quay.stand.carried.total.mass_g + candidate.effect.mass_g
        )


def test_what_another_camera_has_is_shown_with_its_name(demo: JobFile) -> None:
    found = {m.unit: m for m in misfits(bench(demo, "dress", "quay"), "CAGE-1", "left")}
    assert found["ARM-1"].reason == "in Caisson (full) until Fri 22:00"
    assert str(found["RX-2"].adapter) == "SHOE-1"


def test_an_outlet_offers_cables_with_the_way_they_run(demo: JobFile) -> None:
    found = candidates(bench(demo, "dress", "dock-floor"), "SWAP-2", "tap-2")
    links = [op for c in found for op in c.operations if isinstance(op, Connect)]
    assert ("MON7-2", "dc") in {(op.to_unit, op.to_port) for op in links}
    assert all((op.from_unit, op.from_port) == ("SWAP-2", "tap-2") for op in links)


def test_free_ports_lose_what_is_attached(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    assert ("CAGE-1", "left") in {(u, p.id) for u, p in free_ports(quay.stand.assembly)}
    after = bench(demo, "dress", "quay", Attach(unit="CW-1", unit_port="screw", onto="CAGE-1", onto_port="left"))
    assert ("CAGE-1", "left") not in {(u, p.id) for u, p in free_ports(after.stand.assembly)}


@pytest.mark.parametrize(
    ("operation", "error", "says"),
    [
        (
            Attach(unit="PACK-01", unit_port="wedge", onto="C6-1", onto_port="rear"),
            NotAllowed,
            "PACK-01 is already in this build",
        ),
        (Attach(unit="TR-2", unit_port="a", onto="SWAP-1", onto_port="tap-2"), NotAllowed, "TR-2 is a cable"),
        (
            Connect(cable="CW-1", from_unit="SWAP-1", from_port="tap-2", to_unit="MON7-1", to_port="dc"),
            NotAllowed,
            "CW-1 is no cable",
        ),
        (Detach(unit="C6-1"), NotAllowed, "C6-1 is the body that the build starts from"),
        (Detach(unit="ARM-1"), NoSuchUnit, "There is no unit 'ARM-1' mounted in this build"),
        (
            Move(unit="CAGE-1", unit_port="to-body", onto="MON7-1", onto_port="foot"),
            NotAllowed,
            "a part cannot be mounted on what it carries",
        ),
        (SlideTo(unit="CAGE-1", to_mm=5), NotAllowed, "neither end of that joint has a rail"),
        (Turn(unit="ZOOM-2"), NotAllowed, "in one turn only, 0°"),
        (Adjust(unit="C6-1", area="huge"), NotAllowed, "it has: full, super, small"),
        (Adjust(unit="ZOOM-2", focal_mm=50), NotAllowed, "goes from 100 to 400 mm; 50 mm is outside"),
    ],
)
def test_edits_that_make_no_sense_are_refused(
    demo: JobFile, operation: Operation, error: type[Exception], says: str
) -> None:
    with pytest.raises(error) as caught:
        apply(demo.job.planned("dress", "quay"), operation, catalogue_of(demo))
    assert says in str(caught.value)


def test_slides_stop_at_their_ends_and_stripping_leaves_the_body(demo: JobFile) -> None:
    build, catalogue = demo.job.planned("dress", "quay"), catalogue_of(demo)
    slid = apply(build, SlideTo(unit="HEAD-1", to_mm=500), catalogue).joint_of("HEAD-1")
    assert slid
    assert slid.slide_mm == 40
    assert apply(build, Strip(), catalogue).units == ("C6-1",)


def test_a_part_without_mass_and_a_gimbal_without_camera_are_named(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay", Attach(unit="TIME-1", unit_port="foot", onto="CAGE-1", onto_port="left"))
    assert level(quay, "mass.missing") is Level.WATCH


@pytest.mark.parametrize("torque", [0, -1])
def test_a_motor_without_torque_is_refused(demo: JobFile, torque: float) -> None:
    old = catalogue_of(demo).models["bight-g3"]
    assert old.gimbal
    with pytest.raises(ImpossibleModel, match=r"tilt.*above zero"):
        replace(old, gimbal=replace(old.gimbal, torque_nm=(torque, 1, 1)))


def test_contradicting_models_are_refused() -> None:
    with pytest.raises(ValueError, match="stands twice"):
        model("m", 1, (0, 0, 0), port("a", "screw", "male"), port("a", "screw", "male"))
    with pytest.raises(ValueError, match="length 1 and are square"):
        model("m", 1, (0, 0, 0), port("a", "screw", "male", (0, 0, 0), X, X))


def test_the_drawing_is_the_rig(demo: JobFile) -> None:
    """Every mounted unit is drawn in every view, side and top share x, and the CG stands where it is computed."""
    judged = bench(demo, "dress", "quay").quick
    side, front, top = elevations(judged.stand)
    x, y, z = judged.stand.carried.payload.cg_mm
    assert side.cg == pytest.approx((-x, z), abs=0.01)
    assert front.cg == pytest.approx((y, z), abs=0.01)
    assert top.cg == pytest.approx((-x, -y), abs=0.01)
    shaped = {u for u in judged.stand.assembly.parts if judged.stand.assembly.catalogue.model_of(u).shapes}
    for view in (side, front, top):
        assert {o.unit for o in view.outlines} == shaped
    assert side.bounds[0] == top.bounds[0]
    assert side.bounds[2] == top.bounds[2]


def test_models_of_the_demo(demo: JobFile) -> None:
    kinds = {m.kind for m in demo.models}
    assert len(demo.models) >= 40
    assert len(demo.units) >= 60
    assert {
        "body",
        "lens",
        "lens adapter",
        "cage",
        "rods",
        "handle",
        "arm",
        "monitor",
        "receiver",
        "microphone",
        "battery plate",
        "pack",
        "matte box",
        "filter",
        "gimbal",
        "head",
        "shoulder pad",
    } <= kinds
    assert all(isinstance(m, GearModel) and (m.shapes or m.is_cable or m.stand) for m in demo.models)
