"""Contrasts: sums of log speeds, and the variance of each difference with its degrees of freedom.

Section 4 of the computation page. A contrast may compare setups on a task or a mix, one
setup with itself on two tasks, or rounds of an app.
"""

from __future__ import annotations

from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.rounds import Fit
from true_margin.core.shared_prior import shared_prior
from true_margin.core.study import FloatArray, IndexArray
from true_margin.core.variance_parts import SetupParts, part_of_app


@dataclass(frozen=True, slots=True)
class Contrasts:
    """Estimates of k setups on one task or mix, and the variance of each pair.

    Square arrays have shape (k, k); entry (i, j) is setup i over setup j.

    Attributes:
        setups: indices of the setups, shape (k,).
        estimate: Θ of each, shape (k,).
        covariance: of Θ, τ part included.
        se: standard error of each difference; 0 on the diagonal.
        df: Satterthwaite degrees of freedom; inf on the diagonal.
        own_df: degrees of freedom of each Θ alone, shape (k,).
    """

    setups: IndexArray
    estimate: FloatArray
    covariance: FloatArray
    se: FloatArray
    df: FloatArray
    own_df: FloatArray

    @property
    def log_ratio(self) -> FloatArray:
        """Δ of every pair."""
        return self.estimate[:, None] - self.estimate[None, :]


def contrast_setups(
    fit: Fit, cells: CellTable, setups: IndexArray, weights: FloatArray
) -> Contrasts:
    """Estimate Σ_t w_t θ(s, t) for each setup, and the variance of each pair.

    Args:
        fit: the fit.
        cells: the cells that it was fitted to.
        setups: indices, shape (k,), each measured on every weighted task. A setup may
            stand in several rows.
        weights: one weight a task, shape (tasks,); or each row its own, shape (k, tasks).

    Returns:
        Estimates with pairwise standard errors and degrees of freedom.

    Reference:
        Satterthwaite (1946), eq. 17; for the prior that all tasks share, Willink (2007),
        Metrologia 44, 340-349, eq. 8.
    """
    rows = np.broadcast_to(weights, (len(setups), len(fit.node_app)))
    tasks = np.flatnonzero(rows.any(axis=0))
    parts = [
        part_of_app(fit, fit.apps[app], setups, rows * (fit.node_app == app))
        for app in np.unique(fit.node_app[tasks])
    ]
    estimate = np.where(rows != 0, rows * fit.theta[setups], 0.0).sum(axis=1)
    task = np.concatenate([part.task for part in parts]) if parts else np.zeros(0, np.intp)
    shared = shared_prior(cells, task, np.isin(task, tasks))
    by_setup = SetupParts(parts, setups, cells.shares.inverse_df)
    tau2, tau_df = fit.update.cv**2, fit.update.df
    k = len(setups)
    uneven_own = tau2 * sum((part.uneven_own for part in parts), np.zeros(k))
    uneven = tau2 * sum((part.uneven for part in parts), np.zeros((k, k)))
    variance, own_df = shared.combine(
        (row for part in parts for row in part.own), uneven_own, tau_df, by_setup.alone()
    )
    pair, df_pairs = shared.combine(
        (part.difference(at) for part in parts for at in range(len(part.task))),
        uneven,
        tau_df,
        by_setup.differences(),
    )
    np.fill_diagonal(pair, 0.0)
    np.fill_diagonal(df_pairs, np.inf)
    covariance = (variance[:, None] + variance[None, :] - pair) / 2.0
    return Contrasts(setups, estimate, covariance, np.sqrt(pair), df_pairs, own_df)


def own_variances(
    fit: Fit, cells: CellTable, task: int, setups: IndexArray
) -> tuple[FloatArray, FloatArray]:
    """Variance and degrees of freedom of θ on one task, each setup by itself.

    Where no pair is asked for, this is much less work than ``contrast_setups``.

    Args:
        fit, cells: of the study.
        task: index of the task.
        setups: indices, shape (k,), each measured on it.

    Returns:
        Both of shape (k,); inf where the variance is 0.
    """
    rows = np.zeros((len(setups), len(fit.node_app)))
    rows[:, task] = 1.0
    part = part_of_app(fit, fit.apps[fit.node_app[task]], setups, rows)
    shared = shared_prior(cells, part.task, part.task == task)
    by_setup = SetupParts([part], setups, cells.shares.inverse_df)
    uneven = fit.update.cv**2 * part.uneven_own
    return shared.combine(iter(part.own), uneven, fit.update.df, by_setup.alone())


def combine_rows(
    fit: Fit, cells: CellTable, setups: IndexArray, weights: FloatArray, combos: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Variance of sums of Θ of several setups, such as a model's mean less another's.

    Args:
        fit, cells: of the study.
        setups: indices, shape (k,), each once and measured on every weighted task.
        weights: one weight a task, shape (tasks,).
        combos: weights of the setups in each sum, shape (m, k).

    Returns:
        Variance and degrees of freedom of each, shape (m,); inf where the variance is 0.

    Reference:
        As ``contrast_setups``.
    """
    rows = np.broadcast_to(weights, (len(setups), len(fit.node_app)))
    tasks = np.flatnonzero(rows.any(axis=0))
    parts = [
        part_of_app(fit, fit.apps[app], setups, rows * (fit.node_app == app))
        for app in np.unique(fit.node_app[tasks])
    ]
    task = np.concatenate([part.task for part in parts])
    shared = shared_prior(cells, task, np.isin(task, tasks))

    def square(own: FloatArray, difference: FloatArray) -> FloatArray:
        apart = np.where(np.eye(len(own), dtype=bool), 0.0, difference)
        covariance = (own[:, None] + own[None, :] - apart) / 2.0
        return np.asarray(np.einsum("mi,ij,mj->m", combos, covariance, combos, optimize=True))

    tau2 = fit.update.cv**2
    uneven = sum((square(part.uneven_own, part.uneven) for part in parts), np.zeros(len(combos)))
    by_task = (
        square(part.own[at], part.difference(at)) for part in parts for at in range(len(part.task))
    )
    amount = np.zeros((len(cells.shares.inverse_df), len(combos)))
    for part in parts:
        through = combos @ part.reach
        amount += np.einsum("me,sef,mf->sm", through, part.by_setup, through, optimize=True)
        crossing = through @ part.crossing.sum(axis=0).T
        amount[setups] += (combos**2 * part.at_home.sum(axis=0) - 2.0 * combos * crossing).T
    spent = cells.shares.inverse_df @ amount**2
    return shared.combine(by_task, tau2 * uneven, fit.update.df, np.asarray(spent))
