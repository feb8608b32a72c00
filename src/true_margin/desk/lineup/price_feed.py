"""Refreshing prices from a feed: shown first, stored when a person says so."""

from __future__ import annotations

import hashlib
from collections.abc import Callable, Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal
from typing import Any
from uuid import UUID

from sqlalchemy.orm import Session

from true_margin.core.money import RATE_DAYS, Rate
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import price_of
from true_margin.desk.book.shelf import RATES, SHELF
from true_margin.desk.errors import FeedAwayError, RefusedError, transaction
from true_margin.exchange.price_feed import FeedOffer, PriceFeed, PriceFeedError
from true_margin.store import lineup, records, shootouts
from true_margin.store.database import Database


@dataclass(frozen=True, slots=True)
class PriceChange:
    """A price that a feed knows and the line-up does not.

    ``key`` names just this offer. ``before`` is the newest record of the same kind and
    currency, ``part`` how much of it the new one is; ``counts`` where it would become the
    price that counts.
    """

    key: str
    machine_id: UUID
    machine: str
    kind: str
    amount: Decimal
    currency: str
    dated: date
    until: date | None
    shop: str
    configuration: str | None
    before: Decimal | None
    before_dated: date | None
    part: float | None
    counts: bool


@dataclass(frozen=True, slots=True)
class RefreshPreview:
    """What a refresh would add; nothing is stored yet.

    ``known`` counts offers that the line-up has already; ``without`` names machines
    that the feed does not know.
    """

    feed: str
    changes: tuple[PriceChange, ...]
    known: int
    without: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class RatesView:
    """The rates that count on a day.

    ``name`` says where they are from, empty where there are none; ``simulated`` where every
    one is made up; ``problem`` why they could not be asked for again.
    """

    name: str
    simulated: bool
    problem: str | None
    rates: tuple[Rate, ...]


def list_rates(on: date) -> RatesView:
    """The rate of each currency that converts a price of a day."""
    table = RATES.table
    newest: dict[str, Rate] = {}
    for rate in table.rates:
        known = newest.get(rate.currency)
        near = timedelta(0) <= on - rate.dated <= timedelta(days=RATE_DAYS)
        if near and (known is None or rate.dated > known.dated):
            newest[rate.currency] = rate
    found = tuple(newest[currency] for currency in sorted(newest))
    return RatesView(table.name, table.simulated, RATES.problem, found)


def preview_refresh(database: Database, slug: str, feed: PriceFeed) -> RefreshPreview:
    """Ask the feed and show what would change; stores nothing.

    Raises:
        FeedAwayError: the feed gave no offers; all prices are as they were.
    """
    book = SHELF.take(database, slug)
    by_name = {machine.name.casefold(): machine for machine in book.machines}
    offers = [
        (by_name[offer.machine.casefold()], offer)
        for offer in _asked(feed, [machine.name for machine in book.machines])
        if offer.machine.casefold() in by_name
    ]
    new = [(machine, offer) for machine, offer in offers if not _is_known(machine, offer)]
    told = {machine.id for machine, _ in offers}
    return RefreshPreview(
        feed.name,
        tuple(_change(book, machine, offer) for machine, offer in new),
        len(offers) - len(new),
        tuple(machine.name for machine in book.machines if machine.id not in told),
    )


def commit_refresh(
    database: Database,
    slug: str,
    feed: PriceFeed,
    keys: Sequence[str],
    and_then: Callable[[Session], None] | None = None,
) -> RefreshPreview:
    """Store the offers that a person chose, all or nothing; earlier records stay.

    Args:
        database: where the book is.
        slug: of the shootout.
        feed: asked once more: what is stored is what it says now.
        keys: of the offers that were shown and chosen.
        and_then: what else is kept in the same transaction.

    Raises:
        FeedAwayError: the feed gave no offers; all prices are as they were.
        RefusedError: the feed says something else than what was shown.
    """
    preview = preview_refresh(database, slug, feed)
    chosen = [change for change in preview.changes if change.key in set(keys)]
    if len(chosen) != len(set(keys)):
        reason = "The feed has other offers than those you saw. Nothing was changed: look again."
        raise RefusedError("keys", reason)
    offers = {_key(offer): offer for offer in _asked(feed, sorted({c.machine for c in chosen}))}
    if any(change.key not in offers for change in chosen):
        reason = "The feed changed while it was read. Nothing was changed: look again."
        raise RefusedError("keys", reason)
    with transaction(database) as session:
        home = shootouts.get_shootout(session, slug).id
        shootouts.bump_revision(session, home)
        for change in chosen:
            lineup.add_price(session, change.machine_id, _record(offers[change.key], feed.name))
        if and_then is not None:
            and_then(session)
    return RefreshPreview(preview.feed, tuple(chosen), preview.known, preview.without)


def _asked(feed: PriceFeed, machines: Sequence[str]) -> list[FeedOffer]:
    if not machines:
        return []
    try:
        return feed.offers(machines)
    except PriceFeedError as error:
        raise FeedAwayError(
            f"{error.reason} All prices are as they were; try again later."
        ) from error


def _is_known(machine: records.Machine, offer: FeedOffer) -> bool:
    return any(
        (price.kind, price.amount, price.currency, price.dated, price.until)
        == (offer.kind, offer.amount, offer.currency, offer.dated, offer.until)
        for price in machine.prices
    )


def _change(book: Book, machine: records.Machine, offer: FeedOffer) -> PriceChange:
    alike = (p for p in machine.prices if (p.kind, p.currency) == (offer.kind, offer.currency))
    before = max(alike, key=lambda price: price.dated, default=None)
    return PriceChange(
        _key(offer),
        machine.id,
        machine.name,
        offer.kind,
        offer.amount,
        offer.currency,
        offer.dated,
        offer.until,
        offer.shop,
        offer.configuration,
        None if before is None else before.amount,
        None if before is None else before.dated,
        float(offer.amount / before.amount) if before is not None and before.amount else None,
        _would_count(book, machine, offer),
    )


def _would_count(book: Book, machine: records.Machine, offer: FeedOffer) -> bool:
    added = records.Price(
        id=UUID(int=0),
        machine_id=machine.id,
        note=None,
        paid_link=None,
        source=offer.shop,
        **{name: getattr(offer, name) for name in _COPIED},
    )
    newest_first = tuple(_by_day((added, *machine.prices)))
    counting = price_of(book, machine, newest_first)
    return counting is not None and counting.id == added.id


def _by_day(prices: Iterable[records.Price]) -> list[records.Price]:
    return sorted(prices, key=lambda price: price.dated, reverse=True)


_COPIED = (
    "kind",
    "amount",
    "currency",
    "dated",
    "until",
    "configuration",
    "coupon",
    "tax_included",
    "shipping_included",
)


def _record(offer: FeedOffer, feed: str) -> dict[str, Any]:
    fields = {name: getattr(offer, name) for name in _COPIED}
    return {**fields, "source": offer.shop, "note": f"from {feed[0].lower()}{feed[1:]}"}


def _key(offer: FeedOffer) -> str:
    return hashlib.sha256(offer.model_dump_json().encode()).hexdigest()[:24]
