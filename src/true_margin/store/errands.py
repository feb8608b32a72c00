"""Errands in the store: how far each is, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store.errors import MissingRowError
from true_margin.store.rows import insert_row, record_of, update_running
from true_margin.store.tables_errands import ErrandRow

_SHOWN = (
    ErrandRow.id,
    ErrandRow.kind,
    ErrandRow.person_id,
    ErrandRow.told,
    ErrandRow.state,
    ErrandRow.step,
    ErrandRow.done,
    ErrandRow.answer,
    ErrandRow.problem,
    ErrandRow.seen_at,
)


@dataclass(frozen=True, slots=True)
class Errand:
    """An errand without its file; ``done`` from 0 to 1, ``seen_at`` its last sign of life."""

    id: UUID
    kind: str
    person_id: UUID | None
    told: dict[str, Any]
    state: str
    step: str
    done: float
    answer: dict[str, Any] | None
    problem: dict[str, Any] | None
    seen_at: datetime


def add_errand(
    session: Session,
    kind: str,
    person_id: UUID | None,
    told: dict[str, Any],
    file: bytes | None,
    now: datetime,
) -> UUID:
    """Keep an errand that is to be done."""
    return insert_row(
        session,
        ErrandRow,
        {
            "kind": kind,
            "person_id": person_id,
            "told": told,
            "file": file,
            "state": "running",
            "step": "waiting",
            "done": 0.0,
            "seen_at": now,
        },
    )


def get_errand(session: Session, errand_id: UUID) -> Errand:
    """Get an errand.

    Raises:
        MissingRowError: there is none.
    """
    row = session.execute(select(*_SHOWN).where(ErrandRow.id == errand_id)).first()
    if row is None:
        raise MissingRowError("errand", errand_id)
    return record_of(row, Errand)


def errand_file(session: Session, errand_id: UUID) -> bytes:
    """The file that came with an errand; empty where there was none."""
    return session.scalar(select(ErrandRow.file).where(ErrandRow.id == errand_id)) or b""


def change_errand(session: Session, errand_id: UUID, changes: dict[str, Any]) -> bool:
    """Change an errand that still runs; says whether it did."""
    return update_running(session, ErrandRow, errand_id, changes)
