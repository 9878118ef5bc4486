"""Find anything: every kind of thing by its name, what begins with the words first, and nothing that lacks one."""

from __future__ import annotations

import pytest

from lift_crate.core.callouts import Level
from lift_crate.core.job.find import find_in_job
from lift_crate.core.job.job import evaluate_job
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)


@pytest.mark.parametrize(
    ("words", "kind", "name"),
    [
        ("quay", "camera", "1 Quay"),
        ("dress", "part of the day", "Dress rehearsal"),
        ("pack-07", "unit", "PACK-07"),
        ("iso", "setting", "ISO"),
        ("pack empty", "setting", "Charge left when a pack counts as empty, share"),
        ("full caisson", "build", "full"),
    ],
)
def test_everything_is_found_by_its_name(words: str, kind: str, name: str) -> None:
    part = next(p for p in FILE.job.parts if p.id == "dress")
    found = find_in_job(FILE.job, SHELF, part.id, {}, words, 24)
    assert (kind, name) in {(f.kind, f.name) for f in found}
    for one in found:
        text = f"{one.kind} {one.name} {one.more}".lower()
        assert all(word in text for word in words.lower().replace("-", " ").split())


def test_what_is_wrong_with_any_camera_is_found_and_units_do_not_crowd_it_out() -> None:
    wrong = {rig.id: judged.findings for part, rig, _, judged in evaluate_job(FILE.job, SHELF) if part.id == "dress"}
    found = find_in_job(FILE.job, SHELF, "dress", wrong, "stop", 24)
    stops = sum(f.level is Level.STOP for findings in wrong.values() for f in findings)
    assert [f.kind for f in found].count("Stop") == stops > 0
    assert {f.rig for f in found if f.kind == "Stop"} <= {rig.id for rig in FILE.job.rigs}
    many = find_in_job(FILE.job, SHELF, "dress", wrong, "o", 24)
    assert len(many) == 24
    assert sum(f.kind == "unit" for f in many) <= 8
    assert find_in_job(FILE.job, SHELF, "dress", wrong, "  ", 24) == []
