"""Presets: the jump between two of them in light, blur and picture, and what makes up for it."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.errors import NotAllowed
from lift_crate.core.lens.presets import Jump, jumps
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build, Preset, UnitSetting
from lift_crate.core.rig.edits import Adjust, Detach, DropPreset, KeepPreset, UsePreset, apply, apply_all, describe
from lift_crate.core.settings import Settings
from tests.core.lens.test_together import DIRECT, shelf

ON = shelf()
FILM = {"fps": 24.0, "shutter_deg": 180.0, "iso": 800.0}


def told(rig: Build) -> dict[str, Jump]:
    return {j.label: j for j in jumps(assemble(rig, ON), Settings())}


def with_preset(**then: object) -> Build:
    """Set for film now, with a preset that differs."""
    preset = Preset(label="other", settings=(UnitSetting(unit="body", **{**FILM, **then}),))  # type: ignore[arg-type]
    return replace(DIRECT, settings=(UnitSetting(unit="body", **FILM),), presets=(preset,))  # type: ignore[arg-type]


def test_from_24_to_60_frames_a_second_costs_a_stop_and_a_third() -> None:
    """T30: at 180° t goes from 1/48 to 1/120 s, log₂(48/120) = −1.32 stops, and blur to 0.4 of what it was."""
    jump = told(with_preset(fps=60.0))["other"]
    assert (jump.stops, jump.blur, jump.crop) == pytest.approx((-1.3219, 0.4, 1.0), abs=5e-5)
    assert jump.told[0].startswith("1.3 stops darker: ISO 2000")
    assert jump.told[1] == "motion blurs 0.40 × as far"


@pytest.mark.parametrize(
    ("then", "stops", "words"),
    [
        ({"iso": 1600.0}, 1.0, "1.0 stops brighter: ND 0.3 more"),
        ({"shutter_deg": 90.0}, -1.0, "1.0 stops darker"),
        ({}, 0.0, ""),
    ],
)
def test_what_makes_up_for_a_jump(then: dict[str, float], stops: float, words: str) -> None:
    jump = told(with_preset(**then))["other"]
    assert jump.stops == pytest.approx(stops)
    assert (jump.told[0] if jump.told else "").startswith(words)
    assert jump.now is (not then)


def test_another_area_is_tighter_and_says_what_it_records() -> None:
    jump = told(with_preset(fps=100.0, area="small"))["other"]
    assert jump.crop == pytest.approx(2.0)
    assert jump.mode == "small 100p"
    assert "the picture is 2.00 × as tight" in jump.told


def test_a_closed_aperture_is_opened_first() -> None:
    rig = with_preset(shutter_deg=90.0)
    stopped = UnitSetting(unit="native", stop=5.6)
    rig = replace(
        rig,
        settings=(*rig.settings, stopped),
        presets=(replace(rig.presets[0], settings=(*rig.presets[0].settings, stopped)),),
    )
    assert told(rig)["other"].told[0] == "1.0 stops darker: open to f/4.0"


@given(st.floats(10, 100), st.floats(10, 100), st.floats(50, 360), st.floats(100, 6400))
def test_there_and_back_is_no_jump(fps: float, other: float, angle: float, iso: float) -> None:
    there = told(with_preset(fps=fps, shutter_deg=angle, iso=iso))["other"]
    rig = with_preset(fps=other)
    a = told(replace(rig, settings=(UnitSetting(unit="body", fps=fps, shutter_deg=angle, iso=iso),)))["other"]
    b = told(rig)["other"]
    assert there.stops + a.stops == pytest.approx(b.stops)
    assert there.blur * a.blur == pytest.approx(b.blur)
    assert math.isfinite(there.stops)


def test_presets_are_kept_used_and_forgotten() -> None:
    slow = apply_all(DIRECT, (Adjust(unit="body", fps=100.0), KeepPreset(label="slow")), ON)
    assert [p.label for p in slow.presets] == ["slow"]
    usual = apply_all(slow, (Adjust(unit="body", fps=25.0), KeepPreset(label="usual"), UsePreset(label="slow")), ON)
    assert usual.setting_of("body").fps == 100
    assert apply(usual, DropPreset(label="slow"), ON).presets == usual.presets[1:]
    # Kept again under its name it is one preset, not two; what is taken off is forgotten in it.
    assert len(apply(usual, KeepPreset(label="slow"), ON).presets) == 2
    set_lens = apply_all(usual, (Adjust(unit="native", stop=4.0), KeepPreset(label="stopped")), ON)
    off = apply(set_lens, Detach(unit="native"), ON)
    assert {s.unit for p in off.presets for s in p.settings} == {"body"}
    with pytest.raises(NotAllowed, match="no preset 'gone'; it has: slow, usual"):
        apply(usual, UsePreset(label="gone"), ON)
    full = replace(DIRECT, presets=tuple(Preset(label=f"p{i}") for i in range(20)))
    with pytest.raises(NotAllowed, match="20 presets"):
        apply(full, KeepPreset(label="one more"), ON)
    with pytest.raises(ValueError, match="stands twice"):
        replace(DIRECT, presets=(Preset(label="a"), Preset(label="a")))
    assert describe(UsePreset(label="slow"), ON) == "Set it to 'slow'"
    assert jumps(assemble(replace(usual, joints=()), ON), Settings()) == ()
