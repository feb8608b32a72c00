"""Money: amounts with a currency, value against the baseline, and the frontier.

Section 9 of the computation page.
"""

from __future__ import annotations

import re
from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import date, timedelta
from decimal import Decimal, InvalidOperation
from types import MappingProxyType

from true_margin.core.choices import PriceKind
from true_margin.core.currencies import CURRENCIES, minor_digits, minor_unit
from true_margin.core.dominance import undominated
from true_margin.core.errors import QuantityError
from true_margin.core.ladder import Rung
from true_margin.core.numerals import PLAIN, Numerals, say_day
from true_margin.core.study import Study
from true_margin.core.typed_numbers import plain_numbers


@dataclass(frozen=True, slots=True)
class Money:
    """An amount with its currency; never a float.

    Attributes:
        amount: 0 or more, in the currency's main unit.
        currency: three capital letters (ISO 4217).
    """

    amount: Decimal
    currency: str

    def __post_init__(self) -> None:
        if not re.fullmatch(r"[A-Z]{3}", self.currency):
            raise QuantityError(f"currency {self.currency!r}: write three letters such as EUR")
        if not self.amount.is_finite() or self.amount < 0:
            raise QuantityError(f"price {self.amount}: must be 0 or more")


def check_currency(currency: str) -> str:
    """Give back a code of a currency in use.

    Raises:
        QuantityError: it is none.
    """
    if currency not in CURRENCIES:
        raise QuantityError(f"{currency} is no currency in use: write a code such as EUR or USD")
    return currency


def parse_price(text: str, currency: str, signs: Numerals = PLAIN) -> Money:
    """Read a price as typed: ``1290``, ``1 290.00``, ``2,390 EUR``, ``€1.290,50``.

    Args:
        text: the amount; it may carry the currency.
        currency: what it is in.
        signs: of whoever typed it: whether ``2,390`` is two thousand.

    Raises:
        QuantityError: not a plain decimal number, negative, an unknown form of currency, or
            said to be in another one.

    Example:
        >>> parse_price("2,390 EUR", "EUR", Numerals(".", ",")).amount
        Decimal('2390')
        >>> parse_price("1.234", "KWD").amount
        Decimal('1.234')
    """
    body, said = split_currency(text)
    if said and currency not in said:
        raise QuantityError(f"{text!r} is in {said[0]}, and this amount is in {currency}")
    decimals = max(2, minor_digits(currency))
    # A point before three digits is a decimal one where the currency has thousandths.
    if re.fullmatch(r"\d{1,12}\.\d{3}", body) and decimals == 3:
        signs = PLAIN
    body = plain_numbers(body, signs).removesuffix(".-").removesuffix(".–")
    if not re.fullmatch(rf"[0-9]{{1,12}}([.,][0-9]{{1,{decimals}}})?", body):
        example = f"1290.{'50000'[:decimals]}"
        raise QuantityError(f"{text!r} is not a price: type it like 1290 or {example}")
    try:
        return Money(Decimal(body.replace(",", ".")), currency)
    except InvalidOperation as error:  # pragma: no cover - the pattern admits numbers only
        raise QuantityError(f"{text!r} is not a price") from error


_SIGNS: Mapping[str, tuple[str, ...]] = MappingProxyType(
    {
        "€": ("EUR",),
        "£": ("GBP",),
        "$": ("USD", "AUD", "CAD", "NZD", "SGD", "HKD", "MXN"),
        "US$": ("USD",),
        "¥": ("JPY", "CNY"),
        "₹": ("INR",),
        "Fr.": ("CHF",),
        "zł": ("PLN",),
        "Kč": ("CZK",),
        "kr": ("SEK", "NOK", "DKK"),
    }
)
"""What a sign may stand for; the first is the likeliest where nothing else tells."""
_WITH_CURRENCY = re.compile(
    r"^(?P<before>[A-Z]{3}|[^\d\s.,+−-]{1,3}\.?)?\s*(?P<amount>\d.*?)\s*(?P<after>[A-Z]{3}|[^\d\s.,+−-]{1,3}\.?)?$"
)


def split_currency(text: str) -> tuple[str, tuple[str, ...]]:
    """Take the currency off an amount.

    Returns:
        The amount, and the codes that its sign may mean; none where it carries none.

    Example:
        >>> split_currency("€1.290"), split_currency("940 EUR"), split_currency("940")
        (('1.290', ('EUR',)), ('940', ('EUR',)), ('940', ()))
    """
    body = text.strip().replace("\u00a0", " ").replace("\u202f", " ")
    match = _WITH_CURRENCY.match(body)
    if match is None:
        return body, ()
    for said in (match["before"], match["after"]):
        codes = currencies_of(said or "")
        if codes:
            return match["amount"], codes
    return body, ()


def currencies_of(sign: str) -> tuple[str, ...]:
    """The codes that a sign or a code may mean; none where it is neither."""
    if sign.upper() in CURRENCIES:
        return (sign.upper(),)
    return _SIGNS.get(sign, ())


PRICE_KINDS = tuple(PriceKind)
"""Order in which kinds of price fall back."""
STALE_DAYS = 30
"""A price older than this is marked."""
RATE_DAYS = 7
"""A rate older than this is not used."""


class RateMissingError(QuantityError):
    """No rate of a currency is near enough to a day."""


@dataclass(frozen=True, slots=True)
class Rate:
    """Units of a currency for one euro, on one day."""

    currency: str
    dated: date
    per_eur: Decimal


@dataclass(frozen=True, slots=True)
class RateTable:
    """Dated exchange rates.

    Attributes:
        rates: in any order.
        name: of the table, as a screen names it; empty where there is none.
        simulated: whether every figure in it is made up.
    """

    rates: tuple[Rate, ...] = ()
    name: str = ""
    simulated: bool = False

    def convert(self, money: Money, currency: str, on: date) -> Money:
        """Convert an amount by the rates of a day, to the minor unit.

        Args:
            money: what to convert.
            currency: of the result.
            on: day of the price; the newest rates within 7 days before it count.

        Raises:
            RateMissingError: a rate is missing; says which currency and day.
        """
        if money.currency == currency:
            return money
        euros = money.amount / self._per_eur(money.currency, on)
        amount = euros * self._per_eur(currency, on)
        return Money(amount.quantize(minor_unit(currency)), currency)

    def _per_eur(self, currency: str, on: date) -> Decimal:
        if currency == "EUR":
            return Decimal(1)
        near = [
            rate
            for rate in self.rates
            if rate.currency == currency and timedelta(0) <= on - rate.dated <= _RATE_REACH
        ]
        if not near:
            raise RateMissingError(f"no rate of {currency} for {say_day(on)}")
        return max(near, key=lambda rate: rate.dated).per_eur


_RATE_REACH = timedelta(days=RATE_DAYS)


@dataclass(frozen=True, slots=True)
class PriceRecord:
    """What a machine cost, of one kind, on one day; ``until`` is the last day of an offer."""

    kind: str
    money: Money
    dated: date
    until: date | None = None

    def in_force(self, on: date) -> bool:
        """True where it was known by that day and had not ended."""
        return self.dated <= on and (self.until is None or self.until >= on)

    def stale(self, on: date) -> bool:
        """True where it is more than 30 days old on that day."""
        return (on - self.dated).days > STALE_DAYS


def kinds_from(kind: str) -> tuple[str, ...]:
    """Order of kinds that begins with the chosen one."""
    return (kind, *(other for other in PRICE_KINDS if other != kind))


def price_in_force(
    records: Sequence[PriceRecord], on: date, *, kinds: Sequence[str] = PRICE_KINDS
) -> int | None:
    """Choose the price that counts on a day.

    Args:
        records: of one machine; of two of one day the later in the list counts.
        on: the shootout's price date.
        kinds: in the order in which they fall back.

    Returns:
        Place of the record: the newest in force of the first kind that has one; None for none.

    Reference:
        Computation page, section 9.
    """
    for kind in kinds:
        own = [i for i, r in enumerate(records) if r.kind == kind and r.in_force(on)]
        if own:
            return max(own, key=lambda i: (records[i].dated, i))
    return None


def price_as_tested(
    price: PriceRecord, extras: Sequence[tuple[Money, date]], currency: str, rates: RateTable
) -> Money:
    """Add a setup's extras to its machine's price, each converted by the rates of its own day.

    Raises:
        RateMissingError: a rate is missing.
    """
    total = rates.convert(price.money, currency, price.dated).amount
    for money, dated in extras:
        total += rates.convert(money, currency, dated).amount
    return Money(total, currency)


@dataclass(frozen=True, slots=True)
class Value:
    """What a setup gives for its money.

    Attributes:
        setup: index of the setup.
        price: its price, in the study's currency.
        ratio: times as fast as the baseline on the mix; None where the baseline
            is not on the ladder.
        value: speed ratio over price ratio; None where the baseline has no price.
        frontier: True where no other setup is both at least as cheap and at
            least as fast, and better in one of the two.
    """

    setup: int
    price: Decimal
    ratio: float | None
    value: float | None
    frontier: bool


def value_setups(study: Study, rungs: tuple[Rung, ...]) -> tuple[Value, ...]:
    """Give value and frontier of every priced setup on the mix ladder.

    Args:
        study: the study, with a price a setup (None where unpriced).
        rungs: the mix ladder.

    Returns:
        One entry a priced setup, in name order.

    Reference:
        Computation page, section 9.
    """
    priced = [(rung, study.prices[rung.setup]) for rung in rungs if study.prices]
    known = [(rung, price) for rung, price in priced if price is not None]
    frontier = set(undominated([r.log_speed for r, _ in known], [price for _, price in known]))
    base = None if study.baseline is None or not study.prices else study.prices[study.baseline]
    values = [
        Value(rung.setup, price, rung.ratio, value_of(rung.ratio, price, base), place in frontier)
        for place, (rung, price) in enumerate(known)
    ]
    return tuple(sorted(values, key=lambda value: study.setups[value.setup]))


def value_of(ratio: float | None, price: Decimal, base: Decimal | None) -> float | None:
    """Give speed ratio over price ratio, against a baseline.

    Args:
        ratio: times as fast as the baseline.
        price: of the setup.
        base: price of the baseline, in the same currency.

    Returns:
        None where one of them is not known, or costs nothing: a ratio of prices has no
        meaning then.
    """
    if ratio is None or base is None or price <= 0 or base <= 0:
        return None
    return ratio / float(price / base)
