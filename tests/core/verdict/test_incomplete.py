"""Nothing is clear that could not be judged: what is not known is named, with the check it would take."""

from __future__ import annotations

from typing import Any

import pytest

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.gear.model import GearModel
from lift_crate.core.rig.build import Conditions
from lift_crate.core.settings import Settings
from tests.kit import build, catalogue, model, port, quick_of

DOWN = (0, 0, -1)
BOX = ({"block": ((-20, -20, -20), (20, 20, 20))},)
BODY = model(
    "body",
    1000,
    (0, 0, 0),
    port("mount", "near", "female"),
    port("top", "screw", "female", (0, 0, 20)),
    port("bottom", "screw", "female", (0, 0, -20), DOWN),
    port("rear", "wedge", "female", electrical={"role": "in", "min_v": 11}),
    kind="body",
    shapes=BOX,
    draw={"standby_w": 1, "record_w": 2, "peak_w": 3},
)


def thing(id_: str, end: dict[str, Any], **more: Any) -> GearModel:
    return model(id_, 300, (0, 0, 0), end, **{"shapes": BOX, **more})


FOOT = port("foot", "screw", "male", (0, 0, -20), DOWN)
UNDER = port("seat", "screw", "male", (0, 0, 20))


@pytest.mark.parametrize(
    ("part", "joint", "says", "level"),
    [
        (
            thing("lens", port("mount", "near", "male"), kind="lens"),
            "lens.mount > body.mount",
            "no focal length, aperture and image circle: coverage, framing and light not judged",
            Level.WATCH,
        ),
        (
            thing("pack", port("wedge", "wedge", "male", electrical={"role": "out"}), kind="pack"),
            "pack.wedge > body.rear",
            "no cells and capacity: hours and voltage not judged",
            Level.WATCH,
        ),
        (
            thing("gimbal", UNDER, kind="gimbal", support={"kind": "gimbal"}),
            "gimbal.seat > body.bottom",
            "no stages, slides and torques: balance and motors not judged",
            Level.WATCH,
        ),
        (
            thing("head", UNDER, kind="head", support={"kind": "head"}),
            "head.seat > body.bottom",
            "no rated payload: payload not judged; no tilt range and drag: whether it holds the tilt not judged",
            Level.WATCH,
        ),
        (
            thing("cups", UNDER, kind="mount", support={"kind": "mount"}),
            "cups.seat > body.bottom",
            "no points and pull-off: whether it holds not judged",
            Level.WATCH,
        ),
        (
            thing("flag", FOOT, shapes=()),
            "flag.foot > body.top",
            "no outline: room, reach and wind not judged",
            Level.NOTE,
        ),
    ],
    ids=lambda value: value.id if isinstance(value, GearModel) else "",
)
def test_what_is_missing_is_named_with_what_it_would_take(part: GearModel, joint: str, says: str, level: Level) -> None:
    told = missing(joint, part)[part.id]
    assert says in told.text
    assert told.level is level


def test_a_body_alone_is_not_clear_and_an_input_without_limit_is_told() -> None:
    pack = thing(
        "pack",
        port("wedge", "wedge", "male", electrical={"role": "out"}),
        kind="pack",
        pack={"cells": 4, "capacity_ah": 6.8, "resistance_ohm": 0.1},
    )
    told = missing("pack.wedge > body.rear", pack)
    assert "no recorded areas: lens, framing and light not judged" in told["body"].text
    assert "no largest voltage of input 'rear': over-voltage not judged" in told["body"].text
    assert "pack" not in told


def missing(joint: str, part: GearModel) -> dict[str, Finding]:
    judged = quick_of(build("body", joint), catalogue(BODY, part), Conditions(), Settings())
    return {f.about.units[0]: f for f in judged.findings if f.code == "gear.incomplete"}
