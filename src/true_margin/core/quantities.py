"""Elapsed times and amounts as people type them, and how well each is known.

Section 1 of the computation page. A typed time gives seconds *and* the
resolution that was typed; nothing ambiguous is guessed.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass, replace

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import PLAIN, Numerals
from true_margin.core.quantity_words import Marked, clean_text, in_digits, read_marks, spread_of
from true_margin.core.study import Bound

MAX_ELAPSED_S = 30 * 24 * 3600.0
"""Longest elapsed time that is taken for one run, in seconds (30 days)."""
_SECONDS_IN = {"h": 3600.0, "m": 60.0, "s": 1.0}
_UNIT_NAME = {"h": "hours", "m": "minutes", "s": "seconds"}
_UNIT_WORDS = {
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), "h"),
    **dict.fromkeys(("m", "min", "mins", "minute", "minutes", "'"), "m"),
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds", '"', "''"), "s"),
}
_CLOCK_OF = re.compile(r"^(\d+):(\d\d)\s*(h|hrs?|hours?|m|mins?|minutes?)$", re.IGNORECASE)
_PLAIN = re.compile(r"^\d+(?:\.\d+)?$")
_COLON = re.compile(r"^(?:(\d+):)?(\d+):(\d\d)(\.\d+)?$")
_PART = re.compile(r"\s*(\d+(?:\.\d+)?)\s*(''|['\"]|[a-z]+|$)", re.IGNORECASE)
_ISO = re.compile(
    r"^PT(?:(\d+(?:\.\d+)?)H)?(?:(\d+(?:\.\d+)?)M)?(?:(\d+(?:\.\d+)?)S)?$", re.IGNORECASE
)
_AMOUNT = re.compile(r"^(\d+(?:\.\d+)?)(?:\s*[a-z/%]+){0,2}$", re.IGNORECASE)


@dataclass(frozen=True, slots=True)
class Elapsed:
    """An elapsed time as typed.

    Attributes:
        seconds: the value, in seconds.
        resolution_s: smallest step that the typed form can tell, in seconds.
        approximate: typed with ``~``, ``about`` or ``ca``.
        bound: typed with ``>`` or ``over``, ``<`` or ``under``: a limit, not a value; None
            for a value.
    """

    seconds: float
    resolution_s: float
    approximate: bool = False
    bound: Bound | None = None


@dataclass(frozen=True, slots=True)
class AmbiguousElapsed:
    """A time with two meanings, such as ``18.40 min``; a person must say which.

    Attributes:
        text: what was typed.
        as_clock: read as minutes and seconds (or hours and minutes).
        as_decimal: read as a decimal number of the unit.
    """

    text: str
    as_clock: Elapsed
    as_decimal: Elapsed


@dataclass(frozen=True, slots=True)
class Amount:
    """A score, rate or count as typed; more is better.

    Attributes:
        value: the amount, in the task's unit.
        resolution: smallest step that the typed form can tell, same unit.
        approximate: typed with ``~``, ``about`` or ``ca``.
        bound: typed with ``>`` or ``at least``, ``<`` or ``at most``; None for a value.
    """

    value: float
    resolution: float
    approximate: bool = False
    bound: Bound | None = None


@dataclass(frozen=True, slots=True)
class _Part:
    """One number and its unit; ``decimals`` counts the digits after the point."""

    number: str
    unit: str

    @property
    def decimals(self) -> int:
        return len(self.number.partition(".")[2])

    @property
    def seconds(self) -> float:
        return float(self.number) * _SECONDS_IN[self.unit]

    @property
    def resolution_s(self) -> float:
        return _SECONDS_IN[self.unit] / 10.0**self.decimals


def parse_elapsed(text: str, signs: Numerals = PLAIN) -> Elapsed | AmbiguousElapsed:
    """Read an elapsed time typed by a person in a hurry.

    Args:
        text: such as ``6:17``, ``1h26m``, ``18.4 min``, ``~10m``, ``> 20 min``, ``almost 9
            min``, ``1:14 h``, ``2:50 to 3:10``, ``3 h ± 5 min``.
        signs: of whoever typed it.

    Returns:
        The time with its typed resolution, or both meanings where there are two.

    Raises:
        QuantityError: empty, negative, zero, not finite, digits outside ASCII,
            seconds or minutes of 60 or more after a larger unit, text, or more
            than 30 days; the reason says what to type instead.

    Reference:
        Computation page, section 1.

    Example:
        >>> parse_elapsed("6:17")
        Elapsed(seconds=377.0, resolution_s=1.0, approximate=False, bound=None)
    """
    whole = in_digits(clean_text(text, "time", signs))
    try:
        spread = spread_of(whole, lambda part: _as_value(parse_elapsed(part)))
    except QuantityError as error:
        raise QuantityError(f"{text!r}: {error.reason}") from error
    if spread is not None:
        return checked_elapsed(spread[0], spread[1], text)
    marked = read_marks(whole)
    body = marked.body
    ambiguous = None
    if (colon := _COLON.match(body)) is not None:
        parts = _colon_parts(colon)
    elif (clock_of := _CLOCK_OF.match(body)) is not None:
        parts = _clock_parts(clock_of)
    elif _PLAIN.match(body):
        parts = [_Part(body, "s")]
    elif (iso := _ISO.match(body)) is not None and any(iso.groups()):
        parts = _iso_parts(iso)
    else:
        parts = _unit_parts(body, text)
        ambiguous = _clock_meaning(parts)
    value = _sum_parts(parts, text, marked)
    if ambiguous is None:
        return value
    clock = _sum_parts(ambiguous, text, marked)
    # "18.00 min" means the same either way, so there is nothing to ask.
    return value if clock.seconds == value.seconds else AmbiguousElapsed(text, clock, value)


def parse_amount(text: str, signs: Numerals = PLAIN) -> Amount:
    """Read an amount (score, rate, count) typed by a person.

    Args:
        text: such as ``1530``, ``64.5``, ``3,210 points``, ``6900 MB/s`` or ``at least 64``.
        signs: of whoever typed it: whether ``3,210`` is three thousand.

    Returns:
        The amount with its typed resolution.

    Raises:
        QuantityError: empty, not a number, zero or negative.

    Example:
        >>> parse_amount("64.5").resolution
        0.1
    """
    body = clean_text(text, "amount", signs)
    spread = spread_of(body, lambda part: _as_value(parse_amount(part)))
    if spread is not None:
        return Amount(*spread)
    marked = read_marks(body)
    match = _AMOUNT.match(marked.body)
    if match is None:
        raise QuantityError(f"{text!r} is not an amount: type a number such as 1530 or 64.5")
    number = match.group(1)
    value = float(number)
    if value <= 0 or not math.isfinite(value):
        raise QuantityError(f"{text!r}: an amount must be more than zero")
    decimals = len(number.partition(".")[2])
    return Amount(value, 10.0**-decimals, marked.approximate, marked.bound)


def _as_value(quantity: Amount | Elapsed | AmbiguousElapsed) -> float:
    """The value of one end of a range, which must be told plainly."""
    if isinstance(quantity, AmbiguousElapsed) or quantity.bound is not None:
        raise QuantityError("the ends of a range must be plain: write it like 2:50 to 3:10")
    return quantity.seconds if isinstance(quantity, Elapsed) else quantity.value


def _colon_parts(match: re.Match[str]) -> list[_Part]:
    hours, minutes, seconds, fraction = match.groups()
    parts = [] if hours is None else [_Part(hours, "h")]
    return [*parts, _Part(minutes, "m"), _Part(seconds + (fraction or ""), "s")]


def _clock_parts(match: re.Match[str]) -> list[_Part]:
    """``1:14 h`` is hours and minutes, ``1:14 min`` minutes and seconds."""
    large, small, unit = match.groups()
    units = ("h", "m") if unit[0].lower() == "h" else ("m", "s")
    return [_Part(large, units[0]), _Part(small, units[1])]


def _iso_parts(match: re.Match[str]) -> list[_Part]:
    found = zip(match.groups(), "hms", strict=True)
    return [_Part(number, unit) for number, unit in found if number is not None]


def _unit_parts(body: str, text: str) -> list[_Part]:
    """Split ``1h 26m``; a last number without a unit takes the next smaller one."""
    parts: list[_Part] = []
    position = 0
    while position < len(body):
        match = _PART.match(body, position)
        if match is None or match.end() == position:
            raise _not_a_time(text)
        number, word = match.group(1), match.group(2).lower()
        unit = _UNIT_WORDS.get(word)
        if not word and parts and parts[-1].unit in "hm" and not parts[-1].decimals:
            unit = "m" if parts[-1].unit == "h" else "s"
        if unit is None:
            raise _not_a_time(text)
        parts.append(_Part(number, unit))
        position = match.end()
    if not parts:
        raise _not_a_time(text)
    return parts


def _not_a_time(text: str) -> QuantityError:
    return QuantityError(f"{text!r} is not a time: type it like 6:17, 6m17s, 377 s or 18.4 min")


def _clock_meaning(parts: list[_Part]) -> list[_Part] | None:
    """Give the minutes-and-seconds meaning of ``18.40 min``, or None.

    Exactly two decimals below 60 after minutes or hours can be either.
    """
    last = parts[-1]
    whole, _, decimals = last.number.partition(".")
    if last.unit == "s" or len(decimals) != 2 or int(decimals) >= 60:
        return None
    smaller = "s" if last.unit == "m" else "m"
    return [*parts[:-1], _Part(whole, last.unit), _Part(decimals, smaller)]


def _sum_parts(parts: list[_Part], text: str, marked: Marked) -> Elapsed:
    order = ["hms".index(part.unit) for part in parts]
    if order != sorted(set(order)):
        raise QuantityError(f"{text!r}: write hours, then minutes, then seconds, each once")
    for part in parts[:-1]:
        if part.decimals:
            raise QuantityError(f"{text!r}: only the last number may have decimals")
    for part in parts[1:]:
        if float(part.number) >= 60:
            raise QuantityError(_overfull(parts, part, text))
    # fsum keeps 6m 17.2s at 377.2, whatever the order of additions.
    seconds = math.fsum(part.seconds for part in parts)
    elapsed = checked_elapsed(seconds, parts[-1].resolution_s, text)
    return replace(elapsed, approximate=marked.approximate, bound=marked.bound)


def _overfull(parts: list[_Part], part: _Part, text: str) -> str:
    """Say that a part is too large for its place, and how the time would be written."""
    said = f"{text} has {float(part.number):g} {_UNIT_NAME[part.unit]}"
    if any(each.decimals for each in parts):
        return f"{said}; after a larger unit there are 59 at most."
    minutes, second = divmod(round(sum(each.seconds for each in parts)), 60)
    hours, minute = divmod(minutes, 60)
    if hours:
        return f"{said}. Type {hours}:{minute:02d}:{second:02d}."
    return f"{said}. Type {minute}m{second:02d}s, or {minute}:{second:02d}."


def checked_elapsed(seconds: float, resolution_s: float, text: str) -> Elapsed:
    if seconds <= 0:
        raise QuantityError(f"{text!r}: a time must be more than zero")
    if seconds > MAX_ELAPSED_S:
        raise QuantityError(f"{text!r}: more than 30 days; check the unit")
    return Elapsed(seconds, resolution_s)
