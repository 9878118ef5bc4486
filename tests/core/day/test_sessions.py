"""Sessions: as many subjects as fit, and neither a card nor a pack ends in a take."""

from __future__ import annotations

import math
from dataclasses import replace
from itertools import pairwise

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.day.media import media_plan
from lift_crate.core.day.sessions import Session, _Camera, _paused, sessions_of
from lift_crate.core.day.table import day_table
from lift_crate.core.job.edits import ChangePart, apply_to_job
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def session(set_up: float, take: float, reset: float, part: str = "act-3") -> Session:
    air = replace(
        JOB.part(part).conditions,
        subject_set_up_min=set_up,
        subject_take_min=take,
        subject_reset_min=reset,
    )
    job = apply_to_job(JOB, ChangePart(part=part, conditions=air), SHELF)
    (found,) = sessions_of(job, SHELF, day_table(job, SHELF), media_plan(job, SHELF))
    return found


def test_no_part_has_subjects_by_itself() -> None:
    assert sessions_of(JOB, SHELF, day_table(JOB, SHELF), media_plan(JOB, SHELF)) == ()


@pytest.mark.parametrize(("set_up", "take", "reset"), [(2, 4, 1.5), (0, 5, 0), (10, 20, 5), (3, 2.5, 2.5)])
def test_with_cards_and_packs_that_last_it_is_the_length_by_one_subject(
    set_up: float, take: float, reset: float
) -> None:
    """85 min of Act III: the last one needs no reset."""
    found = session(set_up, take, reset)
    if not found.pauses:
        assert len(found.subjects) == math.floor((85 + reset) / (set_up + take + reset) + 1e-9)
    assert found.subjects[-1].ends <= found.part.ends
    assert found.left_min < set_up + take + reset + sum(p.minutes for p in found.pauses) + 1e-9 + reset
    for one, other in pairwise(found.subjects):
        assert (other.starts - one.ends).total_seconds() / 60 >= reset - 1e-9
        assert (other.take - other.starts).total_seconds() / 60 == pytest.approx(set_up)


def test_a_take_longer_than_a_card_lasts_fits_nowhere() -> None:
    found = session(1, 84, 1)
    assert len(found.subjects) == 1
    assert session(5, 90, 5).subjects == ()


@given(
    st.lists(st.tuples(st.floats(20, 200), st.floats(40, 300)), min_size=1, max_size=4),
    st.floats(1, 15),
    st.floats(0, 6),
    st.integers(1, 3),
)
@settings(max_examples=examples(100), deadline=None)
def test_no_card_and_no_pack_ends_in_a_take(
    lasts: list[tuple[float, float]], take: float, around: float, hands: int
) -> None:
    """Walked through by hand: what has rolled since the last change never goes beyond what there is."""
    cameras = [_Camera(str(n), card, pack) for n, (card, pack) in enumerate(lasts)]
    rolled, on = [0.0] * len(cameras), [0.0] * len(cameras)
    for number in range(40):
        stopped = _paused(cameras, take, take + around, number, hands, JOB)
        assert stopped is not None
        for pause in stopped:
            assert pause.minutes == math.ceil(len(pause.cameras) / hands) * (
                JOB.settings.card_min if pause.what == "cards" else JOB.charging.swap_min
            )
            for label in pause.cameras:
                (rolled if pause.what == "cards" else on)[int(label)] = 0.0
        minutes = sum(p.minutes for p in stopped)
        for n, camera in enumerate(cameras):
            rolled[n] += take
            on[n] += take + around
            assert rolled[n] <= camera.card_min + 1e-6
            assert on[n] <= camera.pack_min + 1e-6
            camera.rolled += take
            camera.on += take + around + (minutes if camera.on else 0.0)
