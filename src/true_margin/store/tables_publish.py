"""Tables of what is published: script, cards, links to public pages, editions, reports."""

from __future__ import annotations

import uuid
from datetime import datetime
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    LargeBinary,
    String,
    Text,
    UniqueConstraint,
    func,
)
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import CardKind, LinkOpens, ReportState
from true_margin.store.base import Base, Keyed, Versioned, one_of, shootout_key


class ScriptRow(Versioned, Base):
    """The script of a shootout; one each."""

    __tablename__ = "scripts"
    shootout_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), unique=True
    )
    text: Mapped[str] = mapped_column(Text)
    # Verdict of each claim, by its sentence, when a person saw it last.
    verdicts: Mapped[dict[str, Any]]
    # Other names that the reviewer uses, each with the id of its setup.
    names: Mapped[dict[str, Any]] = mapped_column(default=dict)
    # What a person said that a sentence means, by the sentence: its readings, or none for "this
    # claims nothing".
    answers: Mapped[dict[str, Any]] = mapped_column(default=dict)
    # Phrasings that were confirmed, by their pattern.
    phrasings: Mapped[dict[str, Any]] = mapped_column(default=dict)


class CardRow(Versioned, Base):
    """A card that is kept; what it shows is worked out anew each time."""

    __tablename__ = "cards"
    __table_args__ = (
        one_of("kind", CardKind),
        CheckConstraint("seconds > 0 AND seconds <= 3600", name="seconds_range"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    position: Mapped[int] = mapped_column(default=0)
    kind: Mapped[str] = mapped_column(String(10))
    # None means the mix.
    task_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("tasks.id", ondelete="RESTRICT"))
    viewer_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("viewers.id", ondelete="RESTRICT")
    )
    # Ids of setups: in which order, which to be seen first, which left out.
    setups: Mapped[dict[str, Any]] = mapped_column(default=dict)
    # None takes the words that the data gives.
    title: Mapped[str | None] = mapped_column(String(200))
    subtitle: Mapped[str | None] = mapped_column(String(300))
    source: Mapped[str | None] = mapped_column(String(300))
    # How long it stays on the timeline.
    seconds: Mapped[float] = mapped_column(default=6.0)
    retired_at: Mapped[datetime | None]


class LinkRow(Keyed, Base):
    """A secret link to the public page of a shootout, or to its race; revoked ones stay."""

    __tablename__ = "links"
    __table_args__ = (one_of("opens", LinkOpens),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    token: Mapped[str] = mapped_column(String(64), unique=True)
    opens: Mapped[str] = mapped_column(String(10), default="page", server_default="page")
    revoked_at: Mapped[datetime | None]
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class EditionRow(Keyed, Base):
    """An edition: a numbered frozen copy, and what changed since the one before."""

    __tablename__ = "editions"
    __table_args__ = (UniqueConstraint("shootout_id", "number"),)
    shootout_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shootouts.id", ondelete="RESTRICT"))
    number: Mapped[int]
    frozen_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("shootouts.id", ondelete="RESTRICT"))
    note: Mapped[str | None] = mapped_column(Text)
    changes: Mapped[list[str]]
    rates: Mapped[dict[str, Any] | None]
    # Whose page it is, and what it says of paid links, as the house had it then.
    channel: Mapped[str | None] = mapped_column(String(120))
    disclosure: Mapped[str | None] = mapped_column(String(500))
    who: Mapped[str] = mapped_column(String(80))
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class EditionFigureRow(Keyed, Base):
    """A figure that left the house with an edition, as it was written there."""

    __tablename__ = "edition_figures"
    __table_args__ = (UniqueConstraint("edition_id", "task", "label"),)
    edition_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("editions.id", ondelete="RESTRICT"))
    task: Mapped[str] = mapped_column(String(300))
    label: Mapped[str] = mapped_column(String(300))
    shown: Mapped[str] = mapped_column(String(80))


class ClipRow(Keyed, Base):
    """A card as a film that is being made or is there; ``done`` from 0 to 1."""

    __tablename__ = "clips"
    __table_args__ = (one_of("state", ReportState),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    card_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("cards.id", ondelete="RESTRICT"))
    # What its file is called, without its ending.
    name: Mapped[str] = mapped_column(String(300))
    # Shape, look, kind of film and timing.
    asked: Mapped[dict[str, Any]]
    revision: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(String(10))
    step: Mapped[str] = mapped_column(String(200))
    done: Mapped[float]
    problem: Mapped[str | None] = mapped_column(Text)
    size: Mapped[int | None] = mapped_column(BigInteger)
    film: Mapped[bytes | None] = mapped_column(LargeBinary)
    # When whoever makes it was heard of last.
    seen_at: Mapped[datetime]
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())


class ReportRow(Keyed, Base):
    """A report that is being made or is there; ``done`` from 0 to 1."""

    __tablename__ = "reports"
    __table_args__ = (one_of("state", ReportState),)
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    revision: Mapped[int] = mapped_column(BigInteger)
    state: Mapped[str] = mapped_column(String(10))
    step: Mapped[str] = mapped_column(String(200))
    done: Mapped[float]
    problem: Mapped[str | None] = mapped_column(Text)
    html: Mapped[bytes | None] = mapped_column(LargeBinary)
    pdf: Mapped[bytes | None] = mapped_column(LargeBinary)
    # When whoever makes it was heard of last.
    seen_at: Mapped[datetime]
    created_at: Mapped[datetime] = mapped_column(server_default=func.now())
