"""The devices that the environment names, a new conversation each time."""

from __future__ import annotations

import os

from .gimbal import Gimbal
from .meter import Charger, Meter
from .scale import Scale
from .station import CopyStation
from .weather import WeatherStation

__all__ = ["Devices"]


class Devices:
    """Scale, gimbal, meter, charger, copy and weather station; one that nobody named says so when it is spoken to."""

    def scale(self) -> Scale:
        """The bench scale."""
        return Scale(_address("LIFT_CRATE_SCALE"))

    def gimbal(self) -> Gimbal:
        """The gimbal that tells its loads."""
        return Gimbal(_address("LIFT_CRATE_GIMBAL"))

    def meter(self) -> Meter:
        """The power meter."""
        return Meter(_address("LIFT_CRATE_METER"))

    def charger(self) -> Charger:
        """The charger that tells its bays."""
        return Charger(_address("LIFT_CRATE_CHARGER"))

    def station(self) -> CopyStation:
        """The copy station."""
        return CopyStation(_address("LIFT_CRATE_STATION"))

    def weather(self) -> WeatherStation:
        """The weather station."""
        return WeatherStation(_address("LIFT_CRATE_WEATHER"))


def _address(name: str) -> str:
    return os.environ.get(name) or f"nowhere ({name} names none)"
