"""What a job is allowed to do, and on what that rests: who gave it, for which use, and when somebody looked."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date
from typing import Annotated, Literal

from annotated_types import MaxLen

from ..quantities import Identifier, Label, Note
from ..settings import STRICT

__all__ = ["Permission", "PermissionKind", "SafetyPlan"]

PermissionKind = Literal["drone", "music", "place", "people", "vehicle", "radio", "other"]


@dataclass(frozen=True, kw_only=True)
class Permission:
    """One thing that somebody has to allow."""

    __pydantic_config__ = STRICT

    id: Identifier
    label: Label
    kind: PermissionKind = "other"
    state: Literal["to ask", "asked", "given", "refused", "not needed"] = "to ask"
    rests_on: Literal["", "in writing", "by word", "a rule of weight", "well known", "hearsay"] = ""
    """What says so; empty: nobody said."""
    unpaid_only: bool = False
    """It holds only where nobody is paid."""
    by: Label = ""
    """Who gives it."""
    asked_by: Label = ""
    """Who of the crew asks for it."""
    checked: date | None = None
    """The day on which somebody last looked whether it holds."""
    until: date | None = None
    """The last day on which it holds."""
    parts: Annotated[tuple[Identifier, ...], MaxLen(100)] = ()
    """Parts of the day that it is needed for; empty: all of them."""
    terms: Note = ""


@dataclass(frozen=True, kw_only=True)
class SafetyPlan:
    """Permissions of a job, and whether anybody is paid for it."""

    __pydantic_config__ = STRICT

    paid: bool = True
    permissions: Annotated[tuple[Permission, ...], MaxLen(200)] = ()

    def __post_init__(self) -> None:
        ids = [p.id for p in self.permissions]
        if twice := next((i for i in ids if ids.count(i) > 1), None):
            raise ValueError(f"permission '{twice}' is there twice; give each an id of its own")
