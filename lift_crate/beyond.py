"""Beyond this machine: a name in the local network, and a small authority of one's own that vouches for it.

The authority is made once and kept in a folder that nobody else reads. It vouches for this server alone: its own
certificate allows no other below it, and what it signs is good for a year and made anew in time.
"""

from __future__ import annotations

import ipaddress
import socket
from collections.abc import Iterator, Sequence
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import ifaddr
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID
from zeroconf import ServiceInfo, Zeroconf

__all__ = ["Authority", "announced", "own_addresses", "private"]

_AUTHORITY_DAYS = 3650
_LEAF_DAYS = 390
"""Phones take none that are good for longer than 398 days."""
_RENEWED_DAYS = 40


def own_addresses() -> list[str]:
    """Addresses of this machine in local networks, IPv4, the loopback not among them."""
    found = [ip.ip for adapter in ifaddr.get_adapters() for ip in adapter.ips if isinstance(ip.ip, str)]
    return sorted({ip for ip in found if not ipaddress.ip_address(ip).is_loopback}, key=ipaddress.ip_address)


@dataclass(frozen=True)
class Authority:
    """A small authority in a folder of its own."""

    folder: Path

    @property
    def certificate(self) -> Path:
        """What a phone is told to trust; no secret."""
        return self.folder / "authority.crt"

    def vouch(self, name: str, addresses: Sequence[str], now: datetime | None = None) -> tuple[Path, Path]:
        """Certificate and key of the server under a name and addresses, made anew where they run out or say less."""
        at = now or datetime.now(UTC)
        self.folder.mkdir(mode=0o700, parents=True, exist_ok=True)
        ours = self._own(at, name)
        leaf, key = self.folder / "server.crt", self.folder / "server.key"
        if leaf.exists() and key.exists() and _good(leaf, name, private(addresses), ours, at):
            return leaf, key
        made = ec.generate_private_key(ec.SECP256R1())
        alternatives = [
            x509.DNSName(name),
            x509.DNSName("localhost"),
            *(x509.IPAddress(ipaddress.ip_address(each)) for each in (*private(addresses), "127.0.0.1")),
        ]
        signed = (
            _begun(x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, name)]), made.public_key(), at, _LEAF_DAYS)
            .issuer_name(ours.subject)
            .add_extension(x509.SubjectAlternativeName(alternatives), critical=False)
            .add_extension(x509.BasicConstraints(ca=False, path_length=None), critical=True)
            .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), critical=False)
            .sign(self._key(), hashes.SHA256())
        )
        _write(key, _pem(made), secret=True)
        _write(leaf, signed.public_bytes(serialization.Encoding.PEM))
        return leaf, key

    def fingerprint(self) -> str:
        """Of what a phone is to trust, as phones show it: pairs of hex digits."""
        ours = x509.load_pem_x509_certificate(self.certificate.read_bytes())
        return ":".join(f"{byte:02X}" for byte in ours.fingerprint(hashes.SHA256()))

    def _key(self) -> ec.EllipticCurvePrivateKey:
        key = serialization.load_pem_private_key((self.folder / "authority.key").read_bytes(), None)
        if not isinstance(key, ec.EllipticCurvePrivateKey):
            raise TypeError(f"{self.folder}/authority.key is no key of ours; move the folder away to make another")

        return key

    def _own(self, at: datetime, server: str) -> x509.Certificate:
        """The authority: it vouches for this server's name, this machine and private addresses, and for nothing else
        (RFC 5280, 4.2.1.10), so that whoever gets at its key can be taken for no other site by those who trust it.
        """
        constraints = x509.NameConstraints(
            permitted_subtrees=[
                x509.DNSName(server),
                x509.DNSName("localhost"),
                *(x509.IPAddress(ipaddress.ip_network(each)) for each in _PRIVATE),
            ],
            excluded_subtrees=None,
        )
        if self.certificate.exists():
            known = x509.load_pem_x509_certificate(self.certificate.read_bytes())
            if known.not_valid_after_utc > at + timedelta(days=_LEAF_DAYS) and _constrained(known) == constraints:
                return known
        key = ec.generate_private_key(ec.SECP256R1())
        name = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, f"Lift Crate on {socket.gethostname()}"[:64])])
        usage = x509.KeyUsage(
            digital_signature=False,
            content_commitment=False,
            key_encipherment=False,
            data_encipherment=False,
            key_agreement=False,
            key_cert_sign=True,
            crl_sign=True,
            encipher_only=False,
            decipher_only=False,
        )
        made = (
            _begun(name, key.public_key(), at, _AUTHORITY_DAYS)
            .issuer_name(name)
            .add_extension(x509.BasicConstraints(ca=True, path_length=0), critical=True)
            .add_extension(usage, critical=True)
            .add_extension(constraints, critical=True)
            .sign(key, hashes.SHA256())
        )
        _write(self.folder / "authority.key", _pem(key), secret=True)
        _write(self.certificate, made.public_bytes(serialization.Encoding.PEM))
        return made


_PRIVATE = ("127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "fc00::/7", "fe80::/10")
"""Addresses that are nobody's on the internet."""


def private(addresses: Sequence[str]) -> tuple[str, ...]:
    """Those that the authority vouches for; where a machine has others it is reached by its name."""
    nets = [ipaddress.ip_network(net) for net in _PRIVATE]
    return tuple(each for each in addresses if any(ipaddress.ip_address(each) in net for net in nets))


def _constrained(authority: x509.Certificate) -> x509.NameConstraints | None:
    try:
        return authority.extensions.get_extension_for_class(x509.NameConstraints).value
    except x509.ExtensionNotFound:
        return None


def _begun(subject: x509.Name, key: ec.EllipticCurvePublicKey, at: datetime, days: int) -> x509.CertificateBuilder:
    return (
        x509.CertificateBuilder()
        .subject_name(subject)
        .public_key(key)
        .serial_number(x509.random_serial_number())
        # Clocks of phones differ: what is made now is good since yesterday.
        .not_valid_before(at - timedelta(days=1))
        .not_valid_after(at + timedelta(days=days))
    )


def _good(leaf: Path, name: str, addresses: Sequence[str], ours: x509.Certificate, at: datetime) -> bool:
    known = x509.load_pem_x509_certificate(leaf.read_bytes())
    if known.not_valid_after_utc < at + timedelta(days=_RENEWED_DAYS) or known.issuer != ours.subject:
        return False
    try:
        known.verify_directly_issued_by(ours)
    except Exception:
        return False
    told = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    ips = {str(each) for each in told.get_values_for_type(x509.IPAddress)}
    return name in told.get_values_for_type(x509.DNSName) and set(addresses) <= ips


def _pem(key: ec.EllipticCurvePrivateKey) -> bytes:
    return key.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )


def _write(path: Path, content: bytes, *, secret: bool = False) -> None:
    """A file whole or not at all; a secret one is nobody else's from its first byte on."""
    beside = path.with_suffix(f"{path.suffix}.making")
    beside.unlink(missing_ok=True)
    beside.touch(mode=0o600 if secret else 0o644)
    beside.write_bytes(content)
    beside.rename(path)


@contextmanager
def announced(host: str, port: int, addresses: Sequence[str]) -> Iterator[None]:
    """As long as this lasts, ``host`` (one under .local) is told to lead to these addresses. Raises OSError where
    nothing can be told, as on a machine without a network.
    """
    info = ServiceInfo(
        "_https._tcp.local.",
        f"{host.removesuffix('.local')}._https._tcp.local.",
        port=port,
        server=f"{host}.",
        addresses=[socket.inet_aton(each) for each in addresses],
        properties={"path": "/"},
    )
    told = Zeroconf()
    try:
        told.register_service(info, allow_name_change=True)
        yield
    finally:
        told.unregister_all_services()
        told.close()
