"""Plain forms of pages without script, and cookies, read with limits."""

from __future__ import annotations

from http.cookies import CookieError, SimpleCookie
from urllib.parse import parse_qs

from starlette.requests import Request

MOST_FORM_BYTES = 4000
MOST_TOKEN_SIGNS = 200


async def read_form(request: Request) -> dict[str, str]:
    """Read a form that was sent as such; one that is too long is empty."""
    body = await read_small_body(request, MOST_FORM_BYTES)
    fields = parse_qs(body.decode("utf-8", errors="replace"))
    # A zero byte cannot be kept as text.
    return {name: values[0].replace("\x00", "") for name, values in fields.items()}


async def read_small_body(request: Request, most_bytes: int) -> bytes:
    """Read a body; one that is too long is empty, and the rest of it is not waited for."""
    body = b""
    async for part in request.stream():
        body += part
        if len(body) > most_bytes:
            return b""
    return body


def browser_of(request: Request) -> str:
    """What a browser says of itself."""
    # A zero byte cannot be kept as text.
    return request.headers.get("user-agent", "").replace("\x00", "")


def read_cookie(request: Request, name: str) -> str | None:
    """Read a token from a cookie; None where there is none."""
    cookie: SimpleCookie = SimpleCookie()
    try:
        cookie.load(request.headers.get("cookie", ""))
    except CookieError:
        return None
    found = cookie.get(name)
    return None if found is None or len(found.value) > MOST_TOKEN_SIGNS else str(found.value)


def read_bearer(request: Request) -> str | None:
    """Read a token that a program sends in the header for it."""
    kind, _, token = request.headers.get("authorization", "").partition(" ")
    if kind.casefold() != "bearer" or len(token) > MOST_TOKEN_SIGNS:
        return None
    return token.strip() or None
