"""Signing in by a key that a device holds."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any

from annotated_types import MaxLen
from flask import Response, request
from flask_openapi3.models.tag import Tag
from pydantic import Field

from ..core.crew.rights import Person
from ..core.errors import NotAllowed
from ..store.passkeys import name_for_keys
from . import schema as s
from .answers import READ, Responses, answer
from .crew import begin
from .described import PlaceApi
from .identity import current_person
from .schema import Told
from .services import services

__all__ = ["api"]

api = PlaceApi(
    "passkeys", __name__, url_prefix="/api/me/passkeys", abp_tags=[Tag(name="passkeys", description="Keys of devices")]
)
_SIGN: Responses = {**READ, 401: s.ProblemView, 429: s.ProblemView}


class PasskeyView(Told):
    """A key that a device holds."""

    id: str
    label: str
    made_at: datetime
    used_at: datetime | None


class PasskeysView(Told):
    """One's own keys, and whether there can be some by this name of the server."""

    keys: list[PasskeyView]
    able: bool


class AskedView(Told):
    """What a device is asked, in the form of the Web Authentication standard."""

    options: dict[str, Any]


class MadeKey(s.Strict):
    """What a device answered that made a key, and what the device is called."""

    answer: Annotated[dict[str, Any], Field(max_length=20)]
    label: Annotated[str, MaxLen(80)] = ""


class UsedKey(s.Strict):
    """What a device answered."""

    answer: Annotated[dict[str, Any], Field(max_length=20)]


class KeyPath(s.Strict):
    """Names a key."""

    key: Annotated[str, MaxLen(2100)]


def _name() -> str:
    name = name_for_keys(request.host)
    if name is None:
        raise NotAllowed(
            f"Devices keep keys for names, not for addresses as {request.host[:80]}. Open http://localhost or the"
            " .local name of this server, or use the password."
        )
    return name


def _somebody() -> Person:
    person = current_person()
    if not person.id:
        raise NotAllowed("Nobody signs in on this machine; a key is somebody's who has an account.")
    return person


def _origin() -> str:
    return request.host_url.rstrip("/")


def _own() -> Response:
    keys = services().passkeys.of(current_person().id)
    return answer(PasskeysView(keys=[PasskeyView(**key) for key in keys], able=name_for_keys(request.host) is not None))


@api.get("", responses={200: PasskeysView, **_SIGN}, operation_id="readPasskeys")
def read_passkeys() -> Response:
    """One's own keys."""
    return _own()


@api.post("/new", responses={200: AskedView, **_SIGN}, operation_id="askForPasskey")
def ask_for_passkey() -> Response:
    """What a device is asked that is to hold a key."""
    return answer(AskedView(options=services().passkeys.ask_to_make(_somebody(), _name())))


@api.post("", responses={200: PasskeysView, **_SIGN}, operation_id="makePasskey")
def make_passkey(body: MadeKey) -> Response:
    """Keep a key that a device has made."""
    services().passkeys.make(_somebody(), body.answer, _name(), _origin(), body.label)
    return _own()


@api.delete("/<string:key>", responses={200: PasskeysView, **_SIGN}, operation_id="dropPasskey")
def drop_passkey(path: KeyPath) -> Response:
    """A key counts no more."""
    services().passkeys.drop(current_person().id, path.key)
    return _own()


@api.post("/ask", responses={200: AskedView, **_SIGN}, operation_id="askForSignIn")
def ask_for_sign_in() -> Response:
    """What a device is asked that may hold a key of somebody here."""
    return answer(AskedView(options=services().passkeys.ask(_name())))


@api.post("/sign-in", responses={204: None, **_SIGN}, operation_id="signInByPasskey")
def sign_in_by_passkey(body: UsedKey) -> Response:
    """Sign this browser in by a key."""
    return begin(services().passkeys.sign_in(body.answer, _name(), _origin()))
