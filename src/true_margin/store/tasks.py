"""Tasks and timelines in the store."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.core.parity import Sensitivity
from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables import AppRow, TaskRow, TimelineRow


def list_tasks(session: Session, shootout_id: UUID) -> tuple[records.Task, ...]:
    """List tasks in their order, those that another follows last, with app and timeline."""
    rows = session.execute(
        select(TaskRow, AppRow.name, TimelineRow.name, TimelineRow.length_s)
        .join(AppRow, AppRow.id == TaskRow.app_id)
        .outerjoin(TimelineRow, TimelineRow.id == TaskRow.timeline_id)
        .where(TaskRow.shootout_id == shootout_id)
        .order_by(TaskRow.position, TaskRow.created_at)
    )
    found = rows.all()
    followed = {row.follows_id for row, *_ in found}
    names = told_apart([(row.name, app) for row, app, *_ in found])
    listed = [
        record_of(
            row,
            records.Task,
            name=name,
            own_name=row.name,
            sensitivities=tuple(Sensitivity(**each) for each in row.sensitivities),
            app=app,
            timeline=timeline,
            timeline_length_s=length,
            superseded=row.id in followed,
        )
        for name, (row, app, timeline, length) in zip(names, found, strict=True)
    ]
    return tuple(sorted(listed, key=lambda task: task.superseded))


def told_apart(named: Sequence[tuple[str, str]]) -> list[str]:
    """Names of tasks, with the app where two have one name.

    Args:
        named: name and app of each task.

    Example:
        >>> told_apart([("Photos", "Loom"), ("Photos", "Kiln"), ("Film", "Kiln")])
        ['Photos in Loom', 'Photos in Kiln', 'Film']
    """
    given = Counter(name.casefold() for name, _ in named)
    taken = {name.casefold() for name, _ in named if given[name.casefold()] == 1}
    told = []
    for name, app in named:
        own = name
        if given[name.casefold()] > 1:
            own = f"{name} in {app}"
            while own.casefold() in taken:
                own = f"{own} ({app})"
            taken.add(own.casefold())
        told.append(own)
    return told


def task_home(session: Session, task_id: UUID) -> UUID:
    """Give the shootout that a task stands in.

    Raises:
        MissingRowError: no such task.
    """
    home: UUID = get_row(session, TaskRow, task_id, "task").shootout_id
    return home


def add_task(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a task after the others."""
    last = session.scalar(
        select(func.max(TaskRow.position)).where(TaskRow.shootout_id == shootout_id)
    )
    position = 0 if last is None else last + 1
    return insert_row(
        session, TaskRow, {"shootout_id": shootout_id, "position": position, **fields}
    )


def links_of(session: Session, task_id: UUID) -> dict[str, Any]:
    """Give the app and timeline of a task by their columns.

    Raises:
        MissingRowError: no such task.
    """
    row = get_row(session, TaskRow, task_id, "task")
    return {"app_id": row.app_id, "timeline_id": row.timeline_id}


def change_task(session: Session, task_id: UUID, version: int, changes: Mapping[str, Any]) -> None:
    """Change a task that still has this version.

    Raises:
        MissingRowError: no such task.
        StaleVersionError: it was changed since, with the task as it stands.
    """

    def current() -> records.Task:
        tasks = list_tasks(session, task_home(session, task_id))
        return next(task for task in tasks if task.id == task_id)

    update_row(session, TaskRow, task_id, version, changes, what="task", current=current)


def timeline_named(
    session: Session, shootout_id: UUID, name: str, length_s: float | None = None
) -> UUID:
    """Give the timeline of this name, adding it where it is new; fills in its length."""
    row = session.scalar(
        select(TimelineRow).where(TimelineRow.shootout_id == shootout_id, TimelineRow.name == name)
    )
    if row is None:
        fields = {"shootout_id": shootout_id, "name": name, "length_s": length_s}
        return insert_row(session, TimelineRow, fields)
    if length_s is not None:
        row.length_s = length_s
        session.flush()
    return row.id
