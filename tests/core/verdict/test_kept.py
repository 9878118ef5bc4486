"""What is kept in memory is what would be worked out again, and never more than was said."""

from __future__ import annotations

from dataclasses import replace
from threading import Thread
from unittest.mock import patch

from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.drawings import elevation
from lift_crate.core.errors import BadRig
from lift_crate.core.recent import Recent
from lift_crate.core.rig.build import Build, Catalogue, Claim, Conditions
from lift_crate.core.rig.edits import apply
from lift_crate.core.settings import Settings
from lift_crate.core.stand import Stands, stand_of
from lift_crate.core.verdict.judge import whole
from lift_crate.core.verdict.kept import Verdicts
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.core.rig.test_random_edits import operations
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
ASKED = [
    (build, part.conditions, rig.target)
    for part in FILE.job.parts[:2]
    for rig, build in FILE.job.builds_in(part.id).values()
]


@given(st.lists(st.integers(0, len(ASKED) - 1), min_size=4, max_size=14))
def test_a_verdict_that_is_kept_is_the_one_that_would_be_given(order: list[int]) -> None:
    kept = Verdicts(most=3)
    for i in order:
        build, conditions, target = ASKED[i]
        judged = kept.of(build, SHELF, conditions, FILE.job.settings, target)
        again = whole(stand_of(build, SHELF, conditions, FILE.job.settings, target=target))
        assert judged.findings == again.findings
        assert kept.of(replace(build), SHELF, conditions, FILE.job.settings, target) is judged, "by its value"


def test_another_build_condition_shelf_or_setting_is_another_question() -> None:
    kept, stands = Verdicts(), Stands()
    build, conditions, target = ASKED[0]
    colder = replace(conditions, temperature_c=conditions.temperature_c - 20)
    thrifty = replace(FILE.job.settings, reserve=0.4)
    leaf = next(joint.child for joint in build.joints if len(build.subtree(joint.child)) == 1)
    without = build.without((leaf,))
    asked: list[tuple[Build, Conditions, Settings]] = [
        (build, conditions, FILE.job.settings),
        (build, colder, FILE.job.settings),
        (build, conditions, thrifty),
        (without, conditions, FILE.job.settings),
    ]
    found = [kept.of(b, SHELF, c, s, target) for b, c, s in asked]
    facts = [stands.of(b, SHELF, c, s, target) for b, c, s in asked]
    assert len({id(x) for x in found}) == len({id(x) for x in facts}) == len(asked)
    hours = [min(run.hours for run in x.stand.runs) for x in found[:3]]
    assert hours[0] > hours[1]
    assert hours[0] > hours[2]
    assert [min(run.hours for run in x.runs) for x in facts[:3]] == hours


@given(data=st.data())
@settings(max_examples=examples(15))
def test_what_is_remembered_between_edits_is_what_would_be_found_anew(data: st.DataObject) -> None:
    """Power by its feeds, areas in the wind and outlines by where things are: over random
    edits they are those of a shelf of which nothing is remembered.
    """
    at = FILE.job.parts[1]
    rig, build = data.draw(st.sampled_from(list(FILE.job.builds_in(at.id).values())))
    air = [at.conditions, replace(at.conditions, temperature_c=-10.0, wind_m_s=14.0)]
    for operation in data.draw(st.lists(operations(FILE), min_size=4, max_size=12)):
        try:
            build = apply(build, operation, SHELF)
        except BadRig:
            continue
        conditions = data.draw(st.sampled_from(air))
        anew = Catalogue(SHELF.interfaces, SHELF.models, dict(SHELF.units))
        known, fresh = (
            stand_of(build, shelf, conditions, FILE.job.settings, target=rig.target) for shelf in (SHELF, anew)
        )
        assert whole(known).findings == whole(fresh).findings
        assert [(run.pack, run.hours) for run in known.runs] == [(run.pack, run.hours) for run in fresh.runs]
        with patch.object(elevation, "_drawn", Recent(0)):
            drawn_anew = elevation.elevations(fresh)
        assert elevation.elevations(known) == drawn_anew


def test_a_verdict_about_what_others_have_is_not_kept_for_who_did_not_ask() -> None:
    build, conditions, target = ASKED[0]
    unit = build.units[1]
    taken = {unit: Claim(unit=unit, rig="elsewhere", build="full", until="late")}
    kept = Verdicts()
    kept.keep(whole(stand_of(build, SHELF, conditions, FILE.job.settings, taken, target)))
    judged = kept.of(build, SHELF, conditions, FILE.job.settings, target)
    assert "share.unit_taken" not in {f.code for f in judged.findings}
    elsewhere = {"X-9": Claim(unit="X-9", rig="elsewhere", build="full", until="late")}
    seen = whole(stand_of(build, SHELF, conditions, FILE.job.settings, elsewhere, target))
    kept.keep(seen)
    assert kept.of(build, SHELF, conditions, FILE.job.settings, target) is seen


def test_many_may_ask_at_once_and_only_the_latest_stay() -> None:
    recent: Recent[int] = Recent(10)

    def ask(first: int) -> None:
        for i in range(2000):
            assert recent.of((first * i) % 37, lambda n=(first * i) % 37: n + 1) == (first * i) % 37 + 1  # type: ignore[misc]

    askers = [Thread(target=ask, args=(n,)) for n in (1, 3, 5, 7)]
    for asker in askers:
        asker.start()
    for asker in askers:
        asker.join()
    made: list[int] = []

    def again(key: int) -> int:
        made.append(key)
        return key

    for key in [*range(100, 112), *range(102, 112), 100]:
        recent.of(key, lambda key=key: again(key))  # type: ignore[misc]
    assert made == [*range(100, 112), 100]
