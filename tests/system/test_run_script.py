"""The database that ``./run`` keeps gets up by itself, whatever killed it and whenever."""

from __future__ import annotations

import json
import os
import re
import shutil
import signal
import socket
import subprocess
import time
from collections.abc import Iterator
from pathlib import Path

import pytest

from tests.conftest import ROOT
from tests.kit import until

APPLICATION = "('lift_crate_app', False, False, False)"
"""Who the application is: no superuser."""


class Folder:
    """A copy of the script in a folder of its own, with the program beside it."""

    def __init__(self, path: Path) -> None:
        self.path = path
        shutil.copy(ROOT / "run", path / "run")
        for name in (".venv", "lift_crate"):
            (path / name).symlink_to(ROOT / name)
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = str(probe.getsockname()[1])

    def begin(self, then: str) -> subprocess.Popen[str]:
        """Run functions of the script."""
        env = {
            **{k: v for k, v in os.environ.items() if k not in ("DATABASE_URL", "ADMIN_URL")},
            "LIFT_CRATE_PG_PORT": self.port,
            "LIFT_CRATE_PG_OPTIONS": "-c fsync=off",
        }
        return subprocess.Popen(
            ["bash", "-c", f"set -- help; source ./run >/dev/null; {then}"],
            cwd=self.path,
            env=env,
            stdout=subprocess.PIPE,
            text=True,
            start_new_session=True,
        )

    def run(self, then: str) -> str:
        process = self.begin(then)
        told, _ = process.communicate(timeout=240)
        assert process.returncode == 0, told
        return told.strip()

    def ready(self) -> str:
        """Bring the database up and ask it something."""
        return self.run(
            'database_ready; "$PYTHON" -c "import os, psycopg;'
            " print(psycopg.connect(os.environ['DATABASE_URL']).execute('SELECT current_user, rolsuper, rolcreaterole,"
            " rolbypassrls FROM pg_roles WHERE rolname = current_user').fetchone())\""
        )


@pytest.fixture
def folder(tmp_path: Path) -> Iterator[Folder]:
    made = Folder(tmp_path)
    yield made
    home = made.run("stop_database >/dev/null; database_home")
    shutil.rmtree(home, ignore_errors=True)


def test_killed_while_the_cluster_is_made(folder: Folder) -> None:
    making = Path(folder.run("mkdir -p .data; database_home") + ".making")
    begun = folder.begin("database_ready")
    while not (making / "base").is_dir():
        assert begun.poll() is None
        time.sleep(0.01)
    os.killpg(begun.pid, signal.SIGKILL)
    with begun:
        pass
    assert folder.ready() == APPLICATION


def test_killed_and_its_number_taken_by_something_else(folder: Folder) -> None:
    assert folder.ready() == APPLICATION
    note = Path(folder.run("database_home")) / "postmaster.pid"
    lines = note.read_text().splitlines()
    os.kill(int(lines[0]), signal.SIGKILL)
    until(lambda: not Path(f"/proc/{lines[0]}").exists())
    note.write_text("\n".join([str(os.getpid()), *lines[1:]]) + "\n")
    assert folder.ready() == APPLICATION


def test_the_container_file_asks_for_what_there_is() -> None:
    """Its steps, where there is no engine to build it: what it runs is a command of ours, with its options."""
    steps = [line.split(" ", 1) for line in (ROOT / "Containerfile").read_text().splitlines() if line[:1].isupper()]
    by_kind: dict[str, list[str]] = {}
    for kind, rest in steps:
        by_kind.setdefault(kind, []).append(rest)
    commands = set(re.findall(r"^  ([a-z|]+)\)", (ROOT / "run").read_text(), re.MULTILINE))
    known = {name for each in commands for name in each.split("|")}
    runs = [rest for rest in by_kind["RUN"] if rest.startswith("./run ")]
    (start,) = by_kind["CMD"]
    assert {rest.split()[1] for rest in runs} | {json.loads(start)[0]} <= known
    assert json.loads(by_kind["ENTRYPOINT"][0]) == ["./run"]
    options = subprocess.run(
        [ROOT / ".venv" / "bin" / "python", "-m", "lift_crate.cli", "serve", "--help"],
        cwd=ROOT,
        capture_output=True,
        text=True,
        check=True,
    ).stdout
    assert all(option in options for option in json.loads(start)[1:])
    assert by_kind["EXPOSE"] == re.findall(r"lan-port INTEGER\s+\[default: (\d+)\]", options)
