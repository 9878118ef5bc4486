"""A device that does not end its line, ends it too late, or is read by two at once."""

from __future__ import annotations

import socket
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import contextmanager

import pytest

from lift_crate.devices.line import DeviceAway
from lift_crate.devices.scale import Scale
from lift_crate.devices.simulated_scale import SimulatedScale


@contextmanager
def device(answers: Callable[[socket.socket], None]) -> Iterator[str]:
    """An address at which every connection is handled so."""
    with socket.create_server(("127.0.0.1", 0)) as server:

        def serve() -> None:
            try:
                while True:
                    connection, _ = server.accept()
                    threading.Thread(target=handle, args=(connection,), daemon=True).start()
            except OSError:
                return

        def handle(connection: socket.socket) -> None:
            with connection:
                try:
                    answers(connection)
                except OSError:
                    return

        threading.Thread(target=serve, daemon=True).start()
        yield f"socket://127.0.0.1:{server.getsockname()[1]}"


def drips(connection: socket.socket) -> None:
    connection.recv(100)
    while True:
        connection.sendall(b"S")
        time.sleep(0.05)


def test_bytes_without_an_end_end_with_the_deadline() -> None:
    with device(drips) as address:
        began = time.monotonic()
        with pytest.raises(DeviceAway, match="began an answer and did not end it"):
            Scale(address, timeout_s=0.4).read()
        assert time.monotonic() - began < 10, "the deadline is for the whole answer, not for each byte"


def floods(connection: socket.socket) -> None:
    connection.recv(100)
    while True:
        connection.sendall(b"x" * 1000)


def test_an_answer_without_bound_is_cut() -> None:
    with device(floods) as address, pytest.raises(DeviceAway, match="did not end it"):
        Scale(address, timeout_s=5).read()


def cuts(connection: socket.socket) -> None:
    connection.recv(100)
    connection.sendall(b"S  12")
    connection.recv(100)


def test_a_line_that_is_cut_is_no_reading() -> None:
    with device(cuts) as address, pytest.raises(DeviceAway, match="did not end it"):
        Scale(address, timeout_s=0.3).read()


def test_two_readers_take_turns() -> None:
    with SimulatedScale() as scale:
        scale.start()
        found: list[float] = []

        def read() -> None:
            with Scale(scale.address) as mine:
                mine.name()
                time.sleep(0.05)
                found.append(mine.read().mass_g)

        readers = [threading.Thread(target=read) for _ in range(4)]
        for reader in readers:
            reader.start()
        for reader in readers:
            reader.join()
        assert len(found) == 4
        scale.shutdown()
