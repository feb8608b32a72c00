"""Signing in by a passkey: two calls of the sign-in page's script, before anybody is known."""

from __future__ import annotations

import json
from collections.abc import Callable
from typing import Any

from fastapi.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import JSONResponse, Response

from true_margin.app.access import Access
from true_margin.app.forms import browser_of, read_cookie, read_small_body
from true_margin.app.problems import problem
from true_margin.app.tries import Tries, network_of
from true_margin.desk.access import passkeys
from true_margin.desk.access.passkeys import Site
from true_margin.desk.access.sign_in import SignedInNow
from true_margin.desk.errors import RefusedError
from true_margin.store.database import Database

PATH, BEGIN_PATH = "/sign-in/passkey", "/sign-in/passkey/begin"
MOST_ASKED, ASKED_WITHIN_S = 30, 60.0
"""Each begins with a row in the database: so many from one address in so long."""
MOST_CREDENTIAL_BYTES = 16_000


class PasskeyAuth:
    """Answers the sign-in page's script."""

    def __init__(
        self,
        database: Database,
        access: Access,
        let_in: Callable[[SignedInNow, Response], Response],
    ) -> None:
        """Answer.

        Args:
            database: where accounts are kept.
            access: how people get in.
            let_in: gives an answer the cookies of somebody who signed in.
        """
        self._database = database
        self._access = access
        self._let_in = let_in
        self._asked = Tries(MOST_ASKED, ASKED_WITHIN_S)

    async def answer(self, request: Request) -> Response:
        """Answer one of the two calls."""
        if request.method != "POST":
            return problem("method-not-allowed", 405, "The sign-in page's script calls this.")
        site = self._access.site(request.headers.get("host", ""))
        if site is None:
            text = "Passkeys need a name and TLS: this address has none. Sign in by your password."
            return problem("refused", 422, text)
        address = network_of(request.client.host if request.client else "")
        if request.scope["path"] == BEGIN_PATH:
            if not self._asked.begin(address):
                text = "Too many tries from your network. Wait a minute."
                return problem("too-many", 429, text)
            options = await run_in_threadpool(passkeys.begin_sign_in, self._database, site)
            return JSONResponse(options, headers={"Cache-Control": "no-store"})
        credential = _credential(await read_small_body(request, MOST_CREDENTIAL_BYTES))
        try:
            found = await self._sign_in(request, site, credential, address)
        except RefusedError as error:
            return problem("refused", 422, error.reason)
        return self._let_in(found, JSONResponse({}, headers={"Cache-Control": "no-store"}))

    async def _sign_in(
        self, request: Request, site: Site, credential: dict[str, Any], address: str
    ) -> SignedInNow:
        return await run_in_threadpool(
            passkeys.sign_in_by_passkey,
            self._database,
            site,
            credential,
            browser_of(request),
            address,
            read_cookie(request, self._access.known_cookie),
        )


def _credential(body: bytes) -> dict[str, Any]:
    """What a browser sent; what is none is empty, and refused like one that is not known."""
    try:
        read = json.loads(body)
    except (ValueError, RecursionError):
        return {}
    return read if isinstance(read, dict) else {}
