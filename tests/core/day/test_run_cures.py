"""What would make a run sheet fit does what it says when it is done."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.day.laid_out import lay_out, run_sheets
from lift_crate.core.day.run_cures import run_cures
from lift_crate.core.job.edits import PlanBuild, apply_to_job
from lift_crate.core.job.job import Job
from lift_crate.core.job.sound import SoundPlan
from lift_crate.core.swaps.day import days_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def missing(job: Job, day: int, late: dict[str, float]) -> int:
    sheet = run_sheets(job, SHELF, lay_out(job, SHELF), late)[day]
    return sum(t.starts is None for t in sheet.tasks)


@pytest.mark.parametrize(
    ("day", "late"), [(0, {}), (0, {"mark-through": 60.0}), (1, {}), (1, {"acts-1-2": 25.0}), (1, {"arrival": 10.0})]
)
def test_every_cure_leaves_what_it_says(day: int, late: dict[str, float]) -> None:
    before = missing(JOB, day, late)
    found = run_cures(JOB, SHELF, days_of(JOB)[day], late)
    assert (before == 0) == (found == ())
    assert [c.left for c in found] == sorted(c.left for c in found)
    for cure in found:
        assert cure.before == before > cure.left
        assert missing(apply_to_job(JOB, cure.operation, SHELF), day, late) == cure.left


def test_the_right_kinds_of_change_are_tried() -> None:
    labels = [c.label for c in run_cures(JOB, SHELF, days_of(JOB)[1])]
    assert "Audience in ends 12 min sooner" in labels
    assert "Stage rail stays in 'locked off' in Acts I and II" in labels
    assert "Loader puts the microphones on Soprano" in labels
    # A call that is too short for four cameras wants an earlier call, or more hands.
    rushed = replace(JOB, settings=replace(JOB.settings, call_min=20), sound=SoundPlan())
    kinds = [c.label for c in run_cures(rushed, SHELF, days_of(rushed)[0])]
    assert any(label.startswith("Call the crew") for label in kinds)
    idle = JOB
    for part in JOB.parts:
        for rig in JOB.rigs:
            idle = apply_to_job(idle, PlanBuild(rig=rig.id, part=part.id, build=None), SHELF)
    assert run_cures(replace(idle, sound=SoundPlan()), SHELF, days_of(idle)[0]) == ()
