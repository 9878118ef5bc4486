"""Entries that count, what was said before them, and what cannot be noted."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, datetime, timedelta

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.job.sight import ev_of
from lift_crate.core.log.entries import EntryKind, LogBook, LogEntry, book_of, entry_text, refused_entry
from lift_crate.core.log.report import report_of
from lift_crate.core.log.weather import Weather, falls_in, lux_of, weather_findings
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
JOB, SHELF = FILE.job, catalogue_of(FILE)
PART = JOB.parts[0]
NOON = PART.starts + timedelta(hours=1)


def entry(name: str, kind: EntryKind = "note", **more: object) -> LogEntry:
    return LogEntry(**{"id": name, "kind": kind, "at": NOON, "text": name, **more})  # type: ignore[arg-type]  # as typed


def counted(book: LogBook) -> list[str]:
    return [s.entry.text for s in book.standing]


def test_a_correction_stands_for_what_was_said_and_keeps_it() -> None:
    book = book_of([(entry("a"), "lead"), (entry("b", corrects="a"), "keeper"), (entry("c", corrects="b"), "lead")])
    (line,) = book.standing
    assert line.entry.text == "c"
    assert [(e.text, by) for e, by in line.said] == [("a", "lead"), ("b", "keeper")]
    # What was taken back is not among what is given: what corrected it counts by itself.
    assert counted(book_of([(entry("b", corrects="a"), "keeper")])) == ["b"]


@settings(max_examples=examples(60))
@given(st.lists(st.integers(-1, 9), min_size=1, max_size=10))
def test_every_entry_is_either_counted_or_among_what_was_said(of: list[int]) -> None:
    """Whatever corrects whatever, itself and in circles among it: nothing is lost and nothing is told twice."""
    entries = [(entry(str(i), corrects=str(c) if c >= 0 else ""), "lead") for i, c in enumerate(of)]
    told = [e.id for s in book_of(entries).standing for e in (*(x for x, _ in s.said), s.entry)]
    assert sorted(told) == sorted(e.id for e, _ in entries)


def test_what_is_settled_stays_so_through_its_corrections() -> None:
    fault, mended = entry("fault", "fault", unit=SHELF.shelf[0].id), entry("mended", "settled", settles="fault")
    book = book_of([(fault, "lead"), (mended, "keeper"), (entry("better words", "fault", corrects="fault"), "lead")])
    line = book.find("better words")
    assert line is not None
    assert line.settled == mended
    assert "settled already" in refused_entry(JOB, SHELF, book, entry("x", "settled", settles="better words"))


BODY = next(u.id for u in SHELF.shelf if SHELF.model_of(u.id).body)


@pytest.mark.parametrize(
    ("given", "said"),
    [
        (entry("x", rig="c9"), "no camera 'c9'"),
        (entry("x", "fault", unit="NOT-1"), "no unit 'NOT-1'"),
        (entry("x", "reading", what="length", value=3.0), "'length' is no reading"),
        (entry("x", "reading", what="watts", unit=BODY), "needs its figure"),
        (entry("x", "reading", what="watts", value=3.0), "Say of which unit"),
        (entry("x", "reading", what="watts", unit=BODY, value=-1.0), "more than 0"),
        (entry("x", "reading", what="hours", unit=BODY, value=1.0), "neither a pack nor a gimbal"),
        (entry("x", "reading", what="card minutes", unit=BODY, value=1.0), "is no card"),
        (entry("x", "minutes", what="changeover", value=9.0), "of which camera"),
        (entry("x", "note", text=""), "words, or a photo"),
        (entry("x", "fault", text=""), "what is at fault"),
        (entry("x", "promise"), "Say who"),
        (entry("x", "promise", text="", who="the house"), "what was promised"),
        (entry("x", "version", text="", rig=JOB.rigs[0].id), "why this build"),
        (entry("x", "settled", settles="none"), "no entry 'none'"),
        (entry("x", corrects="gone"), "corrected or taken back"),
    ],
)
def test_what_cannot_be_noted_says_what_would_be_right(given: LogEntry, said: str) -> None:
    assert said in refused_entry(JOB, SHELF, book_of([]), given)


def test_a_tap_with_a_camera_needs_no_words() -> None:
    kinds: tuple[EntryKind, ...] = ("fault", "near miss", "note")
    for kind in kinds:
        tapped = entry("x", kind, text="", rig=JOB.rigs[0].id)
        assert refused_entry(JOB, SHELF, book_of([]), tapped) == ""
        assert entry_text(tapped)


def test_a_kind_does_not_become_another() -> None:
    book = book_of([(entry("a"), "lead")])
    assert "does not become" in refused_entry(JOB, SHELF, book, entry("b", "fault", corrects="a"))


@settings(max_examples=examples(40))
@given(st.floats(-9, 19))
def test_lux_and_ev_are_two_ways_to_say_the_same(ev: float) -> None:
    assert ev_of(lux_of(ev)) == pytest.approx(ev, abs=1e-6)
    assert ev_of(10) == pytest.approx(2)


def test_weather_as_planned_tells_nothing_and_worse_weather_what_falls() -> None:
    part = max(JOB.parts, key=lambda p: p.conditions.wind_m_s)
    said = part.conditions
    planned = Weather(temperature_c=said.temperature_c, wind_m_s=said.wind_m_s, lux=lux_of(said.light_ev or 0))
    assert not any(f.level for f in weather_findings(JOB, part, planned))
    assert not any(x.findings for x in falls_in(JOB, SHELF, part.id, planned))
    worse = Weather(temperature_c=said.temperature_c - 25, wind_m_s=25.0, gust_m_s=40.0, lux=lux_of(-5))
    codes = {f.code for f in weather_findings(JOB, part, worse) if f.level}
    assert {"log.colder", "log.windier"} <= codes
    assert any(x.findings for x in falls_in(JOB, SHELF, part.id, worse))


def test_gusts_count_where_they_blow_more_than_the_mean_says() -> None:
    part = replace(JOB.parts[0], conditions=replace(JOB.parts[0].conditions, wind_m_s=4.0, indoors=False))
    gusty = Weather(wind_m_s=4.0, gust_m_s=12.0)
    (found,) = weather_findings(JOB, part, gusty)
    assert found.code == "log.windier"
    assert found.value == pytest.approx(8.0)
    indoors = replace(part, conditions=replace(part.conditions, indoors=True))
    assert not weather_findings(JOB, indoors, gusty)


def test_a_report_holds_every_entry_of_its_day_once() -> None:
    day = PART.starts.date()
    inside = [entry(f"e{i}", at=PART.starts + timedelta(minutes=37 * i - 200)) for i in range(12)]
    far = entry("far", at=datetime(2031, 1, 1, tzinfo=UTC))
    fault = entry("fault", "fault", unit=BODY)
    report = report_of(JOB, book_of([(e, "lead") for e in (*inside, far, fault)]), (), (), (), day)
    assert report is not None
    told = [s.entry.id for s in (*report.beside, *(x for p in report.parts for x in p.noted))]
    assert sorted(told) == sorted(e.id for e in (*inside, fault))
    assert [s.entry.id for s in report.failed] == ["fault"]
    assert any(BODY in line for line in report.to_change)
    assert report_of(JOB, book_of([]), (), (), (), datetime(2031, 1, 1, tzinfo=UTC).date()) is None
