"""A weather station that answers line by line (docs/weather-protocol.md).

``W`` asks for air, mean wind, gust and light, ``I`` who is there.
"""

from __future__ import annotations

import re

from ..core.log.weather import Weather
from .line import LineDevice

__all__ = ["WeatherStation", "parse_weather"]

_READING = re.compile(
    r"^W\s+(-?\d{1,2}(?:\.\d+)?|-)\s+(\d{1,2}(?:\.\d+)?|-)\s+(\d{1,3}(?:\.\d+)?|-)\s+(\d{1,6}(?:\.\d+)?|-)$"
)


def parse_weather(answer: str) -> Weather | None:
    """A station's reading from an answer line, ``-`` for what it does not have; None for anything else."""
    found = _READING.match(answer.strip())
    if found is None:
        return None
    air, wind, gust, lux = (None if word == "-" else float(word) for word in found.groups())
    if air is not None and not -60 <= air <= 70:
        return None
    if wind is not None and gust is not None and gust < wind - 0.5:
        return None
    return Weather(temperature_c=air, wind_m_s=wind, gust_m_s=gust, lux=lux)


class WeatherStation(LineDevice):
    """A weather station on the dockside."""

    kind = "weather station"
    instead = "type what you read under Weather"

    def read(self) -> Weather:
        """The weather now; raises DeviceAway."""
        answer = self.ask("W")
        found = parse_weather(answer)
        if found is None:
            raise self.away(f"answered {answer!r}, which is no weather")
        return found

    def expect(self, air_c: float, wind_m_s: float, lux: float) -> None:
        """Tell a simulated station what weather was planned; a real one feels it, and is not told."""
        if self.name().startswith("simulated"):
            self.require_ok(f"P {air_c:.1f} {wind_m_s:.1f} {lux:.1f}")
