"""Everything that must hold, in the order in which it fails fastest; extra arguments go to pytest."""

from __future__ import annotations

import subprocess
import sys
from pathlib import Path

ROOT = Path(__file__).parent.parent
PYTHON = sys.executable
BIN = Path(PYTHON).parent

STEPS: tuple[tuple[str, list[str]], ...] = (
    ("lint", [str(BIN / "ruff"), "check", "."]),
    ("layout", [str(BIN / "ruff"), "format", "--check", "--quiet", "."]),
    ("types", [str(BIN / "mypy")]),
    ("import rules", [str(BIN / "lint-imports")]),
    ("front end: types and lint", ["npm", "run", "--silent", "--prefix", "frontend", "check"]),
)


COVERED = [
    "--cov=lift_crate/core",
    "--cov-branch",
    "--cov-report=term:skip-covered",
    "--cov-fail-under=95",
    "--durations=20",
]
RUNS: tuple[tuple[str, list[str]], ...] = (
    ("core: on two processors", ["-n", "2", "--dist", "worksteal", *COVERED, "tests/core"]),
    (
        "formats, store, devices, API: on two processors",
        [
            "-n",
            "2",
            "--dist",
            "worksteal",
            "--durations=20",
            *(f"--ignore=tests/{room}" for room in ("core", "e2e", "system")),
        ],
    ),
    ("processes: one after the other", ["tests/system"]),
    ("browser: on two processors", ["-n", "2", "--dist", "worksteal", "tests/e2e"]),
)


def api_types_are_up_to_date() -> bool:
    """The front end's types are those that the published OpenAPI gives."""
    kept = ROOT / "frontend" / "src" / "api" / "schema.gen.ts"
    before = kept.read_bytes()
    subprocess.run(
        ["npm", "run", "--silent", "--prefix", "frontend", "types"], cwd=ROOT, check=True, stdout=subprocess.DEVNULL
    )
    return kept.read_bytes() == before


def main() -> int:
    for name, command in STEPS:
        print(f"== {name}", flush=True)
        if subprocess.run(command, cwd=ROOT, check=False).returncode:
            print(f"== failed: {name}")
            return 1
    print("== API types", flush=True)
    if not api_types_are_up_to_date():
        print("== failed: the API has changed; run './run contracts' and commit what it makes")
        return 1
    rest = sys.argv[1:]
    for name, chosen in () if rest else RUNS:
        print(f"== {name}", flush=True)
        if subprocess.run([PYTHON, "-m", "pytest", *chosen], cwd=ROOT, check=False).returncode:
            print(f"== failed: {name}")
            return 1
    return subprocess.run([PYTHON, "-m", "pytest", *rest], cwd=ROOT, check=False).returncode if rest else 0


if __name__ == "__main__":
    sys.exit(main())
