"""A gimbal's mode against who walks past, the stricter of two ratings, a thick grip, hours as claimed."""

from __future__ import annotations

import math
from dataclasses import replace

import pytest

from lift_crate.core.balance.report import balance_report
from lift_crate.core.balance.see_saw import hold_ways
from lift_crate.core.bench.remedies import search_remedies
from lift_crate.core.callouts import Finding, Level
from lift_crate.core.errors import NotAllowed
from lift_crate.core.gear.supports import GimbalData, GimbalMode, SupportData
from lift_crate.core.rig.edits import Adjust, Operation
from lift_crate.core.support.following import pan_needed_deg_s
from lift_crate.core.support.hands import girth_share, hold_minutes
from lift_crate.formats.job_file import JobFile
from tests.core.bench.test_demo_rigs import bench

FLOOR = ("dress", "dock-floor")


def of(demo: JobFile, code: str, *operations: Operation) -> Finding:
    return next(f for f in bench(demo, *FLOOR, *operations).quick.findings if f.code == code)


def test_pan_turns_by_speed_over_distance() -> None:
    assert pan_needed_deg_s(1.4, 2.0) == pytest.approx(40.1, abs=0.05)
    steps = 20_000
    turned = math.degrees(math.atan2(1.4 / steps, 2.0)) * steps
    assert pan_needed_deg_s(1.4, 2.0) == pytest.approx(turned, rel=1e-6), "the angle seen in a short time"
    assert pan_needed_deg_s(1.4, 1.0) == 2 * pan_needed_deg_s(1.4, 2.0)


def test_a_mode_that_holds_pan_loses_who_walks_and_another_is_proposed(demo: JobFile) -> None:
    assert of(demo, "gimbal.follow").level is Level.CLEAR
    held = of(demo, "gimbal.follow", Adjust(unit="GIMBAL-1", mode="hold"))
    assert held.level is Level.WATCH
    assert "holds where it is" in held.text
    at = bench(demo, *FLOOR, Adjust(unit="GIMBAL-1", mode="hold"))
    best = search_remedies(at, held).remedies
    assert any(r.clears and r.operations[0] == Adjust(unit="GIMBAL-1", mode="walk") for r in best)
    with pytest.raises(NotAllowed, match="has no mode 'slow'; it has: walk, hold, fast"):
        bench(demo, *FLOOR, Adjust(unit="GIMBAL-1", mode="slow"))


def test_recording_is_started_by_hand_without_a_control_cable(demo: JobFile) -> None:
    found = of(demo, "gimbal.control")
    assert found.level is Level.NOTE
    assert "no control cable runs to C6-3" in found.text


def test_the_stricter_of_two_published_figures_counts(demo: JobFile) -> None:
    at = bench(demo, "act-3", "stage-rail")
    payload = next(f for f in at.quick.findings if f.code == "gimbal.payload")
    assert payload.limit == 2950
    assert SupportData(kind="head", max_payload_g=8000, second_payload_g=7700).payload_limit_g == 7700
    assert SupportData(kind="head", second_payload_g=7700).payload_limit_g == 7700
    assert SupportData(kind="head").payload_limit_g is None


def test_a_thick_grip_is_held_for_less(demo: JobFile) -> None:
    assert girth_share(156) == pytest.approx(0.833, abs=0.001)
    assert (girth_share(None), girth_share(100)) == (1.0, 1.0)
    stand = bench(demo, *FLOOR).stand
    model = stand.assembly.catalogue.model_of("GIMBAL-1")
    assert model.support
    thick = replace(model, support=replace(model.support, girth_mm=200))
    file = replace(demo, models=tuple(thick if m.id == thick.id else m for m in demo.models))
    after = hold_ways(bench(file, *FLOOR).stand)
    before = {way.name: way.minutes for way in hold_ways(stand)}
    held = next(way for way in after if way.name.startswith("twin grips"))
    assert held.minutes == pytest.approx(hold_minutes(held.carried_g, 0.25, held_nm=60 * 130 / 200))
    assert held.minutes is not None
    assert held.minutes < (before[held.name] or math.inf)


def test_claimed_hours_stand_beside_the_computed_ones(demo: JobFile) -> None:
    report = balance_report(bench(demo, *FLOOR).stand)
    assert report
    assert (report.hours_claimed, report.hours_measured) == (11, None)
    assert report.hours is not None
    assert report.hours < 11


def test_two_modes_of_one_name_are_refused(demo: JobFile) -> None:
    data = bench(demo, *FLOOR).catalogue.model_of("GIMBAL-1").gimbal
    assert isinstance(data, GimbalData)
    with pytest.raises(ValueError, match="'walk' stands twice"):
        replace(data, modes=(*data.modes, GimbalMode(id="walk", label="again")))
