"""Tasks: what is timed."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from true_margin.app.context import DatabaseHere
from true_margin.app.requests import NewTask, TaskChange
from true_margin.desk import tasks
from true_margin.store import records

router = APIRouter(tags=["tasks"])


@router.get("/shootouts/{slug}/tasks")
def show_tasks(slug: str, database: DatabaseHere) -> list[tasks.TaskSheet]:
    """List tasks with what their runs say so far."""
    return list(tasks.show_tasks(database, slug))


@router.post("/shootouts/{slug}/tasks", status_code=201)
def add_task(slug: str, body: NewTask, database: DatabaseHere) -> records.Task:
    """Add a task."""
    return tasks.add_task(database, slug, body.model_dump(exclude_unset=True))


@router.patch("/tasks/{task_id}")
def change_task(task_id: UUID, body: TaskChange, database: DatabaseHere) -> records.Task:
    """Change fields of a task; refused where someone else changed it first."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return tasks.change_task(database, task_id, body.version, changes)
