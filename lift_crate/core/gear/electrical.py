"""Electrical and signal data of ports, devices, packs and cables: V, A, W, Ah, Ω, Gb/s."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from ..quantities import Count, Identifier, NotNegative, Positive
from ..settings import STRICT

__all__ = ["Cable", "Charger", "Draw", "Electrical", "Pack", "Signal"]


@dataclass(frozen=True, kw_only=True)
class Electrical:
    """The electrical side of a port.

    An input accepts ``min_v`` to ``max_v`` and stops at ``cutoff_v`` when it has a
    stop of its own. An outlet passes its unit's voltage on, or gives ``output_v``
    from a converter of ``efficiency``.
    """

    __pydantic_config__ = STRICT

    role: Literal["in", "out"]
    min_v: NotNegative | None = None
    max_v: Positive | None = None
    cutoff_v: Positive | None = None
    max_a: Positive | None = None
    output_v: Positive | None = None
    efficiency: Annotated[float, Gt(0), Le(1)] = 1.0
    polarity: str = "standard"
    steps: tuple[tuple[Positive, Positive], ...] = ()
    """Negotiated supplies: volts and most amps of every step that an outlet offers or an input asks for."""
    approves: tuple[str, ...] = ()
    """Models that the device's maker names for this slot; where there are none, all that mate are as good."""


@dataclass(frozen=True, kw_only=True)
class Signal:
    """What runs through a socket that is not power.

    Pictures have a rate, sound a level: a microphone gives ``mic`` level, a mixer
    or receiver ``line``. ``phantom`` tells whether 48 V are given or needed.
    """

    __pydantic_config__ = STRICT

    role: Literal["in", "out", "both"]
    what: Literal["picture", "sound", "timecode", "control"]
    max_gbps: Positive | None = None
    level: tuple[Literal["mic", "line"], ...] = ()
    phantom: Literal["gives", "needs", "no"] = "no"


@dataclass(frozen=True, kw_only=True)
class Cable:
    """What makes a model a cable: its length, its conductors, how it lies and what it carries."""

    __pydantic_config__ = STRICT

    length_mm: Positive
    ohm_per_m: NotNegative = 0.0
    """Resistance of one conductor; the current goes there and back."""
    max_a: Positive | None = None
    max_gbps: Positive | None = None
    stiffness: Literal["thin", "ordinary", "stiff"] = "ordinary"
    bend_mm: NotNegative = 30.0
    """Straight room that its plug and bend need in front of a socket."""
    locks: bool = False
    """Its plugs lock, or it comes with clamps."""


@dataclass(frozen=True, kw_only=True)
class Draw:
    """What a device draws at its input, W."""

    __pydantic_config__ = STRICT

    standby_w: NotNegative
    record_w: NotNegative
    peak_w: NotNegative


@dataclass(frozen=True, kw_only=True)
class Charger:
    """Charges packs that mate with one of its ports: so many bays alike, W
    into each, W into all; all at once or one after the other.
    """

    __pydantic_config__ = STRICT

    bay_port: Identifier
    bays: Count
    bay_w: Positive
    total_w: Positive | None = None
    way: Literal["shared", "in turn"] = "shared"


@dataclass(frozen=True, kw_only=True)
class Pack:
    """A rechargeable pack of cells in series."""

    __pydantic_config__ = STRICT

    cells: Annotated[int, Ge(1), Le(100)]
    capacity_ah: Positive
    resistance_ohm: Annotated[float, Ge(0), Le(100)]
    max_a: Positive | None = None

    @property
    def energy_wh(self) -> float:
        """Printed energy at 3.6 V a cell."""
        return self.cells * 3.6 * self.capacity_ah
