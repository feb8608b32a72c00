"""Sentences of what was planned: frozen before the first run, or counted before any data."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from datetime import datetime

from true_margin.core.numerals import fixed, say_day, short
from true_margin.core.settling import WORTH_SETTLING
from true_margin.core.wording import count_of, listed

MOST_NAMED = 6
"""So many places are named in a line; of more than these it says how many."""
NO_RUNS_PLANNED = "Say first how many runs are planned."
NOTHING_TO_PLAN = "A plan needs a setup and a task at least."
CHANGED_MEANWHILE = "Something was changed meanwhile: look again, then freeze."
AS_PLANNED = "Nothing was done otherwise than planned."


@dataclass(frozen=True, slots=True)
class Planned:
    """What was planned: when, how many runs of how many setups on which tasks, and the rule.

    ``words`` are the reviewer's own on what would count as a difference.
    """

    on: datetime
    runs: int
    setups: int
    tasks: tuple[str, ...]
    confidence: float
    materiality: float
    words: str | None


def say_planned(plan: Planned) -> str:
    """What was planned, in a sentence."""
    words = f" What would count: {plan.words.rstrip('.')}." if plan.words else ""
    return (
        f"Planned on {say_day(plan.on, whole=True)}, before the first run: "
        f"{count_of(plan.runs, 'run')} of each of {count_of(plan.setups, 'setup')} on "
        f"{listed(plan.tasks, MOST_NAMED)}, judged at {short(100 * plan.confidence)} %; a "
        f"difference matters from {short(100 * plan.materiality)} %.{words}"
    )


def too_late(first: datetime) -> str:
    """That no plan can be frozen any more."""
    return f"The first run is of {say_day(first, whole=True)}: a plan is frozen before it."


def judged_at(now: float, planned: float) -> str:
    """That another certainty is asked for than planned."""
    return f"Judged at {short(100 * now)} % instead of {short(100 * planned)} %."


def matters_from(now: float, planned: float) -> str:
    """That another difference counts than planned."""
    return f"A difference matters from {short(100 * now)} % instead of {short(100 * planned)} %."


def runs_planned(now: int | None, planned: int) -> str:
    """That calls are judged as if another number of runs had been planned."""
    said = "no" if now is None else str(now)
    return f"Judged as if {said} runs had been planned, instead of {planned}."


def say_voided(runs: int) -> str:
    """How many runs were voided."""
    if runs == 1:
        return "1 run was voided, with its reason."
    return f"{runs} runs were voided, each with its reason."


def not_planned(names: Sequence[str]) -> str:
    """What was timed though nobody planned it."""
    return f"Timed though not planned: {listed(names, MOST_NAMED)}."


def not_timed(names: Sequence[str]) -> str:
    """What was planned and not timed."""
    return f"Planned and not timed: {listed(names, MOST_NAMED)}."


def archived_since(count: int, noun: str) -> str:
    """How much of what was planned is in the archive now."""
    return f"Planned and in the archive now: {count_of(count, noun)}."


def other_runs(places: Sequence[tuple[str, str, int]], planned: int, *, more: bool) -> str:
    """Places, as setup, task and runs, with another number of runs than planned."""
    said = [f"{setup} on {task} ({runs})" for setup, task, runs in places]
    which = "More" if more else "Fewer"
    return f"{which} runs than the {planned} planned: {listed(said, MOST_NAMED)}."


def say_otherwise(lines: Sequence[str]) -> str:
    """All that was done otherwise, in a line."""
    return f"Done otherwise than planned: {' '.join(lines)}" if lines else AS_PLANNED


def say_before_data(
    difference: float, materiality: float, runs: Sequence[int | None], hours: float
) -> str:
    """How many runs settle a stated difference.

    Args:
        difference: ratio of speeds less 1.
        materiality: the smallest difference that counts, as a share.
        runs: of each setup that each task needs; None where it is not worth it.
        hours: on the bench for all of it; 0 where unknown.
    """
    said = f"a difference of {short(100 * difference)} %"
    if not runs:
        return f"Add the tasks first: then this says how many runs settle {said}."
    worth = [each for each in runs if each is not None]
    if not worth:
        return (
            f"Not worth it: {said} would take more than {WORTH_SETTLING} runs per setup on every "
            "task."
        )
    few, many = min(worth), max(worth)
    need = count_of(few, "run") if few == many else f"{few} to {many} runs"
    bench = f": about {fixed(hours, 1)} hours" if hours else ""
    rest = len(runs) - len(worth)
    if difference < materiality:
        said = f"that {said} is too small to matter"
    left = f" Not worth it: {rest} of {count_of(len(runs), 'task')}." if rest else ""
    return f"To settle {said}, plan {need} per setup on each task{bench}.{left}"
