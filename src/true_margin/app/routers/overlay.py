"""The race of a bench at a secret link: a page for capture programs, on a clear background."""

from __future__ import annotations

from typing import Annotated

from fastapi import APIRouter, Query, Response
from pydantic import TypeAdapter

from true_margin.app.context import DatabaseHere
from true_margin.desk.bench import overlay
from true_margin.desk.errors import NotFoundError
from true_margin.publish.looks import LOOKS, LookName
from true_margin.publish.pages import TEMPLATES, font_faces, render

router = APIRouter(prefix="/overlay", tags=["public"])
SAFE = {
    "Content-Security-Policy": (
        "default-src 'none'; script-src 'self'; style-src 'unsafe-inline'; connect-src 'self'; "
        "font-src 'self' data:; form-action 'none'; base-uri 'none'; frame-ancestors 'none'"
    ),
    "X-Robots-Tag": "noindex, nofollow",
    "Referrer-Policy": "no-referrer",
    "X-Content-Type-Options": "nosniff",
    "Cache-Control": "no-store",
}
SMALLEST, LARGEST = 12, 96
MOST_LANES = 12
_RACE = TypeAdapter(overlay.RunningRace)


@router.get("/race.js", include_in_schema=False)
def script() -> Response:
    """What draws the race."""
    return Response((TEMPLATES / "race.js").read_bytes(), 200, SAFE, "text/javascript")


@router.get("/{token}", include_in_schema=False)
def page(
    token: str,
    database: DatabaseHere,
    look: LookName = LookName.CLEAR,
    size: Annotated[int, Query(ge=SMALLEST, le=LARGEST)] = 32,
    most: Annotated[int, Query(ge=1, le=MOST_LANES)] = MOST_LANES,
) -> Response:
    """The page; its look, the size of its letters and how many lanes by address."""
    try:
        overlay.race_now(database, token)
    except NotFoundError:
        return Response(render("nothing.html"), 404, SAFE, "text/html; charset=utf-8")
    html = render(
        "race.html",
        look=look.value,
        size=size,
        most=most,
        source=f"/overlay/{token}/race.json",
        looks={name.value: LOOKS[name] for name in LookName},
        fonts=font_faces("/p/fonts"),
    )
    return Response(html, 200, SAFE, "text/html; charset=utf-8")


@router.get("/{token}/race.json", include_in_schema=False)
def race(token: str, database: DatabaseHere) -> Response:
    """The race as it stands."""
    try:
        now = overlay.race_now(database, token)
    except NotFoundError:
        return Response(b"{}", 404, SAFE, "application/json")
    return Response(_RACE.dump_json(now), 200, SAFE, "application/json")
