"""What one table of a pack is to the desk: how its rows come out of a book and go into one.

Every table has one entry, in one of the modules ``*_tables``; ``registry`` lists them all.
"""

from __future__ import annotations

import json
from collections.abc import Callable, Iterable, Mapping, Sequence
from dataclasses import dataclass, field
from datetime import datetime
from typing import Any, TypeAlias, TypeVar
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.specs import Spec
from true_margin.desk.book.book import Book
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.errors import RefusedError
from true_margin.exchange.data_pack import Pack
from true_margin.exchange.pack_difference import TableDifference
from true_margin.exchange.pack_rows import PackRow
from true_margin.store import lineup, records

Row = TypeVar("Row", bound=PackRow)
Setups: TypeAlias = dict[tuple[str | None, str | None], UUID]
WHO = "a data pack"


@dataclass(frozen=True)
class Source:
    """What a pack is given out of: the book, and what a book does not hold."""

    book: Book
    revisions: Sequence[tuple[UUID, records.RunRevision]]
    pictures: Sequence[records.RunPicture]

    @property
    def tasks(self) -> tuple[records.Task, ...]:
        """All tasks, those that are looked at only last."""
        return (*self.book.tasks, *self.book.observed)

    @property
    def task_names(self) -> dict[UUID, str]:
        """Names of all tasks."""
        return {task.id: task.name for task in self.tasks}

    def setup(self, setup_id: object) -> records.Setup | None:
        """The setup with this id, where it is there."""
        place = None if setup_id is None else self.book.setup_index.get(UUID(str(setup_id)))
        return None if place is None else self.book.setups[place]

    def setup_columns(self, setup_id: object, before: str = "", after: str = "") -> dict[str, Any]:
        """The two columns that name a setup; both empty where there is none."""
        setup = self.setup(setup_id)
        return {
            f"{before}machine{after}": None if setup is None else setup.machine,
            f"{before}setup{after}": None if setup is None else setup.name,
        }


@dataclass
class Known:
    """Ids of what is in the shootout by the names that a pack uses; grows as rows are added.

    ``keep_ids`` says that runs and inquiries keep the ids that the pack gives them.
    """

    machines: dict[str, UUID] = field(default_factory=dict)
    setups: Setups = field(default_factory=dict)
    tasks: dict[str, UUID] = field(default_factory=dict)
    rounds: dict[str, UUID] = field(default_factory=dict)
    runs: dict[str, UUID] = field(default_factory=dict)
    inquiries: dict[str, UUID] = field(default_factory=dict)
    steps: dict[tuple[str, int], UUID] = field(default_factory=dict)
    # The step of an inquiry that runs without one belong to.
    again: dict[str, UUID] = field(default_factory=dict)
    # Entries of the log by what they are, their setup, and when they were noted.
    logged: dict[tuple[str, UUID | None, datetime], UUID] = field(default_factory=dict)
    viewers: int = 0
    cards: int = 0
    keep_ids: bool = False

    def setup(self, row: Any, before: str = "", after: str = "") -> UUID | None:
        """The setup that two columns of a row name; None where they name none."""
        machine = getattr(row, f"{before}machine{after}")
        return machine and self.setups[machine, getattr(row, f"{before}setup{after}") or ""]

    def task(self, row: Any) -> UUID | None:
        """The task that a row names; None where it names none."""
        return None if row.task is None else self.tasks[row.task]

    def run(self, row: Any) -> UUID | None:
        """The run that a row names; None where it names none."""
        return None if row.run is None else self.runs[row.run]


@dataclass(frozen=True)
class Target:
    """Where the rows of a pack go: a shootout in a transaction."""

    session: Session
    home: UUID
    pack: Pack
    known: Known

    def sheet_rows(self) -> tuple[Spec, ...]:
        """The rows of the shootout's spec sheet."""
        return machine_rows(lineup.list_free_rows(self.session, self.home))


@dataclass(frozen=True)
class Updating:
    """An update in the making: both packs, and what of the one is not in the other."""

    here: Pack
    pack: Pack
    differences: Mapping[str, TableDifference]

    def new(self, table: str) -> list[Any]:
        """Rows that only the pack has."""
        difference = self.differences.get(table)
        return [] if difference is None else list(difference.new)

    def changed(self, table: str) -> list[Any]:
        """Rows of the pack that are here with other values."""
        difference = self.differences.get(table)
        return [] if difference is None else [each.there for each in difference.changed]


@dataclass(frozen=True, kw_only=True)
class PackTable:
    """One table of a pack.

    Attributes:
        name: as in the pack; its model, key and links are ``SCHEMAS[name]``.
        words: what its rows are called.
        rows: gives its rows out of a book.
        add: puts the pack's rows into a shootout; None where they come in with those of
            another table, which they say more of.
        added: which rows an update adds; those that are not here, unless it says otherwise.
        take: takes over what is other in the pack; None where what is here stays.
        part_of: the table whose rows its own belong to, where an update tells of both as one.
    """

    name: str
    words: str
    rows: Callable[[Source], Iterable[PackRow]]
    add: Callable[[Target], None] | None = None
    added: Callable[[Updating], list[Any]] | None = None
    take: Callable[[Target, Updating], None] | None = None
    part_of: str | None = None

    def fresh(self, updating: Updating) -> list[Any]:
        """Rows that an update adds."""
        return updating.new(self.name) if self.added is None else self.added(updating)


def copy(record: object, model: type[Row], **more: Any) -> Row:
    """A row of what a record and its row name alike, and of ``more``."""
    columns = {
        name: getattr(record, name)
        for name in model.model_fields
        if name not in more and hasattr(record, name)
    }
    return model(**columns, **more)


def json_object(table: str, column: str, text: str) -> dict[str, Any]:
    """Read a cell that holds a JSON object.

    Raises:
        RefusedError: it holds none; names the table and the column.
    """
    try:
        value = json.loads(text)
    except (ValueError, RecursionError) as error:
        raise RefusedError("file", f"{table}: {column!r} is not JSON: {error}") from error
    if not isinstance(value, dict):
        raise RefusedError("file", f"{table}: {column!r} must be a JSON object")
    return value


def nothing(_updating: Updating) -> list[Any]:
    """No row: what comes in comes with those of another table."""
    return []
