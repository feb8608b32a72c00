"""Tables of what was planned before the first run."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, String
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base, Keyed, filled, shootout_key


class PlanRow(Keyed, Base):
    """A plan as it was frozen before the first run; never changed, never deleted."""

    __tablename__ = "plans"
    __table_args__ = (
        CheckConstraint("runs >= 1 AND runs <= 1000", name="runs_range"),
        CheckConstraint("confidence > 0 AND confidence < 1", name="confidence_range"),
        CheckConstraint("materiality >= 0 AND materiality <= 1", name="materiality_range"),
        filled("words"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    runs: Mapped[int]
    confidence: Mapped[float]
    materiality: Mapped[float]
    # What would count as a difference, in the reviewer's words.
    words: Mapped[str | None] = mapped_column(String(1000))
    who: Mapped[str] = mapped_column(String(120))
    frozen_at: Mapped[datetime]


class PlanPartRow(Keyed, Base):
    """A task, or a setup, that a plan holds."""

    __tablename__ = "plan_parts"
    __table_args__ = (CheckConstraint("num_nonnulls(task_id, setup_id) = 1", name="one_part"),)
    plan_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("plans.id", ondelete="RESTRICT"), index=True
    )
    task_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("tasks.id", ondelete="RESTRICT"))
    setup_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
