"""Figures that contradict each other are refused where they stand, with what would be right."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.gear.model import ImpossibleModel
from lift_crate.formats.job_file import JobFile, catalogue_of


def test_a_mode_of_an_area_the_body_has_not(demo: JobFile) -> None:
    body = next(m for m in demo.models if m.body and m.recording and m.recording.modes)
    assert body.recording
    wrong = replace(body.recording, modes=(replace(body.recording.modes[0], area="giant"),))
    with pytest.raises(ImpossibleModel, match=r"records the area 'giant', which the body has not; it has: "):
        replace(body, recording=wrong)
    assert replace(body, recording=replace(wrong, modes=(replace(wrong.modes[0], area=""),)))


def test_a_profile_that_ends_before_it_begins_and_a_long_end_wider_than_the_widest(demo: JobFile) -> None:
    body = next(m.body for m in demo.models if m.body)
    with pytest.raises(ValueError, match="iso: 6400 to 400; the lowest of the profile comes first"):
        replace(body, iso=(6400, 400))
    zoom = next(m.lens for m in demo.models if m.lens and m.lens.long_stop)
    with pytest.raises(ValueError, match="no end is wider than that"):
        replace(zoom, long_stop=zoom.stop * 0.9)


def test_a_gimbal_that_needs_more_than_it_carries(demo: JobFile) -> None:
    model = catalogue_of(demo).model_of("GIMBAL-2")
    assert model.gimbal
    with pytest.raises(ImpossibleModel, match="it needs 2980 g and carries 2950 g at most"):
        replace(model, gimbal=replace(model.gimbal, min_payload_g=2980))
