"""What is seen between runs: editing trials and troubles; observations, never a speed."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID

from true_margin.core.errors import QuantityError
from true_margin.core.numerals import numerals
from true_margin.core.quantities import parse_amount, parse_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.runs.marks import picture_columns
from true_margin.store import outputs, records, runs, shootouts
from true_margin.store.database import Database
from true_margin.store.outputs import Logbook


@dataclass(frozen=True, slots=True)
class Observations:
    """The trials that count (the newest of each setup, task and kind), and every trouble."""

    trials: tuple[records.Trial, ...]
    troubles: tuple[records.Trouble, ...]


def show_observations(database: Database, slug: str) -> Observations:
    """Give what was seen in a shootout, newest first."""
    return _shown(SHELF.take(database, slug))


def note_trial(database: Database, slug: str, seen: Mapping[str, Any], who: str) -> Observations:
    """Note an editing trial of a setup: of a task, or of an app without one.

    Raises:
        RefusedError: dropped frames without their total, or more of them than there were; a
            number that cannot be read; a setup or task of elsewhere.
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
    return _note(database, slug, outputs.add_trial, seen, who)


def note_trouble(database: Database, slug: str, seen: Mapping[str, Any], who: str) -> Observations:
    """Note a trouble of a setup: of a task, an app or the machine alone, or of one of its runs.

    Raises:
        RefusedError: the run is of another setup or task; it is of kind other without a note.
    """
    if seen["kind"] == "other" and not seen.get("note"):
        raise RefusedError("note", "Say what happened: a trouble of another kind needs a note.")
    run_id = seen.get("run_id")
    if run_id is not None:
        with transaction(database) as session:
            run = runs.get_run(session, run_id)
        if (run.task_id, run.setup_id) != (seen.get("task_id"), seen["setup_id"]):
            raise RefusedError("run_id", "That run was not made of this task on this setup.")
    return _note(database, slug, outputs.add_trouble, seen, who)


def _note(
    database: Database, slug: str, add: Any, seen: Mapping[str, Any], who: str
) -> Observations:
    own = dict(seen)
    book = SHELF.take(database, slug)
    app = own.pop("app", None)
    _check_place(book, own, app)
    _check_measured(own.get("measured"))
    if not own.get("app_version"):
        own["app_version"] = _version_now(book, own.get("task_id"), app)
    now = datetime.now(UTC)
    with transaction(database) as session:
        home = book.shootout.id
        shootouts.bump_revision(session, home)
        if app:
            own["app_id"] = shootouts.app_named(session, home, app)
        corrects = own.get("corrects_id")
        if corrects is not None:
            kind: Logbook = "trials" if "grade" in own else "troubles"
            if outputs.logged_home(session, kind, corrects) != home:
                raise RefusedError("corrects_id", "What it corrects is of another shootout.")
            outputs.withdraw_logged(session, kind, corrects, now, "corrected")
        add(session, {"who": who, "noted_at": now, **own})
    return _shown(SHELF.take(database, slug))


def _check_place(book: Book, seen: Mapping[str, Any], app: str | None) -> None:
    """Refuse what is of another shootout, or of a task and an app at once."""
    if seen["setup_id"] not in book.setup_index:
        raise RefusedError("setup_id", "This setup is not in this shootout's line-up.")
    task_id = seen.get("task_id")
    if task_id is not None and app:
        raise RefusedError("app", "The task says which app it is: leave one of them out.")
    if task_id is not None and all(t.id != task_id for t in (*book.tasks, *book.observed)):
        raise RefusedError("task_id", "This task is not in this shootout.")


def _check_measured(typed: str | None) -> None:
    """Refuse a number that is none; it is kept as typed."""
    if not typed:
        return
    try:
        parse_amount(typed, numerals())
    except QuantityError:
        try:
            parse_elapsed(typed, numerals())
        except QuantityError as error:
            raise RefusedError(
                "measured", f"{typed[:30]} is no number with a unit, such as 24 frames/s or 3 s."
            ) from error


def _version_now(book: Book, task_id: UUID | None, app: str | None) -> str | None:
    """The version of a task's app in the latest round; None where nobody noted one."""
    task = next((t for t in (*book.tasks, *book.observed) if t.id == task_id), None)
    name = app if task is None else task.app
    if name is None or not book.rounds:
        return None
    return next((v.version for v in book.rounds[-1].versions if v.app == name), None)


def attach_picture(
    database: Database, kind: Logbook, entry_id: UUID, name: str, content: bytes, who: str
) -> Observations:
    """Keep a picture of the screen with an entry of the log.

    Raises:
        RefusedError: it is neither PNG nor JPEG, or larger than 5 MB.
    """
    columns = picture_columns(name, content)
    with transaction(database) as session:
        home = outputs.logged_home(session, kind, entry_id)
        slug = shootouts.slug_of(session, home)
        shootouts.bump_revision(session, home)
        of = {f"{kind.removesuffix('s')}_id": entry_id}
        outputs.add_picture(session, {**columns, **of, "who": who, "added_at": datetime.now(UTC)})
    return _shown(SHELF.take(database, slug))


def withdraw_entry(database: Database, kind: Logbook, entry_id: UUID, why: str) -> Observations:
    """Say that an entry of the log counts no more, and why; it stays on record."""
    with transaction(database) as session:
        home = outputs.logged_home(session, kind, entry_id)
        slug = shootouts.slug_of(session, home)
        shootouts.bump_revision(session, home)
        outputs.withdraw_logged(session, kind, entry_id, datetime.now(UTC), why)
    return _shown(SHELF.take(database, slug))


def _shown(book: Book) -> Observations:
    counted = [each for each in book.trials if each.withdrawn_at is None]
    newest = {(each.task_id or each.app, each.setup_id, each.what): each for each in counted}
    return Observations(
        tuple(sorted(newest.values(), key=lambda each: each.noted_at, reverse=True)),
        tuple(each for each in reversed(book.troubles) if each.withdrawn_at is None),
    )
