"""Contrasts: sums of log speeds, and the variance of each difference with its degrees of freedom.

Section 4 of the computation page. A contrast may compare setups on a task or a mix, one
setup with itself on two tasks, or rounds of an app.
"""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from dataclasses import dataclass

import numpy as np

from true_margin.core.cells import CellTable
from true_margin.core.rounds import AppFit, Fit
from true_margin.core.study import FlagArray, FloatArray, IndexArray

PAIRS_AT_ONCE = 4_000
"""Pairs whose parts by setup stand in memory together."""


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
    shared = shared_prior(cells, task, np.isin(task, tasks))
    by_setup = _SetupParts(parts, setups, cells.shares.inverse_df)
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
    part = _part_of_app(fit, fit.apps[fit.node_app[task]], setups, rows)
    shared = shared_prior(cells, part.task, part.task == task)
    by_setup = _SetupParts([part], setups, cells.shares.inverse_df)
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
        _part_of_app(fit, fit.apps[app], setups, rows * (fit.node_app == app))
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


@dataclass(frozen=True, slots=True)
class SharedPrior:
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
        self,
        parts: Iterable[FloatArray],
        uneven: FloatArray,
        uneven_df: float | None,
        by_setup: FloatArray | float = 0.0,
    ) -> tuple[FloatArray, FloatArray]:
        """Add variances up, with the degrees of freedom of the sum; inf where it is 0.

        Args:
            parts: variance by task, one array of the shape of ``uneven`` a task; they are
                taken one by one, so that a hundred tasks never stand in memory at once.
            uneven: the share of uneven updates.
            uneven_df: its degrees of freedom; None where there is none.
            by_setup: Σ B_s²/d_s, what the setups' shares of the spread spend; a setup's share
                is wrong on all of its tasks at once.
        """
        variance, spent = np.zeros(uneven.shape), np.zeros(uneven.shape) + by_setup
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
class LimitVariance:
    """Variance of one end of a margin that rests on a bound, and its degrees of freedom."""

    variance: float
    df: float


def limit_variance(
    fit: Fit,
    cells: CellTable,
    task: int,
    measured: int | None,
    effects: FloatArray,
    bounds: Mapping[int, float],
    uneven_bounds: int,
    prior_df: float,
) -> LimitVariance | None:
    """Variance of θ of a measured setup, if there is one, and of bounds taken to the reference.

    Args:
        fit, cells: of the study.
        task: index of the task.
        measured: the measured setup; None where both ends are bounds.
        effects: weights on the app's effects δ that the bounds bring, relative to that θ,
            shape (e,).
        bounds: variance of the one run behind each bound, by setup.
        uneven_bounds: how many of them stand in a round that is no reference.
        prior_df: ν0, the degrees of freedom of a task without any measured run.

    Returns:
        None where nothing is known of its spread.

    Reference:
        Computation page, section 4; Satterthwaite (1946), eq. 17.
    """
    app = fit.apps[fit.node_app[task]]
    tau2 = fit.update.cv**2 if fit.update.df is not None else 0.0
    by_task: dict[int, float] = {}
    by_setup = np.zeros(len(fit.theta))
    uneven = float(uneven_bounds)
    if measured is not None:
        rows = np.zeros((1, len(fit.node_app)))
        rows[0, task] = 1.0
        part = _part_of_app(fit, app, np.array([measured]), rows)
        # θ weighs an effect by −G.
        through = part.reach[0] - effects
        crossing = part.crossing[:, 0, :] @ through
        home = part.at_home[:, 0] - 2.0 * crossing
        by_task = dict(zip(part.task.tolist(), home.tolist(), strict=True))
        by_setup[measured] += float(home.sum())
        reach = part.reach[0]
    else:
        through, reach = -effects, np.zeros(len(effects))
    if len(effects) and through.any():
        for each, own in zip(app.tasks.tolist(), app.kernels[0], strict=True):
            by_task[each] = by_task.get(each, 0.0) + float(through @ own @ through)
        by_setup += np.einsum("i,sij,j->s", through, app.kernels[1], through)
        moved = app.inverse @ app.shrink @ app.information
        kernel = np.einsum("sij,skj->ik", moved, moved)
        uneven += float(through @ kernel @ through)
        if measured is not None:
            uneven -= 2.0 * float((moved[measured] @ reach) @ through)
    if measured is not None:
        uneven += float(reach @ reach)
    for setup, variance in bounds.items():
        by_task[task] = by_task.get(task, 0.0) + variance
        by_setup[setup] += variance
    variance = sum(by_task.values()) + tau2 * uneven
    spent = float(cells.shares.inverse_df @ by_setup**2)
    for each, amount in by_task.items():
        spread = cells.spread[each]
        df = prior_df if spread is None else spread.df
        if not df > 0:
            return None
        spent += amount**2 / df
    if fit.update.df:
        spent += (tau2 * uneven) ** 2 / fit.update.df
    return LimitVariance(variance, variance**2 / spent if spent > 0 else float("inf"))


def shared_prior(cells: CellTable, tasks: IndexArray, weighted: FlagArray) -> SharedPrior:
    """Give what the spreads of these tasks lean on, in the order of ``tasks``."""
    known = [(cells.spread[t], own) for t, own in zip(tasks, weighted, strict=True)]
    prior = [0.0 if s is None else s.df - s.repeat_df for s, _ in known]
    lean = [0.0 if s is None or not own else (s.df - s.repeat_df) / s.df for s, own in known]
    df = np.array([cells.df_of(t) for t in tasks])
    return SharedPrior(np.array(lean), max(prior, default=0.0), df)


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
        at_home: variance of each row by its own setup's cells of each task, what runs through
            an update's effect left out, shape (n, k).
        crossing: U of each task, what those cells and the effects share, shape (n, k, f).
        reach: G, each row's weights on the effects, shape (k, f).
        by_setup: K summed over each setup's cells, shape (setups, f, f).
        uneven_own, uneven: variance of rows and of differences by uneven updates, over τ².
    """

    task: IndexArray
    own: FloatArray
    left: FloatArray
    right: FloatArray
    together: FloatArray | None
    at_home: FloatArray
    crossing: FloatArray
    reach: FloatArray
    by_setup: FloatArray
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
    task = app.tasks if effects else np.flatnonzero(rows.any(axis=0))
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
        none = np.zeros((k, 0))
        return _Part(
            task,
            own,
            left,
            left[:, :, ::-1],
            together,
            own,
            np.zeros((len(task), k, 0)),
            none,
            np.zeros((len(fit.theta), 0, 0)),
            np.zeros(k),
            np.zeros((k, k)),
        )
    tau2 = fit.update.cv**2 if fit.update.df is not None else 0.0
    share = app.share[place] * there[:, :, None]
    shrink = app.shrink[setups]
    reach = np.einsum("sij,sj->si", shrink, np.einsum("st,stj->sj", a, share))
    along = np.einsum("stj,sj->st", share, reach)
    q_reach = (weight * there)[:, :, None] * share * (reach[:, None, :] - along[:, :, None])
    u = -tau2 * np.einsum("sjk,stk->tsj", app.inverse @ shrink, q_reach)
    through = np.matmul(reach, app.kernels[0])
    own = own + tau2**2 * np.einsum("sti,si->ts", q_reach, reach)
    at_home = own
    own = own + np.einsum("tsi,si->ts", through - 2.0 * u, reach)
    spread = np.broadcast_to(reach, u.shape)
    left = np.concatenate([own[:, :, None], one, u, spread, -through], axis=2)
    right = np.concatenate([one, own[:, :, None], 2 * spread, 2 * u, 2 * spread], axis=2)
    together = None
    if local is not None:
        together = same * (local + tau2**2 * np.einsum("ite,je->tij", q_reach, reach))
    uneven = _uneven_part(app, setups, reach, same)
    return _Part(task, own, left, right, together, at_home, u, reach, app.kernels[1], *uneven)


@dataclass(frozen=True, slots=True)
class _SetupParts:
    """What each setup's cells add to the variances of k rows, for Σ B_s²/d_s.

    B_s of a difference d = G_i − G_j is ``d K_s d`` of every app, and for the setup of row i
    itself ``at_home_i − 2 U_i·d`` besides, for that of row j ``at_home_j + 2 U_j·d``.
    """

    parts: list[_Part]
    setups: IndexArray
    inverse_df: FloatArray

    def alone(self) -> FloatArray:
        """Σ B_s²/d_s of each row by itself, shape (k,)."""
        k = len(self.setups)
        home, through = np.zeros(k), np.zeros((len(self.inverse_df), k))
        for part in self.parts:
            crossing = part.crossing.sum(axis=0)
            home += part.at_home.sum(axis=0) - 2.0 * np.einsum("ke,ke->k", crossing, part.reach)
            through += (np.matmul(part.reach, part.by_setup) * part.reach).sum(axis=2)
        through[self.setups, np.arange(k)] += home
        return np.asarray(self.inverse_df @ through**2)

    def differences(self) -> FloatArray:
        """Σ B_s²/d_s of each difference of two rows, shape (k, k)."""
        k = len(self.setups)
        # What the setup of row i adds to row i less row j, updates' kernels left out.
        home = np.zeros((k, k))
        for part in self.parts:
            across = part.crossing.sum(axis=0) @ part.reach.T
            home += part.at_home.sum(axis=0)[:, None] - 2.0 * (np.diag(across)[:, None] - across)
        bridged = [part for part in self.parts if part.reach.shape[1]]
        i, j = np.triu_indices(k, 1)
        spent = np.zeros((k, k))
        for at in range(0, len(i), PAIRS_AT_ONCE):
            first, second = i[at : at + PAIRS_AT_ONCE], j[at : at + PAIRS_AT_ONCE]
            found = self._spent(bridged, home, first, second)
            spent[first, second] = spent[second, first] = found
        return spent

    def _spent(
        self, bridged: list[_Part], home: FloatArray, i: IndexArray, j: IndexArray
    ) -> FloatArray:
        """Σ B_s²/d_s of the differences of rows i and rows j, shape (pairs,)."""
        first, second = self.setups[i], self.setups[j]
        same = first == second
        if not bridged and not same.any():
            weight = self.inverse_df
            return np.asarray(weight[first] * home[i, j] ** 2 + weight[second] * home[j, i] ** 2)
        # B_s is linear in what d holds two by two, x: d K_s d = x·k_s. So Σ B_s²/d_s is one
        # quadratic form in x, and what the two rows' own setups add to theirs.
        held, kernels = [], []
        for part in bridged:
            d = part.reach[i] - part.reach[j]
            a, b = np.triu_indices(d.shape[1])
            held.append(d[:, a] * d[:, b])
            kernels.append(part.by_setup[:, a, b] * np.where(a == b, 1.0, 2.0))
        if not held:
            held, kernels = [np.zeros((len(i), 0))], [np.zeros((len(self.inverse_df), 0))]
        x, kernel = np.concatenate(held, axis=1), np.concatenate(kernels, axis=1)
        spent = ((x @ (kernel.T @ (self.inverse_df[:, None] * kernel))) * x).sum(axis=1)

        def own(setup: IndexArray, amount: FloatArray) -> FloatArray:
            """What an amount more in the B of one setup adds: (B + h)² − B²."""
            before = (x * kernel[setup]).sum(axis=1)
            return np.asarray(self.inverse_df[setup] * amount * (2.0 * before + amount))

        if not same.any():
            return np.asarray(
                np.maximum(spent + own(first, home[i, j]) + own(second, home[j, i]), 0.0)
            )
        shared = sum(
            (part.together.sum(axis=0) for part in self.parts if part.together is not None),
            np.zeros(home.shape),
        )
        both = home[i, j] + np.where(same, home[j, i] - 2.0 * shared[i, j], 0.0)
        apart = np.where(same, 0.0, home[j, i])
        return np.asarray(np.maximum(spent + own(first, both) + own(second, apart), 0.0))


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
