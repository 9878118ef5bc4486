"""What is hard to believe of a model, each by a model that has just that, and none by one that has not."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

import pytest

from lift_crate.core.gear.doubts import GearDoubted, doubts_of
from lift_crate.core.gear.electrical import Draw
from lift_crate.core.gear.model import GearModel
from lift_crate.core.gear.solids import Block

from .test_patterns import made

FED = {"inputs": [{"plug": "barrel-2.1", "min_v": 7, "max_v": 17, "max_a": 2}], "mass_g": 260}
SOUND = {
    "monitor": made("monitor", **FED).model,
    "lens": made("lens", mass_g=900).model,
    "gimbal": made("gimbal", payload_from_g=1000).model,
    "arm": made("arm").model,
    "counterweight": made("counterweight").model,
}


@pytest.mark.parametrize("kind", SOUND)
def test_what_is_sound_is_not_doubted(kind: str) -> None:
    assert list(doubts_of(SOUND[kind])) == []


def window(low: float, high: float) -> GearModel:
    row: dict[str, Any] = {"plug": "barrel-2.1", "min_v": low, "max_v": high, "max_a": 9}
    return made("monitor", **{**FED, "inputs": [row]}).model


@pytest.mark.parametrize(
    ("model", "path", "says"),
    [
        (replace(SOUND["monitor"], mass_g=20.0), "mass_g", "lighter than gear of its kind"),
        (replace(SOUND["monitor"], mass_g=3000.0), "mass_g", "heavier than gear of its kind"),
        (replace(SOUND["lens"], cg_mm=(400.0, 0.0, 0.0)), "cg_mm", "mm outside what is drawn"),
        (
            replace(SOUND["lens"], mass_g=None, shapes=(Block(block=((0, -40, -40), (1200, 40, 40))),)),
            "shapes",
            "longer than 1 m",
        ),
        (replace(SOUND["gimbal"], mass_g=200.0), "mass_g", "light for it"),
        (window(11.0, 12.0), "ports.dc.electrical", "3 cells in series swing 3.6 V"),
        (
            replace(SOUND["monitor"], draw=Draw(standby_w=9, record_w=30, peak_w=60)),
            "draw",
            "60 W at its peak; its inputs carry 34 W",
        ),
    ],
)
def test_what_is_hard_to_believe_is_said_with_its_place(model: GearModel, path: str, says: str) -> None:
    found = list(doubts_of(model))
    assert [d.path for d in found] == [path]
    assert says in found[0].message
    assert says in str(GearDoubted(found))


def test_fixed_five_volts_may_be_narrow() -> None:
    assert list(doubts_of(window(4.7, 5.5))) == []
