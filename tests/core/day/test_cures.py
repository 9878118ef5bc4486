"""What is planned and not there: found for every reason, and every cure that is offered cures it and harms nothing."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.exchange import exchange
from lift_crate.core.day.cures import absent, cures_of, missing_of, shortages
from lift_crate.core.day.table import day_table
from lift_crate.core.job.edits import PlanBuild, apply_to_job
from lift_crate.core.job.job import Job, JobRefused, claims_of_others, evaluate_job
from lift_crate.core.rig.build import Catalogue, Unit
from lift_crate.core.stand import stand_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job
WAYS = [(p.id, r.id, b.id) for p in JOB.parts for r in JOB.rigs for b in r.builds]


def stops(job: Job, shelf: Catalogue, part: str) -> dict[str, int]:
    return {
        rig.id: sum(f.level.name == "STOP" for f in judged.findings)
        for of, rig, _, judged in evaluate_job(job, shelf)
        if of.id == part
    }


def test_a_unit_is_absent_for_its_condition_and_outside_its_days() -> None:
    part = JOB.part("dress")
    unit = Unit(id="U", model="m", owner="hired")
    assert absent(unit, part) == ""
    assert absent(replace(unit, condition="doubtful"), part) == ""
    assert absent(replace(unit, condition="out of use"), part) == "it is out of use"
    assert absent(replace(unit, hired_from=date(2027, 3, 19), hired_until=date(2027, 3, 19)), part) == ""
    assert absent(replace(unit, hired_from=date(2027, 3, 20)), part) == "it is hired from 20 Mar"
    assert absent(replace(unit, hired_until=date(2027, 3, 18)), part) == "it is hired until 18 Mar"


def test_the_demo_is_short_of_one_lens_and_another_goes_in_its_place() -> None:
    (found,) = shortages(JOB, SHELF, day_table(JOB, SHELF))
    assert found.about.units == ("quay dress", "ZOOM-2")
    assert "it is hired from 20 Mar" in found.text
    best = cures_of(JOB, SHELF, "dress", "quay", "quay-full")[0]
    # By trying every free lens by hand.
    rig, build = JOB.builds_in("dress")["quay"]
    bench = Bench(
        stand_of(
            build,
            SHELF,
            JOB.part("dress").conditions,
            JOB.settings,
            claims_of_others(JOB, "dress", "quay"),
            JOB.target_of(rig, "dress"),
        )
    )
    free = [
        (e.effect.stops_after, e.effect.watches_after, u)
        for u in bench.on_shelf()
        if SHELF.model_of(u).kind == "lens" and (e := exchange(bench, "ZOOM-2", u)) and not e.left
    ]
    assert [(c.rig, c.unit, c.by) for c in best.changes] == [("quay", "ZOOM-2", min(free)[2])]
    job = JOB
    for operation in best.operations:
        job = apply_to_job(job, operation, SHELF)
    assert list(shortages(job, SHELF, day_table(job, SHELF))) == []
    assert job.builds_in("act-3")["quay"][1].id == "quay-full", "the other parts stay as they were"
    assert job.cell("dress", "quay").operator == "Op 1"


@given(st.sampled_from(WAYS))
@settings(max_examples=examples(25), deadline=None)
def test_whatever_is_offered_cures_it_and_brings_no_stop(way: tuple[str, str, str]) -> None:
    part_id, rig_id, build_id = way
    part, rig = JOB.part(part_id), JOB.rig(rig_id)
    missing = missing_of(JOB, SHELF, part, rig, JOB.build(build_id)[1])
    cures = cures_of(JOB, SHELF, part_id, rig_id, build_id)
    taken_by_others = [m for m in missing if m.why.endswith("has it")]
    if taken_by_others:
        with pytest.raises(JobRefused):
            apply_to_job(JOB, PlanBuild(rig=rig_id, part=part_id, build=build_id), SHELF)
    if not missing:
        assert cures == ()
    before = stops(JOB, SHELF, part_id)
    for cure in cures:
        assert {c.unit for c in cure.changes} == {m.unit for m in missing}
        takers = [c.by for c in cure.changes if c.by]
        assert len(takers) == len(set(takers))
        job = JOB
        for operation in cure.operations:
            job = apply_to_job(job, operation, SHELF)
        made = job.builds_in(part_id)[rig_id][1]
        assert missing_of(job, SHELF, part, rig, made) == ()
        after = stops(job, SHELF, part_id)
        for other in {c.rig for c in cure.changes} - {rig_id}:
            assert after[other] <= before[other]
        same = {(a.part, a.rig): a.build for a in JOB.plan if a.part != part_id}
        assert {(a.part, a.rig): a.build for a in job.plan if a.part != part_id} == same
    assert [c.changes for c in cures_of(JOB, SHELF, *way)] == [c.changes for c in cures], "the same answer every time"


def test_what_another_job_has_is_missing_and_cures_nothing() -> None:
    part, (rig, build) = JOB.part("dress"), JOB.builds_in("dress")["caisson"]
    pack = next(u for u in build.units if SHELF.model_of(u).pack)
    out = {("dress", pack): "The other show"}
    (gone,) = missing_of(JOB, SHELF, part, rig, build, out)
    assert (gone.unit, gone.why) == (pack, "'The other show' has it")
    best = cures_of(JOB, SHELF, "dress", "caisson", build.id, out)
    assert best
    instead = best[0].changes[0].by
    again = cures_of(JOB, SHELF, "dress", "caisson", build.id, {**out, ("dress", instead): "The other show"})
    assert all(instead != change.by for cure in again for change in cure.changes)
