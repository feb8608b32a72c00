"""Viewers in the store; nothing is deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.store.records.viewers import Viewer, ViewerTask
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables_viewers import ViewerRow, ViewerTaskRow


def list_viewers(session: Session, shootout_id: UUID) -> tuple[Viewer, ...]:
    """List the viewers of a shootout in their order, retired ones too."""
    found: dict[UUID, list[ViewerTask]] = {}
    parts = session.scalars(
        select(ViewerTaskRow)
        .join(ViewerRow, ViewerRow.id == ViewerTaskRow.viewer_id)
        .where(ViewerRow.shootout_id == shootout_id)
        .order_by(ViewerTaskRow.task_id)
    )
    for part in parts:
        found.setdefault(part.viewer_id, []).append(record_of(part, ViewerTask))
    rows = session.scalars(
        select(ViewerRow)
        .where(ViewerRow.shootout_id == shootout_id)
        .order_by(ViewerRow.position, ViewerRow.created_at, ViewerRow.id)
    )
    return tuple(record_of(row, Viewer, tasks=tuple(found.get(row.id, ()))) for row in rows)


def viewer_home(session: Session, viewer_id: UUID) -> UUID:
    """Give the shootout of a viewer.

    Raises:
        MissingRowError: there is none.
    """
    home: UUID = get_row(session, ViewerRow, viewer_id, "viewer").shootout_id
    return home


def add_viewer(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a viewer after the last one."""
    query = select(func.max(ViewerRow.position)).where(ViewerRow.shootout_id == shootout_id)
    last = session.scalar(query)
    position = 0 if last is None else last + 1
    own = {"position": position, **fields, "shootout_id": shootout_id}
    return insert_row(session, ViewerRow, own)


def change_viewer(
    session: Session, viewer: Viewer, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a viewer that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session, ViewerRow, viewer.id, version, changes, what="viewer", current=lambda: viewer
    )


def set_tasks(session: Session, viewer_id: UUID, tasks: Iterable[Mapping[str, Any]]) -> None:
    """Say what tasks are to a viewer; those that are not named stay as they are."""
    for fields in tasks:
        row = session.get(ViewerTaskRow, (viewer_id, fields["task_id"]))
        if row is None:
            session.add(ViewerTaskRow(viewer_id=viewer_id, **fields))
            continue
        for name, value in fields.items():
            setattr(row, name, value)
    session.flush()


def retire_viewer(session: Session, viewer_id: UUID, when: datetime | None) -> None:
    """Retire a viewer, or bring it back with None.

    Raises:
        MissingRowError: there is none.
    """
    get_row(session, ViewerRow, viewer_id, "viewer").retired_at = when
    session.flush()


def order_viewers(session: Session, viewer_ids: Iterable[UUID]) -> None:
    """Put viewers in this order."""
    for position, viewer_id in enumerate(viewer_ids):
        get_row(session, ViewerRow, viewer_id, "viewer").position = position
    session.flush()
