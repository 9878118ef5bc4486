"""Balance of a rig on a gimbal: the four readings, the load of every motor, the zoom, what is hit.

Formulas: docs/formulas.md §3. Slides in mm on the printed scales; torques in N·m.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal

import numpy as np

from ..callouts import Finding
from ..errors import NotAllowed
from ..gear.optical import LensData
from ..gear.supports import GimbalData
from ..geometry import STANDARD_GRAVITY, Array
from ..lens.mount import lens_chain
from ..stand import Stand
from ..support.clearance import Reach, reaches
from ..support.gimbal import Solution, gimbal_power_w, motor_torques_nm, pinned, solve
from ..support.load import SLIDE_WORDS, Carried, moves_of, slide_shares_mm
from ..support.sticks import tip_over_findings
from ..support.wind import WindOnMotor, wind_on_motors
from .checks import clearance_findings, wind_findings, zoom_findings
from .zoom import ZoomAnswer, zoom_answer

__all__ = [
    "AXES",
    "FRICTION_NM",
    "BalanceReport",
    "MotorLoad",
    "SlideTarget",
    "balance_report",
    "hung_at",
    "readings_of",
    "swept_findings",
    "swept_for",
    "torques_at",
    "zoom_hours",
]

AXES = tuple(SLIDE_WORDS)
_MOST_USES, _WORTH_MM = 4, 0.5
FRICTION_NM = 0.02
"""Friction hides differences below this between a load that is read and the computed one."""


@dataclass(frozen=True, slots=True)
class SlideTarget:
    """A slide: the number to set on its scale, ± two deviations, and what is left of its travel."""

    name: str
    title: str
    reading: float
    spread_mm: float
    scale: tuple[float, float]
    """Readings at its two stops, lower first."""
    left_mm: float
    short_mm: float
    """Travel that is missing."""
    direction: Literal[1, -1]
    """Whether the number grows or falls as the slide goes forward, up or left."""
    uses: tuple[tuple[str, float], ...] = ()
    """The parts that ask for most of it, and mm of slide each asks for; negative: towards the lower end."""


@dataclass(frozen=True, slots=True)
class MotorLoad:
    """What a motor holds: worst torque over the moves needed, cable pull included, and its share of what it can."""

    axis: str
    torque_nm: float
    rated_nm: float
    pull_nm: float
    by_move: Mapping[str, float]

    @property
    def share(self) -> float:
        """Share of the continuous torque."""
        return self.torque_nm / self.rated_nm


@dataclass(frozen=True, eq=False)
class BalanceReport:
    """Everything about the balance of a rig on its gimbal."""

    support: str
    slides: tuple[SlideTarget, ...]
    loads: tuple[MotorLoad, ...]
    zoom: ZoomAnswer | None
    zoom_unit: str | None
    reaches: tuple[Reach, ...]
    wind: tuple[WindOnMotor, ...]
    hours: float | None
    hours_balanced: float | None
    hours_claimed: float | None
    """By its maker, balanced and at rest."""
    hours_measured: float | None
    """Of this very unit."""
    axis_locks: bool
    findings: tuple[Finding, ...]


def balance_report(stand: Stand) -> BalanceReport | None:
    """The balance of an evaluated build; None when it is on no gimbal, or the gimbal carries nothing."""
    held = stand.carried
    if held.gimbal is None or held.solution is None or held.torques_nm is None or held.support is None:
        return None
    zoomed, zoom_unit = _zoomed(stand), _zoom_on(stand)
    zoom = zoomed.answer() if zoomed else None
    swept = reaches(stand.assembly, held)
    wind = wind_on_motors(stand.assembly, held, stand.settings, stand.conditions.blows_m_s)
    return BalanceReport(
        held.support,
        tuple(_target(stand, name) for name in AXES),
        _loads(held),
        zoom,
        zoom_unit,
        swept,
        wind,
        *_hours(stand, held),
        held.gimbal.claimed_h,
        stand.assembly.catalogue.unit(held.support).measured_h,
        held.gimbal.axis_locks,
        (
            *clearance_findings(stand, held, swept),
            *zoom_findings(stand, held, zoom, zoom_unit),
            *wind_findings(stand, held, wind),
        ),
    )


def swept_findings(stand: Stand) -> tuple[Finding, ...]:
    """What only sweeping tells: reach, zoom and wind of a gimbal, and wind on sticks."""
    report = balance_report(stand)
    if report:
        return report.findings
    return tuple(tip_over_findings(stand.assembly, stand.carried, stand.settings, stand.conditions))


def swept_for(stand: Stand, code: str) -> tuple[Finding, ...]:
    """Of what only sweeping tells the call-outs of one code, without sweeping for the others."""
    held = stand.carried
    if code == "stand.tips":
        return tuple(tip_over_findings(stand.assembly, held, stand.settings, stand.conditions))
    if held.solution is None:
        return ()
    if code == "gimbal.wind":
        found = wind_findings(
            stand, held, wind_on_motors(stand.assembly, held, stand.settings, stand.conditions.blows_m_s)
        )
    elif code == "gimbal.zoom":
        zoomed = _zoomed(stand)
        found = zoom_findings(stand, held, zoomed.answer() if zoomed else None, _zoom_on(stand))
    else:
        found = clearance_findings(stand, held, reaches(stand.assembly, held, only=code.rpartition(".")[2]))
    return tuple(f for f in found if f.code == code)


def _target(stand: Stand, name: str) -> SlideTarget:
    held = stand.carried
    slide = next(s for s in held.solution.slides if s.name == name) if held.solution else None
    if slide is None:
        raise ValueError(f"There is no slide '{name}'; there are: {', '.join(AXES)}.")
    ends = sorted((slide.range.reading(slide.range.min_mm), slide.range.reading(slide.range.max_mm)))
    spread = 2 * held.slide_sd_mm[name]
    return SlideTarget(
        name,
        SLIDE_WORDS[name][0],
        slide.reading,
        spread,
        (ends[0], ends[1]),
        slide.left_mm,
        slide.short_mm,
        slide.range.direction,
        _uses(stand, name),
    )


def _uses(stand: Stand, name: str) -> tuple[tuple[str, float], ...]:
    shares = slide_shares_mm(stand.assembly, stand.carried, name)
    most = sorted(shares.items(), key=lambda each: -abs(each[1]))[:_MOST_USES]
    return tuple((unit, round(mm, 2)) for unit, mm in most if abs(mm) >= _WORTH_MM)


def readings_of(held: Carried) -> dict[str, float]:
    """The number to set on every scale; empty without a solution."""
    return {slide.name: slide.reading for slide in held.solution.slides} if held.solution else {}


def hung_at(stand: Stand, readings: Mapping[str, float]) -> Solution:
    """The gimbal with its slides where their scales really read; those not named where they balance.

    Raises NotAllowed when the rig hangs on no gimbal or a reading is not on its scale.
    """
    held = stand.carried
    if held.gimbal is None or held.hangs is None:
        raise NotAllowed("The rig is on no gimbal that carries a camera; there are no motors to read.")
    try:
        gimbal = pinned(held.gimbal, readings)
    except ValueError as error:
        raise NotAllowed(f"{error}.") from error
    return solve(
        gimbal,
        held.hangs,
        stand.settings,
        on_pan=held.on_pan,
        moves=moves_of(stand.target, stand.settings),
    )


def torques_at(stand: Stand, readings: Mapping[str, float]) -> tuple[float, float, float]:
    """What the motors hold over the moves needed with the slides as they really
    are, cables included, N·m; raises what ``hung_at`` raises.
    """
    return motor_torques_nm(hung_at(stand, readings).residual_nm, stand.carried.cable_pull_nm)


def _loads(held: Carried) -> tuple[MotorLoad, ...]:
    if held.gimbal is None or held.solution is None or held.torques_nm is None:
        return ()
    return tuple(
        MotorLoad(
            axis,
            torque,
            rated,
            held.cable_pull_nm[i],
            {move: t[i] + held.cable_pull_nm[i] for move, t in held.solution.by_move.items()},
        )
        for i, (axis, torque, rated) in enumerate(
            zip(("tilt", "roll", "pan"), held.torques_nm, held.gimbal.torque_nm, strict=True)
        )
    )


def _hours_at(stand: Stand, gimbal_w: float | None) -> float | None:
    """Hours of the gimbal's own pack while its motors take so many watts, with
    everything it feeds on top; None without a pack or a figure.

    The same simulated discharge that Power tells.
    """
    held = stand.carried
    if held.support is None or gimbal_w is None or stand.assembly.catalogue.model_of(held.support).pack is None:
        return None
    run = stand.graph.run_down(
        held.support,
        {held.support: gimbal_w},
        reserve=stand.settings.reserve,
        temperature_c=stand.conditions.temperature_c,
    )
    return run.hours if math.isfinite(run.hours) else None


def _hours(stand: Stand, held: Carried) -> tuple[float | None, float | None]:
    """Hours of the gimbal's own pack as it is, and balanced without cables."""
    if held.gimbal is None:
        return None, None
    idle = gimbal_power_w(held.gimbal, (0.0, 0.0, 0.0), stand.settings.gimbal_style)
    return _hours_at(stand, held.gimbal_w), _hours_at(stand, idle)


def _zoom_on(stand: Stand) -> str | None:
    chain = lens_chain(stand.assembly)
    lens = stand.assembly.catalogue.model_of(chain[-1]).lens if chain else None
    return chain[-1] if lens and lens.zoom and lens.zooms else None


class _Zoomed:
    """A zoom on a gimbal: where its CG goes along the gimbal's axes,
    slides clamped, and what that asks of motors and pack.
    """

    def __init__(self, stand: Stand, held: Carried, gimbal: GimbalData, unit: str, lens: LensData) -> None:
        assembly = stand.assembly
        self._stand, self._held, self._gimbal, self._lens = stand, held, gimbal, lens
        tf_gimbal_rig = assembly.pose(held.support or "").inverse()
        self._p_now = tf_gimbal_rig.point(held.payload.cg_mm)
        self._turn = tf_gimbal_rig.rotation @ assembly.pose(unit).rotation
        self.set_mm = assembly.build.setting_of(unit).focal_mm or lens.focal_mm[0]
        self._lens_now = np.asarray(lens.cg_at(self.set_mm), dtype=float)
        self._share = assembly.parts[unit].mass_g / held.payload.mass_g
        self._own = gimbal.tilt.mass_g * np.asarray(gimbal.tilt.cg_mm)
        m_p = held.payload.mass_g
        self._v_set = min(
            max(-(m_p * self._p_now[2] + self._own[2]) / m_p, gimbal.vertical.min_mm), gimbal.vertical.max_mm
        )

    def payload_at(self, focal_mm: float) -> Array:
        """CG of the payload in the gimbal's frame, mm."""
        shift = self._turn @ (np.asarray(self._lens.cg_at(focal_mm), dtype=float) - self._lens_now)
        return np.asarray(self._p_now + self._share * shift)

    def torque_nm(self, focal_mm: float, balanced_x: float) -> float:
        """What tilt holds at a focal length, the slide set for a CG of the payload at ``balanced_x``."""
        m_p, travel = self._held.payload.mass_g, self._gimbal.fore_aft
        a_set = min(max(-(m_p * balanced_x + self._own[0]) / m_p, travel.min_mm), travel.max_mm)
        p = self.payload_at(focal_mm)
        return float(
            STANDARD_GRAVITY
            * 1e-6
            * np.hypot(m_p * (p[0] + a_set) + self._own[0], m_p * (p[2] + self._v_set) + self._own[2])
        )

    def power_w(self, focal_mm: float, balanced_x: float) -> float | None:
        """What the gimbal takes then, pan turned by the same shift of the CG, W."""
        held, settings = self._held, self._stand.settings
        if held.solution is None:
            return None
        off_mm = float(self.payload_at(focal_mm)[0]) - balanced_x
        pan = (
            STANDARD_GRAVITY
            * 1e-6
            * held.payload.mass_g
            * abs(off_mm)
            * math.sin(math.radians(settings.gimbal_lean_deg))
        )
        _, roll, still = held.solution.level_nm
        return gimbal_power_w(
            self._gimbal,
            motor_torques_nm((self.torque_nm(focal_mm, balanced_x), roll, still + pan), held.cable_pull_nm),
            settings.gimbal_style,
        )

    def answer(self) -> ZoomAnswer:
        """Where to balance it, by every school."""
        data = self._lens
        m_p, travel = self._held.payload.mass_g, self._gimbal.fore_aft
        reachable = (-travel.max_mm - float(self._own[0]) / m_p, -travel.min_mm - float(self._own[0]) / m_p)
        return zoom_answer(
            [point.focal_mm for point in data.zoom],
            lambda f: float(self.payload_at(f)[0]),
            self.torque_nm,
            data.focal_mm,
            self.set_mm,
            reachable,
        )

    def hours(self, balanced_x: float, ends: tuple[float, float]) -> float | None:
        """Hours with a share of the time at the wide and at the long end, and the
        rest evenly between, at the mean power of the motors.
        """
        low, high = self._lens.focal_mm
        powers = [self.power_w(f, balanced_x) for f in np.linspace(low, high, 9).tolist()]
        known = [w for w in powers if w is not None]
        if len(known) < len(powers):
            return None
        mean = ends[0] * known[0] + ends[1] * known[-1] + (1 - sum(ends)) * sum(known) / len(known)
        return _hours_at(self._stand, mean)


def _zoomed(stand: Stand) -> _Zoomed | None:
    held, unit = stand.carried, _zoom_on(stand)
    lens = stand.assembly.catalogue.model_of(unit).lens if unit else None
    return _Zoomed(stand, held, held.gimbal, unit, lens) if unit and lens and held.gimbal and held.solution else None


def zoom_hours(stand: Stand, ends: tuple[float, float] | None = None) -> dict[str, float]:
    """Hours of the gimbal's pack for every school of balancing its zoom, by name; empty without a zoom or a figure.

    ``ends``: shares of the time at the wide and at the long end, together at most 1;
    the settings' where nothing is said. Raises NotAllowed beyond that.
    """
    shares = ends or stand.settings.zoom_ends
    if min(shares) < 0 or sum(shares) > 1 + 1e-9:
        raise NotAllowed(
            f"{shares[0] * 100:.0f} % of the time at the wide and {shares[1] * 100:.0f} % at the long end: together"
            " they are at most the whole."
        )
    zoomed = _zoomed(stand)
    if zoomed is None:
        return {}
    found = {school.name: zoomed.hours(school.cg_x_mm, shares) for school in zoomed.answer().schools}
    return {name: hours for name, hours in found.items() if hours is not None}
