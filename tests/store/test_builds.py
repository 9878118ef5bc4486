"""Edits on a real PostgreSQL: versions, undo and redo, one unit in one place, nothing half-written."""

from __future__ import annotations

import threading
from collections.abc import Callable
from dataclasses import replace

import psycopg
import pytest

from lift_crate.core.errors import BadRig
from lift_crate.core.job.job import evaluate_job
from lift_crate.core.rig.edits import Adjust, Attach, Detach, GripAs, KeepPreset, Move, SlideTo, Strip
from lift_crate.formats.job_file import JobFile, catalogue_of, dump, parse
from lift_crate.store.builds import BuildStore
from lift_crate.store.database import Pool, migrate, open_pool
from lift_crate.store.errors import (
    DatabaseAway,
    GearDiffers,
    JobExists,
    NothingToUndo,
    OthersStep,
    StaleEdit,
    UnitTaken,
)
from lift_crate.store.jobs import JobStore

JOB = "dry-dock-opera"
WEIGHT = Attach(unit="CW-1", unit_port="screw", onto="CAGE-1", onto_port="left")


def test_an_edit_is_saved_with_its_version_and_can_be_taken_back_and_done_again(builds: BuildStore) -> None:
    before = builds.read(JOB, "quay-full")
    done = builds.edit(JOB, "quay-full", before.version, (WEIGHT, SlideTo(unit="HEAD-1", to_mm=5)), "ada")
    assert done.version == before.version + 1
    assert "CW-1" in done.build.units
    assert done.can_undo == "Attach CW-1 to CAGE-1, left socket; then Slide HEAD-1 to +5 mm"
    with pytest.raises(OthersStep, match="The last change is ada's"):
        builds.undo(JOB, "quay-full", done.version, "ben")
    undone = builds.undo(JOB, "quay-full", done.version, "ben", anyway=True)
    assert undone.build == before.build
    assert (undone.can_undo, undone.can_redo) == (None, done.can_undo)
    redone = builds.redo(JOB, "quay-full", undone.version, "ada")
    assert redone.build == done.build
    assert [(e.kind, e.actor) for e in builds.history(JOB, "quay-full")] == [
        ("redo", "ada"),
        ("undo", "ben"),
        ("do", "ada"),
    ]


def test_many_edits_undo_one_by_one_and_a_new_edit_ends_redo(builds: BuildStore) -> None:
    first = builds.read(JOB, "quay-full")
    states = [first]
    for mm in (5, 10, 15):
        states.append(builds.edit(JOB, "quay-full", states[-1].version, (SlideTo(unit="HEAD-1", to_mm=mm),), "ada"))
    version = states[-1].version
    for expected in reversed(states[:-1]):
        state = builds.undo(JOB, "quay-full", version, "ada")
        assert state.build == expected.build
        version = state.version
    with pytest.raises(NothingToUndo, match="nothing to undo"):
        builds.undo(JOB, "quay-full", version, "ada")
    state = builds.edit(JOB, "quay-full", version, (Strip(),), "ada")
    assert state.can_redo is None
    with pytest.raises(NothingToUndo, match="nothing to redo"):
        builds.redo(JOB, "quay-full", state.version, "ada")


def test_redo_goes_up_again_as_undo_came_down(builds: BuildStore) -> None:
    """Undo, undo, redo: the next one and not the last one that was undone."""
    states = [builds.read(JOB, "quay-full")]
    for mm in (5, 10, 15):
        states.append(builds.edit(JOB, "quay-full", states[-1].version, (SlideTo(unit="HEAD-1", to_mm=mm),), "ada"))
    version = builds.undo(JOB, "quay-full", states[-1].version, "ada").version
    version = builds.undo(JOB, "quay-full", version, "ada").version
    for expected in states[2:]:
        state = builds.redo(JOB, "quay-full", version, "ada")
        assert (state.build, state.can_undo) == (expected.build, expected.can_undo)
        version = state.version
    with pytest.raises(NothingToUndo):
        builds.redo(JOB, "quay-full", version, "ada")


def test_undo_takes_one_s_own_and_leaves_what_others_did_since(builds: BuildStore) -> None:
    first = builds.read(JOB, "quay-full")
    own = builds.edit(JOB, "quay-full", first.version, (SlideTo(unit="HEAD-1", to_mm=7),), "ada")
    assert own.build != first.build
    both = builds.edit(JOB, "quay-full", own.version, (WEIGHT,), "ben")
    undone = builds.undo(JOB, "quay-full", both.version, "ada")
    assert "CW-1" in undone.build.units
    assert next(j for j in undone.build.joints if j.child == "HEAD-1") == next(
        j for j in first.build.joints if j.child == "HEAD-1"
    )
    redone = builds.redo(JOB, "quay-full", undone.version, "ada")
    assert redone.build == both.build
    # What somebody else's work rests on is asked about; whoever says so takes the newest, whose ever it is.
    on_it = builds.edit(JOB, "quay-full", redone.version, (SlideTo(unit="HEAD-1", to_mm=9),), "ben")
    with pytest.raises(OthersStep) as asked:
        builds.undo(JOB, "quay-full", on_it.version, "ada")
    assert (asked.value.by, asked.value.title) == ("ben", "Slide HEAD-1 to +9 mm")
    assert builds.read(JOB, "quay-full").version == on_it.version
    assert builds.undo(JOB, "quay-full", on_it.version, "ada", anyway=True).build == both.build


def test_a_unit_is_taken_while_the_other_camera_is_there_and_at_no_other_time(builds: BuildStore, pool: Pool) -> None:
    """Two cameras that are never planned at the same time share a unit; from the moment that they are, it is taken."""
    state = builds.read(JOB, "quay-full")
    assert "ARM-1" in state.taken
    with pool.connection() as connection:
        parts = [r["part_id"] for r in connection.execute("SELECT part_id FROM plan WHERE rig_id = 'quay'").fetchall()]
        connection.execute("DELETE FROM plan WHERE rig_id = 'caisson' AND part_id <> %s", (parts[0],))
        connection.execute("DELETE FROM plan WHERE rig_id = 'quay' AND part_id = %s", (parts[0],))
    apart = builds.read(JOB, "quay-full")
    assert "ARM-1" not in apart.taken
    put = Attach(unit="ARM-1", unit_port="base", onto="CAGE-1", onto_port="left")
    assert "ARM-1" in builds.edit(JOB, "quay-full", apart.version, (put,), "ada").build.units


def test_a_stale_edit_is_refused_and_tells_what_happened(builds: BuildStore) -> None:
    before = builds.read(JOB, "quay-full")
    builds.edit(JOB, "quay-full", before.version, (WEIGHT,), "ada")
    with pytest.raises(StaleEdit) as caught:
        builds.edit(JOB, "quay-full", before.version, (Detach(unit="MIC-1"),), "ben")
    assert "Attach CW-1 to CAGE-1, left socket by ada" in str(caught.value)
    assert "MIC-1" in builds.read(JOB, "quay-full").build.units


def test_two_edits_at_once_leave_one(builds: BuildStore) -> None:
    version = builds.read(JOB, "quay-full").version
    outcome: list[str] = []

    def edit(mm: float) -> None:
        try:
            builds.edit(JOB, "quay-full", version, (SlideTo(unit="HEAD-1", to_mm=mm),), "someone")
            outcome.append("done")
        except StaleEdit:
            outcome.append("stale")

    threads = [threading.Thread(target=edit, args=(mm,)) for mm in (1, 2, 3, 4)]
    for thread in threads:
        thread.start()
    for thread in threads:
        thread.join()
    assert sorted(outcome) == ["done", "stale", "stale", "stale"]
    assert builds.read(JOB, "quay-full").version == version + 1


def test_a_unit_of_another_camera_is_shown_as_taken_and_refused(builds: BuildStore) -> None:
    state = builds.read(JOB, "quay-full")
    assert state.taken["ARM-1"].rig == "Caisson"
    with pytest.raises(UnitTaken, match=r"ARM-1 is in use elsewhere .*Caisson, full, until Sat 23:00"):
        builds.edit(
            JOB,
            "quay-full",
            state.version,
            (Attach(unit="ARM-1", unit_port="base", onto="CAGE-1", onto_port="left"),),
            "ada",
        )
    assert builds.read(JOB, "quay-full").build == state.build


def test_the_database_itself_refuses_a_unit_in_two_rigs(builds: BuildStore, pool: Pool) -> None:
    """Not the program: a plain INSERT is refused too, and so is planning a build that would share a unit."""
    with pytest.raises(psycopg.errors.ExclusionViolation) as caught, pool.connection() as connection:
        connection.execute(
            "INSERT INTO build_unit (job_id, build_id, unit_id) VALUES (%s, 'quay-full', 'ARM-1')", (JOB,)
        )
    assert caught.value.diag.constraint_name == "claim_one_place_at_a_time"
    state = builds.read(JOB, "rail-gimbal")
    with pool.connection() as connection:
        connection.execute("DELETE FROM plan WHERE part_id = 'act-3' AND rig_id = 'stage-rail'")
    shared = builds.edit(
        JOB,
        "rail-gimbal",
        state.version,
        (Attach(unit="MIC-1", unit_port="foot", onto="R2-1", onto_port="shoe"),),
        "ada",
    )
    assert "MIC-1" in shared.build.units, "a build that is not planned claims nothing"
    with pytest.raises(psycopg.errors.ExclusionViolation), pool.connection() as connection:
        connection.execute(
            "INSERT INTO plan (job_id, part_id, rig_id, build_id) VALUES (%s, 'act-3', 'stage-rail', 'rail-gimbal')",
            (JOB,),
        )


def test_undo_is_refused_when_the_unit_has_gone_to_another_camera(builds: BuildStore) -> None:
    caisson = builds.read(JOB, "caisson-full")
    off = builds.edit(JOB, "caisson-full", caisson.version, (Detach(unit="ARM-1"),), "ada")
    quay = builds.read(JOB, "quay-full")
    builds.edit(
        JOB,
        "quay-full",
        quay.version,
        (Attach(unit="ARM-1", unit_port="base", onto="CAGE-1", onto_port="left"),),
        "ben",
    )
    with pytest.raises(UnitTaken, match="ARM-1"):
        builds.undo(JOB, "caisson-full", off.version, "ada")
    assert builds.read(JOB, "caisson-full").version == off.version


def test_an_edit_that_makes_no_rig_changes_nothing(builds: BuildStore) -> None:
    state = builds.read(JOB, "quay-full")
    with pytest.raises(BadRig):
        builds.edit(
            JOB,
            "quay-full",
            state.version,
            (WEIGHT, Move(unit="CAGE-1", unit_port="to-body", onto="BASE-1", onto_port="screw")),
            "ada",
        )
    after = builds.read(JOB, "quay-full")
    assert (after.version, after.build) == (state.version, state.build)


def test_the_job_comes_back_figure_for_figure_in_an_empty_database(
    jobs: JobStore, demo: JobFile, new_database: Callable[[], str]
) -> None:
    raw = dump(jobs.export(JOB))
    url = new_database()
    migrate(url)
    with open_pool(url, size=2) as pool:
        other = JobStore(pool)
        other.import_file(parse(raw))
        assert dump(other.export(JOB)) == raw
        job, catalogue, _ = other.read(JOB)
    figures = [
        [
            (
                judged.stand.carried.total.mass_g,
                tuple(judged.stand.carried.payload.cg_mm),
                judged.stand.draw_w,
                [f.text for f in judged.findings],
            )
            for *_, judged in evaluate_job(j, c)
        ]
        for j, c in ((demo.job, catalogue_of(demo)), (job, catalogue))
    ]
    assert figures[0] == figures[1]


def test_an_import_is_whole_or_not_at_all(jobs: JobStore, demo: JobFile, pool: Pool) -> None:
    with pytest.raises(JobExists, match="Dry-dock opera"):
        jobs.import_file(demo)
    with pytest.raises(UnitTaken):
        jobs.import_file(replace(demo, job=replace(demo.job, id="twin", title="Twin")))
    heavier = tuple(replace(u, measured_g=9999) if u.id == "C6-1" else u for u in demo.units)
    with pytest.raises(GearDiffers, match="unit 'C6-1'"):
        jobs.import_file(replace(demo, units=heavier), replace_job=True)
    assert [row["id"] for row in jobs.list_jobs()] == [JOB]
    jobs.import_file(replace(demo, job=replace(demo.job, title="Second night")), replace_job=True)
    with pool.connection() as connection:
        kept = connection.execute("SELECT document -> 'job' ->> 'title' AS title FROM replaced_job").fetchone()
    assert kept == {"title": "Dry-dock opera"}
    assert jobs.list_jobs()[0]["title"] == "Second night"


def test_migrating_twice_changes_nothing(new_database: Callable[[], str]) -> None:
    url = new_database()
    assert migrate(url)
    assert migrate(url) == []


def test_a_database_that_is_away_has_a_message_of_its_own(builds: BuildStore, pool: Pool) -> None:
    with pool.connection() as connection, connection.cursor() as cursor:
        cursor.execute("SELECT current_database() AS name, pg_backend_pid() AS pid")
    with pytest.raises(DatabaseAway, match="Nothing was half-saved"):
        migrate("postgresql://nobody@127.0.0.1:1/none")
    assert builds.read(JOB, "quay-full").version >= 1


def test_presets_and_the_grip_are_kept_exported_and_undone(builds: BuildStore, pool: Pool) -> None:
    before = builds.read(JOB, "quay-full")
    operations = (
        Adjust(unit="C6-1", fps=50.0),
        KeepPreset(label="slow"),
        GripAs(grip="top handle, arm hanging"),
    )
    done = builds.edit(JOB, "quay-full", before.version, operations, "ada")
    # A store with nothing in memory.
    fresh = JobStore(pool)
    read = BuildStore(fresh).read(JOB, "quay-full").build
    file = fresh.export(JOB)
    assert read == done.build
    assert ([p.label for p in read.presets], read.grip) == (["slow"], "top handle, arm hanging")
    again = parse(dump(file))
    assert next(b for r in again.job.rigs for b in r.builds if b.id == "quay-full") == read
    undone = builds.undo(JOB, "quay-full", done.version, "ada")
    assert (undone.build.presets, undone.build.grip) == ((), None)
    redone = builds.redo(JOB, "quay-full", undone.version, "ada")
    assert redone.build == done.build
