"""What was done in a job, into its file and out of one."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict, replace
from datetime import UTC
from itertools import islice
from typing import Any, TypeVar

from ..core.day.custody import CardStep
from ..core.done import CardDone, Done, LogDone, PackDone, SoundDone, SwapDone, clashes
from ..core.job.job import Job
from ..core.rig.build import Catalogue
from .database import Connection, card_queries, log_queries, packing_queries, sound_queries, swap_queries
from .errors import DoneElsewhere

__all__ = ["add_done", "done_on"]

_MOST_TOLD = 3
Step = TypeVar("Step", CardDone, SoundDone, SwapDone, PackDone, LogDone)


def done_on(connection: Connection, job: Job) -> Done:
    """All that was noted in a job, at the job's own clock."""

    def told(row: Mapping[str, Any], *left_out: str) -> dict[str, Any]:
        named = {("by" if key == "actor" else key): value for key, value in row.items() if key not in left_out}
        return {**named, "at": row["at"].astimezone(job.clock)}

    return Done(
        cards=tuple(
            CardDone(**told(r, "id", "job_id")) for r in card_queries.card_steps(connection) if r["job_id"] == job.id
        ),
        sound=tuple(SoundDone(**told(r, "id")) for r in sound_queries.sound_steps(connection, job=job.id)),
        swaps=tuple(SwapDone(**told(r, "id")) for r in swap_queries.swaps(connection, job=job.id)),
        packing=tuple(PackDone(**told(r, "id")) for r in packing_queries.pack_steps(connection, job=job.id)),
        log=tuple(LogDone(**told(r, "noted_at")) for r in log_queries.entries(connection, job=job.id)),
    )


def add_done(connection: Connection, job: Job, catalogue: Catalogue, done: Done) -> None:
    """Note what a file says was done and what is not noted here yet; raises DoneElsewhere."""
    list(card_queries.lock_cards(connection))
    list(sound_queries.lock_sound(connection, job=job.id))
    here = done_on(connection, job)
    _add_cards(connection, job, catalogue, here, done)
    for sound in _new(here.sound, done.sound):
        row = asdict(sound)
        found = sound_queries.add_sound_step(connection, job=job.id, actor=row.pop("by"), **row)
        if sound.taken_back_by is not None:
            sound_queries.take_back_sound_step(connection, job=job.id, id=found["id"], actor=sound.taken_back_by)
    list(packing_queries.lock_packing(connection, job=job.id))
    for step in _new(here.packing, done.packing):
        row = asdict(step)
        found = packing_queries.add_pack_step(connection, job=job.id, actor=row.pop("by"), **row)
        if step.taken_back_by is not None:
            packing_queries.take_back_pack_step(connection, job=job.id, id=found["id"], actor=step.taken_back_by)
    _add_entries(connection, job, here, done)
    taken = {(swap.slot, swap.at) for swap in here.swaps}
    for swap in _new(here.swaps, done.swaps):
        if (swap.slot, swap.at) in taken:
            raise DoneElsewhere(
                (f"another pack went into {swap.slot} at {swap.at.astimezone(job.clock):%-d %b %H:%M}",)
            )
        row = asdict(swap)
        swap_queries.add_swap(connection, job=job.id, actor=row.pop("by"), **row)


def _add_entries(connection: Connection, job: Job, here: Done, done: Done) -> None:
    list(log_queries.lock_log(connection, job=job.id))
    ids = {entry.id for entry in here.log}
    for entry in _new(here.log, done.log):
        if entry.id in ids:
            raise DoneElsewhere((f"log entry '{entry.id}' says something else here",))
        row = {key: value for key, value in asdict(entry).items() if key not in ("by", "taken_back_by")}
        log_queries.add_entry(connection, job=job.id, actor=entry.by, **{**row, "photo": ""})
        if entry.taken_back_by is not None:
            log_queries.take_back_entry(connection, job=job.id, id=entry.id, actor=entry.taken_back_by)


def _new(here: tuple[Step, ...], told: tuple[Step, ...]) -> list[Step]:
    """Steps that are not here: the same at the same moment is the same step, also where it was taken back since."""
    known = {_alike(step) for step in here}
    return [step for k, step in {_alike(step): step for step in told}.items() if k not in known]


def _alike(step: CardDone | SoundDone | SwapDone | PackDone | LogDone) -> object:
    at = step.at.astimezone(UTC)
    if isinstance(step, SwapDone):
        return replace(step, at=at)
    if isinstance(step, LogDone):
        # Its photo stays with the house that took it.
        return replace(step, at=at, photo="", taken_back_by=None)
    return replace(step, at=at, taken_back_by=None)


def _add_cards(connection: Connection, job: Job, catalogue: Catalogue, here: Done, done: Done) -> None:
    new = _new(here.cards, done.cards)
    if not new:
        return
    every = [
        CardStep(**{key: value for key, value in r.items() if key not in ("id", "job_id", "actor", "taken_back_by")})
        for r in card_queries.card_steps(connection)
        if r["taken_back_by"] is None
    ]
    why = clashes(catalogue, job.clock, every, [step for step in new if step.taken_back_by is None])
    if told := tuple(islice(why, _MOST_TOLD)):
        raise DoneElsewhere(told)
    for card in new:
        row = asdict(card)
        taken_back = row.pop("taken_back_by")
        found = card_queries.add_card_step(connection, job=job.id, actor=row.pop("by"), **row)
        if taken_back is not None:
            card_queries.take_back_card_step(connection, id=found["id"], actor=taken_back)
