"""The call of a pair in the book: its sentence, and the rounds that its figures come from."""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np

from true_margin.core.margins import Margin
from true_margin.core.wording import prove_margin
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.margins.settling import counted_runs
from true_margin.desk.margins.words.pairs import Names, say_call, say_rounds


def names_of(book: Book, margin: Margin) -> Names:
    """Labels of a margin's setups."""
    return book.setups[margin.a].label, book.setups[margin.b].label


def say_pair(book: Book, task: int | None, margin: Margin) -> str:
    """Say which of two setups is faster, in one sentence with one number at most.

    A lead that rests on a single run of each is said with that: it has not been repeated.
    """
    single = task is not None and all(
        counted_runs(book, task, s) == 1 for s in (margin.a, margin.b)
    )
    return say_call(margin, names_of(book, margin), book.shootout.materiality, single=single)


def prove_pair(book: Book, margin: Margin) -> str:
    """What that sentence rests on: its interval, and the estimate where it names none."""
    return prove_margin(margin, *names_of(book, margin), book.shootout.confidence)


def carried_rounds(book: Book, setups: Sequence[int], task: int | None) -> tuple[str, ...]:
    """Names of the rounds from which figures of these setups are estimated; the newest first."""
    fit, table = analysis_of(book).fit, book.index.table
    old = np.zeros_like(fit.carried)
    tasks = np.flatnonzero(analysis_of(book).study.mix) if task is None else np.array([task])
    at = np.ix_(np.asarray(setups, dtype=np.intp), tasks)
    old[at] = fit.carried[at]
    seen = np.unique(table.round[table.counted & old[table.setup, table.task]])
    return tuple(book.rounds[place].name for place in reversed(seen.tolist()))


def rounds_of_carried(book: Book, setups: Sequence[int], task: int | None) -> str:
    """Those rounds, as they stand in a sentence."""
    return say_rounds(carried_rounds(book, setups, task))
