"""What others do, told to every window while they do it, as server-sent events."""

from __future__ import annotations

import json
import secrets
import time
from collections.abc import Iterator
from datetime import UTC, datetime
from typing import Annotated

from flask import Response, abort, request
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.errors import LiftCrateError
from ..store.live import Live, Looking, Notice
from . import schema as s
from .answers import Responses
from .described import PlaceApi
from .doors import cookie_name
from .identity import current_person, current_session
from .services import Services, services

__all__ = ["api"]

api = PlaceApi(
    "live", __name__, url_prefix="/api/jobs/<string:job>", abp_tags=[Tag(name="live", description="What others do")]
)
_ERRORS: Responses = {404: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}
_BEAT_S = 2.0
_ASKS_AGAIN_S = 10.0
"""So often a stream asks whether who is told may still be told."""
_LASTS_S = 540.0
"""After so long a stream ends and its window comes anew; proxies that end what takes long need not do it."""
_MOST_WINDOWS = 300
"""Of one process; its other connections are for those who ask something."""
Name = Annotated[str, Field(max_length=120)]
Tab = Annotated[str, Field(pattern=r"^[A-Za-z0-9-]{8,64}$")]


class LiveQuery(s.Strict):
    """Which window it is, what it looks at, and the number of the last thing it was told."""

    tab: Tab
    part: Name = ""
    rig: Name = ""
    place: Name = ""
    after: Annotated[int, Field(ge=0, le=2**53)] | None = None


class LookingAt(s.Strict):
    """What a window looks at now."""

    tab: Tab
    part: Name = ""
    rig: Name = ""
    place: Name = ""
    gone: bool = False
    """It is closed, and looks at nothing any more."""


@api.get("/live", responses=_ERRORS, operation_id="listenToJob")
def listen(path: s.JobPath, query: LiveQuery) -> Response:
    """Server-sent events: ``happening`` (numbered), ``strips``, ``looking``, ``here``, ``beat``, ``anew``, ``shut``."""
    known, job = services(), services().jobs.read(path.job)[0].id
    if known.live.windows >= _MOST_WINDOWS:
        abort(503, "So many windows are told here what happens that no more can be. Close one that nobody looks at.")
    told = request.headers.get("Last-Event-ID", "")
    after = int(told) if told.isdecimal() and len(told) < 16 else query.after
    session = current_session()
    token = request.cookies.get(cookie_name(), "") if session else ""
    stream = _Stream(known, job, query, token)
    stream.person, stream.name = current_person().id, current_person().name
    return Response(
        stream.lines(after),
        mimetype="text/event-stream",
        headers={"Cache-Control": "no-store", "X-Accel-Buffering": "no"},
    )


@api.post("/looking", responses={204: None, **_ERRORS}, operation_id="lookAt")
def look_at(path: s.JobPath, body: LookingAt) -> Response:
    """What this window looks at from now on."""
    person, at = current_person().id, Looking(body.part, body.rig, body.place)
    if body.gone:
        services().live.gone(body.tab, path.job, person)
    else:
        services().live.look_elsewhere(body.tab, path.job, person, at)
    return Response(status=204)


class _Stream:
    """What one window is told, from its coming to its going."""

    person = ""
    name = ""

    def __init__(self, known: Services, job: str, query: LiveQuery, token: str) -> None:
        self.known, self.job, self.query, self.token = known, job, query, token
        self.id = secrets.token_hex(8)
        self.live: Live = known.live
        self.told: set[int] = set()
        """Numbers of what was told on coming: what happened just then is in its row besides, and is told once."""

    def lines(self, after: int | None) -> Iterator[str]:
        """Events as they are sent."""
        window = self.live.open(self.job, self.query.tab, self.query.part)
        try:
            yield from self._come(after)
            ends, asks, beats = (time.monotonic() + each for each in (_LASTS_S, _ASKS_AGAIN_S, _BEAT_S))
            while time.monotonic() < ends and self.live.running() and not window.behind:
                notice = window.next(max(0.05, min(beats - time.monotonic(), 1.0)))
                if notice and notice.kind == "again":
                    return
                if notice and notice.number not in self.told:
                    yield _line(notice)
                if time.monotonic() >= asks or (notice and _of_crew(notice)):
                    asks = time.monotonic() + _ASKS_AGAIN_S
                    if not self._may():
                        yield _line(Notice("shut", "{}"))
                        return
                    self.live.still(self.query.tab, self.id)
                if time.monotonic() >= beats:
                    beats = time.monotonic() + _BEAT_S
                    yield _line(Notice("beat", json.dumps({"now": datetime.now(UTC).isoformat()})))
        except LiftCrateError:
            return  # the database is away: the window comes again
        finally:
            self.live.close(window)
            self._go()

    def _come(self, after: int | None) -> Iterator[str]:
        at = Looking(self.query.part, self.query.rig, self.query.place)
        self.live.look(self.query.tab, self.id, self.job, self.person, self.name, at)
        since = self.live.since(self.job, after)
        yield "retry: 500\n"
        yield _line(Notice("anew" if since.all_anew else "ready", json.dumps({"last": since.last})))
        self.told = {notice.number for notice in since.missed if notice.number is not None}
        yield from (_line(notice) for notice in since.missed)
        yield _line(Notice("here", json.dumps(self.live.who(self.job))))

    def _go(self) -> None:
        try:
            self.live.look_away(self.query.tab, self.id)
        except LiftCrateError:
            return  # it is forgotten after a while

    def _may(self) -> bool:
        """Whether who is told may still look: not signed out, not without a role by now."""
        if not self.token:
            return True
        session = self.known.crew.session(self.token, self.job, used=False)
        return session is not None and session.role is not None


def _of_crew(notice: Notice) -> bool:
    return notice.kind == "happening" and json.loads(notice.says)["kind"] == "crew"


def _line(notice: Notice) -> str:
    number = "" if notice.number is None else f"id: {notice.number}\n"
    return f"{number}event: {notice.kind}\ndata: {notice.says}\n\n"
