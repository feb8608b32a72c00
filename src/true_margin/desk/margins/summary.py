"""The headline of a ladder: who leads, by how much, and what that is worth.

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
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import parity_of
from true_margin.desk.margins.pair_call import say_pair
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words import rankings as words
from true_margin.desk.margins.worth import LEVEL, calls_of, leading_group

CLEAR = CALL_ORDER.index(Call.CLEAR)


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
    leader, rival = _labels(book, rungs[:2])
    second = margin_between(comparison, rungs[0].setup, rungs[1].setup)
    assert second is not None, "setups on a ladder have margins"
    if second.call is Call.NOT_COMPARABLE and _is_broken(book, comparison.task, rungs[:2]):
        return Summary(words.leaders_apart(leader, rival))
    if len(rungs) == 2 or second.call is Call.NOT_COMPARABLE:
        said = Summary(say_pair(book, comparison.task, second))
    else:
        said = _of_many(book, comparison)
    beside = words.ahead_by_bound(_ahead_by_bound(book, comparison))
    if _one_may_lead(comparison):
        beside += words.MAY_BE_FASTER
    return Summary(said.headline, (said.detail + beside).strip())


def _labels(book: Book, rungs: Sequence[Rung]) -> list[str]:
    return [book.setups[rung.setup].label for rung in rungs]


def _of_one(book: Book, comparison: Comparison) -> str:
    leader = _labels(book, comparison.rungs)
    bounded = [book.setups[rung.setup].label for rung in comparison.bounded]
    noted = [book.setups[rung.setup].label for rung in comparison.noted]
    return words.one_alone(leader[0] if leader else None, bounded, noted)


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
        return Summary(*words.nobody_leads(len(rungs)))
    base = next((r for r in rungs if r.setup == comparison.study.baseline), None)
    worth = _over_baseline(book, group, base)
    if len(group) == 1:
        least = None if calls[0, 1] == CLEAR else book.shootout.materiality
        beyond = None if base is others[0] else worth
        lead = group[0].log_speed - others[0].log_speed
        names = _labels(book, (group[0], others[0]))
        return Summary(*words.one_leads(names[0], names[1], lead, least, beyond))
    amount = comparison.task is not None and book.tasks[comparison.task].measure == "amount"
    behind = math.exp(_middle(group) - others[0].log_speed)
    after = words.next_after(_labels(book, others[:1])[0], behind, amount=amount)
    same = bool(level[np.ix_(at, at)].all())
    return Summary(*words.many_lead(_labels(book, group), worth, same=same, after=after))


def _middle(rungs: Sequence[Rung]) -> float:
    return sum(rung.log_speed for rung in rungs) / len(rungs)


def _no_difference(book: Book, comparison: Comparison) -> str:
    rungs, task = comparison.rungs, comparison.task
    facts, middle = None if task is None else book.tasks[task], _middle(rungs)
    seconds = math.exp(-middle) if facts is not None and facts.measure == "time" else None
    amount = None
    if facts is not None and seconds is None:
        amount = words.say_amount(math.exp(middle), facts.unit)
    return words.all_the_same(len(rungs), seconds, amount)


def _over_baseline(
    book: Book, group: Sequence[Rung], base: Rung | None
) -> tuple[float, str] | None:
    """Lead of a group over the baseline, and that one's name; None where it is in the group."""
    if base is None or base.setup in {rung.setup for rung in group}:
        return None
    return _middle(group) - base.log_speed, book.setups[base.setup].label


def _is_broken(book: Book, task: int | None, rungs: Sequence[Rung]) -> bool:
    """True where the two setups were not given the same job on a task that counts here."""
    broken = parity_of(book).broken
    if broken is None:
        return False
    a, b = (rung.setup for rung in rungs)
    mix = analysis_of(book).study.mix
    on = [task] if task is not None else [t for t, weight in enumerate(mix) if weight]
    return bool(broken[on, a, b].any())


def _ahead_by_bound(book: Book, comparison: Comparison) -> list[str]:
    """Who is ahead of all that was timed by a bound alone."""
    best = comparison.rungs[0].best_rank
    return [book.setups[rung.setup].label for rung in comparison.bounded if rung.worst_rank < best]


def _one_may_lead(comparison: Comparison) -> bool:
    """Whether somebody who is known by a bound only may lead."""
    best = comparison.rungs[0].best_rank
    return any(rung.best_rank <= best <= rung.worst_rank for rung in comparison.bounded)
