"""Specs brought in as a block or a file: shown first, stored only when confirmed."""

from __future__ import annotations

from dataclasses import dataclass

from true_margin.core.errors import CoreError
from true_margin.core.numerals import numerals
from true_margin.core.specs import parse_spec, say_spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.sheet_rows import machine_rows, read_cells
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.lineup.lineup import FIRST_SETUP
from true_margin.exchange.spec_table import SpecEntry, read_specs
from true_margin.store import lineup, shootouts
from true_margin.store.database import Database

EMPTY = ("", "-", "–")


@dataclass(frozen=True, slots=True)
class SpecChange:
    """One spec as it would change; ``problem`` says why it cannot."""

    machine: str
    field: str
    title: str
    before: str
    after: str
    problem: str | None


@dataclass(frozen=True, slots=True)
class SpecPreview:
    """What a block would change; ``new`` names machines that would be added."""

    layout: str
    changes: tuple[SpecChange, ...]
    new: tuple[str, ...]
    unknown: tuple[str, ...]
    bad: int


def preview_specs(database: Database, slug: str, text: str) -> SpecPreview:
    """Show what a block would change; stores nothing."""
    book = SHELF.take(database, slug)
    try:
        table = read_specs(text, machine_rows(book.free_rows))
    except CoreError as error:
        raise RefusedError("text", error.reason) from error
    known = {machine.name: machine for machine in book.machines}
    changes = tuple(
        change for entry in table.entries if (change := _change(book, entry)) is not None
    )
    return SpecPreview(
        table.layout,
        changes,
        tuple(name for name in table.machines if name not in known),
        table.unknown,
        sum(change.problem is not None for change in changes),
    )


def _change(book: Book, entry: SpecEntry) -> SpecChange | None:
    """One change; None where the machine has that spec already."""
    machine = next((m for m in book.machines if m.name == entry.machine), None)
    before = "" if machine is None else say_spec(machine.specs.get(entry.spec.field))
    try:
        after = say_spec(parse_spec(entry.spec, entry.text, numerals()))
    except CoreError as error:
        return SpecChange(
            entry.machine, entry.spec.field, entry.spec.title, before, entry.text, error.reason
        )
    if after in ("", before):
        return None
    return SpecChange(entry.machine, entry.spec.field, entry.spec.title, before, after, None)


def commit_specs(database: Database, slug: str, text: str) -> SpecPreview:
    """Store what a block changes, all or nothing; gives what was stored.

    Raises:
        RefusedError: a cell cannot be stored; nothing was.
    """
    preview = preview_specs(database, slug, text)
    if preview.bad:
        reason = f"{preview.bad} cells cannot be stored; nothing was. Correct them and paste again."
        raise RefusedError("text", reason)
    rows = machine_rows(SHELF.take(database, slug).free_rows)
    typed: dict[str, dict[str, str | None]] = {name: {} for name in preview.new}
    for entry in read_specs(text, rows).entries:
        if entry.text.strip() not in EMPTY:
            typed.setdefault(entry.machine, {})[entry.spec.field] = entry.text
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        known = {machine.name: machine for machine in lineup.list_machines(session, home)}
        for name, cells in typed.items():
            if name in known:
                specs = read_cells(known[name].specs, cells, rows)
                lineup.change_machine(
                    session, known[name].id, known[name].version, {"specs": specs}
                )
            else:
                fields = {"name": name, "specs": read_cells({}, cells, rows)}
                key = lineup.add_machine(session, home, fields)
                lineup.add_setup(session, key, {"name": FIRST_SETUP})
    return preview
