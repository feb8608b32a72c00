"""Tables of what was noted of setups on tasks, and of presets; nothing noted is deleted."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, LargeBinary, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import (
    JudgedAs,
    JudgedPart,
    PlaybackQuality,
    TrialGrade,
    TrialKind,
    TroubleKind,
)
from true_margin.store.base import Base, Keyed, filled, one_of
from true_margin.store.tables_people import person_key


class PresetRow(Keyed, Base):
    """Export settings under a name, for any shootout of whoever made them."""

    __tablename__ = "presets"
    __table_args__ = (
        Index(
            "uq_presets_person_id_name",
            "person_id",
            "name",
            unique=True,
            postgresql_nulls_not_distinct=True,
        ),
        filled("name"),
    )
    # Empty where they were made at the machine itself, without accounts.
    person_id: Mapped[uuid.UUID | None] = person_key(empty=True)
    name: Mapped[str] = mapped_column(String(80))
    settings: Mapped[dict[str, Any]]


class SeenRow(Keyed):
    """What was noted of a setup, when and by whom."""

    setup_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    who: Mapped[str] = mapped_column(String(120))
    noted_at: Mapped[datetime]


class NotedRow(SeenRow):
    """What was noted of a setup on a task; the newest counts, the others stay."""

    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), index=True
    )


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
        one_of("quality", PlaybackQuality),
        CheckConstraint("dropped >= 0 AND total > 0 AND dropped <= total", name="dropped_range"),
        CheckConstraint("(dropped IS NULL) = (total IS NULL)", name="dropped_whole"),
    )
    quality: Mapped[str] = mapped_column(String(10))
    dropped: Mapped[int | None]
    total: Mapped[int | None]
    note: Mapped[str | None] = mapped_column(String(500))


class LoggedRow(SeenRow):
    """An entry of the log: what it was seen under, and how it was put right; none is deleted.

    It is of a task, or of an app without one, or of the machine alone.
    """

    task_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), index=True
    )
    app_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("apps.id", ondelete="RESTRICT"))
    # A number with its unit, as typed.
    measured: Mapped[str | None] = mapped_column(String(60))
    # Of the app, as it was then.
    app_version: Mapped[str | None] = mapped_column(String(60))
    seen_under: Mapped[str | None] = mapped_column(String(200))
    timecode: Mapped[str | None] = mapped_column(String(20))
    note: Mapped[str | None] = mapped_column(String(500))
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str | None] = mapped_column(String(500))


WITHDRAWN_WHOLE = "(withdrawn_at IS NULL) = (withdrawn_why IS NULL)"
ONE_PLACE = "num_nonnulls(task_id, app_id) <= 1"


class TrialRow(LoggedRow, Base):
    """A graded judgement of the edit itself."""

    __tablename__ = "trials"
    __table_args__ = (
        one_of("kind", TrialKind),
        one_of("grade", TrialGrade),
        CheckConstraint("freezes >= 0", name="freezes_not_negative"),
        CheckConstraint("dropped >= 0 AND total > 0 AND dropped <= total", name="dropped_range"),
        CheckConstraint("(dropped IS NULL) = (total IS NULL)", name="dropped_whole"),
        CheckConstraint("(kind = 'own kind') = (own_kind IS NOT NULL)", name="own_kind_whole"),
        CheckConstraint(ONE_PLACE, name="one_place"),
        CheckConstraint(WITHDRAWN_WHOLE, name="withdrawn_whole"),
    )
    kind: Mapped[str] = mapped_column(String(30))
    own_kind: Mapped[str | None] = mapped_column(String(60))
    grade: Mapped[str] = mapped_column(String(10))
    freezes: Mapped[int | None]
    dropped: Mapped[int | None]
    total: Mapped[int | None]
    corrects_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("trials.id", ondelete="RESTRICT")
    )


class TroubleRow(LoggedRow, Base):
    """A fault worth telling that is not a time."""

    __tablename__ = "troubles"
    __table_args__ = (
        one_of("kind", TroubleKind),
        CheckConstraint("times >= 1", name="times_range"),
        CheckConstraint(ONE_PLACE, name="one_place"),
        CheckConstraint(WITHDRAWN_WHOLE, name="withdrawn_whole"),
    )
    run_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("runs.id", ondelete="RESTRICT"))
    kind: Mapped[str] = mapped_column(String(30))
    # How often it happened; once where nobody says.
    times: Mapped[int | None]
    fixed_in: Mapped[str | None] = mapped_column(String(60))
    corrects_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("troubles.id", ondelete="RESTRICT")
    )


class NotedRatioRow(NotedRow, Base):
    """How many times as fast a setup is as another, as somebody else says; never deleted."""

    __tablename__ = "noted_ratios"
    __table_args__ = (
        filled("typed"),
        filled("source"),
        CheckConstraint("setup_id <> against_id", name="two_setups"),
        CheckConstraint("(withdrawn_at IS NULL) = (withdrawn_why IS NULL)", name="withdrawn_whole"),
        # The same table pasted twice notes nothing twice.
        UniqueConstraint("task_id", "client_key"),
    )
    against_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    typed: Mapped[str] = mapped_column(String(60))
    source: Mapped[str] = mapped_column(String(200))
    client_key: Mapped[str | None] = mapped_column(String(80))
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str | None] = mapped_column(String(500))


class JudgementRow(Keyed, Base):
    """A person's word on whether it was the same work; withdrawn, never deleted."""

    __tablename__ = "judgements"
    __table_args__ = (
        one_of("judged_as", JudgedAs),
        one_of("part", JudgedPart),
        CheckConstraint(
            "(judged_as = 'looked at') = (part IS NOT NULL)", name="looked_at_something"
        ),
        CheckConstraint(
            "CASE WHEN part IS NOT NULL THEN setup_id IS NOT NULL AND other_setup_id IS NULL "
            "AND other_task_id IS NULL ELSE reason IS NOT NULL AND "
            "(other_task_id IS NULL) = (setup_id IS NOT NULL) AND "
            "(setup_id IS NULL) = (other_setup_id IS NULL) END",
            name="about_two",
        ),
        CheckConstraint("setup_id <> other_setup_id", name="two_setups"),
        CheckConstraint("task_id <> other_task_id", name="two_tasks"),
        filled("reason"),
        CheckConstraint(WITHDRAWN_WHOLE, name="withdrawn_whole"),
    )
    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), index=True
    )
    other_task_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT")
    )
    setup_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    other_setup_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("setups.id", ondelete="RESTRICT")
    )
    judged_as: Mapped[str] = mapped_column(String(20))
    part: Mapped[str | None] = mapped_column(String(20))
    reason: Mapped[str | None] = mapped_column(String(500))
    who: Mapped[str] = mapped_column(String(120))
    noted_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str | None] = mapped_column(String(500))


class RunPictureRow(Keyed, Base):
    """A picture of the screen that belongs to a run or to an entry of the log."""

    __tablename__ = "run_pictures"
    __table_args__ = (
        CheckConstraint("media_type IN ('image/png', 'image/jpeg')", name="media_type_known"),
        CheckConstraint("num_nonnulls(run_id, trial_id, trouble_id) = 1", name="of_one_thing"),
        filled("name"),
    )
    run_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("runs.id", ondelete="RESTRICT"), index=True
    )
    trial_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("trials.id", ondelete="RESTRICT"))
    trouble_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("troubles.id", ondelete="RESTRICT")
    )
    name: Mapped[str] = mapped_column(String(200))
    media_type: Mapped[str] = mapped_column(String(20))
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    size: Mapped[int]
    who: Mapped[str] = mapped_column(String(120))
    added_at: Mapped[datetime]
