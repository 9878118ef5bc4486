"""Keys that a device holds: made for somebody who is signed in, used to sign in without a password.

A device keeps a key for a name, never for an address; so there are some on ``localhost`` and under ``.local`` alone.
"""

from __future__ import annotations

import json
from typing import Any

from webauthn import (
    generate_authentication_options,
    generate_registration_options,
    options_to_json,
    verify_authentication_response,
    verify_registration_response,
)
from webauthn.helpers import parse_client_data_json
from webauthn.helpers.base64url_to_bytes import base64url_to_bytes
from webauthn.helpers.exceptions import WebAuthnException
from webauthn.helpers.structs import (
    AuthenticatorSelectionCriteria,
    PublicKeyCredentialDescriptor,
    ResidentKeyRequirement,
    UserVerificationRequirement,
)

from ..core.crew.rights import Person
from .crew import CrewStore, NoSignIn
from .database import crew_queries, reading, writing

__all__ = ["PasskeyStore", "name_for_keys"]

_MOST = 20


def name_for_keys(host: str) -> str | None:
    """The name that keys are made for, of what a server is asked by; None by an address, for which there are none."""
    name = host.partition(":")[0].lower()
    return name if name == "localhost" or name.endswith(".local") else None


class PasskeyStore:
    """Keeps the public halves of keys, and what was asked for a few minutes."""

    def __init__(self, crew: CrewStore) -> None:
        self.crew, self.pool = crew, crew.pool

    def of(self, account: str) -> list[dict[str, Any]]:
        """Somebody's keys: id, label, made_at, used_at."""
        with reading(self.pool) as connection:
            return list(crew_queries.passkeys_of(connection, account=account))

    def ask_to_make(self, person: Person, name: str) -> dict[str, Any]:
        """What a device is asked that is to hold a key for somebody, as browsers take it."""
        known = [bytes.fromhex(each["id"]) for each in self.of(person.id)]
        options = generate_registration_options(
            rp_id=name,
            rp_name="Lift Crate",
            user_id=person.id.encode(),
            user_name=person.name,
            exclude_credentials=[PublicKeyCredentialDescriptor(id=each) for each in known],
            authenticator_selection=AuthenticatorSelectionCriteria(
                resident_key=ResidentKeyRequirement.REQUIRED, user_verification=UserVerificationRequirement.REQUIRED
            ),
        )
        self._ask(options.challenge, person.id)
        return _plain(options_to_json(options))

    def make(self, person: Person, answer: dict[str, Any], name: str, origin: str, label: str) -> None:
        """A device has made a key; raises NoSignIn for an answer to something else."""
        challenge = self._asked(answer, person.id)
        try:
            made = verify_registration_response(
                credential=answer,
                expected_challenge=challenge,
                expected_rp_id=name,
                expected_origin=origin,
                require_user_verification=True,
            )
        except WebAuthnException as error:
            raise NoSignIn from error
        with writing(self.pool) as connection:
            if len(list(crew_queries.passkeys_of(connection, account=person.id))) >= _MOST:
                raise NoSignIn
            crew_queries.add_passkey(
                connection,
                id=made.credential_id,
                account=person.id,
                public_key=made.credential_public_key,
                sign_count=made.sign_count,
                label=label.strip()[:80] or "a device",
            )

    def ask(self, name: str) -> dict[str, Any]:
        """What any device is asked that may hold a key of somebody here; whose, it says itself."""
        options = generate_authentication_options(rp_id=name, user_verification=UserVerificationRequirement.REQUIRED)
        self._ask(options.challenge, None)
        return _plain(options_to_json(options))

    def sign_in(self, answer: dict[str, Any], name: str, origin: str) -> Person:
        """Who that is; raises NoSignIn, also for a key that was copied: it counts what it signed."""
        challenge = self._asked(answer, None)
        try:
            key = base64url_to_bytes(str(answer.get("rawId", "")))
        except ValueError as error:
            raise NoSignIn from error
        with writing(self.pool) as connection:
            row = crew_queries.passkey(connection, id=key)
            if row is None:
                raise NoSignIn
            try:
                found = verify_authentication_response(
                    credential=answer,
                    expected_challenge=challenge,
                    expected_rp_id=name,
                    expected_origin=origin,
                    credential_public_key=row["public_key"],
                    credential_current_sign_count=row["sign_count"],
                    require_user_verification=True,
                )
            except WebAuthnException as error:
                raise NoSignIn from error
            crew_queries.passkey_used(connection, id=key, sign_count=found.new_sign_count)
        return Person(id=row["account"], name=row["name"], house=row["house"])

    def drop(self, account: str, key: str) -> None:
        """A key counts no more."""
        with writing(self.pool) as connection:
            crew_queries.drop_passkey(connection, account=account, id=key)

    def _ask(self, challenge: bytes, account: str | None) -> None:
        with writing(self.pool) as connection:
            crew_queries.ask_passkey(connection, challenge=challenge, account=account)

    def _asked(self, answer: dict[str, Any], account: str | None) -> bytes:
        """What was asked and is answered here, once, within five minutes; raises NoSignIn."""
        try:
            said = answer.get("response", {}).get("clientDataJSON", "")
            challenge = parse_client_data_json(base64url_to_bytes(str(said))).challenge
        except (AttributeError, ValueError, WebAuthnException) as error:
            raise NoSignIn from error
        with writing(self.pool) as connection:
            row = crew_queries.take_asked(connection, challenge=challenge)
        if row is None or row["account"] != account:
            raise NoSignIn
        return challenge


def _plain(text: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads(text)
    return found
