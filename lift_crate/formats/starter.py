"""The starter shelf: generic gear in open standards, made by the patterns; all of it assumed until it is replaced."""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from functools import cache
from importlib.resources import files
from typing import Any

import yaml
from pydantic import TypeAdapter

from ..core.errors import LiftCrateError
from ..core.gear.doubts import ratings_of
from ..core.gear.interface import Interface
from ..core.gear.model import GearModel
from ..core.gear.patterns import PATTERNS, Known, model_by, mount_of

__all__ = ["NoSuchStarter", "StarterItem", "starter_items", "starter_models"]


class NoSuchStarter(LiftCrateError, ValueError):
    """Something that the starter shelf does not have, or a lens mount that is not there."""

    code = "starter.unknown"

    def __init__(self, what: str) -> None:
        self.what = what

    def __str__(self) -> str:
        return self.what


@dataclass(frozen=True, slots=True)
class StarterItem:
    """One kind of thing on the starter shelf: its group, its name, and the answers that make its model."""

    id: str
    group: str
    kind: str
    name: str
    wants_mount: bool
    answers: Mapping[str, Any]

    @property
    def model(self) -> str:
        """Id of the model that is made of it."""
        return f"starter-{self.id}"


@cache
def _document() -> dict[str, Any]:
    text = (files(__package__) / "starter.yaml").read_text(encoding="utf-8")
    loaded: dict[str, Any] = yaml.safe_load(text)
    return loaded


@cache
def starter_items() -> tuple[StarterItem, ...]:
    """Everything on it, by group."""
    return tuple(_items())


def _items() -> Iterator[StarterItem]:
    for group, rows in _document()["groups"].items():
        for row in rows:
            answers = {key: value for key, value in row.items() if key not in ("id", "kind", "kind_of")}
            if "kind_of" in row:
                answers["kind"] = row["kind_of"]
            yield StarterItem(row["id"], group, row["kind"], row["name"], "$mount" in answers.values(), answers)


def starter_models(
    wanted: Sequence[str], mount: str | Mapping[str, Any], known: Known
) -> tuple[tuple[Interface, ...], tuple[GearModel, ...]]:
    """Interfaces and models that are not there yet for what is ``wanted``, in an order in which they can be made.

    ``mount``: the lens mount for bodies and lenses that come with any, by its id or described anew.
    Raises NoSuchStarter, BadAnswers.
    """
    items = {item.id: item for item in starter_items()}
    adapter = TypeAdapter(Interface)
    interfaces = [adapter.validate_python(document) for document in _document()["interfaces"]]
    if any(items[name].wants_mount for name in wanted if name in items):
        mount, described = mount_of(mount, known)
        interfaces += described
    fresh = tuple(i for i in interfaces if i.id not in known.interfaces)
    every = {**known.interfaces, **{i.id: i for i in interfaces}}
    models = dict(known.models)
    made: list[GearModel] = []

    def make(name: str) -> None:
        item = items.get(name)
        if item is None:
            raise NoSuchStarter(f"The starter shelf has no '{name[:60]}'.")
        if item.model in models:
            return
        answers = dict(item.answers)
        for key, value in answers.items():
            if value == "$mount":
                answers[key] = mount
            elif isinstance(value, str) and value.startswith("$"):
                make(value[1:])
                answers[key] = items[value[1:]].model
        drawn = model_by(item.kind, answers, Known(every, models)).model
        model = replace(
            drawn,
            id=item.model,
            mass_source="assumed",
            assumed=tuple(dict.fromkeys(("mass_g", *drawn.assumed, *_asked(item)))),
            unconfirmed=ratings_of(drawn),
        )
        models[model.id] = model
        made.append(model)

    for name in wanted:
        make(name)
    return fresh, tuple(made)


def _asked(item: StarterItem) -> tuple[str, ...]:
    """Places in the model of what was answered for it: generic figures, all of them assumed."""
    fields = {q.key: q.field for q in PATTERNS[item.kind].questions}
    return tuple(field for key in item.answers if (field := fields.get(key)))
