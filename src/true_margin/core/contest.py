"""A contest of machines for a viewer: who takes part, at which price and score.

Section 9 of the computation page. The four rules give each contender a score; ``picks`` says
who wins.
"""

from __future__ import annotations

import math
from collections.abc import Mapping
from dataclasses import dataclass, field, replace
from decimal import Decimal
from enum import StrEnum

import numpy as np

from true_margin.core.analysis import Analysis
from true_margin.core.contrasts import Contrasts, combine_rows, contrast_setups
from true_margin.core.errors import CoreError
from true_margin.core.margins import student_quantile
from true_margin.core.numerals import short
from true_margin.core.samples import add_units
from true_margin.core.study import FlagArray, FloatArray, IndexArray
from true_margin.core.weekly import Waiting
from true_margin.core.work_speed import Work, WorkSpeeds

MOST_YEARS = 50.0
"""Longest horizon."""


class Rule(StrEnum):
    """By what a machine is picked."""

    FASTEST = "fastest within budget"
    VALUE = "best value"
    WORTH = "best net worth"
    ENOUGH = "cheapest that is fast enough"


class Why(StrEnum):
    """Why a setup takes no part."""

    OFF = "off the ladder"
    UNPRICED = "unpriced"
    NEED = "need"
    BUDGET = "over budget"
    SLOW = "too slow"
    ASSUMED = "assumed"


class NoPick(StrEnum):
    """Why there is no pick at all."""

    NO_WORK = "no work"
    NO_SETUPS = "no setups"
    NO_PRICES = "no prices"
    NEEDS = "needs"
    BUDGET = "budget"
    NOT_FAST = "not fast enough"
    NO_WEEKLY = "no weekly work"
    NO_LIMIT = "no accepted time"


@dataclass(frozen=True, slots=True)
class ViewerProfile:
    """Whom a machine is picked for; money in one currency.

    Attributes:
        work: mix or weekly work.
        rule: by what is picked.
        budget: the most that may be paid; None for no bound.
        owned: index of the setup that the viewer has; None for none.
        resale: what that brings when it is sold.
        waiting: what waiting costs.
        horizon: years that a machine is kept, above 0.
        accepted: longest time of one run that is fast enough, in seconds by task index.
    """

    work: Work
    rule: Rule = Rule.FASTEST
    budget: Decimal | None = None
    owned: int | None = None
    resale: Decimal = Decimal(0)
    waiting: Waiting = field(default_factory=lambda: Waiting(Decimal(0)))
    horizon: float = 3.0
    accepted: Mapping[int, float] = field(default_factory=dict)

    def __post_init__(self) -> None:
        """Refuse what no viewer can mean.

        Raises:
            CoreError: with what is out of range.
        """
        if not (math.isfinite(self.horizon) and 0 < self.horizon <= MOST_YEARS):
            raise CoreError(
                f"a horizon of {short(self.horizon)} years: must be above 0 and at most 50; "
                f"a machine must be kept for some time before it can be worth anything"
            )
        for what, amount in (("budget", self.budget), ("resale", self.resale)):
            if amount is not None and not (amount.is_finite() and amount >= 0):
                raise CoreError(f"the {what} must be 0 or more, got {amount}")
        for seconds in self.accepted.values():
            if not (math.isfinite(seconds) and seconds > 0):
                raise CoreError(f"an accepted time must be above 0, got {short(seconds)}")


@dataclass(frozen=True, slots=True)
class Market:
    """What the setups cost this viewer, one entry a setup.

    Attributes:
        prices: in the viewer's currency; None where there is none.
        unit: smallest amount of that currency.
        barred: setups that miss a need.
        noise: rank or level of noise, less is quieter; None where it is not known.
    """

    prices: tuple[Decimal | None, ...]
    unit: Decimal = Decimal("0.01")
    barred: frozenset[int] = frozenset()
    noise: tuple[float | None, ...] = ()

    def for_models(self, owned: int | None) -> tuple[Decimal | None, ...]:
        """Prices by which one setup of each model is chosen to stand for it: the owned first."""
        return tuple(
            Decimal(-1) if setup == owned else price for setup, price in enumerate(self.prices)
        )


@dataclass(frozen=True, slots=True)
class Limits:
    """Times of one run on the tasks for which a viewer accepts some time.

    Attributes:
        contrasts: log speeds; k setups, one row each task and setup, shape (k · n,).
        accepted: log of the slowest accepted speed of each task, shape (n,).
        half: half widths of the intervals of each row, shape (k, n).
    """

    contrasts: Contrasts
    accepted: FloatArray
    half: FloatArray

    @property
    def spare(self) -> FloatArray:
        """By how much each setup is faster than accepted, log scale, shape (k, n)."""
        return np.asarray(self.contrasts.estimate.reshape(self.half.shape) - self.accepted)


@dataclass(frozen=True)
class Contest:
    """Everything that a pick rests on; prices in whole minor units.

    The k contenders are the setups on the ladder of the viewer's work.

    Attributes:
        viewer: whom it is for.
        market: prices and needs.
        speeds: of the contenders.
        setups: their indices, shape (k,).
        price: in minor units, −1 where there is none, shape (k,).
        allowed: contenders that miss no need and may be picked by this rule, shape (k,).
        keep: place of the owned one where keeping it takes part; else −1.
        base: the part of each score that no price moves, shape (k,).
        half: half widths of the intervals of score differences, shape (k, k).
        threshold: materiality in the score's unit.
        noise: inf where it is not known, shape (k,).
        budget: in minor units; None for no bound.
        limits: where the rule asks for a time.
    """

    viewer: ViewerProfile
    market: Market
    speeds: WorkSpeeds
    setups: IndexArray
    price: IndexArray
    allowed: FlagArray
    keep: int
    base: FloatArray
    half: FloatArray
    threshold: float
    noise: FloatArray
    budget: int | None
    limits: Limits | None

    def scores(self, price: IndexArray) -> FloatArray:
        """Score of each contender at these prices in minor units; more is better."""
        if self.viewer.rule is Rule.FASTEST:
            return self.base
        paid = np.maximum(price, 0).astype(float)
        if self.viewer.rule is Rule.VALUE:
            # What costs nothing counts as half a minor unit, so that two of them can be told.
            return np.asarray(self.base - np.log(np.maximum(paid, 0.5)))
        if self.viewer.rule is Rule.WORTH:
            return np.asarray(self.base - paid * float(self.market.unit))
        return -self.tie_price(price).astype(float)

    def open_to(self, price: IndexArray) -> FlagArray:
        """Mark the contenders that may be picked at these prices."""
        affordable = price >= 0
        if self.budget is not None:
            affordable = affordable & (price <= self.budget)
        if self.keep >= 0:
            affordable = affordable.copy()
            affordable[self.keep] = True
        return np.asarray(affordable & self.allowed & self.fast_enough)

    @property
    def fast_enough(self) -> FlagArray:
        """Mark the contenders that meet every accepted time."""
        if self.limits is None:
            return np.ones(len(self.setups), dtype=bool)
        return np.asarray((self.limits.spare >= 0).all(axis=1))

    def tie_price(self, price: IndexArray) -> IndexArray:
        """Prices as a tie sees them: keeping what one has costs nothing at all."""
        if self.keep < 0:
            return price
        seen = price.copy()
        seen[self.keep] = -1
        return seen


def prepare(
    analysis: Analysis, viewer: ViewerProfile, market: Market, speeds: WorkSpeeds
) -> Contest | NoPick:
    """Set a contest up.

    Returns:
        The contest; or why there can be none.

    Raises:
        CoreError: the owned setup is not in the study.
    """
    if viewer.owned is not None and not 0 <= viewer.owned < len(analysis.study.setups):
        raise CoreError("the owned machine is not in this line-up")
    if viewer.rule is Rule.WORTH and speeds.weekly is None:
        return NoPick.NO_WEEKLY
    if viewer.rule is Rule.ENOUGH and not viewer.accepted:
        return NoPick.NO_LIMIT
    setups = speeds.setups
    if len(setups) == 0:
        return NoPick.NO_SETUPS
    price = np.array([_in_units(market.prices[s], market.unit) for s in setups], dtype=np.int64)
    allowed = np.array([int(s) not in market.barred for s in setups])
    owned = speeds.place(viewer.owned)
    keep = -1
    if owned is not None:
        keep = owned if viewer.rule is not Rule.VALUE else -1
        # What it would bring is what keeping it costs.
        price[owned] = _in_units(viewer.resale, market.unit)
        allowed[owned] &= viewer.rule is not Rule.VALUE
    limits = _limits(analysis, viewer, speeds) if viewer.rule is Rule.ENOUGH else None
    if limits is not None:
        allowed &= np.isfinite(limits.contrasts.estimate.reshape(limits.half.shape)).all(axis=1)
    base, half, threshold = _scale(analysis, viewer, speeds, owned)
    noise = [market.noise[s] if market.noise else None for s in setups]
    return Contest(
        viewer,
        market,
        speeds,
        setups,
        price,
        allowed,
        keep,
        base,
        np.where(speeds.pairs.comparable, half, np.inf),
        threshold,
        np.array([math.inf if n is None else n for n in noise]),
        None if viewer.budget is None else _in_units(viewer.budget, market.unit),
        limits,
    )


def at_speeds(contest: Contest, theta: FloatArray) -> Contest:
    """The same contest at other speeds, with intervals as wide as they were: for looking around.

    Args:
        contest: of a rule that asks for no time.
        theta: log speed of each contender, shape (k,).
    """
    if contest.viewer.rule is not Rule.WORTH:
        return replace(contest, base=theta)
    each = money_per_hour(contest.viewer)
    hours, before = np.exp(-theta), np.exp(-contest.speeds.theta)
    owned = contest.speeds.place(contest.viewer.owned)
    place = int(np.argmax(before)) if owned is None else owned
    return replace(
        contest,
        base=-each * hours,
        half=contest.half * float(hours.mean() / before.mean()),
        threshold=contest.threshold * float(hours[place] / before[place]),
    )


def _in_units(amount: Decimal | None, unit: Decimal) -> int:
    """Whole minor units of an amount; −1 for none."""
    return -1 if amount is None else int((amount / unit).to_integral_value())


def money_per_hour(viewer: ViewerProfile) -> float:
    """What an hour a week is worth over the viewer's horizon."""
    return viewer.waiting.yearly_worth(1.0) * viewer.horizon


def _scale(
    analysis: Analysis, viewer: ViewerProfile, speeds: WorkSpeeds, owned: int | None
) -> tuple[FloatArray, FloatArray, float]:
    """Fixed part of the scores, half widths of their differences, and materiality."""
    if viewer.rule is Rule.ENOUGH:
        # Prices are known, so only equal ones are level.
        return np.zeros(len(speeds.setups)), np.full(speeds.half.shape, np.inf), 0.0
    models = speeds.models
    # A viewer buys another sample than the tested one, and has another than it.
    own = np.zeros((len(models.names),) * 2)
    if owned is not None:
        own[owned, :] = own[:, owned] = 1.0
    if viewer.rule is not Rule.WORTH or speeds.weekly is None:
        return (
            speeds.theta,
            models.half(2.0 * own),
            math.log1p(analysis.study.settings.materiality),
        )
    hours = speeds.weekly.hours
    each = money_per_hour(viewer)
    weighed = hours.estimate[:, None] * models.by_unit
    square = (weighed**2).sum(axis=1)
    units = square[:, None] + square[None, :] - 2.0 * weighed @ weighed.T
    both = hours.estimate**2
    units += own * (both[:, None] + both[None, :])
    variance, df = add_units(hours.se**2, hours.df, units, models.unit_spread)
    # What is worth telling of a worth: that share of what waiting costs now.
    now = float(hours.estimate[owned] if owned is not None else hours.estimate.max())
    threshold = analysis.study.settings.materiality * each * now
    half = models.quantiles(df) * np.sqrt(variance)
    np.fill_diagonal(half, 0.0)
    return -each * hours.estimate, each * half, threshold


def _limits(analysis: Analysis, viewer: ViewerProfile, speeds: WorkSpeeds) -> Limits:
    if speeds.members:
        return _model_limits(analysis, viewer, speeds)
    tasks = sorted(viewer.accepted)
    k, n = len(speeds.setups), len(tasks)
    rows = np.repeat(speeds.setups, n)
    there = np.isfinite(analysis.fit.theta[speeds.setups][:, tasks])
    weights = np.tile(np.eye(len(analysis.study.tasks))[tasks], (k, 1))
    weights[~there.ravel()] = 0.0
    contrasts = contrast_setups(analysis.fit, analysis.cells, rows, weights)
    estimate = np.where(there.ravel(), contrasts.estimate, np.nan)
    contrasts = Contrasts(
        rows, estimate, contrasts.covariance, contrasts.se, contrasts.df, contrasts.own_df
    )
    models = speeds.models
    # The sample that is bought is another than those that were timed.
    units = np.repeat((models.by_unit**2).sum(axis=1) + 1.0, n)
    alone = np.maximum(np.diag(contrasts.covariance), 0.0)
    variance, df = add_units(alone, contrasts.own_df, units, models.unit_spread)
    quantile = student_quantile(analysis.study.settings.confidence, df)
    half = quantile * np.sqrt(variance)
    accepted = -np.log([viewer.accepted[task] for task in tasks])
    return Limits(contrasts, accepted, np.asarray(half, dtype=float).reshape(k, n))


def _model_limits(analysis: Analysis, viewer: ViewerProfile, speeds: WorkSpeeds) -> Limits:
    """Times of models of several setups: the mean of what each takes."""
    tasks = sorted(viewer.accepted)
    setups = np.concatenate(speeds.members)
    k, n, rows = len(speeds.members), len(tasks), np.repeat(setups, len(tasks))
    weights = np.tile(np.eye(len(analysis.study.tasks))[tasks], (len(setups), 1))
    there = np.isfinite(analysis.fit.theta[rows, np.tile(tasks, len(setups))])
    weights[~there] = 0.0
    each = contrast_setups(analysis.fit, analysis.cells, rows, weights)
    mean = np.zeros((k * n, len(rows)))
    own_df, at = np.empty(k * n), 0
    for place, members in enumerate(speeds.members):
        for task in range(n):
            columns = [(at + m) * n + task for m in range(len(members))]
            mean[place * n + task, columns] = 1.0 / len(members)
            combo = np.zeros((1, len(members)))
            combo[:] = 1.0 / len(members)
            one = np.eye(len(analysis.study.tasks))[tasks[task]]
            found = combine_rows(analysis.fit, analysis.cells, members, one, combo)
            own_df[place * n + task] = found[1][0]
        at += len(members)
    estimate = mean @ np.where(there, each.estimate, np.nan)
    covariance = mean @ each.covariance @ mean.T
    own = np.diag(covariance)
    se = np.sqrt(np.maximum(own[:, None] + own[None, :] - 2.0 * covariance, 0.0))
    contrasts = Contrasts(
        np.repeat(speeds.setups, n), estimate, covariance, se, np.full_like(se, np.inf), own_df
    )
    units = np.repeat((speeds.models.by_unit**2).sum(axis=1) + 1.0, n)
    variance, df = add_units(np.maximum(own, 0.0), own_df, units, speeds.models.unit_spread)
    half = student_quantile(analysis.study.settings.confidence, df) * np.sqrt(variance)
    accepted = -np.log([viewer.accepted[task] for task in tasks])
    return Limits(contrasts, accepted, half.reshape(k, n))
