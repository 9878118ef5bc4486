"""Once-only moments: who has them, counted again from the plan itself."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.callouts import Level
from lift_crate.core.day.angles import angles_of
from lift_crate.core.day.table import day_table
from lift_crate.core.job.edits import (
    ChangePart,
    JobRefused,
    PlanBuild,
    PutThing,
    RemoveThing,
    SetCell,
    SetPlace,
    apply_to_job,
)
from lift_crate.core.job.job import Job, Moment
from lift_crate.core.job.venue import Thing
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def told(job: Job) -> dict[str, tuple[list[str], Level]]:
    """By moment: its cameras, the primary first, and the level of what is said."""
    seen, findings = angles_of(job, day_table(job, SHELF))
    return {m.moment.label: ([a.label for a in m.angles], f.level) for m, f in zip(seen, findings, strict=True)}


def test_the_demo_has_a_moment_with_one_camera_and_a_second_one_mends_it() -> None:
    assert told(JOB) == {
        "Cannon from the caisson": (["Caisson"], Level.WATCH),
        "Entrance over the gate": (["Dock floor", "Stage rail", "Quay"], Level.CLEAR),
        "Flood of the dock": (["Quay"], Level.WATCH),
    }
    flood = next(m for m in angles_of(JOB, day_table(JOB, SHELF))[0] if m.moment.label == "Flood of the dock")
    assert flood.hidden == ("Caisson",), "the lamp tower stands between"
    quay = JOB.rig("quay")
    assert quay.place
    both = apply_to_job(JOB, SetPlace(rig="quay", place=replace(quay.place, sees=("stage", "cannon"))), SHELF)
    cameras, level = told(both)["Cannon from the caisson"]
    assert sorted(cameras) == ["Caisson", "Quay"]
    assert level <= Level.NOTE


def test_a_camera_that_is_away_or_hidden_has_nothing_and_an_unattended_one_stands_still_and_comes_last() -> None:
    away = apply_to_job(JOB, PlanBuild(rig="caisson", part="dress", build=None), SHELF)
    assert told(away)["Cannon from the caisson"] == ([], Level.STOP)
    wall = Thing(id="wall", label="Wall", kind="obstacle", x_m=44, y_m=9, width_m=1, depth_m=8, height_m=30)
    behind = apply_to_job(JOB, PutThing(thing=wall), SHELF)
    seen, findings = angles_of(behind, day_table(behind, SHELF))
    assert (seen[0].angles, seen[0].hidden) == ((), ("Caisson",))
    assert findings[0].text.endswith("From Caisson it is hidden.")
    still = apply_to_job(JOB, SetCell(rig="dock-floor", part="acts-1-2", unattended=True), SHELF)
    seen, _ = angles_of(still, day_table(still, SHELF))
    entrance = next(m for m in seen if m.moment.label == "Entrance over the gate")
    assert (entrance.angles[-1].label, entrance.angles[-1].locked) == ("Dock floor", True)
    widths = [a.wide_m for a in entrance.angles if a.operated and a.wide_m]
    assert widths == sorted(widths), "the closest first"


def test_a_moment_about_nothing_on_the_plan_is_not_judged_and_what_it_is_about_must_be_there() -> None:
    dress = JOB.part("dress")
    plain = tuple(Moment(at=m.at, label=m.label) for m in dress.moments)
    unsaid = apply_to_job(JOB, ChangePart(part="dress", moments=plain), SHELF)
    seen, findings = angles_of(unsaid, day_table(unsaid, SHELF))
    assert (seen[0].thing, len(findings)) == ("", 2)
    wrong = tuple(replace(m, thing="nowhere") for m in dress.moments)
    with pytest.raises(JobRefused, match="no 'nowhere' on the plan"):
        apply_to_job(JOB, ChangePart(part="dress", moments=wrong), SHELF)
    gone = apply_to_job(JOB, RemoveThing(thing="cannon"), SHELF)
    assert gone.part("dress").moments[0].thing == "", "what is off the plan is not asked for any more"
