"""Results that others send in: the kit, the inbox, and what is decided about each."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from fastapi import Response

from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person
from true_margin.app.downloads import attachment
from true_margin.app.sent_requests import Decision, Erasure, NewSent
from true_margin.desk.sent import inbox, kits

router = stage_router("runs")
ZIP: dict[int | str, dict[str, Any]] = {
    201: {"content": {"application/zip": {}}, "description": "The kit"}
}


@router.post("/shootouts/{slug}/kit", status_code=201, response_class=Response, responses=ZIP)
def give_kit(slug: str, database: DatabaseHere, who: Person) -> Response:
    """Give what others need to run the tasks on their machines, and the form of their result."""
    content = kits.give_kit(database, slug, who)
    return Response(
        content,
        status_code=201,
        media_type="application/zip",
        headers=attachment(f"{slug}-kit.zip"),
    )


@router.get("/shootouts/{slug}/sent")
def show_inbox(slug: str, database: DatabaseHere) -> inbox.Inbox:
    """Show the results that others sent in, as text."""
    return inbox.show_inbox(database, slug)


@router.post("/shootouts/{slug}/sent", status_code=201)
def receive(slug: str, body: NewSent, database: DatabaseHere, who: Person) -> inbox.Inbox:
    """Take a result file; it counts nowhere until it is accepted."""
    return inbox.receive(database, slug, body.text, who)


@router.post("/sent/{sent_id}/decision")
def decide(sent_id: UUID, body: Decision, database: DatabaseHere, who: Person) -> inbox.Inbox:
    """Accept, decline or withdraw a result, with the reason."""
    return inbox.decide(database, sent_id, body.state, body.why, body.setup_id, who)


@router.post("/sent/{sent_id}/erasure")
def erase(sent_id: UUID, body: Erasure, database: DatabaseHere, who: Person) -> inbox.Inbox:
    """Erase what a result holds, as its sender wishes; that there was one stays on record."""
    return inbox.erase(database, sent_id, body.why, body.code, who)
