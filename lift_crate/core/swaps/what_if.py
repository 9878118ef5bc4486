"""A day of swaps for people: what if, what would cure a shortage, the rules of thumb, and the cards to walk by.

Formulas: docs/formulas.md §5, 'Rotation' and 'Rules'.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta, tzinfo

from ..callouts import Finding, Level
from ..job.charging import Mains
from ..job.job import Job, PartOfDay
from ..rig.build import Catalogue
from ..stand import Stands
from .day import DayProblem, Put, Slot, day_problem, days_of, slot_ids, step_of
from .rules import Family, families, rules
from .solver import DayPlan, solve_day

__all__ = [
    "Cure",
    "DayAsked",
    "DayVerdict",
    "Made",
    "PlannedDay",
    "WhatIf",
    "cures",
    "day_asked",
    "day_of",
    "places_of",
    "plan_the_day",
    "planned_day",
    "verdict_of",
    "with_made",
]

_DIMMED = 0.6
_RATE = (0.5, 2.0)
"""Least and most that the charges read may change what is computed for the rest of a day."""
_CURE_EFFORT = 3.0


@dataclass(frozen=True, kw_only=True)
class WhatIf:
    """How a day may differ from its plan: packs that are dead, colder,
    no mains, a part that runs late, monitors dimmed.
    """

    dead: tuple[str, ...] = ()
    colder_c: float = 0.0
    mains: bool = True
    late_min: float = 0.0
    late_part: str = ""
    monitors: float = 1.0


@dataclass(frozen=True, kw_only=True)
class DayAsked:
    """A question about a day: the first part of it, and how it may differ from its plan."""

    part: str
    what: WhatIf


@dataclass(frozen=True, kw_only=True)
class Made:
    """A swap that was really made, with the charge left in the pack taken
    out and that of the pack put in, where they were read.
    """

    slot: str
    at: datetime
    pack_in: str
    pack_out: str | None = None
    charge_left: float | None = None
    charge_in: float | None = None


@dataclass(frozen=True, slots=True)
class Cure:
    """A change of the day that was tried against a shortage, and what it leaves to bring."""

    title: str
    bring: int
    works: bool


def day_of(job: Job, part_id: str) -> tuple[PartOfDay, ...]:
    """The parts of the same day as one of them; raises NotInJob."""
    part = job.part(part_id)
    return next(parts for parts in days_of(job) if part in parts)


def planned_day(
    job: Job, catalogue: Catalogue, part_id: str, what: WhatIf | None = None, stands: Stands | None = None
) -> DayProblem:
    """The day of a part as it is to be planned, from facts found before where there are; raises NotInJob."""
    given = what or WhatIf()
    late = _delayed(job, part_id, given.late_part, given.late_min) if given.late_min else job
    return day_problem(
        late,
        catalogue,
        day_of(late, part_id),
        without=frozenset(given.dead),
        colder_c=given.colder_c,
        mains=given.mains,
        monitors=given.monitors,
        stands=stands,
    )


def places_of(job: Job, catalogue: Catalogue, part_id: str) -> tuple[str, ...]:
    """Ids of all places for a pack on the day of a part, without planning it; raises NotInJob."""
    return tuple(sorted(slot_ids(job, catalogue, day_of(job, part_id))))


def _delayed(job: Job, part_id: str, late_part: str, minutes: float) -> Job:
    """The job with a part of the day running on for so long, and what comes after it on that day so much later."""
    day = day_of(job, part_id)
    first = job.part(late_part) if late_part else day[0]
    more = timedelta(minutes=minutes)

    def moved(part: PartOfDay) -> PartOfDay:
        if part not in day or part.starts < first.starts:
            return part
        moments = tuple(replace(m, at=m.at + more) for m in part.moments)
        starts = part.starts if part.id == first.id else part.starts + more
        return replace(part, starts=starts, ends=part.ends + more, moments=moments)

    return replace(job, parts=tuple(moved(p) for p in job.parts))


def with_made(problem: DayProblem, made: Sequence[Made]) -> DayProblem:
    """The day from what really happened on: swaps as they were made, what
    the packs taken out had given, the rate it took them.

    Swaps of another day or slot are left out; a pack that does not run its slot is told of.
    """
    of_unit = {unit: c.id for c in problem.classes for unit in c.units}
    by_time = sorted(made, key=lambda m: m.at)
    steps = {id(m): math.floor(step_of(problem.origin, problem.step_min, m.at) + 1e-9) for m in by_time}
    slots, told = [], list(problem.warnings)
    for slot in problem.slots:
        puts: dict[int, Put] = {}
        for swap in by_time:
            step = steps[id(swap)]
            if swap.slot != slot.id or not slot.first < step < slot.last:
                continue
            kind = of_unit.get(swap.pack_in)
            if kind not in slot.used:
                told.append(
                    f"{swap.pack_in}, noted at {swap.at.astimezone(problem.origin.tzinfo):%H:%M}, does not run"
                    f" {slot.label}; the plan leaves that swap out."
                )
                continue
            before = puts[max(puts)].pack_class if puts else of_unit.get(swap.pack_out or "")
            out = before if before in slot.used else None
            again = (
                min((steps[id(m)] for m in by_time if m.pack_in == swap.pack_out and steps[id(m)] > step), default=None)
                if swap.pack_out
                else None
            )
            puts[step] = Put(
                step,
                swap.pack_in,
                kind or "",
                slot.given(kind or "", swap.charge_in) if swap.charge_in is not None else 0,
                swap.pack_out,
                out,
                slot.given(out, swap.charge_left) if swap.charge_left is not None and out else None,
                again,
            )
        slots.append(_from_there(slot, tuple(puts[step] for step in sorted(puts))))
    return replace(problem, slots=tuple(slots), warnings=tuple(told))


def _from_there(slot: Slot, done: tuple[Put, ...]) -> Slot:
    """A slot with swaps made: no others before the last of them, and
    after it at the rate that the charges read tell.
    """
    if not done:
        return slot
    computed, read = 0, 0
    start, missing = slot.first, 0
    for put in done:
        used = slot.used.get(put.out_class or "")
        if used and put.taken is not None:
            computed += used[put.step - slot.first] - used[start - slot.first]
            read += put.taken - missing
        start, missing = put.step, put.missing
    rate = min(_RATE[1], max(_RATE[0], read / computed)) if computed > 0 else 1.0
    at = done[-1].step - slot.first
    onwards = {
        name: (*each[:at], *(each[at] + math.ceil(rate * (u - each[at]) - 1e-6) for u in each[at:]))
        for name, each in slot.used.items()
    }
    swaps = (*(put.step for put in done), *(s for s in slot.swaps if s > done[-1].step))
    return replace(slot, done=done, swaps=swaps, used=onwards, rate=rate)


@dataclass(frozen=True, kw_only=True)
class PlannedDay:
    """A day as far as it is planned: the question, the best plan so far, what stands against it, what would cure it."""

    problem: DayProblem
    plan: DayPlan | None = None
    findings: tuple[Finding, ...] = ()
    cures: tuple[Cure, ...] = ()
    families: tuple[Family, ...] = ()

    def in_zone(self, clock: tzinfo) -> PlannedDay:
        """The same, told in another time zone."""
        return replace(
            self,
            problem=replace(self.problem, origin=self.problem.origin.astimezone(clock)),
            families=tuple(replace(f, starts=f.starts.astimezone(clock)) for f in self.families),
        )


@dataclass(frozen=True, slots=True)
class DayVerdict:
    """What is said of a day in a few words, and how serious that is."""

    level: Level
    text: str


def verdict_of(day: PlannedDay | None) -> DayVerdict:
    """Packs that are short, places that go dark, people that are missing; or that the day holds."""
    if day is not None and not day.problem.slots:
        return DayVerdict(Level.CLEAR, "Nothing runs on packs")
    if day is None or day.plan is None or not day.plan.packs:
        return DayVerdict(Level.NOTE, "Planning the day…")
    short = len({use.pack for use in day.plan.uses if use.brings})
    dark = sum(finding.code == "swap.dies" for finding in day.findings)
    if short or dark:
        said = ([f"{short} short"] if short else []) + ([f"{dark} loses power"] if dark else [])
        return DayVerdict(Level.STOP, ", ".join(said))
    people = next((finding.value for finding in day.findings if finding.code == "swap.hands"), None)
    if people is not None:
        return DayVerdict(Level.STOP, f"{people:.0f} people needed")
    return DayVerdict(Level.CLEAR, "The day holds")


def day_asked(job: Job, part_id: str, what: WhatIf) -> DayAsked:
    """The question about the day of a part; all parts of a day ask the same. Raises NotInJob."""
    return DayAsked(part=day_of(job, part_id)[0].id, what=what)


def plan_the_day(
    job: Job, catalogue: Catalogue, asked: DayAsked, made: Sequence[Made], told: Callable[[PlannedDay, bool], bool]
) -> PlannedDay:
    """Plan a day and try what would cure it; raises NotInJob.

    ``told`` is given what there is whenever there is more, and whether the plan will stay
    as it is; when it returns True nobody waits any more, and the search ends.
    """
    # Most cures change no rig: the facts of all are found once.
    stands = Stands()
    problem = with_made(planned_day(job, catalogue, asked.part, asked.what, stands), made)
    found = PlannedDay(problem=problem, families=families(problem, catalogue))
    if told(found, False):
        return found

    def better(plan: DayPlan) -> bool:
        nonlocal found
        found = replace(found, plan=plan, findings=rules(problem, plan, catalogue))
        return told(found, False)

    plan = solve_day(problem, told=better)
    found = replace(found, plan=plan, findings=rules(problem, plan, catalogue))
    if told(found, True):
        return found
    for cure in cures(job, catalogue, asked.part, asked.what, plan, made, stands):
        found = replace(found, cures=(*found.cures, cure))
        if told(found, True):
            break
    return found


def cures(
    job: Job,
    catalogue: Catalogue,
    part_id: str,
    what: WhatIf,
    plan: DayPlan,
    made: Sequence[Made] = (),
    stands: Stands | None = None,
) -> Iterator[Cure]:
    """What would take a shortage away: to bring or hire, charge longer, another
    charger, dim monitors, turn a box off; each planned anew.
    """
    for name, count in plan.bring.items():
        model = catalogue.models[name.rpartition("@")[0]]
        yield Cure(f"Bring or hire {count} × {model.title}", 0, not plan.late)
    if not plan.bring:
        return
    day = day_of(job, part_id)
    always = Mains(starts=day[0].starts - timedelta(hours=2), ends=day[-1].ends)
    charging = job.charging
    tries: list[tuple[str, Job, WhatIf]] = []
    if what.mains and charging.chargers:
        longer = replace(charging, chargers=tuple(replace(c, open=(*c.open, always)) for c in charging.chargers))
        tries.append(("Keep the mains at the chargers for the whole day", replace(job, charging=longer), what))
    placed = {c.unit for c in charging.chargers}
    other = next((u for u in catalogue.shelf if catalogue.model_of(u.id).charger and u.id not in placed), None)
    if what.mains and other and charging.chargers:
        more = replace(charging, chargers=(*charging.chargers, replace(charging.chargers[0], unit=other.id)))
        tries.append((f"Set up {other.id} beside the others", replace(job, charging=more), what))
    if what.monitors > _DIMMED:
        tries.append((f"Dim every monitor to {_DIMMED * 100:.0f} % of its draw", job, replace(what, monitors=_DIMMED)))
    for box in charging.boxes:
        off = replace(charging, boxes=tuple(b for b in charging.boxes if b is not box))
        tries.append((f"Leave {box.label or box.unit} off", replace(job, charging=off), what))
    for title, changed, given in tries:
        found = _to_bring(with_made(planned_day(changed, catalogue, part_id, given, stands), made))
        yield Cure(title, sum(found.bring.values()), found.works)


def _to_bring(problem: DayProblem) -> DayPlan:
    """A plan as far as what must be brought; how few packs it then takes is not asked."""
    seen: list[DayPlan] = []

    def told(plan: DayPlan) -> bool:
        seen.append(plan)
        return plan.works or len(seen) > 1

    return solve_day(problem, effort=_CURE_EFFORT, tries=0, told=told)
