"""Find on the shelf: by words, kind, owner, and by what it fits."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

from .build import Catalogue, Claim, Unit

__all__ = ["Found", "Query", "search"]

Side = Literal["takes", "goes on"]


@dataclass(frozen=True, kw_only=True)
class Query:
    """What is looked for. ``interface`` with ``side``: takes the male half, or goes on the female one."""

    words: str = ""
    kind: str = ""
    interface: str = ""
    side: Side | None = None
    owner: str = ""
    free_only: bool = False
    skip: int = 0
    most: int = 60


@dataclass(frozen=True, slots=True)
class Found:
    """A page of units, how many there are in all, and how many of each kind."""

    units: tuple[Unit, ...]
    total: int
    kinds: Mapping[str, int]


def search(catalogue: Catalogue, query: Query, taken: Mapping[str, Claim]) -> Found:
    """Units that match everything asked for, owned before hired, by label."""
    words = query.words.lower().split()
    fitting = _fitting(catalogue, query)
    kinds: dict[str, int] = {}
    units = []
    for text, unit, kind in catalogue.index:
        if words and not all(word in text for word in words):
            continue
        if fitting is not None and unit.id not in fitting:
            continue
        if (query.owner and unit.owner != query.owner) or (query.free_only and unit.id in taken):
            continue
        kinds[kind] = kinds.get(kind, 0) + 1
        if not query.kind or kind == query.kind:
            units.append(unit)
    return Found(tuple(units[query.skip : query.skip + query.most]), len(units), kinds)


def _fitting(catalogue: Catalogue, query: Query) -> frozenset[str] | None:
    if not query.interface:
        return None
    genders = {"takes": ("female",), "goes on": ("male",)}.get(query.side or "", ("female", "male"))
    return frozenset().union(*(catalogue.having(query.interface, gender) for gender in genders))
