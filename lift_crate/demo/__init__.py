"""The demo scenario as data: an opera staged at night in a disused dry dock. All names are invented."""

from __future__ import annotations

from importlib.resources import files
from typing import Any

import yaml

from ..formats.job_file import JobFile, check_document
from ..formats.standards import standard_documents

__all__ = ["demo_job_file"]


def demo_job_file() -> JobFile:
    """The demo job with its catalogue, checked like any other job file."""
    document: dict[str, Any] = {"format": "lift-crate-job", "version": 2, "models": []}
    document["interfaces"] = list(standard_documents())
    here = files(__package__)
    for source in sorted((here / "catalogue").iterdir(), key=lambda f: f.name):
        for key, entries in yaml.safe_load(source.read_text(encoding="utf-8")).items():
            document[key] += entries
    document |= yaml.safe_load((here / "dry_dock_opera.yaml").read_text(encoding="utf-8"))
    return check_document(document)
