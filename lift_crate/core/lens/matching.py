"""Pictures of two cameras that will not match, and the setting that both have.

What is compared is what no grade takes back: frame rate, shutter time, bits, colour sampling; and the sensitivity,
because noise is a look too.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from itertools import combinations

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
    said_a, said_b = _said(a), _said(b)
    differs = tuple(Mismatch(what, said_a[what], said_b[what]) for what in _apart(a, b))
    return Matching(differs, _common(a, b) if differs else "")


def _apart(a: _Picture, b: _Picture) -> tuple[str, ...]:
    """In what two pictures differ, in the order in which it is told; what is not known of one does not differ."""
    differs = {
        "frame rate": not same_rate(a.fps, b.fps),
        "shutter": abs(a.shutter / b.shutter - 1) > _APART,
        "sensitivity": abs(a.iso / b.iso - 1) > _APART,
    }
    if a.mode and b.mode:
        differs["bits"] = bool(a.mode.bits and b.mode.bits) and a.mode.bits != b.mode.bits
        differs["sampling"] = bool(a.mode.sampling and b.mode.sampling) and a.mode.sampling != b.mode.sampling
    return tuple(what for what, apart in differs.items() if apart)


def _said(picture: _Picture) -> dict[str, str]:
    """A picture in words, as far as it is known."""
    said = {
        "frame rate": f"{picture.fps:g} fps",
        "shutter": f"1/{picture.shutter:.0f} s",
        "sensitivity": f"ISO {picture.iso:.0f}",
    }
    if picture.mode and picture.mode.bits:
        said["bits"] = f"{picture.mode.bits} bit"
    if picture.mode and picture.mode.sampling:
        said["sampling"] = picture.mode.sampling
    return said


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
    said = {name: _said(picture) for name, picture in pictures.items()}
    apart = {what for a, b in combinations(pictures.values(), 2) for what in _apart(a, b)}
    differs = tuple(
        Apart(what, tuple((name, words[what]) for name, words in said.items() if what in words))
        for what in _COMPARED
        if what in apart
    )
    return AllMatching(differs, _common_to_all(pictures) if differs else "")


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
