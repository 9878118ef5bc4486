"""A day of swaps for people: what if, what would cure a shortage, the rules of thumb, and the cards to walk by.

Formulas: docs/formulas.md §5, 'Rotation' and 'Rules'.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from datetime import datetime, timedelta, tzinfo

from .charging import Mains
from .findings import About, Finding, Level
from .job import Job, PartOfDay
from .rig import Catalogue
from .rotation import DayProblem, Put, Slot, day_problem, days_of, slot_ids, step_of
from .rotation_solver import Charge, DayPlan, Use, solve_day

__all__ = ["Cure", "DayAsked", "Family", "Made", "PlannedDay", "Swap", "WhatIf", "cures", "day_asked", "day_of", "families", "places_of", "plan_the_day", "planned_day", "rules", "swaps_of", "with_made"]

_AGEING = 0.8
"""Health below which a pack does not go into what cannot be repeated."""
_CONSENT_WH, _NOT_AS_BAGGAGE_WH = 100.0, 160.0
_DIMMED = 0.6
_RATE = (0.5, 2.0)
"""Least and most that the charges read may change what is computed for the rest of a day."""
_RATE_TOLD = 0.05
_CURE_EFFORT = 3.0
_ALL_DAY_H = 6.0
"""What is on through the whole of a day that is at least so long has a third pack."""


@dataclass(frozen=True, kw_only=True)
class WhatIf:
    """How a day may differ from its plan: packs that are dead, colder, no mains, a part that runs late, monitors dimmed."""

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
    """A swap that was really made, with the charge left in the pack taken out and that of the pack put in, where they were read."""

    slot: str
    at: datetime
    pack_in: str
    pack_out: str | None = None
    charge_left: float | None = None
    charge_in: float | None = None


@dataclass(frozen=True, slots=True)
class Swap:
    """A line of the swap card: when, where, which pack out, which in and where from; what of it is planned and what was done."""

    at: datetime
    slot: str
    label: str
    rig: str | None
    pack_out: str | None
    pack_in: str
    left: float | None
    """Charge that the pack taken out should still have, share of full."""
    bring_from: str
    take_to: str
    in_break: bool
    person: str
    """Who makes it."""
    brings: bool = False
    """The pack that goes in must be brought: nobody has it."""


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


def planned_day(job: Job, catalogue: Catalogue, part_id: str, what: WhatIf | None = None) -> DayProblem:
    """The day of a part as it is to be planned; raises NotInJob."""
    given = what or WhatIf()
    late = _delayed(job, part_id, given.late_part, given.late_min) if given.late_min else job
    return day_problem(
        late, catalogue, day_of(late, part_id), without=frozenset(given.dead), colder_c=given.colder_c, mains=given.mains, monitors=given.monitors,
    )  # fmt: skip


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
    """The day from what really happened on: swaps as they were made, what the packs taken out had given, the rate it took them.

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
                told.append(f"{swap.pack_in}, noted at {swap.at.astimezone(problem.origin.tzinfo):%H:%M}, does not run {slot.label}; the plan leaves that swap out.")
                continue
            before = puts[max(puts)].pack_class if puts else of_unit.get(swap.pack_out or "")
            out = before if before in slot.used else None
            again = min((steps[id(m)] for m in by_time if m.pack_in == swap.pack_out and steps[id(m)] > step), default=None) if swap.pack_out else None
            puts[step] = Put(
                step, swap.pack_in, kind or "", slot.given(kind or "", swap.charge_in) if swap.charge_in is not None else 0, swap.pack_out, out,
                slot.given(out, swap.charge_left) if swap.charge_left is not None and out else None, again,
            )  # fmt: skip
        slots.append(_from_there(slot, tuple(puts[step] for step in sorted(puts))))
    return replace(problem, slots=tuple(slots), warnings=tuple(told))


def _from_there(slot: Slot, done: tuple[Put, ...]) -> Slot:
    """A slot with swaps made: no others before the last of them, and after it at the rate that the charges read tell."""
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
    onwards = {name: (*each[:at], *(each[at] + math.ceil(rate * (u - each[at]) - 1e-6) for u in each[at:])) for name, each in slot.used.items()}
    swaps = (*(put.step for put in done), *(s for s in slot.swaps if s > done[-1].step))
    return replace(slot, done=done, swaps=swaps, used=onwards, rate=rate)


@dataclass(frozen=True, slots=True)
class Family:
    """Packs that go on the same things: how many, their Wh and g; the most of those things on at once, from when, and which."""

    models: tuple[str, ...]
    packs: int
    energy_wh: float
    mass_g: float | None
    """None where the mass of one of them is not known."""
    at_once: int
    starts: datetime
    wanted_by: tuple[str, ...]


def families(problem: DayProblem, catalogue: Catalogue) -> tuple[Family, ...]:
    """The day's packs by what they fit, most wanted first: where one type serves everything, any spare serves anywhere."""
    groups: list[tuple[set[str], list[Slot]]] = []
    for slot in problem.slots:
        if slot.built_in:
            continue
        touching = [g for g in groups if g[0] & set(slot.used)]
        names, slots = set(slot.used).union(*(g[0] for g in touching)), [slot, *(s for g in touching for s in g[1])]
        groups = [g for g in groups if g not in touching] + [(names, slots)]
    found = []
    for names, slots in groups:
        packs = [(unit, catalogue.models[c.model]) for c in problem.classes if c.id in names for unit in c.units]
        masses = [catalogue.mass_of(unit)[0] for unit, _ in packs]
        at = max((a for s in slots for a, _ in s.on), key=lambda t: (len(_on_at(slots, t)), -t))
        wanted = _on_at(slots, at)
        found.append(Family(
            tuple(sorted({m.title for _, m in packs})), len(packs), sum(m.pack.energy_wh for _, m in packs if m.pack), None if None in masses else sum(m or 0.0 for m in masses), len(wanted),
            problem.when(at), tuple(sorted(s.label for s in wanted)),
        ))  # fmt: skip
    return tuple(sorted(found, key=lambda f: (-f.at_once, f.models)))


def _on_at(slots: Sequence[Slot], step: int) -> list[Slot]:
    return [s for s in slots if any(a <= step < b for a, b in s.on)]


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
            self, problem=replace(self.problem, origin=self.problem.origin.astimezone(clock)),
            families=tuple(replace(f, starts=f.starts.astimezone(clock)) for f in self.families),
        )  # fmt: skip


def day_asked(job: Job, part_id: str, what: WhatIf) -> DayAsked:
    """The question about the day of a part; all parts of a day ask the same. Raises NotInJob."""
    return DayAsked(part=day_of(job, part_id)[0].id, what=what)


def plan_the_day(job: Job, catalogue: Catalogue, asked: DayAsked, made: Sequence[Made], told: Callable[[PlannedDay, bool], bool]) -> PlannedDay:
    """Plan a day and try what would cure it; raises NotInJob.

    ``told`` is given what there is whenever there is more, and whether the plan will stay
    as it is; when it returns True nobody waits any more, and the search ends.
    """
    problem = with_made(planned_day(job, catalogue, asked.part, asked.what), made)
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
    for cure in cures(job, catalogue, asked.part, asked.what, plan, made):
        found = replace(found, cures=(*found.cures, cure))
        if told(found, True):
            break
    return found


def cures(job: Job, catalogue: Catalogue, part_id: str, what: WhatIf, plan: DayPlan, made: Sequence[Made] = ()) -> Iterator[Cure]:
    """What would take a shortage away: to bring or hire, charge longer, another charger, dim monitors, turn a box off; each planned anew."""
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
        found = _to_bring(with_made(planned_day(changed, catalogue, part_id, given), made))
        yield Cure(title, sum(found.bring.values()), found.works)


def _to_bring(problem: DayProblem) -> DayPlan:
    """A plan as far as what must be brought; how few packs it then takes is not asked."""
    seen: list[DayPlan] = []

    def told(plan: DayPlan) -> bool:
        seen.append(plan)
        return plan.works or len(seen) > 1

    return solve_day(problem, effort=_CURE_EFFORT, told=told)


def swaps_of(problem: DayProblem, plan: DayPlan) -> tuple[Swap, ...]:
    """Every swap of a plan in the order of the day, the first packs of all slots before them, and who makes it."""
    slots = {s.id: s for s in problem.slots}
    charges: dict[str, list[Charge]] = {}
    for charge in plan.charges:
        charges.setdefault(charge.pack, []).append(charge)
    changes: list[tuple[Slot, Use, Use | None]] = []
    before: dict[str, Use] = {}
    for use in sorted(plan.uses, key=lambda u: (u.starts, u.slot)):
        last = before.get(use.slot)
        before[use.slot] = use
        if not (last and last.pack == use.pack) and not slots[use.slot].built_in:
            changes.append((slots[use.slot], use, last))
    found = []
    for (slot, use, last), person in zip(changes, _shared_out(problem, changes), strict=True):
        came = max((c for c in charges.get(use.pack, ()) if c.ends <= use.starts), key=lambda c: c.ends, default=None)
        goes = min((c for c in charges.get(last.pack, ()) if c.starts >= last.ends), key=lambda c: c.starts, default=None) if last else None
        found.append(Swap(
            problem.when(use.starts if last or slot.fitted is None else slot.fitted), use.slot, slot.label, slot.rig, last.pack if last else None, use.pack, slot.left(last.pack_class, last.used) if last else None,
            f"{came.charger}, bay {came.bay}" if came else "nowhere yet: bring or hire it" if use.brings else "the bag", (f"{goes.charger}, bay {goes.bay}" if goes else "the bag") if last else "",
            not problem.on_the_way(slot, use.starts), person, use.brings,
        ))  # fmt: skip
    return tuple(found)


def _shared_out(problem: DayProblem, changes: Sequence[tuple[Slot, Use, Use | None]]) -> list[str]:
    """Who makes each swap: somebody who is not on the way to another, of those who has made the fewest, best the one who was there last."""
    if not problem.people:
        return [""] * len(changes)
    busy_until = dict.fromkeys(problem.people, -1)
    made = dict.fromkeys(problem.people, 0)
    there: dict[str, str] = {}
    found = []
    for slot, use, _ in changes:
        way = problem.on_the_way(slot, use.starts)
        free = [p for p in problem.people if not way or busy_until[p] <= way.start] or list(problem.people)
        person = min(free, key=lambda p: (made[p] - (there.get(slot.holder) == p), problem.people.index(p)))
        made[person] += 1
        there[slot.holder] = person
        if way:
            busy_until[person] = way.stop
        found.append(person)
    return found


def rules(problem: DayProblem, plan: DayPlan, catalogue: Catalogue) -> tuple[Finding, ...]:
    """Rules of thumb over a planned day: two packs a thing, types in common, carriage of lithium, ageing packs, one charger for all."""
    found = [*_shortages(problem, plan, catalogue), *_two_each(problem), *_ageing(problem, plan), *_carriage(problem, catalogue), *_single_charger(problem), *_rates(problem), *_people(problem, plan)]
    return tuple(sorted(found, key=lambda f: (-f.level, f.code, f.about.units)))


def _shortages(problem: DayProblem, plan: DayPlan, catalogue: Catalogue) -> Iterator[Finding]:
    for name, count in plan.bring.items():
        model = catalogue.models[name.rpartition("@")[0]]
        first = min((u.starts for u in plan.uses if u.brings and u.pack_class == name), default=0)
        yield Finding(
            code="swap.short", level=Level.STOP, about=About(units=(model.id,)), value=float(count), unit="packs",
            text=f"{count} × {model.title} short from {problem.when(first):%H:%M} on; everything on the shelf is out, empty or charging by then.",
        )  # fmt: skip
    labels = {s.id: s.label for s in problem.slots}
    for late in plan.late:
        yield Finding(
            code="swap.dies", level=Level.STOP, about=About(units=(late.slot,)), value=late.needs, limit=1.0, unit="packs",
            text=f"{labels[late.slot]} goes dark at {problem.when(late.dies_at):%H:%M}: between two swaps that are allowed it needs {late.needs:.2f} of the best pack there is.",
        )  # fmt: skip


def _two_each(problem: DayProblem) -> Iterator[Finding]:
    """Two packs for every powered thing and three for what runs all day, counted over what is in use at once."""
    groups: dict[frozenset[str], list[Slot]] = {}
    for slot in problem.slots:
        if slot.swaps or len(slot.used) > 1:
            groups.setdefault(frozenset(slot.used), []).append(slot)
    for names, slots in groups.items():
        packs = sum(len(c.units) for c in problem.classes if c.id in names)
        on = max((_on_at(slots, a) for s in slots for a, _ in s.on), key=lambda those: sum(3 if _all_day(problem, s) else 2 for s in those))
        long = sum(_all_day(problem, s) for s in on)
        wanted = 2 * len(on) + long
        if packs < wanted:
            models = sorted({c.model for c in problem.classes if c.id in names})
            three = f", three for the {long} that run{'s' if long == 1 else ''} all day" if long else ""
            yield Finding(
                code="swap.two_each", level=Level.WATCH, about=About(units=tuple(models)), value=float(packs), limit=float(wanted), unit="packs",
                text=f"{packs} packs for {len(on)} things that run on them at once. Two for each{three}: {wanted}.",
            )  # fmt: skip


def _all_day(problem: DayProblem, slot: Slot) -> bool:
    """Whether a place is on in every part of the day, and for so long that it needs a third pack."""
    hours = sum(b - a for a, b in slot.on) * problem.step_min / 60
    return hours >= _ALL_DAY_H and {(a, b) for _, _, a, b in problem.parts} <= set(slot.on)


def _ageing(problem: DayProblem, plan: DayPlan) -> Iterator[Finding]:
    health = {c.id: c.health for c in problem.classes}
    labels = {s.id: s.label for s in problem.slots}
    for use in plan.uses:
        for start, end, moment in problem.quiet:
            if health[use.pack_class] < _AGEING and use.starts < end and start < use.ends:
                yield Finding(
                    code="swap.ageing", level=Level.WATCH, about=About(units=(use.pack, use.slot)), value=health[use.pack_class], limit=_AGEING,
                    text=f"{use.pack} with {health[use.pack_class] * 100:.0f} % of its health is on {labels[use.slot]} during '{moment}'; keep ageing packs out of what cannot be repeated.",
                )  # fmt: skip


def _carriage(problem: DayProblem, catalogue: Catalogue) -> Iterator[Finding]:
    large: list[str] = []
    consent: list[str] = []
    for each in problem.classes:
        pack = catalogue.models[each.model].pack
        if pack and not each.fixed:
            (large if pack.energy_wh > _NOT_AS_BAGGAGE_WH else consent if pack.energy_wh > _CONSENT_WH else []).extend(each.units)
    if large:
        yield Finding(code="pack.carriage", level=Level.WATCH, about=About(units=tuple(large)), text=f"Above 160 Wh, not as baggage: {', '.join(large)}.")
    if consent:
        yield Finding(
            code="pack.carriage", level=Level.NOTE, about=About(units=tuple(consent)),
            text=f"100 to 160 Wh, two at most and with the carrier's consent: {', '.join(consent)}. Spares in the cabin, contacts covered; carriers may be stricter.",
        )  # fmt: skip


def _single_charger(problem: DayProblem) -> Iterator[Finding]:
    units = [unit for group in problem.chargers for unit in group.units]
    by_class: Mapping[str, int] = {c.id: sum(len(g.units) for g in problem.chargers if c.id in g.full_steps) for c in problem.classes if not c.fixed}
    alone = sorted({g.units[0] for g in problem.chargers for name in g.full_steps if by_class.get(name) == 1})
    if units and alone:
        yield Finding(
            code="charge.single", level=Level.NOTE, about=About(units=tuple(alone)),
            text=f"What charges on {', '.join(alone)} charges on nothing else here; when it fails, so does the plan.",
        )  # fmt: skip


def _rates(problem: DayProblem) -> Iterator[Finding]:
    """Where the charges read tell another rate than was computed."""
    for slot in problem.slots:
        reads = sum(put.taken is not None for put in slot.done)
        if reads and abs(slot.rate - 1) > _RATE_TOLD:
            yield Finding(
                code="swap.rate", level=Level.WATCH if slot.rate > 1 else Level.NOTE, about=About(units=(slot.holder,)), value=slot.rate, limit=1.0, unit="× computed",
                text=f"{slot.label} takes {slot.rate:.2f} times what was computed, by the charge read at {reads} swap{'s' if reads > 1 else ''}; the rest of the day is planned with that.",
            )  # fmt: skip


def _people(problem: DayProblem, plan: DayPlan) -> Iterator[Finding]:
    """More swaps on the way at one time than there are people."""
    if not plan.hands:
        return
    slots = {s.id: s for s in problem.slots}
    walks = [(problem.on_the_way(slots[u.slot], u.starts), u) for u in plan.uses if u.starts != slots[u.slot].first]
    for way, use in sorted(walks, key=lambda walk: walk[1].starts):
        together = [other for span, other in walks if way and way.start in span]
        if len(together) > problem.hands:
            labels = ", ".join(slots[u.slot].label for u in together)
            yield Finding(
                code="swap.hands", level=Level.STOP, about=About(units=tuple(u.slot for u in together)), value=float(len(together)), limit=float(problem.hands), unit="people",
                text=f"{labels} must be swapped around {problem.when(use.starts):%H:%M}, each a walk away; that takes {len(together)} people, and there {'is' if problem.hands == 1 else 'are'} {problem.hands}.",
            )  # fmt: skip
            return
