"""Bars of a page: as long as what they show, with where the truth lies and who shares a place."""

from __future__ import annotations

import math

import numpy as np
import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.figures import show_figures
from true_margin.desk.margins.margins import MIX, ladder_of
from true_margin.desk.publish import page_bars as bars_module
from true_margin.desk.publish.page_bars import LONGEST, PageBars, page_bars
from true_margin.store import records
from true_margin.store.database import Database


def _bars(bench: Bench, task: str = "Parade") -> PageBars:
    return page_bars(SHELF.take(bench.database, bench.slug), str(bench.tasks[task]))


@pytest.fixture
def bench(database: Database) -> Bench:
    return new_bench(database, "Bars of a page")


def test_bars_begin_at_nought_and_are_as_long_as_their_times(bench: Bench) -> None:
    for typed in ("5:00", "5:01", "4:59"):
        bench.run("A", typed)
    for typed in ("10:00", "10:02", "9:58"):
        bench.run("B", typed)
    bars = _bars(bench)
    first, last = bars.rows
    assert (first.label, first.value, last.value) == ("A", "5:00", "10:00")
    assert first.share / last.share == pytest.approx(0.5, abs=1e-4)
    assert bars.span == "5:00 to 10:00"
    assert (first.leads, last.leads) == (True, False)
    assert [tick.words for tick in bars.ticks] == [
        "0",
        "2 min",
        "4 min",
        "6 min",
        "8 min",
        "10 min",
    ]
    # A mark of the axis stands where a bar of its time would end.
    assert bars.ticks[-1].at == pytest.approx(last.share, abs=0.05)
    assert max(row.high or row.share for row in bars.rows) == pytest.approx(LONGEST)
    assert bars.foot == "Marked ends: the 95 % interval. 6 runs."


def test_jaws_are_the_interval_that_the_figures_tell(bench: Bench) -> None:
    for typed in ("5:00", "5:06", "4:54"):
        bench.run("A", typed)
    bench.run("B", "9:00")
    bench.run("B", "9:10")
    row = _bars(bench).rows[0]
    told = show_figures(bench.database, bench.slug, str(bench.tasks["Parade"]), bench.setups["A"])
    assert f"{row.value}, {row.interval}" == told.workings[0].value
    assert row.low is not None
    assert row.high is not None
    assert row.low < row.share < row.high


def test_those_that_cannot_be_told_apart_stand_in_one_bracket(bench: Bench) -> None:
    bench.machine("C")
    for typed in ("5:00", "5:20", "4:40"):
        bench.run("A", typed)
    for typed in ("5:02", "5:22", "4:44"):
        bench.run("C", typed)
    for typed in ("10:00", "10:10", "9:58"):
        bench.run("B", typed)
    rows = _bars(bench).rows
    assert [(row.label, row.tie) for row in rows] == [("A", "first"), ("C", "last"), ("B", "")]
    assert rows[1].note == "These two cannot be told apart"
    assert rows[0].note == rows[2].note == ""


def test_equal_ones_are_said_to_be_equal(bench: Bench) -> None:
    for machine in ("A", "B"):
        for _ in range(6):
            bench.run(machine, "5:00.0")
    rows = _bars(bench).rows
    assert [row.tie for row in rows] == ["first", "last"]
    assert rows[1].note == "No difference between these two"


@pytest.mark.parametrize(
    ("close", "spans"),
    [
        ([[0, 1, 0], [1, 0, 0], [0, 0, 0]], [(0, 1)]),
        # The first and the last are apart, the middle one is like both: two that overlap.
        ([[0, 1, 0], [1, 0, 1], [0, 1, 0]], [(0, 1), (1, 2)]),
        ([[0, 1, 1], [1, 0, 1], [1, 1, 0]], [(0, 2)]),
        ([[0, 0], [0, 0]], []),
        ([[0]], []),
    ],
)
def test_brackets_are_the_longest_runs_of_which_no_two_differ(
    close: list[list[int]], spans: list[tuple[int, int]]
) -> None:
    assert bars_module._spans(np.array(close, dtype=bool)) == spans


@pytest.mark.parametrize("seconds", [0.004, 0.3, 1.0, 6.3, 59.0, 96.0, 240.0, 660.0, 7000.0, 2e5])
def test_an_axis_has_a_handful_of_marks_in_steps_that_people_count_in(
    bench: Bench, seconds: float
) -> None:
    bench.run("A", "5:00")
    bench.run("B", "5:00")
    view = ladder_of(SHELF.take(bench.database, bench.slug), str(bench.tasks["Parade"]))
    ticks = list(bars_module._ticks(view, seconds, 1.0))
    assert 2 <= len(ticks) <= bars_module.MOST_TICKS + 1
    assert ticks[0].words == "0"
    assert ticks[-1].at <= seconds * (1 + 1e-6)
    assert len({tick.words for tick in ticks}) == len(ticks)


def test_of_one_that_did_another_job_a_row_says_so(
    database: Database, demo: records.Shootout
) -> None:
    bars = page_bars(SHELF.take(database, demo.slug), MIX)
    notes = {row.label: row.note for row in bars.rows}
    assert notes["Cairn Brick"] == "not compared with Ferrous T9 stock: not the same job"
    assert notes["Ferrous T9 stock"] == "No difference between these two"
    assert "estimated from an earlier round" in notes["Halyard L"]
    assert bars.shown == "Speed compared with Tarn Desk; longer is better."


def test_every_bar_of_the_demo_keeps_its_axis(database: Database, demo: records.Shootout) -> None:
    book = SHELF.take(database, demo.slug)
    for task in book.tasks:
        bars = page_bars(book, str(task.id))
        assert bars.rows
        for row in bars.rows:
            ends = [row.share, row.low or row.share, row.high or row.share]
            assert all(math.isfinite(each) and 0 < each <= LONGEST + 1e-9 for each in ends)
        open_ties = 0
        for row in bars.rows:
            open_ties += {"first": 1, "last": -1}.get(row.tie, 0)
            assert open_ties in (0, 1)
            assert (row.tie == "inner") <= (open_ties == 1)
        assert open_ties == 0


def test_nothing_measured_shows_no_bar(bench: Bench) -> None:
    assert page_bars(SHELF.take(bench.database, bench.slug), MIX).rows == ()
