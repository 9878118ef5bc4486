"""What can be entered of gear is read off its dataclasses: nothing is left out, each says how it is entered."""

from __future__ import annotations

from dataclasses import dataclass, fields
from datetime import date
from typing import Annotated, Literal

from annotated_types import Ge, Gt, Le

from lift_crate.core.gear.fields import FieldInfo, fields_of, unit_of
from lift_crate.core.gear.interface import Interface
from lift_crate.core.gear.model import GearModel
from lift_crate.core.job.venue import Picture, Spot, Thing
from lift_crate.core.rig.build import Unit


@dataclass(frozen=True)
class Part:
    reach_mm: Annotated[float, Gt(0), Le(900)] | None = None


@dataclass(frozen=True)
class Made:
    mass_g: Annotated[float, Ge(0)]
    held_by: Literal["hand", "head"] = "head"
    takes: Literal[1, 2] = 1
    loud: bool = False
    times: int = 3
    until: date | None = None
    at_mm: tuple[float, float, float] = (0.0, 0.0, 0.0)
    curve: tuple[tuple[float, float], ...] = ()
    box_mm: tuple[tuple[float, float, float], tuple[float, float, float]] | None = None
    words: tuple[str, ...] = ()
    part: Part | None = None
    parts: tuple[Part, ...] = ()
    note: str = ""


def test_every_kind_of_field_says_how_it_is_entered() -> None:
    told = {f.name: f for f in fields_of(Made)["Made"]}
    assert told["mass_g"] == FieldInfo(name="mass_g", label="Mass", unit="g", kind="number", optional=False, low=0.0)
    assert (told["held_by"].kind, told["held_by"].choices, told["held_by"].default) == (
        "choice",
        ("hand", "head"),
        "head",
    )
    assert told["takes"].numeric
    assert (told["loud"].kind, told["loud"].default) == ("yes", False)
    assert (told["times"].kind, told["times"].default, told["times"].optional) == ("whole", 3.0, False)
    assert (told["until"].kind, told["until"].optional) == ("date", True)
    assert (told["at_mm"].kind, told["at_mm"].count, told["at_mm"].unit) == ("numbers", (3, 1), "mm")
    assert (told["curve"].count, told["box_mm"].count) == ((2,), (3, 2))
    assert (told["words"].kind, told["words"].optional) == ("texts", True)
    assert (told["part"].kind, told["part"].of, told["parts"].kind) == ("group", ("Part",), "rows")
    assert (told["note"].kind, told["note"].optional) == ("text", True)
    (reach,) = fields_of(Made)["Part"]
    assert (reach.label, reach.unit, reach.low, reach.high, reach.optional) == ("Reach", "mm", 0.0, 900.0, True)


def test_nothing_of_gear_or_of_a_venue_is_left_out() -> None:
    told = fields_of(GearModel, Interface, Unit, Thing, Spot, Picture)
    for kind in (GearModel, Interface, Unit, Thing, Spot, Picture):
        assert [f.name for f in told[kind.__name__]] == [f.name for f in fields(kind)]
    for name, infos in told.items():
        for info in infos:
            assert info.label.strip(), (name, info.name)
            assert "_" not in info.label, (name, info.name)
            assert set(info.of) <= set(told), (name, info.name)
            assert (info.kind in ("group", "rows")) == bool(info.of), (name, info.name)
            assert info.kind != "choice" or info.choices, (name, info.name)
            if info.low is not None and info.high is not None:
                assert info.low < info.high, (name, info.name)


def test_the_longest_ending_of_a_name_tells_its_unit() -> None:
    assert [
        unit_of(name) for name in ("rated_m_s", "shake_m_s2", "length_m", "moment_nm", "motor_ohm", "hire_per_day")
    ] == [
        "m/s",
        "m/s²",
        "m",
        "N·m",
        "Ω",
        "",
    ]
