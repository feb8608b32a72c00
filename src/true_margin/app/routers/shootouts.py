"""Shootouts, their rounds, their run sheet, and data packs in and out."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import BackgroundTasks, Query, Response, UploadFile
from fastapi.concurrency import run_in_threadpool

from true_margin.app.answers.shootouts import Round, ShelfLine, Shootout
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, WhoHere
from true_margin.app.downloads import attachment
from true_margin.app.requests import (
    Archiving,
    NewRound,
    NewShootout,
    RoundChange,
    RoundOrder,
    ShootoutChange,
)
from true_margin.core.numerals import numerals
from true_margin.desk.access import people
from true_margin.desk.access.rights import Right
from true_margin.desk.errors import RefusedError
from true_margin.desk.jobs import jobs
from true_margin.desk.packs import outgoing as pack_out
from true_margin.desk.packs import update as pack_update
from true_margin.desk.run_sheet import on_shelf, sheet
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import MAX_PACK_BYTES, write_pack, zip_files
from true_margin.store import records

router = stage_router("shootouts")
Revision = Annotated[
    int, Query(ge=0, lt=2**62, description="Revision of the shootout that was shown")
]


@router.get("/shootouts", response_model=list[Shootout])
def list_shootouts(
    database: DatabaseHere, who: WhoHere, archived: bool = False
) -> list[records.Shootout]:
    """List the shootouts that one may see, newest first: those in use, or the archive."""
    found = shootouts.list_shootouts(database, archived=archived)
    return [each for each in found if who.may(Right.READ, each.id)]


@router.get("/shelf", response_model=list[ShelfLine])
def show_shelf(
    database: DatabaseHere, who: WhoHere, beside: BackgroundTasks
) -> tuple[on_shelf.ShelfLine, ...]:
    """List the shootouts that one may see with their answers, the one worked on last first.

    What is not ``fresh`` is worked out after this answer: ask again for it.
    """
    lines = on_shelf.show_shelf(database, lambda each: who.may(Right.READ, each.id))
    stale = [line.shootout.slug for line in lines if not line.fresh]
    if stale:
        beside.add_task(on_shelf.work_out, database, stale, numerals())
    return lines


@router.post("/shootouts", status_code=201, response_model=Shootout)
def make_shootout(body: NewShootout, database: DatabaseHere, who: WhoHere) -> records.Shootout:
    """Make a shootout with a first round; whoever makes it owns it."""
    made = shootouts.make_shootout(database, body.model_dump())
    people.own_what_was_made(database, who, made.id)
    return made


@router.get("/shootouts/{slug}", response_model=Shootout)
def get_shootout(slug: str, database: DatabaseHere) -> records.Shootout:
    """Get one shootout and its settings."""
    return shootouts.get_shootout(database, slug)


@router.patch("/shootouts/{slug}", response_model=Shootout)
def change_shootout(slug: str, body: ShootoutChange, database: DatabaseHere) -> records.Shootout:
    """Change settings; everything computed follows."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return shootouts.change_shootout(database, slug, body.version, changes)


@router.post("/shootouts/{slug}/archive", response_model=Shootout)
def archive_shootout(slug: str, body: Archiving, database: DatabaseHere) -> records.Shootout:
    """Put a whole shootout into the archive, or take it out."""
    return shootouts.archive_shootout(database, slug, archived=body.archived)


@router.get("/shootouts/{slug}/sheet")
def show_sheet(slug: str, database: DatabaseHere) -> sheet.RunSheet:
    """Show the state of all stages, and the next useful thing."""
    return sheet.show_sheet(database, slug)


@router.get("/shootouts/{slug}/rounds", response_model=list[Round])
def list_rounds(slug: str, database: DatabaseHere) -> list[records.Round]:
    """List rounds, oldest first."""
    return list(shootouts.list_rounds(database, slug))


@router.patch("/rounds/{round_id}", response_model=Round)
def change_round(round_id: UUID, body: RoundChange, database: DatabaseHere) -> records.Round:
    """Rename a round, or put the versions right that it was run with."""
    return shootouts.change_round(database, round_id, body.name, body.versions)


@router.post("/shootouts/{slug}/rounds/order", response_model=list[Round])
def order_rounds(slug: str, body: RoundOrder, database: DatabaseHere) -> list[records.Round]:
    """Put the rounds in order, oldest first; the last is the one that runs now."""
    return list(shootouts.order_rounds(database, slug, body.round_ids))


@router.post("/shootouts/{slug}/rounds", status_code=201, response_model=Round)
def add_round(slug: str, body: NewRound, database: DatabaseHere) -> records.Round:
    """Open a new round after the latest."""
    return shootouts.add_round(database, slug, body.name, body.versions)


@router.post("/packs", status_code=202)
async def import_pack(file: UploadFile, database: DatabaseHere, who: WhoHere) -> jobs.JobView:
    """Have a zipped data pack brought in as a new shootout; whoever brings it owns it."""
    content = await _whole(file)
    return await run_in_threadpool(jobs.bring_in, database, who, content)


@router.post("/packs/preview")
async def preview_pack(file: UploadFile, database: DatabaseHere) -> pack_update.PackPreview:
    """Say what a zipped data pack would do; stores nothing."""
    content = await _whole(file)
    return await run_in_threadpool(pack_update.preview_zip, database, content)


@router.post("/shootouts/{slug}/pack", status_code=202)
async def update_from_pack(
    slug: str, file: UploadFile, revision: Revision, database: DatabaseHere, who: WhoHere
) -> jobs.JobView:
    """Have taken over what a zipped data pack of this shootout has beyond it."""
    content = await _whole(file)
    return await run_in_threadpool(jobs.update, database, who, content, slug, revision)


@router.get("/jobs/{job_id}")
def show_job(job_id: UUID, database: DatabaseHere, who: WhoHere) -> jobs.JobView:
    """Show how far something is that was asked for and is done beside the requests."""
    return jobs.show_job(database, who, job_id)


async def _whole(file: UploadFile) -> bytes:
    content = await file.read(MAX_PACK_BYTES + 1)
    if len(content) > MAX_PACK_BYTES:
        raise RefusedError("file", f"A pack may have {MAX_PACK_BYTES // 1_000_000} MB at most.")
    return content


@router.get("/shootouts/{slug}/pack", response_class=Response)
def export_pack(slug: str, database: DatabaseHere) -> Response:
    """Give a whole shootout as a zipped data pack."""
    content = zip_files(write_pack(pack_out.export_pack(database, slug)))
    return Response(content, media_type="application/zip", headers=attachment(f"{slug}.zip"))
