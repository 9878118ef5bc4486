"""The gimbal's line protocol, over a real socket to the simulated one."""

from __future__ import annotations

from collections.abc import Iterator

import pytest

from lift_crate.devices.gimbal import Gimbal, parse_loads
from lift_crate.devices.line import DeviceAway
from lift_crate.devices.simulated_gimbal import SimulatedGimbal


@pytest.fixture
def simulated() -> Iterator[SimulatedGimbal]:
    with SimulatedGimbal() as server:
        server.start()
        yield server
        server.shutdown()


def test_off_it_tells_nothing_and_hung_it_tells_nearly_what_pulls(simulated: SimulatedGimbal) -> None:
    gimbal = Gimbal(simulated.address)
    gimbal.hang((0.3, 0.1, 0.0))
    with pytest.raises(DeviceAway, match=r"is switched off.*or read its own display"):
        gimbal.loads_nm()
    gimbal.switch(on=True)
    tilt, roll, pan = gimbal.loads_nm()
    assert tilt == pytest.approx(0.3, abs=0.05)
    assert roll == pytest.approx(0.1, abs=0.03)
    assert 0 <= pan < 0.02
    assert tilt != 0.3, "no rig hangs as it was computed"
    gimbal.switch(on=False)
    with pytest.raises(DeviceAway):
        gimbal.loads_nm()


def test_it_is_calibrated_to_what_hangs_there_and_to_nothing_else(simulated: SimulatedGimbal) -> None:
    gimbal = Gimbal(simulated.address)
    gimbal.hang((0.3, 0.1, 0.0))
    with pytest.raises(DeviceAway):
        gimbal.calibrate()
    gimbal.switch(on=True)
    assert gimbal.calibrated() is False
    gimbal.calibrate()
    gimbal.hang((0.3, 0.1, 0.0))
    assert gimbal.calibrated() is True
    gimbal.hang((0.2, 0.1, 0.0))
    assert gimbal.calibrated() is False


def test_a_gimbal_that_cannot_tell_is_not_taken_to_be_calibrated(
    simulated: SimulatedGimbal, monkeypatch: pytest.MonkeyPatch
) -> None:
    gimbal = Gimbal(simulated.address)
    monkeypatch.setattr(gimbal, "ask", lambda _: "E unknown command 'S'")
    assert gimbal.calibrated() is None
    monkeypatch.setattr(gimbal, "ask", lambda _: "S perhaps")
    with pytest.raises(DeviceAway, match="tells nothing about its motors"):
        gimbal.calibrated()


@pytest.mark.parametrize("line", ["H 1 2", "H a b c", "H -1 0 0", "P 2", "X", ""])
def test_what_it_does_not_understand_it_says(simulated: SimulatedGimbal, line: str) -> None:
    assert simulated.answer(line).startswith("E ")


def test_loads_are_read_or_refused() -> None:
    assert parse_loads("L 0.1  2 0.05\r\n") == (0.1, 2.0, 0.05)
    assert [parse_loads(line) for line in ("L 1 2", "L 1 2 -3", "E off", "")] == [None] * 4
