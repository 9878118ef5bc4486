"""The open standards of joining that every shelf knows: threads, shoes, rails, rods, plates, plugs."""

from __future__ import annotations

from functools import cache
from importlib.resources import files
from typing import Any

import yaml
from pydantic import TypeAdapter

from ..core.gear.interface import Interface

__all__ = ["standard_documents", "standard_interfaces"]


@cache
def standard_documents() -> tuple[dict[str, Any], ...]:
    """Each standard as it stands in a job file."""
    text = (files(__package__) / "standards.yaml").read_text(encoding="utf-8")
    return tuple(yaml.safe_load(text)["interfaces"])


def standard_interfaces() -> tuple[Interface, ...]:
    """All of them as values."""
    adapter = TypeAdapter(Interface)
    return tuple(adapter.validate_python(document) for document in standard_documents())
