"""Errors as problem documents (RFC 9457); the one place where they are mapped."""

from __future__ import annotations

from typing import Any

from fastapi import FastAPI, Request
from fastapi.encoders import jsonable_encoder
from fastapi.exceptions import RequestValidationError
from fastapi.responses import JSONResponse
from starlette.exceptions import HTTPException

from true_margin.app.conflicts import told_of
from true_margin.app.invalid_words import say_invalid
from true_margin.desk.errors import (
    AmbiguousTimeError,
    DatabaseAwayError,
    DeskError,
    DiskFullError,
    FeedAwayError,
    NotAllowedError,
    NotFoundError,
    RefusedError,
    StaleError,
    TooManyError,
)

MEDIA_TYPE = "application/problem+json"
_TITLES = {
    "not-found": "There is nothing here",
    "stale": "Changed elsewhere",
    "ambiguous-time": "This time has two meanings",
    "refused": "Not saved",
    "invalid": "Check this field",
    "database-away": "The database is not answering",
    "disk-full": "The disk is full",
    "not-paired": "This device is not paired",
    "too-large": "File too large",
    "forbidden": "This is not allowed",
    "not-signed-in": "You are not signed in",
    "too-many": "Too many tries",
    "feed-away": "The price feed gives no offers",
}


def problem(kind: str, status: int, detail: str, **members: Any) -> JSONResponse:
    """Make a problem document; ``members`` are added as they are."""
    body = {
        "type": f"/problems/{kind}",
        "title": _TITLES.get(kind, "Something went wrong"),
        "status": status,
        "detail": detail,
        **members,
    }
    return JSONResponse(jsonable_encoder(body), status_code=status, media_type=MEDIA_TYPE)


def install_problems(app: FastAPI) -> None:
    """Turn every error that a route can meet into a problem document."""
    app.add_exception_handler(DeskError, _desk)
    app.add_exception_handler(RequestValidationError, _invalid)
    app.add_exception_handler(HTTPException, _http)


_PLAIN: tuple[tuple[type[DeskError], str, int], ...] = (
    (NotFoundError, "not-found", 404),
    (NotAllowedError, "forbidden", 403),
    (DiskFullError, "disk-full", 503),
    (DatabaseAwayError, "database-away", 503),
    (FeedAwayError, "feed-away", 503),
)
_OF_A_FIELD: tuple[tuple[type[RefusedError], str, int], ...] = (
    (TooManyError, "too-many", 429),
    (AmbiguousTimeError, "ambiguous-time", 422),
    (RefusedError, "refused", 422),
)


def _desk(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, DeskError)
    for known, kind, status in _PLAIN:
        if isinstance(error, known):
            return problem(kind, status, error.reason)
    if isinstance(error, StaleError):
        return problem("stale", 409, error.reason, current=told_of(error.current))
    for of_a_field, kind, status in _OF_A_FIELD:
        if isinstance(error, of_a_field):
            return problem(kind, status, error.reason, field=error.field, **error.extra)
    return problem("refused", 422, error.reason)


def _invalid(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, RequestValidationError)
    first = error.errors()[0]
    where = [str(part) for part in first["loc"] if part not in ("body", "query", "path")]
    field = ".".join(where) or "body"
    detail = say_invalid(where, first)
    listed = [
        {"where": ".".join(map(str, each["loc"])), "reason": each["msg"]}
        for each in error.errors()[:20]
    ]
    return problem("invalid", 422, detail, field=field, errors=listed)


def _http(_: Request, error: Exception) -> JSONResponse:
    assert isinstance(error, HTTPException)
    kind = "not-found" if error.status_code == 404 else "refused"
    return problem(kind, error.status_code, str(error.detail))
