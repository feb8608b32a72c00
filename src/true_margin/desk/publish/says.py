"""What a card is called in an edit, and what is said while it stands."""

from __future__ import annotations

from true_margin.core.choices import CardKind
from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import MIX, ladder_of
from true_margin.desk.picks.viewers import answer, find_viewer
from true_margin.desk.publish.cards import card_heading, name_of_card
from true_margin.store.cards import KeptCard

OF_VIEWERS = (CardKind.PRICE, CardKind.PICK, CardKind.WORTH)


def title_of(book: Book, card: KeptCard) -> str:
    """What a card is about, or what it is called where it shows nothing."""
    try:
        return card_heading(book, card).subject
    except RefusedError:
        return name_of_card(book, card)


@writing(PLAIN)
def say_of(book: Book, card: KeptCard) -> str:
    """The line to say while a card stands: what it shows, as far as it holds."""
    if card.viewer_id is not None and card.kind in OF_VIEWERS:
        picked = answer(book, find_viewer(book, card.viewer_id)).picked
        return "" if picked is None else picked.sentence
    if card.kind in (CardKind.BAR, CardKind.RULE, CardKind.RACE):
        return ladder_of(book, MIX if card.task_id is None else str(card.task_id)).summary
    if card.kind in (CardKind.VERSIONS, CardKind.CORRECTION):
        return f"{card_heading(book, card).title.rstrip('.')}."
    return title_of(book, card)
