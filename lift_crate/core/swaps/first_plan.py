"""First plans for a day of swaps, by rule: whoever needs a pack takes the one
that runs longest there, of those used before if one is free.

It is seldom the best. The rule leaves open who of two chooses first, and looks no
further than the next swap; so it is tried many times with both varied by dice that
fall the same way every time. The solver starts from the best of them, and falls
back on it where a day is too large to do better in the time.
"""

from __future__ import annotations

import heapq
import itertools
from collections import Counter, defaultdict
from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from random import Random

from .day import ChargerGroup, DayProblem, Slot, edges

__all__ = ["FirstRun", "Way", "first_plan", "first_plans", "ways_on"]


Way = tuple[int, str, int]
"""To which step, with which class of pack, using how many thousandths of it."""
Walks = Mapping[str, Mapping[int, tuple[tuple[int, tuple[int, ...]], ...]]]
"""By slot and swap: by when it may be made, latest first, and in which steps that keeps a person."""


@dataclass(frozen=True, slots=True)
class FirstRun:
    """A pack in a slot, and where it is charged after it."""

    starts: int
    ends: int
    pack_class: str
    used: int
    group: str | None
    charge_from: int
    charge_for: int
    free: int
    at: int
    """By when the pack is in: at ``starts`` or, in a break, before it."""


class _Bays:
    """Bays of a charger over the day, booked step by step."""

    def __init__(self, group: ChargerGroup, horizon: int) -> None:
        self.group, self._taken = group, [0] * (horizon + 1)

    def book(self, earliest: int, lasts: int) -> int | None:
        """The first step from which a bay is free for so long while there is mains, taken; None where there is none."""
        for opens, closes in self.group.windows:
            for begins in range(max(earliest, opens), min(closes, len(self._taken)) - lasts + 1):
                if all(self._taken[t] < self.group.at_once for t in range(begins, begins + lasts)):
                    for t in range(begins, begins + lasts):
                        self._taken[t] += 1
                    return begins
        return None


_LIKED, _SOONER = 40, 12
"""Steps by which a kind of pack may seem to run longer, and a swap be made sooner;
chosen by trying, on days of 4 to 40 cameras: both bring plans that the rule alone misses.
"""


@dataclass
class _Whims:
    """How one try departs from the rule: a sooner swap than the longest, a kind that is liked."""

    dice: Random
    sooner: float = field(init=False)
    likes: dict[str, float] = field(init=False)

    def __post_init__(self) -> None:
        self.likes = defaultdict(lambda: _LIKED * self.dice.random())
        self.sooner = _SOONER * self.dice.random()

    def of(self, kind: str, *, again: bool) -> float:
        """Steps by which a way seems longer."""
        return (0.0 if again else self.likes[kind]) - self.sooner * self.dice.random()


def first_plans(
    problem: DayProblem,
    limits: Mapping[str, int],
    tries: int,
    made: Mapping[str, tuple[tuple[int, int], ...]] | None = None,
) -> Iterator[dict[str, list[FirstRun]]]:
    """The plan by rule, and so many variations of it; the same for the same day.

    ``made``: by slot the swaps and by when they are made, where no others are to be tried.
    """
    onwards = {slot.id: ways_on(slot, limits[slot.id]) for slot in problem.slots}
    walks = _walks(problem, onwards)
    if made is not None:
        onwards = {name: _only(ways, [step for step, _ in made[name]]) for name, ways in onwards.items()}
        walks = {
            name: {
                step: tuple(o for o in options if made_at.get(step, o[0]) == o[0])
                for step, options in walks[name].items()
            }
            for name, made_at in ((name, dict(swaps)) for name, swaps in made.items())
        }
    yield _planned(problem, onwards, walks, None)
    dice = Random(7)  # noqa: S311 - no secret
    for _ in range(tries):
        yield _planned(problem, onwards, walks, _Whims(dice))


def _walks(problem: DayProblem, onwards: Mapping[str, Mapping[int, list[Way]]]) -> Walks:
    return {
        slot.id: {
            step: tuple((at, tuple(problem.on_the_way(slot, step, at))) for at in slot.made_by(step))
            for step in {*onwards[slot.id], slot.last}
        }
        for slot in problem.slots
    }


def _only(ways: Mapping[int, list[Way]], steps: list[int]) -> dict[int, list[Way]]:
    """Ways that lead from one of some steps to the next of them, the last one to the end."""
    begins, ends = min(ways), max(end for each in ways.values() for end, _, _ in each)
    through = [begins, *steps, ends]
    return {a: [way for way in ways[a] if way[0] == b] for a, b in itertools.pairwise(through)}


def first_plan(problem: DayProblem, limits: Mapping[str, int]) -> dict[str, list[FirstRun]]:
    """Runs of every slot from its first to its last step; more packs than there are where it must."""
    return next(first_plans(problem, limits, 0))


def _planned(
    problem: DayProblem,
    onwards: Mapping[str, Mapping[int, list[Way]]],
    walks: Walks,
    whims: _Whims | None,
) -> dict[str, list[FirstRun]]:
    slots = {slot.id: slot for slot in problem.slots}
    hands: Counter[int] = Counter()
    bays = [_Bays(group, problem.horizon) for group in problem.chargers]
    fresh = {c.id: len(c.units) for c in problem.classes}
    back: dict[str, list[int]] = defaultdict(list)
    """By class: when packs that were used are free again, soonest first."""
    waiting = [(slot.first, _turn(whims), slot.id, slot.first) for slot in problem.slots]
    heapq.heapify(waiting)
    plan: dict[str, list[FirstRun]] = {slot.id: [] for slot in problem.slots}
    while waiting:
        at, _, name, starts = heapq.heappop(waiting)
        slot = slots[name]
        made = {way[0]: _by_whom(walks[name][way[0]], hands, problem.hands) for way in onwards[name][starts]}
        ways = [way for way in onwards[name][starts] if not made[way[0]][0]] or [
            min(onwards[name][starts], key=lambda way: made[way[0]][0])
        ]

        def worth(way: Way, at: int = at) -> tuple[int, float]:
            again = bool(back[way[1]]) and back[way[1]][0] <= at
            seems = way[0] + (whims.of(way[1], again=again) if whims else 0)
            return (2 if again else 1 if fresh[way[1]] > 0 else 0), seems

        end, kind, used = max(ways, key=worth)
        if back[kind] and back[kind][0] <= at:
            heapq.heappop(back[kind])
        else:
            fresh[kind] -= 1
        _, by, kept = made[end]
        hands.update(kept)
        again = next((put.again for put in slot.done if put.step == end), None)
        run = FirstRun(starts, end, kind, used, None, 0, 0, problem.horizon + 1 if again is None else again, at)
        if again is None:
            run = _charged(problem, bays, slot, run)
        if run.free <= problem.horizon:
            heapq.heappush(back[kind], run.free)
        plan[name].append(run)
        if end < slot.last:
            heapq.heappush(waiting, (by, _turn(whims), name, end))
    return plan


def _by_whom(
    options: tuple[tuple[int, tuple[int, ...]], ...], hands: Mapping[int, int], people: int
) -> tuple[int, int, tuple[int, ...]]:
    """How many steps too many people would be on their way, at the latest time for which that is least."""
    counted = [(sum(hands[t] >= people for t in kept), -at, kept) for at, kept in options]
    crowded, at, kept = min(counted)
    return crowded, -at, kept


def _turn(whims: _Whims | None) -> float:
    """Who chooses first of those who need a pack at one time."""
    return whims.dice.random() if whims else 0.0


def ways_on(slot: Slot, limit: int) -> dict[int, list[Way]]:
    """From every step: to where, with which class, using how much, of what still leads to the end of the day."""
    leads = {slot.last}
    found: dict[int, list[Way]] = defaultdict(list)
    for start, end, kind, used in sorted(edges(slot, limit), key=lambda e: -e[0]):
        if end in leads:
            leads.add(start)
            found[start].append((end, kind, used))
    return found


def _charged(problem: DayProblem, bays: list[_Bays], slot: Slot, run: FirstRun) -> FirstRun:
    for each in bays:
        if run.pack_class not in each.group.full_steps:
            continue
        lasts = each.group.steps(run.pack_class, run.used)
        begins = each.book(run.ends + slot.walk, lasts)
        if begins is not None:
            free = begins + lasts + slot.walk
            if free <= problem.horizon:
                return replace(run, group=each.group.id, charge_from=begins, charge_for=lasts, free=free)
    return run
