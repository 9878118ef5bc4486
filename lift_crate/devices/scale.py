"""A bench scale over a serial port or TCP, one question and one answer a line (docs/scale-protocol.md).

``R`` asks for a reading, ``T`` sets the tare, ``I`` asks who is there. Answers:
``S  1234.5 g`` (stable), ``U  1230 g`` (unstable), ``I NAME``, ``OK``, ``E TEXT``.
"""

from __future__ import annotations

import re
from dataclasses import dataclass

from .line import LineDevice

__all__ = ["Reading", "Scale", "parse_reading"]

_ANSWER = re.compile(r"^(S|U)\s+(-?\d+(?:\.\d+)?)\s*(g|kg|lb)$")
_GRAMS = {"g": 1.0, "kg": 1000.0, "lb": 453.59237}


@dataclass(frozen=True, slots=True)
class Reading:
    """What the scale shows, g, and whether it has come to rest."""

    mass_g: float
    stable: bool


def parse_reading(answer: str) -> Reading | None:
    """A reading from an answer line; None for anything else."""
    found = _ANSWER.match(answer.strip())
    return Reading(float(found[2]) * _GRAMS[found[3]], found[1] == "S") if found else None


class Scale(LineDevice):
    """A scale at an address."""

    kind = "scale"
    instead = "type the reading in"

    def read(self) -> Reading:
        """What lies on it now; raises DeviceAway."""
        answer = self.ask("R")
        reading = parse_reading(answer)
        if reading is None:
            raise self.away(f"answered {answer!r}, which is no reading")
        return reading

    def tare(self) -> None:
        """Count what lies on it as nothing; raises DeviceAway."""
        self.require_ok("T")
