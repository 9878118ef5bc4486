"""Voices and sounds over the day: whether each source really leads from what hears to what records, what it stands
or falls with, and how many of a voice's sources are independent of each other.

A source is a chain of units. Two that stand next to each other are joined by cable inside a camera, by radio, by a
cable that the chain names, or by plugging one into the other. Formulas: docs/formulas.md §14, 'Sound'.
"""

from __future__ import annotations

import math
from collections import defaultdict
from collections.abc import Iterator, Sequence
from dataclasses import dataclass
from itertools import combinations, pairwise

from ..cables import sound_misfits
from ..callouts import About, Finding, Input, Level, Working
from ..gear.model import GearModel, Port, mates
from ..job.job import Job, PartOfDay
from ..job.sight import walk_m
from ..job.sound import Source, Voice
from ..rig.build import Build, Catalogue
from .table import Cell, DayTable

__all__ = ["Chain", "Heard", "Hop", "heard_of", "independent", "shared"]

_SLACK = 1.1
"""A wire along the ground is so much longer than its route. Rule of thumb."""


@dataclass(frozen=True, slots=True)
class Hop:
    """From one unit of a chain to the next: how, and by what; empty where nothing leads on."""

    before: str
    after: str
    way: str
    """'cable', 'radio', 'plugged', or nothing."""
    by: tuple[str, ...] = ()
    """Units and cables on the way that the source does not name."""


@dataclass(frozen=True, slots=True)
class Chain:
    """A source in a part of the day: its hops, where it ends, and everything that it fails with."""

    voice: Voice
    source: Source
    hops: tuple[Hop, ...]
    records: str
    """What records it; empty: nothing does."""
    rig: str
    """The camera that this is in; empty: it is in none."""
    hangs_on: frozenset[str]
    """Units, packs and pockets: fails one of them, the source is gone."""

    @property
    def whole(self) -> bool:
        """It leads from what hears to what records."""
        return bool(self.records) and all(hop.way for hop in self.hops)


@dataclass(frozen=True, slots=True)
class Heard:
    """A voice in a part of the day."""

    part: PartOfDay
    voice: Voice
    chains: tuple[Chain, ...]
    independent: tuple[str, ...]
    """The most of its sources of which no two share anything."""
    wanted: int
    """How many it needs: two of what is lost when it is missed."""


def heard_of(job: Job, catalogue: Catalogue, table: DayTable) -> tuple[tuple[Heard, ...], tuple[Finding, ...]]:
    """Every voice in every part that it sounds in, and what stands against it."""
    found: list[Heard] = []
    findings: list[Finding] = []
    for part in sorted(job.parts, key=lambda p: p.starts):
        cells = [c for c in table.cells if c.part.id == part.id]
        place = _Places(job, catalogue, part, cells)
        here = [voice for voice in job.sound.voices if part.id in voice.parts]
        heard = [_heard(place, voice) for voice in here]
        found += heard
        for each in heard:
            findings += _against(place, each)
        findings += _overfull(place, heard)
    return tuple(found), tuple(findings)


@dataclass(frozen=True)
class _Places:
    """A part of the day: which camera each unit is in."""

    job: Job
    catalogue: Catalogue
    part: PartOfDay
    cells: Sequence[Cell]

    def cell(self, unit: str) -> Cell | None:
        """The camera that has a unit; None: it is worn, stands somewhere, or is at the desk."""
        return next((c for c in self.cells if unit in c.build.units), None)

    def model(self, unit: str) -> GearModel | None:
        return self.catalogue.model_of(unit) if unit in self.catalogue.units else None


def _heard(place: _Places, voice: Voice) -> Heard:
    chains = tuple(_chain(place, voice, source) for source in voice.sources)
    return Heard(
        place.part,
        voice,
        chains,
        independent([c for c in chains if c.whole]),
        2 if voice.once and not place.part.conditions.repeatable else 1,
    )


def _chain(place: _Places, voice: Voice, source: Source) -> Chain:
    hops = tuple(_hop(place, source, a, b) for a, b in pairwise(source.units))
    last = source.units[-1] if source.units else ""
    cell, model = place.cell(last) if last else None, place.model(last) if last else None
    records = last if model and model.records else ""
    units = {unit for unit in source.units if unit in place.catalogue.units}
    units |= {unit for hop in hops for unit in hop.by}
    hangs = set(units)
    for unit in units:
        at = place.cell(unit)
        hangs |= {run.pack for run in (at.stand.runs if at else ()) if unit in run.feeds}
    if source.pocket and voice.wearer:
        hangs.add(f"{source.pocket} of {voice.wearer}")
    if source.house:
        hangs.add("the venue's desk")
    return Chain(voice, source, hops, records, cell.rig.label if cell else "", frozenset(hangs))


def _hop(place: _Places, source: Source, before: str, after: str) -> Hop:
    one, other = place.model(before), place.model(after)
    if one is None or other is None:
        return Hop(before, after, "")
    here, there = place.cell(before), place.cell(after)
    if here and there and here.rig.id == there.rig.id:
        way = _through(here.build, place.catalogue, before, after)
        return Hop(before, after, "cable" if way is not None else "", way or ())
    if source.khz and _is_sender(one) and _is_receiver(other):
        return Hop(before, after, "radio")
    joined = _plugs(one, other) is not None
    if joined and (one.is_cable or other.is_cable):
        return Hop(before, after, "cable")
    # Without a cable only what is in one hand goes together: on the wearer, or at the desk.
    return Hop(before, after, "plugged" if joined and here is None and there is None else "")


def _is_sender(model: GearModel) -> bool:
    return model.radio is not None and model.kind == "transmitter"


def _is_receiver(model: GearModel) -> bool:
    return model.kind == "receiver"


def _through(build: Build, catalogue: Catalogue, start: str, end: str) -> tuple[str, ...] | None:
    """Units and cables between two units of a build along its sound cables; None where nothing leads there."""
    ways: dict[str, list[tuple[str, str]]] = defaultdict(list)
    for link in build.links:
        a = catalogue.model_of(link.from_unit).port(link.from_port)
        b = catalogue.model_of(link.to_unit).port(link.to_port)
        for (near, port), far in (((link.from_unit, a), link.to_unit), ((link.to_unit, b), link.from_unit)):
            if port.signal and port.signal.what == "sound" and port.signal.role in ("out", "both"):
                ways[near].append((far, link.cable))
    seen: dict[str, tuple[str, ...]] = {start: ()}
    line = [start]
    for unit in line:
        for far, cable in ways[unit]:
            if far == end:
                return (*seen[unit], cable)
            if far not in seen:
                seen[far] = (*seen[unit], cable, far)
                line.append(far)
    return None


def _plugs(one: GearModel, other: GearModel) -> tuple[Port, Port] | None:
    """Sockets of two models that go together and pass sound on; a cable's ends pass what they are given."""
    for a in one.ports:
        for b in other.ports:
            if mates(a, b) and (one.is_cable or _sound(a, "out")) and (other.is_cable or _sound(b, "in")):
                return a, b
    return None


def _sound(port: Port, role: str) -> bool:
    return port.signal is not None and port.signal.what == "sound" and port.signal.role in (role, "both")


def shared(one: Chain, other: Chain) -> tuple[str, ...]:
    """What two sources both stand or fall with."""
    return tuple(sorted(one.hangs_on & other.hangs_on))


def independent(chains: Sequence[Chain]) -> tuple[str, ...]:
    """The most sources of which no two share anything, by their names; the first such in their order."""
    for many in range(len(chains), 0, -1):
        for some in combinations(chains, many):
            if not any(shared(a, b) for a, b in combinations(some, 2)):
                return tuple(c.source.label for c in some)
    return ()


def _about(heard: Heard, *more: str) -> About:
    return About(units=(f"voice {heard.voice.id}", heard.part.id, *more))


def _against(place: _Places, heard: Heard) -> Iterator[Finding]:
    yield from _too_few(heard)
    for chain in heard.chains:
        yield from _broken(place, heard, chain)
        yield from _misfits(place, heard, chain)
        yield from _wire(place, heard, chain)
        yield from _care(place, heard, chain)
        if chain.source.house:
            yield from _house(place, heard, chain)
    yield from _levels(heard, place.job.settings.level_room_db)
    if place.part.conditions.rings and heard.voice.sources:
        near = bool(heard.voice.worn)
        yield Finding(
            code="sound.place",
            level=Level.NOTE if near else Level.WATCH,
            about=_about(heard),
            text=f"It rings in {heard.part.label}, and {heard.voice.label} "
            + ("is heard from near by; blankets still help." if near else "is heard from afar")
            + ("" if near else ": blankets hung behind the cameras, a microphone nearer, or a pass of its own."),
        )
    if heard.voice.wearer and heard.voice.worn and heard.voice.consent not in ("given", "not needed"):
        refused = heard.voice.consent == "refused"
        yield Finding(
            code="sound.consent",
            level=Level.STOP if refused else Level.WATCH,
            about=_about(heard),
            text=f"{heard.voice.wearer} "
            + (
                "does not want to be recorded."
                if refused
                else "has not agreed yet to a microphone that runs all along."
            ),
        )


def _too_few(heard: Heard) -> Iterator[Finding]:
    whole = [c for c in heard.chains if c.whole]
    have, voice, part = len(heard.independent), heard.voice.label, heard.part.label
    if have >= heard.wanted:
        return
    if not whole:
        text = f"Nothing records {voice} in {part}."
    elif len(whole) == 1:
        text = f"{voice} cannot be repeated in {part} and has one source, {whole[0].source.label}."
    else:
        one, other = min(combinations(whole, 2), key=lambda pair: len(shared(*pair)))
        text = (
            f"{voice} cannot be repeated in {part}, and no two of its {len(whole)} sources are independent:"
            f" {one.source.label} and {other.source.label} share {', '.join(shared(one, other))}."
        )
    yield Finding(
        code="sound.sources",
        level=Level.STOP,
        about=_about(heard),
        text=text,
        value=float(have),
        limit=float(heard.wanted),
        working=(
            Working(
                formula="the most sources of which no two share a unit, a pack, a pocket or the desk",
                inputs=tuple(
                    Input(name=c.source.label, value=", ".join(sorted(c.hangs_on)) or "nothing", source="job")
                    for c in heard.chains
                ),
                numbers=f"{have} of {len(heard.chains)}",
            ),
        ),
    )


def _broken(place: _Places, heard: Heard, chain: Chain) -> Iterator[Finding]:
    source = chain.source
    gap = next((hop for hop in chain.hops if not hop.way), None)
    if chain.whole:
        return
    if not source.units:
        text = f"'{source.label}' of {heard.voice.label} names nothing that hears or records it."
    elif gap:
        one, other = place.model(gap.before), place.model(gap.after)
        sends = one and other and _is_sender(one) and _is_receiver(other)
        text = f"Nothing leads from {gap.before} to {gap.after} in '{source.label}' of {heard.voice.label}" + (
            "; give the radio its channel." if sends else f" in {heard.part.label}."
        )
    else:
        text = f"'{source.label}' of {heard.voice.label} ends at {source.units[-1]}, which records nothing."
    yield Finding(code="sound.broken", level=Level.STOP, about=_about(heard, source.label), text=text)


def _misfits(place: _Places, heard: Heard, chain: Chain) -> Iterator[Finding]:
    """Level and phantom power where two things are plugged together outside a camera; inside, its own checks tell."""
    ends = [hop for hop in chain.hops if hop.way == "plugged"]
    for hop in ends:
        one, other = place.catalogue.model_of(hop.before), place.catalogue.model_of(hop.after)
        pair = _plugs(one, other)
        if pair and pair[0].signal:
            about = _about(heard, chain.source.label, hop.before)
            yield from sound_misfits(about, hop.before, pair[0].signal, hop.after, pair[1])


def _wire(place: _Places, heard: Heard, chain: Chain) -> Iterator[Finding]:
    """A wire from where the voice is to the camera that records it, along the way on the ground."""
    cables = [m for unit in chain.source.units if (m := place.model(unit)) and m.cable]
    thing = place.job.venue.thing(heard.voice.thing) if heard.voice.thing else None
    cell = place.cell(chain.records) if chain.records else None
    if not cables or not thing or not cell or not cell.rig.place:
        return
    far = walk_m((thing.x_m, thing.y_m), (cell.rig.place.x_m, cell.rig.place.y_m), place.job.venue)
    long = sum(m.cable.length_mm for m in cables if m.cable) / 1000
    if not math.isfinite(far) or long >= far * _SLACK:
        return
    yield Finding(
        code="sound.wire",
        level=Level.STOP,
        about=_about(heard, chain.source.label),
        text=f"{long:g} m of cable for '{chain.source.label}': {thing.label} is {far:.0f} m from {cell.rig.label} on"
        f" the ground, {far * _SLACK:.0f} m with slack.",
        value=long,
        limit=far * _SLACK,
        unit="m",
    )


def _care(place: _Places, heard: Heard, chain: Chain) -> Iterator[Finding]:
    """Where it sits on the wearer, and its cover in the wind."""
    source, conditions, job = chain.source, place.part.conditions, place.job
    worn = heard.voice.wearer and (source.pocket or source.clip)
    if worn and not (source.pocket and source.clip):
        missing = "where its pack sits" if source.clip else "where its microphone is clipped"
        yield Finding(
            code="sound.clip",
            level=Level.WATCH,
            about=_about(heard, source.label),
            text=f"Nobody said {missing} in '{source.label}' of {heard.voice.wearer}; a dress may have no place for"
            " it.",
        )
    if source.shows and not source.house:
        yield Finding(
            code="sound.place",
            level=Level.WATCH,
            about=_about(heard, source.label),
            text=f"'{source.label}' of {heard.voice.label} is seen in the picture of {heard.part.label}: under cloth or"
            " hair, out of the frame, or in a pass of its own without picture.",
        )
    hears = place.model(source.units[0]) if source.units else None
    blows = conditions.blows_m_s
    if not source.house and hears and not source.cover and blows > job.settings.wind_cover_m_s:
        yield Finding(
            code="sound.wind",
            level=Level.WATCH,
            about=_about(heard, source.label),
            text=f"{blows:g} m/s of wind in {heard.part.label} and no cover on {source.units[0]} ('{source.label}').",
            value=blows,
            limit=job.settings.wind_cover_m_s,
            unit="m/s",
        )


def _house(place: _Places, heard: Heard, chain: Chain) -> Iterator[Finding]:
    """The connectors that the desk may show, and what goes on without it."""
    source = chain.source
    if not any(not s.house for s in heard.voice.sources):
        yield Finding(
            code="sound.house",
            level=Level.WATCH,
            about=_about(heard, source.label),
            text=f"{heard.voice.label} comes from the venue's desk only; nothing is heard when that is silent.",
        )
    if not source.plugs:
        yield Finding(
            code="sound.house",
            level=Level.WATCH,
            about=_about(heard, source.label, "plugs"),
            text=f"Nobody said which connectors the desk may show for '{source.label}' of {heard.voice.label}.",
        )
    first = place.model(source.units[0]) if source.units else None
    without = [plug for plug in source.plugs if first and not _takes(place, first, plug)]
    if without and first:
        named = ", ".join(place.catalogue.interfaces[plug].label for plug in without)
        yield Finding(
            code="sound.house",
            level=Level.WATCH,
            about=_about(heard, source.label, "lead"),
            text=f"Should the desk show {named}, no lead of the shelf goes from there into {source.units[0]}.",
        )


def _takes(place: _Places, first: GearModel, plug: str) -> bool:
    """A socket of that kind goes straight in, or a lead of the shelf leads from it to a sound input or a lead's end."""
    into = [p for p in first.ports if first.is_cable or _sound(p, "in")]
    if any(p.interface == plug for p in into):
        return True
    leads = {u.model: m for u in place.catalogue.shelf if (m := place.catalogue.model_of(u.id)).cable}
    return any(
        any(a.interface == plug and any(mates(b, p) for p in into) for a in m.ports for b in m.ports if a is not b)
        for m in leads.values()
    )


def _levels(heard: Heard, room_db: float) -> Iterator[Finding]:
    """What cannot be repeated wants somebody at the level of one source, or a lower second track; and what gets loud
    wants room for it on one of them.
    """
    whole = [c.source for c in heard.chains if c.whole]
    has = max((room_db + s.safety_db for s in whole if not s.rides), default=0.0)
    loud = heard.voice.louder_db
    if whole and loud > has and not any(s.rides for s in whole):
        yield Finding(
            code="sound.level",
            level=Level.WATCH,
            about=_about(heard, "its loudest"),
            value=loud,
            limit=has,
            unit="dB",
            text=f"{heard.voice.label} gets {loud:g} dB louder than speech in {heard.part.label}; the most room on a"
            f" track that nobody rides is {has:g}.",
        )
    if heard.wanted < 2 or not whole or any(s.rides or s.safety_db >= 6 for s in whole):
        return
    yield Finding(
        code="sound.level",
        level=Level.WATCH,
        about=_about(heard),
        text=f"Nobody rides the level of {heard.voice.label} in {heard.part.label}, and no source records a second"
        " track 6 dB lower or more: a shout is lost.",
    )


def _overfull(place: _Places, heard: Sequence[Heard]) -> Iterator[Finding]:
    """Things that more sources run through than they can take."""
    users: dict[str, list[tuple[Heard, Chain]]] = defaultdict(list)
    for each in heard:
        for chain in each.chains:
            for unit in chain.source.units:
                users[unit].append((each, chain))
    for unit, through in sorted(users.items()):
        model = place.model(unit)
        if model is None or len(through) < 2:
            continue
        most = _takes_many(model)
        if len(through) > most:
            named = ", ".join(f"'{c.source.label}' of {h.voice.label}" for h, c in through[:4])
            yield Finding(
                code="sound.twice",
                level=Level.STOP,
                about=About(units=(unit, place.part.id, *(f"voice {h.voice.id}" for h, _ in through))),
                text=f"{unit} takes {most} at once and is in {named} in {place.part.label}.",
                value=float(len(through)),
                limit=float(most),
            )


def _takes_many(model: GearModel) -> int:
    if model.kind == "receiver":
        return model.radio.channels if model.radio else 1
    if model.kind == "mixer" or model.records:
        return max(1, sum(_sound(p, "in") for p in model.ports))
    return 1
