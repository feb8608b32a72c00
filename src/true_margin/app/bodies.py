"""Bodies of requests: looked at only once it is known who may send them, and how much.

FastAPI reads and parses a body before it asks for anything else. Here a route asks for its
right first; then the body is counted while it comes; and one that is large is parsed in a
process of its own, so that nobody waits for it.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Coroutine
from typing import Any

from fastapi import APIRouter, Request
from fastapi.concurrency import run_in_threadpool
from fastapi.params import Form
from fastapi.routing import APIRoute
from starlette.requests import ClientDisconnect
from starlette.responses import Response
from starlette.types import Message, Receive

from true_margin.app.problems import problem
from true_margin.app.rights import PREFIX, allowed
from true_margin.core.errors import CoreError
from true_margin.core.outside_numbers import read_whole
from true_margin.exchange.apart import BODY, ApartError, read_apart

MOST_BODY = 1_000_000
"""Bytes of a body that brings nothing in."""
MOST_IMPORT = 64_000_000
"""Bytes of a body that does: a table of 20 million signs, each written as three."""
IMPORTS = frozenset(
    {
        f"{PREFIX}/shootouts/{{slug}}/{each}"
        for each in (
            "imports",
            "imports/preview",
            "imports/undo",
            "bench/log",
            "sent",
            "specs",
            "specs/preview",
        )
    }
    | {f"{PREFIX}/notes", f"{PREFIX}/notes/preview"}
)
"""Routes whose body holds a whole table or file as text."""
_AT_ONCE = 64_000
"""Bytes that are parsed where they are: that takes less than a millisecond."""
MOST_VALUES = 300_000
"""Values that a body may hold, nested ones too: an answer for each row of the longest table."""


class _TooMuchError(Exception):
    """More was sent than this route takes."""


class JudgedRoute(APIRoute):
    """A route that judges who asks, and how much they send, before it reads what."""

    def get_route_handler(self) -> Callable[[Request], Coroutine[Any, Any, Response]]:
        """Give what answers a request."""
        answer = super().get_route_handler()
        most = MOST_IMPORT if self.path in IMPORTS else MOST_BODY
        field = self.body_field
        # A form is taken apart as it comes, with files on the disk: it has the limit of all.
        counted = field is not None and not isinstance(field.field_info, Form)

        async def judge(request: Request) -> Response:
            await allowed(request)
            if not counted:
                return await answer(request)
            body = _Body(request.scope, _counted(request, most))
            try:
                await body.body()
            except _TooMuchError:
                words = f"This takes {most // 1_000_000} MB at most. Nothing was stored."
                return problem("too-large", 413, words)
            except ClientDisconnect:
                # Nobody hears what is answered; it is no failure of ours.
                return Response(status_code=400)
            try:
                return await answer(body)
            except ApartError as error:
                return problem("refused", 422, error.reason, field="body")

        return judge


class _Body(Request):
    """A request whose body is parsed off the loop where it is large."""

    async def json(self) -> Any:
        if not hasattr(self, "_json"):
            content = await self.body()
            if len(content) <= _AT_ONCE:
                self._json = parse_json(content)
            else:
                self._json = await run_in_threadpool(_parse_apart, content)
        return self._json


def _counted(request: Request, most: int) -> Receive:
    """Receive a body up to a limit, whatever it says of its own length."""
    taken = 0
    said = read_whole(request.headers.get("content-length", "0"))

    async def receive() -> Message:
        nonlocal taken
        if said is not None and said > most:
            raise _TooMuchError
        message = await request.receive()
        taken += len(message.get("body", b""))
        if taken > most:
            raise _TooMuchError
        return message

    return receive


def parse_json(content: bytes) -> Any:
    """Parse JSON; whatever is wrong with it is an error of JSON.

    Raises:
        json.JSONDecodeError: it is none, nests deeper than can be read, or holds a number of
            thousands of digits.
    """
    try:
        return json.loads(content)
    except json.JSONDecodeError:
        raise
    except (ValueError, RecursionError) as error:
        raise json.JSONDecodeError(str(error), "", 0) from error


def _parse_apart(content: bytes) -> Any:
    try:
        return read_apart(BODY, parse_large, content)
    except ApartError:
        raise
    except CoreError as error:
        raise json.JSONDecodeError(error.reason, "", 0) from error


def parse_large(content: bytes) -> Any:
    """Parse a large body, in the process that reads what comes from outside.

    Raises:
        CoreError: it is no JSON, or holds more values than any form of this app.
    """
    try:
        parsed = parse_json(content)
    except json.JSONDecodeError as error:
        raise CoreError(f"the body is not JSON: {error}") from error
    if _too_many(parsed):
        raise CoreError(f"the body holds more than {MOST_VALUES} values")
    return parsed


def _too_many(parsed: object) -> bool:
    """Whether there are more values than may be, nested ones counted too."""
    waiting, count = [parsed], 0
    while waiting:
        value = waiting.pop()
        inner = list(value.values()) if isinstance(value, dict) else value
        if isinstance(inner, list):
            count += len(inner)
            if count > MOST_VALUES:
                return True
            waiting.extend(each for each in inner if isinstance(each, (dict, list)))
    return False


def stage_router(tag: str) -> APIRouter:
    """A router of the API, each of whose routes asks for its right before it reads anything."""
    return APIRouter(prefix=PREFIX, tags=[tag], route_class=JudgedRoute)
