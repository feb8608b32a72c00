"""Accepted results of others, as the computation takes them."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from true_margin.core.choices import SentState
from true_margin.core.study import SentRuns, SentSample
from true_margin.desk.book.book import Book


def sent_samples(book: Book) -> tuple[SentSample, ...]:
    """Every accepted result that is of a model here, with its counted runs."""
    found = []
    for result in book.sent:
        place = book.setup_index.get(result.setup_id) if result.setup_id else None
        if result.state != SentState.ACCEPTED or place is None:
            continue
        runs = runs_by_task(book, result.content or {})
        if runs:
            found.append(SentSample(place, runs))
    return tuple(found)


def runs_by_task(book: Book, told: Mapping[str, Any]) -> tuple[SentRuns, ...]:
    """The counted runs of a result, by the timed tasks that are here."""
    found = []
    for each in told.get("tasks", ()):
        place = book.task_index.get(UUID(each["task"]))
        counted = [run for run in each["runs"] if run["status"] == "ok" and run.get("seconds")]
        if place is None or not counted or book.tasks[place].measure != "time":
            continue
        seconds = tuple(float(run["seconds"]) for run in counted)
        found.append(SentRuns(place, seconds, max(float(run["u"]) for run in counted)))
    return tuple(found)
