"""Tables of the store room: what outlives one shootout. Runs stay where they were made."""

from __future__ import annotations

import uuid
from datetime import date, datetime
from typing import Any

from sqlalchemy import CheckConstraint, ForeignKey, Index, String, UniqueConstraint, func, text
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import Keeping, Operation, PriceKind, TaskMeasure
from true_margin.store.base import Base, Keyed, Versioned, filled, one_of


class RoomMachineRow(Versioned, Base):
    """A physical machine over all shootouts; one that became part of another stays as a row."""

    __tablename__ = "room_machines"
    __table_args__ = (
        filled("name"),
        one_of("keeping", Keeping),
        Index(
            "uq_room_machines_name",
            text("lower(name)"),
            "demo",
            unique=True,
            postgresql_where=text("merged_into_id IS NULL"),
        ),
    )
    name: Mapped[str] = mapped_column(String(120))
    model: Mapped[str | None] = mapped_column(String(120))
    # Serial number, or which sample of its model it is.
    sample: Mapped[str | None] = mapped_column(String(120))
    keeping: Mapped[str] = mapped_column(String(10), default="owned", server_default="owned")
    # A lent machine goes back then.
    until: Mapped[date | None]
    note: Mapped[str | None] = mapped_column(String(2000))
    demo: Mapped[bool] = mapped_column(default=False, server_default="false")
    merged_into_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("room_machines.id", ondelete="RESTRICT")
    )


class RoomSpecRow(Keyed, Base):
    """What a row of the spec sheet was from a day on; the newest one stands."""

    __tablename__ = "room_specs"
    __table_args__ = (filled("field"), Index("ix_room_specs_machine_id", "machine_id", "place"))
    machine_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("room_machines.id", ondelete="RESTRICT")
    )
    field: Mapped[str] = mapped_column(String(60))
    # The cell as stored in a spec sheet; none for a row that was emptied.
    value: Mapped[dict[str, Any]]
    # None for "as long as it is known".
    since: Mapped[date | None]
    who: Mapped[str] = mapped_column(String(120))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())
    place: Mapped[int] = mapped_column(default=0)


class RoomSetupRow(Base):
    """Which machine of the store room a setup of a shootout is, and in which state."""

    __tablename__ = "room_setups"
    __table_args__ = (filled("state"),)
    setup_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("setups.id", ondelete="RESTRICT"), primary_key=True
    )
    machine_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("room_machines.id", ondelete="RESTRICT"), index=True
    )
    state: Mapped[str] = mapped_column(String(120))


class RoomTaskRow(Versioned, Base):
    """A standing task: the same job, kept unchanged, over all shootouts."""

    __tablename__ = "room_tasks"
    __table_args__ = (
        filled("name"),
        filled("app"),
        one_of("measure", TaskMeasure),
        one_of("operation", Operation),
        CheckConstraint("work > 0", name="work_positive"),
        Index("uq_room_tasks_name", text("lower(name)"), text("lower(app)"), "demo", unique=True),
    )
    name: Mapped[str] = mapped_column(String(200))
    app: Mapped[str] = mapped_column(String(120))
    timeline: Mapped[str | None] = mapped_column(String(120))
    timeline_length_s: Mapped[float | None]
    operation: Mapped[str | None] = mapped_column(String(120))
    settings: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    starts_when: Mapped[str | None] = mapped_column(String(60))
    ends_when: Mapped[str | None] = mapped_column(String(60))
    measure: Mapped[str] = mapped_column(String(20))
    work: Mapped[float | None]
    unit: Mapped[str | None] = mapped_column(String(40))
    note: Mapped[str | None] = mapped_column(String(2000))
    demo: Mapped[bool] = mapped_column(default=False, server_default="false")


class RoomTaskUseRow(Base):
    """Which standing task a task of a shootout is."""

    __tablename__ = "room_task_uses"
    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), primary_key=True
    )
    standing_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("room_tasks.id", ondelete="RESTRICT"), index=True
    )


class RoomEventRow(Keyed, Base):
    """What was done in the store room, by whom; never deleted."""

    __tablename__ = "room_events"
    __table_args__ = (filled("what"),)
    # The machine or standing task that it is about.
    subject_id: Mapped[uuid.UUID] = mapped_column(index=True)
    what: Mapped[str] = mapped_column(String(40))
    details: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    who: Mapped[str] = mapped_column(String(120))
    made_at: Mapped[datetime] = mapped_column(server_default=func.now())


class SeriesRow(Base):
    """Which shootout another one goes on from."""

    __tablename__ = "series"
    __table_args__ = (CheckConstraint("shootout_id <> continues_id", name="two_shootouts"),)
    shootout_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), primary_key=True
    )
    continues_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT"), index=True
    )


class HouseRow(Versioned, Base):
    """What every new shootout begins with; one row."""

    __tablename__ = "house"
    __table_args__ = (
        UniqueConstraint("single"),
        CheckConstraint("single", name="single_one"),
        CheckConstraint("confidence > 0 AND confidence < 1", name="confidence_range"),
        CheckConstraint("materiality >= 0 AND materiality <= 1", name="materiality_range"),
        CheckConstraint("planned_runs >= 1 AND planned_runs <= 1000", name="planned_runs_range"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_code"),
        one_of("price_kind", PriceKind),
    )
    single: Mapped[bool] = mapped_column(default=True, server_default="true")
    channel: Mapped[str | None] = mapped_column(String(120))
    disclosure: Mapped[str | None] = mapped_column(String(500))
    currency: Mapped[str] = mapped_column(String(3), default="EUR", server_default="EUR")
    price_kind: Mapped[str] = mapped_column(String(10), default="list", server_default="list")
    confidence: Mapped[float] = mapped_column(default=0.95, server_default="0.95")
    materiality: Mapped[float] = mapped_column(default=0.03, server_default="0.03")
    planned_runs: Mapped[int | None]
