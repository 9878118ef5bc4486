"""The day as files: read back, they say what the core says."""

from __future__ import annotations

import csv
import io
from dataclasses import replace
from datetime import UTC, datetime

from icalendar import Calendar

from lift_crate.core.day.media import media_plan
from lift_crate.core.day.pool import pool_of
from lift_crate.core.day.run_sheet import run_sheet
from lift_crate.core.day.table import day_table
from lift_crate.core.swaps.day import days_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.day_list import cards_csv, gear_csv, run_csv, run_ics
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
TABLE, MEDIA = day_table(FILE.job, SHELF), media_plan(FILE.job, SHELF)
SHEETS = [run_sheet(FILE.job, TABLE, MEDIA, day) for day in days_of(FILE.job)]
STAMP = datetime(2027, 3, 1, 12, tzinfo=UTC)


def rows(text: str) -> list[dict[str, str]]:
    return list(csv.DictReader(io.StringIO(text)))


def test_every_task_with_a_time_is_an_event_of_whoever_does_it() -> None:
    placed = [t for sheet in SHEETS for t in sheet.tasks if t.starts]
    events = Calendar.from_ical(run_ics(FILE.job, SHEETS, STAMP)).walk("VEVENT")
    assert len(events) == len(placed)
    assert len({str(e["UID"]) for e in events}) == len(events)
    assert sorted(e.decoded("DTSTART") for e in events) == sorted(
        t.starts.replace(microsecond=0) for t in placed if t.starts
    )
    own = Calendar.from_ical(run_ics(FILE.job, SHEETS, STAMP, "Op 4")).walk("VEVENT")
    assert len(own) == sum("Op 4" in t.who for t in placed)
    assert all("Op 4" in str(e["DESCRIPTION"]) for e in own)


def test_tables_are_read_back_whole() -> None:
    tasks = [t for sheet in SHEETS for t in sheet.tasks]
    told = rows(run_csv(FILE.job, SHEETS))
    assert [(r["task"], float(r["minutes"])) for r in told] == [(t.kind, round(t.minutes, 1)) for t in tasks]
    assert sum(not r["starts"] for r in told) == sum(t.starts is None for t in tasks)
    cards = rows(cards_csv(MEDIA))
    assert [r["card"] for r in cards] == [p.card or "" for line in MEDIA.lines for p in line.pieces]
    pool = pool_of(FILE.job, SHELF, TABLE, MEDIA)
    gear = {r["unit"]: r for r in rows(gear_csv(FILE.job, pool))}
    assert (gear["GIMBAL-1"]["Dress rehearsal"], gear["R2-1"]["spare"]) == ("Dock floor", "R2-2")


def test_a_name_that_a_spreadsheet_would_run_is_only_text() -> None:
    plan = tuple(replace(a, operator="=1+1", unattended=False) if a.rig == "quay" else a for a in FILE.job.plan)
    job = replace(FILE.job, plan=plan)
    sheet = run_sheet(job, day_table(job, SHELF), MEDIA, days_of(job)[0])
    assert not any(value.startswith("=") for row in rows(run_csv(job, [sheet])) for value in row.values())
