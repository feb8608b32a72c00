"""Public pages at secret links: read by anybody, no script, nothing but a frozen edition."""

from __future__ import annotations

import hashlib

from fastapi import APIRouter, Request, Response
from starlette.responses import RedirectResponse

from true_margin.app.context import DatabaseHere
from true_margin.desk.errors import NotFoundError
from true_margin.desk.publish import public_page
from true_margin.publish.lettering import FONTS
from true_margin.publish.pages import render

router = APIRouter(prefix="/p", tags=["public"])
FACES = frozenset(f"{face}.ttf" for face in ("head", "text", "strong", "figure"))
ONE_YEAR_S = 31_536_000
MOST_FIELDS = 200
SAFE = {
    "Content-Security-Policy": (
        "default-src 'none'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; "
        "font-src 'self' data:; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Robots-Tag": "noindex, nofollow",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
}
# A page may be kept anywhere but is asked for again each time: a correction shows and a revoked
# link goes dark at once. Files of an edition never change.
ASKED = "public, no-cache"
KEPT = "public, max-age=60"


def _answer(request: Request, content: bytes, media_type: str, kept: str) -> Response:
    tag = f'"{hashlib.sha256(content).hexdigest()[:32]}"'
    headers = {**SAFE, "Cache-Control": kept, "ETag": tag, "Vary": "Accept-Language"}
    if request.headers.get("if-none-match") == tag:
        return Response(status_code=304, headers=headers)
    return Response(content, media_type=media_type, headers=headers)


def _nothing() -> Response:
    headers = {**SAFE, "Cache-Control": "no-store"}
    return Response(render("nothing.html"), 404, headers, "text/html; charset=utf-8")


def _without_slash(request: Request) -> Response:
    """Where an address with a slash at its end leads: links are pasted and typed with one."""
    path = request.url.path.rstrip("/")
    asked = f"?{request.url.query}" if request.url.query else ""
    return RedirectResponse(f"{path}{asked}", 308, {**SAFE, "Cache-Control": "no-store"})


def _page(request: Request, database: DatabaseHere, token: str, number: int | None) -> Response:
    asked = {k: v[:100] for k, v in list(request.query_params.items())[:MOST_FIELDS]}
    try:
        html = public_page.public_page(database, token, number, asked)
    except NotFoundError:
        return _nothing()
    return _answer(request, html.encode(), "text/html; charset=utf-8", ASKED)


@router.get("/fonts/{face}", include_in_schema=False)
def font(face: str) -> Response:
    """A shipped font."""
    if face not in FACES:
        return _nothing()
    headers = {**SAFE, "Cache-Control": f"public, max-age={ONE_YEAR_S}, immutable"}
    return Response((FONTS / face).read_bytes(), media_type="font/ttf", headers=headers)


@router.get("/{token}", include_in_schema=False)
def newest(token: str, request: Request, database: DatabaseHere) -> Response:
    """The newest edition."""
    return _page(request, database, token, None)


@router.get("/{token}/{number}", include_in_schema=False)
def one(token: str, number: str, request: Request, database: DatabaseHere) -> Response:
    """One edition by its number."""
    if not number.isascii() or not number.isdigit() or len(number) > 9:
        return _nothing()
    return _page(request, database, token, int(number))


@router.get("/{token}/{number}/files/{name}", include_in_schema=False)
def file(token: str, number: str, name: str, request: Request, database: DatabaseHere) -> Response:
    """A file of an edition."""
    if not number.isascii() or not number.isdigit() or len(number) > 9:
        return _nothing()
    try:
        found = public_page.public_file(database, token, int(number), name)
    except NotFoundError:
        return _nothing()
    return _answer(request, found.content, found.media_type, KEPT)


@router.get("/{token}/{number}/{path:path}", include_in_schema=False)
def page(token: str, number: str, path: str, request: Request, database: DatabaseHere) -> Response:
    """A page of an edition, or a file that its pages share."""
    if path.endswith("/") or not path:
        return _without_slash(request)
    if not number.isascii() or not number.isdigit() or len(number) > 9 or len(path) > 200:
        return _nothing()
    try:
        found = public_page.site_file(database, token, int(number), path)
    except NotFoundError:
        return _nothing()
    return _answer(request, found.content, found.media_type, KEPT)


@router.get("/{rest:path}", include_in_schema=False)
def nothing(rest: str, request: Request) -> Response:
    """Everything else: never the app's own pages."""
    if rest.endswith("/") and rest.strip("/"):
        return _without_slash(request)
    return _nothing()
