"""The edits a person can make to what a job pays and wants."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from ..quantities import Identifier
from ..rig.build import Catalogue
from ..settings import STRICT
from .job import Job, JobRefused, NotInJob
from .money import Cost, Want

__all__ = [
    "MoneyOperation",
    "PutCost",
    "PutWant",
    "RemoveCost",
    "RemoveWant",
    "describe_in_money",
    "edit_money",
]


@dataclass(frozen=True, kw_only=True)
class PutCost:
    """A running cost, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put cost"] = "put cost"
    cost: Cost


@dataclass(frozen=True, kw_only=True)
class RemoveCost:
    """Take a running cost out of the job."""

    __pydantic_config__ = STRICT

    op: Literal["remove cost"] = "remove cost"
    cost: Identifier


@dataclass(frozen=True, kw_only=True)
class PutWant:
    """Something that is wanted, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put want"] = "put want"
    want: Want


@dataclass(frozen=True, kw_only=True)
class RemoveWant:
    """It is not wanted any more."""

    __pydantic_config__ = STRICT

    op: Literal["remove want"] = "remove want"
    want: Identifier


MoneyOperation = PutCost | RemoveCost | PutWant | RemoveWant


def edit_money(job: Job, operation: MoneyOperation, catalogue: Catalogue) -> Job:
    """The job after one edit; raises JobRefused, NotInJob and NoSuchModel."""
    money = job.money
    match operation:
        case PutCost():
            if not operation.cost.label.strip():
                raise JobRefused("A cost needs a name.")
            costs = {**{c.id: c for c in money.costs}, operation.cost.id: operation.cost}
            return replace(job, money=replace(money, costs=tuple(costs.values())))
        case RemoveCost():
            _require(operation.cost, [c.id for c in money.costs], "cost")
            return replace(job, money=replace(money, costs=tuple(c for c in money.costs if c.id != operation.cost)))
        case PutWant():
            catalogue.model(operation.want.model)
            _check_place(job, operation.want)
            wants = {**{w.id: w for w in money.wants}, operation.want.id: operation.want}
            return replace(job, money=replace(money, wants=tuple(wants.values())))
        case RemoveWant():
            _require(operation.want, [w.id for w in money.wants], "want")
            return replace(job, money=replace(money, wants=tuple(w for w in money.wants if w.id != operation.want)))


def _require(name: str, known: list[str], what: str) -> None:
    if name not in known:
        raise NotInJob(what, name)


def _check_place(job: Job, want: Want) -> None:
    if not want.unit:
        return
    planned = job.builds_in(job.part(want.part).id).get(job.rig(want.rig).id)
    if planned is None or want.unit not in planned[1].units:
        raise JobRefused(
            f"{want.unit} is not on {job.rig(want.rig).label} in {job.part(want.part).label}; name a unit that is."
        )


def describe_in_money(operation: MoneyOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    money = job.money
    match operation:
        case PutCost():
            return f"{_verb(operation.cost.id, [c.id for c in money.costs])} cost {operation.cost.label}"
        case RemoveCost():
            return f"Remove cost {next((c.label for c in money.costs if c.id == operation.cost), operation.cost)}"
        case PutWant():
            return f"{_verb(operation.want.id, [w.id for w in money.wants])} wanted gear"
        case RemoveWant():
            return "Remove wanted gear"


def _verb(name: str, known: list[str]) -> str:
    return "Change" if name in known else "Add"
