"""Tables of the viewers that machines are picked for."""

from __future__ import annotations

import uuid
from datetime import datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Numeric, String, UniqueConstraint
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import RuleName
from true_margin.store.base import Base, Versioned, filled, one_of, shootout_key

_MONEY = Numeric(14, 3)


class ViewerRow(Versioned, Base):
    """Somebody who asks which machine to buy; retired ones stay."""

    __tablename__ = "viewers"
    __table_args__ = (
        UniqueConstraint("shootout_id", "name"),
        filled("name"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_code"),
        one_of("rule", RuleName),
        CheckConstraint("budget >= 0", name="budget_range"),
        CheckConstraint("resale >= 0", name="resale_range"),
        CheckConstraint("hour_value >= 0", name="hour_value_range"),
        CheckConstraint("energy_price >= 0", name="energy_price_range"),
        CheckConstraint("tax_percent >= 0 AND tax_percent <= 100", name="tax_percent_range"),
        CheckConstraint("attended >= 0 AND attended <= 1", name="attended_range"),
        CheckConstraint("weeks > 0 AND weeks <= 52", name="weeks_range"),
        CheckConstraint("horizon_years > 0 AND horizon_years <= 50", name="horizon_years_range"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(default=0)
    # True where the weekly work counts, false where the mix does.
    weekly: Mapped[bool] = mapped_column(default=False)
    rule: Mapped[str] = mapped_column(String(10))
    currency: Mapped[str] = mapped_column(String(3))
    region: Mapped[str | None] = mapped_column(String(60))
    tax_percent: Mapped[Decimal | None] = mapped_column(Numeric(6, 3))
    budget: Mapped[Decimal | None] = mapped_column(_MONEY)
    owned_setup_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("setups.id", ondelete="RESTRICT")
    )
    resale: Mapped[Decimal] = mapped_column(_MONEY, default=Decimal(0))
    hour_value: Mapped[Decimal] = mapped_column(_MONEY, default=Decimal(0))
    attended: Mapped[float] = mapped_column(default=0.5)
    weeks: Mapped[float] = mapped_column(default=48.0)
    horizon_years: Mapped[float] = mapped_column(default=3.0)
    energy_price: Mapped[Decimal | None] = mapped_column(_MONEY)
    # Needs in their order: about, relation, value.
    needs: Mapped[list[dict[str, Any]]] = mapped_column(JSONB, default=list)
    retired_at: Mapped[datetime | None]


class ViewerTaskRow(Base):
    """What one task is to a viewer: its weight, how much of it a week, the time accepted."""

    __tablename__ = "viewer_tasks"
    __table_args__ = (
        CheckConstraint("weight >= 0 AND weight < 'infinity'::float8", name="weight_range"),
        CheckConstraint("amount >= 0 AND amount < 'infinity'::float8", name="amount_range"),
        CheckConstraint(
            "accepted_s > 0 AND accepted_s < 'infinity'::float8", name="accepted_s_range"
        ),
    )
    viewer_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("viewers.id", ondelete="RESTRICT"), primary_key=True
    )
    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), primary_key=True
    )
    weight: Mapped[float] = mapped_column(default=0.0)
    amount: Mapped[float] = mapped_column(default=0.0)
    # True where the amount counts whole runs, false where it is in the task's unit of work.
    by_run: Mapped[bool] = mapped_column(default=False)
    accepted_s: Mapped[float | None]
