"""Speed of a task in the unit that people use for it."""

from __future__ import annotations

PER_SECOND = ("s", "frames", None)
"""Units of work that are told by the second; others are told by the minute."""


def speed_of(work: float | None, unit: str | None, seconds: float) -> float | None:
    """Give work done over time.

    Args:
        work: of one run, in ``unit``; None where it is not stated.
        unit: seconds of film (None is the same), frames, or anything that is counted.
        seconds: of one run.

    Returns:
        Times real time for seconds of film, frames a second for frames, else a minute's.

    Example:
        >>> speed_of(660.0, "s", 330.0), speed_of(260.0, "photos", 120.0)
        (2.0, 130.0)
    """
    if work is None:
        return None
    per_s = work / seconds
    return per_s if unit in PER_SECOND else 60.0 * per_s
