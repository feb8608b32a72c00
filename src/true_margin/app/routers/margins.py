"""Margins: the ladder, and one pair."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from true_margin.app.context import DatabaseHere
from true_margin.desk import margins, pairs

router = APIRouter(tags=["margins"])
TaskKey = Annotated[
    str | None, Query(max_length=40, description="Id of a task, or 'mix'; the first with runs")
]


@router.get("/shootouts/{slug}/margins")
def show_ladder(slug: str, database: DatabaseHere, task: TaskKey = None) -> margins.LadderView:
    """Show the ladder of a task or of the equal mix."""
    return margins.show_ladder(database, slug, task)


@router.get("/shootouts/{slug}/margins/pair")
def show_pair(
    slug: str, database: DatabaseHere, a: UUID, b: UUID, task: TaskKey = "mix"
) -> pairs.PairView:
    """Show one pair in every way that it can be said."""
    return pairs.show_pair(database, slug, task or "mix", a, b)
