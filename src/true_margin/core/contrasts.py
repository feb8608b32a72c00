"""Contrasts: sums of log speeds, and the variance of each difference with its degrees of freedom.

Section 4 of the computation page. A contrast may compare setups on a task or a mix, one
setup with itself on two tasks, or rounds of an app.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.rounds import AppFit, Fit, node_information
from true_margin.core.study import FlagArray, FloatArray, IndexArray


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
        _part_of_app(fit, fit.apps[app], setups, rows * (fit.node_app == app))
        for app in np.unique(fit.node_app[tasks])
    ]
    estimate = np.where(rows != 0, rows * fit.theta[setups], 0.0).sum(axis=1)
    task = np.concatenate([part.task for part in parts]) if parts else np.zeros(0, np.intp)
    shared = _shared_prior(cells, task, np.isin(task, tasks))
    tau2, tau_df = fit.update.cv**2, fit.update.df
    k = len(setups)
    uneven_own = tau2 * sum((part.uneven_own for part in parts), np.zeros(k))
    uneven = tau2 * sum((part.uneven for part in parts), np.zeros((k, k)))
    variance, own_df = shared.combine(
        (row for part in parts for row in part.own), uneven_own, tau_df
    )
    pair, df_pairs = shared.combine(
        (part.difference(at) for part in parts for at in range(len(part.task))), uneven, tau_df
    )
    np.fill_diagonal(pair, 0.0)
    np.fill_diagonal(df_pairs, np.inf)
    covariance = (variance[:, None] + variance[None, :] - pair) / 2.0
    return Contrasts(setups, estimate, covariance, np.sqrt(pair), df_pairs, own_df)


@dataclass(frozen=True, slots=True)
class _SharedPrior:
    """Degrees of freedom of variances whose tasks lean on one prior.

    A task's spread is λ parts prior and 1 − λ parts its own repeats, λ = ν0/(ν0 + ν). The
    tasks of a mix share the prior: where it is wrong it is wrong for all of them, so that
    part adds up before it is squared.

    Attributes:
        lean: λ of each task; 0 outside of the contrast's own weights, shape (tasks,).
        prior_df: ν0.
        df: of each task's spread, shape (tasks,).
    """

    lean: FloatArray
    prior_df: float
    df: FloatArray

    def combine(
        self, parts: Iterable[FloatArray], uneven: FloatArray, uneven_df: float | None
    ) -> tuple[FloatArray, FloatArray]:
        """Add variances up, with the degrees of freedom of the sum; inf where it is 0.

        Args:
            parts: variance by task, one array of the shape of ``uneven`` a task; they are
                taken one by one, so that a hundred tasks never stand in memory at once.
            uneven: the share of uneven updates.
            uneven_df: its degrees of freedom; None where there is none.
        """
        variance, spent = np.zeros(uneven.shape), np.zeros(uneven.shape)
        leaning = np.zeros(uneven.shape)
        own = 1.0 / self.df
        if self.prior_df > 0:
            own = own - self.lean**2 / self.prior_df
        for part, lean, rest in zip(parts, self.lean.tolist(), own.tolist(), strict=True):
            variance += part
            if lean:
                leaning += lean * part
            spent += rest * (part * part)
        if self.prior_df > 0:
            spent += leaning**2 / self.prior_df
        if uneven_df is not None:
            variance += uneven
            spent += uneven**2 / uneven_df
        with np.errstate(divide="ignore", invalid="ignore"):
            return variance, np.where(spent > 0, variance**2 / spent, np.inf)


@dataclass(frozen=True, slots=True)
class EffectVariance:
    """Variance of one round's effect δ, and its degrees of freedom (Satterthwaite)."""

    variance: float
    df: float


def effect_variances(fit: Fit, cells: CellTable, app: int) -> tuple[EffectVariance, ...]:
    """Give the variance of each δ of an app, in the order of its rounds outside a reference."""
    own = fit.apps[app]
    if not len(own.rounds):
        return ()
    task = np.unique(own.task)
    by_task = np.diagonal(_kernel_by_task(own, task), axis1=1, axis2=2)
    moved = own.inverse @ own.shrink @ own.information
    uneven = fit.update.cv**2 * np.einsum("sij,sij->i", moved, moved)
    alone = _shared_prior(cells, task, np.zeros(len(task), dtype=bool))
    variance, df = alone.combine(by_task, uneven, fit.update.df)
    return tuple(EffectVariance(float(v), float(d)) for v, d in zip(variance, df, strict=True))


def _shared_prior(cells: CellTable, tasks: IndexArray, weighted: FlagArray) -> _SharedPrior:
    known = [(cells.spread[t], own) for t, own in zip(tasks, weighted, strict=True)]
    prior = [0.0 if s is None else s.df - s.repeat_df for s, _ in known]
    lean = [0.0 if s is None or not own else (s.df - s.repeat_df) / s.df for s, own in known]
    df = np.array([cells.df_of(t) for t in tasks])
    return _SharedPrior(np.array(lean), max(prior, default=0.0), df)


@dataclass(frozen=True, slots=True)
class _Part:
    """Variances of k rows inside one app; n is the number of tasks that they rest on.

    Attributes:
        task: those tasks, shape (n,).
        own: variance of each row that comes from each task's runs, shape (n, k).
        left, right: their product is the part of a task in the variance of each difference
            of two rows of different setups, shapes (n, k, f).
        together: what rows of one setup share besides, shape (n, k, k); None where every
            row is of another setup.
        uneven_own, uneven: variance of rows and of differences by uneven updates, over τ².
    """

    task: IndexArray
    own: FloatArray
    left: FloatArray
    right: FloatArray
    together: FloatArray | None
    uneven_own: FloatArray
    uneven: FloatArray

    def difference(self, place: int) -> FloatArray:
        """Part of one task in the variance of every difference, shape (k, k)."""
        found = self.left[place] @ self.right[place].T
        if self.together is not None:
            found -= 2.0 * self.together[place]
        # Rounding can leave a difference of equals just below zero.
        return np.asarray(np.maximum(found, 0.0, out=found))


def _part_of_app(fit: Fit, app: AppFit, setups: IndexArray, rows: FloatArray) -> _Part:
    """Split the variance of rows of one app by task, and by uneven updates.

    A row is a sum of θ of one setup. Its weight on the cells of task t has a part on that
    setup's own cells and one through δ; with G = shrink · Σ a p and q the information of a
    node, the covariance of rows i and j that comes from task t is

    ``[same setup] (a_i a_j / W + τ⁴ G_i q G_j) − U_i·G_j − U_j·G_i + G_i K G_j``,

    ``U_i = −τ² S⁻¹ shrink q G_i``, ``K = S⁻¹ (Σ shrink q shrink) S⁻¹``. Written with a few
    columns, var_i + var_j − 2 cov_ij is one product for each task.
    """
    effects = app.share.shape[1]
    task = np.unique(app.task) if effects else np.flatnonzero(rows.any(axis=0))
    place = fit.node_row[np.ix_(setups, task)]
    there = (place >= 0).astype(float)
    weight = app.weight[place] + (1.0 - there)
    a = rows[:, task]
    own = (a**2 / weight).T
    one = np.ones((*own.shape, 1))
    same = (setups[:, None] == setups[None, :]).astype(float)
    np.fill_diagonal(same, 0.0)
    local = np.einsum("it,jt->tij", a / weight, a) if same.any() else None
    k = len(setups)
    if not effects:
        together = None if local is None else same * local
        left = np.concatenate([own[:, :, None], one], axis=2)
        return _Part(task, own, left, left[:, :, ::-1], together, np.zeros(k), np.zeros((k, k)))
    tau2 = fit.update.cv**2 if fit.update.df is not None else 0.0
    share = app.share[place] * there[:, :, None]
    shrink = app.shrink[setups]
    reach = np.einsum("sij,sj->si", shrink, np.einsum("st,stj->sj", a, share))
    along = np.einsum("stj,sj->st", share, reach)
    q_reach = (weight * there)[:, :, None] * share * (reach[:, None, :] - along[:, :, None])
    u = -tau2 * np.einsum("sjk,stk->tsj", app.inverse @ shrink, q_reach)
    through = np.matmul(reach, _kernel_by_task(app, task))
    own = own + tau2**2 * np.einsum("sti,si->ts", q_reach, reach)
    own += np.einsum("tsi,si->ts", through - 2.0 * u, reach)
    spread = np.broadcast_to(reach, u.shape)
    left = np.concatenate([own[:, :, None], one, u, spread, -through], axis=2)
    right = np.concatenate([one, own[:, :, None], 2 * spread, 2 * u, 2 * spread], axis=2)
    together = None
    if local is not None:
        together = same * (local + tau2**2 * np.einsum("ite,je->tij", q_reach, reach))
    return _Part(task, own, left, right, together, *_uneven_part(app, setups, reach, same))


def _kernel_by_task(app: AppFit, task: IndexArray) -> FloatArray:
    """K of each task, shape (tasks, e, e)."""
    moved = app.inverse @ app.shrink[app.setup]
    found = moved @ node_information(app.weight, app.share, app.rest) @ moved.transpose(0, 2, 1)
    kernel = np.zeros((len(task), *app.inverse.shape))
    np.add.at(kernel, np.searchsorted(task, app.task), found)
    return kernel


def _uneven_part(
    app: AppFit, setups: IndexArray, reach: FloatArray, same: FloatArray
) -> tuple[FloatArray, FloatArray]:
    """Variance of rows and of their differences that uneven updates add, over τ²."""
    moved = app.inverse @ app.shrink @ app.information
    kernel = np.einsum("sij,skj->ik", moved, moved)
    v = np.einsum("sij,sj->si", moved[setups], reach)
    square = reach @ kernel @ reach.T
    cross = v @ reach.T
    covariance = square - cross - cross.T
    alone = np.einsum("si,si->s", reach, reach)
    own = np.diag(covariance) + alone
    covariance = covariance + same * (reach @ reach.T)
    difference = np.maximum(own[:, None] + own[None, :] - 2.0 * covariance, 0.0)
    np.fill_diagonal(difference, 0.0)
    return own, difference
