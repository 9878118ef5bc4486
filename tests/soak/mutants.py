"""Lines of the program changed one at a time, to see whether a test notices: ``./run mutants``.

A sample of lines of the core, the store and the API is drawn by a seed. Each is changed in a copy of the tree, the
nearest tests are run, nearer ones first, and the share of changes that made one of them fail is printed. A change
that lives is either a test that is missing or a line that says the same after it.
"""

from __future__ import annotations

import argparse
import ast
import os
import random
import re
import shutil
import subprocess
import sys
import time
from collections.abc import Callable, Iterator, Sequence
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from functools import cache
from itertools import islice
from pathlib import Path
from queue import Queue
from tempfile import TemporaryDirectory

ROOT = Path(__file__).parent.parent.parent
ROOMS = ("lift_crate/core", "lift_crate/store", "lift_crate/web")
LEAST_KILLED = 0.85
_PATIENCE_S = 600.0
"""Tests that take longer on a changed line hang, or as good as; a user would notice."""
_FLIPPED: dict[type[ast.AST], type[ast.AST]] = {
    ast.Lt: ast.LtE,
    ast.LtE: ast.Lt,
    ast.Gt: ast.GtE,
    ast.GtE: ast.Gt,
    ast.Eq: ast.NotEq,
    ast.NotEq: ast.Eq,
    ast.Is: ast.IsNot,
    ast.IsNot: ast.Is,
    ast.In: ast.NotIn,
    ast.NotIn: ast.In,
    ast.And: ast.Or,
    ast.Or: ast.And,
    ast.Add: ast.Sub,
    ast.Sub: ast.Add,
    ast.Mult: ast.Div,
    ast.Div: ast.Mult,
    ast.FloorDiv: ast.Div,
    ast.Mod: ast.Mult,
}
_OTHER_NAME = {"min": "max", "max": "min", "any": "all", "all": "any"}


@dataclass(frozen=True)
class Change:
    """One line, changed: the file, its place, and what is written there instead."""

    file: str
    line: int
    column: int
    end_line: int
    end_column: int
    new: str

    def of(self, text: str) -> str:
        """The file's text with the change in it."""
        # Columns of the syntax tree count bytes.
        lines = text.encode().splitlines(keepends=True)
        before, after = lines[self.line - 1][: self.column], lines[self.end_line - 1][self.end_column :]
        return b"".join((*lines[: self.line - 1], before, self.new.encode(), after, *lines[self.end_line :])).decode()


class _Changes(ast.NodeVisitor):
    """Every change that can be made to a file. What only describes it (annotations, docstrings, what a module gives
    out, decorators) is left as it is: no test reads that.
    """

    def __init__(self, file: str) -> None:
        self.file, self.found = file, list[Change]()

    def _instead(self, node: ast.expr | ast.stmt, new: ast.AST | str) -> None:
        assert node.end_lineno is not None
        assert node.end_col_offset is not None
        text = new if isinstance(new, str) else f"({ast.unparse(new)})"
        self.found.append(Change(self.file, node.lineno, node.col_offset, node.end_lineno, node.end_col_offset, text))

    def visit_FunctionDef(self, node: ast.FunctionDef) -> None:
        for default in (*node.args.defaults, *(d for d in node.args.kw_defaults if d)):
            self.visit(default)
        for statement in node.body:
            self.visit(statement)

    def visit_ClassDef(self, node: ast.ClassDef) -> None:
        for statement in node.body:
            self.visit(statement)

    def visit_AnnAssign(self, node: ast.AnnAssign) -> None:
        if node.value:
            self.visit(node.value)

    def visit_Assign(self, node: ast.Assign) -> None:
        if not any(isinstance(target, ast.Name) and target.id == "__all__" for target in node.targets):
            self.visit(node.value)

    def visit_If(self, node: ast.If) -> None:
        if not (isinstance(node.test, ast.Name) and node.test.id == "TYPE_CHECKING"):
            self.generic_visit(node)

    def visit_Compare(self, node: ast.Compare) -> None:
        for place, op in enumerate(node.ops):
            ops = [*node.ops]
            ops[place] = _FLIPPED[type(op)]()  # type: ignore[call-overload]
            self._instead(node, ast.Compare(node.left, ops, node.comparators))
        self.generic_visit(node)

    def visit_BoolOp(self, node: ast.BoolOp) -> None:
        self._instead(node, ast.BoolOp(_FLIPPED[type(node.op)](), node.values))  # type: ignore[arg-type]
        self.generic_visit(node)

    def visit_BinOp(self, node: ast.BinOp) -> None:
        if type(node.op) in _FLIPPED and not isinstance(node.left, ast.JoinedStr | ast.Constant | ast.List | ast.Tuple):
            self._instead(node, ast.BinOp(node.left, _FLIPPED[type(node.op)](), node.right))  # type: ignore[arg-type]
        self.generic_visit(node)

    def visit_UnaryOp(self, node: ast.UnaryOp) -> None:
        if isinstance(node.op, ast.Not | ast.USub):
            self._instead(node, node.operand)
        self.generic_visit(node)

    def visit_Constant(self, node: ast.Constant) -> None:
        if node.value is True or node.value is False:
            self._instead(node, str(not node.value))
        elif isinstance(node.value, int | float):
            self._instead(node, str(node.value + 1 if isinstance(node.value, int) else node.value * 1.5 + 0.5))

    def visit_Call(self, node: ast.Call) -> None:
        if isinstance(node.func, ast.Name) and node.func.id in _OTHER_NAME:
            self._instead(node.func, _OTHER_NAME[node.func.id])
        for inner in (node.func, *node.args, *(k.value for k in node.keywords if k.arg != "strict")):
            self.visit(inner)

    def visit_Return(self, node: ast.Return) -> None:
        if node.value is not None and not isinstance(node.value, ast.Constant):
            self._instead(node.value, "None")
        self.generic_visit(node)

    def visit_Expr(self, node: ast.Expr) -> None:
        if isinstance(node.value, ast.Constant):
            return
        text = ast.unparse(node)
        if not re.match(r"_log\.|warnings\.", text) and not isinstance(node.value, ast.Yield):
            self._instead(node, "pass")
        self.generic_visit(node)

    def visit_Continue(self, node: ast.Continue) -> None:
        self._instead(node, "break")


def changes_of(file: str) -> list[Change]:
    """Every change to a Python file."""
    visitor = _Changes(file)
    visitor.visit(ast.parse((ROOT / file).read_text()))
    return visitor.found


def holds(change: Change) -> bool:
    """Whether what is written is still a program, and another one."""
    text = (ROOT / change.file).read_text()
    new = change.of(text)
    try:
        return not change.file.endswith(".py") or ast.dump(ast.parse(new)) != ast.dump(ast.parse(text))
    except SyntaxError:
        return False


_SQL = (
    (" <= ", " < "),
    (" < ", " <= "),
    (" >= ", " > "),
    (" > ", " >= "),
    (" AND ", " OR "),
    (" DESC", ""),
    (" NOT ", " "),
)


def changes_of_sql(file: str) -> list[Change]:
    """Every change to the statements of a file of them."""
    found = []
    for number, line in enumerate((ROOT / file).read_text().splitlines(), 1):
        if line.startswith("--"):
            continue
        for old, new in _SQL:
            for at in (match.start() for match in re.finditer(re.escape(old), line)):
                start = len(line[:at].encode())
                found.append(Change(file, number, start, number, start + len(old), new))
    return found


def sampled(seed: int, most: int) -> list[Change]:
    """One change to each of so many lines, drawn from all lines that can be changed."""
    chance = random.Random(seed)  # noqa: S311 - a sample, no secret
    by_line: dict[tuple[str, int], list[Change]] = {}
    for room in ROOMS:
        for path in sorted((ROOT / room).rglob("*")):
            file = str(path.relative_to(ROOT))
            found = changes_of(file) if path.suffix == ".py" else changes_of_sql(file) if "/queries/" in file else []
            for change in found:
                by_line.setdefault((change.file, change.line), []).append(change)
    lines = sorted(by_line)
    chance.shuffle(lines)
    # One after the other until there are enough: a larger sample of a seed begins with the smaller one.
    drawn = (chance.choice(by_line[line]) for line in lines)
    return list(islice((change for change in drawn if holds(change)), most))


@cache
def _test_files() -> dict[str, str]:
    return {
        str(path.relative_to(ROOT)): path.read_text()
        for path in sorted((ROOT / "tests").rglob("test_*.py"))
        if not {"e2e", "system"} & set(path.parts)
    }


def _imports(module: str) -> Callable[[str], bool]:
    package, _, name = module.rpartition(".")
    pattern = re.compile(
        rf"^from {re.escape(module)} import |^from {re.escape(package)} import (?:\([^)]*|[^(\n]*)\b{name}\b",
        re.MULTILINE,
    )
    return lambda text: bool(pattern.search(text))


def nearest(file: str) -> Iterator[list[str]]:
    """Test modules for a file, in groups, nearer ones first: those of its name or that import it from its own room;
    the others of that room and that import it; then all of the core, or of the store and the API.
    """
    path = Path(file)
    module = ".".join(path.with_suffix("").parts)
    tests = _test_files()
    room = f"tests/{path.parts[1]}"
    for part in path.parts[2:-1]:
        if any(name.startswith(f"{room}/{part}/") for name in tests):
            room = f"{room}/{part}"
    imports = _imports(module) if path.suffix == ".py" else lambda _: False
    named = {name for name in tests if Path(name).stem == f"test_{path.stem}"}
    importing = {name for name, text in tests.items() if imports(text)}
    inside = {name for name in tests if name.startswith(f"{room}/")}
    groups = [
        {name for name in named | importing if name.startswith(room)},
        named | importing,
        inside if "/core/" in file else set(),
        {name for name in tests if name.startswith("tests/core") and "/core/" in file},
        set() if "/core/" in file else {name for name in tests if name.startswith(("tests/store", "tests/web"))},
    ]
    ran: set[str] = set()
    for group in groups:
        if new := sorted(group - ran):
            yield new
            ran |= group


class Copies:
    """Copies of the tree that changes are tried in, one a processor."""

    def __init__(self, home: Path, count: int) -> None:
        self.free: Queue[Path] = Queue()
        for number in range(count):
            copy = home / str(number)
            copy.mkdir()
            for name in ("lift_crate", "tests", "docs", "pyproject.toml", "README.md", "requirements.lock", "run"):
                source = ROOT / name
                (shutil.copytree if source.is_dir() else shutil.copy)(source, copy / name)
            # What the front end was built from is asked for by some tests; it is not changed.
            (copy / "frontend").symlink_to(ROOT / "frontend")
            self.free.put(copy)

    def tried(self, change: Change) -> tuple[bool, float]:
        """Whether a test noticed, and after how many seconds."""
        copy = self.free.get()
        target = copy / change.file
        text = target.read_text()
        began = time.monotonic()
        try:
            target.write_text(change.of(text))
            return any(not self._passes(copy, tests) for tests in nearest(change.file)), time.monotonic() - began
        finally:
            target.write_text(text)
            self.free.put(copy)

    @staticmethod
    def _passes(copy: Path, tests: Sequence[str]) -> bool:
        command = [sys.executable, "-B", "-m", "pytest", "-x", "-q", "-p", "no:cacheprovider", *tests]
        try:
            ran = subprocess.run(
                command,
                cwd=copy,
                check=False,
                capture_output=True,
                timeout=_PATIENCE_S,
                env={**os.environ, "PYTHONPATH": str(copy)},
            )
        except subprocess.TimeoutExpired:
            return False
        return ran.returncode in (0, 5)


def shown(change: Change) -> str:
    """Place, line as it is, and what stood there instead."""
    old = (ROOT / change.file).read_text().splitlines()[change.line - 1].strip()
    return f"{change.file}:{change.line}  {old}\n      -> {change.new}"


def main(asked: Sequence[str]) -> int:
    """Try a sample; prints every change that lives, and the share that does not."""
    wanted = argparse.ArgumentParser(prog="./run mutants", description=__doc__)
    wanted.add_argument("--seed", type=int, default=29, help="which sample")
    wanted.add_argument("--most", type=int, default=60, help="how many lines")
    wanted.add_argument("--only", default="", help="of the sample, those whose place holds this text")
    chosen = wanted.parse_args(asked)
    changes = [change for change in sampled(chosen.seed, chosen.most) if chosen.only in f"{change.file}:{change.line}"]
    killed = 0
    with TemporaryDirectory() as home, ThreadPoolExecutor(2) as beside:
        copies = Copies(Path(home), 2)
        for change, (noticed, took_s) in zip(changes, beside.map(copies.tried, changes), strict=True):
            killed += noticed
            print(f"{'killed' if noticed else 'LIVES '} {took_s:4.0f} s  {shown(change)}", flush=True)
    share = killed / len(changes)
    print(f"{killed} of {len(changes)} killed: {share:.0%} (at least {LEAST_KILLED:.0%}; seed {chosen.seed})")
    return int(share < LEAST_KILLED)


if __name__ == "__main__":
    sys.exit(main(sys.argv[1:]))
