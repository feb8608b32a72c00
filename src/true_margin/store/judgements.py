"""What persons say of the sameness of work; withdrawn with a reason, never deleted."""

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
from true_margin.store.tables_noted import JudgementRow


def list_judgements(session: Session, shootout_id: UUID) -> tuple[records.Judgement, ...]:
    """List all words of a shootout, oldest first, withdrawn ones too."""
    rows = session.scalars(
        select(JudgementRow)
        .join(TaskRow, TaskRow.id == JudgementRow.task_id)
        .where(TaskRow.shootout_id == shootout_id)
        .order_by(JudgementRow.noted_at, JudgementRow.id)
    )
    return tuple(record_of(row, records.Judgement) for row in rows)


def add_judgement(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Keep a person's word; two setups, or two tasks, are stored in one order."""
    own = dict(fields)
    for one, other in (("setup_id", "other_setup_id"), ("task_id", "other_task_id")):
        if own.get(one) and own.get(other):
            own[one], own[other] = sorted((own[one], own[other]))
    return insert_row(session, JudgementRow, own)


def judgement_task(session: Session, judgement_id: UUID) -> UUID:
    """Give the task that a word is about.

    Raises:
        MissingRowError: no such word.
    """
    task: UUID = get_row(session, JudgementRow, judgement_id, "word").task_id
    return task


def withdraw_judgement(session: Session, judgement_id: UUID, at: datetime, why: str) -> None:
    """Say that a word counts no more; one that was withdrawn already stays as it is."""
    withdraw_row(session, JudgementRow, judgement_id, at, why, what="word")
