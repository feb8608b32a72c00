"""How long a card takes, from the book to SVG and to PNG: ``python -m bench.cards``.

Times every kind of the demo's cards in every shape on every background, in the same run a
card of nothing but its background, which is what writing such a picture costs at least.
"""

from __future__ import annotations

import statistics
import time
from collections.abc import Callable
from functools import partial

from tests.browser.serving import throwaway_cluster
from tests.conftest import DEMO

from true_margin.desk.book.book import Book
from true_margin.desk.book.shelf import SHELF
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.publish.card_facts import card_of
from true_margin.desk.publish.cards import standing
from true_margin.exchange.data_pack import read_folder, read_pack
from true_margin.publish.canvas import Canvas, Drawing
from true_margin.publish.cards import draw_card, to_png
from true_margin.publish.looks import LOOKS, SIZES, LookName, Shape
from true_margin.store.cards import KeptCard
from true_margin.store.database import Database

ROUNDS = 5


def took_ms(work: Callable[[], object]) -> float:
    """Median of some rounds, in milliseconds."""
    times = []
    for _ in range(ROUNDS):
        began = time.perf_counter()
        work()
        times.append(1000 * (time.perf_counter() - began))
    return statistics.median(times)


def _draw(book: Book, card: KeptCard, shape: Shape, look: LookName) -> Drawing:
    return draw_card(card_of(book, card, shape), shape, look)


def main() -> None:
    """Measure and print, a line a kind and background, the slowest shape of each."""
    with throwaway_cluster("bench-cards") as cluster:
        database = Database(cluster.url)
        database.migrate()
        home = import_pack(database, read_pack(read_folder(DEMO)), demo=True)
        book = SHELF.take(database, home.slug)
        cards = standing(book)
        for card in cards:
            # Ladders and picks are worked out once for a book, for whoever asks first.
            draw_card(card_of(book, card, Shape.WIDE), Shape.WIDE, LookName.DAY)
        print("kind      background   to SVG   to PNG   nothing but its background, to PNG")
        for look in LookName:
            empty = Canvas(*SIZES[Shape.WIDE], LOOKS[look]).finish("")
            bare = took_ms(partial(to_png, empty))
            for card in cards:
                svg, png = 0.0, 0.0
                for shape in Shape:
                    drawing = draw_card(card_of(book, card, shape), shape, look)
                    svg = max(svg, took_ms(partial(_draw, book, card, shape, look)))
                    png = max(png, took_ms(partial(to_png, drawing)))
                print(f"{card.kind:9} {look:12} {svg:6.0f} ms {svg + png:6.0f} ms {bare:6.0f} ms")
        database.close()


if __name__ == "__main__":
    main()
