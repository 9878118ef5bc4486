"""How a job's gear travels: the cases that go along, what goes where by hand, what stays behind, what has no unit.

Which gear goes along is not typed; it follows from the builds and the day. mm, g, kg, Wh.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass, field
from datetime import date
from typing import Annotated, Literal

from annotated_types import Ge, Le, MaxLen

from ..quantities import Identifier, Label, Note, NotNegative, Positive
from ..settings import STRICT

__all__ = ["EXTRA", "Carrier", "CaseAlong", "Extra", "PackPlan", "PutWhere", "Travels"]

Travels = Literal["van", "cabin", "hold", "on the back", "sent ahead"]
EXTRA = "+"
"""Before the id of a thing that is no unit of the shelf, where both are named alike."""
Pieces = Annotated[int, Ge(1), Le(999)]


@dataclass(frozen=True, kw_only=True)
class CaseAlong:
    """A case of the shelf that goes along: how it travels (empty: as its model says), who carries it, where it is."""

    __pydantic_config__ = STRICT

    unit: Identifier
    travels: Literal["", "van", "cabin", "hold", "on the back", "sent ahead"] = ""
    carried_by: Label = ""
    stays_with: Label = ""
    """The camera by which it stands while that works; empty: none."""
    seat: bool = False
    """Somebody sits on it: what is wanted during a part is not in it."""


@dataclass(frozen=True, kw_only=True)
class PutWhere:
    """A thing that somebody has put: into a case, or left behind ('' as the case)."""

    __pydantic_config__ = STRICT

    thing: Identifier
    case: Label


@dataclass(frozen=True, kw_only=True)
class Extra:
    """Something that goes along and is no unit of the shelf: tape, ties, covers, food; each with mass and size."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    count: Pieces = 1
    each_g: NotNegative | None = None
    size_mm: tuple[Positive, Positive, Positive] | None = None
    note: Note = ""


@dataclass(frozen=True, kw_only=True)
class Carrier:
    """What whoever carries it allows: lithium by energy, size and mass of what goes in a cabin or a hold.

    As most carriers by air publish it; they may be stricter, and what they say on the day counts.
    """

    __pydantic_config__ = STRICT

    label: Label = "most carriers by air"
    checked: date = date(2026, 11, 26)
    free_wh: Positive = 100.0
    """Packs up to this go without asking."""
    consent_wh: Positive = 160.0
    """Packs above the free figure and up to this go with the carrier's consent; above it not as baggage."""
    consent_each: Annotated[int, Ge(0), Le(99)] = 2
    """So many spare packs with consent a person."""
    free_each: Annotated[int, Ge(0), Le(999)] = 20
    """So many smaller spare packs a person."""
    people: Annotated[int, Ge(1), Le(99)] = 1
    """How many travel with them."""
    cabin_mm: tuple[Positive, Positive, Positive] = (550.0, 400.0, 200.0)
    cabin_kg: Positive = 8.0
    hold_kg: Positive = 23.0


@dataclass(frozen=True, kw_only=True)
class PackPlan:
    """Everything a person says about packing."""

    __pydantic_config__ = STRICT

    cases: Annotated[tuple[CaseAlong, ...], MaxLen(99)] = ()
    put: Annotated[tuple[PutWhere, ...], MaxLen(2000)] = ()
    extras: Annotated[tuple[Extra, ...], MaxLen(300)] = ()
    carrier: Carrier = field(default_factory=Carrier)

    def __post_init__(self) -> None:
        for what, ids in (
            ("case", [c.unit for c in self.cases]),
            ("thing", [p.thing for p in self.put]),
            ("extra", [e.id for e in self.extras]),
        ):
            if twice := next((i for i in ids if ids.count(i) > 1), None):
                raise ValueError(f"packing: {what} '{twice}' is there twice; name each of them once")

    def units(self) -> Iterator[str]:
        """Every unit it names."""
        yield from (case.unit for case in self.cases)
        yield from (p.thing for p in self.put if not p.thing.startswith(EXTRA))
