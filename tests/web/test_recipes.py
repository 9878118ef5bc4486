"""Recipes over the API: kept, dressed with what is free then, exported, read in, renamed, removed and brought back."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

from tests.web.test_bench import JOB, problem


def kept(client: FlaskClient) -> list[dict[str, Any]]:
    """All recipes."""
    lines: list[dict[str, Any]] = client.get("/api/recipes").get_json()["recipes"]
    return lines


def keep(client: FlaskClient, label: str = "") -> str:
    """The Quay's first build as a recipe."""
    job = client.get(JOB).get_json()
    build = next(iter(job["rigs"][0]["builds"]))
    made = client.post("/api/recipes", json={"job": job["id"], "build": build, "label": label})
    assert made.status_code == 201, made.text
    name: str = made.get_json()["made"][0]
    return name


def test_a_recipe_goes_out_and_comes_in_again(client: FlaskClient) -> None:
    name = keep(client, "Long lens")
    (line,) = kept(client)
    assert (line["id"], line["label"], line["unknown"]) == (name, "Long lens", 0)
    file = client.get(f"/api/recipes/{name}/file")
    assert "long-lens.lift-crate-recipe.json" in file.headers["Content-Disposition"]
    assert not {u for u in ("C6-1", "PACK-01") if u in file.text}
    again = client.post("/api/recipes/file", json=file.get_json()).get_json()
    assert again["made"] == ["long-lens-2"]
    assert [r["label"] for r in kept(client)] == ["Long lens", "Long lens"]
    client.post(f"/api/recipes/{name}", json={"label": "Quay"})
    client.post(f"/api/recipes/{name}", json={"removed": True})
    assert [(r["label"], r["removed"]) for r in kept(client)] == [("Long lens", False), ("Quay", True)]
    client.post(f"/api/recipes/{name}", json={"removed": False})
    assert not any(r["removed"] for r in kept(client))
    problem(client.post("/api/recipes/nothing", json={"label": "x"}), 404)
    problem(client.post(f"/api/recipes/{name}", json={"label": " "}), 422)


def test_a_file_that_is_no_recipe_is_refused_whole(client: FlaskClient) -> None:
    name = keep(client)
    good = client.get(f"/api/recipes/{name}/file").get_json()["recipes"][0]
    bad = {**good, "models": {}}
    told = problem(client.post("/api/recipes/file", json={"recipes": [good, bad]}), 422)
    assert "name the model it is" in str(told)
    assert len(kept(client)) == 1


def test_a_recipe_is_dressed_with_what_is_free_then_and_added(client: FlaskClient) -> None:
    name = keep(client)
    frame = client.get(f"{JOB}/frame").get_json()
    told = problem(client.post(f"{JOB}/dress", json={"rig": "stage-rail", "part": "dress", "recipe": name}), 422)
    assert "none is free" in told["detail"]
    asked = {"rig": "quay", "part": "dress", "recipe": name}
    dressed = client.post(f"{JOB}/dress", json=asked).get_json()
    strips = client.get(f"{JOB}/parts/dress").get_json()["strips"]
    others = [s["rig"] for s in strips if s["rig"] != "quay" and s["build"]]
    used = {row["unit"] for rig in others for row in client.get(f"{JOB}/parts/dress/rigs/{rig}").get_json()["rows"]}
    assert not used & {j["child"] for j in dressed["build"]["joints"]}
    assert not dressed["missing"]
    operation = {
        "op": "add build",
        "rig": "quay",
        "label": "again",
        "content": dressed["build"],
        "part": "dress",
    }
    after = client.post(f"{JOB}/edits", json={"version": frame["version"], "operations": [operation]})
    assert after.status_code == 200, after.text
    bench = client.get(f"{JOB}/parts/dress/rigs/quay").get_json()
    assert (bench["build_label"], bench["planned"]) == ("again", True)
    assert len({row["unit"] for row in bench["rows"]}) <= dressed["units"]


def test_a_build_planned_nowhere_is_opened_and_worked_on(client: FlaskClient) -> None:
    frame = client.get(f"{JOB}/frame").get_json()
    operation = {"op": "add build", "rig": "quay", "label": "spare", "body": "C6-1"}
    after = client.post(f"{JOB}/edits", json={"version": frame["version"], "operations": [operation]}).get_json()
    build = next(
        b["id"] for r in after["job"]["rigs"] if r["id"] == "quay" for b in r["builds"] if b["label"] == "spare"
    )
    where = f"{JOB}/parts/dress/rigs/quay~{build}"
    bench = client.get(where).get_json()
    assert (bench["build"], bench["planned"], bench["rig"]) == (build, False, "quay")
    attach = {"op": "attach", "unit": "CW-1", "unit_port": "screw", "onto": "C6-1", "onto_port": "base"}
    done = client.post(f"{where}/edits", json={"version": bench["version"], "operations": [attach]})
    assert done.status_code in {200, 422}, done.text
    assert client.get(f"{JOB}/parts/dress/rigs/quay").get_json()["build"] != build
    problem(client.get(f"{JOB}/parts/dress/rigs/quay~nothing"), 404)


def test_another_job_s_builds_are_there_to_copy_from(client: FlaskClient) -> None:
    assert client.get(f"{JOB}/elsewhere").get_json()["builds"] == []
    made = client.post("/api/jobs", json={"title": "Next week", "day": "2027-06-01"}).get_json()["made"]
    there = client.get(f"/api/jobs/{made}/elsewhere").get_json()["builds"]
    assert {b["job"] for b in there} == {"dry-dock-opera"}
    frame = client.get(f"/api/jobs/{made}/frame").get_json()
    camera = {"op": "add camera", "label": "One", "body": "C6-1", "position": ""}
    frame = client.post(
        f"/api/jobs/{made}/edits", json={"version": frame["version"], "operations": [camera]}
    ).get_json()
    asked = {"rig": "one", "part": "day-1", "job": there[0]["job"], "build": there[0]["build"]}
    dressed = client.post(f"/api/jobs/{made}/dress", json=asked).get_json()
    assert dressed["missing"] == []
