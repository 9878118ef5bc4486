"""What nobody means to send: times beyond the calendar, names as long as they may be in every paper, ids of another
kind, photos of other people's logs. A clear answer, and nothing lost.
"""

from __future__ import annotations

import base64
import io
import json
import logging
from dataclasses import replace
from threading import Thread
from typing import Any

import pytest
from flask.testing import FlaskClient
from PIL import Image

from lift_crate.core.job.job import Job
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import BadJobFile, dump, parse
from lift_crate.store.jobs import JobStore
from lift_crate.web.app import create_app
from tests.kit import until
from tests.web.test_foreign_ids import FOREIGN, OWN, somebody

JOB = f"/api/jobs/{OWN}"
QUAY = f"{JOB}/parts/dress/rigs/quay"
PAPERS = [
    "along.html", "cards/custody.csv", "day/budget.csv", "day/cards.csv", "day/day.ics", "day/gear.csv",
    "day/paper.pdf", "day/run.csv", "day/run.ics", "log/log.csv", "log/report.pdf?part=dress", "pack/labels.pdf",
    "pack/packing.csv", "pack/packing.pdf", "parts/dress/rigs/quay/drawing.pdf", "parts/dress/rigs/quay/drawing.svg",
    "safety/safety.pdf", "sound/log.csv", "sound/sound.csv",
]  # fmt: skip


def named(job: Job, length: int) -> Job:
    """The job with every name so long, in words that are too long for any column, and each its own."""

    def name(kind: str, n: int) -> str:
        return f"{kind}{n} {'W' * length}"[:length]

    rigs = tuple(
        replace(
            r,
            label=name("rig", i),
            position=name("place", i),
            builds=tuple(replace(b, label=name(f"b{i}x", k)) for k, b in enumerate(r.builds)),
        )
        for i, r in enumerate(job.rigs)
    )
    parts = tuple(replace(p, label=name("part", i)) for i, p in enumerate(job.parts))
    voices = tuple(
        replace(v, label=name("voice", i)[:120], wearer=name("who", i)[:120]) for i, v in enumerate(job.sound.voices)
    )
    return replace(job, title=name("title", 0), rigs=rigs, parts=parts, sound=replace(job.sound, voices=voices))


def test_names_as_long_as_they_may_be_stand_in_every_paper(jobs: JobStore, client: FlaskClient) -> None:
    file = demo_job_file()
    jobs.import_file(parse(dump(replace(file, job=named(file.job, 200)))), replace_job=True)
    for paper in PAPERS:
        got = client.get(f"{JOB}/{paper}")
        assert got.status_code == 200, (paper, got.get_data(as_text=True)[:300])
        assert len(got.data) > 50, paper
    document = json.loads(dump(replace(file, job=named(file.job, 200))))
    document["job"]["rigs"][1]["label"] = "W" * 300
    with pytest.raises(BadJobFile) as refused:
        parse(json.dumps(document).encode())
    assert [(p.path, "200" in p.message) for p in refused.value.problems] == [("$.job.rigs[1].label", True)]


@pytest.mark.parametrize("day", ["9999-12-31", "0001-01-01", "2200-01-01", "1989-12-31"])
def test_a_day_beyond_the_calendar_is_refused_with_what_would_do(client: FlaskClient, day: str) -> None:
    got = client.post(f"{JOB}/copy", json={"title": "Copy", "day": day})
    assert got.status_code == 422
    assert got.json["problems"][0]["path"].endswith("day")  # type: ignore[index]
    assert len(client.get("/api/jobs").json["jobs"]) == 1  # type: ignore[index]
    for at in ("9999-12-31T23:59:59Z", "+10000-01-01T00:00:00Z", "2027-03-19"):
        noted = client.post(f"{JOB}/swaps/made?part=arrival", json={"slot": "quay · SWAP-1 · pack", "at": at})
        assert noted.status_code == 422, at


@pytest.mark.parametrize("wrong", ["quay", "dress", OWN, "PACK-01", "-1", "1e9", "%00", "🎥" * 40, "x" * 2000])
def test_ids_of_another_kind_are_not_there(client: FlaskClient, wrong: str) -> None:
    for path in (
        f"/api/jobs/{wrong}/frame" if wrong != OWN else f"{JOB}/parts/{wrong}",
        f"{JOB}/parts/{wrong}/rigs/quay" if wrong != "dress" else f"{JOB}/parts/dress/rigs/{wrong}",
        f"/api/shelf/models/{wrong}",
    ):
        got = client.get(path)
        assert got.status_code in (404, 405, 422), (path, got.status_code)
        assert got.content_type == "application/problem+json"


def test_the_demo_beside_itself_is_refused_at_once_and_names_no_strange_job(jobs: JobStore) -> None:
    assert create_app(jobs.pool, nobody_signs_in=True).test_client().post("/api/demo").status_code == 409
    client, said = somebody(jobs, "lead")
    file = demo_job_file()
    taken = json.loads(dump(replace(file, job=replace(file.job, id=FOREIGN))))
    got = client.post("/api/import", headers=said, json=taken)
    assert got.status_code in (403, 409)
    assert "Zzforeign" not in got.get_data(as_text=True)


def test_a_photo_of_a_log_is_seen_by_its_crew_alone(jobs: JobStore) -> None:
    client, said = somebody(jobs, "lead")
    drawn = io.BytesIO()
    Image.new("RGB", (40, 30), "red").save(drawn, "PNG")
    photo = base64.b64encode(drawn.getvalue()).decode()
    own = {"kind": "note", "text": "dent", "at": "2027-03-19T20:00:00Z"}
    at = f"{JOB}/log/entries?part=dress"
    assert client.post(at, headers=said, json={**own, "id": "e-photo", "picture": photo}).status_code == 200
    name = next(e.photo for e in jobs.export(OWN).done.log if e.id == "e-photo")
    assert client.get(f"/api/pictures/{name}").status_code == 200
    with jobs.pool.connection() as connection:
        connection.execute("UPDATE log_entry SET job_id = %s WHERE id = 'e-photo'", (FOREIGN,))
    assert client.get(f"/api/pictures/{name}").status_code == 404
    stolen = client.post(at, headers=said, json={**own, "id": "e-stolen", "photo": name})
    assert stolen.status_code == 404
    assert client.get(f"/api/pictures/{name}").status_code == 404, "nor by a note of one's own that names it"


def test_a_window_on_a_part_that_is_not_there_leaves_no_traceback(
    jobs: JobStore, caplog: pytest.LogCaptureFixture
) -> None:
    app = create_app(jobs.pool, nobody_signs_in=True)
    client = app.test_client()
    answer = client.get(f"{JOB}/live?tab=a-window-here&part=nowhere&rig=quay", buffered=False)
    told: list[bytes] = []

    def listen() -> None:
        for raw in answer.iter_encoded():
            told.append(raw)
            # What happened before it came is told first.
            if b"happening" in raw and any(b"event: here" in each for each in told):
                break

    listening = Thread(target=listen, daemon=True)
    listening.start()
    until(lambda: any(b"event: here" in raw for raw in told))
    before = len(told)
    bench: Any = client.get(QUAY).json
    with caplog.at_level(logging.INFO):
        edited = client.post(
            f"{QUAY}/edits", json={"version": bench["version"], "operations": [{"op": "detach", "unit": "MIC-1"}]}
        )
        assert edited.status_code == 200
        listening.join(20)
        assert any(b"happening" in raw for raw in told[before:])
        # Strips of every part that is looked at are worked out a moment after.
        until(lambda: app.extensions["lift_crate"].live.settled)
    assert [r for r in caplog.records if r.exc_info] == []
    answer.close()


def test_what_was_built_is_served_and_not_what_it_was_built_from(client: FlaskClient) -> None:
    for path, kind in (("/manifest.webmanifest", "application/manifest+json"), ("/.stamp", "text/html")):
        with client.get(path) as got:
            assert got.mimetype == kind, path
