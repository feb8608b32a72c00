"""Refreshing prices: shown first, stored when confirmed, and untouched by a feed that fails."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from decimal import Decimal

import pytest

from tests.desk.helpers import Bench, new_bench
from true_margin.desk.errors import FeedAwayError, RefusedError
from true_margin.desk.lineup import lineup, price_feed, spec_sheet
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.price_feed import FeedOffer, PriceFeedError
from true_margin.store.database import Database


class Feed:
    """A feed of fixed offers, or none at all."""

    name = "The feed"
    address = "http://feed.invalid"

    def __init__(self, *offers: FeedOffer, away: bool = False) -> None:
        self.known, self.away = list(offers), away

    def offers(self, machines: Sequence[str]) -> list[FeedOffer]:
        if self.away:
            raise PriceFeedError("The feed is out of order.")
        return [offer for offer in self.known if offer.machine in machines]


def offer(machine: str, amount: str, **more: object) -> FeedOffer:
    fields = {"kind": "list", "currency": "EUR", "dated": "2026-11-20", "shop": "maker"}
    return FeedOffer.model_validate({"machine": machine, "amount": amount, **fields, **more})


@pytest.fixture
def bench(database: Database) -> Bench:
    made = new_bench(database, "Prices")
    version = shootouts.get_shootout(database, made.slug).version
    shootouts.change_shootout(database, made.slug, version, {"price_date": date(2026, 11, 24)})
    machine = spec_sheet.show_lineup(database, made.slug).columns[0].machine
    fields = {"kind": "list", "amount": "1000", "currency": "EUR", "dated": date(2026, 11, 1)}
    lineup.add_price(database, machine.id, fields)
    return made


def amounts(bench: Bench, place: int = 0) -> list[Decimal]:
    column = spec_sheet.show_lineup(bench.database, bench.slug).columns[place]
    return [price.amount for price in column.machine.prices]


def test_what_would_change_is_shown_and_nothing_is_stored(bench: Bench) -> None:
    feed = Feed(
        offer("A", "900"),
        offer("A", "1000", dated="2026-11-01"),
        offer("A", "880", kind="street"),
        offer("A", "1100", dated="2026-12-01"),
    )
    preview = price_feed.preview_refresh(bench.database, bench.slug, feed)
    assert (preview.known, preview.without) == (1, ("B",))
    assert [(c.amount, c.before, c.part, c.counts) for c in preview.changes] == [
        (Decimal("900"), Decimal("1000.00"), 0.9, True),
        (Decimal("880"), None, None, False),
        (Decimal("1100"), Decimal("1000.00"), 1.1, False),
    ]
    assert amounts(bench) == [Decimal("1000.00")]


def test_what_a_person_chose_is_stored_beside_what_was(bench: Bench) -> None:
    feed = Feed(offer("A", "900"), offer("A", "880", kind="street"), offer("B", "700"))
    preview = price_feed.preview_refresh(bench.database, bench.slug, feed)
    keys = [change.key for change in preview.changes if change.kind == "list"]
    price_feed.commit_refresh(bench.database, bench.slug, feed, keys)
    assert amounts(bench) == [Decimal("900.00"), Decimal("1000.00")]
    assert amounts(bench, 1) == [Decimal("700.00")]
    again = price_feed.preview_refresh(bench.database, bench.slug, feed)
    assert ([c.kind for c in again.changes], again.known) == (["street"], 2)


def test_a_feed_that_is_away_changes_nothing_and_says_so(bench: Bench) -> None:
    feed = Feed(offer("A", "900"))
    key = price_feed.preview_refresh(bench.database, bench.slug, feed).changes[0].key
    feed.away = True
    with pytest.raises(FeedAwayError, match="All prices are as they were"):
        price_feed.preview_refresh(bench.database, bench.slug, feed)
    with pytest.raises(FeedAwayError, match="All prices are as they were"):
        price_feed.commit_refresh(bench.database, bench.slug, feed, [key])
    assert amounts(bench) == [Decimal("1000.00")]


def test_a_feed_that_moved_since_it_was_shown_changes_nothing(bench: Bench) -> None:
    feed = Feed(offer("A", "900"), offer("B", "700"))
    changes = price_feed.preview_refresh(bench.database, bench.slug, feed).changes
    feed.known[0] = offer("A", "950")
    with pytest.raises(RefusedError, match="Nothing was changed: look again"):
        price_feed.commit_refresh(bench.database, bench.slug, feed, [c.key for c in changes])
    assert (amounts(bench), amounts(bench, 1)) == ([Decimal("1000.00")], [])


@pytest.mark.parametrize(
    ("fields", "at", "says"),
    [
        ({"amount": "-5"}, "amount", "not a price"),
        ({"currency": "XYZ"}, "currency", "no currency in use"),
        ({"amount": "12 USD"}, "amount", "is in USD, and this amount is in EUR"),
    ],
)
def test_a_price_that_is_none_is_refused_at_its_field(
    bench: Bench, fields: dict[str, str], at: str, says: str
) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    good = {"kind": "list", "amount": "10", "currency": "EUR", "dated": date(2026, 11, 1)}
    with pytest.raises(RefusedError, match=says) as refused:
        lineup.add_price(bench.database, machine.id, {**good, **fields})
    assert refused.value.field == at


def test_rates_are_those_of_the_day() -> None:
    view = price_feed.list_rates(date(2026, 11, 24))
    assert (view.simulated, view.problem) == (True, None)
    assert [(rate.currency, rate.dated) for rate in view.rates] == [
        ("GBP", date(2026, 11, 23)),
        ("USD", date(2026, 11, 23)),
    ]
    assert price_feed.list_rates(date(2020, 1, 1)).rates == ()
