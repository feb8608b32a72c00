"""A time as a clock, in plain signs; without anything of the reader's language."""

from __future__ import annotations

import math


def clock_text(seconds: float, resolution_s: float = 1.0) -> str:
    """Write a time as a clock with a point, with the decimals that its resolution bears.

    Args:
        seconds: 0 or more.
        resolution_s: smallest step that is known, in seconds.

    Example:
        >>> clock_text(377.2, 0.1), clock_text(3605.0)
        ('6:17.2', '1:00:05')
    """
    decimals = max(0, min(3, math.ceil(-math.log10(resolution_s) - 1e-9)))
    steps = round(seconds * 10**decimals)
    whole, part = divmod(steps, 10**decimals)
    minutes, second = divmod(whole, 60)
    hours, minute = divmod(minutes, 60)
    tail = f".{part:0{decimals}d}" if decimals else ""
    if hours:
        return f"{hours}:{minute:02d}:{second:02d}{tail}"
    return f"{minute}:{second:02d}{tail}"
