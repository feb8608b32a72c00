"""Runs to cells, and the run-to-run spread of each task.

Section 2 of the computation page. A cell is (setup, task, round); it holds
its ok runs. The spread is moderated by a prior, so that it exists with single
runs and is not fooled by two lucky ones.
"""

from __future__ import annotations

from dataclasses import dataclass
from enum import StrEnum

import numpy as np

from true_margin.core.errors import SpreadUnknownError
from true_margin.core.study import FloatArray, IndexArray, Measure, Settings, Study

MEASURED_DF = 6
"""Degrees of freedom from repeats at which a spread is called measured."""


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
        SpreadUnknownError: a task has no repeat and no prior, or a variance of 0.

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
    spread = _spreads(study, task, n, scatter)
    relative_u = runs.u[run] / runs.value[run]
    cv = np.array([np.nan if each is None else each.cv for each in spread])
    # σ_i² = max(s_t², (u_i/t_i)²): a coarse reading cannot pass for a sharp one.
    run_weight = 1.0 / np.maximum(cv[task][cell_of_run], relative_u) ** 2
    weight = _cell_sum(run_weight, cell_of_run, len(first))
    value = _cell_sum(run_weight * v, cell_of_run, len(first)) / weight
    return CellTable(
        runs.setup[run[first]], task, runs.round[run[first]], n, mean, scatter, value, weight,
        run, cell_of_run, v, relative_u, spread,
    )  # fmt: skip


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
    if not variance > 0:
        raise SpreadUnknownError(study.tasks[task].name)
    df = study.settings.prior_df + repeat_df
    return Spread(float(np.sqrt(variance)), df, repeat_df, scatter, basis_of(repeat_df))
