"""What must hold of every pick, whatever the runs, prices and wishes."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal
from typing import Any

import numpy as np
from hypothesis import HealthCheck, assume, given, settings
from hypothesis import strategies as st

from tests.core.helpers import analysed, runs_of
from true_margin.core.contest import Contest, Market, Rule, ViewerProfile, prepare
from true_margin.core.flips import flip_price, picked_at
from true_margin.core.picks import decide, near_leader, prob_best, surely_picked
from true_margin.core.sensitivity import Look, chosen_setup
from true_margin.core.weekly import Waiting
from true_margin.core.work_speed import Work, scaled, work_speeds

CALM = settings(max_examples=60, deadline=None, suppress_health_check=[HealthCheck.too_slow])
NEAR = st.lists(st.floats(95.0, 105.0), min_size=1, max_size=3)
FAR = st.lists(st.floats(20.0, 500.0), min_size=1, max_size=2)
PRICE = st.none() | st.integers(0, 400_000)


@st.composite
def contests(draw: Any) -> Contest:
    k = draw(st.integers(2, 6))
    names = "ABCDEF"[:k]
    runs = [
        run
        for task in ("T", "U")
        for run in runs_of({name: draw(NEAR | FAR) for name in names}, task)
    ]
    analysis = analysed(
        runs,
        prior_cv=draw(st.sampled_from([0.001, 0.01, 0.04])),
        materiality=draw(st.sampled_from([0.0, 0.03, 0.1])),
    )
    rule = draw(st.sampled_from(list(Rule)))
    weekly = rule is Rule.WORTH or draw(st.booleans())
    who = ViewerProfile(
        Work((1.0, 2.0), (30.0, 60.0) if weekly else None),
        rule,
        draw(st.none() | st.integers(0, 400_000).map(lambda u: Decimal(u) / 100)),
        draw(st.none() | st.integers(0, k - 1)),
        Decimal(draw(st.integers(0, 900))),
        Waiting(Decimal(draw(st.integers(0, 80)))),
        draw(st.floats(0.5, 5.0)),
        {0: draw(st.floats(90.0, 200.0))} if rule is Rule.ENOUGH else {},
    )
    units = draw(st.lists(PRICE, min_size=k, max_size=k))
    market = Market(
        tuple(None if u is None else Decimal(u) / 100 for u in units),
        barred=frozenset(draw(st.sets(st.integers(0, k - 1), max_size=2))),
        noise=tuple(draw(st.none() | st.sampled_from([1.0, 2.0])) for _ in range(k)),
    )
    speeds = work_speeds(analysis, who.work)
    assert speeds is not None
    found = prepare(analysis, who, market, speeds)
    assert isinstance(found, Contest)
    return found


@CALM
@given(contests(), st.floats(0.0, 1.0))
def test_a_lower_price_never_makes_a_machine_a_worse_pick(contest: Contest, part: float) -> None:
    found = decide(contest)
    assume(found.pick is not None and found.pick != contest.keep)
    assert found.pick is not None
    price = contest.price.copy()
    price[found.pick] = int(part * price[found.pick])
    assert decide(contest, price).pick == found.pick
    cheaper = replace(contest, price=price)
    # Where a time is asked for, only what is cheaper is drawn: other draws, so other noise.
    noise = 0.005 if contest.limits is not None else 1e-12
    assert prob_best(cheaper, found.pick) >= prob_best(contest, found.pick) - noise


@CALM
@given(contests(), st.integers(0, 5))
def test_flip_prices_flip(contest: Contest, which: int) -> None:
    place = which % len(contest.setups)
    assume(place != contest.keep)
    flip = flip_price(contest, place, decide(contest).pick)
    if flip.price is None:
        assert not picked_at(contest, place, 0)
        return
    units = int(flip.price * 100)
    assert picked_at(contest, place, units)
    if not flip.endless:
        assert not picked_at(contest, place, units + 1)
    if flip.bounded:
        assert flip.price == contest.viewer.budget


@CALM
@given(contests())
def test_the_pick_may_be_picked_and_nothing_ahead_of_it_is_beyond_level(contest: Contest) -> None:
    found = decide(contest)
    if found.pick is None:
        assert not found.open.any()
        return
    assert found.open[found.pick]
    assert found.pick in found.group
    scores = contest.scores(contest.price)
    for other in np.flatnonzero(found.open).tolist():
        if scores[other] > scores[found.pick]:
            gap = scores[other] - scores[found.pick]
            assert gap < contest.threshold - contest.half[other, found.pick]
    assert 0.0 <= prob_best(contest, found.pick) <= 1.0


@CALM
@given(
    contests(), st.lists(st.sampled_from([0.0, 0.3, 1.0, 5.0, np.inf]), min_size=36, max_size=36)
)
def test_what_is_surely_picked_is_picked_whatever_the_intervals(
    contest: Contest, factors: list[float]
) -> None:
    place = decide(contest).pick
    assume(place is not None)
    assert place is not None
    assume(surely_picked(contest, place))
    k = len(contest.setups)
    wide = np.array(factors).reshape(6, 6)[:k, :k]
    # Intervals of any width, the same both ways.
    half = np.maximum(wide, wide.T) * max(contest.threshold, 1e-9)
    assert decide(replace(contest, half=half)).pick == place


@CALM
@given(contests())
def test_those_far_from_the_leader_decide_nothing(contest: Contest) -> None:
    found = decide(contest)
    # Everybody else is taken out of the contest, and the answer is the same.
    alone = np.zeros(len(contest.setups), dtype=bool)
    alone[near_leader(contest)] = True
    part = decide(replace(contest, allowed=contest.allowed & alone))
    assert (part.pick, part.group) == (found.pick, found.group)


@settings(max_examples=40, deadline=None, suppress_health_check=[HealthCheck.too_slow])
@given(
    st.lists(st.floats(60.0, 400.0), min_size=8, max_size=8),
    st.lists(st.floats(60.0, 400.0), min_size=8, max_size=8),
    st.lists(st.integers(100, 3000), min_size=8, max_size=8),
    st.sampled_from([Rule.FASTEST, Rule.VALUE, Rule.WORTH]),
    st.floats(0.0, 40.0),
    st.sampled_from([0.0, 0.03, 0.2]),
)
def test_asking_among_few_is_asking_the_rule(
    one: list[float],
    two: list[float],
    prices: list[int],
    rule: Rule,
    factor: float,
    materiality: float,
) -> None:
    names = "ABCDEFGH"
    runs = [
        run
        for task, times in (("T", one), ("U", two))
        for run in runs_of(
            {name: [t, 1.01 * t] for name, t in zip(names, times, strict=True)}, task
        )
    ]
    analysis = analysed(runs, materiality=materiality)
    market = Market(tuple(Decimal(price) for price in prices))
    work = Work((1.0, 1.0), (300.0, 300.0))
    viewer = ViewerProfile(work, rule, owned=3, waiting=Waiting(Decimal(30)))
    speeds = work_speeds(analysis, work)
    assert speeds is not None
    pick = chosen_setup(analysis, viewer, market)
    assume(pick is not None)
    assert pick is not None
    look = Look(analysis, viewer, market, speeds, pick)
    moved = replace(viewer, work=scaled(work, 1, factor))
    assert look.chosen(moved) == chosen_setup(analysis, moved, market)
