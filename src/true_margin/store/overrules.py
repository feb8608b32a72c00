"""Overrules of parity in the store; withdrawn ones are kept."""

from __future__ import annotations

from collections.abc import Mapping
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables import OverruleRow, TaskRow


def list_overrules(session: Session, shootout_id: UUID) -> tuple[records.Overrule, ...]:
    """List all overrules of a shootout, oldest first, withdrawn ones too."""
    rows = session.scalars(
        select(OverruleRow)
        .join(TaskRow, TaskRow.id == OverruleRow.task_id)
        .where(TaskRow.shootout_id == shootout_id)
        .order_by(OverruleRow.made_at, OverruleRow.id)
    )
    return tuple(record_of(row, records.Overrule) for row in rows)


def add_overrule(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Add an overrule; the pair is stored in one order."""
    a, b = sorted((fields["setup_a_id"], fields["setup_b_id"]))
    return insert_row(session, OverruleRow, {**fields, "setup_a_id": a, "setup_b_id": b})


def withdraw_overrule(session: Session, overrule_id: UUID, when: datetime, by: str) -> UUID:
    """Withdraw an overrule, and give its task.

    Raises:
        MissingRowError: no such overrule.
    """
    row = get_row(session, OverruleRow, overrule_id, "overrule")
    if row.withdrawn_at is None:
        row.withdrawn_at, row.withdrawn_by = when, by
    session.flush()
    task: UUID = row.task_id
    return task
