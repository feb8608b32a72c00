"""What each setup costs one viewer: currency, region, tax, offers, extras, what is owned."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date
from decimal import ROUND_HALF_UP, Decimal
from enum import StrEnum
from uuid import UUID

from true_margin.core.currencies import minor_unit
from true_margin.core.errors import QuantityError
from true_margin.core.money import Money, RateMissingError, RateTable, check_currency
from true_margin.core.numerals import say_day, short
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import core_price, no_price, record_for
from true_margin.store import records
from true_margin.store.records.viewers import Viewer


class PriceReason(StrEnum):
    """Why there is no price."""

    NONE_IN_FORCE = "none in force"
    NO_RATE = "no rate"
    NO_CURRENCY = "no currency"


NOT_CONVERTED = (PriceReason.NO_RATE, PriceReason.NO_CURRENCY)


@dataclass(frozen=True, slots=True)
class SetupPrice:
    """What a setup costs a viewer, in the viewer's currency.

    ``basis`` says which record it is and what was done to it; ``problem`` why there is no
    price, ``reason`` the same as a code; ``until`` is the last day of an offer; ``stored`` is
    what it is without a what-if, None where there is none or it cannot be told; ``extras`` is
    the part of it beyond the machine.
    """

    amount: Decimal | None
    stored: Decimal | None
    basis: str
    problem: str | None
    until: date | None
    record_id: UUID | None
    stale: bool
    tried: bool
    extras: Decimal = Decimal(0)
    reason: PriceReason | None = None


def price_for(
    book: Book,
    viewer: Viewer,
    setup: records.Setup,
    what_if: Mapping[UUID, Decimal] | None = None,
    ended: Sequence[UUID] = (),
) -> SetupPrice:
    """What a setup costs a viewer.

    Args:
        book: of the shootout.
        viewer: whose currency, region and tax count.
        setup: with its extras.
        what_if: prices to try instead, by machine, in the viewer's currency.
        ended: price records that no longer count, as offers that have ended.
    """
    machine = book.machine_of[setup.id]
    found = _stored(book, viewer, setup, machine, ended)
    tried = (what_if or {}).get(machine.id)
    if tried is None:
        return found
    try:
        extras = _extras(book.rates, viewer, setup)
    except RateMissingError:
        extras = Decimal(0)
    return SetupPrice(
        _exact(tried + extras, viewer.currency),
        found.amount,
        "as tried here",
        None,
        None,
        None,
        False,
        True,
        extras,
    )


def _stored(
    book: Book,
    viewer: Viewer,
    setup: records.Setup,
    machine: records.Machine,
    ended: Sequence[UUID],
) -> SetupPrice:
    try:
        check_currency(viewer.currency)
        known = [price for price in machine.prices if price.id not in ended]
        record, far = record_for(book, known, viewer.region)
        if record is None:
            return _none(no_price(book, machine.prices), PriceReason.NONE_IN_FORCE)
        amount, taxed = _machine_price(book.rates, viewer, record)
        extras = _extras(book.rates, viewer, setup)
        amount += extras
    except RateMissingError as error:
        return _none(error.reason, PriceReason.NO_RATE)
    except QuantityError as error:
        return _none(error.reason, PriceReason.NO_CURRENCY)
    said = [record.kind, *([record.source] if record.source else []), say_day(record.dated)]
    if record.currency != viewer.currency:
        said.append(f"from {record.currency} at {say_rate(book.rates)}")
    if taxed:
        said.append(f"{short(float(viewer.tax_percent or 0))} % tax added")
    if far:
        said.append(f"a price of {record.region}")
    on = book.shootout.price_date
    return SetupPrice(
        _exact(amount, viewer.currency),
        _exact(amount, viewer.currency),
        ", ".join(said),
        None,
        record.until,
        record.id,
        core_price(record).stale(on),
        False,
        extras,
    )


def say_rate(rates: RateTable) -> str:
    """Whose rate an amount was converted at."""
    return "the simulated rate" if rates.simulated else f"the rate of {rates.name}"


def _none(problem: str, reason: PriceReason) -> SetupPrice:
    return SetupPrice(None, None, "", problem, None, None, False, False, reason=reason)


def _exact(amount: Decimal, currency: str) -> Decimal:
    return amount.quantize(minor_unit(currency), rounding=ROUND_HALF_UP)


def _machine_price(rates: RateTable, viewer: Viewer, record: records.Price) -> tuple[Decimal, bool]:
    """A record in the viewer's currency, with the viewer's tax where it is without."""
    converted = rates.convert(Money(record.amount, record.currency), viewer.currency, record.dated)
    if record.tax_included is False and viewer.tax_percent:
        taxed = converted.amount * (1 + viewer.tax_percent / 100)
        return _exact(taxed, viewer.currency), True
    return converted.amount, False


def machine_part(book: Book, currency: str, setup: records.Setup, amount: Decimal) -> Decimal:
    """What is left of the price of a setup for its machine, without its extras; 0 at least.

    Raises:
        RateMissingError: what an extra cost cannot be told in this currency.
    """
    return max(amount - _extras_in(book.rates, currency, setup), Decimal(0))


def _extras(rates: RateTable, viewer: Viewer, setup: records.Setup) -> Decimal:
    return _extras_in(rates, viewer.currency, setup)


def _extras_in(rates: RateTable, currency: str, setup: records.Setup) -> Decimal:
    each = (
        rates.convert(Money(e.amount, e.currency), currency, e.dated).amount for e in setup.extras
    )
    return sum(each, Decimal(0))


def owned_price(book: Book, viewer: Viewer, setup: records.Setup) -> SetupPrice | None:
    """What the owned machine brings, and another state of it costs: its extras beyond those had.

    Returns:
        None where the setup is not of the owned machine.
    """
    at = None if viewer.owned_setup_id is None else book.setup_index.get(viewer.owned_setup_id)
    if at is not None and book.setups[at].id == setup.id:
        brings = _exact(viewer.resale, viewer.currency)
        words = "their current machine; its resale value"
        return SetupPrice(brings, brings, words, None, None, None, False, False)
    if at is None or book.machine_of[setup.id].id != book.machine_of[book.setups[at].id].id:
        return None
    try:
        more = _extras(book.rates, viewer, setup) - _extras(book.rates, viewer, book.setups[at])
    except RateMissingError as error:
        return _none(error.reason, PriceReason.NO_RATE)
    amount = _exact(max(more, Decimal(0)), viewer.currency)
    words = "their current machine; only its extras would be bought"
    return SetupPrice(amount, amount, words, None, None, None, False, False)
