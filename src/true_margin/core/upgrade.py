"""Upgrading: what another machine saves over the owned one, what that is worth, and payback.

Section 9 of the computation page.
"""

from __future__ import annotations

import math
from dataclasses import dataclass
from decimal import Decimal
from enum import StrEnum

from true_margin.core.weekly import WEEKS_IN_YEAR, Span, Waiting, Weekly, hours_saved


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
        price: of the new one, in the viewer's currency.
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
    # Hours so few that no number holds the weeks have no end either.
    return Payback(PaybackKind.WEEKS if math.isfinite(span.hi) else PaybackKind.NOT_SURE, span)


def break_even(
    price: Decimal, resale: Decimal, saved_h: float, waiting: Waiting, years: float
) -> float | None:
    """Say how many times the viewer's weekly work pays a machine back within the horizon.

    Args:
        price: of the new one.
        resale: of the owned one.
        saved_h: hours saved a week at the viewer's own work.
        waiting: what waiting costs.
        years: the horizon.

    Returns:
        Factor on the weekly work at which worth and cost are equal; 0 where the machine
        costs nothing more; None where no amount of work pays it back.
    """
    cost = float(price - resale)
    if cost <= 0:
        return 0.0
    worth = waiting.yearly_worth(saved_h) * years
    return cost / worth if worth > 0 else None


@dataclass(frozen=True, slots=True)
class Upgrade:
    """A machine against the owned one, at one viewer's work.

    Attributes:
        saved_week, saved_year: hours saved, in a working week and in a year of them.
        worth_year: what those of a year are worth, in the viewer's currency.
        net_worth: worth over the horizon less what the machine costs more.
        payback: when it has paid for itself.
        break_even: factor on the weekly work at which it pays within the horizon; None where
            no amount of work does.
        break_even_hours: that work in hours a week on the owned machine.
    """

    saved_week: Span
    saved_year: Span
    worth_year: Span
    net_worth: Span
    payback: Payback
    break_even: float | None
    break_even_hours: float | None


def upgrade_to(
    weekly: Weekly,
    place: int,
    owned: int,
    price: Decimal,
    resale: Decimal,
    waiting: Waiting,
    *,
    years: float,
    confidence: float,
) -> Upgrade:
    """Hold a machine against the owned one.

    Args:
        weekly: hours of all setups at the viewer's work.
        place, owned: of the two in it.
        price: of the machine, in the viewer's currency.
        resale: of the owned one.
        waiting: what waiting costs.
        years: the horizon.
        confidence: of all intervals.
    """
    week = hours_saved(weekly, place, owned, confidence)
    each = (week.value, week.lo, week.hi)
    worth = Span(*map(waiting.yearly_worth, each))
    cost = float(price - resale)
    factor = break_even(price, resale, week.value, waiting, years)
    return Upgrade(
        week,
        Span(*(hours * waiting.weeks for hours in each)),
        worth,
        Span(*(value * years - cost for value in (worth.value, worth.lo, worth.hi))),
        payback(price, resale, week, waiting),
        factor,
        None if factor is None else factor * float(weekly.hours.estimate[owned]),
    )
