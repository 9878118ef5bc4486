"""Three states of one thing: what two people made of it, put together where they did not touch the same."""

from __future__ import annotations

from collections.abc import Callable, Hashable, Mapping
from dataclasses import fields, is_dataclass, replace
from typing import Any, TypeVar

__all__ = ["Both", "Key", "together"]

T = TypeVar("T")
Key = Callable[[Any], Hashable]


class Both(Exception):
    """Both changed the same."""


def together(base: T, mine: T, theirs: T, keys: Mapping[type, Key]) -> T:
    """What it is with both changes: field by field of a dataclass, and thing by thing of a tuple of things that
    ``keys`` tells apart. What only one changed is as he made it. Raises Both where they changed the same differently.
    """
    if mine in (theirs, base):
        return theirs
    if theirs == base:
        return mine
    if is_dataclass(base) and type(base) is type(mine) is type(theirs):
        return replace(
            theirs,  # type: ignore[type-var]
            **{
                f.name: together(getattr(base, f.name), getattr(mine, f.name), getattr(theirs, f.name), keys)
                for f in fields(base)
                if f.init
            },
        )
    if isinstance(base, tuple) and isinstance(mine, tuple) and isinstance(theirs, tuple):
        return _things(base, mine, theirs, keys)  # type: ignore[return-value]
    raise Both


def _things(
    base: tuple[Any, ...], mine: tuple[Any, ...], theirs: tuple[Any, ...], keys: Mapping[type, Key]
) -> tuple[Any, ...]:
    kinds = {type(each) for each in (*base, *mine, *theirs)}
    if len(kinds) != 1 or not (key := keys.get(next(iter(kinds)))):
        raise Both
    was, own, other = ({key(each): each for each in some} for some in (base, mine, theirs))
    if (len(was), len(own), len(other)) != (len(base), len(mine), len(theirs)):
        raise Both
    made: list[Any] = []
    for name in (*other, *(n for n in own if n not in other)):
        in_base, in_own, in_other = was.get(name), own.get(name), other.get(name)
        if in_own in (in_other, in_base):
            kept = in_other
        elif in_other == in_base:
            kept = in_own
        elif None in (in_base, in_own, in_other):
            raise Both
        else:
            kept = together(in_base, in_own, in_other, keys)
        if kept is not None:
            made.append(kept)
    return tuple(made)
