"""The best of each version of an app: the fastest, and the most speed for its money then."""

from __future__ import annotations

import math
from collections.abc import Iterator, Mapping
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal

import numpy as np

from true_margin.core.all_time import Timed
from true_margin.core.choices import PriceKind
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.room.ranked import Ranked
from true_margin.desk.room.words import say_value


@dataclass(frozen=True, slots=True)
class VersionBest:
    """Who was best in a version, by the runs of then, with the price of then where it is known.

    ``value`` gave most speed for its money; None where fewer than two had a price.
    """

    version: str
    fastest: str
    value: str | None


def best_by_version(ranked: Ranked) -> tuple[VersionBest, ...]:
    """Give who was best in each version, oldest first."""
    by_round: dict[int, list[Timed]] = {}
    for each in ranked.ranking.timed:
        by_round.setdefault(each.round, []).append(each)
    return tuple(_best(ranked, round_, own) for round_, own in sorted(by_round.items()))


def _best(ranked: Ranked, round_: int, timed: list[Timed]) -> VersionBest:
    prices = dict(_prices(ranked, round_, timed))
    fastest = max(timed, key=lambda each: _speed(ranked, each))
    priced = [each for each in timed if each.setup in prices]
    value = None
    if len(priced) > 1:
        best = max(priced, key=lambda each: _speed(ranked, each) - math.log(prices[each.setup]))
        value = _say(ranked, best, prices)
    return VersionBest(ranked.runs.versions[round_], _say(ranked, fastest, prices), value)


def _speed(ranked: Ranked, timed: Timed) -> float:
    """Log speed, so that times and amounts compare alike."""
    return math.log(timed.value) * (-1.0 if ranked.runs.task.measure == "time" else 1.0)


def _say(ranked: Ranked, timed: Timed, prices: Mapping[int, Decimal]) -> str:
    said = f"{ranked.runs.entrants[timed.setup].label}, {say_value(ranked.runs.task, timed.value)}"
    price = prices.get(timed.setup)
    return said if price is None else f"{said}, {say_money(price, ranked.runs.currency)}"


def _prices(ranked: Ranked, round_: int, timed: list[Timed]) -> Iterator[tuple[int, Decimal]]:
    """What each cost when it was timed in a version, in the currency of the house.

    The newest price up to the day of its first run counts, one that is not second-hand first; of
    runs whose day nobody knows, none.
    """
    table = ranked.runs.study.runs
    for each in timed:
        own = table.started[(table.setup == each.setup) & (table.round == round_)]
        known = own[~np.isnan(own)]
        if not len(known):
            continue
        day = datetime.fromtimestamp(float(known.min()), UTC).date()
        price = _price_on(ranked, each.setup, day)
        if price is not None:
            yield each.setup, price


def _price_on(ranked: Ranked, setup: int, day: date) -> Decimal | None:
    setups = {use.setup_id for use in ranked.runs.entrants[setup].setups}
    found = [
        price
        for price in ranked.runs.prices
        if price.setup_id in setups
        and price.dated <= day
        and price.currency == ranked.runs.currency
        and price.amount > 0
    ]
    new = [price for price in found if price.kind != PriceKind.USED]
    return (new or found)[-1].amount if found else None
