"""Lines of the shelf in the store: what was worked out of each shootout, and at which revision."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import record_of
from true_margin.store.tables import ShootoutRow
from true_margin.store.tables_publish import EditionRow
from true_margin.store.tables_shelf import ShelfLineRow


@dataclass(frozen=True, slots=True)
class StoredLine:
    """What was worked out of a shootout at ``revision``, its numbers written with ``signs``."""

    shootout_id: UUID
    signs: str
    revision: int
    answer: str
    waiting: list[str]
    needs_you: bool
    facts: str
    bars: list[dict[str, Any]]


@dataclass(frozen=True, slots=True)
class OnShelf:
    """A shootout with its line, if any was worked out, and its newest edition, if any is."""

    shootout: records.Shootout
    worked_at: datetime
    edition: int | None
    line: StoredLine | None


def list_on_shelf(session: Session, signs: str) -> tuple[OnShelf, ...]:
    """List the shootouts that are in use, the one worked on last first; editions never.

    Args:
        session: to read with.
        signs: that the numbers of the lines are to be written with.
    """
    newest = select(EditionRow.shootout_id, func.max(EditionRow.number).label("number"))
    newest_of = newest.group_by(EditionRow.shootout_id).subquery()
    worked_at = func.coalesce(ShootoutRow.worked_at, ShootoutRow.created_at)
    query = (
        select(ShootoutRow, worked_at, newest_of.c.number, ShelfLineRow)
        .outerjoin(newest_of, newest_of.c.shootout_id == ShootoutRow.id)
        .outerjoin(
            ShelfLineRow,
            (ShelfLineRow.shootout_id == ShootoutRow.id) & (ShelfLineRow.signs == signs),
        )
        .where(ShootoutRow.edition_of.is_(None), ShootoutRow.archived_at.is_(None))
        .order_by(worked_at.desc(), ShootoutRow.id)
    )
    return tuple(
        OnShelf(
            record_of(row, records.Shootout),
            at,
            edition,
            None if line is None else record_of(line, StoredLine),
        )
        for row, at, edition, line in session.execute(query)
    )


_KEY = ("shootout_id", "signs")


def keep_line(session: Session, line: Mapping[str, Any]) -> None:
    """Keep a line in place of an earlier one; one of a later revision stays."""
    new = insert(ShelfLineRow).values(**line)
    session.execute(
        new.on_conflict_do_update(
            index_elements=[ShelfLineRow.shootout_id, ShelfLineRow.signs],
            set_={name: new.excluded[name] for name in line if name not in _KEY},
            where=ShelfLineRow.revision <= new.excluded.revision,
        )
    )
