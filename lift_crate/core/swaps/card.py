"""The swap card: every change of a pack over the day, and who makes it."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from .day import DayProblem, Slot
from .solver import Charge, DayPlan, Use

__all__ = ["Swap", "carried_out", "swaps_of"]

_SAME_MIN = 5
"""Within one step of the day."""


@dataclass(frozen=True, slots=True)
class Swap:
    """A line of the swap card: when, where, which pack out, which in and
    where from; what of it is planned and what was done.
    """

    at: datetime
    minute: int
    """Of the day as it is planned."""
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


def swaps_of(problem: DayProblem, plan: DayPlan) -> tuple[Swap, ...]:
    """Every swap of a plan in the order of the day, the first packs of all slots before them, and who makes it."""
    slots = {s.id: s for s in problem.slots}
    charges: dict[str, list[Charge]] = {}
    for charge in plan.charges:
        charges.setdefault(charge.pack, []).append(charge)
    changes: list[tuple[Slot, Use, Use | None]] = []
    before: dict[str, Use] = {}
    for use in sorted(plan.uses, key=lambda u: (u.at, u.slot)):
        last = before.get(use.slot)
        before[use.slot] = use
        if not (last and last.pack == use.pack) and not slots[use.slot].built_in:
            changes.append((slots[use.slot], use, last))
    found = []
    for (slot, use, last), person in zip(changes, _shared_out(problem, changes), strict=True):
        came = max((c for c in charges.get(use.pack, ()) if c.ends <= use.at), key=lambda c: c.ends, default=None)
        goes = (
            min((c for c in charges.get(last.pack, ()) if c.starts >= last.ends), key=lambda c: c.starts, default=None)
            if last
            else None
        )
        found.append(
            Swap(
                problem.when(step := use.at if last or slot.fitted is None else slot.fitted),
                step * problem.step_min,
                use.slot,
                slot.label,
                slot.rig,
                last.pack if last else None,
                use.pack,
                slot.left(last.pack_class, last.used) if last else None,
                (
                    f"{came.charger}, bay {came.bay}"
                    if came
                    else "nowhere yet: bring or hire it"
                    if use.brings
                    else "the bag"
                ),
                (f"{goes.charger}, bay {goes.bay}" if goes else "the bag") if last else "",
                not problem.within_a_part(use.starts),
                person,
                use.brings,
            )
        )
    return tuple(found)


def carried_out(cards: Sequence[Swap], slot: str, minute: int) -> int | None:
    """The line of the card that a swap made in a slot, at a minute of the day,
    carried out: a plan goes on from what was made, so it is in it at that time.
    """
    return next((i for i, c in enumerate(cards) if c.slot == slot and abs(c.minute - minute) < _SAME_MIN), None)


def _shared_out(problem: DayProblem, changes: Sequence[tuple[Slot, Use, Use | None]]) -> list[str]:
    """Who makes each swap: somebody who is not on the way to another, of those
    who has made the fewest, best the one who was there last.
    """
    if not problem.people:
        return [""] * len(changes)
    busy_until = dict.fromkeys(problem.people, -1)
    made = dict.fromkeys(problem.people, 0)
    there: dict[str, str] = {}
    found = [""] * len(changes)
    # Whoever sets out first is free first: in that order as many people do as are on the way at once.
    ways = [problem.on_the_way(slot, use.starts, use.at) for slot, use, _ in changes]
    for i in sorted(range(len(changes)), key=lambda i: ways[i].start if ways[i] else changes[i][1].at):
        slot, way = changes[i][0], ways[i]
        free = [p for p in problem.people if not way or busy_until[p] <= way.start] or list(problem.people)
        person = min(free, key=lambda p: (made[p] - (there.get(slot.holder) == p), problem.people.index(p)))
        made[person] += 1
        there[slot.holder] = person
        if way:
            busy_until[person] = way.stop
        found[i] = person
    return found
