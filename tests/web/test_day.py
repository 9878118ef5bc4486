"""The day over the API: cells and changes agree with each other, and with the figures of every rig."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

JOB = "/api/jobs/dry-dock-opera"


def test_the_table_and_its_sheets_say_the_same(client: FlaskClient) -> None:
    day: Any = client.get(f"{JOB}/day").json
    assert len(day["cells"]) == 20
    for cell in day["cells"]:
        strips: Any = client.get(f"{JOB}/parts/{cell['part']}").json
        counts = next(x["counts"] for x in strips["strips"] if x["rig"] == cell["rig"])
        assert cell["counts"] == counts, "the cell says what the strip says"
    changes = [c for c in day["changes"] if not c["same"]]
    assert len(changes) == 7
    for c in changes:
        sheet: Any = client.get(f"{JOB}/day/changes/{c['after']}/{c['rig']}").json
        assert (sheet["alone_min"], sheet["two_min"], sheet["fits"]) == (c["alone_min"], c["two_min"], c["fits"])
        assert len(sheet["beforehand"]) == c["beforehand"]
        assert sum(t["minutes"] for t in sheet["tasks"]) - c["alone_min"] < 1e-6
        assert max(t["ends"] for t in sheet["tasks"]) - c["two_min"] < 1e-6
        assert {x["chosen"] for x in sheet["instead"]} == {True, False}
    wrong = client.get(f"{JOB}/day/changes/mark-through/quay")
    assert wrong.status_code == 404
    assert "change of Quay into the part of the day" in wrong.get_data(as_text=True)
