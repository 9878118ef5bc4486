"""The Flask application: API, and the built front end for every other address."""

from __future__ import annotations

from collections.abc import Callable
from pathlib import Path
from typing import Any

from flask import Response, abort, send_from_directory
from flask_openapi3.models.info import Info
from flask_openapi3.openapi import OpenAPI

from .. import __version__
from ..formats.job_file import MAX_BYTES
from ..store.balances import BalanceStore
from ..store.builds import BuildStore
from ..store.database import Pool
from ..store.jobs import JobStore
from ..store.plans import PlanStore
from ..store.shelf import ShelfStore
from ..store.swaps import SwapStore
from . import api_balance, api_bench, api_compare, api_jobs, api_power, api_shelf
from .described import completed
from .guard import guard, nonce
from .problems import register_problems, validation_response
from .services import Services

__all__ = ["create_app"]

_STATIC = Path(__file__).parent / "static"


class Api(OpenAPI):
    """The application with its own description completed."""

    @property
    def api_doc(self) -> dict[str, Any]:
        """The OpenAPI document."""
        return completed(super().api_doc)


def create_app(pool: Pool | None, defer: Callable[[int], object] = bool) -> OpenAPI:
    """The application over a pool of connections; without one it can only describe itself.

    ``defer`` puts the number of a plan into the workers' queue; without one nothing is planned.
    """
    app = Api(
        __name__, info=Info(title="Lift Crate", version=__version__), doc_prefix="/api", static_folder=None,
        validation_error_callback=validation_response, validation_error_status=422,
    )  # fmt: skip
    app.config["MAX_CONTENT_LENGTH"] = MAX_BYTES
    if pool is not None:
        jobs = JobStore(pool)
        app.extensions["lift_crate"] = Services(jobs, BuildStore(jobs), ShelfStore(jobs), BalanceStore(jobs), swaps := SwapStore(jobs), PlanStore(jobs, swaps, defer))
    app.register_api(api_jobs.api)
    app.register_api(api_bench.api)
    app.register_api(api_balance.api)
    app.register_api(api_compare.api)
    app.register_api(api_shelf.api)
    app.register_api(api_power.api)
    register_problems(app)
    guard(app)
    app.add_url_rule("/", "screen", _screen)
    app.add_url_rule("/<path:name>", "screen_file", _screen)
    return app


def _screen(name: str = "index.html") -> Response:
    """A built file, or the page itself: the addresses of screens belong to the front end."""
    if name.startswith("api/"):
        abort(404, f"There is no /{name} in the API; /api/openapi.json lists what there is.")
    if _is_file(name):
        response = send_from_directory(_STATIC, name)
        if name.startswith("assets/"):
            response.cache_control.max_age = 31_536_000
            response.cache_control.immutable = True
        return response
    if not (_STATIC / "index.html").is_file():
        abort(404, "The screens are not built yet; './run demo' builds them.")
    page = (_STATIC / "index.html").read_text(encoding="utf-8")
    return Response(page.replace("<script>", f'<script nonce="{nonce()}">', 1), mimetype="text/html", headers={"Cache-Control": "no-cache"})


def _is_file(name: str) -> bool:
    """Whether a built file has that name; names that no file can have are none."""
    try:
        return (_STATIC / name).is_file() and name != "index.html"
    except (OSError, ValueError):
        return False
