"""A machine against the owned one: hours, worth, payback and break-even, worked by hand."""

from __future__ import annotations

import math
from decimal import Decimal

import numpy as np
import pytest
from hypothesis import given
from hypothesis import strategies as st

from tests.core.helpers import analysed, runs_of
from true_margin.core.margins import own_half, pair_half
from true_margin.core.money import value_of
from true_margin.core.speed import speed_of
from true_margin.core.upgrade import PaybackKind, Upgrade, break_even, payback, upgrade_to
from true_margin.core.weekly import (
    Span,
    Waiting,
    Weekly,
    energy_kwh,
    hours_saved,
    hours_span,
    weekly_hours,
)

WAITING = Waiting(Decimal(40), attended=0.5, weeks=48.0)
"""20 an hour in 48 weeks: 960 a year for an hour a week."""


def week() -> Weekly:
    """A takes an hour a week, B half an hour; ten runs of each, so that intervals are small."""
    tail = (0.0, 0.2, 0.4, 0.6, 0.8)
    times = {"A": [600.0 + t for t in tail] * 2, "B": [300.0 + t / 2 for t in tail] * 2}
    analysis = analysed(runs_of(times, "film"), tasks={"film": {"work": 600.0, "unit": "s"}})
    return weekly_hours(analysis, {0: 3600.0})


def upgrade(price: str = "900", resale: str = "100", years: float = 3.0) -> Upgrade:
    return upgrade_to(
        week(), 1, 0, Decimal(price), Decimal(resale), WAITING, years=years, confidence=0.95
    )


def test_hours_worth_and_net_worth() -> None:
    found = upgrade()
    assert found.saved_week.value == pytest.approx(0.5, abs=0.001)
    assert found.saved_year.value == pytest.approx(24.0, abs=0.05)
    assert found.worth_year.value == pytest.approx(480.0, abs=1)
    # Three years of 480 less 800.
    assert found.net_worth.value == pytest.approx(640.0, abs=3)
    for span in (found.saved_week, found.saved_year, found.worth_year, found.net_worth):
        assert span.lo < span.value < span.hi


def test_payback_is_in_calendar_weeks() -> None:
    found = upgrade()
    # 800 for 10 a week: 80 working weeks of 48, 86.7 of 52.
    assert found.payback.kind is PaybackKind.WEEKS
    assert found.payback.weeks is not None
    assert found.payback.weeks.value == pytest.approx(800 / 10 * 52 / 48, rel=0.005)


def test_break_even_is_a_factor_on_the_work_with_its_hours() -> None:
    found = upgrade()
    assert found.break_even == pytest.approx(800 / (480 * 3), rel=0.005)
    assert found.break_even is not None
    assert found.break_even_hours == pytest.approx(found.break_even * 1.0, abs=0.001)


def test_what_costs_no_more_pays_at_once() -> None:
    found = upgrade(price="100")
    assert found.payback.kind is PaybackKind.AT_ONCE
    assert (found.break_even, found.break_even_hours) == (0.0, 0.0)
    assert found.net_worth.value == pytest.approx(found.worth_year.value * 3)


def test_against_itself_nothing_is_saved_and_nothing_pays() -> None:
    found = upgrade_to(
        week(), 0, 0, Decimal(900), Decimal(100), WAITING, years=3.0, confidence=0.95
    )
    assert found.saved_week == Span(0.0, 0.0, 0.0)
    assert found.payback.kind is PaybackKind.NEVER
    assert found.break_even is None
    assert found.break_even_hours is None


@given(
    st.decimals(0, 5000, places=2),
    st.decimals(0, 5000, places=2),
    st.floats(0.01, 20),
    st.floats(0.5, 10),
)
def test_at_the_break_even_the_worth_is_the_cost(
    price: Decimal, resale: Decimal, saved: float, years: float
) -> None:
    factor = break_even(price, resale, saved, WAITING, years)
    assert factor is not None
    cost = max(float(price - resale), 0.0)
    assert factor * WAITING.yearly_worth(saved) * years == pytest.approx(cost, abs=1e-6)


TINY = 1e-290
"""Hours of which so few are saved that the weeks are beyond all numbers."""


@given(st.floats(-5, 5), st.floats(0, 3))
def test_a_payback_has_an_end_only_where_hours_are_surely_saved(value: float, half: float) -> None:
    saved = Span(value, value - half, value + half)
    found = payback(Decimal(900), Decimal(100), saved, WAITING)
    if found.kind is PaybackKind.WEEKS:
        assert found.weeks is not None
        assert 0 < found.weeks.lo <= found.weeks.value <= found.weeks.hi < math.inf
        assert saved.lo > 0
    elif found.kind is PaybackKind.NEVER:
        assert saved.hi <= 0
    else:
        assert found.kind is PaybackKind.NOT_SURE
        assert saved.lo <= TINY
        assert saved.hi > 0


def test_half_widths_are_those_of_their_own_degrees_of_freedom() -> None:
    hours = week().hours
    saved, span = hours_saved(week(), 1, 0, 0.95), hours_span(week(), 1, 0.95)
    assert saved.hi - saved.value == pytest.approx(pair_half(hours, 1, 0, 0.95))
    assert span.hi - span.value == pytest.approx(own_half(hours, 1, 0.95))
    # A wider interval is wanted more surely.
    assert own_half(hours, 1, 0.99) > own_half(hours, 1, 0.95) > own_half(hours, 1, 0.8) > 0


@pytest.mark.parametrize(
    ("power", "expected"),
    [
        ({0: 60.0, 1: 120.0}, (0.06 * 1.0 + 0.12 * 0.5, 2)),
        ({1: 120.0}, (0.06, 1)),
        # A task without hours takes no energy, however much it draws.
        ({2: 300.0}, None),
        ({}, None),
    ],
)
def test_energy_is_of_the_tasks_whose_power_is_known(
    power: dict[int, float], expected: tuple[float, int] | None
) -> None:
    found = energy_kwh(np.array([1.0, 0.5, 0.0]), power)
    if expected is None:
        assert found is None
    else:
        assert found == (pytest.approx(expected[0]), expected[1])


@pytest.mark.parametrize(
    ("work", "unit", "seconds", "speed"),
    [
        (660.0, "s", 330.0, 2.0),
        (660.0, None, 330.0, 2.0),
        (5000.0, "frames", 100.0, 50.0),
        (260.0, "photos", 120.0, 130.0),
        (None, "s", 330.0, None),
    ],
)
def test_speed_is_in_the_unit_that_people_use(
    work: float | None, unit: str | None, seconds: float, speed: float | None
) -> None:
    assert speed_of(work, unit, seconds) == (None if speed is None else pytest.approx(speed))


@pytest.mark.parametrize(
    ("ratio", "price", "base", "value"),
    [
        (2.0, "900", "300", 2 / 3),
        (1.0, "300", "300", 1.0),
        (None, "300", "300", None),
        (2.0, "0", "300", None),
        (2.0, "900", "0", None),
        (2.0, "-1", "300", None),
    ],
)
def test_value_is_speed_over_price(
    ratio: float | None, price: str, base: str, value: float | None
) -> None:
    found = value_of(ratio, Decimal(price), Decimal(base))
    assert found == (None if value is None else pytest.approx(value))


def test_value_without_a_price_of_the_baseline_is_not_told() -> None:
    assert value_of(2.0, Decimal(900), None) is None
