"""Tables of runs: delimiters, headers, quotes, and rows that are off."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.exchange.run_table import MAX_ROWS, TableError, read_run_table, understand_columns


@pytest.mark.parametrize("sign", [",", ";", "\t"])
def test_the_delimiter_is_found(sign: str) -> None:
    table = read_run_table(
        sign.join(["setup", "task", "value"]) + "\n" + sign.join(["A", "T", "6:17"])
    )
    assert table.delimiter == sign
    assert dict(table.rows[0].cells) == {"setup": "A", "task": "T", "value": "6:17"}


def test_decimal_commas_do_not_divide() -> None:
    table = read_run_table("setup;task;value\nA;T;6:17,4\n")
    assert table.rows[0].cells["value"] == "6:17,4"


def test_quotes_hold_delimiters_and_line_breaks() -> None:
    table = read_run_table('setup,task,value,note\n"A, raised",T,6:17,"two\nlines"\nB,T,5:00,\n')
    assert table.rows[0].cells["setup"] == "A, raised"
    assert [row.line for row in table.rows] == [3, 4]


def test_a_byte_order_mark_and_empty_lines_do_no_harm() -> None:
    table = read_run_table("\ufeff\nsetup,task,value\n\nA,T,6:17\n\n")
    assert len(table.rows) == 1
    assert table.rows[0].line == 4


@pytest.mark.parametrize(
    ("headers", "fields"),
    [
        (["Machine", "Test", "Time (s)"], ["setup", "task", "value"]),
        (["SETUP", "Timeline", "Elapsed", "Comment"], ["setup", "task", "value", "note"]),
        (["setup", "machine", "task"], ["setup", None, "task"]),
        (["#", "colour"], ["order", None]),
    ],
)
def test_headers_are_understood(headers: list[str], fields: list[str | None]) -> None:
    assert understand_columns(headers) == fields


def test_rows_of_another_width_are_marked() -> None:
    table = read_run_table("setup,task,value\nA,T\nA,T,6:17,extra\nA,T,5:00\n")
    assert [row.problem for row in table.rows] == [
        "2 cells where the header has 3",
        "4 cells where the header has 3",
        None,
    ]


@pytest.mark.parametrize(
    ("text", "says"),
    [
        ("", "empty"),
        ("  \n \n", "empty"),
        ("one column\nA\n", "No column for setup and task and value"),
        ("setup,task,value\nA,\x00,1\n", "zero bytes"),
        ('setup,task,value\n"A,T,1\n', "check the quotes"),
    ],
)
def test_what_is_no_table_says_why(text: str, says: str) -> None:
    with pytest.raises(TableError, match=says):
        read_run_table(text)


def test_too_many_rows_are_refused() -> None:
    with pytest.raises(TableError, match="split the table"):
        read_run_table("setup,task,value\n" + "A,T,1\n" * (MAX_ROWS + 1))


@given(st.text(max_size=200))
def test_any_text_is_a_table_or_refused(text: str) -> None:
    try:
        table = read_run_table(text)
    except TableError as error:
        assert error.reason
        return
    assert all(row.line >= 1 for row in table.rows)
