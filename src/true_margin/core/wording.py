"""Times, ratios and margins in words: plain, short, exact."""

from __future__ import annotations

import math
import re
import unicodedata
from collections.abc import Iterable

from true_margin.core.bounds import BoundMargin
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed, localised, short
from true_margin.core.plain_clock import clock_text
from true_margin.core.study import Bound

BEYOND_WORDS = 1e6
"""Ratios beyond this (or 1 over it) are not written out."""
MOST_LOG = 690.0
TWICE = 1.95
"""From here on, rounded to 2, a ratio is said as times as fast, below as per cent."""
LIKELIHOODS = (
    (0.99, "almost certain"),
    (0.9, "very likely"),
    (0.7, "likely"),
    (0.5, "more likely than not"),
)
"""Chances in words, each from its lower end on."""
WIDE = 0.15
"""An undecided pair whose interval reaches further than this is short of runs, not close."""


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


def plain_name(text: str, most: int = 60) -> str:
    """A name as it stands in an address or a file's name: small letters, digits and hyphens.

    Example:
        >>> plain_name("Bar card: Lantern parade, export UHD"), plain_name("Жук")
        ('bar-card-lantern-parade-export-uhd', '')
    """
    plain = unicodedata.normalize("NFKD", text).encode("ascii", "ignore").decode().lower()
    return re.sub(r"[^a-z0-9]+", "-", plain).strip("-")[:most].rstrip("-")


def format_elapsed(seconds: float, resolution_s: float = 1.0) -> str:
    """Write a time as a clock, with the decimals that its resolution bears.

    Args:
        seconds: 0 or more.
        resolution_s: smallest step that is known, in seconds.

    Example:
        >>> format_elapsed(377.2, 0.1)
        '6:17.2'
    """
    return localised(clock_text(seconds, resolution_s))


def say_time(seconds: float) -> str:
    """Write a typical time as a clock, with tenths below a minute.

    Example:
        >>> say_time(41.26), say_time(377.2)
        ('0:41.3', '6:17')
    """
    return format_elapsed(seconds, 0.1 if seconds < 60 else 1.0)


def format_span(seconds: float) -> str:
    """Write how long something takes at most, or is off: seconds below a minute, else a clock.

    Example:
        >>> format_span(20.0), format_span(1.5), format_span(70.0)
        ('20 s', '1.5 s', '1:10')
    """
    return f"{localised(f'{seconds:.3g}')} s" if seconds < 60.0 else format_elapsed(seconds)


def format_ratio(ratio: float) -> str:
    """Write a ratio, or an end of its interval, with two decimals.

    Example:
        >>> format_ratio(1.5323), format_ratio(1.0)
        ('1.53', '1.00')
    """
    if ratio >= BEYOND_WORDS:
        return f"over {BEYOND_WORDS:.0f}"
    if ratio <= 1 / BEYOND_WORDS:
        return "under 0.000001"
    return fixed(ratio, 2)


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


def say_chance(chance: float) -> str:
    """A chance as a percentage; never more certain than the draws behind it are.

    Example:
        >>> say_chance(0.828), say_chance(1.0), say_chance(0.0)
        ('83 %', 'over 99 %', 'under 1 %')
    """
    if chance > 0.995:
        return "over 99 %"
    return "under 1 %" if chance < 0.005 else f"{round(100 * chance)} %"


def likelihood(chance: float) -> str:
    """A chance as a viewer would put it.

    Example:
        >>> [likelihood(p) for p in (0.999, 0.93, 0.8, 0.6, 0.4)]
        ['almost certain', 'very likely', 'likely', 'more likely than not', 'not certain']
    """
    return next((word for least, word in LIKELIHOODS if chance >= least), "not certain")


def percent_less_time(log_ratio: float) -> float:
    """ "p % less time" of a log ratio of speeds: 100 (1 − 1/r)."""
    return -100.0 * math.expm1(-log_ratio)


def faster_than(log_ratio: float) -> str:
    """How much faster, as one would say it: per cent below twice, times from there on.

    Example:
        >>> faster_than(math.log(1.163)), faster_than(math.log(1.034)), faster_than(math.log(2.71))
        ('16 % faster than', '3.4 % faster than', '2.7 times as fast as')
    """
    ratio = ratio_of(log_ratio)
    if ratio >= TWICE:
        return f"{short(ratio, 2)} times as fast as"
    return f"{format_percent(percent_faster(log_ratio))} % faster than"


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
        Call.AHEAD: "ahead, perhaps by less than counts",
        Call.LEVEL: "too near each other to matter",
    }.get(margin.call, "which of the two is faster is undecided")
    return f"{a} is {what}, by a bound alone; {sure}."


def say_margin(margin: Margin, a: str, b: str, materiality: float) -> str:
    """Say what the margin of a over b allows to be said: the answer, with one number at most.

    Args:
        margin: of setup a over setup b.
        a, b: their names.
        materiality: the smallest difference that counts, as a fraction.
    """
    if margin.call is Call.NOT_COMPARABLE:
        return f"{a} and {b} cannot be compared: no machine was tested in both of their rounds."
    if margin.log_ratio < 0:
        return say_margin(turn_margin(margin), b, a, materiality)
    little = f"{100 * materiality:g} %"
    if margin.call is Call.CLEAR:
        return f"{a} is {faster_than(margin.log_ratio)} {b}."
    if margin.call is Call.AHEAD:
        return f"{a} is faster than {b}, perhaps by less than {little}."
    if margin.call is Call.LEVEL:
        return f"{a} and {b} are equally fast (within {little})."
    if is_wide(margin):
        return f"Not enough runs to compare {a} and {b}."
    return f"{a} and {b}: too close to call."


def prove_margin(margin: Margin, a: str, b: str, confidence: float) -> str:
    """What the answer of :func:`say_margin` rests on: the estimate where it is not in the answer,
    and its interval; empty for a pair that cannot be compared.
    """
    if margin.call is Call.NOT_COMPARABLE:
        return ""
    if margin.log_ratio < 0:
        return prove_margin(turn_margin(margin), b, a, confidence)
    sure = f"{100 * confidence:g} % interval"
    if margin.call is Call.CLEAR:
        return f"{sure} {interval_words(margin.lo, margin.hi, margin.log_ratio)}."
    if margin.call is Call.AHEAD:
        best = faster_than(margin.log_ratio).removesuffix(" than").removesuffix(" as")
        return f"Best estimate {best}; {sure} {interval_words(margin.lo, margin.hi)}."
    if margin.log_ratio > math.log(2.0) or margin.hi > math.log(2.0) or margin.lo < -math.log(2.0):
        return f"Best estimate {format_ratio(margin.ratio)} times as fast; {sure} " + (
            f"{format_ratio(ratio_of(margin.lo))} to {format_ratio(ratio_of(margin.hi))} times."
        )
    slower, faster = percent_faster(-margin.lo), percent_faster(margin.hi)
    could = [
        f"{format_percent(size)} % {word}"
        for size, word in ((slower, "slower"), (faster, "faster"))
        if size > 0
    ]
    return f"{a} could be {' or '.join(could)} ({sure})."


def is_wide(margin: Margin) -> bool:
    """True where an interval is too wide to speak of close: it reaches past 15 % either way."""
    return max(margin.hi, -margin.lo) > math.log1p(WIDE)


def interval_words(lo: float, hi: float, log_ratio: float = 0.0) -> str:
    """An interval of log ratios of speeds, in per cent faster, or times as fast from twice on.

    Example:
        >>> interval_words(math.log(1.11), math.log(1.22))
        '11 to 22 %'
        >>> interval_words(math.log(2.5), math.log(3.0), math.log(2.7))
        '2.50 to 3.00 times as fast'
    """
    if ratio_of(max(log_ratio, hi)) >= TWICE:
        return f"{format_ratio(ratio_of(lo))} to {format_ratio(ratio_of(hi))} times as fast"
    low, high = (format_percent(percent_faster(end)) for end in (lo, hi))
    return f"{low} to {high} %"


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
