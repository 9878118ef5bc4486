"""What simulated devices share: a TCP server on loopback that answers every line with one line."""

from __future__ import annotations

import random
import socketserver
import threading

__all__ = ["SimulatedDevice"]


class _Handler(socketserver.StreamRequestHandler):
    server: SimulatedDevice

    def handle(self) -> None:
        for raw in self.rfile:
            self.wfile.write(f"{self.server.answer(raw.decode('ascii', errors='replace').strip())}\r\n".encode("ascii"))


class SimulatedDevice(socketserver.ThreadingTCPServer):
    """A device; ``start`` serves it from a thread of its own."""

    allow_reuse_address = True
    daemon_threads = True

    def __init__(self, port: int = 0, *, seed: int = 1) -> None:
        super().__init__(("127.0.0.1", port), _Handler)
        self.random = random.Random(seed)  # noqa: S311 - noise of a device, no secret
        self._lock = threading.Lock()

    @property
    def address(self) -> str:
        """As pyserial opens it."""
        return f"socket://127.0.0.1:{self.server_address[1]}"

    def start(self) -> None:
        """Serve from a thread of its own."""
        threading.Thread(target=self.serve_forever, daemon=True, name=type(self).__name__).start()

    def answer(self, line: str) -> str:
        """One answer to one line."""
        command, _, rest = line.partition(" ")
        with self._lock:
            return self.reply(command, rest)

    def reply(self, command: str, rest: str) -> str:
        """What this device says to a command; one at a time."""
        raise NotImplementedError
