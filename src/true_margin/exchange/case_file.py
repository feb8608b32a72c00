"""The case file: a whole comparison as one JSON object or one CSV of runs.

Section 12 of the computation page. Everything is checked here, once, with the
path of what is off; the core receives arrays.
"""

from __future__ import annotations

import json
import math
from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal
from typing import Any

import numpy as np
from pydantic import ValidationError

from true_margin.core.contest import Rule, ViewerProfile
from true_margin.core.errors import CaseError, CoreError, QuantityError
from true_margin.core.money import parse_price
from true_margin.core.notes import number_ratio, parse_ratio
from true_margin.core.quantities import AmbiguousElapsed, parse_amount, parse_elapsed
from true_margin.core.readings import reading_uncertainty
from true_margin.core.study import (
    BOUND_CODE,
    STATUS_CODE,
    Measure,
    Note,
    NotedRatio,
    RunStatus,
    RunTable,
    Settings,
    Study,
    TaskFacts,
)
from true_margin.core.weekly import Waiting
from true_margin.core.wording import format_elapsed
from true_margin.core.work_speed import Work
from true_margin.exchange.case_models import (
    BEGINS_AS_BOUND,
    CaseFile,
    CaseRatio,
    CaseRun,
    CaseSetup,
    CaseTask,
    CaseViewer,
    Reading,
)

RULES = {
    "fastest": Rule.FASTEST,
    "value": Rule.VALUE,
    "net worth": Rule.WORTH,
    "fast enough": Rule.ENOUGH,
}
"""Rules by the names of the case file."""


def read_case(text: str) -> Study:
    """Read a case from JSON, without its viewer.

    Raises:
        CaseError: as ``read_whole_case``.
    """
    return read_whole_case(text).study


def read_whole_case(text: str) -> Case:
    """Read a case from JSON, with its viewer where it has one.

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
    return build_case(data)


def build_study(data: dict[str, Any]) -> Study:
    """Check a case and turn it into a study, without its viewer.

    Raises:
        CaseError: with the path of the first thing that is off.
    """
    return build_case(data).study


@dataclass(frozen=True, slots=True)
class Case:
    """A case: a study, and a viewer where one asks for a pick."""

    study: Study
    viewer: ViewerProfile | None


def build_case(data: dict[str, Any]) -> Case:
    """Check a case and turn it into a study and a viewer.

    Raises:
        CaseError: with the path of the first thing that is off.
    """
    case = _checked(data)
    study = _study(case)
    return Case(study, None if case.viewer is None else _viewer(case.viewer, study))


def _checked(data: dict[str, Any]) -> CaseFile:
    try:
        return CaseFile.model_validate(data)
    except ValidationError as error:
        first = error.errors()[0]
        raise CaseError(_path(first["loc"]), _reason(first)) from error


def _viewer(viewer: CaseViewer, study: Study) -> ViewerProfile:
    """Whom a pick is for, by the indices of a study."""
    tasks = [task.name for task in study.tasks]
    for field, named in (("weekly", viewer.weekly), ("accepted", viewer.accepted)):
        unknown = next((name for name in named if name not in tasks), None)
        if unknown is not None:
            raise CaseError(f"viewer.{field}.{unknown}", "no task has this name")
    if viewer.owned is not None and viewer.owned not in study.setups:
        raise CaseError("viewer.owned", f"no run of a setup named {viewer.owned!r}")
    amounts = tuple(viewer.weekly.get(name, 0.0) for name in tasks)
    budget, resale = _money(viewer.budget, "budget"), _money(viewer.resale, "resale")
    try:
        return ViewerProfile(
            Work(study.mix, amounts if any(amounts) else None),
            RULES[viewer.rule],
            budget,
            None if viewer.owned is None else study.setups.index(viewer.owned),
            resale or Decimal(0),
            Waiting(Decimal(str(viewer.hour_value)), viewer.attended, viewer.weeks),
            viewer.years,
            {tasks.index(name): seconds for name, seconds in viewer.accepted.items()},
        )
    except CoreError as error:
        raise CaseError("viewer", str(error)) from error


def _money(text: str | None, field: str) -> Decimal | None:
    if text is None:
        return None
    try:
        return parse_price(text, "XXX").amount
    except QuantityError as error:
        raise CaseError(f"viewer.{field}", error.reason) from error


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
    timed = _names(run.setup for run in case.runs)
    ratios = case.ratios or []
    setups = _names([*timed, *(name for each in ratios for name in (each.a, each.b))])
    declared = case.tasks or {}
    task_names = [*declared, *(t for t in _names(r.task for r in case.runs) if t not in declared)]
    task_names = _names([*task_names, *(each.task for each in ratios)])
    rounds = _rounds(case)
    tasks = tuple(_facts(name, declared.get(name), case.planned_runs) for name in task_names)
    if case.baseline is not None and case.baseline not in setups:
        raise CaseError("baseline", f"no run of a setup named {case.baseline!r}")
    baseline = case.baseline if case.baseline is not None else (setups[0] if setups else None)
    return Study(
        setups=tuple(setups),
        tasks=tasks,
        rounds=tuple(rounds),
        runs=_columns(case, setups, task_names, rounds, tasks),
        baseline=None if baseline is None else setups.index(baseline),
        mix=_mix(case, task_names, tasks),
        prices=_prices(case, setups),
        settings=Settings(
            case.confidence,
            case.materiality,
            case.prior_df,
            case.prior_cv,
            case.update_prior_df,
            case.update_prior_cv,
            case.unit_prior_df,
            case.unit_prior_cv,
        ),
        **_samples(case, timed, setups),
        notes=tuple(_note(case, i, setups, task_names) for i in range(len(ratios))),
        allow_noted=case.allow_noted,
    )


def _samples(case: CaseFile, timed: list[str], setups: list[str]) -> dict[str, Any]:
    """Which sample and which model each setup is."""
    said = case.setups or {}
    unknown = next((name for name in said if name not in timed), None)
    if unknown is not None:
        raise CaseError(f"setups.{unknown}", "no run of a setup with this name")
    # A setup and a sample that happen to share a name are two: labels of their own.
    units = [_unit_label(name, said.get(name)) for name in setups]
    labels = _names(units)
    models = [(said[name].model or name) if name in said else name for name in setups]
    return {"units": tuple(labels.index(unit) for unit in units), "models": tuple(models)}


def _unit_label(name: str, setup: CaseSetup | None) -> str:
    return f"setup {name}" if setup is None or setup.unit is None else f"unit {setup.unit}"


def _note(case: CaseFile, place: int, setups: list[str], tasks: list[str]) -> Note:
    given = (case.ratios or [])[place]
    path = f"ratios[{place}]"
    if given.a == given.b:
        raise CaseError(f"{path}.b", "a ratio needs two different setups")
    try:
        ratio = _noted(given, case.confidence)
    except QuantityError as error:
        raise CaseError(f"{path}.ratio", error.reason) from error
    return Note(
        tasks.index(given.task), setups.index(given.a), setups.index(given.b), ratio, given.source
    )


def _noted(given: CaseRatio, confidence: float) -> NotedRatio:
    more = {"digits": given.digits, "u_rel": given.u_rel, "bound": given.bound}
    if isinstance(given.ratio, float):
        return number_ratio(given.ratio, confidence, **more)  # type: ignore[arg-type]
    if any(value is not None for value in more.values()):
        raise QuantityError("a ratio that is text says its own digits and bound")
    return parse_ratio(given.ratio)


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


def _facts(name: str, task: CaseTask | None, planned: int | None) -> TaskFacts:
    task = task or CaseTask()
    own = planned if task.planned_runs is None else task.planned_runs
    return TaskFacts(name, Measure(task.measure), task.app or name, task.work, task.unit, own)


def _mix(case: CaseFile, names: list[str], tasks: tuple[TaskFacts, ...]) -> tuple[float, ...]:
    if case.mix is None:
        measured = {run.task for run in case.runs if _is_measured(run)}
        # Where nothing is measured nothing is weighed, but a mix needs a weight.
        return tuple(float(task.name in measured or not measured) for task in tasks)
    unknown = next((name for name in case.mix if name not in names), None)
    if unknown is not None:
        raise CaseError(f"mix.{unknown}", "no task has this name")
    return tuple(case.mix.get(name, 0.0) for name in names)


def _is_measured(run: CaseRun) -> bool:
    """Whether a run is ok and no bound, as far as its text says."""
    if run.status != RunStatus.OK or run.bound is not None:
        return False
    return not (isinstance(run.value, str) and BEGINS_AS_BOUND.match(run.value))


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
        bound=np.array([BOUND_CODE[reading.bound] for reading in readings], dtype=np.int8),
        resolution=np.array([reading.resolution for reading in readings], dtype=float),
        ordered=np.array([run.order is not None for run in case.runs], dtype=bool),
        started=np.full(len(case.runs), np.nan),
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
    if run.bound is not None and run.status != RunStatus.OK:
        raise CaseError(path.replace("value", "bound"), "only an ok run can be a bound")
    if isinstance(run.value, float):
        if not (math.isfinite(run.value) and run.value > 0):
            raise CaseError(path, f"must be a positive number, got {run.value!r}")
        return _given(run.value, run)
    try:
        return _typed(run.value, measure, run)
    except QuantityError as error:
        raise CaseError(path, error.reason) from error


def _given(value: float, run: CaseRun) -> Reading:
    """A number: what is not said of it is nothing."""
    step = run.resolution or 0.0
    if run.bound is not None:
        return Reading(value, run.u or 0.0, 0.0, run.bound)
    own = reading_uncertainty(step) if step else 0.0
    return Reading(value, own if run.u is None else run.u, step)


def _typed(text: str, measure: Measure, run: CaseRun) -> Reading:
    if measure is Measure.AMOUNT:
        amount = parse_amount(text)
        value, step, bound = amount.value, amount.resolution, amount.bound
        approximate = amount.approximate
    else:
        elapsed = parse_elapsed(text)
        if isinstance(elapsed, AmbiguousElapsed):
            raise QuantityError(describe_ambiguity(elapsed))
        value, step, bound = elapsed.seconds, elapsed.resolution_s, elapsed.bound
        approximate = elapsed.approximate
    if run.bound is not None and bound is not None and run.bound is not bound:
        raise QuantityError(f"{text!r} says one bound, and 'bound' the other")
    bound = bound or run.bound
    if bound is not None:
        # A limit is no rounded reading.
        return Reading(value, run.u or 0.0, 0.0, bound)
    step = run.resolution or step
    own = reading_uncertainty(step, approximate=approximate)
    return Reading(value, own if run.u is None else run.u, step)


def describe_ambiguity(time: AmbiguousElapsed) -> str:
    """Say both meanings of an ambiguous time, and how to write each."""
    clock, decimal = time.as_clock.seconds, time.as_decimal.seconds
    return (
        f"{time.text!r} has two meanings: {format_elapsed(clock)} ({clock:g} s) or "
        f"{format_elapsed(decimal)} ({decimal:g} s); write the one that is meant"
    )
