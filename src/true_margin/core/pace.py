"""Pace: what the marks inside a run say while it is running.

Section 7 of the computation page.
"""

from __future__ import annotations

from collections.abc import Sequence
from itertools import pairwise

from true_margin.core.checks import SLOWED_BELOW, ProgressPoint

REACH = 0.2
"""The pace is taken over at least this part of the work, where that much is done."""


def rising_marks(marks: Sequence[ProgressPoint]) -> list[ProgressPoint]:
    """Marks in time order, without those that go backwards in time or work.

    (0, 0) is understood and not among them.
    """
    kept: list[ProgressPoint] = []
    at, done = 0.0, 0.0
    # Of two at one moment the one that says more counts, in whatever order they came.
    for mark in sorted(marks, key=lambda each: (each.elapsed_s, -each.fraction)):
        if mark.elapsed_s > at and mark.fraction > done:
            kept.append(mark)
            at, done = mark.elapsed_s, mark.fraction
    return kept


def projected_finish(marks: Sequence[ProgressPoint]) -> float | None:
    """When a run will be done, in seconds after its start.

    Args:
        marks: progress readings in any order.

    Returns:
        e_n + (1 − p_n)·(e_n − e_k)/(p_n − p_k), with k the latest mark at which at
        least 0.2 of the work was still to come before n, or the start; None while
        nothing is done.

    Reference:
        Computation page, section 7.

    Example:
        >>> projected_finish([ProgressPoint(60.0, 0.25), ProgressPoint(150.0, 0.5)])
        330.0
    """
    rising = rising_marks(marks)
    if not rising:
        return None
    last = rising[-1]
    # A tiny allowance: 0.7 - 0.5 is a little less than 0.2 in binary.
    before = [m for m in rising if last.fraction - m.fraction >= REACH - 1e-12]
    e_k, p_k = (before[-1].elapsed_s, before[-1].fraction) if before else (0.0, 0.0)
    pace = (last.elapsed_s - e_k) / (last.fraction - p_k)
    return last.elapsed_s + (1.0 - last.fraction) * pace


def slowing_down(marks: Sequence[ProgressPoint]) -> bool:
    """Say whether a running run goes slower now than it did before.

    Args:
        marks: progress readings in any order.

    Returns:
        True where the latest 0.2 of the work, or a little more, went below 0.9 of the
        pace of all before it; False while there is too little to tell.
    """
    rising = rising_marks(marks)
    if not rising:
        return False
    last = rising[-1]
    before = [m for m in rising if last.fraction - m.fraction >= REACH - 1e-12]
    if not before:
        return False
    then = before[-1]
    pace_now = (last.fraction - then.fraction) / (last.elapsed_s - then.elapsed_s)
    return pace_now < SLOWED_BELOW * then.fraction / then.elapsed_s


def elapsed_at(marks: Sequence[ProgressPoint], total_s: float, fraction: float) -> float:
    """When a finished run had done a part of its work, in seconds after its start.

    Args:
        marks: of that run; none means that it went evenly.
        total_s: its whole time.
        fraction: part of the work, 0 to 1.

    Returns:
        By linear interpolation between its marks, its start and its end.
    """
    inside = [m for m in rising_marks(marks) if m.fraction < 1.0 and m.elapsed_s < total_s]
    points = [(0.0, 0.0), *((m.fraction, m.elapsed_s) for m in inside), (1.0, total_s)]
    for (p0, e0), (p1, e1) in pairwise(points):
        if fraction <= p1:
            return e0 + (e1 - e0) * (fraction - p0) / (p1 - p0)
    return total_s


def gap_to_best(
    marks: Sequence[ProgressPoint], best_marks: Sequence[ProgressPoint], best_s: float
) -> float | None:
    """How far a running run is behind the best so far at the same fraction, in seconds.

    Returns:
        Negative where it is ahead; None while it has no mark.

    Reference:
        Computation page, section 7.
    """
    rising = rising_marks(marks)
    if not rising:
        return None
    last = rising[-1]
    return last.elapsed_s - elapsed_at(best_marks, best_s, last.fraction)
