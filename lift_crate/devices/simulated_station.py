"""A stand-in for a copy station, with cards that read slowly, one that fails, and drives that fill up
(docs/copy-station-protocol.md).

``P READER CARD GB RATE`` puts a card into a reader, ``F DRIVE GB`` tells how much room a drive has: a real one sees
both. Copies go ``speed`` times as fast as they would.
"""

from __future__ import annotations

import time
from collections.abc import Callable
from dataclasses import dataclass

import xxhash

from .simulated import SimulatedDevice

__all__ = ["SimulatedStation"]

_LABEL = "abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789-_."
_SLOW_SHARE, _SLOW = 0.2, 0.35
"""So many cards read at so much of what they should."""
_DRIVE_GB = 4000.0


@dataclass
class _Bay:
    card: str = ""
    gb: float = 0.0
    mb_s: float = 0.0
    drive: str = ""
    begun: float | None = None
    gone_gb: float = 0.0
    doing: str = "empty"
    why: str = ""


class SimulatedStation(SimulatedDevice):
    """The station; ``failing``: labels of cards that cannot be read to their end; ``clock`` tells seconds."""

    def __init__(
        self,
        port: int = 0,
        *,
        readers: int = 2,
        speed: float = 1.0,
        failing: tuple[str, ...] = (),
        clock: Callable[[], float] = time.monotonic,
        seed: int = 1,
    ) -> None:
        super().__init__(port, seed=seed)
        self._bays = [_Bay() for _ in range(readers)]
        self._room: dict[str, float] = {}
        self._speed, self._failing, self._clock = speed, failing, clock

    def reply(self, command: str, rest: str) -> str:
        """The station's protocol, and ``P`` and ``F``."""
        if command == "I":
            return f"I simulated copy station, {self._speed:g} times as fast"
        if command == "N":
            return f"N {len(self._bays)}"
        if command not in "SCXPF" or len(command) != 1:
            return f"E unknown command {command[:20]!r}; N readers, S 1 a reader, C 1 DRIVE copies, X 1 ends, I who"
        words = rest.split()
        try:
            return self._do(command, words)
        except (ValueError, IndexError):
            return f"E {rest[:40]!r} is not understood".encode("ascii", "replace").decode()

    def _do(self, command: str, words: list[str]) -> str:
        if command == "F":
            name, gb = words
            if not _is_label(name) or not 0 <= float(gb) <= 1e6:
                return "E a drive by its label, and GB"
            self._room[name] = float(gb)
            return "OK"
        number = int(words[0])
        if not 1 <= number <= len(self._bays):
            return f"E there is no reader {number}"
        bay = self._bays[number - 1]
        self._go_on(bay)
        if command == "S":
            return self._told(number, bay)
        if command == "X":
            self._bays[number - 1] = _Bay()
            return "OK"
        return self._put(number, words) if command == "P" else self._copy(bay, words[1])

    def _put(self, number: int, words: list[str]) -> str:
        _, card, gb, rate = words
        if not _is_label(card) or not (0 < float(gb) <= 1e5 and 0 < float(rate) <= 1e5):
            return "E a card by its label, GB and MB/s"
        if any(b.card == card for i, b in enumerate(self._bays) if i != number - 1):
            return f"E {card} is in another reader"
        # The same card is slow every time.
        slow = xxhash.xxh32_intdigest(card.encode()) / 2**32 < _SLOW_SHARE
        self._bays[number - 1] = _Bay(card, float(gb), float(rate) * (_SLOW if slow else 1.0), doing="ready")
        return "OK"

    def _copy(self, bay: _Bay, drive: str) -> str:
        if bay.doing not in ("ready", "done", "failed"):
            return "E no card in it" if bay.doing == "empty" else "E it is copying"
        if not _is_label(drive):
            return "E a drive by its label"
        if any(b.drive == drive and b.doing in ("copying", "comparing") for b in self._bays if b is not bay):
            return f"E {drive} is being written to"
        bay.drive, bay.begun, bay.gone_gb, bay.doing, bay.why = drive, self._clock(), 0.0, "copying", ""
        return "OK"

    def _go_on(self, bay: _Bay) -> None:
        """As far as it has come by now: written once, then read again."""
        if bay.begun is None or bay.doing not in ("copying", "comparing"):
            return
        moved = (self._clock() - bay.begun) * bay.mb_s / 1000 * self._speed
        room = self._room.get(bay.drive, _DRIVE_GB)
        stops = min(bay.gb * 0.7 if bay.card in self._failing else bay.gb, room)
        bay.gone_gb = min(moved, stops)
        if moved >= stops and stops < bay.gb:
            bay.doing = "failed"
            bay.why = f"{bay.drive} is full" if room <= stops else f"{bay.card} cannot be read any further"
        elif moved < bay.gb:
            bay.doing = "copying"
        elif moved < 2 * bay.gb:
            bay.doing = "comparing"
        else:
            bay.doing = "done"
            self._room[bay.drive] = room - bay.gb

    def _told(self, number: int, bay: _Bay) -> str:
        if bay.doing == "empty":
            return f"S {number} empty"
        checksum = xxhash.xxh64_hexdigest(f"{bay.card} {bay.gb:.3f}".encode()) if bay.doing == "done" else "-"
        return (
            f"S {number} {bay.doing} {bay.card} {bay.drive or '-'} {bay.gone_gb:.1f} {bay.gb:.1f} {bay.mb_s:.0f}"
            f" {checksum} {bay.why}"
        ).strip()


def _is_label(word: str) -> bool:
    return 0 < len(word) <= 40 and all(letter in _LABEL for letter in word)
