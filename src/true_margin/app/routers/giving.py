"""What is given away: tables, texts, the cards' timeline, reports, editions and their links."""

from __future__ import annotations

from typing import Annotated, Any, Literal
from uuid import UUID

from fastapi import Query, Response

from true_margin.app.answers.publish import PublicView, ReportView
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person
from true_margin.app.downloads import attachment, shown
from true_margin.app.publish_requests import NewEdition
from true_margin.desk.publish import (
    editions,
    folder_files,
    give_tables,
    give_texts,
    give_timeline,
    reports,
    shots,
)
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.tables import MEDIA, TableFormat, write_table

router = stage_router("publish")
TableName = Literal["results", "specs", "prices"]
TABLE: dict[int | str, dict[str, Any]] = {
    200: {"content": {kind.split(";")[0]: {} for kind in MEDIA.values()}}
}
ZIP: dict[int | str, dict[str, Any]] = {200: {"content": {"application/zip": {}}}}
REPORT: dict[int | str, dict[str, Any]] = {
    200: {"content": {"text/html": {}, "application/pdf": {}}}
}
FOLDER: dict[int | str, dict[str, Any]] = {200: {"content": {"application/zip": {}}}}
Address = Annotated[
    str, Query(max_length=500, description="Where the folder will stand on the web; empty for none")
]
Listed = Annotated[
    Literal["yes", "no"], Query(description="Whether search engines may list the pages")
]
REPORT_MEDIA = {"html": "text/html; charset=utf-8", "pdf": "application/pdf"}


@router.get("/shootouts/{slug}/tables/{name}.{kind}", response_class=Response, responses=TABLE)
def give_table(slug: str, name: TableName, kind: TableFormat, database: DatabaseHere) -> Response:
    """Give a table as a file."""
    content = write_table(give_tables.show_table(database, slug, name), kind)
    return Response(content, media_type=MEDIA[kind], headers=attachment(f"{slug}-{name}.{kind}"))


@router.get("/shootouts/{slug}/texts")
def show_texts(slug: str, database: DatabaseHere) -> give_texts.GivenTexts:
    """Give the description, the method note and the list of chapters."""
    return give_texts.show_texts(database, slug)


@router.get("/shootouts/{slug}/shots")
def show_shots(slug: str, database: DatabaseHere) -> shots.ShotList:
    """Give the shot list: which card stands when, beside which line, with what proof."""
    return shots.show_shots(database, slug)


@router.get("/shootouts/{slug}/card-timeline.zip", response_class=Response, responses=ZIP)
def card_timeline(
    slug: str,
    database: DatabaseHere,
    shape: Shape = Shape.WIDE,
    look: LookName = LookName.NIGHT,
    rate: Annotated[float, Query(ge=1, le=240, description="Frames per second")] = 25.0,
) -> Response:
    """Give the kept cards on a timeline, with their pictures or films and the lines to say."""
    content = give_timeline.give_timeline(database, slug, shape, look, rate)
    return Response(content, media_type="application/zip", headers=attachment(f"{slug}-cards.zip"))


@router.get("/shootouts/{slug}/reports", response_model=list[ReportView])
def list_reports(slug: str, database: DatabaseHere) -> list[reports.ReportView]:
    """List the newest reports, with how far each is."""
    return list(reports.list_reports(database, slug))


@router.post("/shootouts/{slug}/reports", status_code=201, response_model=ReportView)
def start_report(slug: str, database: DatabaseHere) -> reports.ReportView:
    """Begin to make a report."""
    return reports.start_report(database, slug)


@router.put("/shootouts/{slug}/reports/{report_id}/ended", response_model=ReportView)
def end_report(slug: str, report_id: UUID, database: DatabaseHere) -> reports.ReportView:
    """End a report that is being made."""
    return reports.end_report(database, slug, report_id)


@router.get(
    "/shootouts/{slug}/reports/{report_id}/report.{kind}", response_class=Response, responses=REPORT
)
def report_file(
    slug: str, report_id: UUID, kind: Literal["html", "pdf"], database: DatabaseHere
) -> Response:
    """Give a finished report."""
    content = reports.report_file(database, slug, report_id, kind)
    name = f"{slug}-report.{kind}"
    headers = shown(name) if kind == "html" else attachment(name)
    return Response(content, media_type=REPORT_MEDIA[kind], headers=headers)


@router.get("/shootouts/{slug}/public", response_model=PublicView)
def show_public(slug: str, database: DatabaseHere) -> editions.PublicView:
    """Show the links and editions, and what another edition would change."""
    return editions.show_public(database, slug)


@router.get("/shootouts/{slug}/public/folder.zip", response_class=Response, responses=FOLDER)
def web_folder(
    slug: str, database: DatabaseHere, address: Address = "", listed: Listed = "no"
) -> Response:
    """Give the public pages as plain files in a zip, for any web host."""
    asked = folder_files.Asked(address, listed == "yes")
    content = folder_files.zip_folder(database, slug, asked)
    return Response(content, media_type="application/zip", headers=attachment(f"{slug}-web.zip"))


@router.post("/shootouts/{slug}/public/editions", status_code=201, response_model=PublicView)
def publish_edition(
    slug: str, body: NewEdition, database: DatabaseHere, who: Person
) -> editions.PublicView:
    """Freeze what the shootout is now as another edition."""
    return editions.publish_edition(database, slug, body.note, who)


@router.post("/shootouts/{slug}/public/links", status_code=201, response_model=PublicView)
def make_link(slug: str, database: DatabaseHere) -> editions.PublicView:
    """Make another link to the public page."""
    return editions.make_link(database, slug)


@router.put("/shootouts/{slug}/public/links/{link_id}/revoked", response_model=PublicView)
def revoke_link(slug: str, link_id: UUID, database: DatabaseHere) -> editions.PublicView:
    """Revoke a link for ever."""
    return editions.revoke_link(database, slug, link_id)
