"""The Flask application: API, and the built front end for every other address."""

from __future__ import annotations

import mimetypes
import os
from collections.abc import Callable, Collection
from functools import partial
from pathlib import Path
from threading import Lock
from typing import Any
from urllib.parse import quote

from flask import Flask, Response, abort, request, send_from_directory
from flask_compress import Compress
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI
from werkzeug.middleware.proxy_fix import ProxyFix

from .. import __version__
from ..formats.job_file import MAX_BYTES
from ..store.balances import BalanceStore
from ..store.builds import BuildStore
from ..store.cards import CardStore
from ..store.crew import Aside, CrewStore
from ..store.database import Pool
from ..store.drill import DrillStore
from ..store.frame import FrameStore
from ..store.jobs import JobStore
from ..store.live import Live
from ..store.log import LogStore
from ..store.packing import PackingStore
from ..store.passkeys import PasskeyStore
from ..store.plans import PlanStore
from ..store.recipes import RecipeStore
from ..store.record import RecordStore
from ..store.shelf import ShelfStore
from ..store.sound import SoundStore
from ..store.swaps import SwapStore
from . import (
    along,
    balance,
    bench,
    cards,
    compare,
    crew,
    cures,
    day,
    devices,
    drill,
    job,
    lenses,
    live,
    log,
    money,
    pack,
    package,
    passkeys,
    patterns,
    pictures,
    power,
    propose,
    recipes,
    record,
    run,
    safety,
    sheet,
    shelf,
    sound,
    standing,
    swaps,
    venue,
)
from .described import completed
from .doors import doors
from .guard import guard, nonce
from .identity import knows
from .problems import register_problems, validation_response
from .services import Services, part_view

__all__ = ["create_app"]

mimetypes.add_type("application/manifest+json", ".webmanifest")
_STATIC = Path(__file__).parent / "static"
_PACKED = [
    "application/json",
    "application/problem+json",
    "image/svg+xml",
    "text/calendar",
    "text/css",
    "text/csv",
    "text/html",
    "text/javascript",
]
"""Kinds of answer that are sent packed; the others are so already."""


PLACES = (
    job,
    venue,
    bench,
    propose,
    balance,
    power,
    swaps,
    shelf,
    patterns,
    lenses,
    day,
    run,
    safety,
    standing,
    cures,
    cards,
    money,
    pack,
    sound,
    package,
    sheet,
    compare,
    recipes,
    pictures,
    crew,
    passkeys,
    live,
    log,
    devices,
    drill,
    record,
    along,
)


class Api(OpenAPI):
    """The application with its own description completed."""

    _describing = Lock()

    @property
    def api_doc(self) -> dict[str, Any]:
        """The OpenAPI document, made when it is first asked for."""
        with self._describing:
            for place in PLACES:
                place.api.describe()
                self.tags += [tag for tag in place.api.tags if tag not in self.tags]
                self.paths.update(place.api.paths)
                self.components_schemas.update(place.api.components_schemas)
            return completed(super().api_doc)


def create_app(
    pool: Pool | None,
    defer: Callable[[int], object] = bool,
    *,
    nobody_signs_in: bool = False,
    aside: Aside | None = None,
) -> OpenAPI:
    """The application over a pool of connections; without one it can only describe itself.

    ``defer`` puts the number of a plan into the workers' queue; without one nothing is planned.
    ``nobody_signs_in``: whoever reaches it may do all; for this machine alone. ``aside`` does what computes long, where
    it holds no other request.
    """
    app = Api(
        __name__,
        info=Info(title="Lift Crate", version=__version__),
        doc_prefix="/api",
        static_folder=None,
        validation_error_callback=validation_response,
        validation_error_status=422,
    )
    app.config["NOBODY_SIGNS_IN"] = nobody_signs_in
    app.config["MAX_CONTENT_LENGTH"] = MAX_BYTES
    app.config["COMPRESS_ALGORITHM"] = ["br", "gzip"]
    app.config["COMPRESS_ALGORITHM_STREAMING"] = ["br", "gzip"]
    app.config["COMPRESS_MIMETYPES"] = _PACKED
    if pool is not None:
        jobs, crew_store = JobStore(pool, knows), CrewStore(pool, aside)
        noted, frames, shelf = SwapStore(jobs), FrameStore(jobs), ShelfStore(jobs)
        plans = PlanStore(jobs, noted, defer)
        app.extensions["lift_crate"] = Services(
            jobs,
            frames,
            BuildStore(jobs),
            shelf,
            BalanceStore(jobs),
            noted,
            plans,
            RecipeStore(jobs),
            CardStore(jobs),
            SoundStore(jobs),
            PackingStore(jobs),
            LogStore(jobs, shelf, frames),
            DrillStore(jobs),
            crew_store,
            PasskeyStore(crew_store),
            RecordStore(jobs),
            Live(pool, partial(_strips, app)),
        )
    for place in PLACES:
        app.register_api(place.api)
    register_problems(app)
    # Before the guard's, so that it comes after it: what is sent is packed last.
    Compress(app)
    guard(app)
    doors(app)
    if proxies := int(os.environ.get("LIFT_CRATE_PROXIES") or 0):
        # So many stand in front, and each of them writes these headers itself.
        app.wsgi_app = ProxyFix(app.wsgi_app, x_for=proxies, x_proto=proxies, x_host=proxies)  # type: ignore[method-assign]
    app.add_url_rule("/authority.crt", "screen_authority", _authority)
    app.add_url_rule("/", "screen", _screen)
    app.add_url_rule("/<path:name>", "screen_file", _screen)
    return app


def _authority() -> Response:
    """What a phone is to trust, where this server vouches for itself; no secret."""
    told = os.environ.get("LIFT_CRATE_AUTHORITY", "")
    if not told or not Path(told).is_file():
        abort(404, "This server has a certificate from elsewhere; there is nothing of ours to trust.")
    return Response(
        Path(told).read_bytes(),
        mimetype="application/x-x509-ca-cert",
        headers={"Content-Disposition": 'attachment; filename="lift-crate-authority.crt"'},
    )


def _strips(app: Flask, job: str, part: str, builds: Collection[str]) -> str:
    """All cameras of a job in a part of the day, as JSON; empty where builds were changed that are not planned then."""
    with app.app_context():
        known: Services = app.extensions["lift_crate"]
        if builds and not any(a.part == part and a.build in builds for a in known.jobs.read(job)[0].plan):
            return ""
        return part_view(job, part).model_dump_json()


_LOOKS_AT_A_RIG = ("bench", "compare", "shelf", "sheet", "lenses", "balance", "power")


def _screen(name: str = "index.html") -> Response:
    """A built file, or the page itself: the addresses of screens belong to the front end."""
    if name.startswith("api/"):
        abort(404, f"There is no /{name} in the API; /api/openapi.json lists what there is.")
    if _is_file(name):
        response = _packed(name) or send_from_directory(_STATIC, name)
        if name.startswith("assets/"):
            # Their names change with what is in them: nobody need ask again.
            response.cache_control.no_cache = None
            response.cache_control.max_age = 31_536_000
            response.cache_control.immutable = True
        return response
    if not (_STATIC / "index.html").is_file():
        abort(404, "The screens are not built yet; './run demo' builds them.")
    page = (_STATIC / "index.html").read_text(encoding="utf-8")
    return Response(
        page.replace("<script>", f'{_ahead(name)}<script nonce="{nonce()}">', 1),
        mimetype="text/html",
        headers={"Cache-Control": "no-cache"},
    )


def _ahead(name: str) -> str:
    """What the screen at an address asks for first, fetched while its scripts are still on their way."""
    job, _, rest = name.partition("/")
    place, *at = rest.split("/")
    if len(at) != 2 or place not in _LOOKS_AT_A_RIG:
        return ""
    job, part, rig = (quote(each, safe="~") for each in (job, *at))
    asked = [f"/api/jobs/{job}", f"/api/jobs/{job}/parts/{part}", f"/api/jobs/{job}/parts/{part}/rigs/{rig}"]
    return "".join(f'<link rel="preload" as="fetch" crossorigin href="{href}">' for href in asked)


def _packed(name: str) -> Response | None:
    """A built file as it was packed when it was built, in a way that the browser unpacks; None where there is none."""
    for coding, ending in (("br", ".br"), ("gzip", ".gz")):
        if request.accept_encodings.quality(coding) > 0 and _is_file(name + ending):
            response = send_from_directory(_STATIC, name + ending, mimetype=mimetypes.guess_type(name)[0])
            response.headers["Content-Encoding"] = coding
            response.vary.add("Accept-Encoding")
            return response
    return None


def _is_file(name: str) -> bool:
    """Whether a built file has that name; names that no file can have are none."""
    try:
        return (_STATIC / name).is_file() and name != "index.html" and not name.startswith(".")
    except (OSError, ValueError):
        return False
