"""Data of what carries a rig: gimbal stages and slides, heads, pads, sticks, magnets and clamps. g, mm, N·m, N, W."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from annotated_types import MaxLen, MinLen

from ..geometry import Array, Vec3
from ..quantities import Angle, Coordinate, Identifier, Label, NotNegative, Positive
from ..settings import STRICT

__all__ = [
    "GimbalData",
    "GimbalMode",
    "HeadData",
    "MountData",
    "MountPoint",
    "SlideRange",
    "Spring",
    "Stage",
    "StandData",
    "SupportData",
]


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

    min_mm: Coordinate
    max_mm: Coordinate
    zero: Coordinate = 0.0
    direction: Literal[1, -1] = 1

    def reading(self, slide_mm: float) -> float:
        """Number on the printed scale."""
        return self.zero + self.direction * slide_mm


Axis = Literal["tilt", "roll", "pan"]


@dataclass(frozen=True, kw_only=True)
class GimbalMode:
    """A way the motors follow the hand: the axes that follow, and the fastest pan in degrees a second."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    follows: Annotated[tuple[Axis, ...], MaxLen(3)] = ()
    """The others hold where they are: without roll the horizon is kept."""
    pan_deg_s: Positive | None = None


@dataclass(frozen=True, kw_only=True)
class GimbalData:
    """Stages, slides and motors of a three-axis gimbal, order pan · roll · tilt."""

    __pydantic_config__ = STRICT

    camera_port: Identifier
    max_payload_g: Positive
    second_payload_g: Positive | None = None
    """A second figure that is published for it; the stricter counts."""
    min_payload_g: NotNegative = 0.0
    tilt: Stage
    roll: Stage
    pan: Stage
    fore_aft: SlideRange
    vertical: SlideRange
    lateral: SlideRange
    pan_slide: SlideRange
    torque_nm: tuple[NotNegative, NotNegative, NotNegative]
    """Continuous torque of the tilt, roll and pan motors."""
    peak_nm: tuple[Positive, Positive, Positive] | None = None
    """What the same motors give for a moment; None: 1.5 × continuous, assumed."""
    motor_constant: tuple[Positive, Positive, Positive] | None = None
    """Km of the same motors, N·m/√W."""
    base_w: NotNegative | None = None
    axis_locks: bool = True
    roll_axis: Vec3 = (1.0, 0.0, 0.0)
    """Direction of a canted roll axis; x forward for a plain one."""
    claimed_h: Positive | None = None
    """Hours that its maker claims, which hold balanced and at rest."""
    modes: Annotated[tuple[GimbalMode, ...], MaxLen(20)] = ()

    @property
    def payload_limit_g(self) -> float:
        """The stricter of the published figures."""
        return min(self.max_payload_g, self.second_payload_g or self.max_payload_g)

    def __post_init__(self) -> None:
        names = [mode.id for mode in self.modes]
        if twice := {name for name in names if names.count(name) > 1}:
            raise ValueError(f"modes: '{min(twice)}' stands twice; every mode of a gimbal has its own name")
        if abs(sum(v * v for v in self.roll_axis) - 1) > 1e-6 or self.roll_axis[0] < 0.5:
            raise ValueError(
                f"roll_axis {self.roll_axis}: a direction of length 1 that points forward, as in (1, 0, 0) or (0.94, 0,"
                " 0.34)"
            )


@dataclass(frozen=True, kw_only=True)
class Spring:
    """A step of a head's counterbalance: the moment it gives against a
    tilt, alike in both directions, N·m by degrees.
    """

    __pydantic_config__ = STRICT

    label: Identifier
    nm_at: Annotated[tuple[tuple[Angle, NotNegative], ...], MinLen(1), MaxLen(50)]
    """(degrees from level, N·m), ascending; nothing at level, linear between, held beyond the last."""

    def __post_init__(self) -> None:
        angles = [deg for deg, _ in self.nm_at]
        if angles != sorted(set(angles)) or angles[0] <= 0:
            raise ValueError(
                f"counterbalance '{self.label}': angles {angles}; they ascend from above 0°, which is level and has no"
                " moment"
            )

    def moment_nm(self, deg: Array) -> Array:
        """Moment against tilts in degrees, of the tilt's sign."""
        angles, moments = zip((0.0, 0.0), *self.nm_at, strict=True)
        return np.asarray(np.sign(deg) * np.interp(np.abs(deg), angles, moments))


@dataclass(frozen=True, kw_only=True)
class HeadData:
    """A tilting head: how far it tilts, what its drag or lock holds, and the steps of its counterbalance."""

    __pydantic_config__ = STRICT

    tilt_deg: tuple[Angle, Angle]
    """Lens up negative, lower first."""
    hold_nm: NotNegative
    """The most that full drag or the lock holds."""
    springs: tuple[Spring, ...] = ()

    def __post_init__(self) -> None:
        if not self.tilt_deg[0] < self.tilt_deg[1]:
            raise ValueError(f"tilt_deg {self.tilt_deg}: the end with the lens up, negative, comes first")


@dataclass(frozen=True, kw_only=True)
class StandData:
    """What a head stands on: its legs, how far its footprint's edge is from its axis, how high it stands."""

    __pydantic_config__ = STRICT

    legs: Literal["tripod", "monopod"] = "tripod"
    edge_mm: NotNegative
    """From the axis to the nearest line between two feet."""
    height_mm: Positive
    """Of the bowl above the ground, as it is used."""


@dataclass(frozen=True, kw_only=True)
class MountPoint:
    """A magnet, cup or clamp: the force it holds square to its face, and the moment where it holds one by itself."""

    __pydantic_config__ = STRICT

    by: Literal["magnet", "suction", "clamp"]
    pull_off_n: Positive
    moment_nm: Positive | None = None
    rubber: bool = False
    """Magnets: with a rubber face that grips."""
    at: Vec3 | None = None
    """Where it touches the face, in the model's frame; peeling cannot be told without."""
    foot_mm: NotNegative = 0.0
    """Radius of its foot."""


@dataclass(frozen=True, kw_only=True)
class MountData:
    """Holds a rig to a face, a rail or a vehicle by its points; the speed it is rated for, where it is."""

    __pydantic_config__ = STRICT

    points: Annotated[tuple[MountPoint, ...], MinLen(1), MaxLen(50)]
    along_face: bool = False
    """True when it hangs on an upright face, so that weight pulls along it."""
    face: Vec3 = (0.0, 0.0, -1.0)
    """Direction of length 1 from the mount into the face, in the model's frame."""
    rated_m_s: Positive | None = None

    def __post_init__(self) -> None:
        if abs(sum(v * v for v in self.face) - 1) > 1e-6:
            raise ValueError(f"face {self.face}: a direction of length 1, as in (0, 0, -1)")


@dataclass(frozen=True, kw_only=True)
class SupportData:
    """What carries the rig: its kind, the port or point it holds by, and its limit."""

    __pydantic_config__ = STRICT

    kind: Literal["hand", "shoulder", "head", "gimbal", "mount"]
    at: Vec3 = (0.0, 0.0, 0.0)
    """Point of support in the model's frame: pad, pivot, palm."""
    max_payload_g: Positive | None = None
    second_payload_g: Positive | None = None
    """A second figure that is published for it; the stricter counts."""
    girth_mm: Positive | None = None
    """Around what the hand holds it by."""
    head: HeadData | None = None
    mount: MountData | None = None

    @property
    def payload_limit_g(self) -> float | None:
        """The stricter of the published figures; None where there is none."""
        return min((g for g in (self.max_payload_g, self.second_payload_g) if g is not None), default=None)
