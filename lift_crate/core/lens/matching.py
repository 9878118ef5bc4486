"""Pictures of two cameras that will not match, and the setting that both have.

What is compared is what no grade takes back: frame rate, shutter time, bits, colour sampling; and the sensitivity,
because noise is a look too.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass

from ..gear.recording import RecordingMode
from ..rig.assembly import Assembly
from ..settings import Settings
from .coverage import exposure_of, view_of
from .together import modes_of, same_rate

__all__ = ["AllMatching", "Apart", "Matching", "Mismatch", "matching", "matching_all"]

_SAMPLING = ("", "4:2:0", "4:2:2", "4:4:4", "raw")
_COMPARED = ("frame rate", "shutter", "sensitivity", "bits", "sampling")
_APART = 0.02
"""Share by which two shutter times may differ."""


@dataclass(frozen=True, slots=True)
class Mismatch:
    """One thing in which two pictures differ."""

    what: str
    left: str
    right: str


@dataclass(frozen=True, slots=True)
class Matching:
    """In what two pictures differ, and the finest recording that both bodies have at a common rate."""

    differs: tuple[Mismatch, ...]
    common: str
    """Empty where nothing differs, or nothing common is known."""


@dataclass(frozen=True, slots=True)
class Apart:
    """One thing in which some of several pictures differ: every camera's own, by its name."""

    what: str
    values: tuple[tuple[str, str], ...]


@dataclass(frozen=True, slots=True)
class AllMatching:
    """In what the pictures of several cameras differ, and the finest recording that all bodies have at one rate."""

    differs: tuple[Apart, ...]
    common: str


@dataclass(frozen=True, slots=True)
class _Picture:
    fps: float
    shutter: float
    iso: float
    mode: RecordingMode | None
    modes: tuple[RecordingMode, ...]


def matching(left: Assembly, right: Assembly, settings: Settings) -> Matching:
    """Two cameras as they are set."""
    a, b = (_picture(side, settings) for side in (left, right))
    differs = []
    if not same_rate(a.fps, b.fps):
        differs.append(Mismatch("frame rate", f"{a.fps:g} fps", f"{b.fps:g} fps"))
    if abs(a.shutter / b.shutter - 1) > _APART:
        differs.append(Mismatch("shutter", f"1/{a.shutter:.0f} s", f"1/{b.shutter:.0f} s"))
    if abs(a.iso / b.iso - 1) > _APART:
        differs.append(Mismatch("sensitivity", f"ISO {a.iso:.0f}", f"ISO {b.iso:.0f}"))
    if a.mode and b.mode:
        if a.mode.bits != b.mode.bits and a.mode.bits and b.mode.bits:
            differs.append(Mismatch("bits", f"{a.mode.bits} bit", f"{b.mode.bits} bit"))
        if a.mode.sampling != b.mode.sampling and a.mode.sampling and b.mode.sampling:
            differs.append(Mismatch("sampling", a.mode.sampling, b.mode.sampling))
    return Matching(tuple(differs), _common(a, b) if differs else "")


def _picture(assembly: Assembly, settings: Settings) -> _Picture:
    body = assembly.build.body
    fps, angle, iso = exposure_of(assembly.build.setting_of(body), settings)
    recording, view = assembly.catalogue.model_of(body).recording, view_of(assembly)
    modes = recording.modes if recording else ()
    fitting = modes_of(modes, view.area.id if view else "", fps)
    return _Picture(fps, 360 * fps / angle, iso, fitting[0] if fitting else None, modes)


def _common(a: _Picture, b: _Picture) -> str:
    """The finest that both record at one rate: the left one's rate if they can, else the highest of both."""
    both = [
        (x, y)
        for x in a.modes
        for y in b.modes
        if x.fps and y.fps and same_rate(x.fps, y.fps) and x.bits == y.bits and x.sampling == y.sampling
    ]
    if not both:
        return ""
    x, y = max(
        both,
        key=lambda pair: (
            same_rate(pair[0].fps or 0, a.fps),
            pair[0].bits or 0,
            _SAMPLING.index(pair[0].sampling),
            pair[0].fps or 0,
            pair[0].mbit_s + pair[1].mbit_s,
        ),
    )
    return f"{x.fps:g} fps {x.fineness}: {x.label} on the one, {y.label} on the other".replace("  ", " ")


def matching_all(cameras: Mapping[str, Assembly], settings: Settings) -> AllMatching:
    """Any number of cameras as they are set, by their names; nothing differs for fewer than two."""
    pictures = {name: _picture(assembly, settings) for name, assembly in cameras.items()}
    differs = [
        Apart(what, tuple((name, said[name]) for name in pictures if name in said))
        for what, said in _said(pictures).items()
        if len(set(said.values())) > 1
    ]
    return AllMatching(tuple(differs), _common_to_all(pictures) if differs else "")


def _said(pictures: Mapping[str, _Picture]) -> dict[str, dict[str, str]]:
    """What each camera says of each thing; values that are one to the eye are said alike."""
    rates: list[float] = []
    found: dict[str, dict[str, str]] = {what: {} for what in _COMPARED}
    for name, picture in pictures.items():
        rate = next((r for r in rates if same_rate(r, picture.fps)), picture.fps)
        rates.append(rate)
        found["frame rate"][name] = f"{rate:g} fps"
        found["shutter"][name] = f"1/{picture.shutter:.0f} s"
        found["sensitivity"][name] = f"ISO {picture.iso:.0f}"
        if picture.mode and picture.mode.bits:
            found["bits"][name] = f"{picture.mode.bits} bit"
        if picture.mode and picture.mode.sampling:
            found["sampling"][name] = picture.mode.sampling
    return found


def _common_to_all(pictures: Mapping[str, _Picture]) -> str:
    (first, *others) = pictures.values()
    both = [
        mode
        for mode in first.modes
        if mode.fps
        and all(
            any(
                m.fps and same_rate(m.fps, mode.fps) and (m.bits, m.sampling) == (mode.bits, mode.sampling)
                for m in other.modes
            )
            for other in others
        )
    ]
    if not both:
        return ""
    best = max(both, key=lambda m: (m.bits or 0, _SAMPLING.index(m.sampling), m.fps or 0))
    return f"{best.fps:g} fps {best.fineness}".strip()
