"""Bodies side by side: how much two of them share, and what goes along with gear.

Two alike can stand in for each other and share everything; two different ones share what both take. Pictures match
when both record the same area at the same rate, as finely. Formulas: docs/formulas.md §9, 'Bodies alike'.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations

from ..callouts import About, Finding, Level
from ..gear.model import GearModel, mates
from ..job.job import Job
from ..lens.pairs import bodies_of, pairs
from ..rig.build import Catalogue
from .media import MediaPlan

__all__ = ["Alike", "bodies_alike", "companions"]

_AREA_SHARE = 0.02
"""Two recorded areas are the same up to so much of their width."""


@dataclass(frozen=True, slots=True)
class Alike:
    """Two bodies as a pair: what both take, and what only one of them does."""

    one: str
    other: str
    same: bool
    """They are of one model."""
    units: tuple[int, int]
    """How many of each there are; of one model: those beside the first."""
    pictures: tuple[str, ...]
    """Modes in which both record the same area at the same rate as finely."""
    lenses: tuple[str, ...]
    """Lens models that work on both."""
    lenses_apart: int
    """Lens models that work on one of them only."""
    packs: tuple[str, ...]
    """Pack models that go straight into both."""
    cards: tuple[str, ...]
    """Kinds of card that both take."""
    spare: bool
    """When one fails the other is its spare with all that was on it: same mount, packs and cards."""


def bodies_alike(catalogue: Catalogue) -> tuple[Alike, ...]:
    """All pairs of body models of which there are units, those of one model where there are two; most shared first."""
    bodies = bodies_of(catalogue)
    works: dict[str, set[str]] = {body.id: set() for body in bodies}
    for pair in pairs(catalogue, catalogue.adapters):
        if pair.works:
            works[pair.body.id].add(pair.lens.title)
    counts = {
        body.id: sum(u.model == body.id and u.condition != "out of use" for u in catalogue.shelf) for body in bodies
    }
    twice = [(body, body) for body in bodies if counts[body.id] > 1]
    found = [_alike(one, other, works, counts, catalogue) for one, other in (*twice, *combinations(bodies, 2))]
    return tuple(
        sorted(found, key=lambda a: (not a.same, not a.spare, -len(a.pictures), -len(a.lenses), a.one, a.other))
    )


def _alike(
    one: GearModel, other: GearModel, works: dict[str, set[str]], counts: dict[str, int], catalogue: Catalogue
) -> Alike:
    same = one.id == other.id
    shared = works[one.id] & works[other.id]
    packs, cards = _packs(one, catalogue) & _packs(other, catalogue), _cards(one) & _cards(other)
    return Alike(
        one.title,
        other.title,
        same,
        (counts[one.id], counts[other.id] - (1 if same else 0)),
        tuple(_pictures(one, other)),
        tuple(sorted(shared)),
        len(works[one.id] ^ works[other.id]),
        tuple(sorted(packs)),
        tuple(sorted(cards)),
        same or (works[one.id] <= works[other.id] and bool(packs or not _packs(one, catalogue)) and bool(cards)),
    )


def _pictures(one: GearModel, other: GearModel) -> Iterator[str]:
    """Modes of the first that the second has too: area to 2 %, frames a second, bits and sampling."""
    theirs = list(_modes(other))
    for label, width, fps, fine in _modes(one):
        if any(
            fps == their_fps and fine == their_fine and abs(width - their_width) <= _AREA_SHARE * width
            for _, their_width, their_fps, their_fine in theirs
        ):
            yield label


def _modes(body: GearModel) -> Iterator[tuple[str, float, float | None, str]]:
    widths = {area.id: area.width_mm for area in body.body.areas} if body.body else {}
    for mode in body.recording.modes if body.recording else ():
        for area in [mode.area] if mode.area else widths:
            if area in widths:
                yield mode.label, widths[area], mode.fps, mode.fineness


def _packs(body: GearModel, catalogue: Catalogue) -> set[str]:
    models = {u.model for u in catalogue.shelf}
    return {
        pack.title
        for pack in catalogue.models.values()
        if pack.pack
        and pack.id in models
        and any(p.electrical and q.electrical and mates(p, q) for p in pack.ports for q in body.ports)
    }


def _cards(body: GearModel) -> set[str]:
    return {slot.takes for slot in body.recording.slots} if body.recording else set()


def companions(job: Job, catalogue: Catalogue, media: MediaPlan) -> Iterator[Finding]:
    """What goes along without what it needs to be of use: packs without a charger, cards without a reader."""
    chargers = [catalogue.model_of(place.unit) for place in job.charging.chargers if place.unit in catalogue.units]
    bays = [m.port(m.charger.bay_port) for m in chargers if m.charger]
    used = {unit for part in job.parts for _, build in job.builds_in(part.id).values() for unit in build.units}
    alone: dict[str, list[str]] = {}
    for unit in sorted(used):
        model = catalogue.model_of(unit)
        # What is built in is charged where it is; its socket is not asked.
        if model.pack and model.kind == "pack" and not any(mates(p, bay) for p in model.ports for bay in bays):
            alone.setdefault(f"{model.title} without a charger", []).append(unit)
    readers = {
        data.slot
        for u in catalogue.shelf
        if u.condition != "out of use" and (data := catalogue.model_of(u.id).card) and data.gb is None
    }
    for line in media.lines:
        cards = [p.card for p in line.pieces if p.card]
        if cards and not line.drive and line.takes not in readers:
            alone.setdefault(f"{line.takes} without a reader", []).extend(cards)
    for what, units in alone.items():
        named = tuple(dict.fromkeys(units))
        yield Finding(
            code="pool.companion",
            level=Level.WATCH,
            about=About(units=named),
            value=float(len(named)),
            text=f"{what}: {', '.join(named[:4])}{f' and {len(named) - 4} more' if len(named) > 4 else ''}.",
        )
