"""Every error as problem+json (RFC 9457), mapped in one place."""

from __future__ import annotations

from collections.abc import Iterable, Mapping

from flask import Flask, Response, json
from pydantic import BaseModel, ValidationError
from werkzeug.exceptions import HTTPException, MethodNotAllowed

from ..core.crew.rights import NotYours
from ..core.crew.secrets import BadSecret
from ..core.errors import BadRig, LiftCrateError, NoSuchInterface, NoSuchModel, NoSuchUnit
from ..core.gear.doubts import GearDoubted
from ..core.gear.measuring import BadMeasurement
from ..core.gear.patterns import BadAnswers, NoSuchPattern
from ..core.job.edits import JobRefused
from ..core.job.job import NotInJob
from ..devices.line import DeviceAway
from ..formats.job_file import MAX_BYTES, BadJobFile, Problem, validation_problems
from ..formats.pictures import BadPicture
from ..formats.starter import NoSuchStarter
from ..store.crew import BadLink, NoSignIn, SignedOut, TooManyTries
from ..store.errors import Conflict, DatabaseAway, ServerBusy, StoreFull, TakenAlready, Unstorable
from ..store.packing import AskedFirst

__all__ = ["lift_crate_response", "problem_response", "register_problems", "validation_response"]

_STATUS: tuple[tuple[type[LiftCrateError], int, str], ...] = (
    (NotInJob, 404, "Not here"),
    (NotYours, 403, "Not yours to do"),
    (BadSecret, 422, "That cannot be taken"),
    (NoSignIn, 401, "Not signed in"),
    (SignedOut, 401, "Not signed in"),
    (TooManyTries, 429, "Wait a little"),
    (BadLink, 404, "This link leads nowhere"),
    (NoSuchUnit, 422, "No such unit"),
    (NoSuchModel, 404, "No such model"),
    (NoSuchInterface, 404, "No such interface"),
    (BadRig, 422, "That does not make a rig"),
    (BadAnswers, 422, "No model can be made of that"),
    (NoSuchPattern, 404, "No such pattern"),
    (NoSuchStarter, 422, "The starter shelf does not have that"),
    (GearDoubted, 422, "That is hard to believe"),
    (JobRefused, 422, "That does not go in a job"),
    (BadJobFile, 422, "The job file was refused"),
    (BadPicture, 422, "The picture was refused"),
    (BadMeasurement, 422, "These readings do not belong together"),
    (DeviceAway, 503, "A device does not answer"),
    (Unstorable, 422, "That cannot be kept"),
    (TakenAlready, 208, "Had arrived already"),
    (AskedFirst, 409, "Sure?"),
    (Conflict, 409, "Something else is there already"),
    (StoreFull, 507, "The disk is full"),
    (ServerBusy, 503, "Busy"),
    (DatabaseAway, 503, "The database does not answer"),
)


def problem_response(
    status: int,
    code: str,
    title: str,
    detail: str,
    problems: Iterable[Problem] = (),
    beside: Mapping[str, object] | None = None,
) -> Response:
    """An error body; ``beside``: what else is told with it, as views or plain values."""
    body: dict[str, object] = {
        "type": f"urn:lift-crate:{code}",
        "title": title,
        "status": status,
        "detail": detail,
        "problems": [{"path": p.path, "message": p.message} for p in problems],
    }
    for name, value in (beside or {}).items():
        body[name] = value.model_dump(mode="json") if isinstance(value, BaseModel) else value
    return Response(json.dumps(body), status, mimetype="application/problem+json")


def validation_response(error: ValidationError) -> Response:
    """A request that does not have the declared form."""
    problems = validation_problems(error)
    detail = "; ".join(str(problem) for problem in problems)
    return problem_response(422, "request.bad", "The request was refused", detail, problems)


def lift_crate_response(error: LiftCrateError, beside: Mapping[str, object] | None = None) -> Response:
    """One of our own errors."""
    for kind, status, title in _STATUS:
        if isinstance(error, kind):
            return problem_response(status, error.code, title, str(error), getattr(error, "problems", ()), beside)
    return problem_response(500, error.code, "Something went wrong", str(error))


def register_problems(app: Flask) -> None:
    """Make every error of the application a problem+json answer."""

    @app.errorhandler(LiftCrateError)
    def _ours(error: LiftCrateError) -> Response:
        return lift_crate_response(error)

    @app.errorhandler(OverflowError)
    def _beyond(error: OverflowError) -> Response:
        detail = f"A number or a time is beyond what can be counted with ({error}). Nothing was changed."
        return problem_response(422, "value.beyond", "That cannot be kept", detail)

    @app.errorhandler(HTTPException)
    def _http(error: HTTPException) -> Response:
        status = error.code or 500
        detail = error.description or ""
        if status == 413:
            detail = (
                f"What was sent is too large; a job file may have at most {MAX_BYTES / 1e6:.0f} MB, anything else 0.4"
                " MB. Nothing was changed."
            )
        response = problem_response(status, f"http.{status}", error.name, detail)
        if isinstance(error, MethodNotAllowed) and error.valid_methods:
            response.headers["Allow"] = ", ".join(sorted(error.valid_methods))
        return response

    @app.errorhandler(Exception)
    def _unexpected(error: Exception) -> Response:
        app.logger.exception("unexpected error", exc_info=error)
        return problem_response(
            500, "unexpected", "Something went wrong here", "Nothing was saved. The server's log says more."
        )
