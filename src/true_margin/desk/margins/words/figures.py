"""The working of a setup's figures in words: formula, inputs, and what limits each."""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

from true_margin.core.cells import Basis, Spread
from true_margin.core.labels import RESULT
from true_margin.core.ladder import DRAWS
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import fixed, short
from true_margin.core.wording import count_of, format_elapsed, format_ratio, say_chance
from true_margin.desk.margins.words.rankings import say_amount

FROM_EARLIER = (
    "It is an estimate from an earlier round: a run in the latest round would replace it."
)
ONE_RUN = "One run only: a second would show whether it repeats."


@dataclass(frozen=True, slots=True)
class Working:
    """One figure: what it is, how it comes about, from what, and what would sharpen it."""

    title: str
    value: str
    formula: str
    inputs: tuple[str, ...]
    limits: str | None


@dataclass(frozen=True, slots=True)
class Measured:
    """In what a task is measured: whether by time, and the unit of an amount or of its work."""

    timed: bool
    unit: str | None

    def shown(self, value: float) -> str:
        """A time in seconds, or an amount."""
        if self.timed:
            return format_elapsed(value, 1.0 if value >= 20 else 0.01)
        return say_amount(value, self.unit, 4)


def of_value(
    ends: tuple[float, float, float],
    measured: Measured,
    runs: int,
    df: float,
    confidence: float,
    *,
    earlier: bool,
) -> Working:
    """The value of a task.

    Args:
        ends: it, and the ends of its interval.
        measured: in what.
        runs: that it is the mean of.
        df: degrees of freedom.
        confidence: of the interval.
        earlier: whether it comes from an earlier round.
    """
    value, lo, hi = (measured.shown(each) for each in ends)
    moved = ", moved to the latest round by what the update did" if earlier else ""
    limits = "One run only: a second would show whether it repeats." if runs == 1 else None
    if earlier:
        limits = (
            "It is an estimate from an earlier round: a run in the latest round would replace it."
        )
    return Working(
        "Time" if measured.timed else "Amount",
        f"{value}, {lo} to {hi}",
        "weighted geometric mean of its runs: exp of the mean log, each weighted by 1 over its "
        f"variance{moved}",
        (
            count_of(runs, "run"),
            f"{short(100 * confidence)} % interval, Student's t with {_df(df)}",
        ),
        limits,
    )


def _df(value: float) -> str:
    return f"{fixed(value, 1)} degrees of freedom" if math.isfinite(value) else "the normal limit"


def of_speed(per: float, unit: str, work: float, work_unit: str | None, seconds: float) -> Working:
    """Work of a task over its time."""
    timeline = work_unit in ("s", None)
    amount = format_elapsed(work) if timeline else f"{short(work)} {work_unit}"
    took = Measured(timed=True, unit=None).shown(seconds)
    return Working(
        "Speed",
        f"{fixed(per, 2)} {unit}",
        "work of the task over its time",
        (f"{amount} of work", f"{took} of time"),
        None,
    )


def of_mix(log_speed: float, parts: Sequence[tuple[str, float, float, Measured]]) -> Working:
    """The speed over the mix, from its tasks: name, weight, value, in what."""
    return Working(
        "Speed over the mix",
        f"log speed {fixed(log_speed, 3, signed=True)}",
        "weighted mean of log speeds: the geometric mean, so no task counts more for being long",
        tuple(
            f"{name}: weight {fixed(weight, 2)}, {measured.shown(value)}"
            for name, weight, value, measured in parts
        ),
        None,
    )


def of_ratio(ratio: float, margin: Margin, base: str, materiality: float) -> Working:
    """The ratio to the baseline."""
    lo, hi = format_ratio(math.exp(margin.lo)), format_ratio(math.exp(margin.hi))
    open_still = margin.call in (Call.OPEN, Call.AHEAD)
    return Working(
        "Ratio to the baseline",
        f"{format_ratio(ratio)} times as fast as {base}, {lo} to {hi}",
        "exp of the difference of log speeds, with Student's t over its standard error",
        (
            f"difference {fixed(margin.log_ratio, 4, signed=True)}, "
            f"standard error {fixed(margin.se, 4)}",
            _df(margin.df),
            f"result {RESULT[margin.call]}, against the smallest difference that counts, "
            f"{short(100 * materiality)} %",
        ),
        "Click both rows for what would settle it." if open_still else None,
    )


def of_rank(best: int, worst: int, setups: int, confidence: float) -> Working:
    """The ranks that a setup may have."""
    faster, slower = best - 1, setups - worst
    same = best == worst
    return Working(
        "Rank",
        f"{best}" if same else f"{best} to {worst} of {setups}",
        "best possible rank: 1 + the setups clearly faster; worst: all minus the clearly slower; "
        f"{short(100 * confidence)} % for all pairs together (Tukey-Kramer)",
        (f"{faster} clearly faster", f"{slower} clearly slower"),
        None if same else f"{setups - 1 - faster - slower} cannot be separated from it yet.",
    )


def of_chance(p_fastest: float | None, contenders: int, df: float) -> Working:
    """The chance of being the fastest; ``contenders`` are those that may come first."""
    formula, inputs = {
        1: (
            "no other would overtake it, or the one that leads, once in a million tries",
            ("Student's t of each difference to the leader",),
        ),
        2: (
            "Student's t of the difference between the two that may come first",
            ("the difference and its standard error", _df(df)),
        ),
    }.get(
        contenders,
        (
            f"how often it comes first in {fixed(DRAWS, 0, grouped=True)} simulated outcomes",
            ("multivariate Student's t around the estimates", _df(df)),
        ),
    )
    value = "not told" if p_fastest is None else say_chance(p_fastest)
    return Working("Chance of being the fastest", value, formula, inputs, None)


_LIMITS = {
    Basis.ASSUMED: "No repeat yet: it is only assumed.",
    Basis.PARTLY: "Few repeats: what is assumed still has a say.",
}


def of_spread(spread: Spread, prior_cv: float, prior_df: float) -> Working:
    """The spread between runs, from repeats and what is assumed."""
    assumed = f"{short(100 * prior_cv)} %"
    return Working(
        "Spread between runs",
        f"{fixed(100 * spread.cv, 1)} %, {spread.basis.value}",
        f"variation between repeats, combined with an assumed {assumed}",
        (
            count_of(spread.repeat_df, "repeat"),
            f"the assumed {assumed} counts as {short(prior_df)} repeats",
        ),
        _LIMITS.get(spread.basis),
    )


def of_completion(ok: int, tried: int, lo: float, hi: float, confidence: float) -> Working:
    """How many attempts were completed, with the interval of their share."""
    return Working(
        "Completion",
        f"{ok} of {tried} attempts",
        "completed of attempted, voids left out; interval by Wilson (1927)",
        (f"{100 * lo:.0f} to {100 * hi:.0f} % at {short(100 * confidence)} %",),
        None,
    )
