"""Room at the camera's sides: moving the camera sideways takes from one side what it gives to the other."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.support.clearance import side_gaps
from lift_crate.core.support.load import Carried
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench


def moved(held: Carried, mm: float) -> Carried:
    assert held.solution
    lateral = replace(held.solution.lateral, set_mm=held.solution.lateral.set_mm + mm)
    return replace(held, solution=replace(held.solution, lateral=lateral))


@pytest.mark.parametrize(("part", "rig"), [("dress", "dock-floor"), ("act-3", "stage-rail")])
def test_a_gap_is_between_two_solids_and_follows_the_camera(demo: JobFile, part: str, rig: str) -> None:
    stand = bench(demo, part, rig).stand
    gaps = side_gaps(stand.assembly, stand.carried)
    assert gaps
    assert side_gaps(stand.assembly, replace(stand.carried, solution=None)) == ()
    for gap in gaps:
        assert gap.camera in stand.assembly.units
        for mm in (3.0, -3.0):
            after = {g.side: g for g in side_gaps(stand.assembly, moved(stand.carried, mm))}[gap.side]
            if (after.camera, after.gimbal) == (gap.camera, gap.gimbal):
                closer = 0.0 if "tilt part" in gap.gimbal else mm if gap.side == "left" else -mm
                assert after.mm == pytest.approx(gap.mm - closer), "the tilt part goes with the camera"
