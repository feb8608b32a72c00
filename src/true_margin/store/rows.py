"""The few ways in which rows are read and written."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import fields
from datetime import datetime
from typing import Any, TypeVar
from uuid import UUID, uuid4

from sqlalchemy import update
from sqlalchemy.orm import Session

from true_margin.store.base import Base
from true_margin.store.errors import MissingRowError, StaleVersionError

Record = TypeVar("Record")


def record_of(row: Any, record: type[Record], **more: Any) -> Record:
    """Copy a row into a record; ``more`` gives fields that the row has not."""
    values = {
        field.name: getattr(row, field.name)
        for field in fields(record)  # type: ignore[arg-type]
        if field.name not in more and hasattr(row, field.name)
    }
    return record(**values, **more)


def insert_row(session: Session, table: type[Base], values: Mapping[str, Any]) -> UUID:
    """Insert one row and give its id; constraints are checked at once."""
    key = values.get("id") or uuid4()
    session.add(table(**{**values, "id": key}))
    session.flush()
    return UUID(str(key))


def get_row(session: Session, table: type[Base], key: UUID, what: str) -> Any:
    """Get a row by id.

    Raises:
        MissingRowError: there is none.
    """
    row = session.get(table, key)
    if row is None:
        raise MissingRowError(what, key)
    return row


def withdraw_row(
    session: Session, table: type[Base], key: UUID, at: datetime, why: str, *, what: str
) -> None:
    """Say that a row counts no more, and why; one that was withdrawn already stays as it is.

    Raises:
        MissingRowError: there is no such row.
    """
    row = get_row(session, table, key, what)
    if row.withdrawn_at is None:
        row.withdrawn_at, row.withdrawn_why = at, why
        session.flush()


def update_running(session: Session, table: Any, key: UUID, changes: Mapping[str, Any]) -> bool:
    """Change a row whose state is still ``running``; says whether it was."""
    found = session.execute(
        update(table)
        .where(table.id == key, table.state == "running")
        .values(**changes)
        .returning(table.id)
    )
    return found.first() is not None


def update_row(
    session: Session,
    table: Any,
    key: UUID,
    version: int,
    changes: Mapping[str, Any],
    *,
    what: str,
    current: Callable[[], object],
) -> None:
    """Change a row that still has ``version``; the check and the write are one statement.

    Raises:
        MissingRowError: there is no such row.
        StaleVersionError: it has another version by now.
    """
    statement = (
        update(table)
        .where(table.id == key, table.version == version)
        .values(**changes, version=version + 1)
        .returning(table.id)
    )
    if session.execute(statement).first() is None:
        session.expire_all()
        get_row(session, table, key, what)
        raise StaleVersionError(what, current())
    session.expire_all()
