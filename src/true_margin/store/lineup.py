"""Machines, setups and prices in the store."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import datetime
from typing import Any
from uuid import UUID

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from true_margin.store import records
from true_margin.store.rows import get_row, insert_row, record_of, update_row
from true_margin.store.tables import ExtraRow, MachineRow, PriceRow, SetupRow


def list_machines(session: Session, shootout_id: UUID) -> tuple[records.Machine, ...]:
    """List machines in line-up order, each with its setups and prices."""
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
            row, records.Machine,
            setups=_labelled(row, setups.get(row.id, []), extras),
            prices=tuple(prices.get(row.id, [])),
        )
        for row in machines
    )  # fmt: skip


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
        .order_by(PriceRow.dated.desc(), PriceRow.kind)
    )
    found: dict[UUID, list[records.Price]] = {}
    for row in rows:
        found.setdefault(row.machine_id, []).append(record_of(row, records.Price))
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
        found.setdefault(row.setup_id, []).append(record_of(row, records.Extra))
    return found


def _labelled(
    machine: MachineRow, setups: list[SetupRow], extras: Mapping[UUID, list[records.Extra]]
) -> tuple[records.Setup, ...]:
    """A machine's only setup goes by the machine's name; several carry both."""
    alone = len(setups) == 1
    return tuple(
        record_of(
            row, records.Setup,
            machine=machine.name,
            label=machine.name if alone else f"{machine.name} {row.name}",
            extras=tuple(extras.get(row.id, ())),
        )
        for row in setups
    )  # fmt: skip


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
    position = 0 if last is None else last + 1
    return insert_row(session, SetupRow, {"machine_id": machine_id, "position": position, **fields})


def add_price(session: Session, machine_id: UUID, fields: Mapping[str, Any]) -> UUID:
    """Add a price record; records are kept, the newest counts."""
    return insert_row(session, PriceRow, {"machine_id": machine_id, **fields})


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


def retire_machine(session: Session, machine_id: UUID, at: datetime | None) -> None:
    """Retire a machine, or bring it back with None; its runs stay either way.

    Raises:
        MissingRowError: no such machine.
    """
    get_row(session, MachineRow, machine_id, "machine").retired_at = at
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
