"""What a number that is said allows, and what a figure with its interval says of it.

Section 11 of the computation page.
"""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass
from enum import StrEnum

from true_margin.core.claims.forms import Form
from true_margin.core.claims.numbers import Hedge, SpokenNumber
from true_margin.core.margins import Call, Margin

WITHIN = math.log(1.05)
"""How near a ratio must be to the one that is said."""
OF_A_NUMBER = 0.1
"""How near a percentage or a time must be, as a part of it."""
LIKELY_FASTEST = 0.8
"""From this chance on a first place that others may hold is likely."""
MUCH, SLIGHT = 1.3, 1.1
"""Much faster is at least this many times as fast, slightly faster at most that many."""


class Verdict(StrEnum):
    """What the data says of a claim."""

    HOLDS = "holds"
    LIKELY = "likely"
    OVERSTATED = "overstated"
    UNDERSTATED = "understated"
    NOISE = "within noise"
    BACKWARDS = "backwards"
    UNTESTED = "untested"
    ASKED = "asked"
    """It may mean two things; the reason says which."""
    UNREAD = "unread"
    """It claims something, and was not understood."""


@dataclass(frozen=True, slots=True)
class Figure:
    """A quantity with its interval, and the value at which nothing differs."""

    value: float
    lo: float
    hi: float
    none: float

    @property
    def contains_none(self) -> bool:
        return self.lo < self.none < self.hi


OF_MARGIN: dict[Form, tuple[Callable[[float], float], float]] = {
    Form.RATIO: (math.exp, 1.0),
    Form.FASTER: (lambda d: 100 * math.expm1(d), 0.0),
    Form.SLOWER: (lambda d: 100 * math.expm1(-d), 0.0),
    Form.LESS_TIME: (lambda d: -100 * math.expm1(-d), 0.0),
    Form.MORE_TIME: (lambda d: 100 * math.expm1(-d), 0.0),
    Form.PART: (lambda d: math.exp(-d), 1.0),
    Form.AS_LONG: (lambda d: math.exp(-d), 1.0),
}
_RATIOS = (Form.RATIO, Form.AS_LONG, Form.REAL_TIME)


def region(form: Form, number: SpokenNumber, hedge: Hedge) -> tuple[float, float]:
    """Give the values that a claim of a number allows.

    Example:
        >>> low, high = region(Form.RATIO, SpokenNumber(2.0, 0.5), Hedge.ALMOST)
        >>> round(low, 2), round(high, 2)
        (1.8, 2.1)
    """
    c = number.value
    if hedge is Hedge.OVER:
        return c, math.inf
    if hedge is Hedge.UNDER:
        return -math.inf, c
    wide = 2.0 if hedge is Hedge.ABOUT else 1.0
    if form in _RATIOS or form is Form.PART:
        lo, hi = c * math.exp(-wide * WITHIN), c * math.exp(wide * WITHIN)
        if hedge is Hedge.ALMOST:
            return (lo, c / 0.9) if form is Form.PART else (0.9 * c, hi)
        return lo, hi
    room = wide * max(OF_A_NUMBER * abs(c), number.half_digit)
    return (0.9 * c, c + room) if hedge is Hedge.ALMOST else (c - room, c + room)


def judge_number(figure: Figure, number: float, allowed: tuple[float, float]) -> Verdict:
    """Judge a number: within noise, backwards, then the region."""
    side = number - figure.none
    if figure.contains_none:
        return Verdict.NOISE
    if (figure.hi <= figure.none and side > 0) or (figure.lo >= figure.none and side < 0):
        return Verdict.BACKWARDS
    lo, hi = allowed
    if lo <= figure.value <= hi:
        return Verdict.HOLDS if lo <= figure.lo and figure.hi <= hi else Verdict.LIKELY
    further = abs(side) > abs(figure.value - figure.none)
    return Verdict.OVERSTATED if further else Verdict.UNDERSTATED


STRENGTH = (
    Verdict.HOLDS,
    Verdict.LIKELY,
    Verdict.UNDERSTATED,
    Verdict.OVERSTATED,
    Verdict.NOISE,
    Verdict.BACKWARDS,
    Verdict.UNTESTED,
    Verdict.ASKED,
    Verdict.UNREAD,
)


def judge_sameness(margin: Margin) -> Verdict:
    if margin.call is Call.LEVEL:
        return Verdict.HOLDS
    near = margin.call is Call.OPEN and margin.lo < 0 < margin.hi
    return Verdict.LIKELY if near else Verdict.UNDERSTATED


def judge_place(ranks: tuple[int, int], end: int, chance: float | None) -> Verdict:
    """Judge a first or last place.

    Args:
        ranks: best and worst that may be held.
        end: the place that is claimed.
        chance: of being first, where that is claimed and known.
    """
    best, worst = ranks
    if best == worst == end:
        return Verdict.HOLDS
    if chance is not None and chance >= LIKELY_FASTEST:
        return Verdict.LIKELY
    return Verdict.NOISE if best <= end <= worst else Verdict.BACKWARDS


def figure_of(form: Form, margin: Margin) -> Figure:
    turn, none = OF_MARGIN[form]
    ends = sorted((turn(margin.lo), turn(margin.hi)))
    return Figure(turn(margin.log_ratio), ends[0], ends[1], none)
