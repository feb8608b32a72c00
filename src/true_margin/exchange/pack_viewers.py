"""Tables of a data pack that hold the viewers whom machines are picked for."""

from __future__ import annotations

from datetime import datetime
from decimal import Decimal
from typing import Annotated

from pydantic import Field

from true_margin.core.choices import RuleName
from true_margin.exchange.pack_rows import Currency, Name, PackRow, Part

_Amount = Annotated[Decimal, Field(ge=0, max_digits=14, decimal_places=3)]
_Much = Annotated[float, Field(ge=0, allow_inf_nan=False)]


class PackViewer(PackRow):
    """Somebody who asks which machine to buy; money in ``currency``."""

    name: Name
    weekly: bool = False
    rule: RuleName = RuleName.FASTEST
    currency: Currency = "EUR"
    region: str | None = Field(default=None, max_length=60)
    tax_percent: Annotated[Decimal, Field(ge=0, le=100, decimal_places=3)] | None = None
    budget: _Amount | None = None
    owned_machine: Name | None = None
    owned_setup: Name | None = None
    resale: _Amount = Decimal(0)
    hour_value: _Amount = Decimal(0)
    attended: Part = 0.5
    weeks: Annotated[float, Field(gt=0, le=52)] = 48.0
    horizon_years: Annotated[float, Field(gt=0, le=50)] = 3.0
    energy_price: _Amount | None = None
    retired_at: datetime | None = None


class PackViewerTask(PackRow):
    """What one task is to a viewer; the amount a week counts runs where ``by_run``."""

    viewer: Name
    task: Name
    weight: _Much = 0.0
    amount: _Much = 0.0
    by_run: bool = False
    accepted_s: Annotated[float, Field(gt=0, allow_inf_nan=False)] | None = None


class PackViewerNeed(PackRow):
    """One need of a viewer, about a row of the sheet or something observed."""

    viewer: Name
    about: Name
    relation: Annotated[str, Field(min_length=1, max_length=20)]
    value: Annotated[str, Field(max_length=200)] | None = None
