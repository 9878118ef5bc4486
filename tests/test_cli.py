"""The command line judges a file without browser or database."""

from __future__ import annotations

import json
import os
import subprocess
import sys
from pathlib import Path

import pytest
from click.testing import CliRunner
from flask.testing import FlaskClient

from lift_crate.cli import main
from lift_crate.formats.job_file import JobFile, dump

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
