"""Runs: the book, the entry line, tables brought in. There is no delete."""

from __future__ import annotations

from uuid import UUID

from fastapi import APIRouter

from true_margin.app.context import DatabaseHere, Person
from true_margin.app.requests import EntryText, NewMarks, NewRun, RunChange, TableText
from true_margin.desk import entry, imports, runs
from true_margin.desk.imports import ImportRequest

router = APIRouter(tags=["runs"])


@router.get("/shootouts/{slug}/runs")
def show_runs(slug: str, database: DatabaseHere) -> runs.RunBook:
    """Show all runs with the checks' flags."""
    return runs.show_runs(database, slug)


@router.post("/shootouts/{slug}/runs", status_code=201)
def add_run(slug: str, body: NewRun, database: DatabaseHere, who: Person) -> runs.StoredRun:
    """Store a run and say what it changes; the same client key again stores nothing."""
    return runs.add_run(database, slug, body.model_dump(), who)


@router.get("/runs/{run_id}")
def show_run(run_id: UUID, database: DatabaseHere) -> runs.RunDetail:
    """Show one run with its history and marks."""
    return runs.show_run(database, run_id)


@router.patch("/runs/{run_id}")
def revise_run(
    run_id: UUID, body: RunChange, database: DatabaseHere, who: Person
) -> runs.StoredRun:
    """Void, correct or count a run again; what it was is kept."""
    changes = body.model_dump(exclude_unset=True, exclude={"version", "why"})
    return runs.revise_run(database, run_id, body.version, changes, who, body.why)


@router.post("/runs/{run_id}/marks", status_code=201)
def add_marks(run_id: UUID, body: NewMarks, database: DatabaseHere) -> runs.RunDetail:
    """Add progress readings to a run; those that it has already change nothing."""
    marks = [(mark.elapsed_s, mark.fraction) for mark in body.marks]
    return runs.add_marks(database, run_id, marks)


@router.post("/shootouts/{slug}/entry")
def read_entry(slug: str, body: EntryText, database: DatabaseHere) -> entry.EntryReading:
    """Say what an entry line means so far; stores nothing."""
    return entry.read_line(database, slug, body.line)


@router.post("/shootouts/{slug}/imports/preview")
def preview_import(slug: str, body: TableText, database: DatabaseHere) -> imports.ImportPreview:
    """Show how a table of runs would be stored; stores nothing."""
    return imports.preview_import(database, slug, ImportRequest(**body.model_dump()))


@router.post("/shootouts/{slug}/imports", status_code=201)
def commit_import(
    slug: str, body: TableText, database: DatabaseHere, who: Person
) -> imports.ImportResult:
    """Store a confirmed table in one transaction."""
    return imports.commit_import(database, slug, ImportRequest(**body.model_dump()), who)
