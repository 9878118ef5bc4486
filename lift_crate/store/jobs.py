"""Jobs and gear in the database: read as core values, imported and exported whole."""

from __future__ import annotations

import base64
from collections import defaultdict
from collections.abc import Callable, Iterable, Mapping, Sequence
from contextlib import AbstractContextManager
from dataclasses import asdict, dataclass, replace
from threading import Lock
from typing import Any

from psycopg.types.json import Jsonb
from pydantic import ConfigDict, TypeAdapter

from ..core.errors import BadRig
from ..core.gear.interface import Interface
from ..core.gear.model import GearModel
from ..core.job.charging import ChargingPlan
from ..core.job.job import Assignment, Job, Moment, NotInJob, OutElsewhere, PartOfDay, Rig
from ..core.job.money import MoneyPlan
from ..core.job.packing import PackPlan
from ..core.job.permission import SafetyPlan
from ..core.job.sound import SoundPlan
from ..core.job.venue import Spot, Venue
from ..core.rig.assembly import assemble
from ..core.rig.build import Bend, Build, Catalogue, Claim, Conditions, Joint, Link, Preset, Target, Unit, UnitSetting
from ..core.settings import Settings
from ..formats.job_file import JobFile, dump
from ..formats.pictures import KeptPicture, PictureInFile, picture_from_file
from .database import (
    Connection,
    Pool,
    build_queries,
    job_queries,
    picture_queries,
    reading,
    shelf_queries,
    tried_again,
    writing,
)
from .done import add_done, done_on
from .errors import GearDiffers, GearInUse, JobExists

__all__ = [
    "UNNAMED",
    "JobStore",
    "add_builds",
    "add_plan",
    "insert_job",
    "job_columns",
    "keep_pictures",
    "last_versions",
    "part_row",
    "pictures_on",
    "rig_row",
    "unit_row",
    "write_build_content",
]

_interfaces = TypeAdapter(Interface)
_models = TypeAdapter(GearModel)
_conditions = TypeAdapter(Conditions)
_moments = TypeAdapter(tuple[Moment, ...], config=ConfigDict(defer_build=True))
_settings = TypeAdapter(Settings)
_charging = TypeAdapter(ChargingPlan)
_sound = TypeAdapter(SoundPlan)
_money = TypeAdapter(MoneyPlan)
_safety = TypeAdapter(SafetyPlan)
_pack = TypeAdapter(PackPlan)
_targets = TypeAdapter(Target)
_spots, _venues = TypeAdapter(Spot), TypeAdapter(Venue)
_builds = TypeAdapter(Build)
_files = TypeAdapter(JobFile)
UNNAMED = "another job"
"""What a job is called to those who may not know of it."""
_MOST_REPLACED = 30
_MOST_JOBS = 20
_unit_settings = TypeAdapter(tuple[UnitSetting, ...], config=ConfigDict(defer_build=True))
_bends = TypeAdapter(tuple[Bend, ...], config=ConfigDict(defer_build=True))
_presets = TypeAdapter(tuple[Preset, ...], config=ConfigDict(defer_build=True))


def _json(adapter: TypeAdapter[Any], value: object) -> Jsonb:
    return Jsonb(adapter.dump_python(value, mode="json", exclude_defaults=True))


@dataclass(frozen=True, eq=False)
class _Kept:
    """A job as it was at a revision."""

    revision: int
    job: Job
    versions: dict[str, int]


class JobStore:
    """Reads and writes whole jobs; keeps what it has read of gear and of jobs until their revisions move.

    ``knows``: whether who is served may learn that a job exists; of others' nothing is named but that they are there.
    """

    def __init__(self, pool: Pool, knows: Callable[[str], bool] = bool) -> None:
        self.pool, self.knows = pool, knows
        self._lock = Lock()
        self._known: tuple[int, Catalogue] | None = None
        self._jobs: dict[str, _Kept] = {}

    def reading(self) -> AbstractContextManager[Connection]:
        """All that is read within sees one moment."""
        return reading(self.pool)

    def catalogue(self, connection: Connection) -> Catalogue:
        """All gear, from memory when nothing changed since it was read."""
        revision = job_queries.revision(connection)["revision"]
        with self._lock:
            if self._known and self._known[0] == revision:
                return self._known[1]
        interfaces = [_interfaces.validate_python(r["document"]) for r in job_queries.interfaces(connection)]
        models = [_models.validate_python(r["document"]) for r in job_queries.models(connection)]
        units = [_unit(row) for row in job_queries.units(connection)]
        fresh = Catalogue({i.id: i for i in interfaces}, {m.id: m for m in models}, {u.id: u for u in units})
        with self._lock:
            # Whoever read it first: plans and drawings are kept by this object.
            if not self._known or self._known[0] != revision:
                self._known = revision, fresh
            return self._known[1]

    def claim(self, job: str, row: Mapping[str, Any]) -> Claim:
        """What has a unit; of a job that may not be named, only that."""
        return Claim(**(row if self.knows(job) else {**row, "rig": UNNAMED, "build": "a build of its own"}))

    def list_jobs(self) -> list[dict[str, Any]]:
        """Id, title and start of every job, earliest first."""
        with self.reading() as connection:
            return list(job_queries.jobs(connection))

    def read(self, job_id: str) -> tuple[Job, Catalogue, dict[str, int]]:
        """A job, all gear, and the version of every build; raises NotInJob."""
        with self.reading() as connection:
            return self.read_on(connection, job_id)

    def out_elsewhere(self, job_id: str) -> OutElsewhere:
        """What other jobs have while this one's parts of the day last, and cards with their footage, whenever."""
        with self.reading() as connection:
            return self.out_elsewhere_on(connection, job_id)

    def out_elsewhere_on(self, connection: Connection, job_id: str) -> OutElsewhere:
        """The same on a connection that is already in a transaction."""
        rows = job_queries.out_elsewhere(connection, job=job_id)
        return {(r["part"], r["unit"]): r["title"] if self.knows(r["job"]) else UNNAMED for r in rows}

    def read_on(
        self, connection: Connection, job_id: str, at: Mapping[str, int] | None = None
    ) -> tuple[Job, Catalogue, dict[str, int]]:
        """The same on a connection that is already in a transaction: from memory while its revision stands.

        ``at``: what ``shelf`` and ``job`` stand at, where that is known already. Every id of a job, wherever it came
        from, becomes a job here: of one that who is served may not know of it is said that it is not there.
        """
        if not self.knows(job_id):
            raise NotInJob("job", job_id)
        now = at or job_queries.revisions(connection, job=job_id)
        if now["job"] is None:
            raise NotInJob("job", job_id)
        with self._lock:
            kept = self._jobs.get(job_id)
            shelf = self._known[1] if self._known and self._known[0] == now["shelf"] else None
        if not kept or kept.revision != now["job"]:
            job, versions = self._load(connection, job_id)
            kept = _Kept(now["job"], job, versions)
            # Outside one snapshot another's change may have come between: then this is nobody's state.
            if job_queries.revisions(connection, job=job_id)["job"] == kept.revision:
                self._keep(kept)
        return kept.job, shelf or self.catalogue(connection), dict(kept.versions)

    def _keep(self, kept: _Kept) -> None:
        with self._lock:
            self._jobs[kept.job.id] = kept
            while len(self._jobs) > _MOST_JOBS:
                self._jobs.pop(next(iter(self._jobs)))

    def moved_on(self, connection: Connection, job: Job, build: str, version: int, read_at: int) -> None:
        """Keep a job as this transaction, which changed nothing but one build of what it read, leaves it.

        Only for a transaction between whose reading and saving no other came. Without a
        commit nobody ever stands at what it is kept by.
        """
        with self._lock:
            before = self._jobs.get(job.id)
        if before and before.revision == read_at:
            now = job_queries.revisions(connection, job=job.id)["job"]
            self._keep(_Kept(now, job, {**before.versions, build: version}))

    def _settings(self, job_id: str, read: Settings) -> Settings:
        """Settings as they were kept where they are the same: verdicts are kept by them, not by their value."""
        with self._lock:
            kept = self._jobs.get(job_id)
        return kept.job.settings if kept and kept.job.settings == read else read

    def _load(self, connection: Connection, job_id: str) -> tuple[Job, dict[str, int]]:
        """A job as the tables have it, with the version of every build."""
        row = job_queries.job(connection, job=job_id)
        if row is None:
            raise NotInJob("job", job_id)
        joints, links = defaultdict(list), defaultdict(list)
        for r in job_queries.joints(connection, job=job_id):
            joints[r.pop("build_id")].append(Joint(**r))
        for r in job_queries.links(connection, job=job_id):
            links[r.pop("build_id")].append(Link(**r))
        builds, versions = defaultdict(list), {}
        for r in job_queries.builds(connection, job=job_id):
            versions[r["id"]] = r["version"]
            builds[r["rig_id"]].append(
                Build(
                    id=r["id"],
                    label=r["label"],
                    body=r["body"],
                    joints=tuple(joints[r["id"]]),
                    links=tuple(links[r["id"]]),
                    settings=_unit_settings.validate_python(r["settings"]),
                    use=r["use"],
                    held_by=r["held_by"],
                    grip=r["grip"],
                    off_between=r["off_between"],
                    worn=tuple(r["worn"]),
                    bends=_bends.validate_python(r["bends"]),
                    presets=_presets.validate_python(r["presets"]),
                )
            )
        job = Job(
            id=row["id"],
            title=row["title"],
            zone=row["zone"],
            settings=self._settings(job_id, _settings.validate_python(row["settings"])),
            parts=tuple(
                PartOfDay(
                    id=r["id"],
                    label=r["label"],
                    starts=r["starts"],
                    ends=r["ends"],
                    conditions=_conditions.validate_python(r["conditions"]),
                    moments=_moments.validate_python(r["moments"]),
                )
                for r in job_queries.parts(connection, job=job_id)
            ),
            rigs=tuple(
                Rig(
                    **{
                        **r,
                        "target": r["target"] and _targets.validate_python(r["target"]),
                        "place": r["place"] and _spots.validate_python(r["place"]),
                    },
                    builds=tuple(builds[r["id"]]),
                )
                for r in job_queries.rigs(connection, job=job_id)
            ),
            plan=tuple(Assignment(**r) for r in job_queries.plan(connection, job=job_id)),
            charging=_charging.validate_python(row["charging"]),
            sound=_sound.validate_python(row["sound"]),
            money=_money.validate_python(row["money"]),
            pack=_pack.validate_python(row["pack"]),
            safety=_safety.validate_python(row["safety"]),
            venue=_venues.validate_python(row["venue"]),
        )
        return job, versions

    def export(self, job_id: str) -> JobFile:
        """A job with all gear of the shelf, and what was done in it, as a job file; raises NotInJob."""
        with self.reading() as connection:
            file = self._export_on(connection, job_id)
            return replace(file, done=done_on(connection, file.job))

    def _export_on(self, connection: Connection, job_id: str) -> JobFile:
        job, catalogue, _ = self.read_on(connection, job_id)
        ids = [unit.photo for unit in catalogue.units.values() if unit.photo]
        if job.venue.picture:
            ids.append(job.venue.picture.id)
        pictures = pictures_on(connection, ids)
        return JobFile(
            job=job,
            pictures=tuple(PictureInFile(id=p.id, jpeg=base64.b64encode(p.jpeg).decode()) for p in pictures),
            interfaces=tuple(catalogue.interfaces.values()),
            models=tuple(catalogue.models.values()),
            units=tuple(catalogue.units.values()),
        )

    @tried_again
    def require_new(self, job_id: str) -> None:
        """Told before anything is worked out; raises JobExists where a job of that id is here."""
        with reading(self.pool) as connection:
            title = job_queries.title(connection, job=job_id)
        if title is not None:
            raise JobExists(job_id, title if self.knows(job_id) else UNNAMED)

    def import_file(self, file: JobFile, *, replace_job: bool = False, actor: str = "import") -> None:
        """Put a checked job file into the database, whole or not at all.

        Raises JobExists when the job is here and ``replace_job`` is not set, GearDiffers
        when the shelf describes a thing differently, UnitTaken when a unit is in another
        job's rig at that time, DoneElsewhere. A replaced job is kept whole; edits, balances and
        what was done stay, and the versions of its builds go on rising.
        """
        with writing(self.pool) as connection:
            # One import at a time: the second sees what the first brought.
            shelf_queries.lock_catalogue(connection)
            present = job_queries.lock_job(connection, job=file.job.id)
            if present and not replace_job:
                raise JobExists(file.job.id, present["title"] if self.knows(file.job.id) else UNNAMED)
            self._add_gear(connection, file)
            self._put(connection, file.job, actor, "Replaced by a job file")
            add_done(connection, file.job, self.catalogue(connection), file.done)

    @tried_again
    def know_standards(self, interfaces: Sequence[Interface]) -> None:
        """Put the open standards that the shelf does not know on it; one that was changed here stays as it is."""
        with reading(self.pool) as connection:
            known = self.catalogue(connection).interfaces
        if all(each.id in known for each in interfaces):
            return
        with writing(self.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.catalogue(connection).interfaces
            new = [each for each in interfaces if each.id not in known]
            job_queries.add_interface(connection, [{"id": i.id, "document": _json(_interfaces, i)} for i in new])

    def replaced(self, job_id: str) -> list[dict[str, Any]]:
        """Earlier states of a job, latest first: id, title, actor, at."""
        with self.reading() as connection:
            return list(job_queries.replaced(connection, job=job_id, most=_MOST_REPLACED))

    @tried_again
    def remove(self, job_id: str, actor: str) -> None:
        """Take a job away; it is kept whole and can be brought back. Raises NotInJob."""
        with writing(self.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            if job_queries.lock_job(connection, job=job_id) is None:
                raise NotInJob("job", job_id)
            self._keep_away(connection, job_id, actor)

    def _keep_away(self, connection: Connection, job_id: str, actor: str) -> tuple[Job, dict[str, int]]:
        """A job out of the tables and whole into what is kept of earlier states; the job, and its builds' versions."""
        before, _, versions = self.read_on(connection, job_id)
        document = TypeAdapter(Any).validate_json(dump(self._export_on(connection, job_id)))
        job_queries.keep_replaced(connection, job=job_id, title=before.title, document=Jsonb(document), actor=actor)
        job_queries.drop_job(connection, job=job_id)
        return before, versions

    @tried_again
    def bring_back(self, job_id: str, replaced: int, actor: str) -> None:
        """Put an earlier state of a job in the place of what is there now, which is kept in turn.

        Its gear is that of the shelf as it is; what is there no more comes back too.
        Raises NotInJob for a state that was never kept, GearInUse where its builds do not
        go together with the gear as it is, UnitTaken.
        """
        with writing(self.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            job_queries.lock_job(connection, job=job_id)
            row = job_queries.replaced_document(connection, job=job_id, id=replaced)
            if row is None:
                raise NotInJob("earlier state", str(replaced))
            kept = _files.validate_python(row["document"])
            known = self.catalogue(connection)
            self._add_gear(
                connection,
                replace(
                    kept,
                    interfaces=tuple(i for i in kept.interfaces if i.id not in known.interfaces),
                    models=tuple(m for m in kept.models if m.id not in known.models),
                    units=tuple(u for u in kept.units if u.id not in known.units),
                ),
            )
            shelf = self.catalogue(connection)
            for build in (build for rig in kept.job.rigs for build in rig.builds):
                try:
                    assemble(build, shelf)
                except BadRig as error:
                    raise GearInUse(kept.job.title, (f"{build.label}: {error}",)) from error
            self._put(connection, kept.job, actor, "Brought back as it was before")

    def _put(self, connection: Connection, job: Job, actor: str, title: str) -> None:
        """A job in the place of the one of its id, if there is one: that is kept,
        and every build's version goes on from where it was.
        """
        last = last_versions(connection, job.id)
        if job_queries.job(connection, job=job.id):
            before, versions = self._keep_away(connection, job.id, actor)
            after = {build.id: build for rig in job.rigs for build in rig.builds}
            for old in (build for rig in before.rigs for build in rig.builds):
                # Also a build that is left out leaves a line, from which its versions go on when it comes again.
                new = after.get(old.id)
                last[old.id] = max(last.get(old.id, 0), versions[old.id]) + 1
                build_queries.add_edit(
                    connection,
                    job=job.id,
                    build=old.id,
                    version=last[old.id],
                    kind="do",
                    title=title if new else f"{title}: left out",
                    state="done" if new else "dropped",
                    actor=actor,
                    before=_json(_builds, old),
                    after=_json(_builds, new or old),
                )
        insert_job(connection, job, last)

    def _add_gear(self, connection: Connection, file: JobFile) -> None:
        known = self.catalogue(connection)
        differing = [
            f"{what} '{item.id}'"
            for what, items, here in (
                ("interface", file.interfaces, known.interfaces),
                ("model", file.models, known.models),
                ("unit", file.units, known.units),
            )
            for item in items
            if item.id in here and here[item.id] != item
        ]
        if differing:
            raise GearDiffers(tuple(differing))
        job_queries.add_interface(
            connection,
            [{"id": i.id, "document": _json(_interfaces, i)} for i in file.interfaces if i.id not in known.interfaces],
        )
        job_queries.add_model(
            connection,
            [
                {"id": m.id, "kind": m.kind, "document": _json(_models, m)}
                for m in file.models
                if m.id not in known.models
            ],
        )
        keep_pictures(connection, [picture_from_file(picture) for picture in file.pictures])
        job_queries.add_unit_row(connection, [unit_row(u) for u in file.units if u.id not in known.units])


def keep_pictures(connection: Connection, pictures: Iterable[KeptPicture]) -> None:
    """Pictures into what is kept; one that is there already stays."""
    for p in pictures:
        picture_queries.keep(connection, id=p.id, jpeg=p.jpeg, width=p.width, height=p.height)


def pictures_on(connection: Connection, ids: Sequence[str]) -> list[KeptPicture]:
    """Those of the pictures that are here."""
    return [KeptPicture(**row) for row in picture_queries.pictures(connection, ids=list(ids))] if ids else []


def _unit(row: dict[str, Any]) -> Unit:
    cg = row.pop("measured_cg_mm")
    return Unit(**row, measured_cg_mm=tuple(cg) if cg else None)


def unit_row(unit: Unit) -> dict[str, Any]:
    """A unit as the columns of its row."""
    return {
        "id": unit.id,
        "model": unit.model,
        "owner": unit.owner,
        "measured_g": unit.measured_g,
        "measured_cg_mm": list(unit.measured_cg_mm) if unit.measured_cg_mm else None,
        "measured_w": unit.measured_w,
        "measured_h": unit.measured_h,
        "health": unit.health,
        "cycles": unit.cycles,
        "condition": unit.condition,
        "note": unit.note,
        "serial": unit.serial,
        "price": unit.price,
        "bought": unit.bought,
        "hired_from": unit.hired_from,
        "hired_until": unit.hired_until,
        "photo": unit.photo,
    }


def job_columns(job: Job) -> dict[str, Any]:
    """What a job's own row says of it."""
    return {
        "title": job.title,
        "zone": job.zone,
        "settings": _json(_settings, job.settings),
        "charging": _json(_charging, job.charging),
        "sound": _json(_sound, job.sound),
        "money": _json(_money, job.money),
        "pack": _json(_pack, job.pack),
        "safety": _json(_safety, job.safety),
        "venue": _json(_venues, job.venue),
    }


def part_row(job_id: str, part: PartOfDay) -> dict[str, Any]:
    """A part of the day as the columns of its row."""
    return {
        "job": job_id,
        "id": part.id,
        "label": part.label,
        "starts": part.starts,
        "ends": part.ends,
        "conditions": _json(_conditions, part.conditions),
        "moments": _json(_moments, part.moments),
    }


def rig_row(job_id: str, rig: Rig) -> dict[str, Any]:
    """A rig as the columns of its row."""
    return {
        "job": job_id,
        "id": rig.id,
        "number": rig.number,
        "label": rig.label,
        "position": rig.position,
        "target": _json(_targets, rig.target) if rig.target else None,
        "place": _json(_spots, rig.place) if rig.place else None,
    }


def add_builds(
    connection: Connection, job_id: str, rig: Rig, builds: Sequence[Build], versions: Mapping[str, int]
) -> None:
    """Builds of a rig with their contents, each at its version, else at the first."""
    for build in builds:
        job_queries.add_build(
            connection,
            [
                {
                    "job": job_id,
                    "id": build.id,
                    "rig": rig.id,
                    "label": build.label,
                    "body": build.body,
                    "settings": _json(_unit_settings, build.settings),
                    "use": build.use,
                    "held_by": build.held_by,
                    "grip": build.grip,
                    "off_between": build.off_between,
                    "worn": list(build.worn),
                    "bends": _json(_bends, build.bends),
                    "presets": _json(_presets, build.presets),
                    "ordinal": rig.builds.index(build),
                    "version": versions.get(build.id, 1),
                }
            ],
        )
        write_build_content(connection, job_id, None, build)


def add_plan(connection: Connection, job: Job) -> None:
    """Which build each rig is in when, and what charging uses; claims follow."""
    job_queries.add_plan(
        connection,
        [
            {
                "job": job.id,
                "part": a.part,
                "rig": a.rig,
                "build": a.build,
                "operator": a.operator,
                "unattended": a.unattended,
                "scheme": a.scheme,
                "spotter": a.spotter,
            }
            for a in job.plan
        ],
    )
    job_queries.add_charging_claim(
        connection,
        [{"job": job.id, "part": part, "unit": unit, "serves": serves} for unit, part, serves in job.claims_beside()],
    )


def last_versions(connection: Connection, job_id: str) -> dict[str, int]:
    """The last version that every build of a job ever had, whether it is there now or not."""
    return {row["build_id"]: int(row["version"]) for row in job_queries.last_versions(connection, job=job_id)}


def insert_job(connection: Connection, job: Job, versions: Mapping[str, int]) -> None:
    """A job that is not there yet, its builds at their versions."""
    version = job_queries.last_job_version(connection, job=job.id)["version"] + 1
    job_queries.add_job(connection, id=job.id, version=version, **job_columns(job))
    job_queries.add_part(connection, [part_row(job.id, p) for p in job.parts])
    job_queries.add_rig(connection, [rig_row(job.id, r) for r in job.rigs])
    for rig in job.rigs:
        add_builds(connection, job.id, rig, rig.builds, versions)
    add_plan(connection, job)


def write_build_content(connection: Connection, job_id: str, before: Build | None, after: Build) -> None:
    """Units, joints and links of a build, as far as they differ from those of the one before, if there was one."""
    key, q = {"job": job_id, "build": after.id}, build_queries
    was, now = set(before.units if before else ()), set(after.units)
    if gone := sorted(was - now):
        build_queries.drop_units(connection, **key, units=gone)
    if new := sorted(now - was):
        build_queries.add_units(connection, **key, units=new)
    for put, drop, old, items in (
        (q.put_joints, q.drop_joints, _by_name(before.joints if before else ()), _by_name(after.joints)),
        (q.put_links, q.drop_links, _by_name(before.links if before else ()), _by_name(after.links)),
    ):
        # What hung on a unit that is gone went with it.
        if stale := [name for name in old if name not in items and name in now]:
            drop(connection, **key, names=stale)
        if fresh := [{**asdict(item), "ordinal": i} for name, (i, item) in items.items() if old.get(name) != (i, item)]:
            put(connection, **key, rows=Jsonb(fresh))


def _by_name(items: Sequence[Joint | Link]) -> dict[str, tuple[int, Joint | Link]]:
    """Joints by their child, links by their cable, each with its place in the order."""
    return {item.child if isinstance(item, Joint) else item.cable: (i, item) for i, item in enumerate(items)}
