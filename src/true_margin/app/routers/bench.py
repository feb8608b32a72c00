"""Bench: what a lane needs to know, and what to run next."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from true_margin.app.context import DatabaseHere
from true_margin.app.run_requests import RunningMarks
from true_margin.desk import bench

router = APIRouter(tags=["bench"])


@router.get("/shootouts/{slug}/bench")
def show_bench(slug: str, database: DatabaseHere) -> bench.BenchView:
    """Show the open round and the best so far of each task."""
    return bench.show_bench(database, slug)


@router.post("/shootouts/{slug}/bench/pace")
def read_pace(slug: str, body: RunningMarks, database: DatabaseHere) -> bench.Pace:
    """Say what the marks of a running run mean; stores nothing."""
    marks = [(mark.elapsed_s, mark.fraction) for mark in body.marks]
    return bench.read_pace(database, slug, body.task_id, marks)


@router.get("/shootouts/{slug}/sitting")
def show_sitting(
    slug: str,
    database: DatabaseHere,
    minutes: Annotated[float, Query(gt=0, le=1440, description="Time there is, in minutes")],
    setup: Annotated[list[UUID] | None, Query(max_length=200)] = None,
) -> bench.SittingView:
    """Propose a sitting that fits a time budget and settles as much as it can."""
    return bench.show_sitting(database, slug, minutes, setup or [])
