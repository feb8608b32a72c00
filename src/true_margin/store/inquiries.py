"""Inquiries and published figures in the store; nothing is deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables_inquiries import (
    InquiryRow,
    InquiryRunRow,
    InquirySeenRow,
    InquiryStepRow,
    PublishedFigureRow,
)


def list_inquiries(session: Session, shootout_id: UUID) -> tuple[records.Inquiry, ...]:
    """List the inquiries of a shootout with their steps, oldest first, closed ones too."""
    own = select(InquiryRow.id).where(InquiryRow.shootout_id == shootout_id)
    runs: dict[UUID, list[UUID]] = {}
    again: dict[UUID | None, list[UUID]] = {}
    for link in session.scalars(
        select(InquiryRunRow)
        .where(InquiryRunRow.inquiry_id.in_(own))
        .order_by(InquiryRunRow.run_id)
    ):
        runs.setdefault(link.inquiry_id, []).append(link.run_id)
        again.setdefault(link.step_id, []).append(link.run_id)
    seen = _seen(session, own)
    steps: dict[UUID, list[records.InquiryStep]] = {}
    for row in session.scalars(
        select(InquiryStepRow)
        .where(InquiryStepRow.inquiry_id.in_(own))
        .order_by(InquiryStepRow.inquiry_id, InquiryStepRow.place)
    ):
        trials, troubles = seen.get(row.id, ([], []))
        step = record_of(
            row,
            records.InquiryStep,
            run_ids=tuple(again.get(row.id, ())),
            trial_ids=tuple(trials),
            trouble_ids=tuple(troubles),
        )
        steps.setdefault(row.inquiry_id, []).append(step)
    rows = session.scalars(
        select(InquiryRow)
        .where(InquiryRow.shootout_id == shootout_id)
        .order_by(InquiryRow.opened_at, InquiryRow.id)
    )
    return tuple(
        record_of(
            row,
            records.Inquiry,
            run_ids=tuple(runs.get(row.id, ())),
            steps=tuple(steps.get(row.id, ())),
        )
        for row in rows
    )


def _seen(session: Session, own: Any) -> dict[UUID, tuple[list[UUID], list[UUID]]]:
    """Entries of the log of each step: trials, and troubles."""
    found: dict[UUID, tuple[list[UUID], list[UUID]]] = {}
    for row in session.scalars(
        select(InquirySeenRow)
        .join(InquiryStepRow, InquiryStepRow.id == InquirySeenRow.step_id)
        .where(InquiryStepRow.inquiry_id.in_(own))
        .order_by(InquirySeenRow.trial_id, InquirySeenRow.trouble_id)
    ):
        trials, troubles = found.setdefault(row.step_id, ([], []))
        if row.trial_id is not None:
            trials.append(row.trial_id)
        if row.trouble_id is not None:
            troubles.append(row.trouble_id)
    return found


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


def add_step(session: Session, inquiry_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a step behind the others, unless ``fields`` say which place it has."""
    last = session.scalar(
        select(func.max(InquiryStepRow.place)).where(InquiryStepRow.inquiry_id == inquiry_id)
    )
    own = {"place": (last or 0) + 1, **fields, "inquiry_id": inquiry_id}
    return insert_row(session, InquiryStepRow, own)


def link_seen(
    session: Session, step_id: UUID, trial_ids: Iterable[UUID], trouble_ids: Iterable[UUID]
) -> None:
    """Link entries of the log to a step."""
    for key in dict.fromkeys(trial_ids):
        session.add(InquirySeenRow(step_id=step_id, trial_id=key))
    for key in dict.fromkeys(trouble_ids):
        session.add(InquirySeenRow(step_id=step_id, trouble_id=key))
    session.flush()


def link_runs(
    session: Session, inquiry_id: UUID, run_ids: Iterable[UUID], step_id: UUID | None = None
) -> None:
    """Link runs that were tried again in a step; those linked already stay so."""
    known = set(
        session.scalars(select(InquiryRunRow.run_id).where(InquiryRunRow.inquiry_id == inquiry_id))
    )
    for run_id in dict.fromkeys(run_ids):
        if run_id not in known:
            session.add(InquiryRunRow(inquiry_id=inquiry_id, run_id=run_id, step_id=step_id))
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
