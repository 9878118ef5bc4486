"""A build proposed from what a position wants and what is free: one step at a time, each judged before it is kept.

First lenses are ranked on the bare body by what they see. A build then grows: what carries it, screen,
microphone, transmitter, feeds and cables; at last what is still wrong is cured by the remedies, as a person would take
them. Plates that are needed between rig and support are found by search over the free ones.
"""

from __future__ import annotations

from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

from ..callouts import Finding, Level
from ..errors import BadRig
from ..gear.model import GearModel, Port, mates
from ..rig.edits import Attach, Connect, Operation, Strip
from ..settings import Support
from ..stand import stand_of
from .bench import Bench, free_ports, free_slide_mm, is_socket
from .questions import places_for
from .remedies import search_remedies
from .search import runs_of

__all__ = ["Grown", "Start", "Wants", "grow", "rank_of", "starts", "wanted_of"]

MOST_STARTS = 6
_MOST_BETWEEN = 3
"""Plates between a rig and what carries it."""
_MOST_CHAINS = 10
_MOST_PLACES = 4
_MOST_OF_A_MODEL, _MOST_JUDGED = 2, 6
_CARRIES = ("head", "gimbal", "shoulder", "mount")
_BETWEEN = frozenset({"cage", "base plate", "release plate", "head plate", "dovetail clamp", "riser", "arm", "adapter"})
_HOLDS: tuple[tuple[str, str, str], ...] = (
    ("monitor", "picture", "monitor"),
    ("microphone", "sound", "microphone"),
    ("transmitter", "picture", "video transmitter"),
    ("receiver", "sound", "receiver"),
)
"""A want, what its cable carries, and the kind of gear."""
_Step = tuple[Operation, ...]


@dataclass(frozen=True, kw_only=True)
class Wants:
    """What a rig is to have besides a lens and power."""

    support: Support = "head"
    monitor: bool = True
    microphone: bool = False
    transmitter: bool = False
    receiver: bool = False
    hours: float = 0.0
    """That it must run without a swap, where that is more than the part of the day asks."""


@dataclass(frozen=True, eq=False)
class Start:
    """A lens on the bare body, with what it needs: what a build may grow from."""

    lens: str
    model: GearModel
    operations: _Step


@dataclass(frozen=True, eq=False)
class Grown:
    """One step: what to do and why, or what was given up on and why; neither: it is finished."""

    operations: _Step
    given_up: str = ""
    why: str = ""

    @property
    def done(self) -> bool:
        """Nothing more to be done."""
        return not self.operations and not self.given_up


def wanted_of(bench: Bench, wants: Wants) -> Bench:
    """The bench with the hours that are wanted, where they are more than the part of the day asks."""
    at = bench.stand
    if wants.hours <= at.conditions.untouched_h:
        return bench
    longer = replace(at.conditions, hours_needed=wants.hours)
    return Bench(stand_of(bench.build, at.assembly.catalogue, longer, at.settings, at.taken, at.target))


def rank_of(bench: Bench) -> tuple[float, ...]:
    """Orders builds, best first: Stops, Watches, front-heaviness, mass, hours that are missing."""
    stand = bench.stand
    front = abs(stand.carried.payload.mass_g * stand.carried.payload.cg_mm[0]) / 1000
    first = stand.first_empty
    short = max(0.0, stand.conditions.untouched_h - first.hours) if first else 0.0
    return bench.quick.counts["stops"], bench.quick.counts["watches"], short, round(front), stand.carried.total.mass_g


def starts(bench: Bench) -> list[Start]:
    """Lenses that are free for the bare body, one of each model, the likeliest first."""
    bare = bench.after((Strip(),))
    tried: list[tuple[tuple[float, ...], Start]] = []
    seen: set[str] = set()
    for unit in bare.sound():
        model = bare.catalogue.model_of(unit)
        if model.lens is None or model.id in seen:
            continue
        seen.add(model.id)
        places = places_for(bare, unit)
        if not places:
            continue
        operations = (Strip(), *places[0].operations)
        after = bench.after(operations)
        owned = bare.catalogue.unit(unit).owner == "owned"
        tried.append(((*rank_of(after)[:2], len(operations), not owned), Start(unit, model, operations)))
    tried.sort(key=lambda pair: pair[0])
    return [start for _, start in tried[:MOST_STARTS]]


def grow(bench: Bench, wants: Wants, given_up: frozenset[str], enough: Callable[[], bool] = lambda: False) -> Grown:
    """The next step of a build towards what is wanted; ``enough`` ends a search for remedies early.

    ``given_up``: what was tried before in vain; it is not tried again.
    """
    for want in _missing(bench, wants):
        if want in given_up:
            continue
        step = _fill(bench, want)
        if step:
            return Grown(step, why=f"asked for: {want}")
        return Grown((), want, f"No {want} that is free goes on this rig.")
    return _cure(bench, given_up, enough)


def _missing(bench: Bench, wants: Wants) -> Iterator[str]:
    """What is wanted and not there yet, in the order in which it is put on."""
    catalogue, units = bench.catalogue, bench.build.units
    kinds = {catalogue.model_of(unit).kind for unit in units}
    supports = [m.support for m in map(catalogue.model_of, units) if m.support]
    if wants.support == "hand":
        if not kinds & {"handle", "grip"}:
            yield "handle"
    elif not any(s.kind == wants.support for s in supports):
        yield wants.support
    if wants.support == "head" and not any(catalogue.model_of(unit).stand for unit in units):
        yield "sticks"
    for want, _, kind in _HOLDS:
        if getattr(wants, want) and kind not in kinds:
            yield kind
    for _, what, kind in _HOLDS:
        for unit in units:
            if (
                catalogue.model_of(unit).kind == kind
                and not _linked(bench, unit, what)
                and _can_link(bench, unit, what)
            ):
                yield f"cable for {unit}"


def _fill(bench: Bench, want: str) -> _Step:
    """The best way to add what is wanted; nothing where there is none.

    The likeliest ways of each model are judged to the end, with the feed that it needs.
    """
    if want.startswith("cable for "):
        return _cable(bench, want.removeprefix("cable for "))
    below = want in (*_CARRIES, "sticks")
    likely: list[tuple[tuple[float, ...], _Step]] = []
    for unit in _free_of(bench, want):
        ways = []
        for step in _ways_on(bench, unit, below=below):
            try:
                after = bench.after(step)
            except BadRig:
                continue
            rank = rank_of(after)
            ways.append(((*rank[:2], 0.0 if below else _lean(after, unit), len(step), *rank[2:]), step))
        likely += sorted(ways, key=lambda way: way[0])[:_MOST_OF_A_MODEL]
    likely.sort(key=lambda way: way[0])
    judged = [_fed(bench, step) for _, step in likely[:_MOST_JUDGED]]
    return min(judged, key=lambda way: way[0])[1] if judged else ()


def _fed(bench: Bench, step: _Step) -> tuple[tuple[float, ...], _Step]:
    """A step with what feeds the thing that it adds, and its rank to the end."""
    after = bench.after(step)
    known = {f.key for f in bench.whole.findings}
    hungry = next((f for f in after.whole.findings if f.code == "power.unfed" and f.key not in known), None)
    if hungry is not None:
        cures = [r for r in search_remedies(after, hungry).remedies if _keeps(after, r.operations) and r.clears]
        if cures:
            step = (*step, *cures[0].operations)
            after = bench.after(step)
    counts = after.whole.counts
    return (counts["stops"], counts["watches"], *rank_of(after)[2:]), step


def _keeps(bench: Bench, operations: _Step) -> bool:
    """Whether a change leaves as much on the rig as there was."""
    return len(bench.after(operations).build.units) >= len(bench.build.units)


def _lean(bench: Bench, unit: str) -> float:
    return round(1 - float(bench.stand.assembly.pose(unit).rotation[2, 2]), 1)


def _free_of(bench: Bench, want: str) -> Iterator[str]:
    """One sound free unit of every model of a kind, or of what carries in that way."""
    seen: set[str] = set()
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        holds = model.support.kind if model.support else ""
        meant = holds == want if want in _CARRIES else model.kind == want
        if meant and model.id not in seen and not model.is_cable:
            seen.add(model.id)
            yield unit


def _ways_on(bench: Bench, unit: str, *, below: bool) -> list[_Step]:
    """Straight, or through a few free plates; of things below the rig only from what looks down."""
    model = bench.catalogue.model_of(unit)
    if not below:
        straight = [place.operations for place in places_for(bench, unit)[:_MOST_PLACES]]
        if straight:
            return straight
    fronts: list[tuple[_Step, str, Port, frozenset[str]]] = [
        ((), onto, port, frozenset())
        for onto, port in free_ports(bench.stand.assembly)
        if not is_socket(bench.catalogue, port) and (not below or _looks_down(bench, onto, port))
    ]
    found: list[_Step] = []
    plates = _plates(bench)
    for depth in range(_MOST_BETWEEN + 1):
        for steps, onto, port, _ in fronts:
            own = next((p for p in model.ports if mates(p, port) and not is_socket(bench.catalogue, p)), None)
            if own is not None:
                found.append((*steps, _on(bench, unit, own, onto, port, first=not steps)))
        if len(found) >= _MOST_CHAINS or depth == _MOST_BETWEEN:
            break
        fronts = [
            ((*steps, _on(bench, plate, own, onto, port, first=not steps)), plate, beyond, used | {plate})
            for steps, onto, port, used in fronts
            for plate, held in plates
            if plate not in used
            for own in held.ports
            if mates(own, port) and not is_socket(bench.catalogue, own)
            for beyond in held.ports
            if beyond.id != own.id and not is_socket(bench.catalogue, beyond) and _opposite(own, beyond)
        ]
    return found[:_MOST_CHAINS]


def _on(bench: Bench, unit: str, own: Port, onto: str, port: Port, *, first: bool) -> Attach:
    turns = bench.catalogue.turns_deg(port, own)
    spin = 0.0 if not turns or 0.0 in turns else turns[0]
    slide = (free_slide_mm(bench, onto, port, own.grip_mm) if first else None) or 0.0
    return Attach(unit=unit, unit_port=own.id, onto=onto, onto_port=port.id, spin_deg=spin, slide_mm=slide)


def _plates(bench: Bench) -> list[tuple[str, GearModel]]:
    """One sound free unit of every model that things go through, the lightest first."""
    by_model: dict[str, tuple[str, GearModel]] = {}
    for unit in bench.sound():
        model = bench.catalogue.model_of(unit)
        if model.kind in _BETWEEN:
            by_model.setdefault(model.id, (unit, model))
    return sorted(by_model.values(), key=lambda pair: pair[1].mass_g or 0.0)


def _looks_down(bench: Bench, unit: str, port: Port) -> bool:
    return float((bench.stand.assembly.pose(unit).rotation @ port.basis[:, 0])[2]) < -0.7


def _opposite(own: Port, beyond: Port) -> bool:
    return sum(a * b for a, b in zip(own.n, beyond.n, strict=True)) < -0.5


def _linked(bench: Bench, unit: str, what: str) -> bool:
    ends = {(k.from_unit, k.from_port) for k in bench.build.links} | {(k.to_unit, k.to_port) for k in bench.build.links}
    ports = bench.catalogue.model_of(unit).ports
    return any((unit, p.id) in ends for p in ports if p.signal and p.signal.what == what)


def _can_link(bench: Bench, unit: str, what: str) -> bool:
    body = bench.catalogue.model_of(bench.build.body)
    own = bench.catalogue.model_of(unit)
    return all(any(p.signal and p.signal.what == what for p in model.ports) for model in (own, body))


def _cable(bench: Bench, unit: str) -> _Step:
    """The best free cable that joins it with the body."""
    body = bench.build.body
    best: tuple[tuple[float, ...], _Step] | None = None
    seen: set[str] = set()
    for cable in bench.sound():
        model = bench.catalogue.model_of(cable)
        if not model.is_cable or model.id in seen:
            continue
        seen.add(model.id)
        for _, _, run in runs_of(bench, cable):
            if {run.from_unit, run.to_unit} == {unit, body} and _is_signal(bench, run):
                after = bench.after((run,))
                rank = (*rank_of(after)[:2], model.mass_g or 0.0)
                if best is None or rank < best[0]:
                    best = rank, (run,)
    return best[1] if best else ()


def _is_signal(bench: Bench, run: Connect) -> bool:
    return bench.catalogue.model_of(run.from_unit).port(run.from_port).signal is not None


def _cure(bench: Bench, given_up: frozenset[str], enough: Callable[[], bool]) -> Grown:
    """The best remedy for the worst thing that is still wrong."""
    wrong = [f for f in bench.whole.findings if f.level >= Level.WATCH and f.key not in given_up]
    wrong.sort(key=lambda f: -f.level)
    for finding in wrong[:1]:
        found = search_remedies(bench, finding, 0, enough)
        for remedy in found.remedies:
            fewer = remedy.effect.stops_after, remedy.effect.watches_after
            better = fewer < (bench.whole.counts["stops"], bench.whole.counts["watches"])
            if better and not remedy.exchanges and _keeps(bench, remedy.operations):
                return Grown(remedy.operations, why=f"ends: {finding.text}")
        return Grown((), finding.key, _left_over(finding))
    return Grown(())


def _left_over(finding: Finding) -> str:
    return finding.text if finding.level is Level.STOP else ""
