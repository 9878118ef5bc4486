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


def test_gear_cards_and_the_run_sheet_are_of_one_day(client: FlaskClient) -> None:
    day: Any = client.get(f"{JOB}/day").json
    run: Any = client.get(f"{JOB}/day/run").json
    assert [len(d["parts"]) for d in run["days"]] == [2, 3]
    dealt = {p["card"] for c in day["cards"] for p in c["pieces"] if p["card"]}
    named = {card for d in run["days"] for t in d["tasks"] if t["kind"] == "cards" for card in t["what"].split(", ")}
    assert dealt <= named
    changes = {(c["after"], c["rig"]) for c in day["changes"] if not c["same"]}
    # A camera that stands from one day to the next is changed on the later one.
    assert {(t["part"], t["rig"]) for d in run["days"] for t in d["tasks"] if t["kind"] == "change"} == changes
    gear: Any = client.get(f"{JOB}/day/gear").json
    used = {u["unit"]: u["at"] for m in gear["models"] for u in m["units"]}
    assert dealt <= set(used)
    assert used["GIMBAL-1"]["dress"] == "Dock floor"
    late: Any = client.get(f"{JOB}/day/run?late_part=acts-1-2&late_min=20").json
    assert len(late["days"][1]["findings"]) == len(run["days"][1]["findings"]) + 1
    assert client.get(f"{JOB}/day/run?late_part=none&late_min=20").status_code == 404
    assert client.get(f"{JOB}/day/run?late_part=acts-1-2&late_min=-5").status_code == 422
