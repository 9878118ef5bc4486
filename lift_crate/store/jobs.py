"""Jobs and gear in the database: read as core values, imported and exported whole."""

from __future__ import annotations

from collections import defaultdict
from threading import Lock
from typing import Any

import psycopg
from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.charging import ChargingPlan
from ..core.gear import GearModel
from ..core.interface import Interface
from ..core.job import Assignment, Job, Moment, NotInJob, PartOfDay, Rig
from ..core.rig import Build, Catalogue, Conditions, Joint, Link, Target, Unit, UnitSetting
from ..core.settings import Settings
from ..formats.job_file import JobFile, dump
from .database import Pool, build_queries, job_queries
from .errors import GearDiffers, JobExists, translated

__all__ = ["JobStore", "insert_build_content", "unit_row"]

Connection = psycopg.Connection[dict[str, Any]]

_interfaces = TypeAdapter(Interface)
_models = TypeAdapter(GearModel)
_conditions = TypeAdapter(Conditions)
_moments = TypeAdapter(tuple[Moment, ...])
_settings = TypeAdapter(Settings)
_charging = TypeAdapter(ChargingPlan)
_targets = TypeAdapter(Target)
_unit_settings = TypeAdapter(tuple[UnitSetting, ...])


def _json(adapter: TypeAdapter[Any], value: object) -> Jsonb:
    return Jsonb(adapter.dump_python(value, mode="json", exclude_defaults=True))


class JobStore:
    """Reads and writes whole jobs; keeps the catalogue it has read until gear changes."""

    def __init__(self, pool: Pool) -> None:
        self.pool = pool
        self._lock = Lock()
        self._known: tuple[int, Catalogue] | None = None

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

    def list_jobs(self) -> list[dict[str, Any]]:
        """Id, title and start of every job, earliest first."""
        with translated(), self.pool.connection() as connection:
            return list(job_queries.jobs(connection))

    def read(self, job_id: str) -> tuple[Job, Catalogue, dict[str, int]]:
        """A job, all gear, and the version of every build; raises NotInJob."""
        with translated(), self.pool.connection() as connection:
            return self.read_on(connection, job_id)

    def read_on(self, connection: Connection, job_id: str) -> tuple[Job, Catalogue, dict[str, int]]:
        """The same on a connection that is already in a transaction."""
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
            builds[r["rig_id"]].append(Build(
                id=r["id"], label=r["label"], body=r["body"], joints=tuple(joints[r["id"]]), links=tuple(links[r["id"]]),
                settings=_unit_settings.validate_python(r["settings"]), use=r["use"],
            ))  # fmt: skip
        job = Job(
            id=row["id"], title=row["title"], settings=_settings.validate_python(row["settings"]),
            parts=tuple(
                PartOfDay(
                    id=r["id"], label=r["label"], starts=r["starts"], ends=r["ends"],
                    conditions=_conditions.validate_python(r["conditions"]), moments=_moments.validate_python(r["moments"]),
                )
                for r in job_queries.parts(connection, job=job_id)
            ),
            rigs=tuple(
                Rig(**{**r, "target": r["target"] and _targets.validate_python(r["target"])}, builds=tuple(builds[r["id"]]))
                for r in job_queries.rigs(connection, job=job_id)
            ),
            plan=tuple(Assignment(**r) for r in job_queries.plan(connection, job=job_id)),
            charging=_charging.validate_python(row["charging"]),
        )  # fmt: skip
        return job, self.catalogue(connection), versions

    def export(self, job_id: str) -> JobFile:
        """A job with all gear of the shelf as a job file; raises NotInJob."""
        with translated(), self.pool.connection() as connection:
            return self._export_on(connection, job_id)

    def _export_on(self, connection: Connection, job_id: str) -> JobFile:
        job, catalogue, _ = self.read_on(connection, job_id)
        return JobFile(
            job=job, interfaces=tuple(catalogue.interfaces.values()), models=tuple(catalogue.models.values()),
            units=tuple(catalogue.units.values()),
        )  # fmt: skip

    def import_file(self, file: JobFile, *, replace_job: bool = False) -> None:
        """Put a checked job file into the database, whole or not at all.

        Raises JobExists when the job is here and ``replace_job`` is not set (a replaced
        job is kept in ``replaced_job``), GearDiffers when the shelf describes a thing
        differently, UnitTaken when a unit is in another job's rig at that time.
        """
        with translated(), self.pool.connection() as connection, connection.transaction():
            present = job_queries.job(connection, job=file.job.id)
            if present:
                if not replace_job:
                    raise JobExists(file.job.id, present["title"])
                before = dump(self._export_on(connection, file.job.id)).decode()
                job_queries.keep_replaced(connection, job=file.job.id, document=Jsonb(TypeAdapter(Any).validate_json(before)))
                job_queries.drop_job(connection, job=file.job.id)
            self._add_gear(connection, file)
            _insert_job(connection, file.job)

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
        job_queries.add_interface(connection, [
            {"id": i.id, "document": _json(_interfaces, i)} for i in file.interfaces if i.id not in known.interfaces
        ])  # fmt: skip
        job_queries.add_model(connection, [
            {"id": m.id, "kind": m.kind, "document": _json(_models, m)} for m in file.models if m.id not in known.models
        ])  # fmt: skip
        job_queries.add_unit_row(connection, [unit_row(u) for u in file.units if u.id not in known.units])


def _unit(row: dict[str, Any]) -> Unit:
    cg = row.pop("measured_cg_mm")
    return Unit(**row, measured_cg_mm=tuple(cg) if cg else None)


def unit_row(unit: Unit) -> dict[str, Any]:
    """A unit as the columns of its row."""
    return {
        "id": unit.id, "model": unit.model, "owner": unit.owner, "measured_g": unit.measured_g,
        "measured_cg_mm": list(unit.measured_cg_mm) if unit.measured_cg_mm else None,
        "measured_w": unit.measured_w, "health": unit.health, "cycles": unit.cycles, "condition": unit.condition, "note": unit.note,
    }  # fmt: skip


def _insert_job(connection: Connection, job: Job) -> None:
    job_queries.add_job(connection, id=job.id, title=job.title, settings=_json(_settings, job.settings), charging=_json(_charging, job.charging))
    job_queries.add_part(connection, [
        {
            "job": job.id, "id": p.id, "label": p.label, "starts": p.starts, "ends": p.ends,
            "conditions": _json(_conditions, p.conditions), "moments": _json(_moments, p.moments),
        }
        for p in job.parts
    ])  # fmt: skip
    job_queries.add_rig(connection, [
        {
            "job": job.id, "id": r.id, "number": r.number, "label": r.label, "position": r.position,
            "target": _json(_targets, r.target) if r.target else None,
        }
        for r in job.rigs
    ])  # fmt: skip
    for rig in job.rigs:
        for ordinal, build in enumerate(rig.builds):
            job_queries.add_build(connection, [{
                "job": job.id, "id": build.id, "rig": rig.id, "label": build.label, "body": build.body,
                "settings": _json(_unit_settings, build.settings), "use": build.use, "ordinal": ordinal,
            }])  # fmt: skip
            insert_build_content(connection, job.id, build)
    job_queries.add_plan(connection, [{"job": job.id, "part": a.part, "rig": a.rig, "build": a.build} for a in job.plan])


def insert_build_content(connection: Connection, job_id: str, build: Build, only_units: set[str] | None = None) -> None:
    """Units, joints and links of a build; of the units those in ``only_units`` when given."""
    key = {"job": job_id, "build": build.id}
    build_queries.add_unit(connection, [
        {**key, "unit": u} for u in build.units if only_units is None or u in only_units
    ])  # fmt: skip
    build_queries.add_joint(connection, [
        {
            **key, "child": j.child, "child_port": j.child_port, "parent": j.parent, "parent_port": j.parent_port,
            "spin_deg": j.spin_deg, "slide_mm": j.slide_mm, "ordinal": i,
        }
        for i, j in enumerate(build.joints)
    ])  # fmt: skip
    build_queries.add_link(connection, [
        {
            **key, "cable": k.cable, "from_unit": k.from_unit, "from_port": k.from_port,
            "to_unit": k.to_unit, "to_port": k.to_port, "ordinal": i,
        }
        for i, k in enumerate(build.links)
    ])  # fmt: skip


