"""Data of what stands by the camera: screens, lamps, radios, clocks, handles, cases. cd/m², lx, mm, g, kg."""

from __future__ import annotations

from dataclasses import dataclass
from typing import Annotated, Literal

from annotated_types import Gt, Le

from ..quantities import Count, Label, NotNegative, Positive
from ..settings import STRICT

__all__ = ["CaseData", "HandleData", "LampData", "RadioData", "ScreenData"]


@dataclass(frozen=True, kw_only=True)
class ScreenData:
    """A screen to look at: its diagonal, how bright it gets, and what it can do."""

    __pydantic_config__ = STRICT

    inches: Positive
    nits: Positive | None = None
    touch: bool = False
    luts: bool = False
    """It shows the picture through a look-up table."""
    delay_ms: NotNegative | None = None
    """From the lens to the screen."""
    phone: bool = False
    """A telephone or tablet: it warms up, dims and has its own pack."""


@dataclass(frozen=True, kw_only=True)
class LampData:
    """A light: illuminance at 1 m on its axis, and the full angle at which half of that is left."""

    __pydantic_config__ = STRICT

    lux_1m: Positive | None = None
    beam_deg: Annotated[float, Gt(0), Le(180)] | None = None
    dims: bool = True


@dataclass(frozen=True, kw_only=True)
class RadioData:
    """A transmitter or receiver: its band and channels, how far it carries, and what it keeps apart from."""

    __pydantic_config__ = STRICT

    band: Label = ""
    channels: Count = 1
    range_m: Positive | None = None
    """In the open."""
    delay_ms: NotNegative | None = None


@dataclass(frozen=True, kw_only=True)
class HandleData:
    """What a handle takes along: a record button, and controls that are lost without it."""

    __pydantic_config__ = STRICT

    trigger: bool = False
    controls: tuple[Label, ...] = ()


@dataclass(frozen=True, kw_only=True)
class CaseData:
    """A case or bag: inside and outside length, width and height, what it may weigh, and how it travels."""

    __pydantic_config__ = STRICT

    inside_mm: tuple[Positive, Positive, Positive]
    outside_mm: tuple[Positive, Positive, Positive]
    most_kg: Positive | None = None
    waterproof: bool = False
    travels: Literal["van", "cabin", "hold", "on the back"] = "van"
    seen: Literal["", "dark", "bright", "reflective"] = ""
    """How it is seen from afar: dark, in a bright colour, with bands that throw light back; empty: nobody said."""
