"""Runs as a table in CSV, one a line: found delimiter, understood columns, checked rows.

RFC 4180 with comma, semicolon or tab. For a case on the command line; sheets as people keep
them are read in ``sheets``.
"""

from __future__ import annotations

import csv
import io
import re
from collections.abc import Mapping
from dataclasses import dataclass

from true_margin.core.errors import CoreError

MAX_BYTES = 20_000_000
MAX_ROWS = 20_000
MAX_LINES = 2 * MAX_ROWS
"""Empty lines are left out, and yet none may be read for ever."""
FIELDS = ("setup", "task", "round", "order", "value", "reading", "status", "note")
REQUIRED = ("setup", "task", "value")
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
    """One row: its line in the text, and its cells by field."""

    line: int
    cells: Mapping[str, str]
    problem: str | None


@dataclass(frozen=True, slots=True)
class RunTableText:
    """A table of runs, taken apart but not yet matched to anything."""

    delimiter: str
    columns: tuple[Column, ...]
    rows: tuple[TableRow, ...]


def read_run_table(text: str) -> RunTableText:
    """Take a table of runs apart, one run a line.

    Args:
        text: the file's text, with a header line.

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
    fields = understand_columns(headers)
    _check_columns(headers, fields)
    rows = [_row(line, cells, fields) for line, cells in filled[1:]]
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


def _find_delimiter(text: str) -> str:
    """The sign that divides the header into most columns; a tab wins ties."""
    header = next(line for line in text.splitlines() if line.strip())
    counts = {sign: len(next(csv.reader([header], delimiter=sign))) for sign in ("\t", ";", ",")}
    return max(counts, key=lambda sign: counts[sign])


def _check_columns(headers: list[str], fields: list[str | None]) -> None:
    missing = [field for field in REQUIRED if field not in fields]
    if missing:
        raise TableError(
            f"No column for {' and '.join(missing)} was found among: {', '.join(headers)}. "
            f"The first line must name the columns, such as: setup, task, value."
        )


def _row(line: int, cells: list[str], fields: list[str | None]) -> TableRow:
    problem = None
    if len(cells) != len(fields):
        problem = f"{len(cells)} cells where the header has {len(fields)}"
    pairs = zip(fields, cells, strict=False)
    return TableRow(line, {f: c.strip() for f, c in pairs if f is not None}, problem)
