"""Timecode of a part of the day: who gives it, which socket it takes, and who goes without."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.job.job import NotInJob
from lift_crate.core.job.sound import SoundPlan
from lift_crate.core.job.timecode import timecode_of
from lift_crate.core.rig.build import Link
from lift_crate.formats.job_file import JobFile, catalogue_of

PART = "dress"


def test_every_camera_is_told_its_socket_and_what_it_lacks(demo: JobFile) -> None:
    plan = timecode_of(demo.job, catalogue_of(demo), PART)
    assert [c.rig for c in plan.cameras] == ["Quay", "Caisson", "Dock floor", "Stage rail"]
    assert [c.socket for c in plan.cameras[:3]] == ["timecode"] * 3
    rail = plan.cameras[3]
    assert rail.as_sound
    assert rail.socket == "mic in"
    assert plan.boxes_short == len([c for c in plan.cameras if not c.source]) - len(plan.boxes_free)
    with pytest.raises(NotInJob):
        timecode_of(demo.job, catalogue_of(demo), "never")


def test_a_box_on_a_socket_is_its_source_and_anything_else_holds_it(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    build = demo.job.planned(PART, "quay")
    box = Link(cable="ANY", from_unit="TIME-1", from_port="out", to_unit=build.body, to_port="tc")
    demo = replace(demo, job=replace(demo.job, sound=SoundPlan()))
    fed = demo.job.with_build(replace(build, links=(*build.links, box)))
    here = {**catalogue.units, "ANY": replace(catalogue.units["TIME-1"], id="ANY", model="cord-xlr3")}
    plan = timecode_of(fed, replace(catalogue, units=here), PART)
    assert (plan.cameras[0].source, plan.cameras[0].cable, plan.cameras[0].held_by) == ("TIME-1", "ANY", "")
    assert plan.master == "TIME-1"
    assert "TIME-1" not in plan.boxes_free
    mic = Link(cable="ANY", from_unit="MIC-2", from_port="out", to_unit=build.body, to_port="tc")
    other = demo.job.with_build(replace(build, links=(*build.links, mic)))
    held = timecode_of(other, replace(catalogue, units=here), PART).cameras[0]
    assert (held.source, held.held_by) == ("", "MIC-2")
