"""Machines, their setups, prices and rows of the spec sheet."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import date, datetime
from decimal import Decimal
from typing import Any
from uuid import UUID


@dataclass(frozen=True, slots=True)
class Price:
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


@dataclass(frozen=True, slots=True)
class Extra:
    """Something that a setup needed besides its machine."""

    id: UUID
    setup_id: UUID
    name: str
    amount: Decimal
    currency: str
    dated: date


@dataclass(frozen=True, slots=True)
class Setup:
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


@dataclass(frozen=True, slots=True)
class Machine:
    """A physical computer, its setups and its price records, newest first.

    ``prices`` are those that count, ``withdrawn_prices`` those that no longer do.
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


@dataclass(frozen=True, slots=True)
class FreeRow:
    """A row of the spec sheet that the reviewer added."""

    id: UUID
    title: str
    unit: str | None
    number: bool
    position: int
