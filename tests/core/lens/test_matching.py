"""Two cameras whose pictures will not match, and what both of them have."""

from __future__ import annotations

from dataclasses import replace

from lift_crate.core.gear.recording import RecordingData, RecordingMode
from lift_crate.core.lens.matching import Matching, matching
from lift_crate.core.rig.assembly import assemble
from lift_crate.core.rig.build import Catalogue, UnitSetting
from lift_crate.core.settings import Settings
from tests.core.lens.test_together import DIRECT, shelf


def recording(*modes: tuple[str, float, int, str]) -> Catalogue:
    on = shelf()
    told = tuple(
        RecordingMode(label=label, fps=fps, mbit_s=100, bits=bits, sampling=sampling)  # type: ignore[arg-type]
        for label, fps, bits, sampling in modes
    )
    body = replace(on.models["body"], recording=RecordingData(modes=told))
    return replace(on, models={**on.models, "body": body})


CINE = recording(("25p fine", 25, 12, "4:4:4"), ("25p", 25, 10, "4:2:2"), ("50p", 50, 10, "4:2:2"))
SMALL = recording(("A 25p", 25, 8, "4:2:0"), ("B 25p", 25, 10, "4:2:2"), ("B 50p", 50, 8, "4:2:0"))


def match(left: UnitSetting | None = None, right: UnitSetting | None = None) -> Matching:
    a, b = (replace(DIRECT, settings=(each,) if each else ()) for each in (left, right))
    return matching(assemble(a, CINE), assemble(b, SMALL), Settings())


def test_what_differs_and_the_finest_that_both_record() -> None:
    found = match()
    assert [(m.what, m.left, m.right) for m in found.differs] == [
        ("bits", "12 bit", "8 bit"),
        ("sampling", "4:4:4", "4:2:0"),
    ]
    assert found.common == "25 fps 10 bit 4:2:2: 25p on the one, B 25p on the other"
    assert matching(assemble(DIRECT, CINE), assemble(DIRECT, CINE), Settings()) == Matching((), "")


def test_rate_shutter_and_sensitivity_are_told() -> None:
    body = UnitSetting(unit="body", fps=50, shutter_deg=90, iso=1600)
    found = match(right=body)
    assert [m.what for m in found.differs][:3] == ["frame rate", "shutter", "sensitivity"]
    assert (found.differs[1].left, found.differs[1].right) == ("1/50 s", "1/200 s")
    nearly = match(UnitSetting(unit="body", fps=23.976), UnitSetting(unit="body", fps=24))
    assert "frame rate" not in [m.what for m in nearly.differs]
