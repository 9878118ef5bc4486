"""Whatever is done to a rig, it stays a rig that can be judged, or the edit is refused with a sentence."""

from __future__ import annotations

import math

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lift_crate.core.bench.bench import Bench, free_ports
from lift_crate.core.bench.questions import candidates
from lift_crate.core.bench.remedies import remedies
from lift_crate.core.callouts import Level
from lift_crate.core.errors import BadRig
from lift_crate.core.rig.build import Build, Claim
from lift_crate.core.rig.edits import (
    Attach,
    BendTo,
    Connect,
    Detach,
    Disconnect,
    Move,
    Operation,
    Replace,
    SlideTo,
    Strip,
    Turn,
    Wear,
    apply,
    describe,
)
from lift_crate.core.rig.layout import put_in_order
from lift_crate.core.verdict.judge import Quick
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench
from tests.kit import examples, quick_of


def operations(demo: JobFile) -> st.SearchStrategy[Operation]:
    units = st.sampled_from([u.id for u in demo.units])
    ports = st.sampled_from(sorted({p.id for m in demo.models for p in m.ports}))
    mm = st.floats(-300, 300)
    arms = {m.id: m.hinges for m in demo.models}
    return st.one_of(
        st.builds(Attach, unit=units, unit_port=ports, onto=units, onto_port=ports, slide_mm=mm),
        st.builds(Move, unit=units, unit_port=ports, onto=units, onto_port=ports),
        st.builds(Connect, cable=units, from_unit=units, from_port=ports, to_unit=units, to_port=ports),
        st.builds(Detach, unit=units),
        st.builds(Wear, unit=units),
        st.builds(Replace, unit=units, by=units),
        st.builds(SlideTo, unit=units, to_mm=mm),
        st.builds(Turn, unit=units),
        st.builds(
            BendTo,
            unit=st.sampled_from([u.id for u in demo.units if arms[u.model]]),
            hinge=st.integers(0, 2),
            to_deg=st.floats(-120, 120),
        ),
        st.builds(Disconnect, cable=units),
        st.just(Strip()),
    )


DEMO = demo_job_file()


@given(edits=st.lists(operations(DEMO), min_size=5, max_size=25))
@settings(max_examples=examples(40))
def test_blind_edits_are_refused_or_leave_a_rig(edits: list[Operation]) -> None:
    demo, catalogue = DEMO, catalogue_of(DEMO)
    build = demo.job.planned("dress", "quay")
    for operation in edits:
        try:
            build = apply(build, operation, catalogue)
        except BadRig as refusal:
            said = str(refusal)
        else:
            said = describe(operation, catalogue) + "."
        assert said.endswith(".")
        assert_sound(build, quick_of(build, catalogue, demo.job.part("dress").conditions, demo.job.settings))


@given(st.data())
@settings(max_examples=examples(12), suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_building_from_what_is_offered_never_breaks_the_rig(demo: JobFile, data: st.DataObject) -> None:
    at = bench(demo, "act-3", "stage-rail", Strip())
    for _ in range(5):
        unit, port = data.draw(st.sampled_from(free_ports(at.stand.assembly)))
        offered = candidates(at, unit, port.id)
        if not offered:
            continue
        chosen = data.draw(st.sampled_from(offered))
        build = at.build
        for operation in chosen.operations:
            assert describe(operation, at.catalogue)
            build = apply(build, operation, at.catalogue)
        judged = quick_of(build, at.catalogue, at.stand.conditions, at.settings, at.taken)
        assert_sound(build, judged)
        assert chosen.effect is None or judged.counts["stops"] == chosen.effect.stops_after
        assert not any(
            f.code in ("fit.interface", "fit.occupied", "fit.rail_full", "fit.slide", "fit.spin")
            for f in judged.findings
        )
        at = Bench(judged.stand)


def assert_sound(build: Build, judged: Quick) -> None:
    assert len(set(build.units)) == len(build.units)
    assert {joint.child for joint in put_in_order(build)} == {joint.child for joint in build.joints}
    nowhere = {link.cable for link in build.links} | set(build.on_operator)
    assert {part.unit for part in judged.stand.assembly.parts.values()} == set(build.units) - nowhere
    assert math.isfinite(judged.stand.carried.total.mass_g)
    assert judged.stand.carried.payload.mass_g <= judged.stand.carried.total.mass_g + 1e-9
    assert all(run.hours >= 0 for run in judged.stand.runs)
    assert len({f.key for f in judged.findings}) == len(judged.findings), "every finding has a name of its own"


def test_taking_everything_off_and_putting_it_back_is_the_same_rig(demo: JobFile) -> None:
    catalogue, build = catalogue_of(demo), demo.job.planned("acts-1-2", "stage-rail")
    part = demo.job.part("acts-1-2")
    again = apply(build, Strip(), catalogue)
    for j in put_in_order(build):
        attach = Attach(
            unit=j.child,
            unit_port=j.child_port,
            onto=j.parent,
            onto_port=j.parent_port,
            spin_deg=j.spin_deg,
            slide_mm=j.slide_mm,
        )
        again = apply(again, attach, catalogue)
    for k in build.links:
        again = apply(
            again,
            Connect(cable=k.cable, from_unit=k.from_unit, from_port=k.from_port, to_unit=k.to_unit, to_port=k.to_port),
            catalogue,
        )
    ours, theirs = (quick_of(b, catalogue, part.conditions, demo.job.settings) for b in (build, again))
    assert theirs.stand.carried.payload.mass_g == ours.stand.carried.payload.mass_g
    assert theirs.stand.carried.payload.cg_mm == pytest.approx(ours.stand.carried.payload.cg_mm)
    assert {f.key: f.level for f in theirs.findings} == {f.key: f.level for f in ours.findings}


BREAKS: tuple[tuple[str, str, str, tuple[Operation, ...], bool], ...] = (
    ("lens.missing", "dress", "quay", (Detach(unit="ZOOM-2"),), True),
    ("lens.support", "dress", "quay", (Detach(unit="LS-1"),), True),
    (
        "fit.rail_full",
        "dress",
        "caisson",
        (Attach(unit="MOTOR-1", unit_port="clamp", onto="RODS-2", onto_port="along", slide_mm=15),),
        True,
    ),
    (
        "fit.occupied",
        "dress",
        "quay",
        (Attach(unit="CW-1", unit_port="screw", onto="HANDLE-1", onto_port="front"),),
        True,
    ),
    (
        "gimbal.payload",
        "dress",
        "dock-floor",
        (Replace(unit="CINE-2", by="CINE-1"), Attach(unit="CW-3", unit_port="screw", onto="CAGE-3", onto_port="left")),
        True,
    ),
    (
        "power.connector",
        "dress",
        "stage-rail",
        (
            Disconnect(cable="TB-2"),
            Connect(cable="USB-1", from_unit="RPLATE-1", from_port="usb", to_unit="RX-1", to_port="dc"),
        ),
        True,
    ),
    (
        "power.loop",
        "dress",
        "stage-rail",
        (Connect(cable="TB-3", from_unit="RPLATE-1", from_port="tap-2", to_unit="RPLATE-1", to_port="pack"),),
        False,
    ),
    ("power.unfed", "dress", "quay", (Detach(unit="SWAP-1"),), True),
)


@pytest.mark.parametrize(("code", "part", "rig", "broken", "curable"), BREAKS, ids=[b[0] for b in BREAKS])
def test_what_is_broken_is_found_and_cured_from_the_shelf(
    demo: JobFile, code: str, part: str, rig: str, broken: tuple[Operation, ...], curable: bool
) -> None:
    before = bench(demo, part, rig)
    after = bench(demo, part, rig, *broken)
    known = {f.key: f.level for f in before.quick.findings}
    found = [f for f in after.quick.findings if f.code == code and f.level > known.get(f.key, Level.CLEAR)]
    assert found, f"{code} was not found"
    if curable:
        best = remedies(after, found[0])
        assert best
        rigs = [
            frozenset(after.after(remedy.operations).build.joints)
            | frozenset(after.after(remedy.operations).build.links)
            for remedy in best
        ]
        assert len(set(rigs)) == len(rigs), "two ways to one rig are one remedy"
        assert all(r.effect.levels.get(found[0].key, Level.CLEAR) < found[0].level for r in best)
        assert [r.exchanges for r in best] == sorted(r.exchanges for r in best), (
            "one that brings another Stop stands last"
        )
        assert not any(f.code == code and f.level is Level.STOP for r in best for f in r.effect.come), (
            "one Stop for another of its kind is no remedy"
        )
        assert best[0].effect.stops_after <= after.quick.counts["stops"]


def test_a_unit_in_two_rigs_is_a_stop_and_another_of_its_kind_cures_it(demo: JobFile) -> None:
    quay = bench(demo, "dress", "quay")
    taken = {**quay.taken, "MIC-1": Claim(unit="MIC-1", rig="Elsewhere", build="full", until="22:00")}
    judged = quick_of(quay.build, quay.catalogue, quay.stand.conditions, quay.settings, taken)
    finding = next(f for f in judged.findings if f.code == "share.unit_taken")
    assert finding.text == "MIC-1 is in Elsewhere (full) until 22:00."
    best = remedies(Bench(judged.stand), finding)[0]
    assert best.operations == (Replace(unit="MIC-1", by="MIC-2"),)
    assert best.clears
