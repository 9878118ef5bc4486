"""What a camera sees from its place on the plan: distance, angle, what stands in the way, light, and the way there.

Formulas: docs/formulas.md §8. Lengths in m, angles in degrees, light in lx and EV at ISO 100.
"""

from __future__ import annotations

import heapq
import math
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass, replace
from functools import lru_cache

import numpy as np
from shapely import LineString, Point, Polygon, unary_union
from shapely.geometry.base import BaseGeometry

from ..geometry import Array
from ..rig.build import Target
from .venue import Spot, Thing, Venue

__all__ = [
    "Lead",
    "Light",
    "Seen",
    "Sight",
    "ev_of",
    "in_view",
    "lead_of",
    "light_at",
    "sight_of",
    "target_of",
    "walk_m",
]

_FACE_M = 0.3
"""A thing without a size is a face: so high and wide, a head with room, for what hides it."""
_LUX_AT_EV_0 = 2.5
_SHOULDER_M = 0.4
"""People keep so far from what they walk around: half a person with a bag."""
_PERSON_M = 0.6
"""An operator behind a camera is so wide."""


@dataclass(frozen=True, slots=True)
class Seen:
    """One thing that a camera must see: how far, what hides it and how high the line of sight passes there."""

    thing: str
    distance_m: float
    hidden_by: str | None
    sight_m: float | None
    """Height of the line of sight over the obstacle that comes nearest to hiding it, or hides it."""
    obstacle_m: float | None


@dataclass(frozen=True, slots=True)
class Light:
    """Light on a thing, from lamps and the sky."""

    lux: float
    ev: float
    lamps: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Lead:
    """A mains lead laid round the obstacles: how long it is at least, where it runs, and which lanes it crosses."""

    outlet: str
    length_m: float
    way: tuple[tuple[float, float], ...]
    crosses: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class Sight:
    """What a camera must cover from its place."""

    distance_m: float
    bearing_deg: float
    """Of the middle of what must fit in, from east, counter-clockwise."""
    across_deg: float
    """The smallest horizontal wedge that holds all of it."""
    upright_deg: float
    width_m: float
    nearest_m: float
    seen: tuple[Seen, ...]
    light: Light | None


def outline(thing: Thing) -> Array:
    """Corners on the ground, shape (4, 2); of a thing without a size its middle, shape (1, 2)."""
    middle = np.array([thing.x_m, thing.y_m])
    if thing.width_m == 0 and thing.depth_m == 0:
        return middle[None, :]
    half = np.array([thing.width_m, thing.depth_m]) / 2
    corners = np.array([[-1, -1], [1, -1], [1, 1], [-1, 1]]) * half
    a = math.radians(thing.turn_deg)
    turn = np.array([[math.cos(a), -math.sin(a)], [math.sin(a), math.cos(a)]])
    return np.asarray(corners @ turn.T + middle)


def sight_of(spot: Spot, venue: Venue, ambient_ev: float | None) -> Sight | None:
    """What must be covered from a place; None where nothing on the plan is to be seen from it."""
    things = [thing for name in spot.sees if (thing := venue.thing(name)) is not None]
    if not things:
        return None
    eye = np.array([spot.x_m, spot.y_m])
    axis = spot.ground_m + spot.camera_m
    corners = np.concatenate([outline(thing) for thing in things])
    away = corners - eye
    reach = np.hypot(away[:, 0], away[:, 1])
    middle_deg, across = _wedge(np.degrees(np.arctan2(away[:, 1], away[:, 0]))[reach > 0])
    middles = np.array([[t.x_m, t.y_m, t.ground_m + _height(t) / 2] for t in things])
    distance = float(np.linalg.norm(middles.mean(axis=0) - np.array([*eye, axis])))
    tilts = [
        math.degrees(math.atan2(z - axis, max(float(np.hypot(*(c - eye))), 1e-6)))
        for thing in things
        for c in outline(thing)
        for z in (thing.ground_m, thing.ground_m + _height(thing))
    ]
    first = things[0]
    return Sight(
        distance_m=distance,
        bearing_deg=middle_deg,
        across_deg=across,
        upright_deg=max(tilts) - min(tilts),
        width_m=2 * distance * math.tan(math.radians(min(across, 170.0)) / 2),
        nearest_m=float(reach.min()),
        seen=tuple(_seen(thing, eye, axis, venue) for thing in things),
        light=light_at(first, np.array([*eye, axis]), venue, ambient_ev),
    )


def _height(thing: Thing) -> float:
    return thing.height_m or _FACE_M


def _wedge(bearings: Array) -> tuple[float, float]:
    """Middle and width of the smallest wedge that holds all bearings, degrees."""
    if len(bearings) == 0:
        return 0.0, 0.0
    turned = np.sort(np.mod(bearings, 360.0))
    gaps = np.diff(np.append(turned, turned[0] + 360.0))
    widest = int(gaps.argmax())
    width = 360.0 - float(gaps[widest])
    start = float(turned[(widest + 1) % len(turned)])
    return (start + width / 2 + 180.0) % 360.0 - 180.0, width


def _seen(thing: Thing, eye: Array, axis: float, venue: Venue) -> Seen:
    """How far a thing is, and the obstacle that hides it or comes nearest to that."""
    at = np.array([thing.x_m, thing.y_m])
    far = float(np.hypot(*(at - eye)))
    target = thing.ground_m + _height(thing) / 2 if thing.height_m == 0 else thing.ground_m + thing.height_m
    worst: tuple[float, Thing, float] | None = None
    line = LineString([eye, at])
    for obstacle in venue.things:
        if obstacle.kind != "obstacle" or obstacle.id == thing.id:
            continue
        crossed = line.intersection(ground_of(obstacle))
        if crossed.is_empty or far == 0:
            continue
        # Over an obstacle the line is lowest, against its top, at one of the two ends of the stretch above it.
        ends = [Point(eye).distance(Point(c)) for c in _coords(crossed)]
        sight = min(axis + (target - axis) * d / far for d in ends)
        room = sight - (obstacle.ground_m + obstacle.height_m)
        if worst is None or room < worst[0]:
            worst = room, obstacle, sight
    if worst is None:
        return Seen(thing.id, far, None, None, None)
    room, obstacle, sight = worst
    return Seen(thing.id, far, obstacle.id if room < 0 else None, sight, obstacle.ground_m + obstacle.height_m)


def _coords(shape: BaseGeometry) -> Iterator[tuple[float, float]]:
    for part in getattr(shape, "geoms", [shape]):
        yield from ((float(x), float(y)) for x, y in part.coords)


@lru_cache(maxsize=2048)
def ground_of(thing: Thing) -> BaseGeometry:
    """What a thing covers on the plan, m."""
    corners = outline(thing)
    return Polygon(corners) if len(corners) == 4 else Point(corners[0]).buffer(0.05)


def ev_of(lux: float) -> float:
    """EV at ISO 100 of an illuminance."""
    return math.log2(lux / _LUX_AT_EV_0) if lux > 0 else -10.0


def light_at(thing: Thing, camera: Array, venue: Venue, ambient_ev: float | None) -> Light | None:
    """Light on the side of a thing that the camera sees; None where neither lamp nor sky is known.

    E = Σ E₁ₘ · dim · cos θ / d², within the beam about its aim; θ between the ways to the lamp and to the camera.
    """
    at = np.array([thing.x_m, thing.y_m, thing.ground_m + _height(thing) / 2])
    lux = _LUX_AT_EV_0 * 2.0**ambient_ev if ambient_ev is not None else 0.0
    lamps = []
    for lamp in venue.things:
        if lamp.kind != "lamp" or not lamp.lux_1m:
            continue
        stands = np.array([lamp.x_m, lamp.y_m, lamp.ground_m + lamp.height_m])
        to_lamp, to_camera = stands - at, camera - at
        d = float(np.linalg.norm(to_lamp))
        if d == 0 or not _in_beam(lamp, stands, at, venue):
            continue
        toward = float(np.linalg.norm(to_camera)) or 1.0
        cos = max(0.0, float(to_lamp @ to_camera) / d / toward)
        given = lamp.lux_1m * lamp.dim * cos / d**2
        if given > 0:
            lux += given
            lamps.append(lamp.id)
    if not lamps and ambient_ev is None:
        return None
    return Light(lux, ev_of(lux), tuple(lamps))


def _in_beam(lamp: Thing, stands: Array, at: Array, venue: Venue) -> bool:
    aim = venue.thing(lamp.aims_at) if lamp.aims_at else None
    if aim is None or lamp.beam_deg is None:
        return True
    way = np.array([aim.x_m, aim.y_m, aim.ground_m + _height(aim) / 2]) - stands
    there = at - stands
    reach = float(np.linalg.norm(way) * np.linalg.norm(there))
    if reach == 0:
        return True
    off = math.degrees(math.acos(min(1.0, max(-1.0, float(way @ there) / reach))))
    return off <= lamp.beam_deg / 2


def walk_m(start: tuple[float, float], end: tuple[float, float], venue: Venue) -> float:
    """The shortest way on foot round the obstacles; inf where they shut a place in."""
    return _way(start, end, venue)[0]


def lead_of(place: tuple[float, float], venue: Venue) -> Lead | None:
    """The lead to the nearest mains outlet; None where none is on the plan or all are shut in."""
    found: tuple[float, Thing, tuple[tuple[float, float], ...]] | None = None
    for outlet in venue.things:
        if outlet.kind == "mains":
            far, way = _way((outlet.x_m, outlet.y_m), place, venue)
            if math.isfinite(far) and (found is None or far < found[0]):
                found = far, outlet, way
    if found is None:
        return None
    line = LineString(found[2]) if found[0] > 0 else Point(place)
    crossed = (t.id for t in venue.things if t.kind == "lane" and line.intersects(ground_of(t)))
    return Lead(found[1].id, found[0], found[2], tuple(crossed))


@lru_cache(maxsize=512)
def _way(
    start: tuple[float, float], end: tuple[float, float], venue: Venue
) -> tuple[float, tuple[tuple[float, float], ...]]:
    """Length and corners of the shortest way: Dijkstra over the corners of the obstacles, widened by a shoulder."""
    walls = [ground_of(t).buffer(_SHOULDER_M, join_style="mitre") for t in venue.things if t.kind == "obstacle"]
    shut = unary_union(walls) if walls else None
    nodes: list[tuple[float, float]] = [start, end]
    for wall in walls:
        corners = [(float(x), float(y)) for x, y in list(wall.exterior.coords)[:-1]]
        nodes += [c for c in corners if not _inside(shut, c)]

    def free(a: tuple[float, float], b: tuple[float, float]) -> bool:
        line = LineString([a, b])
        return shut is None or not (line.crosses(shut) or line.within(shut))

    return _shortest(nodes, free)


def _inside(shut: BaseGeometry | None, at: tuple[float, float]) -> bool:
    return shut is not None and bool(shut.buffer(-1e-6).contains(Point(at)))


def _shortest(
    nodes: Sequence[tuple[float, float]], free: Callable[[tuple[float, float], tuple[float, float]], bool]
) -> tuple[float, tuple[tuple[float, float], ...]]:
    """From the first node to the second."""
    best, came = {0: 0.0}, {0: 0}
    queue = [(0.0, 0)]
    while queue:
        gone, here = heapq.heappop(queue)
        if here == 1:
            way = [1]
            while way[-1] != 0:
                way.append(came[way[-1]])
            return gone, tuple(nodes[i] for i in reversed(way))
        if gone > best[here]:
            continue
        for there, node in enumerate(nodes):
            if there != here and free(nodes[here], node):
                far = gone + math.dist(nodes[here], node)
                if far < best.get(there, math.inf):
                    best[there], came[there] = far, here
                    heapq.heappush(queue, (far, there))
    return math.inf, ()


def in_view(
    spot: Spot, bearing_deg: float, across_deg: float, x_m: float, y_m: float, wide_m: float = _PERSON_M
) -> bool:
    """Whether something so wide, an operator where nothing is said, stands in the wedge that a lens shows."""
    east, north = x_m - spot.x_m, y_m - spot.y_m
    far = math.hypot(east, north)
    if far == 0:
        return False
    off = abs((math.degrees(math.atan2(north, east)) - bearing_deg + 180) % 360 - 180)
    return off <= across_deg / 2 + math.degrees(math.atan2(wide_m / 2, far))


def target_of(typed: Target | None, place: Spot | None, venue: Venue) -> Target | None:
    """What a position must see: what was typed, and what the plan tells of the rest."""
    told = _told(place, venue) if place else None
    if typed is None or told is None:
        return typed or told
    return replace(
        typed,
        width_mm=typed.width_mm or told.width_mm,
        nearest_mm=typed.nearest_mm or told.nearest_mm,
        lamps_ev=told.lamps_ev if typed.lamps_ev is None else typed.lamps_ev,
        mains_m=told.mains_m if typed.mains_m is None else typed.mains_m,
    )


@lru_cache(maxsize=512)
def _told(place: Spot, venue: Venue) -> Target | None:
    sight = sight_of(place, venue, None)
    if sight is None:
        return None
    light = sight.light.ev if sight.light and sight.light.lamps else None
    lead = lead_of((place.x_m, place.y_m), venue)
    return Target(
        distance_mm=max(1.0, sight.distance_m * 1000),
        width_mm=sight.width_m * 1000 or None,
        nearest_mm=sight.nearest_m * 1000 or None,
        lamps_ev=None if light is None else min(20.0, max(-10.0, light)),
        mains_m=lead.length_m if lead else None,
    )
