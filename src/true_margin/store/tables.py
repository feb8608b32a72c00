"""The tables of a shootout, with every rule that the database itself can keep."""

from __future__ import annotations

import uuid
from datetime import date, datetime
from decimal import Decimal
from typing import Any

from sqlalchemy import (
    BigInteger,
    CheckConstraint,
    ForeignKey,
    Identity,
    Index,
    LargeBinary,
    Numeric,
    String,
    UniqueConstraint,
    func,
    text,
)
from sqlalchemy.orm import Mapped, mapped_column

from true_margin.core.choices import Operation, PriceKind, TaskMeasure
from true_margin.core.study import Bound, RunStatus
from true_margin.store.base import Base, Keyed, Versioned, filled, one_of, shootout_key


class ShootoutRow(Versioned, Base):
    """One comparison and its settings."""

    __tablename__ = "shootouts"
    __table_args__ = (
        UniqueConstraint("slug"),
        filled("name"),
        CheckConstraint("confidence > 0 AND confidence < 1", name="confidence_range"),
        CheckConstraint("materiality >= 0 AND materiality <= 1", name="materiality_range"),
        CheckConstraint("prior_df >= 0 AND prior_cv >= 0", name="prior_range"),
        CheckConstraint("unit_prior_cv >= 0 AND unit_prior_cv <= 0.5", name="unit_prior_range"),
        CheckConstraint("planned_runs >= 1 AND planned_runs <= 1000", name="planned_runs_range"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_code"),
        one_of("price_kind", PriceKind),
    )
    slug: Mapped[str] = mapped_column(String(80))
    name: Mapped[str] = mapped_column(String(200))
    subject: Mapped[str] = mapped_column(String(40), default="machine")
    currency: Mapped[str] = mapped_column(String(3), default="EUR")
    confidence: Mapped[float] = mapped_column(default=0.95)
    materiality: Mapped[float] = mapped_column(default=0.03)
    prior_df: Mapped[float] = mapped_column(default=3.0)
    prior_cv: Mapped[float] = mapped_column(default=0.02)
    update_prior_df: Mapped[float] = mapped_column(default=2.0)
    update_prior_cv: Mapped[float] = mapped_column(default=0.015)
    # How much samples of one model differ; 0 takes them for alike.
    unit_prior_cv: Mapped[float] = mapped_column(default=0.015, server_default="0.015")
    # Runs of each setup on each task that were planned before any; empty for no plan.
    planned_runs: Mapped[int | None]
    baseline_setup_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey(
            "setups.id", name="fk_shootouts_baseline_setup_id", ondelete="SET NULL", use_alter=True
        )
    )
    price_date: Mapped[date]
    price_kind: Mapped[str] = mapped_column(String(10), default="list", server_default="list")
    # Rows of the spec sheet that are on trial besides the subject.
    trial_rows: Mapped[list[str]] = mapped_column(default=list, server_default="[]")
    demo: Mapped[bool] = mapped_column(default=False)
    archived_at: Mapped[datetime | None]
    # Set on the frozen copy that an edition shows; a trigger then refuses every change.
    edition_of: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("shootouts.id", ondelete="RESTRICT")
    )
    # Rises with every change inside the shootout; caches and open tabs compare it.
    revision: Mapped[int] = mapped_column(default=1)
    # When something inside it was changed last; None until then.
    worked_at: Mapped[datetime | None]
    # The revision at which something else than runs, marks and settings changed last.
    rest_revision: Mapped[int] = mapped_column(default=1, server_default="1")


class MachineRow(Versioned, Base):
    """A physical computer; ``specs`` holds its rows of the spec sheet by field."""

    __tablename__ = "machines"
    __table_args__ = (UniqueConstraint("shootout_id", "name"), filled("name"), filled("model"))
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))
    # What a shop sells; None where the machine is the only sample of its own.
    model: Mapped[str | None] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(default=0)
    specs: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    retired_at: Mapped[datetime | None]
    archived_at: Mapped[datetime | None]


class SetupRow(Versioned, Base):
    """A machine in one tested state; ``specs`` holds only what differs from the machine."""

    __tablename__ = "setups"
    __table_args__ = (
        UniqueConstraint("machine_id", "name"),
        filled("name"),
        CheckConstraint("assumed_ratio > 0 AND assumed_ratio <= 1000", name="assumed_ratio_range"),
        CheckConstraint(
            "(assumed_ratio IS NULL) = (assumed_against_id IS NULL) AND "
            "(assumed_ratio IS NULL) = (assumed_source IS NULL)",
            name="assumed_whole",
        ),
    )
    machine_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("machines.id", ondelete="RESTRICT"), index=True
    )
    name: Mapped[str] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(default=0)
    # Colour and shape on every screen; stays when machines are put in another order.
    mark: Mapped[int] = mapped_column(default=0, server_default="0")
    specs: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    conditions: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    assumed_ratio: Mapped[float | None]
    assumed_against_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("setups.id", ondelete="RESTRICT")
    )
    assumed_source: Mapped[str | None] = mapped_column(String(200))


class FreeSheetRow(Keyed, Base):
    """A row of the spec sheet that the reviewer added."""

    __tablename__ = "free_rows"
    __table_args__ = (UniqueConstraint("shootout_id", "title"), filled("title"))
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    title: Mapped[str] = mapped_column(String(60))
    unit: Mapped[str | None] = mapped_column(String(20))
    number: Mapped[bool]
    position: Mapped[int] = mapped_column(default=0)


class PriceRow(Keyed, Base):
    """What a machine cost, of one kind, on one day."""

    __tablename__ = "prices"
    __table_args__ = (
        CheckConstraint("amount >= 0", name="amount_not_negative"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_code"),
        one_of("kind", PriceKind),
        CheckConstraint("(withdrawn_at IS NULL) = (withdrawn_why IS NULL)", name="withdrawn_whole"),
    )
    machine_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("machines.id", ondelete="RESTRICT"), index=True
    )
    kind: Mapped[str] = mapped_column(String(10))
    amount: Mapped[Decimal] = mapped_column(Numeric(14, 3))
    currency: Mapped[str] = mapped_column(String(3))
    dated: Mapped[date]
    source: Mapped[str | None] = mapped_column(String(200))
    until: Mapped[date | None]
    configuration: Mapped[str | None] = mapped_column(String(200))
    coupon: Mapped[str | None] = mapped_column(String(60))
    note: Mapped[str | None] = mapped_column(String(500))
    tax_included: Mapped[bool | None]
    shipping_included: Mapped[bool | None]
    paid_link: Mapped[bool | None]
    # Where it is good; None for anywhere.
    region: Mapped[str | None] = mapped_column(String(60))
    link: Mapped[str | None] = mapped_column(String(500))
    # The price that this one stands for, which is withdrawn.
    corrects_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("prices.id", ondelete="RESTRICT")
    )
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str | None] = mapped_column(String(500))
    # Of two of one day the one that was added later counts.
    place: Mapped[int] = mapped_column(BigInteger, Identity())


class ExtraRow(Keyed, Base):
    """Something that a setup needed besides its machine."""

    __tablename__ = "extras"
    __table_args__ = (
        filled("name"),
        CheckConstraint("amount >= 0", name="amount_not_negative"),
        CheckConstraint("currency ~ '^[A-Z]{3}$'", name="currency_code"),
    )
    setup_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("setups.id", ondelete="RESTRICT"), index=True
    )
    name: Mapped[str] = mapped_column(String(120))
    amount: Mapped[Decimal] = mapped_column(Numeric(14, 3))
    currency: Mapped[str] = mapped_column(String(3))
    dated: Mapped[date]


class AppRow(Keyed, Base):
    """An app that tasks are run in."""

    __tablename__ = "apps"
    __table_args__ = (UniqueConstraint("shootout_id", "name"), filled("name"))
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))


class AppVersionRow(Keyed, Base):
    """A version of an app, as far as runs were made with it."""

    __tablename__ = "app_versions"
    __table_args__ = (UniqueConstraint("app_id", "name"), filled("name"))
    app_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("apps.id", ondelete="RESTRICT"))
    name: Mapped[str] = mapped_column(String(60))


class TimelineRow(Keyed, Base):
    """An edited project that is exported."""

    __tablename__ = "timelines"
    __table_args__ = (
        UniqueConstraint("shootout_id", "name"),
        filled("name"),
        CheckConstraint("length_s > 0", name="length_positive"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))
    length_s: Mapped[float | None]
    note: Mapped[str | None] = mapped_column(String(2000))


class TimelineFileRow(Keyed, Base):
    """A timeline as saved on one machine, or as the reviewer keeps it (no setup)."""

    __tablename__ = "timeline_files"
    __table_args__ = (filled("name"), CheckConstraint("edl_rate > 0", name="edl_rate_positive"))
    timeline_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("timelines.id", ondelete="RESTRICT"), index=True
    )
    setup_id: Mapped[uuid.UUID | None] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    name: Mapped[str] = mapped_column(String(200))
    edl_rate: Mapped[float | None]
    # Read only when two files are compared; a list of files does not need it.
    content: Mapped[bytes] = mapped_column(LargeBinary, deferred=True)
    size: Mapped[int]
    fingerprint: Mapped[str] = mapped_column(String(64))
    facts: Mapped[dict[str, Any]]
    who: Mapped[str] = mapped_column(String(120))
    added_at: Mapped[datetime]


class TaskRow(Versioned, Base):
    """What is timed: a timeline, an app, an operation and its settings."""

    __tablename__ = "tasks"
    __table_args__ = (
        UniqueConstraint("shootout_id", "app_id", "name"),
        filled("name"),
        UniqueConstraint("follows_id"),
        one_of("measure", TaskMeasure),
        one_of("operation", Operation),
        CheckConstraint("work > 0", name="work_positive"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(200))
    position: Mapped[int] = mapped_column(default=0)
    timeline_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("timelines.id", ondelete="RESTRICT")
    )
    app_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("apps.id", ondelete="RESTRICT"))
    operation: Mapped[str | None] = mapped_column(String(120))
    settings: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    starts_when: Mapped[str | None] = mapped_column(String(60))
    ends_when: Mapped[str | None] = mapped_column(String(60))
    note: Mapped[str | None] = mapped_column(String(2000))
    revision: Mapped[int] = mapped_column(default=1, server_default="1")
    # The task as it was before a setting changed; its runs stay with it.
    follows_id: Mapped[uuid.UUID | None] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT")
    )
    measure: Mapped[str] = mapped_column(String(20), default="time")
    work: Mapped[float | None]
    unit: Mapped[str | None] = mapped_column(String(40))
    # What moves its time besides the machine: to, up_to_s, why.
    sensitivities: Mapped[list[dict[str, Any]]] = mapped_column(default=list, server_default="[]")


class OverruleRow(Keyed, Base):
    """A person's word that two setups were given the same job on a task after all."""

    __tablename__ = "overrules"
    __table_args__ = (
        filled("reason"),
        CheckConstraint("setup_a_id < setup_b_id", name="pair_ordered"),
    )
    task_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("tasks.id", ondelete="RESTRICT"), index=True
    )
    setup_a_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    setup_b_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    reason: Mapped[str] = mapped_column(String(500))
    who: Mapped[str] = mapped_column(String(120))
    made_at: Mapped[datetime]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_by: Mapped[str | None] = mapped_column(String(120))


class RoundRow(Keyed, Base):
    """A stretch of bench time with software versions and conditions held."""

    __tablename__ = "rounds"
    __table_args__ = (UniqueConstraint("shootout_id", "name"), filled("name"))
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    name: Mapped[str] = mapped_column(String(120))
    position: Mapped[int] = mapped_column(default=0)
    # The shootout that it was brought in from.
    brought_from: Mapped[str | None] = mapped_column(String(200))


class RoundVersionRow(Base):
    """Which app version a round was run with."""

    __tablename__ = "round_versions"
    round_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("rounds.id", ondelete="RESTRICT"), primary_key=True
    )
    app_version_id: Mapped[uuid.UUID] = mapped_column(
        ForeignKey("app_versions.id", ondelete="RESTRICT"), primary_key=True
    )


class RunRow(Versioned, Base):
    """One attempt; never deleted (a trigger keeps it so)."""

    __tablename__ = "runs"
    __table_args__ = (
        UniqueConstraint("shootout_id", "client_key"),
        one_of("status", RunStatus),
        one_of("bound", Bound),
        CheckConstraint("status <> 'ok' OR value IS NOT NULL", name="ok_has_value"),
        CheckConstraint("value > 0 AND value < 'infinity'::float8", name="value_positive"),
        CheckConstraint("resolution > 0", name="resolution_positive"),
        CheckConstraint("u >= 0 AND u < 'infinity'::float8", name="u_not_negative"),
        CheckConstraint("status = 'ok' OR btrim(reason) <> ''", name="reason_given"),
        CheckConstraint("status = 'ok' OR reason IS NOT NULL", name="reason_present"),
        CheckConstraint("reached >= 0 AND reached <= 1", name="reached_range"),
        CheckConstraint("placed_u >= 0 AND placed_u < 'infinity'", name="placed_u_not_negative"),
        Index("ix_runs_task_id_setup_id_round_id", "task_id", "setup_id", "round_id"),
        Index("ix_runs_shootout_id_stamp", "shootout_id", "stamp"),
        Index("ix_runs_shootout_id_place", "shootout_id", "place"),
    )
    shootout_id: Mapped[uuid.UUID] = shootout_key()
    setup_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("setups.id", ondelete="RESTRICT"))
    task_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("tasks.id", ondelete="RESTRICT"))
    round_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("rounds.id", ondelete="RESTRICT"))
    place: Mapped[int]
    status: Mapped[str] = mapped_column(String(10))
    value: Mapped[float | None]
    typed: Mapped[str | None] = mapped_column(String(60))
    resolution: Mapped[float | None]
    approximate: Mapped[bool] = mapped_column(default=False)
    # The value is only known to be over (>) or under (<) this; empty where it was read.
    bound: Mapped[str | None] = mapped_column(String(1))
    method: Mapped[str] = mapped_column(String(20))
    u: Mapped[float] = mapped_column(default=0.0)
    # Seconds between two looks of a watcher; what placing presses of two devices adds to u.
    poll_s: Mapped[float | None]
    placed_u: Mapped[float] = mapped_column(default=0.0, server_default="0")
    # How far a failed run came, 0 to 1; what was seen before the start; timed by a rig.
    reached: Mapped[float | None]
    conditions: Mapped[dict[str, Any]] = mapped_column(default=dict, server_default="{}")
    simulated: Mapped[bool] = mapped_column(default=False, server_default="false")
    reason: Mapped[str | None] = mapped_column(String(500))
    note: Mapped[str | None] = mapped_column(String(2000))
    started_at: Mapped[datetime | None]
    who: Mapped[str] = mapped_column(String(120))
    client_key: Mapped[str] = mapped_column(String(80))
    # A person looked at a time that stands out, and found it right.
    checked: Mapped[bool] = mapped_column(default=False, server_default="false")
    # Rises with every write (a trigger sets it), so that what changed can be read alone.
    stamp: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0")


class RunRevisionRow(Keyed, Base):
    """A run as it stood before a change; never deleted either."""

    __tablename__ = "run_revisions"
    __table_args__ = (UniqueConstraint("run_id", "version"), filled("why"))
    run_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("runs.id", ondelete="RESTRICT"))
    version: Mapped[int]
    before: Mapped[dict[str, Any]]
    who: Mapped[str] = mapped_column(String(120))
    why: Mapped[str] = mapped_column(String(500))
    changed_at: Mapped[datetime] = mapped_column(server_default=func.now())


class MarkRow(Keyed, Base):
    """A progress reading inside a run."""

    __tablename__ = "marks"
    __table_args__ = (
        Index(
            "uq_marks_run_id_elapsed_s",
            "run_id",
            "elapsed_s",
            unique=True,
            postgresql_where=text("withdrawn_at IS NULL"),
        ),
        CheckConstraint("(withdrawn_at IS NULL) = (withdrawn_why IS NULL)", name="withdrawn_whole"),
        CheckConstraint("elapsed_s >= 0", name="elapsed_not_negative"),
        CheckConstraint("fraction >= 0 AND fraction <= 1", name="fraction_range"),
        CheckConstraint(
            "num_nonnulls(fraction, frames_per_s, temperature_c, power_w, memory_gb, swap_gb, "
            "cpu_load, gpu_load, gpu_memory_gb, noise_db, left_s, event, file_gb) > 0",
            name="says_something",
        ),
    )
    run_id: Mapped[uuid.UUID] = mapped_column(ForeignKey("runs.id", ondelete="RESTRICT"))
    stamp: Mapped[int] = mapped_column(BigInteger, default=0, server_default="0", index=True)
    elapsed_s: Mapped[float]
    fraction: Mapped[float | None]
    frames_per_s: Mapped[float | None]
    temperature_c: Mapped[float | None]
    power_w: Mapped[float | None]
    memory_gb: Mapped[float | None]
    swap_gb: Mapped[float | None]
    cpu_load: Mapped[float | None]
    gpu_load: Mapped[float | None]
    gpu_memory_gb: Mapped[float | None]
    noise_db: Mapped[float | None]
    # What was left by the app's own estimate.
    left_s: Mapped[float | None]
    event: Mapped[str | None] = mapped_column(String(200))
    # Size of the file that was written.
    file_gb: Mapped[float | None]
    withdrawn_at: Mapped[datetime | None]
    withdrawn_why: Mapped[str | None] = mapped_column(String(500))
