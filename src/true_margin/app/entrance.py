"""The entrance: who is asking, found out in one place before anything of a request is read.

Without accounts everybody who reaches the app on this machine is let in, but no page of
another site and nobody who comes by a proxy. With accounts people sign in, paired devices
work on their bench, and strangers read public pages; everybody else is shown the door.
"""

from __future__ import annotations

import time
from pathlib import Path
from urllib.parse import quote, urlsplit

from fastapi.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from true_margin.app.access import Access
from true_margin.app.auth_pages import AUTH_PATHS, AuthPages
from true_margin.app.forms import read_cookie
from true_margin.app.gate import LOOK_AGAIN_S, Gate, device_token
from true_margin.app.problems import problem
from true_margin.desk.access import sign_in
from true_margin.desk.access.rights import LOCAL, Who
from true_margin.desk.errors import DatabaseAwayError
from true_margin.store.database import Database
from true_margin.store.news import News

SAFE = ("GET", "HEAD", "OPTIONS")
FOR_ALL = ("/assets/", "/p/", "/overlay/", "/api/v1/health", "/api/v1/ready", "/metrics")
"""Files of the interface, pages at secret links, whether the app is well."""
FOR_ALL_FILES = (".js", ".svg", ".ico", ".png", ".webmanifest")
_BY_PROXY = ("x-forwarded-for", "x-forwarded-host", "x-real-ip", "forwarded")


class Entrance:
    """Stands before the routes; leaves who is asking in the request's state."""

    def __init__(
        self, app: ASGIApp, database: Database, access: Access, news: News, web: Path | None
    ) -> None:
        """Stand before an app.

        Args:
            app: what is served.
            database: where accounts and devices are kept.
            access: how people get in.
            news: what tells of changes of people.
            web: folder of the built pages.
        """
        self._news = news
        news.subscribe(sign_in.forget)
        self._app = app
        self._database = database
        self._access = access
        self._auth_pages = AuthPages(database, access, web)
        self._gate = Gate(app, database, owned=True)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            if scope["type"] == "lifespan":
                await self._app(scope, receive, send)
            return
        request = Request(scope, receive)
        state = scope.setdefault("state", {})
        refusal = self._refused(request)
        if refusal is not None:
            await refusal(scope, receive, send)
        elif "by_gate" in state:
            # The listener for paired devices has found out already who is asking.
            await self._app(scope, receive, send)
        elif not self._access.sign_in:
            state["who"] = LOCAL
            await self._app(scope, receive, send)
        else:
            try:
                await self._signed_in(request, scope, receive, send)
            except DatabaseAwayError as error:
                await problem("database-away", 503, error.reason)(scope, receive, send)

    async def _signed_in(
        self, request: Request, scope: Scope, receive: Receive, send: Send
    ) -> None:
        path = scope["path"]
        who = await self._who(request)
        if path.startswith(AUTH_PATHS):
            await (await self._auth_pages.answer(request, who))(scope, receive, send)
        elif who is not None:
            scope["state"]["who"] = who
            passed_on = self._while_signed_in(request, send)
            await self._app(scope, receive, passed_on)
        elif _for_all(request):
            await self._app(scope, receive, send)
        elif path == "/pair" or device_token(request) is not None:
            await self._gate(scope, receive, send)
        else:
            await _to_the_door(request)(scope, receive, send)

    async def _who(self, request: Request) -> Who | None:
        token = read_cookie(request, self._access.cookie)
        if token is None:
            return None
        known = sign_in.who_was(self._database, token, hears=self._news.hears)
        return known or await run_in_threadpool(sign_in.who_is, self._database, token)

    def _while_signed_in(self, request: Request, send: Send) -> Send:
        """A stream that is open ends soon after its person was signed out."""
        looked = time.monotonic()

        async def passed_on(message: Message) -> None:
            nonlocal looked
            if time.monotonic() - looked > LOOK_AGAIN_S:
                looked = time.monotonic()
                if await self._who(request) is None:
                    raise ConnectionAbortedError("the person was signed out")
            await send(message)

        return passed_on

    def _refused(self, request: Request) -> Response | None:
        """Refuse what no page of this app would send."""
        # The listener for paired devices has names of its own.
        names = None if "by_gate" in request.scope["state"] else self._access.names
        if names is not None and _name(request.headers.get("host", "")) not in names:
            return problem(
                "forbidden", 403, f"This app answers to {', '.join(sorted(names))} only."
            )
        if (
            names is not None
            and not self._access.sign_in
            and any(header in request.headers for header in _BY_PROXY)
        ):
            words = "This came by a proxy, and no sign-in is set up: see docs/operations.md."
            return problem("forbidden", 403, words)
        if request.method not in SAFE and self._from_elsewhere(request):
            return problem("forbidden", 403, "This was sent by a page of another site.")
        return None

    def _from_elsewhere(self, request: Request) -> bool:
        """Whether a browser says that a page of another site sent this."""
        site = request.headers.get("sec-fetch-site")
        if site is not None:
            return site not in ("same-origin", "none")
        origin = request.headers.get("origin")
        if origin is None:
            return False
        there = urlsplit(origin).netloc
        ours = urlsplit(self._access.address or "").netloc
        return there not in {request.headers.get("host", ""), ours} - {""}


def _for_all(request: Request) -> bool:
    path = str(request.scope["path"])
    if request.method not in ("GET", "HEAD"):
        return False
    return path.startswith(FOR_ALL) or (path.count("/") == 1 and path.endswith(FOR_ALL_FILES))


def _to_the_door(request: Request) -> Response:
    """A browser is shown where to sign in; everything else is refused."""
    path = request.scope["path"]
    if request.method in ("GET", "HEAD") and not path.startswith("/api/"):
        query = request.scope["query_string"].decode("latin-1")
        whole = path + (f"?{query}" if query else "")
        then = "" if whole == "/" else f"?next={quote(whole, safe='')}"
        return RedirectResponse(f"/sign-in{then}", 303)
    return problem("not-signed-in", 401, "Sign in first: nothing was stored.")


def _name(host: str) -> str:
    """The name in a Host header, without its port."""
    if host.startswith("["):
        return host.partition("]")[0] + "]"
    return host.partition(":")[0].casefold()
