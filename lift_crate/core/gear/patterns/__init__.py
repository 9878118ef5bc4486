"""Patterns: a whole model from the few figures that are on a data sheet, or that a ruler and a scale give.

``PATTERNS`` says what each kind of gear is asked; ``model_by`` draws up the model and says what it assumed,
what it doubts and which interfaces are new. What is derived, and from what, stands in docs/formulas.md.
"""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

from ...errors import LiftCrateError
from ..interface import Interface
from ..labels import fresh_id
from .cameras import CAMERAS
from .electronics import ELECTRONICS
from .glass import GLASS
from .keeping import KEEPING
from .powering import POWERING
from .question import Answers, BadAnswers, Known, Question
from .rigging import RIGGING
from .sketch import Made, Pattern, made_of
from .standing import STANDING

__all__ = ["PATTERNS", "BadAnswers", "Known", "Made", "NoSuchPattern", "Pattern", "Question", "model_by", "mount_of"]

PATTERNS: Mapping[str, Pattern] = {
    pattern.id: pattern for pattern in (*CAMERAS, *RIGGING, *GLASS, *ELECTRONICS, *POWERING, *STANDING, *KEEPING)
}
"""Every pattern by its id, in the order they are offered."""


class NoSuchPattern(LiftCrateError, ValueError):
    """A kind of gear that no pattern makes."""

    code = "pattern.unknown"

    def __init__(self, kind: str) -> None:
        self.kind = kind

    def __str__(self) -> str:
        return f"There is no pattern '{self.kind[:60]}'; there are: {', '.join(PATTERNS)}."


def model_by(kind: str, answers: Mapping[str, Any], known: Known) -> Made:
    """The model that a pattern makes of answers; its id is made from maker and name and is none that is there.

    Raises NoSuchPattern, and BadAnswers with everything that is wrong with the answers.
    """
    pattern = PATTERNS.get(kind)
    if pattern is None:
        raise NoSuchPattern(kind)
    title = f"{answers.get('maker') or ''} {answers.get('name') or ''}"
    return made_of(pattern, answers, known, fresh_id(title, known.models, pattern.id.replace(" ", "-")))


_MOUNT = Question(key="mount", label="Lens mount", kind="interface", families=("lens",))


def mount_of(answer: object, known: Known) -> tuple[str, tuple[Interface, ...]]:
    """Id of a lens mount that is named or described, and the interface where it is new; raises BadAnswers."""
    answers = Answers((_MOUNT,), {"mount": answer}, known)  # type: ignore[dict-item]  # read as any answer is
    mount = answers.interface("mount")
    answers.close()
    return mount.id, answers.made
