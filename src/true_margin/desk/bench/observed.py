"""What is seen between runs: editing trials and troubles; observations, never a speed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import outputs, records, runs, shootouts, tasks
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class Observations:
    """The trials that count (the newest of each setup, task and kind), and every trouble."""

    trials: tuple[records.Trial, ...]
    troubles: tuple[records.Trouble, ...]


def show_observations(database: Database, slug: str) -> Observations:
    """Give what was seen in a shootout, newest first."""
    return _shown(SHELF.take(database, slug))


def note_trial(
    database: Database, task_id: UUID, seen: Mapping[str, Any], who: str
) -> Observations:
    """Note an editing trial of a setup.

    Raises:
        RefusedError: dropped frames without their total, or more of them than there were.
    """
    dropped, total = seen.get("dropped"), seen.get("total")
    if (dropped is None) != (total is None):
        raise RefusedError(
            "total" if total is None else "dropped",
            "Dropped frames need both numbers: how many were dropped, of how many.",
        )
    if dropped is not None and total is not None and dropped > total:
        raise RefusedError("dropped", f"{dropped} frames cannot be dropped of {total}.")
    return _note(database, task_id, outputs.add_trial, seen, who)


def note_trouble(
    database: Database, task_id: UUID, seen: Mapping[str, Any], who: str
) -> Observations:
    """Note a trouble of a setup, of one of its runs where one is named.

    Raises:
        RefusedError: the run is of another setup or task; it is of kind other without a note.
    """
    if seen["kind"] == "other" and not seen.get("note"):
        raise RefusedError("note", "Say what happened: a trouble of another kind needs a note.")
    run_id = seen.get("run_id")
    if run_id is not None:
        with transaction(database) as session:
            run = runs.get_run(session, run_id)
        if (run.task_id, run.setup_id) != (task_id, seen["setup_id"]):
            raise RefusedError("run_id", "That run was not made of this task on this setup.")
    return _note(database, task_id, outputs.add_trouble, seen, who)


def _note(
    database: Database, task_id: UUID, add: Any, seen: Mapping[str, Any], who: str
) -> Observations:
    with transaction(database) as session:
        home = tasks.task_home(session, task_id)
        slug = shootouts.slug_of(session, home)
    if seen["setup_id"] not in SHELF.take(database, slug).setup_index:
        raise RefusedError("setup_id", "This setup is not in this shootout's line-up.")
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        add(session, {"task_id": task_id, "who": who, "noted_at": datetime.now(UTC), **seen})
    return _shown(SHELF.take(database, slug))


def _shown(book: Book) -> Observations:
    newest = {(each.task_id, each.setup_id, each.kind): each for each in book.trials}
    return Observations(
        tuple(sorted(newest.values(), key=lambda each: each.noted_at, reverse=True)),
        tuple(reversed(book.troubles)),
    )
