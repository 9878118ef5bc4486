"""Texts at the edge: no control characters, no halves of characters, one line where
one is meant; and documents that are bounded in depth and breadth.

Everything behind this may be stored, drawn, printed and exported as it is.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

__all__ = ["DEEPEST", "Problem", "as_it_was", "harmless", "json_path", "strange_in", "text_problems", "too_deep"]

DEEPEST = 24
_MOST_KEYS = 400
_STRANGE = re.compile("[\x00-\x1f\x7f-\x9f\u2028\u2029\ud800-\udfff\ufffe\uffff]")
_STRANGE_IN_LINES = re.compile("[\x00-\x08\x0b-\x1f\x7f-\x9f\u2028\u2029\ud800-\udfff\ufffe\uffff]")
"""Control characters, line ends of other alphabets, halves of characters."""
_NOTES = frozenset({"note", "text"})
"""Fields in which a text may have several lines."""


@dataclass(frozen=True)
class Problem:
    """What is wrong at a place of a document; the place as a JSON path."""

    path: str
    message: str

    def __str__(self) -> str:
        return f"{self.path}: {self.message}"


def json_path(location: Iterable[int | str]) -> str:
    """A place in a document, as in ``$.models[3].ports[0].n``."""
    return "$" + "".join(f"[{step}]" if isinstance(step, int) else f".{step}" for step in location)


def strange_in(text: str, *, lines: bool = False) -> str | None:
    """The first character of a text that cannot be kept, as in 'U+0000';
    None where all can. ``lines``: it may have several.
    """
    found = (_STRANGE_IN_LINES if lines else _STRANGE).search(text)
    return f"U+{ord(found.group()):04X}" if found else None


_FORMULA = ("=", "+", "-", "@", "\t", "\r", "\n")
_QUOTE = "'"


def harmless(text: str) -> str:
    """A text as a cell of a CSV: what a spreadsheet would take for a formula
    begins with an apostrophe; ``as_it_was`` takes it away.
    """
    return _QUOTE + text if text.lstrip(_QUOTE).startswith(_FORMULA) else text


def as_it_was(cell: str) -> str:
    """The text of a cell that ``harmless`` wrote."""
    return cell[1:] if cell.startswith(_QUOTE) and cell.lstrip(_QUOTE).startswith(_FORMULA) else cell


def too_deep(raw: bytes | str) -> bool:
    """Whether a JSON text opens more brackets in each other than any document here has, strings left out."""
    depth, quoted, escaped = 0, False, False
    for character in raw if isinstance(raw, str) else raw.decode("latin-1"):
        if quoted:
            escaped, quoted = (character == "\\" and not escaped), quoted and (character != '"' or escaped)
        elif character == '"':
            quoted = True
        elif character in "[{":
            depth += 1
            if depth > DEEPEST:
                return True
        elif character in "]}":
            depth -= 1
    return False


def text_problems(document: object, place: tuple[int | str, ...] = ()) -> Iterator[Problem]:
    """What a document cannot be kept for: strange characters in its texts and
    keys, objects with more keys than any here has, nesting.
    """
    if len(place) > DEEPEST:
        yield Problem(json_path(place[:3]) + "…", f"this is nested more than {DEEPEST} levels deep")
    elif isinstance(document, str):
        lines = bool(place) and place[-1] in _NOTES
        if strange := strange_in(document, lines=lines):
            yield Problem(
                json_path(place),
                f"has the character {strange}, which cannot be kept; write it as plain"
                f" text{'' if lines else ' on one line'}",
            )
    elif isinstance(document, dict):
        if len(document) > _MOST_KEYS:
            yield Problem(json_path(place), f"has {len(document)} fields; nothing here has more than {_MOST_KEYS}")
            return
        for key, value in document.items():
            if strange := strange_in(str(key)):
                yield Problem(
                    json_path(place), f"has a field whose name has the character {strange}, which cannot be kept"
                )
                continue
            yield from text_problems(value, (*place, str(key)))
    elif isinstance(document, list | tuple):
        for i, value in enumerate(document):
            yield from text_problems(value, (*place, i))
