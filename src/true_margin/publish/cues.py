"""How ink comes onto a card that moves; times are parts of its motion, from 0 to 1.

A drawer says of what it draws when and how it comes; a still shows all of it, and a clip ends
as the still.
"""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from enum import StrEnum

Steps = tuple[tuple[float, float], ...]
"""A way from step to step: parts of the motion, rising, each with a value; straight between."""


class Way(StrEnum):
    """How ink comes."""

    LAND = "land"
    WIPE = "wipe"
    OPEN = "open"


class Count(StrEnum):
    """What a running figure counts."""

    TIME = "time"
    AMOUNT = "amount"


@dataclass(frozen=True, slots=True)
class Cue:
    """When and how ink comes.

    ``steps`` give of LAND when it begins; of WIPE the pixel up to which it is seen from the
    left; of OPEN which part of it (0 to 1) is seen to both sides of the pixel ``middle``.
    """

    way: Way
    steps: Steps
    middle: float = 0.0

    @property
    def done(self) -> float:
        """When all of it is there; ink that lands takes a moment more."""
        return self.steps[-1][0]


@dataclass(frozen=True, slots=True)
class Counter:
    """A figure that runs until the one of the still lands.

    It stands right of the pixel of ``places`` (or left of it with ``to_left``) with its base
    line at ``y``, and shows the value of ``values``; seen from their first step to their last.
    """

    count: Count
    places: Steps
    values: Steps
    y: float
    size: float
    ink: str
    to_left: bool = False


def landing(at: float) -> Cue:
    """Ink that lands at a moment."""
    return Cue(Way.LAND, ((at, 0.0),))


def wiping(steps: Iterable[tuple[float, float]]) -> Cue:
    """Ink that is uncovered from the left, up to a pixel."""
    return Cue(Way.WIPE, tuple(steps))


def opening(middle: float, since: float, until: float) -> Cue:
    """Ink that is uncovered from a pixel to both sides."""
    return Cue(Way.OPEN, ((since, 0.0), (until, 1.0)), middle)


def beat(place: int, count: int, since: float = 0.0, until: float = 1.0) -> tuple[float, float]:
    """The span of one of several things that come one after the other.

    Example:
        >>> beat(1, 4)
        (0.25, 0.5)
    """
    each = (until - since) / max(count, 1)
    return since + place * each, since + (place + 1) * each


def along(steps: Steps, part: float) -> float:
    """The value of a way at a part of the motion; before and after it, its ends.

    Example:
        >>> along(((0.0, 10.0), (0.5, 30.0)), 0.25)
        20.0
    """
    before = steps[0]
    if part <= before[0]:
        return before[1]
    for after in steps[1:]:
        if part < after[0]:
            span = after[0] - before[0]
            return before[1] + (after[1] - before[1]) * (part - before[0]) / span
        before = after
    return before[1]
