"""Runs to cells, and the run-to-run spread of each task.

Section 2 of the computation page. A cell is (setup, task, round); it holds
its ok runs. The spread is moderated by a prior, so that it exists with single
runs and is not fooled by two lucky ones.
"""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from enum import StrEnum
from functools import cached_property

import numpy as np

from true_margin.core.errors import SpreadUnknownError
from true_margin.core.resemblance import (
    LEAST_RUNS,
    NONE,
    Resemblance,
    estimate_resemblance,
    sitting_mean_variances,
    sittings_of,
)
from true_margin.core.shares import SetupShares, estimate_shares
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Measure, Settings, Study

MEASURED_DF = 6
"""Degrees of freedom from repeats at which a spread is called measured."""
LEAST_VARIANCE = 1e-100
"""Of log speed. Less is none that runs can have, and squares of its weights are no numbers."""
MOST_SHORT = 1 << 16
"""Fewer cells than this have a key of 16 bits, which sorts by counting."""


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


@dataclass(frozen=True)
class CellTable:
    """Cells in columns, and the counted runs sorted by cell and run order.

    Cell arrays have one entry a cell; run arrays one entry a counted run.

    Attributes:
        setup, task, round: indices into the study, by cell.
        n: counted runs in the cell.
        mean: plain mean of log speed.
        scatter: sum of squares about that mean.
        value: inverse-variance weighted mean of log speed.
        weight: w_c, one over the variance of that mean.
        floor: R_c, the variance below which rounding lets no mean come.
        run: index of each counted run in the run table, by cell, then order.
        cell_of_run: cell of each of those runs.
        v: log speed of each of those runs.
        relative_u: reading uncertainty over the value, of each of those runs.
        relative_step: resolution over the value, of each of those runs; 0 where none is known.
        spread: one entry a task; None for a task without counted runs.
        shares: each setup's share of every task's spread.
        resemblance: how much neighbouring runs resemble each other.
    """

    setup: IndexArray
    task: IndexArray
    round: IndexArray
    n: IndexArray
    mean: FloatArray
    scatter: FloatArray
    value: FloatArray
    weight: FloatArray
    floor: FloatArray
    run: IndexArray
    cell_of_run: IndexArray
    v: FloatArray
    relative_u: FloatArray
    relative_step: FloatArray
    spread: tuple[Spread | None, ...]
    shares: SetupShares
    resemblance: Resemblance

    def df_of(self, task: int) -> float:
        """Degrees of freedom of a task's spread; NaN where it has no runs."""
        spread = self.spread[task]
        return float("nan") if spread is None else float(spread.df)

    @property
    def factor(self) -> FloatArray:
        """f of each setup: how many times as much as the others it scatters, shape (setups,)."""
        return np.asarray(np.sqrt(self.shares.variance))

    @cached_property
    def run_variance(self) -> FloatArray:
        """s_t² f_s² of each cell: the variance of one of its runs, readings left out."""
        cv = np.array([np.nan if each is None else each.cv for each in self.spread])
        return np.asarray(cv[self.task] ** 2 * self.shares.variance[self.setup])

    @property
    def start(self) -> IndexArray:
        """Place of each cell's first run in the run arrays."""
        return np.cumsum(self.n) - self.n

    def per_cell(self, values: FloatArray | FlagArray) -> FloatArray:
        """Add up an array of the runs by cell."""
        return _cell_sum(values, self.start)

    def per_run(self, values: FloatArray | IndexArray) -> FloatArray:
        """Give every run what its cell has."""
        return np.repeat(np.asarray(values, dtype=float), self.n)

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
    run, key = _by_cell(study)
    first = np.flatnonzero(np.diff(key, prepend=-1))
    n = np.diff(np.append(first, len(run)))
    cell_of_run = np.repeat(np.arange(len(first)), n)
    value = runs.value[run]
    v = _log_speed(study, value, runs.task[run[first]], n)
    mean = _cell_sum(v, first) / n
    scatter = _cell_sum((v - np.repeat(mean, n)) ** 2, first)
    task = runs.task[run[first]]
    setup = runs.setup[run[first]]
    shares = estimate_shares(len(study.setups), setup, task, n, scatter)
    share = shares.variance[setup]
    plain = _variances(_spreads(study, task, n, scatter / share))
    tested = n >= LEAST_RUNS
    if not runs.ordered.all():
        tested &= _cell_sum(runs.ordered[run], first) == n
    blocks = sittings_of(study, run, first)
    resemblance = _resemblance(tested, n, plain[task] * share, scatter, v, first, blocks)
    worth = n * sitting_mean_variances(n, first, blocks, resemblance.rho)
    shown = np.where(n > 1, (n - worth) / np.maximum(n - 1, 1), 1.0)
    spread = _spreads(study, task, n, scatter / (share * shown), check=True)
    relative_u = runs.u[run] / value
    stepped = bool(runs.resolution.any())
    relative_step = runs.resolution[run] / value if stepped else np.zeros(len(run))
    # σ_i² = max(s_t² f_s², (u_i/t_i)²): a coarse reading cannot pass for a sharp one.
    variance = _variances(spread)[task] * share
    run_weight = 1.0 / np.maximum(np.repeat(variance, n), relative_u**2)
    total = _cell_sum(run_weight, first)
    # A rounding error repeats from run to run: no number of runs averages it away.
    floor = np.zeros(len(first))
    if stepped:
        step = _cell_sum(run_weight * relative_step, first) / total
        floor = step**2 / 12.0
    mean_variance = worth / total
    return CellTable(
        setup,
        task,
        runs.round[run[first]],
        n,
        mean,
        scatter,
        _cell_sum(run_weight * v, first) / total,
        1.0 / np.maximum(mean_variance, floor),
        floor,
        run,
        cell_of_run,
        v,
        relative_u,
        relative_step,
        spread,
        shares,
        resemblance,
    )


def _resemblance(
    tested: FlagArray,
    n: IndexArray,
    variance: FloatArray,
    scatter: FloatArray,
    v: FloatArray,
    first: IndexArray,
    blocks: IndexArray,
) -> Resemblance:
    """Hold neighbouring runs of the sittings of the tested cells against each other."""
    if not tested.any() or not (variance[tested] > 0).all():
        return NONE
    step = np.diff(v, append=0.0) ** 2
    size = np.diff(np.append(blocks, len(v)))
    # The last run of a sitting has no neighbour in it.
    step[blocks + size - 1] = 0.0
    neighbours = np.add.reduceat(step, blocks)
    if len(blocks) != len(first):
        cell = np.repeat(np.arange(len(first)), n)[blocks]
        about = v - np.repeat(np.add.reduceat(v, blocks) / size, size)
        tested = tested[cell] & (size >= LEAST_RUNS)
        if not tested.any():
            return NONE
        n, variance, scatter = size, variance[cell], np.add.reduceat(about**2, blocks)
    return estimate_resemblance(n[tested], variance[tested], scatter[tested], neighbours[tested])


def _variances(spread: Sequence[Spread | None]) -> FloatArray:
    return np.array([np.nan if each is None else each.cv**2 for each in spread])


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


def _by_cell(study: Study) -> tuple[IndexArray, IndexArray]:
    """Counted runs by cell, run order and list place, and the key of each one's cell."""
    runs = study.runs
    every = runs.counted
    # Where every run counts, nothing is picked out: a view costs no pass.
    counted = slice(None) if every.all() else np.flatnonzero(every)
    key = _cell_key(study, counted)
    order = runs.order[counted]
    if len(order) == 0 or (np.diff(order) >= 0).all():
        # As listed: a stable sort by cell keeps the order.
        short = len(key) > 0 and int(key.max()) < MOST_SHORT
        place = np.argsort(key.astype(np.uint16) if short else key, kind="stable")
    else:
        # Last key first: cell, then order; list place for ties.
        place = np.lexsort((order, key))
    return place if isinstance(counted, slice) else counted[place], key[place]


def _cell_key(study: Study, counted: IndexArray | slice) -> IndexArray:
    runs = study.runs
    by_setup = runs.task[counted] * max(len(study.setups), 1) + runs.setup[counted]
    return by_setup * max(len(study.rounds), 1) + runs.round[counted]


def _log_speed(study: Study, value: FloatArray, task: IndexArray, n: IndexArray) -> FloatArray:
    """v = −ln t for elapsed times, +ln x for amounts; values by cell, n of each."""
    sign = np.array([-1.0 if each.measure is Measure.TIME else 1.0 for each in study.tasks])
    log_value = np.log(value)
    return np.repeat(sign[task], n) * log_value if len(value) else log_value


def _cell_sum(values: FloatArray | FlagArray, first: IndexArray) -> FloatArray:
    """Add up what stands cell by cell, each beginning at ``first``."""
    if len(first) == 0:
        return np.zeros(0)
    return np.asarray(np.add.reduceat(np.asarray(values, dtype=float), first))


def _spreads(
    study: Study, task: IndexArray, n: IndexArray, scatter: FloatArray, *, check: bool = False
) -> tuple[Spread | None, ...]:
    """Spread of each task, from the scatter of its cells; refuses none at all if asked to."""
    tasks = len(study.tasks)
    cells = np.bincount(task, minlength=tasks)
    repeat_df = np.bincount(task, weights=n, minlength=tasks) - cells
    total = np.bincount(task, weights=scatter, minlength=tasks)
    return tuple(
        _task_spread(study, i, int(repeat_df[i]), float(total[i]), check) if cells[i] else None
        for i in range(tasks)
    )


def _task_spread(study: Study, task: int, repeat_df: int, scatter: float, check: bool) -> Spread:
    variance = moderated_variance(scatter, repeat_df, study.settings)
    if check and not variance > LEAST_VARIANCE:
        raise SpreadUnknownError(study.tasks[task].name)
    df = study.settings.prior_df + repeat_df
    return Spread(float(np.sqrt(variance)), df, repeat_df, scatter, basis_of(repeat_df))
