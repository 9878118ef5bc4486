"""Stand-ins for a charger and a power meter (docs/power-protocol.md).

The charger's packs are put in with ``P BAY WH CHARGE`` and taken out with ``O BAY``, and
``T MINUTES`` lets time pass, which a real one does by itself. The meter is loaded with
``L VOLTS WATTS``.
"""

from __future__ import annotations

from ..core.job.charging import charge_hours
from .simulated import SimulatedDevice

__all__ = ["SimulatedCharger", "SimulatedMeter"]

_STEP_H = 1 / 60
_OFF_SHARE = 0.04
"""How far what really draws is from what is told."""


class SimulatedMeter(SimulatedDevice):
    """The meter."""

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(port, seed=seed)
        self._volts, self._watts = 0.0, 0.0

    def reply(self, command: str, rest: str) -> str:
        """The meter's protocol, and ``L``."""
        if command == "I":
            return "I simulated power meter"
        if command == "L":
            return self._load(rest)
        if command != "M":
            return f"E unknown command {command[:20]!r}; M measures, I tells who is there"
        watts = max(0.0, self._watts * (1 + self.random.gauss(0, 0.004)))
        return f"M {self._volts:.2f} {watts / self._volts if self._volts else 0.0:.3f} {watts:.2f}"

    def _load(self, rest: str) -> str:
        try:
            volts, watts = (float(word) for word in rest.split())
        except ValueError:
            return "E volts and watts, as in L 14.8 19"
        if not (0 < volts <= 60 and 0 <= watts <= 2000):
            return "E from 0 to 60 V and 2000 W"
        self._volts, self._watts = volts, watts * (1 + self.random.gauss(0, _OFF_SHARE))
        return "OK"


class SimulatedCharger(SimulatedDevice):
    """The charger: so many bays, W into each, W into all; a pack fills as ``charge_hours`` says."""

    def __init__(
        self, port: int = 0, *, bays: int = 4, bay_w: float = 60.0, total_w: float = 180.0, seed: int = 1
    ) -> None:
        super().__init__(port, seed=seed)
        self._bay_w, self._total_w = bay_w, total_w
        self._packs: list[tuple[float, float] | None] = [None] * bays

    def reply(self, command: str, rest: str) -> str:
        """The charger's protocol, and ``P``, ``O`` and ``T``."""
        if command == "I":
            return f"I simulated charger, {len(self._packs)} bays"
        if command == "N":
            return f"N {len(self._packs)}"
        if command == "W":
            return f"W {sum(self._watts(i) for i in range(len(self._packs))):.1f}"
        if command in ("B", "P", "O", "T"):
            try:
                return self._numbered(command, [float(word) for word in rest.split()])
            except ValueError:
                return f"E {rest[:40]!r} are no figures"
        return f"E unknown command {command[:20]!r}; N bays, B 1 a bay, W watts, I tells who is there"

    def _numbered(self, command: str, figures: list[float]) -> str:
        if command == "T" and len(figures) == 1 and 0 <= figures[0] <= 1440:
            for _ in range(round(figures[0])):
                self._minute()
            return "OK"
        bay = int(figures[0]) - 1 if figures else -1
        if not 0 <= bay < len(self._packs):
            return f"E there are bays 1 to {len(self._packs)}"
        return self._told(bay) if command == "B" else self._put(command, bay, figures[1:])

    def _put(self, command: str, bay: int, figures: list[float]) -> str:
        if command == "P" and len(figures) == 2 and figures[0] > 0 and 0 <= figures[1] <= 1:
            self._packs[bay] = figures[0], figures[1]
        elif command == "O":
            self._packs[bay] = None
        else:
            return "E P BAY WH CHARGE, O BAY, T MINUTES up to a day"
        return "OK"

    def _told(self, bay: int) -> str:
        pack = self._packs[bay]
        if pack is None:
            return f"B {bay + 1} empty 0 0"
        return f"B {bay + 1} {'full' if pack[1] >= 1 else 'charging'} {min(1.0, pack[1]):.3f} {self._watts(bay):.1f}"

    def _watts(self, bay: int) -> float:
        """Into a bay now: its share of the whole, half above 80 %."""
        pack = self._packs[bay]
        if pack is None or pack[1] >= 1:
            return 0.0
        charging = sum(p is not None and p[1] < 1 for p in self._packs)
        rate = min(self._bay_w, self._total_w / charging)
        return rate if pack[1] < 0.8 else rate / 2

    def _minute(self) -> None:
        before = [(pack, self._watts(i)) for i, pack in enumerate(self._packs)]
        for i, (pack, watts) in enumerate(before):
            if pack and watts > 0:
                share = watts * _STEP_H / pack[0]
                left = charge_hours(pack[0], 1.0, pack[1], 1.0, watts if pack[1] < 0.8 else 2 * watts)
                self._packs[i] = pack[0], 1.0 if left <= _STEP_H else min(1.0, pack[1] + share)
