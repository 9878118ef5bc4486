"""The shelf: interfaces, models and units changed one at a time or by import, with a history."""

from __future__ import annotations

from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace
from datetime import datetime
from itertools import count, islice
from typing import Literal
from zoneinfo import ZoneInfo

from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.errors import BadRig, NoSuchInterface, NoSuchModel
from ..core.gear.check import contradictions
from ..core.gear.interface import FAMILIES, Interface
from ..core.gear.labels import labels_in_series
from ..core.gear.model import GearModel
from ..core.rig.assembly import assemble
from ..core.rig.build import Catalogue, Claim, Unit
from ..formats.shelf_csv import Plan, plan_import
from .database import Connection, job_queries, reading, shelf_queries, tried_again, writing
from .errors import GearExists, GearInUse, PlanHasErrors, StaleShelf
from .jobs import UNNAMED, JobStore, unit_row

__all__ = ["NewGear", "NewUnits", "ShelfChange", "ShelfStore", "UnitUse"]

Kind = Literal["unit", "model", "interface"]
_units, _models, _interfaces = TypeAdapter(Unit), TypeAdapter(GearModel), TypeAdapter(Interface)
_MOST_HISTORY = 30
_MOST_NAMED = 5


@dataclass(frozen=True, kw_only=True)
class ShelfChange:
    """One change of a thing: what, by whom, when."""

    title: str
    actor: str
    at: datetime


@dataclass(frozen=True, kw_only=True)
class UnitUse:
    """A build that a unit is in, and in how many parts of the day that is planned."""

    job: str
    rig: str
    build: str
    parts: int


@dataclass(frozen=True, kw_only=True)
class NewUnits:
    """So many units of a model, labels counting on from the first; ``label`` ending in a hyphen: the next free."""

    model: str
    label: str
    count: int = 1
    owner: Literal["owned", "hired"] = "owned"


@dataclass(frozen=True, kw_only=True)
class NewGear:
    """Gear that is to be added together."""

    interfaces: Sequence[Interface] = ()
    models: Sequence[GearModel] = ()
    units: Sequence[NewUnits] = ()


def _some(names: Sequence[str]) -> str:
    """The first few of many names."""
    more = f" and {len(names) - _MOST_NAMED} more" if len(names) > _MOST_NAMED else ""
    return ", ".join(names[:_MOST_NAMED]) + more


def _labels(wanted: NewUnits, taken: set[str]) -> list[str]:
    if not wanted.label.endswith("-"):
        return list(labels_in_series(wanted.label, wanted.count))
    free = (f"{wanted.label}{i}" for i in count(1) if f"{wanted.label}{i}" not in taken)
    return list(islice(free, wanted.count))


class ShelfStore:
    """Reads and changes gear."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def catalogue(self) -> Catalogue:
        """All gear as it is now."""
        with reading(self.jobs.pool) as connection:
            return self.jobs.catalogue(connection)

    def taken(self, job: str, part: str) -> dict[str, Claim]:
        """Units that rigs have in a part of a job's day."""
        with reading(self.jobs.pool) as connection:
            zone = job_queries.zone(connection, job=job)
            clock = ZoneInfo(zone["zone"] if zone else "UTC")
            rows = shelf_queries.claims_in(connection, job=job, part=part)
            return {
                row["unit"]: self.jobs.claim(
                    row.pop("job"), {**row, "until": f"{row['until'].astimezone(clock):%a %H:%M}"}
                )
                for row in rows
            }

    def uses(self, unit: str) -> list[UnitUse]:
        """Builds that a unit is in."""
        with reading(self.jobs.pool) as connection:
            return [
                UnitUse(**row) if self.jobs.knows(of) else UnitUse(job=UNNAMED, rig="", build="", parts=row["parts"])
                for row in shelf_queries.uses_of(connection, unit=unit)
                for of in (row.pop("job_id"),)
            ]

    def history(self, kind: Kind, thing: str) -> list[ShelfChange]:
        """The latest changes of a thing, newest first."""
        with reading(self.jobs.pool) as connection:
            return [
                ShelfChange(**row)
                for row in shelf_queries.history(connection, kind=kind, thing=thing, most=_MOST_HISTORY)
            ]

    def last_change(self, kind: Kind, thing: str) -> int:
        """The latest change of a thing, to be given back with the next; 0 when there was none."""
        with reading(self.jobs.pool) as connection:
            return int(shelf_queries.last_change(connection, kind=kind, thing=thing)["id"])

    def _require_seen(self, connection: Connection, kind: Kind, thing: str, seen: int | None, *, known: bool) -> None:
        """Nobody overwrites what he has not seen; None: something new, and nothing is there under its id."""
        if seen is None:
            if known:
                raise GearExists(thing)
            return
        since = list(shelf_queries.changes_since(connection, kind=kind, thing=thing, seen=seen))
        if since:
            raise StaleShelf(thing, tuple(f"{r['title']} by {r['actor']} at {r['at']:%H:%M}" for r in since))

    @tried_again
    def put_unit(self, unit: Unit, actor: str, *, seen: int | None = None) -> None:
        """Add a unit or change one; ``seen``: the last change of it that was looked at, None for something new.

        Raises NoSuchModel, GearExists, StaleShelf, GearInUse when a build would break.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            known.model(unit.model)
            self._require_seen(connection, "unit", unit.id, seen, known=unit.id in known.units)
            old = known.units.get(unit.id)
            if old and old.model != unit.model:
                self._require_builds(connection, replace(known, units={**known.units, unit.id: unit}), {unit.id})
            self._write_unit(connection, unit, known.units.get(unit.id), actor)

    def change_on(
        self, connection: Connection, change: Callable[[Catalogue], tuple[Unit | None, GearModel | None]], actor: str
    ) -> None:
        """Change a unit or a model together with what else is written on a connection.

        ``change`` is given the shelf as it is then, which nobody else changes meanwhile; what it gives back keeps
        its ports, so that no build can break by it.
        """
        shelf_queries.lock_catalogue(connection)
        known = self.jobs.catalogue(connection)
        unit, model = change(known)
        if unit is not None:
            self._write_unit(connection, unit, known.units.get(unit.id), actor)
        if model is not None:
            self._write_model(connection, model, known.models.get(model.id), actor)

    def add_units(self, model: str, first: str, count: int, owner: Literal["owned", "hired"], actor: str) -> list[str]:
        """So many new units of a model, their labels counting on from the first; the labels.

        Raises NoSuchModel, and GearExists for a label that is there: then none is added.
        """
        wanted = NewUnits(model=model, label=first, count=count, owner=owner)
        return self.add_made(lambda _: NewGear(units=(wanted,)), actor)

    @tried_again
    def add_made(self, make: Callable[[Catalogue], NewGear], actor: str) -> list[str]:
        """Interfaces, models and units that ``make`` draws up from the gear there is; labels of the units.

        All of it or nothing. Raises what ``make`` raises, NoSuchModel, GearExists, GearInUse.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            new = make(known)
            for interface in new.interfaces:
                self._require_seen(connection, "interface", interface.id, None, known=interface.id in known.interfaces)
                self._write_interface(connection, interface, None, actor)
            every = {**known.interfaces, **{i.id: i for i in new.interfaces}}
            for model in new.models:
                self._require_seen(connection, "model", model.id, None, known=model.id in known.models)
                if wrong := [w.message for w in contradictions(model, every)]:
                    raise GearInUse(model.title, tuple(wrong))
                self._write_model(connection, model, None, actor)
            there = {**known.models, **{m.id: m for m in new.models}}
            taken, labels = set(known.units), []
            for wanted in new.units:
                if wanted.model not in there:
                    raise NoSuchModel(wanted.model)
                for label in _labels(wanted, taken):
                    if label in taken:
                        raise GearExists(label)
                    taken.add(label)
                    labels.append(label)
                    unit = Unit(id=label, model=wanted.model, owner=wanted.owner)
                    self._write_unit(connection, unit, None, actor)
            return labels

    @tried_again
    def remove_unit(self, unit_id: str, actor: str, *, seen: int) -> None:
        """Take a unit off the shelf for good; what was done to it is kept.

        Raises NoSuchUnit, StaleShelf, and GearInUse where a build, a charging plan or a noted swap has it.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            unit = self.jobs.catalogue(connection).unit(unit_id)
            self._require_seen(connection, "unit", unit_id, seen, known=True)
            uses = list(shelf_queries.held_by(connection, unit=unit_id))
            if uses:
                held = [r["held"] if r["job"] is None or self.jobs.knows(r["job"]) else UNNAMED for r in uses]
                raise GearInUse(unit_id, tuple(f"it is in {at}; take it off there first" for at in held))
            shelf_queries.remove_unit(connection, unit=unit_id)
            was = Jsonb(_units.dump_python(unit, mode="json"))
            shelf_queries.add_history(
                connection, kind="unit", thing=unit_id, title="Removed", before=was, after=was, actor=actor
            )

    @tried_again
    def remove_model(self, model_id: str, actor: str, *, seen: int) -> None:
        """Take a model out of the catalogue for good; what was done to it is kept.

        Raises NoSuchModel, StaleShelf, and GearInUse while there are units of it.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            model = known.model(model_id)
            self._require_seen(connection, "model", model_id, seen, known=True)
            units = [unit.id for unit in known.shelf if unit.model == model_id]
            if units:
                raise GearInUse(model.title, (f"{_some(units)} of it: remove those first",))
            rows = shelf_queries.wanted_in(connection, model=model_id)
            wanted = [row["title"] if self.jobs.knows(row["id"]) else UNNAMED for row in rows]
            if wanted:
                raise GearInUse(model.title, (f"it is wanted in {_some(wanted)}; take it off the money there first",))
            shelf_queries.remove_model(connection, model=model_id)
            was = Jsonb(_models.dump_python(model, mode="json", exclude_defaults=True))
            shelf_queries.add_history(
                connection, kind="model", thing=model_id, title="Removed", before=was, after=was, actor=actor
            )

    @tried_again
    def remove_interface(self, interface_id: str, actor: str, *, seen: int) -> None:
        """Take an interface away for good.

        Raises NoSuchInterface, StaleShelf, and GearInUse for a standard and while a model has it.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            interface = known.interfaces.get(interface_id)
            if interface is None:
                raise NoSuchInterface(interface_id)
            self._require_seen(connection, "interface", interface_id, seen, known=True)
            if interface.standard:
                raise GearInUse(interface.label, ("it is an open standard and ships with Lift Crate",))
            users = [m.title for m in known.models.values() if any(p.interface == interface_id for p in m.ports)]
            if users:
                raise GearInUse(interface.label, (f"{_some(users)} have it: change those first",))
            shelf_queries.remove_interface(connection, interface=interface_id)
            was = Jsonb(_interfaces.dump_python(interface, mode="json", exclude_defaults=True))
            shelf_queries.add_history(
                connection, kind="interface", thing=interface_id, title="Removed", before=was, after=was, actor=actor
            )

    @tried_again
    def put_model(self, model: GearModel, actor: str, *, seen: int | None = None) -> None:
        """Add a model or change one; raises GearExists, StaleShelf, GearInUse when a build that has one would break."""
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            self._require_seen(connection, "model", model.id, seen, known=model.id in known.models)
            wrong = [w.message for w in contradictions(model, known.interfaces)]
            if wrong:
                raise GearInUse(model.id, tuple(wrong))
            mine = {unit.id for unit in known.shelf if unit.model == model.id}
            self._require_builds(connection, replace(known, models={**known.models, model.id: model}), mine)
            self._write_model(connection, model, known.models.get(model.id), actor)

    @tried_again
    def put_interface(self, interface: Interface, actor: str, *, seen: int | None = None) -> None:
        """Add an interface or change one; raises GearExists, StaleShelf,
        GearInUse when a model that names it would contradict itself.
        """
        with writing(self.jobs.pool) as connection:
            shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            old = known.interfaces.get(interface.id)
            self._require_seen(connection, "interface", interface.id, seen, known=old is not None)
            self._require_models(known, interface, old)
            self._write_interface(connection, interface, old, actor)

    @tried_again
    def import_units(self, text: str, actor: str, *, apply: bool, revision: int | None = None) -> tuple[Plan, int]:
        """What a CSV of units would do, done when ``apply`` is set: whole, or not at all.

        Gives back the plan and the revision of the shelf it was made on; an import is
        carried out only on the ``revision`` it was shown for, else StaleShelf. Raises PlanHasErrors
        when it is to be applied and has any, GearInUse when a build would break.
        """
        with writing(self.jobs.pool) as connection:
            if apply:
                shelf_queries.lock_catalogue(connection)
            known = self.jobs.catalogue(connection)
            plan = plan_import(text, known)
            now = int(job_queries.revision(connection)["revision"])
            if not apply:
                return plan, now
            if revision is not None and revision != now:
                raise StaleShelf("The shelf", ("it is not as it was when this import was shown",))
            if plan.errors:
                raise PlanHasErrors(plan.errors)
            moved = {
                c.unit.id
                for c in plan.changes
                if c.unit.id in known.units and known.units[c.unit.id].model != c.unit.model
            }
            self._require_builds(
                connection, replace(known, units={**known.units, **{c.unit.id: c.unit for c in plan.changes}}), moved
            )
            for change in plan.changes:
                self._write_unit(connection, change.unit, known.units.get(change.unit.id), actor)
            return plan, int(job_queries.revision(connection)["revision"])

    def _write_model(self, connection: Connection, model: GearModel, old: GearModel | None, actor: str) -> None:
        document = _models.dump_python(model, mode="json", exclude_defaults=True)
        shelf_queries.put_model(connection, id=model.id, kind=model.kind, document=Jsonb(document))
        title = f"Added {model.title}" if old is None else f"Changed {model.title}"
        before = Jsonb(_models.dump_python(old, mode="json", exclude_defaults=True)) if old else None
        shelf_queries.add_history(
            connection, kind="model", thing=model.id, title=title, before=before, after=Jsonb(document), actor=actor
        )

    def _write_interface(self, connection: Connection, interface: Interface, old: Interface | None, actor: str) -> None:
        document = _interfaces.dump_python(interface, mode="json", exclude_defaults=True)
        shelf_queries.put_interface(connection, id=interface.id, document=Jsonb(document))
        title = f"Added {interface.label}" if old is None else f"Changed {interface.label}"
        before = Jsonb(_interfaces.dump_python(old, mode="json", exclude_defaults=True)) if old else None
        shelf_queries.add_history(
            connection,
            kind="interface",
            thing=interface.id,
            title=title,
            before=before,
            after=Jsonb(document),
            actor=actor,
        )

    def _write_unit(self, connection: Connection, unit: Unit, old: Unit | None, actor: str) -> None:
        shelf_queries.put_unit(connection, **unit_row(unit))
        before = _units.dump_python(old, mode="json") if old else None
        after = _units.dump_python(unit, mode="json")
        changed = [f"{key} {before[key]} → {after[key]}" for key in after if before and before[key] != after[key]]
        title = "; ".join(changed) if old else "On the shelf"
        if old != unit:
            shelf_queries.add_history(
                connection,
                kind="unit",
                thing=unit.id,
                title=title or "Nothing changed",
                before=Jsonb(before) if before else None,
                after=Jsonb(after),
                actor=actor,
            )

    def _require_models(self, known: Catalogue, interface: Interface, old: Interface | None) -> None:
        """Models that name an interface must still make sense with it, and be read back from a job file."""
        users = [
            model for model in known.models.values() if any(port.interface == interface.id for port in model.ports)
        ]
        if old and old.kind != interface.kind and users:
            raise GearInUse(
                interface.label,
                (
                    (
                        f"it is of the {FAMILIES[old.kind]}, and {users[0].title} and {len(users) - 1} more models have"
                        " it; make a new one for another kind"
                    ),
                ),
            )
        after = {**known.interfaces, interface.id: interface}
        wrong = [f"{model.title}: {w.message}" for model in users for w in contradictions(model, after)]
        if wrong:
            raise GearInUse(interface.label, tuple(wrong))

    def _require_builds(self, connection: Connection, after: Catalogue, units: set[str]) -> None:
        """Every build that has one of these units must still go together on paper with the gear as it would be."""
        broken = []
        for row in shelf_queries.jobs_with_units(connection, units=sorted(units)) if units else ():
            job, _, _ = self.jobs.read_on(connection, row["id"])
            for rig in job.rigs:
                for build in rig.builds:
                    try:
                        assemble(build, after)
                    except BadRig as error:
                        broken.append(f"{job.title}, {rig.label} ({build.label}): {error}")
        if broken:
            raise GearInUse("The shelf", tuple(broken))
