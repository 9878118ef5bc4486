"""Supports compared: each line is the rig as it would really be, and taking it makes it so."""

from __future__ import annotations

import pytest

from lift_crate.core.balance.see_saw import hold_ways
from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.supports import supports_tried
from lift_crate.core.stand import stand_of
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


@pytest.mark.parametrize(("part", "rig"), [("dress", "quay"), ("dress", "dock-floor"), ("dress", "stage-rail")])
def test_every_line_is_what_comes_of_taking_it(demo: JobFile, part: str, rig: str) -> None:
    at = bench(demo, part, rig)
    found = supports_tried(at)
    assert [each.now for each in found].count(True) == 1
    assert found[0].now
    assert found[0].operations == ()
    assert len({each.name for each in found}) == len(found)
    for each in found:
        after = at.after(each.operations)
        held = after.stand.carried
        assert (held.kind, held.support) == (each.kind, each.unit)
        assert held.front_nm == pytest.approx(each.moment_nm)
        assert (after.quick.counts["stops"], after.quick.counts["watches"]) == (each.stops, each.watches)
        way = next((w for w in hold_ways(after.stand) if w.chosen), None)
        assert (way.carried_g if way else 0.0) == pytest.approx(each.carried_g)
        assert (way.minutes if way else None) == each.minutes
    kinds = {each.kind for each in found}
    assert {"hand", "gimbal"} <= kinds


def test_a_long_lens_that_follows_is_told_what_a_support_does_to_it(demo: JobFile) -> None:
    at = bench(demo, "dress", "quay").stand
    target = demo.job.rig("quay").target
    follows = Bench(stand_of(at.assembly.build, at.assembly.catalogue, at.conditions, at.settings, target=target))
    told = {each.kind: each.panning for each in supports_tried(follows)}
    assert told["head"] == "smooth, with drag"
    assert told["hand"].startswith("every step")
    assert all(each.panning == "" for each in supports_tried(bench(demo, "dress", "stage-rail")))
