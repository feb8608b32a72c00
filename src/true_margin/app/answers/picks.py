"""Viewers and their cards, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.desk.picks.picks import PickProblem
from true_margin.desk.picks.viewers import PickPoint


class ViewerTask(Answer):
    """What one task is to a viewer.

    ``amount`` a week is in the task's unit of work, or in runs where ``by_run``;
    ``accepted_s`` is the longest time of one run that is fast enough.
    """

    task_id: UUID
    weight: float
    amount: float
    by_run: bool
    accepted_s: float | None


class Viewer(Answer):
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


class ViewerCard(Answer):
    """A viewer with the pick in short; ``problem`` where there is none."""

    viewer: Viewer
    pick: str | None
    keep: bool
    prob_best: float | None
    sentence: str | None
    problem: PickProblem | None
    points: tuple[PickPoint, ...]
