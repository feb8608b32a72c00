"""Lines to say instead of a claim: each holds, and is of a form that the grammar reads."""

from __future__ import annotations

import math
from collections.abc import Callable
from dataclasses import dataclass

from true_margin.core.claims.forms import Form
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import short
from true_margin.core.study import Study
from true_margin.core.wording import format_elapsed, format_percent, format_ratio


@dataclass(frozen=True, slots=True)
class Told:
    """What a line is about.

    Attributes:
        form: of the claim.
        a, b: indices of the setups.
        task: index of the task; None for the mix.
        margin: of a over b; None for one alone.
        amount: seconds saved by a, the seconds that it takes, or times real time.
    """

    form: Form
    a: int
    b: int | None
    task: int | None
    margin: Margin | None
    amount: float | None = None


def say_instead(claim: Told, study: Study) -> str:
    """Say what holds, in the form of the claim as far as that goes."""
    on = "" if claim.task is None else f" on {study.tasks[claim.task].name}"
    a = study.setups[claim.a]
    if claim.margin is None or claim.b is None:
        return _alone(claim, a, on)
    b = study.setups[claim.b]
    margin = claim.margin
    if margin.call is Call.LEVEL:
        return f"{a} and {b} are equally fast{on}."
    if margin.call is Call.OPEN:
        return f"{a} and {b}: too close to call{on}."
    if claim.form is Form.SAVED and claim.amount is not None:
        first, second = (a, b) if claim.amount > 0 else (b, a)
        return f"{first} saves {_length(abs(claim.amount))} over {second}{on}."
    log = margin.log_ratio
    # Lines about the slower one keep it in front; all others begin with the faster.
    write = _OF_SLOWER.get(claim.form) if log < 0 else None
    if write is None:
        write = _OF_FASTER.get(claim.form, _times_as_fast)
        if log < 0:
            a, b, log = b, a, -log
    return f"{a} {write(log)} {b}{on}."


def _times_as_fast(log: float) -> str:
    return f"is {format_ratio(math.exp(log))} times as fast as"


_OF_FASTER: dict[Form, Callable[[float], str]] = {
    Form.FASTER: lambda log: f"is {format_percent(100 * math.expm1(log))} % faster than",
    Form.LESS_TIME: lambda log: f"takes {format_percent(-100 * math.expm1(-log))} % less time than",
    Form.PART: lambda log: f"takes {format_percent(100 * math.exp(-log))} % of the time of",
}
_OF_SLOWER: dict[Form, Callable[[float], str]] = {
    Form.SLOWER: lambda log: f"is {format_percent(100 * math.expm1(-log))} % slower than",
    Form.MORE_TIME: lambda log: f"takes {format_percent(100 * math.expm1(-log))} % more time than",
    Form.AS_LONG: lambda log: f"takes {format_ratio(math.exp(-log))} times as long as",
}


def _alone(claim: Told, a: str, on: str) -> str:
    assert claim.amount is not None
    if claim.form is Form.REAL_TIME:
        return f"{a} runs at {format_ratio(claim.amount)} times real time{on}."
    return f"{a} takes {_length(claim.amount)}{on}."


def _length(seconds: float) -> str:
    return format_elapsed(seconds) if seconds >= 60 else f"{short(seconds, 2)} seconds"
