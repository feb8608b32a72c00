"""How a pasted sheet would be stored: each column, what is asked, and what is there already."""

from __future__ import annotations

import hashlib
from collections import Counter
from collections.abc import Iterable
from dataclasses import dataclass
from decimal import Decimal

from true_margin.core.errors import CoreError
from true_margin.core.numerals import numerals
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import parse_spec, say_spec
from true_margin.core.study import RunStatus
from true_margin.core.wording import count_of, listed
from true_margin.desk.book.book import Book
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError, transaction
from true_margin.desk.lineup.spec_sheet import cell_text
from true_margin.exchange.sheets.block import Aside
from true_margin.exchange.sheets.columns import Column, ColumnReading, Known, KnownTask, Means
from true_margin.exchange.sheets.facts import (
    Answers,
    PriceFact,
    RatioFact,
    RunFact,
    SheetReading,
    SheetRow,
    SheetTask,
    SpecFact,
)
from true_margin.exchange.sheets.sheet import read_sheet
from true_margin.store import ratios, records, runs
from true_margin.store.database import Database

SAMPLES = 3
MOST_SHOWN = 60
"""Rows that are shown without a question in them; those that need somebody come on top."""
MOST_ASKED = 200


@dataclass(frozen=True, slots=True)
class ColumnChoice:
    """An answer to the question of a column, in words."""

    words: str
    reading: ColumnReading


@dataclass(frozen=True, slots=True)
class ColumnView:
    """A column as it is understood, with its first cells read back."""

    place: int
    head: str
    reading: ColumnReading
    words: tuple[str, ...]
    samples: tuple[str, ...]
    question: str | None
    choices: tuple[ColumnChoice, ...]


@dataclass(frozen=True, slots=True)
class SheetCounts:
    """How much of each kind would be stored, is there already, or waits."""

    times: int
    amounts: int
    failed: int
    void: int
    ratios: int
    prices: int
    specs: int
    same: int
    cells_waiting: int
    columns_waiting: int
    names_waiting: int
    columns_out: int

    @property
    def results(self) -> int:
        """Runs that would be stored."""
        return self.times + self.amounts + self.failed + self.void

    @property
    def ready(self) -> int:
        """Everything that would be stored."""
        return self.results + self.ratios + self.prices + self.specs


@dataclass(frozen=True, slots=True)
class SheetPreview:
    """A sheet as it would be stored, before anything is."""

    divider: str
    turned: bool
    title: str
    headline: str
    needs: str
    columns: tuple[ColumnView, ...]
    rows: tuple[SheetRow, ...]
    rows_total: int
    tasks: tuple[SheetTask, ...]
    aside: tuple[Aside, ...]
    new_setups: tuple[str, ...]
    new_rounds: tuple[str, ...]
    apps: tuple[str, ...]
    counts: SheetCounts
    saved: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ReadySheet:
    """A sheet with what of it is new; ``key`` begins the keys of its runs."""

    reading: SheetReading
    key: str
    runs: tuple[RunFact, ...]
    ratios: tuple[RatioFact, ...]
    prices: tuple[PriceFact, ...]
    specs: tuple[SpecFact, ...]
    same: int


def preview_sheet(
    database: Database, slug: str | None, text: str, answers: Answers
) -> SheetPreview:
    """Show how a sheet would be stored; stores nothing.

    Args:
        database: the database.
        slug: of the shootout; None for one that is yet to be made.
        text: of the sheet.
        answers: of a person.

    Raises:
        RefusedError: it cannot be taken for a sheet.
    """
    book = None if slug is None else SHELF.take(database, slug)
    ready = ready_sheet(database, book, text, answers)
    reading = ready.reading
    counts = _counts(ready)
    known_rounds = set() if book is None else {round_.name for round_ in book.rounds}
    rounds = dict.fromkeys(fact.round for fact in ready.runs if fact.round)
    new = dict.fromkeys(
        row.setup for row in reading.rows if row.state == "new" and row.setup is not None
    )
    return SheetPreview(
        reading.divider,
        reading.turned,
        reading.title,
        _headline(counts),
        _needs(counts),
        tuple(_column(column, reading) for column in reading.columns),
        _shown(reading.rows),
        len(reading.rows),
        reading.tasks,
        reading.aside,
        tuple(new),
        tuple(name for name in rounds if name not in known_rounds),
        () if book is None else tuple(dict.fromkeys(task.app for task in book.tasks)),
        counts,
        tuple(_saved(counts)),
    )


def ready_sheet(database: Database, book: Book | None, text: str, answers: Answers) -> ReadySheet:
    """Understand a sheet and part what is new in it from what the book has.

    Raises:
        RefusedError: it cannot be taken for a sheet.
    """
    try:
        reading = read_sheet(text, _known(book), answers)
    except CoreError as error:
        raise RefusedError("text", error.reason) from error
    key = f"table-{hashlib.sha256(text.encode()).hexdigest()[:24]}-"
    stored: frozenset[str] = frozenset()
    noted: frozenset[str] = frozenset()
    if book is not None:
        with transaction(database) as session:
            stored = runs.known_client_keys(session, book.shootout.id, key)
            noted = ratios.known_keys(session, book.shootout.id, key)
    same = _Same(book)
    facts = reading.facts
    new_runs = [f for f in facts if isinstance(f, RunFact) and f"{key}{f.key}" not in stored]
    new_ratios = [f for f in facts if isinstance(f, RatioFact) and f"{key}{f.key}" not in noted]
    prices = [f for f in facts if isinstance(f, PriceFact) and not same.price(f)]
    specs = [f for f in facts if isinstance(f, SpecFact) and not same.spec(f)]
    there = len(new_runs) + len(new_ratios) + len(prices) + len(specs)
    return ReadySheet(
        reading,
        key,
        tuple(new_runs),
        tuple(new_ratios),
        tuple(dict.fromkeys(prices)),
        tuple(dict.fromkeys(specs)),
        len(facts) - there,
    )


def _known(book: Book | None) -> Known:
    if book is None:
        return Known(signs=numerals())
    timed = (task for task in book.tasks if not task.superseded)
    return Known(
        tuple(setup.label for setup in book.setups),
        tuple(KnownTask(task.name, task.measure, task.unit or "") for task in timed),
        machine_rows(book.free_rows),
        book.shootout.currency,
        numerals(),
    )


class _Same:
    """Tells whether the book says a thing already."""

    def __init__(self, book: Book | None) -> None:
        self._book = book
        self._setups = {} if book is None else {setup.label: setup for setup in book.setups}
        rows = () if book is None else (*machine_rows(book.free_rows), *STATES)
        self._rows = {spec.field: spec for spec in rows}

    def _machine(self, label: str) -> records.Machine | None:
        setup = self._setups.get(label)
        return None if setup is None or self._book is None else self._book.machine_of[setup.id]

    def spec(self, fact: SpecFact) -> bool:
        """Whether the setup has this value in this row."""
        machine, row = self._machine(fact.setup), self._rows.get(fact.field or "")
        if machine is None or row is None:
            return False
        there = cell_text(machine, self._setups[fact.setup], row.field)
        return there == say_spec(parse_spec(row, fact.text, numerals()))

    def price(self, fact: PriceFact) -> bool:
        """Whether the machine has this price, of this day where one is said."""
        machine = self._machine(fact.setup)
        return machine is not None and any(
            price.amount == Decimal(fact.amount)
            and (price.currency, price.kind) == (fact.currency, fact.kind)
            and fact.dated in (None, price.dated)
            for price in machine.prices
        )


def _counts(ready: ReadySheet) -> SheetCounts:
    measures = {task.name: task.measure for task in ready.reading.tasks}
    kinds = Counter(
        measures[fact.task] if fact.result.status is RunStatus.OK else fact.result.status.value
        for fact in ready.runs
    )
    columns, rows = ready.reading.columns, ready.reading.rows
    return SheetCounts(
        times=kinds["time"],
        amounts=kinds["amount"],
        failed=kinds[RunStatus.FAILED.value],
        void=kinds[RunStatus.VOID.value],
        ratios=len(ready.ratios),
        prices=len(ready.prices),
        specs=len(ready.specs),
        same=ready.same,
        cells_waiting=ready.reading.waiting,
        columns_waiting=sum(column.question is not None for column in columns),
        names_waiting=len({row.name for row in rows if row.state == "asked"}),
        columns_out=sum(column.reading.means is Means.OUT for column in columns),
    )


def _headline(counts: SheetCounts) -> str:
    parts = [
        count_of(number, noun) if number else ""
        for number, noun in (
            (counts.results, "result"),
            (counts.ratios, "noted ratio"),
            (counts.prices, "price"),
            (counts.specs, "spec"),
        )
    ]
    if not any(parts):
        return "All of this is here already." if counts.same else "Nothing is ready yet."
    are = "is" if counts.ready == 1 else "are"
    return f"{listed(filter(None, parts))} {are} ready."


def _needs(counts: SheetCounts) -> str:
    waiting = (
        (counts.columns_waiting, "column"),
        (counts.names_waiting, "name"),
        (counts.cells_waiting, "cell"),
    )
    parts = [count_of(number, noun) if number else "" for number, noun in waiting]
    if not any(parts):
        return ""
    verb = "needs" if sum(number for number, _ in waiting) == 1 else "need"
    return f"{listed(filter(None, parts))} {verb} you"


def _saved(counts: SheetCounts) -> Iterable[str]:
    """What will be saved, part by part."""
    for number, noun in (
        (counts.times, "time"),
        (counts.amounts, "amount"),
        (counts.ratios, "noted ratio"),
        (counts.prices, "price"),
        (counts.specs, "spec"),
    ):
        if number:
            better = {"time": ", lower is better", "amount": ", higher is better"}.get(noun, "")
            yield f"{count_of(number, noun)}{better}"
    if counts.failed:
        yield f"{counts.failed} failed, kept and not averaged"
    if counts.void:
        yield f"{counts.void} not counted, kept"
    if counts.same:
        yield f"{counts.same} here already"


def _shown(rows: tuple[SheetRow, ...]) -> tuple[SheetRow, ...]:
    """The first rows, and beyond them those that need somebody."""
    later = [
        row
        for row in rows[MOST_SHOWN:]
        if row.state == "asked" or any(cell.problem is not None for cell in row.cells)
    ]
    return (*rows[:MOST_SHOWN], *later[:MOST_ASKED])


def _column(column: Column, reading: SheetReading) -> ColumnView:
    cells = [row.cells[column.place] for row in reading.rows if row.state != "out"]
    samples = [cell.words for cell in cells if cell.words is not None][:SAMPLES]
    return ColumnView(
        column.place,
        column.head,
        column.reading,
        tuple(_words(column, reading)),
        tuple(samples),
        column.question,
        tuple(ColumnChoice(_choice(column, each), each) for each in column.choices),
    )


def _words(column: Column, reading: SheetReading) -> Iterable[str]:
    """How a column was understood, in short lines."""
    own = column.reading
    if own.means is Means.MACHINE:
        states = Counter({row.name: row.state for row in reading.rows}.values())
        known = [f"{states[state]} {state}" for state in ("known", "new", "asked") if states[state]]
        return (", ".join(known),)
    if own.means is Means.TASK:
        return _task_words(next(task for task in reading.tasks if task.name == own.name), own.unit)
    found = {
        Means.SPEC: ("" if own.spec else "a new row", f"in {own.unit}" if own.unit else ""),
        Means.PRICE: (f"{own.name or 'list'}, in {own.currency}",),
        Means.RATIO: (f"noted, against {own.name}", f"on {own.task}" if own.task else ""),
    }.get(own.means, ())
    return tuple(line for line in found if line)


def _task_words(task: SheetTask, unit: str) -> tuple[str, ...]:
    new = ("a new task",) if task.new else ()
    if task.measure == "time":
        return (*new, "lower is better")
    named = task.unit or unit
    return (*new, f"in {named}" if named else "a number", "higher is better")


def _choice(column: Column, reading: ColumnReading) -> str:
    """A short label for an answer."""
    if reading.means is Means.OUT:
        return "Leave out"
    if column.reading.means is Means.ASK:
        if reading.means is Means.TASK:
            return "Task, amount" if reading.measure == "amount" else "Task, seconds"
        if reading.means is Means.SPEC:
            return "Spec row"
        return "Noted ratios" if reading.means is Means.RATIO else reading.means.value
    if reading.decimals and reading.decimals != column.reading.decimals:
        return "thousands" if reading.decimals == "," else "decimals"
    units = {"s": "seconds", "min": "minutes", "h": "hours", "min:s": "minutes and seconds"}
    units |= {"h:min": "hours and minutes", "h:min:s": "hours and minutes"}
    units |= {"min:s:00": "minutes and seconds", "min, decimal": "parts of a minute"}
    units |= {"h, decimal": "parts of an hour"}
    return units.get(reading.unit, reading.unit)
