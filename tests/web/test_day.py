"""The day over the API: cells and changes agree with each other, and with the figures of every rig."""

from __future__ import annotations

import time
from typing import Any

from flask.testing import FlaskClient

from tests.pdf import text_of

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


def test_the_day_on_paper_says_what_the_screens_say(client: FlaskClient) -> None:
    def paper(what: str, who: str = "") -> str:
        answer = client.get(f"{JOB}/day/paper.pdf?what={what}&who={who}")
        assert answer.status_code == 200
        assert answer.data.startswith(b"%PDF")
        return " ".join(text_of(answer.data).split())

    run: Any = client.get(f"{JOB}/day/run").json
    day = paper("day")
    for word in ("Dry-dock opera, Friday 19 March 2027", "Stage rail", "unattended", "ZOOM-2", "does not certify"):
        assert word in day
    for finding in run["days"][1]["findings"]:
        assert finding["text"][:40] in day
    mine = [t for d in run["days"] for t in d["tasks"] if "Op 4" in t["who"]]
    own = paper("run", "Op 4")
    assert mine
    for task in mine:
        assert f"{task['starts'][11:16]}" in own
    assert "Runner" not in own
    changes: Any = client.get(f"{JOB}/day/changes/acts-1-2/stage-rail").json
    sheets = paper("changes")
    for task in changes["tasks"]:
        assert task["unit"] in sheets
    sound = paper("sound")
    assert "470.125" in sound
    assert "Before buttoning up: pocket recorder goes on too." in sound
    wrong = client.get(f"{JOB}/day/paper.pdf?what=run&who=Nobody")
    assert wrong.status_code == 404
    assert client.get(f"{JOB}/day/paper.pdf?what=wishes").status_code == 422


def test_sound_over_the_api_is_edited_and_read_back(client: FlaskClient) -> None:
    sound: Any = client.get(f"{JOB}/sound").json
    assert [v["id"] for v in sound["voices"]] == ["soprano", "tenor", "foreman", "orchestra", "cannon"]
    assert {(h["voice"], h["part"]) for h in sound["heard"]} == {
        (v["id"], p) for v in sound["voices"] for p in v["parts"]
    }
    free: Any = client.get(f"{JOB}/sound/free").json
    assert free["found"]
    job: Any = client.get(f"{JOB}/frame").json
    tuned = client.post(
        f"{JOB}/edits",
        json={
            "version": job["version"],
            "operations": [
                {"op": "set channels", "channels": [[c["voice"], c["source"], c["khz"]] for c in free["channels"]]},
                {"op": "change voice", "voice": "foreman", "consent": "given"},
                {"op": "set sync", "unit": "POCKET-1", "method": "jammed once"},
            ],
        },
    )
    assert tuned.status_code == 200, tuned.json
    after: Any = client.get(f"{JOB}/sound").json
    assert not any(air["products"] or air["near"] for air in after["air"])
    assert {"sound.radio", "sound.consent"}.isdisjoint(f["code"] for f in after["findings"])
    assert after["sync"] == [{"unit": "POCKET-1", "method": "jammed once"}]
    rows = client.get(f"{JOB}/sound/sound.csv").get_data(as_text=True).splitlines()
    assert len(rows) == 1 + sum(len(h["sources"]) for h in after["heard"])
    frame: Any = client.get(f"{JOB}/frame").json
    back = client.post(f"{JOB}/undo", json={"version": frame["version"]})
    assert back.status_code == 200, back.json
    assert client.get(f"{JOB}/sound").json == sound


def settled(client: FlaskClient, address: str) -> Any:
    """What a worker finds, when it has found it."""
    for _ in range(1200):
        told: Any = client.get(address).json
        if not told["searching"]:
            return told
        time.sleep(0.05)
    raise AssertionError(f"{address} is still being searched")


def test_units_dealt_over_the_api_are_taken_and_undone_as_one(client: FlaskClient) -> None:
    before: Any = client.get(f"{JOB}/day/gear").json
    dealt = settled(client, f"{JOB}/day/gear/deal")
    assert dealt["changes"]
    assert dealt["kept_after"] < dealt["kept_before"]
    frame: Any = client.get(f"{JOB}/frame").json
    taken = client.post(f"{JOB}/edits", json={"version": frame["version"], "operations": dealt["operations"]})
    assert taken.status_code == 200, taken.json
    assert settled(client, f"{JOB}/day/gear/deal")["changes"] == []
    now: Any = client.get(f"{JOB}/frame").json
    assert client.post(f"{JOB}/undo", json={"version": now["version"]}).status_code == 200
    assert client.get(f"{JOB}/day/gear").json == before


def test_cures_over_the_api_are_taken_as_they_are_offered(client: FlaskClient) -> None:
    told = settled(client, f"{JOB}/day/cures/dress/quay/quay-full")
    assert [m["unit"] for m in told["missing"]] == ["ZOOM-2"]
    job: Any = client.get(f"{JOB}/frame").json
    taken = client.post(f"{JOB}/edits", json={"version": job["version"], "operations": told["cures"][0]["operations"]})
    assert taken.status_code == 200, taken.json
    day: Any = client.get(f"{JOB}/day").json
    assert all(f["code"] != "day.short" for f in day["findings"])
    assert client.get(f"{JOB}/day/cures/dress/quay/nothing").status_code == 404


def test_what_another_job_has_is_seen_in_the_gear(client: FlaskClient) -> None:
    """A second job on the same evening takes a body; a third, a week later, takes nothing."""
    for title, at in (("The other show", "2027-03-20"), ("A week later", "2027-03-27")):
        made: Any = client.post("/api/jobs", json={"title": title, "day": at, "zone": "UTC"}).json
        job = next(j["id"] for j in made["jobs"] if j["title"] == title)
        frame: Any = client.get(f"/api/jobs/{job}/frame").json
        edit = {"op": "change part", "part": "day-1", "starts": f"{at}T18:00", "ends": f"{at}T23:00"}
        camera = {"op": "add camera", "label": "A", "body": "R2-2"}
        answer = client.post(
            f"/api/jobs/{job}/edits",
            json={"version": frame["version"], "operations": [edit, camera]},
        )
        assert answer.status_code == 200, answer.get_data(as_text=True)
    gear: Any = client.get(f"{JOB}/day/gear").json
    held = {u["unit"]: u["at"] for m in gear["models"] for u in m["units"]}
    assert held["R2-2"] == dict.fromkeys(("arrival", "acts-1-2", "act-3"), "‘The other show’")
