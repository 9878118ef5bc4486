"""Rules of thumb: holds against the longest take, what steadies a pair, how large a build looks."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.balance.ratings import hands_report, inertia_kg_m2, look_of, rating_findings, steadiness
from lift_crate.core.balance.see_saw import hold_ways
from lift_crate.core.callouts import Finding, Level
from lift_crate.core.rig.build import Build, Catalogue, Conditions, Target
from lift_crate.core.rig.edits import GripAs, apply, describe
from lift_crate.core.settings import Settings
from lift_crate.core.stand import Stand, stand_of
from tests.kit import X, Z, build, catalogue, model, port

OUT, CLOSE = "two hands, held out", "two hands, close to the body"


def shelf(mass_g: float = 1600, half_mm: float = 50, **body: object) -> Catalogue:
    areas = [{"id": "full", "label": "full", "width_mm": 36, "height_mm": 19}]
    return catalogue(
        model(
            "body",
            mass_g,
            (0, 0, 0),
            port("mount", "near", "female", (half_mm, 0, 0), X, Z),
            shapes=[{"block": ((-half_mm,) * 3, (half_mm,) * 3)}],
            body={"areas": areas, **body},
        ),
        *(
            model(
                name,
                200,
                (0, 0, 0),
                port("mount", "near", "male", n=(-1, 0, 0), u=Z),
                lens={"image_circle_mm": 44, "focal_mm": (35, 35), "stop": 2, "stabilised": stabilised},
                kind="lens",
            )
            for name, stabilised in (("plain", False), ("steady", True))
        ),
    )


def stand(
    on: Catalogue, lens: str = "plain", target: Target | None = None, rig: Build | None = None, **part: object
) -> Stand:
    rig = rig or build("body", f"{lens}.mount > body.mount")
    return stand_of(rig, on, Conditions(**part), Settings(), target=target)  # type: ignore[arg-type]


def told(at: Stand) -> dict[str, Finding]:
    return {f.code: f for f in rating_findings(at)}


def test_the_longest_take_is_held_against_the_grip_of_the_build() -> None:
    # 1.8 kg held out: 5.8 min (docs/formulas.md §4).
    rig = build("body", "plain.mount > body.mount", grip=OUT)
    at = stand(shelf(), rig=rig, longest_take_min=5)
    held = next(way for way in hold_ways(at) if way.chosen)
    assert (held.name, held.carried_g, round(held.minutes or 0, 1)) == (OUT, 1800, 5.8)
    assert told(at)["hold.long"].level is Level.WATCH
    assert told(stand(shelf(), rig=rig, longest_take_min=4.6))["hold.long"].level is Level.CLEAR
    assert told(stand(shelf(), rig=rig, longest_take_min=6))["hold.long"].level is Level.WATCH
    once = told(stand(shelf(), rig=rig, longest_take_min=6, repeatable=False))["hold.long"]
    assert (once.level, once.value, once.limit) == (Level.STOP, 6, held.minutes)
    assert "hold.long" not in told(stand(shelf(), rig=rig))


def test_a_build_says_how_it_is_held_and_else_it_is_held_as_usual() -> None:
    on = shelf()
    usual = build("body", "plain.mount > body.mount")
    out = apply(usual, GripAs(grip=OUT), on)
    assert [way.name for way in hold_ways(stand(on, rig=out)) if way.chosen] == [OUT]
    assert apply(out, GripAs(), on) == usual
    assert [way.name for way in hold_ways(stand(on, rig=usual)) if way.chosen] == [CLOSE]
    # A grip that the settings no longer have is no grip.
    gone = replace(usual, grip="by its strap")
    assert [way.name for way in hold_ways(stand(on, rig=gone)) if way.chosen] == [CLOSE]
    assert describe(GripAs(grip=OUT), on) == f"Hold it '{OUT}'"


@pytest.mark.parametrize(
    ("body", "lens", "rating", "level"),
    [
        ("none", "plain", 0, Level.WATCH),
        ("electronic", "plain", 2, Level.CLEAR),
        ("sensor", "plain", 3, Level.CLEAR),
        ("none", "steady", 3, Level.CLEAR),
        ("sensor", "steady", 4, Level.CLEAR),
    ],
)
def test_steadiness_is_of_the_pair(body: str, lens: str, rating: int, level: Level) -> None:
    at = stand(shelf(stabilised=body), lens)
    assert steadiness(at).rating == rating
    assert told(at)["hold.steady"].level is level


def test_mass_alone_steadies_where_it_is_spread_out_and_level() -> None:
    # A cube of 300 mm and 8 kg: m·(b² + c²)/12 = 8·0.18/12 = 0.12 kg·m², and 0.2 kg 150 mm before it.
    at = stand(shelf(8000, 150))
    mass, reach = 8.2, 0.2 * 150 / 8.2 * 1e-3
    beside = 0.12 + 8 * reach**2 + 0.2 * (0.15 - reach) ** 2
    assert mass == pytest.approx(at.carried.total.mass_g / 1000)
    assert inertia_kg_m2(at) == pytest.approx((0.12, beside, beside), rel=1e-6)
    assert (steadiness(at).rating, steadiness(at).source) == (1, "its mass alone")
    nose = build("body", "plain.mount > body.mount")
    heavy = catalogue_with_long_nose()
    assert abs(stand(heavy, rig=nose).carried.front_nm) > 1
    assert steadiness(stand(heavy, rig=nose)).rating == 0


def catalogue_with_long_nose() -> Catalogue:
    on = shelf(8000, 150)
    lens = replace(on.models["plain"], mass_g=1500.0, cg_mm=(100.0, 0.0, 0.0))
    return replace(on, models={**on.models, "plain": lens})


def test_size_is_the_box_around_a_build_and_its_mass() -> None:
    small, large = stand(shelf(900, 50)), stand(shelf(900, 200))
    assert (look_of(small).size, look_of(large).size) == ("discreet", "impressive")
    assert look_of(small).litres == pytest.approx(1.0)
    assert look_of(stand(shelf(1600, 50))).size == "ordinary"
    assert look_of(stand(shelf(900, 100))).size == "ordinary"


@pytest.mark.parametrize(
    ("wanted", "half", "level"),
    [
        ("discreet", 200, Level.WATCH),
        ("impressive", 50, Level.NOTE),
        ("ordinary", 100, Level.CLEAR),
    ],
)
def test_the_look_is_held_against_what_the_position_wants(wanted: str, half: float, level: Level) -> None:
    target = Target(distance_mm=4000, look=wanted)  # type: ignore[arg-type]
    assert told(stand(shelf(900, half), target=target))["build.look"].level is level
    assert "build.look" not in told(stand(shelf(900, half))), "nobody asked"


def test_the_report_says_what_the_call_outs_say() -> None:
    at = stand(shelf(), longest_take_min=3, repeatable=False)
    report = hands_report(at)
    assert (report.take_min, report.repeatable, report.reaction_s) == (3, False, 1.0)
    assert report.look == look_of(at)
    assert report.steady == steadiness(at)
    assert report.inertia == inertia_kg_m2(at)
