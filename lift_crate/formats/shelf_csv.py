"""Units of the shelf as CSV, out and in: every change and every error by line before anything is written."""

from __future__ import annotations

import csv
import io
from collections.abc import Iterable, Iterator, Mapping
from dataclasses import dataclass, fields
from typing import Any, Literal

from pydantic import TypeAdapter, ValidationError

from ..core.rig.build import Catalogue, Unit
from .text import as_it_was, harmless, strange_in

__all__ = ["COLUMNS", "Change", "LineError", "Plan", "plan_import", "units_csv"]

COLUMNS = (
    "label",
    "model",
    "owner",
    "measured_g",
    "cg_x_mm",
    "cg_y_mm",
    "cg_z_mm",
    "measured_w",
    "health",
    "cycles",
    "condition",
    "note",
    "serial",
    "price",
    "bought",
    "hired_from",
    "hired_until",
)
_TEXTS = ("label", "model", "note", "serial")
_FIGURES = ("measured_g", "measured_w", "health", "cycles", "price", "bought", "hired_from", "hired_until")
_CG = ("cg_x_mm", "cg_y_mm", "cg_z_mm")
_MOST_LINES = 50_000
_MOST_TOLD = 50
"""Errors of one file that are listed."""
_units = TypeAdapter(Unit)


@dataclass(frozen=True, slots=True)
class Change:
    """What a line would do: a new unit, or fields of one that is there, old and new."""

    line: int
    unit: Unit
    kind: Literal["new", "changed"]
    fields: tuple[tuple[str, str, str], ...]
    """Name, old, new."""


@dataclass(frozen=True, slots=True)
class LineError:
    """What is wrong with a line, and in which column."""

    line: int
    column: str
    message: str

    def __str__(self) -> str:
        return f"line {self.line}, {self.column}: {self.message}"


@dataclass(frozen=True, slots=True)
class Plan:
    """Everything an import would do. With errors nothing is done."""

    changes: tuple[Change, ...]
    same: int
    errors: tuple[LineError, ...]


def units_csv(units: Iterable[Unit]) -> str:
    """Units as CSV with a header; an empty field is a figure nobody has."""
    out = io.StringIO()
    writer = csv.writer(out, lineterminator="\n")
    writer.writerow(COLUMNS)
    for unit in units:
        cg = unit.measured_cg_mm or ("", "", "")
        mass = "" if unit.measured_g is None else f"{unit.measured_g:g}"
        watts = "" if unit.measured_w is None else f"{unit.measured_w:g}"
        writer.writerow(
            (
                harmless(unit.id),
                harmless(unit.model),
                unit.owner,
                mass,
                *cg,
                watts,
                f"{unit.health:g}",
                "" if unit.cycles is None else unit.cycles,
                unit.condition,
                harmless(unit.note),
                harmless(unit.serial),
                "" if unit.price is None else f"{unit.price:g}",
                unit.bought or "",
                unit.hired_from or "",
                unit.hired_until or "",
            )
        )
    return out.getvalue()


def plan_import(text: str, catalogue: Catalogue) -> Plan:
    """Read a CSV and say what it would do, line by line; writes nothing."""
    rows = csv.DictReader(io.StringIO(text.removeprefix("\ufeff")), restkey="", strict=True)
    try:
        errors: list[LineError] = list(_header_errors(rows.fieldnames))
    except csv.Error as error:
        errors = [LineError(1, "header", f"this is no CSV: {error}")]
    if errors:
        return Plan((), 0, tuple(errors))
    changes, same, seen = [], 0, dict[str, int]()
    try:
        for row in rows:
            outcome = _line(rows.line_num, row, catalogue, seen)
            if isinstance(outcome, Change):
                changes.append(outcome)
            elif outcome is None:
                same += 1
            else:
                errors += outcome
            if rows.line_num > _MOST_LINES:
                errors.append(LineError(rows.line_num, "file", f"more than {_MOST_LINES} lines; send it in parts"))
                break
    except csv.Error as error:
        errors.append(LineError(rows.line_num, "file", f"this is no CSV: {error}"))
    if len(errors) > _MOST_TOLD:
        errors[_MOST_TOLD:] = [LineError(errors[_MOST_TOLD].line, "file", f"and {len(errors) - _MOST_TOLD} more")]
    return Plan(tuple(changes), same, tuple(errors))


def _header_errors(names: Iterable[str] | None) -> Iterator[LineError]:
    known = list(names or [])
    for missing in [c for c in ("label", "model") if c not in known]:
        yield LineError(1, missing, f"this column is missing; the header is: {','.join(COLUMNS)}")
    for extra in [c for c in known if c not in COLUMNS][:_MOST_TOLD]:
        yield LineError(1, (extra or "header")[:80], f"there is no such column; the header is: {','.join(COLUMNS)}")
    for twice in sorted({c for c in known if c in COLUMNS and known.count(c) > 1}):
        yield LineError(1, twice, "this column stands twice")


def _line(
    line: int, cells: Mapping[str, Any], catalogue: Catalogue, seen: dict[str, int]
) -> Change | list[LineError] | None:
    if "" in cells:
        return [LineError(line, "line", "it has more fields than the header")]
    row = {
        name: as_it_was(value.strip()) if name in _TEXTS else value.strip()
        for name, value in cells.items()
        if isinstance(value, str)
    }
    if strange := [(name, found) for name, value in row.items() if (found := strange_in(value, lines=name == "note"))]:
        return [LineError(line, name, f"has the character {found}, which cannot be kept") for name, found in strange]
    label = row.get("label", "")
    if label in seen:
        return [LineError(line, "label", f"'{label}' stands in line {seen[label]} already")]
    seen[label] = line
    old = catalogue.units.get(label)
    unit = _unit_of(line, row, old, catalogue)
    if isinstance(unit, list):
        return unit
    if unit == old:
        return None
    told = tuple(
        (f.name, _said(getattr(old, f.name)) if old else "", _said(getattr(unit, f.name)))
        for f in fields(Unit)
        if old is None or getattr(old, f.name) != getattr(unit, f.name)
    )
    return Change(line, unit, "changed" if old else "new", told)


def _unit_of(line: int, row: Mapping[str, str], old: Unit | None, catalogue: Catalogue) -> Unit | list[LineError]:
    """The unit of a line, or what is wrong with it."""
    document, errors = _document(line, row, old)
    if not errors and document["model"] not in catalogue.models:
        errors = [LineError(line, "model", f"there is no model '{document['model']}' on the shelf; add it first")]
    if errors:
        return errors
    try:
        return _units.validate_python(document)
    except ValidationError as error:
        return [
            LineError(line, _column(e["loc"]), f"is {e.get('input')!r}: {e['msg'].lower()}")
            for e in error.errors(include_url=False)
        ]


def _column(location: tuple[int | str, ...]) -> str:
    return {"id": "label", "measured_cg_mm": "cg_x_mm"}.get(str(location[0]), str(location[0])) if location else "line"


def _said(value: object) -> str:
    if isinstance(value, tuple):
        return ", ".join(f"{v:g}" for v in value)
    return "" if value is None else f"{value:g}" if isinstance(value, float) else str(value)


def _document(line: int, row: Mapping[str, Any], old: Unit | None) -> tuple[dict[str, Any], list[LineError]]:
    """A unit's fields from a line; columns that are not there keep what is known."""
    given = {name: (value or "").strip() for name, value in row.items() if name in COLUMNS}
    document: dict[str, Any] = {"id": given["label"], "model": given["model"], "photo": old.photo if old else ""}
    errors: list[LineError] = []
    for name in ("owner", "condition", "note", "serial"):
        if given.get(name):
            document[name] = given[name]
        elif old and name not in given:
            document[name] = getattr(old, name)
    for name in _FIGURES:
        if given.get(name):
            document[name] = given[name]
        elif old and name not in given:
            document[name] = getattr(old, name)
    if any(given.get(name) for name in _CG):
        empty = [name for name in _CG if not given.get(name)]
        errors += [LineError(line, name, "is empty; a CG has all three, or none") for name in empty]
        document["measured_cg_mm"] = [given.get(name) for name in _CG]
    elif old and not any(name in given for name in _CG):
        document["measured_cg_mm"] = old.measured_cg_mm
    if not given["label"]:
        errors.append(LineError(line, "label", "is empty; every unit has a label of its own"))
    return document, errors
