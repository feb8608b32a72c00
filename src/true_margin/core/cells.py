"""Runs to cells, and the run-to-run spread of each task.

Section 2 of the computation page. A cell is (setup, task, round); it holds
its ok runs. The spread is moderated by a prior, so that it exists with single
runs and is not fooled by two lucky ones.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import chdtrc, gammainc

from true_margin.core.errors import SpreadUnknownError
from true_margin.core.study import FloatArray, IndexArray, Measure, Settings, Study

MEASURED_DF = 6
"""Degrees of freedom from repeats at which a spread is called measured."""
VARIANCE_SHARE_P = 0.1
"""Below this p-value setups are given spreads of their own."""
UNREST_PRIOR_DF = 4.0
"""Degrees of freedom of the prior that draws each setup's share towards 1."""
LEAST_VARIANCE = 1e-100
"""Of log speed. Less is none that runs can have, and squares of its weights are no numbers."""
MOST_OVER = 6.0
"""A cell's scatter counts at most this many times the pooled one: an odd run is no wide spread."""


class Basis(StrEnum):
    """What a spread rests on."""

    MEASURED = "measured"
    PARTLY = "partly measured"
    ASSUMED = "assumed"


@dataclass(frozen=True, slots=True)
class Spread:
    """Run-to-run spread of one task.

    Attributes:
        cv: standard deviation of log speed (a coefficient of variation).
        df: its degrees of freedom, prior included.
        repeat_df: degrees of freedom that come from repeats alone (ν_t).
        scatter: within-cell sum of squares of log speed (SS_t).
        basis: measured, partly measured or assumed.
    """

    cv: float
    df: float
    repeat_df: int
    scatter: float
    basis: Basis


@dataclass(frozen=True, slots=True)
class CellTable:
    """Cells in columns, and the counted runs sorted by cell and run order.

    Cell arrays have one entry a cell; run arrays one entry a counted run.

    Attributes:
        setup, task, round: indices into the study, by cell.
        n: counted runs in the cell.
        mean: plain mean of log speed.
        scatter: sum of squares about that mean.
        value: inverse-variance weighted mean of log speed.
        weight: sum of inverse run variances (w_c).
        run: index of each counted run in the run table, by cell, then order.
        cell_of_run: cell of each of those runs.
        v: log speed of each of those runs.
        relative_u: reading uncertainty over the value, of each of those runs.
        spread: one entry a task; None for a task without counted runs.
        variance_share: factor on a task's spread, one entry a setup; 1 where spreads are alike.
        variance_share_p: p-value of the test that setups scatter alike; None where there
            is nothing to test.
        variance_share_df: degrees of freedom of those factors; inf where spreads are alike.
    """

    setup: IndexArray
    task: IndexArray
    round: IndexArray
    n: IndexArray
    mean: FloatArray
    scatter: FloatArray
    value: FloatArray
    weight: FloatArray
    run: IndexArray
    cell_of_run: IndexArray
    v: FloatArray
    relative_u: FloatArray
    spread: tuple[Spread | None, ...]
    variance_share: FloatArray
    variance_share_p: float | None
    variance_share_df: float

    def df_of(self, task: int) -> float:
        """Degrees of freedom that a variance on this task bears.

        Where setups have spreads of their own, what is known of their share limits it.
        """
        spread = self.spread[task]
        own = np.nan if spread is None else spread.df
        return float(1.0 / (1.0 / own + 1.0 / self.variance_share_df))

    @property
    def start(self) -> IndexArray:
        """Place of each cell's first run in the run arrays."""
        return np.cumsum(self.n) - self.n

    def __len__(self) -> int:
        return len(self.setup)


def build_cells(study: Study) -> CellTable:
    """Gather counted runs into cells and estimate each task's spread.

    Args:
        study: a checked study.

    Returns:
        Cells sorted by task, setup, round.

    Raises:
        SpreadUnknownError: a task has no repeat and no prior, or next to no variance.

    Reference:
        Gelman et al. (2013), Bayesian Data Analysis, 3rd ed., 2.6; Smyth (2004).
    """
    runs = study.runs
    counted = np.flatnonzero(runs.counted)
    key = _cell_key(study, counted)
    # Last key first: cell, then order; a stable sort keeps list place for ties.
    place = np.lexsort((runs.order[counted], key))
    run, key = counted[place], key[place]
    first = np.flatnonzero(np.diff(key, prepend=-1))
    cell_of_run = np.cumsum(np.diff(key, prepend=-1) != 0) - 1
    n = np.diff(np.append(first, len(run)))
    v = _log_speed(study, run)
    mean = _cell_sum(v, cell_of_run, len(first)) / n
    scatter = _cell_sum((v - mean[cell_of_run]) ** 2, cell_of_run, len(first))
    task = runs.task[run[first]]
    setup = runs.setup[run[first]]
    variance_share = _variance_shares(len(study.setups), setup, task, n, scatter)
    spread = _spreads(study, task, n, scatter)
    relative_u = runs.u[run] / runs.value[run]
    cv = np.array([np.nan if each is None else each.cv for each in spread])
    # σ_i² = max(s_t², (u_i/t_i)²): a coarse reading cannot pass for a sharp one.
    cell_cv = cv[task] * variance_share.factor[setup]
    run_weight = 1.0 / np.maximum(cell_cv[cell_of_run], relative_u) ** 2
    weight = _cell_sum(run_weight, cell_of_run, len(first))
    value = _cell_sum(run_weight * v, cell_of_run, len(first)) / weight
    return CellTable(
        setup,
        task,
        runs.round[run[first]],
        n,
        mean,
        scatter,
        value,
        weight,
        run,
        cell_of_run,
        v,
        relative_u,
        spread,
        variance_share.factor,
        variance_share.p,
        variance_share.df,
    )


def moderated_variance(scatter: float, repeat_df: int, settings: Settings) -> float:
    """Blend within-cell scatter with the prior: s² = (ν0·s0² + SS) / (ν0 + ν).

    Returns:
        The variance of log speed, or NaN where there is no repeat and no prior.
    """
    df = settings.prior_df + repeat_df
    if df <= 0:
        return float("nan")
    return (settings.prior_df * settings.prior_cv**2 + scatter) / df


def basis_of(df_from_data: float, measured_from: int = MEASURED_DF) -> Basis:
    """Say what a spread rests on, from the degrees of freedom that data gave."""
    if df_from_data >= measured_from:
        return Basis.MEASURED
    return Basis.PARTLY if df_from_data > 0 else Basis.ASSUMED


def _cell_key(study: Study, counted: IndexArray) -> IndexArray:
    runs = study.runs
    by_setup = runs.task[counted] * max(len(study.setups), 1) + runs.setup[counted]
    return by_setup * max(len(study.rounds), 1) + runs.round[counted]


def _log_speed(study: Study, run: IndexArray) -> FloatArray:
    """v = −ln t for elapsed times, +ln x for amounts."""
    sign = np.array([-1.0 if task.measure is Measure.TIME else 1.0 for task in study.tasks])
    log_value = np.log(study.runs.value[run])
    return np.asarray(sign[study.runs.task[run]] * log_value if len(run) else log_value)


def _cell_sum(values: FloatArray, cell_of_run: IndexArray, cells: int) -> FloatArray:
    return np.asarray(np.bincount(cell_of_run, weights=values, minlength=cells), dtype=float)


@dataclass(frozen=True, slots=True)
class _Unrest:
    """How much more each setup scatters than the others, and what that rests on."""

    factor: FloatArray
    p: float | None
    df: float


def _variance_shares(
    setups: int, setup: IndexArray, task: IndexArray, n: IndexArray, scatter: FloatArray
) -> _Unrest:
    """Test whether setups scatter alike; where not, give each its factor.

    The cells of each task are ranked by their scatter; where setups scatter alike, each
    setup's ranks are even between 0 and 1. A single odd run moves one rank only. Where the
    ranks differ, each setup has its own share of the task's spread, drawn towards 1 by a
    prior; else one spread serves all, which is the sharper estimate.

    Reference:
        Friedman (1937) and Skillings & Mack (1981), ranks within blocks; Harvey (1976),
        Econometrica 44, for spreads that multiply; Smyth (2004) for the shrinking.
    """
    repeated = np.flatnonzero(n > 1)
    setup, task, scatter, df_cell = (
        setup[repeated],
        task[repeated],
        scatter[repeated],
        n[repeated] - 1,
    )
    df = np.bincount(setup, df_cell, setups)
    even = _Unrest(np.ones(setups), None, np.inf)
    pooled = np.bincount(task, scatter) / np.maximum(np.bincount(task, df_cell), 1)
    tested = np.flatnonzero(df > 0)
    if len(tested) < 2:
        return even
    over = np.divide(scatter, pooled[task], out=np.zeros(len(task)), where=pooled[task] > 0)
    rank = _rank_within(task, gammainc(df_cell / 2, over / 2))
    blocks = len(np.unique(task))
    if len(rank) == blocks or not rank.var() > 0:
        return even
    # Ranks within a task sum to a constant, which takes one degree of freedom off each.
    variance = float(((rank - 0.5) ** 2).sum()) / (len(rank) - blocks)
    cells = np.bincount(setup, minlength=setups)[tested]
    mean = np.bincount(setup, rank, setups)[tested] / cells
    p = float(chdtrc(len(tested) - 1, float(cells @ (mean - 0.5) ** 2) / variance))
    if p >= VARIANCE_SHARE_P:
        return _Unrest(even.factor, p, np.inf)
    capped = np.bincount(setup, np.minimum(over, MOST_OVER * df_cell), setups)[tested]
    relative = capped / capped.sum() * df[tested].sum() / df[tested]
    factor = np.ones(setups)
    moderated = (UNREST_PRIOR_DF + df[tested] * relative) / (UNREST_PRIOR_DF + df[tested])
    factor[tested] = np.sqrt(moderated)
    return _Unrest(factor, p, UNREST_PRIOR_DF + float(df[tested].min()))


def _rank_within(group: IndexArray, value: FloatArray) -> FloatArray:
    """Rank values within their group, from 0 to 1; equal values share the mean of their ranks."""
    order = np.lexsort((value, group))
    g, v = group[order], value[order]
    start = np.flatnonzero(np.diff(g, prepend=-1))
    size = np.diff(np.append(start, len(g)))
    place = np.arange(len(g)) - np.repeat(start, size) + 0.5
    tie = np.cumsum((np.diff(g, prepend=-1) != 0) | (np.diff(v, prepend=-1.0) != 0)) - 1
    shared = np.bincount(tie, place) / np.bincount(tie)
    rank = np.empty(len(g))
    rank[order] = shared[tie] / np.repeat(size, size)
    return rank


def _spreads(
    study: Study, task: IndexArray, n: IndexArray, scatter: FloatArray
) -> tuple[Spread | None, ...]:
    tasks = len(study.tasks)
    cells = np.bincount(task, minlength=tasks)
    repeat_df = np.bincount(task, weights=n, minlength=tasks) - cells
    total = np.bincount(task, weights=scatter, minlength=tasks)
    return tuple(
        _task_spread(study, i, int(repeat_df[i]), float(total[i])) if cells[i] else None
        for i in range(tasks)
    )


def _task_spread(study: Study, task: int, repeat_df: int, scatter: float) -> Spread:
    variance = moderated_variance(scatter, repeat_df, study.settings)
    if not variance > LEAST_VARIANCE:
        raise SpreadUnknownError(study.tasks[task].name)
    df = study.settings.prior_df + repeat_df
    return Spread(float(np.sqrt(variance)), df, repeat_df, scatter, basis_of(repeat_df))
