"""Bodies side by side, and what goes along without its companion."""

from __future__ import annotations

from dataclasses import replace

from lift_crate.core.day.bodies import bodies_alike, companions
from lift_crate.core.day.media import media_plan
from lift_crate.core.lens.pairs import pairs
from lift_crate.core.rig.build import Catalogue
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def test_two_of_one_model_share_everything_and_two_kinds_what_both_take() -> None:
    cinema, compact, apart = bodies_alike(SHELF)
    assert (cinema.same, cinema.spare, cinema.units, cinema.lenses_apart) == (True, True, (3, 2), 0)
    assert (compact.same, compact.spare) == (True, True)
    assert (apart.same, apart.spare) == (False, False)
    assert apart.pictures == ("full 25p",), "10 bit 4:2:2 at 25; the other rates differ in bits or width"
    works = {
        title: {p.lens.title for p in pairs(SHELF, SHELF.adapters) if p.works and p.body.title == title}
        for title in (apart.one, apart.other)
    }
    assert set(apart.lenses) == works[apart.one] & works[apart.other]
    assert apart.lenses_apart == len(works[apart.one] ^ works[apart.other])
    assert set(cinema.lenses) == works[cinema.one]


def test_one_body_of_a_model_is_no_pair() -> None:
    one = Catalogue(SHELF.interfaces, SHELF.models, {k: u for k, u in SHELF.units.items() if k != "R2-2"})
    assert [a.same for a in bodies_alike(one)] == [True, False]
    broken = {**SHELF.units, "R2-2": replace(SHELF.units["R2-2"], condition="out of use")}
    assert [a.same for a in bodies_alike(Catalogue(SHELF.interfaces, SHELF.models, broken))] == [True, False]


def test_packs_want_a_charger_and_cards_a_reader() -> None:
    media = media_plan(JOB, SHELF)
    assert list(companions(JOB, SHELF, media)) == []
    bare = replace(JOB, charging=replace(JOB.charging, chargers=()))
    told = [f.text for f in companions(bare, SHELF, media)]
    assert any(text.startswith("Tidewick wedge pack 98 Wh without a charger: PACK-01") for text in told)
    unread = Catalogue(SHELF.interfaces, SHELF.models, {k: u for k, u in SHELF.units.items() if k != "READER-2"})
    (small,) = companions(JOB, unread, media)
    assert small.text == "small card without a reader: SMALL-1, SMALL-2, SMALL-3, SMALL-4 and 2 more."
