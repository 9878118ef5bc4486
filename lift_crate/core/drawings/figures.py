"""Every figure of a build in a part of the day as plain values, for programs that read them.

mm, g, N·m, W, h, degrees; poses in the rig frame. What never happens is None.
"""

from __future__ import annotations

from dataclasses import dataclass
from typing import Literal

from ..balance.ratings import HandsReport, hands_report
from ..balance.report import BalanceReport, balance_report
from ..callouts import Finding, Working
from ..fit.joints import use_of
from ..geometry import Vec3
from ..quantities import finite
from ..stand import Stand
from ..support.clearance import Reach
from ..verdict.judge import Whole

__all__ = ["CallOutFigures", "Figures", "call_out_figures", "figures_of"]

LevelWord = Literal["clear", "note", "watch", "stop"]
Rotation = tuple[Vec3, Vec3, Vec3]


@dataclass(frozen=True, kw_only=True)
class CallOutFigures:
    """A call-out, or a check that is clear: value against limit, one deviation of the value, and the working."""

    key: str
    code: str
    level: LevelWord
    text: str
    units: tuple[str, ...]
    port: str | None
    value: float | None
    limit: float | None
    unit: str
    spread: float | None
    headroom: float | None
    """Limit less value, where both are there."""
    working: tuple[Working, ...]


@dataclass(frozen=True, kw_only=True)
class CarriedFigures:
    """What carries the build and how: the support, the handling and its factor on loads, the grip of the hands."""

    support: str | None
    kind: str
    handling: str
    factor: float
    tilt_deg: float
    roll_deg: float
    grip: str | None
    payload_g: float
    payload_sd_g: float
    total_g: float
    worn_g: float
    """What the operator wears for it."""
    cg_mm: Vec3
    cg_sd_mm: Vec3
    front_nm: float


@dataclass(frozen=True, kw_only=True)
class PartFigures:
    """A unit where it stands: origin and axes of its model in the rig frame, and its mass."""

    unit: str
    model: str
    mass_g: float | None
    at_mm: Vec3
    rotation: Rotation
    """Rows of the matrix that turns its model's axes into the rig's."""


@dataclass(frozen=True, kw_only=True)
class PackFigures:
    """A pack run down under its load."""

    pack: str
    feeds: tuple[str, ...]
    load_w: float
    hours: float | None
    """None: it feeds nothing that draws."""
    ended_by: str
    first: bool
    """It ends before all others."""


@dataclass(frozen=True, kw_only=True)
class SlideFigures:
    """A slide of a gimbal: the number to set on its scale, ± two deviations, travel left and missing, mm."""

    name: str
    reading: float
    two_sigma_mm: float
    left_mm: float
    short_mm: float


@dataclass(frozen=True, kw_only=True)
class MotorFigures:
    """A motor: what it holds at worst, cables included, N·m, and its share of the continuous torque."""

    axis: str
    torque_nm: float
    pull_nm: float
    rated_nm: float
    share: float


@dataclass(frozen=True, kw_only=True)
class GimbalFigures:
    """The balance on a gimbal."""

    slides: tuple[SlideFigures, ...]
    motors: tuple[MotorFigures, ...]
    reach: tuple[Reach, ...]
    power_w: float | None
    hours: float | None
    hours_balanced: float | None


@dataclass(frozen=True, kw_only=True)
class CableFigures:
    """A cable against the way it goes, mm."""

    cable: str
    from_unit: str
    to_unit: str
    length_mm: float
    needs_mm: float
    crosses_axes: bool


@dataclass(frozen=True, kw_only=True)
class Figures:
    """Everything that is known of a build in a part of the day."""

    carried: CarriedFigures
    hands: HandsReport
    parts: tuple[PartFigures, ...]
    packs: tuple[PackFigures, ...]
    draw_w: float
    gimbal: GimbalFigures | None
    cables: tuple[CableFigures, ...]
    call_outs: tuple[CallOutFigures, ...]
    """Those that stand against it, most serious first."""
    clear: tuple[CallOutFigures, ...]
    """Checks that it passes."""


def call_out_figures(finding: Finding) -> CallOutFigures:
    """A finding as plain values."""
    value, limit = (None if v is None else finite(v) for v in (finding.value, finding.limit))
    level: LevelWord = finding.level.name.lower()  # type: ignore[assignment]  # the names of the levels
    return CallOutFigures(
        key=finding.key,
        code=finding.code,
        level=level,
        text=finding.text,
        units=finding.about.units,
        port=finding.about.port,
        value=value,
        limit=limit,
        unit=finding.unit,
        spread=finding.spread,
        headroom=None if value is None or limit is None else limit - value,
        working=finding.working,
    )


def figures_of(judged: Whole) -> Figures:
    """All figures of a build that was judged to the end."""
    stand = judged.stand
    told = tuple(call_out_figures(finding) for finding in judged.findings)
    hands = hands_report(stand)
    return Figures(
        carried=_carried(stand, hands),
        hands=hands,
        parts=_parts(stand),
        packs=_packs(stand),
        draw_w=stand.draw_w,
        gimbal=_gimbal(stand, balance_report(stand)),
        cables=_cables(stand),
        call_outs=tuple(each for each in told if each.level != "clear"),
        clear=tuple(each for each in told if each.level == "clear"),
    )


def _vector(values: object) -> Vec3:
    x, y, z = (float(v) for v in values)  # type: ignore[attr-defined]  # three numbers
    return x, y, z


def _carried(stand: Stand, hands: HandsReport) -> CarriedFigures:
    held, use = stand.carried, use_of(stand.assembly, stand.settings)
    return CarriedFigures(
        support=held.support,
        kind=held.kind,
        handling=use.handling,
        factor=use.factor,
        tilt_deg=use.attitudes.tilt_deg,
        roll_deg=use.attitudes.roll_deg,
        grip=next((way.name for way in hands.ways if way.chosen), None),
        payload_g=held.payload.mass_g,
        payload_sd_g=held.payload.mass_sd_g,
        total_g=held.total.mass_g,
        worn_g=stand.assembly.layout.worn_g,
        cg_mm=_vector(held.payload.cg_mm),
        cg_sd_mm=_vector(held.payload.cg_sd_mm),
        front_nm=held.front_nm,
    )


def _parts(stand: Stand) -> tuple[PartFigures, ...]:
    assembly, catalogue = stand.assembly, stand.assembly.catalogue
    found = []
    for unit in assembly.units:
        pose = assembly.pose(unit)
        x, y, z = (_vector(row) for row in pose.rotation)
        found.append(
            PartFigures(
                unit=unit,
                model=catalogue.model_of(unit).id,
                mass_g=catalogue.mass_of(unit)[0],
                at_mm=_vector(pose.translation_mm),
                rotation=(x, y, z),
            )
        )
    return tuple(found)


def _packs(stand: Stand) -> tuple[PackFigures, ...]:
    first = stand.first_empty
    return tuple(
        PackFigures(
            pack=run.pack,
            feeds=run.feeds,
            load_w=run.load_w,
            hours=finite(run.hours),
            ended_by=run.discharge.ended_by,
            first=run is first and finite(run.hours) is not None,
        )
        for run in stand.runs
    )


def _gimbal(stand: Stand, report: BalanceReport | None) -> GimbalFigures | None:
    if report is None:
        return None
    return GimbalFigures(
        slides=tuple(
            SlideFigures(
                name=s.name, reading=s.reading, two_sigma_mm=s.spread_mm, left_mm=s.left_mm, short_mm=s.short_mm
            )
            for s in report.slides
        ),
        motors=tuple(
            MotorFigures(axis=m.axis, torque_nm=m.torque_nm, pull_nm=m.pull_nm, rated_nm=m.rated_nm, share=m.share)
            for m in report.loads
        ),
        reach=report.reaches,
        power_w=stand.carried.gimbal_w,
        hours=report.hours,
        hours_balanced=report.hours_balanced,
    )


def _cables(stand: Stand) -> tuple[CableFigures, ...]:
    return tuple(
        CableFigures(
            cable=route.link.cable,
            from_unit=route.link.from_unit,
            to_unit=route.link.to_unit,
            length_mm=route.cable.length_mm,
            needs_mm=route.straight_mm * stand.settings.cable_slack,
            crosses_axes=route.crosses,
        )
        for route in stand.routes
    )
