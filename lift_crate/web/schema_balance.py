"""What the API says and takes of the balance of a rig."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import Field

from ..core.balance.ratings import HandsReport
from ..core.balance.report import SlideTarget
from ..core.balance.see_saw import SeeSawReport
from ..core.balance.steps import Card, Symptom
from ..core.balance.walk import Left, MadeSo, Onward
from ..core.bench.levellers import Leveller
from ..core.bench.proposal import Proposal
from ..core.bench.supports import SupportTried
from ..core.drawings.elevation import Elevation
from ..core.support.clearance import SideGap
from ..core.support.head import HeadReport
from ..core.support.rigging import Mounted
from ..core.support.sticks import TipOver
from .schema import FindingView, Point, RigPath, Strict, Told, Version

__all__ = ["BalanceQuery", "BalanceView", "GimbalReadView", "GimbalRequest", "LevellersView", "RecordRequest"]

Reading = Annotated[float, Field(ge=-2000, le=2000)]


class BalanceQuery(Strict):
    """The order of work; the gimbal's own when nothing is said."""

    order: Literal["tilt first", "roll first", ""] = ""
    wide: Annotated[float, Field(ge=0, le=1)] | None = None
    """Share of the time at the wide end of a zoom; the settings' when nothing is said."""
    long: Annotated[float, Field(ge=0, le=1)] | None = None


class BalancePath(RigPath):
    """Names a balance of a rig's build."""

    balance: int


class RemoveRequest(Strict):
    """Whether a balance is put away."""

    removed: bool


class TouchRequest(Strict):
    """Something that is in no build, and whether it has changed since a balance."""

    thing: Annotated[str, Field(max_length=40)]
    changed: bool
    at: datetime | None = None
    """When that was seen; left out: now."""


class AnswerView(Strict):
    """At a card: 'holds', or what is seen there."""

    card: Annotated[int, Field(ge=1, le=20)]
    seen: Annotated[str, Field(max_length=80)]


class WalkRequest(Strict):
    """What was answered so far, in an order of work."""

    order: Literal["tilt first", "roll first", ""] = ""
    answers: Annotated[list[AnswerView], Field(max_length=400, default_factory=list)]


class RecordRequest(WalkRequest):
    """What was really set on the scales, on the rig as it was at ``version``, and how it was made."""

    version: Version
    readings: dict[Literal["fore_aft", "vertical", "lateral", "pan"], Reading]
    note: Annotated[str, Field(max_length=500)] = ""
    flight: Annotated[list[Annotated[str, Field(max_length=300)]], Field(max_length=40, default_factory=list)]
    loads_nm: dict[Literal["tilt", "roll", "pan"], Annotated[float, Field(ge=0, le=1000)]] = Field(default_factory=dict)
    left: Left = ""
    screen: Annotated[str, Field(max_length=60)] = ""
    gap_mm: Annotated[float, Field(ge=0, le=1000)] | None = None
    calibrated: bool | None = None
    at: datetime | None = None
    """When it was made; left out: now."""


class GimbalRequest(WalkRequest):
    """Where the slides really are; those not named where they balance; and the checks that hold."""

    readings: dict[Literal["fore_aft", "vertical", "lateral", "pan"], Reading]
    calibrate: bool = False
    """Calibrate its motors first, standing still."""


class ReadLoadView(Told):
    """A motor's load as the gimbal tells it, beside the computed one."""

    axis: str
    computed_nm: float
    read_nm: float
    apart: bool


class GimbalReadView(Told):
    """What the gimbal tells."""

    name: str
    calibrated: bool | None
    """To what hangs there; null where it cannot tell."""
    loads: list[ReadLoadView]
    seen: tuple[Symptom, ...]
    """What is to be seen with the slides where they are."""


class MotorLoadView(Told):
    """What a motor holds."""

    axis: str
    torque_nm: float
    rated_nm: float
    share: float
    pull_nm: float
    by_move: dict[str, float]
    wind_nm: float
    wind_share: float
    gives_up_m_s: float | None
    level: Literal["clear", "note", "watch", "stop"]


class SchoolView(Told):
    """A way to choose where to balance a zoom."""

    name: str
    focal_mm: float | None
    worst_nm: float
    hours: float | None


class ZoomView(Told):
    """The zoom: schools, and the load over its range."""

    unit: str
    set_mm: float
    helps: bool
    wide: float
    long: float
    """Shares of the time at its ends that the hours are for."""
    schools: list[SchoolView]
    loads: list[Point]


class ReachView(Told):
    """How far an axis turns, and what is hit."""

    axis: str
    low_deg: float
    high_deg: float
    needed: Point
    words: tuple[str, str]
    """What turning to the low and to the high end is called."""
    low_hits: list[str]
    """The part of the camera and the part of the gimbal; none: free to the end that was tried."""
    high_hits: list[str]
    at_low: Elevation | None
    """Drawn where it hits."""
    at_high: Elevation | None


class ChangeView(Told):
    """One thing that changed since it was balanced."""

    text: str
    moved_mm: dict[str, float]
    axes: list[str]


class RecordView(Told):
    """A balance that was recorded."""

    id: int
    at: datetime
    noted_at: datetime | None
    """When it came in, where that was minutes later."""
    actor: str
    computed: dict[str, float]
    set_to: dict[str, float]
    note: str
    removed: bool
    made: MadeSo
    touched: tuple[str, ...]
    touched_at: dict[str, str]


class GimbalBalance(Told):
    """Balance on a gimbal."""

    slides: tuple[SlideTarget, ...]
    loads: list[MotorLoadView]
    gives_up_first: str | None
    """The axis whose motor gives up first in wind."""
    zoom: ZoomView | None
    reaches: list[ReachView]
    moves: list[str]
    hours: float | None
    hours_balanced: float | None
    hours_claimed: float | None
    hours_measured: float | None
    order: Literal["tilt first", "roll first"]
    usual_order: Literal["tilt first", "roll first"]
    pre_flight: list[str]
    cards: tuple[Card, ...]
    onward: tuple[Onward, ...]
    """Where every answer at a card leads."""
    before_power: tuple[int, ...]
    """Cards that have to hold before it is switched on."""
    gaps: tuple[SideGap, ...]
    """Room to the arms at the camera's sides."""
    touchable: list[str]
    """What may have changed since and is in no build."""
    state: Literal["never", "good", "stale"]
    changes: list[ChangeView]
    records: list[RecordView]
    proposals: tuple[Proposal, ...]


class BalanceView(Told):
    """The balance of a rig on what carries it."""

    job: str
    part: str
    rig: str
    rig_label: str
    build_label: str
    version: int
    kind: str
    support: str | None
    payload_g: float
    payload_sd_g: float
    payload_limit_g: float | None
    side: Elevation
    findings: list[FindingView]
    gimbal: GimbalBalance | None
    see_saw: SeeSawReport | None
    head: HeadReport | None
    stand: TipOver | None
    mount: Mounted | None
    hands: HandsReport


class SupportsView(Told):
    """Ways to carry the rig, as it is now first."""

    supports: tuple[SupportTried, ...]


class LevellersView(Told):
    """What would level the rig, most level first."""

    front_nm: float
    found: tuple[Leveller, ...]
