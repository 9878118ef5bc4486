"""Jobs made and edited on a real PostgreSQL: what is read is what was said, nothing is lost or half done."""

from __future__ import annotations

import threading
from dataclasses import replace
from datetime import date, datetime

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lift_crate.core.errors import LiftCrateError
from lift_crate.core.job.edits import (
    AddBuild,
    AddCamera,
    AddPart,
    ChangeCamera,
    ChangeJob,
    ChangePart,
    JobRefused,
    PlanBuild,
    PutThing,
    RemoveBuild,
    RemoveCamera,
    RemovePart,
    SetPlace,
    SetSettings,
    SetWalk,
)
from lift_crate.core.job.job import NotInJob
from lift_crate.core.job.venue import Spot, Thing
from lift_crate.core.rig.edits import SlideTo, Strip
from lift_crate.formats.job_file import JobFile
from lift_crate.store.builds import BuildStore
from lift_crate.store.errors import GearExists, GearInUse, NothingToUndo, StaleJob, StaleShelf, UnitTaken
from lift_crate.store.frame import FrameStore
from lift_crate.store.jobs import JobStore
from lift_crate.store.shelf import ShelfStore
from tests.core.job.test_edits import operations
from tests.kit import examples

JOB = "dry-dock-opera"


@pytest.fixture
def frames(jobs: JobStore) -> FrameStore:
    return FrameStore(jobs)


def anew(jobs: JobStore) -> JobStore:
    """A server that remembers nothing."""
    return JobStore(jobs.pool)


def taken_by(jobs: JobStore, unit: str) -> list[tuple[str, str | None]]:
    with jobs.pool.connection() as connection:
        rows = connection.execute("SELECT part_id, build_id FROM claim WHERE unit_id = %s", [unit]).fetchall()
    return sorted((row["part_id"], row["build_id"]) for row in rows)


def test_a_job_is_made_edited_undone_and_done_again(frames: FrameStore) -> None:
    name = frames.make("Night boats", date(2027, 5, 3), "Europe/Lisbon")
    first = frames.read(name)
    assert (first.version, first.can_undo) == (1, None)
    night = AddPart(label="Night", starts=datetime(2027, 5, 3, 20), ends=datetime(2027, 5, 4, 1))  # noqa: DTZ001
    done = frames.edit(name, 1, [night], "ada")
    assert [p.id for p in done.job.parts] == ["day-1", "night"]
    undone = frames.undo(name, done.version, "ben", anyway=True)
    assert undone.job == first.job
    assert (undone.can_undo, undone.can_redo) == (None, "Add Night")
    redone = frames.redo(name, undone.version, "ada")
    assert redone.job == done.job
    assert [(e.kind, e.actor) for e in frames.history(name)] == [("redo", "ada"), ("undo", "ben"), ("do", "ada")]
    with pytest.raises(NothingToUndo, match="on this job"):
        frames.redo(name, redone.version, "ada")


def test_a_new_job_counts_with_what_another_has_learnt(frames: FrameStore) -> None:
    first = frames.make("First night", date(2027, 5, 3), "UTC")
    counted = frames.read(first).job.settings
    learnt = replace(counted, joint_min={**counted.joint_min, "screw": 2.25})
    frames.edit(first, 1, [SetSettings(settings=learnt)], "ada")
    later = frames.make("Second night", date(2027, 6, 3), "UTC", first)
    assert frames.read(later).job.settings == learnt
    assert frames.read(frames.make("Third", date(2027, 6, 3), "UTC")).job.settings == counted
    with pytest.raises(NotInJob):
        frames.make("Fourth", date(2027, 6, 3), "UTC", "nothing")


@given(data=st.data())
@settings(max_examples=examples(12), deadline=None, suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_what_is_read_is_what_the_edits_make(
    frames: FrameStore, jobs: JobStore, demo: JobFile, data: st.DataObject
) -> None:
    """Over random edits: a server that remembers nothing reads the job that the core computed, and the
    claims are those of its plan.
    """
    jobs.import_file(demo, replace_job=True)
    state = frames.read(JOB)
    for _ in range(data.draw(st.integers(3, 8))):
        operation = data.draw(operations(state.job))
        try:
            state = frames.edit(JOB, state.version, [operation], "ada")
        except LiftCrateError:
            now = anew(jobs).read(JOB)[0]
            assert (replace(now, plan=()), set(now.plan)) == (replace(state.job, plan=()), set(state.job.plan))
            continue
        read, _, versions = anew(jobs).read(JOB)
        assert replace(read, plan=()) == replace(state.job, plan=())
        assert set(read.plan) == set(state.job.plan)
        assert set(versions) == {b.id for r in read.rigs for b in r.builds}
        with jobs.pool.connection() as connection:
            claims = connection.execute(
                "SELECT part_id, build_id, unit_id FROM claim WHERE job_id = %s AND build_id IS NOT NULL", [JOB]
            ).fetchall()
        planned = {
            (part.id, build.id, unit)
            for part in read.parts
            for _, build in read.builds_in(part.id).values()
            for unit in build.units
        }
        assert {(c["part_id"], c["build_id"], c["unit_id"]) for c in claims} == planned


def test_undo_brings_a_removed_camera_back_with_its_builds_and_leaves_the_bench_alone(
    frames: FrameStore, builds: BuildStore
) -> None:
    before = frames.read(JOB)
    removed = frames.edit(JOB, before.version, [RemoveCamera(rig="caisson")], "ada")
    with pytest.raises(NotInJob):
        builds.read(JOB, "caisson-full")
    quay = builds.edit(JOB, "quay-full", builds.read(JOB, "quay-full").version, (Strip(),), "ben")
    back = frames.undo(JOB, removed.version, "ada")
    assert back.job.rig("caisson") == before.job.rig("caisson")
    assert set(back.job.plan) == set(before.job.plan)
    assert back.job.build("quay-full")[1] == quay.build, "what was done on the Bench meanwhile stays"
    assert builds.read(JOB, "quay-full").version == quay.version


def test_a_stale_edit_tells_what_happened_and_two_at_once_leave_one(frames: FrameStore) -> None:
    version = frames.read(JOB).version
    outcome: list[str] = []

    def rename(title: str) -> None:
        try:
            frames.edit(JOB, version, [ChangeJob(title=title)], title)
            outcome.append("done")
        except StaleJob as stale:
            outcome.append(str(stale))

    threads = [threading.Thread(target=rename, args=(name,)) for name in ("ada", "ben")]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert outcome.count("done") == 1
    assert any("Change the job: title" in said and "Your edit was not made" in said for said in outcome)


def test_a_build_edit_and_a_job_edit_at_once_are_both_there(frames: FrameStore, builds: BuildStore) -> None:
    """The one takes the build's row first, the other the job's; whoever crosses is made again."""
    version, build = frames.read(JOB).version, builds.read(JOB, "quay-full")
    first, wrong = build.version, list[Exception]()

    def frame() -> None:
        try:
            at = version
            for i in range(8):
                at = frames.edit(JOB, at, [ChangeCamera(rig="quay", position=f"place {i}")], "ada").version
        except Exception as error:
            wrong.append(error)

    def bench() -> None:
        try:
            at = first
            for i in range(8):
                at = builds.edit(JOB, "quay-full", at, (SlideTo(unit="HEAD-1", to_mm=i),), "ben").version
        except Exception as error:
            wrong.append(error)

    threads = [threading.Thread(target=frame), threading.Thread(target=bench)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert not wrong
    job, _, versions = anew(frames.jobs).read(JOB)
    assert job.rig("quay").position == "place 7"
    assert versions["quay-full"] == first + 8
    slid = job.build("quay-full")[1].joint_of("HEAD-1")
    assert slid is not None
    assert slid.slide_mm == 7


def test_a_unit_in_use_in_another_job_refuses_the_whole_edit(frames: FrameStore, jobs: JobStore) -> None:
    day = frames.read(JOB).job.parts[0].starts
    name = frames.make("Beside", day.date(), "UTC")
    before = frames.read(name).job
    with pytest.raises(UnitTaken, match="C6-1"):
        frames.edit(name, 1, [ChangeJob(title="Other"), AddCamera(label="Quay", body="C6-1")], "ada")
    assert anew(jobs).read(name)[0] == before
    moved = frames.edit(name, 1, [RemovePart(part="day-1"), AddCamera(label="Quay", body="C6-1")], "ada")
    assert moved.job.plan == ()
    with pytest.raises(UnitTaken):
        frames.edit(
            name,
            moved.version,
            [
                AddPart(label="Same", starts=day, ends=frames.read(JOB).job.parts[0].ends),
                PlanBuild(rig="quay", part="same", build="quay-full"),
            ],
            "ada",
        )


def test_removing_frees_the_gear_and_bringing_back_takes_it_again(frames: FrameStore, jobs: JobStore) -> None:
    before, held = frames.read(JOB).job, taken_by(jobs, "C6-1")
    assert held
    jobs.remove(JOB, "ada")
    assert taken_by(jobs, "C6-1") == []
    (kept,) = frames.removed()
    assert (kept["job"], kept["title"], kept["actor"]) == (JOB, before.title, "ada")
    jobs.bring_back(JOB, kept["id"], "ben")
    assert anew(jobs).read(JOB)[0] == before
    assert taken_by(jobs, "C6-1") == held
    assert frames.removed() == []
    with pytest.raises(NotInJob):
        jobs.remove("nothing", "ada")


def test_an_edit_of_a_job_that_a_file_replaced_is_not_undone(frames: FrameStore, jobs: JobStore, demo: JobFile) -> None:
    state = frames.edit(JOB, frames.read(JOB).version, [ChangeJob(title="Another")], "ada")
    jobs.import_file(demo, replace_job=True)
    now = frames.read(JOB)
    assert now.version > state.version
    assert now.can_undo is None
    with pytest.raises(StaleJob):
        frames.edit(JOB, state.version, [ChangeJob(title="x")], "ada")


def test_a_copy_stands_on_its_own_day_and_takes_no_gear_twice(frames: FrameStore) -> None:
    before = frames.read(JOB).job
    with pytest.raises(UnitTaken):
        frames.copy(JOB, "Again", before.parts[0].starts.date())
    name = frames.copy(JOB, "Again", date(2027, 6, 1))
    copy = frames.read(name).job
    assert (copy.title, [r.id for r in copy.rigs]) == ("Again", [r.id for r in before.rigs])
    assert [f"{p.starts:%H:%M}" for p in copy.parts] == [f"{p.starts:%H:%M}" for p in before.parts]
    assert copy.parts[0].starts.date() == date(2027, 6, 1)
    assert copy.rigs[0].builds == before.rigs[0].builds


def test_archived_and_earlier_states(frames: FrameStore, jobs: JobStore) -> None:
    frames.archive(JOB, archived=True)
    assert [(row["id"], row["archived"], row["cameras"]) for row in jobs.list_jobs()] == [(JOB, True, 4)]
    with pytest.raises(NotInJob):
        frames.archive("nothing", archived=True)


def test_a_build_that_was_removed_and_comes_again_goes_on_with_its_versions(
    frames: FrameStore, builds: BuildStore
) -> None:
    state = frames.edit(JOB, frames.read(JOB).version, [AddBuild(rig="quay", label="light", copy_of="quay-full")], "a")
    name = state.job.rig("quay").builds[-1].id
    edited = builds.edit(JOB, name, builds.read(JOB, name).version, (Strip(),), "ben")
    gone = frames.edit(JOB, state.version, [RemoveBuild(build=name)], "a")
    frames.undo(JOB, gone.version, "a")
    again = builds.read(JOB, name)
    assert again.build == edited.build
    assert again.version > edited.version


def test_what_a_judge_refuses_is_not_saved(frames: FrameStore, jobs: JobStore) -> None:
    before = frames.read(JOB)

    def no(*_: object) -> None:
        raise JobRefused("Not like this.")

    with pytest.raises(JobRefused):
        frames.edit(JOB, before.version, [ChangePart(part=before.job.parts[0].id, label="x")], "ada", no)
    assert anew(jobs).read(JOB)[0] == before.job


def test_units_in_series_and_removal(jobs: JobStore) -> None:
    shelf = ShelfStore(jobs)
    assert shelf.add_units("quillon-weight-100", "CWX-09", 3, "hired", "ada") == ["CWX-09", "CWX-10", "CWX-11"]
    with pytest.raises(GearExists, match="CWX-11"):
        shelf.add_units("quillon-weight-100", "CWX-11", 2, "owned", "ada")
    assert "CWX-12" not in shelf.catalogue().units, "none of a series is added when one is there"
    seen = shelf.last_change("unit", "CWX-09")
    shelf.remove_unit("CWX-09", "ada", seen=seen)
    assert "CWX-09" not in shelf.catalogue().units
    assert [c.title for c in shelf.history("unit", "CWX-09")] == ["Removed", "On the shelf"]
    with pytest.raises(StaleShelf):
        shelf.remove_unit("CWX-10", "ada", seen=0)
    for held, where in (("C6-1", "Quay"), (_charger(jobs), "charging plan")):
        with pytest.raises(GearInUse, match=where):
            shelf.remove_unit(held, "ada", seen=shelf.last_change("unit", held))


def _charger(jobs: JobStore) -> str:
    return jobs.read(JOB)[0].charging.chargers[0].unit


def test_an_edit_of_the_plan_alone_is_known_to_every_server(frames: FrameStore, jobs: JobStore) -> None:
    """Each kind of edit makes what other servers keep in memory old."""
    other = anew(jobs)
    assert other.read(JOB)[0].venue.thing("hall") is None
    state = frames.read(JOB)
    hall = Thing(id="hall", label="Hall", kind="obstacle", width_m=4, depth_m=2, height_m=3)
    for operation in (PutThing(thing=hall), SetWalk(walk_m_s=1.5), SetPlace(rig="quay", place=Spot(sees=("stage",)))):
        state = frames.edit(JOB, state.version, [operation], "ada")
        assert other.read(JOB)[0].venue == state.job.venue
        assert other.read(JOB)[0].rig("quay").place == state.job.rig("quay").place
    undone = frames.undo(JOB, state.version, "ada")
    assert other.read(JOB)[0].rig("quay").place == undone.job.rig("quay").place != Spot(sees=("stage",))
