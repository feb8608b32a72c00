"""Changes of many runs at once, and taking the last change back; all or nothing."""

from __future__ import annotations

from collections.abc import Callable, Mapping, Sequence
from dataclasses import dataclass
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.wording import format_elapsed
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.margins.verdicts import what_else_changed
from true_margin.desk.runs.runs import KnownNames, read_places, revised_columns
from true_margin.store import records, runs, shootouts
from true_margin.store.database import Database

UNDONE_ENTRY = "entered by mistake and undone"
_TAKEN_BACK = (
    "status",
    "value",
    "typed",
    "resolution",
    "approximate",
    "bound",
    "method",
    "u",
    "poll_s",
    "placed_u",
    "reached",
    "reason",
    "note",
)


@dataclass(frozen=True, slots=True)
class RunAt:
    """A run as somebody saw it: with its version then."""

    id: UUID
    version: int


@dataclass(frozen=True, slots=True)
class RunsChanged:
    """Runs as they stand after a change, and what it changes in the calls."""

    runs: tuple[records.Run, ...]
    says: str
    changes: tuple[str, ...]


def revise_many(
    database: Database,
    slug: str,
    which: Sequence[RunAt],
    changes: Mapping[str, Any],
    who: str,
    why: str,
) -> RunsChanged:
    """Change runs alike (void them, fail them, count them again); each keeps what it was.

    Raises:
        RefusedError: a run is of another shootout; nothing is changed.
        StaleError: one was changed since; nothing is changed.
    """

    def change(_: Session, places: KnownNames, run: records.Run) -> dict[str, Any]:
        return revised_columns(places, run, changes)

    word = {"void": "Voided", "failed": "Marked as failed", "ok": "Counted"}.get(
        str(changes.get("status")), "Changed"
    )
    return _change(database, slug, which, change, who, why, word)


def merge_rounds(
    database: Database, slug: str, from_id: UUID, into_id: UUID, who: str
) -> RunsChanged:
    """Move all runs of a round into another; each keeps in its history where it was.

    Raises:
        RefusedError: one of them is not a round of this shootout, or both are the same.
    """
    book = SHELF.take(database, slug)
    names = {round_.id: round_.name for round_ in book.rounds}
    if from_id == into_id or not {from_id, into_id} <= set(names):
        raise RefusedError("from_id", "Two rounds of this shootout are needed.")
    which = [RunAt(run.id, run.version) for run in book.runs if run.round_id == from_id]

    def change(_: Session, places: KnownNames, run: records.Run) -> dict[str, Any]:
        return revised_columns(places, run, {"round_id": into_id})

    why = f"{names[from_id]} and {names[into_id]} are one round: same versions"
    return _change(database, slug, which, change, who, why, "Moved")


def undo_change(database: Database, slug: str, which: Sequence[RunAt], who: str) -> RunsChanged:
    """Take the newest change of each run back, as one more change of its history.

    A run that was never changed was just entered: taking that back voids it.

    Raises:
        StaleError: one was changed since it was seen; nothing is changed.
    """

    def change(session: Session, places: KnownNames, run: records.Run) -> dict[str, Any]:
        revisions = runs.list_revisions(session, run.id)
        if not revisions:
            return {"status": "void", "reason": UNDONE_ENTRY}
        before = revisions[0].before
        back = {name: before[name] for name in _TAKEN_BACK if name in before}
        return back | _own_places(places, before)

    return _change(database, slug, which, change, who, "the last change taken back", "Taken back")


def _own_places(places: KnownNames, before: Mapping[str, Any]) -> dict[str, UUID]:
    """Where a run was before; what came with a pack names ids of elsewhere, or none."""
    known = {
        "setup_id": places.setups,
        "task_id": frozenset(places.tasks),
        "round_id": frozenset(round_.id for round_ in places.rounds),
    }
    named = {name: UUID(str(before[name])) for name in known if before.get(name)}
    return {name: key for name, key in named.items() if key in known[name]}


def _change(
    database: Database,
    slug: str,
    which: Sequence[RunAt],
    change: Callable[[Session, KnownNames, records.Run], dict[str, Any]],
    who: str,
    why: str,
    word: str,
) -> RunsChanged:
    before = SHELF.take(database, slug)
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id, rest=False)
        places = read_places(session, shootout.id)
        for each in which:
            if runs.run_home(session, each.id) != shootout.id:
                raise RefusedError("runs", "One of these runs is not in this shootout.")
            run = runs.get_run(session, each.id)
            columns = change(session, places, run)
            runs.revise_run(session, run, each.version, columns, who, why)
        changed = tuple(runs.get_run(session, each.id) for each in which)
    after = SHELF.take(database, slug)
    says = f"{word}: {_name(after, changed)}."
    return RunsChanged(changed, says, what_else_changed(before, after))


def _name(book: Book, changed: Sequence[records.Run]) -> str:
    if len(changed) != 1:
        return f"{len(changed)} runs"
    run = changed[0]
    label = (
        book.setups[book.setup_index[run.setup_id]].label
        if run.setup_id in book.setup_index
        else "a run"
    )
    value = "" if run.value is None else f", {format_elapsed(run.value, run.resolution or 1.0)}"
    return f"{label}{value}"
