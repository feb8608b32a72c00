"""The gate: what other devices are served, beyond loopback. Without pairing: nothing.

It stands before the same app. A paired device may read its own shootout and work on that
bench; public pages are read by anybody who has their link; everything else is refused here,
in one place.
"""

from __future__ import annotations

import re
import time
from uuid import UUID

from fastapi.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response
from starlette.types import ASGIApp, Message, Receive, Scope, Send

from true_margin.app.forms import read_bearer, read_cookie, read_form
from true_margin.app.pair_page import pair_page
from true_margin.app.problems import problem
from true_margin.app.tries import Tries
from true_margin.desk.access import pairing
from true_margin.desk.access.pairing import KnownDevice
from true_margin.desk.errors import DeskError
from true_margin.store.database import Database

COOKIE = "tm_device"
COOKIE_LIVES_S = 30 * 24 * 3600
MOST_WRONG = 10
WRONG_WITHIN_S = 60.0
LOOK_AGAIN_S = 5.0

_OWN = "/api/v1/shootouts/{slug}"
_READ = re.compile(
    r"^(?:/|/assets/[\w.-]+|/[\w-]+\.(?:js|svg|ico|png|webmanifest)|/s/(?P<page>[^/]+)(?:/.*)?"
    r"|/api/v1/(?:clock|health|ready|me)|/api/v1/shootouts/(?P<slug>[^/]+)(?:/.*)?"
    r"|/api/v1/runs/(?P<run>[^/]+))$"
)
_WRITE = re.compile(
    r"^(?:/api/v1/shootouts/(?P<slug>[^/]+)/(?:bench/events|bench/pace|runs|entry)"
    r"|/api/v1/runs/(?P<run>[^/]+)(?:/marks)?)$"
)

_DESK_ONLY = re.compile(r"^/api/v1/shootouts/[^/]+/(?:devices|pack|public|reports)")


class Gate:
    """Lets paired devices through to their own bench."""

    def __init__(self, app: ASGIApp, database: Database, *, owned: bool = False) -> None:
        """Stand before an app.

        Args:
            app: what is served.
            database: where paired devices are kept.
            owned: True where there are accounts; then each device is somebody's.
        """
        self._app = app
        self._owned = owned
        self._database = database
        self._tries = Tries(MOST_WRONG, WRONG_WITHIN_S)

    async def __call__(self, scope: Scope, receive: Receive, send: Send) -> None:
        """Serve one request."""
        if scope["type"] != "http":
            return
        request = Request(scope, receive)
        scope.setdefault("state", {})["by_gate"] = True
        if scope["path"].startswith(("/p/", "/overlay/")) and request.method in ("GET", "HEAD"):
            # Public pages are for strangers; their secret link is all that they need.
            await self._app(scope, receive, send)
            return
        if scope["path"] == "/pair":
            answer = await self._pair(request)
            await answer(scope, receive, send)
            return
        device = await self._device(request)
        if device is None:
            await _unpaired(request)(scope, receive, send)
            return
        refusal = await run_in_threadpool(
            self._refusal, request.method, request.scope["path"], device
        )
        if refusal is not None:
            await refusal(scope, receive, send)
            return
        scope["state"]["who"] = device.who
        await self._app(scope, receive, self._while_paired(request, send))

    async def _device(self, request: Request) -> KnownDevice | None:
        token = device_token(request)
        if token is None:
            return None
        return await run_in_threadpool(pairing.device_of, self._database, token, owned=self._owned)

    def _refusal(self, method: str, path: str, device: KnownDevice) -> Response | None:
        """None where the device may do this."""
        reads = method in ("GET", "HEAD")
        found = (_READ if reads else _WRITE).match(path)
        named = found.groupdict() if found else {}
        own = found is not None and all(
            named.get(part) in (None, device.slug) for part in ("slug", "page")
        )
        if own and reads and _DESK_ONLY.match(path):
            own = False
        if own and named.get("run") is not None:
            own = method in ("GET", "HEAD", "PATCH", "POST") and self._owns(
                device.slug, str(named["run"])
            )
        if own and (reads or method == "POST" or (method == "PATCH" and named.get("run"))):
            return None
        return problem(
            "forbidden", 403, f"This device is paired for one bench only: that of {device.slug}."
        )

    def _owns(self, slug: str, run: str) -> bool:
        try:
            return pairing.owns_run(self._database, slug, UUID(run))
        except (ValueError, DeskError):
            return False

    async def _pair(self, request: Request) -> Response:
        code = request.query_params.get("code", "")[:20]
        if request.method == "GET":
            return HTMLResponse(pair_page(pairing.tidy_code(code)), headers=_HEADERS)
        if request.method != "POST":
            return problem("method-not-allowed", 405, "Open this page and type the code.")
        address = request.client.host if request.client else ""
        if not self._tries.begin(address):
            text = "Too many wrong codes. Wait a minute, then ask the desk for a new one."
            return HTMLResponse(pair_page("", text), 429, _HEADERS)
        form = await read_form(request)
        try:
            paired = await run_in_threadpool(
                pairing.pair, self._database, form.get("code", ""), form.get("name", "")
            )
        except DeskError as error:
            return HTMLResponse(pair_page("", error.reason), 422, _HEADERS)
        self._tries.worked(address)
        answer = RedirectResponse(f"/s/{paired.slug}/bench", 303)
        answer.set_cookie(
            COOKIE,
            paired.token,
            max_age=COOKIE_LIVES_S,
            httponly=True,
            secure=True,
            samesite="strict",
        )
        return answer

    def _while_paired(self, request: Request, send: Send) -> Send:
        """A stream that is open ends soon after its device was revoked."""
        looked = time.monotonic()

        async def passed_on(message: Message) -> None:
            nonlocal looked
            if time.monotonic() - looked > LOOK_AGAIN_S:
                looked = time.monotonic()
                if await self._device(request) is None:
                    raise ConnectionAbortedError("the device was revoked")
            await send(message)

        return passed_on


_HEADERS = {
    "Cache-Control": "no-store",
    "Content-Security-Policy": "default-src 'none'; style-src 'unsafe-inline'; form-action 'self'",
    "Referrer-Policy": "no-referrer",
}


def _unpaired(request: Request) -> Response:
    """A browser is shown where to pair; everything else is refused."""
    if request.method == "GET" and not request.scope["path"].startswith("/api/"):
        return RedirectResponse("/pair", 303)
    return problem("not-paired", 401, "This device is not paired. Open /pair and type the code.")


def device_token(request: Request) -> str | None:
    """The token of a paired device: a browser's cookie, or the header that a program sends."""
    return read_cookie(request, COOKIE) or read_bearer(request)
