"""The shelf: find, look at, change, import and export gear; the scale and what is measured with it."""

from __future__ import annotations

from flask import Response, request
from flask_openapi3.models.tag import Tag

from ..core.drawings.elevation import lone_model
from ..core.gear.check import contradictions
from ..core.gear.fields import fields_of
from ..core.gear.interface import FAMILIES, FIGURES, Interface
from ..core.gear.measuring import BadMeasurement, Measured, cg_from_edge, cg_from_scale, mass_from_scale
from ..core.gear.model import GearModel
from ..core.rig.build import Catalogue, Claim, Unit
from ..core.rig.find import Query, search
from ..formats.shelf_csv import Plan, units_csv
from . import schema as s
from . import schema_shelf as t
from .answers import READ, Responses, answer, file_headers, text_of
from .described import PlaceApi
from .identity import current_actor
from .services import services

__all__ = ["api", "preview_of"]

api = PlaceApi(
    "shelf", __name__, url_prefix="/api/shelf", abp_tags=[Tag(name="shelf", description="All gear there is")]
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_MOST_ALIKE = 200


@api.get("", responses={200: t.ShelfView, **READ}, operation_id="readShelf")
def read_shelf(query: t.ShelfQuery) -> Response:
    """Units that match what is asked for."""
    store = services().shelf
    catalogue = store.catalogue()
    taken = store.taken(query.job, query.part) if query.job and query.part else {}
    found = search(
        catalogue,
        Query(
            words=query.words,
            kind=query.kind,
            interface=query.interface,
            side=query.side or None,
            owner=query.owner,
            free_only=query.free_only,
            skip=query.skip,
            most=query.most,
        ),
        taken,
    )
    return answer(
        t.ShelfView(
            units=[_line(catalogue, unit, taken) for unit in found.units], total=found.total, kinds=dict(found.kinds)
        )
    )


def _line(catalogue: Catalogue, unit: Unit, taken: dict[str, Claim]) -> t.UnitLine:
    model = catalogue.model_of(unit.id)
    mass_g, source = catalogue.mass_of(unit.id)
    claim = taken.get(unit.id)
    return t.UnitLine(
        unit=unit.id,
        model=model.id,
        title=model.title,
        kind=model.kind,
        owner=unit.owner,
        mass_g=mass_g,
        mass_source=source,
        health=unit.health_left,
        condition=unit.condition,
        note=unit.note,
        taken=f"{claim.rig}, {claim.build}, until {claim.until}" if claim else None,
    )


@api.get("/interfaces", responses={200: t.InterfacesView, **READ}, operation_id="readInterfaces")
def read_interfaces() -> Response:
    """Every kind of joint and plug."""
    return _interfaces_answer()


def _interfaces_answer() -> Response:
    store = services().shelf
    with services().jobs.reading():
        known = store.catalogue().interfaces
        seen = {name: store.last_change("interface", name) for name in known}
    ordered = sorted(known.values(), key=lambda i: (list(FAMILIES).index(i.kind), i.label))
    return answer(
        t.InterfacesView(
            interfaces=ordered,
            seen=seen,
            families=FAMILIES,
            figures={family: list(names) for family, names in FIGURES.items()},
        )
    )


@api.put("/interfaces", responses={200: t.InterfacesView, **_WRITE}, operation_id="putInterface")
def put_interface(body: t.InterfaceBody, query: t.SeenQuery) -> Response:
    """Add an interface of one's own, or change one; refused when what has it would contradict itself."""
    services().shelf.put_interface(body.root, current_actor(), seen=query.seen)
    return _interfaces_answer()


@api.get("/fields", responses={200: t.FieldsView, **READ}, operation_id="readFields")
def read_fields() -> Response:
    """Every field of models, interfaces and units, for the editors."""
    types = fields_of(GearModel, Interface, Unit)
    return answer(t.FieldsView(types={name: list(infos) for name, infos in types.items()}))


@api.get("/models/<string:model>", responses={200: t.ModelView, **READ}, operation_id="readModel")
def read_model(path: t.ModelPath) -> Response:
    """A model drawn, with its units and history."""
    return _model_answer(path.model)


def _model_answer(model_id: str) -> Response:
    with services().jobs.reading():
        return _model_read(model_id)


def _model_read(model_id: str) -> Response:
    store = services().shelf
    catalogue = store.catalogue()
    model = catalogue.model(model_id)
    units = [unit for unit in catalogue.shelf if unit.model == model.id][:_MOST_ALIKE]
    return answer(
        t.ModelView(
            model=model,
            seen=store.last_change("model", model.id),
            preview=preview_of(model, catalogue),
            units=[_line(catalogue, unit, {}) for unit in units],
            history=[
                t.ShelfChangeLine(title=h.title, actor=h.actor, at=h.at) for h in store.history("model", model.id)
            ],
        )
    )


def preview_of(model: GearModel, catalogue: Catalogue) -> t.ModelPreview:
    """A model drawn, and what is wrong with it."""
    wrong = list(contradictions(model, catalogue.interfaces))
    drawn = () if any(w.field == "interface" for w in wrong) else lone_model(model, catalogue.interfaces)
    return t.ModelPreview(
        elevations=drawn,
        problems=[s.FieldProblem(path=f"$.ports[{w.port}].{w.field}", message=w.message) for w in wrong],
    )


@api.post("/preview", responses={200: t.ModelPreview, **READ}, operation_id="previewModel")
def preview_model(body: t.ModelBody) -> Response:
    """A model as it would be drawn, and what is wrong with it; nothing is saved."""
    return answer(preview_of(body.root, services().shelf.catalogue()))


@api.delete("/models/<string:model>", responses={200: t.Removed, **_WRITE}, operation_id="removeModel")
def remove_model(path: t.ModelPath, query: t.RemoveQuery) -> Response:
    """Take a model out of the catalogue; refused while there are units of it."""
    services().shelf.remove_model(path.model, current_actor(), seen=query.seen)
    return answer(t.Removed(removed=path.model))


@api.delete(
    "/interfaces/<string:interface>", responses={200: t.InterfacesView, **_WRITE}, operation_id="removeInterface"
)
def remove_interface(path: t.InterfacePath, query: t.RemoveQuery) -> Response:
    """Take an interface away; refused while a model has it, and for the open standards."""
    services().shelf.remove_interface(path.interface, current_actor(), seen=query.seen)
    return _interfaces_answer()


@api.put("/models", responses={200: t.ModelView, **_WRITE}, operation_id="putModel")
def put_model(body: t.ModelBody, query: t.SeenQuery) -> Response:
    """Add a model, or change one; refused when a build would break."""
    model = body.root
    services().shelf.put_model(model, current_actor(), seen=query.seen)
    return _model_answer(model.id)


@api.get("/units/<string:unit>", responses={200: t.UnitView, **READ}, operation_id="readUnit")
def read_unit(path: t.UnitPath) -> Response:
    """A unit with what it is in and its history."""
    return _unit_answer(path.unit)


def _unit_answer(unit_id: str) -> Response:
    with services().jobs.reading():
        return _unit_read(unit_id)


def _unit_read(unit_id: str) -> Response:
    store = services().shelf
    catalogue = store.catalogue()
    unit, model = catalogue.unit(unit_id), catalogue.model_of(unit_id)
    mass_g, mass_source = catalogue.mass_of(unit_id)
    cg_mm, cg_source = catalogue.cg_of(unit_id)
    return answer(
        t.UnitView(
            unit=unit,
            seen=store.last_change("unit", unit_id),
            title=model.title,
            kind=model.kind,
            mass_g=mass_g,
            mass_source=mass_source,
            cg_mm=cg_mm,
            cg_source=cg_source,
            health_left=unit.health_left,
            uses=[t.UnitUseLine(job=u.job, rig=u.rig, build=u.build, parts=u.parts) for u in store.uses(unit_id)],
            history=[t.ShelfChangeLine(title=h.title, actor=h.actor, at=h.at) for h in store.history("unit", unit_id)],
        )
    )


@api.put("/units", responses={200: t.UnitView, **_WRITE}, operation_id="putUnit")
def put_unit(body: t.UnitBody, query: t.SeenQuery) -> Response:
    """Add a unit, or change one: measured figures, health, condition, note."""
    unit = body.root
    services().shelf.put_unit(unit, current_actor(), seen=query.seen)
    return _unit_answer(unit.id)


@api.post("/units", responses={201: t.AddedUnits, **_WRITE}, operation_id="addUnits")
def add_units(body: t.AddUnits) -> Response:
    """New units of a model, their labels counting on from the first."""
    labels = services().shelf.add_units(body.model, body.label, body.count, body.owner, current_actor())
    return answer(t.AddedUnits(units=labels), 201)


@api.delete("/units/<string:unit>", responses={200: t.AddedUnits, **_WRITE}, operation_id="removeUnit")
def remove_unit(path: t.UnitPath, query: t.RemoveQuery) -> Response:
    """Take a unit that is in no build off the shelf."""
    services().shelf.remove_unit(path.unit, current_actor(), seen=query.seen)
    return answer(t.AddedUnits(units=[]))


@api.get("/units.csv", responses=READ, operation_id="exportUnits")
def export_units() -> Response:
    """All units as CSV."""
    content = units_csv(services().shelf.catalogue().shelf)
    return Response(content, mimetype="text/csv", headers=file_headers("shelf.csv"))


@api.post("/units.csv", responses={200: t.PlanView, **_WRITE}, operation_id="importUnits")
def import_units(query: t.ImportUnitsQuery) -> Response:
    """What a CSV of units would do, by line; carried out when asked for, whole or not at all. The body is the file."""
    text = text_of(request.get_data())
    plan, revision = services().shelf.import_units(text, current_actor(), apply=query.apply, revision=query.revision)
    return answer(_plan(plan, revision, applied=query.apply))


def _plan(plan: Plan, revision: int, *, applied: bool) -> t.PlanView:
    return t.PlanView(
        applied=applied,
        revision=revision,
        same=plan.same,
        changes=[t.ChangeLine(line=c.line, unit=c.unit.id, kind=c.kind, fields=list(c.fields)) for c in plan.changes],
        errors=[t.ErrorLine(line=e.line, column=e.column, message=e.message) for e in plan.errors],
    )


@api.get("/scale", responses={200: t.ScaleView, **READ}, operation_id="readScale")
def read_scale() -> Response:
    """What lies on the scale now."""
    scale = services().devices.scale()
    reading = scale.read()
    return answer(t.ScaleView(name=scale.name(), mass_g=reading.mass_g, stable=reading.stable))


@api.post("/measure", responses={200: t.MeasuredView, **READ}, operation_id="measure")
def measure(body: t.MeasureRequest) -> Response:
    """A mass or a CG from readings."""
    m = _measured(body)
    return answer(t.MeasuredView(m))


def _measured(body: t.MeasureRequest) -> Measured:
    def need(name: str) -> float:
        value = getattr(body, name)
        if value is None:
            raise BadMeasurement(f"'{name}' is missing; the method '{body.method}' needs it.")
        return float(value)

    if body.method == "mass":
        return mass_from_scale(need("gross_g"), body.tare_g)
    if body.method == "edge":
        return cg_from_edge(need("edge_at_mm"), body.second_at_mm)
    return cg_from_scale(
        need("mass_g"), need("span_mm"), need("gross_g"), body.tare_g, need("block_at_mm"), need("scale_at_mm")
    )
