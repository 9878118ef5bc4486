"""Whatever version a database is of, and whatever is in it: it is brought up to date, and nothing in it is lost."""

from __future__ import annotations

import json
from collections.abc import Callable
from datetime import timedelta
from importlib.resources import files
from typing import Any

import psycopg
from psycopg import sql

from lift_crate.core.crew.rights import Person
from lift_crate.core.day.custody import CardStep
from lift_crate.core.day.rolling import SoundStep
from lift_crate.core.drill.score import Result
from lift_crate.core.job.edits import ChangeJob
from lift_crate.core.log.learn import Figure
from lift_crate.core.pack.lists import PackStep
from lift_crate.core.rig.edits import Detach
from lift_crate.core.swaps.what_if import Made
from lift_crate.store.builds import BuildStore
from lift_crate.store.cards import CardStore
from lift_crate.store.crew import CrewStore
from lift_crate.store.database import migrate, open_pool
from lift_crate.store.drill import DrillStore, WhichDrill
from lift_crate.store.frame import FrameStore
from lift_crate.store.jobs import JobStore
from lift_crate.store.log import LogStore
from lift_crate.store.packing import PackingStore
from lift_crate.store.shelf import ShelfStore
from lift_crate.store.sound import SoundStore
from lift_crate.store.swaps import SwapStore

JOB = "dry-dock-opera"
SCRIPTS = sorted(
    (f for f in (files("lift_crate.store") / "migrations").iterdir() if f.name.endswith(".sql")), key=lambda f: f.name
)
IN_ORDER = [
    "interface",
    "model",
    "unit",
    "job",
    "part_of_day",
    "rig",
    "build",
    "build_unit",
    "joint",
    "link",
    "plan",
    "edit",
    "job_edit",
    "shelf_history",
    "balance",
    "swap_made",
    "replaced_job",
    "recipe",
    "picture",
    "card_step",
    "sound_step",
    "account",
    "job_role",
    "session",
    "invitation",
    "crew_history",
    "pack_step",
    "log_entry",
    "figure_taken",
    "drill_run",
    "drill_kept",
]
BY_ITSELF = {"revision", "during"}
"""What a migration counts on or works out anew, and ranges, which JSON writes in more than one way."""


def rows(connection: psycopg.Connection[Any], table: str) -> list[dict[str, Any]]:
    query = sql.SQL("SELECT to_jsonb(t) FROM {} t").format(sql.Identifier(table))
    return sorted((row[0] for row in connection.execute(query).fetchall()), key=lambda r: json.dumps(r, sort_keys=True))


def a_night(jobs: JobStore) -> None:
    """Something of every kind that is kept."""
    begin = jobs.read(JOB)[0].parts[0].starts
    builds, frames, crew = BuildStore(jobs), FrameStore(jobs), CrewStore(jobs.pool)
    version = builds.edit(JOB, "quay-full", 1, (Detach(unit="MIC-1"),), "ada").version
    builds.undo(JOB, "quay-full", version, "ada")
    frames.edit(JOB, frames.read(JOB).version, (ChangeJob(title="Second night"),), "ben")
    cards = CardStore(jobs)
    cards.note(JOB, CardStep(act="in", card="WIDE-03", at=begin, unit="C6-1", slot="slot-1"), "ada")
    cards.note(JOB, CardStep(act="out", card="WIDE-03", at=begin + timedelta(minutes=9)), "ada")
    voice = next(v for v in jobs.read(JOB)[0].sound.voices if v.sources)
    SoundStore(jobs).note(JOB, SoundStep(voice=voice.id, source=voice.sources[0].label, act="runs", at=begin), "ada")
    SwapStore(jobs).note(JOB, Made(slot="quay · SWAP-1 · pack", at=begin, pack_in="PACK-03"), "ada")
    PackingStore(jobs).note(JOB, [PackStep(act="packed", thing="C6-1", case="CASE-1", at=begin)], "ada")
    log = LogStore(jobs, ShelfStore(jobs), frames)
    log.take_figure(JOB, frames.read(JOB).version, Figure(of="minutes", thing="screw", value=2.0), 1.5, "ada")
    drills, which = DrillStore(jobs), WhichDrill(kind="balance", part="dress", rig="quay", seed=7)
    drills.ended(JOB, which, Result(points=80, won=True, said="In five moves.", best="In four.", lessons=()), "ada")
    drills.keep(JOB, which, "Morning", "ada")
    house = Person(id="", name="the house", house="lead")
    word, _ = crew.invite(house, house="member", job=JOB, role="operator")
    crew.begin(crew.accept(word, "Op 1", "four words nobody says", None), "a browser", "127.0.0.1")


def test_every_older_version_with_data_in_it_comes_up_whole(jobs: JobStore, new_database: Callable[[], str]) -> None:
    a_night(jobs)
    with jobs.pool.connection() as pooled, psycopg.connect(pooled.info.dsn, password=pooled.info.password) as source:
        told = {table: rows(source, table) for table in IN_ORDER}
    assert sum(bool(each) for each in told.values()) >= len(IN_ORDER) - 6
    wanted = jobs.read(JOB)[0]
    for number, last in enumerate(SCRIPTS[:-1], 1):
        url = new_database()
        with psycopg.connect(url) as connection:
            connection.execute("CREATE TABLE schema_migration (name text PRIMARY KEY, at timestamptz DEFAULT now())")
            for script in SCRIPTS[:number]:
                connection.execute(script.read_bytes())
                connection.execute("INSERT INTO schema_migration (name) VALUES (%s)", (script.name,))
            known = _put(connection, told)
        migrate(url)
        with psycopg.connect(url) as connection:
            for table, columns in known.items():
                now = [{c: r[c] for c in columns if c in r and c not in BY_ITSELF} for r in rows(connection, table)]
                was = [{c: r[c] for c in columns if c in r and c not in BY_ITSELF} for r in told[table]]
                assert _sorted(now) == _sorted(was), f"{table} from {last.name}"
        with open_pool(url, size=1) as pool:
            again = JobStore(pool).read(JOB)[0]
        assert [b.joints for r in again.rigs for b in r.builds] == [b.joints for r in wanted.rigs for b in r.builds]
        assert again.parts == wanted.parts


def _sorted(found: list[dict[str, Any]]) -> list[str]:
    return sorted(json.dumps(each, sort_keys=True) for each in found)


def _put(connection: psycopg.Connection[Any], told: dict[str, list[dict[str, Any]]]) -> dict[str, set[str]]:
    """Rows into the tables that there are already, as far as their columns go; those columns."""
    known: dict[str, set[str]] = {}
    for table in IN_ORDER:
        found = connection.execute(
            "SELECT column_name FROM information_schema.columns WHERE table_schema = 'public' AND table_name = %s",
            (table,),
        ).fetchall()
        columns = {name for (name,) in found}
        if not columns:
            continue
        known[table] = columns
        names = [name for name in columns if told[table] and name in told[table][0]]
        if not names:
            continue
        connection.execute(
            sql.SQL(
                "INSERT INTO {} ({}) OVERRIDING SYSTEM VALUE SELECT {} FROM jsonb_populate_recordset(NULL::{}, %s)"
            ).format(
                sql.Identifier(table),
                sql.SQL(", ").join(map(sql.Identifier, names)),
                sql.SQL(", ").join(map(sql.Identifier, names)),
                sql.Identifier(table),
            ),
            (json.dumps(told[table]),),
        )
    return known
