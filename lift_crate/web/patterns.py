"""Gear of one's own, fast: models by pattern, and the starter shelf."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Annotated, Any, Literal

from flask import Response, request
from flask_openapi3.models.tag import Tag
from pydantic import Field, JsonValue

from ..core.drawings.elevation import lone_model
from ..core.gear.doubts import GearDoubted, Wrong, doubts_of
from ..core.gear.interface import Interface
from ..core.gear.model import GearModel
from ..core.gear.patterns import PATTERNS, BadAnswers, Known, Made, NoSuchPattern, Pattern, Question, model_by
from ..core.rig.build import Catalogue
from ..formats.pattern_csv import pattern_template, plan_models
from ..formats.starter import starter_items, starter_models
from ..store.errors import PlanHasErrors
from ..store.shelf import NewGear, NewUnits
from . import schema as s
from . import schema_shelf as t
from .answers import READ, Responses, answer, file_headers, text_of
from .described import PlaceApi
from .identity import current_actor
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "patterns",
    __name__,
    url_prefix="/api/shelf",
    abp_tags=[Tag(name="patterns", description="Models from a few figures")],
)
_WRITE: Responses = {**READ, 409: s.ProblemView}
_MOST_ITEMS = 200


class PatternView(s.Told):
    """A kind of gear, and what it is asked: of every kind, then of its own."""

    id: str
    label: str
    group: str
    questions: list[Question]


class ModelChoice(s.Told):
    """A model to choose."""

    id: str
    title: str


class PatternsView(s.Told):
    """Every pattern, in the order they are offered, and the bodies that a cage can be for."""

    patterns: list[PatternView]
    bodies: list[ModelChoice]


class PatternPath(s.Strict):
    """Names a pattern."""

    pattern: str


class PatternAnswers(s.Strict):
    """Answers by their questions; what is not known is left out."""

    answers: Annotated[dict[str, JsonValue], Field(max_length=120)]


class PatternGear(PatternAnswers):
    """Answers, and the units that there are of the model."""

    label: Annotated[str, Field(max_length=100)] = ""
    """Label of the first unit; empty: the model alone."""
    count: Annotated[int, Field(ge=1, le=200)] = 1
    owner: Literal["owned", "hired"] = "owned"
    sure: bool = False
    """It was asked once more whether the figures are right."""


class PatternPreview(s.Told):
    """What answers make: the model drawn, what was assumed, what is doubted, and what is wrong."""

    drawn: t.ModelPreview | None
    model: GearModel | None
    interfaces: list[Interface]
    doubts: list[s.FieldProblem]
    problems: list[s.FieldProblem]


class MadeGear(s.Told):
    """What was added."""

    model: str
    units: list[str]


class StarterLine(s.Told):
    """One kind of thing on the starter shelf."""

    id: str
    group: str
    name: str
    mass_g: float | None
    wants_mount: bool
    units: int
    """How many units of it are on the shelf already."""


class StarterView(s.Told):
    """The starter shelf."""

    items: list[StarterLine]


class StarterWant(s.Strict):
    """How many of an item, and what is written on them; empty: a label made of its name."""

    id: str
    count: Annotated[int, Field(ge=1, le=50)] = 1


class StarterOrder(s.Strict):
    """What is to be added, and the lens mount of the bodies and lenses in it."""

    items: Annotated[list[StarterWant], Field(min_length=1, max_length=_MOST_ITEMS)]
    mount: str | Annotated[dict[str, JsonValue], Field(max_length=20)] = ""
    """Its id, or what a new one is called, with its flange distance."""
    owner: Literal["owned", "hired"] = "owned"


@api.get("/patterns", responses={200: PatternsView, **READ}, operation_id="readPatterns")
def read_patterns() -> Response:
    """What each kind of gear is asked."""
    return answer(
        PatternsView(
            patterns=[
                PatternView(id=p.id, label=p.label, group=p.group, questions=list(p.asked)) for p in PATTERNS.values()
            ],
            bodies=[
                ModelChoice(id=m.id, title=m.title) for m in services().shelf.catalogue().models.values() if m.body
            ],
        )
    )


def _known(catalogue: Catalogue) -> Known:
    return Known(catalogue.interfaces, catalogue.models)


def _doubts(made: Made) -> tuple[Wrong, ...]:
    return (*(Wrong(*doubt) for doubt in made.doubts), *doubts_of(made.model))


@api.post("/patterns/<string:pattern>/preview", responses={200: PatternPreview, **READ}, operation_id="previewPattern")
def preview_pattern(path: PatternPath, body: PatternAnswers) -> Response:
    """The model that these answers make; nothing is saved."""
    catalogue = services().shelf.catalogue()
    try:
        made = model_by(path.pattern, body.answers, _known(catalogue))
    except BadAnswers as error:
        return answer(
            PatternPreview(drawn=None, model=None, interfaces=[], doubts=[], problems=_problems(error.problems))
        )
    interfaces = {**catalogue.interfaces, **{i.id: i for i in made.interfaces}}
    return answer(
        PatternPreview(
            drawn=t.ModelPreview(elevations=lone_model(made.model, interfaces), problems=[]),
            model=made.model,
            interfaces=list(made.interfaces),
            doubts=_problems(_doubts(made)),
            problems=[],
        )
    )


def _problems(wrong: Sequence[Wrong]) -> list[s.FieldProblem]:
    return [s.FieldProblem(path=w.path, message=w.message) for w in wrong]


@api.post("/patterns/<string:pattern>", responses={200: MadeGear, **_WRITE}, operation_id="addByPattern")
def add_by_pattern(path: PatternPath, body: PatternGear) -> Response:
    """Add a model that these answers make, with its units; all of it or nothing."""
    if path.pattern not in PATTERNS:
        raise NoSuchPattern(path.pattern)
    added = ""

    def make(catalogue: Catalogue) -> NewGear:
        nonlocal added
        made = model_by(path.pattern, body.answers, _known(catalogue))
        doubts = _doubts(made)
        if doubts and not body.sure:
            raise GearDoubted(doubts)
        added = made.model.id
        units = NewUnits(model=added, label=body.label.strip(), count=body.count, owner=body.owner)
        return NewGear(interfaces=made.interfaces, models=(made.model,), units=(units,) if units.label else ())

    labels = services().shelf.add_made(make, current_actor())
    return answer(MadeGear(model=added, units=labels))


@api.get("/starter", responses={200: StarterView, **READ}, operation_id="readStarter")
def read_starter() -> Response:
    """Generic gear in open standards, to be ticked."""
    catalogue = services().shelf.catalogue()
    owned: dict[str, int] = {}
    for unit in catalogue.shelf:
        owned[unit.model] = owned.get(unit.model, 0) + 1
    return answer(
        StarterView(
            items=[
                StarterLine(
                    id=item.id,
                    group=item.group,
                    name=item.name,
                    mass_g=_mass(item.answers),
                    wants_mount=item.wants_mount,
                    units=owned.get(item.model, 0),
                )
                for item in starter_items()
            ]
        )
    )


def _mass(answers: Mapping[str, Any]) -> float | None:
    mass = answers.get("mass_g")
    return float(mass) if mass is not None else None


@api.post("/starter", responses={200: t.AddedUnits, **_WRITE}, operation_id="addStarter")
def add_starter(body: StarterOrder) -> Response:
    """Add what is ticked, with so many units of each; all of it or nothing."""
    items = {item.id: item for item in starter_items()}
    units = [
        NewUnits(model=items[want.id].model, label=f"{want.id.upper()}-", count=want.count, owner=body.owner)
        for want in body.items
        if want.id in items
    ]
    wanted = [want.id for want in body.items]

    def make(catalogue: Catalogue) -> NewGear:
        interfaces, models = starter_models(wanted, body.mount, _known(catalogue))
        return NewGear(interfaces=interfaces, models=models, units=units)

    return answer(t.AddedUnits(units=services().shelf.add_made(make, current_actor())))


class PatternLine(s.Told):
    """A model that a line would add, and its units."""

    line: int
    name: str
    units: int
    assumed: int
    """How many of its figures would be assumed."""
    doubts: list[str]


class PatternPlanView(s.Told):
    """What a CSV of models would add, or what is wrong with it."""

    applied: bool
    lines: list[PatternLine]
    errors: list[t.ErrorLine]


@api.get("/patterns/<string:pattern>/template", responses={**READ}, operation_id="patternTemplate")
def pattern_template_file(path: PatternPath) -> Response:
    """An empty CSV with a column for each question of a kind."""
    content = pattern_template(_pattern(path.pattern))
    name = f"{path.pattern.replace(' ', '-')}.csv"
    return Response(content, mimetype="text/csv", headers=file_headers(name))


@api.post("/patterns/<string:pattern>/import", responses={200: PatternPlanView, **_WRITE}, operation_id="importModels")
def import_models(path: PatternPath, query: t.ImportUnitsQuery) -> Response:
    """What a CSV of models would add; carried out when asked for, whole or not at all. The body is the file."""
    pattern, text = _pattern(path.pattern), text_of(request.get_data())
    plan = plan_models(text, pattern, _known(services().shelf.catalogue()))

    def make(catalogue: Catalogue) -> NewGear:
        nonlocal plan
        plan = plan_models(text, pattern, _known(catalogue))
        if plan.errors:
            raise PlanHasErrors(plan.errors)
        return NewGear(
            interfaces=[i for line in plan.lines for i in line.interfaces],
            models=[line.model for line in plan.lines],
            units=[
                NewUnits(
                    model=line.model.id,
                    label=line.label,
                    count=line.count,
                    owner="hired" if line.owner == "hired" else "owned",
                )
                for line in plan.lines
                if line.label
            ],
        )

    if query.apply:
        services().shelf.add_made(make, current_actor())
    return answer(
        PatternPlanView(
            applied=query.apply,
            lines=[
                PatternLine(
                    line=line.line,
                    name=line.model.title,
                    units=line.count if line.label else 0,
                    assumed=len(line.model.assumed),
                    doubts=[*line.doubts, *(d.message for d in doubts_of(line.model))],
                )
                for line in plan.lines
            ],
            errors=[t.ErrorLine(line=e.line, column=e.column, message=e.message) for e in plan.errors],
        )
    )


def _pattern(name: str) -> Pattern:
    if name not in PATTERNS:
        raise NoSuchPattern(name)
    return PATTERNS[name]
