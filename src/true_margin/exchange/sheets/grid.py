"""Text into cells: tabs, semicolons, commas, pipes, slashes, or columns set apart by spaces."""

from __future__ import annotations

import csv
import io
import re
from collections import Counter
from collections.abc import Callable, Iterator, Sequence
from dataclasses import dataclass

from true_margin.core.entry_line import split_line
from true_margin.core.errors import CoreError

MAX_BYTES = 20_000_000
MAX_ROWS = 20_000
MAX_LINES = 2 * MAX_ROWS
"""Empty lines are left out, and yet none may be read for ever."""
MAX_COLUMNS = 500
MAX_CELLS = 200_000
_LOOKED_AT = 60
_MOST_ALIKE = 0.6
"""Share of lines that must have as many columns as most, for a sign to divide them."""
_RULE = re.compile(r"^[\s|:+=-]+$")


class SheetError(CoreError):
    """The text cannot be taken for a sheet at all."""


@dataclass(frozen=True, slots=True)
class Grid:
    """Cells of a text.

    Attributes:
        divider: what divides them, in a word.
        rows: cells, trimmed; all rows are as long as the longest.
        lines: number of the line on which each row ends, from 1.
    """

    divider: str
    rows: tuple[tuple[str, ...], ...]
    lines: tuple[int, ...]

    @property
    def width(self) -> int:
        """How many columns there are."""
        return len(self.rows[0])

    def turned(self) -> Grid:
        """Rows as columns; the number of a turned row is its column's, from 1."""
        rows = tuple(zip(*self.rows, strict=True))
        return Grid(self.divider, rows, tuple(range(1, len(rows) + 1)))

    def only(self, places: Sequence[int]) -> Grid:
        """These rows alone."""
        return Grid(
            self.divider, tuple(self.rows[i] for i in places), tuple(self.lines[i] for i in places)
        )


def read_grid(text: str) -> Grid:
    """Take a text apart into cells; rows with nothing in them are left out.

    Raises:
        SheetError: empty, too large, no text, or nothing divides it.
    """
    if len(text.encode()) > MAX_BYTES:
        raise SheetError(f"The table is larger than {MAX_BYTES // 1_000_000} MB; split it.")
    body = text.removeprefix("\ufeff")
    if not body.strip():
        raise SheetError("There is nothing here yet: paste a table, or type one result a line.")
    if "\x00" in body:
        raise SheetError("This is not a text table (it holds zero bytes); save it as CSV.")
    divider = _find_divider([line for line in body.splitlines() if line.strip()][:_LOOKED_AT])
    rows: list[list[str]] = []
    lines: list[int] = []
    for line, cells in _DIVIDERS[divider](body):
        if line > MAX_LINES or len(rows) > MAX_ROWS:
            raise SheetError(f"More than {MAX_ROWS} rows; split the table.")
        if any(cells):
            rows.append(cells)
            lines.append(line)
    width = max(map(len, rows), default=0)
    if width > MAX_COLUMNS:
        raise SheetError(f"{width} columns; {MAX_COLUMNS} at most.")
    if width * len(rows) > MAX_CELLS:
        raise SheetError(f"More than {MAX_CELLS} cells; split the table.")
    return Grid(
        divider, tuple(tuple(row + [""] * (width - len(row))) for row in rows), tuple(lines)
    )


def _find_divider(lines: Sequence[str]) -> str:
    """The sign that most lines have alike; a tab is meant wherever there is one."""
    if any("\t" in line for line in lines):
        return "tab"
    if _alike([line.count("|") for line in lines if not _RULE.match(line)]) >= _MOST_ALIKE:
        return "pipe"
    if all(len(split_line(line)) >= 3 and " / " in line for line in lines):
        return "slash"
    shares = {
        name: _alike([len(next(csv.reader([line], delimiter=sign), [])) - 1 for line in lines])
        for name, sign in (("semicolon", ";"), ("comma", ","))
    }
    best = max(shares, key=lambda name: shares[name])
    if shares[best] >= _MOST_ALIKE:
        return best
    if all(len(split_line(line)) >= 2 for line in lines):
        return "slash"
    if _alike([len(re.split(r"\s{2,}", line.strip())) - 1 for line in lines]) >= _MOST_ALIKE:
        return "spaces"
    # A header alone may say it, where the rows are ragged.
    return best if shares[best] > 0 else "tab"


def _alike(counts: Sequence[int]) -> float:
    """Which share of the lines has the commonest number of dividers above none."""
    some = Counter(count for count in counts if count > 0)
    return some.most_common(1)[0][1] / len(counts) if some else 0.0


def _by_sign(sign: str) -> Callable[[str], Iterator[tuple[int, list[str]]]]:
    def read(body: str) -> Iterator[tuple[int, list[str]]]:
        reader = csv.reader(io.StringIO(body, newline=""), delimiter=sign, strict=True)
        try:
            found = [(reader.line_num, _trimmed(cells)) for cells in reader]
        except csv.Error as error:
            # An inch sign is no quote: cells with quotes in their midst are taken as they are.
            if sign != "\t" or re.search(r'(?:^|\t)"', body, re.MULTILINE):
                raise SheetError(f"Line {reader.line_num}: {error}; check the quotes.") from error
            plain = csv.reader(body.splitlines(), delimiter=sign, quoting=csv.QUOTE_NONE)
            found = [(plain.line_num, _trimmed(cells)) for cells in plain]
        yield from found

    return read


def _trimmed(cells: Sequence[str]) -> list[str]:
    """Cells without spaces around them or empty ones at their end."""
    own = [cell.replace("\r\n", "\n").strip() for cell in cells]
    while own and not own[-1]:
        own.pop()
    return own


def _pipes(body: str) -> Iterator[tuple[int, list[str]]]:
    for number, line in enumerate(body.splitlines(), start=1):
        if line.strip() and not _RULE.match(line):
            yield number, _trimmed(line.strip().removeprefix("|").removesuffix("|").split("|"))


def _slashes(body: str) -> Iterator[tuple[int, list[str]]]:
    for number, line in enumerate(body.splitlines(), start=1):
        if line.strip():
            yield number, _trimmed(split_line(line))


def _spaces(body: str) -> Iterator[tuple[int, list[str]]]:
    for number, line in enumerate(body.splitlines(), start=1):
        if line.strip():
            yield number, _trimmed(re.split(r"\s{2,}", line.strip()))


_DIVIDERS: dict[str, Callable[[str], Iterator[tuple[int, list[str]]]]] = {
    "tab": _by_sign("\t"),
    "semicolon": _by_sign(";"),
    "comma": _by_sign(","),
    "pipe": _pipes,
    "slash": _slashes,
    "spaces": _spaces,
}
