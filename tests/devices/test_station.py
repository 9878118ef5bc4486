"""The copy station's line protocol, over a real socket to the simulated one."""

from __future__ import annotations

from collections.abc import Iterator

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.devices.line import DeviceAway
from lift_crate.devices.simulated_station import SimulatedStation
from lift_crate.devices.station import CopyStation, parse_reader
from tests.kit import Clock


@pytest.fixture
def clock() -> Clock:
    return Clock()


@pytest.fixture
def simulated(clock: Clock) -> Iterator[SimulatedStation]:
    with SimulatedStation(failing=("BAD",), clock=clock) as server:
        server.start()
        yield server
        server.shutdown()


def test_324_gb_at_250_mb_s_take_21_6_min_and_as_long_again_to_compare(
    simulated: SimulatedStation, clock: Clock
) -> None:
    station = CopyStation(simulated.address)
    assert [r.doing for r in station.readers()] == ["empty", "empty"]
    station.put(1, "WIDE-03", 324, 250)
    station.copy(1, "DRIVE-1")
    clock.s = 21.6 * 60 - 1
    assert station.reader(1).doing == "copying"
    clock.s = 21.6 * 60 + 1
    now = station.reader(1)
    assert (now.doing, now.done_gb, now.checksum) == ("comparing", 324, "")
    with pytest.raises(DeviceAway, match="it is copying"):
        station.copy(1, "DRIVE-2")
    clock.s = 43.2 * 60 + 1
    done = station.reader(1)
    assert done.doing == "done"
    station.copy(1, "DRIVE-2")
    clock.s *= 2
    assert station.reader(1).checksum == done.checksum != "", "the same card has the same sum on every drive"
    station.end(1)
    assert station.reader(1).doing == "empty"


def test_a_card_that_fails_a_drive_that_fills_and_a_slow_one(simulated: SimulatedStation, clock: Clock) -> None:
    station = CopyStation(simulated.address)
    station.put(1, "BAD", 100, 250)
    station.copy(1, "DRIVE-1")
    assert simulated.answer("F DRIVE-2 60") == "OK"
    station.put(2, "WIDE-01", 100, 250)
    with pytest.raises(DeviceAway, match="DRIVE-1 is being written to"):
        station.copy(2, "DRIVE-1")
    station.copy(2, "DRIVE-2")
    clock.s = 3600
    bad, full = station.readers()
    assert (bad.doing, bad.done_gb, bad.why) == ("failed", 70, "BAD cannot be read any further")
    assert (full.doing, full.done_gb, full.why) == ("failed", 60, "DRIVE-2 is full")
    with pytest.raises(DeviceAway, match="in another reader"):
        station.put(1, "WIDE-01", 10, 250)
    rates = set()
    for n in range(20):
        station.put(1, f"CARD-{n}", 100, 200)
        rates.add(station.reader(1).mb_s)
    assert rates == {200, 70}


@given(st.text(max_size=60))
def test_whatever_it_is_told_it_answers_one_line_and_goes_on(line: str) -> None:
    with SimulatedStation() as station:
        for asked in (line, f"S {line}", f"P {line}", f"C 1 {line}", f"F {line}"):
            answer = station.answer(asked.replace("\n", " ").replace("\r", " "))
            assert answer
            assert "\n" not in answer
            assert answer.isascii() or answer.startswith(("E", "S"))
        assert station.answer("S 2") == "S 2 empty"


@given(st.text(max_size=80))
def test_no_answer_is_taken_for_a_reader_that_is_none(answer: str) -> None:
    reader = parse_reader(answer)
    assert reader is None or answer.startswith("S ")
