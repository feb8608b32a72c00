"""What it would take to settle a call: runs and bench time."""

from __future__ import annotations

import math

import numpy as np

from true_margin.core.cells import Spread
from true_margin.core.margins import Call, Margin
from true_margin.core.settling import settling_of
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.margins.words.pairs import say_settling


def settle_words(book: Book, task: int | None, margin: Margin, spread: Spread | None) -> str | None:
    """Say what would settle a call that is open or ahead; None where nothing is to settle."""
    if margin.call not in (Call.OPEN, Call.AHEAD) or task is None or spread is None:
        return None
    need = settling_of(analysis_of(book), task, margin)
    have = (counted_runs(book, task, margin.a), counted_runs(book, task, margin.b))
    names = (book.setups[margin.a].label, book.setups[margin.b].label)
    bench_s = _bench_seconds(book, task, margin, need.runs_each, have)
    return say_settling(need, have, names, spread.basis, bench_s, book.shootout.materiality)


def _bench_seconds(
    book: Book, task: int, margin: Margin, runs: int | None, have: tuple[int, int]
) -> float | None:
    """What the runs that are missing take on the bench; None for a task without times."""
    if book.tasks[task].measure != "time" or runs is None:
        return None
    theta = analysis_of(book).fit.theta
    times = [math.exp(-theta[s, task]) for s in (margin.a, margin.b)]
    return sum(max(0, runs - n) * t for n, t in zip(have, times, strict=True))


def counted_runs(book: Book, task: int | None, setup: int) -> int:
    """Count the ok runs of a setup on a task, or on every task of the mix."""
    mix = analysis_of(book).study.mix
    tasks = np.asarray(mix) > 0 if task is None else task
    return int(book.index.ok[setup, tasks].sum())
