"""Sentences of one setup against itself: two apps or settings, and start-up against rate."""

from __future__ import annotations

import math

from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed
from true_margin.core.same_work import FixedCost
from true_margin.core.wording import format_elapsed, format_ratio


def say_same_work(margin: Margin, names: tuple[str, str], setup: str) -> str:
    """Say which of two apps or settings takes longer on a setup.

    Args:
        margin: of the first over the second.
        names: of the apps or settings.
        setup: its label.
    """
    quick, slow = names if margin.log_ratio >= 0 else (names[1], names[0])
    if margin.call is Call.LEVEL:
        return f"{names[0]} and {names[1]} take the same time on {setup}."
    if margin.call is Call.OPEN or margin.lo * margin.hi <= 0:
        return f"{names[0]} and {names[1]}: too close to call on {setup}."
    lo, hi = sorted((abs(margin.lo), abs(margin.hi)))
    interval = f"{format_ratio(math.exp(lo))} to {format_ratio(math.exp(hi))}"
    mild = "" if margin.call is Call.CLEAR else ", perhaps by less than counts"
    times = format_ratio(math.exp(abs(margin.log_ratio)))
    return f"{slow} takes {times} times as long as {quick} on {setup}{mild}: {interval}."


def say_doubt(who: str, reason: str | None, *, nearly: bool) -> str:
    """What a person has to say against two tasks being the same work."""
    said = "Only nearly the same work" if nearly else "Not the same work"
    return f"{said}, says {who}: {reason}"


def name_both(one: str, other: str) -> str:
    """Two tasks that tell start-up and rate apart."""
    return f"{one} and {other}"


def say_cost(cost: FixedCost, unit: str | None) -> str:
    """Start-up and rate, each with its interval; the unit is that of the task's work."""
    value, lo, hi = cost.start
    if lo > 0:
        ends = f"{format_elapsed(lo)} to {format_elapsed(hi)}"
        start = f"{format_elapsed(value)} of start-up ({ends})"
    else:
        start = f"no start-up that shows (at most {format_elapsed(max(hi, 0.0))})"
    if unit in ("s", "", None):
        minute, least, most = (fixed(60 * x, 1) for x in cost.rate)
        return f"{start}, then {minute} s for a minute of timeline ({least} to {most})"
    each, least, most = (fixed(x, 2) for x in cost.rate)
    return f"{start}, then {each} s for each of the {unit} ({least} to {most})"
