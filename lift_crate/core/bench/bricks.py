"""Packs side by side for one slot of a rig: energy, mass and size, hours on this rig and its balance, each tried."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

import numpy as np

from ..errors import BadRig
from ..rig.edits import Operation, Replace
from .bench import Bench, same_ends

__all__ = ["Brick", "bricks_for"]


@dataclass(frozen=True, eq=False)
class Brick:
    """A pack in a slot of a rig, with what the rig then is."""

    unit: str
    title: str
    now: bool
    """It is the one that is on."""
    energy_wh: float
    """At its health."""
    mass_g: float
    size_mm: tuple[float, float, float]
    """Length along the rig's axis, width, height, as the model has it."""
    hours: float | None
    """Until the first pack of the rig ends; None: nothing draws."""
    front_nm: float
    """Moment about the support, nose-down positive."""
    payload_g: float
    stops: int
    watches: int
    alike: int
    """How many more of its model and health lie free."""
    operations: tuple[Operation, ...]


def bricks_for(bench: Bench, pack: str) -> tuple[Brick, ...]:
    """The pack that is on first, then every kind that goes in its place: fewest call-outs, then the longest hours.

    Empty for what is no pack of the rig.
    """
    if bench.build.joint_of(pack) is None or bench.catalogue.model_of(pack).pack is None:
        return ()
    others = sorted(_others(bench, pack), key=lambda b: (b.stops, b.watches, -(b.hours or 0.0), b.mass_g))
    return (_brick(bench, bench, pack, (), 0), *others)


def _others(bench: Bench, pack: str) -> Iterator[Brick]:
    kinds: dict[tuple[str, float], list[str]] = {}
    for unit in bench.sound():
        if bench.catalogue.model_of(unit).pack and same_ends(bench, pack, unit):
            kinds.setdefault((bench.catalogue.model_of(unit).id, bench.catalogue.unit(unit).health_left), []).append(
                unit
            )
    for units in kinds.values():
        operations: tuple[Operation, ...] = (Replace(unit=pack, by=units[0]),)
        try:
            after = bench.after(operations)
        except BadRig:
            continue
        yield _brick(bench, after, units[0], operations, len(units) - 1)


def _brick(bench: Bench, after: Bench, unit: str, operations: tuple[Operation, ...], alike: int) -> Brick:
    model = bench.catalogue.model_of(unit)
    low, high = model.bounds
    first = after.stand.first_empty
    x, y, z = (float(mm) for mm in np.asarray(high) - np.asarray(low))
    return Brick(
        unit,
        model.title,
        not operations,
        (model.pack.energy_wh if model.pack else 0.0) * bench.catalogue.unit(unit).health_left,
        bench.catalogue.mass_of(unit)[0] or 0.0,
        (x, y, z),
        first.hours if first and np.isfinite(first.hours) else None,
        after.stand.carried.front_nm,
        after.stand.carried.payload.mass_g,
        after.quick.counts["stops"],
        after.quick.counts["watches"],
        alike,
        operations,
    )
