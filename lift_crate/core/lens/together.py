"""What a body and a lens do together as they are set: sensitivity, recording mode, shutter, zooming, autofocus.

Formulas: docs/formulas.md §2, 'Body and lens together'.
"""

from __future__ import annotations

import math
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

from ..callouts import About, Finding, Input, Level, Working
from ..gear.recording import RecordingMode
from ..rig.assembly import Assembly
from ..rig.build import Conditions, Target
from ..settings import Settings
from .coverage import View, exposure_of, light_of, over_stops
from .mount import AUTOFOCUS, lens_keeps

__all__ = ["Shutter", "modes_of", "nearest_shutter", "same_rate", "together_findings"]

_SAME_FPS = 0.05
"""23.976 and 24 frames a second are one rate."""
_SAME_STOP = 0.05
"""Apertures that differ by less are one."""
_SHUTTER_OFF = 0.05
"""Share by which a shutter time may miss the wanted one without a word."""


@dataclass(frozen=True, slots=True)
class Shutter:
    """The shutter time that a body offers next to a wanted angle."""

    wanted: float
    """Parts of a second: 360·fps/angle."""
    offered: float
    angle_deg: float
    """What the offered time comes to at this frame rate."""


def nearest_shutter(offered: tuple[float, ...], fps: float, angle_deg: float) -> Shutter | None:
    """The offered time nearest in stops to an angle at a frame rate; None where a body takes any angle.

    180° at 25 fps is 1/50 s.
    """
    usable = [parts for parts in offered if parts >= fps * (1 - 1e-9)]
    if not usable:
        return None
    wanted = 360 * fps / angle_deg
    best = min(usable, key=lambda parts: (abs(math.log2(parts / wanted)), parts))
    return Shutter(wanted, best, 360 * fps / best)


def same_rate(a: float, b: float) -> bool:
    """Whether two frame rates are one to the eye."""
    return abs(a - b) <= _SAME_FPS


def modes_of(modes: tuple[RecordingMode, ...], area: str, fps: float) -> tuple[RecordingMode, ...]:
    """Recording modes that write an area at a frame rate; a mode that names none of them takes any."""
    return tuple(mode for mode in modes if mode.area in ("", area) and (mode.fps is None or same_rate(mode.fps, fps)))


def together_findings(
    assembly: Assembly, view: View | None, target: Target | None, conditions: Conditions, settings: Settings
) -> Iterator[Finding]:
    """All findings on what the pair does as it is set."""
    if view is None:
        return
    light = light_of(target, conditions)
    yield from _sensitivity(assembly, view, light, settings)
    yield from _mode(assembly, view, settings)
    yield from _shutter(assembly, view, settings)
    yield from _zooming(assembly, view)
    yield from _stiff_ring(assembly, view)
    if target and target.worked_by != "two hands":
        yield _autofocus(assembly, view, target, light)


def _sensitivity(assembly: Assembly, view: View, light: float | None, settings: Settings) -> Iterator[Finding]:
    data = assembly.catalogue.model_of(view.body).body
    if data is None or data.iso is None:
        return
    _, _, iso = exposure_of(assembly.build.setting_of(view.body), settings)
    low, high = data.iso
    about = About(units=(view.body,))
    if low <= iso <= high:
        yield Finding(
            code="body.iso",
            level=Level.CLEAR,
            about=about,
            text=f"ISO {iso:.0f} is within {low:.0f} to {high:.0f} of {view.body}.",
            value=iso,
            limit=high,
            unit="ISO",
        )
        return
    nearest = low if iso < low else high
    text = f"{view.body} records ISO {low:.0f} to {high:.0f} in its profile; it is set to {iso:.0f}."
    if light is not None:
        over = over_stops(assembly, view, light, settings) + math.log2(nearest / iso)
        text += (
            f" At ISO {nearest:.0f} there are {abs(over):.1f} stops too {'much' if over > 0 else 'little'} light"
            + (f": ND {0.301 * over:.1f}." if over > 0 else ".")
        )
    yield Finding(
        code="body.iso",
        level=Level.WATCH,
        about=about,
        text=text,
        value=iso,
        limit=nearest,
        unit="ISO",
        working=(
            Working(
                formula="lowest ≤ ISO ≤ highest of the profile; a stop for every doubling",
                numbers=f"log₂({nearest:.0f}/{iso:.0f}) = {math.log2(nearest / iso):+.2f} stops",
                inputs=(Input(name="sensitivity", value=f"ISO {low:.0f} to {high:.0f}", source="catalogue"),),
            ),
        ),
    )


def _mode(assembly: Assembly, view: View, settings: Settings) -> Iterator[Finding]:
    recording = assembly.catalogue.model_of(view.body).recording
    if recording is None or not recording.modes:
        return
    fps, _, _ = exposure_of(assembly.build.setting_of(view.body), settings)
    about = About(units=(view.body,))
    fitting = modes_of(recording.modes, view.area.id, fps)
    if fitting:
        yield Finding(
            code="body.mode",
            level=Level.CLEAR,
            about=about,
            text=f"{view.body} records {view.area.label} at {fps:g} fps as {fitting[0].label}.",
            value=fps,
            unit="fps",
        )
        return
    here = sorted({mode.fps for mode in recording.modes if mode.area in ("", view.area.id) and mode.fps})
    there = sorted({mode.area for mode in modes_of_rate(recording.modes, fps) if mode.area})
    data = assembly.catalogue.model_of(view.body).body
    labels = {area.id: area.label for area in data.areas} if data else {}
    text = f"{view.body} does not record {view.area.label} at {fps:g} fps"
    text += f": there it takes {_listed(f'{rate:g}' for rate in here)} fps." if here else "."
    if there:
        text += f" {fps:g} fps goes with {_listed(labels.get(area, area) for area in there)}."
    yield Finding(
        code="body.mode",
        level=Level.STOP,
        about=about,
        text=text,
        value=fps,
        limit=max(here) if here else None,
        unit="fps",
    )


def modes_of_rate(modes: tuple[RecordingMode, ...], fps: float) -> tuple[RecordingMode, ...]:
    """Recording modes of a frame rate, whatever their area."""
    return tuple(mode for mode in modes if mode.fps is None or same_rate(mode.fps, fps))


def _listed(words: Iterable[str]) -> str:
    return ", ".join(words)


def _shutter(assembly: Assembly, view: View, settings: Settings) -> Iterator[Finding]:
    data = assembly.catalogue.model_of(view.body).body
    if data is None or not data.shutters:
        return
    fps, angle, _ = exposure_of(assembly.build.setting_of(view.body), settings)
    nearest = nearest_shutter(data.shutters, fps, angle)
    about = About(units=(view.body,))
    if nearest is None:
        slowest = max(data.shutters)
        yield Finding(
            code="body.shutter",
            level=Level.STOP,
            about=about,
            text=(
                f"{view.body} offers no shutter time as short as a frame at {fps:g} fps; its shortest is"
                f" 1/{slowest:g} s."
            ),
            value=fps,
            limit=slowest,
            unit="1/s",
        )
        return
    off = math.log2(nearest.wanted / nearest.offered)
    exact = abs(nearest.offered / nearest.wanted - 1) <= _SHUTTER_OFF
    yield Finding(
        code="body.shutter",
        level=Level.CLEAR if exact else Level.NOTE,
        about=about,
        text=f"{angle:g}° at {fps:g} fps is 1/{nearest.wanted:.0f} s; {view.body} offers 1/{nearest.offered:g} s"
        + ("." if exact else f" ({nearest.angle_deg:.0f}°, {off:+.1f} stops of light)."),
        value=nearest.offered,
        limit=nearest.wanted,
        unit="1/s",
        working=(
            Working(
                formula="t = angle / 360 / fps",
                numbers=f"{angle:g} / 360 / {fps:g} = 1/{nearest.wanted:.1f} s",
                inputs=(
                    Input(
                        name="times offered",
                        value=", ".join(f"1/{parts:g}" for parts in data.shutters),
                        source="catalogue",
                    ),
                ),
            ),
        ),
    )


def _zooming(assembly: Assembly, view: View) -> Iterator[Finding]:
    data = view.data
    if not data.zooms:
        return
    about = About(units=(view.lens,))
    if data.long_stop and data.long_stop > data.stop + _SAME_STOP:
        lost = 2 * math.log2(data.long_stop / data.stop)
        held = (assembly.build.setting_of(view.lens).stop or data.stop) >= data.long_stop - _SAME_STOP
        yield Finding(
            code="lens.zoom_light",
            level=Level.CLEAR if held else Level.NOTE,
            about=about,
            text=(
                f"{view.lens} opens to f/{data.stop:g} at {data.focal_mm[0]:g} mm and f/{data.long_stop:g} at"
                f" {data.focal_mm[1]:g} mm"
            )
            + (
                "; as set it keeps its exposure over the whole range."
                if held
                else f": {lost:.1f} stops are lost on the way. Set f/{data.long_stop:g} to keep the exposure."
            ),
            value=lost,
            unit="stops",
            working=(
                Working(
                    formula="2·log₂(N_long / N_short)",
                    numbers=f"2·log₂({data.long_stop:g} / {data.stop:g}) = {lost:.2f} stops",
                ),
            ),
        )
    if not data.holds_focus:
        yield Finding(
            code="lens.zoom_focus",
            level=Level.NOTE,
            about=about,
            text=(
                f"{view.lens} does not hold its focus while it is zoomed. Focus again after every change; no zoom in a"
                " take."
            ),
        )


def _stiff_ring(assembly: Assembly, view: View) -> Iterator[Finding]:
    """A zoom whose ring turns firmly, on a gimbal, with nothing but a hand to turn it."""
    if not view.data.zooms or view.data.rings != "firm" or assembly.support_kind != "gimbal":
        return
    motors = [model for model in assembly.layout.models if model.follow_focus]
    if len(motors) > 1 or (motors and not any(gear.control == "focus" for gear in view.data.gears)):
        return
    support = assembly.find_support() or ""
    yield Finding(
        code="gimbal.zoom_ring",
        level=Level.WATCH,
        about=About(units=(view.lens, support)),
        text=(
            f"The rings of {view.lens} turn firmly; zooming by hand pushes {support}. Put a motor on the zoom ring, or"
            " do not zoom in a take."
        ),
    )


def _autofocus(assembly: Assembly, view: View, target: Target, light: float | None) -> Finding:
    """Where nobody's hand is free for focus, body, lens and what is between them must keep it by themselves."""
    data = assembly.catalogue.model_of(view.body).body
    keeps = lens_keeps(assembly)
    reasons = []
    if data is None or data.autofocus == "none":
        reasons.append(f"{view.body} has none")
    elif data.autofocus == "slow":
        reasons.append(f"that of {view.body} is slow")
    if not view.data.autofocus:
        reasons.append(f"{view.lens} has none")
    elif keeps is not None and AUTOFOCUS not in keeps:
        reasons.append("the adapter does not carry it")
    needs = data.autofocus_to_ev if data else None
    if not reasons and needs is not None and light is not None and light < needs:
        reasons.append(f"at EV {light:.0f} it is too dark for it, {view.body} needs EV {needs:g}")
    who = "Nobody works this position" if target.worked_by == "nobody" else "One hand works this position"
    cure = (
        "Take a pair that does, or give it an operator."
        if target.follows
        else "The frame is locked off: focus by hand, stop down and tape the ring, or take a pair that does."
    )
    return Finding(
        code="focus.auto",
        level=Level.WATCH if reasons else Level.CLEAR,
        about=About(units=(view.lens, view.body)),
        text=(
            f"{who}, and its autofocus is not dependable: {'; '.join(reasons)}. {cure}"
            if reasons
            else f"{who}; the autofocus of {view.body} and {view.lens} is dependable in this light."
        ),
        value=light,
        limit=needs,
        unit="EV" if needs is not None and light is not None else "",
    )
