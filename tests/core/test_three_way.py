"""Two changes of one thing: both are there where they touched different things, and nothing is guessed where not."""

from __future__ import annotations

from dataclasses import dataclass, replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.three_way import Both, Key, together


@dataclass(frozen=True)
class Thing:
    name: str
    at: int = 0
    turned: int = 0


@dataclass(frozen=True)
class Whole:
    title: str
    things: tuple[Thing, ...]


KEYS: dict[type, Key] = {Thing: lambda it: it.name}
wholes = st.builds(
    Whole,
    st.sampled_from("ab"),
    st.dictionaries(st.sampled_from("rst"), st.tuples(st.integers(0, 2), st.integers(0, 2))).map(
        lambda each: tuple(Thing(name, *numbers) for name, numbers in each.items())
    ),
)


def flat(whole: Whole) -> dict[tuple[str, str], object]:
    """Every figure by its place; of a thing that is not there, that."""
    found: dict[tuple[str, str], object] = {("", "title"): whole.title}
    for name in "rst":
        thing = next((t for t in whole.things if t.name == name), None)
        found |= {(name, "there"): thing is not None}
        found |= {(name, f): thing and getattr(thing, f) for f in ("at", "turned")}
    return found


@given(wholes, wholes, wholes)
def test_every_figure_is_his_who_changed_it_or_nobody_is_overruled(base: Whole, mine: Whole, theirs: Whole) -> None:
    was, own, other = flat(base), flat(mine), flat(theirs)
    try:
        both = flat(together(base, mine, theirs, KEYS))
    except Both:
        clash = {place for place in was if own[place] != was[place] and other[place] != was[place]}
        assert {p for p in clash if own[p] != other[p]} or any(
            # A thing that one took away and the other changed.
            own[n, "there"] != other[n, "there"]
            for n in "rst"
        )
        return
    for place, before in was.items():
        changed = [now[place] for now in (own, other) if now[place] != before]
        assert both[place] == (changed[0] if changed else before), place


def test_what_one_took_away_and_the_other_changed_is_asked() -> None:
    base = Whole("a", (Thing("r"), Thing("s")))
    with pytest.raises(Both):
        together(base, Whole("a", (Thing("r"),)), Whole("a", (Thing("r"), Thing("s", 1))), KEYS)
    with pytest.raises(Both):
        together(base, replace(base, title="b"), replace(base, title="c"), KEYS)
