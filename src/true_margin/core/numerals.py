"""How numbers and days are written for whoever reads them.

Sentences are made at many depths, so the signs are a context, as decimal arithmetic has one:
whoever answers a reader sets it once, all else writes with a point, which every reader of a
file that is given away can take.
"""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from contextvars import ContextVar
from dataclasses import dataclass
from datetime import date
from decimal import Decimal
from typing import Protocol

MINUS = "−"
SPACE = "\u00a0"


class DayWriter(Protocol):
    """Writes days in some language; two of one language are equal."""

    def __call__(self, day: date, *, whole: bool) -> str:
        """Write a day; ``whole`` with the month in full."""

    def __hash__(self) -> int: ...


@dataclass(frozen=True, slots=True)
class Numerals:
    """The signs of a place.

    Attributes:
        point: between the whole and the decimals.
        group: between thousands.
        days: writes days; None for English, day first.
    """

    point: str = "."
    group: str = SPACE
    days: DayWriter | None = None


PLAIN = Numerals()
"""For files that are given away, and wherever nobody said how they read."""
_NOW: ContextVar[Numerals] = ContextVar("numerals", default=PLAIN)


def numerals() -> Numerals:
    """The signs that numbers are written with now."""
    return _NOW.get()


@contextmanager
def writing(signs: Numerals) -> Iterator[None]:
    """Write numbers with these signs until the block ends."""
    before = _NOW.set(signs)
    try:
        yield
    finally:
        _NOW.reset(before)


def fixed(
    value: float | Decimal, digits: int, *, signed: bool = False, grouped: bool = False
) -> str:
    """Write a number with so many decimals.

    Args:
        value: any number.
        digits: how many decimals, 0 or more.
        signed: with a plus where it is positive.
        grouped: with thousands set apart.

    Example:
        >>> fixed(-1.5, 2), fixed(0.25, 1, signed=True)
        ('−1.50', '+0.2')
        >>> with writing(Numerals(",", ".")):
        ...     fixed(1234.5, 2, grouped=True)
        '1.234,50'
    """
    plus, comma = "+" if signed else "", "," if grouped else ""
    return localised(f"{value:{plus}{comma}.{digits}f}")


def short(value: float | Decimal, digits: int = 6) -> str:
    """Write a number with so many significant digits, no trailing zeros, never an exponent.

    Digits before the point are never rounded away: they are all meant.

    Example:
        >>> short(0.5), short(12.0), short(1.23456, 3), short(1234567.0), short(12345.6, 3)
        ('0.5', '12', '1.23', '1234567', '12346')
    """
    if abs(value) >= 10**digits:
        return localised(f"{value:.0f}")
    written = f"{value:.{digits}g}"
    if "e" in written:
        written = f"{Decimal(written):f}"
    return localised(written)


def trimmed(value: float | Decimal, digits: int) -> str:
    """Write a number with at most so many decimals, no trailing zeros.

    Example:
        >>> trimmed(23.976, 3), trimmed(25.0, 3)
        ('23.976', '25')
    """
    return localised(f"{value:.{digits}f}".rstrip("0").rstrip(".") if digits else f"{value:.0f}")


def say_day(day: date, *, whole: bool = False) -> str:
    """Write a day; ``whole`` with the month in full.

    Example:
        >>> say_day(date(2026, 11, 3)), say_day(date(2026, 11, 3), whole=True)
        ('3 Nov 2026', '3 November 2026')
    """
    days = _NOW.get().days
    if days is not None:
        return days(day, whole=whole)
    return f"{day:%-d %B %Y}" if whole else f"{day:%-d %b %Y}"


def localised(written: str) -> str:
    """Turn a number as Python writes it (``-1,234.5``) into the signs of now.

    Example:
        >>> localised("-0.5")
        '−0.5'
    """
    signs = _NOW.get()
    if written.startswith("-"):
        written = MINUS + written[1:]
    return "".join({".": signs.point, ",": signs.group}.get(sign, sign) for sign in written)
