"""Other sites, hostile requests, files that were accepted and then failed; and what every answer carries."""

from __future__ import annotations

import csv
import io
import json
import re
from dataclasses import replace
from typing import Any

import pytest
from flask.testing import FlaskClient
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.job.packing import PackPlan
from lift_crate.core.job.permission import SafetyPlan
from lift_crate.core.job.sound import SoundPlan
from lift_crate.core.rig.build import Catalogue, Unit
from lift_crate.formats.job_file import BadJobFile, JobFile, catalogue_of, dump, parse
from lift_crate.formats.shelf_csv import plan_import, units_csv
from lift_crate.formats.text import as_it_was, harmless, strange_in
from lift_crate.web import bench
from tests.web.test_bench import problem

JOB = "/api/jobs/dry-dock-opera"
QUAY = f"{JOB}/parts/dress/rigs/quay"
EDIT = {"version": 1, "operations": [{"op": "carry", "use": "running"}]}


@pytest.mark.parametrize("host", ["evil.example", "127.0.0.1.evil.example", "10.0.0.7:8470", "[::2]:8470"])
def test_a_name_that_is_not_ours_is_not_answered(client: FlaskClient, host: str) -> None:
    assert problem(client.get("/api/jobs", headers={"Host": host}), 421)["type"] == "urn:lift-crate:request.host"


@pytest.mark.parametrize("host", ["127.0.0.1:8470", "localhost", "[::1]:9"])
def test_our_own_names_are(client: FlaskClient, host: str) -> None:
    assert client.get("/api/jobs", headers={"Host": host}).status_code == 200


@pytest.mark.parametrize(
    "headers",
    [
        {"Sec-Fetch-Site": "cross-site"},
        {"Sec-Fetch-Site": "same-site"},
        {"Origin": "http://evil.example"},
        {"Origin": "null"},
        {"Origin": "http://localhost:9999"},
    ],
)
def test_a_page_of_another_site_changes_nothing(client: FlaskClient, headers: dict[str, str], demo: JobFile) -> None:
    before = client.get(QUAY).get_json()
    for address, method, sent in (
        (f"{QUAY}/edits", "post", {"json": EDIT}),
        ("/api/shelf/units?seen=0", "put", {"json": {"id": "X", "model": "hitch-arm"}}),
        (f"{JOB}/swaps/made/1?part=dress", "delete", {}),
        ("/api/shelf/units.csv?apply=true", "post", {"data": "label,model\nX,hitch-arm\n", "content_type": "text/csv"}),
        ("/api/import?replace=true", "post", {"data": dump(demo), "content_type": "application/json"}),
    ):
        assert (
            problem(client.open(address, method=method, headers=headers, **sent), 403)["type"]
            == "urn:lift-crate:request.site"
        )
    assert client.get(QUAY).get_json() == before
    assert (
        client.post(
            f"{QUAY}/edits", json=EDIT, headers={"Sec-Fetch-Site": "same-origin", "Origin": "http://localhost"}
        ).status_code
        == 200
    )


@pytest.mark.parametrize("kind", ["text/plain", "application/x-www-form-urlencoded", "multipart/form-data", ""])
def test_only_the_declared_types_are_taken(client: FlaskClient, kind: str, demo: JobFile) -> None:
    for address, body in (
        (f"{QUAY}/edits", json.dumps(EDIT)),
        ("/api/import?replace=true", dump(demo)),
        ("/api/shelf/units.csv?apply=true", "label,model\nX,hitch-arm\n"),
    ):
        assert "Nothing was changed" in problem(client.post(address, data=body, content_type=kind), 415)["detail"]
    assert "X" not in client.get("/api/shelf?words=X").get_json()["units"]


def test_every_answer_says_what_a_browser_may_do_with_it(client: FlaskClient) -> None:
    for address in ("/api/jobs", "/api/nothing", "/nowhere"):
        headers = client.get(address).headers
        policy = headers["Content-Security-Policy"]
        assert "frame-ancestors 'none'" in policy
        assert "script-src 'self' 'nonce-" in policy
        assert "unsafe-inline" not in policy.partition("style-src")[0]
        assert (headers["X-Content-Type-Options"], headers["Referrer-Policy"]) == ("nosniff", "same-origin")


def test_the_page_of_a_rig_names_what_its_screen_asks_for_first(client: FlaskClient) -> None:
    def ahead(address: str) -> list[str]:
        page = client.get(address).get_data(as_text=True)
        return re.findall(r'<link rel="preload" as="fetch" crossorigin href="([^"]*)">', page)

    asked = ahead("/dry-dock-opera/bench/dress/quay")
    assert QUAY in asked
    assert [client.get(each).status_code for each in asked] == [200] * 3
    assert ahead("/jobs") == []
    assert not any(sign in each for each in ahead('/a/bench/b/"><script>') for sign in '"<>')


@pytest.mark.parametrize(
    ("method", "path", "sent", "status"),
    [
        ("get", f"{JOB}%00", {}, 404),
        ("get", f"/api/jobs/{'x' * 300}", {}, 404),
        ("get", f"/{'x' * 3000}", {}, 200),
        ("get", "/%00", {}, 404),
        ("get", "/api/shelf?words=%00", {}, 422),
        ("get", f"{QUAY}/ports/CAGE-1/%01", {}, 404),
        ("delete", f"{JOB}/swaps/made/{10**30}?part=dress", {}, 422),
        ("put", f"/api/shelf/units?seen={10**30}", {"json": {"id": "X", "model": "hitch-arm"}}, 422),
        ("post", f"{QUAY}/edits", {"json": {**EDIT, "version": 2**63}}, 422),
        ("post", f"{QUAY}/edits", {"data": "[" * 5000, "content_type": "application/json"}, 422),
        (
            "post",
            f"{QUAY}/edits",
            {
                "data": '{"version": 1, "operations": [{"op": "detach", "unit": "\\ud800"}]}',
                "content_type": "application/json",
            },
            422,
        ),
        (
            "post",
            f"{QUAY}/edits",
            {
                "data": '{"version": 1, "operations": [{"op": "detach", "unit": "a\\u0000"}]}',
                "content_type": "application/json",
            },
            422,
        ),
        ("post", f"{QUAY}/edits", {"data": b"\xff\xfe", "content_type": "application/json"}, 422),
        ("post", f"{QUAY}/edits", {"data": b" " * 500_000, "content_type": "application/json"}, 413),
        ("put", "/api/shelf/units?seen=0", {"json": {"id": "PACK-04", "model": "tidewick-98", "cycles": 10**12}}, 422),
        ("put", "/api/shelf/units", {"json": {"id": "a\nb", "model": "tidewick-98"}}, 422),
        ("post", "/api/shelf/units.csv", {"data": '"label,model\n"x', "content_type": "text/csv"}, 200),
        ("post", "/api/shelf/units.csv", {"data": b"\xff\xfe\x00", "content_type": "text/csv"}, 422),
        ("patch", QUAY, {}, 405),
        ("post", "/api/import", {"data": b"{" * 100_000, "content_type": "application/json"}, 422),
    ],
)
def test_hostile_requests_are_refused_with_a_sentence(
    client: FlaskClient, method: str, path: str, sent: dict[str, Any], status: int
) -> None:
    answer = client.open(path, method=method, **sent)
    assert answer.status_code == status, answer.text
    if status != 200:
        assert problem(answer, status)["detail"]


def with_job(demo: JobFile, **change: Any) -> bytes:
    document = json.loads(dump(demo))
    document["job"] = {**document["job"], **change}
    return json.dumps(document).encode()


def test_files_that_no_computation_ends_on_are_refused_at_the_edge(demo: JobFile) -> None:
    whole = json.loads(dump(demo))
    part = whole["job"]["parts"][0]
    model = next(m for m in whole["models"] if m.get("shapes"))
    block = {"block": [[0, 0, 0], [100_000, 10, 10]]}
    build = whole["job"]["rigs"][0]["builds"][0]
    cases: list[tuple[bytes, str, str]] = [
        (with_job(demo, settings={"attitudes": {}}), "$.job.settings", "attitudes has nothing for: hand"),
        (with_job(demo, settings={"use": {"hand": "walking"}}), "$.job.settings", "use has nothing for: shoulder"),
        (with_job(demo, settings={"gust": 1e200}), "$.job.settings.gust", "less than or equal to 10"),
        (
            with_job(demo, parts=[{**part, "ends": "2028-03-20T22:00:00Z"}]),
            "$.job.parts[0]",
            "a part of the day lasts 48 h at most",
        ),
        (with_job(demo, zone="Mars/Base"), "$.job", "no time zone"),
        (with_job(demo, id="a b"), "$.job.id", "letters, digits and hyphens"),
        (with_job(demo, title="Two\nlines"), "$.job.title", "U+000A"),
        (with_job(demo, title="bell\u0007"), "$.job.title", "U+0007"),
        (
            with_job(
                demo,
                rigs=[{**whole["job"]["rigs"][0], "builds": [{**build, "settings": [{"unit": "GHOST"}]}]}],
                plan=[],
                charging={},
            ),
            "$.job.rigs[0].builds[0]",
            "There is no unit 'GHOST' in this build",
        ),
        (
            with_job(
                demo,
                rigs=[{**whole["job"]["rigs"][0], "builds": [{**build, "links": [build["links"][0]] * 2}]}],
                plan=[],
                charging={},
            ),
            "$.job.rigs[0].builds[0]",
            "is in this build twice",
        ),
        (
            json.dumps({**whole, "models": [{**model, "shapes": [block]}]}).encode(),
            "$.models[0].shapes[0].block[1][0]",
            "less than or equal to 5000",
        ),
        (json.dumps({**whole, "x": {f"k{i}": 1 for i in range(100_000)}}).encode(), "$.x", "has 100000 fields"),
    ]
    for raw, path, says in cases:
        with pytest.raises(BadJobFile) as refused:
            parse(raw)
        told = [p for p in refused.value.problems if says in p.message]
        assert told, (says, [str(p) for p in refused.value.problems][:3])
        assert path in [p.path for p in told] or any(p.path.startswith(path) for p in told)


def test_a_job_without_an_id_is_named_by_its_title_and_problems_are_listed_at_most_50(demo: JobFile) -> None:
    document = json.loads(dump(demo))
    del document["job"]["id"]
    assert parse(json.dumps(document).encode()).job.id == "dry-dock-opera"
    document["units"] = [{"id": f"U{i}", "model": "ghost", "odd": 1} for i in range(3000)]
    with pytest.raises(BadJobFile) as refused:
        parse(json.dumps(document).encode())
    assert len(refused.value.problems) == 51
    assert str(refused.value.problems[-1]) == "$: and 2950 more"


def test_what_the_view_cannot_show_is_not_saved_and_that_is_what_is_said(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(bench, "bench_view", lambda *_: 1 / 0)
    client.application.config["PROPAGATE_EXCEPTIONS"] = False
    told = problem(client.post(f"{QUAY}/edits", json=EDIT), 500)
    assert "Nothing was saved" in told["detail"]
    monkeypatch.undo()
    assert client.get(QUAY).get_json()["version"] == 1


def test_a_cable_replaced_by_something_that_is_none_leaves_the_rig_as_it_was(client: FlaskClient) -> None:
    before = client.get(QUAY).get_json()
    cable = before["cables"][0]["cable"]
    told = problem(
        client.post(
            f"{QUAY}/edits",
            json={"version": before["version"], "operations": [{"op": "replace", "unit": cable, "by": "CW-3"}]},
        ),
        422,
    )
    assert "a cable is replaced by a cable" in told["detail"]
    assert client.get(QUAY).get_json() == before
    assert client.get(f"{JOB}/parts/dress").status_code == 200


cells = st.text(
    st.characters(exclude_categories=("Cc", "Cs", "Zl", "Zp", "Cn"), exclude_characters="\ufffe\uffff"), max_size=12
).map(str.strip)


@given(
    st.one_of(
        cells, st.builds(lambda sign, rest: sign + rest, st.sampled_from(["=", "+", "-", "@", "'=", "''-", "'"]), cells)
    )
)
def test_no_text_of_a_csv_is_a_formula_and_every_text_comes_back(text: str) -> None:
    cell = harmless(text)
    assert not cell.startswith(("=", "+", "-", "@"))
    assert as_it_was(cell) == text
    units = {"=1+1": Unit(id="=1+1", model="m", note=text if strange_in(text) is None else "", measured_g=5.5)}
    written = units_csv(units.values())
    row = next(csv.DictReader(io.StringIO(written)))
    assert (row["label"], row["measured_g"]) == ("'=1+1", "5.5")
    shelf = Catalogue({}, {"m": None}, units)  # type: ignore[dict-item]
    plan = plan_import(written, shelf)
    assert (plan.errors, plan.changes, plan.same) == ((), (), 1)


def test_the_same_verdict_wherever_it_is_shown(client: FlaskClient, demo: JobFile) -> None:
    """Bench, strip, sheet, PDF and the command line, over all rigs of the demo in every part of the day."""
    from lift_crate.cli import _report

    told = {
        (r["part"], r["rig"]): [sum(c["level"] == level for c in r["call_outs"]) for level in ("stop", "watch")]
        for r in _report(demo)["rigs"]
    }
    for part in demo.job.parts:
        strips = {s["rig"]: s["counts"] for s in client.get(f"{JOB}/parts/{part.id}").get_json()["strips"]}
        for rig in demo.job.builds_in(part.id):
            where = f"{JOB}/parts/{part.id}/rigs/{rig}"
            shown = client.get(where).get_json()["counts"]
            sheet = client.get(f"{where}/sheet").get_json()
            counts = [shown["stops"], shown["watches"]]
            assert (
                counts
                == [strips[rig]["stops"], strips[rig]["watches"]]
                == [len(sheet["stops"]), len(sheet["watches"])]
                == told[part.id, rig]
            )
            said = f"{counts[0]} Stops, {counts[1]} Watches"
            assert said.encode() in pdf_text(client.get(f"{where}/drawing.pdf").data)


def pdf_text(raw: bytes) -> bytes:
    """What a PDF draws, its streams unpacked and the glyphs of its embedded fonts read back by their tables."""
    from tests.pdf import text_of

    return text_of(raw).encode()


def test_json_is_json_for_strict_readers(demo: JobFile, tmp_path: Any) -> None:
    """A pack that feeds nothing runs without end: null, and why."""
    from click.testing import CliRunner

    from lift_crate.cli import main

    def strict(word: str) -> None:
        raise AssertionError(f"{word} is no JSON")

    rig = demo.job.rigs[0]
    build = replace(rig.builds[0], joints=(), links=(), settings=(), body="PACK-01", held_by=None)
    idle = replace(
        demo,
        job=replace(
            demo.job,
            rigs=(replace(rig, builds=(build,)),),
            plan=tuple(a for a in demo.job.plan if a.build == build.id),
            charging=replace(demo.job.charging, walk_min={}),
            pack=PackPlan(),
        ),
    )
    for file in (demo, idle):
        path = tmp_path / "job.json"
        path.write_bytes(dump(file))
        result = CliRunner().invoke(main, ["check", "--json", str(path)])
        for each in json.loads(result.output, parse_constant=strict)["rigs"]:
            assert (each["hours"] is None) == (each["hours_missing"] is not None)
    assert catalogue_of(demo)


def test_a_bare_thing_that_nobody_knows_is_not_clear(client: FlaskClient, demo: JobFile) -> None:
    rig = demo.job.rigs[0]
    thing = replace(next(m for m in demo.models if m.body), id="box", body=None, ports=(), draw=None, shapes=())
    alone = replace(
        rig.builds[0], id=demo.job.plan[0].build, joints=(), links=(), settings=(), bends=(), body="BOX-1", held_by=None
    )
    file = replace(
        demo,
        models=(*demo.models, thing),
        units=(*demo.units, Unit(id="BOX-1", model="box")),
        job=replace(
            demo.job,
            id="bare",
            rigs=(replace(rig, builds=(alone,)),),
            plan=(demo.job.plan[0],),
            parts=(demo.job.parts[0],),
            charging=replace(demo.job.charging, walk_min={}, boxes=(), chargers=()),
            sound=SoundPlan(),
            pack=PackPlan(),
            safety=SafetyPlan(),
        ),
    )
    answer = client.post("/api/import", data=dump(file), content_type="application/json")
    assert answer.status_code == 201, answer.text
    seen = client.get(f"/api/jobs/bare/parts/{demo.job.parts[0].id}/rigs/{rig.id}").get_json()
    assert seen["counts"]["watches"] > 0
    assert any(
        f["code"] == "gear.incomplete" and "no recorded areas: lens, framing and light not judged" in f["text"]
        for f in seen["findings"]
    )
