"""The API's own description, completed: errors as problem+json, files in and
out, and what every operation may answer beside its own.
"""

from __future__ import annotations

from collections.abc import Callable
from typing import Any

from flask_openapi3.blueprint import APIBlueprint
from flask_openapi3.models.tag import Tag
from flask_openapi3.types import ParametersTuple
from flask_openapi3.utils import parse_parameters

__all__ = ["PlaceApi", "completed"]

_PROBLEM = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ProblemView"}}}
_CONFLICT = {"application/problem+json": {"schema": {"$ref": "#/components/schemas/ConflictProblem"}}}
_ALWAYS = {
    "401": "Not signed in",
    "403": "Not yours to do, or sent by a page of another site",
    "404": "Not here",
    "405": "Not done at this address",
    "413": "Larger than this takes",
    "415": "Sent as something else",
    "421": "Asked by a name that is not this server's",
    "422": "Refused, with what would be right",
    "500": "Something went wrong here",
    "503": "The database or a device does not answer",
}
_FILES_OUT = {
    "exportJob": "application/json",
    "exportUnits": "text/csv",
    "readPicture": "image/jpeg",
    "exportRecipe": "application/json",
    "patternTemplate": "text/csv",
    "exportSwapsCalendar": "text/calendar",
    "exportSwapsCsv": "text/csv",
    "exportRunCalendar": "text/calendar",
    "exportSoundCsv": "text/csv",
    "exportSoundLogCsv": "text/csv",
    "exportDayPdf": "application/pdf",
    "exportRunCsv": "text/csv",
    "exportLogCsv": "text/csv",
    "exportReportPdf": "application/pdf",
    "exportSafetyPdf": "application/pdf",
    "exportCardsCsv": "text/csv",
    "exportCustodyCsv": "text/csv",
    "exportBudgetCsv": "text/csv",
    "exportDayCalendar": "text/calendar",
    "exportGearCsv": "text/csv",
    "drawSvg": "image/svg+xml",
    "drawPdf": "application/pdf",
    "listenToJob": "text/event-stream",
    "exportAlong": "text/html",
    "exportPackCsv": "text/csv",
    "exportPackPdf": "application/pdf",
    "exportLabelsPdf": "application/pdf",
}
_NO_TEXT = ("exportJob", "listenToJob")
_FILES_IN: dict[str, tuple[str, dict[str, Any]]] = {
    "importJob": ("application/json", {"type": "object", "description": "A Lift Crate job file (docs/job-file.md)"}),
    "importModels": ("text/csv", {"type": "string", "description": "Models of one kind as CSV, with a header"}),
    "keepPicture": ("image/jpeg", {"type": "string", "format": "binary", "description": "A JPEG, PNG or WebP picture"}),
    "importUnits": ("text/csv", {"type": "string", "description": "Units as CSV, with a header"}),
}


class PlaceApi(APIBlueprint):
    """The addresses of one place. Their schemas take longer to make than all
    else at a start, so they are made when somebody asks for the description.
    """

    def __init__(self, name: str, import_name: str, *, url_prefix: str, abp_tags: list[Tag]) -> None:
        self._untold: list[tuple[str, Callable[..., Any], dict[str, Any]]] = []
        super().__init__(name, import_name, url_prefix=url_prefix, abp_tags=abp_tags)

    def _collect_openapi_info(self, rule: str, func: Callable[..., Any], **told: Any) -> ParametersTuple:  # noqa: ANN401 - the library's own signature
        self._untold.append((rule, func, told))
        return parse_parameters(func, doc_ui=False)

    def describe(self) -> None:
        """Make the schemas, paths and tags of what was not described yet."""
        while self._untold:
            rule, func, told = self._untold.pop(0)
            super()._collect_openapi_info(rule, func, **told)


def completed(document: dict[str, Any]) -> dict[str, Any]:
    """The OpenAPI document as strict readers take it."""
    components = {name: value for name, value in document["components"].items() if value is not None}
    paths = {
        path: {method: _operation(value) for method, value in methods.items()}
        for path, methods in document["paths"].items()
    }
    return {**document, "components": components, "paths": paths}


def _operation(operation: dict[str, Any]) -> dict[str, Any]:
    name = operation["operationId"]
    responses: dict[str, Any] = {}
    for status, response in operation["responses"].items():
        if status.startswith("2"):
            responses[status] = response
        else:
            conflicts = "ConflictProblem" in str(response)
            responses[status] = {
                "description": response.get("description") or _ALWAYS.get(status, "Refused"),
                "content": _CONFLICT if conflicts else _PROBLEM,
            }
    for status, description in _ALWAYS.items():
        responses.setdefault(status, {"description": description, "content": _PROBLEM})
    if name in _FILES_OUT:
        responses["200"] = {
            "description": "The file",
            "content": {_FILES_OUT[name]: {"schema": {"type": "object" if name in _NO_TEXT else "string"}}},
        }
    completed_one = {**operation, "responses": dict(sorted(responses.items()))}
    if name in _FILES_IN:
        kind, schema = _FILES_IN[name]
        completed_one["requestBody"] = {"required": True, "content": {kind: {"schema": schema}}}
    return completed_one
