"""Weekly work, what saving it is worth, and payback, worked by hand."""

from __future__ import annotations

import math
from decimal import Decimal

import numpy as np
import pytest
from scipy import stats

from tests.core.helpers import analysed, runs_of
from true_margin.core.analysis import Analysis
from true_margin.core.errors import CoreError
from true_margin.core.upgrade import Payback, PaybackKind, payback
from true_margin.core.weekly import Span, Waiting, hours_saved, weekly_hours


def shootout() -> Analysis:
    """A takes 10 and 2 minutes, B 5 and 4; the long task holds 600 s of timeline."""
    runs = runs_of({"A": [600.0, 601.2], "B": [300.0, 300.6], "C": [200.0]}, "long")
    runs += runs_of({"A": [120.0, 120.3], "B": [240.0, 240.4]}, "short")
    return analysed(runs, tasks={"long": {"work": 600.0, "unit": "s"}, "short": {}})


def places(analysis: Analysis) -> tuple[int, int]:
    names = [task.name for task in analysis.study.tasks]
    return names.index("long"), names.index("short")


def test_hours_are_total_time() -> None:
    analysis = shootout()
    long, short = places(analysis)
    # An hour of timeline and 30 runs of the short task: 1 h + 1 h for A, 0.5 h + 2 h for B.
    weekly = weekly_hours(analysis, {long: 3600.0, short: 30.0})
    assert [analysis.study.setups[s] for s in weekly.setups] == ["A", "B"]
    assert weekly.hours.estimate.tolist() == pytest.approx([2.0, 2.5], abs=0.01)


def test_the_interval_is_by_the_delta_method() -> None:
    analysis = shootout()
    long, _ = places(analysis)
    weekly = weekly_hours(analysis, {long: 3600.0})
    a, b, c = weekly.hours.estimate.tolist()
    assert (a, b, c) == pytest.approx((1.0, 0.5, 1 / 3), abs=0.002)
    s = analysis.cells.spread[long]
    assert s is not None
    f2 = analysis.cells.shares.variance.tolist()
    # var(H) = H² s² f²/n on one task; two runs of A and B, one of C.
    variance = [
        each**2 * s.cv**2 * share / n
        for each, share, n in zip((a, b, c), f2, (2, 2, 1), strict=True)
    ]
    assert np.diag(weekly.hours.covariance).tolist() == pytest.approx(variance, rel=1e-9)
    saved = hours_saved(weekly, 1, 0, 0.95)
    df = float(weekly.hours.df[1, 0])
    half = stats.t.ppf(0.975, df) * math.sqrt(variance[0] + variance[1])
    assert (saved.value, saved.hi - saved.value) == pytest.approx((a - b, half), rel=1e-9)
    same = hours_saved(weekly, 0, 0, 0.95)
    assert (same.value, same.lo, same.hi) == (0.0, 0.0, 0.0)


def test_amounts_and_empty_weeks_take_no_part() -> None:
    runs = runs_of({"A": [100.0]}, "T") + runs_of({"A": [50.0]}, "points")
    analysis = analysed(runs, tasks={"points": {"measure": "amount"}})
    names = [task.name for task in analysis.study.tasks]
    assert len(weekly_hours(analysis, {names.index("points"): 3.0}).setups) == 0
    assert len(weekly_hours(analysis, {names.index("T"): 0.0}).setups) == 0
    assert len(weekly_hours(analysis, {}).setups) == 0
    with pytest.raises(CoreError, match="weekly work of T"):
        weekly_hours(analysis, {names.index("T"): -1.0})


def test_worth_of_an_hour() -> None:
    waiting = Waiting(Decimal(40))
    assert waiting.weekly_worth(3.0) == pytest.approx(60.0)
    assert waiting.yearly_worth(3.0) == pytest.approx(2880.0)


@pytest.mark.parametrize(
    ("value", "attended", "weeks"),
    [("-1", 0.5, 48), ("NaN", 0.5, 48), ("40", 1.1, 48), ("40", 0.5, 0), ("40", 0.5, 53)],
)
def test_what_no_viewer_can_mean_is_refused(value: str, attended: float, weeks: float) -> None:
    with pytest.raises(CoreError):
        Waiting(Decimal(value), attended, weeks)


WAITING = Waiting(Decimal(40))


@pytest.mark.parametrize(
    ("price", "resale", "saved", "expected"),
    [
        # 1 200 over 20 a week for each hour: 30 working weeks for 2 h, 32.5 calendar weeks.
        ("1580", "380", Span(2, 1.5, 2.5), Payback(PaybackKind.WEEKS, Span(32.5, 26.0, 1300 / 30))),
        ("380", "380", Span(2, 1, 3), Payback(PaybackKind.AT_ONCE)),
        ("300", "380", Span(-1, -2, 0), Payback(PaybackKind.SLOWER)),
        ("1580", "380", Span(-1, -2, 0), Payback(PaybackKind.NEVER)),
        ("1580", "380", Span(0, 0, 0), Payback(PaybackKind.NEVER)),
        ("1580", "380", Span(1, -0.5, 2.5), Payback(PaybackKind.NOT_SURE, Span(65, 26, math.inf))),
    ],
)
def test_payback(price: str, resale: str, saved: Span, expected: Payback) -> None:
    found = payback(Decimal(price), Decimal(resale), saved, WAITING)
    assert found.kind is expected.kind
    if expected.weeks is None:
        assert found.weeks is None
    else:
        assert found.weeks is not None
        assert (found.weeks.value, found.weeks.lo, found.weeks.hi) == pytest.approx(
            (expected.weeks.value, expected.weeks.lo, expected.weeks.hi)
        )


def test_waiting_that_costs_nothing_never_pays_back() -> None:
    free = Waiting(Decimal(0))
    assert payback(Decimal(1580), Decimal(380), Span(2, 1, 3), free).kind is PaybackKind.NEVER
