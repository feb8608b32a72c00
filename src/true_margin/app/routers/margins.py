"""Margins: the ladder, and one pair."""

from __future__ import annotations

from typing import Annotated
from uuid import UUID

from fastapi import APIRouter, Query

from true_margin.app.context import DatabaseHere, Person
from true_margin.app.requests import NewOverrule
from true_margin.desk import fairness, margins, pairs
from true_margin.store import records

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


@router.post("/overrules", status_code=201)
def overrule(body: NewOverrule, database: DatabaseHere, who: Person) -> records.Overrule:
    """Overrule what breaks a pair on a task, with a reason."""
    return fairness.overrule(database, body.task_id, (body.a, body.b), body.reason, who)


@router.post("/overrules/{overrule_id}/withdrawal")
def withdraw(overrule_id: UUID, database: DatabaseHere) -> records.Overrule:
    """Withdraw an overrule; it stays on record."""
    return fairness.withdraw(database, overrule_id)
