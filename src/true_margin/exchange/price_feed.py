"""Offers from a price feed: what one is asked, what it answers, and the reader of the plain one.

A feed answers ``GET <address>/offers?machine=…&machine=…`` with a JSON list of
``FeedOffer``. Whoever has prices in another form implements ``PriceFeed``.
"""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date
from decimal import Decimal
from typing import Literal, Protocol

from pydantic import BaseModel, ConfigDict, Field, TypeAdapter, ValidationError

from true_margin.core.errors import CoreError
from true_margin.core.numerals import short
from true_margin.exchange.outside_calls import OutsideCallError, ask

WAIT_S = 8.0
"""How long a feed is waited for."""
MOST_BYTES = 2_000_000


class PriceFeedError(CoreError):
    """The feed gave no offers; says why."""


class FeedOffer(BaseModel):
    """One offer of one machine in one shop."""

    model_config = ConfigDict(frozen=True, extra="ignore")

    machine: str = Field(min_length=1, max_length=120)
    kind: Literal["list", "street", "used"]
    amount: Decimal = Field(ge=0, max_digits=14, decimal_places=3)
    currency: str = Field(pattern="^[A-Z]{3}$")
    dated: date
    shop: str = Field(min_length=1, max_length=120)
    until: date | None = None
    configuration: str | None = Field(default=None, max_length=200)
    coupon: str | None = Field(default=None, max_length=60)
    tax_included: bool | None = None
    shipping_included: bool | None = None


class PriceFeed(Protocol):
    """Something that knows what machines cost in shops."""

    @property
    def name(self) -> str:
        """What it is called on the screen."""
        ...

    @property
    def address(self) -> str:
        """Where it is asked, by this process or another."""
        ...

    def offers(self, machines: Sequence[str]) -> list[FeedOffer]:
        """Give the offers there are of these machines.

        Raises:
            PriceFeedError: it does not answer, or not in offers.
        """
        ...


_OFFERS = TypeAdapter(list[FeedOffer])


class HttpPriceFeed:
    """A feed that is asked over HTTP."""

    def __init__(self, name: str, address: str, wait_s: float = WAIT_S) -> None:
        self.name = name
        self.address = address.rstrip("/")
        self._wait_s = wait_s

    def offers(self, machines: Sequence[str]) -> list[FeedOffer]:
        """Give the offers there are of these machines.

        Raises:
            PriceFeedError: it does not answer, or not in offers.
        """
        asked = {"machine": list(machines)}
        try:
            answer = ask(
                f"{self.address}/offers", params=asked, within_s=self._wait_s, most_bytes=MOST_BYTES
            )
        except OutsideCallError as error:
            why = f"did not answer within {short(self._wait_s)} s" if error.late else f"{error}"
            raise PriceFeedError(f"{self.name} {why}.") from error
        if answer.status != 200:
            raise PriceFeedError(f"{self.name} is out of order (it answered {answer.status}).")
        if answer.content is None:
            raise PriceFeedError(f"{self.name} answered more than a list of offers can be.")
        try:
            return _OFFERS.validate_json(answer.content)
        except ValidationError as error:
            first = error.errors()[0]
            where = ".".join(str(part) for part in first["loc"])
            raise PriceFeedError(
                f"{self.name} answered something that is no offer: {where}: {first['msg']}."
            ) from error
