"""What shows and keeps the picture beside the body: screens in this light, touch focus, recorders and what they gain.

Formulas: docs/formulas.md §9, 'Screen'.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from .cables import Route, picture_in_use
from .callouts import About, Finding, Input, Level, Working
from .gear.optical import PictureFormat
from .gear.recording import RecordingMode
from .lens.coverage import exposure_of, view_of
from .lens.together import modes_of
from .rig.assembly import Assembly
from .rig.build import Conditions, Target
from .rig.layout import Layout
from .settings import Settings

__all__ = ["gains_of", "monitoring_findings", "nits_needed"]

_LATE_MS = 80.0
"""Beyond it a hand that follows the screen is seen to be late; rule of thumb."""
_SUN_EV, _HOT_C = 13.0, 32.0
"""A phone in the sun, or in such heat, dims itself; rule of thumb."""
_REFLECTED, _CONTRAST = 0.02, 3.0
HOOD_TAKES = 0.3
"""Share of the light that still falls on a screen with a hood."""
_SAMPLING = ("", "4:2:0", "4:2:2", "4:4:4", "raw")


def nits_needed(light_ev: float, *, hood: bool = False) -> float:
    """Luminance that a screen needs to be read, cd/m²: 3·0.02·E/π with E = 2.5·2^EV lx, a hood takes E × 0.3.

    EV 15: 1 565, with a hood 469.
    """
    lux = 2.5 * float(2.0**light_ev) * (HOOD_TAKES if hood else 1.0)
    return _CONTRAST * _REFLECTED * lux / math.pi


def monitoring_findings(
    assembly: Assembly, found: tuple[Route, ...], target: Target | None, conditions: Conditions, settings: Settings
) -> Iterator[Finding]:
    """All findings on screens and recorders of a build."""
    screens = assembly.layout.once(_screens)
    if not (target and target.worked_by == "nobody"):
        yield from assembly.layout.once(_seen_at_all)
    if conditions.light_ev is not None:
        for unit in screens:
            yield from _bright(assembly, unit, conditions.light_ev)
    yield from assembly.layout.once(_touch)
    yield from assembly.layout.once(_late)
    yield from _phones(assembly, screens, conditions)
    if assembly.layout.once(_recorders):
        for route in found:
            yield from _recorder(assembly, route, settings)


def _screens(layout: Layout) -> tuple[str, ...]:
    """Monitors, and all else that shows a picture."""
    shows = (unit for unit, m in zip(layout.units, layout.models, strict=True) if m.screen or m.kind == "monitor")
    return tuple(shows)


def _recorders(layout: Layout) -> bool:
    return any(model.recording is not None and model.body is None for model in layout.models)


def _seen_at_all(layout: Layout) -> tuple[Finding, ...]:
    body = layout.body
    data = layout.models[0].body
    sent = any(model.kind == "video transmitter" for model in layout.models)
    if data is None or layout.once(_screens) or sent or data.screen != "none":
        return ()
    return (
        Finding(
            code="screen.none",
            level=Level.WATCH,
            about=About(units=(body,)),
            text=f"{body} has no screen of its own and no monitor is on the rig: nobody sees the picture.",
        ),
    )


def _bright(assembly: Assembly, unit: str, light_ev: float) -> Iterator[Finding]:
    data = assembly.catalogue.model_of(unit).screen
    if data is None or data.nits is None:
        return
    hood = any(assembly.catalogue.model_of(on).kind == "hood" for on in assembly.layout.subtree(unit))
    bare, needs = nits_needed(light_ev), nits_needed(light_ev, hood=hood)
    enough = data.nits >= needs
    text = f"{unit} gives {data.nits:.0f} cd/m²; at EV {light_ev:g} a screen needs {needs:.0f}"
    if hood:
        text += " under its hood"
    elif not enough:
        text += f", under a hood {nits_needed(light_ev, hood=True):.0f}"
    yield Finding(
        code="screen.bright",
        level=Level.CLEAR if enough else Level.WATCH,
        about=About(units=(unit,)),
        text=text + " (rule of thumb).",
        value=data.nits,
        limit=needs,
        unit="cd/m²",
        working=(
            Working(
                formula="nits ≥ 3 · 0.02 · E / π,  E = 2.5·2^EV lx;  a hood takes E × 0.3",
                numbers=f"E {2.5 * 2**light_ev:.0f} lx: {bare:.0f} cd/m²"
                + (f", under the hood {needs:.0f}" if hood else ""),
                inputs=(
                    Input(name=f"luminance of {unit}", value=f"{data.nits:.0f} cd/m²", source="catalogue"),
                    Input(name="light", value=f"EV {light_ev:g}", source="job"),
                ),
            ),
        ),
    )


def _touch(layout: Layout) -> tuple[Finding, ...]:
    body, data = layout.body, layout.models[0].body
    if data is None or not data.touch_focus:
        return ()
    blind = [
        unit
        for unit in layout.once(_screens)
        if not ((screen := layout.catalogue.model_of(unit).screen) and screen.touch)
    ]
    if not blind:
        return ()
    return (
        Finding(
            code="screen.touch",
            level=Level.NOTE,
            about=About(units=(body, *blind)),
            text=(
                f"Touch focus works on the screen of {body} only; who looks at {', '.join(blind)} has to reach over for"
                " it, and many bodies switch their own screen off while another is plugged in."
            ),
        ),
    )


def _late(layout: Layout) -> tuple[Finding, ...]:
    """Screens that show the picture too late to follow by."""
    found = []
    for unit in layout.once(_screens):
        data = layout.catalogue.model_of(unit).screen
        if data is None or data.delay_ms is None:
            continue
        late = data.delay_ms > _LATE_MS
        found.append(
            Finding(
                code="screen.late",
                level=Level.WATCH if late else Level.CLEAR,
                about=About(units=(unit,)),
                text=f"{unit} shows the picture {data.delay_ms:.0f} ms late"
                + (
                    "; whoever frames, pulls focus or answers by it is as late (rule of thumb: 80 ms)."
                    if late
                    else ", soon enough to follow by."
                ),
                value=data.delay_ms,
                limit=_LATE_MS,
                unit="ms",
            )
        )
    return tuple(found)


def _phones(assembly: Assembly, screens: tuple[str, ...], conditions: Conditions) -> Iterator[Finding]:
    """A phone as a monitor: its cable and clamp are parts of the rig; heat and sun take its brightness."""
    for unit in screens:
        data = assembly.catalogue.model_of(unit).screen
        if data is None or not data.phone:
            continue
        fed = any(unit in (k.from_unit, k.to_unit) for k in assembly.build.links)
        sun = conditions.light_ev is not None and conditions.light_ev >= _SUN_EV and not conditions.indoors
        hot = conditions.temperature_c >= _HOT_C
        told = [
            "" if fed else "no cable runs to it: by radio it is later, and may drop out",
            "in the sun it warms up and dims itself" if sun else "",
            f"at {conditions.temperature_c:g} °C it may switch itself off" if hot else "",
        ]
        said = "; ".join(word for word in told if word)
        yield Finding(
            code="screen.phone",
            level=Level.WATCH if sun or hot else Level.NOTE,
            about=About(units=(unit,)),
            text=f"{unit} is a phone: calls and messages off, its own pack full"
            + (f"; {said}." if said else "; keep it out of the sun."),
        )


def _recorder(assembly: Assembly, route: Route, settings: Settings) -> Iterator[Finding]:
    ends = {route.link.from_unit: route.link.to_unit, route.link.to_unit: route.link.from_unit}
    for source, sink in ends.items():
        model, recorder = assembly.catalogue.model_of(source), assembly.catalogue.model_of(sink)
        if model.body is None or recorder.body is not None or recorder.recording is None:
            continue
        picture = picture_in_use(assembly, source)
        modes = recorder.recording.modes
        if picture is None or not modes:
            continue
        own = _own_mode(assembly, source, settings)
        gains = gains_of(picture, modes[0], own)
        if gains is None:
            text = (
                f"What {sink} gains over {source} cannot be told: the bits and sampling of '{picture.label}' are not"
                " entered."
            )
        elif gains:
            text = f"{sink} gains over what {source} records itself: {', '.join(gains)}."
        else:
            text = f"{sink} gains nothing over what {source} records itself, but a second copy."
        yield Finding(code="record.gain", level=Level.NOTE, about=About(units=(sink, source)), text=text)


def _own_mode(assembly: Assembly, body: str, settings: Settings) -> RecordingMode | None:
    recording, view = assembly.catalogue.model_of(body).recording, view_of(assembly)
    if recording is None or not recording.modes:
        return None
    fps, _, _ = exposure_of(assembly.build.setting_of(body), settings)
    fitting = modes_of(recording.modes, view.area.id if view else "", fps)
    return fitting[0] if fitting else recording.modes[0]


def gains_of(picture: PictureFormat, mode: RecordingMode, own: RecordingMode | None) -> tuple[str, ...] | None:
    """What a recorder keeps more of than the body: bits and sampling, no finer than the picture that the body puts
    out, and rate; None where the picture's are not known.
    """
    if picture.bits is None and not picture.sampling:
        return None
    bits = min(mode.bits or picture.bits or 0, picture.bits or 99)
    sampling = min(_SAMPLING.index(mode.sampling or picture.sampling), _SAMPLING.index(picture.sampling or "raw"))
    found = []
    if bits > ((own.bits if own else None) or 0):
        found.append(f"{bits} bits" + (f" rather than {own.bits}" if own and own.bits else ""))
    if sampling > (_SAMPLING.index(own.sampling) if own else 0):
        found.append(f"{_SAMPLING[sampling]}" + (f" rather than {own.sampling}" if own and own.sampling else ""))
    if own and mode.mbit_s > own.mbit_s * 1.05:
        found.append(f"{mode.mbit_s:.0f} Mb/s rather than {own.mbit_s:.0f}")
    return tuple(found)
