"""What can go wrong with keeping things, and the one place where database errors are translated."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from typing import TYPE_CHECKING, Any

import psycopg
from psycopg import errors as pg
from psycopg_pool import ConnectionPool, PoolTimeout

from ..core.errors import LiftCrateError

if TYPE_CHECKING:
    from ..formats.shelf_csv import LineError

__all__ = [
    "Conflict",
    "Crossed",
    "DatabaseAway",
    "DoneElsewhere",
    "GearDiffers",
    "GearExists",
    "GearInUse",
    "JobExists",
    "NothingToUndo",
    "PlanHasErrors",
    "StaleEdit",
    "StaleJob",
    "StaleShelf",
    "StoreFull",
    "SwapNoted",
    "TakenAlready",
    "UnitTaken",
    "Unstorable",
    "answers",
    "translated",
]


class Conflict(LiftCrateError):
    """What was asked for contradicts what is there now."""

    code = "conflict"


class StaleEdit(Conflict):
    """An edit made on a build that has changed since it was read."""

    code = "edit.stale"

    def __init__(self, build: str, based_on: int, current: int, since: tuple[str, ...], by: str = "") -> None:
        self.build, self.based_on, self.current, self.since, self.by = build, based_on, current, since, by

    def __str__(self) -> str:
        done = "; ".join(self.since) or "it was replaced"
        return (
            f"This build changed while you were editing it ({done}). Your edit was not made; look at it as it is now"
            " and decide."
        )


class StaleJob(Conflict):
    """An edit of a job's frame that has changed since it was read."""

    code = "job.stale"

    def __init__(self, title: str, since: tuple[str, ...]) -> None:
        self.title, self.since = title, since

    def __str__(self) -> str:
        done = "; ".join(self.since) or "it was replaced"
        return f"{self.title} changed while you were editing it ({done}). Your edit was not made; look and decide."


class UnitTaken(Conflict):
    """A unit is already in another rig at that time. The database says so."""

    code = "unit.taken"

    def __init__(self, unit: str, detail: str = "") -> None:
        self.unit, self.detail = unit, detail

    def __str__(self) -> str:
        return (
            f"{self.unit} is in use elsewhere in the same part of the day{self.detail}; a unit is in one place at a"
            " time. Nothing was changed."
        )


class NothingToUndo(Conflict):
    """No edit to take back, or none to do again."""

    code = "edit.nothing"

    def __init__(self, kind: str, what: str = "build") -> None:
        self.kind, self.what = kind, what

    def __str__(self) -> str:
        return f"There is nothing to {self.kind} on this {self.what}."


class JobExists(Conflict):
    """A job of that id is already here."""

    code = "job.exists"

    def __init__(self, job: str, title: str) -> None:
        self.job, self.title = job, title

    def __str__(self) -> str:
        return (
            f"A job '{self.job}' ({self.title}) is here already. Replace it by the file, or leave it; nothing was"
            " changed."
        )


class GearDiffers(Conflict):
    """A file describes gear that is already on the shelf, and differently."""

    code = "job_file.gear_differs"

    def __init__(self, what: tuple[str, ...]) -> None:
        self.what = what

    def __str__(self) -> str:
        return f"The file describes gear differently than the shelf here: {', '.join(self.what)}. Nothing was changed."


class TakenAlready(LiftCrateError):
    """Something that was sent once more and had arrived the first time."""

    code = "note.taken"

    def __str__(self) -> str:
        return "This had arrived already; it was taken once."


class DoneElsewhere(Conflict):
    """What a file says was done cannot have been beside what was noted here."""

    code = "job_file.done_differs"

    def __init__(self, why: tuple[str, ...]) -> None:
        self.why = why

    def __str__(self) -> str:
        why = "; ".join(self.why)
        return f"What the file says was done cannot be beside what was noted here: {why}. Nothing was changed."


class StaleShelf(Conflict):
    """A change of a thing on the shelf that was changed since it was looked at."""

    code = "shelf.stale"

    def __init__(self, thing: str, since: tuple[str, ...]) -> None:
        self.thing, self.since = thing, since

    def __str__(self) -> str:
        return (
            f"{self.thing} was changed since you looked at it ({'; '.join(self.since)}). Nothing was written; look at"
            " it as it is now and decide."
        )


class GearInUse(Conflict):
    """A change of gear that would break what is built from it, or contradicts itself."""

    code = "shelf.in_use"

    def __init__(self, thing: str, why: tuple[str, ...]) -> None:
        self.thing, self.why = thing, why

    def __str__(self) -> str:
        more = f" (and {len(self.why) - 3} more)" if len(self.why) > 3 else ""
        return f"{self.thing} was not changed: {'; '.join(self.why[:3])}{more}"


class PlanHasErrors(Conflict):
    """An import that was to be carried out and has errors."""

    code = "shelf.import_errors"

    def __init__(self, errors: tuple[LineError, ...]) -> None:
        self.errors = errors

    def __str__(self) -> str:
        return f"{len(self.errors)} lines have errors, the first: {self.errors[0]}. Nothing was written."


class OthersStep(Conflict):
    """Undo or redo that would take somebody else's work, or what others' work rests on."""

    code = "edit.others"

    def __init__(self, kind: str, title: str, by: str) -> None:
        self.kind, self.title, self.by = kind, title, by

    def __str__(self) -> str:
        done = "The last change" if self.kind == "undo" else "What was undone last"
        return (
            f"{done} is {self.by}'s: “{self.title}”. You have none of your own that can be taken by itself. Nothing was"
            f" changed yet."
        )


class SwapNoted(Conflict):
    """A swap of that place at that time is in the log already."""

    code = "swap.noted"

    def __str__(self) -> str:
        return "A swap of this place at this time is noted already. Take it back first, or give the time it really was."


class GearExists(Conflict):
    """Something new under an id that is on the shelf already."""

    code = "shelf.exists"

    def __init__(self, thing: str) -> None:
        self.thing = thing

    def __str__(self) -> str:
        return (
            f"{self.thing} is on the shelf already. Open it to change it, or give the new one an id of its own; nothing"
            " was written."
        )


class Crossed(Conflict):
    """Two changes that wait for each other, or for something that is held too long."""

    code = "edit.crossed"

    def __str__(self) -> str:
        return "Somebody else is changing the same things right now. Nothing was changed; try again in a moment."


class Unstorable(LiftCrateError, ValueError):
    """A value that no column takes."""

    code = "value.bad"

    def __init__(self, why: str) -> None:
        self.why = why

    def __str__(self) -> str:
        return f"That cannot be kept: {self.why}. Nothing was changed; give a plain text or a number of usual size."


class DatabaseAway(LiftCrateError):
    """PostgreSQL does not answer."""

    code = "database.away"

    def __str__(self) -> str:
        return "The database does not answer right now. Nothing was half-saved; try again in a moment."


class ServerBusy(LiftCrateError):
    """Every connection to the database is at work for somebody else, for longer than one waits."""

    code = "server.busy"

    def __str__(self) -> str:
        return (
            "Many are at work at the same moment and the server did not come to this in time. Nothing was changed; what"
            " you typed is still here. Try again in a moment."
        )


class StoreFull(LiftCrateError):
    """PostgreSQL has no room left to write."""

    code = "database.full"

    def __str__(self) -> str:
        return (
            "The disk of the database is full. Nothing of this was saved, and what was saved before is safe;"
            " free some space on the machine that serves, then try again."
        )


@contextmanager
def translated(pool: ConnectionPool[Any] | None = None) -> Iterator[None]:
    """Turn database errors into ours, by the name of the constraint that broke."""
    try:
        yield
    except pg.ExclusionViolation as error:
        if error.diag.constraint_name != "claim_one_place_at_a_time":
            raise
        raise UnitTaken(_unit_in(error.diag.message_detail or "")) from error
    except pg.UniqueViolation as error:
        if error.diag.constraint_name == "swap_once":
            raise SwapNoted from error
        raise Crossed from error
    except (pg.DeadlockDetected, pg.SerializationFailure, pg.LockNotAvailable) as error:
        raise Crossed from error
    except pg.DataError as error:
        raise Unstorable(error.diag.message_primary or str(error)) from error
    except pg.DiskFull as error:
        raise StoreFull from error
    except PoolTimeout as error:
        # Where there is a server that answers, its connections are all at work.
        raise (ServerBusy if pool is not None and answers(pool) else DatabaseAway)() from error
    except psycopg.OperationalError as error:
        raise DatabaseAway from error


def answers(pool: ConnectionPool[Any]) -> bool:
    """Whether the database of a pool lets anybody in."""
    try:
        psycopg.connect(str(pool.conninfo), connect_timeout=2).close()
    except psycopg.OperationalError:
        return False
    return True


def _unit_in(detail: str) -> str:
    """The unit in 'Key (unit_id, during)=(PACK-01, …) conflicts with …'."""
    _, _, values = detail.partition("=(")
    return values.partition(",")[0] or "A unit"
