"""Bounds as evidence: a run that was stopped after two hours tells that it takes longer.

Sections 4 and 5 of the computation page. A bound takes no part in any mean; it gives a margin
one end, and a setup that has nothing else a range of ranks.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.ladder import simultaneous_quantiles
from true_margin.core.limit_variance import LimitVariance, limit_variance
from true_margin.core.margins import Call, PairTable, decide_call, stricter, student_quantile
from true_margin.core.rounds import Fit
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Measure, Study

CONTRADICTS_SPREADS = 3.0
"""A mean so many spreads beyond a bound contradicts it."""


@dataclass(frozen=True, slots=True)
class Limit:
    """A bound on the log speed of a setup on a task, taken to the reference round.

    Attributes:
        run: index into the run table.
        setup, task: indices into the study.
        value: the bound on θ.
        component: label of what its app's round hangs together with.
        effect: place of that round among the app's effects; −1 for a reference.
        variance: of the one run that it was seen in.
    """

    run: int
    setup: int
    task: int
    value: float
    component: int
    effect: int
    variance: float


@dataclass(frozen=True, slots=True)
class Limits:
    """What bounds tell of setups that were not measured.

    Attributes:
        lower, upper: the tightest limit of each (setup, task).
        contradicting: runs whose bounds contradict another, or what was measured.
    """

    lower: dict[tuple[int, int], Limit]
    upper: dict[tuple[int, int], Limit]
    contradicting: tuple[int, ...]

    def on(self, task: int) -> tuple[int, ...]:
        """Setups that have a bound on a task, in index order."""
        both = {*self.lower, *self.upper}
        return tuple(sorted(setup for setup, own in both if own == task))

    def has(self, setup: int, task: int) -> bool:
        """Whether a setup has a bound on a task."""
        return (setup, task) in self.lower or (setup, task) in self.upper


def find_limits(study: Study, cells: CellTable, fit: Fit) -> Limits:
    """Gather the bounds that count, and the runs whose bounds contradict.

    Args:
        study: a checked study.
        cells, fit: of it.
    """
    lower: dict[tuple[int, int], Limit] = {}
    upper: dict[tuple[int, int], Limit] = {}
    contradicting: list[int] = []
    for run in np.flatnonzero(study.runs.bounded).tolist():
        is_upper, limit = _limit(study, cells, fit, run)
        key = (limit.setup, limit.task)
        if fit.component[key] >= 0:
            if _contradicts(study, cells, run, is_upper):
                contradicting.append(run)
            continue
        own = upper if is_upper else lower
        known = own.get(key)
        tighter = known is None or (
            limit.value < known.value if is_upper else limit.value > known.value
        )
        if tighter:
            own[key] = limit
    for key in [key for key in upper if key in lower]:
        if upper[key].value < lower[key].value:
            contradicting += [upper.pop(key).run, lower.pop(key).run]
    return Limits(lower, upper, tuple(sorted(contradicting)))


def _limit(study: Study, cells: CellTable, fit: Fit, run: int) -> tuple[bool, Limit]:
    """One bound, and whether θ lies below it."""
    runs = study.runs
    setup, task, round_ = int(runs.setup[run]), int(runs.task[run]), int(runs.round[run])
    app = int(fit.node_app[task])
    effect = int(fit.round_effect[app, round_])
    component = int(fit.round_component[app, round_])
    if component < 0:
        # Nothing was measured in this round: it stands for itself.
        component = -2 - (app * max(len(study.rounds), 1) + round_)
    delta = float(fit.deltas[app][effect]) if effect >= 0 else 0.0
    v = _log_speed(study, run)
    is_time = study.tasks[task].measure is Measure.TIME
    variance = max(
        _plain_variance(study, cells, task) * float(cells.shares.variance[setup]),
        float(runs.u[run] / runs.value[run]) ** 2,
    )
    is_upper = (int(runs.bound[run]) > 0) == is_time
    return is_upper, Limit(run, setup, task, v - delta, component, effect, variance)


def _log_speed(study: Study, run: int) -> float:
    log = math.log(float(study.runs.value[run]))
    return -log if study.tasks[int(study.runs.task[run])].measure is Measure.TIME else log


def _plain_variance(study: Study, cells: CellTable, task: int) -> float:
    """s_t²; the prior's where the task has no measured run."""
    spread = cells.spread[task]
    return study.settings.prior_cv**2 if spread is None else spread.cv**2


def _contradicts(study: Study, cells: CellTable, run: int, is_upper: bool) -> bool:
    """Whether the mean of a bound's own cell lies well beyond it."""
    runs = study.runs
    own = np.flatnonzero(
        (cells.setup == runs.setup[run])
        & (cells.task == runs.task[run])
        & (cells.round == runs.round[run])
    )
    if not len(own):
        return False
    cell = int(own[0])
    variance = max(float(cells.run_variance[cell]), float(runs.u[run] / runs.value[run]) ** 2)
    room = CONTRADICTS_SPREADS * math.sqrt(variance * (1.0 + 1.0 / int(cells.n[cell])))
    beyond = float(cells.mean[cell]) - _log_speed(study, run)
    return (beyond if is_upper else -beyond) > room


@dataclass(frozen=True, slots=True)
class End:
    """One end of a margin that a bound gives: the log ratio is beyond ``value``."""

    value: float
    se: float
    df: float


@dataclass(frozen=True, slots=True)
class BoundMargin:
    """Speed of setup a over setup b where at least one of them is known by bounds only.

    Attributes:
        a, b: indices of the setups.
        low, high: the ends that there are.
        lo, hi: ends of the interval, −inf and inf where there is none.
        call: what may be said.
        confidence: at which it is judged.
        topped_up: whether runs were added after the plan.
    """

    a: int
    b: int
    low: End | None
    high: End | None
    lo: float
    hi: float
    call: Call
    confidence: float
    topped_up: bool

    @property
    def at_least(self) -> float | None:
        """Times as fast at least; None where nothing says so."""
        return None if self.low is None else math.exp(self.low.value)

    @property
    def at_most(self) -> float | None:
        """Times as fast at most; None where nothing says so."""
        return None if self.high is None else math.exp(self.high.value)


@dataclass(frozen=True)
class BoundPairs:
    """Margins on one task that rest on bounds.

    Attributes:
        study, cells, fit: what they are of.
        limits: bounds of the study.
        task: index of the task.
        topped_up: mask of setups with more runs on it than planned, shape (setups,).
    """

    study: Study
    cells: CellTable
    fit: Fit
    limits: Limits
    task: int
    topped_up: FlagArray

    def margin(self, a: int, b: int) -> BoundMargin | None:
        """Margin of a over b; None where it has no end, or not the same job."""
        tasks = np.array([self.task])
        if self.study.broken_on(tasks)[a, b]:
            return None
        low, turned = self.low_end(a, b), self.low_end(b, a)
        high = None if turned is None else End(-turned.value, turned.se, turned.df)
        if low is None and high is None:
            return None
        strict = bool(self.topped_up[a] or self.topped_up[b])
        settings = self.study.settings
        confidence = stricter(settings.confidence) if strict else settings.confidence
        lo = -math.inf if low is None else low.value - _half(low, confidence)
        hi = math.inf if high is None else high.value + _half(high, confidence)
        call = decide_call(lo, hi, math.log1p(settings.materiality))
        return BoundMargin(a, b, low, high, lo, hi, call, confidence, strict)

    def low_end(self, a: int, b: int) -> End | None:
        """What θ of a less θ of b is at least; None where nothing says so."""
        above = self._part(a, self.limits.lower)
        below = self._part(b, self.limits.upper)
        if above is None or below is None or above.component != below.component:
            return None
        if above.limit is None and below.limit is None:
            return None
        app = self.fit.apps[self.fit.node_app[self.task]]
        effects = np.zeros(len(app.rounds))
        bounds: dict[int, float] = {}
        uneven = 0
        # Of θ_a less a bound on b the bound brings +δ; turned round, θ_b less one on a as well.
        for part, sign in ((above, -1.0), (below, 1.0)):
            if part.limit is None:
                continue
            bounds[part.setup] = part.limit.variance
            if part.limit.effect >= 0:
                both = above.limit is not None and below.limit is not None
                effects[part.limit.effect] += sign if both else 1.0
                uneven += 1
        measured = next((part.setup for part in (above, below) if part.limit is None), None)
        found: LimitVariance | None = limit_variance(
            self.fit,
            self.cells,
            self.task,
            measured,
            effects,
            bounds,
            uneven,
            self.study.settings.prior_df,
        )
        if found is None:
            return None
        return End(above.value - below.value, math.sqrt(max(found.variance, 0.0)), found.df)

    def _part(self, setup: int, limits: dict[tuple[int, int], Limit]) -> _Part | None:
        component = int(self.fit.component[setup, self.task])
        if component >= 0:
            return _Part(setup, float(self.fit.theta[setup, self.task]), component, None)
        limit = limits.get((setup, self.task))
        return None if limit is None else _Part(setup, limit.value, limit.component, limit)


@dataclass(frozen=True, slots=True)
class _Part:
    setup: int
    value: float
    component: int
    limit: Limit | None


def _half(end: End, confidence: float) -> float:
    return float(student_quantile(confidence, np.array([end.df]))[0]) * end.se


@dataclass(frozen=True, slots=True)
class BoundRung:
    """The place of a setup on a ladder that is known by bounds only.

    Attributes:
        setup: index of the setup.
        lower, upper: bounds on its log speed; None where there is none.
        best_rank, worst_rank: range of possible ranks.
        at_least, at_most: bounds' ratios to the baseline; None where there is none.
    """

    setup: int
    lower: float | None
    upper: float | None
    best_rank: int
    worst_rank: int
    at_least: float | None
    at_most: float | None

    @property
    def place(self) -> float:
        """Log speed at which it is placed: its bound, or the middle of two."""
        known = [end for end in (self.lower, self.upper) if end is not None]
        return sum(known) / len(known)


@dataclass(frozen=True, slots=True)
class Ranks:
    """Ranges of ranks of the setups on a ladder, those known by bounds counted."""

    best: dict[int, int]
    worst: dict[int, int]


def bounded_on(pairs: BoundPairs, component: int, off: Sequence[int]) -> tuple[int, ...]:
    """Setups known by bounds only that stand on a ladder.

    Args:
        pairs: of its task.
        component: label of what hangs together on the ladder.
        off: setups that were not given the baseline's job.
    """
    limits, task = pairs.limits, pairs.task
    return tuple(
        setup
        for setup in limits.on(task)
        if setup not in off
        and any(
            (limit := own.get((setup, task))) is not None and limit.component == component
            for own in (limits.lower, limits.upper)
        )
    )


def rank_with_bounds(
    pairs: BoundPairs, table: PairTable, on: IndexArray, bounded: Sequence[int]
) -> Ranks:
    """Give every setup of a ladder its range of ranks.

    Args:
        pairs: margins by bounds.
        table: measured margins of the task.
        on: places in ``table`` of the measured setups on the ladder.
        bounded: setups on it that are known by bounds only.
    """
    measured = [int(s) for s in table.contrasts.setups[on]]
    setups = [*measured, *bounded]
    k, known = len(setups), len(measured)
    value, se = np.full((k, k), -np.inf), np.zeros((k, k))
    square = np.ix_(on, on)
    value[:known, :known] = np.where(
        table.comparable[square], table.contrasts.log_ratio[square], -np.inf
    )
    se[:known, :known] = table.contrasts.se[square]
    least = float(table.contrasts.df[square].min(initial=np.inf))
    for i in range(k):
        for j in range(k):
            if i == j or (i < known and j < known):
                continue
            end = (
                None
                if _broken(pairs, setups[i], setups[j])
                else pairs.low_end(setups[i], setups[j])
            )
            if end is not None:
                value[i, j], se[i, j] = end.value, end.se
                least = min(least, end.df)
    faster = _surely_faster(pairs, table, setups, value, se, least)
    best = (1 + faster.sum(axis=0)).tolist()
    worst = (k - faster.sum(axis=1)).tolist()
    return Ranks(dict(zip(setups, best, strict=True)), dict(zip(setups, worst, strict=True)))


def _broken(pairs: BoundPairs, a: int, b: int) -> bool:
    return bool(pairs.study.broken_on(np.array([pairs.task]))[a, b])


def _surely_faster(
    pairs: BoundPairs,
    table: PairTable,
    setups: list[int],
    value: FloatArray,
    se: FloatArray,
    df: float,
) -> FlagArray:
    if len(setups) < 2:
        return np.zeros(value.shape, dtype=bool)
    added = pairs.topped_up[setups]
    q = simultaneous_quantiles(table.confidence, added[:, None] | added[None, :], df)
    faster = value > q / math.sqrt(2.0) * se
    np.fill_diagonal(faster, False)
    return np.asarray(faster)


def bound_rung(
    pairs: BoundPairs, component: int, setup: int, ranks: Ranks, zero: float | None
) -> BoundRung:
    """The rung of a setup that is known by bounds only.

    Args:
        pairs: margins by bounds.
        component: label of what hangs together on the ladder.
        setup: index of the setup.
        ranks: of the ladder.
        zero: log speed of the baseline; None where it is not measured on the ladder.
    """

    def end(own: dict[tuple[int, int], Limit]) -> float | None:
        limit = own.get((setup, pairs.task))
        return limit.value if limit is not None and limit.component == component else None

    lower, upper = end(pairs.limits.lower), end(pairs.limits.upper)

    def ratio(value: float | None) -> float | None:
        return None if value is None or zero is None else math.exp(value - zero)

    return BoundRung(
        setup, lower, upper, ranks.best[setup], ranks.worst[setup], ratio(lower), ratio(upper)
    )
