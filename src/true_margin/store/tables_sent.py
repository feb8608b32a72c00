"""Tables of kits and of results that others sent in; of one that is erased its dates stay."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import SentState
from true_margin.store.base import Base, Keyed, one_of


class KitRow(Keyed, Base):
    """The kit of a shootout: whoever has it can seal a result with its secret."""

    __tablename__ = "kits"
    __table_args__ = (UniqueConstraint("shootout_id"),)
    shootout_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shootouts.id", ondelete="RESTRICT"))
    secret: Mapped[str] = mapped_column(String(64))
    made_at: Mapped[datetime]
    made_by: Mapped[str] = mapped_column(String(120))


class SentResultRow(Keyed, Base):
    """One result that somebody sent in, and what was decided about it."""

    __tablename__ = "sent_results"
    __table_args__ = (
        UniqueConstraint("shootout_id", "digest"),
        one_of("state", SentState),
        CheckConstraint("(state = 'erased') = (content IS NULL)", name="erased_whole"),
        CheckConstraint("(state = 'new') = (judged_at IS NULL)", name="judged_whole"),
    )
    shootout_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), index=True
    )
    digest: Mapped[str] = mapped_column(String(64))
    content: Mapped[dict[str, Any] | None]
    sealed: Mapped[bool]
    received_at: Mapped[datetime]
    received_by: Mapped[str] = mapped_column(String(120))
    state: Mapped[str] = mapped_column(String(20))
    setup_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    why: Mapped[str | None] = mapped_column(String(500))
    judged_at: Mapped[datetime | None]
    judged_by: Mapped[str | None] = mapped_column(String(120))
