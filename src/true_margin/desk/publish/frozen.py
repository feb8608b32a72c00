"""The book of an edition: frozen with the exchange rates that it was published by."""

from __future__ import annotations

from dataclasses import replace
from datetime import date, timedelta
from decimal import Decimal
from typing import Any

from true_margin.core.money import RATE_DAYS, Rate, RateTable
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import DatabaseAwayError, NotFoundError, transaction
from true_margin.store import editions
from true_margin.store.database import Database
from true_margin.store.editions import Edition


def frozen_book(database: Database, edition: Edition) -> Book:
    """The book of an edition, which never changes: read from a replica where there is one."""
    try:
        return _frozen(database.reader, edition)
    except (NotFoundError, DatabaseAwayError):
        # The replica is away, or has not heard of it yet.
        return _frozen(database, edition)


def _frozen(database: Database, edition: Edition) -> Book:
    book = SHELF.take(database, edition.frozen_slug)

    def with_rates() -> Book:
        with transaction(database) as session:
            kept = editions.edition_rates(session, edition.id)
        # Editions of earlier versions kept none: they go by those of today.
        return book if kept is None else replace(book, rates=table_of_kept(kept))

    return book.cached(("frozen", edition.id), with_rates)


def kept_rates(book: Book) -> dict[str, Any]:
    """The rates that any price of a book may be converted by, as they are kept."""
    prices = [price for machine in book.machines for price in machine.prices]
    currencies = {
        book.shootout.currency,
        *(price.currency for price in prices),
        *(viewer.currency for viewer in book.viewers),
    }
    days = [price.dated for price in prices]
    first = min(days, default=date.max)
    table = book.rates
    return {
        "name": table.name,
        "simulated": table.simulated,
        "rates": [
            [rate.currency, rate.dated.isoformat(), str(rate.per_eur)]
            for rate in table.rates
            if days and rate.currency in currencies and rate.dated >= _before(first)
        ],
    }


def _before(day: date) -> date:
    return day - timedelta(days=RATE_DAYS)


def table_of_kept(kept: dict[str, Any]) -> RateTable:
    """The table that was kept."""
    rates = tuple(
        Rate(currency, date.fromisoformat(dated), Decimal(per_eur))
        for currency, dated, per_eur in kept["rates"]
    )
    return RateTable(rates, kept["name"], kept["simulated"])
