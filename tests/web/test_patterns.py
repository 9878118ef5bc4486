"""Gear by pattern and the starter shelf over the API: whole or not at all, asked once more where it is doubted."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

from .test_bench import problem

PATTERNS = "/api/shelf/patterns"
PACK: dict[str, Any] = {"name": "pack 98", "family": "wedge", "wh": 98, "mass_g": 620}


def units(client: FlaskClient) -> int:
    return int(client.get("/api/shelf?most=1").get_json()["total"])


def test_a_model_is_drawn_while_it_is_answered_and_added_with_its_units(client: FlaskClient) -> None:
    kinds = client.get(PATTERNS).get_json()["patterns"]
    assert len(kinds) >= 28
    shown = client.post(f"{PATTERNS}/pack/preview", json={"answers": PACK}).get_json()
    assert [e["view"] for e in shown["drawn"]["elevations"]] == ["side", "front", "top"]
    assert (shown["problems"], shown["doubts"]) == ([], [])
    assert "pack.capacity_ah" in shown["model"]["assumed"]
    before = units(client)
    body = {"answers": PACK, "label": "OWN-", "count": 3}
    added = client.post(f"{PATTERNS}/pack", json=body).get_json()
    assert added["units"] == ["OWN-1", "OWN-2", "OWN-3"]
    again = client.post(f"{PATTERNS}/pack", json=body).get_json()
    assert again["units"] == ["OWN-4", "OWN-5", "OWN-6"]
    assert again["model"] != added["model"]
    assert units(client) == before + 6


def test_bad_answers_and_doubts_add_nothing(client: FlaskClient) -> None:
    before = units(client)
    gear = {"answers": {**PACK, "wh": -5, "family": "zeppelin"}, "label": "BAD-1"}
    refused = problem(client.post(f"{PATTERNS}/pack", json=gear), 422)
    assert {p["path"] for p in refused["problems"]} == {"wh", "family"}
    heavy = {"answers": {**PACK, "mass_g": 40_000}, "label": "HEAVY-1"}
    doubted = problem(client.post(f"{PATTERNS}/pack", json=heavy), 422)
    assert doubted["type"] == "urn:lift-crate:gear.doubted"
    assert "usual is 20 to 6000 g" in doubted["detail"]
    taken = {"answers": PACK, "label": "PACK-01"}
    assert "PACK-01 is on the shelf already" in problem(client.post(f"{PATTERNS}/pack", json=taken), 409)["detail"]
    problem(client.post(f"{PATTERNS}/zeppelin", json={"answers": {}}), 404)
    assert units(client) == before
    assert client.post(f"{PATTERNS}/pack", json={**heavy, "sure": True}).get_json()["units"] == ["HEAVY-1"]


def test_a_new_mount_is_made_with_the_model_that_has_it_and_known_to_the_next(client: FlaskClient) -> None:
    lens = {"name": "own 40", "from_mm": 40, "mount": {"label": "Own mount", "flange_mm": 21.5, "throat_mm": 48}}
    client.post(f"{PATTERNS}/lens", json={"answers": lens, "label": "OWN-40"})
    known = {i["id"]: i for i in client.get("/api/shelf/interfaces").get_json()["interfaces"]}
    assert known["own-mount"]["flange_mm"] == 21.5
    twice = problem(client.post(f"{PATTERNS}/lens", json={"answers": {**lens, "name": "other"}}), 422)
    assert "'Own mount' is there already; choose it" in twice["detail"]
    assert client.post(f"{PATTERNS}/lens", json={"answers": {**lens, "mount": "own-mount"}}).status_code == 200


def test_the_whole_starter_shelf_is_added_at_once_and_says_that_its_ratings_are_unconfirmed(
    client: FlaskClient,
) -> None:
    items = client.get("/api/shelf/starter").get_json()["items"]
    assert len(items) >= 100
    order = {"items": [{"id": i["id"], "count": 2} for i in items]}
    before = units(client)
    assert "Choose lens mount" in problem(client.post("/api/shelf/starter", json=order), 422)["detail"]
    assert units(client) == before
    mount = {"label": "Compact mount", "flange_mm": 18}
    added = client.post("/api/shelf/starter", json={**order, "mount": mount}).get_json()["units"]
    assert len(set(added)) == 2 * len(items)
    assert {i["units"] for i in client.get("/api/shelf/starter").get_json()["items"]} == {2}
    more = {"items": [{"id": "wedge-98"}, {"id": "zeppelin"}]}
    assert "has no 'zeppelin'" in problem(client.post("/api/shelf/starter", json=more), 422)["detail"]
    one = client.post("/api/shelf/starter", json={"items": [{"id": "wedge-98"}]}).get_json()["units"]
    assert one == ["WEDGE-98-3"]
    quay = "/api/jobs/dry-dock-opera/parts/dress/rigs/quay"
    bench = client.get(quay).get_json()
    operations = [{"op": "attach", "unit": "WEIGHT-100-1", "unit_port": "screw", "onto": "CAGE-1", "onto_port": "left"}]
    body = {"version": bench["version"], "operations": operations}
    assert "gear.unconfirmed" not in {f["code"] for f in client.post(f"{quay}/edits", json=body).get_json()["findings"]}
    operations = [{"op": "attach", "unit": "TILT-MOUNT-1", "unit_port": "base", "onto": "CAGE-1", "onto_port": "right"}]
    body = {"version": bench["version"] + 1, "operations": operations}
    found = client.post(f"{quay}/edits", json=body).get_json()["findings"]
    assert [f["units"] for f in found if f["code"] == "gear.unconfirmed"] == [["TILT-MOUNT-1"]]


def test_models_of_a_kind_are_read_from_a_csv_whole_or_not_at_all(client: FlaskClient) -> None:
    header = client.get(f"{PATTERNS}/lens/template").get_data(as_text=True).strip()
    assert header.startswith("name,maker,mount,from_mm,to_mm,stop")
    columns = "name,maker,mount,from_mm,to_mm,stop,mass_g,foot,label,count,owner"
    good = f'{columns}\nOne,Own,pl,35,,1.5,410,no,L-ONE,1,\nTwo,Own,halyard,31,93,2.9,"870,5",yes,L-TWO-,2,hired\n'
    address, csv = f"{PATTERNS}/lens/import", {"content_type": "text/csv"}
    before = units(client)
    shown = client.post(address, data=good, **csv).get_json()
    assert [(line["name"], line["units"]) for line in shown["lines"]] == [("Own One", 1), ("Own Two", 2)]
    assert units(client) == before
    bad = f"{columns}\nOne,Own,pl,35,,1.5,410,no,L-ONE,1,\nTwo,Own,nothing,wide,93,2.9,870,perhaps,L-TWO,0,lent\n"
    told = client.post(f"{address}?apply=true", data=bad, **csv)
    assert units(client) == before
    assert problem(told, 409)
    errors = client.post(address, data=bad, **csv).get_json()["errors"]
    assert {(e["line"], e["column"]) for e in errors} == {(3, "from_mm"), (3, "foot"), (3, "count"), (3, "owner")}
    assert client.post(f"{address}?apply=true", data=good, **csv).get_json()["applied"]
    assert units(client) == before + 3
    two = client.get("/api/shelf/units/L-TWO-2").get_json()
    assert (two["unit"]["owner"], two["mass_g"]) == ("hired", 870.5)
    for strange, says in ((b"\xff\xfe", "UTF-8"), (b"colour\nred\n", "no such column"), (b"name\n", "no line")):
        told = client.post(address, data=strange, **csv)
        assert says in told.get_data(as_text=True)
