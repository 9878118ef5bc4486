"""What a name and a password must be, and how long who guesses waits."""

from __future__ import annotations

import unicodedata
from collections.abc import Iterable

from ..errors import LiftCrateError

__all__ = [
    "FREE_BY_ADDRESS",
    "FREE_BY_NAME",
    "BadSecret",
    "checked_name",
    "checked_password",
    "look_alike",
    "wait_s",
]

LEAST, MOST = 10, 200
_LEAST_SCORE = 3
"""Of zxcvbn's 0 to 4: from here on a password stands 10^8 guesses."""
_UNSEEN = frozenset({"Cc", "Cf", "Cn", "Co", "Cs", "Zl", "Zp"})
"""Categories of characters that nobody sees."""
_NOT_TOGETHER = frozenset({"LATIN", "CYRILLIC", "GREEK", "ARMENIAN", "CHEROKEE"})
"""Alphabets that have letters in common to the eye."""
FREE_BY_NAME, FREE_BY_ADDRESS = 3, 30
"""Wrong tries before one waits: with one name, and from one address, from which a whole crew may come."""
_FIRST_WAIT_S, _MOST_WAIT_S = 2.0, 900.0


class BadSecret(LiftCrateError, ValueError):
    """A name or a password that cannot be taken."""

    code = "crew.secret"


def checked_name(name: str) -> str:
    """A person's name as it is kept; raises BadSecret."""
    said = " ".join(unicodedata.normalize("NFKC", name).split())
    if not said or len(said) > 80:
        raise BadSecret("Give a name of 1 to 80 characters.")
    if unseen := next((c for c in said if unicodedata.category(c) in _UNSEEN), None):
        raise BadSecret(f"The name has a character that nobody sees (U+{ord(unseen):04X}). Type it without.")
    alphabets = {unicodedata.name(c, "").partition(" ")[0] for c in said if c.isalpha()} & _NOT_TOGETHER
    if len(alphabets) > 1:
        mixed = " and ".join(sorted(each.capitalize() for each in alphabets))
        raise BadSecret(f"The name mixes {mixed} letters, which look alike. Type it in one alphabet.")
    return said


def look_alike(one: str, other: str) -> bool:
    """Whether two names can be taken for each other: the same but for characters that look alike (Unicode Technical
    Standard 39, confusables), for case, accents and blanks.
    """
    return bool(_seen(one) & _seen(other))


def _seen(name: str) -> frozenset[str]:
    """What a name looks like, as written and in small letters."""
    return frozenset("".join(map(_shape, _plain(said))).replace(" ", "") for said in (name, name.casefold()))


def _plain(name: str) -> str:
    return "".join(c for c in unicodedata.normalize("NFKD", name) if not unicodedata.combining(c))


def _shape(character: str) -> str:
    # Loaded when the first name is given: a server is up sooner.
    from confusable_homoglyphs.confusables import confusables_data  # noqa: PLC0415

    alike = confusables_data.get(character, [])
    if len(alike) != 1:
        return character
    other = str(alike[0]["c"])
    # Two that are like nothing but each other: the first of them stands for both.
    return min(character, other) if len(confusables_data.get(other, [])) == 1 else other


def checked_password(password: str, name: str, others: Iterable[str] = ()) -> str:
    """A password that may be used; ``others``: names that guess it, those of the other people here.

    Raises BadSecret with what would be right.
    """
    if len(password) < LEAST:
        raise BadSecret(f"A password has at least {LEAST} characters; three or four words are easy to keep.")
    if len(password) > MOST:
        raise BadSecret(f"A password has at most {MOST} characters.")
    from zxcvbn import zxcvbn  # noqa: PLC0415 - loaded when the first password is set

    names = [each.casefold() for each in (name, *others)]
    known = [*names, *(word for each in names for word in each.split()), *_OF_THIS_PROGRAM]
    guessed = zxcvbn(password, user_inputs=known, max_length=MOST)
    if password.casefold() in names or guessed["score"] < _LEAST_SCORE:
        raise BadSecret("That password is guessed too soon; take three or four words that have nothing to do with you.")
    return password


_OF_THIS_PROGRAM = ("lift", "crate", "liftcrate", "camera", "crew")


def wait_s(failures: int, free: int = FREE_BY_NAME) -> float:
    """Seconds that who guessed wrong so often in a row waits before the next try counts: none after the first few
    (``free``), then twice as long each time, a quarter of an hour at most.
    """
    return 0.0 if failures < free else min(_MOST_WAIT_S, _FIRST_WAIT_S * 2.0 ** min(failures - free, 20))
