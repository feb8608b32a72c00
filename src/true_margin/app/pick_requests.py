"""What a request about viewers and picks may hold."""

from __future__ import annotations

from decimal import Decimal
from typing import Annotated, Literal
from uuid import UUID

from pydantic import Field, StringConstraints, field_validator

from true_margin.app.requests import Currency, Name, Request, Version
from true_margin.core.choices import RuleName

Money = Annotated[
    Decimal, Field(max_digits=14, decimal_places=3, gt=-(10**9), lt=10**9, allow_inf_nan=False)
]
Number = Annotated[float, Field(gt=-1e12, lt=1e12, allow_inf_nan=False)]
Region = Annotated[str, StringConstraints(strip_whitespace=True, max_length=60)]
Prices = Annotated[dict[UUID, Money], Field(max_length=500)]


class ViewerNeed(Request):
    """One need: a row of the sheet, or something observed."""

    about: Annotated[str, StringConstraints(max_length=60)] = Field(
        description="Field of a row; noise_db, failures, playback, trial:… or trouble:…"
    )
    relation: Literal[
        "at least", "at most", "is", "is not", "contains", "includes", "not before", "none"
    ] = Field(description="How it is asked for")
    value: Annotated[str, StringConstraints(strip_whitespace=True, max_length=200)] | None = Field(
        default=None, description="What is asked for, as typed; left out with none"
    )


class TaskForViewer(Request):
    """What one task is to a viewer."""

    task_id: UUID = Field(description="Task of the shootout")
    weight: Number = Field(default=0.0, description="Weight in the mix")
    amount: Number = Field(default=0.0, description="Work a week, in the task's unit or in runs")
    by_run: bool = Field(default=False, description="The amount counts whole runs")
    accepted_s: Annotated[float, Field(gt=0, lt=1e9, allow_inf_nan=False)] | None = Field(
        default=None, description="Longest time of one run that is fast enough, in seconds"
    )


class ViewerFields(Request):
    """What may be said of a viewer; money in the viewer's currency."""

    weekly: bool = Field(default=False, description="Weekly work counts, not the mix")
    rule: RuleName = Field(default=RuleName.FASTEST, description="By what a machine is picked")
    currency: Currency = Field(default="EUR", description="ISO 4217")
    region: Region | None = Field(default=None, description="Where the viewer buys")
    tax_percent: Annotated[Decimal, Field(ge=0, le=100, decimal_places=3)] | None = Field(
        default=None, description="Tax added to prices that are without it"
    )
    budget: Money | None = Field(default=None, description="The most that may be paid")
    owned_setup_id: UUID | None = Field(default=None, description="Setup that the viewer has")
    resale: Money = Field(default=Decimal(0), description="What that brings when it is sold")
    hour_value: Money = Field(default=Decimal(20), description="What an hour is worth")
    attended: Number = Field(
        default=0.5, description="Share of the waiting that is lost time, 0 to 1"
    )
    weeks: Number = Field(default=48.0, description="Working weeks a year")
    horizon_years: Number = Field(default=3.0, description="Years that a machine is kept")
    energy_price: Annotated[Money, Field(ge=0)] | None = Field(
        default=None, description="Price of a kilowatt-hour"
    )
    needs: Annotated[list[ViewerNeed], Field(max_length=30)] = Field(
        default_factory=list, description="What a machine must have"
    )
    tasks: Annotated[list[TaskForViewer], Field(max_length=500)] = Field(
        default_factory=list, description="What each task is to the viewer"
    )

    @field_validator("region")
    @classmethod
    def _blank_is_none(cls, value: str | None) -> str | None:
        return value or None

    @field_validator("tasks")
    @classmethod
    def _each_once(cls, value: list[TaskForViewer]) -> list[TaskForViewer]:
        if len({part.task_id for part in value}) != len(value):
            raise ValueError("a task stands twice")
        return value


class NewViewer(ViewerFields):
    """A viewer to add."""

    name: Name = Field(description="Name, unique in the shootout")
    copy_from: UUID | None = Field(default=None, description="Viewer to be like")


class ViewerChange(ViewerFields):
    """Fields of a viewer to change; those left out stay as they are."""

    version: Version
    name: Name | None = Field(default=None, description="New name")


class TriedViewer(ViewerFields):
    """A viewer to pick for without storing anything."""


class WhatIf(Request):
    """A what-if: a viewer, and prices to try."""

    viewer: TriedViewer = Field(description="The viewer as tried")
    prices: Prices = Field(
        default_factory=dict,
        description="Prices to try by setup, as tested, in the viewer's currency",
    )


class KeptPrices(Request):
    """Tried prices to store."""

    prices: Annotated[Prices, Field(min_length=1)] = Field(
        description="Prices by setup, as tested, in the viewer's currency"
    )


class ViewerRetirement(Request):
    """Whether a viewer is retired."""

    retired: bool = Field(description="True to retire it, false to bring it back")


class ViewerOrder(Request):
    """The viewers in their new order."""

    viewer_ids: list[UUID] = Field(max_length=200, description="Every viewer once")
