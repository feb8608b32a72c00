"""Tables of the bench between devices: lanes, the events behind them, paired devices."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import String, UniqueConstraint, func
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base, Keyed, shootout_key
from true_margin.store.tables_people import person_key


class BenchEventRow(Keyed, Base):
    """One event of a lane, as a device told it; the same one is kept once."""

    __tablename__ = "bench_events"
    __table_args__ = (UniqueConstraint("shootout_id", "client", "seq"),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    client: Mapped[str] = mapped_column(String(80))
    seq: Mapped[int]
    kind: Mapped[str] = mapped_column(String(20))
    at_ms: Mapped[float]
    lane: Mapped[dict[str, Any]]
    received_at: Mapped[datetime] = mapped_column(server_default=func.now())


class BenchClockRow(Base):
    """When the bench's clock stood at nought, in ms since 1970, by start of a machine."""

    __tablename__ = "bench_clocks"
    machine_start: Mapped[str] = mapped_column(String(120), primary_key=True)
    began_ms: Mapped[float]
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class BenchLaneRow(Keyed, Base):
    """A lane as it stands, with the stamp of its newest event."""

    __tablename__ = "bench_lanes"
    __table_args__ = (UniqueConstraint("shootout_id", "lane_key"),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    lane_key: Mapped[str] = mapped_column(String(80))
    at_ms: Mapped[float]
    client: Mapped[str] = mapped_column(String(80))
    seq: Mapped[int]
    lane: Mapped[dict[str, Any]]


class PairCodeRow(Keyed, Base):
    """A code that one device may be paired with, once and for a while."""

    __tablename__ = "pair_codes"
    __table_args__ = (UniqueConstraint("code_hash"),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    code_hash: Mapped[str] = mapped_column(String(64))
    expires_at: Mapped[datetime]
    used_at: Mapped[datetime | None]
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)


class PairedDeviceRow(Keyed, Base):
    """A device that may work on one bench until it is revoked."""

    __tablename__ = "paired_devices"
    __table_args__ = (UniqueConstraint("token_hash"),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))
    token_hash: Mapped[str] = mapped_column(String(64))
    paired_at: Mapped[datetime]
    seen_at: Mapped[datetime]
    revoked_at: Mapped[datetime | None]
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)
