"""Pictures over the API: given once, named by units and the plan, in the job file, and refused when they are none."""

from __future__ import annotations

from flask.testing import FlaskClient

from lift_crate.formats.job_file import parse
from lift_crate.store.jobs import JobStore
from tests.formats.test_pictures import photo
from tests.web.test_bench import JOB, problem


def give(client: FlaskClient, raw: bytes, kind: str = "image/jpeg") -> str:
    made = client.post("/api/pictures", data=raw, content_type=kind)
    assert made.status_code == 201, made.text
    name: str = made.get_json()["id"]
    return name


def test_a_photo_of_a_unit_and_of_the_venue_goes_out_with_the_job_and_comes_back(
    client: FlaskClient, jobs: JobStore
) -> None:
    name, plan = give(client, photo((400, 300))), give(client, photo((300, 300), "PNG"), "image/png")
    unit = client.get("/api/shelf/units/C6-1").get_json()
    put = client.put(f"/api/shelf/units?seen={unit['seen']}", json={**unit["unit"], "photo": name})
    assert put.status_code == 200, put.text
    frame = client.get(f"{JOB}/frame").get_json()
    operation = {"op": "set picture", "picture": {"id": plan, "width_m": 80, "x_m": 3, "y_m": 4}}
    edited = client.post(f"{JOB}/edits", json={"version": frame["version"], "operations": [operation]})
    assert edited.status_code == 200, edited.text
    assert client.get(f"{JOB}/venue").get_json()["picture"]["width_m"] == 80
    shown = client.get(f"/api/pictures/{name}")
    assert (shown.mimetype, shown.headers["Cache-Control"].count("immutable")) == ("image/jpeg", 1)
    file = parse(client.get(f"{JOB}/file").data)
    assert {p.id for p in file.pictures} == {name, plan}
    assert client.delete(JOB).status_code == 200
    with jobs.pool.connection() as connection:
        connection.execute("DELETE FROM picture")
    problem(client.get(f"/api/pictures/{name}"), 404)
    jobs.import_file(file)
    assert client.get(f"/api/pictures/{plan}").data
    line = client.get("/api/shelf/units.csv").text
    applied = client.post("/api/shelf/units.csv?apply=false", data=line, content_type="text/csv").get_json()
    assert applied["changes"] == []


def test_what_is_no_picture_is_refused_and_nothing_is_kept(client: FlaskClient) -> None:
    told = problem(client.post("/api/pictures", data=b"nothing", content_type="image/png"), 422)
    assert "JPEG, PNG or WebP" in told["detail"]
    problem(client.post("/api/pictures", data=photo((9, 9)), content_type="image/svg+xml"), 415)
    problem(client.get("/api/pictures/nothing"), 404)
