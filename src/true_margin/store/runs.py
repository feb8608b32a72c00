"""Runs, their revisions and their marks in the store. Nothing is deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID, uuid4

from sqlalchemy import func, insert, select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row, withdraw_row
from true_margin.store.tables import MarkRow, RunRevisionRow, RunRow

REVISED = (
    "setup_id",
    "task_id",
    "round_id",
    "place",
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
    "conditions",
    "reason",
    "note",
    "checked",
    "who",
)
"""Fields that a revision keeps."""


def read_runs(
    session: Session, shootout_id: UUID, after: int | None = None
) -> tuple[tuple[records.Run, ...], int]:
    """Read the runs of a shootout, all or those that were written after a stamp.

    Returns:
        Runs in the order of their places, and the latest of their stamps.
    """
    # Columns, not entities: a large book is read several times faster so.
    columns = [getattr(RunRow, name) for name in records.Run.__dataclass_fields__]
    query = select(RunRow.stamp, *columns).where(RunRow.shootout_id == shootout_id)
    if after is not None:
        query = query.where(RunRow.stamp > after)
    rows = session.execute(query.order_by(RunRow.place, RunRow.created_at)).all()
    return tuple(records.Run(*row[1:]) for row in rows), max((r[0] for r in rows), default=0)


def read_marks(
    session: Session, shootout_id: UUID, after: int | None = None
) -> tuple[tuple[records.Mark, ...], int]:
    """Read the marks of a shootout, all or those that were written after a stamp.

    Returns:
        Marks in time order, and the latest of their stamps.
    """
    columns = [getattr(MarkRow, name) for name in records.Mark.__dataclass_fields__]
    query = (
        select(MarkRow.stamp, *columns)
        .join(RunRow, RunRow.id == MarkRow.run_id)
        .where(RunRow.shootout_id == shootout_id)
    )
    if after is not None:
        query = query.where(MarkRow.stamp > after)
    rows = session.execute(query.order_by(MarkRow.elapsed_s)).all()
    return tuple(records.Mark(*row[1:]) for row in rows), max((r[0] for r in rows), default=0)


def count_by_setup(session: Session, setup_ids: Sequence[UUID]) -> dict[UUID, int]:
    """Count the runs of some setups, void and failed ones included."""
    rows = session.execute(
        select(RunRow.setup_id, func.count())
        .where(RunRow.setup_id.in_(setup_ids))
        .group_by(RunRow.setup_id)
    )
    return {setup_id: int(count) for setup_id, count in rows}


def count_of_task(session: Session, task_id: UUID) -> int:
    """Count the runs of a task, those of machines in the archive included."""
    query = select(func.count()).select_from(RunRow).where(RunRow.task_id == task_id)
    return session.scalar(query) or 0


def get_run(session: Session, run_id: UUID) -> records.Run:
    """Get one run.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, RunRow, run_id, "run"), records.Run)


def run_home(session: Session, run_id: UUID) -> UUID:
    """Give the shootout that a run belongs to.

    Raises:
        MissingRowError: no such run.
    """
    home: UUID = get_row(session, RunRow, run_id, "run").shootout_id
    return home


def find_by_client_key(session: Session, shootout_id: UUID, client_key: str) -> records.Run | None:
    """Find the run that a client already stored under this key."""
    row = session.scalar(
        select(RunRow).where(RunRow.shootout_id == shootout_id, RunRow.client_key == client_key)
    )
    return None if row is None else record_of(row, records.Run)


def next_place(session: Session, shootout_id: UUID) -> int:
    """Give the place after the last run's."""
    last = session.scalar(select(func.max(RunRow.place)).where(RunRow.shootout_id == shootout_id))
    return (last or 0) + 1


def any_known(session: Session, keys: Sequence[UUID]) -> bool:
    """Say whether a run has one of these ids."""
    return session.scalar(select(RunRow.id).where(RunRow.id.in_(keys)).limit(1)) is not None


def add_run(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a run."""
    return insert_row(session, RunRow, {"shootout_id": shootout_id, **fields})


def add_runs(session: Session, shootout_id: UUID, rows: Sequence[Mapping[str, Any]]) -> None:
    """Add many runs at once; each row may hold other fields than the next."""
    named = {name for row in rows for name in row}
    if rows:
        filled = [
            {"id": uuid4(), "shootout_id": shootout_id, **dict.fromkeys(named), **row}
            for row in rows
        ]
        session.execute(insert(RunRow), filled)


def first_run_at(session: Session, shootout_id: UUID) -> datetime | None:
    """When the first run of a shootout was made, voids and the archive included."""
    made = func.coalesce(RunRow.started_at, RunRow.created_at)
    return session.scalar(select(func.min(made)).where(RunRow.shootout_id == shootout_id))


def setups_that_count(session: Session, shootout_id: UUID) -> frozenset[UUID]:
    """Setups with a run that is not void."""
    query = select(RunRow.setup_id).where(
        RunRow.shootout_id == shootout_id, RunRow.status != "void"
    )
    return frozenset(session.scalars(query.distinct()))


def known_client_keys(session: Session, shootout_id: UUID, prefix: str) -> frozenset[str]:
    """Give the client keys with this beginning that are stored already."""
    found = session.scalars(
        select(RunRow.client_key).where(
            RunRow.shootout_id == shootout_id, RunRow.client_key.startswith(prefix)
        )
    )
    return frozenset(found)


def revise_run(
    session: Session, run: records.Run, version: int, changes: Mapping[str, Any], who: str, why: str
) -> None:
    """Change a run and keep it as it stood before.

    Raises:
        StaleVersionError: it was changed since, with the run as it stands.
    """
    update_row(
        session,
        RunRow,
        run.id,
        version,
        changes,
        what="run",
        current=lambda: get_run(session, run.id),
    )
    before = {name: _plain(getattr(run, name)) for name in REVISED}
    insert_row(
        session,
        RunRevisionRow,
        {"run_id": run.id, "version": version, "before": before, "who": who, "why": why},
    )


def follow_run(session: Session, run: records.Run, version: int, fields: Mapping[str, Any]) -> None:
    """Bring a run to a later version whose history is added beside it.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session,
        RunRow,
        run.id,
        run.version,
        fields,
        what="run",
        current=lambda: get_run(session, run.id),
    )
    # The history that comes with it counts further than one.
    get_row(session, RunRow, run.id, "run").version = version
    session.flush()


def add_revision(session: Session, run_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add an earlier revision that came with a data pack."""
    return insert_row(session, RunRevisionRow, {"run_id": run_id, **fields})


def _plain(value: object) -> object:
    return str(value) if isinstance(value, UUID) else value


def list_revisions(session: Session, run_id: UUID) -> tuple[records.RunRevision, ...]:
    """List a run's earlier revisions, newest first."""
    rows = session.scalars(
        select(RunRevisionRow)
        .where(RunRevisionRow.run_id == run_id)
        .order_by(RunRevisionRow.version.desc())
    )
    return tuple(record_of(row, records.RunRevision) for row in rows)


def list_marks(session: Session, run_ids: Iterable[UUID]) -> tuple[records.Mark, ...]:
    """List the marks of some runs, in time order, withdrawn ones too."""
    rows = session.scalars(
        select(MarkRow)
        .where(MarkRow.run_id.in_(list(run_ids)))
        .order_by(MarkRow.elapsed_s, MarkRow.withdrawn_at.nulls_last())
    )
    return tuple(record_of(row, records.Mark) for row in rows)


def mark_run(session: Session, mark_id: UUID) -> UUID:
    """Give the run that a mark is of.

    Raises:
        MissingRowError: no such mark.
    """
    run: UUID = get_row(session, MarkRow, mark_id, "mark").run_id
    return run


def withdraw_mark(session: Session, mark_id: UUID, at: datetime, why: str) -> None:
    """Say that a mark counts no more; one that was withdrawn already stays as it is."""
    withdraw_row(session, MarkRow, mark_id, at, why, what="mark")


def add_marks(session: Session, rows: Sequence[Mapping[str, Any]]) -> None:
    """Add many marks at once; each row names its run."""
    if rows:
        session.execute(insert(MarkRow), [{"id": uuid4(), **row} for row in rows])


def add_mark(session: Session, run_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a mark to a run."""
    return insert_row(session, MarkRow, {"run_id": run_id, **fields})
