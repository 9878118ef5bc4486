"""All devices in one place: those that answer, those that do not, and those that nobody named."""

from __future__ import annotations

from typing import Any

import pytest
from flask.testing import FlaskClient

from lift_crate.devices.named import NAMES
from lift_crate.devices.simulated_reader import SimulatedReader
from lift_crate.devices.simulated_scale import SimulatedScale


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
