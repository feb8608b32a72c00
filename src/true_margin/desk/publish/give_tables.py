"""The tables that are given away: results, specs, prices."""

from __future__ import annotations

from collections.abc import Iterator

from true_margin.core.labels import RESULT, label_of
from true_margin.core.numerals import PLAIN, writing
from true_margin.core.spec_rows import STATES
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import tested_price
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError
from true_margin.desk.lineup.spec_sheet import cell_text
from true_margin.desk.margins.margins import LadderView, ladder_of
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.card_choices import PRICE_ROW
from true_margin.publish.tables import Cell, Table
from true_margin.store.database import Database


def show_table(database: Database, slug: str, name: str) -> Table:
    """Give a table by name: ``results``, ``specs`` or ``prices``."""
    return table_of(SHELF.take(database, slug), name)


@writing(PLAIN)
def table_of(book: Book, name: str) -> Table:
    """Give a table of a book by name.

    Raises:
        NotFoundError: there is none of this name.
    """
    makers = {"results": results, "specs": specs, "prices": prices}
    if name not in makers:
        raise NotFoundError(f"There is no table {name!r}: results, specs and prices are there.")
    return makers[name](book)


def results(book: Book) -> Table:
    """Every setup on every task and on the mix, with its interval, call and runs."""
    base = "no baseline" if book.baseline is None else book.baseline.label
    columns = (
        "Task",
        "Setup",
        "Typical",
        "Unit",
        "Speed",
        "Speed unit",
        "Times as fast",
        "From",
        "To",
        "Call",
        "Best rank",
        "Worst rank",
        "Runs",
        "Estimated from an earlier round",
        "Remark",
    )
    views = [ladder_of(book, str(task.id)) for task in book.tasks]
    if book.tasks:
        views.append(ladder_of(book, "mix"))
    rows = [row for view in views for row in _result_rows(view)]
    note = (
        f"Times as fast as {base}; intervals of {100 * book.shootout.confidence:g} %. "
        f"{book.shootout.name}, True Margin."
    )
    return Table("Results", columns, tuple(rows), note)


def _result_rows(view: LadderView) -> Iterator[tuple[Cell, ...]]:
    unit = "s" if view.measure == "time" else view.unit
    for row in view.rows:
        yield (
            view.title,
            row.label,
            row.typical,
            None if row.typical is None else unit,
            row.speed,
            None if row.speed is None else view.speed_unit,
            row.ratio,
            row.lo,
            row.hi,
            label_of(RESULT, row.call),
            row.best_rank,
            row.worst_rank,
            row.runs,
            "yes" if row.carried else "no",
            row.completion,
        )
    for beside in view.beside:
        known: tuple[Cell, ...] = (beside.ratio, beside.lo, beside.hi, beside.evidence.value)
        blank: tuple[Cell, ...] = (None,) * 4
        yield (view.title, beside.label, *blank, *known, *blank[:3], "no", beside.words)
    for off in view.off:
        nothing: tuple[Cell, ...] = (None,) * 11
        yield (view.title, off.label, *nothing, "no", f"not ranked: {off.reason}")


def specs(book: Book) -> Table:
    """The spec sheet: rows down, setups across."""
    rows = []
    for spec in (*machine_rows(book.free_rows), *STATES):
        cells = [cell_text(book.machine_of[s.id], s, spec.field) for s in book.setups]
        if any(cells):
            title = f"{spec.title} ({spec.unit})" if spec.unit else spec.title
            rows.append((title, *(cell or None for cell in cells)))
    costs = [tested_price(book, setup).amount for setup in book.setups]
    currency = book.shootout.currency
    rows.append((PRICE_ROW, *(None if c is None else say_money(c, currency) for c in costs)))
    columns = ("Row", *(setup.label for setup in book.setups))
    return Table("Specs", columns, tuple(rows), f"{book.shootout.name}, True Margin.")


def prices(book: Book) -> Table:
    """Every price record, newest first."""
    columns = (
        "Machine",
        "Kind",
        "Price",
        "Currency",
        "Date",
        "Until",
        "Region",
        "Source",
        "Configuration",
        "Tax included",
        "Paid link",
    )

    def yes_no(flag: bool | None) -> str | None:
        return None if flag is None else ("yes" if flag else "no")

    rows = [
        (
            machine.name,
            p.kind,
            float(p.amount),
            p.currency,
            p.dated.isoformat(),
            None if p.until is None else p.until.isoformat(),
            p.region,
            p.source,
            p.configuration,
            yes_no(p.tax_included),
            yes_no(p.paid_link),
        )
        for machine in book.machines
        for p in machine.prices
    ]
    return Table("Prices", columns, tuple(rows), f"{book.shootout.name}, True Margin.")
