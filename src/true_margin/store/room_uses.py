"""Where what the store room keeps is used: setups, tasks, runs and prices of shootouts."""

from __future__ import annotations

from collections.abc import Sequence
from typing import Any
from uuid import UUID

from sqlalchemy import (
    BigInteger,
    ColumnElement,
    Float,
    LargeBinary,
    Select,
    SmallInteger,
    String,
    and_,
    case,
    cast,
    delete,
    func,
    literal,
    literal_column,
    not_,
    or_,
    select,
    update,
)
from sqlalchemy.dialects.postgresql import aggregate_order_by, insert
from sqlalchemy.orm import Session, aliased

from true_margin.core.currencies import kept_amount
from true_margin.core.study import BOUND_CODE, STATUS_CODE
from true_margin.store import records
from true_margin.store.room import EARLIER, takes_part
from true_margin.store.tables import (
    AppRow,
    AppVersionRow,
    MachineRow,
    PriceRow,
    RoundVersionRow,
    RunRow,
    SetupRow,
    ShootoutRow,
    TaskRow,
    TimelineRow,
)
from true_margin.store.tables_noted import SettingsUsedRow
from true_margin.store.tables_room import RoomSetupRow, RoomTaskUseRow


def list_setup_uses(
    session: Session, machine_id: UUID | None = None
) -> tuple[records.SetupUse, ...]:
    """List every setup of every shootout that takes part, with what it is in the store room.

    Machines in a shootout's archive are left out, as they are of all its figures. ``machine_id``
    leaves those only that are this machine of the store room.
    """
    own = [] if machine_id is None else [RoomSetupRow.machine_id == machine_id]
    # Columns and no rows: of thousands of setups each row would cost more than its reading.
    rows = session.execute(
        select(
            SetupRow.id,
            MachineRow.shootout_id,
            MachineRow.name,
            MachineRow.model,
            SetupRow.name,
            MachineRow.specs,
            SetupRow.specs,
            SetupRow.conditions,
            MachineRow.retired_at.is_not(None),
            ShootoutRow.demo,
            RoomSetupRow.machine_id,
            RoomSetupRow.state,
        )
        .join(MachineRow, MachineRow.id == SetupRow.machine_id)
        .join(ShootoutRow, ShootoutRow.id == MachineRow.shootout_id)
        .outerjoin(RoomSetupRow, RoomSetupRow.setup_id == SetupRow.id)
        .where(takes_part(), MachineRow.archived_at.is_(None), *own)
        .order_by(ShootoutRow.created_at, MachineRow.position, SetupRow.position, SetupRow.id)
    )
    return tuple(records.SetupUse(*row) for row in rows)


def list_task_uses(session: Session) -> tuple[records.TaskUse, ...]:
    """List every task of every shootout that takes part and that no other task follows."""
    follower = aliased(TaskRow)
    rows = session.execute(
        select(
            TaskRow.id,
            TaskRow.shootout_id,
            TaskRow.name,
            AppRow.name,
            TimelineRow.name,
            TimelineRow.length_s,
            TaskRow.operation,
            TaskRow.settings,
            TaskRow.starts_when,
            TaskRow.ends_when,
            TaskRow.measure,
            TaskRow.work,
            TaskRow.unit,
            TaskRow.note,
            ShootoutRow.demo,
            RoomTaskUseRow.standing_id,
        )
        .join(AppRow, AppRow.id == TaskRow.app_id)
        .join(ShootoutRow, ShootoutRow.id == TaskRow.shootout_id)
        .outerjoin(TimelineRow, TimelineRow.id == TaskRow.timeline_id)
        .outerjoin(RoomTaskUseRow, RoomTaskUseRow.task_id == TaskRow.id)
        .outerjoin(follower, follower.follows_id == TaskRow.id)
        .where(takes_part(), or_(follower.id.is_(None), RoomTaskUseRow.task_id.is_not(None)))
        .order_by(ShootoutRow.created_at, TaskRow.position, TaskRow.id)
    )
    return tuple(records.TaskUse(*row) for row in rows)


def link_setups(session: Session, setup_ids: Sequence[UUID], machine_id: UUID, state: str) -> None:
    """Say that setups of shootouts are this machine in this state; what was said before goes."""
    for setup_id in setup_ids:
        values = {"setup_id": setup_id, "machine_id": machine_id, "state": state}
        session.execute(
            insert(RoomSetupRow)
            .values(values)
            .on_conflict_do_update(index_elements=["setup_id"], set_=values)
        )


def move_all_setups(session: Session, machine_id: UUID, into_id: UUID) -> list[UUID]:
    """Say that all setups of a machine are another, those in archives with them; gives which."""
    rows = session.scalars(
        update(RoomSetupRow)
        .where(RoomSetupRow.machine_id == machine_id)
        .values(machine_id=into_id)
        .returning(RoomSetupRow.setup_id)
    )
    return list(rows)


def unlink_setups(session: Session, setup_ids: Sequence[UUID]) -> None:
    """Say that setups of shootouts are no machine of the store room; runs stay as they are."""
    session.execute(delete(RoomSetupRow).where(RoomSetupRow.setup_id.in_(setup_ids)))


def link_tasks(session: Session, task_ids: Sequence[UUID], standing_id: UUID) -> None:
    """Say that tasks of shootouts are this standing task."""
    for task_id in task_ids:
        values = {"task_id": task_id, "standing_id": standing_id}
        session.execute(
            insert(RoomTaskUseRow)
            .values(values)
            .on_conflict_do_update(index_elements=["task_id"], set_=values)
        )


def unlink_tasks(session: Session, task_ids: Sequence[UUID]) -> None:
    """Say that tasks of shootouts are no standing task; runs stay as they are."""
    session.execute(delete(RoomTaskUseRow).where(RoomTaskUseRow.task_id.in_(task_ids)))


def task_homes(session: Session, standing_id: UUID) -> tuple[tuple[UUID, int], ...]:
    """Give the shootouts that have a standing task, each with its revision."""
    rows = session.execute(
        select(ShootoutRow.id, ShootoutRow.revision)
        .join(TaskRow, TaskRow.shootout_id == ShootoutRow.id)
        .join(RoomTaskUseRow, RoomTaskUseRow.task_id == TaskRow.id)
        .where(RoomTaskUseRow.standing_id == standing_id, takes_part())
        .distinct()
        .order_by(ShootoutRow.id)
    )
    return tuple((home, revision) for home, revision in rows)


def runs_of_task(
    session: Session, standing_id: UUID, shootout_ids: Sequence[UUID]
) -> tuple[records.RunColumns, ...]:
    """Read the runs of a standing task in some shootouts, voids left out.

    A run that was copied in from an earlier shootout is left out where that one takes part
    itself: it would count twice.
    """
    home = aliased(RunRow)
    copied = RunRow.client_key.startswith(EARLIER)
    there = (
        select(home.id)
        .join(RoomTaskUseRow, RoomTaskUseRow.task_id == home.task_id)
        .where(
            RoomTaskUseRow.standing_id == standing_id,
            RunRow.client_key == EARLIER + cast(home.id, String),
        )
        .correlate(RunRow)
        .exists()
    )
    # Asked for apart: what was copied is little, and looking for its source is work.
    return tuple(
        records.RunColumns(*row)
        for counts in (not_(copied), and_(copied, not_(there)))
        for row in session.execute(_columns_of(standing_id, shootout_ids, counts))
    )


def _columns_of(
    standing_id: UUID, shootout_ids: Sequence[UUID], counts: ColumnElement[bool]
) -> Select[Any]:
    def packed(column: Any) -> Any:
        ordered = aggregate_order_by(literal(b"", LargeBinary), RunRow.place)
        return func.string_agg(column, ordered)

    def float_of(column: Any) -> Any:
        return packed(func.float8send(func.coalesce(column, literal_column("'NaN'::float8"))))

    status = case({each.value: code for each, code in STATUS_CODE.items()}, value=RunRow.status)
    bound = case(
        {each: code for each, code in BOUND_CODE.items() if each is not None},
        value=RunRow.bound,
        else_=0,
    )
    told = (
        select(RoundVersionRow.round_id, AppVersionRow.app_id, AppVersionRow.name)
        .join(AppVersionRow, AppVersionRow.id == RoundVersionRow.app_version_id)
        .subquery()
    )
    version = and_(told.c.round_id == RunRow.round_id, told.c.app_id == TaskRow.app_id)
    return (
        select(
            RunRow.setup_id,
            RunRow.task_id,
            RunRow.round_id,
            RunRow.shootout_id,
            func.min(told.c.name),
            func.count(),
            packed(func.int2send(cast(status, SmallInteger))),
            packed(func.int2send(cast(bound, SmallInteger))),
            packed(func.int8send(cast(RunRow.place, BigInteger))),
            float_of(RunRow.value),
            float_of(RunRow.u),
            float_of(RunRow.resolution),
            float_of(cast(func.extract("epoch", RunRow.started_at), Float)),
        )
        .join(TaskRow, TaskRow.id == RunRow.task_id)
        .join(RoomTaskUseRow, RoomTaskUseRow.task_id == RunRow.task_id)
        .outerjoin(told, version)
        .where(
            RoomTaskUseRow.standing_id == standing_id,
            RunRow.shootout_id.in_(shootout_ids),
            RunRow.status != "void",
            counts,
        )
        .group_by(RunRow.setup_id, RunRow.task_id, RunRow.round_id, RunRow.shootout_id)
    )


def settings_used(session: Session, standing_id: UUID) -> dict[tuple[UUID, UUID], dict[str, Any]]:
    """Give the export settings that were noted last, by setup and task of a standing task."""
    rows = session.execute(
        select(SettingsUsedRow.setup_id, SettingsUsedRow.task_id, SettingsUsedRow.settings)
        .join(RoomTaskUseRow, RoomTaskUseRow.task_id == SettingsUsedRow.task_id)
        .where(RoomTaskUseRow.standing_id == standing_id)
        .order_by(SettingsUsedRow.noted_at, SettingsUsedRow.id)
    )
    return {(setup, task): settings for setup, task, settings in rows}


def prices_of(session: Session, setup_ids: Sequence[UUID]) -> tuple[records.PriceThen, ...]:
    """List what machines of some setups cost, those that were withdrawn left out, oldest first."""
    rows = session.execute(
        select(SetupRow.id, PriceRow.kind, PriceRow.amount, PriceRow.currency, PriceRow.dated)
        .join(PriceRow, PriceRow.machine_id == SetupRow.machine_id)
        .where(SetupRow.id.in_(setup_ids), PriceRow.withdrawn_at.is_(None))
        .order_by(PriceRow.dated, PriceRow.place)
    )
    return tuple(
        records.PriceThen(setup, kind, kept_amount(amount, currency), currency, dated)
        for setup, kind, amount, currency, dated in rows
    )
