"""What a pasted sheet says: its rows, cells and facts, and what a person answered about it."""

from __future__ import annotations

from collections.abc import Mapping
from dataclasses import dataclass, field
from datetime import date

from true_margin.core.choices import PriceKind
from true_margin.core.numerals import Numerals
from true_margin.exchange.sheets.block import Aside
from true_margin.exchange.sheets.cells import Fix, Result
from true_margin.exchange.sheets.columns import Column, ColumnReading


@dataclass(frozen=True, slots=True)
class TaskAnswer:
    """What a person said of a new task; None where nothing."""

    measure: str | None = None
    unit: str | None = None
    app: str | None = None
    timeline: str | None = None


@dataclass(frozen=True, slots=True)
class Answers:
    """What a person said of a sheet.

    Attributes:
        turned: whether its machines are across; None to find out.
        columns: how columns are read, by place.
        names: by a name in the sheet: the setup that it is, ``+`` for a new machine, or
            nothing to leave its rows out.
        tasks: of new tasks, by name.
        cells: by ``row:column``: what it should say; None to leave it out.
    """

    turned: bool | None = None
    columns: Mapping[int, ColumnReading] = field(default_factory=dict)
    names: Mapping[str, str] = field(default_factory=dict)
    tasks: Mapping[str, TaskAnswer] = field(default_factory=dict)
    cells: Mapping[str, str | None] = field(default_factory=dict)


@dataclass(frozen=True, slots=True)
class CellRead:
    """A cell, read back: its words, or why it waits; both None where it says nothing."""

    text: str
    words: str | None = None
    problem: str | None = None
    fixes: tuple[Fix, ...] = ()


@dataclass(frozen=True, slots=True)
class SheetRow:
    """A row and whose it is.

    Attributes:
        place: from 0.
        line: in the text; the column where the sheet was turned.
        name: as it stands there.
        setup: the setup that it is, known or new; None where that is asked, or it is left out.
        state: ``known``, ``new``, ``asked`` or ``out``.
        why: what is asked, or why it is left out.
        choices: setups that the name may mean.
        cells: one a column.
    """

    place: int
    line: int
    name: str
    setup: str | None
    state: str
    why: str | None
    choices: tuple[str, ...]
    cells: tuple[CellRead, ...]


@dataclass(frozen=True, slots=True)
class SheetTask:
    """A task that results are of; ``question`` where its measure is open."""

    name: str
    new: bool
    measure: str
    unit: str
    app: str
    timeline: str
    question: str | None


@dataclass(frozen=True, slots=True)
class RunFact:
    """A result that would be stored; ``key`` is its place in the sheet."""

    key: str
    setup: str
    task: str
    round: str
    order: int | None
    result: Result
    signs: Numerals


@dataclass(frozen=True, slots=True)
class SpecFact:
    """A spec that would be stored; ``field`` is None for a row that would be made."""

    setup: str
    field: str | None
    title: str
    text: str
    number: bool
    unit: str


@dataclass(frozen=True, slots=True)
class PriceFact:
    """A price that would be stored, of the day that the sheet says."""

    setup: str
    kind: PriceKind
    amount: str
    currency: str
    dated: date | None
    note: str


@dataclass(frozen=True, slots=True)
class RatioFact:
    """A ratio of two machines that would be noted: the first over the second."""

    key: str
    setup: str
    against: str
    task: str
    typed: str


Fact = RunFact | SpecFact | PriceFact | RatioFact


@dataclass(frozen=True, slots=True)
class SheetReading:
    """A sheet as understood.

    Attributes:
        divider, turned, title: as of its block.
        columns: how each is read.
        rows: with every cell read back.
        tasks: that results are of.
        aside: lines that hold no results.
        facts: all that would be stored.
        waiting: cells that cannot go in yet.
    """

    divider: str
    turned: bool
    title: str
    columns: tuple[Column, ...]
    rows: tuple[SheetRow, ...]
    tasks: tuple[SheetTask, ...]
    aside: tuple[Aside, ...]
    facts: tuple[Fact, ...]
    waiting: int
