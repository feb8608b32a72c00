"""Before any data: how many runs would settle a stated difference, and what they cost."""

from __future__ import annotations

import math
from dataclasses import dataclass
from uuid import UUID

from true_margin.core.cells import Basis, Spread
from true_margin.core.settling import runs_before_data
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.off_ladder import usual_seconds
from true_margin.desk.margins.words.plans import say_before_data
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class PlanRow:
    """Runs of each setup that a task needs, and hours for all setups; None where unknown."""

    task_id: UUID
    task: str
    spread_cv: float
    basis: str
    runs_each: int | None
    minutes: float | None
    hours: float | None
    worth_it: bool


@dataclass(frozen=True, slots=True)
class Plan:
    """What settling a stated difference costs, task by task."""

    difference: float
    setups: int
    rows: tuple[PlanRow, ...]
    hours: float
    summary: str


def plan_before_data(
    database: Database, slug: str, difference: float, minutes: float | None = None
) -> Plan:
    """Count the runs that would settle a stated difference on every task.

    Args:
        database: where the book is.
        slug: of the shootout.
        difference: ratio of speeds less 1, such as 0.05.
        minutes: of one run where a task has none yet.

    Raises:
        RefusedError: the difference is not above 0.
    """
    if not 0 < difference <= 10:
        raise RefusedError("difference", "A difference between 0 and 1 000 % is needed.")
    book = SHELF.take(database, slug)
    desk = [
        s
        for s in book.setups
        if book.machine_of[s.id].retired_at is None and s.assumed_ratio is None
    ]
    rows = tuple(
        _row(book, place, difference, minutes, len(desk))
        for place, task in enumerate(book.tasks)
        if not task.superseded
    )
    hours = sum(row.hours or 0.0 for row in rows if row.worth_it)
    runs = [row.runs_each if row.worth_it else None for row in rows]
    summary = say_before_data(difference, book.shootout.materiality, runs, hours)
    return Plan(difference, len(desk), rows, hours, summary)


def _row(book: Book, task: int, difference: float, minutes: float | None, setups: int) -> PlanRow:
    facts, s = book.tasks[task], book.shootout
    spread = analysis_of(book).cells.spread[task] or Spread(
        s.prior_cv, max(s.prior_df, 0.5), 0, 0.0, Basis.ASSUMED
    )
    need = runs_before_data(difference, spread, math.log1p(s.materiality), s.confidence)
    seconds = usual_seconds(book, task)
    each = seconds / 60 if seconds is not None else minutes
    hours = None
    if each is not None and need.runs_each is not None:
        hours = setups * need.runs_each * each / 60
    return PlanRow(
        facts.id,
        facts.name,
        spread.cv,
        spread.basis.value,
        need.runs_each,
        each,
        hours,
        need.worth_it,
    )
