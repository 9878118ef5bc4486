"""The processes of one server: what answers browsers, and what works in the background, started again when it dies."""

from __future__ import annotations

import ctypes
import os
import signal
import subprocess
import sys
import time
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from types import FrameType

__all__ = ["Processes"]

_LOOK_S = 0.25
_FIRST_S = 1.5
"""What answers browsers starts first, and has the machine to itself so long."""
_QUICKLY_S = 5.0
_PR_SET_PDEATHSIG = 1


def _ends_with_parent() -> None:
    """In a new process: when its parent is gone, it ends too, however the parent went."""
    if sys.platform == "linux":
        ctypes.CDLL(None).prctl(_PR_SET_PDEATHSIG, signal.SIGTERM)


class Processes:
    """Runs commands beside each other; the first is the server itself, and its end is the end."""

    def __init__(self, commands: Sequence[Sequence[str]]) -> None:
        self._commands = [list(command) for command in commands]
        self._running: list[subprocess.Popen[bytes]] = []
        self._stopping = False

    @contextmanager
    def begun(self) -> Iterator[Processes]:
        """The server begun, but held before it listens: it may load
        meanwhile. Whatever happens, it does not outlive this block.
        """
        held, self._let_go = os.pipe()
        self._running = [self._start([*self._commands[0], str(held)], held)]
        os.close(held)
        try:
            yield self
        finally:
            self._end()

    def run(self) -> int:
        """Until told to stop, or the server ends; its exit code."""
        for number in (signal.SIGTERM, signal.SIGINT):
            signal.signal(number, self._stop)
        os.close(self._let_go)
        began = [time.monotonic()]
        while not self._stopping and self._running[0].poll() is None:
            time.sleep(_LOOK_S)
            if len(self._running) < len(self._commands) and time.monotonic() - began[0] > _FIRST_S:
                self._running += [self._start(command) for command in self._commands[1:]]
                began += [time.monotonic()] * (len(self._commands) - 1)
            for i, process in enumerate(self._running[1:], 1):
                if process.poll() is not None and not self._stopping and time.monotonic() - began[i] > _QUICKLY_S:
                    print(
                        f"lift-crate: a background process ended ({process.returncode}); it is started again",
                        file=sys.stderr,
                    )
                    self._running[i], began[i] = self._start(self._commands[i]), time.monotonic()
        self._end()
        return 0 if self._stopping else self._running[0].returncode or 0

    def _end(self) -> None:
        for process in self._running:
            if process.poll() is None:
                process.terminate()
        for process in self._running:
            try:
                process.wait(timeout=10)
            except subprocess.TimeoutExpired:
                process.kill()
                process.wait()

    def _start(self, command: list[str], *kept: int) -> subprocess.Popen[bytes]:
        return subprocess.Popen(command, env=os.environ, pass_fds=kept, preexec_fn=_ends_with_parent)  # noqa: S603, PLW1509 - our own commands; the child only asks for a signal

    def _stop(self, number: int, frame: FrameType | None) -> None:
        del number, frame
        self._stopping = True
