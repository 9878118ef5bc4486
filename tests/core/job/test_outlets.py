"""Mains sockets where chargers stand: one each, and the current of all of them."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.gear.electrical import Charger
from lift_crate.core.job.charging import ChargerPlace, ChargingPlan, Outlets, outlet_loads

TWO_AT_ONCE = Charger(bay_port="bay", bays=2, bay_w=80)
IN_TURN = Charger(bay_port="bay", bays=4, bay_w=80, way="in turn")


def loads(
    *units: str, sockets: int = 2, amps: float = 10, chargers: dict[str, Charger] | None = None
) -> tuple[float, bool]:
    plan = ChargingPlan(
        chargers=tuple(ChargerPlace(unit=u, place="hut") for u in units),
        outlets=(Outlets(place="hut", sockets=sockets, amps=amps),),
    )
    (found,) = outlet_loads(plan, chargers or dict.fromkeys(units, TWO_AT_ONCE), 230)
    assert found.chargers == units
    return found.load_a, found.fits


def test_the_current_is_that_of_all_bays_at_once() -> None:
    assert loads("A")[0] == pytest.approx(160 / 0.85 / 230)
    assert loads("A")[1]
    assert loads("A")[0] == pytest.approx(0.82, abs=0.005)
    assert loads("A", "B")[0] == pytest.approx(2 * loads("A")[0])
    assert loads("A", chargers={"A": IN_TURN})[0] == pytest.approx(loads("A")[0] / 2)
    assert loads("A", chargers={"A": replace(TWO_AT_ONCE, total_w=100)})[0] == pytest.approx(100 / 0.85 / 230)


def test_too_few_sockets_or_too_small_a_circuit_do_not_fit() -> None:
    assert not loads("A", "B", "C")[1]
    assert loads("A", "B", "C", sockets=3)[1]
    assert not loads("A", "B", sockets=4, amps=1.6)[1]
    assert loads(sockets=1) == (0.0, True)
