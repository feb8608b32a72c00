"""What the store gives out of viewers: frozen values."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class ViewerTask:
    """What one task is to a viewer.

    ``amount`` a week is in the task's unit of work, or in runs where ``by_run``;
    ``accepted_s`` is the longest time of one run that is fast enough.
    """

    task_id: UUID
    weight: float
    amount: float
    by_run: bool
    accepted_s: float | None


@dataclass(frozen=True, slots=True)
class Viewer:
    """Somebody whom a machine is picked for; money in ``currency``.

    ``weekly`` says whether amounts count or weights; ``attended`` is a fraction, ``needs``
    hold ``about``, ``relation`` and ``value``.
    """

    id: UUID
    name: str
    position: int
    weekly: bool
    rule: str
    currency: str
    region: str | None
    tax_percent: Decimal | None
    budget: Decimal | None
    owned_setup_id: UUID | None
    resale: Decimal
    hour_value: Decimal
    attended: float
    weeks: float
    horizon_years: float
    energy_price: Decimal | None
    needs: list[dict[str, Any]]
    retired_at: datetime | None
    version: int
    tasks: tuple[ViewerTask, ...] = ()
