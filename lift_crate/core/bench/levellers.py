"""What would level a rig: slides, counterweights and packs tried, and judged.

Formulas: docs/formulas.md §4.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, replace

from ..balance.see_saw import WORTH_NM
from ..callouts import Level
from ..errors import BadRig
from ..gear.model import mates
from ..rig.assembly import assemble
from ..rig.edits import Operation, Replace, SlideTo, describe
from ..support.load import carried
from .bench import Bench, free_ports, is_socket, ways_on

__all__ = ["Leveller", "level_slides", "levellers"]

_COUNTERS = ("counterweight", "pack")
_MOST_TRIED = 60
_MOST_SHOWN = 8


@dataclass(frozen=True, eq=False)
class Leveller:
    """Something that makes a rig more level: what to do,
    front-heaviness and hours after it, and the Stops it brings.
    """

    title: str
    operations: tuple[Operation, ...]
    front_nm: float
    mass_g: float
    hours: float | None
    brings: tuple[str, ...]
    """What is wrong with it that was not before, in words."""


def levellers(bench: Bench) -> tuple[Leveller, ...]:
    """What is on slid along its rails; counterweights and packs of the shelf tried
    in every place, and other packs in the place of those on.

    Those that bring a new Stop come last; then most level first, longest hours.
    """
    before = abs(bench.stand.carried.front_nm)
    wrong = {f.key for f in bench.quick.findings if f.level is Level.STOP}
    found = []
    for operations in (*level_slides(bench), *_trials(bench)[:_MOST_TRIED]):
        try:
            after = bench.after(operations)
        except BadRig:
            continue
        if abs(after.stand.carried.front_nm) >= before - WORTH_NM:
            continue
        first = after.stand.first_empty
        found.append(
            Leveller(
                "; then ".join(describe(op, bench.catalogue) for op in operations),
                operations,
                after.stand.carried.front_nm,
                after.stand.carried.total.mass_g - bench.stand.carried.total.mass_g,
                first.hours if first else None,
                tuple(f.text for f in after.quick.findings if f.level is Level.STOP and f.key not in wrong),
            )
        )
    found.sort(key=lambda x: (bool(x.brings), round(abs(x.front_nm), 2), -(x.hours or 0.0), x.mass_g))
    return tuple(found[:_MOST_SHOWN])


def level_slides(bench: Bench) -> Iterator[tuple[Operation, ...]]:
    """Every joint that slides, to where the rig would be level, or to the end of its rail.

    The moment is linear in a slide, so two places tell it.
    """
    build, models, settings = bench.build, bench.catalogue, bench.settings
    front = bench.stand.carried.front_nm
    for joint in build.joints:
        travel = models.travel(joint)
        if travel is None or travel.max_mm - travel.min_mm < 1:
            continue
        there = travel.min_mm if joint.slide_mm - travel.min_mm > travel.max_mm - joint.slide_mm else travel.max_mm
        moved = replace(
            build, joints=tuple(replace(j, slide_mm=there) if j.child == joint.child else j for j in build.joints)
        )
        per_mm = (carried(assemble(moved, models), settings).front_nm - front) / (there - joint.slide_mm)
        if abs(per_mm) > 1e-6:
            level_at = min(max(joint.slide_mm - front / per_mm, travel.min_mm), travel.max_mm)
            yield (SlideTo(unit=joint.child, to_mm=round(level_at, 1)),)


def _trials(bench: Bench) -> list[tuple[Operation, ...]]:
    build, models = bench.build, bench.catalogue
    trials: list[tuple[Operation, ...]] = []
    seen: set[tuple[str, str, str]] = set()
    packs = [
        unit
        for unit in bench.stand.assembly.units
        if models.model_of(unit).pack and build.joint_of(unit) and models.model_of(unit).kind == "pack"
    ]
    ports = [(onto, port) for onto, port in free_ports(bench.stand.assembly) if not is_socket(models, port)]
    for unit in bench.on_shelf():
        model = models.model_of(unit)
        if model.kind not in _COUNTERS:
            continue
        for pack in packs:
            joint = build.joint_of(pack)
            if model.kind != "pack" or joint is None or (model.id, pack, "") in seen:
                continue
            port = models.model_of(joint.parent).port(joint.parent_port)
            if any(p.id == joint.child_port and mates(p, port) for p in model.ports):
                seen.add((model.id, pack, ""))
                trials.append((Replace(unit=pack, by=unit),))
        for onto, port in ports:
            if (model.id, onto, port.id) in seen:
                continue
            for way in ways_on(bench, unit, onto, port)[:1]:
                seen.add((model.id, onto, port.id))
                trials.append((way,))
    return trials
