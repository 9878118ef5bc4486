"""The safety sheet of a position: what applies to it, from its builds, its place on the plan and its conditions.

Nothing here is a permit: local codes, the venue and licensed people decide. m, kg, °C, EV.
"""

from __future__ import annotations

from collections.abc import Iterator
from dataclasses import dataclass

from shapely.geometry import Point

from ..callouts import About, Finding, Level, by_weight
from ..day.table import Cell, DayTable
from ..job.job import Job, Rig
from ..job.sight import ground_of, lead_of

__all__ = ["PositionSheet", "SafetyLine", "safety_sheets"]

_COLD_C, _WARM_C, _DARK_EV, _LOUD_DB = 5.0, 25.0, 4.0, 15.0
_BY_HAND = ("hand", "shoulder", "gimbal")


@dataclass(frozen=True, kw_only=True)
class SafetyLine:
    """Something that applies to a position, in which parts of the day; ``sign``: what somebody fills in."""

    finding: Finding
    parts: tuple[str, ...]
    sign: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class PositionSheet:
    """A camera's place with everything that applies to it, most serious first."""

    rig: Rig
    lines: tuple[SafetyLine, ...]


@dataclass(frozen=True)
class _Said:
    code: str
    level: Level
    text: str
    sign: tuple[str, ...] = ()
    value: float | None = None
    limit: float | None = None
    unit: str = ""


def safety_sheets(job: Job, table: DayTable) -> tuple[PositionSheet, ...]:
    """A sheet for every camera that is planned; the same line in several parts is told once."""
    found = []
    for rig in job.rigs:
        cells = [cell for cell in table.cells if cell.rig.id == rig.id]
        if not cells:
            continue
        lines: dict[_Said, list[str]] = {}
        for cell in cells:
            for said in (
                *_vehicle(cell),
                *_moving(cell),
                *_stands(job, cell),
                *_carried(job, cell),
                *_around(job, cell),
            ):
                lines.setdefault(said, []).append(cell.part.label)
        told = [
            SafetyLine(finding=_finding(rig, said), parts=tuple(parts), sign=said.sign) for said, parts in lines.items()
        ]
        order = {f.key: i for i, f in enumerate(by_weight([t.finding for t in told]))}
        found.append(PositionSheet(rig=rig, lines=tuple(sorted(told, key=lambda t: (order[t.finding.key], t.parts)))))
    return tuple(found)


def _finding(rig: Rig, said: _Said) -> Finding:
    return Finding(
        code=said.code,
        level=said.level,
        about=About(units=(), rig=rig.id, port=rig.id),
        text=said.text,
        value=said.value,
        limit=said.limit,
        unit=said.unit,
    )


def _speed(cell: Cell) -> float:
    return cell.stand.target.speed_m_s if cell.stand.target else 0.0


def _vehicle(cell: Cell) -> Iterator[_Said]:
    """A camera on something that drives: its mount, and anybody who would be outside with it."""
    speed = _speed(cell)
    if speed <= 0:
        return
    km_h = speed * 3.6
    if cell.stand.carried.kind == "mount":
        yield _Said(
            "safe.vehicle",
            Level.WATCH,
            f"On a vehicle at {km_h:.0f} km/h: two points of contact at least, rated for the speed, a second line to a"
            " point of its own; the driver's hands touch nothing of it. Look at every point before each run.",
            ("Licensed crew", "Permit", "Points and line looked at"),
            speed,
            0.0,
            "m/s",
        )
    if cell.operator and cell.stand.carried.kind in _BY_HAND:
        yield _Said(
            "safe.outside",
            Level.STOP,
            f"{cell.operator} works it by {cell.stand.carried.kind} at {km_h:.0f} km/h: nobody leans or stands outside"
            " a moving vehicle. Safer first: a mount without an operator, a second vehicle, a longer lens from the"
            " road. Else restraint, spotter, radio, agreed hand signals and a permit, all of them.",
            ("Restraint", *(() if cell.spotter else ("Spotter",)), "Radio", "Signals agreed", "Permit"),
            speed,
            0.0,
            "m/s",
        )


def _moving(cell: Cell) -> Iterator[_Said]:
    """Who walks with a camera does not see where."""
    kind, target = cell.stand.carried.kind, cell.stand.target
    walks = cell.build.use in ("walking", "running") or (cell.build.use is None and kind in _BY_HAND)
    if cell.unattended or kind not in _BY_HAND or not walks:
        return
    follows = target is not None and target.follows
    walks_with = (
        f"{cell.operator or 'Whoever works it'} walks with it by {kind}{', following what moves' if follows else ''}"
    )
    if cell.spotter:
        yield _Said(
            "safe.blind",
            Level.NOTE,
            f"{walks_with}: {cell.spotter} is at the shoulder, a hand on the belt, looks where they go and says it.",
            ("Route walked",),
        )
    else:
        yield _Said(
            "safe.blind",
            Level.WATCH if follows or cell.build.use == "running" else Level.NOTE,
            f"{walks_with}: backwards and low among people needs a spotter at the shoulder, or a route that was walked"
            " and is kept free.",
            ("Spotter", "Route walked"),
        )
    if kind == "gimbal":
        yield _Said(
            "safe.gimbal",
            Level.NOTE,
            "Fingers out of the arms before it is switched on; plate and shoes locked with a second catch. A gimbal"
            " that shakes or hums is switched off, not held.",
        )


def _stands(job: Job, cell: Cell) -> Iterator[_Said]:
    """Legs and leads where the public walks."""
    rig, place = cell.rig, cell.rig.place
    if place is None or cell.stand.carried.kind in _BY_HAND:
        return
    here, room = Point(place.x_m, place.y_m), job.settings.public_near_m
    for lane in (t for t in job.venue.things if t.kind == "lane"):
        away = float(ground_of(lane).distance(here))
        if away < room:
            yield _Said(
                "safe.public",
                Level.WATCH,
                f"{rig.label} stands {away:.1f} m from {lane.label}: weights on the legs, tape round them, by a wall or"
                f" post where there is one, never left alone; {room:g} m are free of it.",
                ("Weights", "Tape"),
                round(away, 2),
                room,
                "m",
            )
    lead = lead_of((place.x_m, place.y_m), job.venue) if _on_mains(cell) else None
    for name in lead.crosses if lead else ():
        crossed = job.venue.thing(name)
        yield _Said(
            "safe.lead",
            Level.WATCH,
            f"The mains lead of {rig.label} crosses {crossed.label if crossed else name}: a ramp or taped flat along"
            " its whole width, over heads only by those who may rig there; wet, on a breaker of its own.",
            ("Ramp or tape",),
        )


def _on_mains(cell: Cell) -> bool:
    catalogue = cell.stand.assembly.catalogue
    return any(catalogue.model_of(u).mains_lead_m is not None for u in cell.build.units)


def _carried(job: Job, cell: Cell) -> Iterator[_Said]:
    """What is lifted and held, and the packs on it."""
    mass, lift = cell.stand.carried.total.mass_g / 1000, job.settings.lift_kg
    if mass >= lift:
        yield _Said(
            "safe.lift",
            Level.WATCH,
            f"{mass:.1f} kg: two people lift it from {lift:g} kg on; legs, not the back, and say when.",
            ("Two people",),
            round(mass, 1),
            lift,
            "kg",
        )
    catalogue = cell.stand.assembly.catalogue
    packs = [u for u in cell.build.units if catalogue.model_of(u).pack]
    if packs:
        yield _Said(
            "safe.lithium",
            Level.NOTE,
            f"{len(packs)} lithium pack{'s' if len(packs) > 1 else ''} on it: a swollen, hot or dropped pack is out of"
            " use at once, outdoors, away from people; never bridge a plug nobody has measured.",
        )


def _around(job: Job, cell: Cell) -> Iterator[_Said]:
    """Cold, heat, dark and noise where it stands."""
    at = cell.part.conditions
    if at.temperature_c <= _COLD_C and not at.indoors:
        yield _Said("safe.cold", Level.NOTE, f"{at.temperature_c:.0f} °C: gloves, dry layers, a warm place in breaks.")
    if at.temperature_c >= _WARM_C:
        yield _Said("safe.heat", Level.NOTE, f"{at.temperature_c:.0f} °C: shade, water within reach, turns shortened.")
    if at.light_ev is not None and at.light_ev < _DARK_EV:
        yield _Said(
            "safe.dark", Level.NOTE, f"EV {at.light_ev:g}: a head torch, edges and steps marked, ways kept free."
        )
    loud = [v for v in job.sound.voices if cell.part.id in v.parts and v.louder_db >= _LOUD_DB]
    if loud:
        yield _Said(
            "safe.ears",
            Level.NOTE,
            f"{', '.join(v.label for v in loud)}: up to {max(v.louder_db for v in loud):.0f} dB over speech. Ear"
            " protection at hand, on before it sounds, and beside loudspeakers all the while.",
        )
    if at.wet:
        yield _Said("safe.wet", Level.NOTE, "Rain: no bare mains joint on the ground, soles that hold, covers on.")
