"""The devices that the environment names, a new conversation each time."""

from __future__ import annotations

import os

from .gimbal import Gimbal
from .meter import Charger, Meter
from .reader import LabelReader
from .scale import Scale
from .station import CopyStation
from .weather import WeatherStation

__all__ = ["NAMES", "Devices"]

NAMES = {
    kind: f"LIFT_CRATE_{kind.upper()}"
    for kind in ("scale", "gimbal", "meter", "charger", "station", "weather", "reader")
}
"""By device the variable of the environment that names its address."""


class Devices:
    """Scale, gimbal, meter, charger, copy and weather station; one that nobody named says so when it is spoken to."""

    def scale(self) -> Scale:
        """The bench scale."""
        return Scale(_address(NAMES["scale"]))

    def gimbal(self) -> Gimbal:
        """The gimbal that tells its loads."""
        return Gimbal(_address(NAMES["gimbal"]))

    def meter(self) -> Meter:
        """The power meter."""
        return Meter(_address(NAMES["meter"]))

    def charger(self) -> Charger:
        """The charger that tells its bays."""
        return Charger(_address(NAMES["charger"]))

    def station(self) -> CopyStation:
        """The copy station."""
        return CopyStation(_address(NAMES["station"]))

    def weather(self) -> WeatherStation:
        """The weather station."""
        return WeatherStation(_address(NAMES["weather"]))

    def reader(self) -> LabelReader:
        """The label reader on a line of its own."""
        return LabelReader(_address(NAMES["reader"]))

    def named(self, variable: str) -> str:
        """The address that a variable names; empty: none."""
        return os.environ.get(variable, "")


def _address(name: str) -> str:
    return os.environ.get(name) or f"nowhere ({name} names none)"
