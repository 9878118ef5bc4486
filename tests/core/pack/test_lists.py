"""The lists out and back: whatever is scanned in whatever order, every thing has one state and one place."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.pack.lists import PackStep, asked_first, last_place, lists_of, refused_step
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
NOON = datetime(2027, 3, 18, 12, tzinfo=UTC)
ACTS = ("packed", "closed", "opened", "back", "missing", "returned")
THINGS = ("C6-1", "ZOOM-2", "CASE-1", "CASE-6", "NOT-OURS-1", "+tape")
steps = st.lists(st.tuples(st.sampled_from(ACTS), st.sampled_from(THINGS), st.sampled_from(("", "CASE-1", "CASE-2"))))


@given(steps)
@settings(max_examples=examples(80))
def test_whatever_is_scanned_nothing_is_in_two_places(scans: list[tuple[Any, str, str]]) -> None:
    done: list[tuple[PackStep, str]] = []
    for minute, (act, thing, case) in enumerate(scans):
        step = PackStep(act=act, thing=thing, case=case, at=NOON + timedelta(minutes=minute))
        before = lists_of(done)
        if refused_step(JOB, SHELF, before, step):
            continue
        done.append((step, "ada"))
        now = lists_of(done)
        assert {n: t for n, t in now.things.items() if n != thing} == {
            n: t for n, t in before.things.items() if n != thing
        }, "nothing else is touched"
    lists = lists_of(done)
    assert "NOT-OURS-1" not in lists.things
    assert not {"CASE-1", "CASE-6"} & {n for n, t in lists.things.items() if t.state == "packed"}
    assert set(lists.cases) <= {case.unit for case in JOB.pack.cases}
    for name, now_ in lists.things.items():
        assert now_.state != "returned" or SHELF.unit(name).owner == "hired"
        assert now_.state != "packed" or now_.case in {case.unit for case in JOB.pack.cases}
    assert all(lists.of(name).state in ("packed", "missing") for name in lists.out)


def test_a_thing_on_a_camera_is_asked_about_and_known_by_its_last_place() -> None:
    part = next(p for p in JOB.parts if p.id == "acts-1-2")
    lists = lists_of([(PackStep(act="packed", thing="C6-1", case="CASE-1", at=NOON), "ada")])
    back = PackStep(act="back", thing="C6-1", at=part.starts)
    asked = asked_first(JOB, lists, back, {}, (), part.starts)
    assert asked == f"C6-1 is on Quay until {part.ends:%H:%M} (Acts I and II). Was it really taken off?"
    assert asked_first(JOB, lists, back, {}, (), part.ends) == ""
    assert last_place(JOB, lists, "C6-1", NOON) == "CASE-1"
    assert last_place(JOB, lists, "C6-1", part.ends) == "Quay, Acts I and II"
    packed_again = lists_of([(PackStep(act="packed", thing="C6-1", case="CASE-2", at=part.ends), "ada")])
    assert last_place(JOB, packed_again, "C6-1", part.ends + timedelta(minutes=1)) == "CASE-2"
