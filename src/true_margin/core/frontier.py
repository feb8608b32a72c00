"""Price against speed: what nothing else beats, by which chance, and the steps between.

Section 9 of the computation page.
"""

from __future__ import annotations

from dataclasses import dataclass
from decimal import Decimal
from itertools import pairwise

import numpy as np

from true_margin.core.analysis import DEFAULT_SEED
from true_margin.core.dominance import undominated
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.study import FloatArray, IndexArray
from true_margin.core.weekly import Span, Weekly, hours_saved
from true_margin.core.work_speed import WorkSpeeds, draw_models


@dataclass(frozen=True, slots=True)
class Step:
    """From one setup on the frontier to the next dearer one.

    Attributes:
        start, end: places of the setups.
        price: how much dearer, in the viewer's currency.
        saved: hours a year, with interval; None for a mix.
        per_hour: price of one hour saved over the horizon; None for a mix, or where the
            interval of the hours reaches 0.
    """

    start: int
    end: int
    price: Decimal
    saved: Span | None
    per_hour: Span | None


def on_frontier(theta: FloatArray, price: IndexArray) -> IndexArray:
    """Places that nothing else beats on price and speed at once, cheapest first.

    Args:
        theta: log speeds, shape (k,).
        price: in minor units, −1 where there is none, shape (k,).
    """
    known = np.flatnonzero(price >= 0)
    places = undominated(theta[known].tolist(), price[known].tolist())
    return np.asarray(known[places], dtype=np.intp)


def frontier_chances(speeds: WorkSpeeds, price: IndexArray, seed: int = DEFAULT_SEED) -> FloatArray:
    """Chance of each setup to stand on the frontier, by draws of the speeds.

    Args:
        speeds: of k setups.
        price: in minor units, −1 where there is none, shape (k,).
        seed: of the draws.

    Returns:
        Shape (k,); 0 where there is no price.
    """
    known = np.flatnonzero(price >= 0)
    chance = np.zeros(len(price))
    if len(known) == 0:
        return chance
    drawn = draw_models(speeds, -1, seed)[:, known]
    # From the cheapest on: each must leave behind all that cost less, and those of its price.
    best = np.full(len(drawn), -np.inf)
    for cost in np.unique(price[known]).tolist():
        group = np.flatnonzero(price[known] == cost)
        for at in group.tolist():
            others = drawn[:, group[group != at]].max(axis=1, initial=-np.inf)
            chance[known[at]] = float((drawn[:, at] > np.maximum(best, others)).mean())
        best = np.maximum(best, drawn[:, group].max(axis=1))
    return chance


def beaten_by(speeds: WorkSpeeds, price: IndexArray, place: int) -> int | None:
    """The setup that gives at least as much for no more money; None where there is none.

    Not dearer, and clearly faster, ahead or level; of several the fastest.
    """
    pairs = speeds.pairs
    best: int | None = None
    for other in np.flatnonzero((price >= 0) & (price <= price[place])).tolist():
        if other == place or price[place] < 0:
            continue
        call = CALL_ORDER[int(pairs.call[other, place])]
        faster = speeds.theta[other] > speeds.theta[place]
        same = call is Call.LEVEL and (price[other] < price[place] or faster)
        if same or (call in (Call.CLEAR, Call.AHEAD) and faster):
            best = other if best is None or speeds.theta[other] > speeds.theta[best] else best
    return best


def frontier_steps(
    speeds: WorkSpeeds,
    price: IndexArray,
    unit: Decimal,
    *,
    confidence: float,
    weeks: float,
    years: float,
) -> tuple[Step, ...]:
    """The steps along the frontier.

    Args:
        speeds: of k setups.
        price: in minor units, −1 where there is none, shape (k,).
        unit: the minor unit.
        confidence: of intervals.
        weeks: working weeks a year.
        years: over which hours are saved.
    """
    places = on_frontier(speeds.theta, price).tolist()
    # Between two of one price there is no step.
    places = [p for at, p in enumerate(places) if at == 0 or price[p] > price[places[at - 1]]]
    return tuple(
        _step(speeds.weekly, a, b, int(price[b] - price[a]) * unit, confidence, weeks, years)
        for a, b in pairwise(places)
    )


def _step(
    weekly: Weekly | None,
    start: int,
    end: int,
    dearer: Decimal,
    confidence: float,
    weeks: float,
    years: float,
) -> Step:
    if weekly is None:
        return Step(start, end, dearer, None, None)
    week = hours_saved(weekly, end, start, confidence)
    saved = Span(week.value * weeks, week.lo * weeks, week.hi * weeks)
    if saved.lo <= 0:
        return Step(start, end, dearer, saved, None)
    each = [float(dearer) / (hours * years) for hours in (saved.value, saved.hi, saved.lo)]
    return Step(start, end, dearer, saved, Span(*each))
