"""The line-up: machines, their setups and what they cost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from true_margin.core.errors import QuantityError
from true_margin.core.money import parse_price
from true_margin.desk.book import SHELF, Book
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.prices import PriceView, TestedPrice, tested_price, view_price
from true_margin.store import lineup, records, shootouts
from true_margin.store.database import Database

FIRST_SETUP = "as is"
SPEC_ROWS: tuple[tuple[str, str, str | None], ...] = (
    ("form", "Form", None),
    ("processor", "Processor", None),
    ("cores", "Cores", None),
    ("clock_ghz", "Clock", "GHz"),
    ("graphics", "Graphics", None),
    ("graphics_memory_gb", "Graphics memory", "GB"),
    ("memory_gb", "Memory", "GB"),
    ("storage_gb", "Storage", "GB"),
    ("system", "System", None),
    ("power", "Power", None),
    ("obtained", "How obtained", None),
    ("note", "Note", None),
)


@dataclass(frozen=True, slots=True)
class SpecRow:
    """One row of the spec sheet; ``differs`` where machines or setups are not alike."""

    field: str
    title: str
    unit: str | None
    differs: bool


@dataclass(frozen=True, slots=True)
class MachineColumn:
    """One machine as a column, with the price that counts, and its runs.

    ``tested`` holds what each of its setups cost as tested, in their order.
    """

    machine: records.Machine
    price: PriceView | None
    tested: tuple[TestedPrice, ...]
    runs: int


@dataclass(frozen=True, slots=True)
class LineUp:
    """The whole spec sheet."""

    rows: tuple[SpecRow, ...]
    columns: tuple[MachineColumn, ...]
    setups: tuple[records.Setup, ...]
    currency: str
    price_date: date


def show_lineup(database: Database, slug: str) -> LineUp:
    """Give the spec sheet of a shootout."""
    book = SHELF.take(database, slug)
    counts: dict[UUID, int] = {}
    for run in book.runs:
        machine = book.machine_of[run.setup_id].id
        counts[machine] = counts.get(machine, 0) + 1
    return LineUp(
        tuple(SpecRow(*row, _differs(book, row[0])) for row in SPEC_ROWS),
        tuple(
            MachineColumn(
                m,
                view_price(book, m),
                tuple(tested_price(book, s) for s in m.setups),
                counts.get(m.id, 0),
            )
            for m in book.machines
        ),
        book.setups,
        book.shootout.currency,
        book.shootout.price_date,
    )


def _differs(book: Book, field: str) -> bool:
    values = set()
    for setup in book.setups:
        own = getattr(setup, field, None)
        values.add(own if own is not None else getattr(book.machine_of[setup.id], field, None))
    return len(values) > 1


def add_machine(database: Database, slug: str, fields: Mapping[str, Any]) -> records.Machine:
    """Add a machine with its first setup.

    ``fields`` may hold ``setup`` (name of the first setup) and ``copy_from``
    (a machine whose specs are taken over where none are given).
    """
    own = dict(fields)
    first_setup = own.pop("setup", None) or FIRST_SETUP
    copy_from = own.pop("copy_from", None)
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        if copy_from is not None:
            own = {**_copied(lineup.list_machines(session, shootout.id), copy_from), **own}
        key = lineup.add_machine(session, shootout.id, own)
        lineup.add_setup(session, key, {"name": first_setup})
        return _machine(lineup.list_machines(session, shootout.id), key)


def _copied(machines: tuple[records.Machine, ...], key: UUID) -> dict[str, Any]:
    source = next((machine for machine in machines if machine.id == key), None)
    if source is None:
        raise RefusedError("copy_from", "The machine to copy is not in this line-up.")
    fields = (row[0] for row in SPEC_ROWS if row[0] not in ("power", "note", "obtained"))
    return {field: getattr(source, field) for field in fields}


def _machine(machines: tuple[records.Machine, ...], key: UUID) -> records.Machine:
    return next(machine for machine in machines if machine.id == key)


def change_machine(
    database: Database, machine_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Machine:
    """Change fields of a machine that nobody else changed meanwhile."""
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.change_machine(session, machine_id, version, changes)
        return _machine(lineup.list_machines(session, home), machine_id)


def add_setup(database: Database, machine_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add a setup to a machine; gives the machine with all its setups."""
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.add_setup(session, machine_id, _with_conditions(fields, {}))
        return _machine(lineup.list_machines(session, home), machine_id)


def change_setup(
    database: Database, setup_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Machine:
    """Change fields of a setup; gives its machine."""
    with transaction(database) as session:
        machine_id = lineup.setup_home(session, setup_id)
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        machines = lineup.list_machines(session, home)
        known = next(s for m in machines for s in m.setups if s.id == setup_id).conditions
        lineup.change_setup(session, setup_id, version, _with_conditions(changes, known))
        return _machine(lineup.list_machines(session, home), machine_id)


def order_machines(database: Database, slug: str, machine_ids: Sequence[UUID]) -> None:
    """Put the machines of a line-up in this order.

    Raises:
        RefusedError: the list does not name every machine once.
    """
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        known = {machine.id for machine in lineup.list_machines(session, shootout.id)}
        if set(machine_ids) != known or len(machine_ids) != len(known):
            reason = "The order must name every machine once; the line-up may have changed."
            raise RefusedError("machine_ids", reason)
        shootouts.bump_revision(session, shootout.id)
        lineup.order_machines(session, machine_ids)


def retire_machine(database: Database, machine_id: UUID, *, retired: bool) -> records.Machine:
    """Take a machine off the desk, or bring it back; its runs stay where they are."""
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.retire_machine(session, machine_id, datetime.now(UTC) if retired else None)
        return _machine(lineup.list_machines(session, home), machine_id)


def _with_conditions(fields: Mapping[str, Any], known: Mapping[str, Any]) -> dict[str, Any]:
    """Lay changed conditions over the known ones; an empty one is taken back."""
    own = dict(fields)
    if "conditions" in own:
        merged = {**known, **(own["conditions"] or {})}
        own["conditions"] = {k: v for k, v in merged.items() if v not in (None, "", False)}
    return own


def add_price(database: Database, machine_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add a price record, its amount as typed; earlier ones stay."""
    amount = _amount(fields)
    until = fields.get("until")
    if until is not None and until < fields["dated"]:
        raise RefusedError("until", "An offer cannot end before the day of its price.")
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.add_price(session, machine_id, {**fields, "amount": amount})
        return _machine(lineup.list_machines(session, home), machine_id)


def add_extra(database: Database, setup_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add something that a setup needed besides its machine, its amount as typed."""
    amount = _amount(fields)
    with transaction(database) as session:
        machine_id = lineup.setup_home(session, setup_id)
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.add_extra(session, setup_id, {**fields, "amount": amount})
        return _machine(lineup.list_machines(session, home), machine_id)


def _amount(fields: Mapping[str, Any]) -> Decimal:
    try:
        return parse_price(fields["amount"], fields["currency"]).amount
    except QuantityError as error:
        raise RefusedError("amount", error.reason) from error
