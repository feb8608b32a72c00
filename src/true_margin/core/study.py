"""What an analysis starts from: tasks, settings and the runs in columns.

Runs are held as columns, one array a field, so that a hundred thousand of
them cost no more than a few passes over memory.
"""

from __future__ import annotations

from dataclasses import dataclass, field
from decimal import Decimal
from enum import StrEnum

import numpy as np
from numpy.typing import NDArray

from true_margin.core.errors import CaseError

FloatArray = NDArray[np.float64]
IndexArray = NDArray[np.intp]
FlagArray = NDArray[np.bool_]


class Measure(StrEnum):
    """What a task yields."""

    TIME = "time"
    """Elapsed seconds; less is better."""
    AMOUNT = "amount"
    """A score, rate or count; more is better."""


class RunStatus(StrEnum):
    """Standing of one attempt."""

    OK = "ok"
    VOID = "void"
    FAILED = "failed"


class Bound(StrEnum):
    """What a bound says of the value: it would have been more, or less, than what is given."""

    OVER = ">"
    UNDER = "<"


BOUND_CODE: dict[str | None, int] = {None: 0, Bound.OVER: 1, Bound.UNDER: -1}
LEAST_DF = 0.5
"""Fewer degrees of freedom than this give intervals beyond all numbers."""
NOT_NEGATIVE = (
    "materiality",
    "prior_df",
    "prior_cv",
    "update_prior_df",
    "update_prior_cv",
    "unit_prior_df",
    "unit_prior_cv",
)
"""Settings that are 0 or more."""
STATUS_CODE = {RunStatus.OK: 0, RunStatus.VOID: 1, RunStatus.FAILED: 2}


@dataclass(frozen=True, slots=True)
class TaskFacts:
    """What the computation needs to know of a task.

    Attributes:
        name: name of the task, unique in its shootout.
        measure: elapsed time or amount.
        app: app whose updates move this task.
        work: how much one run does, in ``unit``; None where not stated.
        unit: unit of the work (``s`` of timeline, ``frames``, ``photos``).
        planned_runs: runs of each setup that were planned before any; None for no plan.
    """

    name: str
    measure: Measure = Measure.TIME
    app: str = ""
    work: float | None = None
    unit: str | None = None
    planned_runs: int | None = None


@dataclass(frozen=True, slots=True)
class Settings:
    """Choices of a shootout that the computation follows.

    Attributes:
        confidence: of intervals, between 0 and 1; default 0.95.
        materiality: smallest ratio worth telling, less 1; default 0.03.
        prior_df: degrees of freedom of the spread's prior (ν0); default 3.
        prior_cv: the prior's spread (s0), a coefficient of variation; default 0.02.
        update_prior_df: degrees of freedom of the update spread's prior (ν_τ).
        update_prior_cv: the prior's update spread (τ0).
        unit_prior_df: degrees of freedom of the prior of how samples of a model differ (ν_u).
        unit_prior_cv: the prior's spread of samples (s_u); 0 takes them for alike.
    """

    confidence: float = 0.95
    materiality: float = 0.03
    prior_df: float = 3.0
    prior_cv: float = 0.02
    update_prior_df: float = 2.0
    update_prior_cv: float = 0.015
    unit_prior_df: float = 4.0
    unit_prior_cv: float = 0.015


@dataclass(frozen=True, slots=True)
class RunTable:
    """Runs in columns; every array has one entry a run.

    Attributes:
        setup: index into the study's setups.
        task: index into the study's tasks.
        round: index into the study's rounds.
        order: place of the run on its bench day; ties keep list order.
        value: seconds, or the amount; NaN where there is none.
        u: standard uncertainty of the reading, in the value's unit.
        status: code from ``STATUS_CODE``.
        bound: code from ``BOUND_CODE``: 1 where the value is only known to be over, −1 where
            it is only known to be under what is given, 0 where it was read.
        resolution: smallest step of the reading, in the value's unit; 0 where none is known.
        ordered: True where ``order`` is that in which the runs were made, not only listed.
        started: when each began, in seconds of any one clock; NaN where nobody knows. Runs far
            apart belong to different sittings.
    """

    setup: IndexArray
    task: IndexArray
    round: IndexArray
    order: NDArray[np.int64]
    value: FloatArray
    u: FloatArray
    status: NDArray[np.int8]
    bound: NDArray[np.int8]
    resolution: FloatArray
    ordered: FlagArray
    started: FloatArray

    @property
    def counted(self) -> FlagArray:
        """Mask of the runs that take part in the fit: ok, with a value, not a bound."""
        ok = self.status == STATUS_CODE[RunStatus.OK]
        return np.asarray(ok & (self.bound == 0) & ~np.isnan(self.value))

    @property
    def bounded(self) -> FlagArray:
        """Mask of the runs that tell a bound: ok, with a value that was not reached or passed."""
        ok = self.status == STATUS_CODE[RunStatus.OK]
        return np.asarray(ok & (self.bound != 0) & ~np.isnan(self.value))

    def __len__(self) -> int:
        return len(self.setup)


@dataclass(frozen=True, slots=True)
class NotedRatio:
    """A ratio of speeds of one setup over another as somebody noted it.

    Attributes:
        log_ratio: Δ on the log scale; None where only a bound was noted.
        lo, hi: ends of what was noted, on the log scale; None where it has no such end.
    """

    log_ratio: float | None
    lo: float | None
    hi: float | None

    def turned(self) -> NotedRatio:
        """The same of the other setup over the first."""

        def less(value: float | None) -> float | None:
            return None if value is None else -value

        return NotedRatio(less(self.log_ratio), less(self.hi), less(self.lo))


@dataclass(frozen=True, slots=True)
class Note:
    """A noted ratio of two setups on a task, with its source.

    Attributes:
        task, a, b: indices into the study.
        ratio: speed of a over b.
        source: who says so.
    """

    task: int
    a: int
    b: int
    ratio: NotedRatio
    source: str


@dataclass(frozen=True, slots=True)
class TaskDoubt:
    """A person's word that two tasks are not the same work, or only nearly.

    Attributes:
        one, other: indices of the tasks.
        nearly: True where they may be compared, with the doubt beside it.
        reason: why, in the person's words.
    """

    one: int
    other: int
    nearly: bool
    reason: str


@dataclass(frozen=True, slots=True)
class SentRuns:
    """Counted runs of one timed task that were sent in: seconds, and their reading uncertainty."""

    task: int
    seconds: tuple[float, ...]
    u: float = 0.0


@dataclass(frozen=True, slots=True)
class SentSample:
    """One machine that others timed; ``setup`` is the one here of the same model and state."""

    setup: int
    runs: tuple[SentRuns, ...]


@dataclass(frozen=True, slots=True)
class Study:
    """A whole comparison, ready to be analysed.

    Attributes:
        setups: names of the setups.
        tasks: the tasks.
        rounds: names of the rounds, oldest first.
        runs: every run, voids and failures included.
        baseline: index of the setup that reads 1.00x; None where there is no setup.
        mix: weight of each task, one entry a task, not normalised.
        prices: price of each setup, in one currency; None where unpriced.
        settings: confidence, materiality and priors.
        broken: pairs that were not given the same job, shape (tasks, setups, setups),
            symmetric; None where every pair was.
        units: label of each setup's physical sample; empty where each setup is its own.
        models: name of each setup's model; empty where each setup is its own.
        notes: ratios that were noted elsewhere, in the order in which they were given.
        allow_noted: whether a setup may stand on the mix's ladder by notes.
        doubts: what a person says of two tasks that would pass as the same work.
        sent: machines that others timed; they tell how much samples differ, and nothing else.
    """

    setups: tuple[str, ...]
    tasks: tuple[TaskFacts, ...]
    rounds: tuple[str, ...]
    runs: RunTable
    baseline: int | None
    mix: tuple[float, ...]
    prices: tuple[Decimal | None, ...] = ()
    settings: Settings = field(default_factory=Settings)
    broken: FlagArray | None = None
    units: tuple[int, ...] = ()
    models: tuple[str, ...] = ()
    notes: tuple[Note, ...] = ()
    allow_noted: bool = False
    doubts: tuple[TaskDoubt, ...] = ()
    sent: tuple[SentSample, ...] = ()

    def doubt_between(self, one: int, other: int) -> TaskDoubt | None:
        """What a person says of two tasks; None for nothing."""
        pair = {one, other}
        return next((each for each in self.doubts if {each.one, each.other} == pair), None)

    @property
    def unit_of(self) -> IndexArray:
        """Which physical sample each setup is a state of; its own where none is said."""
        return np.asarray(self.units or range(len(self.setups)), dtype=np.intp)

    @property
    def model_of(self) -> tuple[str, ...]:
        """Of which model each setup is a sample; its own name where none is said."""
        return self.models or self.setups

    def broken_on(self, tasks: IndexArray) -> FlagArray:
        """Mark the pairs that were not given the same job on some of these tasks."""
        if self.broken is None:
            return np.zeros((len(self.setups), len(self.setups)), dtype=bool)
        return np.asarray(self.broken[tasks].any(axis=0))


def check_study(study: Study) -> Study:
    """Refuse settings, weights and values that no formula could take.

    Returns:
        The study, unchanged.

    Raises:
        CaseError: confidence outside (0, 1), a negative or non-finite prior or
            materiality, weights that are negative or sum to zero, or an ok run
            whose value or uncertainty is not finite or out of range.
    """
    settings = study.settings
    if not 0.0 < settings.confidence < 1.0:
        raise CaseError("confidence", f"must lie between 0 and 1, got {settings.confidence}")
    for name in NOT_NEGATIVE:
        value = getattr(settings, name)
        if not (np.isfinite(value) and value >= 0):
            raise CaseError(name, f"must be a number of 0 or more, got {value}")
    for name in ("prior_df", "update_prior_df", "unit_prior_df"):
        value = getattr(settings, name)
        if 0 < value < LEAST_DF:
            reason = f"must be 0, or at least {LEAST_DF}: below that no interval has a meaning"
            raise CaseError(name, f"{reason}, got {value}")
    _check_mix(study)
    _check_values(study)
    return study


def _check_mix(study: Study) -> None:
    if len(study.mix) != len(study.tasks):
        raise CaseError("mix", f"{len(study.tasks)} weights are needed, got {len(study.mix)}")
    for task, weight in zip(study.tasks, study.mix, strict=True):
        if not (np.isfinite(weight) and weight >= 0):
            raise CaseError(f"mix.{task.name}", f"must be 0 or more, got {weight}")
    if study.tasks and not sum(study.mix) > 0:
        raise CaseError("mix", "at least one task needs a weight above 0")


def _check_values(study: Study) -> None:
    runs = study.runs
    ok = runs.status == STATUS_CODE[RunStatus.OK]
    bad_value = ok & ~(np.isfinite(runs.value) & (runs.value > 0))
    bad_u = ok & ~(np.isfinite(runs.u) & (runs.u >= 0))
    for name, bad in (("value", bad_value), ("u", bad_u)):
        if bad.any():
            place = int(np.argmax(bad))
            received = getattr(runs, name)[place]
            raise CaseError(f"runs[{place}].{name}", f"must be a positive number, got {received}")
