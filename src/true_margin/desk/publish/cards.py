"""Kept cards: added, changed, ordered, retired, drawn."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import UTC, datetime
from typing import Any
from uuid import UUID, uuid4

from true_margin.core.choices import CardKind
from true_margin.core.wording import plain_name
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import NotFoundError, RefusedError, transaction
from true_margin.desk.picks.viewers import find_viewer
from true_margin.desk.publish.card_facts import card_of
from true_margin.publish.canvas import Drawing
from true_margin.publish.card_data import Heading
from true_margin.publish.cards import draw_card, to_png
from true_margin.publish.looks import LookName, Shape
from true_margin.store import cards, shootouts
from true_margin.store.cards import KeptCard
from true_margin.store.database import Database

MOST_CARDS = 60


@dataclass(frozen=True, slots=True)
class CardView:
    """A kept card with the words that it shows; ``problem`` says why it shows nothing.

    ``alt`` is its text alternative, ``missing`` the characters that its fonts lack,
    ``setup_ids`` all setups that may stand on it, in its order, those left out too.
    """

    card: KeptCard
    name: str
    title: str
    subtitle: str
    source: str
    notes: tuple[str, ...]
    alt: str
    missing: str
    problem: str | None
    setup_ids: tuple[UUID, ...]
    revision: int


def list_cards(database: Database, slug: str) -> tuple[CardView, ...]:
    """List the cards in their order, retired ones last, without what they show."""
    book = SHELF.take(database, slug)
    retired = [card for card in book.cards if card.retired_at is not None]
    return (
        *(view_card(book, card) for card in standing(book)),
        *(_bare(book, card, None) for card in retired),
    )


def _bare(book: Book, card: KeptCard, problem: str | None) -> CardView:
    """A card that shows nothing."""
    name = name_of_card(book, card)
    return CardView(
        card,
        name,
        card.title or name,
        card.subtitle or "",
        card.source or "",
        (),
        "",
        "",
        problem,
        (),
        book.shootout.revision,
    )


def standing(book: Book) -> list[KeptCard]:
    """The cards of a book that are not retired, in their order."""
    return [card for card in book.cards if card.retired_at is None]


def view_card(book: Book, card: KeptCard) -> CardView:
    """A card with its words; drawn once, so that its text alternative is what it shows."""
    name = name_of_card(book, card)
    revision = book.shootout.revision
    try:
        drawing = draw(book, card, Shape.WIDE, LookName.DAY)
        heading = card_heading(book, card)
    except RefusedError as error:
        return _bare(book, card, error.reason)
    return CardView(
        card,
        name,
        heading.title,
        heading.subtitle,
        heading.source,
        heading.notes,
        drawing.alt,
        drawing.missing,
        None,
        book.cached(("on card", card.id, card.version), tuple),
        revision,
    )


def card_heading(book: Book, card: KeptCard) -> Heading:
    """The words around a card."""
    return card_of(book, card, Shape.WIDE).heading


def name_of_card(book: Book, card: KeptCard) -> str:
    """What a card is called in lists: its kind and what it is about."""
    task = next((t.name for t in book.tasks if t.id == card.task_id), None)
    viewer = next((v.name for v in book.viewers if v.id == card.viewer_id), None)
    mix = "all tasks" if card.kind == CardKind.RULE else None
    about = viewer or task or mix
    return f"{card.kind.capitalize()} card" + (f": {about}" if about else "")


def draw(book: Book, card: KeptCard, shape: Shape, look: LookName) -> Drawing:
    """Draw a card of a book, once for each shape and look.

    Raises:
        RefusedError: there is nothing to show; says why.
    """
    return book.cached(
        ("drawn", card.id, card.version, shape, look),
        lambda: draw_card(card_of(book, card, shape), shape, look),
    )


def picture(book: Book, card: KeptCard, shape: Shape, look: LookName) -> bytes:
    """A card as PNG, made once for each shape and look."""
    return book.cached(
        ("png", card.id, card.version, shape, look), lambda: to_png(draw(book, card, shape, look))
    )


def find_card(book: Book, card_id: UUID) -> KeptCard:
    """A card of a book by id.

    Raises:
        NotFoundError: there is none.
    """
    found = next((card for card in book.cards if card.id == card_id), None)
    if found is None:
        raise NotFoundError(f"There is no card {card_id} in this shootout.")
    return found


def file_stem(book: Book, card: KeptCard, shape: Shape, look: LookName) -> str:
    """What the file of a card is called, without its ending: it names the card."""
    return f"{plain_name(name_of_card(book, card)) or card.kind}-{shape}-{look}"


def name_of_file(database: Database, slug: str, card_id: UUID, shape: Shape, look: LookName) -> str:
    """What the file of a kept card is called, without its ending."""
    book = SHELF.take(database, slug)
    return file_stem(book, find_card(book, card_id), shape, look)


def card_drawing(
    database: Database, slug: str, card_id: UUID, shape: Shape, look: LookName
) -> Drawing:
    """Draw a kept card."""
    book = SHELF.take(database, slug)
    return draw(book, find_card(book, card_id), shape, look)


def card_picture(
    database: Database, slug: str, card_id: UUID, shape: Shape, look: LookName
) -> bytes:
    """A kept card as PNG."""
    book = SHELF.take(database, slug)
    return picture(book, find_card(book, card_id), shape, look)


def add_card(database: Database, slug: str, asked: Mapping[str, Any]) -> CardView:
    """Keep a new card.

    Raises:
        RefusedError: it names a task, viewer or setup that is not there, or there are too many.
    """
    book = SHELF.take(database, slug)
    if len(standing(book)) >= MOST_CARDS:
        raise RefusedError("kind", f"{MOST_CARDS} cards are the most: retire one first.")
    own = _checked(book, asked)
    key = uuid4()
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        cards.add_card(session, book.shootout.id, {"setups": {}, **own, "id": key})
    return _view(database, slug, key)


def change_card(
    database: Database, slug: str, card_id: UUID, version: int, changes: Mapping[str, Any]
) -> CardView:
    """Change a card that nobody else changed meanwhile."""
    book = SHELF.take(database, slug)
    card = find_card(book, card_id)
    own = _checked(book, changes)
    if "setups" in own:
        own["setups"] = {**card.setups, **own["setups"]}
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        cards.change_card(session, card, version, own)
    return _view(database, slug, card_id)


def retire_card(
    database: Database, slug: str, card_id: UUID, version: int, *, retired: bool
) -> None:
    """Take a card off the list, or put it back; it stays in the book."""
    book = SHELF.take(database, slug)
    card = find_card(book, card_id)
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        at = datetime.now(UTC) if retired else None
        cards.change_card(session, card, version, {"retired_at": at})


def order_cards(database: Database, slug: str, card_ids: Sequence[UUID]) -> None:
    """Put the cards in this order.

    Raises:
        RefusedError: the list does not name each of them once.
    """
    book = SHELF.take(database, slug)
    known = {card.id for card in standing(book)}
    if set(card_ids) != known or len(card_ids) != len(known):
        raise RefusedError("card_ids", "The order must name every card once; there may be a new.")
    with transaction(database) as session:
        shootouts.bump_revision(session, book.shootout.id, rest=False)
        cards.order_cards(session, card_ids)


def _checked(book: Book, asked: Mapping[str, Any]) -> dict[str, Any]:
    own = dict(asked)
    task = own.get("task_id")
    if task is not None and task not in book.task_index:
        raise RefusedError("task_id", "This task is not timed in this shootout.")
    if own.get("viewer_id") is not None:
        find_viewer(book, own["viewer_id"])
    if own.get("setups") is not None:
        for part, keys in own["setups"].items():
            if not set(keys) <= set(book.setup_index):
                raise RefusedError("setups", f"{part}: a setup is not in this line-up.")
        own["setups"] = {p: [str(k) for k in keys] for p, keys in own["setups"].items()}
    elif "setups" in own:
        own["setups"] = {}
    return own


def _view(database: Database, slug: str, key: UUID) -> CardView:
    book = SHELF.take(database, slug)
    return view_card(book, find_card(book, key))
