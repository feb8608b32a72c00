"""Tables: read back by other programs, and harmless in a spreadsheet."""

from __future__ import annotations

import csv
import io

import pytest
from hypothesis import given
from hypothesis import strategies as st
from openpyxl import load_workbook

from true_margin.publish.tables import (
    Table,
    TableFormat,
    html_rows,
    to_csv,
    to_markdown,
    to_xlsx,
    write_table,
)

TABLE = Table(
    "Results",
    ("Setup", "Typical", "Remark"),
    (("Cairn Brick", 372.25, "=cmd()|x"), ("Tarn <Desk>", None, "a|b\nc"), ("Pebble", 7, None)),
    "Times as fast as Tarn Desk.",
)


def test_csv_is_read_back_and_holds_no_formula() -> None:
    rows = list(csv.reader(io.StringIO(to_csv(TABLE), newline="")))
    assert rows[0] == ["Setup", "Typical", "Remark"]
    assert rows[1] == ["Cairn Brick", "372.25", "'=cmd()|x"]
    assert rows[2] == ["Tarn <Desk>", "", "a|b\nc"]
    assert to_csv(TABLE).endswith("\r\n")


@given(st.text(max_size=30))
def test_no_text_of_csv_begins_like_a_formula(text: str) -> None:
    written = to_csv(Table("t", ("a",), ((text,),)))
    # The reader joins what a carriage return alone would part.
    cell = list(csv.reader(io.StringIO(written, newline="")))[1:]
    assert not (cell and cell[0] and cell[0][0].startswith(("=", "+", "-", "@", "\t", "\r")))


def test_a_workbook_keeps_numbers_as_numbers_and_texts_as_texts() -> None:
    book = load_workbook(io.BytesIO(to_xlsx((TABLE, TABLE))))
    assert book.sheetnames == ["Results", "Results 2"]
    sheet = book["Results"]
    assert [cell.value for cell in sheet[2]] == ["Cairn Brick", 372.25, "=cmd()|x"]
    assert sheet["C2"].data_type == "s"
    assert sheet["B4"].value == 7
    assert sheet["A6"].value == "Times as fast as Tarn Desk."


def test_markdown_cells_cannot_break_out() -> None:
    lines = to_markdown(TABLE).splitlines()
    assert lines[2:4] == ["| Setup | Typical | Remark |", "| --- | ---: | --- |"]
    assert lines[5] == "| Tarn \\<Desk\\> |  | a\\|b c |"


def test_html_is_escaped_and_drops_empty_columns() -> None:
    html = html_rows(TABLE)
    assert "Tarn &lt;Desk&gt;" in html
    assert '<td class="figure">372.25</td>' in html
    bare = html_rows(Table("t", ("a", "b"), (("x", None), ("y", ""))))
    assert '<th scope="col">b</th>' not in bare


@pytest.mark.parametrize("kind", TableFormat)
def test_every_format_writes_an_empty_table(kind: TableFormat) -> None:
    assert write_table(Table("Nothing", ("a",), ()), kind)
