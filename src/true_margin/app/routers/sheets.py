"""Sheets: pasted tables and typed lines, read back first and stored when confirmed."""

from __future__ import annotations

from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person, WhoHere
from true_margin.app.sheet_requests import NewFromSheet, SheetText, SheetToTakeBack
from true_margin.desk.access import people
from true_margin.desk.sheets import preview, storing, taking_back
from true_margin.desk.shootouts import shootouts

router = stage_router("sheets")


@router.post("/shootouts/{slug}/imports/preview")
def preview_import(slug: str, body: SheetText, database: DatabaseHere) -> preview.SheetPreview:
    """Show how a sheet would be stored; stores nothing."""
    return preview.preview_sheet(database, slug, body.text, body.answers())


@router.post("/shootouts/{slug}/imports", status_code=201)
def store_import(
    slug: str, body: SheetText, database: DatabaseHere, who: Person
) -> storing.SheetResult:
    """Store all of a sheet that is ready, in one transaction; what waits is left out."""
    return storing.store_sheet(database, slug, body.text, body.answers(), who)


@router.post("/shootouts/{slug}/imports/undo")
def undo_import(
    slug: str, body: SheetToTakeBack, database: DatabaseHere, who: Person
) -> taking_back.TakenBack:
    """Take back all that came with a sheet; what was changed since stays, and is told."""
    return taking_back.take_sheet_back(database, slug, body.made(), who)


@router.post("/notes/preview")
def preview_notes(body: SheetText, database: DatabaseHere) -> preview.SheetPreview:
    """Show what shootout would be made out of notes; makes nothing."""
    return preview.preview_sheet(database, None, body.text, body.answers())


@router.post("/notes", status_code=201)
def start_from_notes(
    body: NewFromSheet, database: DatabaseHere, who: WhoHere, person: Person
) -> storing.SheetResult:
    """Make a shootout out of notes, with machines, tasks and runs; whoever makes it owns it."""
    fields = {"name": body.name, "currency": body.currency, "subject": "machine"}
    made = storing.start_from_sheet(database, fields, body.text, body.answers(), person)
    people.own_what_was_made(database, who, shootouts.get_shootout(database, made.slug).id)
    return made
