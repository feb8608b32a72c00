"""Tasks: what is timed."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import Form, UploadFile
from fastapi.concurrency import run_in_threadpool

from true_margin.app.answers.tasks import Sameness, Task, TaskSheet, TimelineSheet
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person, WhoHere
from true_margin.app.requests import (
    CopiedTask,
    NewMeasure,
    NewOutputLook,
    NewPreset,
    NewSettingsUsed,
    NewTask,
    SeenPlayback,
    TaskChange,
)
from true_margin.app.uploads import plain_name
from true_margin.desk.errors import RefusedError
from true_margin.desk.runs import measure
from true_margin.desk.tasks import outputs, tasks, timelines
from true_margin.exchange import probe_files
from true_margin.exchange.timeline_files import MAX_BYTES
from true_margin.store import records

router = stage_router("tasks")


@router.get("/shootouts/{slug}/tasks", response_model=list[TaskSheet])
def show_tasks(slug: str, database: DatabaseHere) -> list[tasks.TaskSheet]:
    """List tasks with what their runs say so far."""
    return list(tasks.show_tasks(database, slug))


@router.post("/shootouts/{slug}/tasks", status_code=201, response_model=Task)
def add_task(slug: str, body: NewTask, database: DatabaseHere) -> records.Task:
    """Add a task."""
    return tasks.add_task(database, slug, body.model_dump(exclude_unset=True))


@router.patch("/tasks/{task_id}", response_model=Task)
def change_task(task_id: UUID, body: TaskChange, database: DatabaseHere) -> records.Task:
    """Change fields of a task; refused where someone else changed it first."""
    changes = body.model_dump(exclude_unset=True, exclude={"version"})
    return tasks.change_task(database, task_id, body.version, changes)


@router.post("/tasks/{task_id}/copies", status_code=201, response_model=Task)
def copy_task(task_id: UUID, body: CopiedTask, database: DatabaseHere) -> records.Task:
    """Make the same task in another app."""
    return tasks.copy_task(database, task_id, body.app)


@router.post("/tasks/{task_id}/measure")
def change_measure(
    task_id: UUID, body: NewMeasure, database: DatabaseHere, who: Person
) -> measure.MeasureChange:
    """Say what another measure makes of every run of a task, and do it where that is wanted."""
    wanted = measure.Wanted(body.measure, body.unit or None, body.bare)
    return measure.change_measure(database, task_id, body.version, wanted, who, really=body.really)


@router.get("/task-words")
def task_words(database: DatabaseHere, who: WhoHere) -> tasks.TaskWords:
    """Give what a form for tasks offers: operations, events, settings, presets."""
    return tasks.task_words(database, who.person_id)


@router.post("/presets", status_code=201)
def keep_preset(body: NewPreset, database: DatabaseHere, who: WhoHere) -> tasks.TaskWords:
    """Keep export settings under a name, for any shootout."""
    return tasks.keep_preset(database, body.name, body.settings, who.person_id)


@router.get("/tasks/{task_id}/sameness", response_model=Sameness)
def show_sameness(task_id: UUID, database: DatabaseHere) -> outputs.Sameness:
    """Say for every setup whether it did the same job as the task asks for."""
    return outputs.show_sameness(database, task_id)


@router.post("/tasks/{task_id}/settings-used", status_code=201, response_model=Sameness)
def note_settings(
    task_id: UUID, body: NewSettingsUsed, database: DatabaseHere, who: Person
) -> outputs.Sameness:
    """Note the export settings that were used on a setup."""
    return outputs.note_settings(database, task_id, body.setup_id, body.settings, who)


@router.post("/tasks/{task_id}/looks", status_code=201, response_model=Sameness)
def note_look(
    task_id: UUID, body: NewOutputLook, database: DatabaseHere, who: Person
) -> outputs.Sameness:
    """Note what a person saw and heard of an exported file."""
    look = body.model_dump(exclude={"setup_id"})
    return outputs.note_look(database, task_id, body.setup_id, look, who)


@router.post("/tasks/{task_id}/playback", status_code=201, response_model=Sameness)
def note_playback(
    task_id: UUID, body: SeenPlayback, database: DatabaseHere, who: Person
) -> outputs.Sameness:
    """Note the preview quality that a setup held."""
    seen = body.model_dump(exclude={"setup_id"})
    return outputs.note_playback(database, task_id, body.setup_id, seen, who)


@router.post("/tasks/{task_id}/outputs", status_code=201, response_model=Sameness)
async def add_output(
    task_id: UUID,
    file: UploadFile,
    database: DatabaseHere,
    who: Person,
    setup_id: Annotated[UUID, Form(description="Setup that exported the file")],
    run_id: Annotated[UUID | None, Form(description="Run that it came from; any without")] = None,
    really: Annotated[
        bool, Form(description="The machine really wrote a file of so different a length")
    ] = False,
) -> outputs.Sameness:
    """Keep what a probe said of the file that a setup exported."""
    content = await file.read(probe_files.MAX_BYTES + 1)
    name = plain_name(file, "file.json")
    fields = {"name": name, "content": content, "run_id": run_id, "really": really}
    return await run_in_threadpool(outputs.add_output, database, task_id, setup_id, fields, who)


@router.get("/timelines/{timeline_id}", response_model=TimelineSheet)
def show_timeline(timeline_id: UUID, database: DatabaseHere) -> timelines.TimelineSheet:
    """Show a timeline: its reference drawn, and whether each setup has the same edit."""
    return timelines.show_timeline(database, timeline_id)


@router.post("/timelines/{timeline_id}/files", status_code=201, response_model=TimelineSheet)
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
    name = plain_name(file, "file.json")
    fields = {"name": name, "content": content, "setup_id": setup_id, "edl_rate": edl_rate}
    return await run_in_threadpool(timelines.add_file, database, timeline_id, fields, who)


@router.get("/timelines/{timeline_id}/difference")
def show_difference(
    timeline_id: UUID, one: UUID, other: UUID, database: DatabaseHere
) -> timelines.DifferenceView:
    """List what is in one file of a timeline and not in the other."""
    return timelines.show_difference(database, timeline_id, one, other)
