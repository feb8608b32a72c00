"""Machines, setups and prices in the store."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.core.currencies import kept_amount
from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row, withdraw_row
from true_margin.store.tables import ExtraRow, FreeSheetRow, MachineRow, PriceRow, SetupRow


def list_machines(
    session: Session, shootout_id: UUID, *, archived: bool | None = None
) -> tuple[records.Machine, ...]:
    """List machines in line-up order, each with its setups and prices.

    ``archived`` chooses those in the archive, or those that are not; None takes both.
    """
    machines = session.scalars(
        select(MachineRow)
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(MachineRow.position, MachineRow.created_at)
    ).all()
    setups = _setups_by_machine(session, shootout_id)
    prices = _prices_by_machine(session, shootout_id)
    extras = _extras_by_setup(session, shootout_id)
    return tuple(
        record_of(
            row,
            records.Machine,
            setups=_labelled(row, setups.get(row.id, []), extras),
            prices=tuple(p for p in prices.get(row.id, []) if p.withdrawn_at is None),
            withdrawn_prices=tuple(p for p in prices.get(row.id, []) if p.withdrawn_at is not None),
        )
        for row in machines
        if archived is None or archived is (row.archived_at is not None)
    )


def _setups_by_machine(session: Session, shootout_id: UUID) -> dict[UUID, list[SetupRow]]:
    rows = session.scalars(
        select(SetupRow)
        .join(MachineRow, MachineRow.id == SetupRow.machine_id)
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(SetupRow.position, SetupRow.created_at)
    )
    found: dict[UUID, list[SetupRow]] = {}
    for row in rows:
        found.setdefault(row.machine_id, []).append(row)
    return found


def _prices_by_machine(session: Session, shootout_id: UUID) -> dict[UUID, list[records.Price]]:
    rows = session.scalars(
        select(PriceRow)
        .join(MachineRow, MachineRow.id == PriceRow.machine_id)
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(PriceRow.dated.desc(), PriceRow.place.desc())
    )
    found: dict[UUID, list[records.Price]] = {}
    for row in rows:
        found.setdefault(row.machine_id, []).append(
            record_of(row, records.Price, amount=kept_amount(row.amount, row.currency))
        )
    return found


def _extras_by_setup(session: Session, shootout_id: UUID) -> dict[UUID, list[records.Extra]]:
    rows = session.scalars(
        select(ExtraRow)
        .join(SetupRow, SetupRow.id == ExtraRow.setup_id)
        .join(MachineRow, MachineRow.id == SetupRow.machine_id)
        .where(MachineRow.shootout_id == shootout_id)
        .order_by(ExtraRow.dated, ExtraRow.name)
    )
    found: dict[UUID, list[records.Extra]] = {}
    for row in rows:
        found.setdefault(row.setup_id, []).append(
            record_of(row, records.Extra, amount=kept_amount(row.amount, row.currency))
        )
    return found


def _labelled(
    machine: MachineRow, setups: list[SetupRow], extras: Mapping[UUID, list[records.Extra]]
) -> tuple[records.Setup, ...]:
    """A machine's only setup goes by the machine's name; several carry both."""
    alone = len(setups) == 1
    return tuple(
        record_of(
            row,
            records.Setup,
            machine=machine.name,
            label=machine.name if alone else f"{machine.name} {row.name}",
            extras=tuple(extras.get(row.id, ())),
        )
        for row in setups
    )


def machine_home(session: Session, machine_id: UUID) -> UUID:
    """Give the shootout that a machine stands in.

    Raises:
        MissingRowError: no such machine.
    """
    home: UUID = get_row(session, MachineRow, machine_id, "machine").shootout_id
    return home


def setup_home(session: Session, setup_id: UUID) -> UUID:
    """Give the machine that a setup belongs to.

    Raises:
        MissingRowError: no such setup.
    """
    home: UUID = get_row(session, SetupRow, setup_id, "setup").machine_id
    return home


def add_machine(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a machine at the end of the line-up."""
    last = session.scalar(
        select(func.max(MachineRow.position)).where(MachineRow.shootout_id == shootout_id)
    )
    position = 0 if last is None else last + 1
    return insert_row(
        session, MachineRow, {"shootout_id": shootout_id, "position": position, **fields}
    )


def add_setup(session: Session, machine_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a setup at the end of its machine's setups."""
    last = session.scalar(
        select(func.max(SetupRow.position)).where(SetupRow.machine_id == machine_id)
    )
    own = {"machine_id": machine_id, "position": 0 if last is None else last + 1, **fields}
    if own.get("mark") is None:
        own["mark"] = _free_mark(session, machine_home(session, machine_id))
    return insert_row(session, SetupRow, own)


def _free_mark(session: Session, shootout_id: UUID) -> int:
    """The lowest mark that no setup of the shootout has."""
    query = select(SetupRow.mark).join(MachineRow).where(MachineRow.shootout_id == shootout_id)
    taken = set(session.scalars(query))
    return next(mark for mark in range(len(taken) + 1) if mark not in taken)


def add_price(session: Session, machine_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a price record; records are kept, the newest counts."""
    return insert_row(session, PriceRow, {"machine_id": machine_id, **fields})


def price_machine(session: Session, price_id: UUID) -> UUID:
    """Give the machine that a price is of.

    Raises:
        MissingRowError: no such price.
    """
    machine: UUID = get_row(session, PriceRow, price_id, "price").machine_id
    return machine


def withdraw_price(session: Session, price_id: UUID, at: datetime, why: str) -> None:
    """Say that a price counts no more; one that was withdrawn already stays as it is."""
    withdraw_row(session, PriceRow, price_id, at, why, what="price")


def add_extra(session: Session, setup_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add something that a setup needed besides its machine."""
    return insert_row(session, ExtraRow, {"setup_id": setup_id, **fields})


def change_machine(
    session: Session, machine_id: UUID, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a machine that still has this version.

    Raises:
        MissingRowError: no such machine.
        StaleVersionError: it was changed since, with the machine as it stands.
    """

    def current() -> records.Machine:
        home = machine_home(session, machine_id)
        return next(m for m in list_machines(session, home) if m.id == machine_id)

    update_row(session, MachineRow, machine_id, version, changes, what="machine", current=current)


def order_machines(session: Session, machine_ids: Sequence[UUID]) -> None:
    """Put machines in this order."""
    for position, machine_id in enumerate(machine_ids):
        get_row(session, MachineRow, machine_id, "machine").position = position
    session.flush()


def retire_machine(session: Session, machine_id: UUID, when: datetime | None) -> None:
    """Retire a machine, or bring it back with None; its runs stay either way.

    Raises:
        MissingRowError: no such machine.
    """
    get_row(session, MachineRow, machine_id, "machine").retired_at = when
    session.flush()


def archive_machine(session: Session, machine_id: UUID, when: datetime | None) -> None:
    """Put a machine with its runs into the archive, or take it out with None.

    Raises:
        MissingRowError: no such machine.
    """
    get_row(session, MachineRow, machine_id, "machine").archived_at = when
    session.flush()


def list_free_rows(session: Session, shootout_id: UUID) -> tuple[records.FreeRow, ...]:
    """List the rows that the reviewer added, in their order."""
    rows = session.scalars(
        select(FreeSheetRow)
        .where(FreeSheetRow.shootout_id == shootout_id)
        .order_by(FreeSheetRow.position)
    )
    return tuple(record_of(row, records.FreeRow) for row in rows)


def add_free_row(session: Session, shootout_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a row at the end of the sheet."""
    query = select(func.max(FreeSheetRow.position)).where(FreeSheetRow.shootout_id == shootout_id)
    last = session.scalar(query)
    position = 0 if last is None else last + 1
    return insert_row(
        session, FreeSheetRow, {"shootout_id": shootout_id, "position": position, **fields}
    )


def free_row_home(session: Session, row_id: UUID) -> UUID:
    """Give the shootout that a free row belongs to.

    Raises:
        MissingRowError: no such row.
    """
    home: UUID = get_row(session, FreeSheetRow, row_id, "row").shootout_id
    return home


def rename_free_row(session: Session, row_id: UUID, title: str) -> None:
    """Give a free row another title.

    Raises:
        MissingRowError: no such row.
    """
    get_row(session, FreeSheetRow, row_id, "row").title = title
    session.flush()


def remove_free_row(session: Session, row_id: UUID) -> None:
    """Take a row off the sheet; the desk sees to it that it is empty."""
    session.delete(get_row(session, FreeSheetRow, row_id, "row"))
    session.flush()


def change_setup(
    session: Session, setup_id: UUID, version: int, changes: Mapping[str, Any]
) -> None:
    """Change a setup that still has this version.

    Raises:
        MissingRowError: no such setup.
        StaleVersionError: it was changed since, with the setup as it stands.
    """

    def current() -> records.Setup:
        machine = setup_home(session, setup_id)
        machines = list_machines(session, machine_home(session, machine))
        return next(s for m in machines for s in m.setups if s.id == setup_id)

    update_row(session, SetupRow, setup_id, version, changes, what="setup", current=current)
