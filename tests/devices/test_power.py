"""Charger and power meter over their line protocols, against the simulated ones and against nonsense."""

from __future__ import annotations

import pytest

from lift_crate.core.job.charging import charge_hours
from lift_crate.devices.line import DeviceAway
from lift_crate.devices.meter import Charger, Meter, parse_bay, parse_flow
from lift_crate.devices.simulated_power import SimulatedCharger, SimulatedMeter


def test_the_meter_reads_what_is_plugged_in_within_its_noise() -> None:
    with SimulatedMeter() as stand_in:
        stand_in.start()
        with Meter(stand_in.address) as meter:
            meter.plug(14.8, 19.0)
            flow = meter.read()
        for line in ("L", "L 0 5", "L 12 x", "Z"):
            assert stand_in.answer(line).startswith("E ")
        stand_in.shutdown()
    assert flow.watts == pytest.approx(19.0, rel=0.2)
    assert flow.watts == pytest.approx(flow.volts * flow.amps, rel=0.01)


def test_a_pack_fills_on_the_charger_as_the_formula_says() -> None:
    """98 Wh from 10 % at 40 W: 2.695 h, to the minute; two share what there is."""
    with SimulatedCharger(bay_w=40, total_w=200) as stand_in:
        stand_in.start()
        stand_in.answer("P 1 98 0.1")
        minutes = charge_hours(98, 1.0, 0.1, 1.0, 40) * 60
        stand_in.answer(f"T {round(minutes) - 4}")
        with Charger(stand_in.address) as charger:
            assert charger.bays()[0].state == "charging"
            stand_in.answer("T 8")
            first, *others = charger.bays()
        stand_in.shutdown()
    assert (first.state, first.charge, first.watts) == ("full", 1, 0)
    assert {bay.state for bay in others} == {"empty"}


def test_bays_share_what_there_is() -> None:
    with SimulatedCharger(bay_w=60, total_w=80) as shared:
        shared.answer("P 1 98 0.2")
        shared.answer("P 2 98 0.2")
        assert shared.answer("B 1") == "B 1 charging 0.200 40.0"
        assert shared.answer("W") == "W 80.0"
        shared.answer("O 2")
        assert shared.answer("B 1").endswith(" 60.0")
        for line in ("B 9", "P 1 0 0.5", "P 1 98 1.5", "T -1", "B x", "Q"):
            assert shared.answer(line).startswith("E "), line


@pytest.mark.parametrize("line", ["", "M", "M 1 2", "M x 2 3", "B 1 2 3", "E off", "M -1 2 3"])
def test_nonsense_is_no_reading(line: str) -> None:
    assert parse_flow(line) is None
    assert parse_bay(line) is None
    assert parse_bay("B 1 charging 1.7 20") is None


def test_nobody_there_says_what_to_do_instead() -> None:
    with pytest.raises(DeviceAway, match="type the watts in"), Meter("socket://127.0.0.1:9") as meter:
        meter.read()
    with pytest.raises(DeviceAway, match="look at its lamps"):
        Charger("socket://127.0.0.1:9").bays()
