"""Supports compared for a rig where it stands: by hand in every grip, and on each support that is free, tried.

Ratings of reaction and steadiness are rules of thumb (docs/formulas.md §9).
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from ..balance.ratings import REACTION_S, steadiness
from ..balance.see_saw import hold_ways
from ..rig.edits import Detach, GripAs, Operation, describe
from ..stand import Stand
from .bench import Bench
from .questions import places_for

__all__ = ["SupportTried", "supports_tried"]

_MOST_TRIED = 8
_TAPS = {
    "hand": "every step and breath is in it",
    "shoulder": "steadier than held out, still breathes",
    "gimbal": "turns late and slows before it stops",
    "head": "smooth, with drag",
    "monopod": "sways and jerks while it pans",
    "mount": "does not follow",
}
"""What a support does to a long lens that follows."""


@dataclass(frozen=True, eq=False)
class SupportTried:
    """A way to carry the rig: what it weighs on whom, how long, how fast, and what must be changed for it."""

    name: str
    kind: str
    unit: str | None
    """The support; None: the hands alone."""
    now: bool
    """It is how the build is carried now."""
    carried_g: float
    """By the hands or the operator; on a head or mount nothing."""
    moment_nm: float
    """About the support, nose-down positive."""
    minutes: float | None
    """How long it can be held; None: as long as one likes."""
    steady: int | None
    """0 to 4 by hand; None: the support keeps it steady."""
    reaction_s: float | None
    panning: str
    """What it does to a long lens that follows; empty for any other."""
    changes: tuple[str, ...]
    operations: tuple[Operation, ...]
    stops: int
    watches: int


def supports_tried(bench: Bench) -> tuple[SupportTried, ...]:
    """How the rig is carried now first, then what leaves fewest call-outs, then what is held longest."""
    found = [*_as_it_is(bench), *_by_hand(bench), *_on_others(bench)]
    longest = 1e9
    found.sort(key=lambda s: (not s.now, s.stops, s.watches, -(longest if s.minutes is None else s.minutes), s.name))
    return tuple(found)


def _as_it_is(bench: Bench) -> Iterator[SupportTried]:
    yield _told(bench, (), now=True)
    for way in hold_ways(bench.stand):
        if not way.chosen:
            yield _told(bench, (GripAs(grip=way.name),))


def _off(bench: Bench) -> tuple[Operation, ...]:
    support = bench.stand.carried.support
    return (Detach(unit=support),) if support and bench.build.joint_of(support) else ()


def _by_hand(bench: Bench) -> Iterator[SupportTried]:
    off = _off(bench)
    for way in hold_ways(bench.after(off).stand) if off else ():
        yield _told(bench, off if way.chosen else (*off, GripAs(grip=way.name)))


def _on_others(bench: Bench) -> Iterator[SupportTried]:
    """Each free support of another model, where it goes best, through adapters if it must."""
    off, own = _off(bench), bench.stand.carried.support
    bare, seen = bench.after(off), {bench.catalogue.model_of(own).id} if own else set[str]()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        if model.support is None or model.id in seen or len(seen) > _MOST_TRIED:
            continue
        seen.add(model.id)
        for place in places_for(bare, unit)[:1]:
            told = _told(bench, (*off, *place.operations))
            if told.unit == unit:
                yield told


def _told(bench: Bench, operations: tuple[Operation, ...], *, now: bool = False) -> SupportTried:
    after = bench.after(operations) if operations else bench
    stand = after.stand
    held = stand.carried
    way = next((each for each in hold_ways(stand) if each.chosen), None)
    title = f"{held.support} {bench.catalogue.model_of(held.support).title}" if held.support else "by hand"
    return SupportTried(
        f"{title} · {way.name}" if way else title,
        held.kind,
        held.support,
        now,
        way.carried_g if way else 0.0,
        held.front_nm,
        way.minutes if way else None,
        steadiness(stand).rating if held.kind in ("hand", "shoulder") else None,
        REACTION_S.get(held.kind),
        _panning(stand),
        tuple(describe(operation, bench.catalogue) for operation in operations),
        operations,
        after.quick.counts["stops"],
        after.quick.counts["watches"],
    )


def _panning(stand: Stand) -> str:
    target, view = stand.target, stand.view
    if target is None or view is None or not target.follows or view.angle_deg >= stand.settings.long_lens_deg:
        return ""
    legs = {model.stand.legs for model in stand.assembly.layout.models if model.stand}
    return _TAPS["monopod" if stand.carried.kind == "head" and legs == {"monopod"} else stand.carried.kind]
