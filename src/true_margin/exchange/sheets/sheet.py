"""A whole sheet as it is understood: what would go in, what is asked, what is left out."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Iterator, Sequence
from dataclasses import replace
from datetime import date

from true_margin.core.choices import PriceKind
from true_margin.core.entry_line import MatchState, match_name
from true_margin.core.numerals import Numerals
from true_margin.core.readings import ReadingMethod
from true_margin.core.spec_rows import STATES
from true_margin.core.specs import CellKind as RowKind
from true_margin.core.specs import Spec
from true_margin.core.state_words import NOTHING
from true_margin.core.study import RunStatus
from true_margin.core.typed_numbers import signs_of_column
from true_margin.exchange.sheets import cells as reads
from true_margin.exchange.sheets.block import Block, find_block
from true_margin.exchange.sheets.cells import CellError, Fix, Result
from true_margin.exchange.sheets.columns import (
    Column,
    ColumnReading,
    Known,
    Means,
    common_unit,
    guess_head,
    settled,
    understand_columns,
)
from true_margin.exchange.sheets.facts import (
    Answers,
    CellRead,
    Fact,
    PriceFact,
    RatioFact,
    RunFact,
    SheetReading,
    SheetRow,
    SheetTask,
    SpecFact,
    TaskAnswer,
)
from true_margin.exchange.sheets.grid import SheetError, read_grid
from true_margin.exchange.sheets.words import (
    CellKind,
    Head,
    kind_of,
    names_an_amount,
    read_head,
    without_marks,
)

MOST_FACTS = 40_000
MOST_NAME, MOST_TASK = 120, 200
"""Signs of the name of a machine or a round, and of a task."""
MOST_NOTE = 2000
_SUMMARY = frozenset(
    {"average", "mean", "median", "total", "sum", "avg", "best", "worst", "winner", "min", "max"}
)
_STATUSES = {
    "": RunStatus.OK,
    **{status.value: status for status in RunStatus},
    **dict.fromkeys(("good", "counts", "pass", "passed", "done"), RunStatus.OK),
    **dict.fromkeys(("dnf", "crashed", "crash", "error"), RunStatus.FAILED),
    **dict.fromkeys(("not counted", "discarded", "warm-up", "warmup"), RunStatus.VOID),
}
_METHODS = {
    **{method.value: method for method in ReadingMethod},
    **dict.fromkeys(("", "hand", "hand stopwatch", "phone"), ReadingMethod.STOPWATCH),
    **dict.fromkeys(("app log", "render log"), ReadingMethod.LOG),
}


def read_sheet(text: str, known: Known, answers: Answers | None = None) -> SheetReading:
    """Understand a sheet, as far as it goes; stores nothing.

    Args:
        text: pasted cells, a CSV, or lines such as ``Alder / photos / 8:46``.
        known: what the shootout has.
        answers: of a person.

    Raises:
        SheetError: it cannot be taken for a sheet at all.
    """
    own = answers or Answers()
    block = find_block(read_grid(text), lambda head: guess_head(head, known), own.turned)
    columns = understand_columns(block.heads, block.rows, known)
    for place in own.columns:
        if not 0 <= place < len(columns):
            raise SheetError(f"There is no column {place + 1}; the table has {len(columns)}.")
    columns = tuple(
        settled(column, own.columns[column.place], [r[column.place] for r in block.rows], known)
        if column.place in own.columns
        else column
        for column in columns
    )
    _check(columns)
    return _Reader(block, _told_apart(columns), known, own).read()


def _told_apart(columns: tuple[Column, ...]) -> tuple[Column, ...]:
    """Ask about a second column of one spec row, which would overwrite the first."""
    seen: set[str] = set()
    found = []
    for column in columns:
        reading = column.reading
        row = (reading.spec or reading.name).casefold() if reading.means is Means.SPEC else ""
        question, out = column.question, (ColumnReading(Means.OUT, reading.name),)
        twice = bool(row) and row in seen and question is None
        seen.add(row)
        said = f"Another column is “{reading.name}” too. Give one of them another name."
        found.append(replace(column, question=said, choices=out) if twice else column)
    return tuple(found)


def _check(columns: Sequence[Column]) -> None:
    means = Counter(column.reading.means for column in columns)
    for kind, words in (
        (Means.MACHINE, "the machine"),
        (Means.TASK_NAME, "the task"),
        (Means.RESULT, "the result"),
    ):
        if means[kind] > 1:
            raise SheetError(
                f"Two columns are read as {words}: one of them must be something else."
            )
    if not means[Means.MACHINE]:
        raise SheetError("No column names the machine: say which one does.")
    if means[Means.RESULT] and not means[Means.TASK_NAME]:
        heads = ", ".join(column.head for column in columns if column.head)
        raise SheetError(f"No column names the task of each result among: {heads}.")


class _Reader:
    """Reads a block row by row; what a later row needs of an earlier one it remembers."""

    def __init__(
        self, block: Block, columns: tuple[Column, ...], known: Known, answers: Answers
    ) -> None:
        self._block, self._columns, self._known, self._answers = block, columns, known, answers
        self._place = {column.reading.means: column.place for column in columns}
        self._signs = [self._signs_of(column) for column in columns]
        self._rows = {spec.field: spec for spec in (*known.rows, *STATES)}
        self._free = {
            column.place: self._free_row(column)
            for column in columns
            if column.reading.means is Means.SPEC and column.reading.spec is None
        }
        self._owners: dict[str, tuple[str | None, str, str | None, tuple[str, ...]]] = {}
        self._named: dict[str, str] = {}
        self._tasks = {task.name: task for task in self._find_tasks()}

    def read(self) -> SheetReading:
        """Read all rows."""
        facts: list[Fact] = []
        rows = []
        name = ""
        for place, row in enumerate(self._block.rows):
            # A name that stands once, above several rows, is that of all of them.
            name = self._cell(place, self._place[Means.MACHINE], row) or name
            own, found = self._row(place, row, name)
            rows.append(own)
            facts += found
            if len(facts) > MOST_FACTS:
                raise SheetError(f"More than {MOST_FACTS} results and specs; split the table.")
        waiting = sum(cell.problem is not None for row in rows for cell in row.cells)
        block = self._block
        return SheetReading(
            block.divider,
            block.turned,
            block.title,
            self._columns,
            tuple(rows),
            tuple(self._tasks.values()),
            block.aside,
            tuple(facts),
            waiting,
        )

    def _signs_of(self, column: Column) -> Numerals:
        if column.reading.decimals:
            point = column.reading.decimals
            return Numerals(point, "." if point == "," else ",")
        cells = [row[column.place] for row in self._block.rows]
        return signs_of_column(cells, self._known.signs) or Numerals()

    def _free_row(self, column: Column) -> Spec:
        """A row of the spec sheet that would be made for a column."""
        kinds = {kind_of(row[column.place]) for row in self._block.rows} - {CellKind.EMPTY}
        number = kinds == {CellKind.NUMBER}
        kind = RowKind.NUMBER if number else RowKind.TEXT
        title, unit = column.reading.name[:60], column.reading.unit[:20] or None
        return Spec(f"new {column.place}", title, "", kind, unit if number else None, least=-1e9)

    def _cell(self, row: int, column: int, cells: Sequence[str]) -> str:
        """A cell as it stands, or as a person wrote it anew; empty where it is left out."""
        key = f"{row}:{column}"
        if key in self._answers.cells:
            return self._answers.cells[key] or ""
        return cells[column]

    def _of(self, means: Means, row: int, cells: Sequence[str]) -> str:
        place = self._place.get(means)
        return "" if place is None else " ".join(self._cell(row, place, cells).split())

    def _find_tasks(self) -> Iterator[SheetTask]:
        """Tasks that results are of, in the order of the sheet."""
        seen = set()
        for column in self._columns:
            reading = column.reading
            if reading.means is Means.TASK and reading.name not in seen:
                seen.add(reading.name)
                yield self._task(reading.name, reading.measure, reading.unit, None)
        if Means.TASK_NAME not in self._place or Means.RESULT not in self._place:
            return
        results: dict[str, list[str]] = {}
        for place, row in enumerate(self._block.rows):
            name = self._task_of(self._of(Means.TASK_NAME, place, row))
            if name:
                results.setdefault(name, []).append(
                    self._cell(place, self._place[Means.RESULT], row)
                )
        head = read_head(self._columns[self._place[Means.RESULT]].head)
        for name, found in results.items():
            if name not in seen:
                yield self._task(name, *_measure_of(name, found, head))

    def _task(self, name: str, measure: str, unit: str, question: str | None) -> SheetTask:
        known = next((task for task in self._known.tasks if task.name == name), None)
        if known is not None:
            return SheetTask(name, False, known.measure, known.unit, "", "", None)
        said = self._answers.tasks.get(name, TaskAnswer())
        own = said.measure or measure
        return SheetTask(
            name,
            True,
            own,
            (said.unit if said.unit is not None else unit) if own == "amount" else "",
            said.app or "",
            said.timeline or "",
            None if said.measure else question,
        )

    def _task_of(self, text: str) -> str:
        """The task that a name means; as the entry line reads it where lines were typed."""
        if text not in self._named:
            names = [task.name for task in self._known.tasks]
            found = match_name(text, names)
            name = text if found.index is None else names[found.index]
            exact = name.casefold() == text.casefold() or self._block.divider == "slash"
            self._named[text] = name if exact else text
        return self._named[text]

    def _row(self, place: int, cells: Sequence[str], name: str) -> tuple[SheetRow, list[Fact]]:
        text = " ".join(without_marks(name)[0].split())
        if text not in self._owners:
            self._owners[text] = self._whose(text)
        setup, state, why, choices = self._owners[text]
        facts: list[Fact] = []
        read = []
        for column in self._columns:
            own, found = self._read(place, column, cells, setup, state == "asked")
            read.append(own)
            facts += found
        row = SheetRow(
            place, self._block.lines[place], text, setup, state, why, choices, tuple(read)
        )
        if setup is None:
            return row, []
        note = self._of(Means.NOTE, place, cells)
        alone = not any(isinstance(fact, RunFact) for fact in facts)
        if 0 < len(note) <= MOST_NOTE and alone:
            # A remark with no result beside it is of the machine itself.
            facts.append(SpecFact(setup, "note", "Note", note, number=False, unit=""))
        return row, facts

    def _whose(self, text: str) -> tuple[str | None, str, str | None, tuple[str, ...]]:
        """Which setup a name is: known, new, asked about, or left out."""
        names = self._known.setups
        said = self._answers.names.get(text)
        if said == "":
            return None, "out", "left out", ()
        own = text if said == "+" else said
        if (own is not None and len(own) <= MOST_NAME) or own in names:
            return own, "known" if own in names else "new", None, ()
        if not text:
            return None, "out", "no machine is named", ()
        if len(text) > MOST_NAME:
            return None, "out", _TOO_LONG, ()
        found = match_name(text, names)
        exact = [each for each in names if each.casefold() == text.casefold()]
        if len(exact) == 1 or (found.index is not None and self._block.divider == "slash"):
            return exact[0] if exact else names[found.index or 0], "known", None, ()
        if found.state in (MatchState.ONE, MatchState.SEVERAL):
            choices = tuple(names[i] for i in found.candidates[:6])
            return None, "asked", f"Is “{text}” one of these?", choices
        if text.casefold() in _SUMMARY:
            return None, "out", "a figure of the others, not a machine", ()
        return text, "new", None, ()

    def _read(
        self, row: int, column: Column, cells: Sequence[str], setup: str | None, asked: bool
    ) -> tuple[CellRead, list[Fact]]:
        """Read one cell, and give what it would store."""
        text = self._cell(row, column.place, cells)
        means = column.reading.means
        if means is Means.MACHINE and len(text) > MOST_NAME and setup is None:
            return CellRead(text, None, f"{text[:20]!r}…: {_TOO_LONG}."), []
        if setup is None and not asked:
            return CellRead(text), []
        if column.question is not None or means in (Means.OUT, Means.ASK):
            return CellRead(text), []
        try:
            words, facts = self._meaning(row, column, cells, text, setup or "")
        except CellError as error:
            return CellRead(text, None, error.reason, error.fixes), []
        return CellRead(text, words), facts

    def _meaning(
        self, row: int, column: Column, cells: Sequence[str], text: str, setup: str
    ) -> tuple[str | None, list[Fact]]:
        reading, signs = column.reading, self._signs[column.place]
        key = f"{row}:{column.place}"
        if reading.means in (Means.TASK, Means.RESULT):
            return self._results(row, column, cells, text, setup)
        if reading.means is Means.PRICE:
            price = reads.read_price(text, reading.currency, signs)
            if price is None:
                return None, []
            money, note = price
            dated = _day(self._of(Means.DAY, row, cells))
            kind = _price_kind(reading.name, column.head)
            return f"{money.amount} {money.currency}", [
                PriceFact(setup, kind, str(money.amount), money.currency, dated, note)
            ]
        if reading.means is Means.SPEC:
            spec = self._rows.get(reading.spec or "") or self._free[column.place]
            said = reads.read_spec(text, spec, signs, reading.unit)
            number = spec.kind in (RowKind.NUMBER, RowKind.WHOLE)
            if said is None:
                return None, []
            return said, [SpecFact(setup, reading.spec, spec.title, said, number, spec.unit or "")]
        if reading.means is Means.RATIO:
            ratio = reads.read_ratio(text)
            against = self._machine_named(reading.name)
            if ratio is None or against == setup:
                return None, []
            if reading.task not in {*self._tasks, *(task.name for task in self._known.tasks)}:
                raise CellError("Of which task is this? The table has none beside it.")
            return f"{ratio} against {against}", [
                RatioFact(key, setup, against, reading.task, ratio)
            ]
        if reading.means is Means.NOTE and len(text) > MOST_NOTE:
            raise CellError(f"The note is longer than {MOST_NOTE} signs; shorten it.")
        return text or None, []

    def _machine_named(self, text: str) -> str:
        """The machine of the sheet, or the setup, that a head names."""
        names = [
            *self._known.setups,
            *(row[self._place[Means.MACHINE]] for row in self._block.rows),
        ]
        own = list(
            dict.fromkeys(" ".join(without_marks(name)[0].split()) for name in names if name)
        )
        found = match_name(text, own)
        if found.index is None:
            raise CellError(f"No machine is called {text!r}.")
        return own[found.index]

    def _results(
        self, row: int, column: Column, cells: Sequence[str], text: str, setup: str
    ) -> tuple[str | None, list[Fact]]:
        task = self._task_at(row, column, cells)
        unit = column.reading.unit or (task.unit if task.measure == "amount" else "")
        found = reads.read_results(
            text, task.measure, unit, self._signs[column.place], self._block.foot_notes
        )
        if column.reading.means is Means.RESULT:
            found = tuple(self._as_said(result, row, cells) for result in found)
            if not found and (state := self._status(row, cells)) is not RunStatus.OK:
                note = self._of(Means.NOTE, row, cells)
                if not note:
                    raise CellError(f"A {state.value} run needs its reason in the note.")
                found = (Result("", ReadingMethod.STOPWATCH, state, note, "", state.value),)
            elif not found:
                raise CellError("No time or amount is given.")
        elif note := self._of(Means.NOTE, row, cells):
            found = tuple(reads.noted(result, note) for result in found)
        found = tuple(_kept_whole(self._dated(result, row, cells)) for result in found)
        round_ = self._of(Means.ROUND, row, cells)
        if len(round_) > MOST_NAME:
            raise CellError(f"The round {round_[:20]!r}…: {_TOO_LONG}.")
        order = self._of(Means.ORDER, row, cells)
        whole = int(order) if order.isascii() and order.isdigit() and len(order) < 10 else None
        facts: list[Fact] = [
            RunFact(
                f"{row}:{column.place}" + (f":{place}" if place else ""),
                setup,
                task.name,
                round_,
                whole,
                result,
                self._signs[column.place],
            )
            for place, result in enumerate(found)
        ]
        words = ", ".join(result.words for result in found)
        return words or None, facts

    def _dated(self, result: Result, row: int, cells: Sequence[str]) -> Result:
        """A result with the day that its row says, in its note: no hour is known."""
        day = self._of(Means.DAY, row, cells)
        return reads.noted(result, f"tested {day}") if day else result

    def _task_at(self, row: int, column: Column, cells: Sequence[str]) -> SheetTask:
        if column.reading.means is Means.TASK:
            return self._tasks[column.reading.name]
        name = self._of(Means.TASK_NAME, row, cells)
        if not name:
            raise CellError("No task is named.")
        if len(name) > MOST_TASK:
            raise CellError(f"The task {name[:20]!r}… is longer than {MOST_TASK} signs.")
        task = self._tasks[self._task_of(name)]
        if task.new and name not in self._answers.tasks:
            found = match_name(name, [each.name for each in self._known.tasks])
            if found.state is not MatchState.NONE and found.candidates:
                names = ", ".join(self._known.tasks[i].name for i in found.candidates[:4])
                raise CellError(
                    f"Is {name!r} one of {names}? Write it out.",
                    tuple(
                        Fix(self._known.tasks[i].name, self._known.tasks[i].name)
                        for i in found.candidates[:4]
                    ),
                )
        if task.question is not None:
            raise CellError(task.question)
        return task

    def _status(self, row: int, cells: Sequence[str]) -> RunStatus:
        text = self._of(Means.STATUS, row, cells).casefold()
        if text not in _STATUSES:
            raise CellError(f"Status {text!r} is not ok, void or failed.")
        return _STATUSES[text]

    def _as_said(self, result: Result, row: int, cells: Sequence[str]) -> Result:
        """A result with the reading, state and note that its own row says."""
        status = self._status(row, cells)
        note = self._of(Means.NOTE, row, cells)
        method = result.method
        reading = self._of(Means.READING, row, cells).casefold()
        if reading:
            if reading not in _METHODS:
                raise CellError(f"Reading {reading!r} is not one of {', '.join(ReadingMethod)}.")
            method = _METHODS[reading]
        if status is RunStatus.OK or result.status is not RunStatus.OK:
            return replace(reads.noted(result, note), method=method)
        if not note:
            raise CellError(f"A {status.value} run needs its reason in the note.")
        return replace(result, method=method, status=status, reason=note)


def _measure_of(name: str, results: Sequence[str], column: Head) -> tuple[str, str, str | None]:
    """Measure, unit and question of a new task by what its results look like."""
    kinds = {kind_of(cell) for cell in results if cell.casefold() not in NOTHING}
    if CellKind.TIME in kinds or not kinds & {CellKind.NUMBER}:
        return "time", "", None
    unit = common_unit(results) or column.unit
    if names_an_amount(Head(name, unit)) or names_an_amount(column):
        return "amount", unit, None
    if column.unit.casefold() in ("s", "min", "h") or "second" in column.name.casefold():
        return "time", "", None
    first = next(cell for cell in results if kind_of(cell) is CellKind.NUMBER)
    return "time", unit, f"{first} on {name}: seconds, or an amount of which more is better?"


_TOO_LONG = f"the name is longer than {MOST_NAME} signs; shorten it"
MOST_REASON = 500


def _kept_whole(result: Result) -> Result:
    """A result whose reason has room: what is too long for it stands in the note as well."""
    own = result
    if len(own.reason) > MOST_REASON:
        own = reads.noted(replace(own, reason=f"{own.reason[: MOST_REASON - 1]}…"), own.reason)
    if len(own.note) > MOST_NOTE:
        raise CellError(f"The note is longer than {MOST_NOTE} signs; shorten it.")
    return own


def _price_kind(name: str, head: str) -> PriceKind:
    """What kind of price a column says it holds; a list price where it says nothing."""
    words = f"{name} {head}".casefold()
    return next((kind for kind in PriceKind if kind.value in words), PriceKind.LIST)


_DAYS = (
    (re.compile(r"^(\d{4})-(\d\d)-(\d\d)$"), (0, 1, 2)),
    (re.compile(r"^(\d{1,2})\.(\d{1,2})\.(\d{4})$"), (2, 1, 0)),
)


def _day(text: str) -> date | None:
    """A day that is written so that it has one meaning; None for anything else."""
    for pattern, order in _DAYS:
        match = pattern.match(text)
        if match is not None:
            year, month, day = (int(match.groups()[place]) for place in order)
            try:
                return date(year, month, day)
            except ValueError:
                return None
    return None
