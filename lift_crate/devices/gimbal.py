"""A gimbal that tells what its motors hold, one question and one answer a line (docs/gimbal-protocol.md).

``P 1`` switches it on, ``P 0`` off, ``L`` asks for the greatest torque each motor held
in its last swing through its range, ``I`` who is there.
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

    def hang(self, torques_nm: tuple[float, float, float]) -> None:
        """Tell a simulated gimbal what pulls at it; a real one feels it, and is not told."""
        if self.name().startswith("simulated"):
            self.require_ok("H " + " ".join(f"{nm:.5f}" for nm in torques_nm))
