"""Rolling and standing by in a pattern: hours between rolling always and standing by, and what off gains."""

from __future__ import annotations

from dataclasses import replace

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.remedies import search_remedies
from lift_crate.core.callouts import Level
from lift_crate.core.drawings.chain import run_downs
from lift_crate.core.power.pattern import average_w
from lift_crate.core.rig.build import Conditions
from lift_crate.core.rig.edits import OffBetween
from lift_crate.core.stand import Stand, stand_of
from lift_crate.core.swaps.day import day_problem
from lift_crate.core.swaps.what_if import day_of
from lift_crate.formats.job_file import JobFile, catalogue_of
from tests.core.bench.test_demo_rigs import bench

SHARE = st.floats(0, 1)


def at(demo: JobFile, rolling: float, *, off: bool = False, takes: float = 6.0) -> Stand:
    stand = bench(demo, "dress", "quay", OffBetween(off=off)).stand
    air = replace(stand.conditions, rolling=rolling, takes_per_h=takes)
    return stand_of(stand.assembly.build, stand.assembly.catalogue, air, stand.settings, target=stand.target)


def test_the_worked_figure_and_the_same_minute_by_minute() -> None:
    air = Conditions(rolling=0.25, takes_per_h=6)
    assert average_w(20, 12, air, 1.0, off=False) == pytest.approx(14.0)
    assert average_w(20, 12, air, 1.0, off=True) == pytest.approx(6.2)
    minutes = np.zeros(60)  # six takes: a minute to start, two and a half rolling
    spent = sum(1.0 * 12 + 2.5 * 20 for _ in range(6)) / len(minutes)
    assert average_w(20, 12, air, 1.0, off=True) == pytest.approx(spent)


@given(
    rolling=st.floats(0, 1),
    takes=st.floats(0, 120),
    restart=st.floats(0, 10),
    record=st.floats(1, 60),
    by=st.floats(0, 1),
)
def test_off_is_never_more_than_left_on_and_both_lie_between(
    rolling: float, takes: float, restart: float, record: float, by: float
) -> None:
    air = Conditions(rolling=rolling, takes_per_h=takes)
    on, off = (average_w(record, record * by, air, restart, off=each) for each in (False, True))
    assert off <= on + 1e-9
    assert record * by - 1e-9 <= on <= record + 1e-9
    assert rolling * record - 1e-9 <= off


def test_hours_grow_as_less_is_rolled_and_again_switched_off(demo: JobFile) -> None:
    always, some, off = (at(demo, r, off=o).first_empty for r, o in ((1.0, False), (0.4, False), (0.4, True)))
    assert always
    assert some
    assert off
    assert always.hours < some.hours < off.hours
    run = run_downs(at(demo, 0.4))[0]
    assert run.left_on_h == pytest.approx(some.hours)
    assert run.off_h == pytest.approx(off.hours)
    assert run.standby_h is not None
    assert some.hours < run.standby_h
    assert run_downs(at(demo, 1.0))[0].off_h is None
    told = next(f for f in at(demo, 0.4).power.findings if f.code == "power.hours")
    assert "rolling 40 % of the time" in told.text


def test_currents_are_those_of_rolling_however_seldom_it_rolls(demo: JobFile) -> None:
    def current(stand: Stand) -> list[float | None]:
        return [f.value for f in stand.power.findings if f.code in ("power.current", "power.under_voltage")]

    assert current(at(demo, 0.1, off=True)) == current(at(demo, 1.0))


def test_the_days_swaps_follow_the_pattern(demo: JobFile) -> None:
    seldom = replace(
        demo.job,
        parts=tuple(replace(p, conditions=replace(p.conditions, rolling=0.2)) for p in demo.job.parts),
    )
    catalogue = catalogue_of(demo)
    often, less = (day_problem(job, catalogue, day_of(job, "act-3")) for job in (demo.job, seldom))
    for slot in often.slots:
        other = next(s for s in less.slots if s.id == slot.id)
        for each, used in slot.used.items():
            assert other.used[each][-1] <= used[-1]


def test_what_is_too_short_left_on_is_cured_by_switching_off(demo: JobFile) -> None:
    stand = at(demo, 0.3)
    first = stand.first_empty
    off = at(demo, 0.3, off=True).first_empty
    assert first
    assert off
    between = replace(stand.conditions, hours_needed=(first.hours + off.hours) / 2)
    on = Bench(stand_of(stand.assembly.build, stand.assembly.catalogue, between, stand.settings, target=stand.target))
    short = next(f for f in on.quick.findings if f.code == "power.hours" and f.about.units == (first.pack,))
    assert short.level is Level.STOP
    cures = [r for r in search_remedies(on, short).remedies if r.operations == (OffBetween(off=True),)]
    assert cures[0].effect.hours_after == pytest.approx(off.hours)
    assert not any(
        r.operations == (OffBetween(off=True),) for r in search_remedies(Bench(at(demo, 1.0)), short).remedies
    )
