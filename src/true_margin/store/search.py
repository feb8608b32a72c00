"""Looking for words in everything that was written down, over all shootouts."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, Select, and_, func, literal, select
from sqlalchemy.orm import InstrumentedAttribute, Session

from true_margin.store.tables import AppRow, MachineRow, ShootoutRow, TaskRow
from true_margin.store.tables_publish import EditionFigureRow, EditionRow, ScriptRow

MOST = 40
"""Of each kind; whoever wants others says more words."""


@dataclass(frozen=True, slots=True)
class Hit:
    """Something that says all of the words; ``more`` is what it says of itself besides."""

    kind: str
    shootout_id: UUID
    slug: str
    shootout: str
    text: str
    more: str
    at: datetime | None


def begins(word: str) -> str:
    """A pattern for a word that begins with these signs, good here and in the database.

    Example:
        >>> begins("6.3")
        '(^|[^a-zA-Z0-9])6\\\\.3'
    """
    signs = "".join(sign if sign.isalnum() or ord(sign) > 127 else f"\\{sign}" for sign in word)
    return f"(^|[^a-zA-Z0-9]){signs}"


def find_words(session: Session, words: Sequence[str]) -> tuple[Hit, ...]:
    """Find machines, tasks, published figures and scripts that say all of these words."""
    machine = func.concat_ws(" ", MachineRow.name, MachineRow.model)
    task = func.concat_ws(" ", TaskRow.name, AppRow.name)
    figure = func.concat_ws(
        " ", EditionFigureRow.label, EditionFigureRow.task, EditionFigureRow.shown
    )
    nothing = literal(None)
    queries: tuple[tuple[str, Select[Any]], ...] = (
        (
            "machine",
            _found(machine, words, MachineRow.name, func.coalesce(MachineRow.model, ""), nothing)
            .join(MachineRow, MachineRow.shootout_id == ShootoutRow.id)
            .order_by(ShootoutRow.created_at.desc(), MachineRow.name),
        ),
        (
            "task",
            _found(task, words, TaskRow.name, AppRow.name, nothing)
            .join(TaskRow, TaskRow.shootout_id == ShootoutRow.id)
            .join(AppRow, AppRow.id == TaskRow.app_id)
            .order_by(ShootoutRow.created_at.desc(), TaskRow.name),
        ),
        (
            "figure",
            _found(
                figure,
                words,
                EditionFigureRow.label + ", " + EditionFigureRow.task,
                EditionFigureRow.shown,
                EditionRow.created_at,
            )
            .join(EditionRow, EditionRow.shootout_id == ShootoutRow.id)
            .join(EditionFigureRow, EditionFigureRow.edition_id == EditionRow.id)
            .order_by(EditionRow.created_at.desc(), EditionFigureRow.task),
        ),
        (
            "line",
            _found(ScriptRow.text, words, ScriptRow.text, literal(""), nothing)
            .join(ScriptRow, ScriptRow.shootout_id == ShootoutRow.id)
            .order_by(ShootoutRow.created_at.desc()),
        ),
    )
    return tuple(
        Hit(kind, *row) for kind, query in queries for row in session.execute(query.limit(MOST))
    )


def _found(
    where: ColumnElement[str] | InstrumentedAttribute[str],
    words: Sequence[str],
    text: Any,
    more: Any,
    at: Any,
) -> Select[Any]:
    # The pattern alone would be slow: what holds no such signs is left out before it.
    says = [
        each
        for word in words
        for each in (where.icontains(word, autoescape=True), where.regexp_match(begins(word), "i"))
    ]
    return (
        select(ShootoutRow.id, ShootoutRow.slug, ShootoutRow.name, text, more, at)
        .select_from(ShootoutRow)
        .where(ShootoutRow.edition_of.is_(None), ShootoutRow.archived_at.is_(None), and_(*says))
    )
