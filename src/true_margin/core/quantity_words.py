"""Words around a quantity: bounds, “about”, ranges, spelt numbers, and signs that no form holds."""

from __future__ import annotations

import re
from collections.abc import Callable
from dataclasses import dataclass

from true_margin.core.errors import QuantityError
from true_margin.core.number_words import SMALL_NUMBERS, TENS
from true_margin.core.numerals import PLAIN, Numerals
from true_margin.core.study import Bound
from true_margin.core.typed_numbers import plain_numbers

_TYPOGRAPHIC = str.maketrans({"′": "'", "’": "'", "″": '"', "”": '"', "−": "-", "\u00a0": " "})
MOST_SIGNS = 120
"""A time or amount that a person wrote is shorter."""
_APPROXIMATE = re.compile(
    r"^(?:~|≈|(?:about|circa|around|roughly|approximately|approx|ca|some|almost|nearly|close to"
    r"|not quite|i think|maybe|(?:just|a bit|a little|slightly|well) (?:over|under))\b\.?)\s*",
    re.IGNORECASE,
)
_OR_SO = re.compile(r"\s+(?:or so|roughly|approximately|i think)$", re.IGNORECASE)
_BOUNDS = (
    (Bound.OVER, re.compile(r"^(?:>|over\b|more than\b|at least\b)\s*", re.IGNORECASE)),
    (Bound.UNDER, re.compile(r"^(?:<|under\b|less than\b|at most\b)\s*", re.IGNORECASE)),
)
_RANGE = re.compile(
    r"^(?:between\s+(?P<a>.+?)\s+and\s+(?P<b>.+)"
    r"|(?:from\s+)?(?P<low>[^–—]+?)\s*(?:\bto\b|–|—|(?<=\s)-(?=\s))\s*(?P<high>[^–—]+))$",
    re.IGNORECASE,
)
_GIVE = re.compile(r"^(?P<middle>.*?\d.*?)\s*(?:±|\+/-|\+-)\s*(?P<give>.*?\d.*)$")
_SPELT = {
    "a quarter of an hour": "15 min",
    "quarter of an hour": "15 min",
    "three quarters of an hour": "45 min",
    "half an hour": "30 min",
    "half a minute": "30 s",
    "an hour and a half": "1.5 hours",
    "a minute and a half": "1.5 minutes",
    "an hour": "1 hour",
    "a minute": "1 minute",
}
_DIGIT_OF = {word: str(number) for word, number in {**SMALL_NUMBERS, **TENS}.items()}


@dataclass(frozen=True, slots=True)
class Marked:
    """The text of a quantity without its leading words, and what those said."""

    body: str
    approximate: bool = False
    bound: Bound | None = None


def spread_of(body: str, read: Callable[[str], float]) -> tuple[float, float] | None:
    """Middle and width of ``2:50 to 3:10`` or ``3 h ± 5 min``; None for anything else.

    Every value between the ends is as likely as another (GUM, 4.3.7), so that the width stands
    for the resolution.
    """
    given = _GIVE.match(body)
    if given is not None:
        middle, give = read(given["middle"]), read(_with_unit(given["give"], given["middle"]))
        if give >= middle:
            raise QuantityError(f"{body!r}: what it may be off by must be less than itself")
        return middle, 2.0 * give
    ends = _RANGE.match(body)
    if ends is None:
        return None
    first, last = ends["a"] or ends["low"], ends["b"] or ends["high"]
    low, high = read(_with_unit(first, last)), read(last)
    if not low < high:
        raise QuantityError(f"{body!r}: a range begins with its lower end")
    return (low + high) / 2.0, high - low


def _with_unit(bare: str, other: str) -> str:
    """A number of a range that says no unit has that of the other end."""
    unit = re.search(r"[a-z/%]+$", other.strip(), re.IGNORECASE)
    return f"{bare} {unit.group()}" if unit and re.fullmatch(r"[\d.,\s]+", bare) else bare


def clean_text(text: str, kind: str, signs: Numerals = PLAIN) -> str:
    """Normalise typographic signs and refuse what no form can hold."""
    if len(text) > MOST_SIGNS:
        raise QuantityError(f"{text[:20]!r}… is too long for a {kind}: {MOST_SIGNS} signs at most")
    body = text.translate(_TYPOGRAPHIC).strip()
    if not body:
        raise QuantityError(f"no {kind} given: type one, such as 6:17 or 377 s")
    if any(sign.isdigit() and not sign.isascii() for sign in body):
        raise QuantityError(f"{text!r}: use the digits 0 to 9")
    if re.search(r"\b(?:nan|inf|infinity)\b", body, re.IGNORECASE):
        raise QuantityError(f"{text!r} is not a finite {kind}")
    if re.match(r"^\W*-\s*\d", body):
        raise QuantityError(f"{text!r}: a {kind} cannot be negative")
    body = plain_numbers(body, signs)
    if re.search(r"\d[.,]\d+[.,]\d", body):
        raise QuantityError(f"{text!r}: which signs part thousands, and which decimals?")
    return re.sub(r"(?<=\d),(?=\d)", ".", body)


def in_digits(body: str) -> str:
    """A time with its spelt numbers in digits: ``two and a half minutes`` is 2.5 minutes."""
    for words, digits in _SPELT.items():
        body = re.sub(rf"\b{words}\b", digits, body, flags=re.IGNORECASE)
    spelt = "|".join(_DIGIT_OF)
    body = re.sub(
        rf"\b({spelt})\b", lambda word: _DIGIT_OF[word[1].lower()], body, flags=re.IGNORECASE
    )
    return re.sub(r"\b(\d+) and a half\b", r"\1.5", body, flags=re.IGNORECASE)


def read_marks(body: str) -> Marked:
    """Take off the leading words for a bound and for an approximate value."""
    bound = None
    for side, pattern in _BOUNDS:
        rest = pattern.sub("", body)
        if rest != body:
            bound, body = side, rest
            break
    without_marks = _OR_SO.sub("", body)
    while (shorter := _APPROXIMATE.sub("", without_marks)) != without_marks:
        without_marks = shorter
    return Marked(without_marks, without_marks != body, bound)
