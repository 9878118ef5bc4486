"""The facts of one build in one part of the day, found once: where everything is, what carries it, what it draws.

Nothing is judged here; ``verdict`` does that. Balance, drawings, sheets and the day's swaps read facts from here.
"""

from __future__ import annotations

from collections.abc import Hashable, Mapping
from dataclasses import dataclass
from functools import cached_property

from .cables import Route, routes
from .fit.collisions import Clashes, clashes_of
from .lens.coverage import View, view_of
from .power.checks import PackRun, Power, power_of
from .power.feeds import PowerGraph, power_graph
from .power.pattern import saved_w
from .recent import Recent
from .rig.assembly import Assembly, assemble
from .rig.build import Build, Catalogue, Claim, Conditions, Target
from .settings import Settings
from .support.load import Carried, carried

__all__ = ["Stand", "Stands", "key_of", "stand_of"]


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
    def power(self) -> Power:
        """What its packs do, and what stands against its power."""
        return power_of(self.graph, self.carried.own_draw_w, self.conditions, self.settings, self.average_w())

    def average_w(self, *, off: bool | None = None) -> dict[str, float]:
        """Watts that units take besides their draw while rolling, on average; ``off``: switched off between
        takes, as the build says where nothing is said.
        """
        between = self.assembly.build.off_between if off is None else off
        found = dict(self.carried.own_draw_w)
        for unit, watts in saved_w(self.assembly.layout, self.conditions, self.settings, off=between).items():
            found[unit] = found.get(unit, 0.0) + watts
        return found

    @property
    def runs(self) -> tuple[PackRun, ...]:
        """Every pack of the build, run down under its load."""
        return self.power.runs

    @cached_property
    def clashes(self) -> Clashes:
        """Where it is in its own way."""
        return clashes_of(self.assembly)

    @cached_property
    def routes(self) -> tuple[Route, ...]:
        """Where every cable runs."""
        return tuple(routes(self.assembly, self.carried, self.settings, self.target))

    @cached_property
    def view(self) -> View | None:
        """The lens on the body as it is set; None without one."""
        return view_of(self.assembly)

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
        return self.first_empty is not None and self.first_empty.hours < self.conditions.untouched_h


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
    return Stand(assembly, settings, conditions, taken or {}, target, held, assembly.layout.once(power_graph))


def key_of(
    build: Build, catalogue: Catalogue, conditions: Conditions, settings: Settings, target: Target | None
) -> Hashable:
    """What facts and verdicts are kept by: values, but shelf and settings by identity."""
    return id(catalogue.straight or catalogue), id(settings), build, conditions, target


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
