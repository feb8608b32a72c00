"""Ten tables as people keep them, messy on purpose: each comes in right, with few corrections."""

from __future__ import annotations

from collections import Counter
from pathlib import Path

import pytest
from hypothesis import given
from hypothesis import strategies as st

from true_margin.core.numerals import Numerals
from true_margin.exchange.sheets.columns import ColumnReading, Known, KnownTask, Means
from true_margin.exchange.sheets.facts import (
    Answers,
    PriceFact,
    RatioFact,
    RunFact,
    SheetReading,
    SpecFact,
)
from true_margin.exchange.sheets.grid import SheetError, read_grid
from true_margin.exchange.sheets.sheet import read_sheet

TABLES = Path(__file__).parent / "messy"
ENGLISH, GERMAN = Numerals(".", ","), Numerals(",", ".")
MOST_CORRECTIONS = 2


def read(name: str, answers: Answers | None = None, known: Known | None = None) -> SheetReading:
    corrections = answers or Answers()
    given = len(corrections.columns) + len(corrections.cells) + len(corrections.names)
    assert given + len(corrections.tasks) <= MOST_CORRECTIONS
    return read_sheet((TABLES / name).read_text(), known or Known(signs=ENGLISH), corrections)


def results(reading: SheetReading) -> dict[tuple[str, str], list[str]]:
    """Results in words, by machine and task."""
    found: dict[tuple[str, str], list[str]] = {}
    for fact in reading.facts:
        if isinstance(fact, RunFact):
            found.setdefault((fact.setup, fact.task), []).append(fact.result.words)
    return found


def specs(reading: SheetReading, machine: str) -> dict[str, str]:
    facts = (f for f in reading.facts if isinstance(f, SpecFact) and f.setup == machine)
    return {fact.title: fact.text for fact in facts}


def prices(reading: SheetReading) -> list[tuple[str, str, str]]:
    facts = (f for f in reading.facts if isinstance(f, PriceFact))
    return [(fact.setup, fact.amount, fact.currency) for fact in facts]


def nothing_waits(reading: SheetReading) -> bool:
    asked = [column.head for column in reading.columns if column.question is not None]
    asked += [row.name for row in reading.rows if row.state == "asked"]
    return not asked and reading.waiting == 0


def test_a_bench_day_beside_what_the_shootout_knows() -> None:
    known = Known(
        ("Tarn Desk", "Cairn Brick", "Halyard L"),
        (
            KnownTask("Parade, UHD", "time"),
            KnownTask("Parade, 1080p", "time"),
            KnownTask("Lens points", "amount", "points"),
        ),
        signs=ENGLISH,
    )
    first = read("bench_day.tsv", None, known)
    assert first.waiting == 1
    (cell,) = [cell for row in first.rows for cell in row.cells if cell.problem]
    assert [fix.typed for fix in cell.fixes] == ["8:39"]
    answers = Answers(
        columns={7: ColumnReading(Means.SPEC, "Loudness", unit="dB")}, cells={"3:1": "8:39"}
    )
    reading = read("bench_day.tsv", answers, known)
    assert nothing_waits(reading)
    assert [row.state for row in reading.rows] == ["known", "known", "known", "new"]
    assert results(reading)["Quoin 5", "Parade, UHD"] == ["8:39"]
    assert results(reading)["Halyard L", "Lens points"] == ["1402 points"]
    assert prices(reading)[1] == ("Halyard L", "2490", "EUR")
    assert specs(reading, "Halyard L") == {"Memory": "32 GB", "Loudness": "43 dB"}
    assert {f.round for f in reading.facts if isinstance(f, RunFact)} == {"autumn"}


def test_machines_across_with_a_column_of_units_a_title_and_a_foot_note() -> None:
    reading = read("across.csv")
    assert nothing_waits(reading)
    assert reading.turned
    assert reading.title == "Bench notes October"
    assert [row.name for row in reading.rows] == [
        "Alder 13",
        "Birch 15",
        "Cedar Mini",
        "Dogwood Tower",
    ]
    assert specs(reading, "Birch 15") == {
        "Processor": "Nimbus 10",
        "Memory": "32 GB",
        "Storage": "2000 GB",
        "Verdict": "fast",
    }
    assert prices(reading)[0] == ("Alder 13", "1299", "EUR")
    assert results(reading)["Cedar Mini", "Wedding film proxies"] == ["failed"]
    assert results(reading)["Birch 15", "Drive test"] == ["6850 MB/s"]
    (noted,) = [f.result.note for f in reading.facts if isinstance(f, RunFact) and f.result.note]
    assert noted == "second try; the first froze at 80 %"


def test_heads_that_span_columns_with_a_row_of_units() -> None:
    reading = read("merged_heads.tsv")
    assert nothing_waits(reading)
    tasks = [(task.name, task.measure, task.unit) for task in reading.tasks]
    assert tasks == [
        ("Export 4K", "time", ""),
        ("Export 1080p", "time", ""),
        ("Export stills", "time", ""),
        ("Playback 4K", "amount", "fps"),
        ("Playback 8K", "amount", "fps"),
    ]
    assert prices(reading) == [
        ("Alder 13", "1299", "USD"),
        ("Birch 15", "2390", "USD"),
        ("Cedar Mini", "749", "USD"),
    ]
    assert ("Cedar Mini", "Playback 8K") not in results(reading)
    (failed,) = [
        fact.result.reason
        for fact in reading.facts
        if isinstance(fact, RunFact) and fact.result.status.value == "failed"
    ]
    assert failed == "crashed at 62 %"


def test_decimal_commas_points_between_thousands_and_parts_of_minutes() -> None:
    answers = Answers(columns={2: ColumnReading(Means.TASK, measure="amount", unit="Punkte")})
    reading = read("german.csv", answers, Known(signs=GERMAN))
    assert nothing_waits(reading)
    found = results(reading)
    assert [found[name, "Festzug"] for name in ("Alder 13", "Birch 15", "Cedar Mini")] == [
        ["9:42"],
        ["6:03"],
        ["14:18"],
    ]
    assert found["Dogwood Tower", "Punkte"] == ["9840.5 Punkte"]
    assert found["Alder 13", "Lesen"] == ["2980.5 MB/s"]
    assert prices(reading)[3] == ("Dogwood Tower", "3120.50", "EUR")


def test_a_table_of_pipes_with_bounds_failures_and_an_average() -> None:
    reading = read("notes.md")
    assert nothing_waits(reading)
    found = results(reading)
    assert found["Cedar Mini", "Lantern parade"] == ["over 2:00:00"]
    assert found["Cedar Mini", "Backstage diary"] == ["failed"]
    assert found["Alder 13", "Backstage diary"] == ["about 12:00"]
    assert ("Dogwood Tower", "Backstage diary") not in found
    assert [row.why for row in reading.rows if row.state == "out"] == [
        "a figure of the others, not a machine"
    ]
    (note,) = [f.result.note for f in reading.facts if isinstance(f, RunFact) and f.result.note]
    assert note == "fan loud"


def test_percentages_against_a_named_machine_are_ratios() -> None:
    reading = read("percent.tsv")
    assert nothing_waits(reading)
    ratios = [
        (f.setup, f.against, f.task, f.typed) for f in reading.facts if isinstance(f, RatioFact)
    ]
    assert ratios == [
        ("Cairn Brick", "Tarn Desk", "Render", "+72 %"),
        ("Halyard L", "Tarn Desk", "Render", "2.7x"),
        ("Pebble", "Tarn Desk", "Render", "38 % slower"),
    ]
    assert specs(reading, "Halyard L")["Noise"] == "43 dB"
    assert results(reading)["Halyard L", "Render"] == ["4:00"]


def test_one_result_a_line_with_states_and_blank_rows() -> None:
    reading = read("long.csv")
    assert nothing_waits(reading)
    states = Counter(f.result.status.value for f in reading.facts if isinstance(f, RunFact))
    assert states == {"ok": 6, "void": 1, "failed": 1}
    assert results(reading)["Alder 13", "Score"] == ["3210 points"]
    assert results(reading)["Birch 15", "Diary"] == ["1:02:00"]
    void = next(
        f.result for f in reading.facts if isinstance(f, RunFact) and f.result.status == "void"
    )
    assert (void.reason, void.words) == ("virus scan, running", "11:20")


def test_lines_as_they_are_typed_at_the_bench() -> None:
    reading = read("typed_lines.txt")
    assert nothing_waits(reading)
    assert results(reading) == {
        ("Alder", "photos"): ["8:46", "8:44"],
        ("Birch", "photos"): ["6:10"],
        ("Cedar", "photos"): ["failed"],
        ("Birch", "drive"): ["6850 MB/s"],
        ("Alder", "drive"): ["2980 MB/s"],
        ("Cedar", "diary"): ["over 2:00:00"],
    }
    methods = [f.result.method.value for f in reading.facts if isinstance(f, RunFact)]
    assert methods[:3] == ["stopwatch", "remembered", "log"]


def test_several_results_in_a_cell_names_of_two_lines_and_means() -> None:
    reading = read("many_in_a_cell.tsv")
    assert nothing_waits(reading)
    found = results(reading)
    assert found["Alder 13", "Wedding film"] == ["9:41", "9:44", "9:39"]
    assert found["Cedar Mini", "Wedding film"] == ["14:20", "14:11"]
    notes = {
        (f.setup, f.task): f.result.note
        for f in reading.facts
        if isinstance(f, RunFact) and f.result.note
    }
    assert notes["Alder 13", "Lens points"] == "best 3210; plugged in"
    assert notes["Birch 15", "Lens points"] == "mean of 5"
    assert notes["Birch 15", "Wedding film"] == "first run cold"
    assert notes["Cedar Mini", "Lens points"] == "older app; no battery"
    assert specs(reading, "Birch 15") == {"Battery": "7 h 45"}


def test_everything_ever_tested_in_one_go() -> None:
    reading = read("everything.tsv")
    assert nothing_waits(reading)
    kinds = Counter(type(fact).__name__ for fact in reading.facts)
    assert kinds == {"RunFact": 70, "SpecFact": 60, "PriceFact": 10}
    assert [aside.text for aside in reading.aside] == [
        "Everything I ever tested",
        "Laptops",
        "Desktops",
    ]
    assert results(reading)["Gorse 13", "Feature film"] == ["over 3:00:00"]
    assert results(reading)["Dogwood Tower", "Tracks"] == ["over 84"]


@pytest.mark.parametrize("name", sorted(path.name for path in TABLES.iterdir()))
def test_a_table_means_the_same_whatever_divides_it(name: str) -> None:
    """Cells of every table, divided by tabs instead: the same facts."""
    text = (TABLES / name).read_text()
    signs = GERMAN if name == "german.csv" else ENGLISH
    grid = read_grid(text)
    if grid.divider == "slash":
        return
    quoted = ['"{}"'.format(cell.replace('"', '""')) for row in grid.rows for cell in row]
    lines = ["\t".join(quoted[at : at + grid.width]) for at in range(0, len(quoted), grid.width)]
    again = read_sheet("\n".join(lines), Known(signs=signs))
    assert again.facts == read_sheet(text, Known(signs=signs)).facts


@given(st.text(max_size=300))
def test_any_text_is_a_sheet_or_is_refused_with_a_reason(text: str) -> None:
    try:
        reading = read_sheet(text, Known(signs=ENGLISH))
    except SheetError as error:
        assert error.reason
        return
    width = len(reading.columns)
    assert all(len(row.cells) == width for row in reading.rows)


@pytest.mark.parametrize("text", ["/", " / / ", "/\n/\n", "\t\t", ",,\n,,", "//\x0b/"])
def test_dividers_alone_are_no_sheet(text: str) -> None:
    with pytest.raises(SheetError):
        read_sheet(text, Known(signs=ENGLISH))


_CELL = st.sampled_from(
    [
        *(
            "6:17",
            "DNF",
            "n/a",
            "A",
            "1,299",
            "€9",
            "42 %",
            "",
            "16 GB",
            "7m99s",
            "> 2 h",
            "* note",
        ),
        *("6:17, 6:20", "3.210", "18.40 min", "Average", "2:50 to 3:10", "(min)", "Parade (s)"),
    ]
)


@given(st.lists(st.lists(_CELL, min_size=2, max_size=5), min_size=2, max_size=6), st.booleans())
def test_no_cell_of_any_table_goes_unseen(rows: list[list[str]], turned: bool) -> None:
    """Every filled cell stands in a row, in a head, among the lines aside, or in the title."""
    text = "\n".join("\t".join(row) for row in rows)
    try:
        reading = read_sheet(text, Known(signs=ENGLISH), Answers(turned=turned))
    except SheetError:
        return
    shown = " ".join(cell.text for row in reading.rows for cell in row.cells)
    heads = " ".join(column.head for column in reading.columns)
    aside = " ".join(each.text for each in reading.aside)
    for cell in {cell for row in rows for cell in row if cell}:
        bare = cell.strip("()")
        assert cell in shown or bare in shown + heads or cell in aside, (cell, text)


def test_what_is_too_large_is_refused_before_it_is_read() -> None:
    wide = "m\t" + "\t".join(f"T{i}" for i in range(600)) + "\nA\t" + "6:17\t" * 600
    with pytest.raises(SheetError, match="601 columns"):
        read_sheet(wide, Known())
    long = "setup,task,value\n" + "A,T,6:17\n" * 20_001
    with pytest.raises(SheetError, match="split the table"):
        read_sheet(long, Known())
    many = "m\t" + "\t".join(f"T{i}" for i in range(300)) + "\n"
    many += "\n".join(f"M{j}\t" + "\t".join(["6:17"] * 300) for j in range(150))
    with pytest.raises(SheetError, match="More than 40000 results and specs"):
        read_sheet(many, Known())
