"""The edits a person can make to how a job's gear travels."""

from __future__ import annotations

from dataclasses import dataclass, replace
from typing import Literal

from ..quantities import Identifier, Label
from ..rig.build import Catalogue
from ..settings import STRICT
from .job import Job, JobRefused, NotInJob
from .packing import EXTRA, Carrier, CaseAlong, Extra, PackPlan, PutWhere

__all__ = [
    "PackOperation",
    "PutCase",
    "PutExtra",
    "PutThingIn",
    "RemoveCase",
    "RemoveExtra",
    "SetCarrier",
    "TakeThingOut",
    "describe_in_pack",
    "edit_pack",
    "without_camera",
]


@dataclass(frozen=True, kw_only=True)
class PutCase:
    """A case that goes along, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put case"] = "put case"
    case: CaseAlong


@dataclass(frozen=True, kw_only=True)
class RemoveCase:
    """A case stays at home; what was put into it by hand is dealt again."""

    __pydantic_config__ = STRICT

    op: Literal["remove case"] = "remove case"
    case: Identifier


@dataclass(frozen=True, kw_only=True)
class PutThingIn:
    """A thing goes into this case, whatever is dealt; with an empty case it is left behind."""

    __pydantic_config__ = STRICT

    op: Literal["put in case"] = "put in case"
    thing: Identifier
    case: Label


@dataclass(frozen=True, kw_only=True)
class TakeThingOut:
    """What was put by hand is dealt again."""

    __pydantic_config__ = STRICT

    op: Literal["deal again"] = "deal again"
    thing: Identifier


@dataclass(frozen=True, kw_only=True)
class PutExtra:
    """Something without a label goes along, new or changed."""

    __pydantic_config__ = STRICT

    op: Literal["put extra"] = "put extra"
    extra: Extra


@dataclass(frozen=True, kw_only=True)
class RemoveExtra:
    """It does not go along any more."""

    __pydantic_config__ = STRICT

    op: Literal["remove extra"] = "remove extra"
    extra: Identifier


@dataclass(frozen=True, kw_only=True)
class SetCarrier:
    """What the carrier allows."""

    __pydantic_config__ = STRICT

    op: Literal["set carrier"] = "set carrier"
    carrier: Carrier


PackOperation = PutCase | RemoveCase | PutThingIn | TakeThingOut | PutExtra | RemoveExtra | SetCarrier


def edit_pack(job: Job, operation: PackOperation, catalogue: Catalogue) -> Job:
    """The job after one edit; raises JobRefused, NotInJob and NoSuchUnit."""
    pack = job.pack
    match operation:
        case PutCase():
            _check_case(job, operation.case, catalogue)
            cases = {**{c.unit: c for c in pack.cases}, operation.case.unit: operation.case}
            return replace(job, pack=replace(pack, cases=tuple(cases.values())))
        case RemoveCase():
            _require(operation.case, [c.unit for c in pack.cases], "case")
            return replace(
                job,
                pack=replace(
                    pack,
                    cases=tuple(c for c in pack.cases if c.unit != operation.case),
                    put=tuple(p for p in pack.put if p.case != operation.case),
                ),
            )
        case PutThingIn():
            _check_put(job, operation, catalogue)
            put = {
                **{p.thing: p for p in pack.put},
                operation.thing: PutWhere(thing=operation.thing, case=operation.case),
            }
            return replace(job, pack=replace(pack, put=tuple(put.values())))
        case TakeThingOut():
            _require(operation.thing, [p.thing for p in pack.put], "thing put by hand")
            return replace(job, pack=replace(pack, put=tuple(p for p in pack.put if p.thing != operation.thing)))
        case PutExtra():
            if not operation.extra.label.strip():
                raise JobRefused("What goes along needs a name.")
            extras = {**{e.id: e for e in pack.extras}, operation.extra.id: operation.extra}
            return replace(job, pack=replace(pack, extras=tuple(extras.values())))
        case RemoveExtra():
            _require(operation.extra, [e.id for e in pack.extras], "extra")
            return replace(
                job,
                pack=replace(
                    pack,
                    extras=tuple(e for e in pack.extras if e.id != operation.extra),
                    put=tuple(p for p in pack.put if p.thing != EXTRA + operation.extra),
                ),
            )
        case SetCarrier():
            carrier = operation.carrier
            if carrier.consent_wh < carrier.free_wh:
                raise JobRefused(
                    f"Packs go with consent up to {carrier.consent_wh:g} Wh and without up to {carrier.free_wh:g} Wh;"
                    " the second figure is the smaller one."
                )
            return replace(job, pack=replace(pack, carrier=carrier))


def without_camera(pack: PackPlan, rig: str) -> PackPlan:
    """The packing of a job that has a camera no more: its cases stay by none."""
    return replace(pack, cases=tuple(replace(c, stays_with="") if c.stays_with == rig else c for c in pack.cases))


def _check_case(job: Job, case: CaseAlong, catalogue: Catalogue) -> None:
    unit = catalogue.unit(case.unit)
    if catalogue.model_of(unit.id).case is None:
        raise JobRefused(f"{unit.id} is no case: its model has no inside measures. Enter them on the Shelf.")
    if unit.condition == "out of use":
        raise JobRefused(f"{unit.id} is out of use.")
    if case.stays_with:
        job.rig(case.stays_with)


def _check_put(job: Job, operation: PutThingIn, catalogue: Catalogue) -> None:
    if operation.case:
        _require(operation.case, [c.unit for c in job.pack.cases], "case along")
        if operation.thing == operation.case:
            raise JobRefused(f"{operation.case} does not go into itself.")
    if operation.thing.startswith(EXTRA):
        return
    if catalogue.model_of(operation.thing).case is not None and operation.case:
        raise JobRefused(f"{operation.thing} is a case itself; cases are not put into each other.")


def _require(name: str, known: list[str], what: str) -> None:
    if name not in known:
        raise NotInJob(what, name)


def describe_in_pack(operation: PackOperation, job: Job) -> str:
    """What an edit does, in a line, on the job as it was before."""
    pack = job.pack
    match operation:
        case PutCase():
            known = any(c.unit == operation.case.unit for c in pack.cases)
            return f"{'Change case' if known else 'Take along case'} {operation.case.unit}"
        case RemoveCase():
            return f"Leave case {operation.case} at home"
        case PutThingIn():
            return (
                f"Put {_thing(operation.thing, job)} into {operation.case}"
                if operation.case
                else f"Leave {_thing(operation.thing, job)} behind"
            )
        case TakeThingOut():
            return f"Deal {_thing(operation.thing, job)} again"
        case PutExtra():
            known = any(e.id == operation.extra.id for e in pack.extras)
            return f"{'Change' if known else 'Add'} {operation.extra.label} in the packing"
        case RemoveExtra():
            return f"Take {_thing(EXTRA + operation.extra, job)} out of the packing"
        case SetCarrier():
            return "Change what the carrier allows"


def _thing(name: str, job: Job) -> str:
    labels = {EXTRA + e.id: e.label for e in job.pack.extras}
    return labels.get(name, name.removeprefix(EXTRA))
