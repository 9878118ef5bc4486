"""Every lens on every body of the pool: does it join, what does it cover, what does it show from a position.

Formulas: docs/formulas.md §2, 'Lens to body' and 'Crop and framing'.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from ..fit.adapters import AdapterChain, all_chains, half_for
from ..gear.model import GearModel, Port, mates
from ..gear.optical import LensData, RecordedArea
from ..rig.assembly import Assembly
from ..rig.build import Catalogue, Target
from .framing import angle_deg, crop_factor, exposure_ev, width_at_mm
from .mount import lens_chain, losses_through

__all__ = [
    "Pair",
    "PlateChoice",
    "bodies_of",
    "front_mount",
    "gaps_deg",
    "needed_angle_deg",
    "pairs",
    "plate_choices",
]

Join = Literal["straight", "adapter", "to hire", "no"]


@dataclass(frozen=True, slots=True)
class Pair:
    """A lens model on a body model: how it joins, the largest area it covers, and what it shows on that."""

    body: GearModel
    lens: GearModel
    data: LensData
    join: Join
    chain: AdapterChain | None
    area: RecordedArea | None
    """Largest recorded area of the body that the lens covers; None: none of them."""
    full: bool
    """It covers the largest area the body has."""
    focal_mm: tuple[float, float]
    """Shortest and longest, through reducers."""
    units: tuple[str, ...]
    free: tuple[str, ...]
    loses: tuple[str, ...] = ()
    """Functions of the lens that do not reach the body."""

    @property
    def t_stops(self) -> tuple[float, float]:
        """Widest aperture at the shortest and at the longest focal length, through reducers; f where no T is known."""
        factor = self.focal_mm[0] / self.data.focal_mm[0]
        wide = (self.data.t_stop or self.data.stop) * factor
        return wide, wide * (self.data.long_stop or self.data.stop) / self.data.stop

    def darkest_ev(self, fps: float, shutter_deg: float) -> tuple[float, float] | None:
        """Darkest scene, EV at ISO 100, that is exposed right wide open at the body's highest sensitivity, at both ends
        of the zoom; None where the body's sensitivity is not known.
        """
        iso = self.body.body.iso if self.body.body else None
        if iso is None:
            return None
        wide, long = (exposure_ev(stop, shutter_deg / 360 / fps, iso[1]) for stop in self.t_stops)
        return wide, long

    @property
    def works(self) -> bool:
        """It joins with what is here, and covers something."""
        return self.join in ("straight", "adapter") and self.area is not None

    @property
    def crop(self) -> float | None:
        """Crop factor of the area it covers."""
        return crop_factor(self.area.diagonal_mm) if self.area else None

    @property
    def angles_deg(self) -> tuple[float, float] | None:
        """Widest and narrowest angle of view across."""
        if self.area is None:
            return None
        return angle_deg(self.area.width_mm, self.focal_mm[0]), angle_deg(self.area.width_mm, self.focal_mm[1])

    def widths_mm(self, distance_mm: float) -> tuple[float, float] | None:
        """Widest and narrowest picture at a distance, None where it cannot be focused."""
        if self.area is None or distance_mm < (self.data.close_focus_mm or 0):
            return None
        wide, narrow = (width_at_mm(self.area.width_mm, f, distance_mm) for f in self.focal_mm)
        return None if wide is None or narrow is None else (wide, narrow)


def bodies_of(catalogue: Catalogue) -> list[GearModel]:
    """Every body model of which there are units, by name."""
    models = {unit.model for unit in catalogue.shelf}
    return sorted((m for m in catalogue.models.values() if m.body and m.id in models), key=lambda m: m.title)


def pairs(
    catalogue: Catalogue,
    free: Iterable[str],
    fronts: Mapping[str, Port] | None = None,
    only: str | None = None,
) -> list[Pair]:
    """Every body model with every lens model of which there are units, bodies and lenses by name, widest lens first.

    ``fronts``: the mount that a body model has in front now, by its id, where a mount plate is on it;
    ``only``: the one body model that is asked about.
    """
    free_now = tuple(free)
    units: dict[str, list[str]] = {}
    for unit in catalogue.shelf:
        units.setdefault(unit.model, []).append(unit.id)
    models = {model.id: model for unit in catalogue.shelf if (model := catalogue.model(unit.model))}
    bodies = [body for body in bodies_of(catalogue) if only in (None, body.id)]
    lenses = sorted(
        ((m, m.lens) for m in models.values() if m.lens), key=lambda pair: (pair[1].focal_mm, pair[0].title)
    )
    mounts = {body.id: (fronts or {}).get(body.id) or _lens_port(catalogue, body) for body in bodies}
    # One search a kind of mount finds the ways to all lenses; bodies alike share it.
    halves = {(mount.interface, mount.gender): mount for mount in mounts.values() if mount}
    chains = {half: all_chains(catalogue, mount, free_now) for half, mount in halves.items()}
    here = [_Lens(lens, data, _half(catalogue, lens), tuple(units[lens.id])) for lens, data in lenses]
    found, free_set = [], frozenset(free_now)
    for body in bodies:
        mount = mounts[body.id]
        ways = chains[mount.interface, mount.gender] if mount else {}
        found += [_pair(catalogue, body, ways.get(lens.half) if lens.half else None, lens, free_set) for lens in here]
    return found


@dataclass(frozen=True, slots=True)
class _Lens:
    """A lens model with the half it needs and its units."""

    model: GearModel
    data: LensData
    half: tuple[str, str] | None
    units: tuple[str, ...]


def _half(catalogue: Catalogue, lens: GearModel) -> tuple[str, str] | None:
    own = _lens_port(catalogue, lens)
    return half_for(own) if own else None


def front_mount(assembly: Assembly) -> Port | None:
    """The mount in front of the body of a rig: that of the outermost mount plate on it; None where it has none on."""
    models = assembly.catalogue
    plates = [unit for unit in lens_chain(assembly) if models.model_of(unit).kind == "mount plate"]
    if not plates:
        return None
    joint = assembly.build.joint_of(plates[-1])
    return next(
        (
            p
            for p in models.model_of(plates[-1]).ports
            if models.interfaces[p.interface].kind == "lens" and not (joint and joint.child_port == p.id)
        ),
        None,
    )


def _pair(catalogue: Catalogue, body: GearModel, chain: AdapterChain | None, lens: _Lens, free: frozenset[str]) -> Pair:
    factor = math.prod(link.model.adapter.factor for link in chain.links if link.model.adapter) if chain else 1.0
    areas = sorted(body.body.areas, key=lambda a: -a.width_mm * a.height_mm) if body.body else []
    covered = next((a for a in areas if a.diagonal_mm <= lens.data.image_circle_mm * factor), None)
    return Pair(
        body,
        lens.model,
        lens.data,
        _join(chain),
        chain,
        covered,
        bool(areas) and covered is areas[0],
        (lens.data.focal_mm[0] * factor, lens.data.focal_mm[1] * factor),
        lens.units,
        tuple(u for u in lens.units if u in free),
        _lost(catalogue, lens, chain),
    )


def _lost(catalogue: Catalogue, lens: _Lens, chain: AdapterChain | None) -> tuple[str, ...]:
    """What of the contacts of a lens does not get through the adapters between it and the body."""
    if chain is None or not chain.links or lens.half is None:
        return ()
    inwards = [(link.model.id, link.model) for link in reversed(chain.links)]
    _, lost = losses_through(catalogue.interfaces, lens.half[0], inwards)
    return tuple(what for each in lost for what in (*each.through, *each.beyond))


@dataclass(frozen=True, slots=True)
class PlateChoice:
    """A mount plate of the shelf on a body: lenses it opens and closes against what is in front now, by their ids."""

    plate: GearModel
    units: tuple[str, ...]
    on: bool
    """It is the one that is on."""
    opens: tuple[str, ...]
    closes: tuple[str, ...]


def plate_choices(
    catalogue: Catalogue, free: Iterable[str], body: GearModel, front: Port | None
) -> tuple[PlateChoice, ...]:
    """Mount plates for a body, and what each would open and close: lenses that join with it straight or by an adapter
    that is here; empty where the body takes none. ``front``: the mount that is in front now, if a plate is on.
    """
    seat, free_now = _lens_port(catalogue, body), tuple(free)
    if seat is None:
        return ()
    units: dict[str, list[str]] = {}
    for unit in catalogue.shelf:
        units.setdefault(unit.model, []).append(unit.id)
    found: list[tuple[GearModel, Port]] = []
    for name in units:
        model = catalogue.model(name)
        if model.kind == "mount plate" and model.adapter:
            rear, outer = model.port(model.adapter.toward_body), model.port(model.adapter.toward_part)
            if mates(seat, rear):
                found.append((model, outer))

    def joining(mount: Port | None) -> set[str]:
        fronts = {body.id: mount} if mount else None
        return {p.lens.id for p in pairs(catalogue, free_now, fronts, body.id) if p.join in ("straight", "adapter")}

    now = joining(front) if front else set()
    choices = []
    for model, outer in sorted(found, key=lambda each: each[0].title):
        there = joining(outer)
        on = front is not None and (outer.interface, outer.gender) == (front.interface, front.gender)
        choices.append(
            PlateChoice(model, tuple(units[model.id]), on, tuple(sorted(there - now)), tuple(sorted(now - there)))
        )
    return tuple(choices)


def _join(chain: AdapterChain | None) -> Join:
    if chain is None:
        return "no"
    if chain.units is None:
        return "to hire"
    return "straight" if all(link.model.kind == "mount plate" for link in chain.links) else "adapter"


def _lens_port(catalogue: Catalogue, model: GearModel) -> Port | None:
    return next((p for p in model.ports if catalogue.interfaces[p.interface].kind == "lens"), None)


def needed_angle_deg(target: Target) -> float | None:
    """Angle across that just takes in the width asked for, from the film plane; None when none is asked for."""
    return None if target.width_mm is None else math.degrees(2 * math.atan(target.width_mm / 2 / target.distance_mm))


def gaps_deg(found: Iterable[Pair]) -> list[tuple[float, float]]:
    """Ranges of angle between the widest and the narrowest that no working pair reaches, widest first."""
    spans = sorted((p.angles_deg for p in found if p.works and p.angles_deg), key=lambda span: -span[0])
    gaps = []
    reached = spans[0][1] if spans else 0.0
    for wide, narrow in spans[1:]:
        if wide < reached - 1e-9:
            gaps.append((reached, wide))
        reached = min(reached, narrow)
    return gaps
