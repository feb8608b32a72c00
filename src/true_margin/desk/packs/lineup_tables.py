"""Tables of the line-up: machines, setups, cells of the spec sheet, prices."""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Mapping, Sequence
from decimal import Decimal
from typing import Any
from uuid import UUID

from true_margin.core.spec_rows import STATES, specs_by_title
from true_margin.core.specs import Spec, SpecValue, show_spec
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.errors import RefusedError
from true_margin.desk.packs.table import PackTable, Source, Target, Updating, copy
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_tables import (
    PackExtra,
    PackFreeRow,
    PackMachine,
    PackPrice,
    PackSetup,
    PackSetupSpec,
    PackSpec,
    PackTrialRow,
)
from true_margin.store import lineup

Cells = dict[tuple[str, str | None], tuple[dict[str, SpecValue], dict[str, SpecValue]]]
"""Specs and states by machine, or by machine and setup."""
NO_CELLS: tuple[dict[str, SpecValue], dict[str, SpecValue]] = ({}, {})


def _trial_rows(source: Source) -> Iterator[PackTrialRow]:
    rows = (*machine_rows(source.book.free_rows), *STATES)
    for field in source.book.shootout.trial_rows:
        yield from (PackTrialRow(row=spec.title) for spec in rows if spec.field == field)


def _setups(source: Source) -> Iterator[PackSetup]:
    for setup in source.book.setups:
        against = source.setup_columns(setup.assumed_against_id, before="assumed_against_")
        yield copy(setup, PackSetup, **against)


def _specs(source: Source) -> Iterator[PackSpec]:
    """Every cell of a machine that says something."""
    rows = machine_rows(source.book.free_rows)
    for machine in source.book.machines:
        for title, text, unit in _filled(machine.specs, rows):
            yield PackSpec(machine=machine.name, row=title, value=text, unit=unit)


def _setup_specs(source: Source) -> Iterator[PackSetupSpec]:
    """What each setup has of its own, then the state that it was tested in."""
    rows = machine_rows(source.book.free_rows)
    for setup in source.book.setups:
        named = {"machine": setup.machine, "setup": setup.name}
        for title, text, unit in (*_filled(setup.specs, rows), *_filled(setup.conditions, STATES)):
            yield PackSetupSpec(**named, row=title, value=text, unit=unit)


def _filled(
    values: Mapping[str, Any], rows: Iterable[Spec]
) -> Iterator[tuple[str, str, str | None]]:
    for spec in rows:
        if spec.field in values:
            yield spec.title, show_spec(values[spec.field]), spec.unit


def _prices(source: Source) -> Iterator[PackPrice]:
    for machine in source.book.machines:
        every = {price.id: price for price in (*machine.withdrawn_prices, *machine.prices)}
        for price in (*machine.withdrawn_prices[::-1], *machine.prices[::-1]):
            before = every.get(price.corrects_id) if price.corrects_id else None
            amount = None if before is None else before.amount
            yield copy(price, PackPrice, machine=machine.name, corrects_amount=amount)


def _extras(source: Source) -> Iterator[PackExtra]:
    for setup in source.book.setups:
        named = {"machine": setup.machine, "setup": setup.name}
        yield from (copy(extra, PackExtra, **named) for extra in setup.extras)


def read_spec_cells(pack: Pack, rows: Sequence[Spec]) -> Cells:
    """Read the cells of a pack's spec sheet, by machine, or by machine and setup.

    Raises:
        RefusedError: a cell is of no row, or cannot be what it says; names the file.
    """
    machine_level = specs_by_title(rows)
    by_title = {**machine_level, **specs_by_title(STATES)}
    typed: dict[tuple[str, str | None], dict[str, str | None]] = {}
    for line, cell in enumerate(pack.specs, start=2):
        if cell.row not in machine_level:
            raise RefusedError("file", f"specs.csv row {line}: there is no row {cell.row!r}")
        typed.setdefault((cell.machine, None), {})[machine_level[cell.row].field] = cell.value
    for line, own in enumerate(pack.setup_specs, start=2):
        if own.row not in by_title:
            raise RefusedError("file", f"setup_specs.csv row {line}: there is no row {own.row!r}")
        typed.setdefault((own.machine, own.setup), {})[by_title[own.row].field] = own.value
    states = {spec.field for spec in STATES}
    return {
        key: (
            read_cells({}, {k: v for k, v in cells.items() if k not in states}, rows),
            read_cells({}, {k: v for k, v in cells.items() if k in states}, STATES),
        )
        for key, cells in typed.items()
    }


def trial_fields(pack: Pack, rows: Sequence[Spec]) -> list[str]:
    """Fields of the rows that are on trial.

    Raises:
        RefusedError: there is no such row; names the file.
    """
    fields = {title: spec.field for title, spec in specs_by_title((*rows, *STATES)).items()}
    for line, each in enumerate(pack.trial_rows, start=2):
        if each.row not in fields:
            raise RefusedError("file", f"trial_rows.csv row {line}: there is no row {each.row!r}")
    return [fields[each.row] for each in pack.trial_rows]


def _add_free_rows(target: Target) -> None:
    for row in target.pack.free_rows:
        lineup.add_free_row(target.session, target.home, row.model_dump())


def _add_machines(target: Target) -> None:
    cells = read_spec_cells(target.pack, target.sheet_rows())
    for machine in target.pack.machines:
        fields = {**machine.model_dump(), "specs": cells.get((machine.name, None), NO_CELLS)[0]}
        key = lineup.add_machine(target.session, target.home, fields)
        target.known.machines[machine.name] = key


def _add_prices(target: Target) -> None:
    withdrawn: dict[tuple[str, Decimal], UUID] = {}
    for price in target.pack.prices:
        machine = target.known.machines[price.machine]
        fields = price.model_dump(exclude={"machine", "corrects_amount"})
        if price.corrects_amount is not None:
            fields["corrects_id"] = withdrawn.get((price.machine, price.corrects_amount))
        key = lineup.add_price(target.session, machine, fields)
        if price.withdrawn_at is not None:
            withdrawn[price.machine, price.amount] = key


def _add_setups(target: Target) -> None:
    cells, setups = read_spec_cells(target.pack, target.sheet_rows()), target.known.setups
    for setup in target.pack.setups:
        specs, state = cells.get((setup.machine, setup.name), NO_CELLS)
        fields = {"name": setup.name, "mark": setup.mark, "specs": specs, "conditions": state}
        machine = target.known.machines[setup.machine]
        setups[setup.machine, setup.name] = lineup.add_setup(target.session, machine, fields)
    for setup in target.pack.setups:
        if setup.assumed_ratio is None:
            continue
        against = (setup.assumed_against_machine, setup.assumed_against_setup)
        if against not in setups or setup.assumed_source is None:
            reason = f"setups.csv: the assumed speed of {setup.machine} lacks its other half"
            raise RefusedError("file", reason)
        assumed = {
            "assumed_ratio": setup.assumed_ratio,
            "assumed_against_id": setups[against],
            "assumed_source": setup.assumed_source,
        }
        lineup.change_setup(target.session, setups[setup.machine, setup.name], 1, assumed)


def _add_extras(target: Target) -> None:
    for extra in target.pack.extras:
        fields = extra.model_dump(exclude={"machine", "setup"})
        lineup.add_extra(target.session, target.known.setups[extra.machine, extra.setup], fields)


def _cells_of_new_machines(updating: Updating) -> list[Any]:
    machines = {machine.name for machine in updating.new("machines")}
    return [cell for cell in updating.new("specs") if cell.machine in machines]


def _cells_of_new_setups(updating: Updating) -> list[Any]:
    setups = {(setup.machine, setup.name) for setup in updating.new("setups")}
    cells = updating.new("setup_specs")
    return [cell for cell in cells if (cell.machine, cell.setup) in setups]


def _take_cells(target: Target, updating: Updating) -> None:
    """Cells of the sheet that are new or other in the pack, of machines that were here."""
    tables = ("specs", "setup_specs")
    touched = {t: [*updating.new(t), *updating.changed(t)] for t in tables}
    if not any(touched.values()):
        return
    session = target.session
    cells = read_spec_cells(updating.pack.model_copy(update=touched), target.sheet_rows())
    there = {machine.name for machine in updating.here.machines}
    for machine in lineup.list_machines(session, target.home, archived=None):
        if machine.name not in there:
            continue
        for setup in machine.setups:
            specs, state = cells.get((machine.name, setup.name), NO_CELLS)
            if specs or state:
                changes = {
                    "specs": {**setup.specs, **specs},
                    "conditions": {**setup.conditions, **state},
                }
                lineup.change_setup(session, setup.id, setup.version, changes)
        specs, _ = cells.get((machine.name, None), NO_CELLS)
        if specs:
            whole = {"specs": {**machine.specs, **specs}}
            lineup.change_machine(session, machine.id, machine.version, whole)


def _leave_taken(_target: Target, _updating: Updating) -> None:
    """Taken over with the cells of machines."""


TABLES = (
    PackTable(
        name="free_rows",
        words="rows of the sheet",
        rows=lambda source: [copy(row, PackFreeRow) for row in source.book.free_rows],
        add=_add_free_rows,
    ),
    PackTable(
        name="trial_rows",
        words="rows that are compared",
        rows=_trial_rows,
        added=lambda updating: updating.pack.trial_rows,
    ),
    PackTable(
        name="machines",
        words="machines",
        rows=lambda source: [copy(machine, PackMachine) for machine in source.book.machines],
        add=_add_machines,
    ),
    PackTable(
        name="specs",
        words="cells of the spec sheet",
        rows=_specs,
        added=_cells_of_new_machines,
        take=_take_cells,
    ),
    PackTable(name="prices", words="prices", rows=_prices, add=_add_prices),
    PackTable(name="setups", words="setups", rows=_setups, add=_add_setups),
    PackTable(
        name="setup_specs",
        words="cells of setups",
        rows=_setup_specs,
        added=_cells_of_new_setups,
        take=_leave_taken,
    ),
    PackTable(name="extras", words="extras", rows=_extras, add=_add_extras),
)
