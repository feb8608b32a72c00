"""Picks worked by hand: who is picked, by what, at which price that changes, and how surely."""

from __future__ import annotations

import math
from dataclasses import replace
from decimal import Decimal
from typing import Any

import numpy as np
import pytest

from tests.core.helpers import Runs, analysed, runs_of
from tests.core.pick_helpers import PRICES, contest_of, field, market, sure_contest, viewer
from true_margin.core.contest import (
    Contest,
    Market,
    NoPick,
    Rule,
    ViewerProfile,
    Why,
    at_speeds,
    prepare,
)
from true_margin.core.errors import CoreError
from true_margin.core.flips import flip_price, needed_speed
from true_margin.core.frontier import beaten_by, frontier_chances, frontier_steps, on_frontier
from true_margin.core.picks import decide, prob_best, runner_up, why_out
from true_margin.core.sensitivity import find_turns
from true_margin.core.study import FloatArray
from true_margin.core.upgrade import break_even
from true_margin.core.weekly import Exactly, Waiting, weekly_hours
from true_margin.core.work_speed import Work, moved_theta, speeds_of_some, work_speeds

WORTH: dict[str, Any] = {"weekly": True, "horizon": 2.0, "owned": 0, "resale": "300"}
"""An hour a week at 40, half attended, 50 weeks, 2 years: worth 2 000; at 4: 200."""
CASES = [
    # A 400 s for 300, B 200 s for 800, C 198 s for 1 000, D 100 s for 2 000.
    ("the fastest of all", Rule.FASTEST, {}, PRICES, {}, "D", "rule", "B"),
    # C leads B by 1 %: level, so the cheaper of the two.
    ("level: the cheaper", Rule.FASTEST, {"budget": "1500"}, PRICES, {}, "B", "price", "C"),
    (
        "level and one price: the quieter",
        Rule.FASTEST,
        {"budget": "1500"},
        ("300", "1000", "1000", "2000"),
        {"noise": (1, 3, 2, 4)},
        "C",
        "noise",
        "B",
    ),
    (
        "level, one price, one noise: the order",
        Rule.FASTEST,
        {"budget": "1500"},
        ("300", "1000", "1000", "2000"),
        {"noise": (1, 2, 2, 4)},
        "B",
        "order",
        "C",
    ),
    ("a budget that only A meets", Rule.FASTEST, {"budget": "300"}, PRICES, {}, "A", "rule", None),
    (
        "nothing affordable beats the owned",
        Rule.FASTEST,
        {"budget": "900", "owned": 1},
        PRICES,
        {},
        "B",
        "rule",
        "A",
    ),
    (
        "a need bars the cheaper",
        Rule.FASTEST,
        {"budget": "1500"},
        PRICES,
        {"barred": frozenset({1})},
        "C",
        "rule",
        "A",
    ),
    (
        "unpriced takes no part",
        Rule.FASTEST,
        {},
        ("300", "800", "1000", None),
        {},
        "B",
        "price",
        "C",
    ),
    # Time × price: A 120 000, B 160 000, C 198 000, D 200 000; least is best.
    ("best value", Rule.VALUE, {}, PRICES, {}, "A", "rule", "B"),
    ("best value for who owns A", Rule.VALUE, {"owned": 0}, PRICES, {}, "B", "rule", "C"),
    # Keep 8 300, B 4 800, C 4 960, D 4 000: least cost over the horizon.
    ("an hour at 40", Rule.WORTH, {"hour": "40", **WORTH}, PRICES, {}, "D", "rule", "B"),
    # Keep 1 100, B 1 200, C 1 396, D 2 200; 24 is worth telling.
    ("an hour at 4: keep", Rule.WORTH, {"hour": "4", **WORTH}, PRICES, {}, "A", "rule", "B"),
    # D 4 700, B 4 800, C 4 960: within 240 two are level (3 % of 8 000 waited for now).
    (
        "level in worth: the cheapest",
        Rule.WORTH,
        {"hour": "40", **WORTH},
        ("300", "800", "1000", "2700"),
        {},
        "B",
        "price",
        "D",
    ),
    ("cheapest under 250 s", Rule.ENOUGH, {"accepted": {0: 250.0}}, PRICES, {}, "B", "rule", "C"),
    (
        "the owned is fast enough",
        Rule.ENOUGH,
        {"accepted": {0: 450.0}, "owned": 0, "resale": "500"},
        PRICES,
        {},
        "A",
        "rule",
        "B",
    ),
    ("cheapest under 199 s", Rule.ENOUGH, {"accepted": {0: 199.0}}, PRICES, {}, "C", "rule", "D"),
]


@pytest.mark.parametrize(
    ("rule", "about", "prices", "more", "pick", "by", "second"),
    [pytest.param(*case[1:], id=case[0]) for case in CASES],
)
def test_picks_by_hand(
    rule: Rule,
    about: dict[str, Any],
    prices: tuple[str | None, ...],
    more: dict[str, Any],
    pick: str,
    by: str,
    second: str | None,
) -> None:
    contest = sure_contest(field(), viewer(rule, **about), market(*prices, **more))
    found = decide(contest)
    assert found.pick is not None
    assert ("ABCD"[found.pick], found.by) == (pick, by)
    assert prob_best(contest, found.pick) == 1.0
    after = runner_up(contest, found.pick)
    assert (None if after is None else "ABCD"[after]) == second


NOTHING = [
    ("no price at all", Rule.FASTEST, {}, (None,) * 4, {}, NoPick.NO_PRICES),
    ("a budget below everything", Rule.FASTEST, {"budget": "100"}, PRICES, {}, NoPick.BUDGET),
    (
        "needs that nothing meets",
        Rule.FASTEST,
        {},
        PRICES,
        {"barred": frozenset(range(4))},
        NoPick.NEEDS,
    ),
    ("nothing fast enough", Rule.ENOUGH, {"accepted": {0: 50.0}}, PRICES, {}, NoPick.NOT_FAST),
]


@pytest.mark.parametrize(
    ("rule", "about", "prices", "more", "expected"),
    [pytest.param(*case[1:], id=case[0]) for case in NOTHING],
)
def test_no_pick_says_why(
    rule: Rule,
    about: dict[str, Any],
    prices: tuple[str | None, ...],
    more: dict[str, Any],
    expected: NoPick,
) -> None:
    contest = sure_contest(field(), viewer(rule, **about), market(*prices, **more))
    assert (decide(contest).pick, decide(contest).nothing) == (None, expected)


def test_rules_that_need_more_than_was_said() -> None:
    assert contest_of(field(), viewer(Rule.WORTH), market(*PRICES)) is NoPick.NO_WEEKLY
    assert contest_of(field(), viewer(Rule.ENOUGH), market(*PRICES)) is NoPick.NO_LIMIT
    assert work_speeds(field(), Work((0.0,))) is None
    assert work_speeds(field(), Work((1.0,), (0.0,))) is None


def test_a_viewer_whom_nobody_can_mean_is_refused() -> None:
    with pytest.raises(CoreError, match="a horizon of 0 years: must be above 0"):
        viewer(Rule.FASTEST, horizon=0.0)
    with pytest.raises(CoreError, match="budget must be 0 or more"):
        viewer(Rule.FASTEST, budget="-1")
    with pytest.raises(CoreError, match="an accepted time must be above 0"):
        viewer(Rule.ENOUGH, accepted={0: 0.0})
    with pytest.raises(CoreError, match="weekly work of T: must be 0 or more"):
        work_speeds(field(), Work((1.0,), (-2.0,)))
    speeds = work_speeds(field(), Work((1.0,)))
    assert speeds is not None
    with pytest.raises(CoreError, match="not in this line-up"):
        prepare(field(), viewer(Rule.FASTEST, owned=9), market(*PRICES), speeds)


FLIPS = [
    # C is level with B, so it wins where it is the cheaper of the two: a cent below 800.
    ("level with the pick", Rule.FASTEST, {"budget": "1500"}, "C", "799.99", False),
    ("faster, over the budget", Rule.FASTEST, {"budget": "1500"}, "D", "1500", True),
    ("too slow at any price", Rule.FASTEST, {"budget": "1500"}, "A", None, False),
    ("the pick itself, till C is as cheap", Rule.FASTEST, {"budget": "1500"}, "B", "1000", False),
    # 800 · 200/100 = 1 600 for equal value; above 1 600/1.03 the two are level, and B cheaper.
    ("value", Rule.VALUE, {"owned": 0}, "D", "1553.39", False),
    # Worth 2 000 an hour: D costs 4 000 in all; B level with that below 240.
    ("net worth", Rule.WORTH, {"hour": "40", **WORTH}, "B", "239.99", False),
    # D stays till B, at 4 800 in all, comes within 240.
    ("net worth of the pick", Rule.WORTH, {"hour": "40", **WORTH}, "D", "2560.00", False),
    ("fast enough", Rule.ENOUGH, {"accepted": {0: 250.0}}, "D", "799.99", False),
    ("never fast enough", Rule.ENOUGH, {"accepted": {0: 250.0}}, "A", None, False),
]


@pytest.mark.parametrize(
    ("rule", "about", "which", "price", "bounded"),
    [pytest.param(*case[1:], id=case[0]) for case in FLIPS],
)
def test_flip_prices_by_hand(
    rule: Rule, about: dict[str, Any], which: str, price: str | None, bounded: bool
) -> None:
    contest = sure_contest(field(), viewer(rule, **about), market(*PRICES))
    flip = flip_price(contest, "ABCD".index(which), decide(contest).pick)
    assert flip.price == (None if price is None else Decimal(price))
    assert (flip.bounded, flip.endless) == (bounded, False)


def test_without_a_budget_the_fastest_wins_at_any_price() -> None:
    contest = sure_contest(field(), viewer(Rule.FASTEST), market(*PRICES[:3], None))
    flip = flip_price(contest, 3, decide(contest).pick)
    assert flip.endless
    assert flip.price is not None


def test_flip_prices_carry_the_interval_of_the_margin() -> None:
    analysis = analysed(
        runs_of({"A": [200.0, 202.0, 198.0], "B": [100.0, 101.0, 99.0]}),
        materiality=0.0,
        unit_prior_cv=0.0,
    )
    contest = sure_contest(analysis, viewer(Rule.VALUE), market("500", "1200"))
    flip = flip_price(contest, 1, decide(contest).pick)
    margin = contest.speeds.pairs.margin(1, 0)
    assert [float(x or 0) for x in (flip.lo, flip.price, flip.hi)] == pytest.approx(
        [500 * math.exp(x) for x in (margin.lo, margin.log_ratio, margin.hi)], abs=0.011
    )


def test_why_each_other_setup_is_out() -> None:
    contest = sure_contest(
        field(),
        viewer(Rule.FASTEST, budget="900"),
        market("300", "800", None, "2000", barred=frozenset({0})),
    )
    assert [why_out(contest, i) for i in range(4)] == [Why.NEED, None, Why.UNPRICED, Why.BUDGET]
    slow = sure_contest(field(), viewer(Rule.ENOUGH, accepted={0: 250.0}), market(*PRICES))
    assert why_out(slow, 0) is Why.SLOW


def test_total_time_and_the_mean_of_ratios_pick_differently() -> None:
    runs = runs_of({"X": [1000.0], "Y": [900.0]}, "long") + runs_of({"X": [10.0], "Y": [20.0]}, "s")
    analysis = analysed(runs, prior_cv=1e-9, prior_df=1e6)
    prices = market("500", "500")
    mix = sure_contest(analysis, ViewerProfile(Work((1.0, 1.0))), prices)
    assert decide(mix).pick == 0
    # One run of each a week: 1 010 s against 920 s.
    week = sure_contest(analysis, ViewerProfile(Work((1.0, 1.0), (1.0, 1.0))), prices)
    assert decide(week).pick == 1
    assert np.exp(week.speeds.theta[1] - week.speeds.theta[0]) == pytest.approx(1010 / 920)


def test_a_newcomer_without_runs_is_told_how_fast_it_must_be() -> None:
    fast = sure_contest(field(), viewer(Rule.FASTEST, budget="1500"), market(*PRICES))
    # Dearer than B: it must leave C behind by more than 3 %.
    needed = needed_speed(fast, Decimal(1200))
    assert needed is not None
    assert math.exp(-needed) == pytest.approx(198 / 1.03, rel=1e-6)
    # Cheaper than B: level with the faster C will do.
    needed = needed_speed(fast, Decimal(700))
    assert needed is not None
    assert math.exp(-needed) == pytest.approx(198 * 1.03, rel=1e-6)
    assert needed_speed(fast, Decimal(1600)) is None
    worth = sure_contest(field(), viewer(Rule.WORTH, hour="40", **WORTH), market(*PRICES))
    # Its price and 2 000 for each hour must come to less than 4 000 − 240.
    needed = needed_speed(worth, Decimal(2500))
    assert needed is not None
    assert math.exp(-needed) == pytest.approx((4000 - 240 - 2500) / 2000, rel=1e-6)
    assert needed_speed(worth, Decimal(4100)) is None


def test_frontier_steps_and_who_beats_whom() -> None:
    contest = sure_contest(field(), viewer(Rule.WORTH, hour="40", **WORTH), market(*PRICES))
    speeds, price = contest.speeds, contest.price
    assert on_frontier(speeds.theta, price).tolist() == [0, 1, 2, 3]
    assert frontier_chances(speeds, price).tolist() == [1.0, 1.0, 1.0, 1.0]
    # C costs 200 more than B and is level with it.
    assert [beaten_by(speeds, price, i) for i in range(4)] == [None, None, 1, None]
    steps = frontier_steps(speeds, price, Decimal("0.01"), confidence=0.95, weeks=50, years=2)
    assert [(s.start, s.end, s.price) for s in steps] == [
        (0, 1, Decimal(500)),
        (1, 2, Decimal(200)),
        (2, 3, Decimal(1000)),
    ]
    first = steps[0]
    assert first.saved is not None
    assert first.per_hour is not None
    # 2 hours a week, 100 a year; 500 over 200 hours.
    assert (first.saved.value, first.per_hour.value) == pytest.approx((100.0, 2.5), rel=1e-6)
    # Two of one price and one speed both stand, and there is no step between them.
    twins = np.array([0.0, 1.0, 1.0, 0.5])
    assert on_frontier(twins, np.array([100, 200, 200, 300])).tolist() == [0, 1, 2]
    dear = np.array([30000, 80000, 70000, -1])
    assert on_frontier(speeds.theta, dear).tolist() == [0, 2]
    assert beaten_by(speeds, dear, 1) == 2
    assert frontier_chances(speeds, dear).tolist() == [1.0, 0.0, 1.0, 0.0]


def test_break_even_amounts() -> None:
    waiting = Waiting(Decimal(40), 0.5, 50.0)
    # 900 for 2 hours a week: 2 000 a year, so 0.225 of the work in 2 years.
    assert break_even(Decimal(1200), Decimal(300), 2.0, waiting, 2.0) == pytest.approx(0.225)
    assert break_even(Decimal(200), Decimal(300), 2.0, waiting, 2.0) == 0.0
    assert break_even(Decimal(1200), Decimal(300), 0.0, waiting, 2.0) is None


def test_turns_of_the_levers() -> None:
    analysis, at = field(), market(*PRICES)
    who = viewer(Rule.WORTH, hour="4", **WORTH)
    speeds = work_speeds(analysis, who.work)
    assert speeds is not None
    levers = {lever.name: lever for lever in find_turns(analysis, who, at, speeds, 0)}
    # 50 · h an hour a week: keeping costs 300 + 200 h, B 800 + 100 h; keeping is also picked
    # where the two are within 6 h of each other, so B from 94 h = 500 on.
    hour = levers["hour"].above
    assert hour is not None
    assert (hour.value, hour.pick) == (pytest.approx(500 / 94, rel=0.005), 1)
    assert levers["hour"].below is None
    assert levers["usage"].above is not None
    assert levers["usage"].above.value == pytest.approx(500 / 94 / 4, rel=0.005)
    assert levers["attended"].above is not None
    assert levers["attended"].above.value == pytest.approx(500 / 94 / 8, rel=0.005)
    fast = viewer(Rule.FASTEST, budget="1500")
    budget = {lever.name: lever for lever in find_turns(analysis, fast, at, speeds, 1)}["budget"]
    assert budget.above is not None
    assert budget.below is not None
    assert (budget.above.value, budget.above.pick) == (pytest.approx(2000, rel=0.005), 3)
    assert (budget.below.value, budget.below.pick) == (pytest.approx(800, rel=0.005), 0)


def test_turns_of_the_work() -> None:
    runs = runs_of({"X": [1000.0], "Y": [900.0]}, "long") + runs_of({"X": [10.0], "Y": [20.0]}, "s")
    analysis = analysed(runs, prior_cv=1e-9, prior_df=1e6)
    at = market("500", "600")
    for amounts, expected in ((None, 1.0), ((1.0, 1.0), 1.0)):
        who = ViewerProfile(Work((1.0, 1.0), amounts))
        speeds = work_speeds(analysis, who.work)
        assert speeds is not None
        pick = decide(sure_contest(analysis, who, at)).pick
        assert pick is not None
        levers = find_turns(analysis, who, at, speeds, pick)
        assert [lever.value for lever in levers] == [expected, expected]
        turns = [t for lever in levers for t in (lever.below, lever.above) if t is not None]
        assert turns
        assert {t.pick for t in turns} == {1 - pick}


def brute_force(
    times: dict[str, Runs], amounts: tuple[float, ...], score: Any, matter: float, cv: float
) -> float:
    """Simulate the same runs from first principles: normal cell means, hours by total time."""
    rng = np.random.default_rng(77)
    hours: FloatArray = np.zeros((200_000, 3))
    for (task, own), amount in zip(times.items(), amounts, strict=True):
        del task
        for at, values in enumerate(own.values()):
            mean = np.log(values).mean() + cv / math.sqrt(len(values)) * rng.standard_normal(
                200_000
            )
            hours[:, at] += amount * np.exp(mean) / 3600
    scores = score(hours)
    pick = int(np.argmax(score(hours.mean(axis=0, keepdims=True))))
    return float((scores.max(axis=1) - scores[:, pick] <= matter).mean())


@pytest.mark.parametrize("rule", [Rule.FASTEST, Rule.VALUE, Rule.WORTH])
def test_surety_agrees_with_brute_force(rule: Rule) -> None:
    cv = 0.04
    times = {
        "long": {"A": [610.0, 600.0], "B": [590.0], "C": [560.0, 575.0, 570.0]},
        "short": {"A": [100.0], "B": [96.0, 99.0], "C": [108.0]},
    }
    runs = [run for task, own in times.items() for run in runs_of(own, task)]
    analysis = analysed(runs, prior_cv=cv, prior_df=1e7, unit_prior_cv=0.0)
    amounts, prices = (40.0, 60.0), np.array([1000.0, 1010.0, 1040.0])
    who = ViewerProfile(
        Work((1.0, 1.0), amounts), rule, waiting=Waiting(Decimal(20), 0.5, 50.0), horizon=1.0
    )
    contest = sure_contest(analysis, who, market("1000", "1010", "1040"))
    pick = decide(contest).best
    assert pick is not None
    each = 20 * 0.5 * 50
    score = {
        Rule.FASTEST: lambda h: -np.log(h),
        Rule.VALUE: lambda h: -np.log(h) - np.log(prices),
        Rule.WORTH: lambda h: -each * h - prices,
    }[rule]
    expected = brute_force(times, amounts, score, contest.threshold, cv)
    assert 0.3 < expected < 0.98
    assert prob_best(contest, pick) == pytest.approx(expected, abs=0.02)


def test_surety_of_fast_enough_agrees_with_brute_force() -> None:
    cv = 0.03
    analysis = analysed(
        runs_of({"A": [301.0], "B": [296.0], "C": [250.0]}),
        prior_cv=cv,
        prior_df=1e7,
        materiality=0.01,
        unit_prior_cv=0.0,
    )
    who = ViewerProfile(Work((1.0,)), Rule.ENOUGH, accepted={0: 300.0})
    contest = sure_contest(analysis, who, market("500", "600", "900"))
    pick = decide(contest).pick
    assert pick == 1
    rng = np.random.default_rng(5)
    a = 301.0 * np.exp(cv * rng.standard_normal(400_000))
    b = 296.0 * np.exp(cv * rng.standard_normal(400_000))
    expected = float(((b <= 303.0) & (a >= 300.0 / 1.01)).mean())
    assert prob_best(contest, pick) == pytest.approx(expected, abs=0.02)


def test_estimates_at_other_work_are_those_of_the_work_itself() -> None:
    runs = runs_of({"X": [1000.0, 1010.0], "Y": [900.0]}, "long")
    runs += runs_of({"X": [10.0], "Y": [20.0, 20.2]}, "s")
    analysis = analysed(runs)
    for before, after in (
        (Work((1.0, 1.0)), Work((1.0, 4.0))),
        (Work((1.0, 1.0), (2.0, 3.0)), Work((1.0, 1.0), (2.0, 9.0))),
    ):
        start, exact = work_speeds(analysis, before), work_speeds(analysis, after)
        assert start is not None
        assert exact is not None
        moved = moved_theta(analysis, start, after)
        assert moved.tolist() == pytest.approx(exact.theta.tolist())


@pytest.mark.parametrize("rule", [Rule.FASTEST, Rule.VALUE, Rule.WORTH])
def test_a_contest_at_other_speeds_scores_as_one_prepared_anew(rule: Rule) -> None:
    runs = runs_of({"X": [1000.0, 1010.0], "Y": [900.0, 905.0]}, "long")
    runs += runs_of({"X": [10.0, 10.1], "Y": [20.0, 20.2]}, "s")
    analysis = analysed(runs)
    market = Market((Decimal(500), Decimal(900)))
    before, after = (Work((1.0, 1.0), (2.0, amount)) for amount in (3.0, 3.5))
    viewer = ViewerProfile(before, rule, waiting=Waiting(Decimal(20)))
    start, exact = work_speeds(analysis, before), work_speeds(analysis, after)
    assert start is not None
    assert exact is not None
    contest = prepare(analysis, viewer, market, start)
    anew = prepare(analysis, replace(viewer, work=after), market, exact)
    assert isinstance(contest, Contest)
    assert isinstance(anew, Contest)
    near = at_speeds(contest, moved_theta(analysis, start, after))
    assert near.base.tolist() == pytest.approx(anew.base.tolist())
    assert near.threshold == pytest.approx(anew.threshold)
    # Only the intervals are as they were, scaled: near enough to say where to look.
    assert near.half == pytest.approx(anew.half, rel=0.05)


@pytest.mark.parametrize("exactly", [Exactly.HOURS, Exactly.LOGS])
def test_what_a_rule_asks_for_is_exact_and_the_other_nearly(exactly: Exactly) -> None:
    runs = runs_of({"X": [1000.0, 1010.0], "Y": [900.0, 905.0]}, "long")
    runs += runs_of({"X": [10.0, 10.1], "Y": [20.0, 20.2]}, "s")
    analysis = analysed(runs)
    both, one = (weekly_hours(analysis, {0: 2.0, 1: 9.0}, None, e) for e in (Exactly.BOTH, exactly))
    for name in ("hours", "logs"):
        whole, found = getattr(both, name), getattr(one, name)
        assert found.estimate.tolist() == pytest.approx(whole.estimate.tolist())
        assert found.covariance == pytest.approx(whole.covariance)
        # The standard errors follow from the covariance; only degrees of freedom are borrowed.
        assert found.se == pytest.approx(whole.se, abs=1e-12)
        exact = name == exactly.value
        assert np.allclose(found.df, whole.df, rtol=1e-9 if exact else 0.5)


@pytest.mark.parametrize("amounts", [None, (2.0, 9.0)])
@pytest.mark.parametrize("rule", [Rule.FASTEST, Rule.WORTH])
def test_speeds_of_some_are_those_of_all(rule: Rule, amounts: tuple[float, float] | None) -> None:
    times = {"X": [1000.0, 1010.0], "Y": [900.0, 905.0], "Z": [700.0, 702.0]}
    runs = runs_of(times, "long") + runs_of({key: [10.0, 10.1] for key in times}, "s")
    analysis = analysed(runs)
    work = Work((1.0, 2.0), amounts)
    exactly = Exactly.HOURS if rule is Rule.WORTH else Exactly.LOGS
    whole = work_speeds(analysis, work, exactly)
    assert whole is not None
    few = np.array([0, 2])
    part = speeds_of_some(analysis, whole, work, few, exactly)
    assert part is not None
    square = np.ix_(few, few)
    assert part.theta.tolist() == pytest.approx(whole.theta[few].tolist())
    assert part.half == pytest.approx(whole.half[square], abs=1e-12)
    assert part.models.half() == pytest.approx(whole.models.half()[square], abs=1e-12)
    if part.weekly is not None and whole.weekly is not None:
        assert part.weekly.hours.se == pytest.approx(whole.weekly.hours.se[square], abs=1e-12)


def test_frontier_chances_agree_with_a_simulation() -> None:
    analysis = analysed(
        runs_of({"A": [100.0], "B": [97.0], "C": [99.0], "D": [80.0]}),
        prior_cv=0.03,
        prior_df=1e7,
        unit_prior_cv=0.0,
    )
    speeds = work_speeds(analysis, Work((1.0,)))
    assert speeds is not None
    price = np.array([100, 200, 200, 300])
    found = frontier_chances(speeds, price)
    rng = np.random.default_rng(3)
    drawn = speeds.theta + 0.03 * rng.standard_normal((200_000, 4))
    a, b, c, d = drawn.T
    expected = [
        1.0,
        np.mean((b > a) & (b > c)),
        np.mean((c > a) & (c > b)),
        np.mean(d > np.maximum(a, np.maximum(b, c))),
    ]
    assert found.tolist() == pytest.approx(expected, abs=0.01)
