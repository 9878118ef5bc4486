"""What the API says and takes of power: the chain of a rig, packs run down, and the day's swaps."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from ..core.bench.bricks import Brick
from ..core.drawings.chain import RunDown
from ..core.swaps.card import Swap
from ..core.swaps.rules import Family
from ..core.swaps.what_if import Cure
from ..devices.meter import Bay
from .schema import FindingView, JobPath, LevelName, Strict, Told

__all__ = [
    "BricksQuery",
    "BricksView",
    "ChargerReadView",
    "MadePath",
    "MadeRequest",
    "MeterReadView",
    "MeterRequest",
    "PowerQuery",
    "PowerView",
    "SwapsQuery",
    "SwapsView",
]


class PowerQuery(Strict):
    """In which mode everything is, and whether the packs are at the end of their charge."""

    mode: Literal["standby", "record", "peak"] = "record"
    empty: bool = False


class ChainNodeView(Told):
    """A unit on the chain."""

    unit: str
    kind: str
    title: str
    column: int
    draw_w: float
    volts: float | None
    window: tuple[float | None, float | None]
    level: LevelName
    draw_source: str | None
    dark: list[str]
    """What goes dark with it when it is taken off."""
    spares: list[str]
    """Units free at this time that could stand in for it."""


class ChainEdgeView(Told):
    """A feed and what goes along it."""

    source: str
    sink: str
    outlet: str
    inlet: str
    plugs: tuple[str, str]
    cable: str | None
    connects: bool
    reason: str
    volts: float | None
    drop_v: float | None
    amps: float | None
    watts: float | None
    converted_v: float | None
    level: LevelName


class PowerView(Told):
    """The power of a rig."""

    job: str
    part: str
    rig: str
    rig_label: str
    build_label: str
    version: int
    mode: Literal["standby", "record", "peak"]
    empty: bool
    temperature_c: float
    hours_needed: float
    rolling: float
    """Share of the time that it rolls."""
    takes_per_h: float
    restart_min: float
    off_between: bool
    watts: float
    nodes: list[ChainNodeView]
    edges: list[ChainEdgeView]
    runs: tuple[RunDown, ...]
    findings: list[FindingView]


class BricksQuery(Strict):
    """A pack of the rig."""

    pack: str


class BricksView(Told):
    """Packs for one slot, the one that is on first."""

    bricks: tuple[Brick, ...]


class SwapsQuery(Strict):
    """The day of a part, and how it may differ from its plan."""

    part: str
    dead: Annotated[str, Field(max_length=2000)] = ""
    """Packs that are dead, by their labels with commas between."""
    colder: Annotated[float, Field(ge=0, le=40)] = 0.0
    mains: bool = True
    late: Annotated[float, Field(ge=0, le=600)] = 0.0
    late_part: str = ""
    monitors: Annotated[float, Field(ge=0.1, le=1)] = 1.0


class DayPartView(Told):
    """A part of the day on the time scale, minutes from its start."""

    id: str
    label: str
    starts: int
    ends: int


class QuietView(Told):
    """A time in which nobody touches a camera."""

    starts: int
    ends: int
    label: str


class SlotView(Told):
    """A place for a pack over the day, minutes from its start."""

    id: str
    label: str
    rig: str | None
    on: list[tuple[int, int]]
    built_in: bool


class UseView(Told):
    """A pack in a slot."""

    slot: str
    pack: str
    model: str
    starts: int
    ends: int
    left: float
    bring: bool


class ChargeView(Told):
    """A pack on a charger."""

    pack: str
    charger: str
    bay: int
    starts: int
    ends: int


class ChargerView(Told):
    """A charger of the day: how many it charges at once, and when it has mains."""

    units: list[str]
    at_once: int
    open: list[tuple[int, int]]


class MadeView(Told):
    """A swap that was really made."""

    id: int
    slot: str
    at: datetime
    minute: int
    pack_in: str
    pack_out: str | None
    charge_left: float | None
    charge_in: float | None
    actor: str
    card: int | None
    """The line of the card that it carried out."""


class SwapsView(Told):
    """The day's swaps; more is to come while ``working``."""

    job: str
    part: str
    title: str
    starts: datetime
    minutes: int
    working: bool
    proven: bool
    works: bool
    verdict: str
    verdict_level: LevelName
    packs: int
    least: int
    """No plan that brings as little takes fewer, as far as is known."""
    owned: int
    swaps: int
    parts: list[DayPartView]
    quiet: list[QuietView]
    slots: list[SlotView]
    uses: list[UseView]
    charges: list[ChargeView]
    chargers: list[ChargerView]
    cards: tuple[Swap, ...]
    made: list[MadeView]
    cures: tuple[Cure, ...]
    people: list[str]
    families: tuple[Family, ...]
    findings: list[FindingView]
    warnings: list[str]


class MadePath(JobPath):
    """A swap that was noted."""

    swap: Annotated[int, Field(ge=0, le=2**53)]


class MadeRequest(Strict):
    """A swap that was made: when, what went in and out, and the charge left in
    what came out and that of what went in, where they were read.
    """

    slot: Annotated[str, Field(min_length=1, max_length=200)]
    at: datetime
    pack_in: str
    pack_out: str | None = None
    charge_left: Annotated[float, Field(ge=0, le=1)] | None = None
    charge_in: Annotated[float, Field(ge=0, le=1)] | None = None


class ChargerReadView(Told):
    """What a charger says."""

    name: str
    bays: tuple[Bay, ...]
    watts: float


class MeterRequest(Strict):
    """The unit that is plugged in through the meter."""

    unit: str


class MeterReadView(Told):
    """What flows into a unit, beside what is known of it."""

    name: str
    unit: str
    volts: float
    amps: float
    watts: float
    known_w: float | None
    source: str
