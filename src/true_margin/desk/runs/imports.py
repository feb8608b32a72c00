"""Bringing in a table of runs: shown first, stored only when confirmed, all or nothing."""

from __future__ import annotations

import hashlib
import re
from collections.abc import Iterable, Mapping, Sequence
from dataclasses import dataclass
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.entry_line import MatchState, match_name
from true_margin.core.errors import CoreError
from true_margin.core.numerals import PLAIN, Numerals, numerals, short, writing
from true_margin.core.quantities import ReadingMethod
from true_margin.core.typed_numbers import signs_of_column
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import AmbiguousTimeError, RefusedError, transaction
from true_margin.desk.lineup.lineup import FIRST_SETUP
from true_margin.desk.runs.entry import TimeMeaning
from true_margin.desk.runs.runs import Meaning, prepare_run, read_places, read_value
from true_margin.exchange.run_table import Column, TableRow, read_run_table
from true_margin.store import lineup, runs, shootouts, tasks
from true_margin.store.database import Database

POINT_OR_THOUSANDS = re.compile(r"(?<![\d:.,])[1-9]\d{0,2}\.\d{3}(?![\d:.,])")
"""A number whose point may part thousands as well."""


@dataclass(frozen=True, slots=True)
class ImportRow:
    """One row as understood; ``problem`` says why it cannot be stored as it is."""

    line: int
    where: str
    setup: str
    task: str
    round: str
    order: int | None
    typed: str
    value_words: str | None
    method: str
    status: str
    note: str
    problem: str | None
    meanings: tuple[TimeMeaning, ...]
    new_setup: bool
    new_task: bool


@dataclass(frozen=True, slots=True)
class ImportPreview:
    """A table of runs as it would be stored, before anything is."""

    delimiter: str
    columns: tuple[Column, ...]
    rows: tuple[ImportRow, ...]
    good: int
    bad: int
    new_setups: tuple[str, ...]
    new_tasks: tuple[str, ...]
    new_rounds: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ImportResult:
    """What was stored, and which lines were left out."""

    stored: int
    already_there: int
    left_out: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class ImportRequest:
    """A table with a person's answers.

    ``columns`` overrides the guessed fields, ``answers`` chooses the meaning of
    ambiguous times by line, ``add_missing`` lets unknown setups and tasks be
    added, ``leave_out_bad`` stores the good rows without the bad ones.
    """

    text: str
    columns: list[str | None] | None = None
    answers: Mapping[int, Meaning] | None = None
    add_missing: bool = False
    leave_out_bad: bool = False


def preview_import(database: Database, slug: str, request: ImportRequest) -> ImportPreview:
    """Show how a table would be stored; stores nothing."""
    book = SHELF.take(database, slug)
    try:
        names = [setup.label for setup in book.setups], [task.name for task in book.tasks]
        table = read_run_table(request.text, request.columns, *names)
    except CoreError as error:
        raise RefusedError("text", error.reason) from error
    signs = _signs_of(row.cells.get("value", "") for row in table.rows)
    rows = tuple(_understand(book, row, request, signs) for row in table.rows)
    known_rounds = {round_.name for round_ in book.rounds}
    return ImportPreview(
        {"\t": "tab", ";": "semicolon", ",": "comma"}[table.delimiter],
        table.columns,
        rows,
        sum(row.problem is None for row in rows),
        sum(row.problem is not None for row in rows),
        tuple(dict.fromkeys(row.setup for row in rows if row.new_setup and row.setup)),
        tuple(dict.fromkeys(row.task for row in rows if row.new_task and row.task)),
        tuple(dict.fromkeys(r.round for r in rows if r.round and r.round not in known_rounds)),
    )


def commit_import(database: Database, slug: str, request: ImportRequest, who: str) -> ImportResult:
    """Store a table's good rows in one transaction.

    The same table again stores nothing twice: each row's key is made from the
    table and its line.
    """
    preview = preview_import(database, slug, request)
    signs = _signs_of(row.typed for row in preview.rows)
    bad = [row for row in preview.rows if row.problem is not None]
    if bad and not request.leave_out_bad:
        raise RefusedError(
            "text",
            f"{count_of(len(bad), 'row')} cannot be stored; nothing was. Correct or leave out "
            "what is listed.",
            lines=[{"line": row.line, "where": row.where, "reason": row.problem} for row in bad],
        )
    digest = hashlib.sha256(request.text.encode()).hexdigest()[:24]
    with transaction(database) as session:
        shootout = shootouts.get_shootout(session, slug)
        shootouts.bump_revision(session, shootout.id)
        names = _Names(session, shootout.id)
        known = runs.known_client_keys(session, shootout.id, f"table-{digest}-")
        fields = [
            _fields(row, names, request, f"table-{digest}-{row.line}")
            for row in _in_order(preview.rows)
            if row.problem is None
        ]
        new = [each for each in fields if each["client_key"] not in known]
        places = read_places(session, shootout.id)
        # As they were shown: by the signs of the table, not of whoever brings it in.
        with writing(signs or PLAIN):
            rows = [prepare_run(places, each, who) for each in new]
        runs.add_runs(session, shootout.id, rows)
    return ImportResult(len(new), len(fields) - len(new), tuple(row.where for row in bad))


def _signs_of(values: Iterable[str]) -> Numerals | None:
    """By which signs the values of a table are written; None where they do not tell."""
    return signs_of_column(values, numerals())


def _understand(
    book: Book, row: TableRow, request: ImportRequest, signs: Numerals | None
) -> ImportRow:
    cells = row.cells
    setup = match_name(cells.get("setup", ""), [s.label for s in book.setups])
    task = match_name(cells.get("task", ""), [t.name for t in book.tasks])
    setup_name = setup.text if setup.index is None else book.setups[setup.index].label
    task_name = task.text if task.index is None else book.tasks[task.index].name
    status = (cells.get("status", "").lower() or "ok").strip()
    measure = "time" if task.index is None else book.tasks[task.index].measure
    problem = row.problem or _cell_problem(setup.state, task.state, cells, status, request)
    words: str | None = None
    meanings: tuple[TimeMeaning, ...] = ()
    typed = cells.get("value", "")
    method = _method(cells.get("reading", ""))
    if problem is None and method is None:
        problem = f"reading {cells['reading']!r} is not one of {', '.join(ReadingMethod)}"
    if problem is None and typed:
        meaning = (request.answers or {}).get(row.line)
        try:
            value = read_value(
                typed, measure, method or ReadingMethod.STOPWATCH, meaning, signs=signs or PLAIN
            )
            words = short(value.value) + (" s" if measure == "time" else "")
        except AmbiguousTimeError as error:
            meanings = tuple(TimeMeaning(**each) for each in error.extra["meanings"])
            problem = f"{typed} has two meanings: choose one"
        except CoreError as error:
            problem = error.reason
    if problem is None and signs is None and POINT_OR_THOUSANDS.search(typed):
        problem = f"{typed} may be thousands or decimals: write it without the point"
    return ImportRow(
        row.line,
        row.where,
        setup_name,
        task_name,
        cells.get("round", ""),
        _order(cells),
        typed,
        words,
        (method or ReadingMethod.STOPWATCH).value,
        status,
        cells.get("note", ""),
        problem,
        meanings,
        setup.state is MatchState.NONE,
        task.state is MatchState.NONE,
    )


def _cell_problem(
    setup: MatchState,
    task: MatchState,
    cells: Mapping[str, str],
    status: str,
    request: ImportRequest,
) -> str | None:
    for found, kind in ((setup, "setup"), (task, "task")):
        if found is MatchState.MISSING:
            return f"no {kind} is named"
        if found is MatchState.SEVERAL:
            return f"{cells[kind]!r} fits several {kind}s"
        if found is MatchState.NONE and not request.add_missing:
            return f"no {kind} is called {cells[kind]!r}"
    if status not in ("ok", "void", "failed"):
        return f"status {status!r} is not ok, void or failed"
    if status == "ok" and not cells.get("value"):
        return "no time or amount is given"
    if status != "ok" and not cells.get("note"):
        return f"a {status} run needs its reason in the note"
    return None


def _order(cells: Mapping[str, str]) -> int | None:
    text = cells.get("order", "")
    return int(text) if text.isascii() and text.isdigit() and len(text) < 10 else None


def _in_order(rows: Sequence[ImportRow]) -> list[ImportRow]:
    """Rows by their order where every row gives one, else as the table has them."""
    if any(row.order is None for row in rows):
        return list(rows)
    return sorted(rows, key=lambda row: row.order or 0)


def _method(text: str) -> ReadingMethod | None:
    if not text:
        return ReadingMethod.STOPWATCH
    plain = text.lower().removeprefix("hand ").strip()
    known = {method.value: method for method in ReadingMethod}
    aliases = {"hand": ReadingMethod.STOPWATCH, "app log": ReadingMethod.LOG}
    return known.get(plain) or aliases.get(plain)


class _Names:
    """Finds setups, tasks and rounds by name, adding those that are new."""

    def __init__(self, session: Session, shootout_id: UUID) -> None:
        self._session, self._shootout = session, shootout_id
        machines = lineup.list_machines(session, shootout_id)
        self._setups = {s.label: s.id for m in machines for s in m.setups}
        self._tasks = {t.name: t.id for t in tasks.list_tasks(session, shootout_id)}
        self._rounds = {r.name: r.id for r in shootouts.list_rounds(session, shootout_id)}

    def setup(self, name: str) -> UUID:
        if name not in self._setups:
            machine = lineup.add_machine(self._session, self._shootout, {"name": name})
            self._setups[name] = lineup.add_setup(self._session, machine, {"name": FIRST_SETUP})
        return self._setups[name]

    def task(self, name: str) -> UUID:
        if name not in self._tasks:
            app = shootouts.app_named(self._session, self._shootout, name)
            fields = {"name": name, "app_id": app}
            self._tasks[name] = tasks.add_task(self._session, self._shootout, fields)
        return self._tasks[name]

    def round(self, name: str) -> UUID | None:
        if name and name not in self._rounds:
            self._rounds[name] = shootouts.add_round(self._session, self._shootout, name)
        return self._rounds.get(name)


def _fields(row: ImportRow, names: _Names, request: ImportRequest, key: str) -> dict[str, object]:
    return {
        "setup_id": names.setup(row.setup),
        "task_id": names.task(row.task),
        "round_id": names.round(row.round),
        "typed": row.typed,
        "method": row.method,
        "status": row.status,
        "reason": row.note if row.status != "ok" else None,
        "note": row.note if row.status == "ok" and row.note else None,
        "meaning": (request.answers or {}).get(row.line),
        "client_key": key,
    }
