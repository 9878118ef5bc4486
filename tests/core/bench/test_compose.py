"""A build proposed: nothing is claimed that cannot be done, and every position of the demo gets one without a Stop."""

from __future__ import annotations

import pytest

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.compose import Wants, grow, rank_of, starts, wanted_of
from lift_crate.core.fit.joints import port_uses
from lift_crate.core.gear.model import mates
from lift_crate.core.rig.build import Build, Catalogue, Claim, Unit
from lift_crate.core.rig.edits import Operation, Strip
from lift_crate.core.settings import Support
from lift_crate.core.stand import stand_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF: Catalogue = catalogue_of(FILE)
_MOST_STEPS = 60


def bench_of(rig: str) -> Bench:
    """As on the Bench: what the other cameras have is not free."""
    builds = FILE.job.builds_in("dress")
    found, build = builds[rig]
    taken = {
        unit: Claim(unit=unit, rig=other, build=theirs.id, until="")
        for other, (_, theirs) in builds.items()
        if other != rig
        for unit in theirs.units
    }
    conditions = FILE.job.part("dress").conditions
    return Bench(stand_of(build, SHELF, conditions, FILE.job.settings, taken, found.target))


def grown(bench: Bench, operations: tuple[Operation, ...], wants: Wants) -> tuple[Bench, list[str]]:
    given_up: set[str] = set()
    left: list[str] = []
    for _ in range(_MOST_STEPS):
        step = grow(bench.after(operations), wants, frozenset(given_up))
        if step.done:
            return bench.after(operations), left
        if step.given_up:
            given_up.add(step.given_up)
            left += [step.why] if step.why else []
        operations = (*operations, *step.operations)
    raise AssertionError("it never ends")


@pytest.mark.parametrize(
    ("rig", "support"),
    [("quay", "head"), ("caisson", "head"), ("dock-floor", "gimbal"), ("stage-rail", "shoulder")],
)
def test_every_position_of_the_demo_gets_a_build_without_a_stop(rig: str, support: Support) -> None:
    bench = bench_of(rig)
    wants = Wants(support=support)
    builds = [grown(bench, start.operations, wants)[0] for start in starts(bench)[:3]]
    best = min(builds, key=rank_of)
    assert best.whole.counts["stops"] == 0
    kinds = {SHELF.model_of(unit).kind for unit in best.build.units}
    carries = {m.support.kind for m in map(SHELF.model_of, best.build.units) if m.support}
    assert {"lens", "monitor"} <= kinds
    assert support in carries
    for after in builds:
        assert not set(after.build.units) & set(bench.taken), "only what is free"
        assert len(set(after.build.units)) == len(after.build.units)
        for joint in after.build.joints:
            parent = SHELF.model_of(joint.parent).port(joint.parent_port)
            assert mates(SHELF.model_of(joint.child).port(joint.child_port), parent), joint
        for (unit, port), users in after.stand.assembly.layout.once(port_uses).items():
            assert len(users) <= SHELF.model_of(unit).port(port).takes


def alone(units: dict[str, Unit]) -> Bench:
    """A bare body with a shelf of its own."""
    bench = bench_of("quay")
    shelf = Catalogue(SHELF.interfaces, SHELF.models, units)
    build = Build(id="bare", label="bare", body="C6-1")
    return Bench(stand_of(build, shelf, bench.stand.conditions, bench.settings, {}, bench.target))


def test_what_cannot_be_had_is_said() -> None:
    poor = {u: unit for u, unit in SHELF.units.items() if SHELF.model_of(u).kind not in ("monitor", "gimbal", "lens")}
    after, left = grown(alone(poor), (Strip(),), Wants(support="gimbal", monitor=True))
    assert "No gimbal that is free goes on this rig." in left
    assert "No monitor that is free goes on this rig." in left
    assert any("has no lens" in text for text in left)
    assert after.whole.counts["stops"] > 0
    assert starts(alone({"C6-1": SHELF.unit("C6-1")})) == []


def test_a_receiver_that_is_asked_for_is_there_linked_and_every_step_has_a_reason() -> None:
    bench = bench_of("dock-floor")
    wants = Wants(support="head", monitor=False, receiver=True)
    operations, given_up, reasons = starts(bench)[0].operations, set[str](), list[str]()
    for _ in range(_MOST_STEPS):
        step = grow(bench.after(operations), wants, frozenset(given_up))
        if step.done:
            break
        given_up |= {step.given_up} - {""}
        operations = (*operations, *step.operations)
        if step.operations:
            assert step.why
            reasons.append(step.why)
    after = bench.after(operations)
    (receiver,) = (unit for unit in after.build.units if SHELF.model_of(unit).kind == "receiver")
    assert "asked for: receiver" in reasons
    linked = any(receiver in (link.from_unit, link.to_unit) for link in after.build.links)
    assert linked or f"cable for {receiver}" in given_up, "linked, or told that no cable is free"


def test_hours_that_are_wanted_are_had_or_said_to_be_missing() -> None:
    bench = bench_of("quay")
    plain = grown(bench, starts(bench)[0].operations, Wants())[0]
    has = plain.stand.first_empty
    assert has
    asked = Wants(hours=has.hours + 0.5)
    assert wanted_of(bench, Wants(hours=0.1)) is bench, "less than the part of the day asks changes nothing"
    longer = wanted_of(bench, asked)
    assert longer.stand.conditions.untouched_h == asked.hours
    after, left = grown(longer, starts(bench)[0].operations, asked)
    first = after.stand.first_empty
    assert first
    assert first.hours >= asked.hours or any("needed without a swap" in why for why in left)
