"""The case file: a whole comparison as one JSON object or one CSV of runs.

Section 12 of the computation page. Everything is checked here, once, with the
path of what is off; the core receives arrays.
"""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from decimal import Decimal
from typing import Annotated, Any, Literal

import numpy as np
from pydantic import BaseModel, ConfigDict, Field, ValidationError, field_validator

from true_margin.core.errors import CaseError, QuantityError
from true_margin.core.money import parse_price
from true_margin.core.quantities import (
    AmbiguousElapsed,
    parse_amount,
    parse_elapsed,
    reading_uncertainty,
)
from true_margin.core.study import (
    STATUS_CODE,
    Measure,
    RunStatus,
    RunTable,
    Settings,
    Study,
    TaskFacts,
)
from true_margin.core.wording import format_elapsed

Name = Annotated[str, Field(min_length=1, max_length=200)]


class _Strict(BaseModel):
    model_config = ConfigDict(extra="forbid", strict=True)


class CaseTask(_Strict):
    """A task as a case file names it."""

    measure: Literal["time", "amount"] = "time"
    app: Name | None = None
    work: float | None = Field(default=None, gt=0)
    unit: str | None = None


class CaseRun(_Strict):
    """One run of a case file."""

    setup: Name
    task: Name
    round: Name | None = None
    order: int | None = None
    value: str | float | None = None
    u: float | None = Field(default=None, ge=0)
    status: Annotated[RunStatus, Field(strict=False)] = RunStatus.OK

    @field_validator("value", mode="before")
    @classmethod
    def _no_booleans(cls, value: object) -> object:
        if isinstance(value, bool):
            raise ValueError("a number or a text is needed, not true or false")
        return float(value) if isinstance(value, int) else value


class CaseFile(_Strict):
    """A case: runs, and defaults for everything else."""

    confidence: float = Field(default=0.95, gt=0, lt=1)
    materiality: float = Field(default=0.03, ge=0)
    prior_df: float = Field(default=3.0, ge=0)
    prior_cv: float = Field(default=0.02, ge=0)
    update_prior_df: float = Field(default=2.0, ge=0)
    update_prior_cv: float = Field(default=0.015, ge=0)
    baseline: Name | None = None
    rounds: list[Name] | None = None
    tasks: dict[Name, CaseTask] | None = None
    mix: dict[Name, Annotated[float, Field(ge=0)]] | None = None
    runs: list[CaseRun]
    prices: dict[Name, str] | None = None


class Reading:
    """A value with its uncertainty, and whether it is only a bound."""

    __slots__ = ("bound", "u", "value")

    def __init__(self, value: float, u: float, bound: bool = False) -> None:
        self.value, self.u, self.bound = value, u, bound


def read_case(text: str) -> Study:
    """Read a case from JSON.

    Raises:
        CaseError: not JSON, an unknown key, or a value that is off, with its path.
    """
    try:
        data = json.loads(text, parse_constant=_no_constant, object_pairs_hook=_no_repeats)
    except json.JSONDecodeError as error:
        where = f"line {error.lineno} column {error.colno}"
        raise CaseError(where, f"not JSON: {error.msg}") from error
    except RecursionError as error:
        raise CaseError("case", "nested too deeply to be a case") from error
    if not isinstance(data, dict):
        raise CaseError("case", "a JSON object is needed, with at least 'runs'")
    return build_study(data)


def build_study(data: dict[str, Any]) -> Study:
    """Check a case and turn it into a study.

    Raises:
        CaseError: with the path of the first thing that is off.
    """
    try:
        case = CaseFile.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise CaseError(_path(first["loc"]), _reason(first)) from error
    return _study(case)


def _no_constant(name: str) -> float:
    raise CaseError("case", f"{name} is not a number that JSON allows")


def _no_repeats(pairs: list[tuple[str, Any]]) -> dict[str, Any]:
    """Refuse a key that stands twice: one of the two would be lost in silence."""
    keys = [key for key, _ in pairs]
    twice = next((key for key in keys if keys.count(key) > 1), None) if len(keys) < 500 else None
    if twice is not None:
        raise CaseError(twice, "this key stands twice in one object")
    return dict(pairs)


def _path(parts: Sequence[str | int]) -> str:
    text = ""
    for part in parts:
        if isinstance(part, int):
            text += f"[{part}]"
        elif part not in ("str", "float", "[key]"):
            text += f".{part}" if text else str(part)
    return text or "case"


def _reason(error: Any) -> str:
    if error["type"] == "extra_forbidden":
        return "unknown key"
    if error["type"] == "missing":
        return "is missing"
    message = str(error["msg"]).removeprefix("Value error, ")
    received = error.get("input")
    shown = "" if isinstance(received, (dict, list)) else f", got {received!r}"
    return message[:1].lower() + message[1:] + shown


def _study(case: CaseFile) -> Study:
    setups = _names(run.setup for run in case.runs)
    declared = case.tasks or {}
    task_names = [*declared, *(t for t in _names(r.task for r in case.runs) if t not in declared)]
    rounds = _rounds(case)
    tasks = tuple(_facts(name, declared.get(name)) for name in task_names)
    if case.baseline is not None and case.baseline not in setups:
        raise CaseError("baseline", f"no run of a setup named {case.baseline!r}")
    baseline = case.baseline if case.baseline is not None else (setups[0] if setups else None)
    return Study(
        setups=tuple(setups),
        tasks=tasks,
        rounds=tuple(rounds),
        runs=_columns(case, setups, task_names, rounds, tasks),
        baseline=None if baseline is None else setups.index(baseline),
        mix=_mix(case, task_names),
        prices=_prices(case, setups),
        settings=Settings(
            case.confidence,
            case.materiality,
            case.prior_df,
            case.prior_cv,
            case.update_prior_df,
            case.update_prior_cv,
        ),
    )


def _names(values: Any) -> list[str]:
    return list(dict.fromkeys(values))


def _rounds(case: CaseFile) -> list[str]:
    if case.rounds is None:
        return _names(run.round or "r1" for run in case.runs) or ["r1"]
    if len(set(case.rounds)) != len(case.rounds):
        raise CaseError("rounds", "a round is named twice")
    if not case.rounds:
        raise CaseError("rounds", "at least one round is needed")
    return case.rounds


def _facts(name: str, task: CaseTask | None) -> TaskFacts:
    task = task or CaseTask()
    return TaskFacts(name, Measure(task.measure), task.app or name, task.work, task.unit)


def _mix(case: CaseFile, tasks: list[str]) -> tuple[float, ...]:
    if case.mix is None:
        return (1.0,) * len(tasks)
    unknown = next((name for name in case.mix if name not in tasks), None)
    if unknown is not None:
        raise CaseError(f"mix.{unknown}", "no task has this name")
    return tuple(case.mix.get(name, 0.0) for name in tasks)


def _prices(case: CaseFile, setups: list[str]) -> tuple[Decimal | None, ...]:
    if case.prices is None:
        return ()
    amounts = {}
    for name, text in case.prices.items():
        if name not in setups:
            raise CaseError(f"prices.{name}", "no run of a setup with this name")
        try:
            amounts[name] = parse_price(text, "XXX").amount
        except QuantityError as error:
            raise CaseError(f"prices.{name}", error.reason) from error
    return tuple(amounts.get(name) for name in setups)


def _columns(
    case: CaseFile,
    setups: list[str],
    task_names: list[str],
    rounds: list[str],
    tasks: tuple[TaskFacts, ...],
) -> RunTable:
    setup_at = {name: i for i, name in enumerate(setups)}
    task_at = {name: i for i, name in enumerate(task_names)}
    round_at = {name: i for i, name in enumerate(rounds)}
    readings = []
    for place, run in enumerate(case.runs):
        if run.round is not None and run.round not in round_at:
            raise CaseError(f"runs[{place}].round", f"no round is named {run.round!r}")
        readings.append(_reading(run, tasks[task_at[run.task]].measure, f"runs[{place}].value"))
    default_round = len(rounds) - 1 if case.rounds is None or len(rounds) == 1 else None
    return RunTable(
        setup=np.array([setup_at[run.setup] for run in case.runs], dtype=np.intp),
        task=np.array([task_at[run.task] for run in case.runs], dtype=np.intp),
        round=np.array(
            [_round_index(run, i, round_at, default_round) for i, run in enumerate(case.runs)],
            dtype=np.intp,
        ),
        order=np.array(
            [i + 1 if run.order is None else run.order for i, run in enumerate(case.runs)],
            dtype=np.int64,
        ),
        value=np.array([reading.value for reading in readings], dtype=float),
        u=np.array([reading.u for reading in readings], dtype=float),
        status=np.array([STATUS_CODE[RunStatus(run.status)] for run in case.runs], dtype=np.int8),
        bound=np.array([reading.bound for reading in readings], dtype=bool),
    )


def _round_index(run: CaseRun, place: int, round_at: dict[str, int], default: int | None) -> int:
    if run.round is not None:
        return round_at[run.round]
    if "r1" in round_at:
        return round_at["r1"]
    if default is None:
        raise CaseError(f"runs[{place}].round", "is missing, and the case has several rounds")
    return default


def _reading(run: CaseRun, measure: Measure, path: str) -> Reading:
    if run.value is None:
        if run.status == "ok":
            raise CaseError(path, "is missing; only void and failed runs may lack a value")
        return Reading(math.nan, 0.0)
    if isinstance(run.value, float):
        if not (math.isfinite(run.value) and run.value > 0):
            raise CaseError(path, f"must be a positive number, got {run.value!r}")
        return Reading(run.value, run.u or 0.0)
    try:
        return _typed(run.value, measure, run.u)
    except QuantityError as error:
        raise CaseError(path, error.reason) from error


def _typed(text: str, measure: Measure, u: float | None) -> Reading:
    if measure is Measure.AMOUNT:
        amount = parse_amount(text)
        own = reading_uncertainty(amount.resolution, approximate=amount.approximate)
        return Reading(amount.value, own if u is None else u, amount.bound)
    elapsed = parse_elapsed(text)
    if isinstance(elapsed, AmbiguousElapsed):
        raise QuantityError(describe_ambiguity(elapsed))
    own = reading_uncertainty(elapsed.resolution_s, approximate=elapsed.approximate)
    return Reading(elapsed.seconds, own if u is None else u, elapsed.bound)


def describe_ambiguity(time: AmbiguousElapsed) -> str:
    """Say both meanings of an ambiguous time, and how to write each."""
    clock, decimal = time.as_clock.seconds, time.as_decimal.seconds
    return (
        f"{time.text!r} has two meanings: {format_elapsed(clock)} ({clock:g} s) or "
        f"{format_elapsed(decimal)} ({decimal:g} s); write the one that is meant"
    )
