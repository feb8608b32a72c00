"""Public pages as they were answered, kept ready: most readers ask for what others asked for.

A page is made and compressed once; who comes next is answered from memory, without the database.
Whatever can change it (an edition, a link, one that is revoked) empties the shelf of every
process before it is done, or as soon as the database tells of it.
"""

from __future__ import annotations

import gzip
import hashlib
import threading
import time
from collections import OrderedDict
from dataclasses import dataclass

from starlette.concurrency import run_in_threadpool
from starlette.datastructures import Headers, MutableHeaders
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from true_margin.app.reader import LONGEST
from true_margin.store.news import EVERYTHING, News
from true_margin.store.page_changes import PAGES, pages_changed

MOST_BYTES = 64_000_000
"""Bytes that are kept; what was not asked for longest goes first."""
KEPT_S = 600.0
"""After so long a page is made anew: an offer on it may have ended."""
LEAST = 1000
"""Bytes from which on an answer is compressed."""
LEVEL = 9
LONGEST_PATH = 300
_OK = 200
_PACKED = ("text/", "application/json", "application/atom+xml", "image/svg+xml", "font/ttf")

Key = tuple[str, str, str]


class Route:
    """What a page from the shelf is counted as (``route`` of a request)."""

    path = "/p/{token}/{path}"


@dataclass(frozen=True, slots=True)
class Kept:
    """An answer: its headers and its body, ready to be sent."""

    status: int
    headers: list[tuple[bytes, bytes]]
    tag: str
    body: bytes
    made: float


class PageShelf:
    """Stands before the routes, and answers public pages that it has answered before."""

    def __init__(self, app: ASGIApp, news: News) -> None:
        """Stand before an app.

        Args:
            app: what makes the pages.
            news: what tells of changes by other processes.
        """
        self._app = app
        self._news = news
        self._kept: OrderedDict[Key, Kept] = OrderedDict()
        self._bytes = 0
        self._lock = threading.Lock()
        self._heard = 0
        self._seen = -1
        news.subscribe(self._hear)

    def _hear(self, told: str) -> None:
        if told in (PAGES, EVERYTHING):
            self._heard += 1

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if not _is_page(scope) or not self._news.hears:
            await self._app(scope, receive, send)
            return
        headers = Headers(scope=scope)
        packed = "gzip" if "gzip" in headers.get("accept-encoding", "") else ""
        key = (scope["path"], headers.get("accept-language", "")[:LONGEST], packed)
        moment = self._moment()
        kept = self._find(key, moment)
        if kept is None:
            made = _Made()
            await self._app(_plain(scope), receive, made)
            kept = await run_in_threadpool(made.kept, packed)
            if made.status == _OK:
                self._keep(key, kept, moment)
        scope["route"] = Route
        await _answer(kept, scope["method"], headers.get("if-none-match"), send)

    def _moment(self) -> int:
        """Differs from every earlier one once anything that a page shows was changed."""
        return self._heard + pages_changed()

    def _find(self, key: Key, moment: int) -> Kept | None:
        with self._lock:
            if moment != self._seen:
                self._kept.clear()
                self._bytes, self._seen = 0, moment
            kept = self._kept.get(key)
            if kept is None:
                return None
            if time.monotonic() - kept.made > KEPT_S:
                del self._kept[key]
                self._bytes -= len(kept.body)
                return None
            self._kept.move_to_end(key)
            return kept

    def _keep(self, key: Key, kept: Kept, moment: int) -> None:
        if len(kept.body) > MOST_BYTES // 8:
            return
        with self._lock:
            # What was made while something changed belongs to the time before.
            if moment != self._seen or moment != self._moment():
                return
            before = self._kept.pop(key, None)
            self._bytes += len(kept.body) - (0 if before is None else len(before.body))
            self._kept[key] = kept
            while self._bytes > MOST_BYTES:
                _, gone = self._kept.popitem(last=False)
                self._bytes -= len(gone.body)


class _Made:
    """Takes in an answer instead of sending it."""

    def __init__(self) -> None:
        self.status = 500
        self._headers = MutableHeaders()
        self._parts: list[bytes] = []

    async def __call__(self, message: Message) -> None:
        if message["type"] == "http.response.start":
            self.status = message["status"]
            self._headers = MutableHeaders(raw=list(message["headers"]))
        else:
            self._parts.append(message.get("body", b""))

    def kept(self, packed: str) -> Kept:
        """The answer as it is sent: compressed where that is asked for and worth it."""
        body, headers = b"".join(self._parts), self._headers
        if self.status == _OK:
            tag = hashlib.sha256(body).hexdigest()[:32]
            if headers.get("content-type", "").startswith(_PACKED) and len(body) >= LEAST:
                headers.add_vary_header("Accept-Encoding")
                if packed:
                    # The same bytes for the same page: no time of making in it.
                    body, tag = gzip.compress(body, LEVEL, mtime=0), f"{tag}-gzip"
                    headers["Content-Encoding"] = packed
            headers["ETag"] = f'"{tag}"'
        headers["Content-Length"] = str(len(body))
        return Kept(self.status, headers.raw, headers.get("etag", ""), body, time.monotonic())


def _is_page(scope: Scope) -> bool:
    """Whether a request asks for a public page, and for nothing of its own."""
    return (
        scope["type"] == "http"
        and scope["method"] in ("GET", "HEAD")
        and scope["path"].startswith("/p/")
        and not scope["query_string"]
        and len(scope["path"]) <= LONGEST_PATH
    )


def _plain(scope: Scope) -> Scope:
    """The request as one for the whole page as it is, whoever asks."""
    left = (b"accept-encoding", b"if-none-match", b"range")
    headers = [(name, value) for name, value in scope["headers"] if name not in left]
    # The state stays the same one, for whoever looks at it afterwards.
    return {**scope, "method": "GET", "headers": headers}


async def _answer(kept: Kept, method: str, wanted: str | None, send: Send) -> None:
    """Send what is kept, or say that whoever asks has it already (RFC 9110, 13.1.2)."""
    status, headers, body = kept.status, kept.headers, kept.body
    if status == _OK and wanted is not None and _has(wanted, kept.tag):
        status, body = 304, b""
        headers = [each for each in headers if each[0] not in (b"content-length", b"content-type")]
    await send({"type": "http.response.start", "status": status, "headers": list(headers)})
    await send({"type": "http.response.body", "body": b"" if method == "HEAD" else body})


def _has(wanted: str, tag: str) -> bool:
    named = {each.strip().removeprefix("W/") for each in wanted.split(",")}
    return tag in named or "*" in named
