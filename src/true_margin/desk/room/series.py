"""A shootout that goes on from another: everything in place, only what is new to time."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import asdict
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import transaction
from true_margin.desk.runs import earlier
from true_margin.desk.shootouts import shootouts as made
from true_margin.store import lineup, records, room, room_uses, shootouts, viewers
from true_margin.store.database import Database

_SETTINGS = (
    "subject",
    "currency",
    "confidence",
    "materiality",
    "prior_df",
    "prior_cv",
    "update_prior_df",
    "update_prior_cv",
    "unit_prior_cv",
    "planned_runs",
    "price_kind",
)
_NOT_A_VIEWERS_OWN = ("id", "version", "tasks", "owned_setup_id", "retired_at", "position")


def continue_shootout(database: Database, slug: str, name: str) -> records.Shootout:
    """Make a shootout that goes on from another.

    Its tasks, machines, runs and viewers come along; the runs as earlier rounds, so that a
    new machine can be held against them once one of the old ones is timed again.

    Args:
        database: where it is kept.
        slug: of the one before.
        name: of the new one.
    """
    before = SHELF.take(database, slug)
    settings = {field: getattr(before.shootout, field) for field in _SETTINGS}
    with transaction(database) as session:
        new = made.new_shootout(session, {**settings, "name": name})
        room.add_to_series(session, new.id, before.shootout.id)
    jobs = [task.id for task in before.tasks if not task.superseded]
    if jobs:
        earlier.bring_in(database, new.slug, slug, jobs)
    here = SHELF.take(database, new.slug)
    with transaction(database) as session:
        shootouts.bump_revision(session, new.id)
        _link_as_before(session, before, here)
        own_rows = _bring_rows(session, before, here)
        _bring_viewers(session, before, here, own_rows)
        _set_baseline(session, before, here)
        return shootouts.get_shootout(session, new.slug)


def _setup_here(before: Book, here: Book) -> dict[UUID, UUID]:
    """Setups of the one before to those that they have become, by machine and name."""

    def named(book: Book) -> dict[tuple[str, str], UUID]:
        return {(s.machine.casefold(), s.name.casefold()): s.id for s in book.setups}

    new = named(here)
    return {key: new[name] for name, key in named(before).items() if name in new}


def _task_here(before: Book, here: Book) -> dict[UUID, UUID]:
    def named(book: Book) -> dict[tuple[str, str], UUID]:
        live = [task for task in book.tasks if not task.superseded]
        return {(t.own_name.casefold(), t.app.casefold()): t.id for t in live}

    new = named(here)
    return {key: new[name] for name, key in named(before).items() if name in new}


def _link_as_before(session: Session, before: Book, here: Book) -> None:
    """What was one with something of the store room is one with it here too."""
    setups, jobs = _setup_here(before, here), _task_here(before, here)
    for use in room_uses.list_setup_uses(session):
        if use.setup_id in setups and use.room_machine_id is not None:
            state = use.state or use.setup
            room_uses.link_setups(session, [setups[use.setup_id]], use.room_machine_id, state)
    for task in room_uses.list_task_uses(session):
        if task.task_id in jobs and task.standing_id is not None:
            room_uses.link_tasks(session, [jobs[task.task_id]], task.standing_id)
    room.add_event(session, here.shootout.id, "continued", {"from": str(before.shootout.id)}, "")


def _bring_rows(session: Session, before: Book, here: Book) -> dict[str, str]:
    """Rows of the spec sheet that the reviewer added, with what machines have in them.

    Returns:
        The field of each there, to its field here.
    """
    fields = {
        str(row.id): str(
            lineup.add_free_row(
                session,
                here.shootout.id,
                {"title": row.title, "unit": row.unit, "number": row.number},
            )
        )
        for row in before.free_rows
    }
    for machine in here.machines:
        if fields.keys() & machine.specs.keys():
            specs = {fields.get(field, field): value for field, value in machine.specs.items()}
            lineup.change_machine(session, machine.id, machine.version, {"specs": specs})
    return fields


def _bring_viewers(session: Session, before: Book, here: Book, own_rows: Mapping[str, str]) -> None:
    setups, jobs = _setup_here(before, here), _task_here(before, here)
    for viewer in before.viewers:
        if viewer.retired_at is not None:
            continue
        own: dict[str, Any] = {
            field: value
            for field, value in asdict(viewer).items()
            if field not in _NOT_A_VIEWERS_OWN
        }
        owned = None if viewer.owned_setup_id is None else setups.get(viewer.owned_setup_id)
        needs = [
            {**need, "about": own_rows.get(need["about"], need["about"])} for need in viewer.needs
        ]
        fields = {**own, "owned_setup_id": owned, "needs": needs}
        key = viewers.add_viewer(session, here.shootout.id, fields)
        parts = [asdict(part) for part in viewer.tasks if part.task_id in jobs]
        viewers.set_tasks(session, key, [{**p, "task_id": jobs[p["task_id"]]} for p in parts])


def _set_baseline(session: Session, before: Book, here: Book) -> None:
    was = before.shootout.baseline_setup_id
    setup = None if was is None else _setup_here(before, here).get(was)
    if setup is not None:
        now = shootouts.get_shootout(session, here.shootout.slug)
        shootouts.change_shootout(session, now, now.version, {"baseline_setup_id": setup})
