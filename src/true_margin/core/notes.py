"""Ratios noted elsewhere, without the times behind them: "42 % faster", "over 15 times".

Section 4 of the computation page. A note is never mixed into a measured margin; where nothing
was measured it may stand in, and says so.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from enum import StrEnum

from scipy.special import ndtri

from true_margin.core.errors import QuantityError
from true_margin.core.study import Bound, NotedRatio
from true_margin.core.wording import format_ratio

MOST_SIGNS = 60
MOST_LINE = 300
_OVER = re.compile(r"^(?:>|over\b|more than\b|at least\b)\s*", re.IGNORECASE)
_UNDER = re.compile(r"^(?:<|under\b|less than\b|at most\b)\s*", re.IGNORECASE)
_SPOKEN = re.compile(
    r"^(?P<sign>[+−-])?\s*(?P<number>\d{1,9}(?:[.,]\d{1,9})?)\s*"
    r"(?P<kind>%\s*(?:less time|faster|slower)?|times|x|×)?(?:\s+as fast)?$",
    re.IGNORECASE,
)
_WORDS = {"faster": Bound.OVER, "slower": Bound.UNDER}
"""A side without a number: some say no more."""
_ASKS = "write it like 42 % faster, 12 % slower, 30 % less time, 3.2 times or over 15 times"


class NoteStatus(StrEnum):
    """What becomes of a note."""

    STANDS_IN = "stands in"
    MEASURED = "measured stands"
    BOUND = "bound stands"
    EARLIER = "earlier note stands"


def parse_ratio(text: str) -> NotedRatio:
    """Read a ratio as people write it, with half a unit of its last digit as its interval.

    Args:
        text: such as ``42 %``, ``12 % slower``, ``30 % less time``, ``3.2 times``, ``over 15x``,
            or only ``slower``.

    Raises:
        QuantityError: it is none, or leaves nothing above 0.

    Example:
        >>> round(math.exp(parse_ratio("30 % less time").log_ratio), 4)
        1.4286
    """
    if len(text) > MOST_SIGNS:
        raise QuantityError(f"{text[:20]!r}… is too long for a ratio: {_ASKS}")
    body, bound = text.strip().replace("\u00a0", " "), None
    if body.casefold() in _WORDS:
        return _one_sided(0.0, _WORDS[body.casefold()])
    for pattern, side in ((_OVER, Bound.OVER), (_UNDER, Bound.UNDER)):
        rest = pattern.sub("", body)
        if rest != body:
            body, bound = rest, side
            break
    match = _SPOKEN.match(body) if body.isascii() or "−" in body or "×" in body else None
    if match is None:
        raise QuantityError(f"{text!r} is not a ratio: {_ASKS}")
    number = match["number"].replace(",", ".")
    half = 0.5 * 10.0 ** -len(number.partition(".")[2])
    kind = " ".join((match["kind"] or "").casefold().split())
    if match["sign"] in ("-", "−"):
        if kind != "%":
            raise QuantityError(f"{text!r}: only a percentage may be negative: {_ASKS}")
        kind = "% slower"
    value = float(number)
    ends = [_log_ratio(value + by, kind, text) for by in (-half, 0.0, half)]
    if bound is not None:
        return _one_sided(ends[1], _turned_by(kind, bound))
    return NotedRatio(ends[1], min(ends), max(ends))


def _log_ratio(number: float, kind: str, text: str) -> float:
    """The log of the ratio of speeds that a number of some kind says."""
    if kind == "% slower":
        ratio = 1.0 / (1.0 + number / 100.0)
    elif kind == "% less time":
        if number >= 100.0:
            raise QuantityError(f"{text!r}: less time by 100 % or more leaves none")
        ratio = 1.0 / (1.0 - number / 100.0)
    elif kind.startswith("%"):
        ratio = 1.0 + number / 100.0
    else:
        ratio = number
    if not ratio > 0:
        raise QuantityError(f"{text!r}: a ratio must stay above 0, half a digit less included")
    return math.log(ratio)


def _turned_by(kind: str, bound: Bound) -> Bound:
    """More than 12 % slower is less than 1/1.12 times as fast."""
    if kind != "% slower":
        return bound
    return Bound.UNDER if bound is Bound.OVER else Bound.OVER


def _one_sided(log: float, bound: Bound) -> NotedRatio:
    return NotedRatio(None, log, None) if bound is Bound.OVER else NotedRatio(None, None, log)


def number_ratio(
    ratio: float,
    confidence: float,
    *,
    digits: int | None = None,
    u_rel: float | None = None,
    bound: Bound | None = None,
) -> NotedRatio:
    """Read a ratio that is given as a number with exactly one of three kinds of doubt.

    Args:
        ratio: speed of the one over the other, above 0.
        confidence: of the shootout's intervals, for ``u_rel``.
        digits: decimals that it was written with.
        u_rel: its relative standard uncertainty.
        bound: where it is one.

    Raises:
        QuantityError: not exactly one of them, or nothing above 0 is left.
    """
    if sum(each is not None for each in (digits, u_rel, bound)) != 1:
        raise QuantityError("a ratio that is a number needs exactly one of digits, u_rel, bound")
    if not (math.isfinite(ratio) and ratio > 0):
        raise QuantityError(f"a ratio must be above 0, got {ratio!r}")
    log = math.log(ratio)
    if bound is not None:
        return _one_sided(log, bound)
    if u_rel is not None:
        half = float(ndtri(0.5 + confidence / 2.0)) * u_rel
        return NotedRatio(log, log - half, log + half)
    step = 0.5 * 10.0 ** -(digits or 0)
    if ratio - step <= 0:
        raise QuantityError(f"{ratio!r} less half a unit of its last digit leaves nothing above 0")
    return NotedRatio(log, math.log(ratio - step), math.log(ratio + step))


_PARTS = re.compile(
    r"^(?P<ratio>(?:(?:>|<|over|under|more than|less than|at least|at most)\s*)?"
    r"(?:[+−-]?\s*\d[\d.,]*\s*(?:%\s*(?:less time|faster|slower)?|x\b|×|times\b)(?:\s+as fast)?"
    r"|faster|slower))"
    r"(?:\s+(?:than|as|of|vs\.?|against))?(?:\s+(?:the\s+)?(?P<name>.*?))?"
    r"(?:,?\s*\b(?P<word>noted|published|claimed)\b(?:\s+(?:by|from|in))?\s*(?P<source>.*))?$",
    re.IGNORECASE,
)


@dataclass(frozen=True, slots=True)
class SpokenNote:
    """A ratio as it is typed in a line: how much, against whom, and who says so."""

    ratio: str
    against: str
    source: str


def read_note(text: str) -> SpokenNote | None:
    """Take ``3.2x all-in-one noted`` apart; None where it is no ratio but a time or an amount.

    Example:
        >>> read_note("38 % faster than tower, noted by Ola")
        SpokenNote(ratio='38 % faster', against='tower', source='Ola')
        >>> read_note("-7 % tower published").source
        'published'
        >>> read_note("6:17 log") is None
        True
    """
    match = _PARTS.match(text.strip()[:MOST_LINE])
    if match is None:
        return None
    word = (match["word"] or "").casefold()
    source = (match["source"] or "").strip() or ("" if word == "noted" else word)
    return SpokenNote(match["ratio"].strip(), (match["name"] or "").strip(), source)


def say_note(ratio: NotedRatio, a: str, b: str) -> str:
    """Say what a note claims of a pair, without who says so.

    Args:
        ratio: speed of a over b.
        a, b: names of the setups.
    """
    if ratio.log_ratio is not None:
        return f"{a} is said to be {format_ratio(math.exp(ratio.log_ratio))} times as fast as {b}"
    if ratio.lo is not None:
        least = math.exp(ratio.lo)
        more = "faster than" if least == 1.0 else f"over {format_ratio(least)} times as fast as"
        return f"{a} is said to be {more} {b}"
    most = math.exp(ratio.hi or 0.0)
    less = "slower than" if most == 1.0 else f"under {format_ratio(most)} times as fast as"
    return f"{a} is said to be {less} {b}"
