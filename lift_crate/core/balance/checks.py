"""What stands against a balance beyond slides and motors: reach, zoom and wind, as call-outs.

Formulas: docs/formulas.md §3, 'Clearance', 'Zoom', 'Wind'.
"""

from __future__ import annotations

import math
from collections.abc import Mapping, Sequence

from ..callouts import About, Finding, Level, Working
from ..settings import GimbalMove
from ..stand import Stand
from ..support.clearance import Reach
from ..support.load import Carried, motor_level, moves_of
from ..support.wind import WindOnMotor
from .zoom import ZoomAnswer

__all__ = ["DIRECTIONS", "clearance_findings", "needed_deg", "wind_findings", "zoom_findings"]


DIRECTIONS = {"tilt": ("up", "down"), "roll": ("right", "left"), "pan": ("right", "left")}
"""Where an axis turns the lens, by its sign, minus first."""


def needed_deg(moves: Mapping[str, GimbalMove], axis: str) -> tuple[float, float]:
    """From where to where some kinds of work turn an axis, degrees."""
    limits = [{"tilt": m.tilt_deg, "roll": m.roll_deg, "pan": m.pan_deg}[axis] for m in moves.values()]
    return min(min(pair) for pair in limits), max(max(pair) for pair in limits)


def _beyond(move: GimbalMove, axis: str, at: float) -> bool:
    """Whether a kind of work turns an axis further than it is free, on the side of ``at``, degrees."""
    low, high = needed_deg({"": move}, axis)
    return low < at - 1e-9 if at < 0 else high > at + 1e-9


def clearance_findings(stand: Stand, held: Carried, swept: Sequence[Reach]) -> list[Finding]:
    """What is hit inside the range that the moves need is a Stop, outside it a Note."""
    moves = moves_of(stand.target, stand.settings)
    plugs = {link.cable for link in stand.assembly.build.links}
    found = []
    for reach in swept:
        low, high = needed_deg(moves, reach.axis)
        minus, plus = DIRECTIONS[reach.axis]
        for hits, at, wanted, word in (
            (reach.low_hits, reach.low_deg, low, minus),
            (reach.high_hits, reach.high_deg, high, plus),
        ):
            if hits is None:
                continue
            inside = abs(at) < abs(wanted) - 1e-9
            lost = [name for name, move in stand.settings.moves.items() if _beyond(move, reach.axis, at)]
            what = f"the plug of {hits[0]}" if hits[0] in plugs else hits[0]
            found.append(
                Finding(
                    code=f"gimbal.clearance.{reach.axis}",
                    level=Level.STOP if inside else Level.NOTE,
                    about=About(units=(hits[0], held.support or ""), port=word),
                    value=abs(at),
                    limit=abs(wanted),
                    unit="°",
                    text=f"{what} meets {hits[1]} at {abs(at):.0f}° {reach.axis} {word}"
                    + (f"; {abs(wanted):.0f}° are needed." if inside else f"; only {abs(wanted):.0f}° are needed.")
                    + (f" Lost: {', '.join(lost)}." if lost else ""),
                    working=(
                        Working(
                            formula=(
                                "the camera's boxes turned about the axis at the solved slides, until two overlap by"
                                " 1 mm"
                            ),
                            numbers=f"free to {abs(at):.1f}°",
                        ),
                    ),
                )
            )
    return found


def zoom_findings(stand: Stand, held: Carried, zoom: ZoomAnswer | None, unit: str | None) -> list[Finding]:
    """What zooming through its range leaves on the tilt motor, balanced as the lens is set now."""
    if zoom is None or unit is None or held.gimbal is None:
        return []
    now = zoom.as_set
    rated, settings = held.gimbal.torque_nm[0], stand.settings
    share, best = now.worst_nm / rated, zoom.best.worst_nm / rated
    level = motor_level(share, settings)
    where = f"{zoom.best.focal_mm:.0f} mm" if zoom.best.focal_mm else "the middle of its travel"
    helped = f"balanced at {where} it is {zoom.best.worst_nm:.3f} N·m ({best * 100:.0f} %)."
    if not zoom.helps:
        ended = any(slide.short_mm > 0 for slide in held.solution.slides) if held.solution else False
        helped = (
            "with the slide at its stop no other focal length does better."
            if ended
            else "no other focal length does better."
        )
    return [
        Finding(
            code="gimbal.zoom",
            level=level,
            about=About(units=(unit, held.support or "")),
            value=now.worst_nm,
            limit=rated,
            unit="N·m",
            text=(
                f"Balanced at {now.focal_mm or 0:.0f} mm, zooming {unit} through its range leaves up to"
                f" {now.worst_nm:.3f} N·m on tilt ({share * 100:.0f} %); {helped}"
            ),
            working=(
                Working(
                    formula="balance at the middle of the lowest and highest CG of the rig over the zoom's range",
                    numbers="; ".join(
                        f"{s.name}: {'' if s.focal_mm is None else f'{s.focal_mm:.0f} mm, '}{s.worst_nm:.4f} N·m"
                        for s in zoom.schools
                    ),
                ),
            ),
        )
    ]


def _gives_up(motor: WindOnMotor) -> str:
    if math.isinf(motor.gives_up_m_s):
        return "no wind turns it"
    return f"it gives up at {motor.gives_up_m_s:.0f} m/s on average"


def wind_findings(stand: Stand, held: Carried, wind: Sequence[WindOnMotor]) -> list[Finding]:
    """The motor that is nearest to its torque: beyond its torque in a gust is a Stop, strained a Watch."""
    if not wind or held.support is None:
        return []
    settings = stand.settings
    worst = max(wind, key=lambda w: w.share)
    gust = stand.conditions.blows_m_s * settings.gust
    level = (
        Level.STOP
        if worst.share > 1
        else (
            Level.WATCH
            if worst.share > settings.motor_strained
            else Level.NOTE
            if worst.share > settings.motor_workable
            else Level.CLEAR
        )
    )
    return [
        Finding(
            code="gimbal.wind",
            level=level,
            about=About(units=(held.support,), port=worst.axis),
            value=worst.torque_nm,
            limit=worst.rated_nm,
            unit="N·m",
            text=(
                f"In gusts of {gust:.1f} m/s ({stand.conditions.blows_m_s:g} m/s on average) the {worst.axis} motor"
                f" of {held.support} holds up to {worst.torque_nm:.2f} N·m, {worst.share * 100:.0f} % of its"
                f" {worst.rated_nm:.2f} N·m;"
                f" {_gives_up(worst)}."
            ),
            working=(
                Working(
                    formula=(
                        "F = ½·1.2·1.1·A·v² at the centre of the area, worst of 16 directions, on top of what the motor"
                        " holds in still air"
                    ),
                    numbers="; ".join(
                        f"{w.axis}: {w.area_m2:.4f} m², {w.torque_nm:.3f} of {w.rated_nm:.2f} N·m, "
                        + (
                            f"gives up at {w.gives_up_m_s:.1f} m/s"
                            if math.isfinite(w.gives_up_m_s)
                            else "nothing for the wind to turn"
                        )
                        for w in wind
                    ),
                ),
            ),
        )
    ]
