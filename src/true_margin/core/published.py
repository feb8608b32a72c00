"""A figure published elsewhere, held against ours."""

from __future__ import annotations

import math
from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.errors import QuantityError


class FigureKind(StrEnum):
    """As what a figure was published."""

    TIMES = "times as fast"
    FASTER = "% faster"
    LESS_TIME = "% less time"
    VALUE = "value"
    """Of one setup alone: its time in seconds, or its amount."""


@dataclass(frozen=True, slots=True)
class Beside:
    """A published figure beside ours, all as times as fast, or as a time or amount.

    Attributes:
        theirs: the published figure.
        ours, lo, hi: ours with its interval.
        inside: True where theirs lies within our interval.
        off: factor by which theirs lies beyond the nearer end, 1 where it is inside.
    """

    theirs: float
    ours: float
    lo: float
    hi: float
    inside: bool
    off: float


def published_log(kind: FigureKind, value: float) -> float:
    """Give a published figure on the log scale: of a ratio, a time or an amount.

    Raises:
        QuantityError: not above 0, not finite, or 100 % less time and more.
    """
    if not (math.isfinite(value) and value > 0):
        raise QuantityError(f"A published figure must be a number above 0, got {value}.")
    if kind is FigureKind.FASTER:
        return math.log1p(value / 100.0)
    if kind is FigureKind.LESS_TIME:
        if value >= 100:
            raise QuantityError("100 % less time would be no time at all.")
        return -math.log1p(-value / 100.0)
    return math.log(value)


def set_beside(published: float, ours: float, lo: float, hi: float) -> Beside:
    """Hold a published figure against ours; all on the log scale."""
    nearest = min(max(published, lo), hi)
    return Beside(
        math.exp(published),
        math.exp(ours),
        math.exp(lo),
        math.exp(hi),
        lo <= published <= hi,
        math.exp(abs(published - nearest)),
    )
