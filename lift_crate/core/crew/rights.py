"""Roles and rights: the one table of who may do what, and the one question that is asked of it.

A person has a standing in the house (its shelf, its jobs, its accounts) and a role in each job; without one nobody
learns that a job exists. An operator's own cameras are those of the name in the plan that a lead gave his account.
"""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Literal, get_args

from ..errors import LiftCrateError
from ..job.job import Job

__all__ = [
    "HOUSES",
    "OF_HOUSE",
    "OF_JOB",
    "ROLES",
    "House",
    "NotYours",
    "Person",
    "Right",
    "Role",
    "allowed",
    "fewest_leads",
    "own_cameras",
    "raises",
    "raises_in_house",
]

Role = Literal["lead", "operator", "keeper", "viewer"]
House = Literal["lead", "keeper", "member"]
Right = Literal[
    "anyone",
    "signed in",
    "read shelf",
    "keep shelf",
    "make jobs",
    "house",
    "read",
    "rig",
    "note",
    "plan",
    "pack",
    "crew",
]
ROLES: tuple[Role, ...] = get_args(Role)
HOUSES: tuple[House, ...] = get_args(House)

OF_HOUSE: Mapping[House, frozenset[Right]] = {
    "lead": frozenset({"signed in", "read shelf", "keep shelf", "make jobs", "house"}),
    "keeper": frozenset({"signed in", "read shelf", "keep shelf"}),
    "member": frozenset({"signed in", "read shelf"}),
}
OF_JOB: Mapping[Role, frozenset[Right]] = {
    "lead": frozenset({"read", "rig", "note", "plan", "pack", "crew"}),
    "operator": frozenset({"read", "rig", "note"}),
    "keeper": frozenset({"read", "note", "pack"}),
    "viewer": frozenset({"read"}),
}
"""An operator's 'rig' is that of his own cameras."""


class NotYours(LiftCrateError, PermissionError):
    """Something that a person's role does not go to."""

    code = "crew.not_yours"

    def __init__(self, why: str) -> None:
        self.why = why

    def __str__(self) -> str:
        return self.why


@dataclass(frozen=True, kw_only=True)
class Person:
    """Somebody with an account; without an id: whoever is at this machine, where nobody signs in."""

    id: str
    name: str
    house: House


def own_cameras(job: Job, works_as: str) -> frozenset[str]:
    """Ids of the cameras that somebody works in any part of a job's days; ``works_as``: as whom of its plan he works,
    which a lead has said of his account; empty: as nobody.
    """
    return frozenset(cell.rig for cell in job.plan if works_as and cell.operator == works_as)


def raises(now: Role | None, to: Role) -> bool:
    """Whether a role gives more than the one that somebody has, and takes nothing of it away."""
    return now is None or OF_JOB[now] < OF_JOB[to]


def raises_in_house(now: House, to: House) -> bool:
    """The same of a standing in the house."""
    return OF_HOUSE[now] < OF_HOUSE[to]


def allowed(right: Right, person: Person | None, role: Role | None = None, *, own: bool = True) -> bool:
    """Whether somebody may do something; ``role``: in the job that it is about; ``own``: it is his own camera."""
    if right == "anyone":
        return True
    if person is None:
        return False
    if right in OF_HOUSE[person.house]:
        return True
    if role is None or right not in OF_JOB[role]:
        return False
    return own or right != "rig" or role == "lead"


def fewest_leads(roles: Mapping[str, str], leaves: str, becomes: str | None) -> bool:
    """Whether the last lead would be gone when one person leaves or becomes something else; where no account
    leads, whoever is at the machine does.
    """
    after = {**roles, leaves: becomes or ""}.values()
    return "lead" in roles.values() and "lead" not in after
