"""The facts of one build in one part of the day, found once: where everything is, what carries it, what it draws.

Nothing is judged here; ``verdict`` does that. Balance, drawings, sheets and the day's swaps read facts from here.
"""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable, Mapping
from dataclasses import dataclass
from functools import cached_property
from threading import Lock
from typing import Generic, TypeVar

from .cables import Route, routes
from .fit.collisions import Clashes, clashes_of
from .power.checks import PackRun, pack_runs
from .power.feeds import PowerGraph, power_graph
from .rig.assembly import Assembly, assemble
from .rig.build import Build, Catalogue, Claim, Conditions, Target
from .settings import Settings
from .support.load import Carried, carried

__all__ = ["Recent", "Stand", "Stands", "key_of", "stand_of"]

T = TypeVar("T")


@dataclass(frozen=True, eq=False)
class Stand:
    """One build as it stands in its conditions."""

    assembly: Assembly
    settings: Settings
    conditions: Conditions
    taken: Mapping[str, Claim]
    """Units that another rig has at this time."""
    target: Target | None
    """What it must see."""
    carried: Carried
    graph: PowerGraph

    @cached_property
    def runs(self) -> tuple[PackRun, ...]:
        """Every pack of the build, run down under its load."""
        return pack_runs(self.graph, self.carried.own_draw_w, self.conditions, self.settings)

    @cached_property
    def clashes(self) -> Clashes:
        """Where it is in its own way."""
        return clashes_of(self.assembly)

    @cached_property
    def routes(self) -> tuple[Route, ...]:
        """Where every cable runs."""
        return tuple(routes(self.assembly, self.carried, self.settings, self.target))

    @property
    def draw_w(self) -> float:
        """Watts over all packs of the rig, at the start."""
        return sum(run.load_w for run in self.runs)

    @property
    def first_empty(self) -> PackRun | None:
        """The pack that ends first; None when nothing runs on a pack."""
        return min(self.runs, key=lambda run: run.hours, default=None)

    @property
    def short(self) -> bool:
        """The first pack is empty before anybody may touch it."""
        return self.first_empty is not None and self.first_empty.hours < self.conditions.hours_needed


def stand_of(
    build: Build,
    catalogue: Catalogue,
    conditions: Conditions,
    settings: Settings,
    taken: Mapping[str, Claim] | None = None,
    target: Target | None = None,
) -> Stand:
    """The facts of a build. ``taken``: units that another rig has at this time; ``target``: what it must see.

    Raises BadRig when the joints do not make a rig at all (unknown port or unit,
    circle, loose part); everything else can be judged.
    """
    assembly = assemble(build, catalogue)
    held = carried(assembly, settings, target)
    return Stand(assembly, settings, conditions, taken or {}, target, held, power_graph(assembly))


class Recent(Generic[T]):
    """The latest so many things that were worked out, by what they were worked out from; several threads may ask."""

    def __init__(self, most: int) -> None:
        self._most, self._lock = most, Lock()
        self._known: OrderedDict[Hashable, T] = OrderedDict()

    def of(self, key: Hashable, make: Callable[[], T]) -> T:
        """What belongs to a key, made where it is not known; raises what ``make`` raises."""
        with self._lock:
            known = self._known.get(key)
            if known is not None:
                self._known.move_to_end(key)
        if known is None:
            known = make()
            self.keep(key, known)
        return known

    def keep(self, key: Hashable, thing: T) -> None:
        """What belongs to a key from now on."""
        with self._lock:
            self._known[key] = thing
            while len(self._known) > self._most:
                self._known.popitem(last=False)


def key_of(
    build: Build, catalogue: Catalogue, conditions: Conditions, settings: Settings, target: Target | None
) -> Hashable:
    """What facts and verdicts are kept by: values, but shelf and settings by identity."""
    return id(catalogue), id(settings), build, conditions, target


class Stands:
    """Facts by the value of build, conditions and target, over one shelf and one set of settings each.

    What other rigs have is left out. Shelf and settings go by identity: whoever holds them makes new
    ones when they change, and every Stand keeps its own alive, so that an identity stays its own.
    """

    def __init__(self, most: int = 256) -> None:
        self._recent: Recent[Stand] = Recent(most)

    def of(
        self,
        build: Build,
        catalogue: Catalogue,
        conditions: Conditions,
        settings: Settings,
        target: Target | None = None,
    ) -> Stand:
        """The facts of a build; raises what ``stand_of`` raises."""
        key = key_of(build, catalogue, conditions, settings, target)
        return self._recent.of(key, lambda: stand_of(build, catalogue, conditions, settings, target=target))
