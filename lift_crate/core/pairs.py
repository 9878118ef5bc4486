"""Every lens on every body of the pool: does it join, what does it cover, what does it show from a position.

Formulas: docs/formulas.md §2, 'Lens to body' and 'Crop and framing'.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Literal

from .adapting import AdapterChain, find_chain
from .assembly import Assembly
from .framing import angle_deg, crop_factor, width_at_mm
from .gear import GearModel, Port
from .glass import LensData, RecordedArea
from .optics import lens_chain
from .rig import Catalogue, Target

__all__ = ["Pair", "front_mount", "gaps_deg", "needed_angle_deg", "pairs"]

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


def pairs(catalogue: Catalogue, free: Iterable[str], fronts: Mapping[str, Port] | None = None) -> list[Pair]:
    """Every body model with every lens model of which there are units, bodies and lenses by name, widest lens first.

    ``fronts``: the mount that a body model has in front now, by its id, where a mount plate is on it.
    """
    free_now = tuple(free)
    models = {model.id: model for unit in catalogue.shelf if (model := catalogue.model(unit.model))}
    bodies = sorted((m for m in models.values() if m.body), key=lambda m: m.title)
    lenses = sorted(((m, m.lens) for m in models.values() if m.lens), key=lambda pair: (pair[1].focal_mm, pair[0].title))
    return [_pair(catalogue, body, (fronts or {}).get(body.id) or _lens_port(catalogue, body), lens, data, free_now) for body in bodies for lens, data in lenses]


def front_mount(assembly: Assembly) -> Port | None:
    """The mount in front of the body of a rig: that of the outermost mount plate on it; None where it has none on."""
    models = assembly.catalogue
    plates = [unit for unit in lens_chain(assembly, assembly.build.body) if models.model_of(unit).kind == "mount plate"]
    if not plates:
        return None
    joint = assembly.build.joint_of(plates[-1])
    return next((p for p in models.model_of(plates[-1]).ports if models.interfaces[p.interface].kind == "lens" and not (joint and joint.child_port == p.id)), None)


def _pair(catalogue: Catalogue, body: GearModel, mount: Port | None, lens: GearModel, data: LensData, free: tuple[str, ...]) -> Pair:
    own = _lens_port(catalogue, lens)
    chain = find_chain(catalogue, mount, own, free) if mount and own else None
    factor = math.prod(link.model.adapter.factor for link in chain.links if link.model.adapter) if chain else 1.0
    areas = sorted(body.body.areas, key=lambda a: -a.width_mm * a.height_mm) if body.body else []
    covered = next((a for a in areas if a.diagonal_mm <= data.image_circle_mm * factor), None)
    units = tuple(unit.id for unit in catalogue.shelf if unit.model == lens.id)
    return Pair(
        body, lens, data, _join(chain), chain, covered, bool(areas) and covered is areas[0],
        (data.focal_mm[0] * factor, data.focal_mm[1] * factor), units, tuple(u for u in units if u in free),
    )  # fmt: skip


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
