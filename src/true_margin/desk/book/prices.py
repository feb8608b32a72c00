"""Which price of a machine counts, and what a setup cost as tested."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from decimal import Decimal

from true_margin.core.money import (
    Money,
    PriceRecord,
    RateMissingError,
    kinds_from,
    price_as_tested,
    price_in_force,
)
from true_margin.core.numerals import say_day
from true_margin.desk.book.book import Book
from true_margin.store import records


@dataclass(frozen=True, slots=True)
class PriceView:
    """The price of a machine that counts on the shootout's price date.

    ``stale`` where it is more than 30 days old; ``days_old`` says how old;
    ``offer`` where it is an offer that ends.
    """

    record: records.Price
    stale: bool
    days_old: int
    offer: bool


@dataclass(frozen=True, slots=True)
class TestedPrice:
    """What a setup cost as tested, extras included, in the shootout's currency.

    ``problem`` says why it cannot be told, such as a missing rate.
    """

    amount: Decimal | None
    extras: Decimal
    converted: bool
    problem: str | None


def core_price(price: records.Price) -> PriceRecord:
    """Turn a stored price into the core's."""
    return PriceRecord(price.kind, Money(price.amount, price.currency), price.dated, price.until)


def price_of(
    book: Book, machine: records.Machine, prices: tuple[records.Price, ...] | None = None
) -> records.Price | None:
    """The price record of a machine that counts, by the shootout's date and kind.

    ``prices`` stands for other records than the machine's, newest first.
    """
    return record_for(book, machine.prices if prices is None else prices, None)[0]


def record_for(
    book: Book, prices: Sequence[records.Price], region: str | None
) -> tuple[records.Price | None, bool]:
    """The record that counts in a region, and whether it is of another one.

    Prices of the own region come before those that are good anywhere, and these before
    those of another.

    Args:
        book: whose price date and kind count.
        prices: of one machine, newest first.
        region: None for nobody's in particular.
    """
    mine = None if region is None else region.casefold()

    def near(price: records.Price) -> int:
        own = None if price.region is None else price.region.casefold()
        return 0 if own == mine else 1 if own is None else 2

    kinds = kinds_from(book.shootout.price_kind)
    for distance in (0, 1, 2):
        # Stored newest first; the core takes the later of two of one day.
        group = [price for price in prices if near(price) == distance][::-1]
        place = price_in_force(
            [core_price(p) for p in group], book.shootout.price_date, kinds=kinds
        )
        if place is not None:
            return group[place], distance == 2
    return None, False


def view_price(book: Book, machine: records.Machine) -> PriceView | None:
    """The price that counts, with its age."""
    price = price_of(book, machine)
    if price is None:
        return None
    on = book.shootout.price_date
    return PriceView(
        price, core_price(price).stale(on), (on - price.dated).days, price.until is not None
    )


def no_price(book: Book, prices: Sequence[records.Price]) -> str:
    """Why a machine has no price: nobody entered one, or none of them counts on the day."""
    if not prices:
        return "no price yet"
    return f"no price on {say_day(book.shootout.price_date, whole=True)}"


def tested_price(book: Book, setup: records.Setup) -> TestedPrice:
    """What a setup cost as tested."""
    price = price_of(book, book.machine_of[setup.id])
    if price is None:
        reason = no_price(book, book.machine_of[setup.id].prices)
        return TestedPrice(None, Decimal(0), False, reason)
    currency = book.shootout.currency
    extras = [(Money(e.amount, e.currency), e.dated) for e in setup.extras]
    try:
        bare = price_as_tested(core_price(price), (), currency, book.rates)
        total = price_as_tested(core_price(price), extras, currency, book.rates)
    except RateMissingError as error:
        return TestedPrice(None, Decimal(0), True, error.reason)
    converted = any(c != currency for c in (price.currency, *(e.currency for e in setup.extras)))
    return TestedPrice(total.amount, total.amount - bare.amount, converted, None)
