"""Devices over a serial port or TCP that answer every line with one line."""

from __future__ import annotations

import fcntl
import hashlib
import os
import tempfile
import time
from pathlib import Path
from types import TracebackType
from typing import ClassVar, Self, TextIO

import serial

from ..core.errors import LiftCrateError

__all__ = ["DeviceAway", "LineDevice"]


_WAIT_S = 4.0
"""For somebody else who reads the same device."""
_LONGEST = 400
"""Bytes of an answer."""


class DeviceAway(LiftCrateError):
    """A device does not answer, or not in words that can be read."""

    code = "device.away"

    def __init__(self, kind: str, address: str, what: str, instead: str) -> None:
        self.kind, self.address, self.what, self.instead = kind, address, what, instead

    def __str__(self) -> str:
        return f"The {self.kind} at {self.address} {self.what}. Check that it is on and connected, or {self.instead}."


class LineDevice:
    """A device at an address as pyserial knows them: ``/dev/ttyUSB0`` or ``socket://127.0.0.1:8471``."""

    kind: ClassVar[str]
    instead: ClassVar[str]
    """What a person can do without it."""

    def __init__(self, address: str, *, timeout_s: float = 1.0) -> None:
        self.address, self.timeout_s = address, timeout_s
        self._line: serial.SerialBase | None = None
        self._held: TextIO | None = None

    def __enter__(self) -> Self:
        """One line for everything that is asked within, and nobody else on it meanwhile; raises DeviceAway."""
        self._hold()
        try:
            self._line = self._open()
        except DeviceAway:
            self._let_go()
            raise
        return self

    def __exit__(
        self, kind: type[BaseException] | None, error: BaseException | None, trace: TracebackType | None
    ) -> None:
        line, self._line = self._line, None
        if line:
            line.close()
        self._let_go()

    def _hold(self) -> None:
        """One reader at a time, over all processes of this machine."""
        name = hashlib.sha256(self.address.encode()).hexdigest()[:16]
        handle = (Path(tempfile.gettempdir()) / f"lift-crate-device-{os.getuid()}-{name}.lock").open(
            "a", encoding="ascii"
        )
        ends = time.monotonic() + _WAIT_S
        while True:
            try:
                fcntl.flock(handle, fcntl.LOCK_EX | fcntl.LOCK_NB)
            except OSError:
                if time.monotonic() > ends:
                    handle.close()
                    raise self.away("is being read by somebody else") from None
                time.sleep(0.02)
            else:
                self._held = handle
                return

    def _let_go(self) -> None:
        held, self._held = self._held, None
        if held:
            held.close()

    def name(self) -> str:
        """Who is there; raises DeviceAway."""
        answer = self.ask("I")
        if not answer.startswith("I "):
            raise self.away(f"answered {answer!r} when asked for its name")
        return answer[2:]

    def require_ok(self, command: str) -> None:
        """Tell it to do something; raises DeviceAway."""
        answer = self.ask(command)
        if answer != "OK":
            raise self.away(f"answered {answer!r}")

    def ask(self, command: str) -> str:
        """One line for one line; raises DeviceAway."""
        if self._line is None:
            with self:
                return self.ask(command)
        try:
            self._line.write(f"{command}\r\n".encode("ascii"))
            answer = self._answer(self._line)
        except (serial.SerialException, OSError) as error:
            raise self.away(f"does not answer ({error})") from error
        if not answer:
            raise self.away("gave no answer")
        return answer

    def _answer(self, line: serial.SerialBase) -> str:
        """The whole of one answer within its time; a line that is cut off is none."""
        ends = time.monotonic() + self.timeout_s
        raw = bytearray()
        while not raw.endswith(b"\n"):
            left = ends - time.monotonic()
            if left <= 0 or len(raw) > _LONGEST:
                raise self.away(
                    f"began an answer and did not end it ({bytes(raw[:40])!r})" if raw else "gave no answer"
                )
            line.timeout = left
            raw += line.read(1)
        return raw.decode("ascii", errors="replace").strip()

    def _open(self) -> serial.SerialBase:
        try:
            return serial.serial_for_url(self.address, timeout=self.timeout_s)
        except (serial.SerialException, OSError) as error:
            raise self.away(f"does not answer ({error})") from error

    def away(self, what: str) -> DeviceAway:
        """What to raise."""
        return DeviceAway(self.kind, self.address, what, self.instead)
