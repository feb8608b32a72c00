"""One setup against itself: the same work in two apps or settings, start-up and rate."""

from __future__ import annotations

import math
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import combinations
from uuid import UUID

from true_margin.core.choices import JudgedAs
from true_margin.core.same_work import fixed_cost, margin_between_tasks
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.margins import MIX, task_index
from true_margin.desk.margins.words.same_work import name_both, say_cost, say_doubt, say_same_work
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class SameWorkRow:
    """One setup in two apps or settings: times as fast in the first, and its sentence."""

    setup_id: UUID
    label: str
    call: str
    ratio: float
    lo: float
    hi: float
    sentence: str


@dataclass(frozen=True, slots=True)
class SameWork:
    """Two tasks that hold the same work, on every setup that did both.

    ``doubt`` says what a person has to say against it, with ``judgement``; where it is not the
    same work at all there are no rows.
    """

    one_key: str
    one: str
    other_key: str
    other: str
    differs: str
    rows: tuple[SameWorkRow, ...]
    doubt: str | None
    judgement: records.Judgement | None


def same_work_pairs(book: Book) -> tuple[tuple[int, int], ...]:
    """Pairs of tasks of one timeline and one operation that differ in app or settings.

    Two that a person calls nearly the same are a pair too.
    """
    timed = [
        (place, task)
        for place, task in enumerate(book.tasks)
        if task.measure == "time" and not task.superseded
    ]
    prints = _fingerprints(book)
    return tuple(
        (i, j)
        for (i, one), (j, other) in combinations(timed, 2)
        if frozenset((one.id, other.id)) in book.doubted_tasks
        or (
            one.timeline_id is not None
            and one.operation == other.operation
            and (
                one.timeline_id == other.timeline_id
                or prints.get(one.timeline_id, 0) == prints.get(other.timeline_id, 1)
            )
        )
    )


def _fingerprints(book: Book) -> dict[UUID | None, str]:
    """The reference file's fingerprint of each timeline."""
    return {f.timeline_id: f.fingerprint for f in book.timeline_files if f.setup_id is None}


def show_same_work(database: Database, slug: str, key: str | None) -> tuple[SameWork, ...]:
    """Give each setup's margins between tasks of the same work; of one task, or of all."""
    book = SHELF.take(database, slug)
    task = None if key in (None, MIX) else task_index(book, key)
    return tuple(
        _same_work(book, i, j) for i, j in same_work_pairs(book) if task is None or task in (i, j)
    )


def _same_work(book: Book, i: int, j: int) -> SameWork:
    one, other = book.tasks[i], book.tasks[j]
    word = book.doubted_tasks.get(frozenset((one.id, other.id)))
    apart = one.app != other.app
    names = (one.app, other.app) if apart else (one.name, other.name)
    rows = []
    for place, setup in enumerate(book.setups):
        margin = margin_between_tasks(analysis_of(book), place, i, j)
        if margin is not None:
            rows.append(
                SameWorkRow(
                    setup.id,
                    setup.label,
                    margin.call.value,
                    margin.ratio,
                    math.exp(margin.lo),
                    math.exp(margin.hi),
                    say_same_work(margin, names, setup.label),
                )
            )
    differs = "app" if apart else "settings"
    return SameWork(
        str(one.id),
        one.name,
        str(other.id),
        other.name,
        differs,
        tuple(rows),
        None
        if word is None
        else say_doubt(word.who, word.reason, nearly=word.judged_as == JudgedAs.NEARLY),
        word,
    )


@dataclass(frozen=True, slots=True)
class FixedCostLine:
    """Start-up and rate of one setup on one operation; seconds, each with its interval."""

    setup: str
    tasks: str
    words: str


def fixed_cost_lines(book: Book, task: int, setups: tuple[int, ...]) -> Iterator[FixedCostLine]:
    """Start-up and rate of some setups, where the task's operation was timed on two lengths."""
    for other in _other_lengths(book, task):
        for setup in setups:
            found = fixed_cost(analysis_of(book), setup, task, other)
            if found is not None:
                both = name_both(book.tasks[task].name, book.tasks[other].name)
                words = say_cost(found, book.tasks[task].unit)
                yield FixedCostLine(book.setups[setup].label, both, words)


def _other_lengths(book: Book, task: int) -> Iterator[int]:
    own = book.tasks[task]
    for place, other in enumerate(book.tasks):
        alike = ("app", "operation", "settings", "unit", "measure")
        if (
            place != task
            and not other.superseded
            and own.work
            and other.work
            and own.work != other.work
            and all(getattr(own, name) == getattr(other, name) for name in alike)
        ):
            yield place
