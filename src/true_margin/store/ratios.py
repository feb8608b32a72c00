"""Ratios noted elsewhere: kept with who says so, withdrawn with a reason, never deleted."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, withdraw_row
from true_margin.store.tables import TaskRow
from true_margin.store.tables_noted import NotedRatioRow


def add_ratio(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Note a ratio."""
    return insert_row(session, NotedRatioRow, fields)


def list_ratios(session: Session, shootout_id: UUID) -> tuple[records.NotedRatio, ...]:
    """List what was noted in a shootout, oldest first; what was withdrawn as well."""
    rows = session.scalars(
        select(NotedRatioRow)
        .join(TaskRow, TaskRow.id == NotedRatioRow.task_id)
        .where(TaskRow.shootout_id == shootout_id)
        .order_by(NotedRatioRow.noted_at, NotedRatioRow.client_key, NotedRatioRow.id)
    )
    return tuple(record_of(row, records.NotedRatio) for row in rows)


def known_keys(session: Session, shootout_id: UUID, prefix: str) -> frozenset[str]:
    """Give the client keys with this beginning that are stored already."""
    found = session.scalars(
        select(NotedRatioRow.client_key)
        .join(TaskRow, TaskRow.id == NotedRatioRow.task_id)
        .where(TaskRow.shootout_id == shootout_id, NotedRatioRow.client_key.startswith(prefix))
    )
    return frozenset(key for key in found if key is not None)


def ratio_home(session: Session, ratio_id: UUID) -> UUID:
    """Give the task that a ratio is of.

    Raises:
        MissingRowError: no such ratio.
    """
    task: UUID = get_row(session, NotedRatioRow, ratio_id, "noted ratio").task_id
    return task


def withdraw_ratio(session: Session, ratio_id: UUID, at: datetime, why: str) -> None:
    """Say that a ratio counts no more; one that was withdrawn already stays as it is."""
    withdraw_row(session, NotedRatioRow, ratio_id, at, why, what="noted ratio")
