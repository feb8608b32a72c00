"""Links to public pages, and editions, in the store; nothing is deleted."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from true_margin.core.choices import LinkOpens
from true_margin.store.errors import MissingRowError
from true_margin.store.page_changes import tell_pages
from true_margin.store.records import House
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables import ShootoutRow
from true_margin.store.tables_publish import EditionFigureRow, EditionRow, LinkRow


@dataclass(frozen=True, slots=True)
class Link:
    """A secret link to a public page; ``token`` is its secret part."""

    id: UUID
    shootout_id: UUID
    token: str
    revoked_at: datetime | None
    created_at: datetime


@dataclass(frozen=True, slots=True)
class Edition:
    """An edition: ``frozen_id`` is the copy that it shows, ``changes`` since the last one.

    ``channel`` is whose page it is, ``disclosure`` what it says of paid links; None for nobody's
    name, and for the usual sentence.
    """

    id: UUID
    shootout_id: UUID
    number: int
    frozen_id: UUID
    frozen_slug: str
    note: str | None
    changes: list[str]
    channel: str | None
    disclosure: str | None
    who: str
    created_at: datetime


@dataclass(frozen=True, slots=True)
class EditionFigure:
    """A figure as an edition shows it: a setup on a task."""

    task: str
    label: str
    shown: str
    number: int
    published_at: datetime


def list_links(
    session: Session, shootout_id: UUID, opens: LinkOpens = LinkOpens.PAGE
) -> tuple[Link, ...]:
    """List the links of a shootout to one thing, newest first."""
    rows = session.scalars(
        select(LinkRow)
        .where(LinkRow.shootout_id == shootout_id, LinkRow.opens == opens)
        .order_by(LinkRow.created_at.desc(), LinkRow.id)
    )
    return tuple(record_of(row, Link) for row in rows)


def find_link(session: Session, token: str, opens: LinkOpens = LinkOpens.PAGE) -> Link | None:
    """Find a link to something that is not revoked by its secret part."""
    row = session.scalar(
        select(LinkRow).where(
            LinkRow.token == token, LinkRow.opens == opens, LinkRow.revoked_at.is_(None)
        )
    )
    return None if row is None else record_of(row, Link)


def add_link(
    session: Session, shootout_id: UUID, token: str, opens: LinkOpens = LinkOpens.PAGE
) -> UUID:
    """Add a link to something."""
    tell_pages(session)
    return insert_row(
        session, LinkRow, {"shootout_id": shootout_id, "token": token, "opens": opens}
    )


def revoke_link(session: Session, shootout_id: UUID, link_id: UUID, when: datetime) -> None:
    """Revoke a link of a shootout for ever.

    Raises:
        MissingRowError: the shootout has no such link.
    """
    row = get_row(session, LinkRow, link_id, "link")
    if row.shootout_id != shootout_id:
        raise MissingRowError("link", link_id)
    row.revoked_at = row.revoked_at or when
    tell_pages(session)
    session.flush()


def list_editions(session: Session, shootout_id: UUID) -> tuple[Edition, ...]:
    """List the editions of a shootout, newest first."""
    rows = session.execute(
        select(EditionRow, ShootoutRow.slug)
        .join(ShootoutRow, ShootoutRow.id == EditionRow.frozen_id)
        .where(EditionRow.shootout_id == shootout_id)
        .order_by(EditionRow.number.desc())
    )
    return tuple(record_of(row, Edition, frozen_slug=slug) for row, slug in rows)


def edition_rates(session: Session, edition_id: UUID) -> dict[str, Any] | None:
    """The exchange rates that an edition goes by; None of those that kept none."""
    return session.scalar(select(EditionRow.rates).where(EditionRow.id == edition_id))


def add_edition(
    session: Session,
    shootout_id: UUID,
    number: int,
    frozen_id: UUID,
    *,
    note: str | None,
    changes: Sequence[str],
    rates: dict[str, Any],
    house: House,
    who: str,
) -> UUID:
    """Add an edition: the frozen copy that it shows, the rates and the house it goes by."""
    tell_pages(session)
    return insert_row(
        session,
        EditionRow,
        {
            "shootout_id": shootout_id,
            "number": number,
            "frozen_id": frozen_id,
            "note": note,
            "changes": list(changes),
            "rates": rates,
            "channel": house.channel,
            "disclosure": house.disclosure,
            "who": who,
        },
    )


def add_figures(session: Session, edition_id: UUID, figures: Mapping[tuple[str, str], str]) -> None:
    """Note which figures left the house with an edition; those that are noted stay."""
    rows = [
        {"id": uuid4(), "edition_id": edition_id, "task": task, "label": label, "shown": shown}
        for (task, label), shown in figures.items()
    ]
    if rows:
        session.execute(insert(EditionFigureRow).values(rows).on_conflict_do_nothing())


def list_figures(
    session: Session, shootout_id: UUID, last: int | None = None
) -> tuple[EditionFigure, ...]:
    """List the figures of a shootout's editions, or of so many of the last, newest first."""
    newest = (
        select(EditionRow.id)
        .where(EditionRow.shootout_id == shootout_id)
        .order_by(EditionRow.number.desc())
        .limit(last)
    )
    rows = session.execute(
        select(EditionFigureRow, EditionRow.number, EditionRow.created_at)
        .join(EditionRow, EditionRow.id == EditionFigureRow.edition_id)
        .where(EditionRow.id.in_(newest))
        .order_by(EditionRow.number.desc(), EditionFigureRow.task, EditionFigureRow.label)
    )
    return tuple(
        EditionFigure(row.task, row.label, row.shown, number, created_at)
        for row, number, created_at in rows
    )


def without_figures(session: Session) -> tuple[tuple[str, Edition], ...]:
    """List editions whose figures nobody noted yet, each with its shootout's address."""
    noted = select(EditionFigureRow.id).where(EditionFigureRow.edition_id == EditionRow.id)
    rows = session.execute(
        select(EditionRow.shootout_id, ShootoutRow.slug)
        .join(ShootoutRow, ShootoutRow.id == EditionRow.shootout_id)
        .where(~noted.exists())
        .distinct()
    )
    return tuple(
        (slug, edition)
        for shootout_id, slug in rows
        for edition in list_editions(session, shootout_id)
    )
