"""A case file as it may be written: its parts, each checked on its own."""

from __future__ import annotations

import re
from dataclasses import dataclass
from typing import Annotated, Literal

from pydantic import BaseModel, ConfigDict, Field, field_validator

from true_margin.core.study import Bound, RunStatus

BEGINS_AS_BOUND = re.compile(
    r"^\s*(?:[<>]|(?:over|under|more than|less than|at least|at most)\b)", re.IGNORECASE
)
Name = Annotated[str, Field(min_length=1, max_length=200)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


def _no_boolean(value: object) -> object:
    if isinstance(value, bool):
        raise ValueError("a number or a text is needed, not true or false")
    return float(value) if isinstance(value, int) else value


class CaseTask(_Strict):
    """A task as a case file names it."""

    measure: Literal["time", "amount"] = "time"
    app: Name | None = None
    work: float | None = Field(default=None, gt=0)
    unit: str | None = None
    planned_runs: int | None = Field(default=None, ge=1)


class CaseSetup(_Strict):
    """What a setup is a sample of."""

    model: Name | None = None
    unit: Name | None = None


class CaseRatio(_Strict):
    """A ratio of speeds that was noted elsewhere."""

    task: Name
    a: Name
    b: Name
    ratio: str | float
    digits: int | None = Field(default=None, ge=0, le=9)
    u_rel: float | None = Field(default=None, ge=0)
    bound: Annotated[Bound, Field(strict=False)] | None = None
    source: str = ""

    _whole = field_validator("ratio", mode="before")(_no_boolean)


class CaseViewer(_Strict):
    """Who asks for a pick."""

    rule: Literal["fastest", "value", "net worth", "fast enough"] = "fastest"
    owned: Name | None = None
    resale: str | None = None
    budget: str | None = None
    weekly: dict[Name, Annotated[float, Field(ge=0)]] = Field(default_factory=dict)
    hour_value: float = Field(default=0.0, ge=0)
    attended: float = Field(default=0.5, ge=0, le=1)
    weeks: float = Field(default=48.0, ge=0, le=53)
    years: float = Field(default=3.0, gt=0)
    accepted: dict[Name, Annotated[float, Field(gt=0)]] = Field(default_factory=dict)


class CaseRun(_Strict):
    """One run of a case file."""

    setup: Name
    task: Name
    round: Name | None = None
    order: int | None = None
    value: str | float | None = None
    u: float | None = Field(default=None, ge=0)
    resolution: float | None = Field(default=None, gt=0)
    bound: Annotated[Bound, Field(strict=False)] | None = None
    status: Annotated[RunStatus, Field(strict=False)] = RunStatus.OK

    _whole = field_validator("value", mode="before")(_no_boolean)


class CaseFile(_Strict):
    """A case: runs, and defaults for everything else."""

    confidence: float = Field(default=0.95, gt=0, lt=1)
    materiality: float = Field(default=0.03, ge=0)
    prior_df: float = Field(default=3.0, ge=0)
    prior_cv: float = Field(default=0.02, ge=0)
    update_prior_df: float = Field(default=2.0, ge=0)
    update_prior_cv: float = Field(default=0.015, ge=0)
    unit_prior_df: float = Field(default=4.0, ge=0)
    unit_prior_cv: float = Field(default=0.015, ge=0)
    planned_runs: int | None = Field(default=None, ge=1)
    allow_noted: bool = False
    baseline: Name | None = None
    rounds: list[Name] | None = None
    tasks: dict[Name, CaseTask] | None = None
    setups: dict[Name, CaseSetup] | None = None
    ratios: list[CaseRatio] | None = None
    viewer: CaseViewer | None = None
    mix: dict[Name, Annotated[float, Field(ge=0)]] | None = None
    runs: list[CaseRun]
    prices: dict[Name, str] | None = None


@dataclass(frozen=True, slots=True)
class Reading:
    """A value with its uncertainty, its smallest step (0: none), and the bound that it is."""

    value: float
    u: float
    resolution: float = 0.0
    bound: Bound | None = None
