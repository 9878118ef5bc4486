"""A stand-in for a bench scale: a TCP server that speaks its protocol, with noise and a moment of unrest.

What lies on it is set by the line ``P GRAMS`` (put on), which a real scale does not
know; it settles over a few readings.
"""

from __future__ import annotations

import random
import socketserver
import threading

__all__ = ["SimulatedScale"]

_NOISE_G = 0.3
_SETTLES_AFTER = 3


class _Handler(socketserver.StreamRequestHandler):
    server: SimulatedScale

    def handle(self) -> None:
        for raw in self.rfile:
            self.wfile.write(f"{self.server.answer(raw.decode('ascii', errors='replace').strip())}\r\n".encode("ascii"))


class SimulatedScale(socketserver.ThreadingTCPServer):
    """The scale; ``start`` serves it from a thread of its own."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self._random = random.Random(seed)  # noqa: S311 - noise of a scale, no secret
        self._lock = threading.Lock()
        self._load_g, self._tare_g, self._readings = 0.0, 0.0, _SETTLES_AFTER

    @property
    def address(self) -> str:
        """As pyserial opens it."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def start(self) -> None:
        """Serve from a thread of its own."""
        threading.Thread(target=self.serve_forever, daemon=True, name="simulated scale").start()

    def answer(self, line: str) -> str:
        """One answer to one line."""
        with self._lock:
            command, _, rest = line.partition(" ")
            if command == "R":
                return self._reading()
            if command == "T":
                self._tare_g = self._load_g
                return "OK"
            if command == "I":
                return "I simulated scale, 15 kg"
            if command == "P":
                return self._put_on(rest)
            return f"E unknown command {line[:20]!r}; R reads, T tares, I tells who is there"

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
        return f"S {self._load_g - self._tare_g + self._random.gauss(0, _NOISE_G):.1f} g"
