"""What nothing else beats: one rule for the result of a case and for the stage Picks."""

from __future__ import annotations

from decimal import Decimal

import numpy as np
from hypothesis import given
from hypothesis import strategies as st

from tests.core.helpers import analysed, runs_of
from true_margin.core.dominance import undominated
from true_margin.core.frontier import on_frontier


@given(st.lists(st.tuples(st.integers(0, 6), st.integers(0, 6)), max_size=12))
def test_none_that_stands_is_beaten_and_all_others_are(pairs: list[tuple[int, int]]) -> None:
    speed, price = [float(s) for s, _ in pairs], [p for _, p in pairs]
    found = undominated(speed, price)

    def beats(a: int, b: int) -> bool:
        no_worse = price[a] <= price[b] and speed[a] >= speed[b]
        return no_worse and (price[a] < price[b] or speed[a] > speed[b])

    every = range(len(pairs))
    assert set(found) == {i for i in every if not any(beats(j, i) for j in every)}
    assert [price[i] for i in found] == sorted(price[i] for i in found)


def test_a_tie_in_price_and_speed_is_called_alike_everywhere() -> None:
    prices = {"A": "100", "B": "200", "C": "200"}
    analysis = analysed(runs_of({"A": [90.0], "B": [60.0], "C": [60.0]}), prices=prices)
    by_value = {v.setup for v in analysis.values if v.frontier}
    theta = np.array([0.0, 1.0, 1.0])
    cents = np.array([int(Decimal(prices[name]) * 100) for name in "ABC"])
    assert by_value == set(on_frontier(theta, cents).tolist()) == {0, 1, 2}
