"""What was worked out lately, kept by what it was worked out from."""

from __future__ import annotations

from collections import OrderedDict
from collections.abc import Callable, Hashable
from threading import Lock
from typing import Generic, TypeVar

__all__ = ["Recent"]

T = TypeVar("T")


class Recent(Generic[T]):
    """The latest so many things that were worked out, by what they were worked out from; several threads may ask."""

    def __init__(self, most: int) -> None:
        self._most, self._lock = most, Lock()
        self._known: OrderedDict[Hashable, T] = OrderedDict()

    def of(self, key: Hashable, make: Callable[[], T]) -> T:
        """What belongs to a key, made where it is not known; raises what ``make`` raises."""
        with self._lock:
            known = self._known.get(key)
            if known is not None:
                self._known.move_to_end(key)
        if known is None:
            known = make()
            self.keep(key, known)
        return known

    def keep(self, key: Hashable, thing: T) -> None:
        """What belongs to a key from now on."""
        with self._lock:
            self._known[key] = thing
            while len(self._known) > self._most:
                self._known.popitem(last=False)
