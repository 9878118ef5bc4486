"""Chargers, mains and who walks there: what a job has to fill its packs with, and how long that takes.

Formulas: docs/formulas.md §5, 'Charging'. Times in hours, energy in Wh, power in W.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace
from datetime import datetime, timedelta, tzinfo
from typing import Annotated

from annotated_types import MaxLen

from ..gear.electrical import Charger
from ..quantities import Count, Identifier, Label, NotNegative, Positive
from ..settings import STRICT

__all__ = [
    "TAPER",
    "Box",
    "ChargerPlace",
    "ChargingPlan",
    "Mains",
    "OutletLoad",
    "Outlets",
    "bays_at_once",
    "charge_hours",
    "cold_factor",
    "outlet_loads",
    "taper_steps",
    "watts_per_bay",
]

_FULL_RATE_TO = 0.8
"""Share of charge up to which a pack takes the full rate; half beyond it."""
TAPER = 1 - _FULL_RATE_TO
"""Share of the charge that is filled at half the rate: filling takes as much longer."""


@dataclass(frozen=True, kw_only=True)
class Mains:
    """When there is mains where a charger stands; times without a zone are on the job's own clock."""

    __pydantic_config__ = STRICT

    starts: datetime
    ends: datetime

    def __post_init__(self) -> None:
        if (self.starts.tzinfo is None) != (self.ends.tzinfo is None):
            raise ValueError("mains: give starts and ends both with a time zone, as in 2027-03-19T19:00:00+00:00")
        if self.ends <= self.starts:
            raise ValueError(f"mains ends at {self.ends:%H:%M}, before it starts at {self.starts:%H:%M}")
        if self.ends - self.starts > timedelta(days=31):
            raise ValueError(f"mains from {self.starts:%d %b} to {self.ends:%d %b}: 31 days at most")


@dataclass(frozen=True, kw_only=True)
class ChargerPlace:
    """A charger of the shelf, where it stands for this job and when it has mains."""

    __pydantic_config__ = STRICT

    unit: Identifier
    place: Label = ""
    open: Annotated[tuple[Mains, ...], MaxLen(100)] = ()
    indoors: bool = True
    """Indoors a pack charges at room temperature, outdoors at that of the part of the day."""


@dataclass(frozen=True, kw_only=True)
class Outlets:
    """Mains sockets where chargers stand, by the name of the place, and what their circuit carries, A."""

    __pydantic_config__ = STRICT

    place: Label
    sockets: Count
    amps: Positive = 10.0


@dataclass(frozen=True, kw_only=True)
class Box:
    """A powered thing that is in no rig: a light, a recorder, a
    transmitter on a person; the parts of the day it runs in.
    """

    __pydantic_config__ = STRICT

    unit: Identifier
    label: Label = ""
    parts: Annotated[tuple[Identifier, ...], MaxLen(100)] = ()
    walk_min: NotNegative = 0.0


@dataclass(frozen=True, kw_only=True)
class ChargingPlan:
    """What a job charges with: chargers and mains, hands to swap,
    minutes of walk from each rig to the chargers, boxes.
    """

    __pydantic_config__ = STRICT

    chargers: Annotated[tuple[ChargerPlace, ...], MaxLen(100)] = ()
    hands: Count = 1
    """How many people make swaps."""
    people: tuple[Identifier, ...] = ()
    """What they are called on the swap card, as far as it is known."""
    walk_min: dict[str, NotNegative] = field(default_factory=dict)
    boxes: Annotated[tuple[Box, ...], MaxLen(200)] = ()
    outlets: Annotated[tuple[Outlets, ...], MaxLen(100)] = ()
    swap_min: Positive = 2.0
    quiet_before_min: NotNegative = 10.0
    quiet_after_min: NotNegative = 5.0
    """Nobody touches a camera from so long before a one-off moment until so long after it."""

    def __post_init__(self) -> None:
        if len(self.people) > self.hands or len(set(self.people)) < len(self.people):
            raise ValueError(
                f"people: {', '.join(self.people)} for hands: {self.hands}; name each of them once, and no more than"
                " there are"
            )

    def in_zone(self, clock: tzinfo) -> ChargingPlan:
        """The same plan, its mains told in another time zone."""
        return replace(
            self,
            chargers=tuple(
                replace(
                    place,
                    open=tuple(
                        replace(m, starts=_told_on(m.starts, clock), ends=_told_on(m.ends, clock)) for m in place.open
                    ),
                )
                for place in self.chargers
            ),
        )

    def units(self) -> Iterator[str]:
        """Every unit it names."""
        yield from (place.unit for place in self.chargers)
        yield from (box.unit for box in self.boxes)


def _told_on(at: datetime, clock: tzinfo) -> datetime:
    return at.replace(tzinfo=clock) if at.tzinfo is None else at.astimezone(clock)


_CHARGER_EFFICIENCY = 0.85
"""Of what a charger takes from the mains, the share that goes into packs; rule of thumb."""


@dataclass(frozen=True, slots=True)
class OutletLoad:
    """A place with mains: its chargers, one socket each, and the current of all of them at full rate, A."""

    place: str
    sockets: int
    amps: float
    chargers: tuple[str, ...]
    load_a: float

    @property
    def fits(self) -> bool:
        """Every charger has a socket, and the circuit carries them all."""
        return len(self.chargers) <= self.sockets and self.load_a <= self.amps


def outlet_loads(plan: ChargingPlan, chargers: Mapping[str, Charger], mains_v: float) -> tuple[OutletLoad, ...]:
    """Every place whose sockets are said, with what stands there; ``chargers`` by unit.

    A charger takes bays at once × W a bay, at most its total, / 0.85, from ``mains_v``: 160 W at 230 V are 0.82 A.
    """
    found = []
    for outlet in plan.outlets:
        units = tuple(p.unit for p in plan.chargers if p.place == outlet.place)
        watts = sum(
            watts_per_bay(charger) * bays_at_once(charger) for u in units if (charger := chargers.get(u)) is not None
        )
        load = watts / _CHARGER_EFFICIENCY / mains_v
        found.append(OutletLoad(outlet.place, outlet.sockets, outlet.amps, units, load))
    return tuple(found)


def taper_steps(full_rate_steps: float, given: float) -> float:
    """Steps to fill a pack that has given a share of its charge, where all of it at the full rate takes so many.

    What lies above the taper takes twice as long; a pack that has given less than that is
    told a little more than it takes.
    """
    return full_rate_steps * (given + TAPER)


def cold_factor(temperature_c: float) -> float:
    """Share of the rate at which a pack may be charged: none below 0 °C, half up to 10 °C."""
    return 0.0 if temperature_c < 0 else 0.5 if temperature_c < 10 else 1.0


def charge_hours(
    energy_wh: float, health: float, share_from: float, share_to: float, watts: float, temperature_c: float = 20.0
) -> float:
    """Hours to charge a pack, W into the pack: full rate to 80 %, half after
    it; infinite where it is too cold or there is no rate.

    98 Wh × health 1 from 10 % at 40 W: 2.695 h.
    """
    rate = watts * cold_factor(temperature_c)
    if rate <= 0:
        return float("inf")
    capacity = energy_wh * health
    below = max(0.0, min(share_to, _FULL_RATE_TO) - share_from)
    above = max(0.0, share_to - max(share_from, _FULL_RATE_TO))
    return capacity * (below + 2 * above) / rate


def bays_at_once(charger: Charger) -> int:
    """How many packs a charger charges at one time: all its bays, or one after the other."""
    return 1 if charger.way == "in turn" else charger.bays


def watts_per_bay(charger: Charger) -> float:
    """Watts into each pack when all that charge at once do."""
    at_once = bays_at_once(charger)
    return charger.bay_w if charger.total_w is None else min(charger.bay_w, charger.total_w / at_once)
