"""Money: worked figures, and sums that are added up again another way."""

from __future__ import annotations

from dataclasses import replace
from datetime import date

import pytest

from lift_crate.core.day.media import media_plan
from lift_crate.core.day.money import Budget, budget_of, hire_for, payback_days
from lift_crate.core.rig.build import Catalogue
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of

FILE = demo_job_file()
SHELF = catalogue_of(FILE)


def test_hire_and_payback_as_worked_out() -> None:
    assert [hire_for(60, n) for n in (1, 3, 5, 7, 9, 14)] == [60, 180, 180, 180, 300, 360]
    assert payback_days(2400, 60) == 40
    assert payback_days(2400, 60, 900) == 25


def budget(shelf: Catalogue = SHELF, **settings: float) -> Budget:
    job = replace(FILE.job, settings=replace(FILE.job.settings, **settings))  # type: ignore[arg-type]
    return budget_of(job, shelf, media_plan(job, shelf))


def test_every_unit_is_in_one_line_and_the_sums_are_theirs() -> None:
    found = budget(tax_share=0.2)
    units = [unit for line in found.lines for unit in line.units]
    assert len(units) == len(set(units))
    planned = {u for a in FILE.job.plan for u in FILE.job.build(a.build)[1].units}
    assert planned <= set(units)
    hired = [SHELF.model_of(u).hire_per_day for u in units if SHELF.unit(u).owner == "hired"]
    assert found.hire == pytest.approx(sum(2 * rate for rate in hired if rate is not None)), "two days"
    assert found.tax == pytest.approx(found.hire * 0.2)
    assert found.total == pytest.approx(found.hire * 1.2)
    worth = [SHELF.model_of(u).price for u in units if SHELF.unit(u).owner == "owned"]
    assert found.worth == pytest.approx(sum(price for price in worth if price is not None))
    assert sum(found.by_camera.values()) == pytest.approx(
        sum(line.total for line in found.lines if line.owner == "hired" and line.cameras)
    )
    assert set(found.unknown) == {
        u
        for u in units
        if (SHELF.model_of(u).hire_per_day if SHELF.unit(u).owner == "hired" else SHELF.model_of(u).price) is None
    }


def test_what_is_hired_for_longer_is_paid_for_longer_and_a_price_of_its_own_counts() -> None:
    body = replace(SHELF.units["C6-3"], hired_from=date(2027, 3, 15), hired_until=date(2027, 3, 23))
    own = replace(SHELF.units["C6-1"], price=1.0)
    found = budget(replace(SHELF, units={**SHELF.units, "C6-3": body, "C6-1": own}))
    line = next(x for x in found.lines if x.units == ("C6-3",))
    rate = SHELF.model_of("C6-3").hire_per_day
    assert rate
    assert (line.days, line.total) == (9, 5 * rate), "a week for three days, and two"
    owned = next(x for x in found.lines if "C6-1" in x.units)
    assert (owned.each, owned.total) == (None, 1.0 + (SHELF.model_of("C6-2").price or 0)), "two prices, no one of each"
