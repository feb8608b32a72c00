"""Tasks: what is timed."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Form, UploadFile
from fastapi.concurrency import run_in_threadpool

from true_margin.app.context import DatabaseHere, Person
from true_margin.app.requests import NewTask, TaskChange
from true_margin.desk import tasks, timelines
from true_margin.desk.errors import RefusedError
from true_margin.exchange.timeline_files import MAX_BYTES
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


@router.get("/timelines/{timeline_id}")
def show_timeline(timeline_id: UUID, database: DatabaseHere) -> timelines.TimelineSheet:
    """Show a timeline: its reference drawn, and whether each setup has the same edit."""
    return timelines.show_timeline(database, timeline_id)


@router.post("/timelines/{timeline_id}/files", status_code=201)
async def add_timeline_file(
    timeline_id: UUID,
    file: UploadFile,
    database: DatabaseHere,
    who: Person,
    setup_id: Annotated[UUID | None, Form(description="Setup that it was saved on")] = None,
    edl_rate: Annotated[
        float | None, Form(gt=0, le=1000, allow_inf_nan=False, description="Frames/s of an .edl")
    ] = None,
) -> timelines.TimelineSheet:
    """Keep a file of a timeline, as saved on a setup or as the reviewer keeps it."""
    content = await file.read(MAX_BYTES + 1)
    if len(content) > MAX_BYTES:
        raise RefusedError("file", f"A timeline may have {MAX_BYTES // 1_000_000} MB at most.")
    name = (file.filename or "").replace("\\", "/").rsplit("/", 1)[-1][:200]
    fields = {"name": name, "content": content, "setup_id": setup_id, "edl_rate": edl_rate}
    return await run_in_threadpool(timelines.add_file, database, timeline_id, fields, who)


@router.get("/timelines/{timeline_id}/difference")
def show_difference(
    timeline_id: UUID, one: UUID, other: UUID, database: DatabaseHere
) -> timelines.DifferenceView:
    """List what is in one file of a timeline and not in the other."""
    return timelines.show_difference(database, timeline_id, one, other)
