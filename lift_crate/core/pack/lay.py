"""Where things lie in a case: a heuristic that lays them box by box, and a check that knows nothing of it.

A case is a box of free room. Each thing goes into the room that it leaves least of; that room is cut into what is left
beside it, before it, and above it, where only what stands wholly on the thing goes. So nothing overlaps, nothing hangs
in the air, and what is laid last has nothing above it. mm, from the left front lower corner of the inside.
Formulas: docs/formulas.md §16, 'Laid in'.
"""

from __future__ import annotations

import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import combinations, permutations

from ..geometry import Vec3
from .along import Thing

__all__ = ["Laid", "LaidOut", "buried", "check_laid", "covered_from", "lay"]

_LEAST_MM = 0.01
_Room = tuple[float, float, float, float, float, float]
"""x, y, z and width, depth, height."""


@dataclass(frozen=True, slots=True)
class Laid:
    """A thing in its place: corner and size, and on how many others it stands."""

    thing: str
    at_mm: Vec3
    size_mm: Vec3
    layer: int
    """1 on the floor."""


@dataclass(frozen=True, slots=True)
class LaidOut:
    """Everything in a case, and what found no room."""

    laid: tuple[Laid, ...]
    left: tuple[str, ...]

    @property
    def filled_mm3(self) -> float:
        """Volume of what lies in it."""
        return math.fsum(math.prod(each.size_mm) for each in self.laid)


def lay(things: Sequence[Thing], inside_mm: Vec3) -> LaidOut:
    """Lay things of known size into a case; what is wanted first lies on top wherever all fit that way.

    Tried in several orders: the first in which nothing is left over and nothing buries what is wanted sooner; else the
    one that leaves least over, then buries least.
    """
    best: tuple[tuple[float, int], LaidOut] | None = None
    for order in _orders(things):
        for longest in (False, True):
            made = _laid(order, inside_mm, longest=longest)
            left = math.fsum(t.litres for t in things if t.id in made.left)
            worth = (round(left, 6), len(buried(made.laid, things)))
            if best is None or worth < best[0]:
                best = (worth, made)
            if worth == (0.0, 0):
                return made
    return best[1] if best else LaidOut((), ())


def _orders(things: Sequence[Thing]) -> Iterator[list[Thing]]:
    late = max((t.first for t in things if t.first), default=None)

    def soon(t: Thing) -> float:
        """How long before the last thing it is wanted, s: the latest come first, what nobody waits for before them."""
        return -1.0 if t.first is None or late is None else (late - t.first).total_seconds()

    keys: tuple[Callable[[Thing], tuple[float, ...]], ...] = (
        lambda t: (soon(t), -t.litres),
        lambda t: (soon(t), -max(t.size_mm or (0.0,))),
        lambda t: (-t.litres, soon(t)),
        lambda t: (-max(t.size_mm or (0.0,)), soon(t)),
        lambda t: (-min(t.size_mm or (0.0,)), soon(t)),
    )
    for key in keys:
        yield sorted(things, key=lambda t, key=key: (*key(t), t.id))  # type: ignore[misc]  # keys are of one form each


def _laid(order: Sequence[Thing], inside_mm: Vec3, *, longest: bool) -> LaidOut:
    rooms: list[tuple[_Room, int]] = [((0.0, 0.0, 0.0, *inside_mm), 1)]
    laid, left = list[Laid](), list[str]()
    for thing in order:
        found = _best_room(rooms, thing)
        if found is None:
            left.append(thing.id)
            continue
        at, size = found
        room, layer = rooms.pop(at)
        laid.append(Laid(thing.id, room[:3], size, layer))
        rooms += _cut(room, size, layer, longest=longest)
    return LaidOut(tuple(laid), tuple(left))


def _best_room(rooms: Sequence[tuple[_Room, int]], thing: Thing) -> tuple[int, Vec3] | None:
    best: tuple[tuple[float, ...], int, Vec3] | None = None
    for size in dict.fromkeys(permutations(thing.size_mm or (math.inf,) * 3)):
        for i, ((_, _, z, wide, deep, high), _) in enumerate(rooms):
            slack = (wide - size[0], deep - size[1], high - size[2])
            if min(slack) < 0:
                continue
            # Low down first, lying flat, and tightly between its walls.
            worth = (z, min(slack[0], slack[1]), size[2], slack[0] + slack[1], i)
            if best is None or worth < best[0]:
                best = (worth, i, (size[0], size[1], size[2]))
    return (best[1], best[2]) if best else None


def _cut(room: _Room, size: Vec3, layer: int, *, longest: bool) -> Iterator[tuple[_Room, int]]:
    x, y, z, wide, deep, high = room
    beside, before, above = wide - size[0], deep - size[1], high - size[2]
    if (beside > before) == longest:
        rooms = ((x + size[0], y, z, beside, deep, high), (x, y + size[1], z, size[0], before, high))
    else:
        rooms = ((x + size[0], y, z, beside, size[1], high), (x, y + size[1], z, wide, before, high))
    yield from ((r, layer) for r in rooms if min(r[3:]) > _LEAST_MM)
    if above > _LEAST_MM:
        yield (x, y, z + size[2], size[0], size[1], above), layer + 1


def buried(laid: Sequence[Laid], things: Sequence[Thing]) -> tuple[tuple[str, str], ...]:
    """What lies under something that is wanted later, with that."""
    first = {t.id: t.first for t in things}
    found = []
    for low in laid:
        wanted = first[low.thing]
        for high in laid if wanted else ():
            later = first[high.thing]
            above = high.at_mm[2] >= low.at_mm[2] + low.size_mm[2] - _LEAST_MM
            if above and _over(low, high) and _after(later, wanted):
                found.append((low.thing, high.thing))
                break
    return tuple(found)


def covered_from(low: Laid, laid: Sequence[Laid]) -> int | None:
    """The lowest layer from which something lies over a thing; None where nothing does."""
    above = (
        high.layer for high in laid if high.at_mm[2] >= low.at_mm[2] + low.size_mm[2] - _LEAST_MM and _over(low, high)
    )
    return min(above, default=None)


def _after(later: datetime | None, wanted: datetime | None) -> bool:
    return wanted is not None and (later is None or later > wanted)


def _over(one: Laid, other: Laid) -> bool:
    return all(
        one.at_mm[i] < other.at_mm[i] + other.size_mm[i] - _LEAST_MM
        and other.at_mm[i] < one.at_mm[i] + one.size_mm[i] - _LEAST_MM
        for i in (0, 1)
    )


def check_laid(laid: Sequence[Laid], things: Sequence[Thing], inside_mm: Vec3) -> Iterator[str]:
    """What is wrong with things in a case, in a sentence each: independent of how they were laid.

    A thing of another size than its own, one that sticks out, two in one place, one that hangs in the air, one twice.
    """
    sizes = {t.id: t.size_mm for t in things}
    names = [each.thing for each in laid]
    yield from (f"{name} lies there twice." for name in sorted({n for n in names if names.count(n) > 1}))
    for each in laid:
        own = sizes.get(each.thing)
        if own is None or any(abs(a - b) > _LEAST_MM for a, b in zip(sorted(own), sorted(each.size_mm), strict=True)):
            yield f"{each.thing} does not have the size that it lies with."
        if any(
            low < -_LEAST_MM or low + long > room + _LEAST_MM
            for low, long, room in zip(each.at_mm, each.size_mm, inside_mm, strict=True)
        ):
            yield f"{each.thing} sticks out."
        if each.at_mm[2] > _LEAST_MM and _carried(each, laid) < 0.5 * each.size_mm[0] * each.size_mm[1]:
            yield f"{each.thing} hangs in the air."
    for one, other in combinations(laid, 2):
        apart = any(
            one.at_mm[i] + one.size_mm[i] <= other.at_mm[i] + _LEAST_MM
            or other.at_mm[i] + other.size_mm[i] <= one.at_mm[i] + _LEAST_MM
            for i in range(3)
        )
        if not apart:
            yield f"{one.thing} and {other.thing} are in one place."


def _carried(each: Laid, laid: Sequence[Laid]) -> float:
    """Area under a thing on which it stands, mm²."""
    area = 0.0
    for low in laid:
        if abs(low.at_mm[2] + low.size_mm[2] - each.at_mm[2]) < _LEAST_MM:
            sides = [
                min(low.at_mm[i] + low.size_mm[i], each.at_mm[i] + each.size_mm[i]) - max(low.at_mm[i], each.at_mm[i])
                for i in (0, 1)
            ]
            area += max(sides[0], 0.0) * max(sides[1], 0.0)
    return area
