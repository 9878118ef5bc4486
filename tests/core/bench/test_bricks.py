"""Packs side by side: what is told of each is what the rig is with it."""

from __future__ import annotations

import pytest

from lift_crate.core.bench.bricks import bricks_for
from lift_crate.core.gear.model import mates
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


@pytest.mark.parametrize(("part", "rig"), [("dress", "quay"), ("act-3", "caisson"), ("act-3", "stage-rail")])
def test_every_pack_that_fits_is_tried_in_its_place(demo: JobFile, part: str, rig: str) -> None:
    at = bench(demo, part, rig)
    first = at.stand.first_empty
    assert first
    now, *others = bricks_for(at, first.pack)
    assert now.now
    assert now.unit == first.pack
    assert now.hours == pytest.approx(first.hours)
    used = {k.from_port for k in at.build.links if k.from_unit == first.pack}
    fits = {
        at.catalogue.model_of(u).id
        for u in at.sound()
        if (joint := at.build.joint_of(first.pack))
        and any(
            p.id == joint.child_port and mates(p, at.catalogue.model_of(joint.parent).port(joint.parent_port))
            for p in at.catalogue.model_of(u).ports
        )
        and at.catalogue.model_of(u).pack
        and used <= {p.id for p in at.catalogue.model_of(u).ports}
    }
    assert {at.catalogue.model_of(b.unit).id for b in others} == fits
    for brick in others:
        after = at.after(brick.operations).stand
        assert after.carried.payload.mass_g - at.stand.carried.payload.mass_g == pytest.approx(
            (brick.mass_g - now.mass_g) if brick.payload_g != now.payload_g else 0, abs=1e-6
        )
        assert brick.front_nm == pytest.approx(after.carried.front_nm)
        assert after.first_empty
        assert brick.hours == pytest.approx(after.first_empty.hours)
    assert bricks_for(at, at.build.body) == ()
