"""Recipes: builds by models, kept for every job here, dressed with what is free."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Annotated

from flask import Response
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.job.job import NotInJob
from ..core.job.recipe import Missing, Recipe
from ..core.rig.build import Build
from . import schema as s
from .answers import Responses, answer, file_headers
from .described import PlaceApi
from .identity import current_actor, knows
from .services import services

__all__ = ["api"]

api = PlaceApi("recipes", __name__, url_prefix="/api", abp_tags=[Tag(name="recipes", description="Builds by models")])
_ERRORS: Responses = {404: s.ProblemView, 409: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}
_Name = Annotated[str, Field(min_length=1, max_length=200, pattern=r"\S")]


class RecipePath(s.Strict):
    """Names a recipe."""

    recipe: str


class KeepRecipe(s.Strict):
    """A build of a job to be kept as a recipe; without a label it is called as the build is."""

    job: str
    build: str
    label: Annotated[str, Field(max_length=200)] = ""


class RecipesFile(s.Strict):
    """Recipes as they are written to a file and read from one."""

    recipes: Annotated[list[Recipe], Field(min_length=1, max_length=200)]


class ChangeRecipe(s.Strict):
    """Another name, or put away and brought back; what is left out stays."""

    label: _Name | None = None
    removed: bool | None = None


class RecipeLine(s.Told):
    """A recipe: its body, how many parts, who made it, and how many of its models are not on the shelf."""

    id: str
    label: str
    body: str
    units: int
    unknown: int
    actor: str
    at: datetime
    removed: bool


class RecipesView(s.Told):
    """All recipes; ``made``: those that this request made."""

    recipes: list[RecipeLine]
    made: list[str] = Field(default_factory=list)


class DressRequest(s.Strict):
    """A recipe, or a build of a job, for a camera in a part of the day."""

    rig: str
    part: str
    recipe: str | None = None
    job: str = ""
    build: str = ""


class DressedView(s.Told):
    """A build with units in it, how many, and what is missing."""

    build: Build
    units: int
    missing: tuple[Missing, ...]


class ElsewhereLine(s.Told):
    """A build of another job."""

    job: str
    title: str
    build: str
    label: str


class ElsewhereView(s.Told):
    """Builds of the other jobs here."""

    builds: list[ElsewhereLine]


_MOST_ELSEWHERE = 400


@api.get("/recipes", responses={200: RecipesView, 503: s.ProblemView}, operation_id="listRecipes")
def list_recipes() -> Response:
    """All recipes by name, removed ones last."""
    return _list()


def _list(status: int = 200, made: list[str] | None = None) -> Response:
    models = services().shelf.catalogue().models
    lines = []
    for kept in services().recipes.all():
        recipe = kept.recipe
        body = recipe.models[recipe.build.body]
        lines.append(
            RecipeLine(
                id=recipe.id,
                label=recipe.label,
                body=models[body].title if body in models else body,
                units=len(recipe.build.units),
                unknown=len({m for m in recipe.models.values() if m not in models}),
                actor=kept.actor,
                at=kept.at.astimezone(UTC),
                removed=kept.removed,
            )
        )
    return answer(RecipesView(recipes=lines, made=made or []), status)


@api.post("/recipes", responses={201: RecipesView, **_ERRORS}, operation_id="keepRecipe")
def keep_recipe(body: KeepRecipe) -> Response:
    """Keep a build of a job as a recipe."""
    if not knows(body.job):
        raise NotInJob("job", body.job)
    return _list(201, [services().recipes.keep(body.job, body.build, body.label, current_actor())])


@api.post("/recipes/file", responses={201: RecipesView, **_ERRORS}, operation_id="readRecipes")
def read_recipes(body: RecipesFile) -> Response:
    """Read recipes in, all or none, each under an id of its own."""
    return _list(201, services().recipes.add(body.recipes, current_actor()))


@api.get("/recipes/<string:recipe>/file", responses={200: RecipesFile, **_ERRORS}, operation_id="exportRecipe")
def export_recipe(path: RecipePath) -> Response:
    """A recipe as a file that another crew can read in."""
    kept = services().recipes.get(path.recipe).recipe
    content = RecipesFile(recipes=[kept]).model_dump_json(indent=1, exclude_defaults=True)
    headers = file_headers(f"{path.recipe}.lift-crate-recipe.json")
    return Response(content + "\n", mimetype="application/json", headers=headers)


@api.post("/recipes/<string:recipe>", responses={200: RecipesView, **_ERRORS}, operation_id="changeRecipe")
def change_recipe(path: RecipePath, body: ChangeRecipe) -> Response:
    """Rename a recipe, put it away or bring it back."""
    if body.label is not None:
        services().recipes.rename(path.recipe, body.label)
    if body.removed is not None:
        services().recipes.remove(path.recipe, removed=body.removed)
    return _list()


@api.post("/jobs/<string:job>/dress", responses={200: DressedView, **_ERRORS}, operation_id="dressRecipe")
def dress_recipe(path: s.JobPath, body: DressRequest) -> Response:
    """What a recipe, or a build of a job, would be with units that are free then; nothing is saved."""
    source = body.recipe if body.recipe is not None else (body.job, body.build)
    dressed = services().recipes.dressed(path.job, body.rig, body.part, source)
    return answer(DressedView(build=dressed.build, units=dressed.units, missing=dressed.missing))


@api.get("/jobs/<string:job>/elsewhere", responses={200: ElsewhereView, **_ERRORS}, operation_id="readElsewhere")
def read_elsewhere(path: s.JobPath) -> Response:
    """Builds of the other jobs, to be copied from."""
    with services().jobs.reading():
        others = [row for row in services().jobs.list_jobs() if row["id"] != path.job and knows(row["id"])]
        found = [
            ElsewhereLine(job=job.id, title=job.title, build=build.id, label=f"{rig.label}: {build.label}")
            for job in (services().jobs.read(row["id"])[0] for row in others)
            for rig in job.rigs
            for build in rig.builds
        ]
    return answer(ElsewhereView(builds=found[:_MOST_ELSEWHERE]))
