"""How often a task was completed, with an interval that holds for few attempts too."""

from __future__ import annotations

import math

from scipy.special import ndtri

from true_margin.core.errors import CoreError


def wilson(done: int, tried: int, confidence: float = 0.95) -> tuple[float, float]:
    """Give the interval of a share of attempts.

    Args:
        done: completed attempts.
        tried: all attempts, voids left out; at least 1.
        confidence: between 0 and 1.

    Returns:
        Lower and upper end, from 0 to 1.

    Raises:
        CoreError: no attempt, or more done than tried.

    Reference:
        Wilson (1927), J. Am. Stat. Assoc. 22, 209-212.

    Example:
        >>> [round(end, 3) for end in wilson(3, 4)]
        [0.301, 0.954]
    """
    if not 0 <= done <= tried or tried == 0:
        raise CoreError(f"{done} of {tried} attempts is no share")
    z = float(ndtri(0.5 + confidence / 2))
    share = done / tried
    middle = (share + z * z / (2 * tried)) / (1 + z * z / tried)
    half = math.sqrt(share * (1 - share) / tried + z * z / (4 * tried * tried))
    half *= z / (1 + z * z / tried)
    return max(0.0, middle - half), min(1.0, middle + half)
