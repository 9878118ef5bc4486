"""A stand-in for a weather station (docs/weather-protocol.md): worse than planned, as weather is.

``P C WIND LUX`` tells it what was planned.
"""

from __future__ import annotations

from .simulated import SimulatedDevice

__all__ = ["SimulatedWeather"]

_COLDER_C, _WINDIER, _DARKER = 3.5, 1.6, 0.4


class SimulatedWeather(SimulatedDevice):
    """The station."""

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(port, seed=seed)
        self._planned = 12.0, 3.0, 40.0

    def reply(self, command: str, rest: str) -> str:
        """The station's protocol, and ``P``."""
        if command == "I":
            return "I simulated weather station"
        if command == "P":
            return self._plan(rest)
        if command != "W":
            return f"E unknown command {command[:20]!r}; W tells the weather, I who is there"
        air, wind, lux = self._planned
        now = max(0.0, wind * _WINDIER * (1 + self.random.gauss(0, 0.03)))
        gust = now * (1.5 + abs(self.random.gauss(0, 0.1)))
        light = lux * _DARKER * (1 + self.random.gauss(0, 0.02))
        return f"W {air - _COLDER_C + self.random.gauss(0, 0.1):.1f} {now:.1f} {gust:.1f} {max(0.0, light):.1f}"

    def _plan(self, rest: str) -> str:
        try:
            air, wind, lux = (float(word) for word in rest.split())
        except ValueError:
            return "E °C, m/s and lux, as in P 4 6 40"
        if not (-40 <= air <= 55 and 0 <= wind <= 40 and 0 <= lux <= 150_000):
            return "E from -40 to 55 °C, to 40 m/s, to 150000 lx"
        self._planned = air, wind, lux
        return "OK"
