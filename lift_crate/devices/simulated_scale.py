"""A stand-in for a bench scale, with noise and a moment of unrest (docs/scale-protocol.md).

What lies on it is set by the line ``P GRAMS`` (put on), which a real scale does not
know; it settles over a few readings.
"""

from __future__ import annotations

from .simulated import SimulatedDevice

__all__ = ["SimulatedScale"]

_NOISE_G = 0.3
_SETTLES_AFTER = 3


class SimulatedScale(SimulatedDevice):
    """The scale."""

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(port, seed=seed)
        self._load_g, self._tare_g, self._readings = 0.0, 0.0, _SETTLES_AFTER

    def reply(self, command: str, rest: str) -> str:
        """The scale's protocol, and ``P``."""
        if command == "R":
            return self._reading()
        if command == "T":
            self._tare_g = self._load_g
            return "OK"
        if command == "I":
            return "I simulated scale, 15 kg"
        if command == "P":
            return self._put_on(rest)
        return f"E unknown command {command[:20]!r}; R reads, T tares, I tells who is there"

    def _put_on(self, grams: str) -> str:
        try:
            load = float(grams)
        except ValueError:
            return f"E {grams[:20]!r} is no weight in grams"
        if not 0 <= load <= 15_000:
            return "E 0 to 15000 g go on this scale"
        self._load_g, self._readings = load, 0
        return "OK"

    def _reading(self) -> str:
        self._readings += 1
        if self._readings < _SETTLES_AFTER:
            swing = self._load_g * 0.02 * (1 - 2 * (self._readings % 2))
            return f"U {self._load_g - self._tare_g + swing:.1f} g"
        return f"S {self._load_g - self._tare_g + self.random.gauss(0, _NOISE_G):.1f} g"
