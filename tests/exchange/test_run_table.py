"""Tables of runs: delimiters, headers, quotes, and rows that are off."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.exchange.run_table import (
    MAX_ROWS,
    OF_SETUP,
    OF_TASK,
    TableError,
    read_run_table,
    understand_columns,
)


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


def test_a_person_may_correct_the_columns() -> None:
    text = "who,what,how long\nA,T,6:17\n"
    table = read_run_table(text, ["setup", "task", "value"])
    assert table.rows[0].cells["value"] == "6:17"


@pytest.mark.parametrize(
    ("columns", "says"),
    [
        (["setup", "task"], "3 columns are there"),
        (["setup", "task", "speed"], "'speed' is not a field"),
        (["setup", "setup", "value"], "same field"),
        (["setup", None, "value"], "No column for task"),
    ],
)
def test_wrong_corrections_are_refused(columns: list[str | None], says: str) -> None:
    with pytest.raises(TableError, match=says):
        read_run_table("a,b,c\nA,T,6:17\n", columns)


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


WIDE_TABLE = "Task;Halyard S;Halyard L\nParade;6:17;4:01\nDiary;;1:32\n"


def test_a_wide_table_becomes_one_row_a_cell() -> None:
    table = read_run_table(WIDE_TABLE)
    assert [column.field for column in table.columns] == ["task", OF_SETUP, OF_SETUP]
    found = [
        (row.where, row.cells["setup"], row.cells["task"], row.cells["value"]) for row in table.rows
    ]
    assert found == [
        ("2, Halyard S", "Halyard S", "Parade", "6:17"),
        ("2, Halyard L", "Halyard L", "Parade", "4:01"),
        ("3, Halyard L", "Halyard L", "Diary", "1:32"),
    ]
    assert len({row.line for row in table.rows}) == 3


def test_known_names_tell_which_way_a_wide_table_lies() -> None:
    text = ",Parade,Diary\nA,6:17,1:32\nB,6:20,1:33\n"
    by_task = read_run_table(text, None, ["A", "B"], ["Parade", "Diary"])
    assert [column.field for column in by_task.columns] == ["setup", OF_TASK, OF_TASK]
    by_setup = read_run_table(text, None, ["Parade", "Diary"], ["A", "B"])
    assert [column.field for column in by_setup.columns] == ["task", OF_SETUP, OF_SETUP]


def test_common_columns_of_a_wide_table_stand_in_each_row() -> None:
    table = read_run_table("task,round,A,B\nParade,spring,6:17,6:20\n")
    assert [row.cells["round"] for row in table.rows] == ["spring", "spring"]


def test_a_table_cannot_lie_both_ways() -> None:
    with pytest.raises(TableError, match="cannot stand in one table"):
        read_run_table("x,A,B\n1,2,3\n", ["note", OF_SETUP, OF_TASK])
