"""Elapsed times and amounts as people type them, and how well each is known.

Section 1 of the computation page. A typed time gives seconds *and* the
resolution that was typed; nothing ambiguous is guessed.
"""

from __future__ import annotations

import math
import re
from collections.abc import Callable
from dataclasses import dataclass, replace
from enum import StrEnum

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import PLAIN, Numerals
from true_margin.core.study import Bound
from true_margin.core.typed_numbers import plain_numbers

MAX_ELAPSED_S = 30 * 24 * 3600.0
"""Longest elapsed time that is taken for one run, in seconds (30 days)."""

_SECONDS_IN = {"h": 3600.0, "m": 60.0, "s": 1.0}
_UNIT_NAME = {"h": "hours", "m": "minutes", "s": "seconds"}
_UNIT_WORDS = {
    **dict.fromkeys(("h", "hr", "hrs", "hour", "hours"), "h"),
    **dict.fromkeys(("m", "min", "mins", "minute", "minutes", "'"), "m"),
    **dict.fromkeys(("s", "sec", "secs", "second", "seconds", '"', "''"), "s"),
}
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
_CLOCK_OF = re.compile(r"^(\d+):(\d\d)\s*(h|hrs?|hours?|m|mins?|minutes?)$", re.IGNORECASE)
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
_DIGIT_OF = {
    word: str(number)
    for number, word in enumerate(
        [
            "one",
            "two",
            "three",
            "four",
            "five",
            "six",
            "seven",
            "eight",
            "nine",
            "ten",
            "eleven",
            "twelve",
        ],
        start=1,
    )
} | {"fifteen": "15", "twenty": "20", "thirty": "30", "forty": "40", "fifty": "50"}
_PLAIN = re.compile(r"^\d+(?:\.\d+)?$")
_COLON = re.compile(r"^(?:(\d+):)?(\d+):(\d\d)(\.\d+)?$")
_PART = re.compile(r"\s*(\d+(?:\.\d+)?)\s*(''|['\"]|[a-z]+|$)", re.IGNORECASE)
_ISO = re.compile(
    r"^PT(?:(\d+(?:\.\d+)?)H)?(?:(\d+(?:\.\d+)?)M)?(?:(\d+(?:\.\d+)?)S)?$", re.IGNORECASE
)
_AMOUNT = re.compile(r"^(\d+(?:\.\d+)?)(?:\s*[a-z/%]+){0,2}$", re.IGNORECASE)
_TIMECODES = re.compile(
    r"^(?P<start>\d{1,4}:\d\d:\d\d[:;]\d{1,4})\s*(?:-|–|to)\s*(?P<end>\d{1,4}:\d\d:\d\d[:;]\d{1,4})"
    r"\s*(?:@|at)\s*(?P<rate>\d{1,9}(?:[.,]\d{1,30})?)\s*(?:fps|frames/s)?$",
    re.IGNORECASE,
)
_RATES = {round(n * 1000 / 1001, 2): n * 1000 / 1001 for n in (24, 30, 48, 60, 120)}
_TIMECODE = re.compile(r"^(\d{1,4}):(\d\d):(\d\d)([:;])(\d{1,4})$")


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


class ReadingMethod(StrEnum):
    """How a value was obtained."""

    STOPWATCH = "stopwatch"
    ONE_PRESS = "one press"
    LOG = "log"
    WATCH = "watch"
    RECORDING = "recording"
    REMEMBERED = "remembered"
    STATED = "stated"


_METHOD_S = {ReadingMethod.STOPWATCH: 0.35, ReadingMethod.ONE_PRESS: 0.25}


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


@dataclass(frozen=True, slots=True)
class _Marked:
    """The text of a quantity without its leading words, and what those said."""

    body: str
    approximate: bool = False
    bound: Bound | None = None


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
    whole = _in_digits(_clean(text, "time", signs))
    try:
        spread = _spread_of(whole, lambda part: _as_value(parse_elapsed(part)))
    except QuantityError as error:
        raise QuantityError(f"{text!r}: {error.reason}") from error
    if spread is not None:
        return _checked(spread[0], spread[1], text)
    marked = _read_marks(whole)
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
    body = _clean(text, "amount", signs)
    spread = _spread_of(body, lambda part: _as_value(parse_amount(part)))
    if spread is not None:
        return Amount(*spread)
    marked = _read_marks(body)
    match = _AMOUNT.match(marked.body)
    if match is None:
        raise QuantityError(f"{text!r} is not an amount: type a number such as 1530 or 64.5")
    number = match.group(1)
    value = float(number)
    if value <= 0 or not math.isfinite(value):
        raise QuantityError(f"{text!r}: an amount must be more than zero")
    decimals = len(number.partition(".")[2])
    return Amount(value, 10.0**-decimals, marked.approximate, marked.bound)


def elapsed_from_timecodes(start: str, end: str, frames_per_s: float) -> Elapsed:
    """Turn two timecodes read off a recording into one elapsed time.

    Args:
        start: timecode of the first frame of the run, ``HH:MM:SS:FF``
            (``;`` before the frames for drop-frame counting).
        end: timecode of the last frame, same form.
        frames_per_s: frame rate of the recording, in frames per second.

    Returns:
        The time between them; its resolution is one frame.

    Raises:
        QuantityError: malformed timecode, frame number at or above the rate,
            rate not positive and finite, or an end that is not after the start.

    Reference:
        SMPTE ST 12-1: drop-frame counting leaves out two frame numbers (four at
        60/1.001) each minute but the tenth.

    Example:
        >>> elapsed_from_timecodes("00:00:01:00", "00:01:01:12", 25.0).seconds
        60.48
    """
    if not (math.isfinite(frames_per_s) and frames_per_s > 0):
        raise QuantityError(f"frame rate {frames_per_s!r}: must be a positive number")
    frames = _frame_count(end, frames_per_s) - _frame_count(start, frames_per_s)
    if frames <= 0:
        raise QuantityError(f"end {end!r} is not after start {start!r}")
    return _checked(frames / frames_per_s, 1.0 / frames_per_s, f"{start} to {end}")


def parse_timecodes(text: str) -> tuple[Elapsed, float] | None:
    """Read a run off a recording: two timecodes and a frame rate in one text.

    Args:
        text: such as ``01:00:10:05 - 01:06:27:12 @ 25``.

    Returns:
        The time between them and the rate in frames per second; None where the text
        is not of this form. 29.97 and its like mean the exact rates over 1.001.

    Raises:
        QuantityError: a malformed timecode, or an end that is not after the start.
    """
    match = _TIMECODES.match(text.strip())
    if match is None:
        return None
    typed = float(match["rate"].replace(",", "."))
    rate = _RATES.get(typed, typed)
    return elapsed_from_timecodes(match["start"], match["end"], rate), rate


def reading_uncertainty(
    resolution: float,
    method: ReadingMethod = ReadingMethod.STATED,
    *,
    approximate: bool = False,
    poll_interval_s: float | None = None,
    frames_per_s: float | None = None,
) -> float:
    """State the standard uncertainty of one reading.

    Args:
        resolution: typed resolution, in seconds (or in the amount's unit).
        method: how the value was obtained; ``STATED`` adds nothing.
        approximate: typed with ``~`` or the like.
        poll_interval_s: for ``WATCH``, seconds between two looks at the file.
        frames_per_s: for ``RECORDING``, frame rate of the recording.

    Returns:
        Standard uncertainty, in the unit of ``resolution``.

    Raises:
        QuantityError: a watch without its interval or a recording without its rate.

    Reference:
        JCGM 100:2008 (GUM), 4.3.7: u² = u_method² + (resolution / (2√3))².

    Example:
        >>> round(reading_uncertainty(1.0, ReadingMethod.STOPWATCH), 4)
        0.4537
    """
    u_method = _METHOD_S.get(method, 0.0)
    if method is ReadingMethod.WATCH:
        u_method = _positive("poll_interval_s", poll_interval_s) / math.sqrt(6.0)
    elif method is ReadingMethod.RECORDING:
        u_method = 1.0 / (_positive("frames_per_s", frames_per_s) * math.sqrt(6.0))
    if approximate or method is ReadingMethod.REMEMBERED:
        u_method = math.hypot(u_method, resolution / math.sqrt(3.0))
    return math.hypot(u_method, resolution / (2.0 * math.sqrt(3.0)))


def _positive(name: str, value: float | None) -> float:
    if value is None or not (math.isfinite(value) and value > 0):
        raise QuantityError(f"{name}: a positive number is needed for this reading, got {value!r}")
    return value


def _as_value(quantity: Amount | Elapsed | AmbiguousElapsed) -> float:
    """The value of one end of a range, which must be told plainly."""
    if isinstance(quantity, AmbiguousElapsed) or quantity.bound is not None:
        raise QuantityError("the ends of a range must be plain: write it like 2:50 to 3:10")
    return quantity.seconds if isinstance(quantity, Elapsed) else quantity.value


def _spread_of(body: str, read: Callable[[str], float]) -> tuple[float, float] | None:
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


def _clean(text: str, kind: str, signs: Numerals = PLAIN) -> str:
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


def _in_digits(body: str) -> str:
    """A time with its spelt numbers in digits: ``two and a half minutes`` is 2.5 minutes."""
    for words, digits in _SPELT.items():
        body = re.sub(rf"\b{words}\b", digits, body, flags=re.IGNORECASE)
    spelt = "|".join(_DIGIT_OF)
    body = re.sub(
        rf"\b({spelt})\b", lambda word: _DIGIT_OF[word[1].lower()], body, flags=re.IGNORECASE
    )
    return re.sub(r"\b(\d+) and a half\b", r"\1.5", body, flags=re.IGNORECASE)


def _read_marks(body: str) -> _Marked:
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
    return _Marked(without_marks, without_marks != body, bound)


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


def _sum_parts(parts: list[_Part], text: str, marked: _Marked) -> Elapsed:
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
    elapsed = _checked(seconds, parts[-1].resolution_s, text)
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


def _checked(seconds: float, resolution_s: float, text: str) -> Elapsed:
    if seconds <= 0:
        raise QuantityError(f"{text!r}: a time must be more than zero")
    if seconds > MAX_ELAPSED_S:
        raise QuantityError(f"{text!r}: more than 30 days; check the unit")
    return Elapsed(seconds, resolution_s)


def _frame_count(timecode: str, frames_per_s: float) -> int:
    match = _TIMECODE.match(timecode.strip())
    if match is None or not timecode.isascii():
        raise QuantityError(f"{timecode!r} is not a timecode: write HH:MM:SS:FF")
    hours, minutes, seconds, frames = (int(match.group(i)) for i in (1, 2, 3, 5))
    nominal = round(frames_per_s)
    if minutes >= 60 or seconds >= 60 or frames >= max(nominal, 1):
        raise QuantityError(
            f"{timecode!r}: minutes and seconds are below 60, frames below {nominal}"
        )
    total_minutes = 60 * hours + minutes
    count = (60 * total_minutes + seconds) * nominal + frames
    if match.group(4) == ";":
        count -= 2 * round(nominal / 30) * (total_minutes - total_minutes // 10)
    return count
