"""Signing in, signing out, using an invitation or a recovery code: forms without script."""

from __future__ import annotations

from pathlib import Path

from anyio import CapacityLimiter, to_thread
from fastapi.concurrency import run_in_threadpool
from starlette.requests import Request
from starlette.responses import HTMLResponse, RedirectResponse, Response

from true_margin.app.access import Access
from true_margin.app.auth_html import (
    HEADERS,
    faces_of,
    gone_page,
    invitation_page,
    join_page,
    recovery_page,
    sign_in_page,
)
from true_margin.app.auth_passkeys import BEGIN_PATH, PATH, PasskeyAuth
from true_margin.app.forms import browser_of, read_cookie, read_form
from true_margin.app.problems import problem
from true_margin.app.tries import network_of
from true_margin.desk.access import people, recovery, sign_in
from true_margin.desk.access.rights import LOCAL_NAME, Who
from true_margin.desk.errors import DeskError, NotFoundError, RefusedError, TooManyError
from true_margin.store.database import Database
from true_margin.store.invitations import Invitation

SIGN_IN_THREADS = 4
KNOWN_S = 365 * 24 * 3600
AUTH_PATHS = ("/sign-in", "/sign-out", "/invitation/")


class AuthPages:
    """The pages by which people come in and leave."""

    def __init__(self, database: Database, access: Access, web: Path | None = None) -> None:
        """Open them.

        Args:
            database: where accounts are kept.
            access: how people get in.
            web: folder of the built pages, whose fonts these are set in.
        """
        self._faces = faces_of(web)
        self._database = database
        self._access = access
        self._limiter = CapacityLimiter(SIGN_IN_THREADS)
        self._passkeys = PasskeyAuth(database, access, self._set_cookies)

    async def answer(self, request: Request, who: Who | None) -> Response:
        """Answer a request for one of the doors."""
        path = request.scope["path"]
        if request.method not in ("GET", "HEAD", "POST"):
            return problem("refused", 405, "This page is read, or its form is sent.")
        if path == "/sign-out":
            return await self._sign_out(request, who)
        if path in (PATH, BEGIN_PATH):
            return await self._passkeys.answer(request)
        if path == "/sign-in/recovery":
            return await self._recover(request)
        if path.startswith("/sign-in"):
            return await self._sign_in(request)
        return await self._invitation(request, path.removeprefix("/invitation/"), who)

    def _show(self, page: str, status: int = 200) -> Response:
        return HTMLResponse(page.replace("<style>", f"<style>{self._faces}", 1), status, HEADERS)

    async def _sign_in(self, request: Request) -> Response:
        if request.method != "POST":
            then = within(request.query_params.get("next", "/"))
            return self._show(self._sign_in_page(request, then))
        form = await read_form(request)
        then, email = within(form.get("next", "/")), form.get("email", "")
        try:
            found = await self._try(request, email, form.get("password", ""))
        except TooManyError as error:
            return self._show(self._sign_in_page(request, then, email, error.reason), 429)
        except RefusedError as error:
            return self._show(self._sign_in_page(request, then, email, error.reason), 422)
        return self._let_in(found, then)

    def _sign_in_page(self, request: Request, then: str, email: str = "", error: str = "") -> str:
        offered = self._access.site(request.headers.get("host", "")) is not None
        return sign_in_page(then, email, error, passkeys=offered)

    async def _recover(self, request: Request) -> Response:
        if request.method != "POST":
            return self._show(recovery_page())
        form = await read_form(request)
        email, code = form.get("email", ""), form.get("code", "")
        try:
            found = await to_thread.run_sync(
                recovery.recover,
                self._database,
                email,
                code,
                form.get("password", ""),
                *self._asker(request),
                limiter=self._limiter,
            )
        except TooManyError as error:
            return self._show(recovery_page(email, code, error.reason), 429)
        except RefusedError as error:
            return self._show(recovery_page(email, code, error.reason), 422)
        return self._let_in(found, "/")

    def _asker(self, request: Request) -> tuple[str, str, str | None]:
        """The browser, the address, and the token of a browser that signed in before."""
        address = network_of(request.client.host if request.client else "")
        return browser_of(request), address, read_cookie(request, self._access.known_cookie)

    async def _try(self, request: Request, email: str, password: str) -> sign_in.SignedInNow:
        # In threads of their own: whoever waits for a hash takes none from the others.
        return await to_thread.run_sync(
            sign_in.sign_in,
            self._database,
            email,
            password,
            *self._asker(request),
            limiter=self._limiter,
        )

    def _let_in(self, found: sign_in.SignedInNow, then: str) -> Response:
        return self._set_cookies(found, RedirectResponse(then, 303))

    def _set_cookies(self, found: sign_in.SignedInNow, answer: Response) -> Response:
        kept = [(self._access.cookie, found.token, int(sign_in.LONGEST.total_seconds()))]
        if found.known is not None:
            kept.append((self._access.known_cookie, found.known, KNOWN_S))
        for name, token, lives_s in kept:
            answer.set_cookie(
                name,
                token,
                max_age=lives_s,
                path="/",
                httponly=True,
                secure=self._access.secure,
                samesite="lax",
            )
        return answer

    async def _sign_out(self, request: Request, who: Who | None) -> Response:
        if request.method != "POST":
            return RedirectResponse("/", 303)
        if who is not None:
            await run_in_threadpool(sign_in.sign_out, self._database, who)
        answer = RedirectResponse("/sign-in", 303)
        # What this browser kept of the app goes too, lanes that wait for the server excepted.
        answer.headers["Clear-Site-Data"] = '"cache"'
        answer.delete_cookie(
            self._access.cookie, path="/", secure=self._access.secure, httponly=True, samesite="lax"
        )
        return answer

    async def _invitation(self, request: Request, token: str, who: Who | None) -> Response:
        try:
            found = await run_in_threadpool(people.find_invitation, self._database, token[:200])
        except NotFoundError as error:
            return self._show(gone_page(error.reason), 404)
        new, words = found.person_id is None, _words(found)
        if who is not None and new:
            return await self._join(request, token, words, who)
        if request.method != "POST":
            page = invitation_page(token, words, new=new, email=_address(found.note))
            return self._show(page)
        form = await read_form(request)
        name, email, password = (form.get(field, "") for field in ("name", "email", "password"))
        try:
            account = await run_in_threadpool(
                people.accept, self._database, token[:200], email, name, password
            )
        except NotFoundError as error:
            return self._show(gone_page(error.reason), 404)
        except DeskError as error:
            page = invitation_page(
                token, words, new=new, name=name, email=email, error=error.reason
            )
            return self._show(page, 422)
        if account.ended_at is not None:
            return self._show(gone_page("This account has ended."), 404)
        return self._let_in(await self._try(request, account.email, password), "/")

    async def _join(self, request: Request, token: str, words: str, who: Who) -> Response:
        if request.method != "POST":
            return self._show(join_page(token, words, who.name))
        try:
            await run_in_threadpool(people.join, self._database, token[:200], who)
        except NotFoundError as error:
            return self._show(gone_page(error.reason), 404)
        return RedirectResponse("/", 303)


def _words(invitation: Invitation) -> str:
    if invitation.person_id is not None:
        return "After this you are signed out everywhere else."
    what = {"owner": "You will own", "editor": "You will work on", "reader": "You will read"}[
        invitation.role or "reader"
    ]
    where = "every shootout here" if invitation.shootout_id is None else "one shootout"
    by = "" if invitation.made_by == LOCAL_NAME else f"{invitation.made_by} invites you. "
    return f"{by}{what} {where}."


def _address(note: str | None) -> str:
    return note if note and "@" in note else ""


def within(path: str) -> str:
    """A place within the app; anything else leads to its first page.

    Example:
        >>> within("/s/festival/bench"), within("//elsewhere.example/x"), within("/\\\\x")
        ('/s/festival/bench', '/', '/')
    """
    plain = path.isprintable() and "\\" not in path
    return path if plain and path.startswith("/") and not path.startswith("//") else "/"
