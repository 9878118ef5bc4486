"""A copy station: readers for cards, each copied to a drive, read again and compared (docs/copy-station-protocol.md).

``N`` how many readers, ``S READER`` what one does, ``C READER DRIVE`` begins a copy, ``X READER`` ends it, ``I`` who
is there.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Literal, cast

from .line import LineDevice

__all__ = ["CopyStation", "Reader", "parse_reader"]

Doing = Literal["empty", "ready", "copying", "comparing", "done", "failed"]
_READER = re.compile(
    r"^S (?P<number>\d+) (?P<doing>empty|ready|copying|comparing|done|failed)"
    r"(?: (?P<card>\S+) (?P<drive>\S+) (?P<gone>\d+(?:\.\d+)?) (?P<gb>\d+(?:\.\d+)?) (?P<rate>\d+(?:\.\d+)?)"
    r" (?P<sum>[0-9a-f]{16}|-)(?: (?P<why>.*))?)?$"
)


@dataclass(frozen=True, slots=True)
class Reader:
    """A reader of the station: which card is in it, and how far it is copied to which drive; GB, MB/s."""

    number: int
    doing: Doing
    card: str = ""
    drive: str = ""
    done_gb: float = 0.0
    gb: float = 0.0
    mb_s: float = 0.0
    checksum: str = ""
    """xxHash of 64 bits over everything on the card, as read again from the drive; empty until it is compared."""
    why: str = ""
    """What went wrong."""


def parse_reader(answer: str) -> Reader | None:
    """A reader from an answer line; None for anything else."""
    found = _READER.match(answer.strip())
    if not found or (found["card"] is None) != (found["doing"] == "empty"):
        return None
    doing = cast("Doing", found["doing"])
    if doing == "empty":
        return Reader(int(found["number"]), doing)
    return Reader(
        int(found["number"]),
        doing,
        found["card"],
        "" if found["drive"] == "-" else found["drive"],
        float(found["gone"]),
        float(found["gb"]),
        float(found["rate"]),
        "" if found["sum"] == "-" else found["sum"],
        found["why"] or "",
    )


class CopyStation(LineDevice):
    """A copy station at an address."""

    kind = "copy station"
    instead = "copy by hand and note it"

    def readers(self) -> tuple[Reader, ...]:
        """What every reader does; raises DeviceAway."""
        answer = self.ask("N")
        count = answer.removeprefix("N ")
        if not count.isdecimal() or not 0 < int(count) <= 32:
            raise self.away(f"answered {answer!r} when asked for its readers")
        return tuple(self._reader(number + 1) for number in range(int(count)))

    def reader(self, number: int) -> Reader:
        """What one reader does; raises DeviceAway."""
        return self._reader(number)

    def _reader(self, number: int) -> Reader:
        answer = self.ask(f"S {number}")
        reader = parse_reader(answer)
        if reader is None or reader.number != number:
            raise self.away(f"answered {answer!r} when asked for reader {number}")
        return reader

    def copy(self, number: int, drive: str) -> None:
        """Begin to copy the card of a reader to a drive, and to compare; raises DeviceAway with what it says."""
        self.require_ok(f"C {number} {drive}")

    def end(self, number: int) -> None:
        """End a copy, or give the card back; raises DeviceAway."""
        self.require_ok(f"X {number}")

    def put(self, number: int, card: str, gb: float, mb_s: float) -> None:
        """Tell a simulated station that a card was put into a reader, what is on it and how fast it reads; a real one
        sees it.
        """
        self.require_ok(f"P {number} {card} {gb:.3f} {mb_s:.1f}")
