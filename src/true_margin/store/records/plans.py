"""What was planned before the first run."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Plan:
    """A plan as it was frozen: so many runs of each setup on each task, and how they are judged.

    ``words`` say what would count as a difference, where the reviewer said so.
    """

    id: UUID
    runs: int
    confidence: float
    materiality: float
    words: str | None
    who: str
    frozen_at: datetime
    task_ids: tuple[UUID, ...] = ()
    setup_ids: tuple[UUID, ...] = ()
