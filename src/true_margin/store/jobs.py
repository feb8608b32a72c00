"""Jobs in the store: how far each is, and what came of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store.errors import MissingRowError
from true_margin.store.rows import insert_row, record_of, update_running
from true_margin.store.tables_jobs import JobRow

_SHOWN = (
    JobRow.id,
    JobRow.kind,
    JobRow.person_id,
    JobRow.request,
    JobRow.state,
    JobRow.step,
    JobRow.done,
    JobRow.answer,
    JobRow.problem,
    JobRow.seen_at,
)


@dataclass(frozen=True, slots=True)
class Job:
    """A job without its file; ``done`` from 0 to 1, ``seen_at`` its last sign of life."""

    id: UUID
    kind: str
    person_id: UUID | None
    request: dict[str, Any]
    state: str
    step: str
    done: float
    answer: dict[str, Any] | None
    problem: dict[str, Any] | None
    seen_at: datetime


def add_job(
    session: Session,
    kind: str,
    person_id: UUID | None,
    request: dict[str, Any],
    file: bytes | None,
    now: datetime,
) -> UUID:
    """Keep a job that is to be done."""
    return insert_row(
        session,
        JobRow,
        {
            "kind": kind,
            "person_id": person_id,
            "request": request,
            "file": file,
            "state": "running",
            "step": "waiting",
            "done": 0.0,
            "seen_at": now,
        },
    )


def get_job(session: Session, job_id: UUID) -> Job:
    """Get a job.

    Raises:
        MissingRowError: there is none.
    """
    row = session.execute(select(*_SHOWN).where(JobRow.id == job_id)).first()
    if row is None:
        raise MissingRowError("job", job_id)
    return record_of(row, Job)


def job_file(session: Session, job_id: UUID) -> bytes:
    """The file that came with a job; empty where there was none."""
    return session.scalar(select(JobRow.file).where(JobRow.id == job_id)) or b""


def change_job(session: Session, job_id: UUID, changes: dict[str, Any]) -> bool:
    """Change a job that still runs; says whether it did."""
    return update_running(session, JobRow, job_id, changes)
