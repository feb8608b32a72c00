"""The bench: what a lane needs to know before and while it runs."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from datetime import datetime
from uuid import UUID

from true_margin.desk.book import SHELF, Book
from true_margin.store import records
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class BestSoFar:
    """The best ok run of a task: ``value`` in seconds, or the amount."""

    task_id: UUID
    setup_id: UUID
    label: str
    value: float
    resolution: float | None
    started_at: datetime | None


@dataclass(frozen=True, slots=True)
class BenchView:
    """The round that runs go into, and the best so far of each task that has one."""

    round: str | None
    round_versions: tuple[records.AppVersion, ...]
    best: tuple[BestSoFar, ...]


def show_bench(database: Database, slug: str) -> BenchView:
    """Give the open round and the best run of each task."""
    book = SHELF.take(database, slug)
    latest = book.rounds[-1] if book.rounds else None
    return BenchView(
        None if latest is None else latest.name,
        () if latest is None else latest.versions,
        tuple(_best(book)),
    )


def _best(book: Book) -> Iterable[BestSoFar]:
    for task in book.tasks:
        counted = [
            (run.value, run)
            for run in book.runs
            if run.task_id == task.id and run.status == "ok" and not run.bound
            and run.value is not None
        ]  # fmt: skip
        if counted:
            sign = 1.0 if task.measure == "time" else -1.0
            value, run = min(counted, key=lambda each: sign * each[0])
            yield _best_of(book, task, run, value)


def _best_of(book: Book, task: records.Task, run: records.Run, value: float) -> BestSoFar:
    label = book.setups[book.setup_index[run.setup_id]].label
    return BestSoFar(task.id, run.setup_id, label, value, run.resolution, run.started_at)
