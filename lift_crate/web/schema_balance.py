"""What the API says and takes of the balance of a rig."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Literal

from pydantic import BaseModel, Field

from .schema import AnyOperation, ElevationView, FindingView, Point, Strict, Version

__all__ = ["BalanceQuery", "BalanceView", "GimbalReadView", "GimbalRequest", "LevellersView", "RecordRequest"]

Reading = Annotated[float, Field(ge=-2000, le=2000)]


class BalanceQuery(Strict):
    """The order of work; the gimbal's own when nothing is said."""

    order: Literal["tilt first", "roll first", ""] = ""
    wide: Annotated[float, Field(ge=0, le=1)] | None = None
    """Share of the time at the wide end of a zoom; the settings' when nothing is said."""
    long: Annotated[float, Field(ge=0, le=1)] | None = None


class RecordRequest(Strict):
    """What was really set on the scales, on the rig as it was at ``version``."""

    version: Version
    readings: dict[Literal["fore_aft", "vertical", "lateral", "pan"], Reading]
    note: Annotated[str, Field(max_length=500)] = ""


class GimbalRequest(Strict):
    """Where the slides really are; those not named where they balance."""

    readings: dict[Literal["fore_aft", "vertical", "lateral", "pan"], Reading]


class ReadLoadView(BaseModel):
    """A motor's load as the gimbal tells it, beside the computed one."""

    axis: str
    computed_nm: float
    read_nm: float
    apart: bool


class SymptomView(BaseModel):
    """What is seen, what it means, what cures it."""

    seen: str
    means: str
    cure: str


class GimbalReadView(BaseModel):
    """What the gimbal tells."""

    name: str
    loads: list[ReadLoadView]
    seen: list[SymptomView]
    """What is to be seen with the slides where they are."""


class SlideTargetView(BaseModel):
    """A slide's target on its printed scale."""

    name: str
    title: str
    reading: float
    spread_mm: float
    scale: Point
    left_mm: float
    short_mm: float


class MotorLoadView(BaseModel):
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


class SchoolView(BaseModel):
    """A way to choose where to balance a zoom."""

    name: str
    focal_mm: float | None
    worst_nm: float
    hours: float | None


class ZoomView(BaseModel):
    """The zoom: schools, and the load over its range."""

    unit: str
    set_mm: float
    helps: bool
    wide: float
    long: float
    """Shares of the time at its ends that the hours are for."""
    schools: list[SchoolView]
    loads: list[Point]


class ReachView(BaseModel):
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
    at_low: ElevationView | None
    """Drawn where it hits."""
    at_high: ElevationView | None


class CardView(BaseModel):
    """A step card."""

    number: int
    slide: str
    title: str
    reading: float | None
    spread_mm: float | None
    scale: Point | None
    how: str
    check: str
    symptoms: list[SymptomView]


class ChangeView(BaseModel):
    """One thing that changed since it was balanced."""

    text: str
    moved_mm: dict[str, float]
    axes: list[str]


class RecordView(BaseModel):
    """A balance that was recorded."""

    at: datetime
    actor: str
    computed: dict[str, float]
    set_to: dict[str, float]
    note: str


class ProposalView(BaseModel):
    """A better CG (mm) or mass (g) that repeated balances point to."""

    unit: str
    what: Literal["CG", "mass"]
    now: list[float]
    better: list[float]
    sd: float
    explains: float
    balances: int


class HoldView(BaseModel):
    """How a rig is held and for how long, as a guide."""

    name: str
    carried_g: float
    minutes: float | None


class GimbalBalance(BaseModel):
    """Balance on a gimbal."""

    slides: list[SlideTargetView]
    loads: list[MotorLoadView]
    zoom: ZoomView | None
    reaches: list[ReachView]
    moves: list[str]
    hours: float | None
    hours_balanced: float | None
    order: Literal["tilt first", "roll first"]
    usual_order: Literal["tilt first", "roll first"]
    pre_flight: list[str]
    cards: list[CardView]
    state: Literal["never", "good", "stale"]
    changes: list[ChangeView]
    records: list[RecordView]
    proposals: list[ProposalView]
    holds: list[HoldView]


class ArmView(BaseModel):
    """A part on the see-saw."""

    unit: str
    mass_g: float
    from_support_mm: float
    moment_nm: float


class TwistView(BaseModel):
    """What a handle asks of a wrist, N·m."""

    unit: str
    nose_nm: float
    side_nm: float


class HeadStepView(BaseModel):
    """A step of the counterbalance."""

    label: str
    worst_nm: float
    worst_deg: float
    stays_deg: Point | None
    left_nm: list[float]


class HeadView(BaseModel):
    """A rig on a tilting head."""

    high_mm: float
    ahead_mm: float
    hold_nm: float
    holds: bool
    tilts_deg: list[float]
    load_nm: list[float]
    steps: list[HeadStepView]
    best: str


class StandView(BaseModel):
    """A rig on its sticks in wind."""

    stand: str
    legs: str
    mass_g: float
    edge_mm: float
    high_mm: float
    area_m2: float
    safe_m_s: float | None
    tips_m_s: float | None
    gust_m_s: float


class MountPointView(BaseModel):
    """A magnet, cup or clamp."""

    by: str
    pull_off_n: float
    moment_nm: float | None


class MountView(BaseModel):
    """A rig held by points."""

    points: list[MountPointView]
    pull_off_n: float
    load_n: float
    handling: str
    held: float
    """The least of the three."""
    off_face: float
    along_face: float | None
    peel: float | None
    rated_m_s: float | None
    planned_m_s: float
    line: str | None


class SeeSawView(BaseModel):
    """A rig about its pad, pivot or palm."""

    kind: str
    verdict: str
    mass_g: float
    cg_x_mm: float
    pad_x_mm: float
    grip_x_mm: float | None
    grip: str | None
    moment_nm: float
    tips_deg: float
    """How far the rig is tipped back until its CG is over the support."""
    hands_g: float | None
    hands_signed_g: float | None
    arms: list[ArmView]
    holds: list[HoldView]
    twists: list[TwistView]


class BalanceView(BaseModel):
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
    side: ElevationView
    findings: list[FindingView]
    gimbal: GimbalBalance | None
    see_saw: SeeSawView | None
    head: HeadView | None
    stand: StandView | None
    mount: MountView | None


class LevellerView(BaseModel):
    """Something that makes the rig more level."""

    title: str
    operations: list[AnyOperation]
    front_nm: float
    mass_g: float
    hours: float | None
    brings: list[str]


class LevellersView(BaseModel):
    """What would level the rig, most level first."""

    front_nm: float
    found: list[LevellerView]
