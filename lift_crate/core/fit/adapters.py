"""Adapters found, not guessed: the shortest chain of adapter models from one port to another.

Fewest adapters first; ties: most of them owned, then least mass, then least length
(docs/formulas.md §2).
"""

from __future__ import annotations

import heapq
from collections import Counter
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass
from itertools import count

import numpy as np

from ..gear.interface import Interface
from ..gear.model import GearModel, Port
from ..rig.build import Catalogue

__all__ = ["AdapterChain", "Link", "all_chains", "find_chain", "half_for", "stack_mm"]

_LONGEST = 4
"""More adapters than this hold nothing up."""
_Place = tuple[str, str]
"""An interface and the gender of the half that is offered."""


@dataclass(frozen=True, slots=True)
class Link:
    """One adapter of a chain: its model, and a free unit of it; None: it must be hired."""

    model: GearModel
    unit: str | None
    owned: bool


@dataclass(frozen=True, slots=True)
class AdapterChain:
    """Adapters in the order in which they go on, from the parent's port to the child's."""

    links: tuple[Link, ...]

    @property
    def units(self) -> tuple[str, ...] | None:
        """A free unit for each; None when one of them must be hired first."""
        units = tuple(link.unit for link in self.links if link.unit)
        return units if len(units) == len(self.links) else None

    @property
    def mass_g(self) -> float:
        """Mass that the chain adds, g."""
        return sum(link.model.mass_g or 0.0 for link in self.links)

    @property
    def length_mm(self) -> float:
        """Distance that the chain adds between the two ports, mm."""
        return sum(stack_mm(link.model) for link in self.links)

    @property
    def loses(self) -> tuple[str, ...]:
        """What is lost on the way, each once."""
        return tuple(
            dict.fromkeys(what for link in self.links if link.model.adapter for what in link.model.adapter.loses)
        )

    def off_mm(self, interfaces: Mapping[str, Interface]) -> float:
        """How much too thick a chain of plain lens adapters is, mm; 0 where flange distances do not apply."""
        return sum(
            stack_mm(link.model) - wanted
            for link in self.links
            if (wanted := _flange_step_mm(link.model, interfaces)) is not None
        )

    def __str__(self) -> str:
        return " + ".join(link.unit or f"{link.model.title} (to hire)" for link in self.links)


def stack_mm(model: GearModel) -> float:
    """Distance between the two ports of an adapter, mm; 0 for anything else."""
    if model.adapter is None:
        return 0.0
    near, far = model.port(model.adapter.toward_body), model.port(model.adapter.toward_part)
    return float(np.linalg.norm(np.subtract(far.at, near.at)))


def _flange_step_mm(model: GearModel, interfaces: Mapping[str, Interface]) -> float | None:
    if model.adapter is None or model.adapter.optics:
        return None
    body, lens = (
        interfaces[model.port(p).interface].flange_mm for p in (model.adapter.toward_body, model.adapter.toward_part)
    )
    return None if body is None or lens is None else lens - body


def find_chain(catalogue: Catalogue, parent: Port, child: Port, free: Iterable[str]) -> AdapterChain | None:
    """The shortest chain that joins ``child`` to ``parent``; None when there is none.

    ``free`` are units that can be taken now, owned ones first; a model without a free
    unit is to be hired. Two ports that mate already have an empty chain.
    """
    wanted = half_for(child)
    return next((chain for half, chain in _chains(catalogue, parent, free) if half == wanted), None)


def all_chains(catalogue: Catalogue, parent: Port, free: Iterable[str]) -> dict[tuple[str, str], AdapterChain]:
    """The shortest chain from a port to every half that adapters lead to; the empty one to its own."""
    return dict(_chains(catalogue, parent, free))


def half_for(child: Port) -> tuple[str, str]:
    """The half that a child's port needs: its interface, and the gender that mates."""
    return child.interface, "female" if child.gender == "male" else "male"


def _chains(catalogue: Catalogue, parent: Port, free: Iterable[str]) -> Iterator[tuple[_Place, AdapterChain]]:
    """Halves by rising cost of the chain to them."""
    shelf = _free_by_model(catalogue, free)
    order = count()
    start: _Place = (parent.interface, parent.gender)
    heap: list[tuple[tuple[int, int, float, float], int, _Place, tuple[GearModel, ...]]] = [
        ((0, 0, 0.0, 0.0), next(order), start, ())
    ]
    settled: set[_Place] = set()
    while heap:
        cost, _, place, models = heapq.heappop(heap)
        if place in settled:
            continue
        settled.add(place)
        yield place, AdapterChain(_with_units(models, shelf, catalogue))
        if len(models) == _LONGEST:
            continue
        for model, onwards in catalogue.adapters_from(*place):
            hired = 0 if _owned_left(model, models, shelf, catalogue) else 1
            onward_cost = (cost[0] + 1, cost[1] + hired, cost[2] + (model.mass_g or 0.0), cost[3] + stack_mm(model))
            heapq.heappush(heap, (onward_cost, next(order), onwards, (*models, model)))


def _free_by_model(catalogue: Catalogue, free: Iterable[str]) -> dict[str, list[str]]:
    shelf: dict[str, list[str]] = {}
    for unit in free:
        model = catalogue.model_of(unit)
        if model.adapter:
            shelf.setdefault(model.id, []).append(unit)
    return shelf


def _owned_left(
    model: GearModel, used: tuple[GearModel, ...], shelf: Mapping[str, list[str]], catalogue: Catalogue
) -> bool:
    left = shelf.get(model.id, [])[sum(m.id == model.id for m in used) :]
    return bool(left) and catalogue.unit(left[0]).owner == "owned"


def _with_units(
    models: tuple[GearModel, ...], shelf: Mapping[str, list[str]], catalogue: Catalogue
) -> tuple[Link, ...]:
    taken: Counter[str] = Counter()
    links = []
    for model in models:
        left = shelf.get(model.id, [])[taken[model.id] :]
        taken[model.id] += 1
        unit = left[0] if left else None
        links.append(Link(model, unit, bool(unit) and catalogue.unit(left[0]).owner == "owned"))
    return tuple(links)
