"""An edition keeps the exchange rates that it was published by."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import date
from decimal import Decimal

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.core.money import Rate, RateTable
from true_margin.desk.book.shelf import RATES, SHELF
from true_margin.desk.lineup import lineup
from true_margin.desk.publish import editions
from true_margin.desk.publish.frozen import frozen_book, kept_rates, table_of_kept
from true_margin.store.database import Database

DATED = date(2026, 11, 1)
TABLE = RateTable(
    (
        Rate("USD", date(2026, 10, 30), Decimal("1.25")),
        Rate("USD", date(2026, 9, 1), Decimal("1.10")),
        Rate("JPY", date(2026, 10, 30), Decimal("160")),
    ),
    "Some bank",
)


@pytest.fixture
def rates() -> Iterator[None]:
    before = RATES.table
    RATES.table = TABLE
    yield
    RATES.table = before


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Rates of an edition")
    machine = next(m for m in SHELF.take(database, bench.slug).machines if m.name == "A")
    price = {"amount": "500", "currency": "USD", "kind": "street", "dated": DATED}
    lineup.add_price(database, machine.id, price)
    bench.run("A", "5:00")
    bench.run("B", "6:00")
    return bench


@pytest.mark.usefixtures("rates")
def test_only_rates_that_a_price_may_need_are_kept(bench: Bench) -> None:
    kept = kept_rates(SHELF.take(bench.database, bench.slug))
    assert kept == {
        "name": "Some bank",
        "simulated": False,
        "rates": [["USD", "2026-10-30", "1.25"]],
    }
    assert table_of_kept(kept).rates == TABLE.rates[:1]


def test_an_edition_answers_by_its_own_rates_whatever_comes_later(
    bench: Bench, rates: None
) -> None:
    edition = editions.publish_edition(bench.database, bench.slug, "", "Marit").editions[0]
    RATES.table = RateTable()
    book = frozen_book(bench.database, edition)
    assert book.rates.rates == TABLE.rates[:1]
    assert SHELF.take(bench.database, bench.slug).rates.rates == ()
    # Made once, so that what is worked out of it is kept.
    assert frozen_book(bench.database, edition) is book


def test_an_edition_of_an_earlier_version_goes_by_todays_rates(bench: Bench, rates: None) -> None:
    edition = editions.publish_edition(bench.database, bench.slug, "", "Marit").editions[0]
    with bench.database.engine.begin() as connection:
        connection.exec_driver_sql("update editions set rates = null where id = %s", (edition.id,))
    RATES.table = RateTable(TABLE.rates, "Later")
    assert frozen_book(bench.database, edition).rates is RATES.table
