"""What nothing else beats on price and speed at once (Pareto 1896).

Section 9 of the computation page.
"""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal


def undominated(speed: Sequence[float], price: Sequence[Decimal] | Sequence[int]) -> list[int]:
    """Places that no other beats: none is as cheap and as fast, and better in one of the two.

    Two of one price and one speed both stand.

    Args:
        speed: of each, more is better, shape (k,).
        price: of each, in one unit, shape (k,).

    Returns:
        Places, the cheapest first, in their order where price and speed are the same.

    Example:
        >>> undominated([1.0, 2.0, 2.0, 1.5], [10, 20, 20, 30])
        [0, 1, 2]
    """
    order = sorted(range(len(price)), key=lambda i: (price[i], -speed[i]))
    found: list[int] = []
    for i in order:
        last = found[-1] if found else None
        tied = last is not None and (speed[i], price[i]) == (speed[last], price[last])
        if last is None or speed[i] > speed[last] or tied:
            found.append(i)
    return found
