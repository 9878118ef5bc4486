"""What the catalogue says of gear: interfaces and models, in the model's own frame.

Frame of a model: any convenient origin, axes as the rig frame when the part sits
on a camera the usual way. mm, g, V, A, W, Wh, Ω, N, N·m throughout.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from functools import cached_property
from typing import Annotated, Literal

import numpy as np
from annotated_types import Ge, Gt, Le, MinLen

from .errors import LiftCrateError, UnknownPort
from .geometry import Array, Vec3, port_basis
from .settings import STRICT

__all__ = [
    "Adapter",
    "Block",
    "BodyData",
    "Draw",
    "Electrical",
    "GearModel",
    "GimbalData",
    "ImpossibleModel",
    "Interface",
    "LensData",
    "Pack",
    "Port",
    "RecordedArea",
    "Round",
    "Slide",
    "SlideRange",
    "Source",
    "Stage",
    "SupportData",
    "ZoomPoint",
    "mates",
]

Source = Literal["measured", "catalogue", "assumed"]
Gender = Literal["female", "male"]
GimbalStage = Literal["seat", "tilt", "roll", "pan", "handle"]
"""Parts of a gimbal that move apart: the seat slides up and down on the tilt stage with the camera."""

Positive = Annotated[float, Gt(0)]
NotNegative = Annotated[float, Ge(0)]
Identifier = Annotated[str, MinLen(1)]


class ImpossibleModel(LiftCrateError, ValueError):
    """A catalogue entry whose figures contradict each other."""

    code = "model.impossible"

    def __init__(self, model: str, where: str, seen: str, want: str) -> None:
        self.model, self.where, self.seen, self.want = model, where, seen, want

    def __str__(self) -> str:
        return f"{self.model}, {self.where}: {self.seen}; {self.want}."


@dataclass(frozen=True, kw_only=True)
class Interface:
    """A kind of joint or plug: two ports of one interface with unlike genders mate."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: str
    kind: Literal["thread", "shoe", "rail", "rod", "lens", "plate", "battery", "front", "power", "signal"]
    female: str = "socket"
    """What the receiving half is called at the bench."""
    male: str = "plug"
    spins_deg: tuple[float, ...] = ()
    """Turns in which the halves go together; empty: any."""
    holding_nm: float | None = None
    """Twist that friction alone holds; None: it cannot twist."""
    flange_mm: float | None = None
    """Lens mounts: flange distance."""
    carries_power: bool = False

    def half(self, gender: Gender) -> str:
        """The bench name of one half."""
        return self.female if gender == "female" else self.male


@dataclass(frozen=True, kw_only=True)
class Slide:
    """How far a child can move along a port, mm from the port's position."""

    __pydantic_config__ = STRICT

    axis: Vec3
    min_mm: float
    max_mm: float


@dataclass(frozen=True, kw_only=True)
class Electrical:
    """The electrical side of a port.

    An input accepts ``min_v`` to ``max_v`` and stops at ``cutoff_v`` when it has a
    stop of its own. An outlet passes its unit's voltage on, or gives ``output_v``
    from a converter of ``efficiency``.
    """

    __pydantic_config__ = STRICT

    role: Literal["in", "out"]
    min_v: NotNegative | None = None
    max_v: Positive | None = None
    cutoff_v: Positive | None = None
    max_a: Positive | None = None
    output_v: Positive | None = None
    efficiency: Annotated[float, Gt(0), Le(1)] = 1.0
    polarity: str = "standard"


@dataclass(frozen=True, kw_only=True)
class Port:
    """A place where something joins: position, outward normal and up in the model's frame."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: str
    interface: Identifier
    gender: Gender
    at: Vec3 = (0.0, 0.0, 0.0)
    n: Vec3 = (0.0, 0.0, 1.0)
    u: Vec3 = (1.0, 0.0, 0.0)
    slide: Slide | None = None
    spins_deg: tuple[float, ...] = ()
    """Allowed spins where they differ from the interface's."""
    load_n: Positive | None = None
    moment_nm: Positive | None = None
    anti_twist: bool = False
    takes: Annotated[int, Ge(1)] = 1
    """How many children: 1, or several on a rail or rod pair."""
    grip_mm: NotNegative = 0.0
    """Length this port uses of a rail it sits on."""
    electrical: Electrical | None = None
    stage: GimbalStage | None = None
    """Gimbals: the part that this port moves with."""

    @cached_property
    def basis(self) -> Array:
        """[n | u | n×u], shape (3, 3)."""
        return port_basis(self.n, self.u)

    def at_slid(self, slide_mm: float) -> Array:
        """Position with the slide moved, shape (3,)."""
        if self.slide is None or slide_mm == 0.0:
            return self._at
        return np.asarray(self._at + slide_mm * np.asarray(self.slide.axis, dtype=float))

    @cached_property
    def _at(self) -> Array:
        return np.asarray(self.at, dtype=float)


_UNIT_CUBE = np.array([[i, j, k] for i in (0, 1) for j in (0, 1) for k in (0, 1)])
_CIRCLE = np.linspace(0, 2 * np.pi, 28, endpoint=False)


@dataclass(frozen=True, kw_only=True)
class Block:
    """A box, two opposite corners; ``stage`` tells which part of a gimbal it moves with."""

    __pydantic_config__ = STRICT

    block: tuple[Vec3, Vec3]
    look: Literal["body", "metal", "glass", "screen", "soft", "accent"] = "body"
    stage: GimbalStage | None = None

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner."""
        return self.block

    @cached_property
    def points(self) -> Array:
        """All eight corners, shape (8, 3)."""
        low, high = (np.asarray(corner, dtype=float) for corner in self.block)
        return np.asarray(low + _UNIT_CUBE * (high - low))


@dataclass(frozen=True, kw_only=True)
class Round:
    """A barrel, rod or cone between two points, with a radius at each end."""

    __pydantic_config__ = STRICT

    barrel: tuple[Vec3, Vec3]
    radius_mm: Positive
    end_radius_mm: Positive | None = None
    look: Literal["body", "metal", "glass", "screen", "soft", "accent"] = "body"
    stage: GimbalStage | None = None

    @property
    def corners(self) -> tuple[Vec3, Vec3]:
        """Lowest and highest corner of the box around it."""
        a, b = (np.asarray(p, dtype=float) for p in self.barrel)
        axis = (b - a) / (np.linalg.norm(b - a) or 1.0)
        reach = np.sqrt(np.clip(1.0 - axis**2, 0.0, 1.0)) * max(self.radius_mm, self.end_radius_mm or 0.0)
        low, high = np.minimum(a, b) - reach, np.maximum(a, b) + reach
        return (low[0], low[1], low[2]), (high[0], high[1], high[2])

    @property
    def end_radius(self) -> float:
        """Radius at the second end."""
        return self.radius_mm if self.end_radius_mm is None else self.end_radius_mm

    @cached_property
    def points(self) -> Array:
        """Both rims, 28 points each, shape (56, 3)."""
        a, b = (np.asarray(end, dtype=float) for end in self.barrel)
        axis = (b - a) / (np.linalg.norm(b - a) or 1.0)
        helper = np.array([0.0, 0.0, 1.0]) if abs(axis[2]) < 0.9 else np.array([1.0, 0.0, 0.0])
        u = np.cross(axis, helper)
        u /= np.linalg.norm(u)
        ring = np.outer(np.cos(_CIRCLE), u) + np.outer(np.sin(_CIRCLE), np.cross(axis, u))
        return np.vstack((a + self.radius_mm * ring, b + self.end_radius * ring))


@dataclass(frozen=True, kw_only=True)
class Draw:
    """What a device draws at its input, W."""

    __pydantic_config__ = STRICT

    standby_w: NotNegative
    record_w: NotNegative
    peak_w: NotNegative


@dataclass(frozen=True, kw_only=True)
class Pack:
    """A rechargeable pack of cells in series."""

    __pydantic_config__ = STRICT

    cells: Annotated[int, Ge(1)]
    capacity_ah: Positive
    resistance_ohm: NotNegative
    max_a: Positive | None = None

    @property
    def energy_wh(self) -> float:
        """Printed energy at 3.6 V a cell."""
        return self.cells * 3.6 * self.capacity_ah


@dataclass(frozen=True, kw_only=True)
class RecordedArea:
    """An area of the sensor a body can record."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: str
    width_mm: Positive
    height_mm: Positive

    @property
    def diagonal_mm(self) -> float:
        """Diagonal."""
        return math.hypot(self.width_mm, self.height_mm)


@dataclass(frozen=True, kw_only=True)
class BodyData:
    """What makes a model a camera body: its recorded areas, largest first."""

    __pydantic_config__ = STRICT

    areas: Annotated[tuple[RecordedArea, ...], MinLen(1)]


@dataclass(frozen=True, kw_only=True)
class ZoomPoint:
    """CG of a lens at one focal length."""

    __pydantic_config__ = STRICT

    focal_mm: Positive
    cg_mm: Vec3


@dataclass(frozen=True, kw_only=True)
class LensData:
    """Optical data of a lens."""

    __pydantic_config__ = STRICT

    image_circle_mm: Positive
    focal_mm: tuple[Positive, Positive]
    """Shortest and longest; the same twice for a prime."""
    stop: Positive
    zoom: tuple[ZoomPoint, ...] = ()

    def cg_at(self, focal_mm: float) -> Vec3 | None:
        """CG at a focal length, linear between the stated points, ends clamped."""
        if not self.zoom:
            return None
        focals = [point.focal_mm for point in self.zoom]
        x, y, z = (float(np.interp(focal_mm, focals, [point.cg_mm[k] for point in self.zoom])) for k in range(3))
        return x, y, z


@dataclass(frozen=True, kw_only=True)
class Adapter:
    """What makes a model an adapter between two of its own ports."""

    __pydantic_config__ = STRICT

    toward_body: Identifier
    """Port that goes on the body's side (or on the thing adapted from)."""
    toward_part: Identifier
    optics: bool = False
    factor: Positive = 1.0
    loses: tuple[str, ...] = ()


@dataclass(frozen=True, kw_only=True)
class Stage:
    """Mass of a gimbal stage and its CG from the point where the axes meet."""

    __pydantic_config__ = STRICT

    mass_g: NotNegative
    cg_mm: Vec3


@dataclass(frozen=True, kw_only=True)
class SlideRange:
    """A gimbal slide: travel in mm, and its printed scale, reading = zero + direction·slide."""

    __pydantic_config__ = STRICT

    min_mm: float
    max_mm: float
    zero: float = 0.0
    direction: Literal[1, -1] = 1

    def reading(self, slide_mm: float) -> float:
        """Number on the printed scale."""
        return self.zero + self.direction * slide_mm


@dataclass(frozen=True, kw_only=True)
class GimbalData:
    """Stages, slides and motors of a three-axis gimbal, order pan · roll · tilt."""

    __pydantic_config__ = STRICT

    camera_port: Identifier
    max_payload_g: Positive
    min_payload_g: NotNegative = 0.0
    tilt: Stage
    roll: Stage
    pan: Stage
    fore_aft: SlideRange
    vertical: SlideRange
    lateral: SlideRange
    pan_slide: SlideRange
    torque_nm: tuple[float, float, float]
    """Continuous torque of the tilt, roll and pan motors."""
    motor_constant: tuple[float, float, float] | None = None
    """Km of the same motors, N·m/√W."""
    base_w: NotNegative | None = None
    axis_locks: bool = True


@dataclass(frozen=True, kw_only=True)
class SupportData:
    """What carries the rig: its kind, the port or point it holds by, and its limit."""

    __pydantic_config__ = STRICT

    kind: Literal["hand", "shoulder", "head", "gimbal"]
    at: Vec3 = (0.0, 0.0, 0.0)
    """Point of support in the model's frame: pad, pivot, palm."""
    max_payload_g: Positive | None = None


@dataclass(frozen=True, kw_only=True)
class GearModel:
    """One entry of the catalogue."""

    __pydantic_config__ = STRICT

    id: Identifier
    kind: Identifier
    maker: str
    name: Identifier
    mass_g: NotNegative | None = None
    mass_source: Source = "catalogue"
    cg_mm: Vec3 | None = None
    cg_source: Source = "catalogue"
    shapes: tuple[Block | Round, ...] = ()
    ports: tuple[Port, ...] = ()
    draw: Draw | None = None
    pack: Pack | None = None
    body: BodyData | None = None
    lens: LensData | None = None
    adapter: Adapter | None = None
    gimbal: GimbalData | None = None
    support: SupportData | None = None
    cable_length_mm: Positive | None = None
    cable_ohm_per_m: NotNegative = 0.0
    """Resistance of one conductor; the current goes there and back."""
    cable_max_a: Positive | None = None
    cable_stiffness: Literal["thin", "ordinary", "stiff"] = "ordinary"
    note: str = ""

    def __post_init__(self) -> None:
        ids = [port.id for port in self.ports]
        for twice in {i for i in ids if ids.count(i) > 1}:
            raise ImpossibleModel(self.id, "ports", f"'{twice}' stands twice", "every port of a model has its own name")
        for port in self.ports:
            self._check_axes(port)
        for named in self._named_ports():
            if named not in ids:
                raise ImpossibleModel(
                    self.id, "ports", f"'{named}' is referred to and not there", f"name one of: {', '.join(ids)}"
                )
        if self.gimbal:
            for axis, torque in zip(("tilt", "roll", "pan"), self.gimbal.torque_nm, strict=True):
                if not torque > 0:
                    raise ImpossibleModel(
                        self.id, f"gimbal.torque_nm ({axis})", f"{torque:g} N·m", "a motor's torque is above zero"
                    )

    def _named_ports(self) -> tuple[str, ...]:
        named: tuple[str, ...] = ()
        if self.adapter:
            named += (self.adapter.toward_body, self.adapter.toward_part)
        if self.gimbal:
            named += (self.gimbal.camera_port,)
        return named

    def _check_axes(self, port: Port) -> None:
        n, u = np.asarray(port.n), np.asarray(port.u)
        if abs(np.linalg.norm(n) - 1) > 1e-6 or abs(np.linalg.norm(u) - 1) > 1e-6 or abs(float(n @ u)) > 1e-6:
            raise ImpossibleModel(
                self.id, f"port '{port.id}'", f"normal {port.n} and up {port.u}", "both have length 1 and are square"
            )
        if port.slide and port.slide.min_mm > port.slide.max_mm:
            raise ImpossibleModel(
                self.id, f"port '{port.id}'",
                f"slide from {port.slide.min_mm:g} to {port.slide.max_mm:g} mm", "the lower end comes first",
            )  # fmt: skip

    @cached_property
    def _port_by_id(self) -> dict[str, Port]:
        return {port.id: port for port in self.ports}

    def port(self, port_id: str, unit: str | None = None) -> Port:
        """The port of that name; raises UnknownPort in the name of ``unit``."""
        try:
            return self._port_by_id[port_id]
        except KeyError:
            raise UnknownPort(unit or self.id, port_id, tuple(self._port_by_id)) from None

    @property
    def is_cable(self) -> bool:
        """True for something that links two sockets instead of being mounted."""
        return self.cable_length_mm is not None

    @cached_property
    def bounds(self) -> tuple[Array, Array]:
        """Lowest and highest corner over all shapes, each of shape (3,)."""
        if not self.shapes:
            return np.zeros(3), np.zeros(3)
        corners = np.array([shape.corners for shape in self.shapes], dtype=float)
        return corners[:, 0].min(axis=0), corners[:, 1].max(axis=0)

    @cached_property
    def title(self) -> str:
        """Maker and name, as said at the bench."""
        return f"{self.maker} {self.name}".strip()


def mates(a: Port, b: Port) -> bool:
    """True when two ports join: one interface, unlike genders."""
    return a.interface == b.interface and a.gender != b.gender


