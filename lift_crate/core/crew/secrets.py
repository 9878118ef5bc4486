"""What a name and a password must be, and how long who guesses waits."""

from __future__ import annotations

from ..errors import LiftCrateError

__all__ = ["FREE_BY_ADDRESS", "FREE_BY_NAME", "BadSecret", "checked_name", "checked_password", "wait_s"]

LEAST, MOST = 10, 200
FREE_BY_NAME, FREE_BY_ADDRESS = 3, 30
"""Wrong tries before one waits: with one name, and from one address, from which a whole crew may come."""
_FIRST_WAIT_S, _MOST_WAIT_S = 2.0, 900.0


class BadSecret(LiftCrateError, ValueError):
    """A name or a password that cannot be taken."""

    code = "crew.secret"


def checked_name(name: str) -> str:
    """A person's name as it is kept; raises BadSecret."""
    said = " ".join(name.split())
    if not said or len(said) > 80:
        raise BadSecret("Give a name of up to 80 characters, as it stands on the day's table.")
    return said


def checked_password(password: str, name: str) -> str:
    """A password that may be used; raises BadSecret with what would be right."""
    if len(password) < LEAST:
        raise BadSecret(f"A password has at least {LEAST} characters; three or four words are easy to keep.")
    if len(password) > MOST:
        raise BadSecret(f"A password has at most {MOST} characters.")
    plain = password.casefold()
    if len(set(plain)) < 4 or plain in {name.casefold(), *(_COMMON[n : n + len(plain)] for n in range(len(_COMMON)))}:
        raise BadSecret("That password is guessed at once; take three or four words that have nothing to do with you.")
    return password


_COMMON = "abcdefghijklmnopqrstuvwxyz 01234567890123456789 qwertyuiopasdfghjklzxcvbnm passwordpassword"
"""Nobody's password is a piece of this."""


def wait_s(failures: int, free: int = FREE_BY_NAME) -> float:
    """Seconds that who guessed wrong so often in a row waits before the next try counts: none after the first few
    (``free``), then twice as long each time, a quarter of an hour at most.
    """
    return 0.0 if failures < free else min(_MOST_WAIT_S, _FIRST_WAIT_S * 2.0 ** min(failures - free, 20))
