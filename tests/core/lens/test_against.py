"""A zoom against primes, filters that polarise, a hand for the ND, and all cameras of a part against each other."""

from __future__ import annotations

import math
from dataclasses import replace
from typing import Literal

import pytest

from lift_crate.core.callouts import Finding, Level
from lift_crate.core.lens.against import Against, zooms_against_primes
from lift_crate.core.lens.matching import matching, matching_all
from lift_crate.core.lens.pairs import pairs
from lift_crate.core.rig.assembly import Assembly, assemble
from lift_crate.core.rig.edits import Adjust, Detach, GripAs, Operation
from lift_crate.core.settings import Settings
from lift_crate.core.verdict.judge import quick
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench


def against(demo: JobFile, settings: Settings, *, on_gimbal: bool = False) -> dict[tuple[str, str], Against]:
    catalogue = catalogue_of(demo)
    found = zooms_against_primes(pairs(catalogue, catalogue.units), settings, on_gimbal=on_gimbal)
    return {(a.body, a.zoom): a for a in found}


def test_primes_in_the_range_of_a_zoom_are_counted_weighed_and_timed(demo: JobFile) -> None:
    settings = demo.job.settings
    every = against(demo, settings)
    assert every
    catalogue = catalogue_of(demo)
    for found in every.values():
        low, high = found.focal_mm
        lenses = [next(m for m in catalogue.models.values() if m.title == title) for title in found.primes]
        assert all(low / 1.06 <= f <= high * 1.06 for f in found.focals_mm)
        assert found.primes_g == pytest.approx(sum(m.mass_g or 0 for m in lenses))
        assert found.changes == len(lenses) - 1
        assert found.minutes == pytest.approx(found.changes * 2 * settings.joint_min["lens"])
    held = against(demo, settings, on_gimbal=True)
    for key, found in held.items():
        more = settings.balance_min + settings.recalibrate_min
        assert found.minutes == pytest.approx(every[key].minutes + found.changes * more)


def test_what_a_prime_gains_is_stops_between_the_two_apertures(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    found = next(a for a in against(demo, demo.job.settings).values())
    own = [p for p in pairs(catalogue, catalogue.units) if p.body.title == found.body]
    zoom = next(p for p in own if p.lens.title == found.zoom)
    primes = [next(p for p in own if p.lens.title == title) for title in found.primes]
    if zoom.t_stops[0] == zoom.t_stops[1]:
        stops = [2 * math.log2(zoom.t_stops[0] / p.t_stops[0]) for p in primes]
        assert found.gains_stops[0] == pytest.approx(min(stops))
        assert found.gains_stops[1] == pytest.approx(max(stops))
    assert found.widest_step == pytest.approx(
        max((b / a for a, b in zip(found.focals_mm, found.focals_mm[1:], strict=False)), default=1.0)
    )


def of(demo: JobFile, code: str, part: str, rig: str, *operations: Operation) -> list[Finding]:
    return [f for f in bench(demo, part, rig, *operations).quick.findings if f.code == code]


def test_a_polariser_behind_a_variable_nd_and_on_a_wide_lens(demo: JobFile) -> None:
    crossed = of(demo, "filter.polariser", "mark-through", "dock-floor")
    assert [f.level for f in crossed] == [Level.WATCH]
    assert "VND-2" in crossed[0].text
    wide = of(demo, "filter.polariser", "mark-through", "dock-floor", Adjust(unit="ZOOM-1", focal_mm=26))
    assert wide[0].level is Level.WATCH, "two that cross are worse than a wide lens"
    alone = bench(demo, "mark-through", "dock-floor")
    on = alone.build.joint_of("POL-1")
    assert on
    if on.parent == "VND-2":
        assert not of(demo, "filter.polariser", "mark-through", "dock-floor", Detach(unit="VND-2"))


def test_nobody_turns_a_variable_nd_with_both_hands_full(demo: JobFile) -> None:
    def told(by: Literal["two hands", "one hand", "nobody"], grip: str) -> list[Finding]:
        stand = bench(demo, "act-3", "stage-rail", GripAs(grip=grip)).stand
        assert stand.target
        return [
            f
            for f in quick(replace(stand, target=replace(stand.target, worked_by=by))).findings
            if f.code == "filter.hand"
        ]

    loose, both = "one handle, one hand close", "twin grips, close to the body"
    assert told("nobody", loose)[0].level is Level.WATCH
    assert "the one hand there holds the camera" in told("one hand", loose)[0].text
    assert told("two hands", loose) == []
    assert [f.level for f in told("two hands", both)] == [Level.NOTE]


def test_all_cameras_of_a_part_differ_where_any_two_do(demo: JobFile) -> None:
    catalogue = catalogue_of(demo)
    for part in demo.job.parts:
        cameras: dict[str, Assembly] = {
            rig.label: assemble(build, catalogue) for rig, build in demo.job.builds_in(part.id).values()
        }
        every = {d.what for d in matching_all(cameras, demo.job.settings).differs}
        names = list(cameras)
        two = {
            m.what
            for i, a in enumerate(names)
            for b in names[i + 1 :]
            for m in matching(cameras[a], cameras[b], demo.job.settings).differs
        }
        assert every == two
    assert matching_all({}, demo.job.settings).differs == ()
