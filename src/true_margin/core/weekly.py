"""Weekly work: the hours that each setup takes for it, and what saving them is worth.

Section 9 of the computation page. The work is known, so total time counts, not the mean of
ratios (Smith 1988): a ratio on a short task saves less than the same ratio on a long one.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, replace
from decimal import Decimal
from enum import StrEnum

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import Contrasts, contrast_setups
from true_margin.core.errors import CoreError
from true_margin.core.margins import own_half, pair_half
from true_margin.core.numerals import short
from true_margin.core.study import FloatArray, IndexArray, Measure

WEEKS_IN_YEAR = 52.0
HOUR_S = 3600.0
LEAST_HOURS, MOST_HOURS = 1e-12, 1e9
"""Fewer, or more, hours a week than this are not worked out."""


@dataclass(frozen=True, slots=True)
class Weekly:
    """Hours a week for the same work, of every setup that did all of its tasks.

    Attributes:
        hours: estimates in hours a week, with the variance of each difference, in
            hours², by the delta method.
        logs: the same as log speeds, −ln of the hours.
        parts: hours a week that each task takes, shape (k, tasks).
    """

    hours: Contrasts
    logs: Contrasts
    parts: FloatArray

    @property
    def setups(self) -> IndexArray:
        """Indices of the setups, shape (k,)."""
        return self.hours.setups

    def place(self, setup: int) -> int | None:
        """Place of a setup by index; None where it did not do all of the work."""
        found = np.flatnonzero(self.setups == setup)
        return int(found[0]) if len(found) else None


@dataclass(frozen=True, slots=True)
class Span:
    """A value with its interval."""

    value: float
    lo: float
    hi: float


def check_amounts(analysis: Analysis, amounts: Mapping[int, float]) -> None:
    """Refuse amounts of weekly work that nobody can mean.

    Raises:
        CoreError: an amount is negative or not finite.
    """
    for task, amount in amounts.items():
        if not (math.isfinite(amount) and amount >= 0):
            name = analysis.study.tasks[task].name
            raise CoreError(f"weekly work of {name}: must be 0 or more, got {short(amount)}")


def weekly_tasks(analysis: Analysis, amounts: Mapping[int, float]) -> list[int]:
    """Tasks that take part in weekly work: those that are timed, with an amount above 0."""
    timed = (t for t, facts in enumerate(analysis.study.tasks) if facts.measure is Measure.TIME)
    return [task for task in timed if amounts.get(task, 0.0) > 0]


def hours_of(analysis: Analysis, task: int, amount: float, theta: FloatArray) -> FloatArray:
    """Hours a week that an amount of one task takes at these log speeds: a / (3600 · work) · t."""
    scale = amount / (HOUR_S * (analysis.study.tasks[task].work or 1.0))
    return np.asarray(scale * np.exp(-theta))


class Exactly(StrEnum):
    """Which intervals of weekly work are worked out; those of the other are as wide, nearly."""

    BOTH = "both"
    HOURS = "hours"
    LOGS = "logs"


def weekly_hours(
    analysis: Analysis,
    amounts: Mapping[int, float],
    setups: IndexArray | None = None,
    exactly: Exactly = Exactly.BOTH,
) -> Weekly:
    """Give the hours a week that each setup takes.

    Args:
        analysis: of the study.
        amounts: work a week by task index, in the task's unit of work; runs a week where
            a task states no work. Tasks that measure an amount take no part.
        setups: only these, each measured on every task with an amount.
        exactly: a rule asks for hours or for their logs; of the other the degrees of freedom
            of differences are then taken from it.

    Returns:
        Setups that were measured on every task with an amount above 0; none where there
        is no such task.

    Raises:
        CoreError: an amount is negative or not finite, or the hours are beyond all sense.
    """
    check_amounts(analysis, amounts)
    tasks = weekly_tasks(analysis, amounts)
    if setups is None:
        done = (analysis.fit.component[:, tasks] >= 0).all(axis=1) if tasks else np.zeros(0, bool)
        setups = np.flatnonzero(done)
    parts = np.zeros((len(setups), len(analysis.study.tasks)))
    for task in tasks:
        parts[:, task] = hours_of(analysis, task, amounts[task], analysis.fit.theta[setups, task])
    hours = parts.sum(axis=1)
    if len(hours) and not (hours.min() >= LEAST_HOURS and hours.max() <= MOST_HOURS):
        raise CoreError("this work takes fewer, or more, hours a week than can be worked out")
    # dH = −Σ part dθ, and d ln H = dH / H: contrasts with these weights have their variance.
    fit, cells, shares = analysis.fit, analysis.cells, parts / hours[:, None]
    if exactly is Exactly.LOGS:
        log = contrast_setups(fit, cells, setups, shares)
        plain = _rescaled(log, hours)
    else:
        plain = contrast_setups(fit, cells, setups, parts)
        log = _rescaled(plain, 1.0 / hours)
        if exactly is Exactly.BOTH:
            log = contrast_setups(fit, cells, setups, shares)
    return Weekly(replace(plain, estimate=hours), replace(log, estimate=-np.log(hours)), parts)


def _rescaled(contrasts: Contrasts, factor: FloatArray) -> Contrasts:
    """The same rows, each multiplied; degrees of freedom of differences stay as they are."""
    covariance = contrasts.covariance * np.outer(factor, factor)
    own = np.diag(covariance)
    pair = own[:, None] + own[None, :] - 2.0 * covariance
    return replace(contrasts, covariance=covariance, se=np.sqrt(np.maximum(pair, 0.0)))


def hours_saved(weekly: Weekly, i: int, owned: int, confidence: float) -> Span:
    """Give the hours a week that the i-th setup saves over the owned one, with interval.

    Args:
        weekly: hours of all.
        i, owned: places in ``weekly.setups``.
        confidence: of the interval.
    """
    hours = weekly.hours
    saved = float(hours.estimate[owned] - hours.estimate[i])
    half = pair_half(hours, i, owned, confidence) if i != owned else 0.0
    return Span(saved, saved - half, saved + half)


def hours_span(weekly: Weekly, i: int, confidence: float) -> Span:
    """Give the hours a week that the i-th setup takes, with interval; never below 0."""
    hours = float(weekly.hours.estimate[i])
    half = own_half(weekly.hours, i, confidence)
    return Span(hours, max(hours - half, 0.0), max(hours + half, 0.0))


def energy_kwh(parts: FloatArray, power_w: Mapping[int, float]) -> tuple[float, int] | None:
    """Give the energy of a week's work, as far as power was measured.

    Args:
        parts: hours a week by task, shape (tasks,).
        power_w: mean power by task, where it was measured.

    Returns:
        Kilowatt hours a week, and on how many of its tasks; None where on none.
    """
    known = [task for task in np.flatnonzero(parts > 0).tolist() if task in power_w]
    if not known:
        return None
    return float(sum(parts[task] * power_w[task] for task in known)) / 1000, len(known)


@dataclass(frozen=True, slots=True)
class Waiting:
    """What waiting costs a viewer.

    Attributes:
        value_of_hour: in the viewer's currency.
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
