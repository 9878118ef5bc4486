"""A rig with faults seeded into it: changes that somebody could make by mistake, with what the core says of each."""

from __future__ import annotations

import random
from collections.abc import Iterator, Sequence
from dataclasses import dataclass, replace
from typing import Literal

from ..callouts import Finding, Level
from ..errors import BadRig, LiftCrateError, NotAllowed
from ..gear.model import mates
from ..rig.build import Build, Catalogue, Link
from ..rig.edits import Adjust, Connect, Detach, Disconnect, Operation, Replace, SlideTo, Turn, apply_all, describe
from ..stand import Stand, stand_of
from ..verdict.judge import quick
from .score import Lesson, Result, points

__all__ = ["Faulty", "SeededFault", "fault_hint", "fault_result", "play_faults", "seeded"]

Family = Literal["links", "anything"]
_Said = set[tuple[str, Level]]
_MOST_TRIALS = 90
_MOST_FAULTS = 5
_SMALL_G = 500.0


@dataclass(frozen=True, kw_only=True)
class SeededFault:
    """A fault: what was done, what the core says of it that it did not say before, and every unit that it is about."""

    done: str
    findings: tuple[Finding, ...]
    units: frozenset[str]
    at: str
    """The unit that one goes to first."""


@dataclass(frozen=True, eq=False)
class Faulty:
    """A build with its faults, and units that had call-outs of their own before: to mark them is no false alarm."""

    build: Build
    faults: tuple[SeededFault, ...]
    before: frozenset[str]


def seeded(stand: Stand, seed: int, family: Family, count: int) -> Faulty:
    """Seed so many faults into a build: links alone, or anything; raises NotAllowed where it has no room for one."""
    chance = random.Random(f"{family} {seed}")  # noqa: S311 - a drill, no secret
    count = max(1, min(_MOST_FAULTS, count))
    base = quick(stand).findings
    build, faults = stand.assembly.build, list[SeededFault]()
    known: _Said = {(f.key, f.level) for f in base}
    said: _Said = set()
    tries = list(_tries(stand, family))
    chance.shuffle(tries)
    for operations in tries[:_MOST_TRIALS]:
        if len(faults) == count:
            break
        found = _tried(stand, build, operations, known, family)
        if found is None:
            continue
        after, fault, standing = found
        # What a fault is told by must still be told beside the next one.
        if any(fault.units & other.units for other in faults) or not all(_stands(f, standing) for f in faults):
            continue
        faults.append(fault)
        build, said = after, standing
        known |= standing
    if not faults:
        raise NotAllowed("No fault of this kind can be seeded into this build. Choose a build with more on it.")
    faults = [replace(f, findings=tuple(x for x in f.findings if (x.key, x.level) in said)) for f in faults]
    before = frozenset(u for f in base if f.level > Level.NOTE for u in f.about.units)
    return Faulty(build, tuple(faults), before)


def _tried(
    stand: Stand, build: Build, operations: Sequence[Operation], known: _Said, family: Family
) -> tuple[Build, SeededFault, _Said] | None:
    catalogue = stand.assembly.catalogue
    straight = catalogue.straight or catalogue
    try:
        after = apply_all(build, tuple(operations), straight)
        judged = quick(stand_of(after, straight, stand.conditions, stand.settings, stand.taken, stand.target))
    except (LiftCrateError, BadRig, ValueError):
        return None
    new = tuple(f for f in judged.findings if f.level > Level.NOTE and (f.key, f.level) not in known)
    if family == "links":
        new = tuple(f for f in new if f.code.partition(".")[0] in ("power", "link"))
    if not new:
        return None
    done = "; then ".join(describe(op, straight) for op in operations)
    # What a person would look at: what was touched, and what the call-outs name.
    named = {getattr(op, field, "") for op in operations for field in ("unit", "cable", "by")}
    there, about = set(_all_units(after)), {u for f in new for u in f.about.units}
    touched, units = named & there, frozenset((about | named) & there)
    if not units:
        return None
    fault = SeededFault(done=done, findings=new, units=units, at=min(touched or units))
    return after, fault, {(f.key, f.level) for f in judged.findings}


def _stands(fault: SeededFault, said: _Said) -> bool:
    return any((f.key, f.level) in said for f in fault.findings)


def _all_units(build: Build) -> tuple[str, ...]:
    return (*build.units, *(link.cable for link in build.links))


def _tries(stand: Stand, family: Family) -> Iterator[tuple[Operation, ...]]:
    """Changes that somebody could make by mistake."""
    build, catalogue = stand.assembly.build, stand.assembly.catalogue
    for link in build.links:
        yield (Disconnect(cable=link.cable),)
        yield from _elsewhere(build, catalogue, link)
    if family == "links":
        return
    for joint in build.joints:
        if all(_forgettable(catalogue, unit) for unit in build.subtree(joint.child)):
            yield (Detach(unit=joint.child),)
        travel = catalogue.travel(joint)
        if travel is not None:
            yield (SlideTo(unit=joint.child, to_mm=travel.min_mm),)
            yield (SlideTo(unit=joint.child, to_mm=travel.max_mm),)
        yield (Turn(unit=joint.child),)
        yield from _exchanged(build, catalogue, joint.child)
    for unit in build.units:
        lens = catalogue.model_of(unit).lens
        if lens is not None:
            yield (Adjust(unit=unit, stop=lens.stop * 4),)


def _forgettable(catalogue: Catalogue, unit: str) -> bool:
    """Small enough to be left in the case; a rig without its lens or gimbal is no riddle."""
    model = catalogue.model_of(unit)
    mass = catalogue.unit(unit).measured_g or model.mass_g or 0.0
    return mass < _SMALL_G and not (model.lens or model.support or model.gimbal or model.body)


def _elsewhere(build: Build, catalogue: Catalogue, link: Link) -> Iterator[tuple[Operation, ...]]:
    """The same cable from another outlet of the rig that takes its plug, whatever comes out of it."""
    source = catalogue.model_of(link.from_unit).port(link.from_port)
    taken = {(k.from_unit, k.from_port) for k in build.links} | {(k.to_unit, k.to_port) for k in build.links}
    plugs = catalogue.model_of(link.cable).ports
    for unit in build.units:
        for port in catalogue.model_of(unit).ports:
            if (unit, port.id) in taken or not port.electrical or port.electrical.role != "out":
                continue
            if source.electrical and any(mates(plug, port) for plug in plugs):
                yield (
                    Disconnect(cable=link.cable),
                    Connect(
                        cable=link.cable,
                        from_unit=unit,
                        from_port=port.id,
                        to_unit=link.to_unit,
                        to_port=link.to_port,
                    ),
                )


def _exchanged(build: Build, catalogue: Catalogue, unit: str) -> Iterator[tuple[Operation, ...]]:
    """Something of the same kind from the shelf in its place, taken by mistake."""
    kind, model = catalogue.model_of(unit).kind, catalogue.model_of(unit).id
    seen: set[str] = set()
    for other in catalogue.shelf:
        there = catalogue.model_of(other.id)
        if there.kind == kind and there.id != model and there.id not in seen and other.id not in build.units:
            seen.add(there.id)
            yield (Replace(unit=unit, by=other.id),)


def play_faults(drill: Faulty) -> tuple[str, ...]:
    """What the best marks: one unit of every fault."""
    return tuple(fault.at for fault in drill.faults)


def fault_hint(drill: Faulty, marks: Sequence[str]) -> str:
    """What to look at next; nothing where everything is found."""
    left = [f for f in drill.faults if not f.units & set(marks)]
    if not left:
        return ""
    return f"{len(left)} to find. Look for: {left[0].findings[0].call_out.title.lower()}."


def fault_result(drill: Faulty, marks: Sequence[str], hints: int) -> Result:
    """How it ended: found, missed, false alarms; what the core says of every fault."""
    marked = set(marks)
    hits = [fault for fault in drill.faults if fault.units & marked]
    about = {u for fault in drill.faults for u in fault.units} | drill.before
    false = sorted(marked - about)
    lessons = tuple(
        Lesson(
            plain=fault.findings[0].text,
            technical=f"{fault.findings[0].call_out.title} ({fault.findings[0].code}): {fault.done}",
            why=fault.findings[0].call_out.why,
            cure=fault.findings[0].call_out.cures,
            got=bool(fault.units & marked),
        )
        for fault in drill.faults
    )
    missed = len(drill.faults) - len(hits)
    alarms = f", {len(false)} false alarm{'s' if len(false) != 1 else ''} ({', '.join(false)})" if false else ""
    return Result(
        points=points(len(hits) / len(drill.faults), hints=hints, false_alarms=len(false)),
        won=not missed and not false,
        said=f"{len(hits)} found, {missed} missed{alarms}",
        best=f"{len(drill.faults)} marks: {', '.join(play_faults(drill))}",
        lessons=lessons,
    )
