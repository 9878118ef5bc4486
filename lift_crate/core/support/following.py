"""What a gimbal does by itself: whether its mode pans as fast as somebody walks past, and who starts the recording.

Formulas: docs/formulas.md §3, 'Following'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from ..callouts import About, Finding, Input, Level, Working
from ..gear.model import GearModel
from ..gear.supports import GimbalMode
from ..rig.assembly import Assembly
from ..rig.build import Target
from ..settings import Settings
from .load import Carried

__all__ = ["following_findings", "mode_of", "pan_needed_deg_s"]


def pan_needed_deg_s(speed_m_s: float, distance_m: float) -> float:
    """How fast a camera turns that follows what passes square to it: v/d in degrees a second; 1.4 m/s at 2 m: 40.1."""
    return math.degrees(speed_m_s / distance_m)


def mode_of(assembly: Assembly, support: str) -> GimbalMode | None:
    """The mode that a gimbal is set to; None where nobody said."""
    data = assembly.catalogue.model_of(support).gimbal
    said = assembly.build.setting_of(support).mode
    return next((mode for mode in data.modes if mode.id == said), None) if data else None


def following_findings(
    assembly: Assembly, held: Carried, settings: Settings, target: Target | None
) -> Iterator[Finding]:
    """Findings on the mode of a gimbal and on who starts the recording; none without a camera on a gimbal."""
    if held.gimbal is None or held.support is None or held.solution is None:
        return
    mode = mode_of(assembly, held.support)
    if mode is not None and target is not None and target.follows:
        yield _follow(held.support, mode, settings, target)
    yield from _control(assembly, held.support)


def _follow(support: str, mode: GimbalMode, settings: Settings, target: Target) -> Finding:
    distance_m = min(target.distance_mm, target.nearest_mm or target.distance_mm) / 1000
    needed = pan_needed_deg_s(settings.walks_past_m_s, distance_m)
    passing = f"Somebody who walks past at {distance_m:.1f} m turns the camera by {needed:.0f}°/s"
    about = About(units=(support,))
    if "pan" not in mode.follows:
        return Finding(
            code="gimbal.follow",
            level=Level.WATCH,
            about=about,
            text=f"This position follows what moves, and in '{mode.label}' pan of {support} holds where it is.",
        )
    if mode.pan_deg_s is None:
        level, text = Level.CLEAR, f"{passing}; how fast '{mode.label}' pans is not known."
    elif mode.pan_deg_s < needed:
        level, text = Level.WATCH, f"{passing}; '{mode.label}' of {support} pans at {mode.pan_deg_s:.0f}°/s."
    else:
        level, text = Level.CLEAR, f"{passing}; '{mode.label}' pans at up to {mode.pan_deg_s:.0f}°/s."
    return Finding(
        code="gimbal.follow",
        level=level,
        about=about,
        text=text,
        value=needed,
        limit=mode.pan_deg_s,
        unit="°/s",
        working=(
            Working(
                formula="ω = v/d",
                numbers=f"{settings.walks_past_m_s:g} m/s / {distance_m:.2f} m = {needed:.1f}°/s",
                inputs=(Input(name="walks past at", value=f"{settings.walks_past_m_s:g} m/s", source="setting"),),
            ),
        ),
    )


def _control(assembly: Assembly, support: str) -> Iterator[Finding]:
    """Who starts the recording, where the gimbal has a socket for it."""
    own = _sockets(assembly.catalogue.model_of(support))
    if not own:
        return
    body = assembly.build.body
    about = About(units=(support, body))
    ends = {support: own, body: _sockets(assembly.catalogue.model_of(body))}
    cable = next(
        (
            link.cable
            for link in assembly.build.links
            if {link.from_unit, link.to_unit} == {support, body}
            and link.from_port in ends[link.from_unit]
            and link.to_port in ends[link.to_unit]
        ),
        None,
    )
    if cable:
        yield Finding(
            code="gimbal.control",
            level=Level.CLEAR,
            about=about,
            text=f"{support} starts and stops {body} through {cable}.",
        )
        return
    why = (
        f"no control cable runs to {body}"
        if ends[body]
        else f"{body} has no socket for it and cannot be driven from {support}"
    )
    yield Finding(
        code="gimbal.control",
        level=Level.NOTE,
        about=about,
        text=f"Recording is started at {body} itself, by a hand that pushes the camera: {why}.",
    )


def _sockets(model: GearModel) -> frozenset[str]:
    return frozenset(port.id for port in model.ports if port.signal and port.signal.what == "control")
