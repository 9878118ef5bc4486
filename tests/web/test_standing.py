"""Counts at the strap: the same as the places say themselves."""

from __future__ import annotations

from collections import Counter
from typing import Any

from flask.testing import FlaskClient

JOB = "/api/jobs/dry-dock-opera"


def levels(findings: list[dict[str, Any]]) -> dict[str, int]:
    of = Counter(f["level"] for f in findings)
    return {"stops": of["stop"], "watches": of["watch"], "notes": of["note"]}


def test_the_strap_counts_what_the_day_and_the_log_say(client: FlaskClient) -> None:
    standing: Any = client.get(f"{JOB}/standing").json
    day: Any = client.get(f"{JOB}/day").json
    log: Any = client.get(f"{JOB}/log?part=dress").json
    assert standing["day"] == levels(day["findings"])
    assert standing["day"]["stops"] > 0
    assert standing["log"]["watches"] == len(log["faults"])
    assert standing["pack"] is None, "nobody has had it packed yet, and counting begins nothing"
    assert client.get("/api/jobs/no-such-job/standing").status_code == 404


def test_a_permission_that_is_refused_stands_against_the_day(client: FlaskClient) -> None:
    frame: Any = client.get(f"{JOB}/frame").json
    one = {"id": "drone", "label": "Over the dock", "kind": "drone", "state": "refused"}
    edit = {"version": frame["version"], "operations": [{"op": "put permission", "permission": one}]}
    before: Any = client.get(f"{JOB}/standing").json
    assert client.post(f"{JOB}/edits", json=edit).status_code == 200
    after: Any = client.get(f"{JOB}/standing").json
    assert after["day"]["stops"] == before["day"]["stops"] + 1
    again: Any = client.get(f"{JOB}/safety").json
    refused = next(p for p in again["permissions"] if p["permission"]["id"] == "drone")
    assert refused["findings"][0]["text"] == "Over the dock: refused."
