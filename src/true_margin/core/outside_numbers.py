"""Numbers out of files and addresses: of a bounded form before anything converts them.

A text of a hundred bytes can stand for a number whose digits fill the memory (``1e9000000``).
Whatever converts text from outside asks here first; what is not of the form is no number.
"""

from __future__ import annotations

import re
from decimal import Decimal
from fractions import Fraction

MOST_DIGITS = 30
"""Before and after the point, each; the exponent has three at most."""
_NUMBER = re.compile(
    rf"[+-]?(?:[0-9]{{1,{MOST_DIGITS}}}(?:\.[0-9]{{0,{MOST_DIGITS}}})?|\.[0-9]{{1,{MOST_DIGITS}}})"
    r"(?:[eE][+-]?[0-9]{1,3})?"
)
_PLAIN = re.compile(rf"[0-9]{{1,{MOST_DIGITS}}}(?:\.[0-9]{{1,{MOST_DIGITS}}})?")
_WHOLE = re.compile(r"[0-9]{1,9}")
_RATIO = re.compile(r"([0-9]{1,12})/([0-9]{1,12})")


def read_float(text: str) -> float | None:
    """Read a number; None where the text is none of a bounded form.

    Example:
        >>> read_float("29.97"), read_float("1e9000000"), read_float("nan")
        (29.97, None, None)
    """
    return float(text) if _NUMBER.fullmatch(text) else None


def read_decimal(text: str) -> Decimal | None:
    """Read a number without sign and exponent, exactly; None where the text is none.

    Example:
        >>> read_decimal("1290.50"), read_decimal("1e3"), read_decimal("9" * 5000)
        (Decimal('1290.50'), None, None)
    """
    return Decimal(text) if _PLAIN.fullmatch(text) else None


def read_whole(text: str) -> int | None:
    """Read a whole number of up to nine digits; None where the text is none.

    Example:
        >>> read_whole("12"), read_whole("-1"), read_whole("٣"), read_whole("9" * 5000)
        (12, None, None, None)
    """
    return int(text) if _WHOLE.fullmatch(text) else None


def read_ratio(text: str) -> Fraction | None:
    """Read a rate as it is or as a quotient; None where the text is neither, or one by nothing.

    Example:
        >>> read_ratio("30000/1001"), read_ratio("25"), read_ratio("1/0"), read_ratio("1e9000000")
        (Fraction(30000, 1001), Fraction(25, 1), None, None)
    """
    parts = _RATIO.fullmatch(text)
    if parts is not None:
        return Fraction(int(parts[1]), int(parts[2])) if int(parts[2]) else None
    return Fraction(text) if _PLAIN.fullmatch(text) else None
