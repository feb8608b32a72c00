"""A time that stands out is asked about before it counts as anybody's best."""

from __future__ import annotations

import math
from uuid import UUID

from true_margin.core.checks import Check
from true_margin.core.wording import format_elapsed
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.derived import derived
from true_margin.desk.margins.words.pairs import far_from, off_by
from true_margin.store import records

FAR = 5.0
"""A first time is doubted where it is so many times shorter or longer than any other's."""


def doubt_of(book: Book, run: records.Run) -> str | None:
    """What makes a counted run look like a slip, in a sentence; None where nothing does.

    A person who looked at it and found it right has the last word.
    """
    if run.status != "ok" or run.checked or run.bound or run.value is None:
        return None
    if run.setup_id not in book.setup_index or run.task_id not in book.task_index:
        return None
    task = book.tasks[book.task_index[run.task_id]]
    if task.measure != "time":
        return None
    own = _others(book, run, same_setup=True)
    value = format_elapsed(run.value, run.resolution or 1.0)
    others = own or _others(book, run, same_setup=False)
    if others and not min(others) / FAR <= run.value <= FAR * max(others):
        ends = (format_elapsed(min(others)), format_elapsed(max(others)))
        return far_from(value, ends, own=bool(own), task=task.name)
    if own and run.id in _odd_ids(book):
        middle = math.exp(sum(map(math.log, own)) / len(own))
        return off_by(value, run.value / middle, len(own))
    return None


def _others(book: Book, run: records.Run, *, same_setup: bool) -> list[float]:
    """Counted times of other runs of its task, of its own setup or of others, in seconds."""
    table = book.index.table
    setup = book.setup_index[run.setup_id]
    here = table.counted & (table.task == book.task_index[run.task_id])
    here &= (table.setup == setup) if same_setup else (table.setup != setup)
    here[book.place_of[run.id]] = False
    found: list[float] = table.value[here].tolist()
    return found


@derived
def odd_runs(book: Book) -> tuple[records.Run, ...]:
    """Runs that lie too far from their cell, whoever looked at them, in the book's order."""
    odd = {
        flag.run
        for flag in analysis_of(book).flags
        if flag.run is not None and flag.check is Check.ODD_ONE
    }
    return tuple(book.runs[place] for place in sorted(odd))


@derived
def _odd_ids(book: Book) -> frozenset[UUID]:
    return frozenset(run.id for run in odd_runs(book))
