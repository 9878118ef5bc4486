"""Chains of adapters: shortest first, then owned, then light, then short; against trying every chain there is."""

from __future__ import annotations

from itertools import permutations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from lift_crate.core.fit.adapters import AdapterChain, find_chain, stack_mm
from lift_crate.core.gear.interface import ImpossibleInterface, Interface
from lift_crate.core.gear.model import GearModel, Port, mates
from lift_crate.core.rig.build import Catalogue, Unit
from tests.kit import INTERFACES, Z, catalogue, model, port


def adapter(
    name: str, body: str, part: str, mass_g: float = 50, length: float = 10, loses: tuple[str, ...] = ()
) -> GearModel:
    """``'screw male'`` is the half that goes towards the body."""
    (near, near_gender), (far, far_gender) = body.split(), part.split()
    ports = (port("near", near, near_gender, (0, 0, 0), (0, 0, -1)), port("far", far, far_gender, (0, 0, length), Z))
    return model(name, mass_g, (0, 0, 0), *ports, adapter={"toward_body": "near", "toward_part": "far", "loses": loses})


SOCKET = model("base", 1, (0, 0, 0), port("socket", "screw", "female")).port("socket")
FOOT = model("mic", 1, (0, 0, 0), port("foot", "shoe", "male")).port("foot")


def chain(
    *models: GearModel, hired: tuple[str, ...] = (), absent: tuple[str, ...] = (), to: Port = FOOT
) -> AdapterChain | None:
    units = [
        Unit(id=m.id, model=m.id, owner="hired" if m.id in hired else "owned") for m in models if m.id not in absent
    ]
    shelf = Catalogue({i.id: i for i in INTERFACES}, {m.id: m for m in models}, {u.id: u for u in units})
    return find_chain(shelf, SOCKET, to, [u.id for u in shelf.shelf])


DIRECT = adapter("direct", "screw male", "shoe female", 80)
FIRST, SECOND = adapter("first", "screw male", "rail male", 5), adapter("second", "rail female", "shoe female", 5)


def test_fewest_adapters_come_before_light_ones_and_none_is_needed_for_what_mates() -> None:
    assert str(chain(DIRECT, FIRST, SECOND)) == "direct"
    assert chain(to=model("x", 1, None, port("screw", "screw", "male")).port("screw")) == AdapterChain(())
    assert chain(FIRST) is None


def test_two_steps_where_one_will_not_do() -> None:
    found = chain(FIRST, SECOND)
    assert found
    assert (found.units, found.mass_g, found.length_mm) == (("first", "second"), 10, 20)


def test_owned_before_light_and_what_is_not_here_is_to_hire() -> None:
    heavy, light = adapter("heavy", "screw male", "shoe female", 90), adapter("light", "screw male", "shoe female", 9)
    assert str(chain(heavy, light, hired=("light",))) == "heavy"
    assert str(chain(heavy, light)) == "light"
    to_hire = chain(heavy, absent=("heavy",))
    assert to_hire
    assert to_hire.units is None
    assert str(to_hire) == "Test heavy (to hire)"


def test_what_a_chain_loses_and_how_far_off_it_is() -> None:
    plain = adapter("plain", "near male", "far female", 100, 33.05, ("electronic iris",))
    shelf = catalogue(plain)
    found = find_chain(
        shelf,
        model("b", 1, None, port("m", "near", "female")).port("m"),
        model("l", 1, None, port("m", "far", "male")).port("m"),
        ["plain"],
    )
    assert found
    assert found.loses == ("electronic iris",)
    assert found.off_mm(shelf.interfaces) == pytest.approx(0.05)


halves = st.sampled_from(["screw", "shoe", "rail", "tap"])
genders = st.sampled_from(["male", "female"])
some_adapters = st.lists(
    st.tuples(halves, genders, halves, genders, st.integers(1, 90), st.integers(1, 30)).filter(
        lambda made: made[0] != made[2] or made[1] == made[3]
    ),
    max_size=6,
)


@given(some_adapters)
def test_no_chain_of_all_there_are_is_better(made: list[tuple[str, str, str, str, int, int]]) -> None:
    models = [adapter(f"a{i}", f"{a} {ga}", f"{b} {gb}", m, n) for i, (a, ga, b, gb, m, n) in enumerate(made)]
    found = chain(*models)
    best: tuple[int, float, float] | None = None
    for count in range(1, 5):
        for trial in permutations(models, count):
            ends = [SOCKET, *(end for m in trial for end in (m.port("near"), m.port("far"))), FOOT]
            if all(mates(ends[i], ends[i + 1]) for i in range(0, len(ends), 2)):
                cost = (count, sum(m.mass_g or 0 for m in trial), sum(stack_mm(m) for m in trial))
                best = cost if best is None else min(best, cost)
    assert (found is None) == (best is None)
    if found and best:
        assert (len(found.links), found.mass_g, found.length_mm) == pytest.approx(best)


@pytest.mark.parametrize(
    ("figures", "says"),
    [
        ({"kind": "lens"}, "Interface 'x', flange_mm: is missing; a lens mount lives by its flange distance, in mm."),
        ({"kind": "lens", "flange_mm": 900}, "flange distances lie between 1 and 120 mm"),
        ({"kind": "thread", "flange_mm": 44}, "threads have none"),
        ({"kind": "rod", "diameter_mm": 15}, "spacing_mm: is missing"),
        ({"kind": "rod", "diameter_mm": 15, "spacing_mm": 12}, "rods of 15 mm would overlap"),
        ({"kind": "thread", "diameter_mm": 6, "pitch_mm": 8}, "a pitch is smaller than the diameter"),
        ({"kind": "shoe", "carries_power": True}, "only power and signal connectors and battery plates carry power"),
    ],
)
def test_interfaces_whose_figures_make_no_sense_are_refused(figures: dict[str, object], says: str) -> None:
    with pytest.raises(ImpossibleInterface) as caught:
        Interface(id="x", label="X", **figures)  # type: ignore[arg-type]
    assert says in str(caught.value)
