"""Kits and results that others sent in."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Kit:
    """What is given out with a shootout; its secret seals the results that it makes."""

    id: UUID
    shootout_id: UUID
    secret: str
    made_at: datetime
    made_by: str


@dataclass(frozen=True, slots=True)
class SentResult:
    """A result that somebody sent in; ``content`` is None once it was erased.

    ``setup_id`` is the setup here that is of the same model and state; ``sealed`` says that it
    is as the kit of this shootout wrote it.
    """

    id: UUID
    digest: str
    content: dict[str, Any] | None
    sealed: bool
    received_at: datetime
    received_by: str
    state: str
    setup_id: UUID | None
    why: str | None
    judged_at: datetime | None
    judged_by: str | None
