"""What every view answers with: a view as JSON, the headers of a download, the errors it may tell."""

from __future__ import annotations

import re
from http import HTTPStatus
from typing import Any
from urllib.parse import quote

from flask import Response
from pydantic import BaseModel

from ..formats.job_file import BadJobFile
from ..formats.text import Problem
from . import schema as s

__all__ = ["READ", "Responses", "answer", "file_headers", "text_of"]

Responses = dict[str | int | HTTPStatus, type[BaseModel] | dict[Any, Any] | None]
READ: Responses = {404: s.ProblemView, 422: s.ProblemView, 503: s.ProblemView}
"""What can go wrong with a look at something."""


def file_headers(name: str, *, inline: bool = False) -> dict[str, str]:
    """Headers of a download, its name encoded (RFC 6266)."""
    plain = re.sub(r"[^A-Za-z0-9._-]+", "-", name)
    return {
        "Content-Disposition": (
            f"{'inline' if inline else 'attachment'}; filename=\"{plain}\"; filename*=UTF-8''{quote(name, safe='')}"
        )
    }


def answer(view: BaseModel, status: int = 200) -> Response:
    """A view as a JSON answer."""
    return Response(view.model_dump_json(), status, mimetype="application/json")


def text_of(raw: bytes) -> str:
    """A file that was sent, as text; raises BadJobFile for one that is not UTF-8."""
    try:
        return raw.decode("utf-8-sig")
    except UnicodeDecodeError as error:
        raise BadJobFile([Problem("$", f"byte {error.start} is not UTF-8; save the file as UTF-8")]) from None
