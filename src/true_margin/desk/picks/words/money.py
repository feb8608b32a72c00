"""Money and hours in words, as Picks and what is published write them."""

from __future__ import annotations

from decimal import ROUND_HALF_UP, Decimal

from true_margin.core.currencies import minor_unit
from true_margin.core.numerals import fixed, localised, short
from true_margin.core.weekly import Span


def say_money(amount: Decimal, currency: str) -> str:
    """Write money: thousands parted by a space, the minor unit only where there is any.

    Example:
        >>> say_money(Decimal("1553.39"), "EUR").replace("\u00a0", " ")
        '1 553.39 EUR'
    """
    exact = amount.quantize(minor_unit(currency), rounding=ROUND_HALF_UP)
    whole = exact == exact.to_integral_value()
    written = fixed(exact, 0, grouped=True) if whole else localised(f"{exact:,}")
    return f"{written} {currency}"


def say_round(amount: float, currency: str) -> str:
    """Write money that is only known roughly, without its minor unit."""
    return say_money(Decimal(round(amount)), currency)


def say_span(span: Span, currency: str, per: str = "") -> str:
    """Write money that is only known roughly, with its interval.

    Example:
        >>> say_span(Span(464.2, 454.0, 473.9), "EUR", "a year")
        '464 EUR a year, 454 to 474'
    """
    ends = [say_round(x, currency).removesuffix(f" {currency}") for x in (span.lo, span.hi)]
    return f"{say_round(span.value, currency)}{per and f' {per}'}, {ends[0]} to {ends[1]}"


def say_number(value: float) -> str:
    """Write a number with two digits that count, never as a power of ten.

    Example:
        >>> say_number(0.634), say_number(26.4), say_number(143.0)
        ('0.63', '26', '143')
    """
    return short(value, 2) if value < 100 else f"{round(value)}"


def years_of(years: float) -> str:
    """A horizon in words."""
    return "1 year" if years == 1 else f"{short(years)} years"


def say_hours(span: Span, per: str) -> str:
    """Hours saved with their interval.

    Example:
        >>> say_hours(Span(1.92, 1.7, 2.1), "a week")
        '1.9 h a week, 1.7 to 2.1'
    """
    value, lo, hi = hour_figures(span)
    return f"{value} h {per}, {lo} to {hi}"


def hour_figures(span: Span) -> tuple[str, str, str]:
    """Hours and their ends, with as many digits as they are worth."""
    digits = 0 if abs(span.value) >= 20 else 1 if abs(span.value) >= 1 else 2
    return fixed(span.value, digits), fixed(span.lo, digits), fixed(span.hi, digits)


def say_per_hour(span: Span, currency: str, years: float) -> str:
    """What an hour saved costs along a step of the frontier."""
    each = [fixed(x, 2 if x < 100 else 0) for x in (span.value, span.lo, span.hi)]
    return (
        f"{each[0]} {currency} for each hour saved over {years_of(years)} ({each[1]} to {each[2]})"
    )
