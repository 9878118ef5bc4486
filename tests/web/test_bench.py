"""The API: one form of error for everything, and answers that agree with the core and the command line."""

from __future__ import annotations

import json
from collections.abc import Callable
from functools import partial
from typing import Any

import psycopg
import pytest
from flask.testing import FlaskClient
from werkzeug.test import TestResponse

from lift_crate.formats.job_file import MAX_BYTES, JobFile, dump
from lift_crate.store.database import Pool
from lift_crate.store.jobs import JobStore
from lift_crate.web.app import create_app

JOB = "/api/jobs/dry-dock-opera"
QUAY = f"{JOB}/parts/dress/rigs/quay"


def problem(answer: TestResponse, status: int) -> dict[str, Any]:
    """The one error body of the whole API."""
    assert answer.status_code == status, answer.text
    assert answer.mimetype == "application/problem+json"
    body: dict[str, Any] = answer.get_json()
    assert {"type", "title", "status", "detail", "problems"} <= set(body)
    assert body["status"] == status
    assert body["type"].startswith("urn:lift-crate:")
    return body


def edit(client: FlaskClient, version: int, *operations: dict[str, Any], where: str = QUAY) -> TestResponse:
    return client.post(f"{where}/edits", json={"version": version, "operations": list(operations)})


def test_the_bench_tells_what_the_core_tells(client: FlaskClient) -> None:
    bench = client.get(QUAY).get_json()
    assert bench["rows"][0]["unit"] == bench["body"] == "C6-1"
    assert bench["figures"]["total_lb"] == pytest.approx(bench["figures"]["total_g"] / 453.59237)
    assert bench["figures"]["payload_g"] < bench["figures"]["total_g"]
    assert {f["key"] for f in bench["findings"]} >= {"power.hours:PACK-01"}
    assert [e["view"] for e in bench["elevations"]] == ["side", "front", "top"]
    strip = next(s for s in client.get(f"{JOB}/parts/dress").get_json()["strips"] if s["rig"] == "quay")
    assert (strip["mass_g"], strip["hours"]) == (bench["figures"]["payload_g"], bench["figures"]["hours"])
    assert strip["counts"] == bench["counts"]


def test_edit_undo_redo_and_history(client: FlaskClient) -> None:
    bench = client.get(QUAY).get_json()
    after = edit(
        client,
        bench["version"],
        {"op": "attach", "unit": "CW-1", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"},
    ).get_json()
    assert after["figures"]["total_g"] == pytest.approx(bench["figures"]["total_g"] + 100)
    undone = client.post(f"{QUAY}/undo", json={"version": after["version"]}).get_json()
    assert undone["figures"] == bench["figures"]
    redone = client.post(f"{QUAY}/redo", json={"version": undone["version"]}).get_json()
    assert redone["figures"] == after["figures"]
    assert [e["kind"] for e in client.get(f"{QUAY}/history").get_json()["edits"]] == ["redo", "undo", "do"]


def test_a_preview_saves_nothing(client: FlaskClient) -> None:
    before = client.get(QUAY).get_json()
    tried = client.post(f"{QUAY}/preview", json={"operations": [{"op": "strip"}]}).get_json()
    assert len(tried["rows"]) == 1
    assert tried["saved"] is False
    assert client.get(QUAY).get_json() == before


def test_a_stale_edit_comes_back_with_the_rig_as_it_is_now(client: FlaskClient) -> None:
    version = client.get(QUAY).get_json()["version"]
    current = edit(client, version, {"op": "detach", "unit": "MIC-1"}).get_json()
    told = problem(edit(client, version, {"op": "detach", "unit": "MIC-1"}), 409)
    assert told["type"] == "urn:lift-crate:edit.stale"
    assert "Take off MIC-1 by bench" in told["detail"]
    assert told["current"] == {**current, "day": None}
    assert (told["mine"], "on_top" in told) == ("Take off MIC-1", False)
    assert "MIC-1" in told["why_not"]


def remedies_of(client: FlaskClient, rig: str, finding: str) -> list[Any]:
    """Every remedy for a call-out; a search is answered in steps, however slow the machine is."""
    found: list[Any] = []
    start = 0
    while True:
        step: Any = client.get(f"{rig}/remedies", query_string={"finding": finding, "start": start}).json
        found += step["remedies"]
        if step["tried"] >= step["of"]:
            return sorted(found, key=lambda r: not r["clears"])
        start = step["tried"]


def test_what_goes_on_a_port_and_what_helps(client: FlaskClient) -> None:
    found = client.get(f"{QUAY}/ports/CAGE-1/left?misfits=true").get_json()
    assert {"unit": "ARM-1", "taken": True} in [{"unit": m["unit"], "taken": m["taken"]} for m in found["misfits"]]
    best = found["candidates"][0]
    applied = edit(client, client.get(QUAY).get_json()["version"], *best["operations"]).get_json()
    assert applied["counts"]["stops"] == best["effect"]["stops_after"]
    caisson = f"{JOB}/parts/dress/rigs/caisson"
    stop = next(f for f in client.get(caisson).get_json()["findings"] if f["level"] == "stop")
    assert remedies_of(client, caisson, stop["key"])[0]["clears"]


@pytest.mark.parametrize(
    ("method", "path", "body", "status", "says"),
    [
        ("get", "/api/jobs/ghost", None, 404, "This job has no job 'ghost'."),
        ("get", f"{JOB}/parts/ghost", None, 404, "This job has no part of the day 'ghost'."),
        ("get", f"{JOB}/parts/dress/rigs/ghost", None, 404, "This job has no rig 'ghost'."),
        ("get", f"{QUAY}/ports/CAGE-1/ghost", None, 422, "CAGE-1 has no port 'ghost'; its ports are: to-body,"),
        ("get", f"{QUAY}/ports/GHOST/left", None, 422, "There is no unit 'GHOST'"),
        ("get", f"{QUAY}/remedies?finding=ghost", None, 404, "no call-out on this rig 'ghost'"),
        ("get", f"{QUAY}/remedies", None, 422, "$.finding: this is missing"),
        ("get", "/api/ghost", None, 404, "/api/openapi.json lists what there is"),
        ("post", f"{QUAY}/edits", {"version": 1, "operations": []}, 422, "$.operations: "),
        ("post", f"{QUAY}/edits", {"version": 1, "operations": [{"op": "explode"}]}, 422, "$.operations[0]: "),
        (
            "post",
            f"{QUAY}/edits",
            {"version": 1, "operations": [{"op": "slide", "unit": "HEAD-1", "to_mm": 1e9}]},
            422,
            "$.operations[0].slide.to_mm: ",
        ),
        ("post", f"{QUAY}/edits", {"version": 1, "operations": [{"op": "strip"}], "force": True}, 422, "$.force: "),
        (
            "post",
            f"{QUAY}/edits",
            {
                "version": 1,
                "operations": [
                    {"op": "attach", "unit": "CW-1", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "ghost"}
                ],
            },
            422,
            "CAGE-1 has no port 'ghost'",
        ),
        (
            "post",
            f"{QUAY}/edits",
            {
                "version": 1,
                "operations": [
                    {"op": "attach", "unit": "ARM-1", "unit_port": "base", "onto": "CAGE-1", "onto_port": "left"}
                ],
            },
            409,
            "ARM-1 is in use elsewhere",
        ),
        ("post", f"{QUAY}/undo", {"version": 1}, 409, "There is nothing to undo on this build."),
        ("delete", f"{QUAY}", None, 405, ""),
    ],
)
def test_errors_say_what_where_and_what_would_be_right(
    client: FlaskClient, method: str, path: str, body: Any, status: int, says: str
) -> None:
    before = client.get(QUAY).get_json()
    assert (
        says
        in problem(
            client.open(path, method=method, json=body) if body is not None else client.open(path, method=method),
            status,
        )["detail"]
    )
    assert client.get(QUAY).get_json() == before


def test_not_a_number_in_an_edit_is_refused(client: FlaskClient) -> None:
    raw = '{"version": 1, "operations": [{"op": "slide", "unit": "HEAD-1", "to_mm": NaN}]}'
    answer = client.post(f"{QUAY}/edits", data=raw, content_type="application/json")
    assert "finite" in problem(answer, 422)["detail"]


def test_export_and_import(client: FlaskClient, demo: JobFile) -> None:
    file = client.get(f"{JOB}/file")
    assert file.data == dump(demo_sorted(demo))
    assert (
        problem(client.post("/api/import", data=file.data, content_type="application/json"), 409)["type"]
        == "urn:lift-crate:job.exists"
    )
    assert client.post("/api/import?replace=true", data=file.data, content_type="application/json").status_code == 201
    broken = json.loads(file.data)
    broken["units"][0]["health"] = 3
    broken["models"][0]["mass_g"] = -1
    told = problem(
        client.post("/api/import?replace=true", data=json.dumps(broken), content_type="application/json"), 422
    )
    assert [p["path"] for p in told["problems"]] == ["$.models[0].mass_g", "$.units[0].health"]
    assert client.get(f"{JOB}/file").data == file.data


def demo_sorted(demo: JobFile) -> JobFile:
    """The demo as the store gives it back: gear by its id."""
    from dataclasses import replace

    return replace(
        demo,
        interfaces=tuple(sorted(demo.interfaces, key=lambda i: i.id)),
        models=tuple(sorted(demo.models, key=lambda m: m.id)),
        units=tuple(sorted(demo.units, key=lambda u: u.id)),
    )


def test_a_file_of_10_mb_is_refused_with_its_limit(client: FlaskClient) -> None:
    told = problem(client.post("/api/import", data=b" " * (MAX_BYTES * 2), content_type="application/json"), 413)
    assert "at most 20 MB" in told["detail"]


def test_a_database_that_is_away_is_told_and_back_again(jobs: JobStore, pool: Pool) -> None:
    """Every connection is cut under the application; the next request gets a fresh one."""
    client = create_app(pool, nobody_signs_in=True).test_client()
    with pool.connection() as connection:
        connection.execute(
            "SELECT pg_terminate_backend(pid) FROM pg_stat_activity WHERE datname = current_database() AND usename ="
            " current_user AND pid <> pg_backend_pid()"
        )
    assert client.get(QUAY).status_code == 200
    pool.close()
    assert "does not answer" in problem(client.get(QUAY), 503)["detail"]


@pytest.mark.parametrize("packing", ["identity", "gzip", "br"])
def test_what_has_not_changed_is_not_sent_again_and_what_has_is(client: FlaskClient, packing: str) -> None:
    asked = {"Accept-Encoding": packing}
    first = client.get(QUAY, headers=asked)
    assert first.headers.get("Content-Encoding", "identity") == packing
    again = {**asked, "If-None-Match": first.headers["ETag"]}
    unchanged = client.get(QUAY, headers=again)
    assert (unchanged.status_code, unchanged.data) == (304, b"")
    plain = client.get(QUAY).get_json()
    slid = {"version": plain["version"], "operations": [{"op": "slide", "unit": "HEAD-1", "to_mm": 4}]}
    assert client.post(f"{QUAY}/edits", json=slid).status_code == 200
    assert client.get(QUAY, headers=again).status_code == 200


def test_an_edit_is_answered_with_the_day_as_it_is_after_it(client: FlaskClient) -> None:
    before = client.get(QUAY).get_json()
    off = {"version": before["version"], "operations": [{"op": "detach", "unit": "RIG-NONE"}]}
    assert client.post(f"{QUAY}/edits", json=off).status_code == 422
    slid = {"version": before["version"], "operations": [{"op": "slide", "unit": "HEAD-1", "to_mm": 4}]}
    after = client.post(f"{QUAY}/edits", json=slid).get_json()
    assert after["day"] == client.get(QUAY.partition("/rigs/")[0]).get_json()
    own = next(strip for strip in after["day"]["strips"] if strip["rig"] == after["rig"])
    assert own["counts"] == after["counts"]
    assert client.get(QUAY).get_json()["day"] is None


def test_a_change_and_a_look_take_few_statements(client: FlaskClient, monkeypatch: pytest.MonkeyPatch) -> None:
    said: list[str] = []
    execute = psycopg.Cursor.execute

    def counted(cursor: psycopg.Cursor[Any], query: Any, *rest: Any, **more: Any) -> psycopg.Cursor[Any]:
        if query:  # an empty one is how the pool asks whether a connection still lives
            said.append(str(query))
        return execute(cursor, query, *rest, **more)

    version = client.get(QUAY).get_json()["version"]
    monkeypatch.setattr(psycopg.Cursor, "execute", counted)

    def statements(ask: Callable[[], TestResponse]) -> int:
        said.clear()
        assert ask().status_code == 200
        return len(said)

    slide = [{"op": "slide", "unit": "HEAD-1", "to_mm": 4}]
    off = [{"op": "detach", "unit": "MIC-1"}]
    assert statements(partial(client.post, f"{QUAY}/preview", json={"operations": slide})) <= 2
    for at, operations in enumerate((slide, off), version):
        body = {"version": at, "operations": operations}
        assert statements(partial(client.post, f"{QUAY}/edits", json=body)) <= 7, said
    assert statements(partial(client.get, QUAY)) <= 3
    assert statements(partial(client.get, QUAY.partition("/rigs/")[0])) <= 2


def test_two_edits_of_different_parts_are_merged_and_of_the_same_part_shown_side_by_side(client: FlaskClient) -> None:
    bench: Any = client.get(QUAY).json
    version, sliding = bench["version"], next(r for r in bench["rows"] if r["slide_mm"])
    weight = {"op": "attach", "unit": "CW-3", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"}

    def edit(operation: Any, status: int = 200) -> Any:
        answer = client.post(f"{QUAY}/edits", json={"version": version, "operations": [operation]})
        assert answer.status_code == status, answer.get_data(as_text=True)
        return answer.get_json()

    edit(weight)
    together = edit({"op": "slide", "unit": sliding["unit"], "to_mm": sliding["slide_mm"] + 1})
    assert together["version"] == version + 2
    assert any(r["unit"] == "CW-3" for r in together["rows"])
    assert next(r for r in together["rows"] if r["unit"] == sliding["unit"])["slide_mm"] == sliding["slide_mm"] + 1
    history: Any = client.get(f"{QUAY}/history").json
    assert history["edits"][0]["title"].endswith("beside what bench did")
    asked = edit({"op": "slide", "unit": sliding["unit"], "to_mm": sliding["slide_mm"] + 4}, 409)
    assert len(asked["since"]) == 2
    assert sliding["unit"] in asked["mine"]
    assert asked["current"]["version"] == together["version"]
    assert not asked["on_top"]["saved"]
    assert next(r for r in asked["on_top"]["rows"] if r["unit"] == sliding["unit"])["slide_mm"] == (
        sliding["slide_mm"] + 4
    )
    assert "NOT-THERE" in edit({"op": "detach", "unit": "NOT-THERE"}, 409)["why_not"]
    assert client.get(QUAY).get_json()["version"] == together["version"]
