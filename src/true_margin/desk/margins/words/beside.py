"""Sentences of what is held beside speed: a row of the spec sheet, others' published figures."""

from __future__ import annotations

from true_margin.core.numerals import short
from true_margin.core.published import Beside
from true_margin.core.wording import format_elapsed, format_percent, format_ratio

NO_ROW_DIFFERS = "No row of numbers differs between setups."
TOO_FEW_SETUPS = "Three setups that differ are needed to see anything here."
NO_FIGURE_OF_OURS = "We have no figure of our own here to compare it with."


def say_pairs_agree(row: str, more: int, pairs: int, *, price: bool) -> str:
    """In how many pairs more of a row goes with more speed; never why."""
    if pairs == 0:
        return f"{row} tells these setups not apart."
    what = "dearer one" if price else "one with more in this row"
    return (
        f"In {more} of {pairs} pairs, the {what} is faster. A hint, not a cause: machines differ "
        f"in other specs too."
    )


def say_published(beside: Beside, *, alone: bool, timed: bool) -> str:
    """Whether a published figure agrees with ours.

    Args:
        beside: it and ours.
        alone: whether it is a value of one setup, no ratio of two.
        timed: whether that value is a time.
    """
    value, lo, hi = (
        _shown(each, alone=alone, timed=timed) for each in (beside.ours, beside.lo, beside.hi)
    )
    ours = f"{value}{'' if alone else ' times as fast'}, {lo} to {hi}"
    if beside.inside:
        return f"Agrees with ours: {ours}."
    side = "higher" if beside.theirs > beside.hi else "lower"
    return f"{format_percent(100 * (beside.off - 1))} % {side} than our interval ({ours})."


def _shown(value: float, *, alone: bool, timed: bool) -> str:
    if not alone:
        return format_ratio(value)
    return format_elapsed(value) if timed else short(value, 4)
