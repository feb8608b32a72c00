"""Speed against one spec: what a task gains from."""

from __future__ import annotations

import math
from dataclasses import dataclass
from uuid import UUID

import numpy as np

from true_margin.core.spec_rows import SPECS
from true_margin.core.specs import CellKind
from true_margin.desk.book.analysis import analysis_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.conditions import spec_value
from true_margin.desk.book.prices import tested_price
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import task_index
from true_margin.desk.margins.verdicts import margin_between
from true_margin.desk.margins.words.beside import NO_ROW_DIFFERS, TOO_FEW_SETUPS, say_pairs_agree
from true_margin.store.database import Database

PRICE = "price"
USUAL = "cores"


@dataclass(frozen=True, slots=True)
class SpecPoint:
    """One setup: how much of a spec it has, and how many times as fast as the baseline it is."""

    setup_id: UUID
    label: str
    x: float
    ratio: float
    lo: float
    hi: float


@dataclass(frozen=True, slots=True)
class SpecChoice:
    """A row of the sheet that speed can be held against."""

    field: str
    title: str
    unit: str | None


@dataclass(frozen=True, slots=True)
class SpecScatter:
    """Speed on a task or the mix against one spec."""

    field: str | None
    title: str
    unit: str | None
    choices: tuple[SpecChoice, ...]
    points: tuple[SpecPoint, ...]
    says: str


def show_scatter(database: Database, slug: str, key: str | None, field: str | None) -> SpecScatter:
    """Set the speeds on a task, or on the mix, against a spec.

    Args:
        database: where the book is.
        slug: of the shootout.
        key: of the task, or of the mix.
        field: of the spec; without one it is the number of cores where that differs, else the
            first row that does.

    Raises:
        RefusedError: the row is not of numbers, or does not differ between setups.
    """
    book = SHELF.take(database, slug)
    choices = _choices(book)
    chosen = next((c for c in choices if c.field == field), None)
    if field is not None and chosen is None:
        raise RefusedError("field", "Speed can be held against a row of numbers that differs.")
    usual = (c for c in sorted(choices, key=lambda choice: choice.field != USUAL))
    chosen = chosen or next(usual, None)
    if chosen is None:
        return SpecScatter(None, "", None, (), (), NO_ROW_DIFFERS)
    points = _points(book, task_index(book, key), chosen.field)
    return SpecScatter(
        chosen.field, chosen.title, chosen.unit, choices, points, _say(chosen, points)
    )


def _choices(book: Book) -> tuple[SpecChoice, ...]:
    numbers = [s for s in SPECS if s.kind in (CellKind.NUMBER, CellKind.WHOLE)]
    found = [
        SpecChoice(s.field, s.title, s.unit)
        for s in numbers
        if len({x for x in _values(book, s.field) if x is not None}) > 1
    ]
    priced = {x for x in _values(book, PRICE) if x is not None}
    price = [SpecChoice(PRICE, "Price", book.shootout.currency)] if len(priced) > 1 else []
    return (*found, *price)


def _values(book: Book, field: str) -> list[float | None]:
    if field == PRICE:
        prices = (tested_price(book, setup).amount for setup in book.setups)
        return [None if price is None else float(price) for price in prices]
    values = (spec_value(book.machine_of[setup.id], setup, field) for setup in book.setups)
    return [float(value) if isinstance(value, int | float) else None for value in values]


def _points(book: Book, task: int | None, field: str) -> tuple[SpecPoint, ...]:
    comparison = analysis_of(book).comparison(task)
    base = analysis_of(book).study.baseline
    if comparison is None or base is None:
        return ()
    values = _values(book, field)
    found = []
    for rung in comparison.rungs:
        x = values[rung.setup]
        margin = margin_between(comparison, rung.setup, base)
        if x is None or x <= 0 or margin is None or rung.ratio is None:
            continue
        setup = book.setups[rung.setup]
        own = rung.setup == base
        lo, hi = (1.0, 1.0) if own else (math.exp(margin.lo), math.exp(margin.hi))
        found.append(SpecPoint(setup.id, setup.label, x, rung.ratio, lo, hi))
    return tuple(found)


def _say(choice: SpecChoice, points: tuple[SpecPoint, ...]) -> str:
    """Say in how many pairs more of the spec goes with more speed; never why."""
    x = np.array([point.x for point in points])
    y = np.array([point.ratio for point in points])
    if len(points) < 3:
        return TOO_FEW_SETUPS
    dx, dy = np.sign(x[:, None] - x[None, :]), np.sign(y[:, None] - y[None, :])
    product = np.triu(dx * dy, 1)
    more, less = int((product > 0).sum()), int((product < 0).sum())
    return say_pairs_agree(choice.title, more, more + less, price=choice.field == PRICE)
