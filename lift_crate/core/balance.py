"""Balance of a rig on a gimbal: the four readings, the load of every motor, the zoom, what is hit, and what it was balanced for.

Formulas: docs/formulas.md §3. Slides in mm on the printed scales; torques in N·m.
"""

from __future__ import annotations

import hashlib
import json
from collections.abc import Mapping
from dataclasses import dataclass, replace

import numpy as np

from .assembly import assemble
from .carrying import Carried, carried, moves_of
from .clearance import Reach, reaches
from .errors import BadRig, NotAllowed
from .evaluate import Evaluation
from .findings import About, Finding, Level, Working
from .geometry import STANDARD_GRAVITY, Array
from .gimbal import gimbal_power_w, motor_torques_nm, pinned, solve
from .optics import lens_chain
from .power import capacity_factor
from .rig import Build, Catalogue, Conditions
from .wind import WindOnMotor, wind_on_motors
from .zoom import ZoomAnswer, zoom_answer

__all__ = ["APART_NM", "AXES", "BalanceReport", "Change", "MotorLoad", "SlideTarget", "balance_report", "changes_between", "fingerprint", "readings_of", "torques_at"]

AXES = ("fore_aft", "vertical", "lateral", "pan")
_WORDS = {"fore_aft": "tilt fore-aft", "vertical": "tilt vertical", "lateral": "roll", "pan": "pan"}
_COMPONENT = {"fore_aft": 0, "vertical": 2, "lateral": 1, "pan": 0}
APART_NM = 0.02
"""Friction hides differences below this between a load that is read and the computed one."""
_MOVED_MM = 0.5
"""A reading that moves by less is not worth a new balance."""


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
    axis_locks: bool
    findings: tuple[Finding, ...]


def balance_report(evaluation: Evaluation, conditions: Conditions) -> BalanceReport | None:
    """The balance of an evaluated build; None when it is on no gimbal, or the gimbal carries nothing."""
    held = evaluation.carried
    if held.gimbal is None or held.solution is None or held.torques_nm is None or held.support is None:
        return None
    zoom_unit = _zoom_on(evaluation)
    zoom = _zoom(evaluation, held, zoom_unit) if zoom_unit else None
    swept = reaches(evaluation.assembly, held)
    wind = wind_on_motors(evaluation.assembly, held, evaluation.settings, conditions.wind_m_s)
    return BalanceReport(
        held.support, tuple(_target(held, name) for name in AXES), _loads(held), zoom, zoom_unit, swept, wind,
        *_hours(evaluation, held, conditions), held.gimbal.axis_locks,
        (*_clearance_findings(evaluation, held, swept), *_zoom_findings(evaluation, held, zoom, zoom_unit), *_wind_findings(evaluation, held, wind, conditions)),
    )  # fmt: skip


def _target(held: Carried, name: str) -> SlideTarget:
    slide = next(s for s in held.solution.slides if s.name == name) if held.solution else None
    if slide is None:
        raise ValueError(f"There is no slide '{name}'; there are: {', '.join(AXES)}.")
    ends = sorted((slide.range.reading(slide.range.min_mm), slide.range.reading(slide.range.max_mm)))
    spread = 2 * float(held.payload.cg_sd_mm[_COMPONENT[name]])
    return SlideTarget(name, _WORDS[name], slide.reading, spread, (ends[0], ends[1]), slide.left_mm, slide.short_mm)


def readings_of(held: Carried) -> dict[str, float]:
    """The number to set on every scale; empty without a solution."""
    return {slide.name: slide.reading for slide in held.solution.slides} if held.solution else {}


def torques_at(evaluation: Evaluation, readings: Mapping[str, float]) -> tuple[float, float, float]:
    """What the motors hold over the moves needed with the slides as they really are, cables included, N·m.

    Raises NotAllowed when the rig hangs on no gimbal or a reading is not on its scale.
    """
    held = evaluation.carried
    if held.gimbal is None or held.hangs is None:
        raise NotAllowed("The rig is on no gimbal that carries a camera; there are no motors to read.")
    try:
        gimbal = pinned(held.gimbal, readings)
    except ValueError as error:
        raise NotAllowed(f"{error}.") from error
    there = solve(gimbal, held.hangs, evaluation.settings, on_pan=held.on_pan, moves=moves_of(evaluation.target, evaluation.settings))
    return motor_torques_nm(there.residual_nm, held.cable_pull_nm)


def _loads(held: Carried) -> tuple[MotorLoad, ...]:
    if held.gimbal is None or held.solution is None or held.torques_nm is None:
        return ()
    return tuple(
        MotorLoad(axis, torque, rated, held.cable_pull_nm, {move: t[i] + held.cable_pull_nm for move, t in held.solution.by_move.items()})
        for i, (axis, torque, rated) in enumerate(zip(("tilt", "roll", "pan"), held.torques_nm, held.gimbal.torque_nm, strict=True))
    )  # fmt: skip


def _hours(evaluation: Evaluation, held: Carried, conditions: Conditions) -> tuple[float | None, float | None]:
    """Hours of the gimbal's own pack as it is, and balanced without cables: usable energy over power."""
    if held.gimbal is None or held.support is None:
        return None, None
    model = evaluation.assembly.catalogue.model_of(held.support)
    if model.pack is None:
        return None, None
    health = evaluation.assembly.catalogue.unit(held.support).health
    usable = (1 - evaluation.settings.reserve) * model.pack.energy_wh * health * capacity_factor(conditions.temperature_c)
    idle = gimbal_power_w(held.gimbal, motor_torques_nm((0.0, 0.0, 0.0), 0.0), evaluation.settings.gimbal_style)
    return usable / held.gimbal_w if held.gimbal_w else None, usable / idle if idle else None


def _zoom_on(evaluation: Evaluation) -> str | None:
    chain = lens_chain(evaluation.assembly, evaluation.assembly.build.body)
    lens = evaluation.assembly.catalogue.model_of(chain[-1]).lens if chain else None
    return chain[-1] if lens and lens.zoom and lens.zooms else None


def _zoom(evaluation: Evaluation, held: Carried, unit: str) -> ZoomAnswer | None:
    """Tilt torque over the zoom's range, the lens's CG moved along the gimbal's own axes, slides clamped."""
    assembly, gimbal = evaluation.assembly, held.gimbal
    lens = assembly.catalogue.model_of(unit).lens
    if lens is None or gimbal is None or held.support is None:
        return None
    data, m_t, m_p = lens, gimbal.tilt, held.payload.mass_g
    tf_gimbal_rig = assembly.pose(held.support).inverse()
    p_now = tf_gimbal_rig.point(held.payload.cg_mm)
    turn = tf_gimbal_rig.rotation @ assembly.pose(unit).rotation
    set_mm = assembly.build.setting_of(unit).focal_mm or data.focal_mm[0]
    lens_now = np.asarray(data.cg_at(set_mm), dtype=float)
    mass = assembly.parts[unit].mass_g
    own = m_t.mass_g * np.asarray(m_t.cg_mm)

    def payload_at(focal: float) -> Array:
        shift = turn @ (np.asarray(data.cg_at(focal), dtype=float) - lens_now)
        return np.asarray(p_now + mass / m_p * shift)

    def clamped(value: float, low: float, high: float) -> float:
        return min(max(value, low), high)

    v_set = clamped(-(m_p * p_now[2] + own[2]) / m_p, gimbal.vertical.min_mm, gimbal.vertical.max_mm)

    def torque(focal: float, balanced_x: float) -> float:
        a_set = clamped(-(m_p * balanced_x + own[0]) / m_p, gimbal.fore_aft.min_mm, gimbal.fore_aft.max_mm)
        p = payload_at(focal)
        return float(STANDARD_GRAVITY * 1e-6 * np.hypot(m_p * (p[0] + a_set) + own[0], m_p * (p[2] + v_set) + own[2]))

    return zoom_answer([point.focal_mm for point in data.zoom], lambda f: float(payload_at(f)[0]), torque, data.focal_mm, set_mm)


def _clearance_findings(evaluation: Evaluation, held: Carried, swept: tuple[Reach, ...]) -> list[Finding]:
    """What is hit inside the range that the moves need is a Stop, outside it a Note."""
    moves = moves_of(evaluation.target, evaluation.settings)
    found = []
    for reach in swept:
        limits = [(m.tilt_deg if reach.axis == "tilt" else m.roll_deg) for m in moves.values()]
        low, high = min(min(pair) for pair in limits), max(max(pair) for pair in limits)
        for hits, at, wanted, word in ((reach.low_hits, reach.low_deg, low, "up" if reach.axis == "tilt" else "right"), (reach.high_hits, reach.high_deg, high, "down" if reach.axis == "tilt" else "left")):
            if hits is None:
                continue
            inside = abs(at) < abs(wanted) - 1e-9
            found.append(Finding(
                code=f"gimbal.clearance.{reach.axis}", level=Level.STOP if inside else Level.NOTE,
                about=About(units=(hits[0], held.support or ""), port=word), value=abs(at), limit=abs(wanted), unit="°",
                text=f"{hits[0]} meets {hits[1]} at {abs(at):.0f}° {reach.axis} {word}" + (f"; {abs(wanted):.0f}° are needed." if inside else f"; only {abs(wanted):.0f}° are needed."),
                working=(Working(formula="the camera's boxes turned about the axis at the solved slides, until two overlap by 1 mm", numbers=f"free to {abs(at):.1f}°"),),
            ))  # fmt: skip
    return found


def _zoom_findings(evaluation: Evaluation, held: Carried, zoom: ZoomAnswer | None, unit: str | None) -> list[Finding]:
    if zoom is None or unit is None or held.gimbal is None:
        return []
    now = zoom.as_set
    rated, settings = held.gimbal.torque_nm[0], evaluation.settings
    share, best = now.worst_nm / rated, zoom.best.worst_nm / rated
    level = Level.CLEAR if share <= settings.motor_settled else Level.NOTE if share <= settings.motor_workable else Level.WATCH if share <= settings.motor_strained else Level.STOP
    where = f"{zoom.best.focal_mm:.0f} mm" if zoom.best.focal_mm else "the middle of its travel"
    helped = f"balanced at {where} it is {zoom.best.worst_nm:.3f} N·m ({best * 100:.0f} %)."
    if not zoom.helps:
        ended = any(slide.short_mm > 0 for slide in held.solution.slides) if held.solution else False
        helped = "with the slide at its stop no other focal length does better." if ended else "no other focal length does better."
    return [Finding(
        code="gimbal.zoom", level=level, about=About(units=(unit, held.support or "")), value=now.worst_nm, limit=rated, unit="N·m",
        text=f"Balanced at {now.focal_mm or 0:.0f} mm, zooming {unit} through its range leaves up to {now.worst_nm:.3f} N·m on tilt ({share * 100:.0f} %); {helped}",
        working=(Working(
            formula="balance at the middle of the lowest and highest CG of the rig over the zoom's range",
            numbers="; ".join(f"{s.name}: {'' if s.focal_mm is None else f'{s.focal_mm:.0f} mm, '}{s.worst_nm:.4f} N·m" for s in zoom.schools),
        ),),
    )]  # fmt: skip


def _wind_findings(evaluation: Evaluation, held: Carried, wind: tuple[WindOnMotor, ...], conditions: Conditions) -> list[Finding]:
    """The motor that is nearest to its torque: beyond its torque in a gust is a Stop, strained a Watch."""
    if not wind or held.support is None:
        return []
    settings = evaluation.settings
    worst = max(wind, key=lambda w: w.share)
    gust = conditions.wind_m_s * settings.gust
    level = Level.STOP if worst.share > 1 else Level.WATCH if worst.share > settings.motor_strained else Level.NOTE if worst.share > settings.motor_workable else Level.CLEAR
    return [Finding(
        code="gimbal.wind", level=level, about=About(units=(held.support,), port=worst.axis), value=worst.torque_nm, limit=worst.rated_nm, unit="N·m",
        text=f"In gusts of {gust:.1f} m/s ({conditions.wind_m_s:g} m/s on average) the {worst.axis} motor of {held.support} holds up to {worst.torque_nm:.2f} N·m, {worst.share * 100:.0f} % of its {worst.rated_nm:.2f} N·m; it gives up at {worst.gives_up_m_s:.0f} m/s on average.",
        working=(Working(
            formula="F = ½·1.2·1.1·A·v² at the centre of the area, worst of 16 directions, on top of what the motor holds in still air",
            numbers="; ".join(f"{w.axis}: {w.area_m2:.4f} m², {w.torque_nm:.3f} of {w.rated_nm:.2f} N·m, gives up at {w.gives_up_m_s:.1f} m/s" for w in wind),
        ),),
    )]  # fmt: skip


def fingerprint(build: Build, catalogue: Catalogue) -> str:
    """What bears on the balance of a build, as a short text that changes with any of it: parts, joints, cables, settings, masses, CGs."""
    units = {u: [catalogue.mass_of(u), catalogue.cg_of(u, build.setting_of(u).focal_mm)] for u in sorted(build.units)}
    joints = sorted((j.child, j.child_port, j.parent, j.parent_port, j.spin_deg, j.slide_mm) for j in build.joints)
    links = sorted((k.cable, k.from_unit, k.from_port, k.to_unit, k.to_port) for k in build.links)
    return hashlib.sha256(json.dumps([build.body, units, joints, links]).encode()).hexdigest()[:16]


@dataclass(frozen=True, slots=True)
class Change:
    """One thing that is not as it was balanced, and how far it moves each reading, mm."""

    text: str
    moved_mm: Mapping[str, float]

    @property
    def axes(self) -> tuple[str, ...]:
        """Slides worth setting again."""
        return tuple(name for name, mm in self.moved_mm.items() if abs(mm) >= _MOVED_MM)


def changes_between(balanced: Build, now: Evaluation) -> tuple[Change, ...]:
    """What changed since a build was balanced, each with the readings it moves by itself."""
    build = now.assembly.build
    found = [
        *(_change(now, f"{unit} was put on", build.without(build.subtree(unit)), build) for unit in _tops(build, balanced)),
        *(_change(now, f"{unit} was taken off", balanced, balanced.without(balanced.subtree(unit))) for unit in _tops(balanced, build)),
    ]
    for joint in build.joints:
        old = balanced.joint_of(joint.child)
        if old is None or old == joint:
            continue
        was = replace(build, joints=tuple(old if j.child == joint.child else j for j in build.joints))
        slid = (old.parent, old.parent_port, old.spin_deg) == (joint.parent, joint.parent_port, joint.spin_deg)
        what = f"slid from {old.slide_mm:+.1f} to {joint.slide_mm:+.1f} mm" if slid else "was moved or turned"
        found.append(_change(now, f"{joint.child} {what}", was, build))
    for unit in build.units:
        lens = now.assembly.catalogue.model_of(unit).lens
        if lens is None or unit not in balanced.units:
            continue
        before, after = (b.setting_of(unit).focal_mm or lens.focal_mm[0] for b in (balanced, build))
        if before != after:
            others = tuple(s for s in build.settings if s.unit != unit)
            was = replace(build, settings=(*others, replace(build.setting_of(unit), focal_mm=before)))
            found.append(_change(now, f"{unit} was zoomed from {before:g} to {after:g} mm", was, build))
    return tuple(change for change in found if change is not None)


def _tops(build: Build, other: Build) -> list[str]:
    """Units of a build that another has not, outermost parents only; cables too."""
    missing = [unit for unit in build.units if unit not in other.units]
    return [unit for unit in missing if not ((joint := build.joint_of(unit)) and joint.parent in missing)]


def _change(now: Evaluation, text: str, before: Build, after: Build) -> Change | None:
    readings = []
    for build in (before, after):
        try:
            readings.append(readings_of(carried(assemble(build, now.assembly.catalogue), now.settings, now.target)))
        except BadRig:
            return Change(text, {})
    return Change(text, {name: readings[1][name] - readings[0][name] for name in readings[1] if name in readings[0]})
