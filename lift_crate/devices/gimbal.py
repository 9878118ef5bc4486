"""A gimbal that tells what its motors hold, one question and one answer a line (docs/gimbal-protocol.md).

``P 1`` switches it on, ``P 0`` off, ``L`` asks for the greatest torque each motor held
in its last swing through its range, ``C`` calibrates them standing still, ``S`` asks whether they are, ``I`` who
is there.
"""

from __future__ import annotations

import re

from .line import LineDevice

__all__ = ["Gimbal", "parse_loads"]

_LOADS = re.compile(r"^L\s+(\d+(?:\.\d+)?)\s+(\d+(?:\.\d+)?)\s+(\d+(?:\.\d+)?)$")


def parse_loads(answer: str) -> tuple[float, float, float] | None:
    """Torques of tilt, roll and pan in N·m from an answer line; None for anything else."""
    found = _LOADS.match(answer.strip())
    return (float(found[1]), float(found[2]), float(found[3])) if found else None


class Gimbal(LineDevice):
    """A gimbal at an address."""

    kind = "gimbal"
    instead = "read its own display"

    def loads_nm(self) -> tuple[float, float, float]:
        """What tilt, roll and pan hold, N·m; raises DeviceAway, also when it is off."""
        answer = self.ask("L")
        loads = parse_loads(answer)
        if loads is None:
            raise self.away("is switched off" if answer == "E off" else f"answered {answer!r}, which are no loads")
        return loads

    def switch(self, *, on: bool) -> None:
        """On or off; raises DeviceAway."""
        self.require_ok("P 1" if on else "P 0")

    def calibrate(self) -> None:
        """Calibrate the motors to what hangs there, standing still; raises DeviceAway, also when it is off."""
        self.require_ok("C")

    def calibrated(self) -> bool | None:
        """Whether its motors are calibrated to what hangs there; None where it cannot tell."""
        answer = self.ask("S").strip()
        if answer.startswith("E "):
            return None
        if answer not in ("S calibrated", "S old"):
            raise self.away(f"answered {answer!r}, which tells nothing about its motors")
        return answer == "S calibrated"

    def hang(self, torques_nm: tuple[float, float, float]) -> None:
        """Tell a simulated gimbal what pulls at it; a real one feels it, and is not told."""
        if self.name().startswith("simulated"):
            self.require_ok("H " + " ".join(f"{nm:.5f}" for nm in torques_nm))
