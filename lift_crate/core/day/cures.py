"""What is planned and cannot be there, and the smallest changes that cure it.

A unit is missing in a part of the day when another camera, a charger or somebody's pocket has it, when it is out of
use, or when it is hired for other days. It is cured by another unit in its place, or by the camera that has it taking
another. Every exchange is tried as a person would make it, and kept when nothing else comes off and no Stop comes
with it; which of them together, so that no unit is taken twice and the least is changed, is solved with CP-SAT; what
is offered was judged whole. Formulas: docs/formulas.md §9, 'Shortages'.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from ..bench.bench import Bench
from ..bench.exchange import exchange
from ..callouts import About, Finding, Level
from ..errors import BadRig
from ..job.edits import AddBuild, JobOperation, PlanBuild
from ..job.job import Job, OutElsewhere, PartOfDay, Rig, claims_of_others
from ..rig.build import Build, Catalogue, Unit
from ..rig.edits import Detach
from ..stand import stand_of
from .table import DayTable

__all__ = ["Cure", "Missing", "Taken", "cures_of", "missing_of", "shortages"]

_MOST_TRIED, _MOST_OFFERED = 10, 4
_LEFT_OFF = 5000
"""As much as five Watches."""
_EFFORT = 2.0
"""Deterministic time of the solver for one set of changes."""


@dataclass(frozen=True, slots=True)
class Missing:
    """A unit that a build wants in a part of the day and that is not there: why, and which camera has it."""

    unit: str
    why: str
    rig: str = ""
    """Id of the camera that has it; empty: none has."""


@dataclass(frozen=True, slots=True)
class Taken:
    """One change: in this camera that unit goes in the place of another."""

    rig: str
    unit: str
    by: str
    """Empty: it is left off."""


@dataclass(frozen=True, slots=True)
class Cure:
    """Changes that together cure a shortage: what they are, what they cost, and the edits that make them."""

    changes: tuple[Taken, ...]
    stops: int
    watches: int
    """Over the cameras that are changed, more than before; below 0: fewer."""
    grams: float
    operations: tuple[JobOperation, ...]


@dataclass(frozen=True, slots=True)
class _Option:
    """An exchange that was tried, and what it brings."""

    change: Taken
    stops: int
    watches: int
    grams: float


def missing_of(
    job: Job, catalogue: Catalogue, part: PartOfDay, rig: Rig, build: Build, out: OutElsewhere | None = None
) -> tuple[Missing, ...]:
    """What of a build is not there in a part of the day; ``out``: what other jobs have then."""
    others = {unit: serves for unit, at, serves in job.claims_beside() if at == part.id}
    has: dict[str, Rig] = {
        unit: other for other, theirs in job.builds_in(part.id).values() if other.id != rig.id for unit in theirs.units
    }
    found = []
    for unit in build.units:
        if unit in has:
            found.append(Missing(unit, f"{has[unit].label} has it", has[unit].id))
        elif unit in others:
            found.append(Missing(unit, f"{others[unit]} has it"))
        elif out and (part.id, unit) in out:
            found.append(Missing(unit, f"'{out[part.id, unit]}' has it"))
        elif why := absent(catalogue.unit(unit), part):
            found.append(Missing(unit, why))
    return tuple(found)


def absent(unit: Unit, part: PartOfDay) -> str:
    """Why a unit is not there in a part of the day; empty: it is."""
    if unit.condition == "out of use":
        return "it is out of use"
    if unit.hired_from and part.starts.date() < unit.hired_from:
        return f"it is hired from {unit.hired_from:%d %b}"
    if unit.hired_until and part.ends.date() > unit.hired_until:
        return f"it is hired until {unit.hired_until:%d %b}"
    return ""


def shortages(job: Job, catalogue: Catalogue, table: DayTable) -> Iterator[Finding]:
    """Every camera of which something is not there, from when."""
    for cell in table.cells:
        missing = [m for m in missing_of(job, catalogue, cell.part, cell.rig, cell.build) if not m.rig]
        if missing:
            named = "; ".join(f"{m.unit} ({catalogue.model_of(m.unit).title}): {m.why}" for m in missing[:3])
            more = f" and {len(missing) - 3} more" if len(missing) > 3 else ""
            yield Finding(
                code="day.short",
                level=Level.STOP,
                about=About(units=(f"{cell.rig.id} {cell.part.id}", *(m.unit for m in missing))),
                text=f"{cell.rig.label} in {cell.part.label} from {cell.part.starts:%a %H:%M}: {named}{more}.",
                value=float(len(missing)),
                limit=0.0,
            )


def cures_of(
    job: Job, catalogue: Catalogue, part_id: str, rig_id: str, build_id: str, out: OutElsewhere | None = None
) -> tuple[Cure, ...]:
    """The smallest changes with which a camera can be in a build in a part of the day, best first.

    ``out``: what other jobs have then. Nothing where nothing is missing, or where no exchange does. Raises NotInJob.
    """
    part, rig = job.part(part_id), job.rig(rig_id)
    _, build = job.build(build_id)
    missing = missing_of(job, catalogue, part, rig, build, out)
    if not missing:
        return ()
    trial = _Trial(job, catalogue, part, rig, build)
    trial.taken |= {unit for at, unit in out or () if at == part_id}
    options = {m.unit: trial.options(m) for m in missing}
    found: list[Cure] = []
    for chosen in _sets(options):
        cure = trial.judged(chosen)
        if cure is not None:
            found.append(cure)
        if len(found) >= _MOST_OFFERED:
            break
    return tuple(found)


class _Trial:
    """A part of the day in which exchanges are tried on the cameras concerned."""

    def __init__(self, job: Job, catalogue: Catalogue, part: PartOfDay, rig: Rig, build: Build) -> None:
        self.job, self.catalogue, self.part, self.rig, self.build = job, catalogue, part, rig, build
        self.taken = {unit for _, theirs in job.builds_in(part.id).values() for unit in theirs.units}
        self.taken |= {unit for unit, at, _ in job.claims_beside() if at == part.id} | set(build.units)
        self._benches: dict[str, Bench] = {}

    def bench(self, rig: Rig) -> Bench:
        """A camera as it is wanted, what others have left out of it: that is what is to be cured."""
        if rig.id not in self._benches:
            job, part = self.job, self.part
            build = self.build if rig.id == self.rig.id else job.builds_in(part.id)[rig.id][1]
            claims = {u: c for u, c in claims_of_others(job, part.id, rig.id).items() if u not in build.units}
            target = job.target_of(rig, part.id)
            self._benches[rig.id] = Bench(
                stand_of(build, self.catalogue, part.conditions, job.settings, claims, target)
            )
        return self._benches[rig.id]

    def options(self, missing: Missing) -> list[_Option]:
        """Exchanges that cure one unit, in this camera or in the one that has it."""
        rigs = [self.rig, *(r for r in self.job.rigs if r.id == missing.rig)]
        return [option for rig in rigs for option in self._exchanges(rig, missing.unit)]

    def _exchanges(self, rig: Rig, unit: str) -> Iterator[_Option]:
        bench, own = self.bench(rig), self.catalogue.model_of(unit)
        before, tried, seen = bench.quick.counts, 0, set[str]()
        free = (u for u in bench.on_shelf() if u not in self.taken and not absent(self.catalogue.unit(u), self.part))
        # Units of the same model first: nothing but the label changes with them.
        alike = sorted(free, key=lambda u: (self.catalogue.unit(u).model != own.id, self.catalogue.unit(u).owner))
        for other in alike:
            model = self.catalogue.model_of(other)
            if model.kind != own.kind or (model.id in seen and model.id != own.id):
                continue
            if tried >= _MOST_TRIED:
                return
            seen.add(model.id)
            tried += 1
            found = exchange(bench, unit, other)
            if found is None or found.left:
                continue
            stops, watches = found.effect.stops_after - before["stops"], found.effect.watches_after - before["watches"]
            if stops <= 0:
                yield _Option(Taken(rig.id, unit, other), stops, watches, abs(found.effect.mass_g))
        yield from self._left_off(rig, unit)

    def _left_off(self, rig: Rig, unit: str) -> Iterator[_Option]:
        """Without it, where nothing hangs on it and no Stop comes of that."""
        bench, model = self.bench(rig), self.catalogue.model_of(unit)
        if model.support or model.lens or model.pack or model.adapter:
            return
        if unit == bench.build.body or len(bench.build.subtree(unit)) > 1 or bench.build.joint_of(unit) is None:
            return
        try:
            without = bench.after((Detach(unit=unit),))
        except BadRig:
            return
        now, was = without.quick.counts, bench.quick.counts
        if now["stops"] <= was["stops"]:
            mass_g = self.catalogue.mass_of(unit)[0] or 0.0
            change = Taken(rig.id, unit, "")
            yield _Option(change, now["stops"] - was["stops"], now["watches"] - was["watches"], mass_g)

    def judged(self, chosen: Sequence[_Option]) -> Cure | None:
        """All of them made together, each camera judged whole; None where they do not go together."""
        edits: list[JobOperation] = []
        stops = watches = 0
        grams = 0.0
        by_rig: dict[str, list[_Option]] = {}
        for option in chosen:
            by_rig.setdefault(option.change.rig, []).append(option)
        # The camera that gives a unit away is changed first, or the other could not have it.
        for rig_id in sorted(by_rig, key=lambda r: r == self.rig.id):
            rig = self.job.rig(rig_id)
            before = bench = self.bench(rig)
            for option in by_rig[rig_id]:
                made = _made(bench, option.change)
                if made is None:
                    return None
                bench = made
            was, now = before.whole.counts, bench.whole.counts
            if now["stops"] > was["stops"]:
                return None
            stops += now["stops"] - was["stops"]
            watches += now["watches"] - was["watches"]
            grams += bench.quick.stand.carried.total.mass_g - before.quick.stand.carried.total.mass_g
            edits.append(self._variant(rig, bench.build, [o.change for o in by_rig[rig_id]]))
        if self.rig.id not in by_rig:
            edits.append(self._variant(self.rig, self.build, []))
        return Cure(tuple(o.change for o in chosen), stops, watches, grams, tuple(edits))

    def _variant(self, rig: Rig, build: Build, changes: Sequence[Taken]) -> JobOperation:
        """The build as it is cured, made for this part alone: in the others it stays as it was."""
        if not changes:
            return PlanBuild(rig=rig.id, part=self.part.id, build=build.id)
        said = [f"with {c.by}" if c.by else f"without {c.unit}" for c in changes]
        label = f"{build.label} {', '.join(said)}"[:200]
        return AddBuild(rig=rig.id, label=label, content=build, part=self.part.id)


def _made(bench: Bench, change: Taken) -> Bench | None:
    """The camera with a change made; None where it cannot be made as the camera is by now."""
    try:
        if not change.by:
            return bench.after((Detach(unit=change.unit),))
        found = exchange(bench, change.unit, change.by)
        return None if found is None or found.left else bench.after(found.operations)
    except BadRig:
        return None


def _sets(options: Mapping[str, Sequence[_Option]]) -> Iterator[tuple[_Option, ...]]:
    """Sets with one option for every missing unit and no unit taken twice, the least change first: fewest new kinds of
    call-outs, then least grams moved.
    """
    if not options or not all(options.values()):
        return
    from ortools.sat.python import cp_model  # noqa: PLC0415 - it takes a second to load

    m = cp_model.CpModel()
    chosen: dict[tuple[str, int], cp_model.IntVar] = {}
    for unit, ways in options.items():
        for i in range(len(ways)):
            chosen[unit, i] = m.new_bool_var(f"{unit} {i}")
        m.add_exactly_one(chosen[unit, i] for i in range(len(ways)))
    takers: dict[str, list[cp_model.IntVar]] = {}
    for (unit, i), var in chosen.items():
        takers.setdefault(options[unit][i].change.by, []).append(var)
    takers.pop("", None)
    for several in takers.values():
        m.add_at_most_one(several)
    # What is left off is a last resort: any exchange with no more than a few Watches more comes before it.
    cost = {
        key: (
            100_000 * option.stops
            + 1000 * option.watches
            + min(999, round(option.grams / 10))
            + (0 if option.change.by else _LEFT_OFF)
        )
        for key in chosen
        for option in (options[key[0]][key[1]],)
    }
    m.minimize(sum(cost[key] * var for key, var in chosen.items()))
    solver = cp_model.CpSolver()
    solver.parameters.num_workers = 1
    solver.parameters.random_seed = 7
    solver.parameters.max_deterministic_time = _EFFORT
    for _ in range(4 * _MOST_OFFERED):
        if solver.solve(m) not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
            return
        picked = [key for key, var in chosen.items() if solver.boolean_value(var)]
        yield tuple(options[unit][i] for unit, i in picked)
        # Not these once more.
        m.add(sum(chosen[key] for key in picked) <= len(picked) - 1)
