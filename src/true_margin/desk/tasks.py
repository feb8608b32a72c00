"""Tasks: what is timed, in which app, on which timeline."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.margins import Call
from true_margin.desk.book import SHELF, Book
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import records, shootouts, tasks
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class TaskSheet:
    """A task with what its runs say so far.

    ``spread_cv`` is a fraction; ``tells_nothing`` where every pair is level.
    """

    task: records.Task
    runs: int
    setups: int
    spread_cv: float | None
    spread_basis: str | None
    tells_nothing: bool


def show_tasks(database: Database, slug: str) -> tuple[TaskSheet, ...]:
    """List the tasks of a shootout with their spread."""
    book = SHELF.take(database, slug)
    return tuple(_sheet(book, task) for task in book.tasks)


def _sheet(book: Book, task: records.Task) -> TaskSheet:
    own = [run for run in book.runs if run.task_id == task.id]
    setups = {run.setup_id for run in own if run.status == "ok"}
    place = book.task_index[task.id]
    spread = book.analysis.cells.spread[place]
    pairs = book.analysis.tasks[place].pairs
    return TaskSheet(
        task,
        len(own),
        len(setups),
        None if spread is None else spread.cv,
        None if spread is None else spread.basis.value,
        len(setups) > 1 and pairs.count(Call.LEVEL) == len(setups) * (len(setups) - 1) // 2,
    )


def add_task(database: Database, slug: str, fields: Mapping[str, Any]) -> records.Task:
    """Add a task; its app and timeline are made where they are new."""
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        key = tasks.add_task(session, shootout.id, _stored(session, shootout.id, fields))
        return _task(session, shootout.id, key)


def change_task(
    database: Database, task_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Task:
    """Change a task that nobody else changed meanwhile.

    What is measured cannot change once there are runs: they would mean
    something else.
    """
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        shootouts.bump_revision(session, home)
        known = _task(session, home, task_id)
        if changes.get("measure", known.measure) != known.measure:
            slug = shootouts.slug_of(session, home)
            if any(run.task_id == task_id for run in SHELF.take(database, slug).runs):
                raise RefusedError(
                    "measure", "This task has runs; make a new task for another measure."
                )
        tasks.change_task(session, task_id, version, _stored(session, home, changes))
        return _task(session, home, task_id)


def _stored(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> dict[str, Any]:
    """Turn the names of app and timeline into rows."""
    own = dict(fields)
    if "app" in own:
        own["app_id"] = shootouts.app_named(session, shootout_id, own.pop("app"))
    length = own.pop("timeline_length_s", None)
    if "timeline" in own:
        name = own.pop("timeline")
        own["timeline_id"] = (
            tasks.timeline_named(session, shootout_id, name, length) if name else None
        )
    return own


def _task(session: Session, shootout_id: UUID, key: UUID) -> records.Task:
    return next(task for task in tasks.list_tasks(session, shootout_id) if task.id == key)
