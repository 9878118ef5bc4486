"""Edits of builds: one transaction each, with a version, a history, undo and redo."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime
from typing import Any, Literal

import psycopg
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.job import Job, NotInJob, Rig
from ..core.operations import Operation, apply_all, describe
from ..core.rig import Build, Catalogue, Claim, UnitSetting
from .database import build_queries
from .errors import NothingToUndo, StaleEdit, UnitTaken, translated
from .jobs import JobStore, insert_build_content

__all__ = ["BuildState", "BuildStore", "HistoryEntry"]

Connection = psycopg.Connection[dict[str, Any]]
_builds = TypeAdapter(Build)
_settings = TypeAdapter(tuple[UnitSetting, ...])
_MOST_HISTORY = 50


@dataclass(frozen=True, kw_only=True)
class HistoryEntry:
    """One edit: the version it led to, what was done, by whom, when."""

    version: int
    kind: Literal["do", "undo", "redo"]
    title: str
    actor: str
    at: datetime


@dataclass(frozen=True, eq=False)
class BuildState:
    """A build as it stands, with everything needed to judge it."""

    job: Job
    rig: Rig
    build: Build
    version: int
    catalogue: Catalogue
    taken: dict[str, Claim]
    can_undo: str | None
    can_redo: str | None


class BuildStore:
    """Reads and edits builds."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def read(self, job_id: str, build_id: str) -> BuildState:
        """A build as it stands; raises NotInJob."""
        with translated(), self.jobs.pool.connection() as connection:
            return self._read_on(connection, job_id, build_id)

    def planned(self, job_id: str, part_id: str, rig_id: str) -> str:
        """Id of the build that a rig is in, in a part of the day; raises NotInJob."""
        with translated(), self.jobs.pool.connection() as connection:
            row = build_queries.planned_build(connection, job=job_id, part=part_id, rig=rig_id)
            if row is None:
                # Reading the job tells which of the names is not there.
                return self.jobs.read_on(connection, job_id)[0].planned(part_id, rig_id).id
            return str(row["build_id"])

    def read_planned(self, job_id: str, part_id: str, rig_id: str) -> BuildState:
        """The build that a rig is in, in a part of the day; raises NotInJob."""
        with translated(), self.jobs.pool.connection() as connection:
            job, catalogue, versions = self.jobs.read_on(connection, job_id)
            return self._state(connection, job, catalogue, versions, job.planned(part_id, rig_id).id)

    def _read_on(self, connection: Connection, job_id: str, build_id: str) -> BuildState:
        return self._state(connection, *self.jobs.read_on(connection, job_id), build_id)

    def _state(self, connection: Connection, job: Job, catalogue: Catalogue, versions: dict[str, int], build_id: str) -> BuildState:
        job_id = job.id
        rig, build = job.build(build_id)
        taken = {
            row["unit"]: Claim(**row)
            for row in build_queries.claims_of_others(connection, job=job_id, rig=rig.id, build=build_id)
        }
        undo, redo = self._titles(connection, job_id, build_id)
        return BuildState(job, rig, build, versions[build_id], catalogue, taken, undo, redo)

    def _titles(self, connection: Connection, job_id: str, build_id: str) -> tuple[str | None, str | None]:
        """What undo would take back and what redo would do again."""
        key = {"job": job_id, "build": build_id}
        undo, redo = build_queries.last_done(connection, **key), build_queries.first_undone(connection, **key)
        return undo["title"] if undo else None, redo["title"] if redo else None

    def history(self, job_id: str, build_id: str) -> list[HistoryEntry]:
        """The latest edits, newest first."""
        with translated(), self.jobs.pool.connection() as connection:
            return [HistoryEntry(**row) for row in build_queries.history(connection, job=job_id, build=build_id, most=_MOST_HISTORY)]

    def edit(self, job_id: str, build_id: str, version: int, operations: tuple[Operation, ...], actor: str) -> BuildState:
        """Apply operations to the build at ``version`` and save it.

        Raises StaleEdit when the build has moved on, BadRig when the operations make
        no sense, UnitTaken when a unit is in another rig at that time. Nothing is
        changed then.
        """
        with translated(), self.jobs.pool.connection() as connection, connection.transaction():
            self._lock(connection, job_id, build_id, version)
            state = self._read_on(connection, job_id, build_id)
            after = apply_all(state.build, operations, state.catalogue)
            title = "; then ".join(describe(operation, state.catalogue) for operation in operations)
            build_queries.drop_undone(connection, job=job_id, build=build_id)
            return self._save(connection, state, after, "do", title, actor)

    def undo(self, job_id: str, build_id: str, version: int, actor: str) -> BuildState:
        """Take the last edit back; raises NothingToUndo, StaleEdit, UnitTaken."""
        return self._step(job_id, build_id, version, actor, "undo")

    def redo(self, job_id: str, build_id: str, version: int, actor: str) -> BuildState:
        """Do the last undone edit again; raises NothingToUndo, StaleEdit, UnitTaken."""
        return self._step(job_id, build_id, version, actor, "redo")

    def _step(self, job_id: str, build_id: str, version: int, actor: str, kind: Literal["undo", "redo"]) -> BuildState:
        key = {"job": job_id, "build": build_id}
        with translated(), self.jobs.pool.connection() as connection, connection.transaction():
            self._lock(connection, job_id, build_id, version)
            find, state_after, content = (
                (build_queries.last_done, "undone", "before") if kind == "undo" else (build_queries.first_undone, "done", "after")
            )
            step = find(connection, **key)
            if step is None:
                raise NothingToUndo(kind)
            state = self._read_on(connection, job_id, build_id)
            build_queries.set_edit_state(connection, **key, version=step["version"], state=state_after)
            return self._save(connection, state, _builds.validate_python(step[content]), kind, step["title"], actor)

    def _lock(self, connection: Connection, job_id: str, build_id: str, version: int) -> None:
        row = build_queries.lock_build(connection, job=job_id, build=build_id)
        if row is None:
            raise NotInJob("build", build_id)
        if row["version"] != version:
            since = build_queries.edits_since(connection, job=job_id, build=build_id, version=version)
            told = tuple(
                f"{'' if r['kind'] == 'do' else r['kind'] + ': '}{r['title']} by {r['actor']} at {r['at']:%H:%M}" for r in since
            )
            raise StaleEdit(build_id, version, row["version"], told)

    def _save(self, connection: Connection, state: BuildState, after: Build, kind: str, title: str, actor: str) -> BuildState:
        before, job_id = state.build, state.job.id
        key = {"job": job_id, "build": before.id}
        version = state.version + 1
        for unit in after.units:
            state.catalogue.unit(unit)
            if (claim := state.taken.get(unit)) and unit not in before.units:
                raise UnitTaken(unit, f" ({claim.rig}, {claim.build}, until {claim.until})")
        build_queries.drop_joints(connection, **key)
        build_queries.drop_links(connection, **key)
        build_queries.drop_units(connection, **key, units=sorted(set(before.units) - set(after.units)))
        build_queries.set_build(
            connection, **key, body=after.body, use=after.use, version=version,
            settings=Jsonb(_settings.dump_python(after.settings, mode="json", exclude_defaults=True)),
        )  # fmt: skip
        insert_build_content(connection, job_id, after, set(after.units) - set(before.units))
        build_queries.add_edit(
            connection, **key, version=version, kind=kind, title=title, state="done", actor=actor,
            before=Jsonb(_builds.dump_python(before, mode="json", exclude_defaults=True)),
            after=Jsonb(_builds.dump_python(after, mode="json", exclude_defaults=True)),
        )  # fmt: skip
        undo, redo = self._titles(connection, job_id, before.id)
        return replace(state, build=after, version=version, can_undo=undo, can_redo=redo)
