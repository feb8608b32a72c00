"""The kept cards as a timeline with their pictures and the lines to say, in one archive."""

from __future__ import annotations

from true_margin.core.choices import CardKind
from true_margin.core.numerals import PLAIN, writing
from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.errors import RefusedError
from true_margin.desk.margins.margins import MIX, ladder_of
from true_margin.desk.picks.viewers import answer, find_viewer
from true_margin.desk.publish.cards import file_stem, picture, standing
from true_margin.desk.publish.give_texts import title_of
from true_margin.exchange.card_timeline import CardClip, write_lines, write_timeline
from true_margin.exchange.data_pack import zip_files
from true_margin.publish.looks import LookName, Shape
from true_margin.store.cards import KeptCard
from true_margin.store.database import Database


@writing(PLAIN)
def give_timeline(
    database: Database, slug: str, shape: Shape, look: LookName, rate: float
) -> bytes:
    """Zip the timeline, the lines and every card that shows something.

    Raises:
        RefusedError: no card shows anything yet.
    """
    book = SHELF.take(database, slug)
    clips: list[CardClip] = []
    files: dict[str, bytes] = {}
    for card in standing(book):
        try:
            png = picture(book, card, shape, look)
        except RefusedError:
            continue
        name = f"{len(clips) + 1:02d}-{file_stem(book, card, shape, look)}.png"
        files[f"cards/{name}"] = png
        clips.append(CardClip(name, title_of(book, card), card.seconds, say_of(book, card)))
    if not clips:
        raise RefusedError("cards", "No card shows anything yet: save one first.")
    files["cards.otio"] = write_timeline(book.shootout.name, clips, rate)
    files["lines.vtt"] = write_lines(clips, rate).encode()
    return zip_files(files)


@writing(PLAIN)
def say_of(book: Book, card: KeptCard) -> str:
    """The line to say while a card stands: what it shows, as far as it holds."""
    if card.viewer_id is not None and card.kind in (CardKind.PRICE, CardKind.PICK):
        picked = answer(book, find_viewer(book, card.viewer_id)).picked
        return "" if picked is None else picked.sentence
    if card.kind in (CardKind.BAR, CardKind.RULE):
        return ladder_of(book, MIX if card.task_id is None else str(card.task_id)).summary
    return title_of(book, card)
