"""At which price a pick changes, and how fast a machine that is not out yet would have to be.

Section 9 of the computation page. Every figure is found by solving the rule itself, to the
minor unit, ties included; a rule never drops a machine because it got cheaper, so one price
parts "picked" from "not picked".
"""

from __future__ import annotations

import math
from dataclasses import dataclass, replace
from decimal import Decimal

import numpy as np

from true_margin.core.contest import Contest, Limits, Rule, money_per_hour
from true_margin.core.picks import decide, runner_up

BEYOND = 1000
"""Without a budget, prices up to this many times the dearest are tried."""


CLOSE = 1e-7
"""Log speeds are closed in on to this."""


@dataclass(frozen=True, slots=True)
class Flip:
    """The highest price at which a contender is picked.

    Attributes:
        place: of the contender.
        price: in the viewer's currency; None where it is not picked even for nothing.
        lo, hi: the same where it is as slow, and as fast, against the pick as the interval
            of their margin allows; None likewise.
        bounded: True where only the budget ends it.
        endless: True where no price would end it.
    """

    place: int
    price: Decimal | None
    lo: Decimal | None
    hi: Decimal | None
    bounded: bool
    endless: bool


def flip_price(contest: Contest, place: int, pick: int | None) -> Flip:
    """Find the highest price at which a contender is picked, all else as it is.

    Args:
        contest: who takes part.
        place: of the contender; for the pick itself, the price at which it loses.
        pick: the present pick, against which the interval stands.

    Returns:
        The price, found by bisection over minor units.
    """
    kept = place == contest.keep
    most = _most(contest, kept)
    at = _highest(contest, place, most)
    lo = hi = at
    if pick is not None and pick != place:
        lo = _highest(_moved(contest, place, -1.0, pick), place, most)
        hi = _highest(_moved(contest, place, 1.0, pick), place, most)
    elif pick == place:
        rivals = runner_up(contest, place)
        if rivals is not None:
            lo = _highest(_moved(contest, place, -1.0, rivals), place, most)
            hi = _highest(_moved(contest, place, 1.0, rivals), place, most)
    at_end = at is not None and at >= most
    unit = contest.market.unit

    def amount(units: int | None) -> Decimal | None:
        return None if units is None else units * unit

    return Flip(
        place,
        amount(at),
        amount(lo),
        amount(hi),
        at_end and contest.budget is not None and not kept,
        at_end and (contest.budget is None or kept),
    )


def _most(contest: Contest, kept: bool) -> int:
    """Up to which price is searched; no budget binds what one has already."""
    if contest.budget is not None and not kept:
        return contest.budget
    return int(max(contest.price.max(), 1)) * BEYOND


def picked_at(contest: Contest, place: int, units: int) -> bool:
    """Say whether a contender is picked at a price in minor units, all else as it is."""
    price = contest.price.copy()
    price[place] = units
    return decide(contest, price).pick == place


@dataclass(frozen=True, slots=True)
class _Rival:
    """Another contender that may be picked at its own price."""

    place: int
    score: float
    room: float
    """How far apart the two may be and still be level."""
    tie: tuple[int, float, int]
    grouped: bool
    """True where nothing but the one whose price moves could put it out of the group."""


class _OnePrice:
    """The rule of :func:`decide` for one contender whose price moves, the others standing.

    A search asks it some thirty times, so what does not move is worked out once.
    """

    def __init__(self, contest: Contest, place: int) -> None:
        self._contest, self._place = contest, place
        scores = contest.scores(contest.price)
        ties = contest.tie_price(contest.price)
        may = contest.open_to(contest.price)
        may[place] = False
        others = np.flatnonzero(may)
        gap = scores[:, None] - scores[None, :]
        beats = (gap > 0) & ~(gap < contest.threshold - contest.half)
        grouped = ~np.asarray(beats[others].any(axis=0))
        room = contest.threshold - contest.half[:, place]
        self._rivals = [
            _Rival(
                i,
                float(scores[i]),
                float(room[i]),
                (int(ties[i]), float(contest.noise[i]), i),
                bool(grouped[i]),
            )
            for i in others.tolist()
        ]
        self._kept = place == contest.keep
        self._possible = bool(contest.allowed[place] and contest.fast_enough[place])
        self._base, self._noise = float(contest.base[place]), float(contest.noise[place])

    def picked(self, units: int) -> bool:
        """Say whether it is picked at this price in minor units."""
        budget = None if self._kept else self._contest.budget
        if not self._possible or (budget is not None and units > budget):
            return False
        # Keeping costs nothing, whatever it would bring.
        score, own = self._score(units), (-1 if self._kept else units, self._noise, self._place)
        for rival in self._rivals:
            gap = rival.score - score
            if gap > 0 and not gap < rival.room:
                return False
            leaves = gap < 0 and not -gap < rival.room
            if rival.grouped and not leaves and rival.tie < own:
                return False
        return True

    def _score(self, units: int) -> float:
        rule = self._contest.viewer.rule
        if rule is Rule.FASTEST:
            return self._base
        if rule is Rule.VALUE:
            # NumPy's logarithm, as the scores of the others have it.
            return float(self._base - np.log(max(float(units), 0.5)))
        if rule is Rule.WORTH:
            return self._base - units * float(self._contest.market.unit)
        return 1.0 if self._kept else -float(units)


def _highest(contest: Contest, place: int, most: int) -> int | None:
    one = _OnePrice(contest, place)
    if not one.picked(0):
        return None
    if one.picked(most):
        return most
    low, high = 0, most
    while high - low > 1:
        middle = (low + high) // 2
        low, high = (middle, high) if one.picked(middle) else (low, middle)
    return low


def _moved(contest: Contest, place: int, side: float, against: int) -> Contest:
    """The contest with one contender as slow or as fast as its margin over another allows."""
    if contest.viewer.rule is Rule.ENOUGH and contest.limits is not None:
        limits = contest.limits
        estimate = limits.contrasts.estimate.reshape(limits.half.shape).copy()
        estimate[place] += side * limits.half[place]
        contrasts = replace(limits.contrasts, estimate=estimate.ravel())
        return replace(contest, limits=Limits(contrasts, limits.accepted, limits.half))
    half = float(contest.half[place, against])
    base = contest.base.copy()
    base[place] += side * (half if math.isfinite(half) else 0.0)
    return replace(contest, base=base)


def needed_speed(contest: Contest, price: Decimal) -> float | None:
    """Say how fast a setup without runs would have to be to be picked at its price.

    Args:
        contest: who takes part; the rule must not ask for an accepted time.
        price: of the newcomer, in the viewer's currency.

    Returns:
        Log speed (−ln of the hours under weekly work) from which on it would be picked, ties
        by materiality included; None where no speed would do, as over the budget.
    """
    units = int((price / contest.market.unit).to_integral_value())
    if contest.limits is not None or (contest.budget is not None and units > contest.budget):
        return None
    newcomer = len(contest.setups)
    speeds = contest.speeds

    def joined(theta: float) -> Contest:
        base = _base_at(contest, theta)
        half = np.zeros((newcomer + 1, newcomer + 1))
        half[:newcomer, :newcomer] = contest.half
        return replace(
            contest,
            setups=np.append(contest.setups, -1),
            price=np.append(contest.price, units),
            allowed=np.append(contest.allowed, True),
            base=np.append(contest.base, base),
            half=half,
            noise=np.append(contest.noise, math.inf),
        )

    def wins(theta: float) -> bool:
        return decide(joined(theta)).pick == newcomer

    low, high = float(speeds.theta.min()) - 12.0, float(speeds.theta.max()) + 12.0
    if wins(low):
        return low
    if not wins(high):
        return None
    while high - low > CLOSE:
        middle = (low + high) / 2.0
        low, high = (low, middle) if wins(middle) else (middle, high)
    return high


def _base_at(contest: Contest, theta: float) -> float:
    if contest.viewer.rule is not Rule.WORTH:
        return theta
    return -money_per_hour(contest.viewer) * math.exp(-theta)
