"""A bench scale over a serial port or TCP, one question and one answer a line (docs/scale-protocol.md).

``R`` asks for a reading, ``T`` sets the tare, ``I`` asks who is there. Answers:
``S  1234.5 g`` (stable), ``U  1230 g`` (unstable), ``I NAME``, ``OK``, ``E TEXT``.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal

import serial

from ..core.errors import LiftCrateError

__all__ = ["Reading", "Scale", "ScaleAway", "parse_reading"]

_ANSWER = re.compile(r"^(S|U)\s+(-?\d+(?:\.\d+)?)\s*(g|kg|lb)$")
_GRAMS = {"g": 1.0, "kg": 1000.0, "lb": 453.59237}


class ScaleAway(LiftCrateError):
    """No scale answers, or not in words that can be read."""

    code = "scale.away"

    def __init__(self, address: str, what: str) -> None:
        self.address, self.what = address, what

    def __str__(self) -> str:
        return f"The scale at {self.address} {self.what}. Check that it is on and connected, or type the reading in."


@dataclass(frozen=True, slots=True)
class Reading:
    """What the scale shows, g, and whether it has come to rest."""

    mass_g: float
    stable: bool


def parse_reading(answer: str) -> Reading | None:
    """A reading from an answer line; None for anything else."""
    found = _ANSWER.match(answer.strip())
    return Reading(float(found[2]) * _GRAMS[found[3]], found[1] == "S") if found else None


class Scale:
    """A scale at an address as pyserial knows them: ``/dev/ttyUSB0`` or ``socket://127.0.0.1:8471``."""

    def __init__(self, address: str, *, timeout_s: float = 1.0) -> None:
        self.address, self.timeout_s = address, timeout_s

    def read(self) -> Reading:
        """What lies on it now; raises ScaleAway."""
        answer = self._ask("R")
        reading = parse_reading(answer)
        if reading is None:
            raise ScaleAway(self.address, f"answered {answer!r}, which is no reading")
        return reading

    def tare(self) -> None:
        """Count what lies on it as nothing; raises ScaleAway."""
        self._require_ok(self._ask("T"))

    def name(self) -> str:
        """Who is there; raises ScaleAway."""
        answer = self._ask("I")
        if not answer.startswith("I "):
            raise ScaleAway(self.address, f"answered {answer!r} when asked for its name")
        return answer[2:]

    def _require_ok(self, answer: str) -> None:
        if answer != "OK":
            raise ScaleAway(self.address, f"answered {answer!r}")

    def _ask(self, command: Literal["R", "T", "I"]) -> str:
        try:
            with serial.serial_for_url(self.address, timeout=self.timeout_s) as line:
                line.write(f"{command}\r\n".encode("ascii"))
                answer = line.readline().decode("ascii", errors="replace").strip()
        except (serial.SerialException, OSError) as error:
            raise ScaleAway(self.address, f"does not answer ({error})") from error
        if not answer:
            raise ScaleAway(self.address, "gave no answer")
        return answer
