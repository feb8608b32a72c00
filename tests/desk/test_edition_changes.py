"""What an edition says of the one before, book against book, by names alone."""

from __future__ import annotations

from datetime import date
from decimal import Decimal

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.picks import viewers
from true_margin.desk.publish.edition_changes import MOST_CALLS, what_changed
from true_margin.desk.runs import runs
from true_margin.desk.shootouts import shootouts
from true_margin.store.database import Database

TIMES = {"A": ("6:10", "6:12", "6:11"), "B": ("9:02", "9:04", "9:03")}
DAY = date(2026, 11, 24)


@pytest.fixture
def one(database: Database) -> Bench:
    return timed(new_bench(database, "One edition"))


@pytest.fixture
def other(database: Database) -> Bench:
    return timed(new_bench(database, "The next edition"))


def timed(bench: Bench) -> Bench:
    for setup, times in TIMES.items():
        for typed in times:
            bench.run(setup, typed)
    return bench


def changes(before: Bench, after: Bench) -> list[str]:
    books = [SHELF.take(each.database, each.slug) for each in (before, after)]
    return list(what_changed(*books))


def change(bench: Bench, **fields: object) -> None:
    shootout = shootouts.get_shootout(bench.database, bench.slug)
    shootouts.change_shootout(bench.database, bench.slug, shootout.version, fields)


def price(bench: Bench, name: str, amount: str, currency: str = "EUR") -> None:
    book = SHELF.take(bench.database, bench.slug)
    machine = next(each.id for each in book.machines if each.name == name)
    fields = {"kind": "list", "amount": amount, "currency": currency, "dated": DAY}
    lineup.add_price(bench.database, machine, fields)


def test_two_that_say_the_same_have_not_changed(one: Bench, other: Bench) -> None:
    """Ids differ in every copy: names are what readers know."""
    assert changes(one, other) == []


def test_one_is_said_as_one(one: Bench, other: Bench) -> None:
    other.run("A", "6:13")
    assert "1 run more." in changes(one, other)
    assert "1 run no longer there." in changes(other, one)


def test_what_came_and_what_went(one: Bench, other: Bench) -> None:
    other.machine("C")
    other.task("Titles")
    shootouts.add_round(other.database, other.slug, "autumn", {})
    came, went = changes(one, other), changes(other, one)
    assert {"New: C.", "New task: Titles.", "New round: autumn."} <= set(came)
    assert {
        "No longer there: C.",
        "No longer a task: Titles.",
        "No longer a round: autumn.",
    } <= set(went)


def test_a_correction_is_no_new_run(one: Bench, other: Bench) -> None:
    first = next(run for run in SHELF.take(other.database, other.slug).runs if run.place == 1)
    change_of = {"status": "void", "reason": "phone rang"}
    runs.revise_run(other.database, first.id, first.version, change_of, "Jo", "heard it")
    said = changes(one, other)
    assert "1 run corrected or withdrawn." in said
    assert not any("more" in line or "no longer" in line for line in said)


def test_what_counts_as_a_difference_is_told(one: Bench, other: Bench) -> None:
    change(other, confidence=0.9, materiality=0.05)
    change(other, baseline_setup_id=other.setups["B"])
    said = changes(one, other)
    assert "Confidence: 95 %, now 90 %." in said
    assert "Smallest difference that counts: 3 %, now 5 %." in said
    assert "Compared with A, now with B." in said


def test_prices_are_told_by_machine(one: Bench, other: Bench) -> None:
    price(one, "A", "1200")
    price(other, "A", "999")
    price(other, "B", "450")
    said = [line.replace("\u00a0", " ") for line in changes(one, other)]
    assert "A: 1 200 EUR, now 999 EUR." in said
    assert "B has a price: 450 EUR." in said
    # A price that is not there any more is nothing to be told a figure of.
    assert not any(line.startswith("B") for line in changes(other, one))


def test_a_call_that_turned_says_for_whom(one: Bench, database: Database) -> None:
    turned = new_bench(database, "Turned round")
    for setup, times in {"A": TIMES["B"], "B": TIMES["A"]}.items():
        for typed in times:
            turned.run(setup, typed)
    said = changes(one, turned)
    assert "Parade: A against B was clear for A, now clear for B." in said
    assert "6 runs corrected or withdrawn." in said


def test_too_many_calls_are_counted(one: Bench, other: Bench) -> None:
    for number in range(MOST_CALLS):
        for bench, slower in ((one, "B"), (other, "A")):
            task = f"Task {number:02d}"
            bench.task(task)
            for setup in "AB":
                for typed in ("2:00", "2:01") if setup != slower else ("3:00", "3:01"):
                    bench.run(setup, typed, task)
    assert sum(" against " in line for line in changes(one, other)) == MOST_CALLS
    for bench, slower in ((one, "B"), (other, "A")):
        bench.task("One more")
        for setup in "AB":
            for typed in ("2:00", "2:01") if setup != slower else ("3:00", "3:01"):
                bench.run(setup, typed, "One more")
    assert "1 more result changed." in changes(one, other)


def test_picks_are_told_by_viewer(one: Bench, other: Bench) -> None:
    for bench, amount in ((one, "800"), (other, "3000")):
        price(bench, "A", amount)
        price(bench, "B", "500")
        viewers.add_viewer(
            bench.database, bench.slug, {"name": "Filmer", "budget": Decimal(1000)}, None
        )
        change(bench, price_date=DAY)
    viewers.add_viewer(
        other.database, other.slug, {"name": "Student", "budget": Decimal(600)}, None
    )
    said = changes(one, other)
    assert "Filmer: was A, now B." in said
    assert "New viewer: Student: B." in said
