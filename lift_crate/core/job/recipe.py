"""A recipe: a build by models, without units; it is dressed with what is free.

Owned units come before hired, healthy before tired ones. What is not there is left off, with all that hangs on it,
and told.
"""

from __future__ import annotations

from collections.abc import Collection, Iterator
from dataclasses import dataclass, replace
from typing import Annotated

from annotated_types import MaxLen

from ..quantities import Identifier, Label
from ..rig.build import Build, Catalogue, Unit, UnitSetting
from ..settings import STRICT
from .edits import JobRefused

__all__ = ["Dressed", "Missing", "Recipe", "dress", "recipe_of", "renamed"]


@dataclass(frozen=True, kw_only=True)
class Recipe:
    """A build in which places stand for units: ``models`` says of which model each place is."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    models: Annotated[dict[str, Identifier], MaxLen(800)]
    build: Build

    def __post_init__(self) -> None:
        if strange := next((place for place in _places(self.build) if place not in self.models), None):
            raise ValueError(f"recipe '{self.label}': models says nothing of '{strange}'; name the model it is")


@dataclass(frozen=True, kw_only=True)
class Missing:
    """A model that a recipe asks for and of which no unit is free."""

    model: str
    title: str
    count: int
    why: str


@dataclass(frozen=True, kw_only=True)
class Dressed:
    """A build with units in it, how many, and what is missing."""

    build: Build
    units: int
    missing: tuple[Missing, ...]


def recipe_of(build: Build, catalogue: Catalogue, name: str, label: str) -> Recipe:
    """A build as a recipe. Raises NoSuchUnit for a unit that is not on the shelf."""
    counted: dict[str, int] = {}
    places = {}
    models = {}
    for unit in build.units:
        model = catalogue.unit(unit).model
        counted[model] = counted.get(model, 0) + 1
        places[unit] = f"{model}:{counted[model]}"[:120]
        models[places[unit]] = model
    return Recipe(id=name, label=label, models=models, build=replace(renamed(build, places), id=name, label=label))


def dress(recipe: Recipe, catalogue: Catalogue, busy: Collection[str]) -> Dressed:
    """Units for the places of a recipe. Raises JobRefused where no body of its model is free.

    A unit in ``busy`` is in use elsewhere; one that is out of use is not taken.
    """
    shelf: dict[str, list[Unit]] = {}
    for unit in catalogue.shelf:
        shelf.setdefault(unit.model, []).append(unit)
    used: dict[str, str] = {}
    short: dict[str, list[str]] = {}
    for place in recipe.build.units:
        model = recipe.models[place]
        free = [
            u
            for u in shelf.get(model, ())
            if u.id not in busy and u.id not in used.values() and u.condition != "out of use"
        ]
        if free:
            used[place] = min(free, key=lambda u: (u.owner != "owned", u.condition != "good", -u.health, u.id)).id
        else:
            short.setdefault(model, []).append(place)
    body = recipe.build.body
    if body not in used:
        raise JobRefused(
            f"{_title(recipe.models[body], catalogue)}: none is free. A recipe starts from its camera body."
        )
    gone = {hanging for places in short.values() for place in places for hanging in recipe.build.subtree(place)}
    build = renamed(recipe.build.without(gone), used)
    return Dressed(
        build=build,
        units=len(build.units),
        missing=tuple(
            Missing(
                model=model,
                title=_title(model, catalogue),
                count=len(places),
                why=_why(len(shelf.get(model, ())), model in catalogue.models),
            )
            for model, places in short.items()
        ),
    )


def _why(there: int, known: bool) -> str:
    if not known:
        return "this model is not on the shelf"
    if there == 0:
        return "no unit on the shelf"
    return "the one is in use" if there == 1 else f"all {there} are in use"


def _title(model: str, catalogue: Catalogue) -> str:
    known = catalogue.models.get(model)
    return known.title if known else model


def _places(build: Build) -> Iterator[str]:
    yield from build.units
    yield from (joint.parent for joint in build.joints)
    yield from (end for link in build.links for end in (link.from_unit, link.to_unit))


def _settings(settings: tuple[UnitSetting, ...], names: dict[str, str]) -> tuple[UnitSetting, ...]:
    return tuple(replace(s, unit=names[s.unit]) for s in settings if s.unit in names)


def renamed(build: Build, names: dict[str, str]) -> Build:
    """A build with other units in the same places; what is not named is left out of its settings."""
    return replace(
        build,
        body=names[build.body],
        joints=tuple(replace(j, child=names[j.child], parent=names[j.parent]) for j in build.joints),
        links=tuple(
            replace(k, cable=names[k.cable], from_unit=names[k.from_unit], to_unit=names[k.to_unit])
            for k in build.links
        ),
        settings=_settings(build.settings, names),
        presets=tuple(replace(p, settings=_settings(p.settings, names)) for p in build.presets),
        held_by=names.get(build.held_by) if build.held_by else None,
        worn=tuple(names[unit] for unit in build.worn),
        bends=tuple(replace(b, unit=names[b.unit]) for b in build.bends if b.unit in names),
    )
