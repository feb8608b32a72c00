"""Picks: viewers, the machine for each, what-ifs, and what would change the answer."""

from __future__ import annotations

from uuid import UUID

from true_margin.app.answers.lineup import Machine
from true_margin.app.answers.picks import Viewer, ViewerCard
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere
from true_margin.app.pick_requests import (
    KeptPrices,
    NewViewer,
    ViewerChange,
    ViewerOrder,
    ViewerRetirement,
    WhatIf,
)
from true_margin.desk.picks import picks, viewers
from true_margin.desk.picks import turns as pick_turns
from true_margin.store import records
from true_margin.store.records.viewers import Viewer as ViewerRecord

router = stage_router("picks")


@router.get("/shootouts/{slug}/picks", response_model=list[ViewerCard])
def list_cards(slug: str, database: DatabaseHere) -> list[viewers.ViewerCard]:
    """List the viewers, each with its pick in short; retired ones last."""
    return list(viewers.list_cards(database, slug))


@router.post("/shootouts/{slug}/viewers", status_code=201, response_model=Viewer)
def add_viewer(slug: str, body: NewViewer, database: DatabaseHere) -> ViewerRecord:
    """Add a viewer, new or like another."""
    asked = body.model_dump(exclude_unset=True)
    return viewers.add_viewer(database, slug, asked, asked.pop("copy_from", None))


@router.put("/shootouts/{slug}/viewers/order", status_code=204)
def order_viewers(slug: str, body: ViewerOrder, database: DatabaseHere) -> None:
    """Put the viewers in this order."""
    viewers.order_viewers(database, slug, body.viewer_ids)


@router.post("/shootouts/{slug}/picks/try")
def try_viewer(slug: str, body: WhatIf, database: DatabaseHere) -> picks.PickView:
    """Pick for a viewer and at prices that need not be stored; stores nothing."""
    return viewers.try_viewer(database, slug, body.viewer.model_dump(), body.prices)


@router.post("/shootouts/{slug}/picks/turns")
def show_turns(slug: str, body: WhatIf, database: DatabaseHere) -> list[pick_turns.LeverView]:
    """Say which values would change the pick; stores nothing."""
    return list(pick_turns.show_turns(database, slug, body.viewer.model_dump(), body.prices))


@router.get("/shootouts/{slug}/picks/{viewer_id}")
def show_viewer(slug: str, viewer_id: UUID, database: DatabaseHere) -> picks.PickView:
    """Show the pick of a viewer with the whole field behind it."""
    return viewers.show_viewer(database, slug, viewer_id)


@router.get("/shootouts/{slug}/picks/{viewer_id}/saved/{setup_id}")
def show_saved(
    slug: str, viewer_id: UUID, setup_id: UUID, database: DatabaseHere
) -> list[pick_turns.TaskSaved]:
    """Say what a setup saves a viewer over the owned one, task by task."""
    return list(pick_turns.show_saved(database, slug, viewer_id, setup_id))


@router.post(
    "/shootouts/{slug}/picks/{viewer_id}/prices", status_code=201, response_model=list[Machine]
)
def keep_prices(
    slug: str, viewer_id: UUID, body: KeptPrices, database: DatabaseHere
) -> list[records.Machine]:
    """Store tried prices as new price records; earlier ones stay."""
    return list(viewers.keep_prices(database, slug, viewer_id, body.prices))


@router.patch("/viewers/{viewer_id}", response_model=Viewer)
def change_viewer(viewer_id: UUID, body: ViewerChange, database: DatabaseHere) -> ViewerRecord:
    """Change a viewer."""
    changes = body.model_dump(exclude={"version"}, exclude_unset=True)
    if body.name is None:
        changes.pop("name", None)
    return viewers.change_viewer(database, viewer_id, body.version, changes)


@router.post("/viewers/{viewer_id}/retirement", response_model=Viewer)
def retire_viewer(viewer_id: UUID, body: ViewerRetirement, database: DatabaseHere) -> ViewerRecord:
    """Retire a viewer, or bring it back."""
    return viewers.retire_viewer(database, viewer_id, retired=body.retired)
