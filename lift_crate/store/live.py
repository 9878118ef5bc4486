"""What is done by others, told while it is done: notices of the database, handed on to every window that looks.

A process has one connection that listens. What is told is kept for a while, so that whoever was cut off is told what
he missed; the same thing may come twice, or after a newer one, and is known by its number.
"""

from __future__ import annotations

import json
import logging
import time
from collections.abc import Callable, Collection, Iterable
from dataclasses import dataclass, field
from queue import Empty, Full, Queue
from threading import Lock, Thread
from typing import Any, NamedTuple

import psycopg

from ..core.job.job import NotInJob
from .database import Pool, live_queries, reading, with_limits, writing

_log = logging.getLogger(__name__)
__all__ = ["Live", "Looking", "Notice", "Since", "Window"]

_CHANNELS = ("lift_crate_happening", "lift_crate_looking")
_MOST_MISSED = 400
"""Things that are told one by one to whoever comes back; after more he looks at everything anew."""
_LATE = 100
"""Numbers are given before, and seen after, a transaction ends: so many before the last one seen are told again."""
_MOST_WAITING = 1000
_ANYTHING = ""
_SETTLES_S = 0.12
"""Changes of one job that come together are looked at together."""


class Looking(NamedTuple):
    """What a window looks at in its job: a part of the day, a camera, a place on the strap."""

    part: str
    rig: str
    place: str


class Notice(NamedTuple):
    """Something to be told to a window: its kind, what it says as JSON, its number where it is kept."""

    kind: str
    says: str
    number: int | None = None


class Since(NamedTuple):
    """What a window has missed, nothing one by one where that is too much; what it knows goes up to ``last``."""

    missed: tuple[Notice, ...]
    last: int
    all_anew: bool


@dataclass(eq=False)
class Window:
    """One window that is told what happens in its job."""

    job: str
    tab: str
    part: str
    waiting: Queue[Notice] = field(default_factory=lambda: Queue(_MOST_WAITING))
    behind: bool = False
    """So much was not taken from it that it has to come anew."""

    def next(self, within_s: float) -> Notice | None:
        """The next notice; none where nothing came."""
        try:
            return self.waiting.get(timeout=within_s)
        except Empty:
            return None

    def tell(self, notice: Notice) -> None:
        """Put a notice into its row."""
        try:
            self.waiting.put_nowait(notice)
        except Full:
            self.behind = True


class Live:
    """Hands on what happens. ``strips``: all cameras of a job in a part of the day, as JSON, worked out once for all
    windows that look there; empty where builds of those names are not planned then (none named: whatever changed).
    """

    def __init__(self, pool: Pool, strips: Callable[[str, str, Collection[str]], str]) -> None:
        self.pool, self._strips = pool, strips
        self.running: Callable[[], bool] = lambda: not pool.closed
        self._lock = Lock()
        self._windows: set[Window] = set()
        self._thread: Thread | None = None
        self._changed: dict[str, tuple[float, set[str]]] = {}

    def open(self, job: str, tab: str, part: str) -> Window:
        """A window that is told from now on."""
        window = Window(job, tab, part)
        with self._lock:
            self._windows.add(window)
            if self._thread is None or not self._thread.is_alive():
                self._thread = Thread(target=self._listen, name="live", daemon=True)
                self._thread.start()
        return window

    def close(self, window: Window) -> None:
        """It is told nothing any more."""
        with self._lock:
            self._windows.discard(window)

    @property
    def windows(self) -> int:
        """How many are told."""
        return len(self._windows)

    @property
    def settled(self) -> bool:
        """Whether everybody was shown the strips of what has changed."""
        return not self._changed

    def since(self, job: str, after: int | None) -> Since:
        """What was told of a job after a number; without one only where things stand."""
        with reading(self.pool) as connection:
            row = live_queries.last_happening(connection)
            last = int(row["last"])
            if after is None:
                # What happened while its page was on its way may or may not be on it.
                rows = list(live_queries.happenings(connection, job=job, after=row["read"], most=_MOST_MISSED))
                return Since(tuple(_notice(each) for each in rows), int(row["read"]), all_anew=False)
            # After a restore numbers begin again: who knows of more than there is has seen another past.
            if after > last or after < row["first"] - 1:
                return Since((), last, all_anew=True)
            rows = list(live_queries.happenings(connection, job=job, after=after - _LATE, most=_MOST_MISSED + 1))
        if len(rows) > _MOST_MISSED:
            return Since((), last, all_anew=True)
        return Since(tuple(_notice(row) for row in rows), last, all_anew=False)

    def look(self, tab: str, stream: str, job: str, account: str, name: str, at: Looking) -> None:
        """A window looks at a job from now on, by a stream that may have followed another."""
        with writing(self.pool) as connection:
            live_queries.look(connection, tab=tab, stream=stream, job=job, account=account, name=name, **at._asdict())

    def look_elsewhere(self, tab: str, job: str, account: str, at: Looking) -> None:
        """A window of somebody's looks at something else."""
        with writing(self.pool) as connection:
            live_queries.look_elsewhere(connection, tab=tab, job=job, account=account, **at._asdict())

    def gone(self, tab: str, job: str, account: str) -> None:
        """A window of somebody's was closed; its stream would be missed only a little later."""
        with writing(self.pool) as connection:
            live_queries.gone(connection, tab=tab, job=job, account=account)

    def still(self, tab: str, stream: str) -> None:
        """A window is still there."""
        with writing(self.pool) as connection:
            live_queries.still_looking(connection, tab=tab, stream=stream)

    def look_away(self, tab: str, stream: str) -> None:
        """A window is gone, unless it has come back by another stream."""
        with writing(self.pool) as connection:
            live_queries.look_away(connection, tab=tab, stream=stream)

    def who(self, job: str) -> list[dict[str, Any]]:
        """Windows that look at a job: tab, name, part, rig, place."""
        with reading(self.pool) as connection:
            return list(live_queries.who_looks(connection, job=job))

    def _listen(self) -> None:
        """Listen as long as the process serves; a database that goes away is listened to again when it is back."""
        lost = False
        while self.running():
            try:
                with psycopg.connect(with_limits(str(self.pool.conninfo)), autocommit=True) as connection:
                    for channel in _CHANNELS:
                        connection.execute(f"LISTEN {channel}".encode())
                    if lost:
                        # What was told meanwhile was told to nobody: everybody comes anew and asks what he missed.
                        self._tell(self._open(), Notice("again", "{}"))
                        lost = False
                    while self.running():
                        # To its end: what came together and is not taken out would be lost.
                        for told in connection.notifies(timeout=_SETTLES_S if self._changed else 0.5, stop_after=1):
                            self._hand_on(told.channel, json.loads(told.payload))
                        self._show_strips()
            except psycopg.Error:
                lost = True
                time.sleep(0.5)

    def _open(self) -> list[Window]:
        with self._lock:
            return list(self._windows)

    def _tell(self, windows: Iterable[Window], notice: Notice) -> None:
        for window in windows:
            window.tell(notice)

    def _hand_on(self, channel: str, told: dict[str, Any]) -> None:
        job = told["job_id"]
        those = [w for w in self._open() if job is None or w.job == job]
        if channel == "lift_crate_looking":
            for window in those:
                if window.tab == told["tab"] and not told["gone"] and window.part != told["part"]:
                    window.part = told["part"]
            self._tell(those, Notice("looking", json.dumps(told)))
            return
        self._tell(those, _notice(told))
        if told["kind"] in ("build", "job", "jobs", "shelf"):
            for each in {w.job for w in those}:
                _, builds = self._changed.setdefault(each, (time.monotonic(), set()))
                builds.add(told["thing"] if told["kind"] == "build" else _ANYTHING)

    def _due(self) -> list[str]:
        now = time.monotonic()
        return [job for job, (at, _) in self._changed.items() if now - at >= _SETTLES_S]

    def _show_strips(self) -> None:
        """The cameras of every part that is looked at in a job that has changed, to all who look there."""
        for job in self._due():
            _, builds = self._changed[job]
            those = [w for w in self._open() if w.job == job and w.part]
            for part in sorted({w.part for w in those}):
                try:
                    says = self._strips(job, part, () if _ANYTHING in builds else builds)
                except NotInJob:
                    # A window may name a part that nobody made; a job or a part that is gone is told by its own notice.
                    continue
                except Exception:
                    # Nobody is left without the next one.
                    _log.exception("strips of %s, %s", job, part)
                    continue
                if says:
                    self._tell([w for w in those if w.part == part], Notice("strips", says))
            del self._changed[job]


def _notice(row: dict[str, Any]) -> Notice:
    at = row["at"] if isinstance(row["at"], str) else row["at"].isoformat()
    return Notice("happening", json.dumps({**row, "at": at}), int(row["id"]))
