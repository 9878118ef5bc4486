"""Who is at the bench. The place of sign-in: until there is one, everybody on this machine is the same person."""

from __future__ import annotations

import re

from flask import request

__all__ = ["current_actor", "current_asker"]

_BROWSER = re.compile(r"[A-Za-z0-9-]{1,64}")


def current_actor() -> str:
    """Name that edits are recorded under."""
    return "bench"


def current_asker() -> str:
    """Which browser waits for a plan: by the name it gave itself, else by its address."""
    told = request.headers.get("X-Browser", "")
    return told if _BROWSER.fullmatch(told) else f"at {request.remote_addr or 'nowhere'}"
