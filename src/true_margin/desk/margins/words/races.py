"""Sentences of a race: its moments, two numbers at most, and what one run cannot say."""

from __future__ import annotations

from collections.abc import Sequence

from true_margin.core.numerals import short
from true_margin.core.wording import format_span, listed, say_time

MIX_TITLE = "Equal mix of the tasks"
ON_ONE_TASK = "A race is run on one task: choose it above."
NO_RUN_YET = "No run is timed yet."
NO_TIMES = "A race shows times; this task has scores."
NONE_ENDED = "No run of this task ended at a known time yet."
ONE_RUN_EACH = "One run of each: only the ranking says which differences are real."
SIMULATED = "Simulated runs are among them."


def say_end(seconds: float, failed_at: float | None) -> str:
    """When a run ended, or failed with a part of the work done, 0 to 1."""
    at = say_time(seconds)
    return at if failed_at is None else f"failed at {at}, {_percent(failed_at)} done"


def name_run(end: str, round_name: str) -> str:
    """A run that may be raced."""
    return f"{end}, {round_name}"


def takes_lead(who: str, *, from_start: bool) -> str:
    """That somebody leads."""
    return f"{who} leads from the start." if from_start else f"{who} takes the lead."


def fails_at(who: str, at_s: float, part: float) -> str:
    """That somebody fails, with a part of the work done, 0 to 1."""
    return f"{who} fails at {say_time(at_s)}, {_percent(part)} done."


def half_way(who: str, at_s: float, second: tuple[str, float] | None) -> str:
    """That somebody is half way first; who is next, so many seconds later."""
    behind = "" if second is None else f", {second[0]} {_span(second[1])} later"
    return f"{who} is half way first, at {say_time(at_s)}{behind}."


def done_first(who: str, at_s: float) -> str:
    """That somebody is done first."""
    return f"{who} is done first, at {say_time(at_s)}."


def done_after(who: str, after_s: float) -> str:
    """That somebody is done, so many seconds after the first."""
    return f"{who} is done, {_span(after_s)} after the first."


def drawn_straight(names: Sequence[str], *, everyone: bool) -> str:
    """Whose runs have no marks."""
    whom = "all of them" if everyone else listed(names, 3)
    return f"No progress was noted of {whom}: drawn straight, only the end is known."


def not_racing(names: Sequence[str]) -> str:
    """Who has no run that can be raced."""
    return f"Not in the race, without a run that ended at a known time: {listed(names, 3)}."


def _percent(part: float) -> str:
    return f"{short(round(100 * part))} %"


def _span(seconds: float) -> str:
    """A time between two, to a tenth of a second: marks are not read closer than that."""
    return format_span(round(seconds, 1))
