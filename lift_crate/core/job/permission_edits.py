"""The edits a person can make to what a job is allowed."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from ..quantities import Identifier
from ..settings import STRICT
from .job import Job, JobRefused, NotInJob
from .permission import Permission, SafetyPlan

__all__ = [
    "PermissionOperation",
    "PutPermission",
    "RemovePermission",
    "SetPaid",
    "describe_in_permissions",
    "edit_permissions",
    "without_part_allowed",
]


@dataclass(frozen=True, kw_only=True)
class PutPermission:
    """Something that somebody has to allow, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put permission"] = "put permission"
    permission: Permission


@dataclass(frozen=True, kw_only=True)
class RemovePermission:
    """It is not needed to ask for it."""

    __pydantic_config__ = STRICT

    op: Literal["remove permission"] = "remove permission"
    permission: Identifier


@dataclass(frozen=True, kw_only=True)
class SetPaid:
    """Whether anybody is paid for the job."""

    __pydantic_config__ = STRICT

    op: Literal["set paid"] = "set paid"
    paid: bool


PermissionOperation = PutPermission | RemovePermission | SetPaid


def edit_permissions(job: Job, operation: PermissionOperation) -> Job:
    """The job after one edit; raises JobRefused and NotInJob."""
    plan = job.safety
    match operation:
        case PutPermission():
            one = operation.permission
            if not one.label.strip():
                raise JobRefused("A permission needs a name: what is allowed.")
            for part in one.parts:
                job.part(part)
            by_id = {**{p.id: p for p in plan.permissions}, one.id: one}
            return replace(job, safety=replace(plan, permissions=tuple(by_id.values())))
        case RemovePermission():
            left = tuple(p for p in plan.permissions if p.id != operation.permission)
            if len(left) == len(plan.permissions):
                raise NotInJob("permission", operation.permission)
            return replace(job, safety=replace(plan, permissions=left))
        case SetPaid():
            return replace(job, safety=replace(plan, paid=operation.paid))


def without_part_allowed(plan: SafetyPlan, part: str) -> SafetyPlan:
    """Permissions without a part of the day; what was needed for it alone is not needed."""
    kept = tuple(
        replace(p, parts=tuple(name for name in p.parts if name != part))
        for p in plan.permissions
        if p.parts != (part,)
    )
    return replace(plan, permissions=kept)


def describe_in_permissions(operation: PermissionOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    known = {p.id: p.label for p in job.safety.permissions}
    match operation:
        case PutPermission():
            return f"{'Change' if operation.permission.id in known else 'Add'} permission {operation.permission.label}"
        case RemovePermission():
            return f"Remove permission {known.get(operation.permission, operation.permission)}"
        case SetPaid():
            return "The job is paid" if operation.paid else "Nobody is paid for the job"
