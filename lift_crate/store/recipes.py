"""Recipes: kept for every job here, made of builds, dressed with what is free in a part of the day."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass, replace
from datetime import datetime

from psycopg.types.json import Jsonb
from pydantic import TypeAdapter

from ..core.gear.labels import fresh_id
from ..core.job.job import NotInJob
from ..core.job.recipe import Dressed, Recipe, dress, recipe_of
from .database import Connection, reading, recipe_queries, tried_again, writing
from .jobs import JobStore

__all__ = ["KeptRecipe", "RecipeStore"]

_recipes = TypeAdapter(Recipe)


@dataclass(frozen=True, kw_only=True)
class KeptRecipe:
    """A recipe, who made it and when, and whether it was removed."""

    recipe: Recipe
    actor: str
    at: datetime
    removed: bool


class RecipeStore:
    """Keeps recipes."""

    def __init__(self, jobs: JobStore) -> None:
        self.jobs = jobs

    def all(self) -> list[KeptRecipe]:
        """All of them by name, removed ones last."""
        with reading(self.jobs.pool) as connection:
            return [_kept(row) for row in recipe_queries.recipes(connection)]

    def get(self, name: str) -> KeptRecipe:
        """One recipe; raises NotInJob."""
        with reading(self.jobs.pool) as connection:
            return self._get(connection, name)

    def _get(self, connection: Connection, name: str) -> KeptRecipe:
        row = recipe_queries.recipe(connection, id=name)
        if row is None:
            raise NotInJob("recipe", name)
        return _kept(row)

    @tried_again
    def keep(self, job_id: str, build_id: str, label: str, actor: str) -> str:
        """A build of a job as a recipe; its id. Raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            _, build = job.build(build_id)
            name = label.strip() or build.label
            made = recipe_of(build, catalogue, fresh_id(name, self._ids(connection), "recipe"), name)
            self._add(connection, made, actor)
            return made.id

    @tried_again
    def add(self, recipes: Sequence[Recipe], actor: str) -> list[str]:
        """Recipes from a file, all or none, each under an id of its own; their ids."""
        with writing(self.jobs.pool) as connection:
            names = self._ids(connection)
            made = []
            for recipe in recipes:
                name = fresh_id(recipe.label, names, "recipe")
                names.add(name)
                self._add(connection, replace(recipe, id=name), actor)
                made.append(name)
            return made

    def rename(self, name: str, label: str) -> None:
        """Another name; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            if recipe_queries.rename(connection, id=name, label=label.strip()) is None:
                raise NotInJob("recipe", name)

    def remove(self, name: str, *, removed: bool) -> None:
        """Put a recipe away, or bring it back; raises NotInJob."""
        with writing(self.jobs.pool) as connection:
            if recipe_queries.remove(connection, id=name, removed=removed) is None:
                raise NotInJob("recipe", name)

    def dressed(self, job_id: str, rig_id: str, part_id: str, recipe: str | tuple[str, str]) -> Dressed:
        """A recipe, or a build of a job (job, build), with what is free for a camera in a part of the day.

        Raises NotInJob, and JobRefused where no body is free.
        """
        with reading(self.jobs.pool) as connection:
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            job.part(part_id)
            job.rig(rig_id)
            busy = {row["unit"] for row in recipe_queries.busy(connection, job=job_id, part=part_id, rig=rig_id)}
            if isinstance(recipe, str):
                return dress(self._get(connection, recipe).recipe, catalogue, busy)
            other, theirs, _ = self.jobs.read_on(connection, recipe[0])
            _, build = other.build(recipe[1])
            return dress(recipe_of(build, theirs, build.id, build.label), catalogue, busy)

    def _ids(self, connection: Connection) -> set[str]:
        return {row["id"] for row in recipe_queries.ids(connection)}

    def _add(self, connection: Connection, recipe: Recipe, actor: str) -> None:
        document = Jsonb(_recipes.dump_python(recipe, mode="json", exclude_defaults=True))
        recipe_queries.add(connection, id=recipe.id, label=recipe.label, document=document, actor=actor)


def _kept(row: dict[str, object]) -> KeptRecipe:
    recipe = _recipes.validate_python(row["document"])
    return KeptRecipe(
        recipe=replace(recipe, label=str(row["label"])),
        actor=str(row["actor"]),
        at=row["at"],  # type: ignore[arg-type]  # a timestamptz
        removed=bool(row["removed"]),
    )
