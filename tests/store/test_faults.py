"""A full disk refuses and keeps; a clock that is set back shuts nobody out and leaves no work undone."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.core.swaps.what_if import DayAsked, WhatIf
from lift_crate.store.crew import CrewStore, NoSignIn, TooManyTries
from lift_crate.store.database import Pool
from lift_crate.store.jobs import JobStore
from lift_crate.store.plans import PlanStore
from lift_crate.store.swaps import SwapStore

JOB = "dry-dock-opera"
QUAY = f"/api/jobs/{JOB}/parts/acts-1-2/rigs/quay"
FULL = """CREATE FUNCTION full_disk() RETURNS trigger LANGUAGE plpgsql AS $$
BEGIN RAISE EXCEPTION 'could not extend file: No space left on device' USING ERRCODE = 'disk_full'; END $$;
CREATE TRIGGER full_disk AFTER INSERT OR UPDATE ON {table} FOR EACH ROW EXECUTE FUNCTION full_disk()"""


@pytest.mark.parametrize("table", ["build_unit", "edit", "claim", "happening"])
def test_a_full_disk_says_so_and_saves_all_or_nothing(client: FlaskClient, pool: Pool, table: str) -> None:
    before: Any = client.get(QUAY).json
    body = {
        "version": before["version"],
        "operations": [{"op": "attach", "unit": "CW-3", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"}],
    }
    with pool.connection() as connection:
        connection.execute(FULL.format(table=table).encode())
    refused = client.post(f"{QUAY}/edits", json=body)
    with pool.connection() as connection:
        connection.execute(f"DROP TRIGGER full_disk ON {table}".encode())
    assert (refused.status_code, refused.get_json()["type"]) == (507, "urn:lift-crate:database.full")
    assert "free some space" in refused.get_json()["detail"]
    assert client.get(QUAY).json == before
    assert client.post(f"{QUAY}/edits", json=body).status_code == 200


def _everything_a_day_ahead(pool: Pool) -> None:
    """As if the clock had been set back by a day after all of it was written."""
    with pool.connection() as connection:
        times = connection.execute(
            "SELECT table_name, column_name FROM information_schema.columns JOIN information_schema.tables"
            " USING (table_schema, table_name) WHERE table_schema = 'public' AND table_type = 'BASE TABLE'"
            " AND data_type = 'timestamp with time zone' AND table_name NOT LIKE 'procrastinate%'"
            " AND column_name IN ('at', 'alive_at', 'used_at', 'seen_at', 'last_at', 'made_at')"
        ).fetchall()
        assert len(times) > 10
        for row in times:
            table, column = row["table_name"], row["column_name"]
            connection.execute(f"UPDATE {table} SET {column} = {column} + interval '1 day'".encode())


def test_a_clock_that_is_set_back_shuts_nobody_out_and_leaves_no_plan_undone(jobs: JobStore, pool: Pool) -> None:
    deferred: list[int] = []
    plans = PlanStore(jobs, SwapStore(jobs), deferred.append)
    plan = plans.ask(JOB, DayAsked(part="acts-1-2", what=WhatIf()), "ada", "swaps")
    assert plans.take_up(plan) is not None, "a worker is at it"
    crew = CrewStore(pool)
    for _ in range(3):
        with pytest.raises(NoSignIn):
            crew.sign_in("Ada", "wrong words here", "10.0.0.7")
    with pytest.raises(TooManyTries):
        crew.sign_in("Ada", "wrong words here", "10.0.0.7")
    _everything_a_day_ahead(pool)
    with pytest.raises(NoSignIn):
        crew.sign_in("Ada", "wrong words here", "10.0.0.7")
    plans.take_up_lost()
    assert deferred == [plan, plan], "its worker has not been heard of since tomorrow"
    assert plans.take_up(plan) is not None
