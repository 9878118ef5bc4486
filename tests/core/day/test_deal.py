"""Units dealt over a day: held against trying everything on small days, and against the rules on the demo's."""

from __future__ import annotations

from dataclasses import replace
from datetime import UTC, date, datetime, timedelta
from itertools import product
from typing import Literal

from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.day.deal import Dealt, deal_units
from lift_crate.core.job.edits import apply_to_job
from lift_crate.core.job.job import Assignment, Job, PartOfDay, Rig, evaluate_job
from lift_crate.core.rig.build import Build, Catalogue, Conditions, Unit
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import catalogue, model

FILE = demo_job_file()
SHELF, JOB = catalogue_of(FILE), FILE.job
START = datetime(2027, 3, 19, 12, tzinfo=UTC)


def small(bodies: list[int], plan: list[list[bool]], once: list[bool], units: list[Unit]) -> tuple[Job, Catalogue]:
    """Cameras of one build each, a body alone; who is planned in which part."""
    shelf = catalogue(model("cam", kind="body"), units=units)
    shelf = Catalogue(shelf.interfaces, shelf.models, {u.id: u for u in units})
    parts = tuple(
        PartOfDay(
            id=f"p{n}",
            label=f"p{n}",
            starts=START + timedelta(hours=n),
            ends=START + timedelta(hours=n + 1),
            conditions=Conditions(repeatable=not one),
        )
        for n, one in enumerate(once)
    )
    rigs = tuple(
        Rig(
            id=f"r{r}",
            number=r + 1,
            label=f"r{r}",
            builds=tuple(Build(id=f"b{r}{k}", label="b", body=units[body].id) for k, body in enumerate((body, body))),
        )
        for r, body in enumerate(bodies)
    )
    cells = tuple(
        Assignment(part=f"p{n}", rig=f"r{r}", build=f"b{r}{n % 2}")
        for r, row in enumerate(plan)
        for n, there in enumerate(row)
        if there and n < len(once)
    )
    return Job(id="j", title="j", parts=parts, rigs=rigs, plan=cells), shelf


def after(job: Job, shelf: Catalogue, dealt: Dealt) -> Job:
    for operation in dealt.operations:
        job = apply_to_job(job, operation, shelf)
    return job


def price(job: Job, was: Job, shelf: Catalogue) -> int:
    """By the formula, from the job as it is planned, cell by cell."""
    parts = {p.id: p for p in job.parts}
    total, taken, kept = 0, list[tuple[str, str]](), set[tuple[str, str]]()
    builds: dict[tuple[str, str], tuple[str, bool, str]] = {}
    for a in job.plan:
        body = job.build(a.build)[1].body
        unit, part = shelf.unit(body), parts[a.part]
        taken.append((a.part, body))
        kept.add((a.rig, body))
        gone = unit.condition == "out of use" or bool(unit.hired_from and part.starts.date() < unit.hired_from)
        total += 1_000_000 * gone
        first = next(w.build for w in was.plan if (w.part, w.rig) == (a.part, a.rig))
        _, once, _ = builds.get((a.rig, first), (body, False, ""))
        builds[a.rig, first] = (body, once or not part.conditions.repeatable, was.build(first)[1].body)
    for body, once, before in builds.values():
        worn = round(100 * (1 - shelf.unit(body).health_left)) + 100 * (shelf.unit(body).condition == "doubtful")
        total += worn * (2 if once else 1) + 3 * (body != before)
    return total + 10_000_000 * (len(taken) - len(set(taken))) + 20 * len(kept)


conditions: st.SearchStrategy[Literal["good", "doubtful", "out of use"]] = st.sampled_from(
    ["good", "good", "doubtful", "out of use"]
)


@st.composite
def days(draw: st.DrawFn) -> tuple[Job, Catalogue]:
    units = [
        Unit(
            id=f"U{n}",
            model="cam",
            owner="hired",
            health=draw(st.sampled_from([1.0, 0.95, 0.7])),
            condition=draw(conditions),
            hired_from=date(2027, 3, draw(st.sampled_from([18, 18, 18, 20]))),
        )
        for n in range(draw(st.integers(2, 4)))
    ]
    rigs = draw(st.integers(1, 2))
    bodies = draw(st.permutations(range(len(units))))[:rigs]
    plan = draw(st.lists(st.lists(st.booleans(), min_size=3, max_size=3), min_size=rigs, max_size=rigs))
    once = draw(st.lists(st.booleans(), min_size=3, max_size=3))
    return small(list(bodies), plan, once, units)


def there(job: Job, shelf: Catalogue, build: str) -> list[str]:
    """What may go in a build: whatever can be used that day, and what is in it; nobody is dealt what is not there."""
    own = job.build(build)[1].body
    usable = [u.id for u in shelf.shelf if u.condition != "out of use" and u.hired_from != date(2027, 3, 20)]
    return sorted({own, *usable})


@given(days())
def test_no_deal_of_a_small_day_costs_less(day: tuple[Job, Catalogue]) -> None:
    job, shelf = day
    dealt = deal_units(job, shelf)
    made = after(job, shelf, dealt)
    places = sorted({(a.rig, a.build) for a in job.plan})
    best = min(
        price(
            replace(
                job,
                rigs=tuple(
                    replace(
                        rig,
                        builds=tuple(
                            replace(b, body=dict(zip(places, chosen, strict=True)).get((rig.id, b.id), b.body))
                            for b in rig.builds
                        ),
                    )
                    for rig in job.rigs
                ),
            ),
            job,
            shelf,
        )
        for chosen in product(*(there(job, shelf, build) for _, build in places))
    )
    assert dealt.proven
    assert price(made, job, shelf) == best <= price(job, job, shelf)
    assert (dealt.changes == ()) == (dealt.operations == ())


def stops(job: Job, shelf: Catalogue) -> dict[tuple[str, str], int]:
    return {(p.id, r.id): judged.counts["stops"] for p, r, _, judged in evaluate_job(job, shelf)}


def test_the_demo_keeps_its_operators_and_gains_no_stop() -> None:
    dealt = deal_units(JOB, SHELF)
    made = after(JOB, SHELF, dealt)
    assert dealt.kept_after < dealt.kept_before
    assert {c.why for c in dealt.changes} == {
        "Quay keeps it all along",
        "Stage rail keeps it all along",
        "a sounder one is free",
    }
    before, now = stops(JOB, SHELF), stops(made, SHELF)
    assert all(now[cell] <= before[cell] for cell in before)
    assert [
        (a.part, a.rig, a.operator, a.unattended, a.scheme) for a in sorted(made.plan, key=lambda a: (a.part, a.rig))
    ] == [(a.part, a.rig, a.operator, a.unattended, a.scheme) for a in sorted(JOB.plan, key=lambda a: (a.part, a.rig))]
    assert deal_units(made, SHELF).changes == (), "dealt once, it lies as well as it can"


def test_two_that_take_from_one_another_keep_who_works_them() -> None:
    """The worn one goes to the part that can be repeated: an exchange that neither camera could make alone."""
    units = [Unit(id="U0", model="cam", health=0.6), Unit(id="U1", model="cam")]
    job, shelf = small([0, 1], [[True], [True]], [True], units)
    first, second = job.plan
    parts = (
        job.parts[0],
        replace(
            job.parts[0], id="q", conditions=Conditions(repeatable=True), starts=START, ends=START + timedelta(hours=1)
        ),
    )
    job = replace(
        job, parts=parts, plan=(replace(first, operator="Op 1"), replace(second, part="p0"), replace(second, part="q"))
    )
    # The second is in the once-only part too, so it keeps the sound one; with that gone from its plan they change.
    assert deal_units(job, shelf).changes == ()
    job = replace(
        job,
        plan=(replace(first, operator="Op 1"), replace(second, part="q", build="b10")),
    )
    dealt = deal_units(job, shelf)
    made = after(job, shelf, dealt)
    assert [(c.rig, c.unit, c.by) for c in dealt.changes] == [("r0", "U0", "U1")]
    assert made.cell("p0", "r0").operator == "Op 1"
