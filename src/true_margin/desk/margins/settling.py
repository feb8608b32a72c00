"""What it would take to settle a call: runs and bench time, in words."""

from __future__ import annotations

import math

import numpy as np

from true_margin.core.cells import Basis, Spread
from true_margin.core.margins import Call, Margin
from true_margin.core.numerals import short
from true_margin.core.settling import settling_of
from true_margin.core.wording import count_of, listed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book


def settle_words(book: Book, task: int | None, margin: Margin, spread: Spread | None) -> str | None:
    """Say what would settle a call that is open or ahead; None where nothing is to settle."""
    if margin.call not in (Call.OPEN, Call.AHEAD) or task is None or spread is None:
        return None
    need = settling_of(analysis_of(book), task, margin)
    if need.runs_each is None:
        return (
            "More runs will not settle it: the difference is almost exactly "
            f"{short(100 * book.shootout.materiality)} %."
        )
    have = [counted_runs(book, task, s) for s in (margin.a, margin.b)]
    minutes = _minutes(book, task, margin, need.runs_each, have)
    if not need.worth_it:
        return f"Not worth it: it would take {need.runs_each} runs on each, {minutes}."
    more = [max(0, need.runs_each - n) for n in have]
    # Where nobody has measured how runs scatter, four in ten of such numbers do not do.
    settled = "Likely settled" if spread.basis is Basis.MEASURED else "Perhaps settled"
    if not any(more):
        return f"{settled} by one more run on each."
    names = (book.setups[margin.a].label, book.setups[margin.b].label)
    (n, name), *rest = [(n, name) for n, name in zip(more, names, strict=True) if n]
    parts = [f"{count_of(n, 'more run')} on {name}", *(f"{n} on {name}" for n, name in rest)]
    return f"{settled} by {listed(parts)}, {minutes}."


def _minutes(book: Book, task: int, margin: Margin, runs: int, have: list[int]) -> str:
    if book.tasks[task].measure != "time":
        return "some time"
    theta = analysis_of(book).fit.theta
    times = [math.exp(-theta[s, task]) for s in (margin.a, margin.b)]
    seconds = sum(max(0, runs - n) * t for n, t in zip(have, times, strict=True))
    if seconds > 5400:
        return f"about {seconds / 3600:.0f} hours"
    return f"about {max(1, round(seconds / 60))} min"


def counted_runs(book: Book, task: int | None, setup: int) -> int:
    """Count the ok runs of a setup on a task, or on every task of the mix."""
    mix = analysis_of(book).study.mix
    tasks = np.asarray(mix) > 0 if task is None else task
    return int(book.index.ok[setup, tasks].sum())
