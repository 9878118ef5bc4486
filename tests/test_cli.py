"""The command line judges a file without browser or database."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import numpy as np
import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from lift_crate.cli import main
from lift_crate.formats.job_file import JobFile, catalogue_of, dump

ROOT = Path(__file__).parent.parent


@pytest.fixture
def demo_path(demo: JobFile, tmp_path: Path) -> Path:
    path = tmp_path / "demo.json"
    path.write_bytes(dump(demo))
    return path


def test_a_job_with_stops_exits_1_and_says_them(demo_path: Path) -> None:
    environment = {k: v for k, v in os.environ.items() if k != "DATABASE_URL"}
    done = subprocess.run(
        [sys.executable, "-m", "lift_crate.cli", "check", str(demo_path)],
        cwd=ROOT,
        env=environment,
        capture_output=True,
        text=True,
        check=False,
    )
    assert done.returncode == 1, done.stderr
    assert "Stop   power.over_voltage: RPLATE-1 gives RX-1 up to 16.8 V" in done.stdout


def test_a_job_without_stops_exits_0(demo: JobFile, tmp_path: Path) -> None:
    document = json.loads(dump(demo))
    document["job"]["plan"] = [a for a in document["job"]["plan"] if a["rig"] == "quay" and a["part"] == "act-3"]
    path = tmp_path / "clean.json"
    path.write_text(json.dumps(document))
    done = CliRunner().invoke(main, ["check", str(path)])
    assert done.exit_code == 0, done.output


def test_a_file_that_cannot_be_read_exits_2_with_every_place(demo: JobFile, tmp_path: Path) -> None:
    document = json.loads(dump(demo))
    document["models"][0]["mass_g"] = -1
    document["units"][0]["health"] = 0
    path = tmp_path / "bad.json"
    path.write_text(json.dumps(document))
    done = CliRunner().invoke(main, ["check", str(path)])
    assert done.exit_code == 2
    assert "$.models[0].mass_g: is -1" in done.output
    assert "$.units[0].health: is 0" in done.output
    assert CliRunner().invoke(main, ["check", str(tmp_path / "none.json")]).exit_code == 2


def test_the_export_has_the_same_call_outs_as_the_screen(client: FlaskClient, tmp_path: Path) -> None:
    path = tmp_path / "export.json"
    path.write_bytes(client.get("/api/jobs/dry-dock-opera/file").data)
    report = json.loads(CliRunner().invoke(main, ["check", str(path), "--json"]).output)
    assert len(report["rigs"]) == 20
    for rig in report["rigs"]:
        bench = client.get(f"/api/jobs/dry-dock-opera/parts/{rig['part']}/rigs/{rig['rig']}").get_json()
        assert [c["text"] for c in rig["call_outs"]] == [f["text"] for f in bench["findings"] if f["level"] != "clear"]
        assert rig["payload_g"] == round(bench["figures"]["payload_g"], 1)
        assert rig["hours"] == round(bench["figures"]["hours"], 3)


def test_the_figures_of_a_check_are_those_of_the_api_and_add_up(
    client: FlaskClient, demo_path: Path, demo: JobFile
) -> None:
    report = json.loads(CliRunner().invoke(main, ["check", str(demo_path), "--json"]).output)
    rig = next(r for r in report["rigs"] if (r["part"], r["rig"]) == ("dress", "dock-floor"))
    told = client.get("/api/jobs/dry-dock-opera/parts/dress/rigs/dock-floor/figures").get_json()["figures"]
    assert {k: rig[k] for k in told if k != "draw_w"} == {k: v for k, v in told.items() if k != "draw_w"}
    # The CG again, from the poses and each model's own.
    catalogue = catalogue_of(demo)
    carried = {p["unit"]: p for p in rig["parts"]}
    build = demo.job.planned("dress", "dock-floor")
    beyond = set(build.subtree(rig["carried"]["support"]))
    on = [u for u in carried if u not in beyond]
    cables = [k for k in build.links if {k.from_unit, k.to_unit} & set(on)]
    masses = np.array([catalogue.mass_of(u)[0] or 0.0 for u in on])
    places = np.array(
        [
            np.array(carried[u]["rotation"]) @ np.array(catalogue.cg_of(u, build.setting_of(u).focal_mm)[0])
            + carried[u]["at_mm"]
            for u in on
        ]
    )
    # Half of a cable hangs at each of its sockets.
    for link in cables:
        for unit, port in ((link.from_unit, link.from_port), (link.to_unit, link.to_port)):
            if unit in on:
                half = (catalogue.mass_of(link.cable)[0] or 0.0) / 2
                at = np.array(carried[unit]["rotation"]) @ np.array(catalogue.model_of(unit).port(port).at)
                masses = np.append(masses, half)
                places = np.vstack([places, at + carried[unit]["at_mm"]])
    assert masses.sum() == pytest.approx(rig["carried"]["payload_g"])
    assert masses @ places / masses.sum() == pytest.approx(rig["carried"]["cg_mm"], abs=1e-6)
    assert rig["ends_first"] == next(p["pack"] for p in rig["packs"] if p["first"])
    assert rig["carried"]["factor"] == 1.5
    for each in (*rig["call_outs"], *rig["clear"]):
        if each["headroom"] is not None:
            assert each["headroom"] == pytest.approx(each["limit"] - each["value"])
    assert any(each["working"] for each in rig["clear"])


def test_the_swaps_of_a_file_are_planned_without_a_server(demo: JobFile, demo_path: Path, tmp_path: Path) -> None:
    whole = CliRunner().invoke(main, ["plan", str(demo_path), "--part", "acts-1-2", "--json"])
    assert whole.exit_code == 1, whole.output
    (day,) = json.loads(whole.output)["days"]
    assert (day["part"], day["holds"]) == ("arrival", False)
    assert day["bring"]
    assert any(cure["works"] for cure in day["cures"])
    assert day["packs"] >= day["least_packs"] > 0
    assert [s["at"] for s in day["swaps"]] == sorted(s["at"] for s in day["swaps"])
    document = json.loads(dump(demo))
    document["job"]["plan"] = [a for a in document["job"]["plan"] if a["rig"] == "quay" and a["part"] == "act-3"]
    document["job"]["charging"]["boxes"] = []
    path = tmp_path / "small.json"
    path.write_text(json.dumps(document))
    small = CliRunner().invoke(main, ["plan", str(path)])
    assert small.exit_code == 0, small.output
    assert "The day holds; 1 packs" in small.output or "The day holds; 2 packs" in small.output
    assert CliRunner().invoke(main, ["plan", str(path), "--part", "nowhere"]).exit_code == 2
    assert CliRunner().invoke(main, ["plan", str(tmp_path / "none.json")]).exit_code == 2


def test_the_day_of_a_file_is_laid_out_without_a_server(demo_path: Path) -> None:
    whole = CliRunner().invoke(main, ["day", str(demo_path), "--json"])
    assert whole.exit_code == 1, whole.output
    told = json.loads(whole.output)
    assert {c["fits"] for c in told["changes"]} == {"easily", "no"}
    assert sum(p["card"] is None for p in told["cards"]) == 1
    codes = {c["code"] for c in told["call_outs"]}
    assert {
        "day.change",
        "day.two_places",
        "media.short",
        "day.no_time",
        "day.angles",
        "pool.single",
        "day.short",
    } <= codes
    assert {c for c in codes if c.startswith("sound.")} >= {"sound.sources", "sound.radio", "sound.broken"}
    sound = told["sound"]
    tenor = next(v for v in sound["voices"] if (v["voice"], v["part"]) == ("tenor", "act-3"))
    assert (tenor["wanted"], len(tenor["independent"])) == (2, 1)
    assert {p["on_khz"] for air in sound["radio"] for p in air["products"]} == {470_125, 470_925}
    assert sound["free_khz"]["tenor second radio"] == 471_025
    assert next(d["method"] for d in sound["in_step"] if d["unit"] == "CART-REC") == "timecode box"
    text = CliRunner().invoke(main, ["day", str(demo_path)]).output
    assert "mic up Tenor: " in text
    assert "2027-03-20 21:19  change stage-rail: shoulder → gimbal (Op 4)" in text
    assert "no time for it   change stage-rail" in text
    assert "Stop   day.two_places: Op 3 works Dock floor and Stage rail" in text
