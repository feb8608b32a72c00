"""Plans in the store: frozen, never changed, never deleted."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import insert_row, record_of
from true_margin.store.tables import SetupRow, TaskRow
from true_margin.store.tables_plans import PlanPartRow, PlanRow


def list_plans(session: Session, shootout_id: UUID) -> tuple[records.Plan, ...]:
    """List the plans of a shootout, oldest first; tasks and setups in the order of their stage."""
    own = select(PlanRow.id).where(PlanRow.shootout_id == shootout_id)
    tasks: dict[UUID, list[UUID]] = {}
    setups: dict[UUID, list[UUID]] = {}
    for part in session.scalars(
        select(PlanPartRow)
        .outerjoin(TaskRow, TaskRow.id == PlanPartRow.task_id)
        .outerjoin(SetupRow, SetupRow.id == PlanPartRow.setup_id)
        .where(PlanPartRow.plan_id.in_(own))
        .order_by(TaskRow.position, SetupRow.position, PlanPartRow.id)
    ):
        if part.task_id is not None:
            tasks.setdefault(part.plan_id, []).append(part.task_id)
        elif part.setup_id is not None:
            setups.setdefault(part.plan_id, []).append(part.setup_id)
    rows = session.scalars(
        select(PlanRow)
        .where(PlanRow.shootout_id == shootout_id)
        .order_by(PlanRow.frozen_at, PlanRow.id)
    )
    return tuple(
        record_of(
            row,
            records.Plan,
            task_ids=tuple(tasks.get(row.id, ())),
            setup_ids=tuple(setups.get(row.id, ())),
        )
        for row in rows
    )


def add_plan(
    session: Session,
    shootout_id: UUID,
    fields: Mapping[str, Any],
    parts: Iterable[Mapping[str, Any]],
) -> UUID:
    """Freeze a plan; each of ``parts`` names a ``task_id`` or a ``setup_id``."""
    key = insert_row(session, PlanRow, {"shootout_id": shootout_id, **fields})
    for part in parts:
        insert_row(session, PlanPartRow, {"plan_id": key, **part})
    return key
