"""Calls to a True Margin over one connection that is kept, with nothing but the standard library:
the watcher goes as one file onto machines that have nothing else."""

from __future__ import annotations

import hashlib
import http.client
import json
import socket
import ssl
import threading
from dataclasses import dataclass
from typing import Any
from urllib.parse import urlsplit

from true_margin.core.errors import CoreError

WAIT_S = 10.0
MOST_ANSWER = 50_000_000
"""Bytes of an answer; a line-up is never as large."""


class SendError(CoreError):
    """A run was not stored; says why. It stays in the log."""


class AwayError(SendError):
    """The server does not answer; later it may."""


class CertificateError(SendError):
    """The server's certificate is not one that this machine trusts."""


@dataclass(frozen=True)
class Answer:
    """What came back: a status, the head's cookies, and the body."""

    status: int
    cookies: dict[str, str]
    body: bytes

    def json(self) -> Any:
        """The body as plain values.

        Raises:
            ValueError: it is no JSON.
        """
        return json.loads(self.body)


class Caller:
    """Asks one server, one question at a time."""

    def __init__(
        self, address: str, token: str | None = None, certificate: str | None = None
    ) -> None:
        """Reach a server.

        Args:
            address: where it answers, with http or https.
            token: of this device, where it was paired.
            certificate: file of the server's own certificate, or its text.
        """
        at = urlsplit(address)
        self.address = address.rstrip("/")
        self._safe = at.scheme == "https"
        self._host, self._port = at.hostname or "127.0.0.1", at.port
        self._path = at.path.rstrip("/")
        self._trust = _trust(certificate) if self._safe else None
        self._headers = {"Accept": "application/json"}
        if token:
            self._headers["Authorization"] = f"Bearer {token}"
        self._line: http.client.HTTPConnection | None = None
        self._turn = threading.Lock()

    def close(self) -> None:
        """Hang up."""
        with self._turn:
            self._hang_up()

    def ask(
        self, method: str, path: str, body: bytes | None = None, kind: str = "application/json"
    ) -> Answer:
        """Send one question.

        Args:
            method: of HTTP.
            path: below the server's address.
            body: what is sent, if anything.
            kind: media type of the body.

        Raises:
            AwayError: nobody answers.
            CertificateError: somebody answers whom this machine does not trust.
        """
        headers = dict(self._headers)
        if body is not None:
            headers["Content-Type"] = kind
        with self._turn:
            # A line that was kept may have been hung up meanwhile: then once more, anew.
            for kept in (True, False):
                if self._line is None and kept:
                    continue
                try:
                    return self._once(method, self._path + path, body, headers)
                except (OSError, http.client.HTTPException) as error:
                    fresh = not kept
                    self._hang_up()
                    if fresh or not isinstance(error, _HUNG_UP):
                        raise _trouble(error, self.address) from error
            raise AwayError(f"True Margin does not answer at {self.address}.")

    def _once(self, method: str, path: str, body: bytes | None, headers: dict[str, str]) -> Answer:
        line = self._line or self._call()
        self._line = line
        line.request(method, path, body=body, headers=headers)
        answer = line.getresponse()
        cookies = {}
        for each in answer.headers.get_all("Set-Cookie") or []:
            name, _, value = each.partition(";")[0].partition("=")
            cookies[name.strip()] = value.strip()
        return Answer(answer.status, cookies, answer.read(MOST_ANSWER))

    def _call(self) -> http.client.HTTPConnection:
        if self._safe:
            return http.client.HTTPSConnection(
                self._host, self._port, timeout=WAIT_S, context=self._trust
            )
        return http.client.HTTPConnection(self._host, self._port, timeout=WAIT_S)

    def _hang_up(self) -> None:
        if self._line is not None:
            self._line.close()
            self._line = None


_HUNG_UP = (http.client.RemoteDisconnected, ConnectionResetError, BrokenPipeError)


def _trust(certificate: str | None) -> ssl.SSLContext:
    """Whom to trust: with a certificate of the server's own, that one alone."""
    if certificate is None:
        return ssl.create_default_context()
    if certificate.lstrip().startswith("-----BEGIN"):
        return ssl.create_default_context(cadata=certificate)
    return ssl.create_default_context(cafile=certificate)


def _trouble(error: Exception, where: str) -> SendError:
    """What a failed call means: a certificate that is not trusted is no server that is away."""
    if isinstance(error, ssl.SSLCertVerificationError):
        return CertificateError(
            f"{where} shows a certificate that this machine does not trust: "
            f"{error.verify_message}. Pair with --fingerprint and the digits that the desk "
            f"shows, or name the certificate's file with --certificate."
        )
    return AwayError(f"True Margin does not answer at {where}.")


def fetch_certificate(address: str, fingerprint: str) -> str:
    """The certificate that a server shows, if it is the one that the desk shows digits of.

    Args:
        address: of the server.
        fingerprint: SHA-256 of the certificate, in pairs of digits or without what parts them.

    Returns:
        The certificate as PEM.

    Raises:
        AwayError: the server does not answer.
        CertificateError: it shows another one.
    """
    at = urlsplit(address)
    anybody = ssl.create_default_context()
    anybody.check_hostname, anybody.verify_mode = False, ssl.CERT_NONE
    try:
        line = socket.create_connection((at.hostname or "", at.port or 443), WAIT_S)
        with line, anybody.wrap_socket(line, server_hostname=at.hostname) as safe:
            shown = safe.getpeercert(binary_form=True) or b""
    except OSError as error:
        raise AwayError(f"True Margin does not answer at {address}.") from error
    digest = hashlib.sha256(shown).hexdigest()
    if digest != _digits(fingerprint):
        raise CertificateError(
            f"{address} shows another certificate than the desk says: {digest}. "
            f"Somebody may stand between, or the digits are mistyped: nothing was sent."
        )
    return ssl.DER_cert_to_PEM_cert(shown)


def _digits(fingerprint: str) -> str:
    return "".join(c for c in fingerprint.casefold() if c.isalnum())
