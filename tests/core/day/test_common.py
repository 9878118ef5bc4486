"""The core of a camera: what sits at the same place all day."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.day.common import common_core
from lift_crate.core.job.edits import PlanBuild, apply_to_job
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
JOB = FILE.job


@pytest.mark.parametrize("rig", [r.id for r in JOB.rigs])
def test_the_core_is_in_every_build_at_one_place_and_the_rest_is_all_else(rig: str) -> None:
    camera = JOB.rig(rig)
    core = common_core(JOB, camera)
    planned = {b.id: b for p in JOB.parts for _, b in [JOB.builds_in(p.id)[rig]]}
    for build in planned.values():
        assert {*core.units, *core.cables} | set(core.on_top[build.id]) == set(build.units)
        assert {*core.units, *core.cables}.isdisjoint(core.on_top[build.id])
        for unit in core.units[1:]:
            seats = {(j.parent, j.parent_port) for b in planned.values() if (j := b.joint_of(unit))}
            assert len(seats) == 1
            assert next(iter(seats))[0] in core.units
    # Nothing more belongs to it: any other unit is missing or sits elsewhere in some build.
    first = next(iter(planned.values()))
    for unit in (u for u in first.units if u not in core.units and first.joint_of(u)):
        joints = [b.joint_of(unit) for b in planned.values()]
        places = {(j.child_port, j.parent, j.parent_port) if j else None for j in joints}
        parent = first.joint_of(unit).parent  # type: ignore[union-attr]  # it has one
        assert len(places) > 1 or parent not in core.units


def test_a_camera_of_two_bodies_has_no_core_and_one_build_is_all_core() -> None:
    shelf = catalogue_of(FILE)
    job = JOB
    for part in JOB.parts:
        job = apply_to_job(job, PlanBuild(rig="caisson", part=part.id, build=None), shelf)
    job = apply_to_job(job, PlanBuild(rig="caisson", part="dress", build="caisson-full"), shelf)
    alone = common_core(job, job.rig("caisson"))
    assert alone.on_top["caisson-full"] == ()
    camera = JOB.rig("caisson")
    other = replace(camera.builds[0], body="C6-1")
    two = JOB.with_build(other)
    assert common_core(two, two.rig("caisson")).units == ()
