"""Tables of what looked wrong and was looked into, and of figures published elsewhere."""

from __future__ import annotations

import uuid
from datetime import datetime

from sqlalchemy import CheckConstraint, ForeignKey, String, UniqueConstraint
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import CountedRuns, StepKind
from true_margin.core.published import FigureKind
from true_margin.store.base import Base, Keyed, Versioned, filled, one_of, shootout_key


def _to(table: str) -> ForeignKey:
    return ForeignKey(f"{table}.id", ondelete="RESTRICT")


class InquiryRow(Versioned, Base):
    """Something out of line that a person looks into; never deleted."""

    __tablename__ = "inquiries"
    __table_args__ = (
        one_of("counts", CountedRuns),
        CheckConstraint(
            "closed_at IS NULL OR (counts IS NOT NULL AND outcome IS NOT NULL)",
            name="closed_with_outcome",
        ),
        filled("about"),
        filled("suspected"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    task_id: Mapped[uuid.UUID | None] = mapped_column(_to("tasks"))
    setup_a_id: Mapped[uuid.UUID | None] = mapped_column(_to("setups"))
    setup_b_id: Mapped[uuid.UUID | None] = mapped_column(_to("setups"))
    kind: Mapped[str] = mapped_column(String(40))
    about: Mapped[str] = mapped_column(String(500))
    suspected: Mapped[str] = mapped_column(String(1000))
    changed: Mapped[str | None] = mapped_column(String(1000))
    outcome: Mapped[str | None] = mapped_column(String(1000))
    # Which result counts: the runs before, those tried again, both, or none of them.
    counts: Mapped[str | None] = mapped_column(String(10))
    who: Mapped[str] = mapped_column(String(120))
    opened_at: Mapped[datetime]
    closed_at: Mapped[datetime | None]


class InquiryStepRow(Keyed, Base):
    """A dated step of an inquiry; never changed, never deleted."""

    __tablename__ = "inquiry_steps"
    __table_args__ = (
        UniqueConstraint("inquiry_id", "place"),
        one_of("kind", StepKind),
        one_of("counts", CountedRuns),
        filled("words"),
        CheckConstraint("place >= 1", name="place_range"),
        CheckConstraint("kind = 'tried again' OR words IS NOT NULL", name="words_present"),
        CheckConstraint("counts IS NULL OR kind = 'came out'", name="counts_at_the_end"),
    )
    inquiry_id: Mapped[uuid.UUID] = mapped_column(_to("inquiries"))
    place: Mapped[int]
    kind: Mapped[str] = mapped_column(String(20))
    words: Mapped[str | None] = mapped_column(String(1000))
    counts: Mapped[str | None] = mapped_column(String(10))
    who: Mapped[str] = mapped_column(String(120))
    noted_at: Mapped[datetime]


class InquirySeenRow(Keyed, Base):
    """An entry of the log that belongs to a step of an inquiry."""

    __tablename__ = "inquiry_seen"
    __table_args__ = (
        CheckConstraint("num_nonnulls(trial_id, trouble_id) = 1", name="one_entry"),
        UniqueConstraint("step_id", "trial_id"),
        UniqueConstraint("step_id", "trouble_id"),
    )
    step_id: Mapped[uuid.UUID] = mapped_column(_to("inquiry_steps"))
    trial_id: Mapped[uuid.UUID | None] = mapped_column(_to("trials"))
    trouble_id: Mapped[uuid.UUID | None] = mapped_column(_to("troubles"))


class InquiryRunRow(Base):
    """A run that was tried again in an inquiry, in which step."""

    __tablename__ = "inquiry_runs"
    inquiry_id: Mapped[uuid.UUID] = mapped_column(_to("inquiries"), primary_key=True)
    run_id: Mapped[uuid.UUID] = mapped_column(_to("runs"), primary_key=True)
    step_id: Mapped[uuid.UUID | None] = mapped_column(_to("inquiry_steps"))


class PublishedFigureRow(Keyed, Base):
    """A figure that somebody else published; set beside ours, never counted."""

    __tablename__ = "published_figures"
    __table_args__ = (
        one_of("kind", FigureKind),
        CheckConstraint("(kind = 'value') = (setup_b_id IS NULL)", name="pair_where_compared"),
        CheckConstraint("value > 0 AND value < 'infinity'::float8", name="value_positive"),
        filled("source"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    task_id: Mapped[uuid.UUID | None] = mapped_column(_to("tasks"))
    setup_a_id: Mapped[uuid.UUID] = mapped_column(_to("setups"))
    setup_b_id: Mapped[uuid.UUID | None] = mapped_column(_to("setups"))
    kind: Mapped[str] = mapped_column(String(20))
    value: Mapped[float]
    source: Mapped[str] = mapped_column(String(300))
    who: Mapped[str] = mapped_column(String(120))
    noted_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
