"""What a job pays beside the hire of its gear: running costs and obligations, and what is wanted for it.

Money is in the job's currency. A price says whether it is for each or for the set, and whether tax is in it.
"""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal

from annotated_types import MaxLen

from ..quantities import Count, Identifier, Label, Note, NotNegative
from ..settings import STRICT

__all__ = ["Cost", "MoneyPlan", "Want"]

Tier = Literal["must", "next", "later"]


@dataclass(frozen=True, kw_only=True)
class Cost:
    """A running cost or an obligation: a licence, cards, insurance, people, travel."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    kind: Literal["licence", "cards", "insurance", "people", "travel", "other"] = "other"
    amount: NotNegative
    per: Literal["job", "day", "camera"] = "job"
    with_tax: bool = False
    jobs: Count = 1
    """How many jobs like this one share it: a licence for a year."""
    covers: Note = ""
    """What it allows or insures, in the words of its terms."""
    until: date | None = None
    """The last day on which it holds."""


@dataclass(frozen=True, kw_only=True)
class Want:
    """Gear that might be bought or hired: how, for how much, how much it matters, in the place of what."""

    __pydantic_config__ = STRICT

    id: Identifier
    model: Identifier
    count: Count = 1
    how: Literal["buy new", "buy used", "hire"] = "buy new"
    price: NotNegative | None = None
    """Of each or of the set, by the day when hired; None: the model's."""
    per: Literal["each", "set"] = "each"
    with_tax: bool = False
    tier: Tier = "next"
    taken: bool = False
    """It is decided."""
    note: Note = ""
    rig: Label = ""
    part: Label = ""
    unit: Label = ""
    """In the place of which unit, in which camera's build of which part; empty: beside what there is."""


@dataclass(frozen=True, kw_only=True)
class MoneyPlan:
    """All of it."""

    __pydantic_config__ = STRICT

    costs: Annotated[tuple[Cost, ...], MaxLen(200)] = ()
    wants: Annotated[tuple[Want, ...], MaxLen(200)] = ()

    def __post_init__(self) -> None:
        for what, ids in (("cost", [c.id for c in self.costs]), ("want", [w.id for w in self.wants])):
            twice = next((i for i in ids if ids.count(i) > 1), None)
            if twice is not None:
                raise ValueError(f"{what} '{twice}' is there twice; give each an id of its own")
