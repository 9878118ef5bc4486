"""What a pattern asks, and the answers: read, bounded, and told apart into entered and assumed."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass, field
from typing import Literal

from ...errors import LiftCrateError
from ..doubts import Wrong
from ..interface import Family, ImpossibleInterface, Interface
from ..labels import slug
from ..model import GearModel

__all__ = ["Answer", "Answers", "BadAnswers", "Known", "Question", "Rows"]

Answer = float | str | bool | None | Sequence["Answer"] | Mapping[str, "Answer"]
Rows = tuple[Mapping[str, float | str | bool | None], ...]
_MOST_ROWS = 40
_HARD_MAX = 1_000_000.0
_NEW_FIGURES = ("flange_mm", "throat_mm", "diameter_mm", "pitch_mm", "spacing_mm", "below_axis_mm", "width_mm")


@dataclass(frozen=True, kw_only=True)
class Question:
    """One question of a pattern. A number outside ``low`` to ``high`` is asked about once more."""

    key: str
    label: str
    kind: Literal["number", "text", "choice", "yes", "many", "interface", "model", "rows"] = "number"
    unit: str = ""
    low: float | None = None
    high: float | None = None
    typical: float | str | bool | Rows | None = None
    """What is taken, and marked assumed, where it is not known; None: it stays unknown."""
    required: bool = False
    more: bool = False
    """It is asked only by those who want more."""
    feeds: str = ""
    """Checks that rest on it."""
    choices: tuple[str, ...] = ()
    families: tuple[Family, ...] = ()
    """Families of interface to choose from; one that is not there yet can be described."""
    columns: tuple[Question, ...] = ()
    """Rows: what is asked of each."""
    field: str = ""
    """Where the answer stands in the model."""


class BadAnswers(LiftCrateError, ValueError):
    """Answers that no model can be made from, each with its question and what would be right."""

    code = "pattern.answers"

    def __init__(self, problems: Sequence[tuple[str, str]]) -> None:
        self.problems = tuple(Wrong(*problem) for problem in problems)

    def __str__(self) -> str:
        first = self.problems[0].message if self.problems else ""
        rest = f" And {len(self.problems) - 1} more." if len(self.problems) > 1 else ""
        return f"{first}{rest}"


@dataclass(frozen=True, slots=True)
class Known:
    """Interfaces and models that a pattern can refer to."""

    interfaces: Mapping[str, Interface]
    models: Mapping[str, GearModel]


@dataclass
class _Told:
    """What was found while answers were read: shared by the rows of one form."""

    problems: list[tuple[str, str]] = field(default_factory=list)
    doubts: list[tuple[str, str]] = field(default_factory=list)
    assumed: list[str] = field(default_factory=list)
    made: dict[str, Interface] = field(default_factory=dict)


class Answers:
    """The answers to some questions. Reading what is missing takes what is typical and notes it as assumed."""

    def __init__(
        self,
        questions: Sequence[Question],
        given: Mapping[str, Answer],
        known: Known,
        path: str = "",
        told: _Told | None = None,
    ) -> None:
        self._questions = {q.key: q for q in questions}
        self._given, self.known, self._path = given, known, path
        self._told = told or _Told()
        for key in given:
            if key not in self._questions:
                self.problem(key, f"There is no question '{key}' here.")

    def problem(self, key: str, message: str) -> None:
        """Note what is wrong with an answer."""
        self._told.problems.append((self._path + key, message))

    @property
    def assumed(self) -> tuple[str, ...]:
        """Places in the model that were filled with what is typical."""
        return tuple(dict.fromkeys(self._told.assumed))

    @property
    def doubts(self) -> tuple[tuple[str, str], ...]:
        """Answers outside what is believed, each with its question."""
        return tuple(dict.fromkeys(self._told.doubts))

    @property
    def made(self) -> tuple[Interface, ...]:
        """Interfaces that were described and are not there yet."""
        return tuple(self._told.made.values())

    def close(self) -> None:
        """Raises BadAnswers when anything was wrong."""
        if self._told.problems:
            raise BadAnswers(list(dict.fromkeys(self._told.problems)))

    def is_known(self, key: str) -> bool:
        """Whether somebody entered it."""
        return self._given.get(key) not in (None, "")

    def maybe(self, key: str) -> float | None:
        """A number, or None where it is not known."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            if q.required:
                self.problem(key, f"Enter {_lower(q.label)}{_unit(q)}.")
            return None
        if isinstance(value, bool) or not isinstance(value, (int, float)) or not math.isfinite(value):
            self.problem(key, f"{q.label} is {str(value)[:40]!r}; enter a number{_unit(q)}.")
            return None
        least = 0.0 if q.low is not None and q.low >= 0 else -_HARD_MAX
        if not least <= value <= _HARD_MAX or (value == 0 and q.low is not None and q.low > 0):
            self.problem(key, f"{q.label} is {value:g}{_unit(q, '')}; {_believed(q)}.")
            return None
        if (q.low is not None and value < q.low) or (q.high is not None and value > q.high):
            self._told.doubts.append((self._path + key, f"{q.label} is {value:g}{_unit(q, '')}; {_believed(q)}."))
        return float(value)

    def number(self, key: str) -> float:
        """A number; what is typical where it is not known."""
        value = self.maybe(key)
        if value is not None:
            return value
        q = self._questions[key]
        if isinstance(q.typical, (int, float)):
            if not self.is_known(key):
                self._told.assumed.append(q.field or q.key)
            return float(q.typical)
        return 1.0

    def text(self, key: str) -> str:
        """A text, stripped; what is typical where nothing was entered."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            if q.required:
                self.problem(key, f"Enter {_lower(q.label)}.")
            return q.typical if isinstance(q.typical, str) else ""
        if not isinstance(value, str) or len(value) > 200 or not value.strip():
            self.problem(key, f"{q.label} needs words, 200 letters at most.")
            return "?"
        return value.strip()

    def choice(self, key: str) -> str:
        """One of the choices; the typical one, else the first, where none was made."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            return q.typical if isinstance(q.typical, str) else q.choices[0]
        if value not in q.choices:
            self.problem(key, f"{q.label} is {str(value)[:40]!r}; choose one of: {', '.join(q.choices)}.")
            return q.choices[0]
        return str(value)

    def many(self, key: str) -> tuple[str, ...]:
        """Some of the choices."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            return ()
        chosen = list(value) if isinstance(value, Sequence) and not isinstance(value, str) else [value]
        strange = [str(v)[:40] for v in chosen if v not in q.choices]
        if strange:
            self.problem(key, f"{q.label}: there is no {', '.join(strange)}; choose from: {', '.join(q.choices)}.")
        return tuple(c for c in q.choices if c in chosen)

    def yes(self, key: str) -> bool:
        """Yes or no."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            return bool(q.typical)
        if not isinstance(value, bool):
            self.problem(key, f"{q.label}: yes or no.")
        return value is True

    def rows(self, key: str) -> Iterator[Answers]:
        """Each row of a list; the usual ones where nothing was said of it."""
        q, value = self._questions[key], self._given.get(key)
        given: Sequence[object] = ()
        if value is None:
            given = q.typical if isinstance(q.typical, tuple) else ()
            if given and q.field:
                self._told.assumed.append(q.field)
        elif isinstance(value, Sequence) and not isinstance(value, str):
            given = value
        else:
            self.problem(key, f"{q.label} is a list.")
        if len(given) > _MOST_ROWS:
            self.problem(key, f"{q.label} has {len(given)} rows; {_MOST_ROWS} at most.")
        for i, row in enumerate(given[:_MOST_ROWS]):
            if isinstance(row, Mapping):
                yield Answers(q.columns, row, self.known, f"{self._path}{key}.{i}.", self._told)
            else:
                self.problem(key, f"{q.label}, row {i + 1}: give its figures.")

    def interface(self, key: str) -> Interface:
        """An interface that is there, or one that was described: it is made then."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            value = q.typical if isinstance(q.typical, str) else None
        family: Family = q.families[0]
        nothing = Interface(id="none", label="none", kind=family, **_LEAST.get(family, {}))  # type: ignore[arg-type]  # figures alone
        if value is None:
            self.problem(key, f"Choose {_lower(q.label)}, or describe a new one.")
            return nothing
        if isinstance(value, Mapping):
            return self._new(q, value) or nothing
        known = self.known.interfaces.get(str(value)) or self._told.made.get(str(value))
        if known is None or known.kind not in q.families:
            self.problem(key, f"{q.label}: there is no '{str(value)[:40]}' to choose.")
            return nothing
        return known

    def _new(self, q: Question, value: Mapping[str, Answer]) -> Interface | None:
        label = str(value.get("label") or "").strip()
        if not label or len(label) > 120:
            self.problem(q.key, f"{q.label}: a new one needs a name, 120 letters at most.")
            return None
        figures: dict[str, float] = {}
        for name in _NEW_FIGURES:
            figure = value.get(name)
            if figure in (None, ""):
                continue
            if isinstance(figure, bool) or not isinstance(figure, (int, float)) or not math.isfinite(figure):
                self.problem(q.key, f"{q.label}: {name.replace('_mm', '')} is a number in mm.")
                return None
            figures[name] = float(figure)
        contacts = value.get("contacts")
        told = (
            tuple(str(c) for c in contacts) if isinstance(contacts, Sequence) and not isinstance(contacts, str) else ()
        )
        family = q.families[0]
        id_ = slug(label)
        alike = self.known.interfaces.get(id_)
        if alike is not None:
            self.problem(q.key, f"{q.label}: '{alike.label}' is there already; choose it from the list.")
            return None
        try:
            made = Interface(
                id=id_,
                label=label,
                kind=family,
                female=_HALVES.get(family, ("socket", "plug"))[0],
                male=_HALVES.get(family, ("socket", "plug"))[1],
                spins_deg=(0.0,) if family in ("lens", "battery") else (),
                contacts=told,
                carries_power=family in ("battery", "power"),
                **figures,  # type: ignore[arg-type]  # figures alone
            )
        except ImpossibleInterface as error:
            self.problem(q.key, str(error))
            return None
        self._told.made[made.id] = made
        return made

    def model(self, key: str) -> GearModel | None:
        """A model that is there."""
        q, value = self._questions[key], self._given.get(key)
        if value in (None, ""):
            if q.required:
                self.problem(key, f"Choose {_lower(q.label)}.")
            return None
        found = self.known.models.get(str(value))
        if found is None:
            self.problem(key, f"{q.label}: there is no model '{str(value)[:60]}'.")
        return found


_HALVES: Mapping[str, tuple[str, str]] = {
    "lens": ("body mount", "lens mount"),
    "battery": ("slot", "pack"),
    "front": ("thread", "filter"),
    "rod": ("clamp", "rods"),
    "rail": ("clamp", "plate"),
    "plate": ("clamp", "plate"),
}
_LEAST: Mapping[str, dict[str, float]] = {"lens": {"flange_mm": 20.0}, "rod": {"diameter_mm": 15.0, "spacing_mm": 60.0}}
"""Figures that an interface of a family cannot be without."""


def _lower(label: str) -> str:
    return label if label[1:2].isupper() or (label[:1] in "fT" and label[1:2] == " ") else label[:1].lower() + label[1:]


def _unit(q: Question, before: str = " in ") -> str:
    if not q.unit:
        return ""
    return f"{before or ' '}{q.unit}"


def _believed(q: Question) -> str:
    if q.low is not None and q.high is not None:
        return f"usual is {q.low:g} to {q.high:g}{_unit(q, '')}"
    if q.low is not None:
        return f"{q.low:g}{_unit(q, '')} is the least"
    return "enter a figure that can be"
