"""A stand-in for a label reader (docs/reader-protocol.md): ``S LABEL`` scans a label, each is told once."""

from __future__ import annotations

from collections import deque

from .simulated import SimulatedDevice

__all__ = ["SimulatedReader"]

_MOST = 200


class SimulatedReader(SimulatedDevice):
    """The reader."""

    def __init__(self, port: int = 0, *, seed: int = 1, scanned: tuple[str, ...] = ()) -> None:
        super().__init__(port, seed=seed)
        self._scanned: deque[str] = deque(scanned, maxlen=_MOST)

    def reply(self, command: str, rest: str) -> str:
        """The reader's protocol, and ``S``."""
        if command == "I":
            return "I simulated label reader"
        if command == "R":
            return f"R {self._scanned.popleft()}" if self._scanned else "R -"
        if command == "S" and rest.strip():
            self._scanned.append(rest.strip()[:120])
            return "OK"
        return f"E unknown command {command[:20]!r}; R tells the next label, I who is there"
