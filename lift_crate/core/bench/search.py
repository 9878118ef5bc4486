"""Add anything by a few letters: what is free and meant by them, what a rig wants next first; cables by their ends."""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass
from typing import Literal

from ..fit.adapters import all_chains, half_for
from ..gear.labels import words_of
from ..gear.model import GearModel, Port, mates
from ..rig.build import Unit
from ..rig.edits import Connect
from .bench import Bench, free_ports, is_socket, links_between

__all__ = ["Match", "matches", "runs_of"]

MOST_MATCHES = 12
_WANTED = (
    *("lens", "cage", "base plate", "handle", "battery plate", "pack", "rods", "arm", "monitor", "recorder"),
    *("release plate", "head plate", "gimbal", "shoulder pad", "head", "sticks", "grip", "mount"),
    *("microphone", "receiver", "video transmitter", "lens motor", "matte box", "filter", "cable", "light"),
    *("timecode box", "lens support", "mount plate", "lens adapter", "step-up ring", "adapter", "riser"),
    *("counterweight",),
)
"""Kinds in the order in which a rig usually wants them."""
_ONE = frozenset({"lens", "cage", "base plate", "gimbal", "shoulder pad", "head", "sticks", "matte box", "mount plate"})
"""Kinds of which a rig has one."""
_RANK = {kind: i for i, kind in enumerate(_WANTED)}


@dataclass(frozen=True, eq=False)
class Match:
    """A free unit that is meant, how many more like it lie free, and whether anything on the rig takes it as it is."""

    unit: str
    model: GearModel
    owner: Literal["owned", "hired"]
    alike: int
    fits: bool


def matches(bench: Bench, words: str, most: int = MOST_MATCHES) -> list[Match]:
    """Free units that every word is the beginning of a word of, the likeliest first; one stands for those alike.

    Without words: what the rig wants next. What starts with the words by its label or kind comes before
    what has them in its name; what the rig can take before what it cannot; what it lacks before a second one.
    """
    asked = words_of(words)
    offered = _offered(bench)
    there = {bench.catalogue.model_of(unit).kind for unit in bench.build.units}
    first: dict[tuple[str, str], tuple[Unit, tuple[object, ...]]] = {}
    alike: dict[tuple[str, str], int] = {}
    for name in bench.on_shelf():
        unit, model = bench.catalogue.unit(name), bench.catalogue.model_of(name)
        how = _how_meant(asked, unit, model)
        if how is None or unit.condition == "out of use":
            continue
        key = unit.model, unit.owner
        alike[key] = alike.get(key, -1) + 1
        if key not in first:
            fits = _fits(model, offered)
            second = model.kind in there and model.kind in _ONE
            rank = _RANK.get(model.kind, len(_RANK))
            order = (how if fits else how + 3, second, model.kind in there, rank, unit.owner != "owned", name)
            first[key] = unit, order
    best = sorted(first.items(), key=lambda item: item[1][1])[:most]
    return [
        Match(unit.id, model, unit.owner, alike[key], _fits(model, offered))
        for key, (unit, _) in best
        for model in (bench.catalogue.model_of(unit.id),)
    ]


def _how_meant(asked: tuple[str, ...], unit: Unit, model: GearModel) -> int | None:
    """-1: its label is typed out, 0: by the start of its label or kind, 1: by a word of its name, 2: somewhere in it.

    None: not meant.
    """
    label, kind = unit.id.lower(), model.kind.lower()
    parts = [part for text in (label, kind, model.title.lower()) for part in words_of(text)]
    spelt = words_of(label)
    if 1 < len(asked) <= len(spelt) and all(part.startswith(word) for part, word in zip(spelt, asked, strict=False)):
        return -1
    worst = 0
    for word in asked:
        if label.startswith(word) or kind.startswith(word):
            continue
        if any(part.startswith(word) for part in parts):
            worst = max(worst, 1)
        elif any(word in part for part in (*parts, unit.note.lower())):
            worst = max(worst, 2)
        else:
            return None
    return worst


def _offered(bench: Bench) -> set[tuple[str, str]]:
    """Halves that the rig has free, and those that free adapters make of its lens mounts and fronts."""
    offered: set[tuple[str, str]] = set()
    for _, port in free_ports(bench.stand.assembly):
        offered.add((str(port.interface), port.gender))
        if bench.catalogue.interfaces[port.interface].kind in ("lens", "front"):
            reached = all_chains(bench.catalogue, port, bench.free_adapters)
            offered |= {half for half, chain in reached.items() if chain.units is not None}
    return offered


def _fits(model: GearModel, offered: set[tuple[str, str]]) -> bool:
    halves = [half_for(port) in offered for port in model.ports]
    return all(halves) if model.is_cable else any(halves)


def runs_of(bench: Bench, cable: str) -> Iterator[tuple[str, Port, Connect]]:
    """Every two free sockets of the rig that a cable joins with sense: an outlet to an input, a source to a screen.

    Each with the socket it ends at.
    """
    sockets = [(u, p) for u, p in free_ports(bench.stand.assembly) if is_socket(bench.catalogue, p)]
    a, b = (bench.catalogue.model_of(cable).port(end) for end in ("a", "b"))
    for first in sockets:
        if not (mates(a, first[1]) or mates(b, first[1])) or not _sends(first[1]):
            continue
        for second in sockets:
            if first[0] == second[0] or not _receives(first[1], second[1]):
                continue
            for link in links_between(bench.catalogue, (cable,), first, second):
                yield second[0], second[1], link


def _sends(port: Port) -> bool:
    if port.electrical:
        return port.electrical.role == "out"
    return port.signal is not None and port.signal.role != "in"


def _receives(source: Port, port: Port) -> bool:
    if source.electrical or port.electrical:
        return bool(source.electrical and port.electrical and port.electrical.role == "in")
    return bool(source.signal and port.signal and port.signal.role != "out" and port.signal.what == source.signal.what)
