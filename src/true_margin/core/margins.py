"""Margins: how far ahead one setup is of another, how surely, and the call.

Section 4 of the computation page. All pairs of one task (or mix) are held as
square arrays; a single margin is taken out of them when somebody asks.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum
from functools import lru_cache

import numpy as np
from scipy.special import stdtrit

from true_margin.core.contrasts import Contrasts
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
        confidence: at which it is judged.
        topped_up: whether runs were added after the plan, so that it is judged more strictly.
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
    confidence: float = 0.95
    topped_up: bool = False

    @property
    def ratio(self) -> float:
        """Times as fast."""
        return math.exp(self.log_ratio)


@dataclass(frozen=True, slots=True)
class PairTable:
    """All margins among k setups, as square arrays of shape (k, k).

    Attributes:
        contrasts: the estimates behind them.
        comparable: False where two setups have no bridge, or not the same job.
        lo, hi: interval ends on the log scale.
        call: index into ``CALL_ORDER``.
        materiality: m = ln(1 + materiality).
        confidence: at which most pairs are judged.
        topped_up: pairs that are judged more strictly, because runs were added after the plan.
    """

    contrasts: Contrasts
    comparable: np.ndarray
    lo: FloatArray
    hi: FloatArray
    call: np.ndarray
    materiality: float
    confidence: float
    topped_up: FlagArray

    def confidence_of(self, i: int, j: int) -> float:
        """At which confidence a pair is judged."""
        return stricter(self.confidence) if self.topped_up[i, j] else self.confidence

    def margin(self, i: int, j: int) -> Margin:
        """Take the margin of the i-th setup over the j-th out of the table."""
        c = self.contrasts
        call = CALL_ORDER[int(self.call[i, j])]
        lo, hi = float(self.lo[i, j]), float(self.hi[i, j])
        return Margin(
            int(c.setups[i]),
            int(c.setups[j]),
            float(c.estimate[i] - c.estimate[j]),
            float(c.se[i, j]),
            float(c.df[i, j]),
            lo,
            hi,
            call,
            tolerable_bias(lo, hi, call, self.materiality),
            self.confidence_of(i, j),
            bool(self.topped_up[i, j]),
        )

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
    topped_up: FlagArray | None = None,
) -> PairTable:
    """Put an interval and a call on every pair.

    Args:
        contrasts: estimates of k setups.
        component: label of each setup's component, shape (k,); pairs with
            different labels have no bridge.
        settings: confidence and materiality.
        broken: pairs that were not given the same job, shape (k, k); they have no margin.
        topped_up: setups with more runs than were planned, shape (k,); None for none.

    Returns:
        The margins of all pairs.

    Reference:
        Student's t intervals; Schuirmann (1987) for the level call.
    """
    k = len(contrasts.setups)
    added = np.zeros(k, dtype=bool) if topped_up is None else topped_up
    strict = added[:, None] | added[None, :]
    quantile = student_quantile(settings.confidence, contrasts.df)
    if strict.any():
        quantile = np.where(
            strict, student_quantile(stricter(settings.confidence), contrasts.df), quantile
        )
    half = quantile * contrasts.se
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
    return PairTable(contrasts, comparable, lo, hi, call, m, settings.confidence, strict)


def stricter(confidence: float) -> float:
    """At which confidence pairs are judged whose runs were added after the plan.

    Looking again after every run finds a difference too often; a fifth of the doubt keeps it
    near what was promised.

    Example:
        >>> round(stricter(0.95), 4)
        0.99
    """
    return 1.0 - (1.0 - confidence) / 5.0


def student_quantile(confidence: float, df: FloatArray) -> FloatArray:
    """Two-sided Student quantile for each entry of ``df`` (inf: normal).

    Equal degrees of freedom differ by rounding only, so each is solved once.
    """
    if df.ndim == 2 and df.shape[0] == df.shape[1] > 1 and (df == df.T).all():
        i, j = _upper(len(df))
        square = np.empty(df.shape)
        square[i, j] = square[j, i] = student_quantile(confidence, df[i, j])
        return square
    flat = np.asarray(df, dtype=float).ravel()
    rounded = np.where(np.isfinite(flat), flat, 1e300)
    exponent = np.floor(np.log10(rounded))
    key = np.round(rounded / 10.0**exponent, 12) * 10.0**exponent
    unique, place = np.unique(key, return_inverse=True)
    quantile = stdtrit(np.minimum(unique, 1e10), 0.5 + confidence / 2.0)
    return np.asarray(quantile[place], dtype=float).reshape(np.shape(df))


@lru_cache(maxsize=16)
def _upper(k: int) -> tuple[IndexArray, IndexArray]:
    """Places on and above the diagonal of a square."""
    return np.triu_indices(k)


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


def tolerable_bias(lo: float, hi: float, call: Call, materiality_log: float) -> float | None:
    """State the largest unmeasured unfairness that leaves the call standing.

    Returns:
        exp(lo) − 1 for ahead, exp(lo − m) − 1 for clear, taken on the side that
        leads; None for other calls.
    """
    nearest = max(lo, -hi)
    if call is Call.AHEAD:
        return math.expm1(nearest)
    return math.expm1(nearest - materiality_log) if call is Call.CLEAR else None


def own_half(contrasts: Contrasts, place: int, confidence: float) -> float:
    """Half the interval of one setup's Θ by itself, not of a difference.

    Args:
        contrasts: of one task or a mix.
        place: place of the setup in them.
        confidence: of the interval, as a fraction.
    """
    df = contrasts.own_df[place : place + 1]
    variance = max(float(contrasts.covariance[place, place]), 0.0)
    return float(student_quantile(confidence, df)[0]) * math.sqrt(variance)


def pair_half(contrasts: Contrasts, i: int, j: int, confidence: float) -> float:
    """Half the interval of the difference between two setups.

    Args:
        contrasts: of one task, a mix or weekly work.
        i, j: places in ``contrasts.setups``.
        confidence: of the interval, as a fraction.
    """
    df = contrasts.df[i : i + 1, j]
    return float(student_quantile(confidence, df)[0]) * float(contrasts.se[i, j])


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
