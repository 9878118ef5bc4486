"""Everything that must hold, on two processors: what only reads the source beside the tests.

``./run test`` runs it whole, ``./run test PATH…`` what pytest is told, after the same readings, and
``./run test --coverage`` the long form that counts the core's branches. The time of every part is told at the end.
"""

from __future__ import annotations

import subprocess
import sys
import time
from collections.abc import Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from pathlib import Path

ROOT = Path(__file__).parent.parent
PYTHON = sys.executable
BIN = Path(PYTHON).parent
ON_BOTH = ("-n", "2", "--dist", "worksteal")
LEAST_COVERED = 95


@dataclass(frozen=True)
class Part:
    """A command and what it is called; ``live``: what it tells is shown as it comes."""

    name: str
    command: tuple[str, ...]
    live: bool = False


def pytest_of(name: str, *chosen: str) -> Part:
    """A run of pytest."""
    return Part(name, (PYTHON, "-m", "pytest", *chosen), live=True)


READINGS: tuple[Part, ...] = (
    Part("lint", (str(BIN / "ruff"), "check", ".")),
    Part("layout", (str(BIN / "ruff"), "format", "--check", "--quiet", ".")),
    Part("import rules", (str(BIN / "lint-imports"),)),
    Part("API types", ("npm", "run", "--silent", "--prefix", "frontend", "types", "--", "--check")),
    Part("types", (str(BIN / "mypy"),)),
    Part("front end: types, lint and tests", ("npm", "run", "--silent", "--prefix", "frontend", "check")),
)
"""They change nothing, so that they run beside the tests."""
_OWN_RUN = ("core", "e2e", "system")
RUNS: tuple[Part, ...] = (
    pytest_of("core", *ON_BOTH, "--durations=15", "tests/core"),
    pytest_of(
        "formats, store, devices, API", *ON_BOTH, "--durations=15", *(f"--ignore=tests/{room}" for room in _OWN_RUN)
    ),
    pytest_of("browser", *ON_BOTH, "--durations=15", "tests/e2e"),
    pytest_of("processes", "--durations=5", "tests/system"),
)
COVERED = pytest_of(
    "core, its branches counted",
    *ON_BOTH,
    "--cov=lift_crate/core",
    "--cov-branch",
    "--cov-report=term:skip-covered",
    f"--cov-fail-under={LEAST_COVERED}",
    "tests/core",
)


@dataclass
class Outcome:
    """What came of every part, and how long it took."""

    took_s: dict[str, float] = field(default_factory=dict)
    failed: list[str] = field(default_factory=list)

    def run(self, parts: Sequence[Part]) -> None:
        """One after the other; after a failure, anywhere, nothing more is begun."""
        for part in parts:
            if self.failed:
                return
            if part.live:
                print(f"== {part.name}", flush=True)
            began = time.monotonic()
            # Nobody reads what a reading that found nothing has to say.
            out = None if part.live else subprocess.PIPE
            done = subprocess.run(
                part.command, cwd=ROOT, check=False, text=True, stdout=out, stderr=out and subprocess.STDOUT
            )
            self.took_s[part.name] = time.monotonic() - began
            if done.returncode:
                self.failed.append(part.name)
                print(f"{done.stdout or ''}== failed: {part.name}", flush=True)

    def told(self) -> str:
        """A line a part."""
        return "\n".join(f"== {took_s:6.0f} s  {name}" for name, took_s in self.took_s.items())


def main(asked: Sequence[str]) -> int:
    began, outcome = time.monotonic(), Outcome()
    chosen = (COVERED,) if "--coverage" in asked else (pytest_of("chosen", *asked),) if asked else RUNS
    with ThreadPoolExecutor() as beside:
        readings = beside.submit(outcome.run, READINGS)
        outcome.run(chosen)
        readings.result()
    print(f"{outcome.told()}\n== {time.monotonic() - began:6.0f} s  in all")
    if outcome.failed:
        print(f"== failed: {', '.join(outcome.failed)}")
    return int(bool(outcome.failed))


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
