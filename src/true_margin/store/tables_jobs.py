"""The table of jobs: what a request asked for and a process beside the requests does."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import LargeBinary, String, func
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import JobState
from true_margin.store.base import Base, Keyed, one_of
from true_margin.store.tables_people import person_key


class JobRow(Keyed, Base):
    """One job; ``done`` from 0 to 1, its file is let go of at the end."""

    __tablename__ = "jobs"
    __table_args__ = (one_of("state", JobState),)
    kind: Mapped[str] = mapped_column(String(20))
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)
    request: Mapped[dict[str, Any]]
    file: Mapped[bytes | None] = mapped_column(LargeBinary)
    state: Mapped[str] = mapped_column(String(10))
    step: Mapped[str] = mapped_column(String(200))
    done: Mapped[float]
    answer: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    problem: Mapped[dict[str, Any] | None] = mapped_column(JSONB(none_as_null=True))
    # When whoever does it was heard of last.
    seen_at: Mapped[datetime]
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
