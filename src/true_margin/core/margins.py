"""Margins: how far ahead one setup is of another, how surely, and the call.

Section 4 of the computation page. All pairs of one task (or mix) are held as
square arrays; a single margin is taken out of them when somebody asks.
"""

from __future__ import annotations

import math
from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from true_margin.core.cells import CellTable
from true_margin.core.rounds import AppFit, Fit, node_information
from true_margin.core.study import FlagArray, FloatArray, IndexArray, Settings


class Call(StrEnum):
    """What a margin's interval allows to be said."""

    CLEAR = "clear"
    AHEAD = "ahead"
    LEVEL = "level"
    OPEN = "open"
    NOT_COMPARABLE = "not comparable"


@dataclass(frozen=True, slots=True)
class Margin:
    """Speed of setup a over setup b on one task or mix.

    Attributes:
        a, b: indices of the setups.
        log_ratio: estimate of Δ, the log of the ratio of speeds.
        se: its standard error.
        df: its degrees of freedom (Satterthwaite); inf where unlimited.
        lo, hi: ends of the interval, on the log scale.
        call: what may be said.
        handicap: largest unmeasured unfairness that leaves a clear or ahead
            call standing, as a fraction; None for the other calls.
    """

    a: int
    b: int
    log_ratio: float
    se: float
    df: float
    lo: float
    hi: float
    call: Call
    handicap: float | None

    @property
    def ratio(self) -> float:
        """Times as fast."""
        return math.exp(self.log_ratio)


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

    def difference(self, at: int) -> FloatArray:
        """Part of one task in the variance of every difference, shape (k, k)."""
        found = self.left[at] @ self.right[at].T
        if self.together is not None:
            found -= 2.0 * self.together[at]
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
    found = moved @ node_information(app.weight, app.share) @ moved.transpose(0, 2, 1)
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


@dataclass(frozen=True, slots=True)
class PairTable:
    """All margins among k setups, as square arrays of shape (k, k).

    Attributes:
        contrasts: the estimates behind them.
        comparable: False where two setups have no bridge, or not the same job.
        lo, hi: interval ends on the log scale.
        call: index into ``CALL_ORDER``.
        materiality: m = ln(1 + materiality).
    """

    contrasts: Contrasts
    comparable: np.ndarray
    lo: FloatArray
    hi: FloatArray
    call: np.ndarray
    materiality: float

    def margin(self, i: int, j: int) -> Margin:
        """Take the margin of the i-th setup over the j-th out of the table."""
        c = self.contrasts
        call = CALL_ORDER[int(self.call[i, j])]
        lo, hi = float(self.lo[i, j]), float(self.hi[i, j])
        return Margin(
            int(c.setups[i]), int(c.setups[j]), float(c.estimate[i] - c.estimate[j]),
            float(c.se[i, j]), float(c.df[i, j]), lo, hi, call,
            handicap_survived(lo, hi, call, self.materiality),
        )  # fmt: skip

    def count(self, call: Call) -> int:
        """Count the unordered pairs with this call."""
        upper = np.triu(np.ones(self.call.shape, dtype=bool), 1)
        return int(((self.call == CALL_ORDER.index(call)) & upper).sum())

    def open_with_others(self) -> IndexArray:
        """Count the open calls that each setup stands in, shape (k,)."""
        return np.asarray((self.call == CALL_ORDER.index(Call.OPEN)).sum(axis=1))


CALL_ORDER = (Call.CLEAR, Call.LEVEL, Call.AHEAD, Call.OPEN, Call.NOT_COMPARABLE)
"""The order in which calls are tried; ``PairTable.call`` holds places in it."""


def compare_pairs(
    contrasts: Contrasts,
    component: IndexArray,
    settings: Settings,
    *,
    broken: FlagArray | None = None,
) -> PairTable:
    """Put an interval and a call on every pair.

    Args:
        contrasts: estimates of k setups.
        component: label of each setup's component, shape (k,); pairs with
            different labels have no bridge.
        settings: confidence and materiality.
        broken: pairs that were not given the same job, shape (k, k); they have no margin.

    Returns:
        The margins of all pairs.

    Reference:
        Student's t intervals; Schuirmann (1987) for the level call.
    """
    half = student_quantile(settings.confidence, contrasts.df) * contrasts.se
    lo, hi = contrasts.log_ratio - half, contrasts.log_ratio + half
    comparable = component[:, None] == component[None, :]
    if broken is not None:
        comparable &= ~broken
    m = math.log1p(settings.materiality)
    call = np.select(
        [~comparable, (lo > m) | (hi < -m), (-m < lo) & (hi < m), (lo > 0) | (hi < 0)],
        [4, 0, 1, 2],
        default=3,
    )
    return PairTable(contrasts, comparable, lo, hi, call, m)


def student_quantile(confidence: float, df: FloatArray) -> FloatArray:
    """Two-sided Student quantile for each entry of ``df`` (inf: normal).

    Equal degrees of freedom differ by rounding only, so each is solved once.
    """
    flat = np.asarray(df, dtype=float).ravel()
    rounded = np.where(np.isfinite(flat), flat, 1e300)
    exponent = np.floor(np.log10(rounded))
    key = np.round(rounded / 10.0**exponent, 12) * 10.0**exponent
    unique, place = np.unique(key, return_inverse=True)
    quantile = stdtrit(np.minimum(unique, 1e10), 0.5 + confidence / 2.0)
    return np.asarray(quantile[place], dtype=float).reshape(np.shape(df))


def decide_call(lo: float, hi: float, materiality_log: float) -> Call:
    """Decide the call of one interval on the log scale.

    Args:
        lo, hi: ends of the interval of Δ.
        materiality_log: m = ln(1 + materiality), 0 or more.

    Returns:
        clear, level, ahead or open, tried in that order.

    Example:
        >>> decide_call(0.05, 0.09, 0.03)
        <Call.CLEAR: 'clear'>
    """
    m = materiality_log
    if lo > m or hi < -m:
        return Call.CLEAR
    if -m < lo and hi < m:
        return Call.LEVEL
    return Call.AHEAD if lo > 0 or hi < 0 else Call.OPEN


def handicap_survived(lo: float, hi: float, call: Call, materiality_log: float) -> float | None:
    """State the largest unmeasured unfairness that leaves the call standing.

    Returns:
        exp(lo) − 1 for ahead, exp(lo − m) − 1 for clear, taken on the side that
        leads; None for other calls.
    """
    nearest = max(lo, -hi)
    if call is Call.AHEAD:
        return math.expm1(nearest)
    return math.expm1(nearest - materiality_log) if call is Call.CLEAR else None


@dataclass(frozen=True, slots=True)
class Saving:
    """Time that the faster setup saves in one run, in seconds, with its interval."""

    seconds: float
    lo: float
    hi: float


def time_saved(contrasts: Contrasts, i: int, j: int, confidence: float) -> Saving:
    """State the seconds that the i-th setup saves over the j-th in one run.

    Args:
        contrasts: of one task that measures time.
        i, j: places in ``contrasts.setups``.
        confidence: of the interval.

    Returns:
        t_j − t_i, by the delta method on both θ: d(t_j − t_i) = t_i dθ_i − t_j dθ_j.
    """
    t_i, t_j = math.exp(-contrasts.estimate[i]), math.exp(-contrasts.estimate[j])
    gradient = np.array([t_i, -t_j])
    covariance = contrasts.covariance[np.ix_([i, j], [i, j])]
    se = math.sqrt(max(float(gradient @ covariance @ gradient), 0.0))
    half = float(student_quantile(confidence, contrasts.df[i : i + 1, j])[0]) * se
    return Saving(t_j - t_i, t_j - t_i - half, t_j - t_i + half)
