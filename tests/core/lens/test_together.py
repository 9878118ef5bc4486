"""A body and a lens together: worked figures of shutters, zooms, sensitivity, modes, and autofocus nobody watches."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.gear.optical import LensData
from lift_crate.core.gear.recording import RecordingMode
from lift_crate.core.lens.coverage import view_of
from lift_crate.core.lens.mount import lens_findings, lens_keeps
from lift_crate.core.lens.together import modes_of, nearest_shutter, together_findings
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Build, Catalogue, Conditions, Target, Unit, UnitSetting
from lift_crate.core.settings import Settings
from tests.kit import X, Z, build, catalogue, model, port

BACK = {"n": (-1, 0, 0), "u": Z}
FRONT = {"n": X, "u": Z}
CONTACTS = ("autofocus", "electronic iris", "stabiliser power")


def _lens(name: str, mount: str, **data: object) -> object:
    optics = {"image_circle_mm": 44, "focal_mm": (24, 96), "stop": 2.8, **data}
    return model(name, 500, (30, 0, 0), port("mount", mount, "male", **BACK), lens=optics, kind="lens")


def shelf(mounts: dict[str, tuple[str, ...]] | None = None) -> Catalogue:
    body = {
        "areas": [
            {"id": "full", "label": "full", "width_mm": 36, "height_mm": 19},
            {"id": "small", "label": "small", "width_mm": 18, "height_mm": 9.5},
        ],
        "iso": (640, 12800),
        "shutters": (25, 30, 50, 60, 100, 125),
        "autofocus": "dependable",
        "autofocus_to_ev": 0,
        "stabilised": "none",
    }
    modes = [
        {"label": "full 25p", "area": "full", "fps": 25, "mbit_s": 200},
        {"label": "small 100p", "area": "small", "fps": 100, "mbit_s": 280},
    ]
    found = catalogue(
        model(
            "body",
            900,
            (0, 0, 0),
            port("mount", "near", "female", (19, 0, 0), **FRONT),
            body=body,
            recording={"modes": modes},
        ),
        _lens("native", "near", autofocus=True, stabilised=True),  # type: ignore[arg-type]
        _lens("zoom", "near", long_stop=5.6, holds_focus=False),  # type: ignore[arg-type]
        _lens("other", "far", autofocus=True, stabilised=True),  # type: ignore[arg-type]
        model(
            "ring",
            150,
            (16, 0, 0),
            port("rear", "near", "male", **BACK),
            port("front", "far", "female", (33, 0, 0), **FRONT),
            adapter={"toward_body": "rear", "toward_part": "front", "loses": ("autofocus",)},
        ),
    )
    named = {"near": CONTACTS, "far": CONTACTS, **(mounts or {})}
    interfaces = {i: replace(x, contacts=named.get(i, ())) for i, x in found.interfaces.items()}
    return replace(found, interfaces=interfaces)


DIRECT, THROUGH = (
    build("body", "native.mount > body.mount"),
    build("body", "ring.rear > body.mount", "other.mount > ring.front"),
)


def found(
    rig: Build,
    light_ev: float | None = None,
    target: Target | None = None,
    on: Catalogue | None = None,
    **settings: float,
) -> dict[str, Finding]:
    at = assemble(rig, on or shelf())
    found = together_findings(at, view_of(at), target, Conditions(light_ev=light_ev), Settings(**settings))  # type: ignore[arg-type]
    return {f.code: f for f in found}


def test_the_shutter_next_to_a_wanted_angle() -> None:
    half = nearest_shutter((25, 30, 50, 60, 100), 25, 180)
    assert half is not None
    assert (half.wanted, half.offered, half.angle_deg) == (50, 50, 180)
    film = nearest_shutter((25, 30, 50, 60, 100), 24, 172.8)
    assert film is not None
    assert film.offered == 50
    assert film.wanted == pytest.approx(50)
    # 90° at 50 fps is 1/200 s; 1/100 s is a stop off, and a frame at 50 fps can be no longer than 1/50 s.
    fast = nearest_shutter((25, 30, 50, 60, 100), 50, 90)
    assert fast is not None
    assert (fast.offered, fast.angle_deg) == (100, 180)
    assert nearest_shutter((), 25, 180) is None
    note = found(DIRECT, fps=50, shutter_deg=90)["body.shutter"]
    assert note.level is Level.NOTE
    assert "1/125 s (144°, +0.7 stops of light)" in note.text
    assert found(DIRECT, fps=200)["body.shutter"].level is Level.STOP


@given(st.floats(10, 120), st.floats(20, 360))
def test_no_offered_time_is_nearer_and_none_is_longer_than_a_frame(fps: float, angle: float) -> None:
    offered = (25.0, 30.0, 50.0, 60.0, 100.0, 125.0, 250.0)
    best = nearest_shutter(offered, fps, angle)
    assert best is not None
    assert best.offered >= fps - 1e-6
    off = abs(math.log2(best.offered / best.wanted))
    assert all(off <= abs(math.log2(parts / best.wanted)) + 1e-12 for parts in offered if parts >= fps)


def test_a_zoom_that_darkens_keeps_its_light_at_the_long_ends_aperture() -> None:
    data = LensData(image_circle_mm=44, focal_mm=(25, 100), stop=2.8, long_stop=5.6)
    # Half way in octaves of focal length is half way in stops: 2.8·√2.
    assert data.widest_stop_at(50) == pytest.approx(2.8 * math.sqrt(2))
    assert [data.widest_stop_at(at) for at in (10, 100)] == pytest.approx([2.8, 5.6])
    rig = build("body", "zoom.mount > body.mount")
    note = found(rig)["lens.zoom_light"]
    assert note.level is Level.NOTE
    assert note.value == pytest.approx(2.0)
    stopped = replace(rig, settings=(UnitSetting(unit="zoom", stop=5.6),))
    assert found(stopped)["lens.zoom_light"].level is Level.CLEAR
    long = replace(rig, settings=(UnitSetting(unit="zoom", focal_mm=96),))
    at = view_of(assemble(long, shelf()))
    assert at is not None
    assert at.stop == pytest.approx(5.6)
    assert found(rig)["lens.zoom_focus"].level is Level.NOTE
    assert "lens.zoom_focus" not in found(DIRECT)


def test_a_stiff_ring_pushes_a_gimbal_only_by_hand() -> None:
    """T09."""
    on = shelf()
    zoom = replace(on.models["zoom"], lens=replace(on.models["zoom"].lens, rings="firm"))  # type: ignore[type-var]
    gimbal = model("gimbal", 900, (0, 0, 0), port("seat", "screw", "female", n=Z, u=X), support={"kind": "gimbal"})
    body = on.models["body"]
    foot = port("foot", "screw", "male", (0, 0, -40), (0, 0, -1), X)
    with_foot = model(
        "body",
        900,
        (0, 0, 0),
        port("mount", "near", "female", (19, 0, 0), **FRONT),
        foot,
        body={"areas": [{"id": "full", "label": "full", "width_mm": 36, "height_mm": 19}]},
    )
    assert body.body
    rig = build("body", "zoom.mount > body.mount", "gimbal.seat > body.foot")
    units = {**on.units, "gimbal": Unit(id="gimbal", model="gimbal")}
    known = replace(on, models={**on.models, "zoom": zoom, "gimbal": gimbal, "body": with_foot}, units=units)
    assert found(rig, on=known)["gimbal.zoom_ring"].level is Level.WATCH
    light = replace(known, models={**known.models, "zoom": on.models["zoom"]})
    assert "gimbal.zoom_ring" not in found(rig, on=light)
    assert "gimbal.zoom_ring" not in found(build("body", "zoom.mount > body.mount"), on=known), "in the hand"


def test_light_is_worked_out_at_a_sensitivity_that_the_profile_has() -> None:
    assert found(DIRECT)["body.iso"].level is Level.CLEAR
    low = found(DIRECT, light_ev=15, iso=100)["body.iso"]
    assert (low.level, low.limit) == (Level.WATCH, 640)
    # EV 15, f/2.8, 1/50 s, ISO 640: 15 − (log₂(2.8²·50) − log₂ 6.4) = 9.06 stops, ND 2.7.
    assert "9.1 stops too much light: ND 2.7" in low.text
    assert found(DIRECT, iso=25600)["body.iso"].limit == 12800


def test_area_and_frame_rate_go_together_or_not_at_all() -> None:
    assert found(DIRECT)["body.mode"].level is Level.CLEAR
    stop = found(DIRECT, fps=100)["body.mode"]
    assert stop.level is Level.STOP
    assert stop.text == "body does not record full at 100 fps: there it takes 25 fps. 100 fps goes with small."
    small = replace(DIRECT, settings=(UnitSetting(unit="body", area="small"),))
    assert found(small, fps=100)["body.mode"].level is Level.CLEAR
    assert modes_of((RecordingMode(label="any", mbit_s=50),), "full", 99) != ()
    assert modes_of((RecordingMode(label="film", fps=23.976, mbit_s=50),), "full", 24) != ()


def test_what_an_adapter_and_the_mounts_lose_follows_from_their_contacts() -> None:
    def lost(on: Catalogue) -> list[str]:
        return [f.text for f in lens_findings(assemble(THROUGH, on), Settings()) if f.code == "lens.adapter_loses"]

    assert lens_keeps(assemble(DIRECT, shelf())) is None
    assert lens_keeps(assemble(THROUGH, shelf())) == frozenset({"electronic iris", "stabiliser power"})
    assert lost(shelf()) == ["Through ring the lens loses: autofocus. other works without its autofocus."]
    bare = shelf({"near": ("electronic iris",)})
    assert lens_keeps(assemble(THROUGH, bare)) == frozenset({"electronic iris"})
    (told,) = lost(bare)
    assert "Near mount has no contacts for stabiliser power." in told
    assert told.endswith("other works without its autofocus and its stabiliser.")
    # A lens without contacts has none to lose.
    assert lost(shelf({"far": ()})) == []


def test_autofocus_is_asked_for_where_no_hand_is_free() -> None:
    alone = Target(distance_mm=5000, worked_by="nobody", follows=True)
    assert "focus.auto" not in found(DIRECT, 5, replace(alone, worked_by="two hands"))
    assert found(DIRECT, 5, alone)["focus.auto"].level is Level.CLEAR
    dark = found(DIRECT, -2, alone)["focus.auto"]
    assert (dark.level, dark.value, dark.limit) == (Level.WATCH, -2, 0)
    assert "the adapter does not carry it" in found(THROUGH, 5, alone)["focus.auto"].text
    manual = build("body", "zoom.mount > body.mount")
    assert "tape the ring" in found(manual, 5, replace(alone, follows=False))["focus.auto"].text
