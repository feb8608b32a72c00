"""The line-up as it changes: machines, their setups and what they cost."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.errors import QuantityError
from true_margin.core.money import check_currency, parse_price
from true_margin.core.numerals import numerals
from true_margin.core.spec_rows import STATES
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import lineup, records, shootouts
from true_margin.store.database import Database

FIRST_SETUP = "as is"
NOT_COPIED = ("note", "obtained")
ASSUMED = ("assumed_ratio", "assumed_against_id", "assumed_source")


def add_machine(database: Database, slug: str, fields: Mapping[str, Any]) -> records.Machine:
    """Add a machine with its first setup.

    ``fields`` may hold ``setup`` (name of the first setup), ``specs`` as typed, and
    ``copy_from`` (a machine whose specs are taken over where none are given).
    """
    own = dict(fields)
    first_setup = own.pop("setup", None) or FIRST_SETUP
    copy_from = own.pop("copy_from", None)
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        known = {}
        if copy_from is not None:
            known = _copied(lineup.list_machines(session, shootout.id), copy_from)
        rows = machine_rows(lineup.list_free_rows(session, shootout.id))
        own["specs"] = read_cells(known, own.get("specs") or {}, rows)
        own["model"] = _model(session, shootout.id, own.get("model"))
        key = lineup.add_machine(session, shootout.id, own)
        lineup.add_setup(session, key, {"name": first_setup})
        return _machine(session, shootout.id, key)


def _copied(machines: tuple[records.Machine, ...], key: UUID) -> dict[str, Any]:
    source = next((machine for machine in machines if machine.id == key), None)
    if source is None:
        raise RefusedError("copy_from", "The machine to copy is not in this line-up.")
    return {field: value for field, value in source.specs.items() if field not in NOT_COPIED}


def _model(session: Session, home: UUID, said: str | None) -> str | None:
    """A model's name as it is spelt in the line-up already, so that its samples find together."""
    if said is None:
        return None
    machines = lineup.list_machines(session, home)
    there = [name for m in machines for name in (m.model, m.name) if name is not None]
    return next((name for name in there if name.casefold() == said.casefold()), said)


def _machine(session: Session, home: UUID, key: UUID) -> records.Machine:
    return next(m for m in lineup.list_machines(session, home) if m.id == key)


def change_machine(
    database: Database, machine_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Machine:
    """Change the name or typed cells of a machine that nobody else changed meanwhile."""
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        own = dict(changes)
        if "specs" in own:
            rows = machine_rows(lineup.list_free_rows(session, home))
            known = _machine(session, home, machine_id).specs
            own["specs"] = read_cells(known, own["specs"] or {}, rows)
        if "model" in own:
            own["model"] = _model(session, home, own["model"])
        lineup.change_machine(session, machine_id, version, own)
        return _machine(session, home, machine_id)


def add_setup(database: Database, machine_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add a setup to a machine; gives the machine with all its setups.

    ``fields`` may hold ``specs`` and ``conditions`` as typed, and ``copy_from``
    (a setup of the machine whose own values and state are taken over).
    """
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        own = dict(fields)
        copy_from = own.pop("copy_from", None)
        machine = _machine(session, home, machine_id)
        source = next((s for s in machine.setups if s.id == copy_from), None)
        if copy_from is not None and source is None:
            raise RefusedError("copy_from", "The setup to copy is not of this machine.")
        lineup.add_setup(session, machine_id, _setup_fields(session, home, own, source))
        return _machine(session, home, machine_id)


def change_setup(
    database: Database, setup_id: UUID, version: int, changes: Mapping[str, Any]
) -> records.Machine:
    """Change the name, own cells, state or assumed speed of a setup; gives its machine."""
    with transaction(database) as session:
        machine_id = lineup.setup_home(session, setup_id)
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        known = next(s for s in _machine(session, home, machine_id).setups if s.id == setup_id)
        fields = _setup_fields(session, home, changes, known)
        given = {name: value for name, value in fields.items() if name in changes}
        lineup.change_setup(session, setup_id, version, given)
        return _machine(session, home, machine_id)


def _setup_fields(
    session: Session, home: UUID, fields: Mapping[str, Any], known: records.Setup | None
) -> dict[str, Any]:
    """Read the typed cells of a setup, laid over those it has."""
    own = dict(fields)
    rows = machine_rows(lineup.list_free_rows(session, home))
    specs, conditions = ({}, {}) if known is None else (known.specs, known.conditions)
    own["specs"] = read_cells(specs, own.get("specs") or {}, rows)
    own["conditions"] = read_cells(conditions, own.get("conditions") or {}, STATES)
    against = own.get("assumed_against_id")
    if against is not None:
        known_ids = {s.id for m in lineup.list_machines(session, home) for s in m.setups}
        if against not in known_ids or (known is not None and against == known.id):
            reason = "An assumed speed is against another setup of this line-up."
            raise RefusedError("assumed_against_id", reason)
    assumed = [own.get(name) for name in ASSUMED if name in own]
    if any(value is None for value in assumed) and any(value is not None for value in assumed):
        reason = "An assumed speed needs three things: how many times as fast, as which, who says."
        raise RefusedError("assumed_ratio", reason)
    return own


def order_machines(database: Database, slug: str, machine_ids: Sequence[UUID]) -> None:
    """Put the machines of a line-up in this order.

    Raises:
        RefusedError: the list does not name every machine once.
    """
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        standing = lineup.list_machines(session, shootout.id, archived=False)
        known = {machine.id for machine in standing}
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
        return _machine(session, home, machine_id)


def archive_machine(database: Database, machine_id: UUID, *, archived: bool) -> None:
    """Put a machine with its runs into the archive, or take it out; nothing of it is lost.

    What is in the archive stands in no figure.
    """
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.archive_machine(session, machine_id, datetime.now(UTC) if archived else None)


def add_price(database: Database, machine_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add a price record, its amount as typed; earlier ones stay.

    ``corrects_id`` in ``fields`` names the price that it stands for, which is withdrawn.
    """
    amount = _amount(fields)
    until = fields.get("until")
    if until is not None and until < fields["dated"]:
        raise RefusedError("until", "An offer cannot end before the day of its price.")
    with transaction(database) as session:
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        corrects = fields.get("corrects_id")
        if corrects is not None:
            if lineup.price_machine(session, corrects) != machine_id:
                raise RefusedError("corrects_id", "That price is of another machine.")
            lineup.withdraw_price(session, corrects, datetime.now(UTC), "corrected")
        lineup.add_price(session, machine_id, {**fields, "amount": amount})
        return _machine(session, home, machine_id)


def withdraw_price(database: Database, price_id: UUID, why: str) -> records.Machine:
    """Say that a price counts no more, and why; it stays on record."""
    with transaction(database) as session:
        machine_id = lineup.price_machine(session, price_id)
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.withdraw_price(session, price_id, datetime.now(UTC), why)
        return _machine(session, home, machine_id)


def add_extra(database: Database, setup_id: UUID, fields: Mapping[str, Any]) -> records.Machine:
    """Add something that a setup needed besides its machine, its amount as typed."""
    amount = _amount(fields)
    with transaction(database) as session:
        machine_id = lineup.setup_home(session, setup_id)
        home = lineup.machine_home(session, machine_id)
        shootouts.bump_revision(session, home)
        lineup.add_extra(session, setup_id, {**fields, "amount": amount})
        return _machine(session, home, machine_id)


def _amount(fields: Mapping[str, Any]) -> Decimal:
    try:
        check_currency(fields["currency"])
    except QuantityError as error:
        raise RefusedError("currency", error.reason) from error
    try:
        return parse_price(fields["amount"], fields["currency"], numerals()).amount
    except QuantityError as error:
        raise RefusedError("amount", error.reason) from error
