"""What every answer carries and every request is held to, in one place around the app.

Headers that tell browsers what a page may do, a limit for what is sent in, a name for each
request, and one line about it in the log, which holds no secret and nothing that was typed.
"""

from __future__ import annotations

import json
import logging
import re
import time
from collections.abc import Mapping
from datetime import UTC, datetime
from uuid import uuid4

from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from true_margin.app.metrics import observe
from true_margin.app.problems import problem
from true_margin.core.outside_numbers import read_whole

LOG = logging.getLogger("true_margin.requests")
MOST_BODY = 64_000_000
"""Bytes of a body that is no upload: a table of 20 million signs, each written as three."""
MOST_UPLOAD = 110_000_000
"""Bytes of an upload, with room for what stands around the file."""
POLICY = (
    "default-src 'self'; script-src 'self'; style-src 'self' 'unsafe-inline'; "
    "img-src 'self' data: blob:; media-src 'self' blob:; font-src 'self'; connect-src 'self'; "
    "object-src 'none'; base-uri 'none'; form-action 'self'; frame-ancestors 'none'"
)
HEADERS = {
    "Content-Security-Policy": POLICY,
    "X-Content-Type-Options": "nosniff",
    "X-Frame-Options": "DENY",
    "Referrer-Policy": "same-origin",
    "Cross-Origin-Opener-Policy": "same-origin",
    "Cross-Origin-Resource-Policy": "same-origin",
    "Permissions-Policy": "camera=(), microphone=(), geolocation=(), payment=()",
}
STRICT = {"Strict-Transport-Security": "max-age=31536000"}
UNKEPT = {"Cache-Control": "no-store"}
"""Of answers of the API, which are about people's own things and change; pictures say otherwise."""
REQUEST_ID = "X-Request-Id"
_SECRET = re.compile(r"^(/p/|/overlay/|/invitation/)[^/]+")


class _TooLargeError(Exception):
    """More was sent than a request may hold."""


class Hardened:
    """Stands around the app; whatever an answer says of itself stays as it is."""

    def __init__(self, app: ASGIApp, *, strict: bool = False) -> None:
        """Stand around an app.

        Args:
            app: what is served.
            strict: whether browsers are told to come by TLS only from now on.
        """
        self._app = app
        self._headers = {**HEADERS, **(STRICT if strict else {})}

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            await self._app(scope, receive, send)
            return
        began, name = time.perf_counter(), uuid4().hex[:16]
        scope.setdefault("state", {})["request_id"] = name
        kept = UNKEPT if scope["path"].startswith("/api/") else {}
        answer = _Answer(send, name, {**self._headers, **kept})
        limited = _Limited(receive, _limit(Headers(scope=scope)))
        limited.answer = answer
        try:
            if limited.said_too_much(Headers(scope=scope)):
                raise _TooLargeError
            await self._app(scope, limited, answer)
        except _TooLargeError:
            limited.over = True
        finally:
            if limited.over and not answer.sent:
                words = "More was sent than can be taken in: 100 MB in a file, 64 MB otherwise."
                answer.refusing = False
                await problem("too-large", 413, words)(scope, receive, answer)
            took_s = time.perf_counter() - began
            observe(scope, answer.status, took_s)
            _log(scope, name, answer.status, took_s)


class _Answer:
    """Sends an answer with its headers; holds back what is said of a body that was cut off."""

    def __init__(self, send: Send, name: str, headers: Mapping[str, str]) -> None:
        self._send = send
        self._name = name
        self._headers = headers
        self.status = 500
        self.sent = False
        self.refusing = False

    async def __call__(self, message: Message) -> None:
        if self.refusing:
            return
        if message["type"] == "http.response.start":
            self.status, self.sent = message["status"], True
            headers = MutableHeaders(scope=message)
            for header, value in self._headers.items():
                headers.setdefault(header, value)
            headers[REQUEST_ID] = self._name
        await self._send(message)


class _Limited:
    """Counts what comes in; a body need not say how long it is."""

    def __init__(self, receive: Receive, most: int) -> None:
        self._receive = receive
        self._most = most
        self._taken = 0
        self.over = False
        self.answer: _Answer | None = None

    def said_too_much(self, headers: Headers) -> bool:
        """Whether the request says itself that it is too long."""
        said = headers.get("content-length", "0")
        length = read_whole(said)
        # What is no number of bytes at all, or one of ten digits, is none that can be taken in.
        return length is None or length > self._most

    async def __call__(self) -> Message:
        message = await self._receive()
        self._taken += len(message.get("body", b""))
        if self._taken > self._most:
            self.over = True
            # Whatever the app makes of a body that breaks off, this is what is said.
            if self.answer is not None:
                self.answer.refusing = True
            raise _TooLargeError
        return message


def _limit(headers: Headers) -> int:
    upload = headers.get("content-type", "").startswith("multipart/form-data")
    return MOST_UPLOAD if upload else MOST_BODY


def shown_path(path: str) -> str:
    """A path as it may stand in a log: the secret part of a link is left out.

    Example:
        >>> shown_path("/p/s3cret/1"), shown_path("/api/v1/shootouts")
        ('/p/…/1', '/api/v1/shootouts')
    """
    return _SECRET.sub(r"\1…", path)


def _log(scope: Scope, name: str, status: int, took_s: float) -> None:
    LOG.info(
        json.dumps(
            {
                "at": datetime.now(UTC).isoformat(timespec="milliseconds"),
                "request": name,
                "method": scope["method"],
                "path": shown_path(scope["path"]),
                "status": status,
                "ms": round(1000 * took_s, 1),
            },
            ensure_ascii=False,
        )
    )
