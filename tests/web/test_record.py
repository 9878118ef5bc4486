"""What was done is told line by line, and any earlier state of a rig or of the job is brought back."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

JOB = "/api/jobs/dry-dock-opera"
QUAY = f"{JOB}/parts/dress/rigs/quay"


def edit(client: FlaskClient, *operations: Any) -> Any:
    bench: Any = client.get(QUAY).json
    answer = client.post(f"{QUAY}/edits", json={"version": bench["version"], "operations": operations})
    assert answer.status_code == 200, answer.get_data(as_text=True)
    return answer.json


def record(client: FlaskClient, **query: Any) -> Any:
    answer = client.get(f"{JOB}/record", query_string=query)
    assert answer.status_code == 200, answer.get_data(as_text=True)
    return answer.json


def test_any_earlier_state_of_a_rig_is_looked_at_and_brought_back_and_undone(client: FlaskClient) -> None:
    states = [edit(client, {"op": "detach", "unit": unit}) for unit in ("MIC-1", "MON7-1", "LS-1")]
    middle = states[1]
    seen: Any = client.get(f"{QUAY}/history/{middle['version']}").json
    assert (seen["rows"], seen["saved"]) == (middle["rows"], False)
    stale = client.post(f"{QUAY}/history/{middle['version']}", json={"version": middle["version"]})
    assert stale.status_code == 409
    back: Any = client.post(f"{QUAY}/history/{middle['version']}", json={"version": states[2]["version"]}).json
    assert back["rows"] == middle["rows"]
    assert back["figures"] == middle["figures"]
    assert "Take off MON7-1 by bench" in back["can_undo"]
    undone: Any = client.post(f"{QUAY}/undo", json={"version": back["version"]}).json
    assert undone["rows"] == states[2]["rows"]
    first: Any = client.get(f"{QUAY}/history/0").json
    assert {"MIC-1", "MON7-1", "LS-1"} <= {row["unit"] for row in first["rows"]}
    for never in (9999,):
        assert client.get(f"{QUAY}/history/{never}").status_code == 404
        assert client.post(f"{QUAY}/history/{never}", json={"version": undone["version"]}).status_code == 404


def test_an_earlier_state_whose_gear_is_in_another_rig_by_now_is_refused(client: FlaskClient) -> None:
    with_weight = edit(
        client, {"op": "attach", "unit": "CW-3", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"}
    )
    without = edit(client, {"op": "detach", "unit": "CW-3"})
    caisson = f"{JOB}/parts/dress/rigs/caisson"
    there: Any = client.get(caisson).json
    taken = {"op": "attach", "unit": "CW-3", "unit_port": "screw", "onto": "CAGE-2", "onto_port": "left"}
    assert client.post(f"{caisson}/edits", json={"version": there["version"], "operations": [taken]}).status_code == 200
    refused = client.post(f"{QUAY}/history/{with_weight['version']}", json={"version": without["version"]})
    assert refused.status_code == 409
    assert "CW-3" in refused.get_data(as_text=True)
    assert client.get(QUAY).json == {**without, "day": None, "can_undo": "Take off CW-3"}


def test_the_job_itself_goes_back_and_what_was_done_on_the_bench_stays(client: FlaskClient) -> None:
    def frame(*operations: Any) -> Any:
        now: Any = client.get(f"{JOB}/frame").json
        answer = client.post(f"{JOB}/edits", json={"version": now["version"], "operations": operations})
        assert answer.status_code == 200, answer.get_data(as_text=True)
        return answer.json

    first = frame({"op": "change job", "title": "First name"})
    second = frame({"op": "change job", "title": "Second name"})
    bare = edit(client, {"op": "detach", "unit": "MIC-1"})
    back: Any = client.post(f"{JOB}/history/{first['version']}", json={"version": second["version"]}).json
    assert back["job"]["title"] == "First name"
    assert client.get(QUAY).get_json()["rows"] == bare["rows"]
    assert client.post(f"{JOB}/history/77", json={"version": back["version"]}).status_code == 404


def test_the_record_has_every_kind_latest_first_and_goes_on_where_it_ended(client: FlaskClient) -> None:
    for unit in ("MIC-1", "MON7-1"):
        edit(client, {"op": "detach", "unit": unit})
    for number in range(35):
        for act in ("fault", "sound again"):
            step = {
                "act": act,
                "card": "WIDE-03",
                "at": f"2027-03-20T19:{number + 10}",
                "note": "x" if act == "fault" else "",
            }
            assert client.post(f"{JOB}/cards/steps", json=step).status_code == 200
    first = record(client)
    assert (len(first["lines"]), first["more"]) == (60, True)
    last = first["lines"][-1]
    rest = record(client, at=last["at"], from_kind=last["kind"], from_thing=last["thing"], number=last["number"])
    every = first["lines"] + rest["lines"]
    noted = [line for line in every if line["kind"] != "log"]
    assert len({(line["kind"], line["thing"], line["number"]) for line in noted}) == len(noted) == 72
    assert len({(line["kind"], line["thing"], line["number"], line["title"]) for line in every}) == len(every)
    assert [line["at"] for line in every] == sorted((line["at"] for line in every), reverse=True)
    assert [line["title"] for line in record(client, kind="build")["lines"]] == ["Take off MON7-1", "Take off MIC-1"]
    assert {line["rig"] for line in record(client, rig="quay")["lines"]} == {"quay"}
    assert record(client, actor="nobody")["lines"] == []
    assert client.get(f"{JOB}/record?rig=ghost").status_code == 404
