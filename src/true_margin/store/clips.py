"""Clips in the store: what was asked for, how far each is, and the finished films."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import delete, select
from sqlalchemy.orm import Session

from true_margin.store.errors import MissingRowError
from true_margin.store.rows import insert_row, record_of, update_running
from true_margin.store.tables_publish import ClipRow

WAITING = "waiting"
"""The step of a clip that nobody has begun to make."""
_SHOWN = (
    ClipRow.id,
    ClipRow.shootout_id,
    ClipRow.card_id,
    ClipRow.name,
    ClipRow.asked,
    ClipRow.revision,
    ClipRow.state,
    ClipRow.step,
    ClipRow.done,
    ClipRow.problem,
    ClipRow.size,
    ClipRow.seen_at,
    ClipRow.created_at,
)


@dataclass(frozen=True, slots=True)
class Clip:
    """A clip without its film; ``done`` from 0 to 1, ``seen_at`` its last sign of life.

    ``asked`` is its shape, look, kind of film and timing; ``size`` that of the film in bytes.
    """

    id: UUID
    shootout_id: UUID
    card_id: UUID
    name: str
    asked: dict[str, Any]
    revision: int
    state: str
    step: str
    done: float
    problem: str | None
    size: int | None
    seen_at: datetime
    created_at: datetime


def list_clips(session: Session, shootout_id: UUID, most: int) -> tuple[Clip, ...]:
    """List the newest clips of a shootout."""
    rows = session.execute(
        select(*_SHOWN)
        .where(ClipRow.shootout_id == shootout_id)
        .order_by(ClipRow.created_at.desc(), ClipRow.id)
        .limit(most)
    )
    return tuple(record_of(row, Clip) for row in rows)


def get_clip(session: Session, shootout_id: UUID, clip_id: UUID) -> Clip:
    """Get a clip of a shootout.

    Raises:
        MissingRowError: there is none.
    """
    row = session.execute(
        select(*_SHOWN).where(ClipRow.id == clip_id, ClipRow.shootout_id == shootout_id)
    ).first()
    if row is None:
        raise MissingRowError("clip", clip_id)
    return record_of(row, Clip)


def add_clip(session: Session, shootout_id: UUID, fields: Mapping[str, Any], now: datetime) -> UUID:
    """Begin a clip."""
    own = {"state": "running", "step": WAITING, "done": 0.0, "seen_at": now}
    return insert_row(session, ClipRow, {**own, **fields, "shootout_id": shootout_id})


def change_clip(session: Session, clip_id: UUID, changes: dict[str, Any]) -> bool:
    """Change a clip that still is made; says whether it did."""
    return update_running(session, ClipRow, clip_id, changes)


def clip_film(session: Session, clip_id: UUID) -> bytes | None:
    """The finished film; None where it is not there."""
    film: bytes | None = session.scalar(select(ClipRow.film).where(ClipRow.id == clip_id))
    return film


def drop_older(session: Session, shootout_id: UUID, kept: int) -> None:
    """Take away the oldest clips that nobody waits for: each can be made again as it was."""
    newest = (
        select(ClipRow.id)
        .where(ClipRow.shootout_id == shootout_id)
        .order_by(ClipRow.created_at.desc(), ClipRow.id)
        .limit(kept)
    )
    session.execute(
        delete(ClipRow).where(
            ClipRow.shootout_id == shootout_id,
            ClipRow.state != "running",
            ClipRow.id.not_in(newest),
        )
    )
