"""Margins: how far ahead one setup is of another, how surely, and the call.

Section 4 of the computation page. All pairs of one task (or mix) are held as
square arrays; a single margin is taken out of them when somebody asks.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from itertools import pairwise

import numpy as np
from scipy.special import stdtrit

from true_margin.core.cells import CellTable
from true_margin.core.rounds import CoefficientRows, Fit
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
        setups: indices, shape (k,), each measured on every weighted task.
        weights: one weight a task, summing to 1, shape (tasks,).

    Returns:
        Estimates with pairwise standard errors and degrees of freedom.

    Reference:
        Satterthwaite (1946), eq. 17.
    """
    rows = fit.rows_of(setups, weights)
    parts, dfs = _variance_parts(fit, cells, rows)
    own = np.diagonal(parts, axis1=1, axis2=2)
    # Rounding can leave a difference of equals just below zero.
    differences = np.maximum(own[:, :, None] + own[:, None, :] - 2.0 * parts, 0.0)
    pair = differences.sum(axis=0)
    np.fill_diagonal(pair, 0.0)
    df_pairs = _satterthwaite(pair, differences, dfs)
    np.fill_diagonal(df_pairs, np.inf)
    covariance = parts.sum(axis=0)
    own_df = _satterthwaite(np.diag(covariance), own, dfs)
    estimate = rows.matrix @ cells.value[rows.cells]
    return Contrasts(setups, estimate, covariance, np.sqrt(pair), df_pairs, own_df)


def _satterthwaite(variance: FloatArray, parts: FloatArray, dfs: FloatArray) -> FloatArray:
    """df = (Σ A)² / Σ (A²/df), part by part along the first axis; inf where there is none."""
    spent = np.tensordot(1.0 / dfs, parts**2, axes=1)
    with np.errstate(divide="ignore", invalid="ignore"):
        return np.where(spent > 0, variance**2 / spent, np.inf)


def _variance_parts(
    fit: Fit, cells: CellTable, rows: CoefficientRows
) -> tuple[FloatArray, FloatArray]:
    """Split the covariance of the rows into a part a task, and the τ part.

    Returns:
        Parts of shape (parts, k, k), and the degrees of freedom of each.
    """
    order = np.argsort(cells.task[rows.cells], kind="stable")
    own, matrix = rows.cells[order], rows.matrix[:, order]
    task = cells.task[own]
    edges = np.flatnonzero(np.diff(task, prepend=-1, append=-1))
    weighted = (matrix / cells.weight[own]).T
    parts, dfs = [], []
    for start, end in pairwise(edges):
        parts.append(matrix[:, start:end] @ weighted[start:end])
        spread = cells.spread[task[start]]
        assert spread is not None, "a task with cells has a spread"
        dfs.append(spread.df)
    group = fit.group[own]
    if fit.update.df is not None and fit.update.cv > 0 and (group >= 0).any():
        ids = np.unique(group[group >= 0])
        shared = matrix @ (group[:, None] == ids).astype(float)
        parts.append(fit.update.cv**2 * (shared @ shared.T))
        dfs.append(fit.update.df)
    k = len(rows.matrix)
    return np.array(parts, dtype=float).reshape(len(parts), k, k), np.array(dfs, dtype=float)


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
