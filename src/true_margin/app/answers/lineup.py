"""Machines, setups, prices and the spec sheet, as the API answers them."""

from __future__ import annotations

from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID

from true_margin.app.answers.base import Answer
from true_margin.desk.book.prices import TestedPrice
from true_margin.desk.lineup.spec_sheet import ArchivedMachine, SpecCell, SpecRow


class Extra(Answer):
    """Something that a setup needed besides its machine."""

    id: UUID
    setup_id: UUID
    name: str
    amount: Decimal
    currency: str
    dated: date


class Setup(Answer):
    """A machine in one tested state; ``label`` is its name on every screen.

    ``specs`` holds the rows of the sheet in which it differs from its machine,
    ``conditions`` the state that it is tested in; both by field, numbers in the
    row's unit. ``mark`` picks its colour and shape. ``assumed_ratio`` is how many
    times as fast as another setup it is said to be, without runs.
    """

    id: UUID
    machine_id: UUID
    machine: str
    name: str
    label: str
    position: int
    mark: int
    specs: dict[str, Any]
    conditions: dict[str, Any]
    assumed_ratio: float | None
    assumed_against_id: UUID | None
    assumed_source: str | None
    extras: tuple[Extra, ...]
    version: int


class Price(Answer):
    """A price record of a machine; ``amount`` in ``currency``, ``region`` None for anywhere."""

    id: UUID
    machine_id: UUID
    kind: str
    amount: Decimal
    currency: str
    dated: date
    source: str | None
    until: date | None
    configuration: str | None
    coupon: str | None
    note: str | None
    tax_included: bool | None
    shipping_included: bool | None
    paid_link: bool | None
    region: str | None = None
    link: str | None = None
    corrects_id: UUID | None = None
    withdrawn_at: datetime | None = None
    withdrawn_why: str | None = None


class Machine(Answer):
    """A physical computer, its setups and its price records, newest first.

    ``specs`` holds its rows of the spec sheet by field, numbers in the row's unit.
    ``model`` is what it is a sample of; None where it stands for itself.
    """

    id: UUID
    name: str
    model: str | None
    position: int
    specs: dict[str, Any]
    retired_at: datetime | None
    archived_at: datetime | None
    version: int
    setups: tuple[Setup, ...]
    prices: tuple[Price, ...]
    withdrawn_prices: tuple[Price, ...]


class PriceView(Answer):
    """The price of a machine that counts on the shootout's price date.

    ``stale`` where it is more than 30 days old; ``days_old`` says how old;
    ``offer`` where it is an offer that ends.
    """

    record: Price
    stale: bool
    days_old: int
    offer: bool


class MachineColumn(Answer):
    """One machine as a column, with the price that counts, and its runs.

    ``cells`` holds, by field, what each of its setups has, in their order; empty
    rows are left out. ``tested`` holds what each setup cost as tested; ``missing`` counts the
    tasks that none of its setups was tried on yet.
    ``shares_with`` names the machines that it shares parts with.
    """

    machine: Machine
    cells: dict[str, tuple[SpecCell, ...]]
    price: PriceView | None
    tested: tuple[TestedPrice, ...]
    runs: int
    missing: int
    shares_with: tuple[str, ...]


class LineUp(Answer):
    """The whole spec sheet."""

    rows: tuple[SpecRow, ...]
    columns: tuple[MachineColumn, ...]
    setups: tuple[Setup, ...]
    archived: tuple[ArchivedMachine, ...]
    currency: str
    price_date: date
