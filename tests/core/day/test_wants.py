"""What a job pays and wants: sums re-added by hand, gains held against the exchange made on the rig itself."""

from __future__ import annotations

import math
from dataclasses import replace
from datetime import date
from typing import Any

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.bench.bench import Bench
from lift_crate.core.bench.exchange import exchange
from lift_crate.core.day.media import media_plan
from lift_crate.core.day.money import budget_of
from lift_crate.core.day.wants import Spending, Wanted, cost_of, spending_of
from lift_crate.core.job.edits import apply_to_job
from lift_crate.core.job.job import Job, JobRefused, NotInJob
from lift_crate.core.job.money import Cost, MoneyPlan, Want
from lift_crate.core.job.money_edits import PutCost, PutWant, RemoveCost, RemoveWant
from lift_crate.core.rig.build import Catalogue, Unit
from lift_crate.core.stand import stand_of
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

FILE = demo_job_file()
SHELF = catalogue_of(FILE)
JOB = FILE.job


def taxed(share: float, *costs: Cost, wants: tuple[Want, ...] = ()) -> Job:
    return replace(JOB, settings=replace(JOB.settings, tax_share=share), money=MoneyPlan(costs=costs, wants=wants))


def spent(job: Job) -> Spending:
    return spending_of(job, SHELF, budget_of(job, SHELF, media_plan(job, SHELF)))


def wanted(job: Job, **more: Any) -> Wanted:
    (found,) = spent(replace(job, money=MoneyPlan(wants=(Want(id="w", **more),)))).wanted
    return found


def test_running_costs_by_day_and_camera_shared_and_with_tax() -> None:
    job = taxed(0.25)
    for cost, paid in (
        (Cost(id="a", label="a", amount=260), 260),
        (Cost(id="a", label="a", amount=45, per="day"), 90),
        (Cost(id="a", label="a", amount=14, per="camera"), 56),
        (Cost(id="a", label="a", amount=500, jobs=4), 125),
        (Cost(id="a", label="a", amount=125, with_tax=True), 100),
    ):
        assert cost_of(cost, job) == pytest.approx(paid)


def test_every_sum_is_its_lines_added_up_again() -> None:
    job = replace(JOB, settings=replace(JOB.settings, tax_share=0.23))
    found = spent(job)
    budget = budget_of(job, SHELF, media_plan(job, SHELF))
    assert found.running == sum(p.total for p in found.paid) == 406
    for tier, (total, taken) in found.tiers.items():
        mine = [w for w in found.wanted if w.want.tier == tier]
        assert total == sum(w.total or 0 for w in mine)
        assert taken == sum(w.total or 0 for w in mine if w.want.taken)
    net = budget.hire + 406 + 1180
    assert found.total == pytest.approx(net * 1.23)
    assert found.tax == pytest.approx(net * 0.23)


def test_a_price_for_the_set_by_the_day_with_tax_and_none_at_all() -> None:
    job = taxed(0.25)
    pair = wanted(job, model="lampblack-m7", count=2, price=1180, per="set")
    assert (pair.price, pair.total) == (590, 1180)
    assert wanted(job, model="lampblack-m7", count=2, price=1180).total == 2360
    assert wanted(job, model="lampblack-m7", price=1250, with_tax=True).total == 1000
    assert wanted(job, model="orlop-c6", how="hire").total == 2 * 165, "two days of the catalogue's rate"
    nothing = wanted(job, model="brasswater-28")
    assert (nothing.price, nothing.total) == (None, None)
    assert spent(replace(job, money=MoneyPlan(wants=(nothing.want,)))).unknown == ("Brasswater 28 mm f/1.8 prime",)


def test_paid_back_in_days_and_in_jobs_like_this_one() -> None:
    """2 600 new, sold for 40 % of it, against 60 a day, 120 for the two days of the job: 26 days, 13 jobs."""
    body = wanted(JOB, model="fathom-r2", price=2600)
    assert body.payback_days == pytest.approx(26)
    assert body.payback_jobs == 13
    assert wanted(JOB, model="fathom-r2", how="hire").payback_days is None


@pytest.mark.parametrize(
    ("model", "rig", "part", "unit"),
    [
        ("tidewick-150", "caisson", "acts-1-2", "PACK-03"),
        ("brasswater-28", "stage-rail", "act-3", "ZOOM-3"),
        ("lampblack-m7", "caisson", "acts-1-2", "MON5-1"),
    ],
)
def test_what_it_brings_is_what_the_rig_says_when_it_is_exchanged(model: str, rig: str, part: str, unit: str) -> None:
    found = wanted(JOB, model=model, price=500, rig=rig, part=part, unit=unit)
    shelf = Catalogue(SHELF.interfaces, SHELF.models, {**SHELF.units, "N-1": Unit(id="N-1", model=model)})
    planned = JOB.builds_in(part)[rig]
    target = JOB.target_of(planned[0], part)
    bench = Bench(stand_of(planned[1], shelf, JOB.part(part).conditions, JOB.settings, {}, target))
    made = exchange(bench, unit, "N-1")
    assert made
    after = bench.after(made.operations).whole
    gains = {g.what: g for g in found.gains}
    for what, was, now in (
        ("Stops fewer", bench.whole.counts["stops"], after.counts["stops"]),
        ("Watches fewer", bench.whole.counts["watches"], after.counts["watches"]),
        ("g lighter", bench.whole.stand.carried.total.mass_g, after.stand.carried.total.mass_g),
    ):
        assert (gains[what].amount if what in gains else 0) == pytest.approx(was - now, abs=1)
    for gain in found.gains:
        if gain.amount > 0:
            assert gain.each == pytest.approx(500 / gain.amount)
        else:
            assert gain.each is None


def test_light_is_told_in_stops() -> None:
    """f/1.8 in the place of f/4.2: 2·log2(4.2/1.8) = 2.44 stops."""
    lens = wanted(JOB, model="brasswater-28", price=420, rig="stage-rail", part="act-3", unit="ZOOM-3")
    light = next(g for g in lens.gains if g.what == "stops of light")
    assert light.amount == pytest.approx(2 * math.log2(4.2 / 1.8)) == pytest.approx(2.44, abs=0.01)
    assert light.each == pytest.approx(171.8, abs=0.1)


def test_what_does_not_go_there_or_is_gone_says_so() -> None:
    there = {"rig": "stage-rail", "part": "act-3", "unit": "ZOOM-3"}
    assert "does not go in the place of ZOOM-3" in wanted(JOB, model="corrow-135", **there).refused
    assert "not there any more" in wanted(JOB, model="corrow-135", **{**there, "unit": "PACK-01"}).refused
    assert "not there any more" in wanted(JOB, model="corrow-135", **{**there, "part": "gone"}).refused
    assert "not in the catalogue" in wanted(JOB, model="gone").refused


def test_a_must_that_is_skipped_and_a_licence_that_ends_first() -> None:
    told = {f.code: f.text for f in spent(JOB).findings}
    assert told["money.skipped"].startswith("Tidewick wedge pack 150 Wh is a must and not decided")
    assert told["money.until"] == "Gear insurance holds until 19 Mar; the job goes on until 20 Mar."
    decided = replace(
        JOB.money,
        costs=tuple(replace(c, until=date(2027, 3, 20)) for c in JOB.money.costs),
        wants=tuple(replace(w, taken=w.tier == "must") for w in JOB.money.wants),
    )
    assert spent(replace(JOB, money=decided)).findings == ()


def test_edits_are_refused_where_they_make_no_sense() -> None:
    want = Want(id="w", model="corrow-135", rig="quay", part="dress", unit="ZOOM-2")
    job = apply_to_job(JOB, PutWant(want=want), SHELF)
    assert job.money.wants[-1] == want
    assert apply_to_job(job, RemoveWant(want="w"), SHELF).money == JOB.money
    with pytest.raises(JobRefused, match="PACK-99 is not on Quay in Dress rehearsal"):
        apply_to_job(JOB, PutWant(want=replace(want, unit="PACK-99")), SHELF)
    with pytest.raises(NotInJob):
        apply_to_job(JOB, PutWant(want=replace(want, rig="nobody")), SHELF)
    with pytest.raises(JobRefused, match="needs a name"):
        apply_to_job(JOB, PutCost(cost=Cost(id="c", label=" ", amount=1)), SHELF)
    for gone in (RemoveCost(cost="c"), RemoveWant(want="c")):
        with pytest.raises(NotInJob):
            apply_to_job(JOB, gone, SHELF)
    with pytest.raises(ValueError, match="twice"):
        MoneyPlan(wants=(want, want))


@given(
    st.lists(
        st.tuples(st.floats(0, 5000), st.sampled_from(["must", "next", "later"]), st.booleans(), st.integers(1, 5)),
        max_size=6,
    ),
    st.floats(0, 0.5),
)
@settings(max_examples=examples(40), deadline=None)
def test_whatever_is_decided_the_total_is_what_is_decided(found: list[Any], tax: float) -> None:
    wants = tuple(
        Want(id=str(n), model="lampblack-m7", price=price, tier=tier, taken=taken, count=count)
        for n, (price, tier, taken, count) in enumerate(found)
    )
    empty = spent(taxed(tax)).total
    total = spent(taxed(tax, wants=wants)).total
    assert total - empty == pytest.approx(sum(w.count * (w.price or 0) for w in wants if w.taken) * (1 + tax), abs=1e-6)
