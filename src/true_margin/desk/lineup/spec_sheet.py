"""The spec sheet: its rows, what stands in each cell, and how a typed cell is read."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass
from datetime import date
from uuid import UUID

import numpy as np

from true_margin.core.spec_rows import SPECS, STATES
from true_margin.core.specs import Spec, say_spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.prices import PriceView, TestedPrice, tested_price, view_price
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.store import lineup, records, runs, shootouts
from true_margin.store.database import Database

MOST_FREE_ROWS = 60


_STATE_FIELDS = frozenset(spec.field for spec in STATES)


@dataclass(frozen=True, slots=True)
class SpecRow:
    """One row of the spec sheet.

    ``level`` is ``machine`` where a setup may have its own value of a machine's, and
    ``setup`` for the state of a test. ``differs`` where setups are not alike,
    ``filled`` where any of them says something. ``free_row_id`` of a row that the
    reviewer added.
    """

    field: str
    title: str
    group: str
    level: str
    kind: str
    unit: str | None
    choices: tuple[str, ...]
    differs: bool
    filled: bool
    on_trial: bool
    free_row_id: UUID | None


@dataclass(frozen=True, slots=True)
class SpecCell:
    """What a setup has in a row, as it would be typed; ``own`` where it is not its machine's."""

    text: str
    own: bool


@dataclass(frozen=True, slots=True)
class MachineColumn:
    """One machine as a column, with the price that counts, and its runs.

    ``cells`` holds, by field, what each of its setups has, in their order; empty
    rows are left out. ``tested`` holds what each setup cost as tested; ``missing`` counts the
    tasks that none of its setups was tried on yet.
    ``shares_with`` names the machines that it shares parts with.
    """

    machine: records.Machine
    cells: dict[str, tuple[SpecCell, ...]]
    price: PriceView | None
    tested: tuple[TestedPrice, ...]
    runs: int
    missing: int
    shares_with: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ArchivedMachine:
    """A machine in the archive, with how many runs wait there with it."""

    id: UUID
    name: str
    runs: int


@dataclass(frozen=True, slots=True)
class LineUp:
    """The whole spec sheet."""

    rows: tuple[SpecRow, ...]
    columns: tuple[MachineColumn, ...]
    setups: tuple[records.Setup, ...]
    archived: tuple[ArchivedMachine, ...]
    currency: str
    price_date: date


def show_lineup(database: Database, slug: str) -> LineUp:
    """Give the spec sheet of a shootout."""
    book = SHELF.take(database, slug)
    cells = {machine.id: _cells(book, machine) for machine in book.machines}
    return LineUp(
        tuple(_row(book, spec, level, cells) for spec, level in _rows(book)),
        tuple(
            MachineColumn(
                machine,
                cells[machine.id],
                view_price(book, machine),
                tuple(tested_price(book, s) for s in machine.setups),
                _runs_of(book, machine),
                _missing(book, machine),
                _sharing(book, machine),
            )
            for machine in book.machines
        ),
        book.setups,
        _archived(database, book),
        book.shootout.currency,
        book.shootout.price_date,
    )


def _places(book: Book, machine: records.Machine) -> list[int]:
    return [book.setup_index[setup.id] for setup in machine.setups]


def _runs_of(book: Book, machine: records.Machine) -> int:
    """All its runs, whatever became of them."""
    return int(np.isin(book.index.table.setup, _places(book, machine)).sum())


def _missing(book: Book, machine: records.Machine) -> int:
    """Tasks in use that none of its setups was tried on; none before the first run of all."""
    timed = [s for s in machine.setups if s.assumed_ratio is None]
    if machine.retired_at is not None or not timed or not book.runs:
        return 0
    current = [at for at, task in enumerate(book.tasks) if not task.superseded]
    tried = book.index.tried[[book.setup_index[s.id] for s in timed]][:, current]
    return int((tried.sum(axis=0) == 0).sum())


def add_free_row(
    database: Database, slug: str, title: str, unit: str | None, *, number: bool
) -> LineUp:
    """Add a row of the reviewer's own to the sheet.

    Raises:
        RefusedError: a row is called so already, or there are too many.
    """
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        known = lineup.list_free_rows(session, home)
        if any(title.lower() == spec.title.lower() for spec in (*SPECS, *STATES)):
            raise RefusedError("title", f"The sheet has a row {title!r} already.")
        if len(known) >= MOST_FREE_ROWS:
            raise RefusedError("title", f"More than {MOST_FREE_ROWS} rows of your own.")
        lineup.add_free_row(session, home, {"title": title, "unit": unit, "number": number})
    return show_lineup(database, slug)


def rename_free_row(database: Database, row_id: UUID, title: str) -> LineUp:
    """Give a row of the reviewer's own another title."""
    with transaction(database) as session:
        home = lineup.free_row_home(session, row_id)
        shootouts.bump_revision(session, home)
        lineup.rename_free_row(session, row_id, title)
        slug = shootouts.slug_of(session, home)
    return show_lineup(database, slug)


def remove_free_row(database: Database, row_id: UUID) -> LineUp:
    """Take an empty row of the reviewer's own off the sheet.

    Raises:
        RefusedError: something stands in it.
    """
    with transaction(database) as session:
        home = lineup.free_row_home(session, row_id)
        shootouts.bump_revision(session, home)
        for machine in lineup.list_machines(session, home):
            filled = [machine.specs, *(setup.specs for setup in machine.setups)]
            if any(str(row_id) in specs for specs in filled):
                reason = f"{machine.name} says something here; empty the row first."
                raise RefusedError("row", reason)
        lineup.remove_free_row(session, row_id)
        slug = shootouts.slug_of(session, home)
    return show_lineup(database, slug)


def put_on_trial(database: Database, slug: str, field: str, *, on_trial: bool) -> LineUp:
    """Mark a row as what is on trial, besides the subject; or take the mark off.

    Raises:
        RefusedError: there is no such row.
    """
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        rows = (*machine_rows(lineup.list_free_rows(session, shootout.id)), *STATES)
        if field not in {spec.field for spec in rows}:
            raise RefusedError("field", f"There is no row {field!r} in the spec sheet.")
        others = [each for each in shootout.trial_rows if each != field]
        changes = {"trial_rows": [*others, field] if on_trial else others}
        shootouts.change_shootout(session, shootout, shootout.version, changes)
    return show_lineup(database, slug)


def _rows(book: Book) -> list[tuple[Spec, str]]:
    return [(spec, "machine") for spec in machine_rows(book.free_rows)] + [
        (spec, "setup") for spec in STATES
    ]


def _row(
    book: Book, spec: Spec, level: str, cells: Mapping[UUID, Mapping[str, tuple[SpecCell, ...]]]
) -> SpecRow:
    texts = [
        [cell.text for cell in own[spec.field]] if spec.field in own else [""] * len(machine.setups)
        for machine in book.machines
        for own in [cells[machine.id]]
    ]
    values = {text for column in texts for text in column}
    free = next((row.id for row in book.free_rows if str(row.id) == spec.field), None)
    return SpecRow(
        spec.field,
        spec.title,
        spec.group,
        level,
        spec.kind.value,
        spec.unit,
        spec.choices,
        # That nothing is noted of a setup's state is no difference of it.
        len(values - {""} if level == "setup" else values) > 1,
        bool(values - {""}),
        spec.field in book.shootout.trial_rows,
        free,
    )


def _cells(book: Book, machine: records.Machine) -> dict[str, tuple[SpecCell, ...]]:
    found = {}
    for spec, level in _rows(book):
        cells = tuple(_cell(machine, setup, spec.field, level) for setup in machine.setups)
        if any(cell.text for cell in cells):
            found[spec.field] = cells
    return found


def _cell(machine: records.Machine, setup: records.Setup, field: str, level: str) -> SpecCell:
    text = cell_text(machine, setup, field)
    return SpecCell(text, own=level == "setup" or field in setup.specs)


def cell_text(machine: records.Machine, setup: records.Setup, field: str) -> str:
    """A cell of the sheet as it would be typed: a state of the setup, or a spec."""
    if field in _STATE_FIELDS:
        return say_spec(setup.conditions.get(field))
    return say_spec(spec_value(machine, setup, field))


def _sharing(book: Book, machine: records.Machine) -> tuple[str, ...]:
    parts = machine.specs.get("shared")
    if parts is None:
        return ()
    return tuple(
        m.name for m in book.machines if m.id != machine.id and m.specs.get("shared") == parts
    )


def _archived(database: Database, book: Book) -> tuple[ArchivedMachine, ...]:
    with transaction(database) as session:
        machines = lineup.list_machines(session, book.shootout.id, archived=True)
        counts = runs.count_by_setup(session, [s.id for m in machines for s in m.setups])
    return tuple(
        ArchivedMachine(m.id, m.name, sum(counts.get(s.id, 0) for s in m.setups)) for m in machines
    )
