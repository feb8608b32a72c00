"""Bench: what a lane needs to know."""

from __future__ import annotations

from fastapi import APIRouter

from true_margin.app.context import DatabaseHere
from true_margin.desk import bench

router = APIRouter(tags=["bench"])


@router.get("/shootouts/{slug}/bench")
def show_bench(slug: str, database: DatabaseHere) -> bench.BenchView:
    """Show the open round and the best so far of each task."""
    return bench.show_bench(database, slug)
