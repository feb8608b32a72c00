"""Tables of runs on their way into the book: shown, answered, stored all or none."""

from __future__ import annotations

from dataclasses import replace

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.core.numerals import Numerals, writing
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import spec_sheet
from true_margin.desk.runs import imports, runs
from true_margin.desk.runs.imports import ImportRequest
from true_margin.desk.shootouts import shootouts
from true_margin.store.database import Database


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Tables")


TABLE = """setup;task;value;reading;status;note
A;Parade;6:17;log;;
Zephyr;Parade;6:20;;;
A;Parade;18.40 min;;;
B;Parade;4:75;;;
B;Parade;6:40;hand;;
B;Parade;0:03;;void;
"""


def test_bad_rows_are_named_and_nothing_is_stored(bench: Bench) -> None:
    preview = imports.preview_import(bench.database, bench.slug, ImportRequest(TABLE))
    assert (preview.delimiter, preview.good, preview.bad) == ("semicolon", 2, 4)
    problems = {row.line: row.problem for row in preview.rows if row.problem}
    assert problems == {
        3: "no setup is called 'Zephyr'",
        4: "18.40 min has two meanings: choose one",
        5: "'4:75': seconds after a larger unit must be below 60",
        7: "a void run needs its reason in the note",
    }
    with pytest.raises(RefusedError) as refused:
        imports.commit_import(bench.database, bench.slug, ImportRequest(TABLE), "Marit")
    assert [each["line"] for each in refused.value.extra["lines"]] == [3, 4, 5, 7]
    assert runs.show_runs(bench.database, bench.slug).runs == ()


def test_confirmed_rows_are_stored_once(bench: Bench) -> None:
    request = ImportRequest(TABLE, answers={4: "clock"}, add_missing=True, leave_out_bad=True)
    result = imports.commit_import(bench.database, bench.slug, request, "Marit")
    assert (result.stored, result.already_there, result.left_out) == (4, 0, ("5", "7"))
    again = imports.commit_import(bench.database, bench.slug, request, "Marit")
    assert (again.stored, again.already_there) == (0, 4)
    values = [r.run.value for r in runs.show_runs(bench.database, bench.slug).runs]
    assert values == [377.0, 380.0, 1120.0, 400.0]
    names = [c.machine.name for c in spec_sheet.show_lineup(bench.database, bench.slug).columns]
    assert names == ["A", "B", "Zephyr"]


def test_a_table_may_hold_failures_without_a_time(bench: Bench) -> None:
    table = "setup,task,value,status,note\nA,Parade,6:10,,\nA,Parade,,failed,out of disk\n"
    imports.commit_import(bench.database, bench.slug, ImportRequest(table), "Marit")
    kept = [r.run for r in runs.show_runs(bench.database, bench.slug).runs]
    assert [(run.status, run.value, run.bound) for run in kept] == [
        ("ok", 370.0, None),
        ("failed", None, None),
    ]


def test_a_table_may_open_rounds_and_order_its_runs(bench: Bench) -> None:
    table = "setup,task,round,order,value\nA,Parade,new,2,6:10\nA,Parade,new,1,6:20\n"
    imports.commit_import(bench.database, bench.slug, ImportRequest(table), "Marit")
    stored = [r.run for r in runs.show_runs(bench.database, bench.slug).runs]
    assert [run.typed for run in stored] == ["6:20", "6:10"]
    assert [r.name for r in shootouts.list_rounds(bench.database, bench.slug)] == ["round 1", "new"]


def test_five_thousand_rows_of_which_seven_are_bad(bench: Bench) -> None:
    rows = [f"A,Parade,{5 + place % 3}:{place % 60:02d}" for place in range(5000)]
    for place in (7, 1000, 2500, 2501, 3333, 4000, 4999):
        rows[place] = "A,Parade,soon"
    request = ImportRequest("setup,task,value\n" + "\n".join(rows))
    preview = imports.preview_import(bench.database, bench.slug, request)
    assert (preview.good, preview.bad) == (4993, 7)
    with pytest.raises(RefusedError, match="7 rows cannot be stored; nothing was"):
        imports.commit_import(bench.database, bench.slug, request, "Marit")
    assert runs.show_runs(bench.database, bench.slug).runs == ()
    good = replace(request, leave_out_bad=True)
    stored = imports.commit_import(bench.database, bench.slug, good, "Marit")
    assert (stored.stored, stored.left_out) == (
        4993,
        ("9", "1002", "2502", "2503", "3335", "4002", "5001"),
    )
    again = imports.commit_import(bench.database, bench.slug, good, "Marit")
    assert (again.stored, again.already_there) == (0, 4993)


def test_a_wide_table_goes_in_after_confirmation(bench: Bench) -> None:
    request = ImportRequest("\tA\tB\nParade\t6:17\t4:01\n")
    preview = imports.preview_import(bench.database, bench.slug, request)
    assert [(row.where, row.setup, row.task) for row in preview.rows] == [
        ("2, A", "A", "Parade"),
        ("2, B", "B", "Parade"),
    ]
    imports.commit_import(bench.database, bench.slug, request, "Marit")
    assert [run.run.value for run in runs.show_runs(bench.database, bench.slug).runs] == [377, 241]


def test_a_pasted_column_of_thousands_is_read_as_it_was_meant(bench: Bench) -> None:
    bench.task("Points", measure="amount", unit="points")
    table = "setup\ttask\tvalue\nA\tPoints\t3,210\nB\tPoints\t2,987\n"
    with writing(Numerals(".", ",")):
        shown = imports.preview_import(bench.database, bench.slug, ImportRequest(table))
        imports.commit_import(bench.database, bench.slug, ImportRequest(table), "Marit")
    assert [row.value_words for row in shown.rows] == ["3210", "2987"]
    kept = [r.run.value for r in runs.show_runs(bench.database, bench.slug).runs]
    assert kept == [3210, 2987]


def test_a_point_that_may_part_thousands_is_asked_about(bench: Bench) -> None:
    bench.task("Points", measure="amount", unit="points")
    german = Numerals(",", ".")
    with writing(german):
        unsure = "setup\ttask\tvalue\nA\tPoints\t3.210\n"
        (row,) = imports.preview_import(bench.database, bench.slug, ImportRequest(unsure)).rows
        assert "may be thousands or decimals" in str(row.problem)
        with pytest.raises(RefusedError):
            imports.commit_import(bench.database, bench.slug, ImportRequest(unsure), "Jo")
        # A neighbour in the same column tells.
        sure = f"{unsure}B\tPoints\t64,5\n"
        imports.commit_import(bench.database, bench.slug, ImportRequest(sure), "Jo")
    assert [r.run.value for r in runs.show_runs(bench.database, bench.slug).runs] == [3210, 64.5]
