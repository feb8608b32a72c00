"""Kept cards in the store; nothing is deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables_publish import CardRow


@dataclass(frozen=True, slots=True)
class KeptCard:
    """A card as it is asked for.

    ``task_id`` None means the mix; ``setups`` holds ids of setups under ``order``,
    ``highlighted`` and ``left_out``; ``seconds`` is its length on the timeline.
    """

    id: UUID
    shootout_id: UUID
    position: int
    kind: str
    task_id: UUID | None
    viewer_id: UUID | None
    setups: dict[str, Any]
    title: str | None
    subtitle: str | None
    source: str | None
    seconds: float
    retired_at: datetime | None
    version: int


def list_cards(session: Session, shootout_id: UUID) -> tuple[KeptCard, ...]:
    """List the cards of a shootout in their order, retired ones too."""
    rows = session.scalars(
        select(CardRow)
        .where(CardRow.shootout_id == shootout_id)
        .order_by(CardRow.position, CardRow.created_at, CardRow.id)
    )
    return tuple(record_of(row, KeptCard) for row in rows)


def get_card(session: Session, card_id: UUID) -> KeptCard:
    """Get a card.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, CardRow, card_id, "card"), KeptCard)


def add_card(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a card after the last one."""
    query = select(func.max(CardRow.position)).where(CardRow.shootout_id == shootout_id)
    last = session.scalar(query)
    own = {"position": 0 if last is None else last + 1, **fields, "shootout_id": shootout_id}
    return insert_row(session, CardRow, own)


def change_card(session: Session, card: KeptCard, version: int, changes: Mapping[str, Any]) -> None:
    """Change a card that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session,
        CardRow,
        card.id,
        version,
        changes,
        what="card",
        current=lambda: get_card(session, card.id),
    )


def order_cards(session: Session, card_ids: Iterable[UUID]) -> None:
    """Put cards in this order."""
    for position, card_id in enumerate(card_ids):
        get_row(session, CardRow, card_id, "card").position = position
    session.flush()
