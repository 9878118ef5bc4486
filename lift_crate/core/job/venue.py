"""The venue from above: what stands on it, where cameras stand and what they must see. Metres, x east, y north, z up.

Nothing is computed here; ``sight`` does that.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le, MaxLen

from ..quantities import Angle, Identifier, Label
from ..settings import STRICT

__all__ = ["Metre", "Picture", "Spot", "Thing", "Venue"]

Metre = Annotated[float, Ge(-10_000), Le(10_000)]
"""On the plan: no venue is wider than 20 km."""
Size = Annotated[float, Ge(0), Le(2000)]


@dataclass(frozen=True, kw_only=True)
class Thing:
    """Something on the plan, with a size and a meaning; ``x_m`` and ``y_m`` are its middle."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    kind: Literal["to see", "obstacle", "lane", "lamp", "mains", "charger", "person"]
    x_m: Metre = 0.0
    y_m: Metre = 0.0
    ground_m: Metre = 0.0
    """Its foot above the plan's zero."""
    width_m: Size = 0.0
    """Across, before it is turned."""
    depth_m: Size = 0.0
    height_m: Size = 0.0
    turn_deg: Angle = 0.0
    lux_1m: Annotated[float, Gt(0), Le(1_000_000)] | None = None
    """Lamps: on the axis, 1 m away."""
    beam_deg: Annotated[float, Gt(0), Le(180)] | None = None
    aims_at: Label = ""
    """Lamps: the thing that they point at; empty: everywhere."""
    dim: Annotated[float, Ge(0), Le(1)] = 1.0
    unit: Label = ""
    """The unit of the shelf that it is; empty: it is none."""


@dataclass(frozen=True, kw_only=True)
class Spot:
    """Where a camera stands, and the things on the plan that it must see."""

    __pydantic_config__ = STRICT

    x_m: Metre = 0.0
    y_m: Metre = 0.0
    ground_m: Metre = 0.0
    camera_m: Annotated[float, Ge(0), Le(100)] = 1.6
    """Lens axis above its ground."""
    sees: Annotated[tuple[Identifier, ...], MaxLen(50)] = ()


@dataclass(frozen=True, kw_only=True)
class Picture:
    """A picture of the venue from above that lies under the plan; ``x_m`` and ``y_m`` are its middle."""

    __pydantic_config__ = STRICT

    id: Identifier
    """Of the picture that is kept."""
    width_m: Annotated[float, Gt(0), Le(20_000)]
    x_m: Metre = 0.0
    y_m: Metre = 0.0
    turn_deg: Angle = 0.0


@dataclass(frozen=True, kw_only=True)
class Venue:
    """Everything on the plan, and how fast people walk on it."""

    __pydantic_config__ = STRICT

    picture: Picture | None = None
    things: Annotated[tuple[Thing, ...], MaxLen(300)] = ()
    walk_m_s: Annotated[float, Gt(0), Le(5)] = 1.2

    def __post_init__(self) -> None:
        ids = [thing.id for thing in self.things]
        if twice := sorted({i for i in ids if ids.count(i) > 1}):
            raise ValueError(f"things: '{twice[0]}' stands twice on the plan; give each its own id")

    def thing(self, name: str) -> Thing | None:
        """The thing of that id."""
        return next((thing for thing in self.things if thing.id == name), None)
