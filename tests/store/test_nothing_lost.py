"""What is accepted can be used; what was done is kept; what is read
is of one moment; two at once never break anything.
"""

from __future__ import annotations

from collections.abc import Callable
from concurrent.futures import ThreadPoolExecutor
from dataclasses import replace
from functools import partial
from threading import Barrier, Event, Thread
from typing import Any

import pytest
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from lift_crate.core.bench.look_over import look_over
from lift_crate.core.errors import BadRig, LiftCrateError
from lift_crate.core.gear.interface import Interface
from lift_crate.core.job.job import Job, NotInJob
from lift_crate.core.rig.build import Catalogue, Conditions, Unit
from lift_crate.core.rig.edits import Attach, CarryAs, Detach, HoldBy, Operation, Replace, SlideTo, Strip, Turn
from lift_crate.core.swaps.what_if import Made
from lift_crate.formats.job_file import JobFile, dump, parse
from lift_crate.store.builds import BuildState, BuildStore
from lift_crate.store.database import job_queries, migrate, open_pool
from lift_crate.store.errors import Conflict, GearInUse, StaleEdit, StaleShelf, UnitTaken
from lift_crate.store.jobs import JobStore
from lift_crate.store.shelf import ShelfStore
from lift_crate.store.swaps import SwapStore
from tests.kit import examples

JOB = "dry-dock-opera"
WEIGHT = Attach(unit="CW-3", unit_port="screw", onto="CAGE-1", onto_port="left")


def test_a_read_is_of_one_moment_whatever_is_saved_meanwhile(
    builds: BuildStore, monkeypatch: pytest.MonkeyPatch
) -> None:
    """An edit is committed between two statements of a read: the reader sees
    all of it or nothing, never a new version of old content.
    """
    before = builds.read(JOB, "quay-full")
    links = job_queries.links
    done: list[Thread] = []

    def slow_links(connection: object, job: str) -> object:
        if not done:
            done.append(Thread(target=builds.edit, args=(JOB, "quay-full", before.version, (WEIGHT,), "ben")))
            done[0].start()
            done[0].join()
        return links(connection, job=job)

    monkeypatch.setattr(job_queries, "links", slow_links)
    other_server = BuildStore(JobStore(builds.jobs.pool))
    seen = other_server.read(JOB, "quay-full")
    assert done, "it was read from the tables"
    assert (seen.version, seen.build) == (before.version, before.build)
    with pytest.raises(StaleEdit):
        other_server.edit(JOB, "quay-full", seen.version, (Strip(),), "ada")
    assert "CW-3" in other_server.read(JOB, "quay-full").build.units


def test_what_is_kept_in_memory_is_never_another_state(builds: BuildStore, demo: JobFile) -> None:
    """A job is read from memory only while it is the same: after edits elsewhere, and after a file took its place."""
    here, there = builds.jobs, BuildStore(JobStore(builds.jobs.pool))
    for mm in (3.0, 7.0, 9.0):
        version = there.read(JOB, "quay-full").version
        there.edit(JOB, "quay-full", version, (SlideTo(unit="HEAD-1", to_mm=mm),), "ben")
        for kept, fresh in zip(here.read(JOB), JobStore(here.pool).read(JOB), strict=True):
            assert isinstance(kept, Catalogue) or kept == fresh
    edited = here.read(JOB)
    there.jobs.import_file(replace(demo, job=replace(demo.job, title="Another night")), replace_job=True)
    again = here.read(JOB)
    assert again[0].title == "Another night"
    assert again[0].build("quay-full") != edited[0].build("quay-full")
    assert again[2]["quay-full"] > edited[2]["quay-full"]


def test_what_cannot_be_judged_is_not_saved(builds: BuildStore) -> None:
    before = builds.read(JOB, "quay-full")

    def fails(state: BuildState) -> None:
        raise ZeroDivisionError(state.build.id)

    with pytest.raises(ZeroDivisionError):
        builds.edit(JOB, "quay-full", before.version, (WEIGHT,), "ada", fails)
    assert builds.read(JOB, "quay-full").version == before.version
    cable = before.build.links[0].cable
    spare = next(
        u.id
        for u in before.catalogue.shelf
        if before.catalogue.model_of(u.id).is_cable and u.id not in before.build.units
    )
    with pytest.raises(BadRig, match="a cable is replaced by a cable"):
        builds.edit(JOB, "quay-full", before.version, (Replace(unit=cable, by="CW-3"),), "ada")
    with pytest.raises(BadRig, match="a part by a part"):
        builds.edit(JOB, "quay-full", before.version, (Replace(unit="CAGE-1", by=spare),), "ada")


def everything(state: BuildState, jobs: JobStore) -> None:
    """A build can be judged, drawn, listed, exported, and read in again."""
    look_over(state.build, state.catalogue, Conditions(), state.job.settings)
    exported = jobs.export(JOB)
    assert parse(dump(exported)).job == exported.job


def judge(state: BuildState) -> None:
    look_over(state.build, state.catalogue, Conditions(), state.job.settings)


@given(data=st.data())
@settings(max_examples=examples(12), suppress_health_check=[HealthCheck.function_scoped_fixture])
def test_every_edit_that_is_accepted_leaves_a_rig_that_can_be_used_and_undone(
    data: st.DataObject, builds: BuildStore, jobs: JobStore
) -> None:
    build = data.draw(st.sampled_from([b.id for r in jobs.read(JOB)[0].rigs for b in r.builds]))
    for _ in range(4):
        state = builds.read(JOB, build)
        every, here = sorted(state.catalogue.units), list(state.build.units)
        unit = st.one_of(st.sampled_from(every), st.sampled_from(here))

        def port(unit: str, catalogue: Any = state.catalogue) -> st.SearchStrategy[str]:
            return st.sampled_from([p.id for p in catalogue.model_of(unit).ports] or ["none"])

        one, other = data.draw(unit), data.draw(st.sampled_from(here))
        operation: Operation = data.draw(
            st.one_of(
                st.builds(Attach, unit=st.just(one), unit_port=port(one), onto=st.just(other), onto_port=port(other)),
                st.builds(Detach, unit=st.just(other)),
                st.builds(Replace, unit=st.just(other), by=st.just(one)),
                st.builds(SlideTo, unit=st.just(other), to_mm=st.floats(-500, 500)),
                st.builds(Turn, unit=st.just(other)),
                st.builds(HoldBy, unit=st.sampled_from([None, one, other])),
                st.builds(CarryAs, use=st.sampled_from([None, "running", "vehicle"])),
            )
        )
        try:
            after = builds.edit(JOB, build, state.version, (operation,), "ada", judge)
        except (BadRig, UnitTaken):
            continue
        everything(after, jobs)
        undone = builds.undo(JOB, build, after.version, "ada")
        assert undone.build == state.build
        builds.redo(JOB, build, undone.version, "ada")


def test_a_mount_without_a_mass_is_judged_like_any_other(jobs: JobStore, demo: JobFile) -> None:
    _, catalogue, _ = jobs.read(JOB)
    mount = catalogue.models["grapnel-magnet"]
    build = next(
        b for r in demo.job.rigs for b in r.builds if any(catalogue.units[u].model == mount.id for u in b.units)
    )
    light = {m.id: replace(m, mass_g=None, mass_source="catalogue") for m in catalogue.models.values()}
    judged = look_over(
        build,
        replace(catalogue, models=light, units={u.id: replace(u, measured_g=None) for u in catalogue.units.values()}),
        Conditions(),
        demo.job.settings,
    )
    assert judged.counts["watches"] > 0, "every missing mass is told"


def test_a_job_that_is_replaced_keeps_its_history_its_versions_and_comes_back(
    builds: BuildStore, jobs: JobStore, demo: JobFile
) -> None:
    swaps = SwapStore(jobs)
    swaps.note(JOB, Made(slot="quay · SWAP-1 · pack", at=demo.job.parts[0].starts, pack_in="PACK-03"), "ada")
    first = builds.edit(JOB, "quay-full", 1, (WEIGHT,), "ada")
    edited = jobs.export(JOB)
    fewer = replace(
        demo,
        job=replace(
            demo.job,
            title="Second night",
            rigs=demo.job.rigs[:2],
            plan=tuple(a for a in demo.job.plan if a.rig in {r.id for r in demo.job.rigs[:2]}),
            charging=replace(demo.job.charging, walk_min={}),
        ),
    )
    jobs.import_file(fewer, replace_job=True, actor="ben")
    now = builds.read(JOB, "quay-full")
    assert now.version > first.version, "an edit of the old job is stale on the new one"
    with pytest.raises(StaleEdit, match="Replaced by a job file by ben"):
        builds.edit(JOB, "quay-full", first.version, (Strip(),), "ada")
    assert [h.title.partition(",")[0] for h in builds.history(JOB, "quay-full")] == [
        "Replaced by a job file",
        "Attach CW-3 to CAGE-1",
    ]
    assert len(swaps.of(JOB)) == 1
    kept = jobs.replaced(JOB)
    assert [(row["title"], row["actor"]) for row in kept] == [("Dry-dock opera", "ben")]
    jobs.bring_back(JOB, kept[0]["id"], "ada")
    assert jobs.export(JOB).job == edited.job
    again = builds.read(JOB, "quay-full")
    assert again.version > now.version
    left_out = next(b.id for r in demo.job.rigs[2:] for b in r.builds)
    assert builds.read(JOB, left_out).version > 1, "also what was left out goes on from where it was"
    assert [row["title"] for row in jobs.replaced(JOB)] == ["Second night", "Dry-dock opera"]
    undone = builds.undo(JOB, "quay-full", again.version, "ada")
    assert "CW-3" not in undone.build.units
    with pytest.raises(NotInJob):
        jobs.bring_back(JOB, 999_999, "ada")


def test_a_state_that_no_longer_goes_together_is_refused_whole(
    builds: BuildStore, jobs: JobStore, demo: JobFile
) -> None:
    jobs.import_file(
        replace(demo, job=replace(demo.job, rigs=(), plan=(), charging=replace(demo.job.charging, walk_min={}))),
        replace_job=True,
    )
    shelf = ShelfStore(jobs)
    cage = shelf.catalogue().models["stanchion-cage-c6"]
    shelf.put_model(replace(cage, ports=tuple(p for p in cage.ports if p.id != "bottom")), "ada", seen=0)
    with pytest.raises(GearInUse, match="has no port 'bottom'"):
        jobs.bring_back(JOB, jobs.replaced(JOB)[0]["id"], "ada")
    assert jobs.read(JOB)[0].rigs == ()


def at_once(*calls: Callable[[], object]) -> list[object]:
    """Results or errors of calls that begin together."""
    start = Barrier(len(calls))

    def one(call: Callable[[], object]) -> object:
        start.wait()
        try:
            return call()
        except LiftCrateError as error:
            return error

    with ThreadPoolExecutor(len(calls)) as threads:
        return list(threads.map(one, calls))


def test_a_job_imported_twice_at_once_is_there_once(
    new_database: Callable[..., str], templates: dict[str, str], demo: JobFile
) -> None:
    with open_pool(new_database(templates["empty"]), size=6) as pool:
        results = at_once(*[lambda: JobStore(pool).import_file(demo)] * 4)
        assert sorted(type(r).__name__ for r in results) == ["JobExists"] * 3 + ["NoneType"]
        assert len(JobStore(pool).list_jobs()) == 1


def test_new_gear_added_twice_at_once_is_there_once(jobs: JobStore) -> None:
    shelf = ShelfStore(jobs)
    results = at_once(
        *[lambda: shelf.put_unit(Unit(id="NEW-1", model="hitch-arm"), "ada")] * 4,
        *[lambda: shelf.put_interface(Interface(id="new", label="New", kind="shoe"), "ada")] * 3,
    )
    assert sum(r is None for r in results) == 2
    assert {type(r).__name__ for r in results if r is not None} == {"GearExists"}


def test_an_interface_that_somebody_changed_meanwhile_is_not_overwritten_nor_its_kind_changed_in_use(
    jobs: JobStore,
) -> None:
    shelf = ShelfStore(jobs)
    new = Interface(id="new", label="New", kind="shoe")
    shelf.put_interface(new, "ada")
    seen = shelf.last_change("interface", "new")
    shelf.put_interface(replace(new, label="Newer"), "ada", seen=seen)
    with pytest.raises(StaleShelf):
        shelf.put_interface(replace(new, label="Other"), "ben", seen=seen)
    with jobs.reading() as connection:
        used = jobs.catalogue(connection).interfaces["thread-1/4-20"]
    with pytest.raises(GearInUse, match="make a new one for another kind"):
        shelf.put_interface(replace(used, kind="shoe"), "ben", seen=0)


def test_crossed_attaches_end_with_one_told_why(builds: BuildStore, jobs: JobStore) -> None:
    """Two rigs each take one of two parts and then the other's: no deadlock is ever told as a database that is away."""
    job, catalogue, _ = jobs.read(JOB)
    taken = {unit for r in job.rigs for b in r.builds for unit in b.units} | {u for u, _, _ in job.claims_beside()}
    spare = [
        u
        for u in sorted(catalogue.units)
        if u not in taken and catalogue.model_of(u).kind in ("counterweight", "arm", "monitor", "receiver")
    ][:2]
    assert len(spare) == 2
    for _ in range(4):
        states = [builds.read(JOB, name) for name in ("quay-full", "caisson-full")]

        def take(state: BuildState, order: list[str]) -> object:
            operations = tuple(
                Attach(
                    unit=u,
                    unit_port=catalogue.model_of(u).ports[0].id,
                    onto=state.build.body,
                    onto_port=catalogue.model_of(state.build.body).ports[0].id,
                )
                for u in order
            )
            return builds.edit(JOB, state.build.id, state.version, operations, "ada")

        results = at_once(partial(take, states[0], spare), partial(take, states[1], spare[::-1]))
        assert sum(isinstance(r, BuildState) for r in results) == 1
        assert all(isinstance(r, BuildState | UnitTaken) for r in results), results
        for result in results:
            if isinstance(result, BuildState):
                builds.undo(JOB, result.build.id, result.version, "ada")


def test_thirty_editors_lose_nothing_that_was_acknowledged(builds: BuildStore, jobs: JobStore) -> None:
    done: list[int] = []

    def edit(n: int) -> None:
        for _ in range(3):
            state = builds.read(JOB, "quay-full")
            try:
                builds.edit(
                    JOB,
                    "quay-full",
                    state.version,
                    (CarryAs(use="static" if state.build.use != "static" else "walking"),),
                    f"person {n}",
                )
            except Conflict:
                continue
            done.append(n)

    with ThreadPoolExecutor(10) as threads:
        list(threads.map(edit, range(30)))
    history = builds.history(JOB, "quay-full")
    assert builds.read(JOB, "quay-full").version == 1 + len(done)
    assert len(history) == min(50, len(done))


def test_lights_and_chargers_of_the_charging_plan_are_in_one_place_too(
    builds: BuildStore, jobs: JobStore, demo: JobFile
) -> None:
    box = demo.job.charging.boxes[0]
    state = builds.read(JOB, "quay-full")
    catalogue = state.catalogue
    attach = Attach(unit=box.unit, unit_port=catalogue.model_of(box.unit).ports[0].id, onto="CAGE-1", onto_port="left")
    assert state.taken[box.unit].rig == box.label
    with pytest.raises(UnitTaken, match=box.unit):
        builds.edit(JOB, "quay-full", state.version, (attach,), "ada")
    charger = demo.job.charging.chargers[0].unit
    assert charger in state.taken
    twin = replace(
        demo.job, id="twin", title="Twin", rigs=(), plan=(), charging=replace(demo.job.charging, walk_min={})
    )
    with pytest.raises(UnitTaken):
        jobs.import_file(replace(demo, job=twin))


def test_a_job_lives_in_its_own_time_zone(
    new_database: Callable[..., str], templates: dict[str, str], demo: JobFile
) -> None:
    abroad = replace(demo, job=replace(demo.job, zone="Asia/Kathmandu"))
    assert f"{abroad.job.parts[0].starts:%H:%M %z}" == "19:45 +0545", "14:00 UTC"
    with open_pool(new_database(templates["empty"]), size=3) as pool:
        jobs = JobStore(pool)
        jobs.import_file(abroad)
        job, _, _ = jobs.read(JOB)
        assert job == abroad.job
        assert {f"{p.starts:%z}" for p in job.parts} == {"+0545"}
        assert b"+05:45" in dump(jobs.export(JOB))
        state = BuildStore(jobs).read(JOB, "quay-full")
        until = {claim.until for claim in state.taken.values()}
        assert until <= {f"{p.ends:%a %H:%M}" for p in job.parts}
    with pytest.raises(ValueError, match="no time zone"):
        Job(id="x", title="X", zone="Nowhere/Land")


def test_migrations_bring_an_old_database_with_its_data_up_to_date(
    new_database: Callable[..., str], demo: JobFile
) -> None:
    """The tables as they were before, a job in them as it was written then, and everything after that on top."""
    from importlib.resources import files

    import psycopg

    url = new_database()
    folder = files("lift_crate.store") / "migrations"
    old = sorted(f.name for f in folder.iterdir() if f.name.endswith(".sql"))[:5]
    with psycopg.connect(url) as connection:
        connection.execute(
            "CREATE TABLE schema_migration (name text PRIMARY KEY, at timestamptz NOT NULL DEFAULT now())"
        )
        for name in old:
            connection.execute((folder / name).read_bytes())
            connection.execute("INSERT INTO schema_migration (name) VALUES (%s)", (name,))
        connection.execute(
            'INSERT INTO model (id, kind, document) VALUES (\'m\', \'light\', \'{"id": "m", "kind": "light", "maker":'
            ' "M", "name": "L"}\')'
        )
        connection.execute("INSERT INTO unit (id, model_id, owner) VALUES ('LIGHT-1', 'm', 'owned')")
        connection.execute(
            "INSERT INTO job (id, title, settings, charging) VALUES ('old', 'Old', '{}', '{\"boxes\": [{\"unit\":"
            ' "LIGHT-1", "label": "Gangway", "parts": ["p"]}]}\')'
        )
        connection.execute(
            "INSERT INTO part_of_day VALUES ('old', 'p', 'P', '[2027-03-19 10:00+00, 2027-03-19 12:00+00)', '{}', '[]')"
        )
    assert migrate(url)
    with open_pool(url, size=2) as pool:
        job, _, _ = JobStore(pool).read("old")
        assert (job.zone, job.charging.boxes[0].unit) == ("UTC", "LIGHT-1")
        with pool.connection() as connection:
            claims = connection.execute("SELECT unit_id, serves FROM claim").fetchall()
        assert claims == [{"unit_id": "LIGHT-1", "serves": "Gangway"}]


def test_gear_cannot_change_under_an_edit(builds: BuildStore, jobs: JobStore) -> None:
    """A port is taken from a model while an edit that uses it is being judged:
    one of the two is refused, and the build goes together.
    """
    shelf = ShelfStore(jobs)
    cage = shelf.catalogue().models["stanchion-cage-c6"]
    without = replace(cage, ports=tuple(p for p in cage.ports if p.id != "left"))
    judging = Event()
    changed: list[object] = []

    def change() -> None:
        judging.wait()
        changed.extend(at_once(lambda: shelf.put_model(without, "ben", seen=0)))

    other = Thread(target=change)
    other.start()
    state = builds.read(JOB, "quay-full")

    def slowly(after: BuildState) -> None:
        judging.set()
        other.join(0.5)

    builds.edit(JOB, "quay-full", state.version, (WEIGHT,), "ada", slowly)
    other.join()
    assert isinstance(changed[0], GearInUse)
    after = builds.read(JOB, "quay-full")
    look_over(after.build, after.catalogue, Conditions(), after.job.settings)
