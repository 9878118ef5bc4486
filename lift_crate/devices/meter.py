"""A power meter and a charger that answer line by line (docs/power-protocol.md).

Meter: ``M`` asks for volts, amps and watts, ``I`` who is there. Charger: ``N`` how many
bays, ``B n`` what a bay does, ``W`` what it draws.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from .line import LineDevice

__all__ = ["Bay", "Charger", "Flow", "Meter", "parse_bay", "parse_flow"]

_FLOW = re.compile(r"^M\s+(\d+(?:\.\d+)?)\s+(\d+(?:\.\d+)?)\s+(\d+(?:\.\d+)?)$")
_BAY = re.compile(r"^B\s+(\d+)\s+(empty|charging|full|cold)\s+(\d+(?:\.\d+)?)\s+(\d+(?:\.\d+)?)$")


@dataclass(frozen=True, slots=True)
class Flow:
    """What a meter sees: V, A, W."""

    volts: float
    amps: float
    watts: float


@dataclass(frozen=True, slots=True)
class Bay:
    """A bay of a charger: what it does, charge of its pack as a share, watts into it."""

    bay: int
    state: str
    charge: float
    watts: float


def parse_flow(answer: str) -> Flow | None:
    """A meter's reading from an answer line; None for anything else."""
    found = _FLOW.match(answer.strip())
    return Flow(float(found[1]), float(found[2]), float(found[3])) if found else None


def parse_bay(answer: str) -> Bay | None:
    """A bay from an answer line; None for anything else, or a share beyond 1."""
    found = _BAY.match(answer.strip())
    if found is None or float(found[3]) > 1:
        return None
    return Bay(int(found[1]), found[2], float(found[3]), float(found[4]))


class Meter(LineDevice):
    """A power meter between a source and what it feeds."""

    kind = "power meter"
    instead = "type the watts in"

    def read(self) -> Flow:
        """What flows through it now; raises DeviceAway."""
        answer = self.ask("M")
        flow = parse_flow(answer)
        if flow is None:
            raise self.away(f"answered {answer!r}, which is no reading")
        return flow

    def plug(self, volts: float, watts: float) -> None:
        """Tell a simulated meter what is plugged in; a real one feels it, and is not told."""
        if self.name().startswith("simulated"):
            self.require_ok(f"L {volts:.2f} {watts:.2f}")


class Charger(LineDevice):
    """A charger that tells what its bays do."""

    kind = "charger"
    instead = "look at its lamps"

    def bays(self) -> tuple[Bay, ...]:
        """Every bay; raises DeviceAway."""
        answer = self.ask("N")
        count = re.match(r"^N\s+(\d{1,2})$", answer)
        if count is None:
            raise self.away(f"answered {answer!r} when asked for its bays")
        found = []
        for number in range(1, int(count[1]) + 1):
            answer = self.ask(f"B {number}")
            bay = parse_bay(answer)
            if bay is None:
                raise self.away(f"answered {answer!r} for bay {number}")
            found.append(bay)
        return tuple(found)
