"""Runs: the book and the entry line. There is no delete."""

from __future__ import annotations

from uuid import UUID

from fastapi import Response, UploadFile
from fastapi.concurrency import run_in_threadpool

from true_margin.app.answers.runs import (
    BookInBrief,
    Observations,
    RunDetail,
    RunsChanged,
    StoredRun,
)
from true_margin.app.bodies import stage_router
from true_margin.app.context import DatabaseHere, Person
from true_margin.app.run_requests import (
    EntryText,
    ManyRuns,
    MarkPutRight,
    NewMarks,
    NewRatio,
    NewReading,
    NewRun,
    RunChange,
    RunRef,
    SeenTrial,
    SeenTrouble,
    TakeBack,
    Withdrawal,
)
from true_margin.app.uploads import plain_name
from true_margin.desk.bench import observed
from true_margin.desk.book import editing_log
from true_margin.desk.runs import changes as run_changes
from true_margin.desk.runs import entry, ratios, runs
from true_margin.desk.runs import marks as run_marks
from true_margin.store.database import Database
from true_margin.store.outputs import Logbook

router = stage_router("runs")


@router.get("/shootouts/{slug}/runs", response_model=BookInBrief)
def show_runs(slug: str, database: DatabaseHere) -> runs.RunBook:
    """Show all runs in brief, with the checks' flags."""
    return runs.show_runs(database, slug)


@router.post("/shootouts/{slug}/runs", status_code=201, response_model=StoredRun)
def add_run(slug: str, body: NewRun, database: DatabaseHere, who: Person) -> runs.StoredRun:
    """Store a run and say what it changes; the same client key again stores nothing."""
    fields = body.model_dump() | {"conditions": body.conditions.model_dump(exclude_none=True)}
    return runs.add_run(database, slug, fields, who)


@router.get("/runs/{run_id}", response_model=RunDetail)
def show_run(run_id: UUID, database: DatabaseHere) -> runs.RunDetail:
    """Show one run with its history and marks."""
    return runs.show_run(database, run_id)


@router.patch("/runs/{run_id}", response_model=StoredRun)
def revise_run(
    run_id: UUID, body: RunChange, database: DatabaseHere, who: Person
) -> runs.StoredRun:
    """Void, correct or count a run again; what it was is kept."""
    changes = body.model_dump(exclude_unset=True, exclude={"version", "why"})
    return runs.revise_run(database, run_id, body.version, changes, who, body.why)


@router.post("/runs/{run_id}/marks", status_code=201, response_model=RunDetail)
def add_marks(run_id: UUID, body: NewMarks, database: DatabaseHere) -> runs.RunDetail:
    """Add progress readings to a run; those that it has already change nothing."""
    return run_marks.add_marks(database, run_id, [mark.model_dump() for mark in body.marks])


@router.post("/runs/{run_id}/readings", status_code=201, response_model=RunDetail)
def note_reading(run_id: UUID, body: NewReading, database: DatabaseHere) -> runs.RunDetail:
    """Keep a reading that is typed of a run that is over, beside what is there."""
    return run_marks.note_reading(database, run_id, body.model_dump())


@router.post("/marks/{mark_id}/withdrawal", response_model=RunDetail)
def put_mark_right(mark_id: UUID, body: MarkPutRight, database: DatabaseHere) -> runs.RunDetail:
    """Withdraw a mark, and keep what it should have been; the first stays on record."""
    instead = None if body.instead is None else body.instead.model_dump()
    return run_marks.put_right(database, mark_id, body.why, instead)


@router.post("/runs/{run_id}/pictures", status_code=201, response_model=RunDetail)
async def attach_picture(
    run_id: UUID, file: UploadFile, database: DatabaseHere, who: Person
) -> runs.RunDetail:
    """Keep a picture of the screen with a run: PNG or JPEG, up to 5 MB."""
    content = await file.read(run_marks.MOST_PICTURE_BYTES + 1)
    name = plain_name(file, "picture")
    return await run_in_threadpool(run_marks.attach_picture, database, run_id, name, content, who)


@router.get(
    "/pictures/{picture_id}",
    response_class=Response,
    responses={200: {"content": {"image/png": {}, "image/jpeg": {}}}},
)
def show_picture(picture_id: UUID, database: DatabaseHere) -> Response:
    """Give a picture as it came."""
    media_type, content = run_marks.show_picture(database, picture_id)
    headers = {"X-Content-Type-Options": "nosniff", "Cache-Control": "private, max-age=86400"}
    return Response(content, media_type=media_type, headers=headers)


@router.post("/shootouts/{slug}/runs/changes", response_model=RunsChanged)
def revise_many(
    slug: str, body: ManyRuns, database: DatabaseHere, who: Person
) -> run_changes.RunsChanged:
    """Void, fail or count again several runs, all or none; what they were is kept."""
    changes = {"status": body.status, "reason": body.reason}
    return run_changes.revise_many(database, slug, _seen(body.runs), changes, who, body.why)


@router.post("/shootouts/{slug}/runs/undo", response_model=RunsChanged)
def undo_change(
    slug: str, body: TakeBack, database: DatabaseHere, who: Person
) -> run_changes.RunsChanged:
    """Take the newest change of runs back, as one more change of their history."""
    return run_changes.undo_change(database, slug, _seen(body.runs), who)


def _seen(refs: list[RunRef]) -> list[run_changes.RunAt]:
    return [run_changes.RunAt(ref.id, ref.version) for ref in refs]


@router.get("/shootouts/{slug}/observations", response_model=Observations)
def show_observations(slug: str, database: DatabaseHere) -> observed.Observations:
    """Show the editing trials that count, and every trouble."""
    return observed.show_observations(database, slug)


@router.post("/shootouts/{slug}/trials", status_code=201, response_model=Observations)
def note_trial(
    slug: str, body: SeenTrial, database: DatabaseHere, who: Person
) -> observed.Observations:
    """Note how the edit itself went on a setup."""
    return observed.note_trial(database, slug, body.model_dump(), who)


@router.post("/shootouts/{slug}/troubles", status_code=201, response_model=Observations)
def note_trouble(
    slug: str, body: SeenTrouble, database: DatabaseHere, who: Person
) -> observed.Observations:
    """Note a fault worth telling that is not a time."""
    return observed.note_trouble(database, slug, body.model_dump(), who)


@router.get("/shootouts/{slug}/log")
def show_log(slug: str, database: DatabaseHere) -> editing_log.EditingLog:
    """Show everything that was seen besides times: what counts now, and day by day."""
    return editing_log.show_log(database, slug)


@router.post("/trials/{trial_id}/withdrawal", response_model=Observations)
def withdraw_trial(
    trial_id: UUID, body: Withdrawal, database: DatabaseHere
) -> observed.Observations:
    """Withdraw an editing trial; it stays on record."""
    return observed.withdraw_entry(database, "trials", trial_id, body.why)


@router.post("/trials/{trial_id}/pictures", status_code=201, response_model=Observations)
async def picture_trial(
    trial_id: UUID, file: UploadFile, database: DatabaseHere, who: Person
) -> observed.Observations:
    """Keep a picture of the screen with an editing trial: PNG or JPEG, up to 5 MB."""
    return await _picture("trials", trial_id, file, database, who)


@router.post("/troubles/{trouble_id}/pictures", status_code=201, response_model=Observations)
async def picture_trouble(
    trouble_id: UUID, file: UploadFile, database: DatabaseHere, who: Person
) -> observed.Observations:
    """Keep a picture of the screen with a trouble: PNG or JPEG, up to 5 MB."""
    return await _picture("troubles", trouble_id, file, database, who)


async def _picture(
    kind: Logbook, entry_id: UUID, file: UploadFile, database: Database, who: str
) -> observed.Observations:
    content = await file.read(run_marks.MOST_PICTURE_BYTES + 1)
    name = plain_name(file, "picture")
    return await run_in_threadpool(
        observed.attach_picture, database, kind, entry_id, name, content, who
    )


@router.post("/troubles/{trouble_id}/withdrawal", response_model=Observations)
def withdraw_trouble(
    trouble_id: UUID, body: Withdrawal, database: DatabaseHere
) -> observed.Observations:
    """Withdraw a trouble; it stays on record."""
    return observed.withdraw_entry(database, "troubles", trouble_id, body.why)


@router.post("/tasks/{task_id}/ratios", status_code=201)
def note_ratio(
    task_id: UUID, body: NewRatio, database: DatabaseHere, who: Person
) -> ratios.NotedAnswer:
    """Note how many times as fast a setup is as another, as somebody else says."""
    return ratios.note_ratio(database, task_id, body.model_dump(), who)


@router.post("/ratios/{ratio_id}/withdrawal")
def withdraw_ratio(ratio_id: UUID, body: Withdrawal, database: DatabaseHere) -> ratios.NotedAnswer:
    """Withdraw a noted ratio; it stays on record."""
    return ratios.withdraw_ratio(database, ratio_id, body.why)


@router.post("/shootouts/{slug}/entry")
def read_entry(slug: str, body: EntryText, database: DatabaseHere) -> entry.EntryReading:
    """Say what an entry line means so far; stores nothing."""
    return entry.read_line(database, slug, body.line)
