"""Estimates for a machine that was not tested, by what one job takes on it."""

from __future__ import annotations

from dataclasses import replace
from decimal import Decimal

import pytest

from tests.desk.helpers import Bench, new_bench, priced_bench
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.margins.margins import ladder_of
from true_margin.desk.picks import viewers
from true_margin.desk.picks.picks import show_pick
from true_margin.desk.publish import other_machine
from true_margin.desk.publish.other_machine import other_answers, with_machine
from true_margin.desk.publish.owned_machines import kinds_of
from true_margin.store import records
from true_margin.store.database import Database


@pytest.fixture(scope="module")
def bench(database: Database) -> Bench:
    return priced_bench(database, "Another machine")


@pytest.fixture(scope="module")
def book(bench: Bench) -> Book:
    return SHELF.take(bench.database, bench.slug)


def test_a_machine_more_is_as_much_slower_at_every_job(bench: Bench, book: Book) -> None:
    like = book.setups[0]
    whole, own = with_machine(book, like, 1.4)
    times = {row.label: row.typical for row in ladder_of(whole, str(bench.tasks["Parade"])).rows}
    assert own.label == "your machine"
    assert times["your machine"] == pytest.approx(840.0)
    assert times["A"] == pytest.approx(600.0)
    # The book itself has not changed, and nothing was stored.
    assert len(book.setups) == 2
    assert len(SHELF.take(bench.database, bench.slug).setups) == 2


def test_the_slower_ones_own_the_more_a_change_saves(book: Book) -> None:
    key, viewer = kinds_of(book)[0]
    found = other_answers(book, [(key, viewer)])[key]
    assert (found.kind, found.job) == ("Film maker", "Parade")
    assert found.nearest == "B or A"
    assert "an hour is worth 20 EUR" in found.assumed
    assert "the old machine sells for nothing" in found.assumed
    assert found.rows[0].order == "Keep your machine"
    assert found.rows[-1].order.startswith("Buy the ")
    assert found.rows[-1].paid
    times = [row.time for row in found.rows]
    assert len(times) == len(set(times)) <= other_machine.MOST_ROWS
    # Once it pays to buy, it pays all the more on a slower machine.
    bought = [row.order != "Keep your machine" for row in found.rows]
    assert bought == sorted(bought)


def test_a_row_at_a_tested_time_says_what_that_machine_is_told(book: Book) -> None:
    key, viewer = kinds_of(book)[0]
    found = other_answers(book, [(key, viewer)])[key]
    row = next(row for row in found.rows if row.time == "10:00")
    own = replace(viewer, owned_setup_id=book.setups[0].id, resale=Decimal(0))
    picked = show_pick(book, own, predict=False).picked
    assert picked is not None
    assert row.order == (picked.what.split(", ")[0] if not picked.keep else "Keep your machine")


@pytest.mark.parametrize(
    "tested", [[0.4, 0.5], [5.0, 6.0], [33.0, 96.0], [236.0, 657.0], [1000.0, 9000.0], [60.0, 60.0]]
)
def test_rows_are_neat_times_around_those_that_were_measured(
    book: Book, tested: list[float]
) -> None:
    found = other_machine._grid([(book.setups[0], each) for each in tested])
    assert found == sorted(set(found))
    assert len(found) <= other_machine.MOST_ROWS
    assert all(
        other_machine.FASTER * tested[0] <= each <= other_machine.SLOWER * tested[-1]
        for each in found
    )
    if tested[0] >= 1:
        assert len(found) >= 4


def test_one_machine_alone_or_no_timed_job_gives_no_estimate(database: Database) -> None:
    bench = new_bench(database, "Only one")
    bench.run("A", "5:00")
    asked = {"name": "Maker", "currency": "EUR", "weekly": True, "tasks": []}
    viewers.add_viewer(database, bench.slug, asked, None)
    book = SHELF.take(database, bench.slug)
    key, viewer = kinds_of(book)[0]
    assert other_answers(book, [(key, viewer), ("none", replace(viewer, tasks=()))]) == {}


def test_the_demo_has_estimates_for_those_whose_work_was_timed(
    database: Database, demo: records.Shootout
) -> None:
    book = SHELF.take(database, demo.slug)
    filmer = other_answers(book, kinds_of(book))["festival-filmer"]
    assert filmer.work == "That is 11 minutes of timeline."
    orders = [row.order for row in filmer.rows]
    assert orders[0] == "Keep your machine"
    assert orders[-1] == "Buy the Cairn Brick"
