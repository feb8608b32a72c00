"""What may be said after a run: who it is close to, and which calls it moved."""

from __future__ import annotations

from dataclasses import dataclass
from uuid import UUID

from true_margin.core.analysis import Comparison
from true_margin.core.labels import RUN_STATUS
from true_margin.core.margins import CALL_ORDER, Call, Margin
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.margins.doubts import doubt_of
from true_margin.desk.margins.pair_call import say_pair
from true_margin.desk.margins.settling import settle_words
from true_margin.desk.margins.words.inquiries import say_value
from true_margin.desk.margins.words.pairs import (
    IN_THE_ARCHIVE,
    is_it_a_slip,
    say_moved,
    say_saved_as,
    say_saved_run,
)
from true_margin.store import records


def margin_between(comparison: Comparison, a: int, b: int) -> Margin | None:
    """Give the margin of setup a over setup b, or None where one was not measured."""
    setups = [int(s) for s in comparison.pairs.contrasts.setups]
    if a not in setups or b not in setups:
        return None
    return comparison.pairs.margin(setups.index(a), setups.index(b))


def what_changed(before: Book, after: Book, run: records.Run) -> tuple[str, tuple[str, ...]]:
    """Say what a run means now, and which calls on its task it moved.

    Returns:
        One sentence, and one line a changed call.
    """
    if run.setup_id not in after.setup_index:
        return IN_THE_ARCHIVE, ()
    label = after.setups[after.setup_index[run.setup_id]].label
    task = after.tasks[after.task_index[run.task_id]]
    if run.status != "ok":
        return say_saved_as(label, task.name, RUN_STATUS[run.status], run.reason), ()
    value = say_value(run, task)
    comparison = analysis_of(after).tasks[after.task_index[run.task_id]]
    setup = after.setup_index[run.setup_id]
    rival = _nearest(comparison, setup)
    pair = None if rival is None else say_pair(after, after.task_index[run.task_id], rival)
    says = say_saved_run(label, task.name, value, pair)
    return says, tuple(_moved(before, after, run.task_id))


def what_else_changed(before: Book, after: Book) -> tuple[str, ...]:
    """Say which calls moved, on whatever task; one line a call."""
    several = len(after.tasks) > 1
    return tuple(
        f"{task.name}: {line}" if several else line
        for task in after.tasks
        for line in _moved(before, after, task.id)
    )


@dataclass(frozen=True, slots=True)
class SaidNow:
    """What may be said of a run now, and what one more run would do; ``value`` is its own.

    A run that looks like a slip is only asked about: ``doubt`` says why, and ``run_id`` and
    ``version`` are what an answer needs.
    """

    value: float | None
    says: str
    next: str | None
    doubt: str | None = None
    run_id: UUID | None = None
    version: int | None = None


def say_now(book: Book, run: records.Run) -> SaidNow:
    """Say what a run that is in the book means, against the setup that is closest to it."""
    doubt = doubt_of(book, run)
    if doubt is not None:
        return SaidNow(run.value, is_it_a_slip(doubt), None, doubt, run.id, run.version)
    says, _ = what_changed(book, book, run)
    if run.status != "ok" or run.setup_id not in book.setup_index:
        return SaidNow(run.value, says, None)
    task = book.task_index[run.task_id]
    rival = _nearest(analysis_of(book).tasks[task], book.setup_index[run.setup_id])
    if rival is None:
        return SaidNow(run.value, says, None)
    return SaidNow(
        run.value, says, settle_words(book, task, rival, analysis_of(book).cells.spread[task])
    )


def _nearest(comparison: Comparison, setup: int) -> Margin | None:
    """The margin over the setup that is closest in speed."""
    found = [
        margin
        for other in comparison.pairs.contrasts.setups
        if int(other) != setup
        and (margin := margin_between(comparison, setup, int(other))) is not None
        and margin.call is not Call.NOT_COMPARABLE
    ]
    return min(found, key=lambda m: abs(m.log_ratio), default=None)


def _moved(before: Book, after: Book, task_id: UUID) -> list[str]:
    """Calls on one task that were another before."""
    lines = []
    new = analysis_of(after).tasks[after.task_index[task_id]]
    earlier = _calls_by_id(before, task_id)
    setups = new.pairs.contrasts.setups
    for i in range(len(setups)):
        for j in range(i + 1, len(setups)):
            a, b = after.setups[int(setups[i])], after.setups[int(setups[j])]
            call = CALL_ORDER[int(new.pairs.call[i, j])]
            was = earlier.get(frozenset((a.id, b.id)))
            if was is not None and was is not call:
                margin = new.pairs.margin(i, j)
                first, second = (a, b) if margin.log_ratio >= 0 else (b, a)
                lines.append(say_moved((first.label, second.label), was, call))
    return lines


def _calls_by_id(book: Book, task_id: UUID) -> dict[frozenset[UUID], Call]:
    if task_id not in book.task_index:
        return {}
    pairs = analysis_of(book).tasks[book.task_index[task_id]].pairs
    setups = pairs.contrasts.setups
    return {
        frozenset((book.setups[int(setups[i])].id, book.setups[int(setups[j])].id)): CALL_ORDER[
            int(pairs.call[i, j])
        ]
        for i in range(len(setups))
        for j in range(i + 1, len(setups))
    }
