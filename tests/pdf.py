"""The text of a PDF as our own writer makes it: streams unpacked,
strings of embedded fonts read back through their tables.
"""

from __future__ import annotations

import base64
import re
import zlib

__all__ = ["text_of"]


def _streams(raw: bytes) -> list[bytes]:
    found = []
    for match in re.finditer(rb"<<(.*?)>>\s*stream\r?\n(.*?)endstream", raw, re.DOTALL):
        head, body = match.groups()
        data = body.strip(b"\r\n")
        try:
            if b"ASCII85Decode" in head:
                data = base64.a85decode(data.removeprefix(b"<~").removesuffix(b"~>"))
            if b"FlateDecode" in head:
                data = zlib.decompress(data)
        except (ValueError, zlib.error):
            continue
        found.append(data)
    return found


def text_of(raw: bytes) -> str:
    """All strings that are drawn, in order, each through every table that knows its codes."""
    streams = _streams(raw)
    tables = [
        {
            int(a, 16): chr(int(b, 16))
            for a, b in re.findall(rb"<([0-9A-Fa-f]{2})>\s*<[0-9A-Fa-f]{2}>\s*<([0-9A-Fa-f]{4})>", s)
        }
        | _listed(s)
        for s in streams
        if b"begincmap" in s
    ]
    strings = [_plain(m) for s in streams for m in re.findall(rb"\(((?:\\.|[^\\()])*)\)\s*Tj", s)]
    told = [string.decode("latin-1") for string in strings]
    for table in tables:
        told += ["".join(table.get(code, chr(code)) for code in string) for string in strings]
    return "\n".join(told)


def _listed(stream: bytes) -> dict[int, str]:
    """Tables written as a range with a list of characters."""
    found: dict[int, str] = {}
    for first, _, listed in re.findall(rb"<([0-9A-Fa-f]{2})>\s*<([0-9A-Fa-f]{2})>\s*\[(.*?)\]", stream, re.DOTALL):
        for i, code in enumerate(re.findall(rb"<([0-9A-Fa-f]{4})>", listed)):
            found[int(first, 16) + i] = chr(int(code, 16))
    return found


def _plain(string: bytes) -> bytes:
    """A PDF string without its escapes."""
    octal = re.sub(rb"\\([0-7]{1,3})", lambda m: bytes([int(m[1], 8)]), string)
    return re.sub(rb"\\(.)", rb"\1", octal)
