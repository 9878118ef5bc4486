"""The shared gear over the day: who has which unit when, what stops when one fails, and what stands in for it."""

from __future__ import annotations

from collections import defaultdict
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, replace

from ..callouts import About, Finding, Level
from ..job.job import Job, OutElsewhere, PartOfDay
from ..lens.pairs import front_mount, pairs
from ..rig.build import Build, Catalogue, Unit
from ..stand import Stand
from .media import MediaPlan
from .table import Cell, DayTable

__all__ = ["Held", "ModelPool", "Pool", "pool_of"]

_MOST_NAMED = 4
_SOUND = frozenset({"microphone", "receiver", "mixer"})
_PICTURE = frozenset({"monitor", "video transmitter"})


@dataclass(frozen=True, slots=True)
class Held:
    """A unit over the day: the camera or place that has it in each part; what fails with it, and what stands in."""

    unit: str
    at: Mapping[str, str]
    """By part; parts in which it lies free are left out."""
    stops: str
    """What stops when it fails: 'the camera', 'sound', 'the picture', or nothing of that."""
    spare: str
    """A sound unit that goes in its place and lies free whenever it is used; empty: none."""
    once_only: bool
    """It is used in what cannot be repeated."""


@dataclass(frozen=True, slots=True)
class ModelPool:
    """A model that is used in the job: how many there are, how many are out in each part, and each of them."""

    title: str
    kind: str
    owned: int
    hired: int
    out_of_use: int
    used: Mapping[str, int]
    """By part."""
    units: tuple[Held, ...]
    serves: tuple[str, ...] = ()
    """Lenses: the body models of the job on which they work, straight or with adapters of the shelf."""

    @property
    def there(self) -> int:
        """How many can be used."""
        return self.owned + self.hired - self.out_of_use

    @property
    def most(self) -> int:
        """How many are out at once."""
        return max(self.used.values(), default=0)

    @property
    def alone(self) -> tuple[Held, ...]:
        """Those with which a camera stops, and that nothing stands in for."""
        return tuple(held for held in self.units if held.stops == "the camera" and not held.spare)


@dataclass(frozen=True, slots=True)
class Pool:
    """Everything that is used over the day, by model, and what stands against it."""

    models: tuple[ModelPool, ...]
    findings: tuple[Finding, ...]


def pool_of(
    job: Job,
    catalogue: Catalogue,
    table: DayTable,
    media: MediaPlan | None = None,
    out: OutElsewhere | None = None,
) -> Pool:
    """The shared gear of a job over all its days; ``media``: cards as they are dealt; ``out``: what other jobs have."""
    parts = sorted(job.parts, key=lambda p: p.starts)
    at, fails, ends = _whereabouts(job, catalogue, table, media)
    used = {catalogue.unit(unit).model for unit in at}
    for (part_id, unit), title in (out or {}).items():
        # They are no spares then, and count against what there is.
        at[unit].setdefault(part_id, f"‘{title}’")
    kinds: dict[str, list[Unit]] = defaultdict(list)
    for each in catalogue.shelf:
        kinds[catalogue.model_of(each.id).kind].append(each)
    by_model: dict[str, list[str]] = defaultdict(list)
    for unit in at:
        if unit in catalogue.units and catalogue.unit(unit).model in used:
            by_model[catalogue.unit(unit).model].append(unit)
    served = _served(catalogue, table)
    pools = tuple(
        sorted(
            (
                replace(
                    _pool(model, sorted(units), at, fails, ends, parts, catalogue, kinds), serves=served.get(model, ())
                )
                for model, units in by_model.items()
            ),
            key=lambda pool: (pool.kind, pool.title),
        )
    )
    return Pool(pools, tuple(_findings(pools)))


def _whereabouts(
    job: Job, catalogue: Catalogue, table: DayTable, media: MediaPlan | None
) -> tuple[dict[str, dict[str, str]], dict[str, str], dict[str, set[tuple[str, str]]]]:
    """By unit where it is in each part, what fails with it, and the halves by which it is joined."""
    at: dict[str, dict[str, str]] = defaultdict(dict)
    fails: dict[str, str] = {}
    ends: dict[str, set[tuple[str, str]]] = defaultdict(set)
    for cell in table.cells:
        vital = _vital(cell.stand)
        for unit in cell.build.units:
            at[unit][cell.part.id] = cell.rig.label
            fails[unit] = _worse(fails.get(unit, ""), _stops(cell, catalogue, unit, vital))
            ends[unit] |= set(_ends(cell.build, catalogue, unit))
    for unit, part_id, serves in job.claims_beside():
        if unit in catalogue.units:
            at[unit].setdefault(part_id, serves)
    for line in media.lines if media else ():
        for card in (piece.card for piece in line.pieces if piece.card):
            at[card][line.part.id] = line.rig.label
    return at, fails, ends


def _served(catalogue: Catalogue, table: DayTable) -> dict[str, tuple[str, ...]]:
    """By lens model the bodies of the day that it works on, by their names; with the mount plate that is on them."""
    found: dict[str, dict[str, None]] = defaultdict(dict)
    for cell in {cell.build.id: cell for cell in table.cells}.values():
        body = catalogue.model_of(cell.build.body)
        front = front_mount(cell.stand.assembly)
        for pair in pairs(catalogue, catalogue.adapters, {body.id: front} if front else None, body.id):
            if pair.works:
                found[pair.lens.id][body.title] = None
    return {lens: tuple(titles) for lens, titles in found.items()}


def _pool(
    model_id: str,
    units: Sequence[str],
    at: Mapping[str, Mapping[str, str]],
    fails: Mapping[str, str],
    ends: Mapping[str, set[tuple[str, str]]],
    parts: Sequence[PartOfDay],
    catalogue: Catalogue,
    kinds: Mapping[str, Sequence[Unit]],
) -> ModelPool:
    model = catalogue.model(model_id)
    of_kind = kinds[model.kind]
    every = [unit for unit in of_kind if unit.model == model_id]
    once_only = {part.id for part in parts if not part.conditions.repeatable}
    return ModelPool(
        model.title,
        model.kind,
        sum(unit.owner == "owned" for unit in every),
        sum(unit.owner == "hired" for unit in every),
        sum(unit.condition == "out of use" for unit in every),
        {part.id: sum(part.id in at[unit] for unit in units) for part in parts},
        tuple(
            Held(
                unit,
                at[unit],
                fails.get(unit, ""),
                _spare(unit, ends[unit], at, catalogue, of_kind),
                bool(once_only & set(at[unit])),
            )
            for unit in units
        ),
    )


def _vital(stand: Stand) -> frozenset[str]:
    """Units without which the camera makes no picture or stands on nothing: the body, what is between it and its
    lens and between it and its support, and what alone feeds it.
    """
    assembly, graph = stand.assembly, stand.graph
    build = assembly.build
    found = {build.body}
    ends = [stand.view.lens] if stand.view else []
    support = assembly.find_support()
    for unit in (*ends, *([support] if support else [])):
        at: str | None = unit
        while at and at != build.body:
            found.add(at)
            joint = build.joint_of(at)
            at = joint.parent if joint else None
    # What stands under a support carries it: sticks under a head.
    found |= {unit for unit in assembly.layout.beyond_support if assembly.catalogue.model_of(unit).stand}
    found |= {unit for unit in assembly.layout.every_unit if build.body in graph.downstream(unit)}
    return frozenset(found)


def _stops(cell: Cell, catalogue: Catalogue, unit: str, vital: frozenset[str]) -> str:
    kind = catalogue.model_of(unit).kind
    cable = cell.build.joint_of(unit) is None and unit != cell.build.body and unit not in cell.build.worn
    feeds = cable and any(f.cable == unit and (f.sink == cell.build.body) for f in cell.stand.graph.feeds)
    if unit in vital or feeds:
        return "the camera"
    return "sound" if kind in _SOUND else "the picture" if kind in _PICTURE else ""


def _worse(one: str, other: str) -> str:
    order = ("the camera", "sound", "the picture", "")
    return min(one, other, key=order.index)


def _ends(build: Build, catalogue: Catalogue, unit: str) -> Iterator[tuple[str, str]]:
    """Interface and gender of every port by which a unit is joined in a build."""
    model = catalogue.model_of(unit)
    joint = build.joint_of(unit)
    ports = {joint.child_port} if joint else set[str]()
    ports |= {j.parent_port for j in build.joints if j.parent == unit}
    ports |= {
        port
        for link in build.links
        for at, port in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        if at == unit
    }
    yield from ((p.interface, p.gender) for p in model.ports if p.id in ports or model.is_cable)


def _spare(
    unit: str,
    ends: set[tuple[str, str]],
    at: Mapping[str, Mapping[str, str]],
    catalogue: Catalogue,
    alike: Sequence[Unit],
) -> str:
    """A sound unit of its model, else of its kind with the same halves, that is free whenever this one is used."""
    model, when = catalogue.model_of(unit), set(at[unit])
    others = []
    for other in alike:
        if other.id == unit or other.condition != "good" or when & set(at.get(other.id, ())):
            continue
        theirs = catalogue.model_of(other.id)
        if theirs.id == model.id:
            others.append((0, other.owner != "owned", other.id))
        elif theirs.kind == model.kind and ends <= {(p.interface, p.gender) for p in theirs.ports}:
            others.append((1, other.owner != "owned", other.id))
    return min(others)[2] if others else ""


def _findings(pools: Sequence[ModelPool]) -> Iterator[Finding]:
    alone = [(pool, held) for pool in pools for held in pool.alone]
    if not alone:
        return
    titles = list(dict.fromkeys(pool.title for pool, _ in alone))
    once = any(held.once_only for _, held in alone)
    more = f" and {len(titles) - _MOST_NAMED} more" if len(titles) > _MOST_NAMED else ""
    yield Finding(
        code="pool.single",
        level=Level.WATCH if once else Level.NOTE,
        about=About(units=tuple(held.unit for _, held in alone)),
        value=float(len(alone)),
        limit=0.0,
        unit="units",
        text=(
            f"A camera stops with each of {len(alone)} units that nothing stands in for then:"
            f" {', '.join(titles[:_MOST_NAMED])}{more}."
        ),
    )
