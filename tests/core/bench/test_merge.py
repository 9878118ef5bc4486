"""Edits of different parts go together, whichever came first; edits of the same part, or worse together, do not."""

from __future__ import annotations

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from lift_crate.core.bench.merge import changed, merged, no_worse
from lift_crate.core.callouts import About, Finding, Level
from lift_crate.core.errors import LiftCrateError
from lift_crate.core.rig.build import Build
from lift_crate.core.rig.edits import Attach, CarryAs, Detach, HoldBy, Operation, Replace, SlideTo, Turn, apply_all
from lift_crate.demo import demo_job_file
from lift_crate.formats.job_file import catalogue_of
from tests.kit import examples

DEMO = demo_job_file()
CATALOGUE = catalogue_of(DEMO)
BUILDS = {b.id: b for r in DEMO.job.rigs for b in r.builds}
QUAY = BUILDS["quay-full"]
WEIGHT = Attach(unit="CW-3", unit_port="screw", onto="CAGE-1", onto_port="left")


def said(build: Build) -> tuple[object, ...]:
    """A build whatever the order of what it lists."""
    lists = (build.joints, build.links, build.settings, build.bends, build.worn)
    return (build.body, build.use, build.held_by, build.grip, *(frozenset(each) for each in lists))


def after(build: Build, *operations: Operation) -> Build:
    return apply_all(build, operations, CATALOGUE)


@st.composite
def edits(draw: st.DrawFn) -> tuple[Build, Operation, Operation]:
    build = BUILDS[draw(st.sampled_from(sorted(BUILDS)))]
    here = st.sampled_from(build.units)
    every = st.sampled_from(sorted(CATALOGUE.units))

    def operation() -> Operation:
        one, other, held = draw(st.one_of(every, here)), draw(here), draw(here)

        def port(unit: str) -> str:
            return draw(st.sampled_from([p.id for p in CATALOGUE.model_of(unit).ports] or ["none"]))

        choices: list[Operation] = [
            Attach(unit=one, unit_port=port(one), onto=other, onto_port=port(other)),
            Detach(unit=other),
            Replace(unit=other, by=one),
            SlideTo(unit=other, to_mm=draw(st.floats(-40, 40))),
            Turn(unit=other),
            HoldBy(unit=held),
            CarryAs(use="running"),
        ]
        return draw(st.sampled_from(choices))

    return build, operation(), operation()


@given(found=edits())
@settings(max_examples=examples(600))
def test_what_goes_together_is_the_same_whoever_was_first(found: tuple[Build, Operation, Operation]) -> None:
    build, one, other = found
    try:
        first, second = after(build, one), after(build, other)
    except LiftCrateError:
        return
    together = merged(build, first, (other,), CATALOGUE)
    back = merged(build, second, (one,), CATALOGUE)
    assert (together is None) == (back is None)
    if together and back:
        assert said(together) == said(back)
        assert changed(build, together) == changed(build, first) | changed(build, second)


def test_different_parts_go_together_and_the_same_part_does_not() -> None:
    slide = SlideTo(unit=next(j.child for j in QUAY.joints if j.slide_mm), to_mm=3)
    weighted = after(QUAY, WEIGHT)
    together = merged(QUAY, weighted, (slide,), CATALOGUE)
    assert together is not None
    assert said(together) == said(after(QUAY, WEIGHT, slide))
    assert merged(QUAY, after(QUAY, slide), (SlideTo(unit=slide.unit, to_mm=5),), CATALOGUE) is None
    assert merged(QUAY, weighted, (WEIGHT,), CATALOGUE) is None, "it is there already"
    assert merged(QUAY, after(QUAY, Detach(unit="CAGE-1")), (WEIGHT,), CATALOGUE) is None, "what it was for is gone"


@pytest.mark.parametrize(
    ("together", "theirs", "mine", "fine"),
    [
        ((), (), (), True),
        ((Level.NOTE,), (), (), True),
        ((Level.WATCH,), (), (), False),
        ((Level.STOP,), (Level.STOP,), (), True),
        ((Level.STOP,), (Level.WATCH,), (Level.WATCH,), False),
        ((Level.WATCH,), (), (Level.STOP,), True),
    ],
)
def test_together_nothing_stands_against_it_that_stood_against_neither(
    together: tuple[Level, ...], theirs: tuple[Level, ...], mine: tuple[Level, ...], fine: bool
) -> None:
    def told(levels: tuple[Level, ...]) -> list[Finding]:
        return [
            Finding(code="gimbal.payload", level=level, about=About(units=("RAIL",)), text="too heavy")
            for level in levels
        ]

    assert no_worse(told(together), told(theirs), told(mine)) is fine
