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
    if (seen["kind"] == "own kind") != bool(seen.get("own_kind")):
        raise RefusedError("own_kind", "Say what was tried: an own kind needs its name.")
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
    own = dict(seen)
    if not own.get("app_version"):
        own["app_version"] = _version_now(SHELF.take(database, slug), task_id)
    now = datetime.now(UTC)
    with transaction(database) as session:
        shootouts.bump_revision(session, home)
        corrects = own.get("corrects_id")
        if corrects is not None:
            kind: outputs.Logbook = "trials" if "grade" in own else "troubles"
            if outputs.logged_task(session, kind, corrects) != task_id:
                raise RefusedError("corrects_id", "What it corrects is of another task.")
            outputs.withdraw_logged(session, kind, corrects, now, "corrected")
        add(session, {"task_id": task_id, "who": who, "noted_at": now, **own})
    return _shown(SHELF.take(database, slug))


def _version_now(book: Book, task_id: UUID) -> str | None:
    """The version of a task's app in the latest round; None where nobody noted one."""
    task = next((t for t in (*book.tasks, *book.observed) if t.id == task_id), None)
    if task is None or not book.rounds:
        return None
    return next((v.version for v in book.rounds[-1].versions if v.app == task.app), None)


def withdraw_entry(
    database: Database, kind: outputs.Logbook, entry_id: UUID, why: str
) -> Observations:
    """Say that an entry of the log counts no more, and why; it stays on record."""
    with transaction(database) as session:
        home = tasks.task_home(session, outputs.logged_task(session, kind, entry_id))
        slug = shootouts.slug_of(session, home)
        shootouts.bump_revision(session, home)
        outputs.withdraw_logged(session, kind, entry_id, datetime.now(UTC), why)
    return _shown(SHELF.take(database, slug))


def _shown(book: Book) -> Observations:
    counted = [each for each in book.trials if each.withdrawn_at is None]
    newest = {(each.task_id, each.setup_id, each.what): each for each in counted}
    return Observations(
        tuple(sorted(newest.values(), key=lambda each: each.noted_at, reverse=True)),
        tuple(each for each in reversed(book.troubles) if each.withdrawn_at is None),
    )
