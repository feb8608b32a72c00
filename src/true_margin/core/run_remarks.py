"""What is said of all runs together: that they resemble each other, or that first runs differ.

Sections 2 and 6 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Iterator

from true_margin.core.analysis import Analysis
from true_margin.core.numerals import fixed


def run_remarks(analysis: Analysis) -> Iterator[str]:
    """Say what fires, each with what to do about it."""
    resemblance, first = analysis.cells.resemblance, analysis.first_runs
    if resemblance.fires:
        yield (
            f"Neighbouring runs resemble each other (correlation about "
            f"{fixed(resemblance.rho, 1)}): the intervals are widened for it. Timing again in a "
            f"second sitting would tell more than more runs in this one."
        )
    if first is not None and first.fires:
        way = "slower" if first.log_effect < 0 else "faster"
        share = 100.0 * math.expm1(abs(first.log_effect))
        yield (
            f"First runs are {fixed(share, 1)} % {way} than the rest, on all machines together: "
            f"cold caches? Void them or warm up."
        )
