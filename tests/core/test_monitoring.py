"""Screens in the light, touch focus, and what a recorder gains over the body."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.gear.optical import PictureFormat
from lift_crate.core.gear.recording import RecordingMode
from lift_crate.core.monitoring import gains_of, nits_needed
from lift_crate.core.rig.build import Build, Catalogue, Conditions, Target
from lift_crate.core.settings import Settings
from tests.kit import X, Y, Z, build, catalogue, model, port, quick_of

AREAS = [{"id": "full", "label": "full", "width_mm": 36, "height_mm": 19}]


def shelf(picture: dict[str, object] | None = None, **body: object) -> Catalogue:
    formats = [{"id": "uhd", "label": "UHD", "gbps": 6, **(picture or {})}]
    socket = {"role": "out", "what": "picture", "max_gbps": 12}
    return catalogue(
        model(
            "body",
            900,
            (0, 0, 0),
            port("top", "screw", "female", (0, 0, 50), Z, X),
            port("side", "screw", "female", (0, 50, 0), Y, Z),
            port("out", "tap", "female", (0, -40, 0), (0, -1, 0), Z, signal=socket),
            body={"areas": AREAS, "formats": formats, **body},
            recording={"modes": [{"label": "own", "mbit_s": 200, "bits": 10, "sampling": "4:2:0"}], "while_fed": False},
        ),
        model(
            "monitor",
            300,
            (0, 0, 40),
            port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X),
            port("rim", "screw", "female", (0, 0, 80), Z, X),
            screen={"inches": 5, "nits": 1000},
            kind="monitor",
        ),
        model("hood", 40, (0, 0, 0), port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X), kind="hood"),
        model(
            "recorder",
            400,
            (0, 0, 0),
            port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X),
            port("in", "tap", "female", (0, 0, 60), signal={**socket, "role": "in"}),
            recording={"modes": [{"label": "fine", "mbit_s": 800, "bits": 12, "sampling": "4:4:4"}]},
            kind="recorder",
        ),
        model("cord", 40, None, port("a", "tap", "male"), port("b", "tap", "male"), cable={"length_mm": 900}),
        *(
            model(name, 90, (0, 0, 0), port("foot", "screw", "male", (0, 0, 0), (0, 0, -1), X), kind=kind)
            for name, kind in (("sender", "video transmitter"), ("pocket", "transmitter"))
        ),
    )


WITH_MONITOR = build("body", "monitor.foot > body.top")
WITH_RECORDER = build("body", "recorder.foot > body.side", links=["cord: body.out > recorder.in"])


def found(rig: Build, on: Catalogue | None = None, target: Target | None = None, **part: object) -> dict[str, Finding]:
    judged = quick_of(rig, on or shelf(), Conditions(**part), Settings(), target=target)  # type: ignore[arg-type]
    return {f.code: f for f in judged.findings}


def test_a_screen_needs_its_light_against_the_suns() -> None:
    assert nits_needed(15) == pytest.approx(1565, abs=0.5)
    assert nits_needed(15, hood=True) == pytest.approx(469, abs=0.5)
    assert "screen.bright" not in found(WITH_MONITOR)
    sun = found(WITH_MONITOR, light_ev=15)["screen.bright"]
    assert (sun.level, sun.value) == (Level.WATCH, 1000)
    assert sun.limit == pytest.approx(1565, abs=0.5)
    assert "under a hood 469" in sun.text
    hooded = build("body", "monitor.foot > body.top", "hood.foot > monitor.rim")
    assert found(hooded, light_ev=15)["screen.bright"].level is Level.CLEAR
    assert found(WITH_MONITOR, light_ev=12)["screen.bright"].level is Level.CLEAR


@given(st.floats(-10, 20), st.floats(0.01, 10))
def test_more_light_never_needs_a_dimmer_screen(light: float, more: float) -> None:
    assert nits_needed(light + more) > nits_needed(light) > nits_needed(light, hood=True)


def test_somebody_sees_the_picture_or_it_is_said() -> None:
    bare = build("body")
    assert found(bare)["screen.none"].level is Level.WATCH
    assert "screen.none" not in found(WITH_MONITOR)
    assert "screen.none" not in found(bare, shelf(screen="fixed"))
    assert "screen.none" not in found(bare, target=Target(distance_mm=3000, worked_by="nobody"))
    assert "screen.none" not in found(build("body", "sender.foot > body.top")), "it is seen elsewhere"
    assert "screen.none" in found(build("body", "pocket.foot > body.top")), "that sends sound"


def test_touch_focus_stays_on_the_body() -> None:
    assert found(WITH_MONITOR, shelf(touch_focus=True))["screen.touch"].about.units == ("body", "monitor")
    assert "screen.touch" not in found(WITH_MONITOR)


@pytest.mark.parametrize(
    ("bits", "sampling", "gains"),
    [
        (10, "4:2:2", ("4:2:2 rather than 4:2:0", "800 Mb/s rather than 200")),
        (12, "4:2:0", ("12 bits rather than 10", "800 Mb/s rather than 200")),
        (8, "4:2:0", ("800 Mb/s rather than 200",)),
        (None, "", None),
    ],
)
def test_a_recorder_keeps_no_more_than_the_body_puts_out(
    bits: int | None, sampling: str, gains: tuple[str, ...] | None
) -> None:
    picture = PictureFormat(id="p", label="p", gbps=6, bits=bits, sampling=sampling)  # type: ignore[arg-type]
    mode = RecordingMode(label="fine", mbit_s=800, bits=12, sampling="4:4:4")
    own = RecordingMode(label="own", mbit_s=200, bits=10, sampling="4:2:0")
    assert gains_of(picture, mode, own) == gains


def test_what_a_recorder_gains_is_said_where_it_is_plugged_in() -> None:
    told = found(WITH_RECORDER, shelf({"bits": 10, "sampling": "4:2:2"}))["record.gain"]
    assert told.text == (
        "recorder gains over what body records itself: 4:2:2 rather than 4:2:0, 800 Mb/s rather than 200."
    )
    assert "cannot be told" in found(WITH_RECORDER)["record.gain"].text


def screens(**screen: Any) -> Catalogue:
    on = shelf()
    assert on.models["monitor"].screen
    other = replace(on.models["monitor"], screen=replace(on.models["monitor"].screen, **screen))
    return Catalogue(on.interfaces, {**on.models, "monitor": other}, on.units)


def test_a_late_picture_is_a_watch_and_an_unknown_delay_is_not_judged() -> None:
    assert "screen.late" not in found(WITH_MONITOR)
    assert found(WITH_MONITOR, screens(delay_ms=40))["screen.late"].level is Level.CLEAR
    late = found(WITH_MONITOR, screens(delay_ms=180))["screen.late"]
    assert (late.level, late.value, late.limit) == (Level.WATCH, 180, 80)


def test_a_phone_is_told_its_cable_its_heat_and_the_sun() -> None:
    phone = screens(phone=True)
    plain = found(WITH_MONITOR, phone)["screen.phone"]
    assert plain.level is Level.NOTE
    assert "no cable runs to it" in plain.text
    sunny = found(WITH_MONITOR, phone, light_ev=14)["screen.phone"]
    assert sunny.level is Level.WATCH
    assert "in the sun" in sunny.text
    assert found(WITH_MONITOR, phone, light_ev=14, indoors=True)["screen.phone"].level is Level.NOTE
    assert "at 35 °C" in found(WITH_MONITOR, phone, temperature_c=35)["screen.phone"].text
    assert "screen.phone" not in found(WITH_MONITOR, light_ev=14)
