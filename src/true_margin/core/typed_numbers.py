"""Numbers as people write them: thousands set apart, a point or a comma before decimals.

Which sign does what is told by the number itself where it can be, else by how its reader
writes. A number that is written plainly reads the same for everybody.
"""

from __future__ import annotations

import re
from collections.abc import Iterable

from true_margin.core.numerals import Numerals

_SPACES = "\u00a0\u202f\u2009 "
_NUMBER = re.compile(rf"(?<![\d:.,])\d[\d.,'’{_SPACES}]*\d(?![\d:])|(?<![\d:.,])\d")
_SPACED = re.compile(rf"\d{{1,3}}(?:[{_SPACES}'’]\d{{3}})+(?:[.,]\d+)?")
_GROUPED = re.compile(r"\d{1,3}(?:([.,])\d{3})(?:\1\d{3})*")
_LAKHS = re.compile(r"\d{1,2}(?:,\d{2})+,\d{3}")


def plain_numbers(text: str, signs: Numerals) -> str:
    """Write the numbers of a text with a point before decimals and nothing between thousands.

    Args:
        text: such as ``3,210 points`` or ``6.850,5 MB/s``; clock times stay as they are.
        signs: of whoever typed it. A single sign with three digits behind it parts thousands
            where these say so, and decimals otherwise.

    Example:
        >>> plain_numbers("3,210 points", Numerals(".", ",")), plain_numbers("3,21", Numerals())
        ('3210 points', '3.21')
        >>> plain_numbers("1 234 567,5", Numerals())
        '1234567.5'
    """
    return _NUMBER.sub(lambda match: _plain(match.group(), signs), text)


def signs_of_column(cells: Iterable[str], signs: Numerals) -> Numerals | None:
    """By which signs the numbers of a column are written, which they tell between them.

    Args:
        cells: as they were typed.
        signs: of whoever brings the column.

    Returns:
        Signs for all of them; None where a point may part thousands or stand before decimals
        and nothing beside it tells.
    """
    numbers = [match.group() for cell in cells for match in _NUMBER.finditer(cell)]
    for point, group in ((".", ","), (",", ".")):
        # Not three digits behind it, or a nought before: it stands before decimals.
        decimal = re.compile(
            rf"\d*\{point}(?!\d{{3}}$)\d+|0\{point}\d+|[\d{group}]+\{group}\d{{3}}\{point}\d+"
        )
        if any(decimal.fullmatch(number) for number in numbers):
            return Numerals(point, group)
    if signs.group == "." and any(_GROUPED.fullmatch(number) for number in numbers):
        return None if any("." in number for number in numbers) else signs
    return signs


def _plain(number: str, signs: Numerals) -> str:
    """One number; parts that do not belong together stay apart."""
    if any(sign in number for sign in (*_SPACES, "'", "’")):
        if _SPACED.fullmatch(number):
            return re.sub(rf"[{_SPACES}'’]", "", number).replace(",", ".")
        # Two numbers side by side, such as 6 17.
        return re.sub(r"[\d.,]+", lambda part: _plain(part.group(), signs), number)
    points, commas = number.count("."), number.count(",")
    if points and commas:
        return _both(number)
    if not points and not commas:
        return number
    sign, other = (".", points) if points else (",", commas)
    if other > 1 or (_GROUPED.fullmatch(number) and not number.startswith("0")):
        grouped = _GROUPED.fullmatch(number) or _LAKHS.fullmatch(number)
        if grouped and (other > 1 or signs.group == sign):
            return number.replace(sign, "")
    return number.replace(",", ".") if other == 1 else number


def _both(number: str) -> str:
    """With both signs the last one is before decimals, if all before it part thousands."""
    last = max(number.rfind("."), number.rfind(","))
    whole, part = number[:last], number[last + 1 :]
    known = _GROUPED.fullmatch(whole) or _LAKHS.fullmatch(whole)
    if known is None or number[last] in whole:
        return number
    return f"{whole.replace('.', '').replace(',', '')}.{part}"
