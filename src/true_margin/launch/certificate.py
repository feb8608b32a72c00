"""The app's own certificate, so that a phone's browser keeps its abilities on this network."""

from __future__ import annotations

import ipaddress
import os
import socket
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from pathlib import Path

import psutil
from cryptography import x509
from cryptography.hazmat.primitives import hashes, serialization
from cryptography.hazmat.primitives.asymmetric import ec
from cryptography.x509.oid import ExtendedKeyUsageOID, NameOID

LIVES = timedelta(days=397)
RENEW = timedelta(days=30)
NAME = "True Margin on this network"


@dataclass(frozen=True, slots=True)
class Certificate:
    """Files of a certificate, and its fingerprint for a careful person to compare."""

    certificate: Path
    key: Path
    fingerprint: str


def own_addresses(host: str) -> tuple[str, ...]:
    """Addresses of this machine that another device may reach it by."""
    if not _is_every(host):
        return (host,)
    found = [
        each.address
        for addresses in psutil.net_if_addrs().values()
        for each in addresses
        if each.family == socket.AF_INET and not each.address.startswith("127.")
    ]
    return tuple(dict.fromkeys(found)) or ("127.0.0.1",)


def _is_every(host: str) -> bool:
    """Whether an address means all addresses of this machine."""
    try:
        return ipaddress.ip_address(host).is_unspecified
    except ValueError:
        return False


def own_certificate(folder: Path, names: tuple[str, ...]) -> Certificate:
    """Give the certificate for these addresses and names; makes one where none is good.

    Args:
        folder: where its files are kept, readable by this user only.
        names: addresses and host names that it must cover.
    """
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    paths = folder / "certificate.pem", folder / "key.pem"
    known = _known(*paths)
    if known is None or not _covers(known, names):
        known = _make(*paths, names)
    printed = known.fingerprint(hashes.SHA256()).hex().upper()
    return Certificate(*paths, ":".join(printed[i : i + 2] for i in range(0, len(printed), 2)))


def _known(certificate: Path, key: Path) -> x509.Certificate | None:
    try:
        serialization.load_pem_private_key(key.read_bytes(), None)
        return x509.load_pem_x509_certificate(certificate.read_bytes())
    except (OSError, ValueError):
        return None


def _covers(known: x509.Certificate, names: tuple[str, ...]) -> bool:
    if known.not_valid_after_utc - datetime.now(UTC) < RENEW:
        return False
    try:
        found = known.extensions.get_extension_for_class(x509.SubjectAlternativeName).value
    except x509.ExtensionNotFound:
        return False
    covered = {str(each.value) for each in found}
    return set(names) <= covered


def _make(certificate: Path, key: Path, names: tuple[str, ...]) -> x509.Certificate:
    private = ec.generate_private_key(ec.SECP256R1())
    subject = x509.Name([x509.NameAttribute(NameOID.COMMON_NAME, NAME)])
    now = datetime.now(UTC)
    made = (
        x509.CertificateBuilder()
        .subject_name(subject)
        .issuer_name(subject)
        .public_key(private.public_key())
        .serial_number(x509.random_serial_number())
        .not_valid_before(now - timedelta(hours=1))
        .not_valid_after(now + LIVES)
        .add_extension(x509.SubjectAlternativeName([_general(name) for name in names]), False)
        .add_extension(x509.BasicConstraints(ca=False, path_length=None), True)
        .add_extension(x509.ExtendedKeyUsage([ExtendedKeyUsageOID.SERVER_AUTH]), False)
        .sign(private, hashes.SHA256())
    )
    pem = private.private_bytes(
        serialization.Encoding.PEM, serialization.PrivateFormat.PKCS8, serialization.NoEncryption()
    )
    handle = os.open(key, os.O_WRONLY | os.O_CREAT | os.O_TRUNC, 0o600)
    with os.fdopen(handle, "wb") as file:
        file.write(pem)
    certificate.write_bytes(made.public_bytes(serialization.Encoding.PEM))
    return made


def _general(name: str) -> x509.GeneralName:
    try:
        return x509.IPAddress(ipaddress.ip_address(name))
    except ValueError:
        return x509.DNSName(name)
