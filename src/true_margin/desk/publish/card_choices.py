"""Cards of what to choose from: price against speed, the pick of a viewer, specs."""

from __future__ import annotations

from collections.abc import Sequence
from decimal import Decimal

from true_margin.core.numerals import say_day
from true_margin.core.spec_rows import STATES
from true_margin.core.wording import count_of
from true_margin.desk.book.book import Book
from true_margin.desk.book.prices import tested_price
from true_margin.desk.book.sheet_rows import machine_rows
from true_margin.desk.errors import RefusedError
from true_margin.desk.lineup.spec_sheet import cell_text
from true_margin.desk.picks.picks import PickView
from true_margin.desk.picks.predicted import how_often
from true_margin.desk.picks.viewers import answer, find_viewer
from true_margin.desk.picks.words.money import say_money
from true_margin.desk.publish.card_parts import Chosen, foot, heading_of, of_samples, warnings
from true_margin.publish.card_data import CardSetup, PickCard, PriceCard, PricePoint, SpecCard
from true_margin.publish.looks import Shape
from true_margin.store import records
from true_margin.store.cards import KeptCard

IN_BLOCK = {Shape.WIDE: 5, Shape.TALL: 3, Shape.SQUARE: 3}
"""So many setups stand beside each other in letters that can be read."""
MOST_COLUMNS = {Shape.WIDE: 8, Shape.TALL: 6, Shape.SQUARE: 6}
MOST_ROWS = {Shape.WIDE: (9, 5), Shape.TALL: (12, 8), Shape.SQUARE: (8, 4)}
"""With one block of setups, and with two."""
PRICE_ROW = "Price as tested"
TELLING = (
    PRICE_ROW,
    "Processor",
    "Cores",
    "Boost clock",
    "Clock",
    "Graphics",
    "Memory",
    "Storage",
    "System",
    "Power source",
    "Weight",
    "Noise",
    "Own, bought or lent",
    "Supported until",
)
"""Rows of the spec card that come before others which differ as well."""
RULES = {
    "fastest": "the fastest within the budget",
    "value": "the best value",
    "worth": "most money saved over the years",
    "enough": "the cheapest that is fast enough",
}


def price_of_viewer(book: Book, card: KeptCard, _: Shape) -> PriceCard:
    """Price against speed, for a viewer."""
    view, name, budget, _rule = _picked(book, card)
    rows = {row.setup_id: row for row in view.rows if row.price.amount is not None}
    if not rows:
        raise RefusedError("viewer_id", f"No machine has a price for {name}: add one in Line-up.")
    chosen = Chosen(book, card, list(rows))
    pick = None if view.picked is None else view.picked.setup_id
    points = []
    for key in chosen.keys:
        row = rows[key]
        assert row.price.amount is not None
        points.append(
            PricePoint(
                chosen.who(key),
                float(row.price.amount),
                say_money(row.price.amount, view.currency),
                row.ratio,
                row.lo,
                row.hi,
                row.frontier,
                key == pick,
                budget is not None and row.price.amount > budget,
            )
        )
    shown = [book.setup_index[key] for key in chosen.keys]
    unpriced = [row.label for row in view.rows if row.price.amount is None]
    notes = [*warnings(book, None, shown), *chosen.note()]
    if unpriced:
        notes.append(f"no price: {', '.join(unpriced)}")
    notes += [
        f"prices of {say_day(book.shootout.price_date, whole=True)}",
        *foot(book, None, shown),
        *of_samples(book),
    ]
    shown_budget = "" if budget is None else f"budget {say_money(budget, view.currency)}"
    return PriceCard(
        heading_of(
            book,
            card,
            f"{name}: price against speed",
            f"{name}, price against speed; circled: our pick, line: the most speed at each price",
            notes,
            "" if view.picked is None else view.picked.what,
        ),
        view.currency,
        view.reference or "the baseline",
        None if budget is None else float(budget),
        shown_budget,
        tuple(points),
    )


def pick_of(book: Book, card: KeptCard, _: Shape) -> PickCard:
    """The pick of a viewer, in a sentence."""
    view, name, budget, rule = _picked(book, card)
    picked = view.picked
    shown = [book.setup_index[row.setup_id] for row in view.rows]
    notes = [*warnings(book, None, shown)]
    notes += [
        f"one run of {run.task} on a sample of its own: {run.span}, "
        f"{how_often(book.shootout.confidence)}"
        for run in view.predicted
        if run.accepted
    ]
    notes += [
        f"prices of {say_day(book.shootout.price_date, whole=True)}",
        *foot(book, None, shown),
        *of_samples(book),
    ]
    heading = heading_of(book, card, name, rule, notes)
    facts: list[tuple[str, str]] = []
    if budget is not None:
        facts.append(("budget", say_money(budget, view.currency)))
    if view.needs:
        facts.append(("needs", "; ".join(view.needs)))
    if picked is None:
        problem = view.problem.words if view.problem else "No setup is left to pick."
        return PickCard(heading, None, "No pick", (problem,), tuple(facts))
    row = next(row for row in view.rows if row.setup_id == picked.setup_id)
    setup = book.setups[book.setup_index[picked.setup_id]]
    if row.upgrade is not None:
        facts.append(("payback", row.upgrade.words.payback))
    if row.flip is not None and not picked.keep:
        facts.append(("changes", row.flip.words))
    told = (f"{picked.reason} {picked.surety}.", picked.level, picked.second)
    lines = [each for each in told if each]
    price = say_money(picked.price, view.currency)
    answer_words = picked.what if picked.keep else f"{picked.label}, {price}"
    who = CardSetup(setup.label, setup.mark)
    return PickCard(heading, who, answer_words, tuple(lines), tuple(facts[:4]))


def specs_of(book: Book, card: KeptCard, shape: Shape) -> SpecCard:
    """Specs side by side; what tells setups apart comes first."""
    if not book.setups:
        raise RefusedError("kind", "There is no setup yet: add a machine in Line-up first.")
    chosen = Chosen(book, card, [setup.id for setup in book.setups], MOST_COLUMNS[shape])
    setups = [book.setups[book.setup_index[key]] for key in chosen.keys]
    rows = []
    for spec in (*machine_rows(book.free_rows), *STATES):
        if spec.field in ("note", "shared"):
            continue
        cells = tuple(
            cell_text(book.machine_of[setup.id], setup, spec.field) or "–" for setup in setups
        )
        if any(cell != "–" for cell in cells):
            unit = f" {spec.unit}" if spec.unit else ""
            told = tuple(cell if cell == "–" else f"{cell}{unit}" for cell in cells)
            rows.append((spec.title, told, len(set(cells)) > 1))
    if not rows:
        raise RefusedError("kind", "The spec sheet is empty: fill in a row in Line-up first.")
    rows.append(_price_row(book, setups))
    # What tells them apart comes first, and of that what viewers ask for.
    telling = {title: place for place, title in enumerate(TELLING)}
    rows.sort(key=lambda row: (not row[2], telling.get(row[0], len(TELLING))))
    blocks = -(-len(setups) // IN_BLOCK[shape])
    kept = rows[: MOST_ROWS[shape][blocks - 1]]
    notes = [*chosen.note()]
    if len(rows) > len(kept):
        notes.append(f"{count_of(len(rows) - len(kept), 'more row')} in the table")
    subtitle = "square: differs between machines" if any(row[2] for row in kept) else ""
    return SpecCard(
        heading_of(book, card, "What was tested", subtitle, notes),
        tuple(chosen.who(key) for key in chosen.keys),
        tuple(kept),
        IN_BLOCK[shape],
    )


def _picked(book: Book, card: KeptCard) -> tuple[PickView, str, Decimal | None, str]:
    if card.viewer_id is None:
        raise RefusedError("viewer_id", "This card is about a viewer: choose one.")
    viewer = find_viewer(book, card.viewer_id)
    view = answer(book, viewer)
    if not view.rows:
        why = "no setup did all of this work" if view.problem is None else view.problem.words
        raise RefusedError("viewer_id", f"{viewer.name}: {why}")
    return view, viewer.name, viewer.budget, RULES[viewer.rule]


def _price_row(book: Book, setups: Sequence[records.Setup]) -> tuple[str, tuple[str, ...], bool]:
    """What each cost as tested."""
    prices = [tested_price(book, setup).amount for setup in setups]
    currency = book.shootout.currency
    cells = tuple("–" if p is None else say_money(p, currency) for p in prices)
    return PRICE_ROW, cells, len(set(cells)) > 1
