"""The headline of a ladder: who leads, by how much, and what that is worth, in a few words.

The leading group comes first, then what it is worth against the baseline, then who is next.
Intervals and chances stand in the rows; a headline that cannot part two setups names neither
the winner.
"""

from __future__ import annotations

import math
from collections.abc import Sequence
from dataclasses import dataclass

import numpy as np

from true_margin.core.analysis import Comparison
from true_margin.core.ladder import Rung
from true_margin.core.margins import CALL_ORDER, Call
from true_margin.core.numerals import short
from true_margin.core.wording import (
    TWICE,
    count_of,
    faster_than,
    format_elapsed,
    format_percent,
    listed,
)
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.pair_words import say_pair
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.worth import LEVEL, calls_of, leading_group

CLEAR = CALL_ORDER.index(Call.CLEAR)
MOST_NAMED = 3
"""So many setups of a leading group are named; of more than these it says how many."""


@dataclass(frozen=True, slots=True)
class Summary:
    """Who leads a ladder and by how much: the answer, and what else there is to say."""

    headline: str
    detail: str = ""

    @property
    def whole(self) -> str:
        """Both, one after the other."""
        return f"{self.headline} {self.detail}".strip()


def summary_of(book: Book, comparison: Comparison) -> Summary:
    """Who leads a ladder and by how much."""
    rungs = comparison.rungs
    if len(rungs) < 2:
        return Summary(_of_one(book, comparison))
    leader, rival = (book.setups[rung.setup].label for rung in rungs[:2])
    second = margin_between(comparison, rungs[0].setup, rungs[1].setup)
    assert second is not None, "setups on a ladder have margins"
    if second.call is Call.NOT_COMPARABLE and _is_broken(book, comparison.task, rungs[:2]):
        return Summary(
            f"{leader} and {rival} lead, and cannot be compared: they did not do the same job."
        )
    if len(rungs) == 2 or second.call is Call.NOT_COMPARABLE:
        said = Summary(say_pair(book, comparison.task, second))
    else:
        said = _of_many(book, comparison)
    beside = _ahead_by_bound(book, comparison) + _unsure(comparison)
    return Summary(said.headline, (said.detail + beside).strip())


def _of_one(book: Book, comparison: Comparison) -> str:
    if not comparison.rungs:
        return "Nothing to compare yet: no machine has been timed here."
    leader = book.setups[comparison.rungs[0].setup].label
    for known, how in (
        (comparison.bounded, "by bounds alone"),
        (comparison.noted, "noted elsewhere"),
    ):
        if known:
            others = [book.setups[rung.setup].label for rung in known]
            return f"Only {leader} has been timed; {how}: {', '.join(others)}, below."
    return f"Only {leader} has been timed. Time a second machine to compare."


def _of_many(book: Book, comparison: Comparison) -> Summary:
    """Three setups and more: the leading group, its worth, and who is next."""
    rungs = comparison.rungs
    calls = calls_of(comparison)
    level = calls == LEVEL
    np.fill_diagonal(level, val=True)
    if level.all():
        return Summary(_no_difference(book, comparison))
    at = leading_group(comparison)
    group = [rungs[i] for i in at]
    others = [rung for rung in rungs if rung not in group]
    if not others:
        return Summary(
            f"All {len(rungs)} setups: too close to call.", "None is surely the fastest."
        )
    names = listed((book.setups[rung.setup].label for rung in group), MOST_NAMED)
    base = next((r for r in rungs if r.setup == comparison.study.baseline), None)
    worth = _against(book, group, base)
    if len(group) == 1:
        runner = book.setups[others[0].setup].label
        lead = faster_than(group[0].log_speed - others[0].log_speed)
        counts = f"{short(100 * book.shootout.materiality)} %"
        little = f", perhaps by less than {counts}" if calls[0, 1] != CLEAR else ""
        beyond = worth if base is not others[0] else ""
        if little and beyond:
            # A sentence bears two numbers.
            return Summary(
                f"{names} is {lead} the runner-up, {runner}{little}.", f"It is {beyond}."
            )
        beyond = f", and {beyond}" if beyond else ""
        return Summary(f"{names} is {lead} the runner-up, {runner}{little}{beyond}.")
    worth = f", about {worth}" if worth else ""
    amount = comparison.task is not None and book.tasks[comparison.task].measure == "amount"
    same = bool(level[np.ix_(at, at)].all())
    why = "No difference among them matters." if same else "Too close to rank among themselves."
    after = _next(book, group, others, amount=amount)
    return Summary(f"{names} share first place{worth}.", f"{why} {after}")


def _no_difference(book: Book, comparison: Comparison) -> str:
    rungs, task = comparison.rungs, comparison.task
    every = f"All {count_of(len(rungs), 'setup')}"
    if task is None:
        return f"{every} are equally fast on the mix."
    middle = sum(rung.log_speed for rung in rungs) / len(rungs)
    facts = book.tasks[task]
    if facts.measure == "time":
        typical = format_elapsed(math.exp(-middle), 0.1 if middle > -math.log(60.0) else 1.0)
        return f"{every} take the same time, {typical}."
    typical = f"{short(math.exp(middle), 3)} {facts.unit or ''}".strip()
    return f"{every} come to the same, {typical}."


def _against(book: Book, group: Sequence[Rung], base: Rung | None) -> str:
    """What a leading group is worth against the baseline; empty where that is in it."""
    if base is None or base.setup in {rung.setup for rung in group}:
        return ""
    label = book.setups[base.setup].label
    middle = sum(rung.log_speed for rung in group) / len(group)
    return f"{faster_than(middle - base.log_speed)} {label}"


def _next(book: Book, group: Sequence[Rung], others: Sequence[Rung], *, amount: bool) -> str:
    """Who comes after a leading group, and how far behind."""
    middle = sum(rung.log_speed for rung in group) / len(group)
    behind = math.exp(middle - others[0].log_speed)
    label = book.setups[others[0].setup].label
    if behind >= TWICE:
        return f"They are {short(behind, 2)} times as fast as the next, {label}."
    if amount:
        return f"The next, {label}, comes to {format_percent(100.0 * (1.0 - 1.0 / behind))} % less."
    return f"The next, {label}, takes {format_percent(100.0 * (behind - 1.0))} % longer."


def _is_broken(book: Book, task: int | None, rungs: Sequence[Rung]) -> bool:
    """True where the two setups were not given the same job on a task that counts here."""
    broken = parity_of(book).broken
    if broken is None:
        return False
    a, b = (rung.setup for rung in rungs)
    mix = analysis_of(book).study.mix
    on = [task] if task is not None else [t for t, weight in enumerate(mix) if weight]
    return bool(broken[on, a, b].any())


def _ahead_by_bound(book: Book, comparison: Comparison) -> str:
    """Who is ahead of all that was timed by a bound alone; empty for nobody."""
    first = [
        book.setups[rung.setup].label
        for rung in comparison.bounded
        if rung.worst_rank < comparison.rungs[0].best_rank
    ]
    if not first:
        return ""
    are = "is" if len(first) == 1 else "are"
    return f" By a bound alone, {' and '.join(first)} {are} faster still."


def _unsure(comparison: Comparison) -> str:
    """That somebody who is known by a bound only may lead; empty where nobody may."""
    best = comparison.rungs[0].best_rank
    may = (rung for rung in comparison.bounded if rung.best_rank <= best <= rung.worst_rank)
    if next(may, None) is None:
        return ""
    return " One that is known by a bound only may be faster still."
