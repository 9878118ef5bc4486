"""Small gear for tests, written short: a bench of parts whose answers can be worked out by hand."""

from __future__ import annotations

import os
import time
from collections.abc import Callable, Iterable, Mapping
from typing import Any

import pytest
from pydantic import TypeAdapter

from lift_crate.core.gear.interface import Interface
from lift_crate.core.gear.model import GearModel
from lift_crate.core.rig.build import Build, Catalogue, Claim, Conditions, Joint, Link, Target, Unit
from lift_crate.core.settings import Settings
from lift_crate.core.stand import stand_of
from lift_crate.core.verdict.judge import Quick, quick

_model = TypeAdapter(GearModel)
X, Y, Z = (1.0, 0.0, 0.0), (0.0, 1.0, 0.0), (0.0, 0.0, 1.0)

INTERFACES = (
    Interface(id="screw", label="1/4-20 thread", kind="thread", female="socket", male="screw", holding_nm=0.6),
    Interface(
        id="shoe", label="accessory shoe", kind="shoe", female="shoe", male="foot", spins_deg=(0, 180), holding_nm=0.2
    ),
    Interface(id="rail", label="38 mm dovetail", kind="rail", female="clamp", male="plate", spins_deg=(0, 180)),
    Interface(
        id="near", label="Near mount", kind="lens", flange_mm=19.0, spins_deg=(0,), contacts=("autofocus", "iris")
    ),
    Interface(id="far", label="Far mount", kind="lens", flange_mm=52.0, spins_deg=(0,), contacts=("autofocus",)),
    Interface(id="close", label="Close mount", kind="lens", flange_mm=22.0, spins_deg=(0,)),
    Interface(id="front-77", label="77 mm filter thread", kind="front"),
    Interface(id="wedge", label="wedge battery plate", kind="battery", spins_deg=(0,), carries_power=True),
    Interface(id="cell", label="small pack slot", kind="battery", spins_deg=(0,), carries_power=True),
    Interface(id="tap", label="2-pin power tap", kind="power", carries_power=True),
    Interface(id="barrel", label="barrel", kind="power", carries_power=True),
)


LONG = bool(os.environ.get("LIFT_CRATE_LONG"))
"""Whether this is the long form, './run soak'."""
long_form = pytest.mark.skipif(not LONG, reason="a long form: './run soak' runs it")


def examples(most: int) -> int:
    """How many examples a property is tried on: all of them in the long form, a third at each change."""
    return most if LONG else max(5, most // 3)


def port(
    id_: str,
    interface: str,
    gender: str,
    at: Iterable[float] = (0, 0, 0),
    n: Iterable[float] = Z,
    u: Iterable[float] = X,
    **more: Any,
) -> dict[str, Any]:
    return {
        "id": id_,
        "label": id_,
        "interface": interface,
        "gender": gender,
        "at": tuple(at),
        "n": tuple(n),
        "u": tuple(u),
        **more,
    }


def model(
    id_: str,
    mass_g: float | None = 100,
    cg_mm: Iterable[float] | None = (0, 0, 0),
    *ports: dict[str, Any],
    kind: str = "thing",
    **more: Any,
) -> GearModel:
    document = {
        "id": id_,
        "kind": kind,
        "maker": "Test",
        "name": id_,
        "mass_g": mass_g,
        "cg_mm": cg_mm and tuple(cg_mm),
        "ports": ports,
        **more,
    }
    return _model.validate_python(document)


def catalogue(*models: GearModel, units: Iterable[Unit] = ()) -> Catalogue:
    """One unit of every model, named like it, and the units given."""
    every = {m.id: Unit(id=m.id, model=m.id) for m in models} | {u.id: u for u in units}
    return Catalogue({i.id: i for i in INTERFACES}, {m.id: m for m in models}, every)


def joint(notation: str, spin: float = 0.0, slide: float = 0.0) -> Joint:
    """``'child.port > parent.port'``."""
    child, parent = (side.strip().split(".") for side in notation.split(">"))
    return Joint(
        child=child[0], child_port=child[1], parent=parent[0], parent_port=parent[1], spin_deg=spin, slide_mm=slide
    )


def link(notation: str) -> Link:
    """``'cable: unit.port > unit.port'``."""
    cable, ends = notation.split(":")
    a, b = (side.strip().split(".") for side in ends.split(">"))
    return Link(cable=cable.strip(), from_unit=a[0], from_port=a[1], to_unit=b[0], to_port=b[1])


def build(body: str, *joints: Joint | str, links: Iterable[str] = (), **more: Any) -> Build:
    made = tuple(joint(j) if isinstance(j, str) else j for j in joints)
    return Build(id="build", label="build", body=body, joints=made, links=tuple(link(k) for k in links), **more)


def quick_of(
    rig: Build,
    shelf: Catalogue,
    conditions: Conditions,
    settings: Settings,
    taken: Mapping[str, Claim] | None = None,
    target: Target | None = None,
) -> Quick:
    """The quick verdict on a build."""
    return quick(stand_of(rig, shelf, conditions, settings, taken, target))


def until(holds: Callable[[], bool], else_says: str = "it never came", *, within_s: float = 90) -> None:
    """Wait for what comes."""
    ends = time.monotonic() + within_s
    while not holds():
        assert time.monotonic() < ends, else_says
        time.sleep(0.05)


class Clock:
    """Seconds that pass when a test says so."""

    def __init__(self) -> None:
        self.s = 0.0

    def __call__(self) -> float:
        return self.s
