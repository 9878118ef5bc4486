"""What carries the rig: payload of heads, pads and gimbals, gimbal travel and motor load.

Formulas: docs/formulas.md §3 and §4.
"""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from dataclasses import dataclass, field, replace

import numpy as np

from ..callouts import About, Finding, Input, Level, Working
from ..fit.joints import use_of
from ..gear.model import Source
from ..gear.supports import GimbalData, Stage
from ..geometry import STANDARD_GRAVITY, Array, Pose
from ..rig.assembly import Assembly
from ..rig.build import Target
from ..rig.masses import MassSummary
from ..settings import GimbalMove, Settings
from ..wording import signed
from .gimbal import Payload, PerAxis, SlideAnswer, Solution, gimbal_power_w, motor_torques_nm, shaken_nm, solve
from .inertia import about_axis_kg_m2, of_parts, of_point_kg_m2

__all__ = [
    "SLIDE_WORDS",
    "STAGES",
    "Carried",
    "carried",
    "carrying_findings",
    "inertia_kg_m2",
    "motor_level",
    "moves_of",
    "moving_findings",
    "slide_shares_mm",
    "stage_of",
    "support_point",
]

_SOURCES: tuple[Source, ...] = ("measured", "catalogue", "assumed")
STAGES = ("tilt", "roll", "pan", "handle")
"""What moves together, inside out; the seat and all on it with tilt. A motor turns each against the next."""
_STYLES = (1.0, 1.3, 1.6)
"""Calm, usual and hard, as factors on a gimbal's base draw."""
_ASSUMED_PEAK = 1.5
"""Peak over continuous torque where the maker names none (docs/formulas.md §3, 'Starting a move')."""
_SLIDE_COMPONENT = {"fore_aft": 0, "vertical": 2, "lateral": 1, "pan": 0}
SLIDE_WORDS = {
    "fore_aft": ("tilt fore-aft", "forward", "back"),
    "vertical": ("tilt vertical", "up", "down"),
    "lateral": ("roll", "left", "right"),
    "pan": ("pan", "forward", "back"),
}


@dataclass(frozen=True, eq=False)
class Carried:
    """What a support carries: the payload's mass and CG in the rig frame, and how it hangs."""

    support: str | None
    kind: str
    payload: MassSummary
    total: MassSummary
    front_nm: float
    """Moment about the support, nose-down positive; on a gimbal what tilt still holds after its slides."""
    gimbal: GimbalData | None = None
    solution: Solution | None = None
    torques_nm: tuple[float, float, float] | None = None
    gimbal_w: float | None = None
    cable_pull_nm: PerAxis = (0.0, 0.0, 0.0)
    slide_sd_mm: Mapping[str, float] = field(default_factory=dict)
    """One standard deviation of the CG along every slide's own axis."""
    hangs: Payload | None = None
    """The payload in the gimbal's own frame."""
    on_pan: Payload | None = None

    @property
    def own_draw_w(self) -> dict[str, float]:
        """Watts that the support takes to carry it, by the support; empty where it takes none."""
        return {self.support: self.gimbal_w} if self.support and self.gimbal_w else {}


def carried(assembly: Assembly, settings: Settings, target: Target | None = None) -> Carried:
    """Split a rig into payload and support, and solve the gimbal if there is one."""
    total = assembly.summary(settings)
    support = assembly.find_support()
    if support is None:
        grip = _hand_point(assembly)
        front = total.mass_g * STANDARD_GRAVITY * (float(total.cg_mm[0]) - float(grip[0])) * 1e-6
        return Carried(None, "hand", total, total, front)
    payload = assembly.summary(settings, assembly.layout.on_support)
    model = assembly.catalogue.model_of(support)
    data = model.support
    kind = data.kind if data else "hand"
    tf_rig_support = assembly.pose(support)
    if model.gimbal is None or payload.mass_g <= 0:
        point = tf_rig_support.point(data.at if data else (0.0, 0.0, 0.0))
        front = payload.mass_g * STANDARD_GRAVITY * (float(payload.cg_mm[0]) - float(point[0])) * 1e-6
        return Carried(support, kind, payload, total, front, model.gimbal)
    return _on_gimbal(assembly, settings, target, support, model.gimbal, payload, total, tf_rig_support)


def support_point(assembly: Assembly) -> Array:
    """Where the rig is held, in the rig frame: pad, pivot, palm or the middle of the handle, mm, shape (3,)."""
    support = assembly.find_support()
    data = assembly.catalogue.model_of(support).support if support else None
    return assembly.pose(support).point(data.at) if support and data else _hand_point(assembly)


def _hand_point(assembly: Assembly) -> Array:
    """Where a hand holds: the grip or handle it is held by, else the film-plane mark."""
    unit = assembly.held_by
    if unit is None:
        return np.zeros(3)
    low, high = assembly.catalogue.model_of(unit).bounds
    return assembly.pose(unit).point((low + high) / 2)


def _on_gimbal(
    assembly: Assembly,
    settings: Settings,
    target: Target | None,
    support: str,
    gimbal: GimbalData,
    payload: MassSummary,
    total: MassSummary,
    tf_rig_gimbal: Pose,
) -> Carried:
    p_gimbal = tf_rig_gimbal.inverse().point(payload.cg_mm)
    on_pan, on_roll, on_tilt = (_hung_on(assembly, support, stage) for stage in ("pan", "roll", "tilt"))
    gimbal = replace(gimbal, tilt=_with_hung(gimbal.tilt, on_tilt), roll=_with_hung(gimbal.roll, on_roll))
    hangs = Payload(payload.mass_g, (float(p_gimbal[0]), float(p_gimbal[1]), float(p_gimbal[2])))
    solution = solve(
        gimbal,
        hangs,
        settings,
        on_pan=on_pan,
        moves=moves_of(target, settings),
    )
    pull = _cable_pull_nm(assembly, settings, support)
    sd = {name: payload.cg_sd_along_mm(tf_rig_gimbal.rotation[:, i]) for name, i in _SLIDE_COMPONENT.items()}
    torques = motor_torques_nm(solution.residual_nm, pull)
    watts = gimbal_power_w(gimbal, motor_torques_nm(solution.level_nm, pull), settings.gimbal_style)
    body_mass = payload.mass_g + gimbal.tilt.mass_g
    x_t = (
        payload.mass_g * (float(p_gimbal[0]) + solution.fore_aft.set_mm) + gimbal.tilt.mass_g * gimbal.tilt.cg_mm[0]
    ) / body_mass
    front = body_mass * STANDARD_GRAVITY * x_t * 1e-6
    return Carried(support, "gimbal", payload, total, front, gimbal, solution, torques, watts, pull, sd, hangs, on_pan)


def stage_of(assembly: Assembly, support: str | None, unit: str, port_id: str) -> str:
    """Which part of a gimbal a port of the rig moves with: 'tilt' for everything on its seat, and without a
    gimbal; what the operator wears stands still with its handle.
    """
    if unit in assembly.layout.worn:
        return "handle"
    if support is None or assembly.catalogue.model_of(support).gimbal is None:
        return "tilt"
    at, port = unit, port_id
    while at != support:
        joint = assembly.build.joint_of(at)
        if joint is None:
            return "tilt"
        at, port = joint.parent, joint.parent_port
    stage = assembly.catalogue.model_of(support).port(port).stage
    return stage if stage in STAGES else "tilt"


def _cable_pull_nm(assembly: Assembly, settings: Settings, support: str) -> PerAxis:
    """What cables pull on tilt, roll and pan: each on exactly the axes between the two stages it joins."""
    pull = [0.0, 0.0, 0.0]
    for link in assembly.build.links:
        wire = assembly.catalogue.model_of(link.cable).cable
        low, high = sorted(
            STAGES.index(stage_of(assembly, support, *end))
            for end in ((link.from_unit, link.from_port), (link.to_unit, link.to_port))
        )
        for axis in range(low, high) if wire else ():
            pull[axis] += settings.cable_pull_nm[wire.stiffness] if wire else 0.0
    return pull[0], pull[1], pull[2]


def motor_level(share: float, settings: Settings) -> Level:
    """How serious a share of its continuous torque is for a motor that holds it."""
    steps = ((settings.motor_settled, Level.CLEAR), (settings.motor_workable, Level.NOTE))
    beyond = Level.WATCH if share <= settings.motor_strained else Level.STOP
    return next((level for most, level in steps if share <= most), beyond)


def moves_of(target: Target | None, settings: Settings) -> Mapping[str, GimbalMove]:
    """Kinds of work a position needs from a gimbal; everything within the gimbal's attitudes when it says none."""
    asked = {name: settings.moves[name] for name in (target.moves if target else ()) if name in settings.moves}
    if asked:
        return asked
    tilt, roll = settings.attitudes["gimbal"]
    return {"everything": GimbalMove(tilt_deg=(-tilt, tilt), roll_deg=(-roll, roll), lean_deg=settings.gimbal_lean_deg)}


def _hung_on(assembly: Assembly, support: str, stage: str) -> Payload | None:
    """Mass and CG, in the gimbal's frame, of what hangs on a stage's own ports."""
    model = assembly.catalogue.model_of(support)
    held: list[str] = []
    for joint in assembly.joints:
        if joint.parent == support and model.port(joint.parent_port).stage == stage:
            held.extend(assembly.layout.subtree(joint.child))
    summary = assembly.summary(Settings(), held) if held else None
    if summary is None or summary.mass_g <= 0:
        return None
    x, y, z = (float(v) for v in assembly.pose(support).inverse().point(summary.cg_mm))
    return Payload(summary.mass_g, (x, y, z))


def _with_hung(stage: Stage, hung: Payload | None) -> Stage:
    if hung is None:
        return stage
    both = Payload(stage.mass_g, stage.cg_mm).joined(hung)
    return replace(stage, mass_g=both.mass_g, cg_mm=both.cg_mm)


def carrying_findings(assembly: Assembly, held: Carried, settings: Settings) -> Iterator[Finding]:
    """Findings on payload, travel, and what the motors hold."""
    if held.support is None:
        return
    if held.gimbal is None:
        yield from _support_payload(assembly, held, settings)
        return
    if held.solution is None:
        yield Finding(
            code="gimbal.no_body",
            level=Level.STOP,
            about=About(units=(held.support,)),
            text=f"{held.support} carries no camera.",
        )
        return
    yield from _payload(held.support, held, held.gimbal.payload_limit_g, "gimbal.payload", settings)
    low = held.gimbal.min_payload_g
    if held.payload.mass_g < low:
        yield Finding(
            code="gimbal.payload_low",
            level=Level.WATCH,
            about=About(units=(held.support,)),
            text=f"{held.payload.mass_g:.0f} g on {held.support}; it needs at least {low:.0f} g.",
            value=held.payload.mass_g,
            limit=low,
            unit="g",
            spread=held.payload.mass_sd_g,
        )
    for slide in held.solution.slides:
        yield _travel(held.support, held, slide)
    yield from _motors(held.support, held, settings)


def _support_payload(assembly: Assembly, held: Carried, settings: Settings) -> Iterator[Finding]:
    data = assembly.catalogue.model_of(held.support).support if held.support else None
    if held.support and data and data.payload_limit_g:
        yield from _payload(held.support, held, data.payload_limit_g, "support.payload", settings)


def _payload(support: str, held: Carried, limit: float, code: str, settings: Settings) -> Iterator[Finding]:
    mass, spread = held.payload.mass_g, held.payload.mass_sd_g
    level = Level.CLEAR
    if mass > limit:
        level = Level.STOP
    elif mass > limit * settings.payload_watch_share:
        level = Level.WATCH
    room = limit - mass
    close = abs(room) < 2 * spread and any(held.payload.by_source_g[s] > 0 for s in ("catalogue", "assumed"))
    weigh = " The limit is within two deviations: weigh the rig." if close else ""
    yield Finding(
        code=code,
        level=level,
        about=About(units=(support,)),
        text=f"{mass:.0f} g on {support}, rated for {limit:.0f} g: "
        + (f"{room:.0f} g of headroom." if room >= 0 else f"{-room:.0f} g too much.")
        + weigh,
        value=mass,
        limit=limit,
        unit="g",
        spread=spread,
        working=(
            Working(
                formula="Σ mᵢ of everything beyond the support",
                numbers=f"{mass:.0f} g ± {spread:.0f} g against {limit:.0f} g",
                inputs=tuple(
                    Input(name=f"{source} masses", value=f"{held.payload.by_source_g[source]:.0f} g", source=source)
                    for source in _SOURCES
                    if held.payload.by_source_g[source] > 0
                ),
            ),
        ),
    )


def _travel(support: str, held: Carried, slide: SlideAnswer) -> Finding:
    words, plus, minus = SLIDE_WORDS[slide.name]
    low, high = slide.range.min_mm, slide.range.max_mm
    spread = held.slide_sd_mm[slide.name]
    if slide.short_mm > 0:
        side = plus if slide.ideal_mm > high else minus
        level, text = (
            Level.STOP,
            (
                f"{words} slide of {support} ends {slide.short_mm:.1f} mm too early: it must go"
                f" {abs(slide.ideal_mm):.1f} mm {side}, its travel is {signed(low, 0)} to {signed(high, 0)} mm."
            ),
        )
    else:
        tight = slide.left_mm < 2 * spread
        level = Level.WATCH if tight else Level.CLEAR
        text = (
            f"{words} slide of {support} balances at {signed(slide.ideal_mm, 1)} mm (reads {slide.reading:.0f}),"
            f" {slide.left_mm:.1f} mm from its stop"
        )
        text += f"; the CG is known to ± {spread:.1f} mm only." if tight else "."
    solution = held.solution
    residual = 0.0
    if solution:
        residual = dict(zip(("fore_aft", "lateral", "pan"), solution.level_nm, strict=True)).get(
            slide.name, solution.residual_nm[0]
        )
    formula = {
        "fore_aft": "a* = −(m_p·p_x + m_t·c_tx)/m_p",
        "vertical": "v* = −(m_p·p_z + m_t·c_tz)/m_p",
        "lateral": "l* = −(M_t·y_t + m_r·c_ry)/M_t",
        "pan": "b* = −(M_t·x_t + m_r·c_rx + m_q·c_qx)/M_r",
    }[slide.name]
    return Finding(
        code=f"gimbal.travel.{slide.name}",
        level=level,
        about=About(units=(support,)),
        text=text,
        value=slide.ideal_mm,
        limit=high if slide.ideal_mm > 0 else low,
        unit="mm",
        spread=spread,
        working=(
            Working(
                formula=formula,
                numbers=(
                    f"{signed(slide.ideal_mm, 2)} mm; set {signed(slide.set_mm, 2)} mm; left on the axis"
                    f" {residual:.3f} N·m"
                ),
                inputs=(
                    Input(name="payload", value=f"{held.payload.mass_g:.0f} g", source="computed"),
                    Input(name="travel", value=f"{signed(low, 0)} to {signed(high, 0)} mm", source="catalogue"),
                ),
            ),
        ),
    )


def slide_shares_mm(assembly: Assembly, held: Carried, name: str) -> dict[str, float]:
    """How many mm of a slide each part of the payload asks for, and the gimbal itself; together they are where it
    balances. Parts not on the slide's side ask for some back. Empty without a solved gimbal.

    Fore-aft and vertical −mᵢ·pᵢ/m_p; roll −mᵢ·yᵢ/M_t; pan −mᵢ·(xᵢ + a)/M_r, a the fore-aft slide as it is set.
    """
    if held.solution is None or held.gimbal is None or held.support is None or held.hangs is None:
        return {}
    s, gimbal = held.solution, held.gimbal
    tf_gimbal_rig = assembly.pose(held.support).inverse()
    component = _SLIDE_COMPONENT[name]
    m_t = held.hangs.mass_g + gimbal.tilt.mass_g
    divided_by = {"lateral": m_t, "pan": m_t + gimbal.roll.mass_g}.get(name, held.hangs.mass_g)
    more = s.fore_aft.set_mm if name == "pan" else 0.0
    found: dict[str, float] = {}
    for part in assembly.masses(assembly.layout.on_support):
        at = float(tf_gimbal_rig.point(part.cg_mm)[component]) + more
        found[part.unit] = found.get(part.unit, 0.0) - part.mass_g * at / divided_by
    slide = next(each for each in s.slides if each.name == name)
    return {**found, held.support: slide.ideal_mm - sum(found.values())}


def _motors(support: str, held: Carried, settings: Settings) -> Iterator[Finding]:
    if held.gimbal is None or held.torques_nm is None:
        return
    for axis, torque, pull, rated in zip(
        ("tilt", "roll", "pan"), held.torques_nm, held.cable_pull_nm, held.gimbal.torque_nm, strict=True
    ):
        share = torque / rated
        level = motor_level(share, settings)
        yield Finding(
            code="gimbal.motor",
            level=level,
            about=About(units=(support,), port=axis),
            text=(
                f"{axis} motor of {support} holds {torque:.3f} N·m at worst, {share * 100:.0f} % of its {rated:.2f}"
                " N·m."
            ),
            value=torque,
            limit=rated,
            unit="N·m",
            working=(
                Working(
                    formula="load = (residual + cable pull) / continuous torque",
                    numbers=f"({torque - pull:.3f} + {pull:.3f}) / {rated:.2f} = {share * 100:.0f} %",
                    inputs=(Input(name="cable pull", value=f"{pull * 1000:.0f} mN·m", source="setting"),),
                ),
            ),
        )


def inertia_kg_m2(assembly: Assembly, held: Carried) -> PerAxis | None:
    """Moments of inertia that the tilt, roll and pan motors turn,
    level, slides as set; None without a solved gimbal.
    """
    if held.support is None or held.gimbal is None or held.solution is None:
        return None
    gimbal, s = held.gimbal, held.solution
    a, v, side, b = (x.set_mm for x in s.slides)
    tf_gimbal_rig = assembly.pose(held.support).inverse()
    y, k, z = np.array([0.0, 1.0, 0.0]), np.asarray(gimbal.roll_axis, dtype=float), np.array([0.0, 0.0, 1.0])

    own = of_parts(assembly, assembly.layout.on_support, tf_gimbal_rig)

    def turned(axis: Array, payload_at: Array, *stages: tuple[float, Array]) -> float:
        return about_axis_kg_m2(own, payload_at, axis) + sum(of_point_kg_m2(mass, at, axis) for mass, at in stages)

    tilt, roll, pan = ((stage.mass_g, np.asarray(stage.cg_mm)) for stage in (gimbal.tilt, gimbal.roll, gimbal.pan))
    hung = ((held.on_pan.mass_g, np.asarray(held.on_pan.cg_mm)),) if held.on_pan else ()
    across, ahead = np.array([0.0, side, 0.0]), np.array([b, 0.0, 0.0])
    return (
        turned(y, np.array([a, 0.0, v]), tilt),
        turned(k, np.array([a, side, v]), (tilt[0], tilt[1] + across), roll),
        turned(
            z, np.array([a + b, side, v]), (tilt[0], tilt[1] + across + ahead), (roll[0], roll[1] + ahead), pan, *hung
        ),
    )


def moving_findings(assembly: Assembly, held: Carried, settings: Settings, target: Target | None) -> Iterator[Finding]:
    """Peak torque of every motor against what starting a move takes on
    top of what it holds, shaken by whoever carries it.
    """
    turned = inertia_kg_m2(assembly, held)
    if turned is None or held.gimbal is None or held.solution is None or held.support is None:
        return
    handling = use_of(assembly, settings).handling
    alpha = float(np.interp(settings.gimbal_style, _STYLES, settings.move_accel))
    shake = settings.shake_m_s2.get(handling, 0.0)
    moves = moves_of(target, settings)
    shaken = [
        motor_torques_nm(
            shaken_nm(still, held.solution.first_moment_kg_m[name], moves[name].lean_deg, shake), held.cable_pull_nm
        )
        for name, still in held.solution.by_move.items()
    ]
    stated = held.gimbal.peak_nm
    for i, axis in enumerate(("tilt", "roll", "pan")):
        peak = stated[i] if stated else _ASSUMED_PEAK * held.gimbal.torque_nm[i]
        holds, starts = max(each[i] for each in shaken), turned[i] * alpha
        needs = holds + starts
        yield Finding(
            code="gimbal.moves",
            level=Level.CLEAR if needs <= peak else Level.STOP,
            about=About(units=(held.support,), port=axis),
            value=needs,
            limit=peak,
            unit="N·m",
            text=(
                f"Starting a move, {handling}, takes {needs:.2f} N·m of the {axis} motor of {held.support}; at its peak"
                f" it gives {peak:.2f} N·m{'' if stated else ' (assumed)'}."
            ),
            working=(
                Working(
                    formula="I·α + |S|·√(g² + a²) + cable pull ≤ peak torque; pan |S|·(g·sinφ + a·cosφ)",
                    numbers=(
                        f"{turned[i]:.4f} kg·m² × {alpha:g} rad/s² + {holds:.3f} N·m = {needs:.3f} N·m against"
                        f" {peak:.2f} N·m"
                    ),
                    inputs=(
                        Input(name="peak torque", value=f"{peak:.2f} N·m", source="catalogue" if stated else "assumed"),
                        Input(name="acceleration of a move", value=f"{alpha:g} rad/s²", source="setting"),
                        Input(name=f"shake, {handling}", value=f"{shake:g} m/s²", source="setting"),
                    ),
                ),
            ),
        )
