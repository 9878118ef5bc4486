"""Who is asking: the person that a request comes from, and the browser that waits for a plan."""

from __future__ import annotations

import re

from flask import g, has_request_context, request

from ..core.crew.rights import Person, Role
from ..store.crew import Session

__all__ = [
    "AT_THE_BENCH",
    "current_actor",
    "current_asker",
    "current_browser",
    "current_person",
    "current_session",
    "knows",
    "now_leads",
]

AT_THE_BENCH = Person(id="", name="bench", house="lead")
"""Whoever is at this machine, where nobody signs in."""
_BROWSER = re.compile(r"[A-Za-z0-9-]{1,64}")


def current_person() -> Person:
    """Who it is; where nobody has to be, whoever is at the bench."""
    found: Person | None = g.get("person")
    return found or AT_THE_BENCH


def current_session() -> Session | None:
    """The session that the request came with, if it stands."""
    found: Session | None = g.get("session")
    return found


def current_actor() -> str:
    """Name that edits are recorded under."""
    return current_person().name


def knows(job: str) -> bool:
    """Whether who is asking may learn that a job exists."""
    roles: dict[str, Role] | None = g.get("roles") if has_request_context() else None
    return roles is None or job in roles


def now_leads(job: str) -> None:
    """Who is asking has just been made the lead of a job."""
    roles: dict[str, Role] | None = g.get("roles")
    if roles is not None:
        roles[job] = "lead"


def current_browser() -> str:
    """The name that a window gave itself; empty where none did."""
    told = request.headers.get("X-Browser", "")
    return told if _BROWSER.fullmatch(told) else ""


def current_asker() -> str:
    """Which browser waits for a plan: by the name it gave itself, else by its address."""
    return current_browser() or f"at {request.remote_addr or 'nowhere'}"
