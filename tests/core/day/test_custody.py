"""Custody: one card in one slot, nothing wiped too soon, and whatever is done, every card has one state and place."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.day.custody import (
    CardNow,
    CardStep,
    custody_of,
    mirrored_between,
    once_only_for,
    refused,
    taken_back,
)
from lift_crate.core.day.media import media_plan
from lift_crate.core.job.edits import SetCell, apply_to_job
from lift_crate.core.rig.build import Catalogue
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job
LINE = next(x for x in media_plan(JOB, SHELF).lines if x.scheme == "mirrored" and x.takes == "wide card")
UNIT, (ONE, TWO) = LINE.unit, [s.id for s in SHELF.model_of(LINE.unit).recording.slots][:2]  # type: ignore[union-attr]
START = datetime(2027, 3, 20, 19, 0, tzinfo=UTC)
A, B, SMALL = "WIDE-01", "WIDE-02", "SMALL-1"


def step(act: Any, card: str = A, minute: float = 0, **more: Any) -> CardStep:
    return CardStep(act=act, card=card, at=START + timedelta(minutes=minute), **more)


def into(card: str, slot: str = ONE, minute: float = 0, *, once_only: bool = False) -> CardStep:
    return step("in", card, minute, unit=UNIT, slot=slot, once_only=once_only)


def why(steps: list[CardStep], new: CardStep) -> str:
    return refused(SHELF, UTC, steps, new)


def now(steps: list[CardStep], card: str = A) -> CardNow:
    return next(c for c in custody_of(SHELF, UTC, steps) if c.card == card)


def copied(card: str, *places: str, minute: float = 60) -> list[CardStep]:
    return [step("copied", card, minute + i, place=p, verified=True) for i, p in enumerate(places)]


def test_a_card_through_its_day() -> None:
    steps: list[CardStep] = []
    day = timedelta(days=1) / timedelta(minutes=1)
    for new, state in (
        (into(A), "in a slot"),
        (step("out", minute=50), "recorded"),
        *((c, "copied") for c in copied(A, "DRIVE-1", "DRIVE-2", "home")),
        (step("wiped", minute=day), "blank"),
    ):
        assert why(steps, new) == ""
        steps.append(new)
        assert now(steps).state == state
    assert now(steps[:-1]).places == ("DRIVE-1", "DRIVE-2", "home")
    assert now(steps).places == ()
    assert why(steps, into(A, minute=day + 5)) == "", "blank again"


@pytest.mark.parametrize(
    ("before", "new", "said"),
    [
        ([into(A)], into(A, TWO, 5), f"{A} is in {UNIT} {ONE}; take it out first."),
        ([into(A)], into(B, ONE, 5), f"{A} is in {UNIT} {ONE}; take it out first."),
        ([], into(A, "nine"), f"{UNIT} has no slot 'nine'; it has "),
        ([], into(SMALL), f"{SMALL} is a small card; {ONE} of {UNIT} takes a wide card."),
        ([], step("out"), f"{A} is in no recorder"),
        ([], step("copied", place="DRIVE-1"), "Nothing was recorded on"),
        ([into(A)], step("copied", minute=5, place="DRIVE-1"), "it is copied when it is out"),
        ([into(A), step("out", minute=5)], step("copied", minute=9, place=" "), "Say where"),
        ([into(A), step("out", minute=5)], step("copied", minute=9, place=A), "on itself is no copy"),
        ([into(A)], step("wiped", minute=5), "nothing is wiped in a camera"),
        ([], step("wiped"), "There is nothing on"),
        (
            [into(A), step("out", minute=5)],
            step("wiped", minute=9),
            "lies in 0 of 3 places, verified; wiping waits for 3",
        ),
        ([], step("fault"), "Say what"),
        ([], step("in"), "Say which recorder"),
        ([], step("in", "LENS", unit=UNIT, slot=ONE), "is no card"),
    ],
)
def test_what_cannot_be_is_told(before: list[CardStep], new: CardStep, said: str) -> None:
    if new.card == "LENS":
        new = step("in", LINE.unit, unit=UNIT, slot=ONE)
    assert said in why(before, new)


def test_wiped_neither_on_the_day_nor_before_three_verified_places() -> None:
    steps = [into(A), step("out", minute=50), *copied(A, "DRIVE-1", "DRIVE-1", "DRIVE-2")]
    late = timedelta(days=1) / timedelta(minutes=1)
    assert "2 of 3 places (DRIVE-1, DRIVE-2)" in why(steps, step("wiped", minute=late)), "the same place once"
    steps.append(step("copied", minute=80, place="home"))
    assert "wiping waits for 1 more" in why(steps, step("wiped", minute=late)), "not verified"
    steps += copied(A, "home", minute=90)
    assert why(steps, step("wiped", minute=100)).endswith("nothing is wiped on the day.")
    assert why(steps, step("wiped", minute=late)) == ""


def test_the_other_side_of_a_mirror_counts_until_it_is_used_again() -> None:
    steps = [into(A), into(B, TWO), step("out", minute=50, once_only=True), step("out", B, 51, once_only=True)]
    late = timedelta(days=1) / timedelta(minutes=1)
    assert now(steps).twins == (B,)
    assert now(steps, B).twins == (A,)
    assert "counts already" in why(steps, step("copied", minute=60, place=B))
    steps += copied(A, "DRIVE-1", "DRIVE-2")
    assert why(steps, step("wiped", minute=late)) == ""
    again = [*steps, *copied(B, "DRIVE-1", "DRIVE-2", minute=70), step("wiped", B, late)]
    assert why(again[:-1], again[-1]) == ""
    assert now(again).twins == ()
    assert "2 of 3" in why(again, step("wiped", minute=late + 1)), "its mirror is gone"


def test_a_card_that_failed_goes_into_no_single_slot_for_what_happens_once() -> None:
    model = SHELF.model_of(UNIT)
    assert model.recording
    single = replace(model, recording=replace(model.recording, slots=model.recording.slots[:1]))
    shelf = Catalogue(SHELF.interfaces, {**SHELF.models, model.id: single}, SHELF.units)
    fault = step("fault", note="stopped once")
    once = into(A, minute=5, once_only=True)
    assert "take another" in refused(shelf, UTC, [fault], once)
    assert refused(SHELF, UTC, [fault], once) == "", "the other slot has it too"
    assert refused(shelf, UTC, [fault, step("sound again", minute=2)], once) == ""


def test_noted_late_and_taken_back() -> None:
    """A step between others must leave those after it possible; so must what is taken back."""
    steps = [into(A), step("out", minute=50), *copied(A, "DRIVE-1")]
    assert f"Then '{A} taken out' at 19:50 could not have been" in why(steps, step("out", minute=30))
    assert why(steps, step("fault", minute=20, note="hot")) == ""
    assert "could not have been" in taken_back(SHELF, UTC, steps, steps[1])
    assert taken_back(SHELF, UTC, steps, steps[-1]) == ""
    assert why(steps, CardStep(act="out", card=A, at=datetime(2027, 3, 20, 19, 0))) != ""  # noqa: DTZ001 - that is the point


def test_what_it_is_put_in_for_and_what_it_recorded_says_whether_it_can_be_repeated() -> None:
    media = media_plan(JOB, SHELF)
    for line in media.lines:
        for piece in (p for p in line.pieces if p.card):
            early = CardStep(
                act="in",
                card=piece.card or "",
                at=line.part.starts - timedelta(minutes=20),
                unit=line.unit,
                slot=piece.slot,
            )
            assert once_only_for(JOB, media, early) is line.once_only, "although the part before still runs"
    undealt = replace(early, card="WIDE-08", at=JOB.parts[0].starts - timedelta(days=3))
    assert not once_only_for(JOB, media, undealt)


def test_what_lies_slot_after_slot_is_on_no_other_card() -> None:
    """The quay's pair of Acts I and II goes in while the audience still comes in, which is recorded in relay."""
    acts, early = JOB.part("acts-1-2"), JOB.part("acts-1-2").starts - timedelta(minutes=10)
    media = media_plan(JOB, SHELF)
    assert mirrored_between(media, "WIDE-03", "C6-1", early, acts.ends), "as it is dealt"
    assert not mirrored_between(media, "WIDE-14", "C6-1", early, acts.ends), "nobody dealt it: the relay counts too"
    assert mirrored_between(media, "WIDE-14", "C6-1", acts.starts, acts.ends)
    assert not mirrored_between(media, "WIDE-03", "POCKET-1", early, acts.ends)
    relay = media_plan(apply_to_job(JOB, SetCell(rig="quay", part="acts-1-2", scheme="relay"), SHELF), SHELF)
    assert not mirrored_between(relay, "WIDE-03", "C6-1", early, acts.ends)
    late = [into(A), into(B, TWO, 11), step("out", minute=50, once_only=True)]
    assert now(late).twins == (), "the second lacks the first eleven minutes"


@given(
    st.lists(
        st.tuples(
            st.sampled_from(["in", "out", "copied", "wiped", "fault"]),
            st.sampled_from([A, B, "WIDE-03"]),
            st.sampled_from([ONE, TWO]),
            st.integers(0, 3000),
            st.booleans(),
        ),
        max_size=14,
    )
)
@settings(max_examples=examples(150), deadline=None)
def test_however_they_are_noted_no_slot_has_two_cards_and_nothing_is_lost(found: list[Any]) -> None:
    """By a way of its own: what was let in is walked through by time, with a plain table of slots."""
    steps: list[CardStep] = []
    for act, card, slot, minute, once in found:
        new = (
            into(card, slot, minute, once_only=once)
            if act == "in"
            else step(act, card, minute, place=f"place {minute % 4}", verified=True, note="x", once_only=once)
        )
        if not why(steps, new):
            steps.append(new)
    slots: dict[str, str] = {}
    holds: dict[str, set[str]] = {}
    for each in sorted(steps, key=lambda s: s.at):
        inside = {c: s for s, c in slots.items()}
        if each.act == "in":
            assert each.slot not in slots
            assert each.card not in inside
            slots[each.slot or ""] = each.card
            holds[each.card] = set()
        elif each.act == "out":
            del slots[inside[each.card]]
        elif each.act == "copied":
            assert each.card not in inside
            holds[each.card].add(each.place)
        elif each.act == "wiped":
            assert each.card not in inside
            assert len(holds[each.card]) >= 2, "with the other side of a mirror three"
            del holds[each.card]
    told = {c.card: c.recorded.slot for c in custody_of(SHELF, UTC, steps) if c.state == "in a slot" and c.recorded}
    assert told == {card: slot for slot, card in slots.items()}
