"""Sentences about one pair that need the shootout: how many runs, which round, what counts."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from true_margin.core.margins import Call, Margin
from true_margin.core.wording import faster_than, listed, prove_margin, say_margin
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.margins.settling import counted_runs


def say_pair(book: Book, task: int | None, margin: Margin) -> str:
    """Say which of two setups is faster, in one sentence with one number at most.

    A lead that rests on a single run of each is said with that: it has not been repeated.
    """
    a, b = (book.setups[s].label for s in (margin.a, margin.b))
    single = task is not None and all(
        counted_runs(book, task, s) == 1 for s in (margin.a, margin.b)
    )
    if single and margin.call is Call.CLEAR:
        if margin.log_ratio < 0:
            a, b = b, a
        return f"{a} is about {faster_than(abs(margin.log_ratio))} {b} (1 run each)."
    return say_margin(margin, a, b, book.shootout.materiality)


def prove_pair(book: Book, margin: Margin) -> str:
    """What that sentence rests on: its interval, and the estimate where it names none."""
    a, b = (book.setups[s].label for s in (margin.a, margin.b))
    return prove_margin(margin, a, b, book.shootout.confidence)


def name_round(name: str) -> str:
    """A round by its name; some are named after what they are.

    Example:
        >>> name_round("spring"), name_round("round 2")
        ('the spring round', 'round 2')
    """
    return name if name.casefold().startswith("round ") else f"the {name} round"


def rounds_of_carried(book: Book, setups: Sequence[int], task: int | None) -> str:
    """The rounds from which figures of these setups are estimated, by name; the newest first."""
    fit, table = analysis_of(book).fit, book.index.table
    old = np.zeros_like(fit.carried)
    tasks = np.flatnonzero(analysis_of(book).study.mix) if task is None else np.array([task])
    at = np.ix_(np.asarray(setups, dtype=np.intp), tasks)
    old[at] = fit.carried[at]
    seen = np.unique(table.round[table.counted & old[table.setup, table.task]])
    names = [name_round(book.rounds[place].name) for place in reversed(seen.tolist())]
    return listed(names) or "an earlier round"
