"""A label reader on a line of its own (docs/reader-protocol.md); one that types like a keyboard needs none of this.

``R`` asks for the next label that was scanned, ``I`` who is there.
"""

from __future__ import annotations

import re

from .line import LineDevice

__all__ = ["LabelReader", "parse_label"]

_ANSWER = re.compile(r"^R\s+(\S.{0,118}\S|\S)$")
_NOTHING = "R -"


def parse_label(answer: str) -> str | None:
    """A label from an answer line, empty where nothing was scanned; None for anything else."""
    said = answer.strip()
    if said == _NOTHING:
        return ""
    found = _ANSWER.match(said)
    return found[1] if found and found[1].isprintable() else None


class LabelReader(LineDevice):
    """A reader of bar and QR codes."""

    kind = "label reader"
    instead = "type the label"

    def read(self) -> str:
        """The next label that was scanned; empty: none since it was last asked. Raises DeviceAway."""
        answer = self.ask("R")
        found = parse_label(answer)
        if found is None:
            raise self.away(f"answered {answer!r}, which is no label")
        return found
