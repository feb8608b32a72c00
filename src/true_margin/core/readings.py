"""How well a reading is known: its method, and the standard uncertainty of that.

Section 1 of the computation page.
"""

from __future__ import annotations

import math
from enum import StrEnum

from true_margin.core.errors import QuantityError


class ReadingMethod(StrEnum):
    """How a value was obtained."""

    STOPWATCH = "stopwatch"
    ONE_PRESS = "one press"
    LOG = "log"
    WATCH = "watch"
    RECORDING = "recording"
    REMEMBERED = "remembered"
    STATED = "stated"


_METHOD_S = {ReadingMethod.STOPWATCH: 0.35, ReadingMethod.ONE_PRESS: 0.25}


def reading_uncertainty(
    resolution: float,
    method: ReadingMethod = ReadingMethod.STATED,
    *,
    approximate: bool = False,
    poll_interval_s: float | None = None,
    frames_per_s: float | None = None,
) -> float:
    """State the standard uncertainty of one reading.

    Args:
        resolution: typed resolution, in seconds (or in the amount's unit).
        method: how the value was obtained; ``STATED`` adds nothing.
        approximate: typed with ``~`` or the like.
        poll_interval_s: for ``WATCH``, seconds between two looks at the file.
        frames_per_s: for ``RECORDING``, frame rate of the recording.

    Returns:
        Standard uncertainty, in the unit of ``resolution``.

    Raises:
        QuantityError: a watch without its interval or a recording without its rate.

    Reference:
        JCGM 100:2008 (GUM), 4.3.7: u² = u_method² + (resolution / (2√3))².

    Example:
        >>> round(reading_uncertainty(1.0, ReadingMethod.STOPWATCH), 4)
        0.4537
    """
    u_method = _METHOD_S.get(method, 0.0)
    if method is ReadingMethod.WATCH:
        u_method = _positive("poll_interval_s", poll_interval_s) / math.sqrt(6.0)
    elif method is ReadingMethod.RECORDING:
        u_method = 1.0 / (_positive("frames_per_s", frames_per_s) * math.sqrt(6.0))
    if approximate or method is ReadingMethod.REMEMBERED:
        u_method = math.hypot(u_method, resolution / math.sqrt(3.0))
    return math.hypot(u_method, resolution / (2.0 * math.sqrt(3.0)))


def _positive(name: str, value: float | None) -> float:
    if value is None or not (math.isfinite(value) and value > 0):
        raise QuantityError(f"{name}: a positive number is needed for this reading, got {value!r}")
    return value
