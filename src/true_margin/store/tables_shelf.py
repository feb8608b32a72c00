"""The table of what the shelf says of each shootout."""

from __future__ import annotations

import uuid
from typing import Any

from sqlalchemy import ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base


class ShelfLineRow(Base):
    """What was worked out of a shootout at a revision, so that the shelf need not open it.

    Nothing of it is typed: a line of an earlier revision is worked out again.
    """

    __tablename__ = "shelf_lines"
    shootout_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), primary_key=True
    )
    # The point and the sign between thousands that its numbers are written with.
    signs: Mapped[str] = mapped_column(String(8), primary_key=True)
    revision: Mapped[int]
    answer: Mapped[str] = mapped_column(String(2000))
    waiting: Mapped[list[str]]
    needs_you: Mapped[bool]
    facts: Mapped[str] = mapped_column(String(500))
    bars: Mapped[list[dict[str, Any]]]
