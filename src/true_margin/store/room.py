"""The store room: what outlives one shootout, and which parts of shootouts are which of it."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any
from uuid import UUID

from sqlalchemy import ColumnElement, and_, func, not_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables import ShootoutRow
from true_margin.store.tables_room import (
    HouseRow,
    RoomEventRow,
    RoomMachineRow,
    RoomSpecRow,
    RoomTaskRow,
    SeriesRow,
)

EARLIER = "earlier-"
"""A run that was copied from an earlier shootout has a key of this and its id there."""


def takes_part() -> ColumnElement[bool]:
    """Shootouts that the store room knows: no editions, and no demo that was put aside."""
    return and_(
        ShootoutRow.edition_of.is_(None),
        not_(and_(ShootoutRow.demo, ShootoutRow.archived_at.is_not(None))),
    )


def list_homes(session: Session) -> tuple[records.HomeShootout, ...]:
    """List every shootout that takes part, oldest first, those in the archive with them."""
    rows = session.execute(
        select(
            ShootoutRow.id,
            ShootoutRow.slug,
            ShootoutRow.name,
            ShootoutRow.demo,
            ShootoutRow.archived_at.is_not(None),
            ShootoutRow.revision,
            ShootoutRow.created_at,
        )
        .where(takes_part())
        .order_by(ShootoutRow.created_at, ShootoutRow.id)
    )
    return tuple(records.HomeShootout(*row) for row in rows)


def list_machines(session: Session) -> tuple[records.RoomMachine, ...]:
    """List the machines by name; those that became part of another are left out."""
    rows = session.scalars(
        select(RoomMachineRow)
        .where(RoomMachineRow.merged_into_id.is_(None))
        .order_by(func.lower(RoomMachineRow.name), RoomMachineRow.id)
    )
    return tuple(record_of(row, records.RoomMachine) for row in rows)


def get_machine(session: Session, machine_id: UUID) -> records.RoomMachine:
    """Get a machine of the store room.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, RoomMachineRow, machine_id, "machine"), records.RoomMachine)


def add_machine(session: Session, values: Mapping[str, Any]) -> UUID:
    """Add a machine to the store room."""
    return insert_row(session, RoomMachineRow, values)


def change_machine(
    session: Session, machine_id: UUID, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a machine of the store room that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session,
        RoomMachineRow,
        machine_id,
        version,
        changes,
        what="machine",
        current=lambda: get_machine(session, machine_id),
    )


def list_specs(session: Session, machine_id: UUID | None = None) -> tuple[records.RoomSpec, ...]:
    """List what is known of spec sheets, of one machine or all, in the order it was said."""
    asked = select(RoomSpecRow).order_by(RoomSpecRow.machine_id, RoomSpecRow.place)
    if machine_id is not None:
        asked = asked.where(RoomSpecRow.machine_id == machine_id)
    rows = session.scalars(asked)
    return tuple(record_of(row, records.RoomSpec, value=row.value["is"]) for row in rows)


def add_spec(session: Session, machine_id: UUID, values: Mapping[str, Any]) -> UUID:
    """Note what a row of a machine's spec sheet is from now on, or from a day on."""
    last = session.scalar(
        select(func.max(RoomSpecRow.place)).where(RoomSpecRow.machine_id == machine_id)
    )
    place = 0 if last is None else last + 1
    kept = {**values, "value": {"is": values["value"]}, "machine_id": machine_id, "place": place}
    return insert_row(session, RoomSpecRow, kept)


def list_tasks(session: Session) -> tuple[records.RoomTask, ...]:
    """List the standing tasks by name."""
    rows = session.scalars(
        select(RoomTaskRow).order_by(func.lower(RoomTaskRow.name), RoomTaskRow.id)
    )
    return tuple(record_of(row, records.RoomTask) for row in rows)


def get_task(session: Session, standing_id: UUID) -> records.RoomTask:
    """Get a standing task.

    Raises:
        MissingRowError: there is none.
    """
    return record_of(get_row(session, RoomTaskRow, standing_id, "standing task"), records.RoomTask)


def add_task(session: Session, values: Mapping[str, Any]) -> UUID:
    """Add a standing task."""
    return insert_row(session, RoomTaskRow, values)


def change_task(
    session: Session, standing_id: UUID, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a standing task that still has this version.

    Raises:
        StaleVersionError: it was changed since.
    """
    update_row(
        session,
        RoomTaskRow,
        standing_id,
        version,
        changes,
        what="standing task",
        current=lambda: get_task(session, standing_id),
    )


def add_event(
    session: Session, subject_id: UUID, what: str, details: Mapping[str, Any], who: str
) -> None:
    """Note what was done in the store room."""
    values = {"subject_id": subject_id, "what": what, "details": dict(details), "who": who}
    insert_row(session, RoomEventRow, values)


def list_events(session: Session, subject_id: UUID) -> tuple[records.RoomEvent, ...]:
    """List what was done to a machine or standing task, oldest first."""
    rows = session.scalars(
        select(RoomEventRow)
        .where(RoomEventRow.subject_id == subject_id)
        .order_by(RoomEventRow.made_at, RoomEventRow.id)
    )
    return tuple(record_of(row, records.RoomEvent) for row in rows)


UNLINKED = ("added", "asked", "changed", "specs")
"""Events that make nothing one with anything else, and part nothing."""


def room_state(session: Session) -> tuple[int, int]:
    """How often something was made one or parted in the store room, and all that was done there.

    What rests on it is stale when these rise.
    """
    linked = func.count().filter(RoomEventRow.what.not_in(UNLINKED))
    made_one, done = session.execute(select(linked, func.count()).select_from(RoomEventRow)).one()
    return made_one, done


def add_to_series(session: Session, shootout_id: UUID, continues_id: UUID) -> None:
    """Say that a shootout goes on from another."""
    session.add(SeriesRow(shootout_id=shootout_id, continues_id=continues_id))
    session.flush()


def series_of(session: Session, shootout_id: UUID) -> tuple[records.HomeShootout, ...]:
    """List the shootouts of a series, oldest first; nothing for one that is in none."""
    links = session.execute(select(SeriesRow.shootout_id, SeriesRow.continues_id)).all()
    members, grown = {shootout_id}, True
    while grown:
        more = {key for link in links if members & set(link) for key in link} - members
        members, grown = members | more, bool(more)
    if len(members) == 1:
        return ()
    return tuple(each for each in list_homes(session) if each.id in members)


def get_house(session: Session) -> records.House:
    """Give what every new shootout begins with; made when it is first asked for."""
    row = session.scalars(select(HouseRow)).first()
    if row is None:
        session.execute(insert(HouseRow).values(version=1).on_conflict_do_nothing())
        row = session.scalars(select(HouseRow)).one()
    return record_of(row, records.House)


def change_house(session: Session, version: int, changes: Mapping[str, Any]) -> records.House:
    """Change what new shootouts begin with.

    Raises:
        StaleVersionError: it was changed since.
    """
    get_house(session)
    key = session.scalars(select(HouseRow.id)).one()
    update_row(
        session, HouseRow, key, version, changes, what="house", current=lambda: get_house(session)
    )
    return get_house(session)
