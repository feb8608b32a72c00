"""Sends watched runs to True Margin; the same run again stores nothing."""

from __future__ import annotations

import hashlib
import ssl
import time
from collections.abc import Sequence
from typing import Any
from urllib.parse import urlsplit

import httpx2

from true_margin.core.errors import CoreError
from true_margin.core.wording import format_elapsed
from true_margin.watcher.log import WatchedRun

WAIT_S = 10.0
RESOLUTION_S = 0.01
DEVICE_COOKIE = "tm_device"


class SendError(CoreError):
    """A run was not stored; says why. It stays in the log."""


class AwayError(SendError):
    """The server does not answer; later it may."""


class Server:
    """A True Margin that answers at an address; closes its connections at the end."""

    def __init__(
        self, address: str, token: str | None = None, certificate: str | None = None
    ) -> None:
        """Reach a True Margin.

        Args:
            address: where it answers.
            token: of this device, where people sign in there (``pair``).
            certificate: file of its own certificate, where it has one.
        """
        self._api = f"{address.rstrip('/')}/api/v1"
        self._offset_ms = 0.0
        # One client for all: a new one each time costs more than the request itself.
        self._client = _client(certificate)
        if token:
            self._client.headers["Authorization"] = f"Bearer {token}"

    def __enter__(self) -> Server:
        return self

    def __exit__(self, *_: object) -> None:
        self._client.close()

    def place_clock(self, rounds: int = 5) -> None:
        """Place this machine's clock on the server's, by the shortest of a few round trips.

        A server that is away leaves it as it was.
        """
        best = float("inf")
        for _ in range(rounds):
            before = time.time() * 1000.0
            try:
                told = float(self._ask("GET", "/clock")["now_ms"])
            except SendError:
                return
            after = time.time() * 1000.0
            if after - before < best:
                best = after - before
                self._offset_ms = told - (before + after) / 2

    def now_ms(self) -> float:
        """Now on the server's clock, in milliseconds since 1970."""
        return time.time() * 1000.0 + self._offset_ms

    def post_events(self, shootout: str, events: Sequence[object]) -> None:
        """Tell the bench what happened on lanes.

        Raises:
            AwayError: the server does not answer.
            SendError: it refuses.
        """
        self._ask("POST", f"/shootouts/{shootout}/bench/events", {"events": list(events)})

    def read_lane(self, shootout: str, lane_id: str) -> dict[str, Any] | None:
        """Give one lane of a bench as it stands; None where it is not there.

        Raises:
            AwayError: the server does not answer.
        """
        lanes = self._ask("GET", f"/shootouts/{shootout}/bench/lanes")["lanes"]
        return next((each["lane"] for each in lanes if each["lane"]["id"] == lane_id), None)

    def send(self, run: WatchedRun) -> str:
        """Store a run and its marks; gives the sentence that may be said now.

        Raises:
            AwayError: the server does not answer.
            SendError: no such shootout, setup or task, or the run cannot be.
        """
        body = {
            "setup_id": self.setup_id(run.shootout, run.setup),
            "task_id": self.task_id(run.shootout, run.task),
            "typed": None if not run.elapsed_s else format_elapsed(run.elapsed_s, RESOLUTION_S),
            "method": run.method,
            "poll_s": run.poll_s,
            "status": run.status,
            "reason": run.reason,
            "started_at": run.started_at,
            "client_key": run.client_key,
            "simulated": run.simulated,
            "reached": run.reached,
        }
        stored = self._ask("POST", f"/shootouts/{run.shootout}/runs", body)
        if run.marks:
            path = f"/runs/{stored['run']['id']}/marks"
            self._ask("POST", path, {"marks": list(run.marks)})
        return str(stored["says"])

    def setup_id(self, shootout: str, name: str) -> str:
        """Give the id of a setup by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        setups = self._ask("GET", f"/shootouts/{shootout}/lineup")["setups"]
        return _named("setup", name, {each["label"]: each["id"] for each in setups})

    def task_id(self, shootout: str, name: str) -> str:
        """Give the id of a task by its name.

        Raises:
            SendError: there is none; names those there are.
        """
        sheets = self._ask("GET", f"/shootouts/{shootout}/tasks")
        return _named("task", name, {each["task"]["name"]: each["task"]["id"] for each in sheets})

    def _ask(self, method: str, path: str, body: object = None) -> Any:
        try:
            answer = self._client.request(method, f"{self._api}{path}", json=body)
        except httpx2.HTTPError as error:
            raise _trouble(error, self._api) from error
        if answer.status_code >= 500:
            raise AwayError(f"True Margin answered {answer.status_code}.")
        if answer.status_code >= 400:
            raise SendError(_detail(answer))
        return answer.json()


def pair(address: str, code: str, name: str, certificate: str | None = None) -> str:
    """Pair this device by a code that the desk shows; gives the token to keep.

    Raises:
        AwayError: the server does not answer.
        SendError: the code is wrong, too old, or was used.
    """
    with _client(certificate) as client:
        try:
            answer = client.post(f"{address.rstrip('/')}/pair", data={"code": code, "name": name})
        except httpx2.HTTPError as error:
            raise _trouble(error, address) from error
        token = answer.cookies.get(DEVICE_COOKIE)
    if token is None:
        raise SendError("This code is wrong or too old: ask the desk for a new one.")
    return token


class CertificateError(SendError):
    """The server's certificate is not one that this machine trusts."""


def _trouble(error: Exception, where: str) -> SendError:
    """What a failed request means: a certificate that is not trusted is no server that is away."""
    cause: BaseException | None = error
    while cause is not None:
        if isinstance(cause, ssl.SSLCertVerificationError):
            return CertificateError(
                f"{where} shows a certificate that this machine does not trust: "
                f"{cause.verify_message}. Pair with --fingerprint and the digits that the desk "
                f"shows, or name the certificate's file with --certificate."
            )
        cause = cause.__cause__ or cause.__context__
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
    try:
        shown = ssl.get_server_certificate((at.hostname or "", at.port or 443), timeout=WAIT_S)
    except OSError as error:
        raise AwayError(f"True Margin does not answer at {address}.") from error
    digest = hashlib.sha256(ssl.PEM_cert_to_DER_cert(shown)).hexdigest()
    if digest != _digits(fingerprint):
        raise CertificateError(
            f"{address} shows another certificate than the desk says: {digest}. "
            f"Somebody may stand between, or the digits are mistyped: nothing was sent."
        )
    return shown


def _digits(fingerprint: str) -> str:
    return "".join(c for c in fingerprint.casefold() if c.isalnum())


def _client(certificate: str | None) -> httpx2.Client:
    verify = True if certificate is None else ssl.create_default_context(cafile=certificate)
    return httpx2.Client(timeout=WAIT_S, verify=verify)


def _detail(answer: httpx2.Response) -> str:
    try:
        return str(answer.json()["detail"])
    except (ValueError, KeyError, TypeError):
        return f"True Margin answered {answer.status_code}."


def _named(what: str, name: str, known: dict[str, str]) -> str:
    for label, key in known.items():
        if name.casefold() in (label.casefold(), key):
            return key
    raise SendError(f"There is no {what} {name!r}; there are: {', '.join(known)}.")
