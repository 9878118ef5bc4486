"""Edits of builds: one transaction each, with a version, a history, undo and redo."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, replace
from datetime import datetime, tzinfo
from typing import Any, Literal, NamedTuple, TypeVar
from zoneinfo import ZoneInfo

from psycopg.types.json import Jsonb
from pydantic import ConfigDict, TypeAdapter

from ..core.job.job import Job, NotInJob, Rig
from ..core.recent import Recent
from ..core.rig.build import Bend, Build, Catalogue, Claim, Joint, Link, Preset, UnitSetting
from ..core.rig.edits import Operation, apply_all, describe
from ..core.three_way import Both, Key, together
from .database import (
    Connection,
    acting,
    build_queries,
    job_queries,
    reading,
    record_queries,
    shelf_queries,
    tried_again,
    writing,
)
from .errors import NothingToUndo, OthersStep, StaleEdit, UnitTaken
from .jobs import JobStore, write_build_content

__all__ = ["KEYS", "BuildState", "BuildStore", "Combine", "HistoryEntry", "Judge", "Planned", "chosen_step", "whose"]

_builds = TypeAdapter(Build)
_settings = TypeAdapter(tuple[UnitSetting, ...], config=ConfigDict(defer_build=True))
_bends = TypeAdapter(tuple[Bend, ...], config=ConfigDict(defer_build=True))
_presets = TypeAdapter(tuple[Preset, ...], config=ConfigDict(defer_build=True))
_MOST_HISTORY = 50
T = TypeVar("T")


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


class Planned(NamedTuple):
    """Names a build by where it is: that of a rig in a part of the day."""

    part: str
    rig: str


Judge = Callable[[BuildState], None]
"""Looks at a build before it is saved; what it raises ends the edit."""


def _unjudged(state: BuildState) -> None:
    """For who judges what he edits himself."""


Combine = Callable[[Build, BuildState, tuple[Operation, ...]], Build | None]
"""Given a build as it was when operations were thought out, and as it is now: the build with both, or None."""


def _never(base: Build, now: BuildState, operations: tuple[Operation, ...]) -> None:
    """For who asks what to do about every change that came between."""
    del base, now, operations


def _clock(connection: Connection, job_id: str) -> tzinfo:
    row = job_queries.zone(connection, job=job_id)
    return ZoneInfo(row["zone"] if row else "UTC")


KEYS: dict[type, Key] = {
    Joint: lambda it: it.child,
    Link: lambda it: it.cable,
    UnitSetting: lambda it: it.unit,
    Bend: lambda it: it.unit,
    Preset: lambda it: it.label,
    str: lambda it: it,
}
"""What tells the things of a build apart."""


def whose(title: str | None, by: str | None) -> str | None:
    """A step as who asks is told of it: with whose it is, where it is not his."""
    return f"{title} (by {by})" if title is not None and acting.get() and by != acting.get() else title


def chosen_step(
    kind: Literal["undo", "redo"],
    find: Callable[[str | None], dict[str, Any] | None],
    actor: str,
    now: T,
    read: Callable[[object], T],
    keys: Mapping[type, Key] = KEYS,
    what: str = "build",
    *,
    anyway: bool,
) -> tuple[dict[str, Any], T]:
    """The edit that a step takes, and what is there after it: one's own without what others did since, or, ``anyway``,
    the newest of all. Raises NothingToUndo, OthersStep.
    """
    newest = find(None)
    if newest is None:
        raise NothingToUndo(kind, what)
    step = newest if anyway else find(actor)
    if step is None:
        raise OthersStep(kind, newest["title"], newest["actor"])
    before, after = ("after", "before") if kind == "undo" else ("before", "after")
    was, becomes = read(step[before]), read(step[after])
    try:
        return step, together(was, becomes, now, keys)
    except Both:
        if anyway and step == newest:
            return step, becomes
        raise OthersStep(kind, newest["title"], newest["actor"]) from None


class BuildStore:
    """Reads and edits builds."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs
        self._taken: Recent[dict[str, Claim]] = Recent(200)

    def read(self, job_id: str, build_id: str) -> BuildState:
        """A build as it stands; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            return self._read_on(connection, job_id, build_id)

    def planned(self, job_id: str, part_id: str, rig_id: str) -> str:
        """Id of the build that a rig is in, in a part of the day; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            return self.jobs.read_on(connection, job_id)[0].planned(part_id, rig_id).id

    def read_planned(self, job_id: str, part_id: str, rig_id: str, *, steps: bool = True) -> BuildState:
        """The build that a rig is in, in a part of the day, with what undo and redo would do; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            job, catalogue, versions = self.jobs.read_on(connection, job_id)
            return self._state(connection, job, catalogue, versions, job.planned(part_id, rig_id).id, steps=steps)

    def _read_on(
        self, connection: Connection, job_id: str, build_id: str, at: Mapping[str, int] | None = None
    ) -> BuildState:
        return self._state(connection, *self.jobs.read_on(connection, job_id, at), build_id, steps=at is None)

    def _state(
        self,
        connection: Connection,
        job: Job,
        catalogue: Catalogue,
        versions: dict[str, int],
        build_id: str,
        *,
        steps: bool = True,
    ) -> BuildState:
        job_id = job.id
        rig, build = job.build(build_id)
        others = list(build_queries.claims_of_others(connection, job=job_id, rig=rig.id, build=build_id))
        until = {at: f"{at.astimezone(job.clock):%a %H:%M}" for at in {row["until"] for row in others}}
        claims = tuple(self.jobs.claim(row.pop("job"), {**row, "until": until[row["until"]]}) for row in others)
        # What was judged lately keeps its claims: those that are the same are kept once.
        taken = self._taken.of(claims, lambda: {claim.unit: claim for claim in claims})
        undo, redo = self._titles(connection, job_id, build_id) if steps else (None, None)
        return BuildState(job, rig, build, versions[build_id], catalogue, taken, undo, redo)

    def _titles(self, connection: Connection, job_id: str, build_id: str) -> tuple[str | None, str | None]:
        """What undo would take back and what redo would do again."""
        row = build_queries.steps(connection, job=job_id, build=build_id, actor=acting.get())
        return whose(row["undo"], row["undo_by"]), whose(row["redo"], row["redo_by"])

    def history(self, job_id: str, build_id: str) -> list[HistoryEntry]:
        """The latest edits, newest first, in the job's time."""
        with reading(self.jobs.pool) as connection:
            clock = _clock(connection, job_id)
            return [
                HistoryEntry(**{**row, "at": row["at"].astimezone(clock)})
                for row in build_queries.history(connection, job=job_id, build=build_id, most=_MOST_HISTORY)
            ]

    @tried_again
    def edit(
        self,
        job_id: str,
        build: str | Planned,
        version: int,
        operations: tuple[Operation, ...],
        actor: str,
        judge: Judge = _unjudged,
        combine: Combine = _never,
    ) -> BuildState:
        """Apply operations to the build at ``version`` and save it.

        ``judge`` is given the build as it would be, before anything is written; what it
        raises ends the edit. Where the build has moved on, ``combine`` says what becomes of both
        edits. Raises StaleEdit when it says nothing, BadRig when the operations make
        no sense, UnitTaken when a unit is in use elsewhere at that time. Nothing is
        changed then.
        """
        with writing(self.jobs.pool) as connection:
            build_id, at, now = self._hold(connection, job_id, build)
            state = self._read_on(connection, job_id, build_id, at)
            title = "; then ".join(describe(operation, state.catalogue) for operation in operations)
            if now == version:
                after = apply_all(state.build, operations, state.catalogue)
            else:
                stale = self._stale(connection, job_id, build_id, version, now)
                row = build_queries.as_it_was(connection, job=job_id, build=build_id, version=version)
                base = row and _builds.validate_python(row["build"])
                together = combine(base, state, operations) if base else None
                if together is None:
                    raise stale
                after, title = together, f"{title}, beside what {stale.by} did"
            self._require_free(state, after)
            judge(replace(state, build=after, version=state.version + 1, can_undo=title, can_redo=None))
            return self._save(connection, state, at["job"], after, "do", title, actor)

    def earlier(self, job_id: str, build: str | Planned, version: int) -> BuildState:
        """A build as it was after an edit, in the job as it is now; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            build_id = build if isinstance(build, str) else self.jobs.read_on(connection, job_id)[0].planned(*build).id
            state = self._read_on(connection, job_id, build_id)
            return replace(state, build=self._at(connection, job_id, state, version)[0])

    def _at(self, connection: Connection, job_id: str, state: BuildState, version: int) -> tuple[Build, str]:
        """A build as it was after an edit, and that edit in words."""
        row = record_queries.build_at(connection, job=job_id, build=state.build.id, version=version)
        if row is None:
            raise NotInJob("earlier state of this build", str(version))
        was = _builds.validate_python(row["build"])
        clock = _clock(connection, job_id)
        # What it is called and where it is planned is the job's, and stays as the job has it.
        told = f"as it was on {row['at'].astimezone(clock):%-d %b %H:%M} ({row['title']} by {row['actor']})"
        return replace(was, id=state.build.id, label=state.build.label), told

    @tried_again
    def bring_back(
        self, job_id: str, build: str | Planned, version: int, to: int, actor: str, judge: Judge = _unjudged
    ) -> BuildState:
        """Make a build again what it was after an edit; an edit like any other, which can be undone.

        Raises NotInJob for a version that never was, BadRig where it does not go together with the gear as it is now,
        StaleEdit, UnitTaken, and what ``judge`` raises.
        """
        with writing(self.jobs.pool) as connection:
            build_id, at, now = self._hold(connection, job_id, build)
            if now != version:
                raise self._stale(connection, job_id, build_id, version, now)
            state = self._read_on(connection, job_id, build_id, at)
            after, told = self._at(connection, job_id, state, to)
            self._require_free(state, after)
            judge(replace(state, build=after, version=state.version + 1))
            return self._save(connection, state, at["job"], after, "do", f"Back to it {told}", actor)

    def undo(
        self,
        job_id: str,
        build: str | Planned,
        version: int,
        actor: str,
        judge: Judge = _unjudged,
        *,
        anyway: bool = False,
    ) -> BuildState:
        """Take back the newest edit that is one's own; what others did since stays. Where nothing of one's own can go
        by itself OthersStep asks; ``anyway``: the newest is taken, whose ever it is.

        Raises NothingToUndo, OthersStep, StaleEdit, UnitTaken, and what ``judge`` raises.
        """
        return self._step(job_id, build, version, actor, "undo", judge, anyway=anyway)

    def redo(
        self,
        job_id: str,
        build: str | Planned,
        version: int,
        actor: str,
        judge: Judge = _unjudged,
        *,
        anyway: bool = False,
    ) -> BuildState:
        """Do again what one has undone last; raises as ``undo``."""
        return self._step(job_id, build, version, actor, "redo", judge, anyway=anyway)

    @tried_again
    def _step(
        self,
        job_id: str,
        build: str | Planned,
        version: int,
        actor: str,
        kind: Literal["undo", "redo"],
        judge: Judge,
        *,
        anyway: bool,
    ) -> BuildState:
        with writing(self.jobs.pool) as connection:
            build_id, at, now = self._hold(connection, job_id, build)
            if now != version:
                raise self._stale(connection, job_id, build_id, version, now)
            key = {"job": job_id, "build": build_id}
            find, state_after = (
                (build_queries.last_done, "undone") if kind == "undo" else (build_queries.first_undone, "done")
            )
            state = self._read_on(connection, job_id, build_id, at)
            step, after = chosen_step(
                kind,
                lambda who: find(connection, **key, actor=who),
                actor,
                state.build,
                _builds.validate_python,
                anyway=anyway,
            )
            self._require_free(state, after)
            judge(replace(state, build=after, version=state.version + 1))
            build_queries.set_edit_state(connection, **key, version=step["version"], state=state_after)
            return self._save(connection, state, at["job"], after, kind, step["title"], actor)

    def _require_free(self, state: BuildState, after: Build) -> None:
        for unit in after.units:
            state.catalogue.unit(unit)
            if (claim := state.taken.get(unit)) and unit not in state.build.units:
                raise UnitTaken(unit, f" ({claim.rig}, {claim.build}, until {claim.until})")

    def _hold(self, connection: Connection, job_id: str, build: str | Planned) -> tuple[str, dict[str, int], int]:
        """Hold gear and build as they are; the build's id, what shelf and job stand at then, and its version."""
        # Gear first, then the build: whoever changes gear takes them in this order too.
        seen = shelf_queries.share_catalogue(connection, job=job_id)
        build_id = (
            build if isinstance(build, str) else self.jobs.read_on(connection, job_id, seen)[0].planned(*build).id
        )
        row = build_queries.lock_build(connection, job=job_id, build=build_id)
        if row is None:
            raise NotInJob("build", build_id)
        return build_id, {"shelf": seen["shelf"], "job": row["revision"]}, row["version"]

    def _stale(self, connection: Connection, job_id: str, build_id: str, version: int, now: int) -> StaleEdit:
        since = list(build_queries.edits_since(connection, job=job_id, build=build_id, version=version))
        clock = _clock(connection, job_id)
        told = tuple(
            f"{'' if r['kind'] == 'do' else r['kind'] + ': '}{r['title']} by {r['actor']} at"
            f" {r['at'].astimezone(clock):%H:%M}"
            for r in since
        )
        return StaleEdit(build_id, version, now, told, by=" and ".join(dict.fromkeys(r["actor"] for r in since)))

    def _save(
        self, connection: Connection, state: BuildState, read_at: int, after: Build, kind: str, title: str, actor: str
    ) -> BuildState:
        before, job_id = state.build, state.job.id
        version = state.version + 1
        write_build_content(connection, job_id, before, after)
        was = build_queries.save(
            connection,
            job=job_id,
            build=before.id,
            body=after.body,
            use=after.use,
            held_by=after.held_by,
            grip=after.grip,
            off_between=after.off_between,
            worn=list(after.worn),
            bends=Jsonb(_bends.dump_python(after.bends, mode="json")),
            presets=Jsonb(_presets.dump_python(after.presets, mode="json", exclude_defaults=True)),
            version=version,
            settings=Jsonb(_settings.dump_python(after.settings, mode="json", exclude_defaults=True)),
            kind=kind,
            title=title,
            actor=actor,
            before=Jsonb(_builds.dump_python(before, mode="json", exclude_defaults=True)),
            after=Jsonb(_builds.dump_python(after, mode="json", exclude_defaults=True)),
        )
        job = state.job.with_build(after)
        if was["revision"] == read_at:
            self.jobs.moved_on(connection, job, after.id, version, read_at)
        undo, redo = (title, None) if kind == "do" else self._titles(connection, job_id, before.id)
        return replace(state, job=job, build=after, version=version, can_undo=undo, can_redo=redo)
