"""Safety over the API and on paper."""

from __future__ import annotations

from typing import Any

from flask.testing import FlaskClient

from tests.pdf import text_of

SAFETY = "/api/jobs/dry-dock-opera/safety"


def test_sheets_and_people_are_told_and_can_be_signed(client: FlaskClient) -> None:
    found: Any = client.get(SAFETY).json
    assert [s["rig"] for s in found["sheets"]] == ["quay", "caisson", "dock-floor", "stage-rail"]
    floor = next(s for s in found["sheets"] if s["rig"] == "dock-floor")
    gimbal = next(x for x in floor["lines"] if x["finding"]["code"] == "safe.gimbal")
    assert gimbal["finding"]["why"]
    assert gimbal["finding"]["cures"]
    assert {"Op 1", "Runner"} <= {p["who"] for p in found["people"]}
    text = text_of(client.get(f"{SAFETY}/safety.pdf").data)
    for word in ("Quay: safety", "Read and agreed", "Local codes", "Spotter", "People"):
        assert word in text
