"""Who is at the bench. The place of sign-in: until there is one, everybody on this machine is the same person."""

from __future__ import annotations

__all__ = ["current_actor"]


def current_actor() -> str:
    """Name that edits are recorded under."""
    return "bench"
