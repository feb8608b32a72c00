"""Sheets on their way into the book: shown, answered, and stored at once or not at all."""

from __future__ import annotations

from pathlib import Path

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.core.numerals import Numerals, writing
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.runs import runs
from true_margin.desk.sheets.preview import SheetPreview, preview_sheet
from true_margin.desk.sheets.storing import NO_APP, SheetResult, start_from_sheet, store_sheet
from true_margin.desk.sheets.taking_back import take_sheet_back
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.sheets.columns import ColumnReading, Means
from true_margin.exchange.sheets.facts import Answers, TaskAnswer
from true_margin.store import records
from true_margin.store.database import Database

MESSY = Path(__file__).parents[1] / "exchange" / "messy"


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Tables")


def shown(bench: Bench, text: str, answers: Answers | None = None) -> SheetPreview:
    return preview_sheet(bench.database, bench.slug, text, answers or Answers())


def stored(bench: Bench, text: str, answers: Answers | None = None) -> SheetResult:
    return store_sheet(bench.database, bench.slug, text, answers or Answers(), "Marit")


def kept(bench: Bench) -> list[records.Run]:
    return [each.run for each in runs.show_runs(bench.database, bench.slug).runs]


TABLE = """setup;task;value;reading;status;note
A;Parade;6:17;log;;
Zephyr;Parade;6:20;;;
A;Parade;18.40 min;;;
B;Parade;4:75;;;
B;Parade;6:40;hand;;
B;Parade;0:03;;void;
"""


def test_what_cannot_go_in_says_why_and_holds_back_only_itself(bench: Bench) -> None:
    preview = shown(bench, TABLE)
    problems = {
        row.line: cell.problem for row in preview.rows for cell in row.cells if cell.problem
    }
    assert problems == {
        4: "18.40 min has two meanings.",
        5: "4:75 has 75 seconds. Type 5m15s, or 5:15.",
        7: "A void run needs its reason in the note.",
    }
    assert (preview.headline, preview.needs) == ("3 results are ready.", "3 cells need you")
    assert preview.new_setups == ("Zephyr",)
    result = stored(bench, TABLE)
    assert (result.results, result.waiting, result.machines) == (3, 3, 1)
    assert [run.value for run in kept(bench)] == [377.0, 380.0, 400.0]


def test_the_same_sheet_again_stores_only_what_was_answered_since(bench: Bench) -> None:
    stored(bench, TABLE)
    again = shown(bench, TABLE)
    assert (again.headline, again.counts.same) == ("All of this is here already.", 3)
    fixes = next(
        cell.fixes for row in again.rows for cell in row.cells if row.line == 4 and cell.fixes
    )
    assert [(fix.words, fix.typed) for fix in fixes] == [("18:40", "1120 s"), ("18:24", "1104 s")]
    answered = Answers(cells={"2:2": fixes[0].typed, "3:2": "5:15", "5:2": None})
    assert shown(bench, TABLE, answered).headline == "2 results are ready."
    assert (stored(bench, TABLE, answered).results, stored(bench, TABLE, answered).same) == (2, 5)
    assert sorted(run.value or 0 for run in kept(bench)) == [315.0, 377.0, 380.0, 400.0, 1120.0]


def test_nothing_is_stored_where_nothing_is_ready(database: Database) -> None:
    with pytest.raises(RefusedError, match="Nothing of this is ready"):
        start_from_sheet(
            database, {"name": "None", "currency": "EUR"}, "A / photos / soon", Answers(), "Jo"
        )
    assert all(each.name != "None" for each in shootouts.list_shootouts(database))


def test_notes_become_a_shootout_with_a_verdict(database: Database) -> None:
    text = (MESSY / "typed_lines.txt").read_text()
    fields = {"name": "Old notes", "currency": "EUR", "subject": "machine"}
    made = start_from_sheet(database, fields, text, Answers(), "Marit")
    assert (made.results, made.machines, made.tasks) == (7, 3, 3)
    book = SHELF.take(database, made.slug)
    assert {(task.name, task.measure, task.unit, task.app) for task in book.tasks} == {
        ("photos", "time", None, NO_APP),
        ("drive", "amount", "MB/s", NO_APP),
        ("diary", "time", None, NO_APP),
    }
    assert [run.status for run in book.runs].count("failed") == 1
    assert [run.bound for run in book.runs if run.bound] == [">"]
    photos = next(i for i, task in enumerate(book.tasks) if task.name == "photos")
    assert len(analysis_of(book).tasks[photos].rungs) == 2


def test_ten_machines_by_seven_tests_by_six_specs_go_in_at_once(bench: Bench) -> None:
    text = (MESSY / "everything.tsv").read_text()
    with writing(Numerals(".", ",")):
        result = stored(bench, text, Answers(tasks={"Diary": TaskAnswer(app="Heddle")}))
    assert (result.results, result.prices, result.specs, result.waiting) == (70, 10, 60, 0)
    assert (result.machines, result.tasks) == (10, 6)
    book = SHELF.take(bench.database, bench.slug)
    birch = next(machine for machine in book.machines if machine.name == "Birch 15")
    assert (birch.specs["storage_gb"], birch.specs["weight_kg"]) == (1000.0, 1.9)
    assert [(str(p.amount.normalize()), p.currency) for p in birch.prices] == [("2.39E+3", "EUR")]
    values = {
        (run.typed, run.value, run.bound) for run in book.runs if run.setup_id == birch.setups[0].id
    }
    assert ("0:06:02", 362.0, None) in values
    assert ("> 84", 84.0, ">") in values
    assert ("0:51 h", 3060.0, None) in values
    with writing(Numerals(".", ",")):
        again = stored(bench, text)
    assert (again.results, again.prices, again.specs, again.same) == (0, 0, 0, 140)


def test_a_name_that_may_be_another_waits_for_a_person(bench: Bench) -> None:
    bench.machine("Quoin 5 Pro")
    text = "machine\tParade\nQuoin 5\t6:17\nB\t6:20\n"
    (row, _) = shown(bench, text).rows
    assert (row.state, row.choices) == ("asked", ("Quoin 5 Pro",))
    assert stored(bench, text).results == 1
    same = stored(bench, text, Answers(names={"Quoin 5": "Quoin 5 Pro"}))
    assert (same.results, same.machines) == (1, 0)
    other = Answers(names={"Quoin 5": "+"})
    assert shown(bench, text + "\n", other).new_setups == ("Quoin 5",)


def test_percentages_against_a_machine_are_noted_ratios_with_their_source(bench: Bench) -> None:
    bench.machine("Tarn Desk")
    text = (
        "Render week\nmachine\tParade\tvs Tarn Desk\nTarn Desk\t10:52\t\nA\t\t+72 %\nB\t\tover 3x\n"
    )
    result = stored(bench, text)
    assert (result.results, result.ratios) == (1, 2)
    book = SHELF.take(bench.database, bench.slug)
    assert [(r.typed, r.source) for r in book.ratios] == [
        ("+72 %", "Render week"),
        ("over 3x", "Render week"),
    ]
    parade = analysis_of(book).tasks[0]
    assert [book.setups[rung.setup].label for rung in parade.noted] == ["A"]
    assert stored(bench, text).ratios == 0


def test_specs_prices_and_rounds_stand_where_they_belong(bench: Bench) -> None:
    text = (
        "machine;RAM;Colour;Street price;Parade;round;date;note\n"
        "A;16 GB;red;1.290,50 €;6:10;spring;2026-03-04;warm room\n"
        "B;32;blue;n/a;6:20;spring;2026-03-04;\n"
    )
    preview = shown(bench, text)
    assert [column.reading.means for column in preview.columns] == [
        Means.MACHINE,
        Means.SPEC,
        Means.SPEC,
        Means.PRICE,
        Means.TASK,
        Means.ROUND,
        Means.DAY,
        Means.NOTE,
    ]
    assert preview.new_rounds == ("spring",)
    stored(bench, text)
    sheet = spec_sheet.show_lineup(bench.database, bench.slug)
    colour = next(row for row in sheet.rows if row.title == "Colour")
    cells = [column.cells[colour.field][0].text for column in sheet.columns]
    assert (cells, colour.free_row_id is not None) == (["red", "blue"], True)
    (price,) = sheet.columns[0].machine.prices
    assert (str(price.amount), price.kind, str(price.dated)) == ("1290.50", "street", "2026-03-04")
    assert [run.note for run in kept(bench)] == [
        "warm room; tested 2026-03-04",
        "tested 2026-03-04",
    ]


def test_runs_stand_in_the_order_that_the_sheet_gives(bench: Bench) -> None:
    text = "setup,task,round,order,value\nA,Parade,new,2,6:10\nA,Parade,new,1,6:20\n"
    stored(bench, text)
    assert [run.typed for run in kept(bench)] == ["6:20", "6:10"]
    assert [r.name for r in shootouts.list_rounds(bench.database, bench.slug)] == ["round 1", "new"]


def test_failures_keep_how_far_they_came(bench: Bench) -> None:
    stored(bench, "machine\tParade\nA\tcrashed at 62 %\nB\tDNF\n")
    assert [(run.status, run.reason, run.reached) for run in kept(bench)] == [
        ("failed", "crashed at 62 %", 0.62),
        ("failed", "DNF", None),
    ]


def test_five_thousand_rows_of_which_seven_are_bad(bench: Bench) -> None:
    rows = [f"A,Parade,{5 + place % 3}:{place % 60:02d}" for place in range(5000)]
    for place in (7, 1000, 2500, 2501, 3333, 4000, 4999):
        rows[place] = "A,Parade,soon"
    text = "setup,task,value\n" + "\n".join(rows)
    preview = shown(bench, text)
    assert (preview.counts.times, preview.counts.cells_waiting) == (4993, 7)
    assert len(preview.rows) == 66
    assert (stored(bench, text).results, stored(bench, text).same) == (4993, 4993)


def test_a_column_of_thousands_is_read_as_it_was_meant(bench: Bench) -> None:
    bench.task("Points", measure="amount", unit="points")
    with writing(Numerals(".", ",")):
        stored(bench, "setup\ttask\tvalue\nA\tPoints\t3,210\nB\tPoints\t2,987\n")
    assert [run.value for run in kept(bench)] == [3210, 2987]


def test_a_point_that_may_part_thousands_is_asked_about_once(bench: Bench) -> None:
    bench.task("Points", measure="amount", unit="points")
    text = "machine\tPoints\nA\t3.210\nB\t2.987\n"
    with writing(Numerals(",", ".")):
        column = shown(bench, text).columns[1]
        assert column.question == "3.210: 3210, or 3 and a bit?"
        assert [choice.words for choice in column.choices] == ["thousands", "decimals"]
        assert stored(bench, text.replace("A", "B2", 1)).results == 0
        stored(bench, text, Answers(columns={1: column.choices[0].reading}))
    assert [run.value for run in kept(bench)] == [3210, 2987]


def test_a_column_may_be_read_as_something_else(bench: Bench) -> None:
    text = "machine\tloud\nA\t44\nB\t34\n"
    column = shown(bench, text).columns[1]
    assert column.question == "What is “loud”?"
    assert [choice.words for choice in column.choices] == [
        "Spec row",
        "Task, amount",
        "Task, seconds",
        "Leave out",
    ]
    spec = Answers(columns={1: ColumnReading(Means.SPEC, "Noise", unit="dB")})
    assert shown(bench, text, spec).headline == "2 specs are ready."
    task = Answers(columns={1: ColumnReading(Means.TASK)})
    assert shown(bench, text, task).columns[1].question == "44 of what: seconds, minutes or hours?"


@pytest.mark.parametrize(
    ("answers", "says"),
    [
        (Answers(columns={1: ColumnReading(Means.MACHINE)}), "Two columns are read as the machine"),
        (Answers(columns={0: ColumnReading(Means.OUT)}), "No column names the machine"),
        (Answers(columns={9: ColumnReading(Means.OUT)}), "There is no column 10"),
        (Answers(columns={1: ColumnReading(Means.RESULT)}), "No column names the task"),
    ],
)
def test_answers_that_cannot_be_are_refused(bench: Bench, answers: Answers, says: str) -> None:
    with pytest.raises(RefusedError, match=says):
        shown(bench, "machine\tParade\nA\t6:17\n", answers)


LONG = "x" * 150


@pytest.mark.parametrize(
    ("bad", "says"),
    [
        (f"{LONG}\t6:17\t\t", "the name is longer than 120 signs; shorten it"),
        (f"B\t6:17\t{LONG}\t", "the name is longer than 120 signs; shorten it"),
        (f"B\tabout {'0' * 70}6 min\t\t", "is longer than 60 signs; shorten it"),
        (f"B\t6:17\t\t{'n' * 2001}", "The note is longer than 2000 signs; shorten it"),
    ],
)
def test_what_is_too_long_holds_back_only_itself(bench: Bench, bad: str, says: str) -> None:
    text = f"machine\tParade\tround\tnote\nA\t6:20\t\t\n{bad}\n"
    problems = [cell.problem for row in shown(bench, text).rows for cell in row.cells]
    assert any(says in problem for problem in problems if problem)
    assert stored(bench, text).results == 1
    assert [run.typed for run in kept(bench)] == ["6:20"]


def test_a_long_reason_is_kept_whole(bench: Bench) -> None:
    reason = f"crashed {'and again ' * 60}".strip()
    text = f"setup,task,value,status,note\nA,Parade,,failed,{reason}\n"
    stored(bench, text)
    (run,) = kept(bench)
    assert run.reason is not None
    assert (len(run.reason), run.note) == (500, reason)


def test_a_ratio_of_no_task_of_the_sheet_waits(bench: Bench) -> None:
    text = "machine\tParade\tvs B\nA\t6:17\t20 %\n"
    answers = Answers(columns={2: ColumnReading(Means.RATIO, "B", task="nothing")})
    result = stored(bench, text, answers)
    assert (result.results, result.ratios, result.waiting) == (1, 0, 1)


def test_two_columns_of_one_row_are_asked_about(bench: Bench) -> None:
    text = "machine\tColour\tcolour\nA\tred\tblue\n"
    column = shown(bench, text).columns[2]
    assert [choice.words for choice in column.choices] == ["Leave out"]
    assert column.question == "Another column is “colour” too. Give one of them another name."
    assert stored(bench, text).specs == 1


def test_what_a_column_is_changed_to_keeps_the_unit_of_its_head(bench: Bench) -> None:
    text = "machine\tSSD (TB)\tFilm (h:mm)\nA\t1\t1:26\n"
    answers = Answers(
        columns={1: ColumnReading(Means.SPEC), 2: ColumnReading(Means.TASK, measure="time")}
    )
    (row,) = shown(bench, text, answers).rows
    assert [cell.words for cell in row.cells] == ["A", "1000 GB", "1:26:00"]
    typed_over = Answers(columns={1: ColumnReading(Means.SPEC, "Storage", unit="TB")})
    assert shown(bench, text, typed_over).rows[0].cells[1].words == "1000 GB"


def test_a_remark_without_a_result_is_the_machines_own(bench: Bench) -> None:
    stored(bench, "machine\tParade\tremark\nA\t6:17\twarm room\nB\t\tbroken on arrival\n")
    book = SHELF.take(bench.database, bench.slug)
    assert [machine.specs.get("note") for machine in book.machines] == [None, "broken on arrival"]
    assert [run.note for run in kept(bench)] == ["warm room"]


def test_each_column_of_prices_says_its_own_kind(bench: Bench) -> None:
    stored(bench, "machine\tlist price\tstreet price\nA\t1,299 EUR\t1190 EUR\n")
    machine = SHELF.take(bench.database, bench.slug).machines[0]
    assert {(p.kind, str(p.amount)) for p in machine.prices} == {("street", "1190.00")}
    with writing(Numerals(".", ",")):
        stored(bench, "machine\tlist price\tstreet price\nA\t1,299 EUR\t1190 EUR\n")
    machine = SHELF.take(bench.database, bench.slug).machines[0]
    assert {(p.kind, str(p.amount)) for p in machine.prices} == {
        ("street", "1190.00"),
        ("list", "1299.00"),
    }


def test_a_shootout_of_notes_is_in_the_currency_of_their_prices(database: Database) -> None:
    text = "machine\tParade\tprice\nAlder\t6:17\t$999\nBirch\t5:02\t$1299\n"
    made = start_from_sheet(
        database, {"name": "Dollars", "subject": "machine"}, text, Answers(), "J"
    )
    book = SHELF.take(database, made.slug)
    assert book.shootout.currency == "USD"
    assert [price.currency for machine in book.machines for price in machine.prices] == ["USD"] * 2


WHOLE = """machine\tParade\tRAM\tprice
A\t6:17\t16 GB\t1299 EUR
Zephyr\t5:02\t32 GB\t2390 EUR"""


def test_all_that_came_with_a_sheet_is_taken_back(bench: Bench) -> None:
    before = SHELF.take(bench.database, bench.slug)
    result = stored(bench, WHOLE)
    assert (result.results, result.prices, result.specs, result.machines) == (2, 2, 2, 1)
    back = take_sheet_back(bench.database, bench.slug, result.made, "Marit")
    assert back.says == ("Taken back: 2 runs, 2 prices, 2 specs, 1 machine. All of it is kept.")
    assert back.stays == ()
    after = SHELF.take(bench.database, bench.slug)
    assert [m.name for m in after.machines] == [m.name for m in before.machines]
    assert [m.specs for m in after.machines] == [m.specs for m in before.machines]
    assert {run.status for run in after.runs} <= {"void"}
    assert all(not machine.prices for machine in after.machines)


def test_a_sheet_that_was_taken_back_can_be_brought_in_anew(bench: Bench) -> None:
    first = stored(bench, WHOLE)
    take_sheet_back(bench.database, bench.slug, first.made, "Marit")
    book = SHELF.take(bench.database, bench.slug)
    known = {machine.name for machine in book.machines}
    assert "Zephyr" not in known
    again = stored(bench, "machine\tParade\tRAM\tprice\nA\t6:17\t16 GB\t1299 EUR")
    assert (again.results, again.prices, again.specs) == (1, 1, 1)
    assert again.same == 0


def test_what_was_changed_since_stays_and_is_told(bench: Bench) -> None:
    result = stored(bench, WHOLE)
    book = SHELF.take(bench.database, bench.slug)
    machine = next(each for each in book.machines if each.name == "A")
    changes = {"specs": {"memory_gb": "64"}}
    lineup.change_machine(bench.database, machine.id, machine.version, changes)
    back = take_sheet_back(bench.database, bench.slug, result.made, "Marit")
    assert back.stays == ("Memory of A: changed since.",)
    machine = next(
        each for each in SHELF.take(bench.database, bench.slug).machines if each.name == "A"
    )
    assert machine.specs["memory_gb"] == 64


def test_nothing_of_another_shootout_is_taken_back(bench: Bench, database: Database) -> None:
    elsewhere = new_bench(database, "Elsewhere")
    theirs = stored(elsewhere, WHOLE)
    with pytest.raises(RefusedError, match="not in this shootout"):
        take_sheet_back(bench.database, bench.slug, theirs.made, "Marit")
    assert any(run.status == "ok" for run in SHELF.take(database, elsewhere.slug).runs)


def test_a_machine_that_was_timed_since_stays_when_its_sheet_is_taken_back(bench: Bench) -> None:
    result = stored(bench, WHOLE)
    book = SHELF.take(bench.database, bench.slug)
    bench.setups["Zephyr"] = next(s.id for s in book.setups if s.label == "Zephyr")
    bench.run("Zephyr", "5:04")
    back = take_sheet_back(bench.database, bench.slug, result.made, "Marit")
    assert back.stays == ("Zephyr stays: other runs of it count.",)
    after = SHELF.take(bench.database, bench.slug)
    assert "Zephyr" in {machine.name for machine in after.machines}
    assert [run.typed for run in after.runs if run.status == "ok"] == ["5:04"]
