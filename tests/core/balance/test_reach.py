"""What a gimbal's camera loses where it hits: plugs swept too, lost work by its names; which way a cable pulls."""

from __future__ import annotations

from dataclasses import replace

from lift_crate.core.balance.report import swept_for
from lift_crate.core.bench.bench import Bench
from lift_crate.core.rig.build import Link
from lift_crate.core.support.clearance import reaches
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench

FLOOR = ("dress", "dock-floor")


def with_bends(demo: JobFile, mm: float) -> Bench:
    models = tuple(replace(m, cable=replace(m.cable, bend_mm=mm)) if m.cable else m for m in demo.models)
    return bench(replace(demo, models=models), *FLOOR)


def test_a_plug_that_needs_room_is_what_hits_first_and_never_gives_room(demo: JobFile) -> None:
    free = [reaches(with_bends(demo, mm).stand.assembly, with_bends(demo, mm).stand.carried) for mm in (0, 30, 160)]
    for less, more in zip(free[1:], free, strict=False):
        for a, b in zip(less, more, strict=True):
            assert a.low_deg >= b.low_deg
            assert a.high_deg <= b.high_deg
    told = [f.text for f in swept_for(with_bends(demo, 160).stand, "gimbal.clearance.roll")]
    assert any(text.startswith("the plug of SDI-3 meets MON7-2") for text in told), told
    assert not any("the plug of" in f.text for f in swept_for(bench(demo, *FLOOR).stand, "gimbal.clearance.roll"))


def test_what_cannot_be_reached_is_named_by_the_work_that_needs_it(demo: JobFile) -> None:
    found = {f.about.port: f for f in swept_for(bench(demo, *FLOOR).stand, "gimbal.clearance.tilt")}
    assert found["up"].text.endswith("Lost: lens up.")
    assert "Lost" not in found["down"].text, "79° down is more than any work of the settings asks"


def test_a_cable_pulls_toward_its_other_end_on_the_axes_between(demo: JobFile) -> None:
    at = bench(demo, *FLOOR)
    pulls = {route.link.cable: route.pull for route in at.stand.routes}
    assert (
        pulls["HDMI-3"] == "pulls down and to the left on tilt, roll, pan; best along the right arm, close to its axis"
    )
    assert pulls["SDI-3"] == "", "both of its ends ride on the camera"
    build = at.build
    turned = replace(build, links=tuple(_reversed(k) for k in build.links))
    after = replace(
        demo,
        job=replace(
            demo.job,
            rigs=tuple(
                replace(r, builds=tuple(turned if b.id == build.id else b for b in r.builds)) for r in demo.job.rigs
            ),
        ),
    )
    again = {route.link.cable: route.pull for route in bench(after, *FLOOR).stand.routes}
    assert again == pulls, "whichever end is named first"


def _reversed(link: Link) -> Link:
    return replace(link, from_unit=link.to_unit, from_port=link.to_port, to_unit=link.from_unit, to_port=link.from_port)
