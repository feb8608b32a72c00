"""What to run next: how many runs would settle a pair.

Section 8 of the computation page; so far the runs a pair needs.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from scipy.special import stdtrit

from true_margin.core.cells import Spread
from true_margin.core.margins import Call, Margin

WORTH_SETTLING = 25
"""More runs of each setup than this are not worth their bench time."""


@dataclass(frozen=True, slots=True)
class Settling:
    """Runs that would likely settle a pair.

    Attributes:
        runs_each: runs of each setup, earlier ones included; None where no
            number would do.
        worth_it: False above 25 runs of each.
    """

    runs_each: int | None
    worth_it: bool


def needed_half_width(margin: Margin, materiality_log: float) -> float:
    """Half-width h* at which a pair would get a firmer call.

    Args:
        margin: an open or ahead margin.
        materiality_log: m = ln(1 + materiality).

    Returns:
        h* on the log scale: |Δ| where it is at least m, else the larger of |Δ|
        and m − |Δ|; for ahead ||Δ| − m|, which may be 0.
    """
    size, m = abs(margin.log_ratio), materiality_log
    if margin.call is Call.AHEAD:
        return abs(size - m)
    return size if size >= m else max(size, m - size)


def runs_to_settle(
    margin: Margin, spread: Spread, materiality_log: float, confidence: float
) -> Settling:
    """Count the runs of each setup that would likely settle a pair.

    Args:
        margin: an open or ahead margin.
        spread: of the task.
        materiality_log: m = ln(1 + materiality).
        confidence: of the shootout's intervals.

    Returns:
        n = ceil(2 s² t² / h*²), earlier runs included.

    Reference:
        Computation page, section 8.
    """
    half_width = needed_half_width(margin, materiality_log)
    if half_width == 0:
        return Settling(None, False)
    t = float(stdtrit(min(spread.df, 1e10), 0.5 + confidence / 2))
    runs = max(1, math.ceil(2.0 * spread.cv**2 * t**2 / half_width**2))
    return Settling(runs, runs <= WORTH_SETTLING)
