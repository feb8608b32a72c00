"""Inquiries and published figures in the store; nothing is deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables_inquiries import InquiryRow, InquiryRunRow, PublishedFigureRow


def list_inquiries(session: Session, shootout_id: UUID) -> tuple[records.Inquiry, ...]:
    """List the inquiries of a shootout, oldest first, closed ones too."""
    runs: dict[UUID, list[UUID]] = {}
    links = session.execute(
        select(InquiryRunRow.inquiry_id, InquiryRunRow.run_id)
        .join(InquiryRow, InquiryRow.id == InquiryRunRow.inquiry_id)
        .where(InquiryRow.shootout_id == shootout_id)
        .order_by(InquiryRunRow.run_id)
    )
    for inquiry_id, run_id in links:
        runs.setdefault(inquiry_id, []).append(run_id)
    rows = session.scalars(
        select(InquiryRow)
        .where(InquiryRow.shootout_id == shootout_id)
        .order_by(InquiryRow.opened_at, InquiryRow.id)
    )
    return tuple(
        record_of(row, records.Inquiry, run_ids=tuple(runs.get(row.id, []))) for row in rows
    )


def inquiry_home(session: Session, inquiry_id: UUID) -> UUID:
    """Give the shootout of an inquiry.

    Raises:
        MissingRowError: there is none.
    """
    home: UUID = get_row(session, InquiryRow, inquiry_id, "inquiry").shootout_id
    return home


def any_known(session: Session, keys: Sequence[UUID]) -> bool:
    """Say whether an inquiry has one of these ids."""
    found = session.scalar(select(InquiryRow.id).where(InquiryRow.id.in_(keys)).limit(1))
    return found is not None


def add_inquiry(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add an inquiry."""
    return insert_row(session, InquiryRow, {"shootout_id": shootout_id, **fields})


def change_inquiry(
    session: Session, inquiry: records.Inquiry, version: int, changes: Mapping[str, Any]
) -> None:
    """Change an inquiry that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session, InquiryRow, inquiry.id, version, changes, what="inquiry", current=lambda: inquiry
    )


def link_runs(session: Session, inquiry_id: UUID, run_ids: Iterable[UUID]) -> None:
    """Link runs that were tried again; those linked already stay so."""
    known = set(
        session.scalars(select(InquiryRunRow.run_id).where(InquiryRunRow.inquiry_id == inquiry_id))
    )
    for run_id in dict.fromkeys(run_ids):
        if run_id not in known:
            session.add(InquiryRunRow(inquiry_id=inquiry_id, run_id=run_id))
    session.flush()


def list_published(session: Session, shootout_id: UUID) -> tuple[records.PublishedFigure, ...]:
    """List the published figures of a shootout, oldest first, withdrawn ones too."""
    rows = session.scalars(
        select(PublishedFigureRow)
        .where(PublishedFigureRow.shootout_id == shootout_id)
        .order_by(PublishedFigureRow.noted_at, PublishedFigureRow.id)
    )
    return tuple(record_of(row, records.PublishedFigure) for row in rows)


def add_published(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a published figure."""
    return insert_row(session, PublishedFigureRow, {"shootout_id": shootout_id, **fields})


def withdraw_published(session: Session, figure_id: UUID, when: datetime) -> UUID:
    """Withdraw a published figure, and give its shootout.

    Raises:
        MissingRowError: there is none.
    """
    row = get_row(session, PublishedFigureRow, figure_id, "published figure")
    row.withdrawn_at = row.withdrawn_at or when
    session.flush()
    home: UUID = row.shootout_id
    return home
