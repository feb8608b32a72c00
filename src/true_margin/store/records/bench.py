"""The bench between devices."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class BenchEvent:
    """One event of a lane as a device told it; ``at_ms`` on the server's clock."""

    client: str
    seq: int
    kind: str
    at_ms: float
    lane: dict[str, Any]
    received_at: datetime


@dataclass(frozen=True, slots=True)
class PairedDevice:
    """A device that may work on one bench until it is revoked; ``person_id`` paired it."""

    id: UUID
    shootout_id: UUID
    name: str
    paired_at: datetime
    seen_at: datetime
    revoked_at: datetime | None
    person_id: UUID | None = None
