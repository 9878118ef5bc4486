"""Optical data: recorded areas and picture formats of bodies, lenses, filters, gear rings. mm, stops."""

from __future__ import annotations

import math
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Le, MaxLen, MinLen

from ..geometry import Vec3
from ..quantities import Coordinate, Identifier, Label, NotNegative, Positive
from ..settings import STRICT

__all__ = [
    "BodyData",
    "FilterData",
    "FollowFocus",
    "GearRing",
    "LensData",
    "PictureFormat",
    "RecordedArea",
    "ZoomPoint",
]

Light = Annotated[float, Ge(-10), Le(25)]
"""EV at ISO 100."""


@dataclass(frozen=True, kw_only=True)
class RecordedArea:
    """An area of the sensor a body can record."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    width_mm: Positive
    height_mm: Positive

    @property
    def diagonal_mm(self) -> float:
        """Diagonal."""
        return math.hypot(self.width_mm, self.height_mm)


@dataclass(frozen=True, kw_only=True)
class PictureFormat:
    """A picture a body puts out, and the rate its cables must carry."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    gbps: Positive
    bits: Literal[8, 10, 12, 14, 16] | None = None
    sampling: Literal["", "4:2:0", "4:2:2", "4:4:4", "raw"] = ""


@dataclass(frozen=True, kw_only=True)
class BodyData:
    """What makes a model a camera body: its recorded areas, largest first, outputs and lowest sensitivity."""

    __pydantic_config__ = STRICT

    areas: Annotated[tuple[RecordedArea, ...], MinLen(1)]
    formats: tuple[PictureFormat, ...] = ()
    """What it puts out, its usual one first."""
    iso: tuple[Positive, Positive] | None = None
    """Lowest and highest sensitivity of its usual picture profile."""
    shutters: Annotated[tuple[Positive, ...], MaxLen(60)] = ()
    """Shutter times it offers, as parts of a second: 50 is 1/50 s. None: any angle."""
    screen: Literal["none", "fixed", "tilting", "hinged left"] = "none"
    touch_focus: bool = False
    autofocus: Literal["none", "slow", "dependable"] = "none"
    autofocus_to_ev: Light | None = None
    """Down to which light its autofocus is dependable."""
    stabilised: Literal["none", "electronic", "sensor"] = "none"
    switch: Annotated[tuple[Label, ...], MaxLen(8)] = ()
    """Positions of its power switch, in order."""
    magnify: Label = ""
    """How the magnified view is left."""
    iris_push: Label = ""
    """Where the iris is set, and what a push on it does."""

    def __post_init__(self) -> None:
        if self.iso and self.iso[0] > self.iso[1]:
            raise ValueError(f"iso: {self.iso[0]:g} to {self.iso[1]:g}; the lowest of the profile comes first")


@dataclass(frozen=True, kw_only=True)
class ZoomPoint:
    """CG of a lens at one focal length."""

    __pydantic_config__ = STRICT

    focal_mm: Positive
    cg_mm: Vec3


@dataclass(frozen=True, kw_only=True)
class GearRing:
    """A toothed ring of a lens: which control, where its middle is along the lens, its outer radius and its pitch."""

    __pydantic_config__ = STRICT

    control: Literal["focus", "iris", "zoom"]
    at_mm: Coordinate
    radius_mm: Positive
    module_mm: Positive = 0.8


@dataclass(frozen=True, kw_only=True)
class LensData:
    """Optical data of a lens."""

    __pydantic_config__ = STRICT

    image_circle_mm: Positive
    focal_mm: tuple[Positive, Positive]
    """Shortest and longest; the same twice for a prime."""
    stop: Positive
    """Widest aperture, f."""
    t_stop: Positive | None = None
    long_stop: Positive | None = None
    """Widest aperture at the long end, f, where it is less than at the short end."""
    close_focus_mm: Positive | None = None
    """From the film-plane mark."""
    pupil_mm: NotNegative | None = None
    """Entrance pupil behind the front rim at the shortest focal length."""
    front_mm: Positive | None = None
    """Clear diameter of the front rim."""
    zoom: tuple[ZoomPoint, ...] = ()
    """CG by focal length, shortest first."""
    gears: tuple[GearRing, ...] = ()
    grows_mm: NotNegative = 0.0
    """How much longer it is at its long end."""
    autofocus: bool = False
    stabilised: bool = False
    rings: Literal["", "light", "firm"] = ""
    """How easily its rings turn."""
    holds_focus: bool = True
    """It stays in focus while it is zoomed."""

    def __post_init__(self) -> None:
        if self.focal_mm[0] > self.focal_mm[1]:
            raise ValueError(f"focal_mm: {self.focal_mm[0]:g} to {self.focal_mm[1]:g} mm; the shortest comes first")
        if self.long_stop is not None and self.long_stop < self.stop:
            raise ValueError(
                f"long_stop: f/{self.long_stop:g} at the long end and f/{self.stop:g} widest; no end is wider than that"
            )
        focals = [point.focal_mm for point in self.zoom]
        if focals != sorted(set(focals)):
            raise ValueError(
                f"zoom: the focal lengths {', '.join(f'{f:g}' for f in focals)} mm are out of order; each once,"
                " shortest first"
            )

    @property
    def zooms(self) -> bool:
        """True when it has more than one focal length."""
        return self.focal_mm[0] < self.focal_mm[1]

    def widest_stop_at(self, focal_mm: float) -> float:
        """Widest aperture at a focal length, f: even steps of stops for even steps of focal length between the ends.

        N = N₁·(N₂/N₁)^s with s = log(f/f₁)/log(f₂/f₁), ends held.
        """
        if self.long_stop is None or not self.zooms:
            return self.stop
        first, last = self.focal_mm
        share = math.log(min(max(focal_mm, first), last) / first) / math.log(last / first)
        return self.stop * float((self.long_stop / self.stop) ** share)

    def cg_at(self, focal_mm: float) -> Vec3 | None:
        """CG at a focal length, linear between the stated points, ends clamped."""
        if not self.zoom:
            return None
        focals = [point.focal_mm for point in self.zoom]
        x, y, z = (float(np.interp(focal_mm, focals, [point.cg_mm[k] for point in self.zoom])) for k in range(3))
        return x, y, z


@dataclass(frozen=True, kw_only=True)
class FilterData:
    """A filter: what it is, the stops it takes (twice the same when fixed), and its height in front of the lens."""

    __pydantic_config__ = STRICT

    kind: Literal["nd", "variable nd", "polariser", "clear", "diffusion"]
    stops: tuple[NotNegative, NotNegative]
    height_mm: Positive
    clear_mm: Positive | None = None
    """Clear diameter; of a tray filter its shorter side."""


@dataclass(frozen=True, kw_only=True)
class FollowFocus:
    """A gear that turns a lens ring: where its middle is, and its pitch."""

    __pydantic_config__ = STRICT

    at: Vec3
    radius_mm: Positive
    module_mm: Positive = 0.8
    width_mm: Positive = 8.0
    swing_mm: NotNegative = 0.0
    """How far it can be swung towards the lens or away."""
