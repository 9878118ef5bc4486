"""The scale's line protocol, over a real socket to the simulated one."""

from __future__ import annotations

import threading
from collections.abc import Iterator

import pytest

from lift_crate.devices.line import DeviceAway
from lift_crate.devices.scale import Reading, Scale, parse_reading
from lift_crate.devices.simulated_scale import SimulatedScale


@pytest.fixture
def simulated() -> Iterator[SimulatedScale]:
    with SimulatedScale() as server:
        server.start()
        yield server
        server.shutdown()


def test_a_weight_swings_and_settles(simulated: SimulatedScale) -> None:
    scale = Scale(simulated.address)
    assert scale.name() == "simulated scale, 15 kg"
    assert simulated.answer("P 1652") == "OK"
    readings = [scale.read() for _ in range(5)]
    assert [r.stable for r in readings] == [False, False, True, True, True]
    assert all(abs(r.mass_g - 1652) < 2 for r in readings[2:])
    scale.tare()
    assert abs(scale.read().mass_g) < 2


@pytest.mark.parametrize(
    ("line", "expected"),
    [
        ("S 1234.5 g", Reading(1234.5, True)),
        ("U  1.2 kg", Reading(1200, False)),
        ("S -3 g", Reading(-3, True)),
        ("S 2 lb", Reading(907.18474, True)),
        ("E no", None),
        ("", None),
        ("S lots", None),
    ],
)
def test_readings(line: str, expected: Reading | None) -> None:
    assert parse_reading(line) == expected


def test_what_it_does_not_know_is_said() -> None:
    with SimulatedScale() as server:
        assert server.answer("X") == "E unknown command 'X'; R reads, T tares, I tells who is there"
        assert server.answer("P heavy") == "E 'heavy' is no weight in grams"
        assert server.answer("P 99999") == "E 0 to 15000 g go on this scale"


def test_a_scale_that_is_not_there_or_talks_nonsense() -> None:
    with pytest.raises(DeviceAway, match=r"does not answer .*or type the reading in"):
        Scale("socket://127.0.0.1:1", timeout_s=0.2).read()

    class Nonsense(SimulatedScale):
        def answer(self, line: str) -> str:
            return "hello" if line == "R" else ""

    with Nonsense() as server:
        threading.Thread(target=server.serve_forever, daemon=True).start()
        with pytest.raises(DeviceAway, match="answered 'hello', which is no reading"):
            Scale(server.address).read()
        with pytest.raises(DeviceAway, match="gave no answer"):
            Scale(server.address, timeout_s=0.3).name()
        server.shutdown()
