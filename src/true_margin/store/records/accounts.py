"""A person who may sign in, as read."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Account:
    """A person's account; ``ended_at`` where it is good no longer."""

    id: UUID
    email: str
    name: str
    made_at: datetime
    ended_at: datetime | None
