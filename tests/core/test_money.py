"""Prices in force, conversion by dated rates, and what a setup cost as tested."""

from __future__ import annotations

from datetime import date, timedelta
from decimal import Decimal

import pytest

from true_margin.core.currencies import minor_unit
from true_margin.core.money import (
    Money,
    PriceRecord,
    Rate,
    RateMissingError,
    RateTable,
    kinds_from,
    price_as_tested,
    price_in_force,
)
from true_margin.core.numerals import say_day
from true_margin.standins.rates import simulated_rates

DAY = date(2026, 11, 24)
RATES = RateTable(
    (
        Rate("USD", date(2026, 11, 16), Decimal("1.10")),
        Rate("USD", date(2026, 11, 23), Decimal("1.08")),
        Rate("GBP", date(2026, 11, 20), Decimal("0.86")),
    )
)


def euros(amount: str) -> Money:
    return Money(Decimal(amount), "EUR")


def record(kind: str, amount: str, days_ago: int, *, ends_in: int | None = None) -> PriceRecord:
    until = None if ends_in is None else DAY + timedelta(days=ends_in)
    return PriceRecord(kind, euros(amount), DAY - timedelta(days=days_ago), until)


@pytest.mark.parametrize(
    ("records", "kind", "place"),
    [
        ([], "list", None),
        ([record("list", "100", 5), record("list", "90", 2)], "list", 1),
        ([record("list", "100", 5), record("list", "90", -1)], "list", 0),
        ([record("list", "100", 0), record("list", "90", 0)], "list", 1),
        ([record("used", "50", 1), record("street", "80", 9)], "list", 1),
        ([record("used", "50", 1), record("street", "80", 9)], "used", 0),
        ([record("list", "100", 9), record("street", "80", 1, ends_in=-1)], "street", 0),
        ([record("list", "100", 9), record("street", "80", 1, ends_in=0)], "street", 1),
        ([record("street", "80", -3)], "list", None),
    ],
)
def test_the_price_that_counts(records: list[PriceRecord], kind: str, place: int | None) -> None:
    assert price_in_force(records, DAY, kinds=kinds_from(kind)) == place


def test_kinds_fall_back_in_order() -> None:
    assert kinds_from("paid") == ("paid", "list", "street", "used")


def test_a_price_is_stale_after_thirty_days() -> None:
    assert not record("list", "1", 30).stale(DAY)
    assert record("list", "1", 31).stale(DAY)


@pytest.mark.parametrize(
    ("amount", "currency", "to", "on", "expected"),
    [
        ("100", "EUR", "EUR", DAY, "100"),
        ("108", "USD", "EUR", DAY, "100.00"),
        ("110", "USD", "EUR", date(2026, 11, 22), "100.00"),
        ("100", "EUR", "GBP", DAY, "86.00"),
        ("108", "USD", "GBP", DAY, "86.00"),
        ("0", "USD", "EUR", DAY, "0.00"),
    ],
)
def test_conversion_by_the_rate_of_the_day(
    amount: str, currency: str, to: str, on: date, expected: str
) -> None:
    assert RATES.convert(Money(Decimal(amount), currency), to, on) == Money(Decimal(expected), to)


@pytest.mark.parametrize("on", [date(2026, 11, 15), date(2026, 12, 1)])
def test_rates_too_far_away_are_not_used(on: date) -> None:
    with pytest.raises(RateMissingError, match=f"no rate of USD for {say_day(on)}"):
        RATES.convert(Money(Decimal(5), "USD"), "EUR", on)


def test_extras_are_converted_by_their_own_day() -> None:
    price = PriceRecord("list", euros("1000"), date(2020, 1, 1))
    extras = [(Money(Decimal(108), "USD"), DAY), (euros("50"), DAY)]
    assert price_as_tested(price, extras, "EUR", RATES) == euros("1150.00")


def test_the_simulated_rates_have_no_holes() -> None:
    rates = simulated_rates()
    day = date(2026, 1, 5)
    while day < date(2028, 1, 1):
        for currency in ("USD", "GBP"):
            assert rates.convert(Money(Decimal(100), currency), "EUR", day).amount > 0
        day += timedelta(days=1)


@pytest.mark.parametrize(
    ("amount", "currency", "expected"),
    [("100.005", "JPY", "16551"), ("12.345", "KWD", "4.321"), ("99.99", "USD", "105.23")],
)
def test_conversion_is_exact_to_the_minor_unit(amount: str, currency: str, expected: str) -> None:
    day = date(2026, 11, 23)
    per_eur = {"JPY": "165.5", "KWD": "0.35", "USD": "1.0524"}[currency]
    table = RateTable((Rate(currency, day, Decimal(per_eur)),))
    found = table.convert(Money(Decimal(amount), "EUR"), currency, day).amount
    assert found == Decimal(expected)
    assert found.as_tuple().exponent == minor_unit(currency).as_tuple().exponent
