"""Verdicts that were given before: the same facts have the same verdict."""

from __future__ import annotations

from ..recent import Recent
from ..rig.build import Build, Catalogue, Conditions, Target
from ..settings import Settings
from ..stand import Stand, key_of, stand_of
from .judge import Whole, whole

__all__ = ["Verdicts"]


class Verdicts:
    """Whole verdicts by the value of build, conditions and target, as ``Stands`` keeps facts."""

    def __init__(self, most: int = 256) -> None:
        self._recent: Recent[Whole] = Recent(most)

    def of(
        self,
        build: Build,
        catalogue: Catalogue,
        conditions: Conditions,
        settings: Settings,
        target: Target | None = None,
    ) -> Whole:
        """The verdict on a build, what other rigs have left out; raises what ``stand_of`` raises."""
        key = key_of(build, catalogue, conditions, settings, target)
        return self._recent.of(key, lambda: whole(stand_of(build, catalogue, conditions, settings, target=target)))

    def keep(self, judged: Whole) -> None:
        """A verdict that was given with a look at what others have, if it is about none of that."""
        at: Stand = judged.stand
        if not set(at.assembly.build.units) & set(at.taken):
            key = key_of(at.assembly.build, at.assembly.catalogue, at.conditions, at.settings, at.target)
            self._recent.keep(key, judged)
