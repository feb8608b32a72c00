"""Tables to give away: the same rows as CSV, XLSX, Markdown and HTML."""

from __future__ import annotations

import csv
import io
import re
import zipfile
from dataclasses import dataclass
from enum import StrEnum
from html import escape
from typing import Any

from openpyxl import Workbook
from openpyxl.cell.cell import ILLEGAL_CHARACTERS_RE
from openpyxl.styles import Font

Cell = str | float | int | None
_FORMULA = ("=", "+", "-", "@", "\t", "\r")


class TableFormat(StrEnum):
    """How a table is written."""

    CSV = "csv"
    XLSX = "xlsx"
    MARKDOWN = "md"
    HTML = "html"


MEDIA = {
    TableFormat.CSV: "text/csv; charset=utf-8",
    TableFormat.XLSX: "application/vnd.openxmlformats-officedocument.spreadsheetml.sheet",
    TableFormat.MARKDOWN: "text/markdown; charset=utf-8",
    TableFormat.HTML: "text/html; charset=utf-8",
}


@dataclass(frozen=True, slots=True)
class Table:
    """A table; a cell is a text, a number or nothing. ``note`` says what it rests on."""

    title: str
    columns: tuple[str, ...]
    rows: tuple[tuple[Cell, ...], ...]
    note: str = ""


def write_table(table: Table, kind: TableFormat) -> bytes:
    """Write a table in a format."""
    if kind is TableFormat.XLSX:
        return to_xlsx((table,))
    writers = {
        TableFormat.CSV: to_csv,
        TableFormat.MARKDOWN: to_markdown,
        TableFormat.HTML: to_html,
    }
    return writers[kind](table).encode()


def safe_text(text: str) -> str:
    """A text that no spreadsheet takes for a formula.

    Example:
        >>> safe_text("=1+1"), safe_text("Cairn Brick")
        ("'=1+1", 'Cairn Brick')
    """
    return f"'{text}" if text.startswith(_FORMULA) else text


def _plain(cell: Cell) -> str:
    if cell is None:
        return ""
    if isinstance(cell, float):
        return f"{cell:.4f}".rstrip("0").rstrip(".")
    return str(cell)


def to_csv(table: Table) -> str:
    """Write RFC 4180, numbers with a point; texts that look like formulas are escaped."""
    text = io.StringIO(newline="")
    writer = csv.writer(text, lineterminator="\r\n")
    writer.writerow(safe_text(column) for column in table.columns)
    for row in table.rows:
        writer.writerow(safe_text(c) if isinstance(c, str) else _plain(c) for c in row)
    return text.getvalue()


_MARKS = re.compile(r"[\\`*_\[\]<>|&]")


def md_text(text: str) -> str:
    """A text that Markdown takes for nothing but text: no link, no picture, no HTML.

    Example:
        >>> print(md_text("[x](javascript:y) <b>"), md_text("Halyard L"))
        \\[x\\](javascript:y) \\<b\\> Halyard L
    """
    return _MARKS.sub(r"\\\g<0>", " ".join(text.split()))


def to_markdown(table: Table) -> str:
    """Write a table of pipes, numbers to the right."""

    ends = ["---:" if _is_number(table, at) else "---" for at in range(len(table.columns))]
    lines = [f"## {md_text(table.title)}", ""]
    rows = [table.columns, ends, *table.rows]
    lines += [f"| {' | '.join(md_text(_plain(c)) for c in row)} |" for row in rows]
    return "\n".join([*lines, *(["", md_text(table.note)] if table.note else [])]) + "\n"


def _is_number(table: Table, column: int) -> bool:
    cells = [row[column] for row in table.rows if row[column] is not None]
    return bool(cells) and all(not isinstance(cell, str) for cell in cells)


def to_html(table: Table) -> str:
    """Write a whole small page that needs nothing else."""
    return (
        '<!doctype html><html lang="en"><head><meta charset="utf-8">'
        f"<title>{escape(table.title)}</title></head><body>{html_rows(table)}</body></html>\n"
    )


def html_rows(table: Table) -> str:
    """The table itself as HTML; columns that hold nothing are left out."""
    full = [
        at
        for at in range(len(table.columns))
        if at == 0 or any(row[at] not in (None, "") for row in table.rows)
    ]
    table = Table(
        table.title,
        tuple(table.columns[at] for at in full),
        tuple(tuple(row[at] for at in full) for row in table.rows),
        table.note,
    )
    head = "".join(f'<th scope="col">{escape(c)}</th>' for c in table.columns)
    numbers = [_is_number(table, at) for at in range(len(table.columns))]

    def cell(value: Cell, place: int) -> str:
        tag = 'th scope="row"' if place == 0 else ('td class="figure"' if numbers[place] else "td")
        return f"<{tag}>{escape(_plain(value))}</{tag.split(' ', maxsplit=1)[0]}>"

    body = "".join(
        f"<tr>{''.join(cell(c, at) for at, c in enumerate(row))}</tr>" for row in table.rows
    )
    note = f"<p>{escape(table.note)}</p>" if table.note else ""
    return (
        f"<table><caption>{escape(table.title)}</caption><thead><tr>{head}</tr></thead>"
        f"<tbody>{body}</tbody></table>{note}"
    )


def _in_workbook(value: Any) -> Any:
    """A value as a workbook can hold it: control signs are no part of its XML."""
    return ILLEGAL_CHARACTERS_RE.sub("\ufffd", value) if isinstance(value, str) else value


def to_xlsx(tables: tuple[Table, ...]) -> bytes:
    """Write a workbook, a sheet a table; texts stay texts whatever they begin with."""
    book = Workbook()
    book.remove(book.active)
    for table in tables:
        sheet = book.create_sheet(_sheet_name(table.title, book.sheetnames))
        sheet.append([_in_workbook(each) for each in table.columns])
        for cell in sheet[1]:
            cell.font = Font(bold=True)
        for row in table.rows:
            sheet.append([_in_workbook(each) for each in row])
        for cells in sheet.iter_rows():
            for cell in cells:
                if isinstance(cell.value, str):
                    # A text that begins with = is no formula here.
                    cell.data_type = "s"
        if table.note:
            sheet.append([])
            sheet.append([_in_workbook(table.note)])
            sheet.cell(sheet.max_row, 1).data_type = "s"
        sheet.freeze_panes = "B2"
        for at, column in enumerate(table.columns):
            widths = [len(_plain(row[at])) for row in table.rows] + [len(column)]
            letter = sheet.cell(1, at + 1).column_letter
            sheet.column_dimensions[letter].width = min(max(widths) + 2, 50)
    content = io.BytesIO()
    book.save(content)
    return _undated(content.getvalue())


_NEVER = (2000, 1, 1, 0, 0, 0)
_WHEN = re.compile(rb"(<dcterms:(created|modified)[^>]*>)[^<]*(</dcterms:)")


def _undated(workbook: bytes) -> bytes:
    """The same workbook without the moment at which it was written: equal tables, equal bytes."""
    content = io.BytesIO()
    with (
        zipfile.ZipFile(io.BytesIO(workbook)) as before,
        zipfile.ZipFile(content, "w", zipfile.ZIP_DEFLATED) as after,
    ):
        for name in before.namelist():
            entry = zipfile.ZipInfo(name, date_time=_NEVER)
            entry.compress_type = zipfile.ZIP_DEFLATED
            data = before.read(name)
            if name == "docProps/core.xml":
                data = _WHEN.sub(rb"\g<1>2000-01-01T00:00:00Z\g<3>", data)
            after.writestr(entry, data)
    return content.getvalue()


def _sheet_name(title: str, taken: list[str]) -> str:
    plain = "".join(c for c in title if c not in "[]:*?/\\")[:31] or "table"
    name, count = plain, 1
    while name in taken:
        count += 1
        name = f"{plain[:28]} {count}"
    return name
