"""Kits and results that others sent in; one is erased only where its sender wishes it."""

from __future__ import annotations

import secrets
from collections.abc import Mapping
from dataclasses import fields
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import Select, null, select
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Session

from true_margin.core.choices import SentState
from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables_sent import KitRow, SentResultRow


def find_kit(session: Session, shootout_id: UUID) -> records.Kit | None:
    """Give the kit of a shootout; None where none was given out yet."""
    row = session.scalars(select(KitRow).where(KitRow.shootout_id == shootout_id)).first()
    return None if row is None else record_of(row, records.Kit)


def make_kit(session: Session, shootout_id: UUID, at: datetime, who: str) -> records.Kit:
    """Make the kit of a shootout that has none."""
    values = {
        "shootout_id": shootout_id,
        "secret": secrets.token_hex(32),
        "made_at": at,
        "made_by": who,
    }
    return record_of(
        get_row(session, KitRow, insert_row(session, KitRow, values), "kit"), records.Kit
    )


def list_sent(session: Session, shootout_id: UUID) -> tuple[records.SentResult, ...]:
    """List what was sent in to a shootout, newest first; logs are left where they are."""
    asked = _without_log().where(SentResultRow.shootout_id == shootout_id)
    newest = asked.order_by(SentResultRow.received_at.desc(), SentResultRow.id)
    return tuple(record_of(row, records.SentResult) for row in session.execute(newest))


def list_accepted(session: Session, shootout_id: UUID) -> tuple[records.SentResult, ...]:
    """List what was sent in to a shootout and accepted, in the order in which it came."""
    asked = _without_log().where(
        SentResultRow.shootout_id == shootout_id, SentResultRow.state == SentState.ACCEPTED
    )
    oldest = asked.order_by(SentResultRow.received_at, SentResultRow.id)
    return tuple(record_of(row, records.SentResult) for row in session.execute(oldest))


def _without_log() -> Select[Any]:
    """Results without their logs: hundreds of them would fill the memory of every book."""
    columns = [
        getattr(SentResultRow, each.name)
        for each in fields(records.SentResult)
        if each.name != "content"
    ]
    content = SentResultRow.content.op("-", return_type=JSONB())("log").label("content")
    return select(*columns, content)


def add_sent(session: Session, values: Mapping[str, Any]) -> UUID:
    """Keep a result that was sent in."""
    return insert_row(session, SentResultRow, values)


def get_sent(session: Session, sent_id: UUID) -> tuple[UUID, records.SentResult]:
    """Give a result with the shootout that it was sent to.

    Raises:
        MissingRowError: no such result.
    """
    row = get_row(session, SentResultRow, sent_id, "result")
    return row.shootout_id, record_of(row, records.SentResult)


def judge_sent(session: Session, sent_id: UUID, changes: Mapping[str, Any]) -> None:
    """Write down what was decided about a result."""
    row = get_row(session, SentResultRow, sent_id, "result")
    for name, value in changes.items():
        # Nothing, and not the value that JSON writes as null.
        setattr(row, name, null() if value is None else value)
    session.flush()
