"""The tables of a data pack: one model a table, its keys, and what refers to what."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Annotated
from uuid import UUID

from pydantic import BeforeValidator, Field

from true_margin.core.choices import Operation, PriceKind, TaskMeasure
from true_margin.core.readings import ReadingMethod
from true_margin.core.study import Bound, RunStatus
from true_margin.exchange.pack_rows import (
    CONTENT_NAME,
    PICTURE_NAME,
    Currency,
    Name,
    PackRow,
    Part,
    Positive,
    Text,
)


class PackShootout(PackRow):
    """The comparison itself; one row. Its id says which shootout a pack can update."""

    id: UUID | None = None
    name: Name
    subject: Name = "machine"
    currency: Currency = "EUR"
    confidence: float = Field(default=0.95, gt=0, lt=1)
    materiality: float = Field(default=0.03, ge=0, le=1)
    prior_df: float = Field(default=3.0, ge=0.5)
    prior_cv: float = Field(default=0.02, gt=0)
    update_prior_df: float = Field(default=2.0, ge=0.5)
    update_prior_cv: float = Field(default=0.015, gt=0)
    unit_prior_cv: float = Field(default=0.015, ge=0, le=0.5)
    planned_runs: int | None = Field(default=None, ge=1, le=1000)
    price_date: date
    price_kind: PriceKind = PriceKind.LIST
    baseline_machine: Name | None = None
    baseline_setup: Name | None = None


class PackMachine(PackRow):
    """A computer; its specs stand in a table of their own."""

    name: Name
    retired_at: datetime | None = None
    archived_at: datetime | None = None
    model: Name | None = None


class PackSetup(PackRow):
    """A machine in one tested state."""

    machine: Name
    name: Name
    mark: int | None = Field(default=None, ge=0)
    assumed_ratio: float | None = Field(default=None, gt=0, le=1000)
    assumed_against_machine: Name | None = None
    assumed_against_setup: Name | None = None
    assumed_source: Text | None = None


class PackFreeRow(PackRow):
    """A row of the spec sheet that the reviewer added."""

    title: str = Field(min_length=1, max_length=60)
    unit: str | None = Field(default=None, max_length=20)
    number: bool = False


class PackTrialRow(PackRow):
    """A row of the spec sheet that is on trial besides the subject."""

    row: Name


class PackSpec(PackRow):
    """A cell of the spec sheet, of a machine."""

    machine: Name
    row: Name
    value: Text
    unit: Text | None = None


class PackSetupSpec(PackSpec):
    """What a setup has of its own, or the state that it was tested in."""

    setup: Name


class PackPrice(PackRow):
    """A price record of a machine."""

    machine: Name
    kind: PriceKind
    amount: Decimal = Field(ge=0, max_digits=14, decimal_places=3)
    currency: Currency
    dated: date
    source: Text | None = None
    until: date | None = None
    configuration: Text | None = None
    coupon: Text | None = None
    note: Text | None = None
    tax_included: bool | None = None
    shipping_included: bool | None = None
    paid_link: bool | None = None
    region: str | None = Field(default=None, max_length=60)
    link: str | None = Field(default=None, max_length=500)
    corrects_amount: Decimal | None = Field(default=None, ge=0, max_digits=14, decimal_places=3)
    withdrawn_at: datetime | None = None
    withdrawn_why: Text | None = None


class PackExtra(PackRow):
    """Something that a setup needed besides its machine."""

    machine: Name
    setup: Name
    name: Name
    amount: Decimal = Field(ge=0, max_digits=14, decimal_places=3)
    currency: Currency
    dated: date


class PackTimeline(PackRow):
    """An edited project that is exported."""

    name: Name
    length_s: Positive | None = None


class PackTimelineFile(PackRow):
    """A timeline's file, as saved on a setup or as the reviewer keeps it."""

    timeline: Name
    machine: Name | None = None
    setup: Name | None = None
    name: Name
    content: str = Field(pattern=CONTENT_NAME)
    edl_rate: Positive | None = None
    who: Text = "unknown"
    added_at: datetime


class PackTask(PackRow):
    """What is timed."""

    name: Name
    app: Name
    timeline: Name | None = None
    operation: Operation | None = None
    starts_when: str | None = Field(default=None, max_length=60)
    ends_when: str | None = Field(default=None, max_length=60)
    note: Text | None = None
    revision: int = Field(default=1, ge=1)
    follows: Name | None = None
    measure: TaskMeasure = TaskMeasure.TIME
    work: Positive | None = None
    unit: Text | None = None
    # As it was given, where another app has a task of the same name.
    own_name: Name | None = None


class PackSensitivity(PackRow):
    """What moves the time of a task besides the machine, by so many seconds at most."""

    task: Name
    to: Annotated[str, Field(min_length=1, max_length=60)]
    up_to_s: Positive
    why: Text | None = None


class PackTaskSetting(PackRow):
    """An export setting of a task."""

    task: Name
    field: Name
    value: Text


class PackRound(PackRow):
    """A round; the oldest comes first."""

    name: Name
    brought_from: Name | None = None


class PackRoundVersion(PackRow):
    """Which version of an app a round was run with."""

    round: Name
    app: Name
    version: Name


def _bound_cell(value: object) -> object:
    """Packs of before said only that there was a bound, which was always above the value."""
    text = str(value).casefold()
    return {"true": Bound.OVER, "false": None}.get(text, value)


BoundCell = Annotated[Bound | None, BeforeValidator(_bound_cell)]


class PackRun(PackRow):
    """One attempt, as it stands now; ``value`` in seconds or the amount's unit."""

    id: Name
    machine: Name
    setup: Name
    task: Name
    round: Name
    place: int = Field(ge=0)
    status: RunStatus
    value: Positive | None = None
    typed: Text | None = None
    resolution: Positive | None = None
    approximate: bool = False
    bound: BoundCell = None
    method: ReadingMethod = ReadingMethod.STOPWATCH
    u: float = Field(default=0.0, ge=0, allow_inf_nan=False)
    reason: Text | None = None
    note: Text | None = None
    started_at: datetime | None = None
    poll_s: Positive | None = None
    placed_u: float = Field(default=0.0, ge=0, allow_inf_nan=False)
    reached: float | None = Field(default=None, ge=0, le=1)
    conditions: Text = "{}"
    simulated: bool = False
    who: Text = "unknown"
    version: int = Field(default=1, ge=1)
    checked: bool = False


class PackPicture(PackRow):
    """A picture of the screen that belongs to a run, or to an entry of the log."""

    run: Name | None = None
    entry: Annotated[str, Field(pattern="^(trial|trouble)$")] | None = None
    machine: Name | None = None
    setup: Text | None = None
    entry_at: datetime | None = None
    name: Name
    content: str = Field(pattern=PICTURE_NAME)
    who: Text = "unknown"
    added_at: datetime


class PackRevision(PackRow):
    """A run as it stood before a change."""

    run: Name
    version: int = Field(ge=1)
    changed_at: datetime
    who: Name
    why: Name
    before: Text


class PackMark(PackRow):
    """A reading inside a run; loads from 0 to 1."""

    run: Name
    elapsed_s: float = Field(ge=0, allow_inf_nan=False)
    fraction: Part | None = None
    frames_per_s: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    temperature_c: float | None = Field(default=None, ge=-100, le=300, allow_inf_nan=False)
    power_w: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    memory_gb: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    swap_gb: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    cpu_load: Part | None = None
    gpu_load: Part | None = None
    gpu_memory_gb: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    noise_db: float | None = Field(default=None, ge=0, le=200, allow_inf_nan=False)
    left_s: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    event: str | None = Field(default=None, max_length=200)
    file_gb: float | None = Field(default=None, ge=0, allow_inf_nan=False)
    withdrawn_at: datetime | None = None
    withdrawn_why: Text | None = None
