"""Which case each thing goes into (CP-SAT), and how it lies there.

What goes in is bounded by room, mass and what the carrier allows of lithium; what belongs together stays together, and
as few cases as that takes are opened. Laid in afterwards: what finds no room in its case makes that case smaller, and
the question is asked again. The same gear has the same answer on every machine.
Formulas: docs/formulas.md §16, 'Dealt'.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Collection, Iterator, Mapping, Sequence
from dataclasses import dataclass, replace
from typing import TYPE_CHECKING, Any

from ..geometry import Vec3
from ..job.job import Job
from ..job.packing import Carrier, CaseAlong, Travels
from ..rig.build import Catalogue
from .along import PEOPLE, Thing
from .lay import Laid, LaidOut, lay

if TYPE_CHECKING:
    from ortools.sat.python.cp_model import CpModel

__all__ = ["Box", "Dealt", "boxes_of", "deal", "may_go", "worth_of"]

_EFFORT = 0.4
_WAYS = 4
_ROUNDS = 3
_ELSEWHERE = 4
"""In so many other cases, the emptiest, is tried what found no room in its own."""
_MAKE_ROOM, _MOVED = 4, 20
"""For so many things room is made, by moving so many others out of a case."""
_TRIES = 40
"""So often is laid anew what has found no room in its own case."""
_LEFT, _SPLIT, _OPEN = 1000, 8, 3
"""What a thing that finds no case costs, one more case for what belongs together, and one more case."""
_SHRINK = 0.97


@dataclass(frozen=True, slots=True)
class Box:
    """A case that goes along: its inside, what it weighs empty and may weigh, how it travels."""

    unit: str
    title: str
    inside_mm: Vec3
    outside_mm: Vec3
    empty_g: float
    most_g: float
    most_from: str
    """What bounds its mass."""
    travels: Travels
    waterproof: bool
    along: CaseAlong
    seen: str = ""
    """From afar, as its model says."""

    @property
    def litres(self) -> float:
        """Of its inside."""
        a, b, c = self.inside_mm
        return a * b * c / 1e6


@dataclass(frozen=True, slots=True)
class Dealt:
    """Everything in its case: by case how it lies; what lies in none; whether nothing better exists."""

    laid: Mapping[str, tuple[Laid, ...]]
    loose: Mapping[str, tuple[str, ...]]
    """By case: what was put there by hand and has no size or no room."""
    left: tuple[str, ...]
    proven: bool


def boxes_of(job: Job, catalogue: Catalogue) -> tuple[Box, ...]:
    """The cases that go along, as they are on the shelf; one that is not there any more is left out."""
    found = []
    for case in job.pack.cases:
        if case.unit not in catalogue.units or (data := catalogue.model_of(case.unit).case) is None:
            continue
        travels: Travels = case.travels or data.travels
        empty, _ = catalogue.mass_of(case.unit)
        limits = [(job.settings.lift_kg, "one person lifts it")]
        if data.most_kg is not None:
            limits.append((data.most_kg, "its model"))
        if travels in ("cabin", "hold"):
            carrier = job.pack.carrier
            limits.append((carrier.cabin_kg if travels == "cabin" else carrier.hold_kg, f"{carrier.label}, {travels}"))
        most, by = min(limits)
        found.append(
            Box(case.unit, catalogue.model_of(case.unit).title, data.inside_mm, data.outside_mm, empty or 0.0,
                most * 1000, by, travels, data.waterproof, case, data.seen)
        )  # fmt: skip
    return tuple(found)


def may_go(thing: Thing, box: Box, carrier: Carrier) -> str:
    """Why a thing cannot go into a case by itself; empty when it can."""
    if thing.size_mm and any(a > b for a, b in zip(sorted(thing.size_mm), sorted(box.inside_mm), strict=True)):
        return "it is larger than the inside"
    if thing.wh is not None:
        if box.travels == "hold":
            return "packs do not go in the hold"
        if box.travels == "cabin" and thing.wh > carrier.consent_wh:
            return f"{thing.wh:.0f} Wh is not taken as baggage"
    if (thing.mass_g or 0.0) + box.empty_g > box.most_g:
        return f"with it the case weighs more than {box.most_g / 1000:g} kg ({box.most_from})"
    return ""


def deal(
    job: Job,
    things: Sequence[Thing],
    boxes: Sequence[Box],
    unwanted: Callable[[], bool] = lambda: False,
    *,
    rounds: int = _ROUNDS,
    effort: float = _EFFORT,
    start: Dealt | None = None,
) -> Dealt:
    """Everything into its case. ``things``: without what is left behind; ``unwanted`` is asked between rounds.

    ``effort``: CP-SAT's deterministic seconds for each round; ``start``: a deal to make better, in more ways at once.
    """
    put = {p.thing: p.case for p in job.pack.put if p.case in {b.unit for b in boxes}}
    things = [t for t in things if t.group != PEOPLE or t.id in put]
    sized = [t for t in things if t.size_mm]
    room = {b.unit: b.litres * job.settings.case_fill for b in boxes}
    best = Dealt({box.unit: () for box in boxes}, {box.unit: () for box in boxes}, tuple(t.id for t in things), False)
    for _ in range(rounds):
        chosen, proven = _dealt(job, sized, boxes, put, room, effort, start)
        found = _laid_in(job, things, boxes, chosen, put, proven=proven)
        if worth_of(found, things) < worth_of(best, things):
            best = found
        over = {
            box.unit: [
                n for n, c in chosen.items() if c == box.unit and (n in found.left or n in found.loose[box.unit])
            ]
            for box in boxes
        }
        full = [unit for unit, names in over.items() if names]
        if not full or unwanted():
            break
        for unit in full:
            room[unit] = min(room[unit], _litres(found.laid[unit])) * _SHRINK
    return best


def worth_of(dealt: Dealt, things: Sequence[Thing]) -> tuple[int, int, int]:
    """How little a deal is worth: things left over, loose ones, and in how many cases what belongs together is."""
    group = {t.id: t.group for t in things}
    apart = {(group[each.thing], case) for case, laid in dealt.laid.items() for each in laid}
    return len(dealt.left), sum(len(names) for names in dealt.loose.values()), len(apart)


def _litres(laid: Sequence[Laid]) -> float:
    return sum(each.size_mm[0] * each.size_mm[1] * each.size_mm[2] for each in laid) / 1e6


def _laid_in(
    job: Job,
    things: Sequence[Thing],
    boxes: Sequence[Box],
    chosen: Mapping[str, str],
    put: Mapping[str, str],
    *,
    proven: bool,
) -> Dealt:
    """How everything lies; what found no room in its case is tried in the others."""
    by_id = {t.id: t for t in things}
    lying = _Lying(job, boxes, frozenset(put), {box.unit: [] for box in boxes}, {})
    for name, case in chosen.items():
        lying.into[case].append(by_id[name])
    for box in boxes:
        lying.laid[box.unit] = lay(lying.into[box.unit], box.inside_mm)
    over = [by_id[n] for box in boxes for n in lying.laid[box.unit].left if n not in put]
    over += [t for t in things if t.size_mm and t.id not in chosen and t.id not in put]
    over.sort(key=lambda t: (t.first is None, -t.litres, t.id))
    homeless = [thing for thing in over if not lying.found_room(thing, boxes)]
    for thing in homeless[:_MAKE_ROOM]:
        lying.make_room(thing)
    laid = lying.laid
    loose: dict[str, list[str]] = {box.unit: [] for box in boxes}
    left = [t.id for t in things if not t.size_mm and t.id not in put]
    for name, case in put.items():
        if name in by_id and (name not in chosen or name in laid[case].left):
            loose[case].append(name)
    there = {each.thing for one in laid.values() for each in one.laid}
    left += [thing.id for thing in over if thing.id not in there]
    return Dealt(
        {unit: each.laid for unit, each in laid.items()},
        {unit: tuple(names) for unit, names in loose.items()},
        tuple(sorted(left)),
        proven and not left,
    )


@dataclass
class _Lying:
    """Cases with what is to go into each and how it lies, while things are tried in other cases."""

    job: Job
    boxes: Sequence[Box]
    put: frozenset[str]
    into: dict[str, list[Thing]]
    laid: dict[str, LaidOut]
    tries: int = _TRIES
    """Layings that are left; each takes its time."""

    def _takes(self, box: Box, thing: Thing) -> bool:
        """Whether the carrier and the size of a case let something in; packs in cabins are counted elsewhere."""
        counted = box.travels == "cabin" and thing.wh is not None
        return not counted and not may_go(thing, box, self.job.pack.carrier)

    def _held(self, box: Box) -> list[Thing]:
        return [t for t in self.into[box.unit] if t.id not in self.laid[box.unit].left]

    def lies_in(self, box: Box, held: Sequence[Thing], thing: Thing) -> LaidOut | None:
        """How something lies in a case with what is there; None where room, mass or its form are against it."""
        litres = box.litres * self.job.settings.case_fill - math.fsum(t.litres for t in held)
        grams = box.most_g - box.empty_g - math.fsum(t.mass_g or 0.0 for t in held)
        if (litres < thing.litres and held) or grams < (thing.mass_g or 0.0) or self.tries <= 0:
            return None
        self.tries -= 1
        made = lay([*held, thing], box.inside_mm)
        return None if made.left else made

    def found_room(self, thing: Thing, boxes: Sequence[Box]) -> bool:
        """Lay something into one of some cases with all that lies there; whether one takes it."""
        empty = {box.unit: box.litres - self.laid[box.unit].filled_mm3 / 1e6 for box in boxes}
        tried = 0
        for box in sorted(boxes, key=lambda box: -empty[box.unit]):
            held = self._held(box)
            if tried >= _ELSEWHERE or thing in self.into[box.unit] or not self._takes(box, thing):
                continue
            before = self.tries
            made = self.lies_in(box, held, thing)
            tried += before - self.tries
            if made:
                self.into[box.unit], self.laid[box.unit] = [*held, thing], made
                return True
        return False

    def make_room(self, thing: Thing) -> None:
        """Lay something into a case out of which some of what lies there finds room in another."""
        for box in self.boxes:
            if not self._takes(box, thing):
                continue
            others = [b for b in self.boxes if b is not box]
            apart = replace(self, into=dict(self.into), laid=dict(self.laid))
            held = self._held(box)
            movable = sorted((t for t in held if t.id not in self.put), key=lambda t: (-t.litres, t.id))
            for moved in movable[:_MOVED]:
                if made := apart.lies_in(box, held, thing):
                    self.into, self.laid = apart.into, apart.laid
                    self.into[box.unit], self.laid[box.unit] = [*held, thing], made
                    break
                if apart.found_room(moved, others):
                    held.remove(moved)
            self.tries = apart.tries
            if thing in self.into[box.unit] and thing.id not in self.laid[box.unit].left:
                return


def _dealt(
    job: Job,
    things: Sequence[Thing],
    boxes: Sequence[Box],
    put: Mapping[str, str],
    room: Mapping[str, float],
    effort: float,
    start: Dealt | None,
) -> tuple[dict[str, str], bool]:
    """The case of each thing that finds one, and whether nothing better exists."""
    # It takes most of a second to load: only what deals pays for it.
    from ortools.sat.python import cp_model  # noqa: PLC0415

    m = cp_model.CpModel()
    goes: dict[tuple[str, str], Any] = {
        (t.id, box.unit): m.new_bool_var("")
        for t in things
        for box in boxes
        if put.get(t.id, box.unit) == box.unit and (t.id in put or not may_go(t, box, job.pack.carrier))
    }
    first = (
        {each.thing: unit for unit, laid in start.laid.items() for each in laid}
        if start
        else _by_rule(things, boxes, goes.keys(), room, _Flown(job.pack.carrier))
    )
    for (name, case), v in goes.items():
        m.add_hint(v, first.get(name) == case)
    costs: list[Any] = []
    for t in things:
        each = [goes[t.id, box.unit] for box in boxes if (t.id, box.unit) in goes]
        m.add(sum(each) <= 1)
        costs.append((_LEFT + round(10 * t.litres) + (5000 if t.id in put else 0)) * (1 - sum(each)))
    for box in boxes:
        inside = [(t, goes[t.id, box.unit]) for t in things if (t.id, box.unit) in goes]
        held = [t for t, _ in inside if put.get(t.id) == box.unit]
        # What somebody put there is there, however much it is.
        most = int(room[box.unit] * 1000)
        # One thing alone needs no room for hands beside it: a tube is filled by what it was made for.
        _at_most(m, [(min(t.litres * 1000, most), v) for t, v in inside], most, [t.litres * 1000 for t in held])
        _at_most(
            m, [(t.mass_g or 0.0, v) for t, v in inside], box.most_g - box.empty_g, [t.mass_g or 0.0 for t in held]
        )
        for weight, members in ((_OPEN, [t for t, _ in inside]), *((_SPLIT, each) for each in _groups(inside))):
            some = m.new_bool_var("")
            for t in members:
                m.add_implication(goes[t.id, box.unit], some)
            costs.append(weight * some)
            m.add_hint(some, any(first.get(t.id) == box.unit for t in members))
    _bound_packs(m, job.pack.carrier, things, boxes, goes, put)
    m.minimize(sum(costs))
    solver = cp_model.CpSolver()
    solver.parameters.max_deterministic_time = effort
    # Several ways of searching take turns on one thread: the same turns on every machine.
    solver.parameters.num_workers = _WAYS if start else 1
    solver.parameters.interleave_search = start is not None
    solver.parameters.random_seed = 7
    status = solver.solve(m)
    if status not in (cp_model.OPTIMAL, cp_model.FEASIBLE):
        return first, False
    return {name: case for (name, case), v in goes.items() if solver.value(v)}, status == cp_model.OPTIMAL


def _bound_packs(
    m: CpModel,
    carrier: Carrier,
    things: Sequence[Thing],
    boxes: Sequence[Box],
    goes: Mapping[tuple[str, str], Any],
    put: Mapping[str, str],
) -> None:
    """So many packs of a size go into cabins; what somebody put there by hand is there."""
    cabins = {box.unit for box in boxes if box.travels == "cabin"}
    for low, high, most in _lithium(carrier):
        sized = [t for t in things if t.wh is not None and low < t.wh <= high]
        flown = [goes[t.id, cabin] for t in sized for cabin in cabins if (t.id, cabin) in goes]
        m.add(sum(flown) <= max(most, sum(put.get(t.id) in cabins for t in sized)))


def _at_most(m: CpModel, terms: Sequence[tuple[float, Any]], most: float, held: Sequence[float]) -> None:
    up = [(max(0, -int(-amount // 1)), v) for amount, v in terms]
    m.add(sum(amount * v for amount, v in up) <= max(int(most), sum(-int(-h // 1) for h in held), 0))


def _groups(inside: Sequence[tuple[Thing, Any]]) -> Iterator[list[Thing]]:
    groups: dict[str, list[Thing]] = {}
    for t, _ in inside:
        groups.setdefault(t.group, []).append(t)
    yield from (members for name, members in groups.items() if name)


def _lithium(carrier: Carrier) -> tuple[tuple[float, float, int], ...]:
    return (
        (0.0, carrier.free_wh, carrier.free_each * carrier.people),
        (carrier.free_wh, carrier.consent_wh, carrier.consent_each * carrier.people),
    )


def _by_rule(
    things: Sequence[Thing],
    boxes: Sequence[Box],
    can: Collection[tuple[str, str]],
    room: Mapping[str, float],
    flown: _Flown,
) -> dict[str, str]:
    """A first answer: what belongs together, largest first, one after the other into the first case that takes it."""
    litres = {box.unit: room[box.unit] for box in boxes}
    grams = {box.unit: box.most_g - box.empty_g for box in boxes}
    found: dict[str, str] = {}
    for t in sorted(things, key=lambda t: (t.group, -t.litres, t.id)):
        for box in boxes:
            unit = box.unit
            # The model counts whole cm³ and g, rounded up.
            litre, gram = min(t.litres + 0.001, room[unit]), (t.mass_g or 0.0) + 1
            if (t.id, unit) in can and litres[unit] >= litre and grams[unit] >= gram and flown.takes(t, box):
                found[t.id] = unit
                litres[unit] -= litre
                grams[unit] -= gram
                break
    return found


class _Flown:
    """Packs in cabins, counted while they are put there."""

    def __init__(self, carrier: Carrier) -> None:
        self._left = {(low, high): most for low, high, most in _lithium(carrier)}

    def takes(self, t: Thing, box: Box) -> bool:
        """Whether one more may go; it is counted then."""
        if t.wh is None or box.travels != "cabin":
            return True
        for (low, high), left in self._left.items():
            if low < t.wh <= high:
                self._left[low, high] = left - 1
                return left > 0
        return True
