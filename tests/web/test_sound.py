"""Sound over the API: what was done at every source, judged and kept."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient


def test_a_source_counts_as_rolling_when_all_four_are_done_and_the_log_keeps_everything(client: FlaskClient) -> None:
    def note(act: str, at: str, status: int = 200, file: str = "") -> Any:
        body = {"voice": "soprano", "source": "pocket recorder", "act": act, "at": at, "file": file}
        answer = client.post("/api/jobs/dry-dock-opera/sound/steps", json=body)
        assert answer.status_code == status, answer.get_data(as_text=True)
        return answer.json

    def row(view: Any) -> Any:
        return next(r for r in view["rolling"] if (r["voice"], r["source"]) == ("soprano", "pocket recorder"))

    assert "not what is recorded" in note("heard", "2027-03-20T19:08", 422)["detail"]
    for minute, act in enumerate(("runs", "locked", "heard")):
        view = note(act, f"2027-03-20T19:1{minute}")
    assert row(view)["missing"] == ["slated"]
    view = note("slated", "2027-03-20T19:14", file="ZOE-0007")
    assert (row(view)["counts"], row(view)["file"]) == (True, "ZOE-0007")
    heard = next(d for d in row(view)["done"] if d["act"] == "heard")
    view = client.delete(f"/api/jobs/dry-dock-opera/sound/steps/{heard['id']}").json
    assert row(view)["missing"] == ["heard"]
    assert client.delete(f"/api/jobs/dry-dock-opera/sound/steps/{heard['id']}").status_code == 404, "once"
    log = client.get("/api/jobs/dry-dock-opera/sound/log.csv").get_data(as_text=True).splitlines()
    assert len(log) == 1 + 4
    assert "Soprano,Soprano,pocket recorder,slated,ZOE-0007" in log[4]
    assert client.get("/api/jobs/none/sound/log.csv").status_code == 404
