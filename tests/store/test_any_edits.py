"""Any order of edits, undo and redo on the real database agrees with a list and a finger in it."""

from __future__ import annotations

from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lift_crate.core.errors import BadRig
from lift_crate.core.rig.build import Build
from lift_crate.core.rig.edits import Attach, Detach, Operation, SlideTo, apply
from lift_crate.formats.job_file import JobFile
from lift_crate.store.builds import BuildState, BuildStore
from lift_crate.store.errors import NothingToUndo, UnitTaken
from lift_crate.store.jobs import JobStore
from tests.kit import examples

JOB, BUILD = "dry-dock-opera", "quay-full"

edits: st.SearchStrategy[Operation] = st.one_of(
    st.builds(Detach, unit=st.sampled_from(["MIC-1", "MON7-1", "HANDLE-1", "PACK-01", "CW-1"])),
    st.builds(SlideTo, unit=st.just("HEAD-1"), to_mm=st.integers(-30, 30).map(float)),
    st.builds(
        Attach,
        unit=st.sampled_from(["CW-1", "CW-3"]),
        unit_port=st.just("screw"),
        onto=st.just("CAGE-1"),
        onto_port=st.just("left"),
    ),
    st.just(Attach(unit="ARM-1", unit_port="base", onto="CAGE-1", onto_port="left")),
)
steps = st.lists(st.one_of(edits, st.sampled_from(["undo", "redo"])), max_size=14)


class Finger:
    """The model: every build there was, and which of them is on the bench."""

    def __init__(self, first: Build) -> None:
        self.builds, self.at = [first], 0

    @property
    def now(self) -> Build:
        return self.builds[self.at]

    def edit(self, after: Build) -> None:
        self.builds = [*self.builds[: self.at + 1], after]
        self.at += 1

    def can(self, step: str) -> bool:
        return self.at > 0 if step == "undo" else self.at < len(self.builds) - 1


def carry_out(builds: BuildStore, model: Finger, state: BuildState, step: Operation | str) -> None:
    try:
        if isinstance(step, str):
            (builds.undo if step == "undo" else builds.redo)(JOB, BUILD, state.version, "ada")
        else:
            builds.edit(JOB, BUILD, state.version, (step,), "ada")
    except NothingToUndo:
        refused = ""
        assert isinstance(step, str)
        assert not model.can(step)
    except BadRig:
        refused = "no rig"
    except UnitTaken:
        refused = "taken"
    else:
        refused = ""
        if isinstance(step, str):
            assert model.can(step)
            model.at += 1 if step == "redo" else -1
        else:
            model.edit(apply(model.now, step, state.catalogue))
    assert not (refused and isinstance(step, str)), "what was saved once can be saved again"
    assert (refused == "taken") is (isinstance(step, Attach) and step.unit == "ARM-1")


@given(steps)
@settings(max_examples=examples(20), suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_the_store_agrees_with_a_list_of_builds(
    builds: BuildStore, jobs: JobStore, demo: JobFile, steps: list[Operation | str]
) -> None:
    jobs.import_file(demo, replace_job=True)
    with jobs.pool.connection() as connection:
        connection.execute("DELETE FROM edit")
    model = Finger(builds.read(JOB, BUILD).build)
    for step in steps:
        state = builds.read(JOB, BUILD)
        carry_out(builds, model, state, step)
        after = builds.read(JOB, BUILD)
        assert after.build == model.now
        assert (after.can_undo is not None, after.can_redo is not None) == (model.can("undo"), model.can("redo"))
        with jobs.pool.connection() as connection:
            rows = connection.execute(
                "SELECT DISTINCT unit_id FROM claim WHERE job_id = %s AND build_id = %s", (JOB, BUILD)
            ).fetchall()
        assert {row["unit_id"] for row in rows} == set(model.now.units), "claims follow the build, edit by edit"
