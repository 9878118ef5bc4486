"""Lens on body: flange distances, adapters and image circles."""

from __future__ import annotations

import pytest

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.gear.optical import RecordedArea
from lift_crate.core.lens.mount import adapter_models, adapter_thickness_mm
from lift_crate.core.rig.build import Build, Conditions, UnitSetting
from lift_crate.core.settings import Settings
from tests.kit import INTERFACES, X, Z, build, catalogue, model, port, quick_of

BACK = (-1, 0, 0)
AREAS = [
    {"id": "full", "label": "full", "width_mm": 36, "height_mm": 19},
    {"id": "super", "label": "super", "width_mm": 24.9, "height_mm": 14.0},
]


def lens(id_: str, mount: str, circle: float, mass_g: float = 800) -> object:
    return model(
        id_,
        mass_g,
        (50, 0, 0),
        port("mount", mount, "male", (0, 0, 0), BACK, Z),
        lens={"image_circle_mm": circle, "focal_mm": (50, 50), "stop": 2},
        kind="lens",
    )


SHELF = catalogue(
    model("body", 1000, (0, 0, 0), port("lens", "near", "female", (19, 0, 0), X, Z), body={"areas": AREAS}),
    lens("own", "near", 43.3),  # type: ignore[arg-type]
    lens("cine", "far", 31.4),  # type: ignore[arg-type]
    lens("heavy", "near", 43.3, 1600),  # type: ignore[arg-type]
    lens("close", "close", 43.3),  # type: ignore[arg-type]
    *(
        model(
            id_,
            200,
            (16, 0, 0),
            port("rear", "near", "male", (0, 0, 0), BACK, Z),
            port("front", "far", "female", (thick, 0, 0), X, Z),
            adapter={
                "toward_body": "rear",
                "toward_part": "front",
                "loses": ["autofocus"],
                "factor": factor,
                "optics": factor != 1,
            },
        )
        for id_, thick, factor in (("true", 33.00, 1.0), ("off", 33.05, 1.0), ("reducer", 25.0, 0.71))
    ),
)


def found(rig: Build) -> dict[str, Finding]:
    return {f.code: f for f in quick_of(rig, SHELF, Conditions(), Settings()).findings}


def test_flange_difference_is_the_adapters_thickness() -> None:
    mounts = {i.id: i for i in INTERFACES}
    assert adapter_thickness_mm(mounts["far"], mounts["near"]) == pytest.approx(33.00)
    assert {m.id for m in adapter_models(SHELF, "near", "far")} == {"true", "off", "reducer"}


def test_diagonal_of_the_recorded_area() -> None:
    assert RecordedArea(id="s", label="s", width_mm=24.9, height_mm=14.0).diagonal_mm == pytest.approx(28.566, abs=5e-4)


def test_no_lens_is_no_picture() -> None:
    assert found(build("body"))["lens.missing"].level is Level.STOP


def test_a_lens_on_its_own_mount_is_clear() -> None:
    codes = found(build("body", "own.mount > body.lens"))
    assert codes["lens.circle"].level is Level.CLEAR
    assert not {"lens.flange", "fit.interface"} & set(codes)


def test_three_millimetres_are_too_few_for_an_adapter() -> None:
    codes = found(build("body", "close.mount > body.lens"))
    assert "cannot reach infinity" in codes["lens.flange"].text
    assert codes["lens.flange"].value == pytest.approx(3.0)
    assert codes["fit.interface"].level is Level.STOP


def test_a_circle_is_judged_on_what_is_recorded_and_names_what_it_covers() -> None:
    rig = build("body", "true.rear > body.lens", "cine.mount > true.front")
    full = found(rig)["lens.circle"]
    assert full.level is Level.STOP
    assert full.value == pytest.approx(31.4)
    assert "The largest area of body that it covers is super." in full.text
    smaller = build(
        "body", "true.rear > body.lens", "cine.mount > true.front", settings=(UnitSetting(unit="body", area="super"),)
    )
    assert found(smaller)["lens.circle"].level is Level.CLEAR


def test_a_reducer_shrinks_the_circle_and_is_not_measured_by_subtraction() -> None:
    codes = found(build("body", "reducer.rear > body.lens", "cine.mount > reducer.front"))
    assert codes["lens.circle"].value == pytest.approx(31.4 * 0.71)
    assert "lens.adapter_off" not in codes


def test_an_adapter_off_by_five_hundredths_is_watched_and_says_what_it_loses() -> None:
    codes = found(build("body", "off.rear > body.lens", "cine.mount > off.front"))
    assert codes["lens.adapter_off"].level is Level.WATCH
    assert "autofocus" in codes["lens.adapter_loses"].text
    assert "lens.adapter_off" not in found(build("body", "true.rear > body.lens", "cine.mount > true.front"))


def test_a_heavy_lens_wants_support() -> None:
    assert found(build("body", "heavy.mount > body.lens"))["lens.support"].level is Level.WATCH
