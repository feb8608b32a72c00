"""Reports in the store: how far each is, and the finished files."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store.errors import MissingRowError
from true_margin.store.rows import insert_row, record_of, update_running
from true_margin.store.tables_publish import ReportRow

_SHOWN = (
    ReportRow.id,
    ReportRow.shootout_id,
    ReportRow.revision,
    ReportRow.state,
    ReportRow.step,
    ReportRow.done,
    ReportRow.problem,
    ReportRow.seen_at,
    ReportRow.created_at,
)


@dataclass(frozen=True, slots=True)
class Report:
    """A report without its files; ``done`` from 0 to 1, ``seen_at`` its last sign of life."""

    id: UUID
    shootout_id: UUID
    revision: int
    state: str
    step: str
    done: float
    problem: str | None
    seen_at: datetime
    created_at: datetime


def list_reports(session: Session, shootout_id: UUID, most: int = 5) -> tuple[Report, ...]:
    """List the newest reports of a shootout."""
    rows = session.execute(
        select(*_SHOWN)
        .where(ReportRow.shootout_id == shootout_id)
        .order_by(ReportRow.created_at.desc(), ReportRow.id)
        .limit(most)
    )
    return tuple(record_of(row, Report) for row in rows)


def get_report(session: Session, shootout_id: UUID, report_id: UUID) -> Report:
    """Get a report of a shootout.

    Raises:
        MissingRowError: there is none.
    """
    row = session.execute(
        select(*_SHOWN).where(ReportRow.id == report_id, ReportRow.shootout_id == shootout_id)
    ).first()
    if row is None:
        raise MissingRowError("report", report_id)
    return record_of(row, Report)


def add_report(session: Session, shootout_id: UUID, revision: int, now: datetime) -> UUID:
    """Begin a report."""
    return insert_row(
        session,
        ReportRow,
        {
            "shootout_id": shootout_id,
            "revision": revision,
            "state": "running",
            "step": "waiting",
            "done": 0.0,
            "seen_at": now,
        },
    )


def change_report(session: Session, report_id: UUID, changes: dict[str, Any]) -> bool:
    """Change a report that still runs; says whether it did."""
    return update_running(session, ReportRow, report_id, changes)


def report_file(session: Session, report_id: UUID, kind: str) -> bytes | None:
    """The finished HTML or PDF; None where it is not there."""
    column = ReportRow.html if kind == "html" else ReportRow.pdf
    content: bytes | None = session.scalar(select(column).where(ReportRow.id == report_id))
    return content
