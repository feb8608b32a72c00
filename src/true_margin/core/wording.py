"""Times, ratios and margins in words: plain, short, exact."""

from __future__ import annotations

import math
from collections.abc import Iterable

from true_margin.core.bounds import BoundMargin
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed, localised
from true_margin.core.study import Bound

BEYOND_WORDS = 1e6
"""Ratios beyond this (or 1 over it) are not written out."""
MOST_LOG = 690.0


BOUND_WORD: dict[str, str] = {Bound.OVER: "over", Bound.UNDER: "under"}


def count_of(number: int, noun: str) -> str:
    """Write how many there are of something whose plural takes an s.

    Example:
        >>> count_of(1, "run"), count_of(0, "call")
        ('1 run', '0 calls')
    """
    return f"{number} {noun}" if number == 1 else f"{number} {noun}s"


def listed(names: Iterable[str], most: int | None = None) -> str:
    """Write names as a list; of more than ``most`` it says how many are left.

    Example:
        >>> listed(["A", "B", "C"]), listed("ABCDE", 3), listed([])
        ('A, B and C', 'A, B, C and 2 more', '')
    """
    own = list(names)
    if most is not None and len(own) > most:
        own = [*own[:most], f"{len(own) - most} more"]
    return " and ".join([", ".join(own[:-1]), own[-1]] if len(own) > 1 else own)


def format_elapsed(seconds: float, resolution_s: float = 1.0) -> str:
    """Write a time as a clock, with the decimals that its resolution bears.

    Args:
        seconds: 0 or more.
        resolution_s: smallest step that is known, in seconds.

    Example:
        >>> format_elapsed(377.2, 0.1)
        '6:17.2'
    """
    decimals = max(0, min(3, math.ceil(-math.log10(resolution_s) - 1e-9)))
    steps = round(seconds * 10**decimals)
    whole, part = divmod(steps, 10**decimals)
    minutes, second = divmod(whole, 60)
    hours, minute = divmod(minutes, 60)
    tail = localised(f".{part:0{decimals}d}") if decimals else ""
    if hours:
        return f"{hours}:{minute:02d}:{second:02d}{tail}"
    return f"{minute}:{second:02d}{tail}"


def format_span(seconds: float) -> str:
    """Write how long something takes at most, or is off: seconds below a minute, else a clock.

    Example:
        >>> format_span(20.0), format_span(1.5), format_span(70.0)
        ('20 s', '1.5 s', '1:10')
    """
    return f"{localised(f'{seconds:.3g}')} s" if seconds < 60.0 else format_elapsed(seconds)


def format_ratio(ratio: float) -> str:
    """Write a ratio with two decimals, three where it is close to 1.

    Example:
        >>> format_ratio(1.5323)
        '1.53'
    """
    if ratio >= BEYOND_WORDS:
        return f"over {BEYOND_WORDS:.0f}"
    if ratio <= 1 / BEYOND_WORDS:
        return "under 0.000001"
    return fixed(ratio, 2) if abs(math.log(ratio)) >= 0.02 else fixed(ratio, 3)


def ratio_of(log_ratio: float) -> float:
    """Turn a log ratio into times as fast; ends beyond all numbers become the largest there are.

    An interval can reach there where a spread rests on half a degree of freedom.
    """
    return math.exp(min(max(log_ratio, -MOST_LOG), MOST_LOG))


def percent_faster(log_ratio: float) -> float:
    """ "p % faster" of a log ratio of speeds: 100 (r − 1)."""
    return 100.0 * math.expm1(log_ratio)


def format_percent(value: float) -> str:
    """A percentage with as many digits as keep it within the tolerance of what it says.

    Example:
        >>> format_percent(16.3), format_percent(3.41)
        ('16', '3.4')
    """
    return f"{value:.0f}" if abs(value) >= 10 else fixed(value, 1)


def percent_less_time(log_ratio: float) -> float:
    """ "p % less time" of a log ratio of speeds: 100 (1 − 1/r)."""
    return -100.0 * math.expm1(-log_ratio)


def say_bound(margin: BoundMargin, a: str, b: str, confidence: float) -> str:
    """Say what bounds prove of a pair, in one sentence.

    Args:
        margin: of a over b.
        a, b: names of the setups.
        confidence: of the shootout's intervals.
    """
    least, most = margin.at_least, margin.at_most
    if least is not None and most is not None:
        what = f"{format_ratio(least)} to {format_ratio(most)} times as fast as {b}"
    elif least is not None:
        what = f"at least {format_ratio(least)} times as fast as {b}"
    else:
        what = f"at most {format_ratio(most or 1.0)} times as fast as {b}"
    sure = {
        Call.CLEAR: f"sure to {100 * confidence:g} %",
        Call.AHEAD: "ahead, perhaps by too little to matter",
        Call.LEVEL: "too near each other to matter",
    }.get(margin.call, "which of the two is faster is open")
    return f"{a} is {what}, by a bound alone; {sure}."


def say_margin(margin: Margin, a: str, b: str, confidence: float) -> str:
    """Say what the margin of a over b allows to be said.

    Args:
        margin: of setup a over setup b.
        a, b: their names.
        confidence: of the interval, as a fraction.

    Returns:
        One sentence with the figure and its interval.
    """
    if margin.call is Call.NOT_COMPARABLE:
        return f"{a} and {b} cannot be compared: nothing was measured that ties them together."
    if margin.log_ratio < 0:
        return say_margin(turn_margin(margin), b, a, confidence)
    interval = f"{format_ratio(ratio_of(margin.lo))} to {format_ratio(ratio_of(margin.hi))}"
    times = f"{format_ratio(margin.ratio)} times as fast"
    if margin.call is Call.CLEAR:
        return f"{a} is clearly faster than {b}: {times}, {interval}."
    if margin.call is Call.AHEAD:
        return f"{a} is ahead of {b}, perhaps by too little to matter: {times}, {interval}."
    if margin.call is Call.LEVEL:
        return f"{a} and {b} are level: {times}, {interval}."
    return f"Too close to call between {a} and {b}: {times}, {interval}."


def turn_margin(margin: Margin) -> Margin:
    """The same margin seen from the other side: b over a."""
    return Margin(
        margin.b,
        margin.a,
        -margin.log_ratio,
        margin.se,
        margin.df,
        -margin.hi,
        -margin.lo,
        margin.call,
        margin.handicap,
    )
