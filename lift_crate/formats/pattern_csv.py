"""Models of one kind as CSV: a column a question, a line a model; every error by its line and column."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from typing import Any

from ..core.gear.interface import Interface
from ..core.gear.model import GearModel
from ..core.gear.patterns import BadAnswers, Known, Pattern, Question, model_by
from .shelf_csv import LineError
from .text import as_it_was, strange_in

__all__ = ["NewLine", "PatternPlan", "pattern_template", "plan_models"]

_UNITS = ("label", "count", "owner")
_MOST_LINES = 2000
_MOST_TOLD = 50
_YES = {"yes": True, "y": True, "true": True, "1": True, "no": False, "n": False, "false": False, "0": False}


@dataclass(frozen=True, slots=True)
class NewLine:
    """A line's model, the interfaces it brings, its units, and what is doubted of it."""

    line: int
    model: GearModel
    interfaces: tuple[Interface, ...]
    label: str
    count: int
    owner: str
    doubts: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class PatternPlan:
    """Everything an import would add. With errors nothing is added."""

    lines: tuple[NewLine, ...]
    errors: tuple[LineError, ...]


def _asked(pattern: Pattern) -> tuple[Question, ...]:
    """Questions with one answer; lists of things are entered on the screen."""
    return tuple(q for q in pattern.asked if q.kind != "rows")


def pattern_template(pattern: Pattern) -> str:
    """An empty CSV with a column for each question, and for the units that there are."""
    out = io.StringIO()
    csv.writer(out, lineterminator="\n").writerow((*(q.key for q in _asked(pattern)), *_UNITS))
    return out.getvalue()


def plan_models(text: str, pattern: Pattern, known: Known) -> PatternPlan:
    """Read a CSV of models of one kind and say what it would add; writes nothing."""
    columns = {q.key: q for q in _asked(pattern)}
    try:
        rows = list(csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), restkey="", strict=True))
    except csv.Error as error:
        return PatternPlan((), (LineError(1, "file", f"this is no CSV: {error}"),))
    names = list(rows[0]) if rows else []
    wrong = [
        LineError(1, str(n)[:80] or "line", "there is no such column") for n in names if n not in (*columns, *_UNITS)
    ]
    if not rows:
        wrong = [LineError(1, "file", "there is no line under the header; the first model stands in line 2")]
    if len(rows) > _MOST_LINES:
        wrong.append(LineError(_MOST_LINES, "file", f"more than {_MOST_LINES} lines; send it in parts"))
    if wrong:
        return PatternPlan((), tuple(wrong[:_MOST_TOLD]))
    made: list[NewLine] = []
    errors: list[LineError] = []
    interfaces, models = dict(known.interfaces), dict(known.models)
    for line, row in enumerate(rows, start=2):
        cells = {name: as_it_was((value or "").strip()) for name, value in row.items() if isinstance(value, str)}
        found = list(_cell_errors(line, cells, columns))
        if found:
            errors += found
            continue
        answers = {name: _answer(columns[name], cell) for name, cell in cells.items() if name in columns and cell}
        try:
            drawn = model_by(pattern.id, answers, Known(interfaces, models))
        except BadAnswers as error:
            errors += [LineError(line, p.path or "line", p.message) for p in error.problems]
            continue
        interfaces |= {i.id: i for i in drawn.interfaces}
        models[drawn.model.id] = drawn.model
        doubts = tuple(message for _, message in drawn.doubts)
        label, count, owner = cells.get("label", ""), int(cells.get("count") or 1), cells.get("owner") or "owned"
        made.append(NewLine(line, drawn.model, drawn.interfaces, label, count, owner, doubts))
    return PatternPlan(() if errors else tuple(made), tuple(errors[:_MOST_TOLD]))


def _cell_errors(line: int, cells: Mapping[str, str], columns: Mapping[str, Question]) -> Iterator[LineError]:
    for name, cell in cells.items():
        if strange := strange_in(cell):
            yield LineError(line, name, f"has the character {strange}, which cannot be kept")
        q = columns.get(name)
        if q and cell and q.kind == "number" and _number(cell) is None:
            yield LineError(line, name, f"is '{cell[:40]}'; enter a number{f' in {q.unit}' if q.unit else ''}")
        if q and cell and q.kind == "yes" and cell.lower() not in _YES:
            yield LineError(line, name, f"is '{cell[:40]}'; yes or no")
    count, owner = cells.get("count", ""), cells.get("owner", "")
    if count and not (count.isascii() and count.isdigit() and 1 <= int(count) <= 200):
        yield LineError(line, "count", f"is '{count[:40]}'; 1 to 200")
    if owner not in ("", "owned", "hired"):
        yield LineError(line, "owner", f"is '{owner[:40]}'; owned or hired")


def _number(cell: str) -> float | None:
    try:
        return float(cell.replace(",", "."))
    except ValueError:
        return None


def _answer(q: Question, cell: str) -> Any:  # noqa: ANN401 - what the question takes
    if q.kind == "number":
        return _number(cell)
    if q.kind == "yes":
        return _YES[cell.lower()]
    if q.kind == "many":
        return [part.strip() for part in cell.split(";") if part.strip()]
    return cell
