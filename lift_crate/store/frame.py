"""A job's frame: its days, cameras, builds by name, plan and settings; made, edited, undone, copied, put away."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import date, datetime, timedelta
from typing import Any, Literal

from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.gear.labels import fresh_id
from ..core.job.edits import JobOperation, apply_to_job, describe_in_job, new_job, with_frame_of
from ..core.job.job import Assignment, Job, JobRefused, NotInJob, PartOfDay, Rig
from ..core.rig.build import Build, Catalogue
from .builds import KEYS, HistoryEntry, chosen_step, whose
from .database import Connection, acting, job_queries, reading, record_queries, shelf_queries, tried_again, writing
from .errors import StaleJob
from .jobs import JobStore, add_builds, add_plan, insert_job, job_columns, last_versions, part_row, rig_row

__all__ = ["FrameState", "FrameStore", "JudgeFrame"]

_jobs = TypeAdapter(Job)
_MOST_HISTORY = 50


@dataclass(frozen=True, eq=False)
class FrameState:
    """A job as it stands, its version, and what undo and redo would do."""

    job: Job
    catalogue: Catalogue
    version: int
    can_undo: str | None
    can_redo: str | None


JudgeFrame = Callable[[Job, Job, Catalogue], None]
"""Looks at a job before and after an edit, before it is saved; what it raises ends the edit."""


def _unjudged(before: Job, after: Job, catalogue: Catalogue) -> None:
    """For who judges what he edits himself."""


_KEYS = {
    **KEYS,
    PartOfDay: lambda it: it.id,
    Rig: lambda it: it.id,
    Build: lambda it: it.id,
    Assignment: lambda it: (it.part, it.rig),
}
"""What tells the things of a job apart."""


class FrameStore:
    """Makes jobs and edits their frames."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def read(self, job_id: str) -> FrameState:
        """A job with its version; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            return self._state(connection, job, catalogue)

    def _state(self, connection: Connection, job: Job, catalogue: Catalogue) -> FrameState:
        row = job_queries.job_version(connection, job=job.id, actor=acting.get())
        undo, redo = whose(row["undo"], row["undo_by"]), whose(row["redo"], row["redo_by"])
        return FrameState(job, catalogue, row["version"], undo, redo)

    def history(self, job_id: str) -> list[HistoryEntry]:
        """The latest edits of the frame, newest first, in the job's time; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            clock = self.jobs.read_on(connection, job_id)[0].clock
            rows = list(job_queries.job_history(connection, job=job_id, most=_MOST_HISTORY))
        return [HistoryEntry(**{**row, "at": row["at"].astimezone(clock)}) for row in rows]

    @tried_again
    def make(self, title: str, day: date, zone: str, settings_of: str = "") -> str:
        """A new job of one day, with the settings of another where one is named; its id.

        Raises JobRefused, NotInJob.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            like = self.jobs.read_on(connection, settings_of)[0] if settings_of else None
            job = new_job(title, day, zone, self._ids(connection), like)
            insert_job(connection, job, {})
            return job.id

    @tried_again
    def copy(self, job_id: str, title: str, day: date) -> str:
        """A job like another, its first day moved to ``day``, its builds with the same units; the id of the copy.

        Raises NotInJob, and UnitTaken where a unit is in use then.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            job, _, _ = self.jobs.read_on(connection, job_id)
            first = min((part.starts for part in job.parts), default=None)
            made = _moved(job, (day - first.date()).days if first else 0)
            made = replace(made, id=fresh_id(title, self._ids(connection), "job"), title=title.strip() or job.title)
            insert_job(connection, made, {})
            return made.id

    def _ids(self, connection: Connection) -> set[str]:
        return {row["id"] for row in job_queries.ids(connection)}

    def archive(self, job_id: str, *, archived: bool) -> None:
        """Put a job away, or take it out again; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            if job_queries.archive(connection, job=job_id, archived=archived) is None:
                raise NotInJob("job", job_id)

    def removed(self) -> list[dict[str, Any]]:
        """Jobs that were removed: job, id of what is kept, title, actor, at."""
        with reading(self.jobs.pool) as connection:
            return sorted(job_queries.removed(connection), key=lambda row: row["at"], reverse=True)

    @tried_again
    def edit(
        self,
        job_id: str,
        version: int,
        operations: Sequence[JobOperation],
        actor: str,
        judge: JudgeFrame = _unjudged,
    ) -> FrameState:
        """Apply operations to a job at ``version`` and save it, whole or not at all.

        Raises StaleJob when it has moved on, JobRefused and NotInJob when the operations make no
        sense, UnitTaken when a unit is in use in another job then, and what ``judge`` raises.
        """
        with writing(self.jobs.pool) as connection:
            return self.edit_on(connection, job_id, version, operations, actor, judge)

    def edit_on(
        self,
        connection: Connection,
        job_id: str,
        version: int,
        operations: Sequence[JobOperation],
        actor: str,
        judge: JudgeFrame = _unjudged,
    ) -> FrameState:
        """The same together with what else is written on a connection."""
        before, catalogue = self._lock(connection, job_id, version)
        after, titles = before, []
        for operation in operations:
            titles.append(describe_in_job(operation, after))
            after = apply_to_job(after, operation, catalogue)
        judge(before, after, catalogue)
        return self._save(connection, before, after, catalogue, version, "do", "; then ".join(titles), actor)

    @tried_again
    def bring_back(self, job_id: str, version: int, to: int, actor: str, judge: JudgeFrame = _unjudged) -> FrameState:
        """Make a job's frame again what it was after an edit; what was done on the Bench stays.

        Raises NotInJob for a version that never was, StaleJob, UnitTaken, and what ``judge`` raises.
        """
        with writing(self.jobs.pool) as connection:
            before, catalogue = self._lock(connection, job_id, version)
            row = record_queries.job_at(connection, job=job_id, version=to)
            if row is None:
                raise NotInJob("earlier state of this job", str(to))
            after = with_frame_of(before, _jobs.validate_python(row["job"]))
            judge(before, after, catalogue)
            at = row["at"].astimezone(before.clock)
            title = f"Back to it as it was on {at:%-d %b %H:%M} ({row['title']} by {row['actor']})"
            return self._save(connection, before, after, catalogue, version, "do", title, actor)

    def undo(
        self, job_id: str, version: int, actor: str, judge: JudgeFrame = _unjudged, *, anyway: bool = False
    ) -> FrameState:
        """Take back the newest edit that is one's own, as ``BuildStore.undo``.

        Raises NothingToUndo, OthersStep, StaleJob, UnitTaken, and what ``judge`` raises.
        """
        return self._step(job_id, version, actor, "undo", judge, anyway=anyway)

    def undo_packing(
        self, job_id: str, version: int, actor: str, judge: JudgeFrame = _unjudged, *, anyway: bool = False
    ) -> FrameState:
        """Take the last edit back where it was one of how the gear travels; raises as ``undo``, and JobRefused, also
        where somebody else's is taken.
        """

        def only_the_packing(before: Job, after: Job, catalogue: Catalogue) -> None:
            if replace(after, pack=before.pack) != before:
                raise JobRefused("The last change of the job is none of the packing; a lead takes it back.")
            judge(before, after, catalogue)

        return self._step(job_id, version, actor, "undo", only_the_packing, anyway=anyway)

    def redo(
        self, job_id: str, version: int, actor: str, judge: JudgeFrame = _unjudged, *, anyway: bool = False
    ) -> FrameState:
        """Do again what one has undone last; raises as ``undo``."""
        return self._step(job_id, version, actor, "redo", judge, anyway=anyway)

    @tried_again
    def _step(
        self, job_id: str, version: int, actor: str, kind: Literal["undo", "redo"], judge: JudgeFrame, *, anyway: bool
    ) -> FrameState:
        with writing(self.jobs.pool) as connection:
            before, catalogue = self._lock(connection, job_id, version)
            find, state = (
                (job_queries.last_job_done, "undone") if kind == "undo" else (job_queries.first_job_undone, "done")
            )
            # What is on the Bench is not the frame's: it stays as it is, whatever a step was made on.
            step, frame = chosen_step(
                kind,
                lambda who: find(connection, job=job_id, actor=who),
                actor,
                before,
                lambda document: with_frame_of(before, _jobs.validate_python(document)),
                _KEYS,
                "job",
                anyway=anyway,
            )
            after = with_frame_of(before, frame)
            judge(before, after, catalogue)
            job_queries.set_job_edit_state(connection, job=job_id, version=step["version"], state=state)
            return self._save(connection, before, after, catalogue, version, kind, step["title"], actor)

    def _lock(self, connection: Connection, job_id: str, version: int) -> tuple[Job, Catalogue]:
        """Hold gear and the job as they are."""
        shelf_queries.share_catalogue(connection, job=job_id)
        row = job_queries.lock_job(connection, job=job_id)
        if row is None:
            raise NotInJob("job", job_id)
        job, catalogue, _ = self.jobs.read_on(connection, job_id)
        if row["version"] != version:
            since = job_queries.job_edits_since(connection, job=job_id, version=version)
            told = tuple(
                f"{'' if r['kind'] == 'do' else r['kind'] + ': '}{r['title']} by {r['actor']} at"
                f" {r['at'].astimezone(job.clock):%H:%M}"
                for r in since
            )
            raise StaleJob(job.title, told)
        return job, catalogue

    def _save(
        self,
        connection: Connection,
        before: Job,
        after: Job,
        catalogue: Catalogue,
        version: int,
        kind: str,
        title: str,
        actor: str,
    ) -> FrameState:
        write_frame(connection, before, after)
        job_queries.save_job(connection, job=after.id, version=version + 1, **job_columns(after))
        job_queries.add_job_edit(
            connection,
            job=after.id,
            version=version + 1,
            kind=kind,
            title=title,
            before=_document(before),
            after=_document(after),
            actor=actor,
        )
        return self._state(connection, after, catalogue)


def _document(job: Job) -> Jsonb:
    return Jsonb(_jobs.dump_python(job, mode="json", exclude_defaults=True))


def _moved(job: Job, days: int) -> Job:
    """A job so many days later, at the same times on its clock."""

    def on(at: datetime) -> datetime:
        return (at.replace(tzinfo=None) + timedelta(days=days)).replace(tzinfo=job.clock)

    parts = tuple(
        replace(
            part,
            starts=on(part.starts),
            ends=on(part.ends),
            moments=tuple(replace(moment, at=on(moment.at)) for moment in part.moments),
        )
        for part in job.parts
    )
    chargers = tuple(
        replace(place, open=tuple(replace(m, starts=on(m.starts), ends=on(m.ends)) for m in place.open))
        for place in job.charging.chargers
    )
    return replace(job, parts=parts, charging=replace(job.charging, chargers=chargers))


def write_frame(connection: Connection, before: Job, after: Job) -> None:
    """Parts, rigs, builds and plan of a job, as far as they differ from those of the one before."""
    job = after.id
    old_builds = {build.id: (rig.id, build) for rig in before.rigs for build in rig.builds}
    new_builds = {build.id: (rig.id, build) for rig in after.rigs for build in rig.builds}
    planned = (before.parts, before.plan, tuple(before.claims_beside())) != (
        after.parts,
        after.plan,
        tuple(after.claims_beside()),
    )
    if planned:
        # Claims follow from the plan: all are given up, then taken anew, in one transaction.
        job_queries.drop_plan(connection, job=job)
        job_queries.drop_charging_claims(connection, job=job)
    was, now = {p.id: p for p in before.parts}, {p.id: p for p in after.parts}
    if stale := [name for name, part in was.items() if now.get(name) != part]:
        job_queries.drop_parts(connection, job=job, names=stale)
    job_queries.add_part(connection, [part_row(job, p) for p in after.parts if was.get(p.id) != p])
    if gone := [name for name in old_builds if name not in new_builds]:
        job_queries.drop_builds(connection, job=job, names=gone)
    _write_rigs(connection, before, after)
    for name, (_, build) in new_builds.items():
        if name in old_builds and old_builds[name][1].label != build.label:
            job_queries.name_build(connection, [{"job": job, "id": name, "label": build.label}])
    if any(name not in old_builds for name in new_builds):
        # A build that comes again goes on from where its versions were.
        last = {build: version + 1 for build, version in last_versions(connection, job).items()}
        for rig in after.rigs:
            add_builds(connection, job, rig, [b for b in rig.builds if b.id not in old_builds], last)
    if planned:
        add_plan(connection, after)


def _write_rigs(connection: Connection, before: Job, after: Job) -> None:
    job = after.id
    was: Mapping[str, Any] = {r.id: rig_row(job, r) for r in before.rigs}
    now = {r.id: rig_row(job, r) for r in after.rigs}
    if gone := [name for name in was if name not in now]:
        job_queries.drop_rigs(connection, job=job, names=gone)
    rigs = {r.id: replace(r, builds=()) for r in before.rigs}
    changed = [r.id for r in after.rigs if r.id in rigs and rigs[r.id] != replace(r, builds=())]
    if changed:
        job_queries.free_numbers(connection, job=job, names=changed)
        job_queries.save_rig(connection, [now[name] for name in changed])
    job_queries.add_rig(connection, [row for name, row in now.items() if name not in was])
