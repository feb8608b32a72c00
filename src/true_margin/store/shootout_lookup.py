"""Which shootout a thing belongs to, by its place in an address."""

from __future__ import annotations

from typing import Any
from uuid import UUID

from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from true_margin.store.tables import (
    FreeSheetRow,
    MachineRow,
    MarkRow,
    OverruleRow,
    PriceRow,
    RoundRow,
    RunRow,
    SetupRow,
    ShootoutRow,
    TaskRow,
    TimelineRow,
)
from true_margin.store.tables_bench import PairedDeviceRow
from true_margin.store.tables_inquiries import InquiryRow, PublishedFigureRow
from true_margin.store.tables_noted import (
    JudgementRow,
    NotedRatioRow,
    RunPictureRow,
    TrialRow,
    TroubleRow,
)
from true_margin.store.tables_sent import SentResultRow
from true_margin.store.tables_viewers import ViewerRow

_OWN: dict[str, Any] = {
    "devices": PairedDeviceRow,
    "free-rows": FreeSheetRow,
    "inquiries": InquiryRow,
    "machines": MachineRow,
    "published": PublishedFigureRow,
    "rounds": RoundRow,
    "runs": RunRow,
    "sent": SentResultRow,
    "tasks": TaskRow,
    "timelines": TimelineRow,
    "viewers": ViewerRow,
}
_THROUGH: dict[str, Select[UUID, UUID]] = {
    "setups": select(SetupRow.id, MachineRow.shootout_id).join(
        MachineRow, MachineRow.id == SetupRow.machine_id
    ),
    "prices": select(PriceRow.id, MachineRow.shootout_id).join(
        MachineRow, MachineRow.id == PriceRow.machine_id
    ),
    "overrules": select(OverruleRow.id, TaskRow.shootout_id).join(
        TaskRow, TaskRow.id == OverruleRow.task_id
    ),
    "judgements": select(JudgementRow.id, TaskRow.shootout_id).join(
        TaskRow, TaskRow.id == JudgementRow.task_id
    ),
    "ratios": select(NotedRatioRow.id, TaskRow.shootout_id).join(
        TaskRow, TaskRow.id == NotedRatioRow.task_id
    ),
    "trials": select(TrialRow.id, MachineRow.shootout_id)
    .join(SetupRow, SetupRow.id == TrialRow.setup_id)
    .join(MachineRow, MachineRow.id == SetupRow.machine_id),
    "troubles": select(TroubleRow.id, MachineRow.shootout_id)
    .join(SetupRow, SetupRow.id == TroubleRow.setup_id)
    .join(MachineRow, MachineRow.id == SetupRow.machine_id),
    "marks": select(MarkRow.id, RunRow.shootout_id).join(RunRow, RunRow.id == MarkRow.run_id),
    "pictures": select(
        RunPictureRow.id,
        func.coalesce(RunRow.shootout_id, MachineRow.shootout_id).label("shootout_id"),
    )
    .outerjoin(RunRow, RunRow.id == RunPictureRow.run_id)
    .outerjoin(TrialRow, TrialRow.id == RunPictureRow.trial_id)
    .outerjoin(TroubleRow, TroubleRow.id == RunPictureRow.trouble_id)
    .outerjoin(SetupRow, SetupRow.id == func.coalesce(TrialRow.setup_id, TroubleRow.setup_id))
    .outerjoin(MachineRow, MachineRow.id == SetupRow.machine_id),
}
COLLECTIONS = frozenset({*_OWN, *_THROUGH})
"""First parts of addresses whose second part is an id."""


def home_of(session: Session, collection: str, key: UUID) -> UUID | None:
    """The shootout that a thing belongs to; of an edition that which it was made of."""
    if collection in _OWN:
        table = _OWN[collection]
        home = select(table.shootout_id).where(table.id == key).scalar_subquery()
    else:
        query = _THROUGH[collection].subquery()
        home = select(query.c.shootout_id).where(query.c.id == key).scalar_subquery()
    return session.scalar(_root().where(ShootoutRow.id == home))


def home_of_slug(session: Session, slug: str) -> UUID | None:
    """The shootout of an address; of an edition that which it was made of."""
    return session.scalar(_root().where(ShootoutRow.slug == slug))


def _root() -> Select[UUID]:
    return select(func.coalesce(ShootoutRow.edition_of, ShootoutRow.id))
