"""Cables: do both plugs mate, is it long enough wherever the rig moves, does it carry what runs through it.

Formulas: docs/formulas.md §2, 'Cables'. A link runs between two sockets of the rig
and weighs half at each.
"""

from __future__ import annotations

from collections.abc import Iterator, Sequence
from dataclasses import dataclass

import numpy as np

from .callouts import About, Finding, Input, Level, Working
from .fit.joints import use_of
from .gear.electrical import Cable, Signal
from .gear.model import Port, mates
from .gear.optical import PictureFormat
from .geometry import Array, rotations_about
from .rig.assembly import Assembly
from .rig.build import Link, Target
from .settings import Settings
from .support.load import STAGES, Carried, moves_of, stage_of

__all__ = ["Route", "cabling_findings", "picture_in_use", "routes"]

_STEPS = 9
"""Attitudes tried along each axis of a gimbal."""
_FINER = 4
"""How often the grid is made finer around the furthest of them."""


@dataclass(frozen=True, slots=True)
class Route:
    """A cable of the rig: its ends, its length against the greatest straight distance, and what it crosses."""

    link: Link
    cable: Cable
    ends: tuple[Port, Port]
    straight_mm: float
    crosses: bool
    """It runs over the moving axes of a gimbal."""
    clamp_at: tuple[str, ...]
    """Units at which its plug must be clamped."""
    pull: str = ""
    """Over the axes of a gimbal: which it pulls on, to which side, and where it is best run."""


def routes(assembly: Assembly, held: Carried, settings: Settings, target: Target | None = None) -> tuple[Route, ...]:
    """Every cable of the rig with its route."""
    found = []
    held_links = assembly.layout.links
    for i, link in enumerate(assembly.layout.every_link):
        cable = assembly.catalogue.model_of(link.cable).cable
        if cable is None:
            continue
        ends = tuple(assembly.catalogue.model_of(u).port(p, u) for u, p in _ends(link))
        stages = [stage_of(assembly, held.support, unit, port) for unit, port in _ends(link)]
        crosses = stages[0] != stages[1]
        interfaces = assembly.catalogue.interfaces
        loose = tuple(
            unit
            for (unit, _), port in zip(_ends(link), ends, strict=True)
            if interfaces[port.interface].needs_clamp and not cable.locks
        )
        if i < len(held_links):
            points = assembly.sockets_mm[2 * i : 2 * i + 2]
            straight = _greatest_mm(assembly, held, points, stages, settings, target)
            pull = _pull(assembly, held, points, stages) if crosses else ""
        else:
            # Nobody knows where the hip is from one step to the next; a length that reaches is told instead.
            straight = settings.worn_reach_mm if {link.from_unit, link.to_unit} - set(assembly.layout.worn) else 0.0
            pull = _pull_of_lead(held, stages) if crosses else ""
        found.append(Route(link, cable, (ends[0], ends[1]), straight, crosses, loose, pull))
    return tuple(found)


def _ends(link: Link) -> tuple[tuple[str, str], tuple[str, str]]:
    return (link.from_unit, link.from_port), (link.to_unit, link.to_port)


def _greatest_mm(
    assembly: Assembly, held: Carried, points: Array, stages: list[str], settings: Settings, target: Target | None
) -> float:
    """Greatest straight distance between two sockets, mm in the rig frame, shape (2, 3), over the attitudes that a
    gimbal is used in: a grid over them, made finer around the best.
    """
    if stages[0] == stages[1] or held.support is None or held.gimbal is None:
        return float(np.linalg.norm(points[0] - points[1]))
    tf_gimbal_rig = assembly.pose(held.support).inverse()
    ends = [(tf_gimbal_rig.point(p), stage) for p, stage in zip(points, stages, strict=True)]
    tilt, roll = settings.attitudes["gimbal"]
    pans = [move.pan_deg for move in moves_of(target, settings).values()]
    limits = np.radians([(-tilt, tilt), (-roll, roll), (min(low for low, _ in pans), max(high for _, high in pans))])
    # Only the axes between the two stages move one socket against the other.
    between = range(*sorted(STAGES.index(stage) for stage in stages))
    middle, half = limits.mean(axis=1), np.diff(limits, axis=1)[:, 0] / 2
    half[[i for i in range(3) if i not in between]] = 0.0
    greatest = 0.0
    for _ in range(_FINER):
        grids = [
            (
                np.clip(middle[i] + half[i] * np.linspace(-1, 1, _STEPS if half[i] > 0 else 1), *limits[i])
                if half[i] > 0
                else np.zeros(1)
            )
            for i in range(3)
        ]
        angles = np.stack([grid.ravel() for grid in np.meshgrid(*grids, indexing="ij")])
        far = np.linalg.norm(_swung(*ends[0], held, angles) - _swung(*ends[1], held, angles), axis=1)
        best = int(far.argmax())
        greatest, middle, half = max(greatest, float(far[best])), angles[:, best], half * 2 / (_STEPS - 1)
    return greatest


_AXES = ("tilt", "roll", "pan")
_WAYS = (("back", "forward"), ("to the right", "to the left"), ("down", "up"))


def _pull(assembly: Assembly, held: Carried, points: Array, stages: list[str]) -> str:
    """In words: the axes between the two stages, the way the camera's end is pulled, level, and the side of the arms.

    ``points``: both sockets in the rig frame, mm, shape (2, 3).
    """
    if held.support is None or held.gimbal is None:
        return ""
    order = [STAGES.index(stage) for stage in stages]
    upper, lower = (0, 1) if order[0] < order[1] else (1, 0)
    tf_gimbal_rig = assembly.pose(held.support).inverse()
    s = held.solution
    a, v, side, b = (x.set_mm for x in s.slides) if s else (0.0, 0.0, 0.0, 0.0)
    shift = {"tilt": np.array([a + b, side, v]), "roll": np.array([b, 0.0, 0.0])}
    ends = [
        tf_gimbal_rig.point(point) + shift.get(stage, np.zeros(3)) for point, stage in zip(points, stages, strict=True)
    ]
    along = ends[lower] - ends[upper]
    most = float(np.abs(along).max())
    ways = [_WAYS[i][int(along[i] > 0)] for i in np.argsort(-np.abs(along)) if most > 0 and abs(along[i]) > most / 2]
    axes = _AXES[order[upper] : order[lower]]
    arm = held.gimbal.roll.cg_mm[1]
    best = f"; best along the {'left' if arm > 0 else 'right'} arm, close to its axis" if abs(arm) > 1 else ""
    return f"pulls {' and '.join(ways) or 'nowhere'} on {', '.join(axes)}{best}"


def _pull_of_lead(held: Carried, stages: list[str]) -> str:
    """The same of a cable to what the operator wears: it hangs down from the rig, and follows every step."""
    if held.gimbal is None:
        return ""
    axes = _AXES[min(STAGES.index(stage) for stage in stages) : STAGES.index("handle")]
    return f"pulls down on {', '.join(axes)}; best tied to the handle, with a loop from there to the camera"


def _swung(at: Array, stage: str, held: Carried, angles: Array) -> Array:
    """A point of a gimbal's stage over tilts, rolls and pans in radians, ``angles`` shape
    (3, k), in the handle's frame, shape (k, 3); slides as they are set.
    """
    s = held.solution
    a, v, side, b = (x.set_mm for x in s.slides) if s else (0.0, 0.0, 0.0, 0.0)
    theta, rho, phi = angles
    if stage == "handle":
        return np.broadcast_to(at, (len(theta), 3))
    found = np.broadcast_to(at, (len(theta), 3))
    if stage == "tilt":
        x, z = at[0] + a, at[2] + v
        found = np.column_stack(
            (
                x * np.cos(theta) + z * np.sin(theta),
                np.full_like(theta, at[1] + side),
                z * np.cos(theta) - x * np.sin(theta),
            )
        )
    if stage in ("tilt", "roll"):
        axis = np.asarray(held.gimbal.roll_axis if held.gimbal else (1, 0, 0), dtype=float)
        found = np.einsum("kij,kj->ki", rotations_about(axis, np.degrees(rho)), found) + np.array([b, 0.0, 0.0])
    return np.asarray(np.einsum("kij,kj->ki", rotations_about(np.array([0.0, 0.0, 1.0]), np.degrees(phi)), found))


def picture_in_use(assembly: Assembly, unit: str) -> PictureFormat | None:
    """The picture a body puts out, its usual one when nothing was said; None for anything else."""
    body = assembly.catalogue.model_of(unit).body
    if body is None or not body.formats:
        return None
    chosen = assembly.build.setting_of(unit).picture
    return next((f for f in body.formats if f.id == chosen), body.formats[0])


def cabling_findings(assembly: Assembly, found: Sequence[Route], settings: Settings) -> Iterator[Finding]:
    """All findings on the cables of a build, by their routes."""
    for route in found:
        yield from _plugs(assembly, route)
        yield from _length(route, settings)
        yield from _over_axes(route)
        yield from _shaken(assembly, route, settings)
        yield from _carries(assembly, route)
    loose = [f"{route.link.cable} at {' and '.join(route.clamp_at)}" for route in found if route.clamp_at]
    if loose:
        yield Finding(
            code="link.clamp",
            level=Level.NOTE,
            about=About(units=tuple(r.link.cable for r in found if r.clamp_at)),
            text=f"Plugs without a lock, to be clamped or taped: {'; '.join(loose)}.",
            value=len(loose),
            unit="cables",
        )


def _plugs(assembly: Assembly, route: Route) -> Iterator[Finding]:
    model = assembly.catalogue.model_of(route.link.cable)
    for plug_id, (unit, _), socket in zip("ab", _ends(route.link), route.ends, strict=True):
        plug = model.port(plug_id, route.link.cable)
        if not socket.electrical and not mates(plug, socket):
            yield Finding(
                code="link.connector",
                level=Level.STOP,
                about=About(units=(route.link.cable, unit), port=socket.id),
                text=f"End '{plug.label}' of {route.link.cable} does not mate with '{socket.label}' of {unit}.",
            )
    roles = [end.signal.role if end.signal else "both" for end in route.ends]
    if roles[0] == roles[1] and roles[0] != "both":
        yield Finding(
            code="link.roles",
            level=Level.STOP,
            about=About(units=(route.link.cable, route.link.from_unit, route.link.to_unit)),
            text=(
                f"{route.link.cable} joins two {roles[0]}puts, '{route.ends[0].label}' of {route.link.from_unit} and"
                f" '{route.ends[1].label}' of {route.link.to_unit}; nothing runs."
            ),
        )


def _length(route: Route, settings: Settings) -> Iterator[Finding]:
    needed = route.straight_mm * settings.cable_slack
    if route.cable.length_mm >= needed:
        return
    taut = route.cable.length_mm < route.straight_mm
    yield Finding(
        code="link.length",
        level=Level.STOP if taut else Level.WATCH,
        about=About(units=(route.link.cable, route.link.from_unit, route.link.to_unit)),
        text=f"{route.link.cable} is {route.cable.length_mm:.0f} mm long; "
        + (
            f"its sockets are up to {route.straight_mm:.0f} mm apart."
            if taut
            else f"{needed:.0f} mm are wanted with slack."
        )
        + (" It runs over the gimbal's axes." if route.crosses else ""),
        value=route.cable.length_mm,
        limit=route.straight_mm if taut else needed,
        unit="mm",
        working=(
            Working(
                formula="length ≥ slack × greatest straight distance between its sockets",
                numbers=f"{settings.cable_slack:g} × {route.straight_mm:.0f} mm = {needed:.0f} mm",
                inputs=(Input(name="slack", value=f"× {settings.cable_slack:g}", source="setting"),),
            ),
        ),
    )


def _over_axes(route: Route) -> Iterator[Finding]:
    if route.crosses and route.cable.stiffness != "thin":
        stiff = route.cable.stiffness == "stiff"
        yield Finding(
            code="link.stiff",
            level=Level.WATCH if stiff else Level.NOTE,
            about=About(units=(route.link.cable, route.link.from_unit, route.link.to_unit)),
            text=(
                f"{route.link.cable} is {'stiff' if stiff else 'no thin cable'} and runs over the gimbal's axes;"
                f" it {route.pull or 'pulls on the motors'}."
            ),
        )


def _shaken(assembly: Assembly, route: Route, settings: Settings) -> Iterator[Finding]:
    """The thin cable that a gimbal wants is the one that a vehicle or a run tears out."""
    handling = use_of(assembly, settings).handling
    if handling in ("running", "vehicle") and route.cable.stiffness == "thin" and not route.crosses:
        if route.cable.locks:
            return
        yield Finding(
            code="link.thin",
            level=Level.NOTE,
            about=About(units=(route.link.cable, route.link.from_unit, route.link.to_unit)),
            text=(
                f"{route.link.cable} is thin, does not lock and crosses no axis of a gimbal: where the rig is shaken"
                f" ({handling}) a stout one that locks lasts, tied down at both ends."
            ),
        )


def _carries(assembly: Assembly, route: Route) -> Iterator[Finding]:
    ends = list(zip(_ends(route.link), route.ends, strict=True))
    if route.ends[0].signal and route.ends[0].signal.role == "in":
        ends.reverse()
    ((source, _), out), ((sink, _), into) = ends
    if out.signal is None or into.signal is None:
        return
    about = About(units=(route.link.cable, source, sink))
    picture = picture_in_use(assembly, source)
    if out.signal.what == "picture" and picture:
        limits = [
            (out.signal.max_gbps, f"'{out.label}' of {source}"),
            (route.cable.max_gbps, route.link.cable),
            (into.signal.max_gbps, f"'{into.label}' of {sink}"),
        ]
        for most, what in limits:
            if most is not None and picture.gbps > most + 1e-9:
                yield Finding(
                    code="link.rate",
                    level=Level.STOP,
                    about=about,
                    text=f"{picture.label} runs at {picture.gbps:g} Gb/s; {what} carries {most:g} Gb/s.",
                    value=picture.gbps,
                    limit=most,
                    unit="Gb/s",
                )
    if out.signal.what == "sound":
        yield from sound_misfits(about, source, out.signal, sink, into)


def sound_misfits(about: About, source: str, gives: Signal, sink: str, into: Port) -> Iterator[Finding]:
    """What stands against sound from one socket into another: phantom power and level."""
    takes = into.signal
    if takes is None:
        return
    if gives.phantom == "needs" and takes.phantom != "gives":
        yield Finding(
            code="audio.phantom",
            level=Level.STOP,
            about=about,
            text=f"{source} needs 48 V phantom power, which '{into.label}' of {sink} does not give; it stays silent.",
        )
    if gives.level and takes.level and not set(gives.level) & set(takes.level):
        yield Finding(
            code="audio.level",
            level=Level.WATCH,
            about=about,
            text=f"{source} gives {gives.level[0]} level, '{into.label}' of {sink} takes {takes.level[0]} level: "
            + ("it will distort." if gives.level[0] == "line" else "it will be buried in noise."),
        )
