"""Timelines and their files in the store."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.errors import MissingRowError
from true_margin.store.rows import get_row, insert_row, record_of
from true_margin.store.tables import TimelineFileRow, TimelineRow


def timeline_home(session: Session, timeline_id: UUID) -> UUID:
    """Give the shootout that a timeline belongs to.

    Raises:
        MissingRowError: no such timeline.
    """
    home: UUID = get_row(session, TimelineRow, timeline_id, "timeline").shootout_id
    return home


def timeline_name(session: Session, timeline_id: UUID) -> str:
    """Give the name of a timeline.

    Raises:
        MissingRowError: no such timeline.
    """
    name: str = get_row(session, TimelineRow, timeline_id, "timeline").name
    return name


def set_length(session: Session, timeline_id: UUID, length_s: float) -> None:
    """Note how long a timeline is, in seconds."""
    get_row(session, TimelineRow, timeline_id, "timeline").length_s = length_s
    session.flush()


def list_timelines(session: Session, shootout_id: UUID) -> tuple[records.Timeline, ...]:
    """List the timelines of a shootout by name."""
    rows = session.scalars(
        select(TimelineRow).where(TimelineRow.shootout_id == shootout_id).order_by(TimelineRow.name)
    )
    return tuple(record_of(row, records.Timeline) for row in rows)


def list_files(session: Session, shootout_id: UUID) -> tuple[records.TimelineFile, ...]:
    """List the files of all timelines of a shootout, oldest first, without their content."""
    rows = session.scalars(
        select(TimelineFileRow)
        .join(TimelineRow, TimelineRow.id == TimelineFileRow.timeline_id)
        .where(TimelineRow.shootout_id == shootout_id)
        .order_by(TimelineFileRow.added_at, TimelineFileRow.id)
    )
    return tuple(record_of(row, records.TimelineFile) for row in rows)


def add_file(session: Session, fields: Mapping[str, Any]) -> UUID:
    """Add a file; earlier ones stay, the newest of a setup counts."""
    return insert_row(session, TimelineFileRow, fields)


def file_content(session: Session, file_id: UUID) -> bytes:
    """Give the content of a file.

    Raises:
        MissingRowError: no such file.
    """
    content = session.scalar(select(TimelineFileRow.content).where(TimelineFileRow.id == file_id))
    if content is None:
        raise MissingRowError("timeline file", file_id)
    return content
