"""Tables of what is published."""

from __future__ import annotations

import uuid
from typing import Any

from sqlalchemy import ForeignKey, Text
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base, Versioned


class ScriptRow(Versioned, Base):
    """The script of a shootout; one each."""

    __tablename__ = "scripts"
    shootout_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), unique=True
    )
    text: Mapped[str] = mapped_column(Text)
    # Verdict of each claim, by its sentence, when a person saw it last.
    verdicts: Mapped[dict[str, Any]]
    # Other names that the reviewer uses, each with the id of its setup.
    names: Mapped[dict[str, Any]] = mapped_column(default=dict)
