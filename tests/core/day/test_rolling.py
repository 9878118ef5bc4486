"""What counts as rolling: all four, in whatever order they can be, and anew after it was stopped."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from itertools import permutations
from typing import Any

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.day.rolling import CHECKS, SoundStep, refused_at_source, rolling_of
from lift_crate.demo import demo_job_file

JOB = demo_job_file().job
START = datetime(2027, 3, 20, 19, 5, tzinfo=UTC)
SOURCE = "pocket recorder"


def step(act: Any, minute: float = 0, *, voice: str = "soprano", source: str = SOURCE, file: str = "") -> SoundStep:
    return SoundStep(voice=voice, source=source, act=act, at=START + timedelta(minutes=minute), file=file)


def now(steps: list[SoundStep]) -> Any:
    return next(r for r in rolling_of(JOB, steps) if (r.voice, r.source) == ("soprano", SOURCE))


def test_every_source_is_told_and_none_rolls_by_itself() -> None:
    rows = rolling_of(JOB, ())
    assert [(r.voice, r.source) for r in rows] == [(v.id, s.label) for v in JOB.sound.voices for s in v.sources]
    assert all(r.missing == CHECKS and not r.counts for r in rows)


def test_it_counts_after_all_four_in_any_order_that_begins_with_running() -> None:
    for order in permutations(CHECKS[1:]):
        steps: list[SoundStep] = []
        for minute, act in enumerate(("runs", *order)):
            new = step(act, minute, file="ZOE-0007" if act == "slated" else "")
            assert refused_at_source(JOB, steps, new) == ""
            assert not now(steps).counts
            steps.append(new)
        assert now(steps).counts
        assert now(steps).file == "ZOE-0007"
        stopped = [*steps, step("stopped", 9)]
        assert (now(stopped).missing, now(stopped).file) == (CHECKS, "")


@pytest.mark.parametrize(
    ("act", "said"),
    [
        ("locked", "locks it off"),
        ("heard", "is not what is recorded"),
        ("slated", "is on no recording"),
        ("stopped", "nothing to stop"),
    ],
)
def test_before_it_runs_nothing_of_it_counts(act: str, said: str) -> None:
    assert said in refused_at_source(JOB, [], step(act))
    assert refused_at_source(JOB, [step("runs")], step(act, 1)) == ""
    assert said in refused_at_source(JOB, [step("runs"), step("stopped", 1)], step(act, 2))


def test_what_else_is_refused() -> None:
    assert "runs already" in refused_at_source(JOB, [step("runs")], step("runs", 1))
    assert "There is no source 'none'" in refused_at_source(JOB, [], step("runs", source="none"))
    assert "time zone" in refused_at_source(JOB, [], replace(step("runs"), at=datetime(2027, 3, 20)))  # noqa: DTZ001 - that is the point
    voices = tuple(replace(v, consent="refused") for v in JOB.sound.voices)
    silent = replace(JOB, sound=replace(JOB.sound, voices=voices))
    assert refused_at_source(silent, [], step("runs")) == "Soprano does not want to be recorded."
    assert refused_at_source(silent, [], step("runs", voice="orchestra", source="the desk")) == ""


@given(st.lists(st.tuples(st.sampled_from([*CHECKS, "stopped"]), st.integers(0, 50)), max_size=12))
def test_what_was_let_in_is_never_rolling_without_having_run_since(found: list[tuple[str, int]]) -> None:
    steps: list[SoundStep] = []
    for act, minute in sorted(found, key=lambda x: x[1]):
        new = step(act, minute)
        if not refused_at_source(JOB, steps, new):
            steps.append(new)
    since: set[str] = set()
    for each in steps:
        if each.act == "stopped":
            assert "runs" in since
            since.clear()
        else:
            assert each.act == "runs" or "runs" in since
            since.add(each.act)
    assert set(now(steps).done) == since
    assert now(steps).counts == (since == set(CHECKS))
