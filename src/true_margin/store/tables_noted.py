"""Tables of what was noted of setups on tasks, and of presets; nothing noted is deleted."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.store.base import Base, Keyed, filled


class PresetRow(Keyed, Base):
    """Export settings under a name, for any shootout."""

    __tablename__ = "presets"
    __table_args__ = (UniqueConstraint("name"), filled("name"))
    name: Mapped[str] = mapped_column(String(80))
    settings: Mapped[dict[str, Any]]


class NotedRow(Keyed):
    """What was noted of a setup on a task; the newest counts, the others stay."""

    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), index=True
    )
    setup_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    who: Mapped[str] = mapped_column(String(120))
    noted_at: Mapped[datetime]


class SettingsUsedRow(NotedRow, Base):
    """The export settings that were really used on a setup."""

    __tablename__ = "settings_used"
    settings: Mapped[dict[str, Any]]


class OutputFileRow(NotedRow, Base):
    """What a probe said of the file that a setup exported."""

    __tablename__ = "output_files"
    run_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("runs.id", ondelete="RESTRICT"))
    name: Mapped[str] = mapped_column(String(200))
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    facts: Mapped[dict[str, Any]]


class OutputLookRow(NotedRow, Base):
    """What a person saw and heard of an exported file."""

    __tablename__ = "output_looks"
    plays: Mapped[bool | None]
    in_sync: Mapped[bool | None]
    colour_right: Mapped[bool | None]


class PlaybackRow(NotedRow, Base):
    """The best preview quality that a setup held, and the frames it dropped."""

    __tablename__ = "playbacks"
    __table_args__ = (
        CheckConstraint("quality IN ('full', 'half', 'quarter', 'none')", name="quality_known"),
        CheckConstraint("dropped >= 0 AND total > 0 AND dropped <= total", name="dropped_range"),
        CheckConstraint("(dropped IS NULL) = (total IS NULL)", name="dropped_whole"),
    )
    quality: Mapped[str] = mapped_column(String(10))
    dropped: Mapped[int | None]
    total: Mapped[int | None]
    note: Mapped[str | None] = mapped_column(String(500))
