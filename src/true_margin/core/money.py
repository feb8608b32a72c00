"""Money: amounts with a currency, value against the baseline, and the frontier.

Section 9 of the computation page.
"""

from __future__ import annotations

import re
from dataclasses import dataclass
from decimal import Decimal, InvalidOperation

from true_margin.core.errors import QuantityError
from true_margin.core.ladder import Rung
from true_margin.core.study import Study


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


def parse_price(text: str, currency: str) -> Money:
    """Read a price as typed: ``1290``, ``1 290.00``, ``1290,50``.

    Raises:
        QuantityError: not a plain decimal number, negative, or an unknown form
            of currency.
    """
    body = text.strip().replace("\u00a0", " ").replace("\u202f", " ")
    if re.fullmatch(r"\d{1,3}( \d{3})+([.,]\d+)?", body):
        body = body.replace(" ", "")
    if not re.fullmatch(r"[0-9]+([.,][0-9]{1,2})?", body):
        raise QuantityError(f"{text!r} is not a price: type it like 1290 or 1290.50")
    try:
        return Money(Decimal(body.replace(",", ".")), currency)
    except InvalidOperation as error:  # pragma: no cover - the pattern admits numbers only
        raise QuantityError(f"{text!r} is not a price") from error


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
    base = None if study.baseline is None or not study.prices else study.prices[study.baseline]
    values = [
        Value(
            rung.setup, price, rung.ratio,
            _value(rung.ratio, price, base),
            not any(_dominates(other, rung, p, price) for other, p in known),
        )
        for rung, price in known
    ]  # fmt: skip
    return tuple(sorted(values, key=lambda value: study.setups[value.setup]))


def _value(ratio: float | None, price: Decimal, base: Decimal | None) -> float | None:
    # A machine that was given costs nothing; a ratio of prices has no meaning then.
    if ratio is None or base is None or price == 0 or base == 0:
        return None
    return ratio / float(price / base)


def _dominates(other: Rung, rung: Rung, other_price: Decimal, price: Decimal) -> bool:
    no_worse = other_price <= price and other.log_speed >= rung.log_speed
    return no_worse and (other_price < price or other.log_speed > rung.log_speed)
