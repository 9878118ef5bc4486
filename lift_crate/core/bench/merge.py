"""Two edits of one build that were made at the same time: whether they are about different parts and go together."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from dataclasses import fields

from ..callouts import Finding, Level
from ..errors import LiftCrateError
from ..rig.build import Build, Catalogue
from ..rig.edits import Operation, apply_all

__all__ = ["changed", "merged", "no_worse"]

_OF_UNITS = {"joints": "child", "links": "cable", "settings": "unit", "bends": "unit"}
"""What a build says unit by unit, and by which of its fields it names the unit."""


def changed(before: Build, after: Build) -> frozenset[str]:
    """What differs between two states of a build: units by their labels, and what it says of itself by ``.name``."""
    found: set[str] = set(before.units) ^ set(after.units)
    for name, unit in _OF_UNITS.items():
        old, new = _by(getattr(before, name), unit), _by(getattr(after, name), unit)
        found |= {key for key in old.keys() | new.keys() if old.get(key) != new.get(key)}
    found |= set(before.worn) ^ set(after.worn)
    for field in fields(Build):
        if field.name not in (*_OF_UNITS, "worn") and getattr(before, field.name) != getattr(after, field.name):
            found.add(f".{field.name}")
    return frozenset(found)


def _by(items: Iterable[object], unit: str) -> Mapping[str, object]:
    return {getattr(item, unit): item for item in items}


def merged(base: Build, theirs: Build, operations: Sequence[Operation], catalogue: Catalogue) -> Build | None:
    """A build with both what others made of it and operations that were thought out on an earlier state.

    None where both are about the same parts, or where the operations make no sense any more.
    """
    try:
        mine = apply_all(base, tuple(operations), catalogue)
        together = apply_all(theirs, tuple(operations), catalogue)
    except LiftCrateError:
        return None
    by_them, by_me = changed(base, theirs), changed(base, mine)
    if by_them & by_me:
        return None
    # What the operations do now is what they were meant to do, and nothing of the others' is undone by it.
    if changed(theirs, together) != by_me or changed(mine, together) != by_them:
        return None
    return together


def no_worse(together: Iterable[Finding], theirs: Iterable[Finding], mine: Iterable[Finding]) -> bool:
    """Whether nothing stands against two edits together that stands against neither alone, or less gravely."""
    alone: dict[str, Level] = {}
    for finding in (*theirs, *mine):
        alone[finding.key] = max(alone.get(finding.key, Level.NOTE), finding.level)
    return all(f.level <= alone.get(f.key, Level.NOTE) for f in together)
