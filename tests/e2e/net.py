"""Networks that stand between a browser and the server and do what networks do at the edge of a dock."""

from __future__ import annotations

import socket
import time
from contextlib import suppress
from threading import Event, Thread

from playwright.sync_api import Page

from tests.kit import until

_HOTEL = b"<!doctype html><title>Welcome</title><h1>Sign in to use this network</h1>"
_CUT_AFTER = 60


class Relay:
    """A network between a browser and the server that can go half or wholly dead."""

    def __init__(self, port: int) -> None:
        self.port, self.open = port, list[socket.socket]()
        self.dead, self.hotel, self.cutting, self.slow_s = Event(), Event(), Event(), 0.0
        self.door = socket.create_server(("127.0.0.1", 0))
        self.address = f"http://127.0.0.1:{self.door.getsockname()[1]}"
        Thread(target=self._accept, daemon=True).start()

    def _accept(self) -> None:
        with suppress(OSError):
            while True:
                near, _ = self.door.accept()
                try:
                    far = socket.create_connection(("127.0.0.1", self.port))
                except OSError:  # the server is being started anew
                    near.close()
                    continue
                self.open += [near, far]
                Thread(target=self._out, args=(near, far), daemon=True).start()
                Thread(target=self._back, args=(far, near), daemon=True).start()

    def _out(self, near: socket.socket, far: socket.socket) -> None:
        """What the browser says."""
        with suppress(OSError):
            while data := near.recv(65536):
                if self.dead.is_set():
                    return
                if self.hotel.is_set():
                    head = f"HTTP/1.1 200 OK\r\nContent-Type: text/html\r\nContent-Length: {len(_HOTEL)}\r\n"
                    near.sendall(head.encode() + b"Connection: close\r\n\r\n" + _HOTEL)
                    break
                time.sleep(self.slow_s)
                far.sendall(data)
        for each in (near, far):
            each.close()

    def _back(self, far: socket.socket, near: socket.socket) -> None:
        """What the server answers."""
        with suppress(OSError):
            while data := far.recv(65536):
                if self.dead.is_set():
                    return
                if self.cutting.is_set():
                    near.sendall(data[:_CUT_AFTER])
                    near.shutdown(socket.SHUT_RDWR)
                    break
                near.sendall(data)
        for each in (near, far):
            each.close()

    def swallow(self) -> None:
        """Nothing comes through, and nobody is told."""
        self.dead.set()

    def answer_itself(self) -> None:
        """A page of its own in place of every answer, as the network of a hotel does."""
        self.hotel.set()
        self._cut()

    def cut_answers(self) -> None:
        """Questions arrive; their answers break off within their first line or two."""
        self.cutting.set()

    def back(self) -> None:
        """As it was; what hung is cut."""
        self.dead.clear()
        self.hotel.clear()
        self.cutting.clear()
        self.slow_s = 0.0
        self._cut()

    def gone(self) -> None:
        """Whoever asks is told that nobody is there."""
        self._was = self.door.getsockname()[1]
        self.door.shutdown(socket.SHUT_RDWR)
        self.door.close()
        self._cut()

    def here(self) -> None:
        """After being gone."""
        self.door = socket.create_server(("127.0.0.1", self._was))
        Thread(target=self._accept, daemon=True).start()

    def _cut(self) -> None:
        for each in self.open:
            with suppress(OSError):
                each.shutdown(socket.SHUT_RDWR)
            each.close()
        self.open = []


def is_kept(page: Page, path: str) -> None:
    """Wait until the device keeps an answer of the API."""
    kept = "path => caches.open('lift-crate-read-2').then(c => c.match(path)).then(Boolean)"
    until(lambda: bool(page.evaluate(kept, f"/api{path}")), f"{path} was never kept")
