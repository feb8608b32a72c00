"""The bench and the devices paired with it, as the API answers them."""

from __future__ import annotations

from datetime import datetime
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.app.answers.shootouts import AppVersion
from true_margin.desk.bench.bench import BestSoFar, UsualTime


class BenchView(Answer):
    """The round that runs go into, the best so far of each task, and what setups usually take."""

    round: str | None
    round_versions: tuple[AppVersion, ...]
    best: tuple[BestSoFar, ...]
    usual: tuple[UsualTime, ...]


class PairedDevice(Answer):
    """A device that may work on one bench until it is revoked; ``person_id`` paired it."""

    id: UUID
    shootout_id: UUID
    name: str
    paired_at: datetime
    seen_at: datetime
    revoked_at: datetime | None
    person_id: UUID | None = None


class Devices(Answer):
    """The way in for other devices, if it is open, and those that were paired."""

    addresses: tuple[str, ...]
    fingerprint: str | None
    devices: tuple[PairedDevice, ...]
