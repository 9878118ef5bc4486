"""Every setting is told: what it is called, its range, what it bears on."""

from __future__ import annotations

from dataclasses import asdict, replace
from datetime import timedelta

from lift_crate.core.job.job import evaluate_job
from lift_crate.core.job.settings_told import settings_told
from lift_crate.core.rig.build import Conditions
from lift_crate.core.settings import Settings
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of


def test_every_setting_is_told_once_and_its_default_is_within_its_range() -> None:
    told = {info.key: info for info in settings_told()}
    figures = asdict(Settings())
    assert {key.split(".")[0] for key in told} == set(figures)
    assert len({info.label for info in told.values()}) == len(told)
    for key, info in told.items():
        table, _, column = key.partition(".")
        held = figures[table]
        rows = [held] if not column else [held] if table == "spreads" else list(held.values())
        for row in rows:
            value = row[column] if column else row
            for one in value.values() if isinstance(value, dict) else [value]:
                for figure in one if isinstance(one, (tuple, list)) else [one]:
                    if isinstance(figure, str):
                        assert not info.choices or figure in info.choices, key
                    elif info.low is not None:
                        assert info.low <= figure <= (info.high or figure), key


def test_a_take_is_never_longer_than_a_camera_must_run() -> None:
    """A take of 90 min asks 1.5 h of every pack, also where only 1 h was said to be untouched."""
    air = Conditions(hours_needed=1.0, longest_take_min=90)
    assert air.untouched_h == 1.5
    assert replace(air, longest_take_min=30).untouched_h == 1.0
    file = demo_job_file()
    job, shelf = file.job, catalogue_of(file)
    long = timedelta(hours=30) / timedelta(minutes=1)
    asked = tuple(replace(p, conditions=replace(p.conditions, longest_take_min=long)) for p in job.parts)
    for *_, judged in evaluate_job(replace(job, parts=asked), shelf):
        for finding in judged.findings:
            if finding.code == "power.hours":
                assert finding.limit == 30.0
                assert finding.value is None or finding.level.name == "STOP"


def test_there_is_no_wind_under_a_roof() -> None:
    file = demo_job_file()
    job, shelf = file.job, catalogue_of(file)
    roofed, calm = (
        replace(job, parts=tuple(replace(p, conditions=Conditions(wind_m_s=wind, indoors=indoors)) for p in job.parts))
        for wind, indoors in ((25.0, True), (0.0, False))
    )
    inside, outside = (
        [(part.id, rig.id, [f.text for f in judged.findings]) for part, rig, _, judged in evaluate_job(of, shelf)]
        for of in (roofed, calm)
    )
    assert inside == outside
