"""How long a clip of eight seconds takes: ``python -m bench.clips [--rounds 3]``.

Times the demo's cards as films of 1920 by 1080 at 25 frames a second, each kind of file by day
and, where it has one, on a clear background, in a process of its own as the app makes them; in
the same run how long the frames alone take. The same film is made twice and must be the same.
"""

from __future__ import annotations

import argparse
import hashlib
import statistics
import time

from tests.browser.serving import throwaway_cluster
from tests.conftest import DEMO

from true_margin.desk.book.shelf import SHELF
from true_margin.desk.packs.incoming import import_pack
from true_margin.desk.publish.cards import draw, standing
from true_margin.exchange.data_pack import read_folder, read_pack
from true_margin.publish.canvas import Drawing
from true_margin.publish.looks import LookName, Shape
from true_margin.publish.moving.apart import film_apart
from true_margin.publish.moving.film import RECIPES, FilmKind
from true_margin.publish.moving.frames import FrameMaker, Timing
from true_margin.store.database import Database

TIMING = Timing(25.0, 8.0, 2.0)
KINDS = ("bar", "race", "rule", "price")


def _frames_s(drawing: Drawing) -> float:
    began = time.perf_counter()
    for _ in FrameMaker(drawing, TIMING).frames():
        pass
    return time.perf_counter() - began


def main() -> None:
    """Measure and print, a line a card, background and kind of film."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--rounds", type=int, default=3)
    rounds = parser.parse_args().rounds
    with throwaway_cluster("bench-clips") as cluster:
        database = Database(cluster.url)
        database.migrate()
        home = import_pack(database, read_pack(read_folder(DEMO)), demo=True)
        book = SHELF.take(database, home.slug)
        first = {card.kind: card for card in reversed(standing(book))}
        print("card    background  film      s (least, median)      MB   the same twice  frames, s")
        for kind in (kind for kind in KINDS if kind in first):
            for look in (LookName.DAY, LookName.CLEAR):
                drawing = draw(book, first[kind], Shape.WIDE, look)
                alone = _frames_s(drawing)
                for film in FilmKind:
                    clear = film is FilmKind.FRAMES or RECIPES[film].clear is not None
                    if look is LookName.CLEAR and not clear:
                        continue
                    times, sums, size = [], set(), 0
                    for _ in range(max(rounds, 2)):
                        began = time.perf_counter()
                        made = film_apart(drawing, TIMING, film, lambda _: None)
                        times.append(time.perf_counter() - began)
                        sums.add(hashlib.sha256(made).hexdigest())
                        size = len(made)
                    print(
                        f"{kind:<7} {look:<11} {film:<12} {min(times):5.1f} "
                        f"{statistics.median(times):5.1f}          {size / 1e6:6.1f}   "
                        f"{'yes' if len(sums) == 1 else 'NO':<15}  {alone:5.1f}",
                        flush=True,
                    )
        database.close()


if __name__ == "__main__":
    main()
