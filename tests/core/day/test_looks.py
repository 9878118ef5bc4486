"""A look at the footage in the break."""

from __future__ import annotations

from dataclasses import replace
from datetime import timedelta

import pytest

from lift_crate.core.day.looks import looks_of
from lift_crate.core.day.media import media_plan
from lift_crate.core.job.edits import ChangePart, apply_to_job
from lift_crate.core.rig.build import Catalogue
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def test_the_second_side_straight_away_and_what_lies_alone_after_a_copy() -> None:
    """Friday: 90 min after the mark-through, in relay; Saturday: 25 min after Acts I and II, mirrored."""
    media = media_plan(JOB, SHELF)
    looks = looks_of(JOB, SHELF, media)
    assert {(x.part.id, x.gap_min) for x in looks} == {("mark-through", 90), ("acts-1-2", 25)}
    acts = [x for x in looks if x.part.id == "acts-1-2"]
    assert all(x.straight and x.first_min == JOB.settings.card_min and len(x.cards) == 1 for x in acts)
    assert {x.left_min for x in acts} == {24}
    for look in (x for x in looks if x.part.id == "mark-through"):
        line = next(x for x in media.lines if (x.rig.label, x.part.id) == (look.rig, "mark-through"))
        # Wide: 900 MB/s of the card, 600 of the reader, 500 of the drive; small: 150 of card and reader.
        rate = 500 if line.takes == "wide card" else 150
        assert not look.straight
        assert look.first_min == pytest.approx(len(look.cards) + line.gb * 1000 / rate / 60)
    assert [x.first_min for x in looks if x.part.id == "mark-through"] == sorted(
        x.first_min or 0 for x in looks if x.part.id == "mark-through"
    )


def test_without_a_reader_nothing_and_without_a_break_none() -> None:
    bare = Catalogue(SHELF.interfaces, SHELF.models, {k: u for k, u in SHELF.units.items() if k != "READER-2"})
    gone = next(x for x in looks_of(JOB, bare, media_plan(JOB, bare)) if x.rig == "Stage rail")
    assert (gone.first_min, gone.left_min) == (None, None)
    longer = apply_to_job(
        JOB, ChangePart(part="acts-1-2", ends=JOB.part("acts-1-2").ends + timedelta(minutes=25)), SHELF
    )
    assert {x.part.id for x in looks_of(longer, SHELF, media_plan(longer, SHELF))} == {"mark-through"}
    assert looks_of(replace(JOB, parts=(), plan=()), SHELF, media_plan(replace(JOB, parts=(), plan=()), SHELF)) == ()
