"""Safety lines by position and the day of every person; a moving vehicle in a job of its own."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.callouts import Level
from lift_crate.core.day.laid_out import lay_out, run_sheets
from lift_crate.core.day.run_sheet import RunSheet
from lift_crate.core.day.run_tasks import Busy
from lift_crate.core.day.table import day_table
from lift_crate.core.job.job import Job
from lift_crate.core.job.venue import Spot, Thing, Venue
from lift_crate.core.rig.build import Target
from lift_crate.core.safety.lines import PositionSheet, safety_sheets
from lift_crate.core.safety.people import people_days
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
NOON = datetime(2027, 6, 1, 12, tzinfo=UTC)


def with_rig(rig_id: str, job: Job = JOB, **changes: object) -> Job:
    rigs = tuple(replace(r, **changes) if r.id == rig_id else r for r in job.rigs)  # type: ignore[arg-type]  # a rig's
    return replace(job, rigs=rigs)


def sheets(job: Job) -> dict[str, PositionSheet]:
    return {s.rig.id: s for s in safety_sheets(job, day_table(job, SHELF))}


def codes(sheet: PositionSheet) -> dict[str, Level]:
    return {line.finding.code: line.finding.level for line in sheet.lines}


def test_who_works_a_camera_on_a_moving_vehicle_stops_it_and_a_mount_alone_does_not() -> None:
    moving = Target(distance_mm=9000, speed_m_s=11.0)
    by_hand = codes(sheets(with_rig("dock-floor", target=moving))["dock-floor"])
    assert by_hand["safe.outside"] is Level.STOP
    mounted = next(
        c.rig.id for c in day_table(JOB, SHELF).cells if c.stand.carried.kind == "mount" and c.part.id == "arrival"
    )
    plan = tuple(
        replace(a, operator="", unattended=True) if (a.part, a.rig) == ("arrival", mounted) else a
        for a in JOB.plan
        if a.rig != mounted or a.part == "arrival"
    )
    on_mount = codes(sheets(with_rig(mounted, replace(JOB, plan=plan), target=moving))[mounted])
    assert on_mount["safe.vehicle"] is Level.WATCH
    assert "safe.outside" not in on_mount
    assert "safe.outside" not in codes(sheets(JOB)["dock-floor"]), "nothing drives there"


@pytest.mark.parametrize(("away", "told"), [(0.5, True), (1.9, True), (2.1, False), (9.0, False)])
def test_legs_near_a_lane_want_weights_by_the_distance_on_the_plan(away: float, told: bool) -> None:
    lane = Thing(id="way", label="Way", kind="lane", x_m=10, y_m=0, width_m=4, depth_m=20)
    job = replace(with_rig("quay", place=Spot(x_m=8 - away, y_m=0)), venue=Venue(things=(lane,)))
    sheet = sheets(job)["quay"]
    found = [line.finding for line in sheet.lines if line.finding.code == "safe.public"]
    assert bool(found) is told
    if told:
        assert found[0].value == pytest.approx(away, abs=0.01)


def test_every_line_says_why_and_what_helps_and_each_is_told_once() -> None:
    for sheet in sheets(JOB).values():
        texts = [line.finding.text for line in sheet.lines]
        assert len(texts) == len(set(texts))
        levels = [line.finding.level for line in sheet.lines]
        assert levels == sorted(levels, reverse=True)
        for line in sheet.lines:
            assert line.parts
            assert line.finding.call_out.why
            assert line.finding.call_out.cures


def test_cold_dark_loud_and_heavy_are_told_by_the_conditions() -> None:
    parts = tuple(replace(p, conditions=replace(p.conditions, light_ev=1.0, rain=True)) for p in JOB.parts)
    dark = codes(sheets(replace(JOB, parts=parts, settings=replace(JOB.settings, lift_kg=2.0)))["quay"])
    assert {"safe.dark", "safe.wet", "safe.cold", "safe.lift"} <= set(dark)
    voices = tuple(replace(v, louder_db=40.0) for v in JOB.sound.voices)
    assert "safe.ears" in codes(sheets(replace(JOB, sound=replace(JOB.sound, voices=voices)))["quay"])


def sheet_of(spans: list[tuple[float, float]]) -> RunSheet:
    busy = tuple(
        Busy(who="Op", rig="quay", part="x", starts=NOON + timedelta(hours=a), ends=NOON + timedelta(hours=a + n))
        for a, n in spans
    )
    return RunSheet(tasks=(), busy=busy, people=("Op",), call=NOON, findings=(), one_more=False)


def test_a_break_ends_a_stretch_and_a_shorter_pause_does_not() -> None:
    (whole,) = people_days(JOB, sheet_of([(0, 3), (3.2, 2)]))
    assert whole.stretch_h == pytest.approx(5.2)
    assert whole.breaks == 0
    assert [f.code for f in whole.findings] == ["people.break"]
    (broken,) = people_days(JOB, sheet_of([(0, 3), (3.3, 2)]))
    assert broken.stretch_h == pytest.approx(3)
    assert (broken.breaks, broken.findings) == (1, ())
    (late,) = people_days(JOB, sheet_of([(0, 1), (12, 1)]))
    assert {f.code for f in late.findings} == {"people.long", "people.waits"}
    assert late.water_l == pytest.approx(13 * 0.25)
    (just,) = people_days(JOB, sheet_of([(0, 3), (3.25, 2)]))
    assert just.breaks == 1, "as long as a break has to be"


@pytest.mark.parametrize(("degrees", "litres"), [(24.9, 2 * 0.25), (25.0, 2 * 0.5)])
def test_in_the_heat_a_person_drinks_twice_as_much(degrees: float, litres: float) -> None:
    """In the heat of a part that somebody works in; that of another is no matter."""
    first = JOB.parts[0]
    parts = tuple(
        replace(
            first,
            id=f"p{n}",
            starts=NOON + timedelta(hours=6 * n),
            ends=NOON + timedelta(hours=6 * n + 6),
            conditions=replace(first.conditions, temperature_c=degrees if n == 1 else 30.0),
        )
        for n in range(3)
    )
    (day,) = people_days(replace(JOB, parts=parts), replace(sheet_of([(8, 2)]), call=NOON + timedelta(hours=8)))
    assert day.water_l == pytest.approx(litres)


@settings(max_examples=examples(40))
@given(st.lists(st.tuples(st.floats(0, 20), st.floats(0.1, 6)), min_size=1, max_size=6))
def test_work_is_never_counted_twice_nor_longer_than_one_is_there(spans: list[tuple[float, float]]) -> None:
    (day,) = people_days(JOB, sheet_of(spans))
    minutes = {m for a, n in spans for m in range(round(a * 60), round((a + n) * 60))}
    assert day.worked_h == pytest.approx(len(minutes) / 60, abs=0.1)
    assert day.worked_h <= day.there_h + 1e-9
    assert day.stretch_h <= day.there_h + 1e-9


def test_everybody_on_the_run_sheet_has_a_day() -> None:
    laid = lay_out(JOB, SHELF)
    for sheet in run_sheets(JOB, SHELF, laid):
        busy = {b.who for b in sheet.busy} | {who for t in sheet.tasks if t.starts for who in t.who}
        assert {p.who for p in people_days(JOB, sheet)} == busy
