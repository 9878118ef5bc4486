"""What is to be set before a part rolls, and that a tick belongs to what it said."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime

import pytest

from lift_crate.core.job.job import NotInJob
from lift_crate.core.log.before import to_set
from lift_crate.core.log.entries import LogEntry, book_of, refused_entry
from lift_crate.core.rig.build import UnitSetting
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
EMPTY = book_of(())


def tick(part: str, rig: str, unit: str, text: str) -> LogEntry:
    return LogEntry(
        id="t", kind="set", at=datetime(2027, 3, 19, 18, tzinfo=UTC), rig=rig, unit=unit, what=part, text=text
    )


def test_every_setting_of_the_builds_that_are_planned_is_told_with_what_it_was() -> None:
    rows = to_set(JOB, SHELF, "acts-1-2", EMPTY)
    planned = {rig.id: build for rig, build in JOB.builds_in("acts-1-2").values()}
    assert list(dict.fromkeys(r.rig for r in rows)) == [r.id for r in JOB.rigs if r.id in planned]
    for row in (r for r in rows if r.unit):
        assert row.unit in planned[row.rig].units
    bodies = [r.text for r in rows if r.unit == planned[r.rig].body]
    assert len(bodies) == len(planned)
    assert all("fps" in text and "ISO" in text for text in bodies), "as the job is set where nothing was said"
    first = to_set(JOB, SHELF, min(JOB.parts, key=lambda p: p.starts).id, EMPTY)
    assert all(r.was == "" for r in first), "nothing was before the first part"
    assert any(r.was == r.text for r in rows)
    with pytest.raises(NotInJob):
        to_set(JOB, SHELF, "never", EMPTY)


def test_a_tick_is_for_that_part_and_for_what_it_said() -> None:
    row = next(r for r in to_set(JOB, SHELF, "dress", EMPTY) if r.unit)
    done = book_of([(tick("dress", row.rig, row.unit, row.text), "Op 1")])
    again = next(r for r in to_set(JOB, SHELF, "dress", done) if (r.rig, r.unit) == (row.rig, row.unit))
    assert again.ticked is not None
    assert again.ticked.by == "Op 1"
    assert all(r.ticked is None for r in to_set(JOB, SHELF, "act-3", done))
    rig, build = JOB.builds_in("dress")[row.rig]
    kept = tuple(x for x in build.settings if x.unit != row.unit)
    changed = JOB.with_build(replace(build, settings=(*kept, UnitSetting(unit=row.unit, fps=47.0))))
    other = next(r for r in to_set(changed, SHELF, "dress", done) if (r.rig, r.unit) == (rig.id, row.unit))
    assert other.ticked is None, "it was set to something else"


def test_a_tick_says_of_what_and_for_which_part() -> None:
    assert "part of the day 'never'" in refused_entry(JOB, SHELF, EMPTY, tick("never", "quay", "C6-1", "24 fps"))
    assert "what was set" in refused_entry(JOB, SHELF, EMPTY, tick("dress", "quay", "C6-1", " "))
    assert refused_entry(JOB, SHELF, EMPTY, tick("dress", "quay", "C6-1", "24 fps")) == ""
