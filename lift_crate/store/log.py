"""What really happened in a job, kept whatever becomes of it; and what was learnt from it, taken over."""

from __future__ import annotations

from dataclasses import dataclass, replace
from datetime import datetime

from ..core.errors import NotAllowed
from ..core.gear.model import GearModel
from ..core.job.edits import SetSettings, on_clock
from ..core.job.job import Job, NotInJob
from ..core.log.entries import LogBook, LogEntry, book_of, entry_text, refused_entry
from ..core.log.learn import Figure, Taken, settings_with, with_figure
from ..core.rig.build import Catalogue, Unit
from .database import Connection, log_queries, only_once, reading, writing
from .frame import FrameStore
from .jobs import JobStore
from .shelf import ShelfStore

__all__ = ["LogStore", "NotedEntry", "OpenFault"]


@dataclass(frozen=True, kw_only=True)
class NotedEntry:
    """An entry, who noted it, when it came in, and who took it back."""

    entry: LogEntry
    actor: str
    noted_at: datetime
    taken_back_by: str | None


@dataclass(frozen=True, kw_only=True)
class OpenFault:
    """A fault or near miss of a unit that nobody settled, in any job."""

    unit: str
    at: datetime
    kind: str
    text: str
    job_id: str
    actor: str


class LogStore:
    """Keeps the log of every job."""

    def __init__(self, jobs: JobStore, shelf: ShelfStore, frames: FrameStore) -> None:
        self.jobs, self.shelf, self.frames = jobs, shelf, frames

    def of(self, job_id: str) -> list[NotedEntry]:
        """Everything that was noted in a job, in the order in which it was noted."""
        with reading(self.jobs.pool) as connection:
            return self._of(connection, job_id)

    def _of(self, connection: Connection, job_id: str) -> list[NotedEntry]:
        return [
            NotedEntry(
                actor=r.pop("actor"),
                noted_at=r.pop("noted_at"),
                taken_back_by=r.pop("taken_back_by"),
                entry=LogEntry(**r),
            )
            for r in log_queries.entries(connection, job=job_id)
        ]

    def faults(self, units: list[str]) -> list[OpenFault]:
        """What is open of some units, in whatever job it was noted, latest first."""
        with reading(self.jobs.pool) as connection:
            return [OpenFault(**r) for r in log_queries.faults(connection, units=units)]

    def taken(self, job_id: str) -> tuple[Taken, ...]:
        """Figures that were taken over: of this job, and of the Shelf."""
        with reading(self.jobs.pool) as connection:
            return tuple(Taken(**r) for r in log_queries.figures_taken(connection, job=job_id))

    def note(self, job_id: str, entry: LogEntry, actor: str) -> None:
        """Something happened. A fault tells the unit's condition on the Shelf, what settles it makes it good again.

        The same entry once more changes nothing. Raises NotInJob, and NotAllowed where it cannot be.
        """
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(log_queries.lock_log(connection, job=job_id))
            job, catalogue, _ = self.jobs.read_on(connection, job_id)
            noted = self._of(connection, job_id)
            given = replace(entry, at=on_clock(entry.at, job.clock), text=entry.text.strip())
            known = next((n for n in noted if n.entry.id == given.id), None)
            if known is not None:
                if replace(known.entry, at=given.at) != given or known.taken_back_by is not None:
                    raise NotAllowed(f"There is an entry '{given.id}' already that says something else.")
                return
            book = book_of((n.entry, n.actor) for n in noted if n.taken_back_by is None)
            if why := refused_entry(job, catalogue, book, given):
                raise NotAllowed(why)
            log_queries.add_entry(connection, job=job_id, actor=actor, **vars(given))
            if given.verdict or given.kind == "settled":
                self.shelf.change_on(connection, lambda shelf: (_judged(book, given, shelf), None), actor)

    def take_back(self, job_id: str, entry_id: str, actor: str) -> None:
        """An entry was noted by mistake; it stays readable, and a condition it gave a unit is what it was.

        Raises NotInJob.
        """
        with writing(self.jobs.pool) as connection:
            only_once(connection)
            list(log_queries.lock_log(connection, job=job_id))
            noted = [n for n in self._of(connection, job_id) if n.taken_back_by is None]
            if log_queries.take_back_entry(connection, job=job_id, id=entry_id, actor=actor) is None:
                raise NotInJob("entry in its log", entry_id)
            gone = next(n.entry for n in noted if n.entry.id == entry_id)
            if gone.kind == "fault" and gone.verdict:
                self.shelf.change_on(connection, lambda shelf: (_as_before(gone, shelf), None), actor)
            fault = next((n.entry for n in noted if n.entry.id == gone.settles), None)
            if fault is not None and fault.verdict:
                self.shelf.change_on(connection, lambda shelf: (_as_faulty(fault, shelf), None), actor)

    def take_figure(self, job_id: str, version: int, figure: Figure, before: float, actor: str) -> None:
        """Count with a figure that was learnt; ``version`` of the job where it is one of the job's own.

        Raises NotInJob, NoSuchUnit, StaleJob, and NotAllowed where it is another one meanwhile.
        """
        with writing(self.jobs.pool) as connection:
            job, _, _ = self.jobs.read_on(connection, job_id)
            if figure.of == "minutes":
                operation = SetSettings(settings=settings_with(job.settings, figure))
                self.frames.edit_on(connection, job_id, version, [operation], actor)
            else:
                self.shelf.change_on(connection, lambda shelf: _with_figure(job, shelf, figure), actor)
            log_queries.take_figure(
                connection, job=job_id, of=figure.of, thing=figure.thing, before=before, value=figure.value, actor=actor
            )


def _with_figure(job: Job, shelf: Catalogue, figure: Figure) -> tuple[Unit | None, GearModel | None]:
    try:
        _, after = with_figure(job, shelf, figure)
    except ValueError as error:
        raise NotAllowed(f"{str(error).capitalize()}.") from None
    if figure.of == "card minutes":
        return None, after.models[figure.thing.partition(" ")[0]]
    return after.units[figure.thing], None


def _note_of(entry: LogEntry) -> str:
    return f"{entry_text(entry)} ({entry.at:%-d %b %Y})"


def _judged(book: LogBook, entry: LogEntry, shelf: Catalogue) -> Unit | None:
    """The unit as a fault, or what mends it, leaves it; None: as it is."""
    if entry.kind == "fault" and entry.unit and entry.verdict:
        return replace(shelf.unit(entry.unit), condition=entry.verdict, note=_note_of(entry))
    settled = book.find(entry.settles) if entry.kind == "settled" else None
    if settled is None or settled.entry.kind != "fault":
        return None
    unit = settled.entry.unit
    others = [s for s in book.of_kind("fault") if s.entry.unit == unit and s.settled is None and s is not settled]
    return None if others else _as_before(settled.entry, shelf)


def _as_faulty(fault: LogEntry, shelf: Catalogue) -> Unit | None:
    """The unit at fault again, where nobody has said anything else of it since it was mended."""
    unit = shelf.units.get(fault.unit)
    if unit is None or not fault.verdict or unit.condition != "good" or unit.note:
        return None
    return replace(unit, condition=fault.verdict, note=_note_of(fault))


def _as_before(fault: LogEntry, shelf: Catalogue) -> Unit | None:
    """The unit good again, where its condition is still that which a fault gave it."""
    unit = shelf.units.get(fault.unit)
    if unit is None or not fault.verdict or unit.note != _note_of(fault):
        return None
    return replace(unit, condition="good", note="")
