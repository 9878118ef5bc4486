"""What is looked at before any view: who is asked, from where, what is
sent and how much of it; and what every answer carries.

Who it is that asks, and whether he may, is looked at after this, in ``doors``.
"""

from __future__ import annotations

import json
import os
import re
import secrets
from urllib.parse import urlsplit

from flask import Flask, Response, abort, g, request

from ..formats.job_file import MAX_BYTES, BadJobFile
from ..formats.text import DEEPEST, Problem, strange_in, text_problems, too_deep
from .problems import problem_response

__all__ = ["KEEP_H", "OF_A_DEVICE", "OURS", "guard", "nonce"]

_OWN_HOSTS = ("127.0.0.1", "localhost", "[::1]")
_READS = ("GET", "HEAD", "OPTIONS")
_PICTURES = ("image/jpeg", "image/png", "image/webp")
_FILES = {"/api/import": ("application/json",), "/api/shelf/units.csv": ("text/csv",), "/api/pictures": _PICTURES}
"""Where a file is the body, and what it is sent as."""
_MODELS = re.compile(r"/api/shelf/patterns/[^/]+/import")
"""Where a CSV of models is."""
_MOST_BYTES = 400_000
_MOST_WITH_PHOTO = 8_000_000
_ENTRIES = re.compile(r"/api/jobs/[^/]+/log/entries")
"""What is noted may bring its photo along."""
"""Of a body that is no file: a model with all its ports stays far below."""


OURS, KEEP_H = "X-Lift-Crate", "X-Keep-Hours"
"""What every answer of this server carries, and no page that a network shows in its place; and after how many hours
without this server a device shows nothing any more of what it has kept."""
OF_A_DEVICE = frozenset(
    {
        "balance.read_gimbal",
        "cards.read_station",
        "devices.read_devices",
        "devices.read_scanned",
        "log.read_weather",
        "power.read_meter",
        "shelf.measure",
        "shelf.read_scale",
        "swaps.read_charger",
    }
)
"""What a device says is of the moment: nobody keeps it to show it later."""


def nonce() -> str:
    """The word by which this answer's own script is known to the browser."""
    if "nonce" not in g:
        g.nonce = secrets.token_urlsafe(16)
    return str(g.nonce)


def guard(app: Flask) -> None:
    """Look at every request before its view, and give every answer its headers."""
    app.before_request(_host)
    app.before_request(_origin)
    app.before_request(_texts)
    app.before_request(_body)
    app.after_request(_headers)


def _host() -> Response | None:
    """Only the names this server goes by are answered: a name that somebody else points here is none of them."""
    allowed = {*_OWN_HOSTS, *filter(None, os.environ.get("LIFT_CRATE_HOSTS", "").split(","))}
    if _without_port(request.host) in allowed:
        return None
    return problem_response(
        421,
        "request.host",
        "Not this server",
        f"This server does not go by the name '{request.host[:80]}'. Use http://127.0.0.1, or name the host in"
        " LIFT_CRATE_HOSTS.",
    )


def _without_port(host: str) -> str:
    return host[: host.rindex("]") + 1] if "]" in host else host.partition(":")[0]


def _origin() -> Response | None:
    """What changes something comes from our own pages, or from a program that is no browser."""
    if request.method in _READS:
        return None
    site, origin = request.headers.get("Sec-Fetch-Site"), request.headers.get("Origin")
    if site is not None and site not in ("same-origin", "none"):
        return _refused_site()
    if origin is not None and urlsplit(origin).netloc != request.host:
        return _refused_site()
    return None


def _refused_site() -> Response:
    return problem_response(
        403,
        "request.site",
        "Not from here",
        "This was sent by a page of another site. Nothing was changed; do it in Lift Crate itself.",
    )


def _texts() -> Response | None:
    """No address or question has characters that nothing here can be called by."""
    if strange_in(request.path):
        abort(404, "There is nothing at an address with control characters.")
    for name, value in request.args.items(multi=True):
        if strange := strange_in(name) or strange_in(value):
            return problem_response(
                422,
                "request.bad",
                "The request was refused",
                f"'{name[:40]!r}' has the character {strange}; write it as plain text.",
            )
    return None


def _body() -> Response | None:
    """The declared type, no more than the route takes, and a document that can be kept."""
    if request.method in _READS or not request.path.startswith("/api/"):
        return None
    models = _MODELS.fullmatch(request.path) is not None
    types = ("text/csv",) if models else _FILES.get(request.path, ("application/json",))
    most = _MOST_WITH_PHOTO if _ENTRIES.fullmatch(request.path) else _MOST_BYTES
    request.max_content_length = MAX_BYTES if request.path in _FILES else most
    if request.content_length is not None and request.content_length > request.max_content_length:
        abort(413)
    raw = request.get_data(cache=True)
    if not raw:
        return None
    if request.mimetype not in types:
        return problem_response(
            415,
            "request.type",
            "Sent as something else",
            f"This takes {' or '.join(types)}; it was sent as '{request.mimetype[:60] or 'nothing in particular'}'."
            " Nothing was changed.",
        )
    return _document(raw) if request.path not in _FILES and not models else None


def _document(raw: bytes) -> Response | None:
    """A body of JSON: well-formed, not nested without end, no characters that cannot be kept."""
    problems: list[Problem]
    if too_deep(raw):
        problems = [Problem("$", f"this is nested more than {DEEPEST} levels deep")]
    else:
        try:
            problems = list(text_problems(json.loads(raw)))
        except (ValueError, RecursionError) as error:
            problems = [Problem("$", f"this is not JSON: {error}")]
    if not problems:
        return None
    told = BadJobFile(problems).problems
    return problem_response(
        422, "request.bad", "The request was refused", "; ".join(str(problem) for problem in told[:5]), told
    )


def _headers(response: Response) -> Response:
    response.headers.setdefault(
        "Content-Security-Policy",
        f"default-src 'none'; script-src 'self' 'nonce-{nonce()}'; style-src 'self' 'unsafe-inline'; img-src 'self'"
        " data:; font-src 'self'; connect-src 'self'; manifest-src 'self'; base-uri 'none'; form-action 'self';"
        " frame-ancestors 'none'",
    )
    response.headers.setdefault("X-Content-Type-Options", "nosniff")
    response.headers.setdefault("X-Frame-Options", "DENY")
    response.headers.setdefault("Referrer-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Resource-Policy", "same-origin")
    response.headers.setdefault("Cross-Origin-Opener-Policy", "same-origin")
    if request.path.startswith("/api/"):
        response.headers[OURS] = "yes"
        response.headers[KEEP_H] = os.environ.get("LIFT_CRATE_DEVICE_KEEPS_H") or "72"
        if request.endpoint in OF_A_DEVICE:
            response.headers["Cache-Control"] = "no-store"
        if request.method == "GET" and response.status_code == 200 and response.mimetype == "application/json":
            # Asked for again it is told again, in a few bytes where nothing has changed.
            response.headers.setdefault("Cache-Control", "private, no-cache")
            response.add_etag()
            response.make_conditional(request)
            return response
        response.headers.setdefault("Cache-Control", "no-store")
    return response
