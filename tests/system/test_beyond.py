"""Beyond this machine: over TLS that a device can verify, by its name, for those who have accounts; else not at all."""

from __future__ import annotations

import http.client
import ipaddress
import json
import socket
import ssl
import time
from collections.abc import Callable
from contextlib import suppress
from datetime import UTC, datetime, timedelta
from pathlib import Path
from typing import Any

import pytest
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec

from lift_crate.beyond import Authority
from lift_crate.core.crew.rights import Person
from lift_crate.store.crew import CrewStore
from lift_crate.store.database import open_pool
from tests.conftest import LiveServer, free_port

NAME = "dock-crate.local"


def test_who_trusts_the_authority_trusts_its_server_and_only_by_its_names(tmp_path: Path) -> None:
    authority = Authority(tmp_path / "authority")
    leaf, key = authority.vouch(NAME, ["10.1.2.3"])
    kept = leaf.read_bytes()
    assert authority.vouch(NAME, ["10.1.2.3"])[0].read_bytes() == kept, "it is made once"
    for secret in (key, tmp_path / "authority" / "authority.key"):
        assert secret.stat().st_mode & 0o77 == 0
    said = authority.fingerprint()
    soon = datetime.now(UTC) + timedelta(days=360)
    assert authority.vouch(NAME, ["10.1.2.3"], soon)[0].read_bytes() != kept, "it is made anew before it runs out"
    assert authority.vouch(NAME, ["10.1.2.3", "10.9.9.9"])[0].read_bytes() != kept, "and where it says too little"
    assert authority.fingerprint() == said, "what phones trust stays the same"
    trust = ssl.create_default_context(cafile=str(authority.certificate))
    # An address of the whole internet, as a machine with a line of its own has, is none that it vouches for.
    ours = authority.vouch(NAME, ["10.1.2.3", "10.9.9.9", "192.0.2.2"])
    tries = (
        (NAME, ours, True),
        ("10.9.9.9", ours, True),
        ("192.0.2.2", ours, False),
        ("elsewhere.local", ours, False),
        ("elsewhere.local", _stolen(authority, "elsewhere.local"), False),
        ("192.0.2.9", _stolen(authority, "192.0.2.9"), False),
        (NAME, _stolen(authority, NAME), True),
    )
    for name, shown, fits in tries:
        from_there, to_here = ssl.MemoryBIO(), ssl.MemoryBIO()
        server_side = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
        server_side.load_cert_chain(*shown)
        one = trust.wrap_bio(from_there, to_here, server_hostname=name)
        other = server_side.wrap_bio(to_here, from_there, server_side=True)
        if fits:
            _shake(one, other)
            assert one.version() == "TLSv1.3"
        else:
            with pytest.raises(ssl.SSLCertVerificationError):
                _shake(one, other)


def _stolen(authority: Authority, name: str) -> tuple[Path, Path]:
    """What somebody who took the authority's key away shows as another site."""
    key = ec.generate_private_key(ec.SECP256R1())
    signed = serialization.load_pem_private_key((authority.folder / "authority.key").read_bytes(), None)
    assert isinstance(signed, ec.EllipticCurvePrivateKey)
    issuer = x509.load_pem_x509_certificate(authority.certificate.read_bytes())
    there: x509.GeneralName = x509.DNSName(name)
    with suppress(ValueError):
        there = x509.IPAddress(ipaddress.ip_address(name))
    leaf = (
        x509.CertificateBuilder()
        .subject_name(x509.Name([x509.NameAttribute(x509.NameOID.COMMON_NAME, name)]))
        .issuer_name(issuer.subject)
        .public_key(key.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(datetime.now(UTC) - timedelta(days=1))
        .not_valid_after(datetime.now(UTC) + timedelta(days=30))
        .add_extension(x509.SubjectAlternativeName([there]), critical=False)
        .sign(signed, hashes.SHA256())
    )
    shown = authority.folder / f"{name}.crt", authority.folder / f"{name}.key"
    shown[0].write_bytes(leaf.public_bytes(serialization.Encoding.PEM))
    unlocked = serialization.NoEncryption()
    pem = key.private_bytes(serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, unlocked)
    shown[1].write_bytes(pem)
    return shown


def _shake(one: ssl.SSLObject, other: ssl.SSLObject) -> None:
    waiting = [one, other, one, other, one]
    for each in waiting:
        try:
            each.do_handshake()
        except ssl.SSLWantReadError:
            continue


def first_account(url: str) -> None:
    with open_pool(url, size=1) as pool:
        crew = CrewStore(pool)
        word, _ = crew.invite(
            Person(id="", name="the house", house="lead"), house="lead", job="dry-dock-opera", role="lead"
        )
        crew.accept(word, "Lead", "four words nobody says", None)


def test_in_the_network_only_over_tls_with_accounts_and_a_cookie_of_this_host(
    new_database: Callable[..., str], templates: dict[str, str], tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setenv("LIFT_CRATE_DATA", str(tmp_path))
    url, port = new_database(templates["demo"]), free_port()
    more = ("--web", "1", "--workers", "0", "--lan", "--lan-port", str(port), "--name", NAME.removesuffix(".local"))
    server = LiveServer(url, tmp_path / "log", demo=False, sign_in=True, more=more)
    with pytest.raises(AssertionError, match="without accounts only this machine is answered"):
        server.start()
    for wrong in (("--open",), ("--demo",)):
        bad = LiveServer(url, tmp_path / f"log{wrong[0]}", demo=False, sign_in=True, more=(*more, *wrong))
        with pytest.raises(AssertionError, match="only this machine is answered"):
            bad.start()
    first_account(url)
    server.log.write_bytes(b"")
    server.start()
    try:
        trust = ssl.create_default_context(cafile=str(tmp_path / "authority" / "authority.crt"))

        def ask(method: str, path: str, body: Any = None, **headers: str) -> tuple[int, str, bytes]:
            """Status, cookie and body of an answer."""
            raw = socket.create_connection(("127.0.0.1", port), timeout=30)
            connection = http.client.HTTPSConnection(NAME, port, context=trust)
            with trust.wrap_socket(raw, server_hostname=NAME) as connection.sock:
                sent = json.dumps(body) if body is not None else None
                connection.request(method, path, sent, {"Content-Type": "application/json", **headers})
                with connection.getresponse() as answer:
                    return answer.status, answer.headers["Set-Cookie"] or "", answer.read()

        for left in reversed(range(300)):
            try:
                assert ask("GET", "/api/jobs")[0] == 401
                break
            except OSError:
                assert left, server.log.read_text()
                time.sleep(0.1)
        assert ask("GET", "/authority.crt")[2] == (tmp_path / "authority" / "authority.crt").read_bytes()
        status, cookie, _ = ask("POST", "/api/me/sign-in", {"name": "Lead", "password": "four words nobody says"})
        assert status == 204
        assert cookie.startswith("__Host-lift-crate=")
        assert all(each in cookie for each in ("Secure", "HttpOnly", "SameSite=Strict", "Path=/"))
        assert "Domain" not in cookie
        kept = cookie.partition(";")[0]
        assert ask("GET", "/api/jobs", Cookie=kept)[0] == 200
        assert ask("GET", "/api/jobs", Cookie=kept.removeprefix("__Host-"))[0] == 401
        assert ask("GET", "/api/jobs", Cookie=kept, Host="elsewhere.local")[0] == 421
        with socket.create_connection(("127.0.0.1", port), timeout=30) as plain:
            plain.sendall(b"GET /api/me HTTP/1.1\r\nHost: 127.0.0.1\r\n\r\n")
            with suppress(ConnectionResetError):
                assert b"200" not in plain.recv(200)
        assert f"https://{NAME}:{port}/" in server.log.read_text()
        assert Authority(tmp_path / "authority").fingerprint() in server.log.read_text()
    finally:
        server.stop()
