"""All devices in one place: those that answer, those that do not, and those that nobody named."""

from __future__ import annotations

import ast
import inspect
import textwrap
from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.devices.named import NAMES
from lift_crate.devices.simulated_reader import SimulatedReader
from lift_crate.devices.simulated_scale import SimulatedScale
from lift_crate.web.guard import OF_A_DEVICE


def test_every_device_says_what_it_reads_or_what_to_do_without_it(
    client: FlaskClient, monkeypatch: pytest.MonkeyPatch
) -> None:
    for variable in NAMES.values():
        monkeypatch.delenv(variable, raising=False)
    with SimulatedScale() as scale, SimulatedReader(scanned=("PACK-01",)) as reader:
        for server in (scale, reader):
            server.start()
        scale.answer("P 1652")
        monkeypatch.setenv(NAMES["scale"], scale.address)
        monkeypatch.setenv(NAMES["reader"], reader.address)
        monkeypatch.setenv(NAMES["weather"], "socket://127.0.0.1:9")
        found: Any = client.get("/api/devices").json
        by_kind = {d["kind"]: d for d in found["devices"]}
        assert set(by_kind) >= {"scale", "gimbal", "power meter", "charger", "copy station", "weather station"}
        assert by_kind["scale"]["answers"]
        assert by_kind["scale"]["reading"].partition(" ")[2].startswith("g")
        assert "does not answer" in by_kind["weather station"]["trouble"]
        assert by_kind["gimbal"]["trouble"].startswith("None is named. Set LIFT_CRATE_GIMBAL, or ")
        # To look at all devices takes no label away from who packs.
        labels: list[Any] = [client.get("/api/devices/reader").json for _ in range(2)]
        assert [x["label"] for x in labels] == ["PACK-01", ""]
        for server in (scale, reader):
            server.shutdown()


def reaches(function: Any, seen: set[Any]) -> bool:
    """Whether a function of the API asks a device, itself or by others of the API."""
    if function in seen:
        return False
    seen.add(function)
    tree = ast.parse(textwrap.dedent(inspect.getsource(function)))
    if any(isinstance(n, ast.Attribute) and ast.unparse(n) == "services().devices" for n in ast.walk(tree)):
        return True
    names = {n.id for n in ast.walk(tree) if isinstance(n, ast.Name)}
    inner = [inspect.unwrap(function.__globals__[name]) for name in names if name in function.__globals__]
    return any(
        inspect.isfunction(each) and each.__module__.startswith("lift_crate.web") and reaches(each, seen)
        for each in inner
    )


def test_what_a_device_said_is_never_kept_for_later(client: FlaskClient) -> None:
    """A device's reading is of the moment it was read; what is kept is shown when the moment is long over."""
    app = client.application
    reading = {
        name
        for name, view in app.view_functions.items()
        if inspect.unwrap(view).__module__.startswith("lift_crate.web") and reaches(inspect.unwrap(view), set())
    }
    read = {rule.endpoint for rule in app.url_map.iter_rules() if "GET" in (rule.methods or ())}
    assert reading & read == OF_A_DEVICE & read
    assert len(reading & read) >= 5
    answer = client.get("/api/devices")
    assert answer.headers["Cache-Control"] == "no-store"
    assert "no-store" not in client.get("/api/jobs/dry-dock-opera/swaps?part=arrival").headers.get("Cache-Control", "")
