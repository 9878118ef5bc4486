"""The day's swaps as a question: which pack runs what and when, what
may be touched when, and what is there to charge with.

Times are whole steps from the first part of the day: of five minutes where all parts begin
and end on them, else of one. What does not fall on a step is rounded so that nothing that is
promised is lost: parts and quiet times outwards, mains inwards. Charge is counted in
thousandths of what a full pack gives down to its reserve. Formulas: docs/formulas.md §5, 'Rotation'.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta

from ..gear.model import GearModel, mates
from ..job.charging import ChargingPlan, bays_at_once, charge_hours, taper_steps, watts_per_bay
from ..job.job import Job, PartOfDay
from ..power.discharge import Volts, discharge
from ..rig.build import Build, Catalogue, Conditions, Joint, Unit
from ..settings import Settings
from ..stand import Stand, Stands, stand_of

__all__ = [
    "FULL",
    "ChargerGroup",
    "DayProblem",
    "PackClass",
    "Put",
    "Slot",
    "box_stand",
    "day_problem",
    "days_of",
    "edges",
    "least_limit",
    "shortest",
    "slot_ids",
    "step_of",
]

_STEPS_MIN = (5, 1)
"""Minutes of a step: the first by which all parts begin and end, else the last."""
FULL = 1000
_ROOM_C = 18.0
_HEALTH_STEP = 0.1
_FINE_MIN, _COARSE_MIN, _MOST_FINE = 5, 15, 120
"""Minutes between the swaps looked for within a part of the day, and how many there may be at the finer of the two."""
_BREAK_STEPS = 72
"""So many steps before the end of a break somebody may begin to swap."""


@dataclass(frozen=True, slots=True)
class PackClass:
    """Packs that are as good as each other: one model, health rounded down to a tenth."""

    id: str
    model: str
    health: float
    units: tuple[str, ...]
    title: str = ""
    fixed: bool = False
    """Built into what it feeds; it is not swapped."""


@dataclass(frozen=True, slots=True)
class Put:
    """A swap that was really made in a slot: when, which pack went in, and
    what is known of both packs; thousandths of a full pack.
    """

    step: int
    pack: str
    pack_class: str
    missing: int = 0
    """What the pack put in had already given."""
    out: str | None = None
    out_class: str | None = None
    taken: int | None = None
    """What the pack taken out had given, by its charge read; None where nobody read it."""
    again: int | None = None
    """When the pack taken out was put in somewhere again, if it was."""


@dataclass(frozen=True, slots=True)
class Slot:
    """A place for a pack over the day: on until when, when it may be
    swapped, how much each class of pack gives up there.
    """

    id: str
    label: str
    rig: str | None
    holder: str
    first: int
    last: int
    swaps: tuple[int, ...]
    """Steps at which a swap may be made, ascending, between first and
    last: never within a quiet time with any minute of it.
    """
    apart: Mapping[int, int]
    """Least steps since the touch before, by step, where it is more than one."""
    used: Mapping[str, tuple[int, ...]]
    """By class: thousandths used from ``first`` to every step up to ``last``."""
    walk: int
    own: str | None
    """The pack its build names."""
    on: tuple[tuple[int, int], ...]
    """When it is switched on."""
    built_in: bool = False
    """It has its own cells, which are not swapped."""
    floor: Mapping[str, float] = field(default_factory=dict)
    """By class: share of charge a pack still has when it has given all it gives there."""
    done: tuple[Put, ...] = ()
    """Swaps that were made, ascending; their steps are the first of ``swaps``."""
    rate: float = 1.0
    """What was taken by the charges read over what was computed; ``used`` goes on with it."""
    fitted: int | None = None
    """When its first pack goes in, where that is before ``first``: the last step before it outside the quiet times."""
    back: int = 0
    """Steps a swap keeps a person after it: what the walk to the next camera takes over the walk there from the
    chargers, for the one for which that is most.
    """
    in_break: Mapping[int, tuple[int, ...]] = field(default_factory=dict)
    """By swap before a part: the steps by which it may be made within the break, latest first."""

    def made_by(self, step: int) -> tuple[int, ...]:
        """Steps by which a swap of a step may be made, latest first: itself alone where it runs on."""
        return self.in_break.get(step, (step,))

    def left(self, pack_class: str, used: int) -> float:
        """Share of charge in a pack that has given so many thousandths here."""
        return max(0.0, 1 - used / FULL * (1 - self.floor.get(pack_class, 0.0)))

    def given(self, pack_class: str, charge: float) -> int:
        """Thousandths a pack has given when its charge is read."""
        return min(FULL, max(0, round((1 - charge) / (1 - self.floor.get(pack_class, 0.0)) * FULL)))


@dataclass(frozen=True, slots=True)
class ChargerGroup:
    """Chargers alike: how many packs they charge at once, when there is
    mains, how many steps a full charge of each class takes.
    """

    id: str
    units: tuple[str, ...]
    at_once: int
    windows: tuple[tuple[int, int], ...]
    full_steps: Mapping[str, float]
    """By class: steps from empty to full were all at the full rate; classes it does not take are missing."""

    def steps(self, pack_class: str, used: int) -> int:
        """Steps to fill a pack of a class of which so many thousandths are used."""
        return math.ceil(taper_steps(self.full_steps[pack_class], used / FULL) - 1e-9)


@dataclass(frozen=True, slots=True)
class DayProblem:
    """A day of swaps to be planned."""

    origin: datetime
    horizon: int
    slots: tuple[Slot, ...]
    classes: tuple[PackClass, ...]
    chargers: tuple[ChargerGroup, ...]
    hands: int
    parts: tuple[tuple[str, str, int, int], ...]
    """Id, label, first and last step of every part."""
    quiet: tuple[tuple[int, int, str], ...]
    """Steps around one-off moments in which nobody touches a camera, and the moment."""
    warnings: tuple[str, ...] = ()
    people: tuple[str, ...] = ()
    """Who makes the swaps, as many as there are hands."""
    step_min: int = _STEPS_MIN[0]
    """Minutes of a step."""

    def when(self, step: int) -> datetime:
        """The time of a step."""
        return self.origin + timedelta(minutes=self.step_min * step)

    def within_a_part(self, step: int) -> bool:
        """Whether cameras run then: after a part of the day began and before it ends."""
        return any(first < step < last for _, _, first, last in self.parts)

    def takes_hands(self, slot: Slot, step: int) -> bool:
        """Whether a swap then is still to be made by somebody; the first pack goes in when the rig is built."""
        return slot.first < step < slot.last and all(step != put.step for put in slot.done)

    def kept_by(self, slot: Slot, at: int) -> range:
        """Steps in which a swap made by then keeps a person: the walk there, the swap,
        and what the walk to another camera takes longer than that from the chargers.
        """
        return range(at - max(1, slot.walk), at + slot.back)

    def on_the_way(self, slot: Slot, step: int, at: int) -> range:
        """The same for the swap of a step that is made by ``at``; none where it takes no hands."""
        return self.kept_by(slot, at) if self.takes_hands(slot, step) else range(0)

    def pack_class(self, class_id: str) -> PackClass:
        """The class of that name."""
        return next(c for c in self.classes if c.id == class_id)


def days_of(job: Job) -> tuple[tuple[PartOfDay, ...], ...]:
    """Parts of the day by the date they start on, in order."""
    found: dict[object, list[PartOfDay]] = defaultdict(list)
    for part in sorted(job.parts, key=lambda p: p.starts):
        found[part.starts.date()].append(part)
    return tuple(tuple(parts) for parts in found.values())


@dataclass
class _Open:
    """A slot as it is gathered from the parts of the day."""

    label: str
    rig: str | None
    holder: str
    walk: int
    own: str | None
    back: int = 0
    runs: list[tuple[PartOfDay, Stand, str]] = field(default_factory=list)


def step_of(origin: datetime, step_min: int, at: datetime) -> float:
    """Steps from an origin to a time, with what is between two of them."""
    return (at - origin).total_seconds() / 60 / step_min


@dataclass(frozen=True, slots=True)
class _Clock:
    """The steps of a day, and the times in which nobody touches anything."""

    origin: datetime
    step_min: int
    quiet: tuple[tuple[datetime, datetime, str], ...]
    swap_min: float

    def down(self, at: datetime) -> int:
        """The last step that is not after a time."""
        return math.floor(step_of(self.origin, self.step_min, at) + 1e-9)

    def up(self, at: datetime) -> int:
        """The first step that is not before a time."""
        return math.ceil(step_of(self.origin, self.step_min, at) - 1e-9)

    def span(self, part: PartOfDay) -> tuple[int, int]:
        """Steps that hold the whole of a part."""
        return self.down(part.starts), self.up(part.ends)

    def count(self, minutes: float) -> int:
        """Steps that so many minutes take."""
        return math.ceil(minutes / self.step_min - 1e-9)

    def minutes_in(self, step: int, part: PartOfDay) -> float:
        """Minutes of a part within a step."""
        begins = self.origin + timedelta(minutes=self.step_min * step)
        within = min(part.ends, begins + timedelta(minutes=self.step_min)) - max(part.starts, begins)
        return max(0.0, within.total_seconds() / 60)

    def may_touch(self, step: int) -> bool:
        """Whether a swap that ends or begins at a step lies outside all quiet times, the whole of it."""
        at, lasts = self.origin + timedelta(minutes=self.step_min * step), timedelta(minutes=self.swap_min)
        return not any(at + lasts > begins and at - lasts < ends for begins, ends, _ in self.quiet)


def day_problem(
    job: Job,
    catalogue: Catalogue,
    parts: Sequence[PartOfDay],
    *,
    without: frozenset[str] = frozenset(),
    colder_c: float = 0.0,
    mains: bool = True,
    monitors: float = 1.0,
    stands: Stands | None = None,
) -> DayProblem:
    """What is to be planned for some parts of the day, in order.

    ``without``: packs that are dead; ``colder_c``: degrees below the plan; ``mains``:
    whether there is any; ``monitors``: share of their draw that monitors take; ``stands``: facts
    found before, which those found here are added to.
    Raises ValueError without parts.
    """
    if not parts:
        raise ValueError("A day of swaps needs at least one part of the day.")
    origin, settings, plan = parts[0].starts, job.settings, job.charging
    seen = _seen_by(catalogue, monitors)

    times = [at for part in parts for at in (part.starts, part.ends)]
    step_min = next(
        (each for each in _STEPS_MIN if all(step_of(origin, each, at).is_integer() for at in times)), _STEPS_MIN[-1]
    )
    before, after = timedelta(minutes=plan.quiet_before_min), timedelta(minutes=plan.quiet_after_min)
    clock = _Clock(
        origin,
        step_min,
        tuple(sorted((m.at - before, m.at + after, m.label) for part in parts for m in part.moments)),
        plan.swap_min,
    )
    opened = _opened(job, seen, parts, colder_c, clock, stands or Stands())
    classes = _classes(seen, without, {o.own for o in opened.values() if o.own})
    slots, warnings = [], []
    fine = sum(_swaps_within(o) for o in opened.values()) <= _MOST_FINE
    for key, slot in sorted(opened.items()):
        made = _slot(_name(key), slot, classes, clock, _FINE_MIN if fine else _COARSE_MIN, seen, settings)
        if made.used:
            slots.append(made)
        else:
            warnings.append(f"No pack on the shelf goes on {slot.holder}; it is not planned.")
    used = {c for s in slots for c in s.used}
    chargers = tuple(_chargers(plan, seen, classes, parts, clock, colder_c)) if mains else ()
    return DayProblem(
        origin,
        max(clock.up(p.ends) for p in parts),
        tuple(slots),
        tuple(c for c in classes if c.id in used),
        chargers,
        plan.hands,
        tuple((p.id, p.label, *clock.span(p)) for p in parts),
        tuple((clock.down(a), clock.up(b), label) for a, b, label in clock.quiet),
        tuple(warnings),
        (*plan.people, *(f"person {i + 1}" for i in range(len(plan.people), plan.hands))),
        step_min,
    )


def _name(key: tuple[str, str, str]) -> str:
    return " · ".join(k for k in key if k)


def slot_ids(job: Job, catalogue: Catalogue, parts: Sequence[PartOfDay]) -> set[str]:
    """Ids of every place for a pack on a day."""
    clock = _Clock(parts[0].starts, _STEPS_MIN[0], (), job.charging.swap_min)
    return {_name(key) for key in _opened(job, catalogue, parts, 0.0, clock, Stands())}


def _opened(
    job: Job, seen: Catalogue, parts: Sequence[PartOfDay], colder_c: float, clock: _Clock, stands: Stands
) -> dict[tuple[str, str, str], _Open]:
    """Every place for a pack in rigs and boxes, with the parts of the day it runs in."""
    settings, plan, walks = job.settings, job.charging, job.walks_min()
    opened: dict[tuple[str, str, str], _Open] = {}
    longer = job.walks_on_min()
    for part in parts:
        cold = replace(part.conditions, temperature_c=max(-40.0, part.conditions.temperature_c - colder_c))
        for rig_id, (rig, build) in sorted(job.builds_in(part.id).items(), key=lambda item: item[1][0].number):
            judged = stands.of(build, seen, cold, settings, job.target_of(rig, part.id))
            for pack in judged.graph.packs:
                holder, port = _holder(build, pack)
                built_in = seen.model_of(pack).kind != "pack"
                # What has its own cells takes them along from rig to rig.
                key, label = (("", pack, ""), pack) if built_in else ((rig_id, holder, port), f"{rig.label} · {holder}")
                there = walks.get(rig_id, 0.0) + plan.swap_min
                walk = clock.count(there)
                back = clock.count(there + longer.get(rig_id, 0.0)) - walk
                opened.setdefault(key, _Open(label, rig_id, holder, walk, pack, back)).runs.append((part, judged, pack))
                # Packs that share a load are swapped each for itself; of those in turn the next one is swapped in.
                for partner in judged.graph.partners(pack) if judged.graph.twin_of(pack) == "parallel" else ():
                    _, other = _holder(build, partner)
                    twin = opened.setdefault(
                        (rig_id, holder, other), _Open(f"{label} ({other})", rig_id, holder, walk, partner, back)
                    )
                    twin.runs.append((part, judged, pack))
        for box in plan.boxes:
            if part.id in box.parts and box.unit in seen.units and (found := box_stand(box.unit, seen, settings, cold)):
                judged, pack, holder = found
                there = box.walk_min + plan.swap_min
                walk = clock.count(there)
                # Nothing tells how far it is from there to the others: by way of the chargers.
                back = clock.count(there + box.walk_min) - walk
                opened.setdefault(
                    ("", box.unit, holder), _Open(box.label or box.unit, None, box.unit, walk, pack, back)
                ).runs.append((part, judged, pack))
    return opened


def _seen_by(catalogue: Catalogue, monitors: float) -> Catalogue:
    """The catalogue with monitors at a share of their draw."""
    if monitors == 1.0:
        return catalogue
    models = {
        name: (
            replace(
                m,
                draw=replace(
                    m.draw,
                    standby_w=m.draw.standby_w * monitors,
                    record_w=m.draw.record_w * monitors,
                    peak_w=m.draw.peak_w * monitors,
                ),
            )
            if m.kind == "monitor" and m.draw
            else m
        )
        for name, m in catalogue.models.items()
    }
    return Catalogue(catalogue.interfaces, models, catalogue.units)


def _holder(build: Build, pack: str) -> tuple[str, str]:
    """What a pack sits on and by which port; itself where it is built in."""
    joint = build.joint_of(pack)
    return (joint.parent, joint.parent_port) if joint else (pack, "")


def box_stand(unit: str, catalogue: Catalogue, settings: Settings, at: Conditions) -> tuple[Stand, str, str] | None:
    """A box by itself, with the first pack of the shelf in its slot, or on its own cells."""
    model = catalogue.model_of(unit)
    for port in model.ports:
        if not (port.electrical and port.electrical.role == "in"):
            continue
        for other in catalogue.shelf:
            theirs = catalogue.model_of(other.id)
            own = next(
                (p for p in theirs.ports if theirs.pack and theirs.kind == "pack" and p.electrical and mates(p, port)),
                None,
            )
            if own:
                joint = Joint(child=other.id, child_port=own.id, parent=unit, parent_port=port.id)
                return (
                    stand_of(Build(id=unit, label=unit, body=unit, joints=(joint,)), catalogue, at, settings),
                    other.id,
                    port.id,
                )
    if model.pack:
        return stand_of(Build(id=unit, label=unit, body=unit), catalogue, at, settings), unit, ""
    return None


def _classes(catalogue: Catalogue, without: frozenset[str], built_in: set[str]) -> tuple[PackClass, ...]:
    groups: dict[tuple[str, float], list[str]] = defaultdict(list)
    fixed = []
    for unit in catalogue.shelf:
        model = catalogue.model_of(unit.id)
        if model.pack is None or unit.id in without or unit.condition == "out of use":
            continue
        if model.kind == "pack":
            groups[model.id, _rounded(unit)].append(unit.id)
        elif unit.id in built_in:
            fixed.append(PackClass(unit.id, model.id, unit.health_left, (unit.id,), model.name, True))
    made = [
        PackClass(f"{model}@{health:.1f}", model, health, tuple(units), catalogue.models[model].name)
        for (model, health), units in sorted(groups.items())
    ]
    return (*made, *fixed)


def _rounded(unit: Unit) -> float:
    return max(_HEALTH_STEP, math.floor(unit.health_left / _HEALTH_STEP + 1e-9) * _HEALTH_STEP)


def _slot(
    name: str,
    slot: _Open,
    classes: Sequence[PackClass],
    clock: _Clock,
    grid_min: int,
    catalogue: Catalogue,
    settings: Settings,
) -> Slot:
    spans = [clock.span(part) for part, _, _ in slot.runs]
    first, last = spans[0][0], spans[-1][1]
    used: dict[str, tuple[int, ...]] = {}
    floor: dict[str, float] = {}
    own_fixed = slot.own if catalogue.model_of(slot.own or slot.holder).kind != "pack" else None
    for each in classes:
        if each.fixed != bool(own_fixed) or (own_fixed and each.id != own_fixed):
            continue
        found = [_per_minute(run, each, catalogue, settings) for run in slot.runs]
        rates = [rate for rate, _ in filter(None, found)]
        if len(rates) < len(found):
            continue
        total, so_far = 0.0, [0]
        for t in range(first, last):
            total += sum(
                rate * clock.minutes_in(t, run[0])
                for rate, run, (a, b) in zip(rates, slot.runs, spans, strict=True)
                if a <= t < b
            )
            so_far.append(math.ceil(total - 1e-6))
        used[each.id] = tuple(so_far)
        floor[each.id] = max(left for _, left in filter(None, found))
    swaps, apart, in_break = _swaps(slot, spans, clock, grid_min) if not own_fixed else ((), {}, {})
    fitted = next((t for t in range(first, first - 24 * 60 // clock.step_min, -1) if clock.may_touch(t)), first)
    return Slot(
        name,
        slot.label,
        slot.rig,
        slot.holder,
        first,
        last,
        swaps,
        apart,
        used,
        slot.walk,
        slot.own,
        tuple(spans),
        bool(own_fixed),
        floor,
        fitted=fitted if fitted < first else None,
        back=slot.back,
        in_break=in_break,
    )


def _takes_its_cables(build: Build, pack: str, model: GearModel) -> bool:
    """Whether another pack has every socket that a worn one is plugged into."""
    used = {k.from_port for k in build.links if k.from_unit == pack} | {
        k.to_port for k in build.links if k.to_unit == pack
    }
    return used <= {port.id for port in model.ports}


def _per_minute(
    run: tuple[PartOfDay, Stand, str], each: PackClass, catalogue: Catalogue, settings: Settings
) -> tuple[float, float] | None:
    """Thousandths of a pack of a class that a minute takes, and the charge left at
    the end; None where it does not go there or does not start it.
    """
    _, judged, pack = run
    model, build = catalogue.models[each.model], judged.assembly.build
    joint = build.joint_of(pack)
    if model.pack is None:
        return None
    if joint:
        port = catalogue.model_of(joint.parent).port(joint.parent_port)
        if not any(mates(p, port) for p in model.ports):
            return None
    elif pack in build.worn and not _takes_its_cables(build, pack, model):
        return None
    sharing = 1 + len(judged.graph.partners(pack)) if judged.graph.twin_of(pack) == "parallel" else 1
    whole = judged.graph.load_tree(pack, judged.average_w()).at

    def load(volts: Volts) -> tuple[Volts, Mapping[str, Volts]]:
        power, margins = whole(volts)
        return power / sharing, margins

    found = discharge(
        model.pack,
        load,
        reserve=settings.reserve,
        health=each.health,
        temperature_c=judged.conditions.temperature_c,
    )
    if found.hours <= 0:
        return None
    return (0.0, settings.reserve) if math.isinf(found.hours) else (FULL / 60 / found.hours, float(found.charge[-1]))


def _swaps_within(slot: _Open) -> int:
    """How many swaps within parts of the day the finer grid gives a slot."""
    return sum(
        int(max(0.0, (part.ends - part.starts).total_seconds() / 60 - part.conditions.untouched_h * 60) // _FINE_MIN)
        for part, _, _ in slot.runs
    )


def _swaps(
    slot: _Open, spans: Sequence[tuple[int, int]], clock: _Clock, grid_min: int
) -> tuple[tuple[int, ...], dict[int, int], dict[int, tuple[int, ...]]]:
    """Steps at which it may be swapped: in the break before a part begins, as late as may be,
    and within one, untouched long enough before; never in a quiet time. The second is how long
    before, the third by when else within the break it may be made.
    """
    swaps: list[int] = []
    apart: dict[int, int] = {}
    in_break: dict[int, tuple[int, ...]] = {}
    lasts = clock.count(clock.swap_min)
    for i, ((part, _, _), (start, end)) in enumerate(zip(slot.runs, spans, strict=True)):
        if i:
            ended = spans[i - 1][1]
            may = [t for t in range(start, ended - 1, -1) if clock.may_touch(t)]
            swaps += may[:1]
            if made := [t for t in may[:_BREAK_STEPS] if t >= ended + lasts]:
                in_break[may[0]] = tuple(made)
        need = clock.count(part.conditions.untouched_h * 60)
        for t in range(start + max(1, need), end):
            if (t - start) * clock.step_min % grid_min == 0 and clock.may_touch(t):
                swaps.append(t)
                apart[t] = need
    return tuple(sorted(set(swaps))), apart, in_break


def _chargers(
    plan: ChargingPlan,
    catalogue: Catalogue,
    classes: Sequence[PackClass],
    parts: Sequence[PartOfDay],
    clock: _Clock,
    colder_c: float,
) -> Iterator[ChargerGroup]:
    outdoors = min(p.conditions.temperature_c for p in parts) - colder_c
    groups: dict[tuple[str, tuple[tuple[int, int], ...], bool], list[str]] = defaultdict(list)
    for place in plan.chargers:
        if place.unit in catalogue.units:
            windows = tuple(
                (begins, ends)
                for m in place.open
                if m.starts < parts[-1].ends and (begins := max(0, clock.up(m.starts))) < (ends := clock.down(m.ends))
            )
            groups[catalogue.unit(place.unit).model, windows, place.indoors].append(place.unit)
    for (model_id, windows, indoors), units in groups.items():
        model = catalogue.models[model_id]
        if model.charger is None or not windows:
            continue
        bay = model.port(model.charger.bay_port)
        full: dict[str, float] = {}
        for each in classes:
            pack = catalogue.models[each.model]
            if each.fixed or pack.pack is None or not any(mates(p, bay) for p in pack.ports):
                continue
            hours = charge_hours(
                pack.pack.energy_wh,
                each.health,
                0.0,
                1.0,
                watts_per_bay(model.charger),
                _ROOM_C if indoors else outdoors,
            ) / taper_steps(1.0, 1.0)
            if math.isfinite(hours):
                full[each.id] = hours * 60 / clock.step_min
        if full:
            yield ChargerGroup(
                f"{model_id} {'indoors' if indoors else 'outdoors'}",
                tuple(units),
                bays_at_once(model.charger) * len(units),
                windows,
                full,
            )


def edges(slot: Slot, limit: int = FULL) -> Iterator[tuple[int, int, str, int]]:
    """Every stretch that one pack can run there: from, to, class,
    thousandths given; swaps at both ends allowed, or made.

    What was made happened, however much it took; thousandths there are those read, if any were.
    """
    made = {put.step: put for put in slot.done}
    ends = (*slot.swaps, slot.last)
    for start in (slot.first, *slot.swaps):
        here = made.get(start)
        until = next((put.step for put in slot.done if put.step > start), slot.last)
        for end in ends:
            there = made.get(end)
            if not start < end <= until or (not there and start != slot.first and end - start < slot.apart.get(end, 0)):
                continue
            known = here.pack_class if here else there.out_class if there else None
            kinds = (known,) if known in slot.used and known else tuple(slot.used)
            for name in kinds:
                used = slot.used[name]
                taken = used[end - slot.first] - used[start - slot.first] + (here.missing if here else 0)
                if there:
                    yield start, end, name, min(FULL, taken) if there.taken is None else there.taken
                elif taken <= limit:
                    yield start, end, name, taken


def least_limit(slot: Slot) -> int:
    """The least charge, in thousandths of a full pack, with which the
    slot gets through the day; up to 1000 where it does.
    """
    best: dict[int, int] = {slot.first: 0}
    for start, end, _, taken in sorted(edges(slot, 10**9)):
        if start in best:
            best[end] = min(best.get(end, 10**9), max(best[start], taken))
    return best.get(slot.last, 10**9)


def shortest(slot: Slot, limit: int = FULL) -> int:
    """The fewest packs, one after the other, that get the slot through the day; raises ValueError where none do."""
    fewest: dict[int, int] = {slot.first: 0}
    for start, end, _, _ in sorted(edges(slot, limit)):
        if start in fewest:
            fewest[end] = min(fewest.get(end, 10**6), fewest[start] + 1)
    if slot.last not in fewest:
        raise ValueError(f"No pack carries {slot.id} from one swap to the next.")
    return fewest[slot.last]
