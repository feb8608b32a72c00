"""Margins and calls, against Welch's formulas and hand-worked intervals."""

from __future__ import annotations

import math

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st
from scipy import stats

from tests.core.helpers import analysed, margin_of, runs_of
from true_margin.core.margins import Call, decide_call, student_quantile, time_saved, tolerable_bias
from true_margin.core.wording import turn_margin

M = math.log(1.03)


@pytest.mark.parametrize(
    ("lo", "hi", "call"),
    [
        (0.05, 0.09, Call.CLEAR),
        (-0.09, -0.05, Call.CLEAR),
        (-0.01, 0.02, Call.LEVEL),
        (0.001, 0.02, Call.LEVEL),
        (0.01, 0.09, Call.AHEAD),
        (-0.09, -0.01, Call.AHEAD),
        (-0.01, 0.09, Call.OPEN),
        (-0.2, 0.2, Call.OPEN),
        (M, 0.09, Call.AHEAD),
        (-M, M, Call.OPEN),
        (0.0, 0.09, Call.OPEN),
    ],
)
def test_calls(lo: float, hi: float, call: Call) -> None:
    assert decide_call(lo, hi, M) is call


@given(st.floats(-1, 1), st.floats(0, 1), st.floats(0, 0.5))
def test_the_other_side_gets_the_same_call(middle: float, half: float, m: float) -> None:
    lo, hi = middle - half, middle + half
    assert decide_call(lo, hi, m) is decide_call(-hi, -lo, m)


def test_with_no_materiality_real_is_clear() -> None:
    assert decide_call(0.001, 0.01, 0.0) is Call.CLEAR
    assert decide_call(-0.001, 0.01, 0.0) is Call.OPEN


def test_one_task_equals_a_two_sample_interval() -> None:
    times = {"A": [100.0, 102.0, 101.0], "B": [120.0, 121.0, 124.0, 122.0]}
    margin = margin_of(analysed(runs_of(times)), "A", "B")
    logs = {setup: np.log(values) for setup, values in times.items()}
    shares = analysed(runs_of(times)).cells.shares
    f2 = shares.variance.tolist()
    scatter = [float(((v - v.mean()) ** 2).sum()) for v in logs.values()]
    s2 = (3 * 0.02**2 + scatter[0] / f2[0] + scatter[1] / f2[1]) / 8
    delta = logs["B"].mean() - logs["A"].mean()
    parts = [s2 * f2[0] / 3, s2 * f2[1] / 4]
    se = math.sqrt(sum(parts))
    # The task's spread, and what is known of each setup's share of it.
    spent = sum(parts) ** 2 / 8 + sum(
        part**2 * each for part, each in zip(parts, shares.inverse_df, strict=True)
    )
    df = sum(parts) ** 2 / spent
    t = stats.t.ppf(0.975, df)
    assert margin.log_ratio == pytest.approx(delta, rel=1e-12)
    assert (margin.se, margin.df) == (pytest.approx(se, rel=1e-12), pytest.approx(df))
    assert (margin.lo, margin.hi) == pytest.approx((delta - t * se, delta + t * se), rel=1e-10)
    assert margin.ratio == pytest.approx(math.exp(delta))


def test_a_mix_has_satterthwaite_degrees_of_freedom_with_the_prior_in_common() -> None:
    runs = runs_of({"A": [100.0, 103.0, 99.0], "B": [110.0, 112.0]}, "T")
    runs += runs_of({"A": [50.0], "B": [60.0]}, "U")
    analysis = analysed(runs, mix={"T": 3, "U": 1})
    margin = margin_of(analysis, "A", "B", None)
    s_t, s_u = analysis.cells.spread
    assert s_t is not None
    assert s_u is not None
    f2 = analysis.cells.shares.variance
    by_setup = [
        [0.75**2 * s_t.cv**2 * f2[0] / 3, 0.25**2 * s_u.cv**2 * f2[0]],
        [0.75**2 * s_t.cv**2 * f2[1] / 2, 0.25**2 * s_u.cv**2 * f2[1]],
    ]
    parts = [by_setup[0][task] + by_setup[1][task] for task in (0, 1)]
    shared = sum(
        sum(own) ** 2 * each
        for own, each in zip(by_setup, analysis.cells.shares.inverse_df, strict=True)
    )
    # Three prior degrees of freedom are the same for both tasks; the repeats are each one's own.
    leaning = parts[0] * 3 / s_t.df + parts[1] * 3 / s_u.df
    df = sum(parts) ** 2 / (parts[0] ** 2 * 3 / s_t.df**2 + leaning**2 / 3 + shared)
    assert (s_t.df, s_u.df) == (6, 3)
    assert margin.se == pytest.approx(math.sqrt(sum(parts)), rel=1e-12)
    assert margin.df == pytest.approx(df, rel=1e-10)
    single = [margin_of(analysis, "A", "B", task).log_ratio for task in (0, 1)]
    assert margin.log_ratio == pytest.approx(0.75 * single[0] + 0.25 * single[1], rel=1e-12)


def test_margins_turn_round() -> None:
    analysis = analysed(runs_of({"A": [100.0, 101.0], "B": [120.0]}))
    one, other = margin_of(analysis, "A", "B"), margin_of(analysis, "B", "A")
    turned = turn_margin(other)
    assert (turned.a, turned.b, turned.call) == (one.a, one.b, one.call)
    assert (turned.log_ratio, turned.lo, turned.hi) == pytest.approx(
        (one.log_ratio, one.lo, one.hi), rel=1e-12
    )


def test_single_hand_runs_settle_about_nine_percent() -> None:
    def call(ratio: float) -> Call:
        return margin_of(analysed(runs_of({"A": [100.0], "B": [100.0 * ratio]})), "A", "B").call

    assert [call(1.08), call(1.10), call(1.13)] == [Call.OPEN, Call.AHEAD, Call.CLEAR]


@pytest.mark.parametrize("confidence", [0.8, 0.95, 0.999])
def test_quantiles(confidence: float) -> None:
    df = np.array([0.7, 1.0, 3.0, 8.4, 120.0, np.inf])
    known = [float(stats.t.ppf(0.5 + confidence / 2, each)) for each in df[:-1]]
    expected = [*known, float(stats.norm.ppf(0.5 + confidence / 2))]
    assert student_quantile(confidence, df) == pytest.approx(expected, rel=1e-9)


def test_handicap_survived() -> None:
    assert tolerable_bias(0.02, 0.05, Call.AHEAD, M) == pytest.approx(math.expm1(0.02))
    assert tolerable_bias(0.10, 0.15, Call.CLEAR, M) == pytest.approx(math.expm1(0.10 - M))
    assert tolerable_bias(-0.15, -0.10, Call.CLEAR, M) == pytest.approx(math.expm1(0.10 - M))
    assert tolerable_bias(-0.1, 0.1, Call.OPEN, M) is None
    assert tolerable_bias(-0.01, 0.01, Call.LEVEL, M) is None


def test_handicap_is_what_it_says() -> None:
    """A run slower by just less than the handicap leaves the call; just more does not."""
    analysis = analysed(runs_of({"A": [100.0] * 3, "B": [130.0] * 3}))
    margin = margin_of(analysis, "A", "B")
    assert margin.call is Call.CLEAR
    assert margin.handicap is not None
    for factor, call in ((0.999, Call.CLEAR), (1.001, Call.AHEAD)):
        slower = 100.0 * (1 + factor * margin.handicap)
        again = margin_of(analysed(runs_of({"A": [slower] * 3, "B": [130.0] * 3})), "A", "B")
        assert again.call is call


def test_time_saved_by_the_delta_method() -> None:
    analysis = analysed(runs_of({"A": [100.0, 100.0], "B": [130.0]}))
    contrasts = analysis.tasks[0].pairs.contrasts
    saved = time_saved(contrasts, 0, 1, 0.95)
    s = analysis.cells.spread[0]
    assert s is not None
    se = math.sqrt((100 * s.cv) ** 2 / 2 + (130 * s.cv) ** 2)
    half = stats.t.ppf(0.975, s.df) * se
    assert saved.seconds == pytest.approx(30.0)
    assert (saved.lo, saved.hi) == pytest.approx((30 - half, 30 + half), rel=1e-9)


def test_pairs_with_others_are_counted() -> None:
    analysis = analysed(runs_of({"A": [100.0], "B": [101.0], "C": [200.0]}))
    pairs = analysis.tasks[0].pairs
    assert pairs.count(Call.OPEN) == 1
    assert pairs.open_with_others().tolist() == [1, 1, 0]


@given(st.lists(st.floats(10, 1000), min_size=2, max_size=6))
def test_every_pair_agrees_with_its_own_interval(values: list[float]) -> None:
    analysis = analysed([{"setup": f"S{i}", "task": "T", "value": v} for i, v in enumerate(values)])
    pairs = analysis.tasks[0].pairs
    for i in range(len(values)):
        for j in range(len(values)):
            if i != j:
                margin = pairs.margin(i, j)
                assert margin.lo <= margin.log_ratio <= margin.hi
                assert margin.call is decide_call(margin.lo, margin.hi, pairs.materiality)
