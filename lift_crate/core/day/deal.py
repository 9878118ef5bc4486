"""Which of several alike units goes where over the day: dealt anew, so that nothing is wanted twice.

Each camera keeps the same unit wherever it can, the soundest go to what cannot be repeated, and no more changes than
that takes are made. Solved with CP-SAT over all builds of the day; a build that would come to more Stops by it keeps
what it has. Formulas: docs/formulas.md §9, 'Units dealt'.
"""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from functools import cached_property

from ..job.edits import AddBuild, JobOperation, PlanBuild, SetCell, apply_to_job
from ..job.job import Job, JobRefused, OutElsewhere, claims_of_others
from ..job.recipe import renamed
from ..rig.build import Build, Catalogue, Unit
from ..stand import stand_of
from ..verdict.judge import whole
from .cures import absent

__all__ = ["Dealing", "Dealt", "deal_units"]

_EFFORT = 1.0
"""Deterministic time of the solver for the units of one model."""
_TWICE, _SHORT, _KEPT, _CHANGED = 10_000_000, 1_000_000, 20, 3
"""What costs how much: a unit that two have in a part (nobody can plan that), one that is not there in a part, one more
unit of a model for a camera, another label.
"""
_DOUBTFUL, _ONCE_ONLY = 100, 2
_ROUNDS = 6


@dataclass(frozen=True, slots=True)
class Dealing:
    """In this build, in all parts that the camera is in it, that unit goes in the place of another; and why."""

    rig: str
    build: str
    unit: str
    by: str
    why: str


@dataclass(frozen=True, slots=True)
class Dealt:
    """Units dealt anew over all days: the changes, and the edits that make them.

    Short: how often a unit is wanted that is not there, by part; kept: different units of one model that a camera has
    over the days, the fewer the more often it keeps its own.
    """

    changes: tuple[Dealing, ...]
    short_before: int
    short_after: int
    kept_before: int
    kept_after: int
    proven: bool
    operations: tuple[JobOperation, ...]


@dataclass(frozen=True, slots=True)
class _Place:
    """A place for a unit: in a build of a camera, wherever that is planned."""

    rig: str
    build: str
    unit: str
    parts: tuple[str, ...]


def deal_units(
    job: Job, catalogue: Catalogue, out: OutElsewhere | None = None, unwanted: Callable[[], bool] = lambda: False
) -> Dealt:
    """The units of all builds of the days, dealt anew; ``out``: what other jobs have then.

    Nothing is changed where nothing is gained. ``unwanted``: asked between rounds whether anybody still waits.
    """
    deal = _Deal(job, catalogue, out or {})
    chosen, proven = {place: place.unit for place in deal.places}, True
    for _ in range(_ROUNDS):
        if unwanted():
            break
        chosen, proven = deal.solved()
        worse = deal.worse(chosen)
        if not worse:
            break
        deal.fixed |= worse
    else:
        # What still brings a Stop after so many rounds stays as it is.
        chosen, proven = {place: place.unit for place in deal.places}, False
    return deal.told(chosen, proven=proven)


class _Deal:
    def __init__(self, job: Job, catalogue: Catalogue, out: OutElsewhere) -> None:
        self.job, self.catalogue = job, catalogue
        self.parts = {part.id: part for part in job.parts}
        self.fixed: set[tuple[str, str]] = set()
        """Builds that keep what they have."""
        self._named = {unit for voice in job.sound.voices for source in voice.sources for unit in source.units}
        """What a voice is taken up by is named in the sound plan; it stays."""
        self._elsewhere: dict[str, set[str]] = defaultdict(set)
        for unit, part, _ in job.claims_beside():
            self._elsewhere[unit].add(part)
        for part, unit in out:
            self._elsewhere[unit].add(part)
        self._alike: dict[str, list[Unit]] = defaultdict(list)
        for each in catalogue.shelf:
            self._alike[each.model].append(each)

    @cached_property
    def places(self) -> tuple[_Place, ...]:
        """Every place for a unit in what is planned."""
        found = []
        for rig in self.job.rigs:
            for build in rig.builds:
                parts = tuple(a.part for a in self.job.plan if (a.rig, a.build) == (rig.id, build.id))
                found += [_Place(rig.id, build.id, unit, parts) for unit in build.units if parts]
        return tuple(found)

    def not_there(self, unit: str, parts: Sequence[str]) -> int:
        """In how many of these parts a unit is not there, whatever the cameras have."""
        away = self._elsewhere[unit]
        return sum(p in away or bool(absent(self.catalogue.unit(unit), self.parts[p])) for p in parts)

    def may(self, place: _Place) -> list[str]:
        """What can go in a place: what is there, else what is there now."""
        alike = self._alike[self.catalogue.unit(place.unit).model]
        if (place.rig, place.build) in self.fixed or place.unit in self._named:
            return [place.unit]
        return [u.id for u in alike if u.id == place.unit or not self.not_there(u.id, place.parts)]

    def own_cost(self, place: _Place, unit: str) -> int:
        """What a unit costs in a place, by itself: that it is not there, is worn or in doubt, is another one."""
        worn = round(100 * (1 - self.catalogue.unit(unit).health_left))
        worn += _DOUBTFUL * (self.catalogue.unit(unit).condition == "doubtful")
        once = any(not self.parts[p].conditions.repeatable for p in place.parts)
        return (
            _SHORT * self.not_there(unit, place.parts)
            + worn * (_ONCE_ONLY if once else 1)
            + _CHANGED * (unit != place.unit)
        )

    def clashes(self, chosen: dict[_Place, str]) -> int:
        """How often a unit is in more than one place in a part."""
        taken: dict[tuple[str, str], int] = defaultdict(int)
        for place, unit in chosen.items():
            for part in place.parts:
                taken[unit, part] += 1
        return sum(n - 1 for n in taken.values())

    def kept(self, chosen: dict[_Place, str]) -> int:
        """Different units over all cameras."""
        return len({(place.rig, unit) for place, unit in chosen.items()})

    def solved(self) -> tuple[dict[_Place, str], bool]:
        """The deal that costs least, as far as it is found, and whether there is none better; model by model, for no
        unit of one goes in the place of another's.
        """
        by_model: dict[str, list[_Place]] = defaultdict(list)
        for place in self.places:
            by_model[self.catalogue.unit(place.unit).model].append(place)
        chosen: dict[_Place, str] = {}
        proven = True
        for places in by_model.values():
            own, best = self._solved(places)
            chosen, proven = chosen | own, proven and best
        return {place: chosen[place] for place in self.places}, proven

    def _solved(self, places: Sequence[_Place]) -> tuple[dict[_Place, str], bool]:
        from ortools.sat.python import cp_model  # noqa: PLC0415 - it takes a second to load

        m = cp_model.CpModel()
        has: dict[tuple[_Place, str], cp_model.IntVar] = {}
        cost: list[cp_model.LinearExpr] = []
        taken: dict[tuple[str, str], list[cp_model.IntVar]] = defaultdict(list)
        kept: dict[tuple[str, str], list[cp_model.IntVar]] = defaultdict(list)
        for i, place in enumerate(places):
            may = self.may(place)
            for unit in may:
                var = has[place, unit] = m.new_bool_var(f"{i} {unit}")
                m.add_hint(var, unit == place.unit)
                cost.append(self.own_cost(place, unit) * var)
                kept[place.rig, unit].append(var)
                for part in place.parts:
                    taken[unit, part].append(var)
            m.add_exactly_one(has[place, unit] for unit in may)
        for several in taken.values():
            if len(several) > 1:
                over = m.new_int_var(0, len(several) - 1, "over")
                m.add(sum(several) <= 1 + over)
                cost.append(_TWICE * over)
        for ways in kept.values():
            any_of = m.new_bool_var("kept")
            for var in ways:
                m.add_implication(var, any_of)
            cost.append(_KEPT * any_of)
        m.minimize(sum(cost))
        solver = cp_model.CpSolver()
        solver.parameters.num_workers = 1
        solver.parameters.random_seed = 7
        solver.parameters.max_deterministic_time = _EFFORT
        status = solver.solve(m)
        if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return {place: place.unit for place in places}, False
        chosen = {place: unit for (place, unit), var in has.items() if solver.boolean_value(var)}
        return chosen, status == cp_model.OPTIMAL

    def changed(self, chosen: dict[_Place, str]) -> Iterator[tuple[str, Build, dict[str, str], tuple[str, ...]]]:
        """Every build that is dealt other units: its camera, itself, what takes the place of what, its parts."""
        for rig in self.job.rigs:
            for build in rig.builds:
                own = {p: u for p, u in chosen.items() if (p.rig, p.build) == (rig.id, build.id) and u != p.unit}
                if own:
                    yield rig.id, build, {p.unit: u for p, u in own.items()}, next(iter(own)).parts

    def operations(self, chosen: dict[_Place, str]) -> tuple[tuple[JobOperation, ...], Job]:
        """The edits that make a deal, each changed build as a new one beside what was; and the job after them."""
        try:
            return self._edits(chosen, cleared=False)
        except JobRefused:
            # Two cameras that take from one another: neither can have it before the other is out of the way.
            return self._edits(chosen, cleared=True)

    def _edits(self, chosen: dict[_Place, str], *, cleared: bool) -> tuple[tuple[JobOperation, ...], Job]:
        job, made = self.job, list[JobOperation]()

        def also(operation: JobOperation) -> None:
            nonlocal job
            job = apply_to_job(job, operation, self.catalogue)
            made.append(operation)

        changed = list(self.changed(chosen))
        for rig, _, _, parts in changed if cleared else ():
            for part in parts:
                also(PlanBuild(rig=rig, part=part, build=None))
        for rig, build, names, parts in changed:
            content = renamed(build, {unit: names.get(unit, unit) for unit in build.units})
            also(AddBuild(rig=rig, label=f"{build.label}, dealt"[:200], content=content))
            new = job.rig(rig).builds[-1].id
            for part in parts:
                also(PlanBuild(rig=rig, part=part, build=new))
                was = self.job.cell(part, rig)
                if cleared and (was.operator or was.unattended or was.scheme or was.spotter):
                    also(
                        SetCell(
                            rig=rig,
                            part=part,
                            operator=was.operator,
                            unattended=was.unattended,
                            scheme=was.scheme,
                            spotter=was.spotter or None,
                        )
                    )
        return tuple(made), job

    def worse(self, chosen: dict[_Place, str]) -> set[tuple[str, str]]:
        """Builds that come to more Stops by a deal than they have now."""
        _, after = self.operations(chosen)
        found = set()
        for rig, build, _, parts in self.changed(chosen):
            if any(_stops(after, self.catalogue, p, rig) > _stops(self.job, self.catalogue, p, rig) for p in parts):
                found.add((rig, build.id))
        return found

    def told(self, chosen: dict[_Place, str], *, proven: bool) -> Dealt:
        """A deal as it is shown."""
        now = {place: place.unit for place in self.places}
        operations, _ = self.operations(chosen)
        return Dealt(
            tuple(
                Dealing(place.rig, place.build, place.unit, unit, self._why(place, unit, now))
                for place, unit in chosen.items()
                if unit != place.unit
            ),
            self._short(now),
            self._short(chosen),
            self.kept(now),
            self.kept(chosen),
            proven,
            operations,
        )

    def _short(self, chosen: dict[_Place, str]) -> int:
        return self.clashes(chosen) + sum(self.not_there(unit, place.parts) for place, unit in chosen.items())

    def _why(self, place: _Place, unit: str, now: dict[_Place, str]) -> str:
        was = self.catalogue.unit(place.unit)
        if why := next((w for p in place.parts if (w := absent(was, self.parts[p]))), ""):
            return why
        if self.not_there(place.unit, place.parts):
            return "it is kept elsewhere then"
        others = (o for o in now if o is not place and o.unit == place.unit and set(o.parts) & set(place.parts))
        if other := next(others, None):
            return f"{self.job.rig(other.rig).label} wants it then too"
        will = self.catalogue.unit(unit)
        if (was.condition, -was.health_left) != (will.condition, -will.health_left):
            sounder = will.condition == "good" != was.condition or will.health_left > was.health_left
            return "a sounder one is free" if sounder else "the sounder one goes to what is more critical"
        if any(o.unit == unit and o.rig == place.rig for o in now if o is not place):
            return f"{self.job.rig(place.rig).label} keeps it all along"
        return "so that another keeps its own"


def _stops(job: Job, catalogue: Catalogue, part_id: str, rig_id: str) -> int:
    rig, build = job.builds_in(part_id)[rig_id]
    part = job.part(part_id)
    claims = claims_of_others(job, part_id, rig_id)
    stand = stand_of(build, catalogue, part.conditions, job.settings, claims, job.target_of(rig, part_id))
    return whole(stand).counts["stops"]
