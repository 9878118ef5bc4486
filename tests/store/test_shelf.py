"""The shelf on a real PostgreSQL: changes with history, builds that must not break, imports whole or not at all."""

from __future__ import annotations

from dataclasses import replace

import pytest

from lift_crate.core.errors import NoSuchModel
from lift_crate.core.gear.interface import Interface
from lift_crate.core.rig.build import Unit
from lift_crate.store.builds import BuildStore
from lift_crate.store.errors import GearExists, GearInUse, PlanHasErrors, StaleShelf
from lift_crate.store.jobs import JobStore
from lift_crate.store.shelf import ShelfStore

JOB = "dry-dock-opera"


@pytest.fixture
def shelf(jobs: JobStore) -> ShelfStore:
    return ShelfStore(jobs)


def test_a_weighed_unit_changes_every_total_and_is_in_the_history(shelf: ShelfStore, builds: BuildStore) -> None:
    unit = shelf.catalogue().unit("C6-2")
    shelf.put_unit(replace(unit, measured_g=1671.0), "ada", seen=0)
    assert builds.read(JOB, "caisson-full").catalogue.mass_of("C6-2") == (1671.0, "measured")
    assert [(h.title, h.actor) for h in shelf.history("unit", "C6-2")] == [("measured_g None → 1671.0", "ada")]
    shelf.put_unit(replace(unit, measured_g=1671.0), "ada", seen=shelf.last_change("unit", "C6-2"))
    assert len(shelf.history("unit", "C6-2")) == 1, "nothing changed, nothing said"
    assert {(u.rig, u.build, u.parts) for u in shelf.uses("C6-2")} == {
        ("Caisson", "full", 4),
        ("Caisson", "first try", 1),
    }


def test_nobody_overwrites_what_he_has_not_seen(shelf: ShelfStore) -> None:
    unit = shelf.catalogue().unit("PACK-04")
    seen = shelf.last_change("unit", "PACK-04")
    shelf.put_unit(replace(unit, health=0.9), "ada", seen=seen)
    with pytest.raises(StaleShelf, match=r"PACK-04 was changed since you looked at it \(health 1.0 → 0.9 by ada"):
        shelf.put_unit(replace(unit, note="mine"), "ben", seen=seen)
    shelf.put_unit(replace(unit, note="mine"), "ben", seen=shelf.last_change("unit", "PACK-04"))
    _, revision = shelf.import_units("label,model\n", "ada", apply=False)
    shelf.put_unit(replace(unit, note="again"), "ben", seen=shelf.last_change("unit", "PACK-04"))
    with pytest.raises(StaleShelf, match="not as it was when this import was shown"):
        shelf.import_units("label,model\nPACK-30,tidewick-98\n", "ada", apply=True, revision=revision)
    assert "PACK-30" not in shelf.catalogue().units


def test_what_rigs_have_in_a_part_of_the_day(shelf: ShelfStore) -> None:
    assert shelf.taken(JOB, "dress")["ARM-1"].rig == "Caisson"
    assert "ARM-1" not in shelf.taken(JOB, "mark-through")


def test_a_change_that_would_break_a_build_is_refused_whole(shelf: ShelfStore) -> None:
    catalogue = shelf.catalogue()
    cage = catalogue.models["stanchion-cage-c6"]
    without = replace(cage, ports=tuple(p for p in cage.ports if p.id != "bottom"))
    with pytest.raises(GearInUse, match=r"Dry-dock opera, Quay \(full\): CAGE-1 has no port 'bottom'"):
        shelf.put_model(without, "ada", seen=0)
    with pytest.raises(GearInUse, match="CAGE-1 has no port"):
        shelf.put_unit(Unit(id="CAGE-1", model="hitch-arm"), "ada", seen=0)
    with pytest.raises(NoSuchModel, match="There is no model 'ghost'"):
        shelf.put_unit(Unit(id="NEW-1", model="ghost"), "ada")
    inside = replace(cage, id="odd", ports=(replace(cage.ports[1], at=(0.0, 62.0, 0.0)),))
    with pytest.raises(GearInUse, match="inside the body of odd"):
        shelf.put_model(inside, "ada")
    assert shelf.catalogue().models == catalogue.models
    assert shelf.history("model", "stanchion-cage-c6") == []


def test_models_and_interfaces_of_ones_own(shelf: ShelfStore) -> None:
    shelf.put_interface(Interface(id="my-mount", label="My mount", kind="lens", flange_mm=21.5), "ada")
    model = replace(shelf.catalogue().models["brasswater-28"], id="my-lens", name="my lens")
    mine = replace(model, ports=(replace(model.ports[0], interface="my-mount"), *model.ports[1:]))
    shelf.put_model(mine, "ada")
    shelf.put_unit(Unit(id="MY-1", model="my-lens"), "ada")
    assert shelf.catalogue().model_of("MY-1") == mine
    shelf.put_model(replace(mine, mass_g=400.0), "ben", seen=shelf.last_change("model", "my-lens"))
    assert [h.title for h in shelf.history("model", "my-lens")] == [
        "Changed Brasswater my lens",
        "Added Brasswater my lens",
    ]


def test_what_is_new_overwrites_nothing_and_an_interface_in_use_keeps_its_kind(shelf: ShelfStore) -> None:
    catalogue = shelf.catalogue()
    with pytest.raises(GearExists, match="PACK-04 is on the shelf already"):
        shelf.put_unit(Unit(id="PACK-04", model="tidewick-98"), "ada")
    with pytest.raises(GearExists):
        shelf.put_model(catalogue.models["hitch-arm"], "ada")
    shoe = next(i for i in catalogue.interfaces.values() if i.kind == "shoe")
    with pytest.raises(GearExists):
        shelf.put_interface(shoe, "ada")
    seen = shelf.last_change("interface", shoe.id)
    shelf.put_interface(replace(shoe, tool="fingers"), "ada", seen=seen)
    with pytest.raises(StaleShelf, match="by ada"):
        shelf.put_interface(replace(shoe, tool="pliers"), "ben", seen=seen)
    with pytest.raises(GearInUse, match="make a new one for another kind"):
        shelf.put_interface(replace(shoe, kind="plate"), "ben", seen=shelf.last_change("interface", shoe.id))
    assert shelf.catalogue().interfaces[shoe.id] == replace(shoe, tool="fingers")


def test_an_import_shows_first_and_writes_whole_or_not_at_all(shelf: ShelfStore) -> None:
    text = "label,model,health\nPACK-04,tidewick-98,0.8\nPACK-20,tidewick-98,1\n"
    assert len(shelf.import_units(text, "ada", apply=False)[0].changes) == 2
    assert "PACK-20" not in shelf.catalogue().units
    with pytest.raises(PlanHasErrors, match="1 lines have errors, the first: line 4, model: there is no model 'ghost'"):
        shelf.import_units(text + "X,ghost,1\n", "ada", apply=True)
    assert shelf.catalogue().unit("PACK-04").health == 1.0
    shelf.import_units(text, "ada", apply=True)
    assert shelf.catalogue().unit("PACK-04").health == 0.8
    assert shelf.catalogue().unit("PACK-20").model == "tidewick-98"
    with pytest.raises(GearInUse):
        shelf.import_units("label,model\nCAGE-1,hitch-arm\nPACK-21,tidewick-98\n", "ada", apply=True)
    assert "PACK-21" not in shelf.catalogue().units
