"""Runs as a table in CSV or pasted cells: found delimiter, understood columns, checked rows.

RFC 4180 with comma, semicolon or tab; a bad row is named with its line and the
reason, and the good ones wait for a yes.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Iterator, Mapping, Sequence
from dataclasses import dataclass

from true_margin.core.errors import CoreError

MAX_BYTES = 20_000_000
MAX_ROWS = 20_000
MAX_LINES = 2 * MAX_ROWS
"""Empty lines are left out, and yet none may be read for ever."""
FIELDS = ("setup", "task", "round", "order", "value", "reading", "status", "note")
REQUIRED = ("setup", "task", "value")
OF_SETUP, OF_TASK = "a setup's value", "a task's value"
"""Fields of a wide table: the column's header names the setup, or the task, of its values."""
WIDE = {OF_SETUP: "setup", OF_TASK: "task"}
_SYNONYMS = {
    "setup": ("setup", "machine", "computer", "system under test"),
    "task": ("task", "test", "timeline", "project"),
    "round": ("round", "bench day", "session"),
    "order": ("order", "run", "run no", "number", "no", "#"),
    "value": ("value", "time", "elapsed", "duration", "result", "seconds", "score", "time s"),
    "reading": ("reading", "method", "how timed", "source"),
    "status": ("status", "state", "outcome"),
    "note": ("note", "notes", "comment", "remark", "reason"),
}


class TableError(CoreError):
    """The text cannot be taken for a table of runs at all."""


@dataclass(frozen=True, slots=True)
class Column:
    """A column of the table and the field that it was understood as."""

    header: str
    field: str | None


@dataclass(frozen=True, slots=True)
class TableRow:
    """One row: its line in the text, and its cells by field.

    A wide table gives one for each filled cell: ``line`` is then its own number, made of
    the line and the column, and ``where`` says both in words.
    """

    line: int
    cells: Mapping[str, str]
    problem: str | None
    where: str = ""


@dataclass(frozen=True, slots=True)
class RunTableText:
    """A table of runs, taken apart but not yet matched to anything."""

    delimiter: str
    columns: tuple[Column, ...]
    rows: tuple[TableRow, ...]


def read_run_table(
    text: str,
    columns: list[str | None] | None = None,
    setups: Sequence[str] = (),
    tasks: Sequence[str] = (),
) -> RunTableText:
    """Take a table of runs apart.

    Args:
        text: the file's text, with a header line.
        columns: field of each column, where a person corrected the guess.
        setups, tasks: known names, which tell what the columns of a wide table are.

    Returns:
        Columns as understood, and every row with its line number.

    Raises:
        TableError: empty, too large, one column only, or the columns that a
            run needs are not there.
    """
    if len(text.encode()) > MAX_BYTES:
        raise TableError(f"The table is larger than {MAX_BYTES // 1_000_000} MB; split it.")
    text = text.removeprefix("\ufeff")
    if not text.strip():
        raise TableError("The table is empty: the first line names the columns.")
    if "\x00" in text:
        raise TableError("This is not a text table (it holds zero bytes); save it as CSV.")
    delimiter = _find_delimiter(text)
    reader = csv.reader(io.StringIO(text, newline=""), delimiter=delimiter, strict=True)
    lines: list[tuple[int, list[str]]] = []
    try:
        for cells in reader:
            if len(lines) > MAX_LINES:
                raise TableError(f"More than {MAX_ROWS} rows; split the table.")
            lines.append((reader.line_num, cells))
    except csv.Error as error:
        raise TableError(f"Line {reader.line_num}: {error}; check the quotes.") from error
    filled = [(line, cells) for line, cells in lines if any(cell.strip() for cell in cells)]
    if not filled:
        raise TableError("The table is empty: the first line names the columns.")
    headers = [cell.strip() for cell in filled[0][1]]
    fields = (
        _chosen(columns, headers)
        if columns is not None
        else _widened(headers, understand_columns(headers), setups, tasks)
    )
    _check_columns(headers, fields)
    rows = [row for line, cells in filled[1:] for row in _rows(line, cells, headers, fields)]
    if len(rows) > MAX_ROWS:
        raise TableError(f"More than {MAX_ROWS} rows; split the table.")
    return RunTableText(
        delimiter, tuple(Column(h, f) for h, f in zip(headers, fields, strict=True)), tuple(rows)
    )


def understand_columns(headers: list[str]) -> list[str | None]:
    """Guess the field of each column from its header; each field is used once."""
    fields: list[str | None] = []
    for header in headers:
        plain = re.sub(r"[^a-z0-9#]+", " ", header.casefold()).strip()
        guess = next((field for field, names in _SYNONYMS.items() if plain in names), None)
        fields.append(None if guess in fields else guess)
    return fields


def _chosen(columns: list[str | None], headers: list[str]) -> list[str | None]:
    if len(columns) != len(headers):
        raise TableError(f"{len(headers)} columns are there, but {len(columns)} were named.")
    unknown = next((c for c in columns if c is not None and c not in (*FIELDS, *WIDE)), None)
    if unknown is not None:
        raise TableError(f"{unknown!r} is not a field of a run: use one of {', '.join(FIELDS)}.")
    named = [column for column in columns if column is not None and column not in WIDE]
    if len({column for column in columns if column in WIDE}) > 1:
        raise TableError("Columns of setups and columns of tasks cannot stand in one table.")
    if len(set(named)) != len(named):
        raise TableError("Two columns are understood as the same field.")
    return columns


def _find_delimiter(text: str) -> str:
    """The sign that divides the header into most columns; a tab wins ties."""
    header = next(line for line in text.splitlines() if line.strip())
    counts = {sign: len(next(csv.reader([header], delimiter=sign))) for sign in ("\t", ";", ",")}
    return max(counts, key=lambda sign: counts[sign])


def _check_columns(headers: list[str], fields: list[str | None]) -> None:
    there = {*fields, *(name for field, name in WIDE.items() if field in fields)}
    there |= {"value"} if there & set(WIDE) else set()
    missing = [field for field in REQUIRED if field not in there]
    if missing:
        raise TableError(
            f"No column for {' and '.join(missing)} was found among: {', '.join(headers)}. "
            f"The first line must name the columns, such as: setup, task, value."
        )


def _widened(
    headers: list[str], fields: list[str | None], setups: Sequence[str], tasks: Sequence[str]
) -> list[str | None]:
    """Understand a table whose columns are setups, or tasks, with a value in each cell.

    It has no column of values; the other columns tell by their headers what they are.
    """
    others = [place for place, field in enumerate(fields) if field is None]
    named = [field for field in ("setup", "task") if field in fields]
    if "value" in fields or len(named) == 2 or len(others) < 2:
        return fields
    found = list(fields)
    if not named:
        # The first column names the lines; of which kind, the other headers tell.
        first, *others = others
        # One column of values could be anything; two or more are a wide table.
        if len(others) < 2:
            return fields
        rest = [headers[place] for place in others]
        by_setup = sum(_known(header, setups) for header in rest)
        by_task = sum(_known(header, tasks) for header in rest)
        found[first] = "setup" if by_task > by_setup else "task"
    wide = OF_TASK if "setup" in found else OF_SETUP
    for place in others:
        if headers[place]:
            found[place] = wide
    return found


def _known(header: str, names: Sequence[str]) -> bool:
    return header.casefold() in {name.casefold() for name in names}


def _rows(
    line: int, cells: list[str], headers: list[str], fields: list[str | None]
) -> Iterator[TableRow]:
    problem = None
    if len(cells) != len(fields):
        problem = f"{len(cells)} cells where the header has {len(fields)}"
    pairs = list(zip(fields, cells, strict=False))
    common = {f: c.strip() for f, c in pairs if f is not None and f not in WIDE}
    if not set(fields) & set(WIDE):
        yield TableRow(line, common, problem, str(line))
        return
    for place, (field, cell) in enumerate(pairs):
        if field in WIDE and cell.strip():
            own = {**common, WIDE[field]: headers[place], "value": cell.strip()}
            yield TableRow(1000 * line + place, own, problem, f"{line}, {headers[place]}")
