"""Prices and extras through the desk."""

from __future__ import annotations

from datetime import date
from decimal import Decimal
from typing import Any

import pytest

from tests.desk.helpers import Bench, import_zip, new_bench
from true_margin.core.money import Rate, RateTable
from true_margin.core.numerals import say_day
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.shelf import RATES, SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup import lineup, spec_sheet
from true_margin.desk.packs.outgoing import export_pack
from true_margin.desk.shootouts import shootouts
from true_margin.exchange.data_pack import write_pack, zip_files
from true_margin.store import records
from true_margin.store.database import Database

DAY = date(2026, 11, 24)


@pytest.fixture
def bench(database: Database) -> Bench:
    bench = new_bench(database, "Prices")
    change(bench, price_date=DAY)
    return bench


def change(bench: Bench, **changes: Any) -> None:
    version = shootouts.get_shootout(bench.database, bench.slug).version
    shootouts.change_shootout(bench.database, bench.slug, version, changes)


def add_price(bench: Bench, amount: str = "1290", **more: Any) -> None:
    machine = spec_sheet.show_lineup(bench.database, bench.slug).columns[0].machine
    fields = {
        "kind": "list",
        "amount": amount,
        "currency": "EUR",
        "dated": date(2026, 11, 2),
        **more,
    }
    lineup.add_price(bench.database, machine.id, fields)


def column(bench: Bench) -> spec_sheet.MachineColumn:
    return spec_sheet.show_lineup(bench.database, bench.slug).columns[0]


def test_offers_count_while_they_last(bench: Bench) -> None:
    add_price(bench)
    add_price(bench, "990", kind="street", dated=DAY, until=date(2026, 11, 28))
    change(bench, price_kind="street")
    price = column(bench).price
    assert price is not None
    assert (price.record.amount, price.offer, price.stale) == (Decimal("990.00"), True, False)
    change(bench, price_date=date(2026, 11, 29))
    price = column(bench).price
    assert price is not None
    assert (price.record.amount, price.offer) == (Decimal("1290.00"), False)
    change(bench, price_date=date(2027, 1, 1))
    price = column(bench).price
    assert price is not None
    assert (price.stale, price.days_old) == (True, 60)
    change(bench, price_date=date(2026, 1, 1))
    assert column(bench).price is None


def test_extras_are_in_the_price_as_tested(bench: Bench) -> None:
    add_price(bench)
    for amount, currency in (("89", "EUR"), ("54,00", "USD")):
        fields = {"name": "dock", "amount": amount, "currency": currency, "dated": DAY}
        lineup.add_extra(bench.database, bench.setups["A"], fields)
    (tested,) = column(bench).tested
    assert tested.converted
    assert tested.amount is not None
    assert Decimal(135) < tested.extras < Decimal(145)
    assert tested.amount == Decimal(1290) + tested.extras
    book = SHELF.take(bench.database, bench.slug)
    assert analysis_of(book).study.prices[0] == tested.amount


def test_a_missing_rate_is_said_and_leaves_the_setup_unpriced(bench: Bench) -> None:
    add_price(bench, currency="JPY")
    (tested,) = column(bench).tested
    assert tested.amount is None
    assert tested.problem == "no rate of JPY for 2 Nov 2026"


@pytest.mark.parametrize(
    ("more", "field"),
    [
        ({"amount": "-5"}, "amount"),
        ({"amount": "cheap"}, "amount"),
        ({"currency": "euro"}, "currency"),
        ({"until": date(2026, 11, 1)}, "until"),
    ],
)
def test_prices_that_cannot_be_are_refused(bench: Bench, more: dict[str, Any], field: str) -> None:
    with pytest.raises(RefusedError) as refused:
        add_price(bench, **more)
    assert refused.value.field == field
    assert column(bench).machine.prices == ()


def test_the_demos_prices(database: Database, demo: records.Shootout) -> None:
    columns = {c.machine.name: c for c in spec_sheet.show_lineup(database, demo.slug).columns}
    large = columns["Halyard L"].price
    assert large is not None
    assert (large.stale, large.days_old) == (True, 53)
    ferrous = columns["Ferrous T9"]
    # The street price is an offer that stands before the list price.
    assert ferrous.tested[0].amount == Decimal("1790.00")
    assert ferrous.tested[1].amount == Decimal("1790.00") + ferrous.tested[1].extras
    assert ferrous.tested[1].converted
    announced = columns["Halyard M"].price
    assert announced is not None
    assert announced.record.amount == Decimal("1450.00")


def test_a_price_in_thousandths_is_kept_and_given_out(bench: Bench) -> None:
    add_price(bench, "1.234", currency="KWD", dated=DAY)
    price = column(bench).price
    assert price is not None
    assert (str(price.record.amount), price.record.currency) == ("1.234", "KWD")
    again = import_zip(
        bench.database, zip_files(write_pack(export_pack(bench.database, bench.slug)))
    )
    (kept,) = spec_sheet.show_lineup(bench.database, again.slug).columns[0].machine.prices
    assert str(kept.amount) == "1.234"
    with pytest.raises(RefusedError, match=r"type it like 1290 or 1290\.50"):
        add_price(bench, "1.234")


def test_rates_that_change_are_taken_at_once(bench: Bench, monkeypatch: pytest.MonkeyPatch) -> None:
    add_price(bench, "100", currency="USD", dated=DAY)
    assert column(bench).tested[0].converted
    dear = RateTable((Rate("USD", DAY, Decimal(4)),), "rates.csv")
    monkeypatch.setattr(RATES, "table", dear)
    assert column(bench).tested[0].amount == Decimal("25.00")
    monkeypatch.setattr(RATES, "table", RateTable())
    tested = column(bench).tested[0]
    assert (tested.amount, tested.problem) == (None, f"no rate of USD for {say_day(DAY)}")


def own_prices(bench: Bench, slug: str | None = None) -> records.Machine:
    return spec_sheet.show_lineup(bench.database, slug or bench.slug).columns[0].machine


def test_a_mistyped_price_is_corrected_and_draws_no_fall(bench: Bench) -> None:
    add_price(bench, "12900 EUR", dated=date(2026, 11, 20), link="https://shop.example/a")
    wrong = own_prices(bench).prices[0]
    add_price(bench, "1290", dated=date(2026, 11, 20), corrects_id=wrong.id)
    machine = own_prices(bench)
    assert [str(price.amount) for price in machine.prices] == ["1290.00"]
    (gone,) = machine.withdrawn_prices
    assert (gone.amount, gone.withdrawn_why, gone.link) == (
        Decimal("12900.00"),
        "corrected",
        "https://shop.example/a",
    )
    assert machine.prices[0].corrects_id == gone.id


def test_a_price_is_withdrawn_with_a_reason_and_stays_on_record(bench: Bench) -> None:
    add_price(bench, "900", dated=date(2026, 11, 22))
    add_price(bench, "1290", dated=date(2026, 11, 20))
    newest = own_prices(bench).prices[0]
    lineup.withdraw_price(bench.database, newest.id, "of another machine")
    machine = own_prices(bench)
    assert [str(price.amount) for price in machine.prices] == ["1290.00"]
    assert machine.withdrawn_prices[0].withdrawn_why == "of another machine"
    lineup.withdraw_price(bench.database, newest.id, "again")
    assert own_prices(bench).withdrawn_prices[0].withdrawn_why == "of another machine"


def test_a_correction_is_of_a_price_of_the_same_machine(bench: Bench) -> None:
    add_price(bench, "900")
    price = own_prices(bench).prices[0]
    other = spec_sheet.show_lineup(bench.database, bench.slug).columns[1].machine
    fields = {"kind": "list", "amount": "10", "currency": "EUR", "dated": DAY}
    with pytest.raises(RefusedError, match="of another machine"):
        lineup.add_price(bench.database, other.id, {**fields, "corrects_id": price.id})
    assert own_prices(bench).withdrawn_prices == ()


def test_a_pack_carries_what_was_put_right(bench: Bench) -> None:
    add_price(bench, "12900", dated=date(2026, 11, 20))
    add_price(bench, "1290", dated=date(2026, 11, 20), corrects_id=own_prices(bench).prices[0].id)
    copied = import_zip(
        bench.database, zip_files(write_pack(export_pack(bench.database, bench.slug)))
    )
    mine, theirs = own_prices(bench), own_prices(bench, copied.slug)
    assert [p.amount for p in theirs.prices] == [p.amount for p in mine.prices]
    assert theirs.withdrawn_prices[0].withdrawn_why == "corrected"
    assert theirs.prices[0].corrects_id == theirs.withdrawn_prices[0].id
