"""The jump from how a camera is set to one of its presets: light, blur, picture, and what makes up for it.

Formulas: docs/formulas.md §2, 'Presets'.
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace

from ..rig.assembly import Assembly, assemble
from ..rig.build import Preset
from ..settings import Settings
from .coverage import View, exposure_of, filters_on, view_of
from .framing import exposure_ev
from .together import modes_of

__all__ = ["Jump", "jumps"]

_SAME = 0.05
"""Stops, or a share, that nobody sees."""


@dataclass(frozen=True, slots=True)
class Jump:
    """What changes when a preset is used."""

    label: str
    now: bool
    """It is set so already."""
    stops: float
    """Light on the sensor against now: negative is darker."""
    blur: float
    """How many times as long the shutter is open."""
    crop: float
    """How many times as tight the picture is."""
    mode: str
    """The recording mode it comes to; empty where none is known."""
    told: tuple[str, ...]
    """The same in words, with what makes up for it."""


@dataclass(frozen=True, slots=True)
class _Set:
    view: View
    fps: float
    seconds: float
    iso: float
    ev: float
    """Scene, EV at ISO 100, that is right for it, filters counted."""
    mode: str
    fineness: tuple[int, str]


def jumps(assembly: Assembly, settings: Settings) -> tuple[Jump, ...]:
    """Every preset of a build against how it is set now; empty without a lens on the body."""
    build = assembly.build
    here = _set(assembly, settings)
    if here is None:
        return ()
    found = []
    for preset in build.presets:
        there = _set(assemble(replace(build, settings=preset.settings), assembly.catalogue), settings)
        if there is not None:
            found.append(_jump(preset, assembly, here, there))
    return tuple(found)


def _set(assembly: Assembly, settings: Settings) -> _Set | None:
    view = view_of(assembly)
    if view is None:
        return None
    fps, angle, iso = exposure_of(assembly.build.setting_of(view.body), settings)
    seconds = angle / 360 / fps
    taken = sum(data.stops[0] for _, data in filters_on(assembly, view.lens))
    recording = assembly.catalogue.model_of(view.body).recording
    fitting = modes_of(recording.modes, view.area.id, fps) if recording else ()
    mode = fitting[0] if fitting else None
    return _Set(
        view,
        fps,
        seconds,
        iso,
        exposure_ev(view.t_stop, seconds, iso) + taken,
        mode.label if mode else "",
        (mode.bits or 0, mode.sampling) if mode else (0, ""),
    )


def _jump(preset: Preset, assembly: Assembly, here: _Set, there: _Set) -> Jump:
    stops, blur = here.ev - there.ev, there.seconds / here.seconds
    crop = (here.view.area.width_mm / here.view.focal_mm) / (there.view.area.width_mm / there.view.focal_mm)
    now = set(preset.settings) == set(assembly.build.settings)
    told = []
    if abs(stops) >= _SAME:
        way = "darker" if stops < 0 else "brighter"
        told.append(f"{abs(stops):.1f} stops {way}: {_makes_up(assembly, here, there, stops)}")
    if abs(math.log2(blur)) >= _SAME:
        told.append(f"motion blurs {blur:.2f} × as far")
    if abs(crop - 1) >= _SAME:
        told.append(f"the picture is {crop:.2f} × as tight")
    if there.fineness != here.fineness and there.mode and here.mode:
        told.append(f"records {there.mode} ({_fine(there)}) rather than {here.mode} ({_fine(here)})")
    return Jump(preset.label, now, stops, blur, crop, there.mode, tuple(told))


def _fine(at: _Set) -> str:
    bits, sampling = at.fineness
    return " ".join(word for word in (f"{bits} bit" if bits else "", sampling) if word) or "as it comes"


def _makes_up(assembly: Assembly, here: _Set, there: _Set, stops: float) -> str:
    """What brings the light back: filters taken off first, then aperture, then sensitivity."""
    if stops > 0:
        return f"ND {0.301 * stops:.1f} more, or f/{there.view.stop * 2 ** (stops / 2):.1f}"
    need = -stops
    on = [(unit, data) for unit, data in filters_on(assembly, here.view.lens) if data.kind in ("nd", "variable nd")]
    if on and sum(data.stops[0] for _, data in on) >= need - _SAME:
        return f"take {need:.1f} stops of ND off ({', '.join(unit for unit, _ in on)})"
    wide = there.view.data.widest_stop_at(there.view.focal_mm / there.view.factor) * there.view.factor
    open_by = 2 * math.log2(there.view.stop / wide) if there.view.stop > wide else 0.0
    if open_by >= need - _SAME:
        return f"open to f/{there.view.stop / 2 ** (need / 2):.1f}"
    return f"ISO {there.iso * 2**need:.0f}, or so much more light"
