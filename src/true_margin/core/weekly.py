"""Weekly work: the hours that each setup takes for it, what saving them is worth, and payback.

Section 9 of the computation page. The work is known, so total time counts, not the mean of
ratios (Smith 1988): a ratio on a short task saves less than the same ratio on a long one.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

import numpy as np
from scipy.special import stdtrit

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import contrast_setups
from true_margin.core.errors import CoreError
from true_margin.core.study import FloatArray, IndexArray, Measure

WEEKS_IN_YEAR = 52.0
HOUR_S = 3600.0


@dataclass(frozen=True, slots=True)
class Weekly:
    """Hours a week for the same work, of every setup that did all of its tasks.

    Attributes:
        setups: indices, shape (k,).
        hours: hours a week, shape (k,).
        covariance: of the hours, by the delta method, shape (k, k).
        df: degrees of freedom of each hours alone, shape (k,).
    """

    setups: IndexArray
    hours: FloatArray
    covariance: FloatArray
    df: FloatArray


@dataclass(frozen=True, slots=True)
class Span:
    """A value with its interval."""

    value: float
    lo: float
    hi: float


def weekly_hours(analysis: Analysis, amounts: Mapping[int, float]) -> Weekly:
    """Give the hours a week that each setup takes.

    Args:
        analysis: of the study.
        amounts: work a week by task index, in the task's unit of work; runs a week where
            a task states no work. Tasks that measure an amount take no part.

    Returns:
        Setups that were measured on every task with an amount above 0; none where there
        is no such task.

    Raises:
        CoreError: an amount is negative or not finite.
    """
    for task, amount in amounts.items():
        if not (math.isfinite(amount) and amount >= 0):
            name = analysis.study.tasks[task].name
            raise CoreError(f"weekly work of {name}: must be 0 or more, got {amount}")
    tasks = [
        task
        for task, amount in sorted(amounts.items())
        if amount > 0 and analysis.study.tasks[task].measure is Measure.TIME
    ]
    done = (analysis.fit.component[:, tasks] >= 0).all(axis=1) if tasks else np.zeros(0, bool)
    setups = np.flatnonzero(done)
    k, n = len(setups), len(tasks)
    if k == 0:
        return Weekly(setups, np.zeros(0), np.zeros((0, 0)), np.zeros(0))
    works = [analysis.study.tasks[task].work or 1.0 for task in tasks]
    # Hours a week at a time of one second a run: a_t / (3600 · work).
    scale = np.array([amounts[t] / (HOUR_S * w) for t, w in zip(tasks, works, strict=True)])
    rows = np.repeat(setups, n)
    weights = np.tile(np.eye(len(analysis.study.tasks))[tasks], (k, 1))
    contrasts = contrast_setups(analysis.fit, analysis.cells, rows, weights)
    parts = (scale[None, :] * np.exp(-contrasts.estimate.reshape(k, n))).ravel()
    # dH = −Σ part dθ: each setup's row holds the gradient of its own hours.
    gradient = np.zeros((k, k * n))
    gradient[np.repeat(np.arange(k), n), np.arange(k * n)] = -parts
    covariance = gradient @ contrasts.covariance @ gradient.T
    # The part that weighs most decides; it is never fewer than the least of them.
    df = contrasts.own_df.reshape(k, n).min(axis=1)
    return Weekly(setups, parts.reshape(k, n).sum(axis=1), covariance, df)


def hours_saved(weekly: Weekly, i: int, owned: int, confidence: float) -> Span:
    """Give the hours a week that the i-th setup saves over the owned one, with interval.

    Args:
        weekly: hours of all.
        i, owned: places in ``weekly.setups``.
        confidence: of the interval.
    """
    saved = float(weekly.hours[owned] - weekly.hours[i])
    c = weekly.covariance
    variance = max(float(c[i, i] + c[owned, owned] - 2 * c[i, owned]), 0.0)
    df = min(float(weekly.df[i]), float(weekly.df[owned]), 1e10)
    half = float(stdtrit(df, 0.5 + confidence / 2)) * math.sqrt(variance) if i != owned else 0.0
    return Span(saved, saved - half, saved + half)


@dataclass(frozen=True, slots=True)
class Waiting:
    """What waiting costs a viewer.

    Attributes:
        value_of_hour: in the shootout's currency.
        attended: part of the waiting that costs, 0 to 1; default a half.
        weeks: working weeks in a year, above 0 and at most 52; default 48.
    """

    value_of_hour: Decimal
    attended: float = 0.5
    weeks: float = 48.0

    def __post_init__(self) -> None:
        """Refuse what no viewer can mean.

        Raises:
            CoreError: with what is out of range.
        """
        if not (self.value_of_hour.is_finite() and self.value_of_hour >= 0):
            raise CoreError(f"the value of an hour must be 0 or more, got {self.value_of_hour}")
        if not 0 <= self.attended <= 1:
            raise CoreError(f"the attended share must lie between 0 and 1, got {self.attended}")
        if not 0 < self.weeks <= WEEKS_IN_YEAR:
            raise CoreError(f"working weeks must be above 0 and at most 52, got {self.weeks}")

    def weekly_worth(self, saved_h: float) -> float:
        """Worth of hours saved in one working week."""
        return saved_h * self.attended * float(self.value_of_hour)

    def yearly_worth(self, saved_h: float) -> float:
        """Worth of hours saved in a week, over a year."""
        return self.weekly_worth(saved_h) * self.weeks


class PaybackKind(StrEnum):
    """What a payback comes to."""

    WEEKS = "weeks"
    AT_ONCE = "at once"
    NEVER = "never"
    NOT_SURE = "not sure"
    SLOWER = "slower but cheaper"
    """Money now against hours lost."""


@dataclass(frozen=True, slots=True)
class Payback:
    """When a machine has paid for itself.

    Attributes:
        kind: what it comes to.
        weeks: calendar weeks with interval, where it is weeks; its upper end may be
            infinite where it is not sure.
    """

    kind: PaybackKind
    weeks: Span | None = None


def payback(price: Decimal, resale: Decimal, saved: Span, waiting: Waiting) -> Payback:
    """Say when a machine has paid for itself against the owned one.

    Args:
        price: of the new one, in the shootout's currency.
        resale: of the owned one.
        saved: hours saved a week, with interval.
        waiting: what waiting costs.

    Returns:
        Calendar weeks are working weeks × 52 / working weeks a year. "Never" where the
        interval of hours saved ends at or below 0 or waiting costs nothing, "at once" where
        the price is no higher than the resale and hours are saved, "not sure" where the
        interval straddles 0.
    """
    cost = float(price - resale)
    if cost <= 0:
        return Payback(PaybackKind.AT_ONCE if saved.value > 0 else PaybackKind.SLOWER)
    if saved.hi <= 0 or waiting.weekly_worth(1.0) <= 0:
        return Payback(PaybackKind.NEVER)

    def weeks(hours: float) -> float:
        worth = waiting.weekly_worth(hours)
        return cost / worth * WEEKS_IN_YEAR / waiting.weeks if worth > 0 else math.inf

    span = Span(weeks(saved.value), weeks(saved.hi), weeks(saved.lo))
    return Payback(PaybackKind.NOT_SURE if saved.lo <= 0 else PaybackKind.WEEKS, span)
