"""Data of what carries a rig: gimbal stages and slides, heads, pads. g, mm, N·m, W."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Gt, MinLen

from .geometry import Vec3
from .settings import STRICT

__all__ = ["GimbalData", "SlideRange", "Stage", "SupportData"]

Positive = Annotated[float, Gt(0)]
NotNegative = Annotated[float, Ge(0)]
Identifier = Annotated[str, MinLen(1)]


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
    roll_axis: Vec3 = (1.0, 0.0, 0.0)
    """Direction of a canted roll axis; x forward for a plain one."""

    def __post_init__(self) -> None:
        if abs(sum(v * v for v in self.roll_axis) - 1) > 1e-6 or self.roll_axis[0] < 0.5:
            raise ValueError(f"roll_axis {self.roll_axis}: a direction of length 1 that points forward, as in (1, 0, 0) or (0.94, 0, 0.34)")


@dataclass(frozen=True, kw_only=True)
class SupportData:
    """What carries the rig: its kind, the port or point it holds by, and its limit."""

    __pydantic_config__ = STRICT

    kind: Literal["hand", "shoulder", "head", "gimbal"]
    at: Vec3 = (0.0, 0.0, 0.0)
    """Point of support in the model's frame: pad, pivot, palm."""
    max_payload_g: Positive | None = None
